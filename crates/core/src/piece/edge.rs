use super::check::Checker;
use crate::units::Length;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// How an edge between a wall and a level face is finished.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize, JsonSchema)]
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
        let (name, size) = match self {
            Edge::Square => return,
            Edge::Chamfer(size) => ("chamfer", size),
            Edge::Round(size) => ("round", size),
        };
        checker.range(&format!("{field}.{name}"), &format!("The {name}"), size, 0.05..=50.0);
    }
}

/// The edges at the upper and the lower end of something that goes through.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize, JsonSchema)]
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
