use super::check::Checker;
use super::{BothEdges, HolePlace};
use crate::units::Length;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A loop: a ring that stands outside the outline, blended into the plate.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Loop {
    /// Unique among the elements.
    pub id: String,
    /// Whether it is kept from being moved or taken away by hand.
    pub locked: bool,
    /// Where on the outline it stands.
    pub at: LoopPlace,
    /// Diameter of its hole, 0.5 to 200 mm.
    pub inside: Length,
    /// Length of the opening along the outline for a ribbon, at least as long as `inside`, up to
    /// 480 mm; nothing for a round one.
    pub ribbon: Option<Length>,
    /// Width of the material around the hole, 0.4 to 100 mm.
    pub wall: Length,
    /// Radius of the corners between loop and plate, 0 to 100 mm.
    pub blend: Length,
    /// A thickness of its own from the foot up, with edges of its own; nothing for that of the
    /// plate.
    pub own: Option<OwnThickness>,
    /// Its colour, the id of one of the piece's filaments; nothing for that of the plate.
    pub colour: Option<String>,
}

/// Where a loop stands.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum LoopPlace {
    /// In this direction from the centre of the plate, in degrees: 0 is right, 90 up, 180 left.
    Angle(f64),
    /// At the point of the outline nearest to this one, square to the outline.
    Point(HolePlace),
}

/// The thickness of a loop that has one of its own.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct OwnThickness {
    /// From the foot up, 0.2 to 100 mm.
    pub thickness: Length,
    /// How its edges are finished.
    pub edges: BothEdges,
}

impl Loop {
    pub(super) fn check(&self, checker: &mut Checker) {
        match self.at {
            LoopPlace::Angle(angle) => checker.angle("at.angle", angle),
            LoopPlace::Point(place) => {
                for (axis, distance) in
                    [("across", place.across.distance), ("up", place.up.distance)]
                {
                    let field = format!("at.point.{axis}.distance");
                    checker.range(&field, "The loop’s distance", distance, -500.0..=500.0);
                }
            }
        }
        checker.range("inside", "The loop’s hole", self.inside, 0.5..=200.0);
        if let Some(length) = self.ribbon {
            checker.range("ribbon", "The opening’s length", length, 0.5..=480.0);
        }
        checker.range("wall", "The loop’s wall", self.wall, 0.4..=100.0);
        checker.range("blend", "The blend", self.blend, 0.0..=100.0);
        if let Some(own) = self.own {
            let what = "The loop’s thickness";
            checker.range("own.thickness", what, own.thickness, 0.2..=100.0);
            own.edges.check("own.edges", checker);
        }
    }
}
