//! Inputs: texts that words and file names take up, and that may count.

use super::check::{Checker, cut};
use super::{Address, Piece, limits};
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use std::borrow::Cow;

/// A text a piece is personalised with.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Input {
    /// What stands in braces for it: letters, figures, `-` and `_`, at most 40.
    pub name: String,
    /// What it says, at most 200 characters; of a text that counts, what stands before the number.
    pub value: String,
    /// How it counts, where it does: in each copy that is made of the piece it is one further.
    pub counts: Option<Counts>,
}

/// How a text counts.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Counts {
    /// The first number, 0 to 999999.
    pub from: u32,
    /// How many figures it has at the least, 1 to 9; zeros stand before shorter ones.
    pub figures: u32,
}

/// A field that a short form of the piece asks for.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Fronted {
    /// Whose field, as "piece", "component-1/blank" or "component-1/hole-2".
    #[cfg_attr(test, schemars(with = "String"))]
    pub target: Address,
    /// The field of the target, with dots; "inputs" and a number for a text.
    pub field: String,
    /// What the form calls it, at most 60 characters.
    pub label: String,
}

const MOST_INPUTS: usize = 20;
const LONGEST_NAME: usize = 40;
const LONGEST_VALUE: usize = 200;
const LONGEST_LABEL: usize = 60;
const LONGEST_FIELD: usize = 100;

impl Counts {
    /// The most copies that are made of a piece at a time.
    pub const MOST_COPIES: u32 = 1000;
}

impl Input {
    /// A text that does not count.
    pub fn new(name: &str, value: &str) -> Self {
        Input { name: name.to_owned(), value: value.to_owned(), counts: None }
    }

    /// What stands for it, in words and in names of files: of a text that counts, in the first copy.
    pub(crate) fn says(&self) -> Cow<'_, str> {
        match self.counts {
            None => Cow::Borrowed(&self.value),
            Some(Counts { from, figures }) => {
                Cow::Owned(format!("{}{from:0width$}", self.value, width = figures as usize))
            }
        }
    }
}

impl Piece {
    /// Whether any of its texts counts.
    pub fn counts(&self) -> bool {
        self.inputs.iter().any(|input| input.counts.is_some())
    }

    /// The piece as its copy of this number is, 0 being the first: texts that count are so much further.
    pub fn copy_number(&self, number: u32) -> Piece {
        let mut copy = self.clone();
        for counts in copy.inputs.iter_mut().filter_map(|input| input.counts.as_mut()) {
            counts.from = counts.from.saturating_add(number);
        }
        copy
    }

    /// Words with every `{name}` replaced by the input of that name, in one pass: what an input says
    /// is not looked through again. Unknown ones stay as they are.
    pub fn filled_in(&self, words: &str) -> String {
        self.spans(words).collect()
    }

    /// How many characters words have when they are filled in, without making them.
    pub(super) fn length_of(&self, words: &str) -> usize {
        self.spans(words).map(|span| span.chars().count()).sum()
    }

    /// Words cut into what stands as it is and what inputs say.
    fn spans<'a>(&'a self, words: &'a str) -> impl Iterator<Item = Cow<'a, str>> {
        let mut rest = words;
        std::iter::from_fn(move || {
            if rest.is_empty() {
                return None;
            }
            let named = rest.strip_prefix('{').and_then(|after| {
                let (name, beyond) = after.split_once('}')?;
                let input = self.inputs.iter().find(|input| input.name == name)?;
                Some((input.says(), beyond))
            });
            let (span, beyond) = named.unwrap_or_else(|| {
                let next = rest.char_indices().skip(1).find(|(_, c)| *c == '{');
                let (span, beyond) = rest.split_at(next.map_or(rest.len(), |(at, _)| at));
                (Cow::Borrowed(span), beyond)
            });
            rest = beyond;
            Some(span)
        })
    }

    /// The names in braces in some words that the piece has no input for.
    pub fn unknown_inputs(&self, words: &str) -> Vec<String> {
        let mut found = Vec::new();
        let mut rest = words;
        while let Some((_, after)) = rest.split_once('{') {
            let Some((name, beyond)) = after.split_once('}') else { break };
            let is_known = self.inputs.iter().any(|input| input.name == name);
            if is_name(name) && !is_known && !found.contains(&name.to_owned()) {
                found.push(name.to_owned());
            }
            rest = beyond;
        }
        found
    }

    pub(super) fn check_inputs(&self, checker: &mut Checker) {
        if self.inputs.len() > MOST_INPUTS {
            let message = format!("{} inputs; {MOST_INPUTS} are the most.", self.inputs.len());
            checker.report("inputs", message);
        }
        for (i, Input { name, value, counts }) in self.inputs.iter().take(MOST_INPUTS).enumerate() {
            if let Some(counts) = counts {
                checker.count_at(
                    &format!("inputs.{i}.counts.from"),
                    &limits::COUNT_FROM,
                    counts.from,
                );
                let figures = format!("inputs.{i}.counts.figures");
                checker.count_at(&figures, &limits::COUNT_FIGURES, counts.figures);
            }
            if !is_name(name) || self.inputs[..i].iter().any(|other| other.name == *name) {
                let message = format!(
                    "“{}” cannot be the name of an input: it takes 1 to {LONGEST_NAME} letters \
                     and figures, and no two may be alike.",
                    cut(name)
                );
                checker.report(&format!("inputs.{i}.name"), message);
            }
            let count = value.chars().count();
            if count > LONGEST_VALUE {
                let message = format!("That is {count} characters; {LONGEST_VALUE} are the most.");
                checker.report(&format!("inputs.{i}.value"), message);
            }
        }
        if self.fronted.len() > MOST_INPUTS {
            let message =
                format!("{} fields in the form; {MOST_INPUTS} are the most.", self.fronted.len());
            checker.report("fronted", message);
        }
        for (i, fronted) in self.fronted.iter().take(MOST_INPUTS).enumerate() {
            if fronted.field.len() > LONGEST_FIELD {
                let message = format!("A field’s name has at most {LONGEST_FIELD} bytes.");
                checker.report(&format!("fronted.{i}.field"), message);
            }
            if fronted.label.chars().count() > LONGEST_LABEL || fronted.label.trim().is_empty() {
                let message = format!("A label has 1 to {LONGEST_LABEL} characters.");
                checker.report(&format!("fronted.{i}.label"), message);
            }
        }
    }
}

fn is_name(name: &str) -> bool {
    let count = name.chars().count();
    let fits = |c: char| c.is_alphanumeric() || c == '-' || c == '_';
    (1..=LONGEST_NAME).contains(&count) && name.chars().all(fits)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::units::Unit;

    #[test]
    fn braces_take_the_input_of_their_name() {
        let mut piece = Piece::new("Fob", Unit::Millimetre);
        piece.inputs = vec![Input::new("name", "Łucja"), Input::new("berth", "7")];
        assert_eq!(piece.filled_in("{name} · {berth}{x} {"), "Łucja · 7{x} {");
        assert_eq!(piece.length_of("{name} · {berth}{x} {"), 14);
        assert_eq!(piece.unknown_inputs("{name} {quay} {quay} { } {no, not}"), ["quay"]);
    }

    /// Inputs that name each other would else double with every one of them.
    #[test]
    fn what_an_input_says_is_not_filled_in_again() {
        let mut piece = Piece::new("Fob", Unit::Millimetre);
        piece.inputs = (0..20)
            .map(|i| Input::new(&format!("i{i}"), &format!("{{i{}}}", i + 1).repeat(40)))
            .collect();
        assert_eq!(
            piece.filled_in("{i0}{{i1}"),
            format!("{}{{{}", "{i1}".repeat(40), "{i2}".repeat(40))
        );
    }

    #[test]
    fn a_text_that_counts_is_one_further_in_each_copy() {
        let mut piece = Piece::new("Token", Unit::Millimetre);
        let counts = Some(Counts { from: 8, figures: 3 });
        piece.inputs =
            vec![Input { counts, ..Input::new("token", "K-") }, Input::new("quay", "Øst")];
        assert_eq!(piece.filled_in("{quay} {token}"), "Øst K-008");
        assert_eq!(piece.length_of("{token}"), 5);
        let said: Vec<String> =
            [0, 1, 2, 999].map(|i| piece.copy_number(i).filled_in("{token}")).to_vec();
        assert_eq!(said, ["K-008", "K-009", "K-010", "K-1007"]);
        assert!(piece.copy_number(5).problems().is_empty());
        piece.inputs[0].counts = Some(Counts { from: 1_000_000, figures: 10 });
        assert_eq!(piece.problems().len(), 2);
    }

    #[test]
    fn names_are_plain_and_not_twice_the_same() {
        let mut piece = Piece::new("Fob", Unit::Millimetre);
        for (names, refused) in [(["a", "b"], 0), (["a", "a"], 1), (["", "a b"], 2)] {
            piece.inputs = names.map(|name| Input::new(name, "")).to_vec();
            assert_eq!(piece.problems().len(), refused, "{names:?}");
        }
    }
}
