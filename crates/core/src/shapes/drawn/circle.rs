//! Circles through three points, and touching three lines.

use kurbo::{BezPath, Point, Shape};

/// A circle in mm.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Circle {
    /// Its middle.
    pub centre: Point,
    /// Its radius.
    pub radius: f64,
}

impl Circle {
    /// Its line, closed.
    pub(super) fn path(self) -> BezPath {
        const WITHIN: f64 = 1e-5;
        kurbo::Circle::new(self.centre, self.radius).to_path(WITHIN)
    }
}

/// The circle through three points: its middle is where the lines meet that halve the ways between them.
/// Nothing where they lie on one line, or so nearly that it would reach beyond ten metres.
pub fn through([a, b, c]: [Point; 3]) -> Option<Circle> {
    const LARGEST_MM: f64 = 1e4;
    let (u, v) = (b - a, c - a);
    let double = 2.0 * u.cross(v);
    let centre = a + kurbo::Vec2::new(
        v.y * u.hypot2() - u.y * v.hypot2(),
        u.x * v.hypot2() - v.x * u.hypot2(),
    ) / double;
    let radius = centre.distance(a);
    (double.abs() > 1e-9 && radius < LARGEST_MM).then_some(Circle { centre, radius })
}

/// The circle within the triangle of three lines: its middle is that of the corners, each weighed by the side
/// across from it, and its radius the area by half the way round.
/// Nothing where two of the lines are parallel or all meet in one point.
pub fn touching(lines: [[Point; 2]; 3]) -> Option<Circle> {
    let meet = |[a, b]: [Point; 2], [c, d]: [Point; 2]| {
        let (u, v) = (b - a, d - c);
        let across = u.cross(v);
        let scale = u.hypot() * v.hypot();
        (across.abs() > 1e-9 * scale.max(1e-12)).then(|| a + u * ((c - a).cross(v) / across))
    };
    let [first, second, third] = lines;
    let corners = [meet(second, third)?, meet(third, first)?, meet(first, second)?];
    let sides = [1, 2, 0].map(|i| corners[i].distance(corners[(i + 1) % 3]));
    let round: f64 = sides.iter().sum();
    let double = (corners[1] - corners[0]).cross(corners[2] - corners[0]).abs();
    if double < 1e-9 || round < 1e-9 {
        return None;
    }
    let weighed = |axis: fn(&Point) -> f64| {
        corners.iter().zip(sides).map(|(corner, side)| axis(corner) * side).sum::<f64>() / round
    };
    let centre = Point::new(weighed(|p| p.x), weighed(|p| p.y));
    Some(Circle { centre, radius: double / round })
}
