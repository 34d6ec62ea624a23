//! Findings that are left as they are, with the reason.

use super::Address;
use super::check::{Checker, cut};
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A finding of preflight that somebody has looked at and leaves as it is.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct SetAside {
    /// Which finding, by its word: 1 to 40 letters.
    pub code: String,
    /// What it concerns.
    #[cfg_attr(test, schemars(with = "String"))]
    pub target: Address,
    /// Why it is left, 1 to 200 characters.
    pub reason: String,
}

/// The most findings that are set aside in one piece.
pub const MOST_SET_ASIDE: usize = 100;

const LONGEST_CODE: usize = 40;
const LONGEST_REASON: usize = 200;

/// Reports what the findings set aside in a piece cannot be.
pub(super) fn check(all: &[SetAside], checker: &mut Checker) {
    if all.len() > MOST_SET_ASIDE {
        let message = format!("At most {MOST_SET_ASIDE} findings can be set aside.");
        checker.report("set_aside", message);
    }
    for (i, one) in all.iter().enumerate().take(MOST_SET_ASIDE) {
        let is_word = |c: char| c.is_ascii_lowercase() || c == '-';
        let is_code = (1..=LONGEST_CODE).contains(&one.code.len()) && one.code.chars().all(is_word);
        if !is_code {
            let message = format!("“{}” is no word of a finding.", cut(&one.code));
            checker.report(&format!("set_aside.{i}.code"), message);
        }
        let letters = one.reason.chars().count();
        if one.reason.trim().is_empty() || letters > LONGEST_REASON {
            let message = format!("Say why in 1 to {LONGEST_REASON} characters.");
            checker.report(&format!("set_aside.{i}.reason"), message);
        }
    }
}
