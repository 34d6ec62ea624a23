#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// Which side of a component lies on the bed when it is printed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Lying {
    /// The one it stands on as it is worked.
    #[default]
    AsMade,
    /// Its top: it is printed upside down.
    OnTop,
    /// Its front.
    OnFront,
    /// Its back.
    OnBack,
    /// Its left end.
    OnLeft,
    /// Its right end.
    OnRight,
}

impl Lying {
    /// All of them, in the order they are preferred where nothing else tells them apart.
    pub const ALL: [Lying; 6] =
        [Lying::AsMade, Lying::OnTop, Lying::OnBack, Lying::OnFront, Lying::OnLeft, Lying::OnRight];

    /// Its word as it stands in the file.
    pub fn word(self) -> &'static str {
        match self {
            Lying::AsMade => "as-made",
            Lying::OnTop => "on-top",
            Lying::OnFront => "on-front",
            Lying::OnBack => "on-back",
            Lying::OnLeft => "on-left",
            Lying::OnRight => "on-right",
        }
    }

    /// What a component does that lies so: "lies on its top".
    pub fn phrase(self) -> &'static str {
        match self {
            Lying::AsMade => "stands as it is made",
            Lying::OnTop => "lies on its top",
            Lying::OnFront => "lies on its front",
            Lying::OnBack => "lies on its back",
            Lying::OnLeft => "stands on its left end",
            Lying::OnRight => "stands on its right end",
        }
    }

    /// A point or a direction of what stands as it is made, turned: by quarters, so that nothing is
    /// rounded.
    pub fn turned(self, [x, y, z]: [f64; 3]) -> [f64; 3] {
        match self {
            Lying::AsMade => [x, y, z],
            Lying::OnTop => [x, -y, -z],
            Lying::OnFront => [x, -z, y],
            Lying::OnBack => [x, z, -y],
            Lying::OnLeft => [-z, y, x],
            Lying::OnRight => [z, y, -x],
        }
    }
}
