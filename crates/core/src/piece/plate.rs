use super::check::Checker;
use crate::units::Length;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A flat rectangular plate with rounded corners. Its face looks up, its foot lies on the bed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Plate {
    /// From left to right, 1 to 500 mm.
    pub width: Length,
    /// From bottom to top of the face, 1 to 500 mm.
    pub height: Length,
    /// From the bed to the face, 0.2 to 100 mm.
    pub thickness: Length,
    /// Radius of all four corners; 0 leaves them square. At most half the shorter side is used.
    pub corner_radius: Length,
}

impl Default for Plate {
    /// 72 × 24 × 3 mm with 3 mm corners: a customary key fob (common practice, no source).
    fn default() -> Self {
        Plate {
            width: Length::mm(72.0),
            height: Length::mm(24.0),
            thickness: Length::mm(3.0),
            corner_radius: Length::mm(3.0),
        }
    }
}

impl Plate {
    /// The largest radius the corners can have, in mm: half the shorter side.
    pub fn largest_radius(&self) -> f64 {
        self.width.as_mm().min(self.height.as_mm()) / 2.0
    }

    pub(super) fn check(&self, checker: &mut Checker) {
        checker.range("width", "The plate’s width", self.width, 1.0..=500.0);
        checker.range("height", "The plate’s height", self.height, 1.0..=500.0);
        checker.range("thickness", "The plate’s thickness", self.thickness, 0.2..=100.0);
        checker.range("corner_radius", "The corner radius", self.corner_radius, 0.0..=250.0);
    }
}
