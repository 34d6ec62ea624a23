use super::Piece;
use super::check::Checker;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A text a piece is personalised with.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Input {
    /// What stands in braces for it: letters, figures, `-` and `_`, at most 40.
    pub name: String,
    /// What it says, at most 200 characters.
    pub value: String,
}

/// A field that a short form of the piece asks for.
#[derive(Debug, Clone, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Fronted {
    /// "piece", "component", "blank" or the id of an element.
    pub target: String,
    /// The field of the target, with dots; "inputs" and a number for a text.
    pub field: String,
    /// What the form calls it, at most 60 characters.
    pub label: String,
}

const MOST_INPUTS: usize = 20;
const LONGEST_NAME: usize = 40;
const LONGEST_VALUE: usize = 200;
const LONGEST_LABEL: usize = 60;

impl Piece {
    /// Words with every `{name}` replaced by the input of that name; unknown ones stay as they are.
    pub fn filled_in(&self, words: &str) -> String {
        if !words.contains('{') {
            return words.to_owned();
        }
        self.inputs.iter().fold(words.to_owned(), |words, input| {
            words.replace(&format!("{{{}}}", input.name), &input.value)
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
        for (i, Input { name, value }) in self.inputs.iter().enumerate() {
            if !is_name(name) || self.inputs[..i].iter().any(|other| other.name == *name) {
                let message = format!(
                    "“{name}” cannot be the name of an input: it takes 1 to {LONGEST_NAME} letters \
                     and figures, and no two may be alike."
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
        for (i, fronted) in self.fronted.iter().enumerate() {
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
        assert_eq!(piece.unknown_inputs("{name} {quay} {quay} { } {no, not}"), ["quay"]);
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
