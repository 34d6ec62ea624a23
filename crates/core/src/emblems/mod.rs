//! Emblems: a set of drawn shapes of our own.
//!
//! Each is drawn in a square of 100 units, y downwards as in SVG, as paths that add and paths that
//! cut. Shapes that follow a rule (stars, cogs, flowers) are computed.

mod drawings;
mod rules;

pub(crate) use drawings::HEART;

use crate::plane::{Rect, Region, Tolerance};
use kurbo::{Affine, BezPath, Shape};

/// A shipped shape.
pub struct EmblemShape {
    /// The name used in piece files; never changes.
    pub id: &'static str,
    /// The name shown.
    pub name: &'static str,
    drawing: Drawing,
}

enum Drawing {
    /// Paths that add, and paths that cut.
    Paths { adds: &'static [&'static str], cuts: &'static [&'static str] },
    /// A path that is computed.
    Rule(fn() -> BezPath),
    /// A path that is computed from numbers.
    ByNumbers(fn(Numbers) -> BezPath),
}

/// All emblems, in the order they are offered.
pub static EMBLEMS: &[EmblemShape] = drawings::ALL;

/// The emblem of this id.
pub fn emblem(id: &str) -> Option<&'static EmblemShape> {
    EMBLEMS.iter().find(|emblem| emblem.id == id)
}

/// The numbers of a shape that goes by numbers.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Numbers {
    /// How many tips, teeth or crests it has.
    pub points: u32,
    /// How deep the valleys between them are, as a share of its radius.
    pub depth: f64,
}

impl Default for Numbers {
    fn default() -> Self {
        Numbers { points: 5, depth: 0.5 }
    }
}

/// How an emblem is laid on the face.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Setting {
    /// Across the shape before it is turned, in mm.
    pub width: f64,
    /// Stretch in height.
    pub stretch: f64,
    /// Turn in degrees, counter-clockwise.
    pub turn: f64,
    /// Whether left and right are exchanged.
    pub mirrored: bool,
}

impl Setting {
    /// How a shape with y up is placed whose box is `frame`: the middle of the box goes to the origin.
    pub(crate) fn placing(&self, frame: Rect) -> Affine {
        let (x, y) = frame.centre();
        let scale = self.width / frame.width();
        let across = if self.mirrored { -scale } else { scale };
        Affine::rotate(self.turn.to_radians())
            * Affine::scale_non_uniform(across, scale * self.stretch)
            * Affine::translate((-x, -y))
    }
}

impl EmblemShape {
    /// Whether it goes by numbers.
    pub fn has_numbers(&self) -> bool {
        matches!(self.drawing, Drawing::ByNumbers(_))
    }

    /// The shape as a region in mm, y up, the centre of its own box on the origin; one that goes by numbers as
    /// it is by the usual ones.
    pub fn set(&self, setting: Setting, tolerance: Tolerance) -> Region {
        self.set_by(Numbers::default(), setting, tolerance)
    }

    /// The same by given numbers, where it goes by any.
    pub fn set_by(&self, numbers: Numbers, setting: Setting, tolerance: Tolerance) -> Region {
        let (adds, cuts): (Vec<BezPath>, Vec<BezPath>) = match &self.drawing {
            Drawing::Paths { adds, cuts } => (parsed(adds), parsed(cuts)),
            Drawing::Rule(rule) => (vec![rule()], Vec::new()),
            Drawing::ByNumbers(rule) => (vec![rule(numbers)], Vec::new()),
        };
        let boxes = adds.iter().map(Shape::bounding_box);
        let frame = boxes.reduce(|all, one| all.union(one)).unwrap_or_default();
        let upright = Rect { x0: frame.x0, y0: -frame.y1, x1: frame.x1, y1: -frame.y0 };
        let placing = setting.placing(upright) * Affine::FLIP_Y;
        // Each path on its own: strokes drawn in opposite turns must not cancel where they overlap.
        let together = |paths: Vec<BezPath>| {
            let regions =
                paths.into_iter().map(|path| Region::from_path(&(placing * path), tolerance));
            regions.reduce(|all, one| all.union(&one)).unwrap_or_default()
        };
        together(adds).difference(&together(cuts))
    }
}

/// The paths of a drawing; a slip of the pen is caught by a test.
fn parsed(paths: &[&str]) -> Vec<BezPath> {
    paths.iter().map(|path| BezPath::from_svg(path).unwrap_or_default()).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::collections::HashSet;

    const PLAIN: Setting = Setting { width: 20.0, stretch: 1.0, turn: 0.0, mirrored: false };

    #[test]
    fn there_are_at_least_24_and_each_is_one_good_shape() {
        let ids: HashSet<_> = EMBLEMS.iter().map(|emblem| emblem.id).collect();
        assert!(ids.len() >= 24 && ids.len() == EMBLEMS.len());
        for emblem in EMBLEMS {
            if let Drawing::Paths { adds, cuts } = &emblem.drawing {
                for path in adds.iter().chain(*cuts) {
                    assert!(BezPath::from_svg(path).is_ok(), "{}: {path}", emblem.id);
                }
            }
            let region = emblem.set(PLAIN, Tolerance::Normal);
            let bounds = region.bounds().unwrap();
            assert!((bounds.width() - 20.0).abs() < 0.05, "{}: {bounds:?}", emblem.id);
            let (x, y) = bounds.centre();
            assert!(x.abs() < 0.05 && y.abs() < 0.05, "{}: {bounds:?}", emblem.id);
            // Nothing thinner than a line of 0.4 mm at 20 mm across.
            assert!(
                region.workable_inset(0.2, Tolerance::Normal) > 0.19,
                "{} is too thin",
                emblem.id
            );
        }
    }

    /// The areas in closed form: of a star of n tips n R r sin(π/n); of a disc with n crests, its radius being
    /// a + b cos(nφ), π (a² + b²/2) (polar coordinates).
    #[test]
    fn shapes_by_numbers_have_their_areas() {
        for (points, depth) in [(3, 0.4), (5, 0.6), (24, 0.1), (60, 0.05)] {
            let numbers = Numbers { points, depth };
            let n = f64::from(points);
            // As large as it would be as a disc about its tips.
            let sized = |id: &str, rule: fn(Numbers) -> BezPath| {
                let width = rule(numbers).bounding_box().width() / 100.0 * 40.0;
                emblem(id)
                    .unwrap()
                    .set_by(numbers, Setting { width, ..PLAIN }, Tolerance::Fine)
                    .area()
            };
            let star = n * 20.0 * 20.0 * (1.0 - depth) * (std::f64::consts::PI / n).sin();
            let found = sized("star-by-numbers", rules::star_by_numbers);
            assert!((found / star - 1.0).abs() < 1e-3, "{points} {depth}: {found} {star}");
            let (mean, swing) = (20.0 * (1.0 - depth / 2.0), 10.0 * depth);
            let wave = std::f64::consts::PI * (mean * mean + swing * swing / 2.0);
            let found = sized("wave-by-numbers", rules::wave_by_numbers);
            assert!((found / wave - 1.0).abs() < 2e-3, "{points} {depth}: {found} {wave}");
            let gear = sized("gear-by-numbers", rules::gear_by_numbers);
            let (inner, outer) = (star.min(wave), std::f64::consts::PI * 400.0);
            assert!(gear < outer && gear > 0.5 * inner, "{points} {depth}: {gear}");
        }
    }

    #[test]
    fn turning_mirroring_and_stretching_keep_the_area_they_should() {
        let gull = emblem("gull").unwrap();
        let area = |setting| gull.set(setting, Tolerance::Fine).area();
        let plain = area(PLAIN);
        assert!((area(Setting { turn: 33.0, mirrored: true, ..PLAIN }) / plain - 1.0).abs() < 2e-3);
        assert!((area(Setting { stretch: 1.5, ..PLAIN }) / plain - 1.5).abs() < 4e-3);
        assert!((area(Setting { width: 40.0, ..PLAIN }) / plain - 4.0).abs() < 1e-2);
    }
}
