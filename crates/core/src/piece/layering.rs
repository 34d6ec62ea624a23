//! The layers a piece is going to be sliced into.

use super::check::Checker;
use super::limits;
use crate::units::Length;
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// How the piece is going to be sliced, for changes of filament with one nozzle.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Layering {
    /// Height of a layer, 0.02 to 2 mm.
    pub height: Length,
    /// Height of the first layer, 0.02 to 2 mm.
    pub first: Length,
    /// How many layers above its face a colour starts, so that the first layer of it is not spoilt
    /// by the filament before: 0, 1 or 2.
    pub start: u32,
}

impl Default for Layering {
    /// 0.2 mm throughout, each colour from its face on (common practice, no source).
    fn default() -> Self {
        Layering { height: Length::mm(0.2), first: Length::mm(0.2), start: 0 }
    }
}

impl Layering {
    pub(super) fn check(&self, checker: &mut Checker) {
        checker.length(&limits::LAYER, self.height);
        checker.length(&limits::FIRST_LAYER, self.first);
        checker.count(&limits::LAYER_START, self.start);
    }
}
