use super::Relief;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// Which face of the plate an element is on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Side {
    /// The face that looks up.
    #[default]
    Front,
    /// The face that lies on the bed. Everything on it is placed as it is seen when the piece is
    /// turned over about its upright centre line, and reads rightly from there.
    Back,
}

impl Side {
    /// The relief a new element gets: raised by a height in mm on the front; on the back, which
    /// lies on the bed, sunk by as much, but no deeper than a third of the thickness.
    pub(super) fn customary(self, height: f64, thickness: f64) -> Relief {
        match self {
            Side::Front => Relief::raised(height),
            Side::Back => {
                let deepest = (thickness / 3.0 * 10.0).floor() / 10.0;
                Relief::recessed(height.min(deepest.max(0.1)))
            }
        }
    }
}
