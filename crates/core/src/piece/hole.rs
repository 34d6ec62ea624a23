//! Holes: through or blind, of several shapes.

use super::check::Checker;
use super::element::Fields;
use super::{BothEdges, HolePlace, LetteringPlace, Relief, Repeat, limits};
use crate::units::Length;
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A hole, drilled after everything else.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Hole {
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
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
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

impl Fields for Hole {
    fn check(&self, checker: &mut Checker) {
        checker.length(&limits::HOLE_DIAMETER, self.diameter);
        if let HoleShape::Slot(length) = self.shape {
            checker.length(&limits::SLOT_LENGTH, length);
        }
        if let Some(depth) = self.depth {
            checker.length(&limits::HOLE_DEPTH, depth);
        }
        checker.angle("turn", self.turn);
        self.edges.check("edges", checker);
        self.repeat.check(checker);
        checker.place(self.place.across.distance, self.place.up.distance);
    }

    fn relief(&self) -> Option<Relief> {
        None
    }

    fn place(&self) -> Option<&LetteringPlace> {
        None
    }

    fn place_mut(&mut self) -> Option<&mut LetteringPlace> {
        None
    }

    fn colour(&self) -> Option<(&'static str, Option<&str>)> {
        None
    }

    fn lose_colour(&mut self) {}

    fn root(&self) -> Option<Length> {
        None
    }

    fn repeat(&self) -> Repeat {
        self.repeat
    }

    fn carries(&self, follows: bool) -> bool {
        !follows
    }

    fn shift(&mut self, across: f64, up: f64) -> Result<(), &'static str> {
        self.place.shift(across, up);
        Ok(())
    }

    fn name(&self) -> String {
        "Hole".to_owned()
    }

    fn main_fields(&self) -> Vec<(&'static str, &'static str)> {
        vec![("diameter", "Hole across")]
    }
}
