use crate::units::Length;
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// How two sizes that go into each other differ.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum Fit {
    /// Goes in with a mallet and stays.
    Press,
    /// Goes in by hand and stays.
    Snug,
    /// Goes in and out by itself.
    Sliding,
    /// Has room all round.
    Loose,
    /// So much larger in all, 0 to 10 mm.
    Clearance(Length),
}

impl Fit {
    /// The four classes with the total difference of the two sizes in mm (common practice, no source).
    pub const CLASSES: [(Fit, f64); 4] =
        [(Fit::Press, 0.0), (Fit::Snug, 0.1), (Fit::Sliding, 0.2), (Fit::Loose, 0.4)];

    /// The total difference of the two sizes in mm: half of it lies on either side.
    pub fn clearance(self) -> f64 {
        match self {
            Fit::Clearance(clearance) => clearance.as_mm(),
            class => Fit::CLASSES.iter().find(|(one, _)| *one == class).map_or(0.0, |(_, mm)| *mm),
        }
    }
}
