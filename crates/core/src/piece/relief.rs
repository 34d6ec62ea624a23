//! How elements meet the face they lie on: raised, recessed, level, through.

use super::check::Checker;
use super::limits;
use crate::units::Length;
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// How an element meets the face it lies on.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum Relief {
    /// Stands on the face, or on the floor of the recess it lies in.
    Raised(Height),
    /// Sunk into the face, or into the floor of the recess it lies in.
    Recessed(Depth),
    /// Inlaid level with the face, this deep, 0.05 to 100 mm. It shows where its colour is another
    /// than that of the plate.
    Flush(Length),
    /// Cut through everything.
    Through,
}

/// How high something raised stands.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum Height {
    /// By this much above what it stands on, 0.05 to 100 mm.
    By(Length),
    /// By this share of the plate's thickness, 0.05 to 5.
    Fraction(f64),
    /// Stands on the bed beside or through the plate, this tall in all, 0.05 to 100 mm: what reaches
    /// beyond the plate, or spans its opening, does not hang in the air.
    FromFoot(Length),
    /// Up to the height of the first raised rim on the same face; without one 1 mm above the face.
    LevelWithRim,
    /// Out of a recess up to the face; on the face itself it has no height.
    LevelWithFace,
}

/// How deep something sunk is.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum Depth {
    /// This deep, 0.05 to 100 mm.
    By(Length),
    /// This share of the material there, 0.05 to 0.95.
    Fraction(f64),
    /// So deep that a floor this thick is left, 0.05 to 100 mm.
    Floor(Length),
}

impl Depth {
    /// The height of the floor in mm, where there is material up to `ground` mm; negative where
    /// nothing is left.
    pub fn floor(self, ground: f64) -> f64 {
        match self {
            Depth::By(depth) => ground - depth.as_mm(),
            Depth::Fraction(fraction) => ground * (1.0 - fraction),
            Depth::Floor(floor) => floor.as_mm(),
        }
    }

    /// The name of the field that holds the figure.
    pub fn word(self) -> &'static str {
        match self {
            Depth::By(_) => "by",
            Depth::Fraction(_) => "fraction",
            Depth::Floor(_) => "floor",
        }
    }

    pub(super) fn check(self, field: &str, checker: &mut Checker) {
        let path = format!("{field}.{}", self.word());
        match self {
            Depth::By(depth) => checker.length_at(&path, &limits::DEPTH_BY, depth),
            Depth::Fraction(share) => checker.number_at(&path, &limits::DEPTH_SHARE, share),
            Depth::Floor(floor) => checker.length_at(&path, &limits::DEPTH_FLOOR, floor),
        }
    }
}

impl Relief {
    /// Raised by a height in mm.
    pub fn raised(mm: f64) -> Self {
        Relief::Raised(Height::By(Length::mm(mm)))
    }

    /// Sunk by a depth in mm.
    pub fn recessed(mm: f64) -> Self {
        Relief::Recessed(Depth::By(Length::mm(mm)))
    }

    /// Whether it stands on the bed beside or through the blank, as openwork does.
    pub fn stands_on_the_bed(self) -> bool {
        matches!(self, Relief::Raised(Height::FromFoot(_)))
    }

    pub(super) fn check(self, checker: &mut Checker) {
        match self {
            Relief::Raised(Height::By(height)) => checker.length(&limits::RAISED_BY, height),
            Relief::Raised(Height::Fraction(share)) => checker.number(&limits::RAISED_SHARE, share),
            Relief::Raised(Height::FromFoot(height)) => checker.length(&limits::FROM_FOOT, height),
            Relief::Recessed(depth) => depth.check("relief.recessed", checker),
            Relief::Flush(depth) => checker.length(&limits::FLUSH, depth),
            Relief::Raised(Height::LevelWithRim | Height::LevelWithFace) | Relief::Through => {}
        }
    }
}
