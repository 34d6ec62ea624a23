#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A face of a blank, by its name.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Hash, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "kebab-case")]
pub enum FaceName {
    /// Of a plate the face that looks up, of a mesh the one that is worked on; of what stands on the bed
    /// the face that looks to whoever stands before it.
    #[default]
    Front,
    /// The face behind the front: of a plate the one that lies on the bed. Everything on it is placed as
    /// it is seen from there, and reads rightly from there.
    Back,
    /// The face that looks up, of what stands on the bed.
    Top,
    /// The end at the left, seen from the front.
    Left,
    /// The end at the right, seen from the front.
    Right,
    /// The face that looks down: of a cap the inside of its top.
    Under,
    /// The outside of something round, unrolled; its middle looks to the front.
    Around,
    /// The inside: of a ring the bore, unrolled, its middle at the back; of a box its floor.
    Inside,
}

impl FaceName {
    /// Its name as it stands in the file.
    pub fn word(self) -> &'static str {
        match self {
            FaceName::Front => "front",
            FaceName::Back => "back",
            FaceName::Top => "top",
            FaceName::Left => "left",
            FaceName::Right => "right",
            FaceName::Under => "under",
            FaceName::Around => "around",
            FaceName::Inside => "inside",
        }
    }
}
