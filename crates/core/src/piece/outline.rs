use super::check::Checker;
use crate::units::Length;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// The outline of a plate. All are given by the plate's overall width and height.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum Outline {
    /// A rectangle, each corner treated on its own.
    Rectangle(Corners),
    /// An ellipse; a circle where width and height are equal.
    Ellipse,
    /// A rectangle with half-round ends on its shorter sides.
    Stadium,
    /// A regular polygon, stretched to the overall size.
    Polygon(Polygon),
    /// A star, stretched to the overall size.
    Star(Star),
    /// A heart, point down.
    Heart,
    /// A shield, flat on top.
    Shield,
    /// A rectangle whose top is half an ellipse.
    Arch,
    /// A rectangle whose left end runs out into a point.
    Tag(Tag),
    /// An ellipse with a scalloped edge.
    Scallop(Scallop),
    /// An ellipse with a round opening in its middle.
    Ring(Ring),
    /// The contour of the lettering and emblems on the front. The plate's width and height are then
    /// the room they are placed in.
    Contour(Contour),
}

/// The four corners of a rectangle.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Corners {
    /// Top left.
    pub top_left: Corner,
    /// Top right.
    pub top_right: Corner,
    /// Bottom right.
    pub bottom_right: Corner,
    /// Bottom left.
    pub bottom_left: Corner,
}

impl Corners {
    /// All four alike.
    pub fn all(corner: Corner) -> Self {
        Corners { top_left: corner, top_right: corner, bottom_right: corner, bottom_left: corner }
    }

    /// The corners with the names of their fields.
    pub fn named(&self) -> [(&'static str, Corner); 4] {
        [
            ("top_left", self.top_left),
            ("top_right", self.top_right),
            ("bottom_right", self.bottom_right),
            ("bottom_left", self.bottom_left),
        ]
    }
}

/// How a corner of a rectangle is treated. At most half the shorter side is used.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum Corner {
    /// Left sharp.
    Square,
    /// Rounded by this radius.
    Round(Length),
    /// Cut off straight, by this much along both sides.
    Chamfer(Length),
    /// Hollowed out by a quarter circle of this radius about the corner.
    Scoop(Length),
}

impl Corner {
    /// The size of the treatment in mm.
    pub fn size(self) -> f64 {
        match self {
            Corner::Square => 0.0,
            Corner::Round(size) | Corner::Chamfer(size) | Corner::Scoop(size) => size.as_mm(),
        }
    }
}

/// A regular polygon.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Polygon {
    /// Corners, 3 to 12.
    pub sides: u32,
    /// Turn in degrees, counter-clockwise; at 0 a corner points up.
    pub turn: f64,
    /// Radius of the corners, 0 to 250 mm; as much as there is room for is used.
    pub rounding: Length,
}

/// A star.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Star {
    /// Tips, 3 to 24.
    pub points: u32,
    /// Inner radius as a share of the outer, 0.1 to 0.95.
    pub inner: f64,
    /// Turn in degrees, counter-clockwise; at 0 a tip points up.
    pub turn: f64,
    /// Radius of the tips, 0 to 250 mm; as much as there is room for is used.
    pub rounding: Length,
}

/// A pointed end.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Tag {
    /// How far the point reaches out of the rectangle, 0 to 250 mm, at most the width.
    pub point: Length,
    /// Radius of the corners, 0 to 250 mm; as much as there is room for is used.
    pub rounding: Length,
}

/// A scalloped edge.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Scallop {
    /// Waves around the edge, 3 to 48.
    pub waves: u32,
    /// Depth of the waves, 0 to 50 mm, at most a quarter of the shorter side.
    pub depth: Length,
}

/// A ring.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Ring {
    /// Diameter of the opening, 0.2 to 480 mm, less than the shorter side.
    pub inside: Length,
}

/// An outline that follows what is on the plate.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Contour {
    /// How far it stands off, 0.2 to 50 mm.
    pub offset: Length,
    /// Crevices narrower than this are closed, 0 to 50 mm.
    pub crevices: Length,
    /// Enclosed gaps smaller than a disc this wide are filled, 0 to 200 mm.
    pub gaps: Length,
}

impl Outline {
    pub(super) fn check(&self, field: &str, checker: &mut Checker) {
        let at = |name: &str| format!("{field}.{name}");
        match self {
            Outline::Rectangle(corners) => {
                for (name, corner) in corners.named() {
                    let size = Length::mm(corner.size());
                    checker.range(&at(&format!("rectangle.{name}")), "A corner", size, 0.0..=250.0);
                }
            }
            Outline::Polygon(polygon) => {
                checker.count(&at("polygon.sides"), "A polygon’s corners", polygon.sides, 3..=12);
                checker.angle(&at("polygon.turn"), polygon.turn);
                let rounding = polygon.rounding;
                checker.range(&at("polygon.rounding"), "The rounding", rounding, 0.0..=250.0);
            }
            Outline::Star(star) => {
                checker.count(&at("star.points"), "A star’s tips", star.points, 3..=24);
                checker.share(&at("star.inner"), "The inner radius", star.inner, 0.1..=0.95);
                checker.angle(&at("star.turn"), star.turn);
                checker.range(&at("star.rounding"), "The rounding", star.rounding, 0.0..=250.0);
            }
            Outline::Tag(tag) => {
                checker.range(&at("tag.point"), "The point", tag.point, 0.0..=250.0);
                checker.range(&at("tag.rounding"), "The rounding", tag.rounding, 0.0..=250.0);
            }
            Outline::Contour(contour) => {
                checker.range(&at("contour.offset"), "The contour", contour.offset, 0.2..=50.0);
                let crevices = contour.crevices;
                checker.range(&at("contour.crevices"), "The crevices", crevices, 0.0..=50.0);
                checker.range(&at("contour.gaps"), "The gaps", contour.gaps, 0.0..=200.0);
            }
            Outline::Scallop(scallop) => {
                checker.count(&at("scallop.waves"), "The waves", scallop.waves, 3..=48);
                checker.range(
                    &at("scallop.depth"),
                    "The depth of the waves",
                    scallop.depth,
                    0.0..=50.0,
                );
            }
            Outline::Ring(ring) => {
                checker.range(&at("ring.inside"), "The opening", ring.inside, 0.2..=480.0);
            }
            Outline::Ellipse
            | Outline::Stadium
            | Outline::Heart
            | Outline::Shield
            | Outline::Arch => {}
        }
    }
}
