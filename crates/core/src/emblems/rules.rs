//! Shapes that follow a rule.

use super::Numbers;
use kurbo::{BezPath, Circle, Point, Shape, Vec2};
use std::f64::consts::{FRAC_PI_2, TAU};

/// A point on a circle about the middle of the square; angle 0 is up, clockwise on the page.
fn around(radius: f64, turn: f64) -> Point {
    Point::new(50.0, 50.0) + Vec2::from_angle(turn * TAU - FRAC_PI_2) * radius
}

fn closed(points: impl IntoIterator<Item = Point>) -> BezPath {
    let mut path = BezPath::new();
    for (i, point) in points.into_iter().enumerate() {
        if i == 0 { path.move_to(point) } else { path.line_to(point) }
    }
    path.close_path();
    path
}

/// Tips at `outer`, valleys at `inner`, turned by a share of a full turn.
fn star_path(tips: usize, outer: f64, inner: f64, turn: f64) -> BezPath {
    let steps = 2 * tips;
    let at = |i: usize| if i.is_multiple_of(2) { outer } else { inner };
    closed((0..steps).map(|i| around(at(i), turn + i as f64 / steps as f64)))
}

fn disc(radius: f64) -> BezPath {
    Circle::new((50.0, 50.0), radius).to_path(1e-3)
}

/// The path run backwards, so that it takes away by the non-zero rule.
fn as_opening(path: BezPath) -> BezPath {
    path.reverse_subpaths()
}

fn polygon(corners: usize, turn: f64) -> BezPath {
    closed((0..corners).map(|i| around(50.0, turn + i as f64 / corners as f64)))
}

/// Two bands that swell and sink.
pub(super) fn wave() -> BezPath {
    const STEPS: usize = 60;
    let crest = |i: usize, level: f64| {
        let x = 100.0 * i as f64 / STEPS as f64;
        Point::new(x, level + 9.0 * (x / 50.0 * TAU).sin())
    };
    [24.0, 60.0]
        .into_iter()
        .flat_map(|level| {
            let upper = (0..=STEPS).map(move |i| crest(i, level));
            let lower = (0..=STEPS).rev().map(move |i| crest(i, level + 16.0));
            closed(upper.chain(lower))
        })
        .collect()
}

pub(super) fn star() -> BezPath {
    star_path(5, 50.0, 20.0, 0.0)
}

pub(super) fn compass() -> BezPath {
    let points = star_path(4, 50.0, 13.0, 0.0);
    points.into_iter().chain(star_path(4, 30.0, 13.0, 0.125)).collect()
}

pub(super) fn sun() -> BezPath {
    let rays = (0..12).flat_map(|i| {
        let turn = i as f64 / 12.0;
        closed([around(33.0, turn - 0.028), around(50.0, turn), around(33.0, turn + 0.028)])
    });
    disc(27.0).into_iter().chain(rays).collect()
}

pub(super) fn cog() -> BezPath {
    const TEETH: usize = 10;
    let tooth = |i: usize| {
        let at = |share: f64| (i as f64 + share) / TEETH as f64;
        [
            around(38.0, at(-0.30)),
            around(50.0, at(-0.18)),
            around(50.0, at(0.18)),
            around(38.0, at(0.30)),
        ]
    };
    let rim = closed((0..TEETH).flat_map(tooth));
    rim.into_iter().chain(as_opening(disc(15.0))).collect()
}

pub(super) fn flower() -> BezPath {
    let petals = (0..6).flat_map(|i| Circle::new(around(31.0, i as f64 / 6.0), 19.0).to_path(1e-3));
    petals.chain(disc(25.0)).chain(as_opening(disc(10.0))).collect()
}

pub(super) fn snowflake() -> BezPath {
    let bar = |from: Point, to: Point, half: f64| {
        let side = (to - from).normalize().turn_90() * half;
        closed([from + side, from - side, to - side, to + side])
    };
    (0..6)
        .flat_map(|i| {
            let turn = i as f64 / 6.0;
            let (outer, inner) = (around(50.0, turn), around(27.0, turn));
            let branches = [-0.058, 0.058].map(|by| bar(inner, around(42.0, turn + by), 3.2));
            let spine = bar(Point::new(50.0, 50.0), outer, 3.6);
            // The non-zero rule needs all bars turned alike.
            [spine].into_iter().chain(branches).flatten().collect::<Vec<_>>()
        })
        .collect()
}

pub(super) fn circle() -> BezPath {
    disc(50.0)
}

pub(super) fn ring() -> BezPath {
    disc(50.0).into_iter().chain(as_opening(disc(36.0))).collect()
}

pub(super) fn triangle() -> BezPath {
    polygon(3, 0.0)
}

pub(super) fn square() -> BezPath {
    polygon(4, 0.125)
}

pub(super) fn diamond() -> BezPath {
    polygon(4, 0.0)
}

pub(super) fn hexagon() -> BezPath {
    polygon(6, 0.25)
}

pub(super) fn star_by_numbers(Numbers { points, depth }: Numbers) -> BezPath {
    star_path(points as usize, 50.0, 50.0 * (1.0 - depth), 0.0)
}

/// Teeth with leaning flanks, as wide at half their height as the gaps between them.
pub(super) fn gear_by_numbers(Numbers { points, depth }: Numbers) -> BezPath {
    let root = 50.0 * (1.0 - depth);
    let tooth = |i: u32| {
        let at = |share: f64| (f64::from(i) + share) / f64::from(points);
        [(root, -0.31), (50.0, -0.19), (50.0, 0.19), (root, 0.31)]
            .map(|(radius, share)| around(radius, at(share)))
    };
    closed((0..points).flat_map(tooth))
}

/// A disc whose radius swells and sinks as a cosine, by cubics with its own tangents (Hermite's form).
pub(super) fn wave_by_numbers(Numbers { points, depth }: Numbers) -> BezPath {
    const TO_A_CREST: u32 = 8;
    let n = f64::from(points);
    let (mean, swing) = (50.0 * (1.0 - depth / 2.0), 25.0 * depth);
    let at = |turn: f64| around(mean + swing * (n * turn * TAU).cos(), turn);
    let along = |turn: f64| {
        let (sine, cosine) = (n * turn * TAU).sin_cos();
        let out = Vec2::from_angle(turn * TAU - FRAC_PI_2);
        out * (-swing * n * sine * TAU) + out.turn_90() * ((mean + swing * cosine) * TAU)
    };
    let steps = points * TO_A_CREST;
    let step = 1.0 / f64::from(steps);
    let mut path = BezPath::new();
    path.move_to(at(0.0));
    for i in 0..steps {
        let (from, to) = (f64::from(i) * step, f64::from(i + 1) * step);
        let third = step / 3.0;
        path.curve_to(at(from) + along(from) * third, at(to) - along(to) * third, at(to));
    }
    path.close_path();
    path
}
