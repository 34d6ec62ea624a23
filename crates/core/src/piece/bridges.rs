//! Bridges in what is cut through, and ties of what stands apart.

use super::check::{Checker, cut};
use super::limits::Limit;
use super::{Address, limits};
use crate::units::Length;
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// More bridges of one element are not put by hand.
const MOST_BY_HAND: usize = 200;

/// What holds the inside of letters and shapes that are cut through, and what stands on the bed without touching
/// the rest.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Bridges {
    /// How wide each is, 0.2 to 20 mm.
    pub width: Length,
    /// Which way they run, seen from a letter, or from the shape as it is turned.
    pub run: BridgeRun,
    /// Whether those of one line of words lie at one height of the letters; upright ones do not.
    pub in_line: bool,
    /// How many hold each part that would fall out.
    pub each: BridgeCount,
    /// How high they are, from the side the face does not look to, 0.05 to 100 mm; nothing for as high as what is
    /// cut.
    pub height: Option<Length>,
    /// Those that were put by hand, at most 200. What they do not hold is held as the rest says.
    pub by_hand: Vec<BridgeByHand>,
}

/// Which way bridges run, where the way is not much longer than another.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum BridgeRun {
    /// From foot to head.
    Upright,
    /// From side to side.
    Across,
    /// At an angle in degrees, counter-clockwise from across.
    Angle(f64),
}

/// How many bridges hold each part.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "kebab-case")]
pub enum BridgeCount {
    /// One where that is strong enough, two otherwise.
    AsNeeded,
    /// One.
    One,
    /// Two.
    Two,
}

/// A bridge that was put by hand: it goes with its letter, as long as that is there.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct BridgeByHand {
    /// Which line of the words, from 0; of a shape 0.
    pub line: u32,
    /// Which letter of it, from 0, as they stand from left to right; of a shape 0.
    pub letter: u32,
    /// The character the letter is; without that it is not there. Empty for a shape.
    pub is: String,
    /// How far across the letter or shape, as a share of its width, -5 to 6.
    pub across: f64,
    /// How far up, as a share of the height of capitals or of the shape, -5 to 6.
    pub up: f64,
    /// The direction it runs in, in degrees counter-clockwise from across.
    pub turn: f64,
}

impl BridgeRun {
    /// The angle from across, in degrees counter-clockwise.
    pub fn degrees(self) -> f64 {
        match self {
            BridgeRun::Upright => 90.0,
            BridgeRun::Across => 0.0,
            BridgeRun::Angle(degrees) => degrees,
        }
    }
}

impl Default for Bridges {
    /// Upright ones of 1 mm (common practice, no source), as many as are needed.
    fn default() -> Self {
        Bridges {
            width: Length::mm(1.0),
            run: BridgeRun::Upright,
            in_line: false,
            each: BridgeCount::AsNeeded,
            height: None,
            by_hand: Vec::new(),
        }
    }
}

impl Bridges {
    /// How high they are, in mm, where they are not as high as what is cut.
    pub fn height(&self) -> Option<f64> {
        self.height.map(Length::as_mm)
    }

    /// What it cannot have; `bridges` is the field it stands in.
    pub(super) fn check(&self, checker: &mut Checker) {
        checker.length(&limits::BRIDGE_WIDTH, self.width);
        if let BridgeRun::Angle(degrees) = self.run {
            checker.angle("bridges.run.angle", degrees);
        }
        if let Some(height) = self.height {
            checker.length(&limits::BRIDGE_HEIGHT, height);
        }
        BridgeByHand::check_all(&self.by_hand, "bridges.by_hand", checker);
    }
}

impl BridgeByHand {
    /// The field in which those of an element stand, or those of the outline of a blank.
    pub(crate) fn field_of(target: &Address) -> &'static str {
        match target {
            Address::Blank(_) => "outline.contour.by_hand",
            _ => "bridges.by_hand",
        }
    }

    /// The same as a document has it: within the limits, and in steps that nobody sees.
    pub(crate) fn settled(self) -> Self {
        let within =
            |limit: &Limit, share: f64| (share.clamp(limit.low, limit.high) * 1e4).round() / 1e4;
        BridgeByHand {
            across: within(&limits::BRIDGE_ACROSS, self.across),
            up: within(&limits::BRIDGE_UP, self.up),
            // A strip is the same from either end.
            turn: ((self.turn * 10.0).round() / 10.0).rem_euclid(180.0),
            ..self
        }
    }

    /// What some in a field cannot have.
    pub(super) fn check_all(all: &[BridgeByHand], field: &str, checker: &mut Checker) {
        let count = all.len();
        if count > MOST_BY_HAND {
            let message =
                format!("There are {count} bridges put by hand; there can be {MOST_BY_HAND}.");
            checker.report(field, message);
        }
        for (i, bridge) in all.iter().take(MOST_BY_HAND).enumerate() {
            let at = |name: &str| format!("{field}.{i}.{name}");
            if bridge.is.chars().count() > 1 {
                let message = format!("“{}” is more than one character.", cut(&bridge.is));
                checker.report(&at("is"), message);
            }
            checker.number_at(&at("across"), &limits::BRIDGE_ACROSS, bridge.across);
            checker.number_at(&at("up"), &limits::BRIDGE_UP, bridge.up);
            checker.angle(&at("turn"), bridge.turn);
        }
    }
}
