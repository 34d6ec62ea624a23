//! Blocks that stand on the bed.

use super::check::Checker;
use super::{Edge, FaceName, Sides, limits};
use crate::filament::shipped_palette;
use crate::units::{Length, Unit};
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A block that stands on the bed: a foot, a stand, a brick. Its front can lean back.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Block {
    /// From left to right, 1 to 500 mm.
    pub width: Length,
    /// From front to back, at the bed, 1 to 500 mm.
    pub depth: Length,
    /// From the bed to its top, 1 to 500 mm.
    pub height: Length,
    /// How far the front leans back from upright, 0 to 60 degrees.
    pub lean: f64,
    /// How the long edges at the top are finished.
    pub top: Edge,
    /// How the long edges at the bed are finished.
    pub bottom: Edge,
    /// How the edges round its two ends are finished.
    pub ends: Edge,
    /// Its colour, the id of one of the piece's filaments.
    pub colour: String,
}

impl Block {
    /// Its faces, the one that looks up first.
    pub const FACES: &'static [FaceName] =
        &[FaceName::Top, FaceName::Front, FaceName::Back, FaceName::Left, FaceName::Right];

    /// The fields its faces are as wide and as high as.
    pub(super) fn sides_of(face: FaceName) -> Sides {
        match face {
            FaceName::Top => [Some("width"), Some("depth")],
            FaceName::Left | FaceName::Right => [Some("depth"), Some("height")],
            _ => [Some("width"), Some("height")],
        }
    }

    /// A foot for a desk nameplate: 100 × 30 × 18 mm with rounds of 2 mm, or 4 × 1 1/4 × 3/4 in (common
    /// practice, no source).
    pub fn customary(units: Unit) -> Self {
        Block {
            width: units.pick(100.0, 4.0),
            depth: units.pick(30.0, 1.25),
            height: units.pick(18.0, 0.75),
            lean: 0.0,
            top: Edge::Round(units.pick(2.0, 1.0 / 16.0)),
            bottom: Edge::Square,
            ends: Edge::Chamfer(units.pick(0.5, 1.0 / 64.0)),
            colour: shipped_palette().remove(0).id,
        }
    }

    /// How far back the front comes at the top, in mm.
    pub fn set_back(&self) -> f64 {
        self.height.as_mm() * self.lean.to_radians().tan()
    }

    pub(super) fn check(&self, checker: &mut Checker) {
        checker.length(&limits::BLOCK_WIDTH, self.width);
        checker.length(&limits::BLOCK_DEPTH, self.depth);
        checker.length(&limits::BLOCK_HEIGHT, self.height);
        checker.number(&limits::BLOCK_LEAN, self.lean);
        for (field, edge) in [("top", self.top), ("bottom", self.bottom), ("ends", self.ends)] {
            edge.check(field, checker);
        }
        const LEAST_TOP_MM: f64 = 0.5;
        if self.set_back() > self.depth.as_mm() - LEAST_TOP_MM {
            let most = ((self.depth.as_mm() - LEAST_TOP_MM) / self.height.as_mm()).atan();
            let most = (most.to_degrees() * 10.0).floor() / 10.0;
            let message = format!(
                "Leaning so far the front would meet the back before it is at the top: at this depth and \
                 height {most}° are the most."
            );
            checker.report("lean", message);
        }
    }
}
