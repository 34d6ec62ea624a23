//! Codes that a scanner reads, as elements.

use super::check::Checker;
use super::element::Fields;
use super::{LetteringPlace, Relief, Repeat, limits};
use crate::units::Length;
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A code that a scanner reads: a QR code, or Code 128.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Code {
    /// What it says: a text, a number or an address, at most 1000 characters. `{name}` stands for the piece's
    /// input of that name.
    pub words: String,
    /// Which code.
    pub symbol: Symbol,
    /// The side of a module, the narrowest bar or the smallest square of it, 0.2 to 20 mm.
    pub module: Length,
    /// How many modules stay free all round, or at both ends of bars, 0 to 20. A QR code wants 4
    /// (ISO/IEC 18004), Code 128 wants 10 (ISO/IEC 15417).
    pub quiet: u32,
    /// Whether what is light is drawn in place of what is dark, with the room that stays free.
    pub inverse: bool,
    /// Turn in degrees, counter-clockwise.
    pub turn: f64,
    /// How it meets the face.
    pub relief: Relief,
    /// Its colour, the id of one of the piece's filaments; nothing for that of the plate.
    pub colour: Option<String>,
    /// How deep it is rooted in what it stands on, if it stands up in a colour of its own, 0 to 100 mm; of something
    /// sunk, how deep its floor has that colour, where 0 is 0.6 mm.
    pub root: Length,
    /// Where it sits, with the room that stays free.
    pub place: LetteringPlace,
    /// How often it is there.
    pub repeat: Repeat,
}

/// The codes there are.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum Symbol {
    /// A QR code, as small as the words let it be.
    Qr(Level),
    /// Code 128, its bars this high, 1 to 200 mm.
    Bars(Length),
}

/// How much of a QR code may be unreadable (ISO/IEC 18004).
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "lowercase")]
pub enum Level {
    /// About 7 %.
    L,
    /// About 15 %.
    M,
    /// About 25 %.
    Q,
    /// About 30 %.
    H,
}

/// The most characters a code is asked to say.
pub(crate) const LONGEST_CODE: usize = 1000;

impl Code {
    /// How many modules must stay free for a scanner to find it.
    pub fn quiet_wanted(&self) -> u32 {
        match self.symbol {
            Symbol::Qr(_) => 4,
            Symbol::Bars(_) => 10,
        }
    }
}

impl Fields for Code {
    fn check(&self, checker: &mut Checker) {
        let count = self.words.chars().count();
        if count > LONGEST_CODE {
            let message =
                format!("That is {count} characters; {LONGEST_CODE} are the most for a code.");
            checker.report("words", message);
        }
        if let Symbol::Bars(height) = self.symbol {
            checker.length(&limits::CODE_BARS, height);
        }
        checker.length(&limits::CODE_MODULE, self.module);
        checker.count(&limits::CODE_QUIET, self.quiet);
        checker.angle("turn", self.turn);
        self.relief.check(checker);
        checker.length(&limits::ROOT, self.root);
        self.repeat.check(checker);
        checker.lettering_place(&self.place);
    }

    fn relief(&self) -> Option<Relief> {
        Some(self.relief)
    }

    fn place(&self) -> Option<&LetteringPlace> {
        Some(&self.place)
    }

    fn place_mut(&mut self) -> Option<&mut LetteringPlace> {
        Some(&mut self.place)
    }

    fn colour(&self) -> Option<(&'static str, Option<&str>)> {
        Some(("colour", self.colour.as_deref()))
    }

    fn lose_colour(&mut self) {
        self.colour = None;
    }

    fn root(&self) -> Option<Length> {
        Some(self.root)
    }

    fn repeat(&self) -> Repeat {
        self.repeat
    }

    fn carries(&self, _: bool) -> bool {
        true
    }

    fn shift(&mut self, across: f64, up: f64) -> Result<(), &'static str> {
        self.place.shift(across, up);
        Ok(())
    }

    fn name(&self) -> String {
        let words = self.words.trim();
        let what = match self.symbol {
            Symbol::Qr(_) => "QR code",
            Symbol::Bars(_) => "Code 128",
        };
        if words.is_empty() { what.to_owned() } else { format!("{what} {words}") }
    }

    fn main_fields(&self) -> Vec<(&'static str, &'static str)> {
        vec![("words", "Code says"), ("module", "Module of the code")]
    }
}
