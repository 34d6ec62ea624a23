use super::Edge;
use super::check::Checker;
use crate::units::Length;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A sunk field that follows the outline of the plate. What is raised within it stands on its
/// floor.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Recess {
    /// Unique among the elements.
    pub id: String,
    /// From the edge of the plate to the field, 0 to 250 mm.
    pub inset: Length,
    /// How deep it is.
    pub depth: Depth,
    /// How the edge at the face is finished.
    pub edge: Edge,
}

/// How deep a recess is.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum Depth {
    /// This deep, 0.05 to 100 mm.
    By(Length),
    /// This share of the thickness, 0.05 to 0.95.
    Fraction(f64),
    /// So deep that a floor this thick is left, 0.05 to 100 mm.
    Floor(Length),
}

impl Depth {
    /// The height of the floor in mm above the bed, for a plate of this thickness; negative where
    /// nothing is left.
    pub fn floor(self, thickness: f64) -> f64 {
        match self {
            Depth::By(depth) => thickness - depth.as_mm(),
            Depth::Fraction(fraction) => thickness * (1.0 - fraction),
            Depth::Floor(floor) => floor.as_mm(),
        }
    }
}

impl Recess {
    pub(super) fn check(&self, checker: &mut Checker) {
        checker.range("inset", "The field’s distance from the edge", self.inset, 0.0..=250.0);
        match self.depth {
            Depth::By(depth) => checker.range("depth.by", "The depth", depth, 0.05..=100.0),
            Depth::Fraction(fraction) => {
                checker.share(
                    "depth.fraction",
                    "The share of the thickness",
                    fraction,
                    0.05..=0.95,
                );
            }
            Depth::Floor(floor) => checker.range("depth.floor", "The floor", floor, 0.05..=100.0),
        }
        self.edge.check("edge", checker);
    }
}
