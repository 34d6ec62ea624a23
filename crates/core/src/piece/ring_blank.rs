//! Rings: blanks round a finger or a pipe.

use super::check::Checker;
use super::{Edge, FaceName, Fit, Fits, Sides, limits};
use crate::filament::shipped_palette;
use crate::units::{Length, Unit};
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A ring that goes round a finger, a pipe or a post.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct RingBlank {
    /// What the finger or pipe measures across, 2 to 250 mm.
    pub over: Length,
    /// How much room it has.
    pub fit: Fit,
    /// How thick the ring is, 0.4 to 100 mm.
    pub wall: Length,
    /// How wide the ring is along the finger, 1 to 200 mm.
    pub height: Length,
    /// How the edges inside are finished, so that it does not press.
    pub comfort: Edge,
    /// How the edges outside are finished.
    pub edge: Edge,
    /// Its colour, the id of one of the piece's filaments.
    pub colour: String,
}

impl RingBlank {
    /// Its faces, the outside first.
    pub const FACES: &'static [FaceName] = &[FaceName::Around, FaceName::Inside];

    /// The fields its faces are as wide and as high as.
    pub(super) const SIDES: Sides = [None, Some("height")];

    /// A finger ring of 18 mm, 2 mm thick and 8 mm wide; or 0.7 in (common practice, no source).
    pub fn customary(units: Unit) -> Self {
        RingBlank {
            over: units.pick(18.0, 0.7),
            fit: Fit::Sliding,
            wall: units.pick(2.0, 3.0 / 32.0),
            height: units.pick(8.0, 5.0 / 16.0),
            comfort: Edge::Round(units.pick(0.8, 1.0 / 32.0)),
            edge: Edge::Chamfer(units.pick(0.4, 1.0 / 64.0)),
            colour: shipped_palette().remove(0).id,
        }
    }

    /// The radius of its bore in mm.
    pub fn bore(&self, fits: &Fits) -> f64 {
        (self.over.as_mm() + fits.clearance(self.fit)) / 2.0
    }

    pub(super) fn check(&self, checker: &mut Checker) {
        checker.length(&limits::RING_OVER, self.over);
        self.fit.check("fit", checker);
        checker.length(&limits::RING_WALL, self.wall);
        checker.length(&limits::RING_HEIGHT, self.height);
        self.comfort.check("comfort", checker);
        self.edge.check("edge", checker);
        let (wall, height) = (self.wall.as_mm(), self.height.as_mm());
        /// What is left of its ends between the edges inside and outside.
        const LEAST_END_MM: f64 = 0.1;
        if self.comfort.size() + self.edge.size() > wall - LEAST_END_MM {
            let message = format!(
                "The edges inside and outside would meet at its ends: together they can take {}.",
                checker.at_most(wall - LEAST_END_MM)
            );
            checker.report("comfort", message);
        }
        for (field, edge) in [("comfort", self.comfort), ("edge", self.edge)] {
            if 2.0 * edge.size() > height - LEAST_END_MM {
                let message = format!(
                    "The edges at both ends would meet: {} is the most.",
                    checker.at_most((height - LEAST_END_MM) / 2.0)
                );
                checker.report(field, message);
            }
        }
    }
}
