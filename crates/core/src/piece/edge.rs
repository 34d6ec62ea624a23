//! How edges are finished.

use super::check::Checker;
use super::limits;
use crate::units::Length;
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// How an edge between a wall and a level face is finished.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum Edge {
    /// Left square.
    #[default]
    Square,
    /// Cut off at 45°, by this much, 0.05 to 50 mm.
    Chamfer(Length),
    /// Rounded by this radius, 0.05 to 50 mm.
    Round(Length),
}

impl Edge {
    /// The size of the treatment in mm.
    pub fn size(self) -> f64 {
        match self {
            Edge::Square => 0.0,
            Edge::Chamfer(size) | Edge::Round(size) => size.as_mm(),
        }
    }

    pub(super) fn check(self, field: &str, checker: &mut Checker) {
        let (limit, size) = match self {
            Edge::Square => return,
            Edge::Chamfer(size) => (&limits::CHAMFER, size),
            Edge::Round(size) => (&limits::ROUND, size),
        };
        checker.length_at(&format!("{field}.{}", limit.field), limit, size);
    }
}

/// The edges at the upper and the lower end of something that goes through.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct BothEdges {
    /// At the face.
    pub top: Edge,
    /// At the foot.
    pub bottom: Edge,
}

impl BothEdges {
    pub(super) fn check(self, field: &str, checker: &mut Checker) {
        self.top.check(&format!("{field}.top"), checker);
        self.bottom.check(&format!("{field}.bottom"), checker);
    }
}
