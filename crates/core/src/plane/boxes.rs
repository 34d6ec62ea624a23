//! Upright rectangles, and the largest that keeps out of others.

use serde::Serialize;

/// An upright rectangle in mm, `x0 <= x1`, `y0 <= y1`.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct Rect {
    /// Left.
    pub x0: f64,
    /// Bottom.
    pub y0: f64,
    /// Right.
    pub x1: f64,
    /// Top.
    pub y1: f64,
}

impl Rect {
    /// The rectangle of this size whose centre is the origin.
    pub fn centred(width: f64, height: f64) -> Self {
        Rect { x0: -width / 2.0, y0: -height / 2.0, x1: width / 2.0, y1: height / 2.0 }
    }

    /// Extent along x in mm.
    pub fn width(&self) -> f64 {
        self.x1 - self.x0
    }

    /// Extent along y in mm.
    pub fn height(&self) -> f64 {
        self.y1 - self.y0
    }

    /// Middle point in mm.
    pub fn centre(&self) -> (f64, f64) {
        ((self.x0 + self.x1) / 2.0, (self.y0 + self.y1) / 2.0)
    }

    /// Grown by `margin` mm on every side (shrunk where negative).
    pub fn grown(&self, margin: f64) -> Self {
        Rect {
            x0: self.x0 - margin,
            y0: self.y0 - margin,
            x1: self.x1 + margin,
            y1: self.y1 + margin,
        }
    }

    /// The smallest box around both.
    pub fn hull(&self, other: &Self) -> Self {
        Rect {
            x0: self.x0.min(other.x0),
            y0: self.y0.min(other.y0),
            x1: self.x1.max(other.x1),
            y1: self.y1.max(other.y1),
        }
    }

    /// Mirrored across the upright line through the origin.
    pub fn mirrored(self) -> Self {
        Rect { x0: -self.x1, x1: -self.x0, ..self }
    }

    /// Moved by a vector in mm.
    pub fn moved(&self, dx: f64, dy: f64) -> Self {
        Rect { x0: self.x0 + dx, y0: self.y0 + dy, x1: self.x1 + dx, y1: self.y1 + dy }
    }

    /// Whether the insides of both have a point in common.
    pub fn overlaps(&self, other: &Rect) -> bool {
        self.x0 < other.x1 && other.x0 < self.x1 && self.y0 < other.y1 && other.y0 < self.y1
    }

    /// Whether `other` lies within this rectangle.
    pub fn contains(&self, other: &Rect) -> bool {
        self.x0 <= other.x0 && self.y0 <= other.y0 && other.x1 <= self.x1 && other.y1 <= self.y1
    }
}

/// The largest upright rectangle within `frame` that keeps out of every obstacle, or `None` where
/// there is none with a positive area. Of equals, the one furthest left, then lowest.
///
/// Every maximal empty rectangle is bounded on each side by the frame or an obstacle, so it is
/// enough to try all pairs of such left and right sides and, for each, the free spans between the
/// obstacles that reach into the column (after A. Naamad, D. T. Lee and W.-L. Hsu, "On the maximum
/// empty rectangle problem", 1984, whose first algorithm this is in its simplest form).
pub fn largest_empty_rect(frame: Rect, obstacles: &[Rect]) -> Option<Rect> {
    let obstacles: Vec<Rect> = obstacles.iter().copied().filter(|o| o.overlaps(&frame)).collect();
    let mut lefts: Vec<f64> = obstacles.iter().map(|o| o.x1).chain([frame.x0]).collect();
    let mut rights: Vec<f64> = obstacles.iter().map(|o| o.x0).chain([frame.x1]).collect();
    for sides in [&mut lefts, &mut rights] {
        sides.retain(|x| (frame.x0..=frame.x1).contains(x));
        sides.sort_by(f64::total_cmp);
        sides.dedup();
    }
    let mut by_foot = obstacles;
    by_foot.sort_by(|a, b| a.y0.total_cmp(&b.y0));

    let mut best: Option<(f64, Rect)> = None;
    for &x0 in &lefts {
        for &x1 in rights.iter().filter(|&&x1| x1 > x0) {
            let mut foot = frame.y0;
            let in_column = by_foot.iter().filter(|o| o.x0 < x1 && o.x1 > x0);
            let ceilings = in_column.map(|o| (o.y0, o.y1)).chain([(frame.y1, frame.y1)]);
            for (ceiling, next_foot) in ceilings {
                let area = (x1 - x0) * (ceiling - foot);
                if ceiling > foot && best.is_none_or(|(largest, _)| area > largest + 1e-9) {
                    best = Some((area, Rect { x0, y0: foot, x1, y1: ceiling }));
                }
                foot = foot.max(next_foot);
            }
        }
    }
    best.map(|(_, rect)| rect)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn the_room_beside_a_hole_is_the_clear_area() {
        let frame = Rect { x0: 0.0, y0: 0.0, x1: 72.0, y1: 24.0 };
        let hole = Rect { x0: 4.0, y0: 9.0, x1: 11.0, y1: 15.0 };
        let clear = largest_empty_rect(frame, &[hole]);
        assert_eq!(clear, Some(Rect { x0: 11.0, y0: 0.0, x1: 72.0, y1: 24.0 }));
        assert_eq!(largest_empty_rect(frame, &[frame.grown(1.0)]), None);
        assert_eq!(largest_empty_rect(frame, &[]), Some(frame));
    }

    proptest! {
        #[test]
        fn keeps_out_of_every_obstacle_and_cannot_be_beaten_by_a_strip(
            obstacles in prop::collection::vec((0.0..90f64, 0.0..40f64, 1.0..30f64, 1.0..30f64), 0..7)
        ) {
            let frame = Rect { x0: 0.0, y0: 0.0, x1: 100.0, y1: 50.0 };
            let obstacles: Vec<Rect> = obstacles
                .into_iter()
                .map(|(x, y, w, h)| Rect { x0: x, y0: y, x1: x + w, y1: y + h })
                .collect();
            if let Some(found) = largest_empty_rect(frame, &obstacles) {
                prop_assert!(frame.contains(&found));
                prop_assert!(obstacles.iter().all(|o| !o.overlaps(&found)));
                let lowest = obstacles.iter().map(|o| o.y0).fold(50.0, f64::min);
                prop_assert!(found.width() * found.height() >= 100.0 * lowest - 1e-6);
            }
        }
    }
}
