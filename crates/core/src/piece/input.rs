use super::check::{Checker, cut};
use super::{Address, Piece};
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A text a piece is personalised with.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Input {
    /// What stands in braces for it: letters, figures, `-` and `_`, at most 40.
    pub name: String,
    /// What it says, at most 200 characters.
    pub value: String,
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

impl Piece {
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
    fn spans<'a>(&'a self, words: &'a str) -> impl Iterator<Item = &'a str> {
        let mut rest = words;
        std::iter::from_fn(move || {
            if rest.is_empty() {
                return None;
            }
            let named = rest.strip_prefix('{').and_then(|after| {
                let (name, beyond) = after.split_once('}')?;
                let input = self.inputs.iter().find(|input| input.name == name)?;
                Some((input.value.as_str(), beyond))
            });
            let (span, beyond) = named.unwrap_or_else(|| {
                let next = rest.char_indices().skip(1).find(|(_, c)| *c == '{');
                rest.split_at(next.map_or(rest.len(), |(at, _)| at))
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
        for (i, Input { name, value }) in self.inputs.iter().take(MOST_INPUTS).enumerate() {
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
        let input = |name: &str, value: &str| Input { name: name.into(), value: value.into() };
        piece.inputs = vec![input("name", "Łucja"), input("berth", "7")];
        assert_eq!(piece.filled_in("{name} · {berth}{x} {"), "Łucja · 7{x} {");
        assert_eq!(piece.length_of("{name} · {berth}{x} {"), 14);
        assert_eq!(piece.unknown_inputs("{name} {quay} {quay} { } {no, not}"), ["quay"]);
    }

    /// Inputs that name each other would else double with every one of them.
    #[test]
    fn what_an_input_says_is_not_filled_in_again() {
        let mut piece = Piece::new("Fob", Unit::Millimetre);
        piece.inputs = (0..20)
            .map(|i| Input { name: format!("i{i}"), value: format!("{{i{}}}", i + 1).repeat(40) })
            .collect();
        assert_eq!(
            piece.filled_in("{i0}{{i1}"),
            format!("{}{{{}", "{i1}".repeat(40), "{i2}".repeat(40))
        );
    }

    #[test]
    fn names_are_plain_and_not_twice_the_same() {
        let mut piece = Piece::new("Fob", Unit::Millimetre);
        for (names, refused) in [(["a", "b"], 0), (["a", "a"], 1), (["", "a b"], 2)] {
            piece.inputs =
                names.map(|name| Input { name: name.into(), value: String::new() }).to_vec();
            assert_eq!(piece.problems().len(), refused, "{names:?}");
        }
    }
}
