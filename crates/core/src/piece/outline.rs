//! Outlines of plates and of fields.

use super::BridgeByHand;
use super::check::Checker;
use super::emblem::own_shape_problem;
use super::limits;
use crate::units::Length;
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// The outline of a plate. All are given by the plate's overall width and height.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum Outline {
    /// A rectangle, each corner treated on its own.
    Rectangle(Corners),
    /// An ellipse; a circle where width and height are equal.
    Ellipse,
    /// A rectangle with half-round ends on its shorter sides.
    Stadium,
    /// A polygon: regular and as large as one figure says, or stretched to the overall size.
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
    /// A shape of one's own, stretched to the overall size.
    Drawn(DrawnOutline),
    /// The contour of the lettering and emblems on the front. The plate's width and height are then
    /// the room they are placed in.
    Contour(Contour),
}

/// The four corners of a rectangle.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
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
    /// Radius of every corner that is left, those at the ends of a chamfer among them, 0 to 250 mm; as much
    /// as there is room for is used.
    #[serde(default)]
    pub rounding: Length,
}

impl Corners {
    /// All four alike.
    pub fn all(corner: Corner) -> Self {
        Corners {
            top_left: corner,
            top_right: corner,
            bottom_right: corner,
            bottom_left: corner,
            rounding: Length::ZERO,
        }
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
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
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
    /// Its kind as it stands in the file.
    pub fn word(self) -> &'static str {
        match self {
            Corner::Square => "square",
            Corner::Round(_) => "round",
            Corner::Chamfer(_) => "chamfer",
            Corner::Scoop(_) => "scoop",
        }
    }

    /// The size of the treatment in mm.
    pub fn size(self) -> f64 {
        match self {
            Corner::Square => 0.0,
            Corner::Round(size) | Corner::Chamfer(size) | Corner::Scoop(size) => size.as_mm(),
        }
    }
}

/// A polygon of equal corners.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Polygon {
    /// Corners, 3 to 12.
    pub sides: u32,
    /// Turn in degrees, counter-clockwise; at 0 a corner points up.
    pub turn: f64,
    /// Radius of the corners, 0 to 250 mm; as much as there is room for is used. Of a regular one flats stay where they
    /// are.
    pub rounding: Length,
    /// The one figure a regular polygon is given by, whatever its width and height are called elsewhere; nothing for one
    /// that is stretched to these.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub regular: Option<PolygonSize>,
}

/// How large a regular polygon is, before its corners are rounded.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum PolygonSize {
    /// From a flat to the flat across from it, or with an odd number of corners to the corner, 1 to 500 mm.
    Flats(Length),
    /// Across the circle its corners lie on, 1 to 500 mm.
    Corners(Length),
    /// A side, 0.2 to 500 mm.
    Side(Length),
}

impl PolygonSize {
    /// The radius in mm of the circle the corners lie on: half of the figure across corners, s / (2 sin π/n) for a side s,
    /// and across flats the two distances from the middle together, r cos π/n to a flat and r to a corner (elementary
    /// geometry).
    pub fn circumradius(self, sides: u32) -> f64 {
        let half_angle = std::f64::consts::PI / f64::from(sides.max(3));
        match self {
            PolygonSize::Corners(across) => across.as_mm() / 2.0,
            PolygonSize::Side(side) => side.as_mm() / (2.0 * half_angle.sin()),
            PolygonSize::Flats(across) if sides.is_multiple_of(2) => {
                across.as_mm() / (2.0 * half_angle.cos())
            }
            PolygonSize::Flats(across) => across.as_mm() / (1.0 + half_angle.cos()),
        }
    }

    /// The same in another way: its field, and the figure in mm of a circle of a radius.
    pub fn of_radius(word: &str, radius: f64, sides: u32) -> Option<Self> {
        let half_angle = std::f64::consts::PI / f64::from(sides.max(3));
        let tidy = |mm: f64| Length::mm((mm * 1e4).round() / 1e4);
        Some(match word {
            "corners" => PolygonSize::Corners(tidy(2.0 * radius)),
            "side" => PolygonSize::Side(tidy(2.0 * radius * half_angle.sin())),
            "flats" if sides.is_multiple_of(2) => {
                PolygonSize::Flats(tidy(2.0 * radius * half_angle.cos()))
            }
            "flats" => PolygonSize::Flats(tidy(radius * (1.0 + half_angle.cos()))),
            _ => return None,
        })
    }
}

/// A star.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
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
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Tag {
    /// How far the point reaches out of the rectangle, 0 to 250 mm, at most the width.
    pub point: Length,
    /// Radius of the corners, 0 to 250 mm; as much as there is room for is used.
    pub rounding: Length,
}

/// A scalloped edge.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Scallop {
    /// Waves around the edge, 3 to 48.
    pub waves: u32,
    /// Depth of the waves, 0 to 50 mm, at most a quarter of the shorter side.
    pub depth: Length,
}

/// A ring.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Ring {
    /// Diameter of the opening, 0.2 to 480 mm, less than the shorter side.
    pub inside: Length,
}

/// An outline that was drawn. The shape itself is not in the piece file.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct DrawnOutline {
    /// The id of the shape: "shape-" and the first half of the SHA-256 of its document, in hexadecimal.
    pub shape: String,
}

/// An outline that follows what is on the plate.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Contour {
    /// How far it stands off, 0.2 to 50 mm.
    pub offset: Length,
    /// Crevices narrower than this are closed, 0 to 50 mm.
    pub crevices: Length,
    /// Enclosed gaps smaller than a disc this wide are filled, 0 to 200 mm.
    pub gaps: Length,
    /// How wide the ties are that hold together what lies apart, 0.2 to 20 mm; nothing for none.
    pub ties: Option<Length>,
    /// Ties that were put by hand, at most 200; each lies by shares of the box round everything the outline follows,
    /// its line and letter 0 and its character empty. What they do not hold is tied by itself.
    #[serde(default)]
    pub by_hand: Vec<BridgeByHand>,
}

impl Outline {
    /// The id of its shape, if it is one of one's own.
    pub fn own_shape(&self) -> Option<&str> {
        match self {
            Outline::Drawn(drawn) => Some(&drawn.shape),
            _ => None,
        }
    }

    /// Whether it is as large as a figure of its own says, and not as wide and as high as what it is the outline of.
    pub fn is_given_by_one_figure(&self) -> bool {
        matches!(self, Outline::Polygon(Polygon { regular: Some(_), .. }))
    }

    pub(super) fn check(&self, field: &str, checker: &mut Checker) {
        let at = |name: &str| format!("{field}.{name}");
        let mut length = |name: &str, limit: &limits::Limit, value: Length| {
            checker.length_at(&at(name), limit, value);
        };
        match self {
            Outline::Rectangle(corners) => {
                length("rectangle.rounding", &limits::CORNERS_ROUNDING, corners.rounding);
                for (name, corner) in corners.named() {
                    let size = Length::mm(corner.size());
                    length(&format!("rectangle.{name}"), &limits::CORNER, size);
                }
            }
            Outline::Polygon(polygon) => {
                length("polygon.rounding", &limits::POLYGON_ROUNDING, polygon.rounding);
                checker.count_at(&at("polygon.sides"), &limits::POLYGON_SIDES, polygon.sides);
                checker.angle(&at("polygon.turn"), polygon.turn);
                let mut figure = |name: &str, limit: &limits::Limit, value: Length| {
                    checker.length_at(&at(&format!("polygon.regular.{name}")), limit, value);
                };
                match polygon.regular {
                    Some(PolygonSize::Flats(mm)) => figure("flats", &limits::POLYGON_FLATS, mm),
                    Some(PolygonSize::Corners(mm)) => {
                        figure("corners", &limits::POLYGON_ACROSS, mm)
                    }
                    Some(PolygonSize::Side(mm)) => figure("side", &limits::POLYGON_SIDE, mm),
                    None => {}
                }
            }
            Outline::Star(star) => {
                length("star.rounding", &limits::STAR_ROUNDING, star.rounding);
                checker.count_at(&at("star.points"), &limits::STAR_POINTS, star.points);
                checker.number_at(&at("star.inner"), &limits::STAR_INNER, star.inner);
                checker.angle(&at("star.turn"), star.turn);
            }
            Outline::Tag(tag) => {
                length("tag.point", &limits::TAG_POINT, tag.point);
                length("tag.rounding", &limits::TAG_ROUNDING, tag.rounding);
            }
            Outline::Contour(contour) => {
                length("contour.offset", &limits::CONTOUR_OFFSET, contour.offset);
                length("contour.crevices", &limits::CONTOUR_CREVICES, contour.crevices);
                length("contour.gaps", &limits::CONTOUR_GAPS, contour.gaps);
                if let Some(ties) = contour.ties {
                    length("contour.ties", &limits::CONTOUR_TIES, ties);
                }
                BridgeByHand::check_all(&contour.by_hand, &at("contour.by_hand"), checker);
            }
            Outline::Scallop(scallop) => {
                length("scallop.depth", &limits::SCALLOP_DEPTH, scallop.depth);
                checker.count_at(&at("scallop.waves"), &limits::SCALLOP_WAVES, scallop.waves);
            }
            Outline::Ring(ring) => length("ring.inside", &limits::RING_INSIDE, ring.inside),
            Outline::Drawn(drawn) => {
                let problem = own_shape_problem(&drawn.shape);
                problem.into_iter().for_each(|message| checker.report(&at("drawn.shape"), message));
            }
            Outline::Ellipse
            | Outline::Stadium
            | Outline::Heart
            | Outline::Shield
            | Outline::Arch => {}
        }
    }
}
