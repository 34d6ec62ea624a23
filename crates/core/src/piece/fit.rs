//! How two sizes that go into each other differ.

use super::check::Checker;
use super::limits;
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
    /// The four classes.
    pub const CLASSES: [Fit; 4] = [Fit::Press, Fit::Snug, Fit::Sliding, Fit::Loose];

    pub(super) fn check(self, field: &str, checker: &mut Checker) {
        if let Fit::Clearance(clearance) = self {
            let field = format!("{field}.clearance");
            checker.length_at(&field, &limits::CLEARANCE, clearance);
        }
    }
}

/// What the four classes come to: the total differences of two sizes, half of which lie on either side.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Fits {
    /// In with a mallet, −1 to 10 mm.
    pub press: Length,
    /// In by hand, −1 to 10 mm.
    pub snug: Length,
    /// In and out by itself, −1 to 10 mm.
    pub sliding: Length,
    /// Room all round, −1 to 10 mm.
    pub loose: Length,
}

impl Fits {
    /// What printers mostly do: 0.0, 0.1, 0.2 and 0.4 mm (common practice, no source).
    pub const SHIPPED: Fits = Fits {
        press: Length::ZERO,
        snug: Length::mm(0.1),
        sliding: Length::mm(0.2),
        loose: Length::mm(0.4),
    };

    /// The total difference of two sizes in mm, half of which lies on either side.
    pub fn clearance(&self, fit: Fit) -> f64 {
        let length = match fit {
            Fit::Press => self.press,
            Fit::Snug => self.snug,
            Fit::Sliding => self.sliding,
            Fit::Loose => self.loose,
            Fit::Clearance(clearance) => clearance,
        };
        length.as_mm()
    }

    /// The classes with the fields they stand in.
    pub(super) fn named(&self) -> [(&'static str, Length); 4] {
        [
            ("press", self.press),
            ("snug", self.snug),
            ("sliding", self.sliding),
            ("loose", self.loose),
        ]
    }
}
