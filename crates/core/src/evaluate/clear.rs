//! The clear area: the largest box on a face free of margins and holes.

use crate::plane::{Rect, largest_empty_rect};

/// A round obstacle in mm.
pub(super) struct Round {
    pub centre: (f64, f64),
    pub radius: f64,
}

/// The largest upright box inside a rounded rectangle that keeps `margin` mm from its edge and
/// from every hole.
///
/// Round corners and holes are stepped by boxes that enclose them, so the box found never enters
/// a margin; it can be smaller than the true largest by a fraction of a millimetre.
pub(super) fn clear_area(
    plate: Rect,
    corner_radius: f64,
    holes: &[Round],
    margin: f64,
) -> Option<Rect> {
    let frame = plate.grown(-margin);
    if frame.width() <= 0.0 || frame.height() <= 0.0 {
        return None;
    }
    let mut obstacles = Vec::new();
    let radius = (corner_radius - margin).max(0.0);
    for (x, y, sx, sy) in [
        (frame.x0, frame.y0, 1.0, 1.0),
        (frame.x1, frame.y0, -1.0, 1.0),
        (frame.x0, frame.y1, 1.0, -1.0),
        (frame.x1, frame.y1, -1.0, -1.0),
    ] {
        for (dx, dy) in corner_steps(radius) {
            let (x1, y1) = (x + sx * dx, y + sy * dy);
            obstacles.push(Rect { x0: x.min(x1), y0: y.min(y1), x1: x.max(x1), y1: y.max(y1) });
        }
    }
    for hole in holes {
        let grown = hole.radius + margin;
        let (x, y) = hole.centre;
        // What a quarter of the round leaves uncovered of its square is what a corner loses.
        let steps = corner_steps(grown).map(|(dx, dy)| (grown - dx, grown - dy));
        for (half_width, half_height) in
            [(grown, 0.0), (0.0, grown)].into_iter().chain(round_steps(steps))
        {
            obstacles.push(Rect {
                x0: x - half_width,
                y0: y - half_height,
                x1: x + half_width,
                y1: y + half_height,
            });
        }
    }
    largest_empty_rect(frame, &obstacles)
}

const STEPS: usize = 8;

/// Boxes from the sharp corner that together cover what rounding takes away: at each step the
/// corner of a box lies on the arc or outside it.
fn corner_steps(radius: f64) -> impl Iterator<Item = (f64, f64)> {
    (0..STEPS).filter(move |_| radius > 0.0).map(move |step| {
        // Between two angles the arc stays beyond the box that reaches to the nearer of each.
        let angle = |s: usize| std::f64::consts::FRAC_PI_2 * s as f64 / STEPS as f64;
        let (from, to) = (angle(step), angle(step + 1));
        (radius * (1.0 - from.sin()), radius * (1.0 - to.cos()))
    })
}

/// Centred boxes that together cover a round, from the steps of one of its quarters.
fn round_steps(corners: impl Iterator<Item = (f64, f64)>) -> impl Iterator<Item = (f64, f64)> {
    corners.filter(|(w, h)| *w > 0.0 && *h > 0.0)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn keeps_clear(found: Rect, radius: f64, plate: Rect, holes: &[Round], margin: f64) {
        let corners = [
            (found.x0, found.y0),
            (found.x1, found.y0),
            (found.x0, found.y1),
            (found.x1, found.y1),
        ];
        for (x, y) in corners {
            let dx = (x.abs() - (plate.x1 - radius)).max(0.0);
            let dy = (y.abs() - (plate.y1 - radius)).max(0.0);
            if dx > 0.0 && dy > 0.0 {
                assert!(dx.hypot(dy) <= radius - margin.min(radius) + 1e-9, "{found:?}");
            }
        }
        for hole in holes {
            let nearest =
                (hole.centre.0.clamp(found.x0, found.x1), hole.centre.1.clamp(found.y0, found.y1));
            let distance = (nearest.0 - hole.centre.0).hypot(nearest.1 - hole.centre.1);
            assert!(distance >= hole.radius + margin - 1e-9, "{found:?} is {distance} from a hole");
        }
    }

    #[test]
    fn beside_a_hole_the_room_runs_to_the_far_margin() {
        let plate = Rect::centred(72.0, 24.0);
        let holes = [Round { centre: (-31.0, 0.0), radius: 2.5 }];
        let found = clear_area(plate, 3.0, &holes, 2.0).unwrap();
        assert!((found.x0 - (-31.0 + 4.5)).abs() < 1e-9);
        assert!(found.height() > 18.5 && found.x1 > 33.0, "{found:?}");
        keeps_clear(found, 3.0, plate, &holes, 2.0);
    }

    #[test]
    fn round_ends_and_corner_holes_are_kept_clear_of() {
        let plate = Rect::centred(72.0, 24.0);
        for radius in [0.0, 5.0, 12.0] {
            for (x, y, r) in [(0.0, 0.0, 4.0), (30.0, 8.0, 2.0), (-20.0, -6.0, 5.0)] {
                let holes = [Round { centre: (x, y), radius: r }];
                let found = clear_area(plate, radius, &holes, 1.5).unwrap();
                keeps_clear(found, radius, plate, &holes, 1.5);
            }
        }
        assert!(clear_area(plate, 3.0, &[], 12.0).is_none());
    }
}
