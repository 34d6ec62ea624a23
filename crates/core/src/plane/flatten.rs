//! Curves flattened to straight lines within a tolerance.

use super::{GridPoint, Rect, Region, to_grid};
use kurbo::{BezPath, PathSeg};
use serde::{Deserialize, Serialize};
use std::f64::consts::FRAC_PI_2;

/// How far a flattened curve may stray from the true one.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Tolerance {
    /// 0.05 mm: small files, quick looks.
    Draft,
    /// 0.02 mm: finer than a 0.4 mm nozzle can follow.
    #[default]
    Normal,
    /// 0.005 mm: for resin, casting and large curves.
    Fine,
}

impl Tolerance {
    /// The chord tolerance in mm: the largest distance between a curve and its chords.
    pub const fn chord_mm(self) -> f64 {
        match self {
            Tolerance::Draft => 0.05,
            Tolerance::Normal => 0.02,
            Tolerance::Fine => 0.005,
        }
    }
}

/// Chords a quarter turn of radius `radius` needs: the sagitta of a chord over the angle `a` is
/// `r (1 − cos(a/2))` (elementary geometry), and a quarter always starts and ends on a vertex, so
/// a flattened circle measures its full diameter along both axes.
fn chords_per_quarter(radius: f64, tolerance: Tolerance) -> usize {
    let cosine = (1.0 - tolerance.chord_mm() / radius).max(0.0);
    let angle = 2.0 * cosine.acos();
    ((FRAC_PI_2 / angle).ceil() as usize).clamp(2, 4096)
}

/// How many chords a path may be flattened into, before it is: an upper bound.
///
/// A Bézier curve of degree `d` whose second differences are at most `m` strays from `n` chords over equal
/// steps by no more than `d (d − 1) m / (8 n²)` (G. Wang 1984; Goldman, *Pyramid Algorithms*, §5.6.3).
pub(crate) fn chords_at_most(path: &BezPath, tolerance: Tolerance) -> f64 {
    let chords = |degree: f64, second: f64| {
        (degree * (degree - 1.0) * second / (8.0 * tolerance.chord_mm())).sqrt().ceil() + 1.0
    };
    let of_segment = |segment: PathSeg| match segment {
        PathSeg::Line(_) => 1.0,
        PathSeg::Quad(of) => {
            chords(2.0, (of.p0.to_vec2() - 2.0 * of.p1.to_vec2() + of.p2.to_vec2()).hypot())
        }
        PathSeg::Cubic(of) => {
            let [a, b, c, d] = [of.p0, of.p1, of.p2, of.p3].map(|point| point.to_vec2());
            chords(3.0, (a - 2.0 * b + c).hypot().max((b - 2.0 * c + d).hypot()))
        }
    };
    path.segments().map(of_segment).sum()
}

/// The cosines and sines of a quarter turn in equal steps, first and last exact.
pub fn quarter_arc(radius: f64, tolerance: Tolerance) -> impl Iterator<Item = (f64, f64)> {
    let chords = chords_per_quarter(radius, tolerance);
    (0..=chords).map(move |step| match step {
        0 => (1.0, 0.0),
        _ if step == chords => (0.0, 1.0),
        _ => {
            let (sine, cosine) = (FRAC_PI_2 * step as f64 / chords as f64).sin_cos();
            (cosine, sine)
        }
    })
}

/// Four quarter arcs with semi-axes `rx` and `ry` about four corners, counter-clockwise from the
/// right.
fn quarter_arcs(
    corners: [(f64, f64); 4],
    (rx, ry): (f64, f64),
    tolerance: Tolerance,
) -> Vec<GridPoint> {
    let mut points: Vec<GridPoint> = Vec::new();
    for (quarter, (cx, cy)) in corners.into_iter().enumerate() {
        // Using the first quarter's cosines throughout keeps the outline symmetric.
        for (c, s) in quarter_arc(rx.max(ry), tolerance) {
            let (dx, dy) = [(c, s), (-s, c), (-c, -s), (s, -c)][quarter];
            let point = GridPoint::new(to_grid(cx + rx * dx), to_grid(cy + ry * dy));
            if points.last() != Some(&point) {
                points.push(point);
            }
        }
    }
    if points.first() == points.last() {
        points.pop();
    }
    points
}

/// An ellipse as a region; its vertices lie on the true ellipse. Semi-axes in mm, positive.
pub fn ellipse(centre: (f64, f64), semi_axes: (f64, f64), tolerance: Tolerance) -> Region {
    Region::from_contours(vec![quarter_arcs([centre; 4], semi_axes, tolerance)])
}

/// A circle as a region; its vertices lie on the true circle. `radius` in mm, positive.
pub fn circle(centre: (f64, f64), radius: f64, tolerance: Tolerance) -> Region {
    Region::from_contours(vec![quarter_arcs([centre; 4], (radius, radius), tolerance)])
}

/// A rectangle whose corners are rounded by `radius` mm, which must be at most half its shorter
/// side; zero leaves the corners square.
pub fn rounded_rectangle(rect: Rect, radius: f64, tolerance: Tolerance) -> Region {
    let Rect { x0, y0, x1, y1 } = rect;
    if radius <= 0.0 {
        let point = |x, y| GridPoint::new(to_grid(x), to_grid(y));
        return Region::from_contours(vec![vec![
            point(x0, y0),
            point(x1, y0),
            point(x1, y1),
            point(x0, y1),
        ]]);
    }
    let (left, right) = (x0 + radius, x1 - radius);
    let (low, high) = (y0 + radius, y1 - radius);
    let corners = [(right, high), (left, high), (left, low), (right, low)];
    Region::from_contours(vec![quarter_arcs(corners, (radius, radius), tolerance)])
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::f64::consts::PI;

    /// What is said before is never less than what comes out, and not many times as much.
    #[test]
    fn curves_have_no_more_chords_than_was_said() {
        let paths = [
            "M0 0Q10 40 20 0Z",
            "M0 0C0 55 100 55 100 0S-50 30 0 0Z",
            "M0 0C400 900 -900 400 0 1Z",
            "M0 0L5 0L5 5Z",
        ];
        for path in paths.map(|text| BezPath::from_svg(text).unwrap()) {
            for tolerance in [Tolerance::Draft, Tolerance::Normal, Tolerance::Fine] {
                let points = super::super::flattened(&path, tolerance)[0].len() as f64;
                let said = chords_at_most(&path, tolerance);
                assert!((points..3.0 * points + 8.0).contains(&said), "{points} {said}");
            }
        }
    }

    /// Area of a regular n-gon inscribed in a circle: n/2 · r² · sin(2π/n) (closed form).
    fn inscribed(n: f64, r: f64) -> f64 {
        n / 2.0 * r * r * (2.0 * PI / n).sin()
    }

    #[test]
    fn a_flattened_circle_is_an_inscribed_polygon_within_its_tolerance() {
        for tolerance in [Tolerance::Draft, Tolerance::Normal, Tolerance::Fine] {
            for radius in [0.5, 2.5, 40.0] {
                let region = circle((3.0, -7.0), radius, tolerance);
                let n = region.vertex_count() as f64;
                assert!((region.area() - inscribed(n, radius)).abs() < 1e-3 * radius);
                let sagitta = radius * (1.0 - (PI / n).cos());
                assert!(sagitta <= tolerance.chord_mm());
                let bounds = region.bounds().unwrap();
                assert!((bounds.width() - 2.0 * radius).abs() < 1e-4);
                assert!((bounds.height() - 2.0 * radius).abs() < 1e-4);
            }
        }
    }

    #[test]
    fn a_rounded_rectangle_loses_its_corners_and_a_stadium_its_ends() {
        let rect = Rect::centred(72.0, 24.0);
        let square = rounded_rectangle(rect, 0.0, Tolerance::Fine);
        assert_eq!(square.area(), 72.0 * 24.0);
        for radius in [3.0, 12.0] {
            let region = rounded_rectangle(rect, radius, Tolerance::Fine);
            let exact = 72.0 * 24.0 - (4.0 - PI) * radius * radius;
            let lost = (exact - region.area()) / exact;
            assert!((0.0..2e-4).contains(&lost), "{lost}");
        }
    }
}
