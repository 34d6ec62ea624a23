use super::check::Checker;
use crate::units::Length;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A loop: a ring that stands outside the outline, blended into the plate.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Loop {
    /// Unique among the elements.
    pub id: String,
    /// Where on the outline, in degrees from the centre of the plate: 0 is right, 90 up, 180 left.
    pub angle: f64,
    /// Diameter of its hole, 0.5 to 200 mm.
    pub inside: Length,
    /// Width of the material around the hole, 0.4 to 100 mm.
    pub wall: Length,
    /// Radius of the corners between loop and plate, 0 to 100 mm.
    pub blend: Length,
}

impl Loop {
    pub(super) fn check(&self, checker: &mut Checker) {
        checker.angle("angle", self.angle);
        checker.range("inside", "The loop’s hole", self.inside, 0.5..=200.0);
        checker.range("wall", "The loop’s wall", self.wall, 0.4..=100.0);
        checker.range("blend", "The blend", self.blend, 0.0..=100.0);
    }
}
