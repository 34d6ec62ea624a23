//! Plates that are as large as what stands on them asks for.

use super::check::Checker;
use super::{Outline, limits};
use crate::units::{Length, format_length};
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// Which of a plate's sizes grow.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Grows {
    /// From left to right; the plate's width is then the least.
    pub width: Option<Growth>,
    /// From bottom to top; the plate's height is then the least.
    pub height: Option<Growth>,
}

/// How far a size grows.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Growth {
    /// The most it grows to, 1 to 500 mm.
    pub most: Length,
    /// In steps of so much from the least on, 0 to 100 mm; 0 for just as far as is asked for.
    pub step: Length,
}

impl Grows {
    /// Whether any grows.
    pub fn any(&self) -> bool {
        self.width.is_some() || self.height.is_some()
    }

    pub(super) fn check(&self, least: [Length; 2], outline: &Outline, checker: &mut Checker) {
        let sizes =
            [("width", "width", self.width, least[0]), ("height", "height", self.height, least[1])];
        for (field, what, growth, least) in sizes {
            let Some(growth) = growth else { continue };
            checker.length_at(&format!("grows.{field}.most"), &limits::GROWS_MOST, growth.most);
            checker.length_at(&format!("grows.{field}.step"), &limits::GROWS_STEP, growth.step);
            if growth.most < least {
                let [least, most] =
                    [least, growth.most].map(|one| format_length(one, checker.units()));
                let message = format!(
                    "The {what} is {least} at the least and {most} at the most. Make the least smaller, or the \
                     most larger."
                );
                checker.report(&format!("grows.{field}.most"), message);
            }
        }
        if self.any() && outline.is_given_by_one_figure() {
            let message = "A polygon that is given by one figure does not grow. Stretch it to width and height, or \
                           let them be as they are.";
            checker.report("grows", message.to_owned());
        }
        if self.any() && matches!(outline, Outline::Contour(_)) {
            let message = "A contour follows what is on it by itself; its room does not grow.";
            checker.report("grows", message.to_owned());
        }
    }
}
