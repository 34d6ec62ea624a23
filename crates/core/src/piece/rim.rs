use super::Edge;
use super::check::Checker;
use crate::units::Length;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A raised band that follows the outline of the plate.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Rim {
    /// Unique among the elements.
    pub id: String,
    /// From the edge of the plate to the rim, 0 to 250 mm.
    pub inset: Length,
    /// Across the rim, 0.2 to 250 mm.
    pub width: Length,
    /// Above the face, 0.05 to 100 mm.
    pub height: Length,
    /// How its upper edges are finished.
    pub edge: Edge,
}

impl Rim {
    pub(super) fn check(&self, checker: &mut Checker) {
        checker.range("inset", "The rim’s distance from the edge", self.inset, 0.0..=250.0);
        checker.range("width", "The rim’s width", self.width, 0.2..=250.0);
        checker.range("height", "The rim’s height", self.height, 0.05..=100.0);
        self.edge.check("edge", checker);
    }
}
