use super::check::Checker;
use super::{Edge, LetteringPlace, Relief, Repeat, Side};
use crate::lettering::{TYPEFACES, typeface};
use crate::units::Length;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// One line of words.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Lettering {
    /// Unique among the elements.
    pub id: String,
    /// Whether it is kept from being moved or taken away by hand.
    pub locked: bool,
    /// Which face it is on.
    pub side: Side,
    /// What it says, at most 1000 characters.
    pub words: String,
    /// The id of a shipped typeface.
    pub face: String,
    /// Height of the capitals, 0.5 to 400 mm.
    pub letter_height: Length,
    /// How it meets the face.
    pub relief: Relief,
    /// How the edges of the letters are finished: the upper ones where they stand up, those at the
    /// face where they are sunk.
    pub edge: Edge,
    /// Where it sits.
    pub place: LetteringPlace,
    /// How often it is there.
    pub repeat: Repeat,
}

impl Lettering {
    pub(super) fn check(&self, checker: &mut Checker) {
        const MOST: usize = 1000;
        let count = self.words.chars().count();
        if count > MOST {
            let message = format!("That is {count} characters; {MOST} are the most for one line.");
            checker.report("words", message);
        }
        if typeface(&self.face).is_none() {
            let known: Vec<_> = TYPEFACES.iter().map(|t| t.id).collect();
            let (face, known) = (&self.face, known.join(", "));
            checker.report("face", format!("There is no typeface “{face}”. There are: {known}."));
        }
        checker.range("letter_height", "The letter height", self.letter_height, 0.5..=400.0);
        self.relief.check(checker);
        self.edge.check("edge", checker);
        self.repeat.check(checker);
        checker.place(
            "The lettering’s distance",
            self.place.across.distance,
            self.place.up.distance,
        );
    }
}
