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
}

/// All emblems, in the order they are offered.
pub static EMBLEMS: &[EmblemShape] = drawings::ALL;

/// The emblem of this id.
pub fn emblem(id: &str) -> Option<&'static EmblemShape> {
    EMBLEMS.iter().find(|emblem| emblem.id == id)
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
    /// The shape as a region in mm, y up, the centre of its own box on the origin.
    pub fn set(&self, setting: Setting, tolerance: Tolerance) -> Region {
        let (adds, cuts): (Vec<BezPath>, Vec<BezPath>) = match &self.drawing {
            Drawing::Paths { adds, cuts } => (parsed(adds), parsed(cuts)),
            Drawing::Rule(rule) => (vec![rule()], Vec::new()),
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
