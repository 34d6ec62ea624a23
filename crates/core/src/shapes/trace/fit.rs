//! Smooth curves along points: cubic Bézier curves by least squares, parted where they stray
//! (Schneider, An Algorithm for Automatically Fitting Digitized Curves, Graphics Gems, 1990).

use crate::plane::closed_line;
use kurbo::{BezPath, CubicBez, ParamCurve, ParamCurveDeriv, Point, Vec2};

/// Points further off a straight line than this bend it, in pixels: what the steps of pixels leave.
const STRAIGHT: f64 = 0.4;

/// Nearer than this curves need not keep to points.
const LEAST: f64 = 0.05;

/// How far from the tip of a corner pixels cut it off.
const NEAR: f64 = 1.5;

/// A closed line of points as curves that keep within `distance` of them. Where it turns by more than
/// `corner` degrees it stays a corner. Without a distance the points are joined as they are.
pub(super) fn closed(ring: &[Point], distance: f64, corner: f64) -> BezPath {
    if distance < LEAST || ring.len() < 6 {
        return closed_line(ring.iter().copied());
    }
    let line = Loop::of(ring);
    let reach = (2.5 * distance).max(2.0).min(line.length / 10.0);
    let corners = line.corners(reach, corner.to_radians());
    let mut path = BezPath::new();
    if corners.is_empty() {
        // Smooth all the way: begun anywhere, with one tangent for leaving and coming back.
        let tangent = line.tangent(0, reach);
        let points: Vec<Point> = ring.iter().chain([&ring[0]]).copied().collect();
        path.move_to(ring[0]);
        Run { points: &points, distance, reach }.follow(&mut path, tangent, -tangent);
        path.close_path();
        return path;
    }
    let tips = line.tips(&corners);
    path.move_to(tips[0]);
    for (i, &from) in corners.iter().enumerate() {
        let to = corners[(i + 1) % corners.len()];
        let count = (to + ring.len() - from - 1) % ring.len() + 1;
        let mut points: Vec<Point> =
            (0..=count).map(|step| ring[(from + step) % ring.len()]).collect();
        points[0] = tips[i];
        points[count] = tips[(i + 1) % tips.len()];
        let moved = [ring[from].distance(points[0]), ring[to].distance(points[count])];
        let points = without_cut_tips(points, moved);
        let run = Run { points: &points, distance, reach };
        if run.is_straight() {
            path.line_to(run.last());
        } else {
            run.follow(&mut path, run.leaving(), run.arriving());
        }
    }
    path.close_path();
    path
}

/// An open line of points as curves that keep within `distance` of them.
pub(super) fn open(points: &[Point], distance: f64) -> BezPath {
    let mut path = BezPath::new();
    path.move_to(points[0]);
    if distance < LEAST || points.len() < 4 {
        points[1..].iter().for_each(|point| path.line_to(*point));
        return path;
    }
    let run = Run { points, distance, reach: (2.5 * distance).max(2.0) };
    run.follow(&mut path, run.leaving(), run.arriving());
    path
}

/// Points without those next to the ends where pixels cut the tips of corners off, and by how much.
fn without_cut_tips(points: Vec<Point>, [at_first, at_last]: [f64; 2]) -> Vec<Point> {
    const ENOUGH: usize = 12;
    if points.len() < ENOUGH {
        return points;
    }
    let (first, last) = (points[0], points[points.len() - 1]);
    let is_end = |i: usize| i == 0 || i + 1 == points.len();
    let is_clear = |point: &Point| {
        point.distance(first) > NEAR + at_first && point.distance(last) > NEAR + at_last
    };
    let kept = points.iter().enumerate().filter(|(i, point)| is_end(*i) || is_clear(point));
    kept.map(|(_, point)| *point).collect()
}

fn unit(of: Vec2) -> Vec2 {
    let length = of.hypot();
    if length > 1e-12 { of / length } else { Vec2::new(1.0, 0.0) }
}

/// A closed line with how far along it each of its points lies.
struct Loop<'a> {
    points: &'a [Point],
    along: Vec<f64>,
    length: f64,
}

impl<'a> Loop<'a> {
    fn of(points: &'a [Point]) -> Self {
        let mut along = Vec::with_capacity(points.len());
        let mut length = 0.0;
        for (i, point) in points.iter().enumerate() {
            along.push(length);
            length += point.distance(points[(i + 1) % points.len()]);
        }
        Loop { points, along, length }
    }

    /// The point so far along from a point, forwards or backwards.
    fn from(&self, at: usize, by: f64) -> Point {
        let to = (self.along[at] + by).rem_euclid(self.length);
        let before = self.along.partition_point(|along| *along <= to) - 1;
        let next = (before + 1) % self.points.len();
        let end = if next == 0 { self.length } else { self.along[next] };
        let span = end - self.along[before];
        let share = if span > 0.0 { (to - self.along[before]) / span } else { 0.0 };
        self.points[before].lerp(self.points[next], share)
    }

    /// The direction at a point, taken from as far behind it as before it.
    fn tangent(&self, at: usize, reach: f64) -> Vec2 {
        unit(self.from(at, reach) - self.from(at, -reach))
    }

    /// Where the tips of corners were before pixels cut them off: where the lines on both sides meet, if that
    /// is near. The lines are taken as far away as there is room before the next corner.
    fn tips(&self, corners: &[usize]) -> Vec<Point> {
        const FURTHEST: f64 = 8.0;
        let count = corners.len();
        // To the next corner; of the only one all the way round.
        let gap = |from: usize, to: usize| {
            let gap = (self.along[to] - self.along[from]).rem_euclid(self.length);
            if gap > 0.0 { gap } else { self.length }
        };
        let tip = |i: usize| {
            let at = corners[i];
            let side = |room: f64, sign: f64| {
                let far = FURTHEST.min(0.4 * room);
                let (near, far) = (self.from(at, sign * far * 0.4), self.from(at, sign * far));
                (near, near - far)
            };
            let (a, u) = side(gap(corners[(i + count - 1) % count], at), -1.0);
            let (b, v) = side(gap(at, corners[(i + 1) % count]), 1.0);
            let across = u.cross(v);
            let tip = a + u * ((b - a).cross(v) / across);
            let is_near = across.abs() > 1e-9 && tip.distance(self.points[at]) < FURTHEST / 2.0;
            if is_near { tip } else { self.points[at] }
        };
        (0..count).map(tip).collect()
    }

    /// Where it turns by more than an angle in radians, sharpest of those within reach of each other.
    fn corners(&self, reach: f64, angle: f64) -> Vec<usize> {
        let turns: Vec<f64> = (0..self.points.len())
            .map(|at| {
                let here = self.points[at];
                let (behind, ahead) = (here - self.from(at, -reach), self.from(at, reach) - here);
                behind.cross(ahead).atan2(behind.dot(ahead)).abs()
            })
            .collect();
        let mut sharp: Vec<usize> = (0..turns.len()).filter(|at| turns[*at] > angle).collect();
        sharp.sort_by(|a, b| turns[*b].total_cmp(&turns[*a]).then(a.cmp(b)));
        let mut kept: Vec<usize> = Vec::new();
        for at in sharp {
            let is_near = |other: &usize| {
                let apart = (self.along[at] - self.along[*other]).abs();
                apart.min(self.length - apart) < reach
            };
            if !kept.iter().any(is_near) {
                kept.push(at);
            }
        }
        kept.sort_unstable();
        kept
    }
}

/// Points one after another that are followed by curves.
#[derive(Clone, Copy)]
struct Run<'a> {
    points: &'a [Point],
    distance: f64,
    /// How far away a direction is taken from.
    reach: f64,
}

impl Run<'_> {
    fn first(&self) -> Point {
        self.points[0]
    }

    fn last(&self) -> Point {
        self.points[self.points.len() - 1]
    }

    /// Whether all points lie on the line between the ends.
    fn is_straight(&self) -> bool {
        let along = self.last() - self.first();
        let length = along.hypot();
        let off = |point: &Point| {
            let to = *point - self.first();
            let beside = (along.cross(to) / length).abs();
            let beyond = (-along.dot(to) / length).max(along.dot(to) / length - length);
            beside.max(beyond)
        };
        length > 1e-9 && self.points.iter().all(|point| off(point) < STRAIGHT.min(self.distance))
    }

    /// The direction from an end to the first point that is as far away as directions are taken from.
    fn towards(from: Point, points: impl Iterator<Item = Point>, reach: f64) -> Vec2 {
        let mut last = from;
        for point in points {
            last = point;
            if point.distance(from) >= reach {
                break;
            }
        }
        unit(last - from)
    }

    fn leaving(&self) -> Vec2 {
        Self::towards(self.first(), self.points.iter().copied().skip(1), self.reach)
    }

    fn arriving(&self) -> Vec2 {
        Self::towards(self.last(), self.points.iter().rev().copied().skip(1), self.reach)
    }

    /// Adds curves that follow the points, with these directions out of both ends.
    fn follow(&self, path: &mut BezPath, leaving: Vec2, arriving: Vec2) {
        const ROUNDS: usize = 4;
        let (first, last) = (self.first(), self.last());
        if self.points.len() < 4 {
            let third = first.distance(last) / 3.0;
            path.curve_to(first + leaving * third, last + arriving * third, last);
            return;
        }
        let mut at = self.shares();
        let mut curve = self.least_squares(&at, leaving, arriving);
        let (mut off, mut worst) = self.furthest(curve, &at);
        // A curve that is nearly there gets nearer when its points are asked where they lie on it.
        for _ in 0..ROUNDS {
            if off <= self.distance || off > 4.0 * self.distance {
                break;
            }
            let better = self.points.iter().zip(&at).map(|(point, t)| nearer(curve, *point, *t));
            at = better.collect();
            curve = self.least_squares(&at, leaving, arriving);
            (off, worst) = self.furthest(curve, &at);
        }
        if off <= self.distance {
            path.curve_to(curve.p1, curve.p2, curve.p3);
            return;
        }
        let (before, after) = (&self.points[..=worst], &self.points[worst..]);
        let middle = self.points[worst];
        let back = Self::towards(middle, before.iter().rev().copied().skip(1), self.reach);
        let on = Self::towards(middle, after.iter().copied().skip(1), self.reach);
        let tangent = unit(on - back);
        Run { points: before, ..*self }.follow(path, leaving, -tangent);
        Run { points: after, ..*self }.follow(path, tangent, arriving);
    }

    /// Where each point lies along the whole, as a share.
    fn shares(&self) -> Vec<f64> {
        let mut along = vec![0.0];
        for pair in self.points.windows(2) {
            along.push(along[along.len() - 1] + pair[0].distance(pair[1]));
        }
        let whole = along[along.len() - 1].max(1e-12);
        along.into_iter().map(|one| one / whole).collect()
    }

    /// The curve with these directions whose points at given parameters are nearest to the given ones.
    fn least_squares(&self, at: &[f64], leaving: Vec2, arriving: Vec2) -> CubicBez {
        let (first, last) = (self.first(), self.last());
        let (mut c, mut x) = ([[0.0; 2]; 2], [0.0; 2]);
        for (point, &t) in self.points.iter().zip(at) {
            let s = 1.0 - t;
            let [b0, b1, b2, b3] = [s * s * s, 3.0 * t * s * s, 3.0 * t * t * s, t * t * t];
            let (a1, a2) = (leaving * b1, arriving * b2);
            c[0][0] += a1.dot(a1);
            c[0][1] += a1.dot(a2);
            c[1][1] += a2.dot(a2);
            let ends = first.to_vec2() * (b0 + b1) + last.to_vec2() * (b2 + b3);
            let rest = point.to_vec2() - ends;
            x[0] += a1.dot(rest);
            x[1] += a2.dot(rest);
        }
        let determinant = c[0][0] * c[1][1] - c[0][1] * c[0][1];
        let chord = first.distance(last);
        let whole: f64 = self.points.windows(2).map(|pair| pair[0].distance(pair[1])).sum();
        let solved = [
            (x[0] * c[1][1] - x[1] * c[0][1]) / determinant,
            (c[0][0] * x[1] - c[0][1] * x[0]) / determinant,
        ];
        // Arms that point backwards, or reach beyond all of the line, make loops (Wu and Barsky).
        let is_fit = |arm: f64| arm > 1e-6 * whole && arm < whole;
        let arms = match determinant.abs() > 1e-12 && solved.iter().all(|arm| is_fit(*arm)) {
            true => solved,
            false => [if chord > 1e-9 { chord } else { whole } / 3.0; 2],
        };
        CubicBez::new(first, first + leaving * arms[0], last + arriving * arms[1], last)
    }

    /// How far the furthest point is off a curve, and which it is; never an end.
    fn furthest(&self, curve: CubicBez, at: &[f64]) -> (f64, usize) {
        let inner = 1..self.points.len() - 1;
        let off = |i: usize| curve.eval(at[i]).distance(self.points[i]);
        let worst = inner.max_by(|a, b| off(*a).total_cmp(&off(*b))).unwrap_or(1);
        (off(worst), worst)
    }
}

/// A parameter at which a curve comes nearer to a point (a step of Newton and Raphson).
fn nearer(curve: CubicBez, point: Point, t: f64) -> f64 {
    let first = curve.deriv();
    let (off, slope) = (curve.eval(t) - point, first.eval(t).to_vec2());
    let bend = first.deriv().eval(t).to_vec2();
    let below = slope.dot(slope) + off.dot(bend);
    if below.abs() < 1e-12 { t } else { (t - off.dot(slope) / below).clamp(0.0, 1.0) }
}
