use super::check::Checker;
use super::{BothEdges, HolePlace, Repeat, Side};
use crate::units::Length;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A hole, drilled after everything else.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Hole {
    /// Unique among the elements.
    pub id: String,
    /// Whether it is kept from being moved or taken away by hand.
    pub locked: bool,
    /// Which face it is drilled from; its places and edges are seen from there.
    pub side: Side,
    /// Its shape.
    pub shape: HoleShape,
    /// Across the hole (a hexagon across flats), 0.2 to 480 mm.
    pub diameter: Length,
    /// Turn in degrees, counter-clockwise.
    pub turn: f64,
    /// How deep it is from the face, 0.05 to 100 mm; nothing for through.
    pub depth: Option<Length>,
    /// How its edges at the face it is drilled from and at the other are finished. A chamfer is a countersink.
    pub edges: BothEdges,
    /// Where its centre lies.
    pub place: HolePlace,
    /// How often it is there.
    pub repeat: Repeat,
}

/// The shape of a hole.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum HoleShape {
    /// Round.
    Round,
    /// A slot this long over all, at least as long as it is wide.
    Slot(Length),
    /// A hexagon, two flats level.
    Hexagon,
    /// A square.
    Square,
    /// Round, with a slot half as wide and as long as the hole running up from it.
    KeyHole,
}

impl Hole {
    pub(super) fn check(&self, checker: &mut Checker) {
        checker.range("diameter", "The hole’s diameter", self.diameter, 0.2..=480.0);
        if let HoleShape::Slot(length) = self.shape {
            checker.range("shape.slot", "The slot’s length", length, 0.2..=480.0);
        }
        if let Some(depth) = self.depth {
            checker.range("depth", "The hole’s depth", depth, 0.05..=100.0);
        }
        checker.angle("turn", self.turn);
        self.edges.check("edges", checker);
        self.repeat.check(checker);
        checker.place("The hole’s distance", self.place.across.distance, self.place.up.distance);
    }
}
