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
/// Of two that are parallel it touches both, and the third on the side they were given on.
/// Nothing where all of the lines are parallel or meet in one point.
pub fn touching(lines: [[Point; 2]; 3]) -> Option<Circle> {
    between_parallels(lines).or_else(|| within_triangle(lines))
}

/// The circle between two parallel lines that touches a third one: as wide as they are apart, its middle on the line
/// halfway between them. There are two such; the one nearer to where the lines were given is taken.
fn between_parallels(lines: [[Point; 2]; 3]) -> Option<Circle> {
    let way = |[a, b]: [Point; 2]| {
        let length = a.distance(b);
        (length > 1e-9).then(|| (b - a) / length)
    };
    let ways = [way(lines[0])?, way(lines[1])?, way(lines[2])?];
    let is_parallel = |i: usize, j: usize| ways[i].cross(ways[j]).abs() <= 1e-9;
    let [one, other, third] = [[0, 1, 2], [1, 2, 0], [2, 0, 1]]
        .into_iter()
        .find(|[i, j, k]| is_parallel(*i, *j) && !is_parallel(*i, *k))?;
    // Square to the parallel lines, from one to the other.
    let apart = ways[one].cross(lines[other][0] - lines[one][0]);
    let radius = apart.abs() / 2.0;
    if radius < 1e-9 {
        return None;
    }
    let normal = kurbo::Vec2::new(-ways[one].y, ways[one].x);
    let halfway = lines[one][0] + normal * (apart / 2.0);
    let from_third = ways[third].cross(halfway - lines[third][0]);
    let per_step = ways[third].cross(ways[one]);
    let middles = lines.map(|[a, b]| a.midpoint(b));
    let centres =
        [radius, -radius].map(|off| halfway + ways[one] * ((off - from_third) / per_step));
    let far = |centre: &Point| middles.iter().map(|middle| centre.distance(*middle)).sum::<f64>();
    let centre = centres.into_iter().min_by(|a, b| far(a).total_cmp(&far(b)))?;
    Some(Circle { centre, radius })
}

/// The circle within the triangle of three lines.
fn within_triangle(lines: [[Point; 2]; 3]) -> Option<Circle> {
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
