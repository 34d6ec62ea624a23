//! Round faces: charts that are wound onto a cylinder.
//!
//! The chart of a round face is its surface unrolled: across runs along the arc, up along the axis, and
//! heights are radial. What is drawn on it keeps its width along the arc at the face and its height
//! along the radius. The cylinder has as many flat sides as its circle has chords; a tool is cut at the
//! lines between them before it is wound, so that it follows the very same sides.

use super::Prism;
use crate::plane::{
    GridPoint, Line, Rect, Region, Tolerance, quarter_arc, rounded_rectangle, to_grid,
};
use crate::solid::Mesh;
use std::f64::consts::{FRAC_PI_2, TAU};

/// How a face runs round the upright axis of its body. Lengths in mm.
#[derive(Debug, Clone, PartialEq)]
pub struct Round {
    /// The radius of the face itself.
    pub radius: f64,
    /// Whether it is seen from the axis.
    pub is_inside: bool,
    /// The height of the middle of its chart over the foot of the body.
    pub middle: f64,
    /// How much material lies behind it.
    pub thickness: f64,
    /// What things on it must keep within: as high as the face, and once round more at either end.
    pub room: Region,
    /// How many flat sides its circle has.
    sides: usize,
}

impl Round {
    /// A face of a cylinder, so many mm high from a foot.
    pub(super) fn new(
        (radius, thickness): (f64, f64),
        is_inside: bool,
        [foot, height]: [f64; 2],
        tolerance: Tolerance,
    ) -> Self {
        let sides = 4 * (quarter_arc(radius, tolerance).count() - 1);
        let room = Rect::centred(3.0 * TAU * radius, height);
        Round {
            radius,
            is_inside,
            middle: foot + height / 2.0,
            thickness,
            room: rounded_rectangle(room, 0.0, tolerance),
            sides,
        }
    }

    /// Once round, along the arc.
    pub fn way_round(&self) -> f64 {
        TAU * self.radius
    }

    /// Whether something as wide as that runs all the way round, but for a gap that keeps its ends apart no more.
    pub(super) fn is_all_round(&self, wide: f64) -> bool {
        const ALL_ROUND: f64 = 0.99;
        wide >= ALL_ROUND * self.way_round()
    }

    /// A region with what comes before and after it when one goes round once more.
    pub(super) fn gone_round(&self, region: &Region) -> Region {
        let way = self.way_round();
        Region::gather([-way, 0.0, way].map(|by| region.clone().moved(by, 0.0)).into())
    }

    /// What of a region lies on the way round, and so much further at either end, in mm.
    pub(super) fn once(&self, region: &Region, further: f64) -> Region {
        let Some(bounds) = region.bounds() else { return Region::default() };
        let half = self.way_round() / 2.0 + further;
        let window = Rect { x0: -half, x1: half, y0: bounds.y0 - 1.0, y1: bounds.y1 + 1.0 };
        region.intersection(&rounded_rectangle(window, 0.0, Tolerance::Normal))
    }

    /// The angle in the body of a place so many mm along the arc, in radians: the middle of an outside
    /// looks to the front, that of an inside is seen from there.
    pub fn angle(&self, along: f64) -> f64 {
        let turned = along / self.radius;
        if self.is_inside { FRAC_PI_2 - turned } else { turned - FRAC_PI_2 }
    }

    /// A point of the chart, at a height over what lies behind the face, in the body. Between two lines of
    /// the sides it lies on their chord.
    pub fn point(&self, along: f64, up: f64, height: f64) -> [f64; 3] {
        let over = height - self.thickness;
        let radius = if self.is_inside { self.radius - over } else { self.radius + over };
        let step = self.way_round() / self.sides as f64;
        let side = (along / step).floor();
        let share = along / step - side;
        let on = |line: f64| {
            let (sine, cosine) = self.angle(line * step).sin_cos();
            (radius * cosine, radius * sine)
        };
        let ((ax, ay), (bx, by)) = (on(side), on(side + 1.0));
        [ax + share * (bx - ax), ay + share * (by - ay), self.middle + up]
    }

    /// Where a point of the body lies on the chart: along the arc, up, and over what lies behind the face.
    pub fn unwound(&self, [x, y, z]: [f64; 3]) -> (f64, f64, f64) {
        let angle = y.atan2(x);
        let turned = if self.is_inside { FRAC_PI_2 - angle } else { angle + FRAC_PI_2 };
        let turned = (turned + std::f64::consts::PI).rem_euclid(TAU) - std::f64::consts::PI;
        let over = if self.is_inside { self.radius - x.hypot(y) } else { x.hypot(y) - self.radius };
        (turned * self.radius, z - self.middle, over + self.thickness)
    }

    /// A mesh of the chart, moved along the arc, where it lies in the body.
    pub(super) fn wound(&self, chart: Mesh, moved: f64) -> Mesh {
        let vertices = chart.vertices.into_iter();
        let vertices = vertices.map(|[u, v, height]| self.point(u + moved, v, height));
        Mesh { vertices: vertices.collect(), ..chart }
    }

    /// How high anything on it can be at most, over what lies behind it: seen from the axis, not quite to
    /// there.
    pub fn highest(&self) -> f64 {
        const SHORT_OF_AXIS: f64 = 0.9;
        if self.is_inside { self.thickness + SHORT_OF_AXIS * self.radius } else { f64::INFINITY }
    }

    /// A prism that ends before the axis.
    pub(super) fn short_of_axis(&self, prism: &Prism) -> Prism {
        let top = prism.top.min(self.highest());
        Prism { top, bottom: prism.bottom.min(top), ..prism.clone() }
    }

    /// The lines between its sides that cross a box, which something moved along the arc afterwards has
    /// to be cut at; from its foot to its head, and a little more.
    pub(super) fn lines(&self, box_: Rect, moved: f64) -> Vec<Line> {
        const MORE_MM: f64 = 1.0;
        let step = self.way_round() / self.sides as f64;
        let first = ((box_.x0 + moved) / step).floor() as i64;
        let last = ((box_.x1 + moved) / step).ceil() as i64;
        let (low, high) = (to_grid(box_.y0 - MORE_MM), to_grid(box_.y1 + MORE_MM));
        let at = |line: i64| to_grid(line as f64 * step - moved);
        (first..=last).map(|line| upright(at(line), low, high)).collect()
    }

    /// What a region comes to once it has run all the way round: the part of it that lies on one half of
    /// the way and a little beyond, moved to the middle. `half` says which.
    pub(super) fn half(&self, region: &Region, half: Half) -> Region {
        let way = self.way_round();
        let over = way / self.sides as f64 / 3.0;
        let there = half.moved(way);
        let Some(bounds) = region.bounds() else { return Region::default() };
        let window = Rect {
            x0: -way / 4.0 - over,
            x1: way / 4.0 + over,
            y0: bounds.y0 - 1.0,
            y1: bounds.y1 + 1.0,
        };
        let window = rounded_rectangle(window, 0.0, Tolerance::Normal);
        let turns = (bounds.width() / way).ceil() as i32 + 1;
        let turned = (-turns..=turns).map(|turn| {
            region.clone().moved(f64::from(turn) * way - there, 0.0).intersection(&window)
        });
        Region::gather(turned.filter(|part| !part.is_empty()).collect())
    }
}

/// One half of the way round.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) enum Half {
    /// About the middle of the chart.
    Near,
    /// About its ends.
    Far,
}

impl Half {
    /// How far its middle lies along a way round.
    pub fn moved(self, way: f64) -> f64 {
        match self {
            Half::Near => 0.0,
            Half::Far => way / 2.0,
        }
    }
}

fn upright(x: i32, low: i32, high: i32) -> Line {
    [GridPoint::new(x, low), GridPoint::new(x, high)]
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn widths_run_along_the_arc_and_heights_along_the_radius() {
        let skirt = Round::new((20.0, 2.0), false, [0.0, 10.0], Tolerance::Fine);
        let quarter = skirt.way_round() / 4.0;
        let near = |found: [f64; 3], wanted: [f64; 3]| {
            assert!((0..3).all(|i| (found[i] - wanted[i]).abs() < 1e-9), "{found:?} {wanted:?}");
        };
        near(skirt.point(0.0, 0.0, 2.0), [0.0, -20.0, 5.0]);
        near(skirt.point(quarter, 5.0, 2.0), [20.0, 0.0, 10.0]);
        near(skirt.point(-quarter, -5.0, 3.5), [-21.5, 0.0, 0.0]);
        near(skirt.point(2.0 * quarter, 0.0, 0.0), [0.0, 18.0, 5.0]);
        let bore = Round::new((10.0, 2.0), true, [0.0, 8.0], Tolerance::Fine);
        let quarter = bore.way_round() / 4.0;
        near(bore.point(0.0, 0.0, 2.0), [0.0, 10.0, 4.0]);
        near(bore.point(quarter, 0.0, 2.5), [9.5, 0.0, 4.0]);
    }
}
