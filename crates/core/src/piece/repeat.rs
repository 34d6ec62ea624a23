//! How often an element is there, and where.

use super::check::Checker;
use super::limits;
use crate::units::Length;
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// How often an element is there.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum Repeat {
    /// Once.
    #[default]
    Once,
    /// Several times in a row.
    Row(Row),
    /// Several times around the centre of the plate, turned along, this often in all, 2 to 100.
    Around(u32),
    /// Once more, mirrored across the upright centre line of the plate.
    MirroredAcross,
    /// Once more, mirrored across the level centre line of the plate.
    MirroredUp,
}

/// A row of copies.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Row {
    /// How many in all, 2 to 100.
    pub count: u32,
    /// From one to the next, to the right, −500 to 500 mm.
    pub across: Length,
    /// From one to the next, upwards, −500 to 500 mm.
    pub up: Length,
}

impl Repeat {
    /// How many there are in all.
    pub fn count(self) -> u32 {
        match self {
            Repeat::Once => 1,
            Repeat::Row(row) => row.count,
            Repeat::Around(count) => count,
            Repeat::MirroredAcross | Repeat::MirroredUp => 2,
        }
    }

    pub(super) fn check(self, checker: &mut Checker) {
        match self {
            Repeat::Row(row) => {
                checker.count(&limits::ROW_COUNT, row.count);
                checker.length(&limits::ROW_ACROSS, row.across);
                checker.length(&limits::ROW_UP, row.up);
            }
            Repeat::Around(count) => checker.count(&limits::AROUND, count),
            Repeat::Once | Repeat::MirroredAcross | Repeat::MirroredUp => {}
        }
    }
}
