//! The line through the points of a run.

use super::circle::through;
use super::{DrawnPoint, PointKind, Run};
use kurbo::{Arc, BezPath, PathEl, Point, Vec2};
use std::f64::consts::{PI, TAU};

/// How closely arcs are followed by cubic curves, in mm.
const WITHIN: f64 = 1e-5;

/// The line of a run. Of fewer than two points there is none.
pub(super) fn curve(run: &Run) -> BezPath {
    let mut points = without_doubles(&run.points);
    let closed = run.closed && points.len() > 2;
    if closed {
        // Begun at an end of an arc, and not within it.
        let start = points.iter().position(|point| point.kind != PointKind::Arc);
        points.rotate_left(start.unwrap_or(0));
    }
    if points.len() < 2 {
        return BezPath::new();
    }
    let line = Line { points: &points, closed };
    let mut path = BezPath::new();
    path.move_to(line.leaves(0));
    let last = if closed { points.len() } else { points.len() - 1 };
    let mut i = 0;
    while i < last {
        let next = (i + 1) % points.len();
        // The arc goes over the point after, where there is one behind that.
        let has_behind = closed || i + 2 < points.len();
        if points[next].kind == PointKind::Arc && has_behind && i + 1 < last {
            line.arc(&mut path, i);
            i += 2;
            continue;
        }
        line.part(&mut path, i);
        line.corner(&mut path, next, i + 1 == last && !closed);
        i += 1;
    }
    if closed {
        path.close_path();
    }
    path
}

/// Points without those that lie on the one before them.
fn without_doubles(points: &[DrawnPoint]) -> Vec<DrawnPoint> {
    const SAME: f64 = 1e-6;
    let mut kept: Vec<DrawnPoint> = Vec::new();
    for point in points {
        let is_same = |last: &DrawnPoint| place(last).distance(place(point)) < SAME;
        if !kept.last().is_some_and(is_same) {
            kept.push(*point);
        }
    }
    kept
}

fn place(point: &DrawnPoint) -> Point {
    Point::new(point.at[0], point.at[1])
}

struct Line<'a> {
    points: &'a [DrawnPoint],
    closed: bool,
}

impl Line<'_> {
    fn at(&self, i: usize) -> Point {
        place(&self.points[i % self.points.len()])
    }

    fn kind(&self, i: usize) -> PointKind {
        self.points[i % self.points.len()].kind
    }

    /// The place of the point before or after one, where there is one.
    fn beside(&self, i: usize, step: isize) -> Option<usize> {
        let count = self.points.len() as isize;
        let to = i as isize + step;
        match self.closed {
            true => Some(to.rem_euclid(count) as usize),
            false => (0..count).contains(&to).then_some(to as usize),
        }
    }

    /// Whether the way from a point to the next is straight: from corner to corner, and no arc.
    fn is_straight(&self, i: usize) -> bool {
        let is_corner = |i: usize| matches!(self.kind(i), PointKind::Corner(_));
        let next = self.beside(i, 1);
        next.is_some_and(|next| is_corner(i) && is_corner(next)) && !self.is_in_arc(i)
    }

    /// Whether the way from a point to the next belongs to an arc.
    fn is_in_arc(&self, i: usize) -> bool {
        let is_arc = |i: Option<usize>| i.is_some_and(|i| self.kind(i) == PointKind::Arc);
        is_arc(Some(i)) || is_arc(self.beside(i, 1))
    }

    /// How far from a corner its rounding begins, and its radius; nothing where it is not rounded. No more
    /// than half of either side is taken.
    fn rounding(&self, i: usize) -> Option<(f64, f64)> {
        let PointKind::Corner(radius) = self.kind(i) else { return None };
        let (before, after) = (self.beside(i, -1)?, self.beside(i, 1)?);
        if radius <= 0.0 || !self.is_straight(before) || !self.is_straight(i) {
            return None;
        }
        let (into, out) = (self.at(before) - self.at(i), self.at(after) - self.at(i));
        let between = into.cross(out).abs().atan2(into.dot(out));
        let half = (between / 2.0).tan();
        if half < 1e-6 || between > PI - 1e-6 {
            return None;
        }
        let most = into.hypot().min(out.hypot()) / 2.0;
        let reach = (radius / half).min(most);
        Some((reach, reach * half))
    }

    /// Where the line leaves a point: behind its rounding.
    fn leaves(&self, i: usize) -> Point {
        match (self.rounding(i), self.beside(i, 1)) {
            (Some((reach, _)), Some(next)) => self.along(i, next, reach),
            _ => self.at(i),
        }
    }

    fn along(&self, from: usize, to: usize, by: f64) -> Point {
        let way = self.at(to) - self.at(from);
        self.at(from) + way * (by / way.hypot().max(1e-12))
    }

    /// The way from a point to the next, up to where its rounding begins.
    fn part(&self, path: &mut BezPath, i: usize) {
        let next = (i + 1) % self.points.len();
        if self.is_straight(i) {
            let reach = self.rounding(next).map_or(0.0, |(reach, _)| reach);
            path.line_to(self.along(next, i, reach));
            return;
        }
        let (from, to) = (self.at(i), self.at(next));
        let third = from.distance(to) / 3.0;
        let leaving = self.tangent(i).map_or((to - from) / 3.0, |along| along * third);
        let arriving = self.tangent(next).map_or((from - to) / 3.0, |along| along * -third);
        path.curve_to(from + leaving, to + arriving, to);
    }

    /// The direction of the line at a smooth point: along its neighbours.
    fn tangent(&self, i: usize) -> Option<Vec2> {
        if self.kind(i) != PointKind::Smooth {
            return None;
        }
        let before = self.beside(i, -1).map_or(self.at(i), |before| self.at(before));
        let after = self.beside(i, 1).map_or(self.at(i), |after| self.at(after));
        let way = after - before;
        (way.hypot() > 1e-9).then(|| way / way.hypot())
    }

    /// The rounding at a point.
    fn corner(&self, path: &mut BezPath, i: usize, is_end: bool) {
        let (Some((reach, radius)), false) = (self.rounding(i), is_end) else { return };
        let (Some(before), Some(after)) = (self.beside(i, -1), self.beside(i, 1)) else { return };
        let (from, to) = (self.along(i, before, reach), self.along(i, after, reach));
        let turn = (self.at(i) - self.at(before)).cross(self.at(after) - self.at(i)).signum();
        let inwards = self.at(i) - self.at(before);
        let left = Vec2::new(-inwards.y, inwards.x) / inwards.hypot() * turn;
        let centre = from + left * radius;
        let (start, end) = ((from - centre).atan2(), (to - centre).atan2());
        let sweep = match turn > 0.0 {
            true => (end - start).rem_euclid(TAU),
            false => -(start - end).rem_euclid(TAU),
        };
        append(path, &Arc::new(centre, (radius, radius), start, sweep, 0.0), to);
    }

    /// The circular arc from a point over the next to the one behind it; a straight line where the three lie
    /// on one.
    fn arc(&self, path: &mut BezPath, i: usize) {
        let [from, over, to] = [i, i + 1, i + 2].map(|i| self.at(i));
        let Some(circle) = through([from, over, to]) else {
            path.line_to(to);
            return;
        };
        let angle = |at: Point| (at - circle.centre).atan2();
        let (start, end) = (angle(from), angle(to));
        let sweep = match (over - from).cross(to - from) > 0.0 {
            true => (end - start).rem_euclid(TAU),
            false => -(start - end).rem_euclid(TAU),
        };
        append(
            path,
            &Arc::new(circle.centre, (circle.radius, circle.radius), start, sweep, 0.0),
            to,
        );
    }
}

/// Adds an arc that begins where the path is, and ends just there.
fn append(path: &mut BezPath, arc: &Arc, end: Point) {
    let mut pieces = arc.append_iter(WITHIN).collect::<Vec<PathEl>>();
    if let Some(PathEl::CurveTo(_, _, last)) = pieces.last_mut() {
        *last = end;
    }
    path.extend(pieces);
}
