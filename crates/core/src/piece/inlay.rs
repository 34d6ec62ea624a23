//! Thin layers of another colour in a face or a floor.

use super::check::Checker;
use super::limits;
use crate::units::Length;
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A thin layer of another colour, let into a face or a floor so that the shape stays as it is.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Inlay {
    /// Its colour, the id of one of the piece's filaments.
    pub colour: String,
    /// How deep it goes, 0.05 to 100 mm.
    pub depth: Length,
}

impl Inlay {
    pub(super) fn check(&self, field: &str, checker: &mut Checker) {
        checker.length_at(&format!("{field}.depth"), &limits::INLAY_DEPTH, self.depth);
    }
}
