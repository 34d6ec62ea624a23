//! How letters are drawn, apart from their face and height.

use crate::units::Length;
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// How letters are drawn, apart from their face and height.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Style {
    /// Room added between letters, as a share of the letter height, −0.3 to 3.
    pub spacing: f64,
    /// Heavier by this much on every side, lighter where negative, −2 to 5 mm. The letters grow or
    /// shrink by it beyond their letter height.
    pub heavier: Length,
    /// Whether everything is set in capitals.
    pub capitals: bool,
    /// Slant to the right in degrees, −45 to 45.
    pub slant: f64,
    /// Expanded (above 1) or condensed, 0.3 to 3.
    pub stretch: f64,
}

impl Default for Style {
    fn default() -> Self {
        Style { spacing: 0.0, heavier: Length::ZERO, capitals: false, slant: 0.0, stretch: 1.0 }
    }
}

/// Where lines of different length meet.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Align {
    /// At their left ends.
    Left,
    /// At their middles.
    #[default]
    Centre,
    /// At their right ends.
    Right,
}

/// How words run along a circle.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Reading {
    /// Clockwise over the top: the feet of the letters look towards the centre.
    #[default]
    Clockwise,
    /// Upright along the bottom: the heads of the letters look towards the centre.
    Upright,
}

/// On which side of the circle the letters of the first line stand.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "kebab-case")]
pub enum CircleSide {
    /// Outside it.
    #[default]
    Outside,
    /// Inside it.
    Inside,
}
