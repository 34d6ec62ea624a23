//! Whatever outlines: what is nearest to which edge is known or not, on both sides, and every level traced on
//! it closes, lies within the one before and has the area that the integer overlay's offset has.
#![no_main]

mod quiet;

use kalotype_core::plane::{GRID_PER_MM, GridPoint, Region, Side, Skeleton, Tolerance};
use libfuzzer_sys::fuzz_target;

fuzz_target!(init: quiet::libraries(), |bytes: &[u8]| {
    // Pairs of bytes on a lattice of a quarter millimetre, contours parted by pairs of zeros: many
    // edges lie on lines and circles together, which is what is hard.
    let pairs: Vec<(u8, u8)> = bytes.chunks_exact(2).map(|pair| (pair[0], pair[1])).collect();
    let step = GRID_PER_MM as i32 / 4;
    let contours: Vec<Vec<GridPoint>> = pairs
        .split(|pair| *pair == (0, 0))
        .map(|contour| {
            let point = |&(x, y): &(u8, u8)| GridPoint::new(i32::from(x) * step, i32::from(y) * step);
            contour.iter().take(60).map(point).collect()
        })
        .take(6)
        .collect();
    let region = Region::resolve(&contours);
    if region.is_empty() {
        return;
    }
    for side in [Side::Inside, Side::Outside] {
        let distances = [0.4, 1.1].map(|mm: f64| mm * GRID_PER_MM);
        let roof = || Skeleton::of(&region, side, distances[1])?.roof(&distances, Tolerance::Fine);
        let (roof, again) = (roof(), roof());
        assert_eq!(roof, again, "the same twice is the same");
        let Some(roof) = roof else { continue };
        for (level, distance) in roof.levels.iter().zip(distances) {
            let by = distance / GRID_PER_MM * if side == Side::Inside { -1.0 } else { 1.0 };
            let other = region.offset(by, Tolerance::Fine);
            let apart = (level.area() - other.area()).abs();
            assert!(apart < 1.0 + 0.01 * other.area(), "{apart} of {}", other.area());
        }
    }
});
