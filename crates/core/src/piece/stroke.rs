//! How the lines of a shape are drawn out.

use super::check::Checker;
use super::limits;
use crate::units::Length;
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// How the lines of a shape are drawn out: the strokes of scroll work. What a shape has as areas is not
/// changed by it.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Stroke {
    /// How wide they are however large the shape is, 0.2 to 50 mm; nothing for as wide as they were drawn,
    /// wider and narrower with the shape.
    pub width: Option<Length>,
    /// What they end in.
    pub ends: StrokeEnds,
    /// What they look like cut across, where the shape is raised and has nothing but lines.
    pub section: StrokeSection,
}

/// What open lines end in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Default, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "kebab-case")]
pub enum StrokeEnds {
    /// What they were drawn with.
    #[default]
    Drawn,
    /// Half a disc; corners are round as well.
    Round,
    /// Half a square; corners are sharp.
    Square,
}

/// What a stroke looks like cut across. It is as high as its relief says.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum StrokeSection {
    /// A rectangle.
    #[default]
    Flat,
    /// Half an ellipse standing on what the stroke stands on: half round where it is half as high as wide.
    Round,
    /// Narrower towards its top, where it is this wide, 0 to 50 mm.
    Tapered(Length),
}

impl Stroke {
    pub(super) fn check(self, checker: &mut Checker) {
        if let Some(width) = self.width {
            checker.length(&limits::STROKE_WIDTH, width);
        }
        if let StrokeSection::Tapered(top) = self.section {
            checker.length(&limits::STROKE_TOP, top);
        }
    }
}
