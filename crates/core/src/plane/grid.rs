//! The grid all vertices lie on.

use i_overlay::i_float::int::point::IntPoint;

/// A vertex on the grid; one step is 2⁻¹⁶ mm.
pub type GridPoint = IntPoint<i32>;

/// Grid steps in a millimetre.
pub const GRID_PER_MM: f64 = 65536.0;

/// The furthest a finished piece may reach from its origin along any axis, in mm.
/// Up to here every grid point is exact in f32 (24 bits of mantissa: 2⁸ × 2¹⁶).
pub const MAX_COORDINATE_MM: f64 = 256.0;

/// The nearest grid step to a coordinate in mm. Coordinates far outside any piece saturate at
/// ±8192 mm, the conservative range of the integer overlay.
pub fn to_grid(mm: f64) -> i32 {
    const LIMIT: f64 = 536_870_912.0;
    (mm * GRID_PER_MM).round().clamp(-LIMIT, LIMIT) as i32
}

/// A grid coordinate in mm; exact.
pub fn from_grid(steps: i32) -> f64 {
    f64::from(steps) / GRID_PER_MM
}
