//! Outlines and regions in the plane, on a grid of 2⁻¹⁶ mm.
//!
//! Curves stay curves until they are flattened at a chosen [`Tolerance`]; from there on every
//! vertex is a pair of integers. The grid is exact in f32 up to 256 mm from the origin, so a file
//! of f32 coordinates welds as tightly as the core's own mesh.

mod arrangement;
mod boxes;
mod crossings;
mod distance;
mod flatten;
mod grid;
mod inner_rect;
mod necks;
mod offset;
mod region;
mod roof;
mod thickness;
mod ties;

pub use arrangement::{
    Arrangement, ArrangementError, Cell, Covers, Line, Linework, OutlineEdge, triangles_within,
};
pub use boxes::{Rect, largest_empty_rect};
pub(crate) use crossings::crossings;
pub use distance::Distances;
pub(crate) use flatten::chords_at_most;
pub use flatten::{Tolerance, circle, ellipse, quarter_arc, rounded_rectangle};
pub use grid::{GRID_PER_MM, GridPoint, MAX_COORDINATE_MM, from_grid, to_grid};
pub use inner_rect::largest_inner_rect;
pub use necks::Neck;
pub use offset::{Join, SHARPEST_DEGREES};
pub use region::Region;
pub(crate) use region::{SPECK_MM2, closed_line, flattened, signed_area};
pub use roof::{Roof, Side, Skeleton};
pub(crate) use thickness::without_corners;
pub use thickness::{Extent, Point, Thin};
pub use ties::{Held, Laid, Lay, MOST_PARTS, Room, Tie, Wish, strips, tie_at, ties};
