use super::Relief;
use crate::units::Length;
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A face of a blank, by its name.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Hash, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "kebab-case")]
pub enum FaceName {
    /// The face that looks up; of a mesh the one that is worked on.
    #[default]
    Front,
    /// The face that lies on the bed. Everything on it is placed as it is seen when the component is
    /// turned over about its upright centre line, and reads rightly from there.
    Back,
}

impl FaceName {
    /// The relief a new element gets: raised by a height on the front; on the back, which lies on the
    /// bed, sunk by as much, but no deeper than a third of the thickness in mm.
    pub(crate) fn customary(self, height: Length, thickness: f64) -> Relief {
        let height = height.as_mm();
        match self {
            FaceName::Front => Relief::raised(height),
            FaceName::Back => {
                let deepest = (thickness / 3.0 * 10.0).floor() / 10.0;
                Relief::recessed(height.min(deepest.max(0.1)))
            }
        }
    }
}
