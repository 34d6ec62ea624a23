//! Rims: what follows the edge of a face.

use super::check::Checker;
use super::element::{FOLLOWS_OUTLINE, Fields};
use super::{Edge, LetteringPlace, Relief, Repeat, limits};
use crate::units::Length;
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A band that follows the outline of the plate: raised, or sunk as a groove.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Rim {
    /// From the edge of the plate to the rim, 0 to 250 mm.
    pub inset: Length,
    /// Across the rim, 0.2 to 250 mm.
    pub width: Length,
    /// How it meets the face.
    pub relief: Relief,
    /// Its colour, the id of one of the piece's filaments; nothing for that of the plate.
    pub colour: Option<String>,
    /// How deep it is rooted in what it stands on, if it stands up in a colour of its own, 0 to 100 mm; of something
    /// sunk, how deep its floor has that colour, where 0 is 0.6 mm.
    pub root: Length,
    /// How its edges are finished: the upper ones where it stands up, those at the face where it is
    /// sunk.
    pub edge: Edge,
}

impl Fields for Rim {
    fn check(&self, checker: &mut Checker) {
        checker.length(&limits::RIM_INSET, self.inset);
        checker.length(&limits::RIM_WIDTH, self.width);
        self.relief.check(checker);
        checker.length(&limits::ROOT, self.root);
        self.edge.check("edge", checker);
    }

    fn relief(&self) -> Option<Relief> {
        Some(self.relief)
    }

    fn place(&self) -> Option<&LetteringPlace> {
        None
    }

    fn place_mut(&mut self) -> Option<&mut LetteringPlace> {
        None
    }

    fn colour(&self) -> Option<(&'static str, Option<&str>)> {
        Some(("colour", self.colour.as_deref()))
    }

    fn lose_colour(&mut self) {
        self.colour = None;
    }

    fn root(&self) -> Option<Length> {
        Some(self.root)
    }

    fn repeat(&self) -> Repeat {
        Repeat::Once
    }

    fn carries(&self, _: bool) -> bool {
        false
    }

    fn nudge(&mut self, mm: f64) {
        self.inset = Length::mm(self.inset.as_mm() + mm);
    }

    fn shift(&mut self, _: f64, _: f64) -> Result<(), &'static str> {
        Err(FOLLOWS_OUTLINE)
    }

    fn name(&self) -> String {
        "Rim".to_owned()
    }

    fn main_fields(&self) -> Vec<(&'static str, &'static str)> {
        vec![("width", "Rim wide")]
    }
}
