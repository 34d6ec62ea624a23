use super::check::Checker;
use super::{Edge, Relief, Side};
use crate::units::Length;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A band that follows the outline of the plate: raised, or sunk as a groove.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Rim {
    /// Unique among the elements.
    pub id: String,
    /// Whether it is kept from being moved or taken away by hand.
    pub locked: bool,
    /// Which face it is on.
    pub side: Side,
    /// From the edge of the plate to the rim, 0 to 250 mm.
    pub inset: Length,
    /// Across the rim, 0.2 to 250 mm.
    pub width: Length,
    /// How it meets the face.
    pub relief: Relief,
    /// Its colour, the id of one of the piece's filaments; nothing for that of the plate.
    pub colour: Option<String>,
    /// How deep it is rooted in what it stands on, if it stands up in a colour of its own, 0 to 100 mm.
    pub root: Length,
    /// How its edges are finished: the upper ones where it stands up, those at the face where it is
    /// sunk.
    pub edge: Edge,
}

impl Rim {
    pub(super) fn check(&self, checker: &mut Checker) {
        checker.range("inset", "The rim’s distance from the edge", self.inset, 0.0..=250.0);
        checker.range("width", "The rim’s width", self.width, 0.2..=250.0);
        self.relief.check(checker);
        checker.range("root", "The depth of the root", self.root, 0.0..=100.0);
        self.edge.check("edge", checker);
    }
}
