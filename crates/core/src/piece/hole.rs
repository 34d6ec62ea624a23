use super::HolePlace;
use super::check::Checker;
use crate::units::Length;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A round hole through everything.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Hole {
    /// Unique among the elements.
    pub id: String,
    /// Across the hole, 0.2 to 480 mm.
    pub diameter: Length,
    /// Where its centre lies.
    pub place: HolePlace,
}

impl Hole {
    pub(super) fn check(&self, checker: &mut Checker) {
        checker.range("diameter", "The hole’s diameter", self.diameter, 0.2..=480.0);
        checker.place("The hole’s distance", self.place.across.distance, self.place.up.distance);
    }
}
