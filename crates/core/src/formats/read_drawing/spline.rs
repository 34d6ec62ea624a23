//! B-splines as cubic Bézier curves.

use kurbo::{BezPath, Point, Vec2};

/// A B-spline as it stands in a file: weights may be missing, all are then alike.
pub(super) struct Spline<'a> {
    pub degree: usize,
    pub knots: &'a [f64],
    pub points: &'a [Point],
    pub weights: &'a [f64],
}

impl Spline<'_> {
    /// Whether its parts belong together: as many knots as points, the degree and one, none less than the
    /// one before it, and weights above nothing.
    fn is_sound(&self) -> bool {
        let Spline { degree, knots, points, weights } = self;
        (1..=11).contains(degree)
            && points.len() > *degree
            && knots.len() == points.len() + degree + 1
            && knots.windows(2).all(|pair| pair[0] <= pair[1])
            && knots.iter().all(|knot| knot.is_finite())
            && (weights.is_empty() || weights.len() == points.len())
            && weights.iter().all(|weight| *weight > 0.0 && weight.is_finite())
    }

    /// The point and the derivative at a parameter within a span between two knots (de Boor's algorithm
    /// in homogeneous coordinates).
    fn at(&self, t: f64, span: usize) -> (Point, Vec2) {
        let degree = self.degree;
        let mut d: Vec<[f64; 3]> = (0..=degree)
            .map(|i| {
                let index = span - degree + i;
                let weight = self.weights.get(index).copied().unwrap_or(1.0);
                let point = self.points[index];
                [point.x * weight, point.y * weight, weight]
            })
            .collect();
        let mut slope = [0.0; 3];
        for level in 1..=degree {
            if level == degree {
                // The two points that are left span the tangent.
                let span_length = self.knots[span + 1] - self.knots[span];
                let factor = if span_length > 0.0 { degree as f64 / span_length } else { 0.0 };
                slope = [0, 1, 2].map(|axis| (d[degree][axis] - d[degree - 1][axis]) * factor);
            }
            for i in (level..=degree).rev() {
                let low = self.knots[span - degree + i];
                let high = self.knots[span + 1 + i - level];
                let share = if high > low { (t - low) / (high - low) } else { 0.0 };
                d[i] = [0, 1, 2].map(|axis| (1.0 - share) * d[i - 1][axis] + share * d[i][axis]);
            }
        }
        let [x, y, w] = d[degree];
        let point = Point::new(x / w, y / w);
        // Quotient rule.
        let tangent = Vec2::new(slope[0] - point.x * slope[2], slope[1] - point.y * slope[2]) / w;
        (point, tangent)
    }

    /// The spline as cubic curves that keep within `tolerance` of it; `None` where it is broken. Cubic
    /// splines without weights come out as they are.
    pub(super) fn curves(&self, tolerance: f64) -> Option<BezPath> {
        if !self.is_sound() {
            return None;
        }
        let mut path = BezPath::new();
        for span in self.degree..self.points.len() {
            let (from, to) = (self.knots[span], self.knots[span + 1]);
            if to <= from {
                continue;
            }
            if path.elements().is_empty() {
                path.move_to(self.at(from, span).0);
            }
            self.follow(&mut path, span, (from, to), tolerance, 0);
        }
        (path.elements().len() > 1).then_some(path)
    }

    /// Adds a part of a span as one curve, or as two where one strays (cubic Hermite interpolation).
    fn follow(
        &self,
        path: &mut BezPath,
        span: usize,
        (from, to): (f64, f64),
        tolerance: f64,
        depth: u32,
    ) {
        const DEEPEST: u32 = 8;
        let third = (to - from) / 3.0;
        let ((start, leaving), (end, arriving)) = (self.at(from, span), self.at(to, span));
        let (by, and) = (start + leaving * third, end - arriving * third);
        let middle = (from + to) / 2.0;
        let curve = kurbo::CubicBez::new(start, by, and, end);
        let strays = [0.25, 0.5, 0.75].into_iter().any(|share| {
            let exact = self.at(from + (to - from) * share, span).0;
            kurbo::ParamCurve::eval(&curve, share).distance(exact) > tolerance
        });
        if strays && depth < DEEPEST {
            self.follow(path, span, (from, middle), tolerance, depth + 1);
            self.follow(path, span, (middle, to), tolerance, depth + 1);
        } else {
            path.curve_to(by, and, end);
        }
    }
}

/// A smooth curve through points, each tangent along its neighbours (Catmull and Rom).
pub(super) fn through(points: &[Point], is_closed: bool) -> Option<BezPath> {
    if points.len() < 2 {
        return None;
    }
    let count = points.len() as isize;
    let neighbour = |i: isize| match is_closed {
        true => points[i.rem_euclid(count) as usize],
        false => points[i.clamp(0, count - 1) as usize],
    };
    let mut path = BezPath::new();
    path.move_to(points[0]);
    let last = if is_closed { count } else { count - 1 };
    for i in 0..last {
        let [before, from, to, after] = [-1, 0, 1, 2].map(|step| neighbour(i + step));
        path.curve_to(from + (to - before) / 6.0, to - (after - from) / 6.0, to);
    }
    if is_closed {
        path.close_path();
    }
    Some(path)
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A quarter circle is a rational spline of degree 2 with the middle weight √½ (The NURBS Book,
    /// Piegl and Tiller, §7.3); every point of it lies on the circle.
    #[test]
    fn a_rational_spline_follows_its_circle() {
        let weights = [1.0, 0.5f64.sqrt(), 1.0];
        let points = [(10.0, 0.0), (10.0, 10.0), (0.0, 10.0)].map(|(x, y)| Point::new(x, y));
        let knots = [0.0, 0.0, 0.0, 1.0, 1.0, 1.0];
        let spline = Spline { degree: 2, knots: &knots, points: &points, weights: &weights };
        let path = spline.curves(1e-4).unwrap();
        let mut worst: f64 = 0.0;
        kurbo::flatten(path.iter(), 1e-5, |element| {
            if let Some(point) = element.end_point() {
                worst = worst.max((point.to_vec2().hypot() - 10.0).abs());
            }
        });
        assert!(worst < 2e-4, "{worst}");
    }

    /// A cubic spline with clamped ends and no inner knot is the Bézier curve of its points.
    #[test]
    fn a_cubic_spline_without_inner_knots_is_its_bezier_curve() {
        let points =
            [(0.0, 0.0), (3.0, 9.0), (7.0, -4.0), (10.0, 2.0)].map(|(x, y)| Point::new(x, y));
        let knots = [2.0, 2.0, 2.0, 2.0, 5.0, 5.0, 5.0, 5.0];
        let spline = Spline { degree: 3, knots: &knots, points: &points, weights: &[] };
        let path = spline.curves(1e-6).unwrap();
        let [_, kurbo::PathEl::CurveTo(by, and, to)] = path.elements() else { panic!("{path:?}") };
        assert!(by.distance(points[1]) < 1e-9 && and.distance(points[2]) < 1e-9);
        assert_eq!(*to, points[3]);
    }

    #[test]
    fn splines_whose_parts_do_not_belong_together_are_none() {
        let points = [Point::ZERO; 4];
        for knots in [&[0.0; 7][..], &[0.0, 0.0, 0.0, 0.0, 1.0, 1.0, 0.5, 1.0], &[f64::NAN; 8]] {
            let spline = Spline { degree: 3, knots, points: &points, weights: &[] };
            assert!(spline.curves(1e-3).is_none());
        }
    }
}
