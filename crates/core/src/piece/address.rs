//! Where in a piece something is: what an edit changes and a finding speaks of.

use serde::{Deserialize, Serialize};
use std::fmt;
use thiserror::Error;

/// A part of a piece by its ids, written `piece`, `component-1`, `component-1/blank` or
/// `component-1/hole-2`.
#[derive(Debug, Clone, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(try_from = "String", into = "String")]
pub enum Address {
    /// The piece as a whole.
    Piece,
    /// A component, by its id.
    Component(String),
    /// What a component starts from, by the component's id.
    Blank(String),
    /// An element, by the ids of its component and its own.
    Element(String, String),
}

/// A text that is no address.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
#[error(
    "“{0}” is no address in a piece; there are “piece”, “component-1”, “component-1/blank” and \
     “component-1/hole-1”"
)]
pub struct NoAddress(String);

/// The word for the piece itself.
const PIECE: &str = "piece";

/// The word for what a component starts from.
const BLANK: &str = "blank";

/// The most characters an id has.
const LONGEST_ID: usize = 40;

/// Whether a text can be the id of a component or an element: 1 to 40 letters, figures, `-` and `_`, and
/// none of the words addresses are made with.
pub(super) fn is_id(text: &str) -> bool {
    let fits = |c: char| c.is_alphanumeric() || c == '-' || c == '_';
    let count = text.chars().take(LONGEST_ID + 1).count();
    (1..=LONGEST_ID).contains(&count) && text.chars().all(fits) && text != PIECE && text != BLANK
}

impl Address {
    /// An element's.
    pub fn element(component: &str, element: &str) -> Self {
        Address::Element(component.to_owned(), element.to_owned())
    }

    /// The component it lies in, unless it is the piece.
    pub fn component(&self) -> Option<&str> {
        match self {
            Address::Piece => None,
            Address::Component(component)
            | Address::Blank(component)
            | Address::Element(component, _) => Some(component),
        }
    }
}

impl fmt::Display for Address {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            Address::Piece => f.write_str(PIECE),
            Address::Component(component) => f.write_str(component),
            Address::Blank(component) => write!(f, "{component}/{BLANK}"),
            Address::Element(component, element) => write!(f, "{component}/{element}"),
        }
    }
}

impl From<Address> for String {
    fn from(address: Address) -> String {
        address.to_string()
    }
}

impl TryFrom<String> for Address {
    type Error = NoAddress;

    fn try_from(text: String) -> Result<Self, NoAddress> {
        match text.split_once('/') {
            None if text == PIECE => Ok(Address::Piece),
            None if is_id(&text) => Ok(Address::Component(text)),
            Some((component, BLANK)) if is_id(component) => {
                Ok(Address::Blank(component.to_owned()))
            }
            Some((component, element)) if is_id(component) && is_id(element) => {
                Ok(Address::element(component, element))
            }
            _ => Err(NoAddress(text.chars().take(2 * LONGEST_ID).collect())),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn addresses_are_read_as_they_are_written() {
        for text in ["piece", "component-1", "component-1/blank", "foot/lettering-12", "ß/Ω_1"] {
            assert_eq!(Address::try_from(text.to_owned()).unwrap().to_string(), text);
        }
        let long = "a".repeat(41);
        for text in ["", "/", "piece/hole-1", "a/b/c", "a.b", "blank", "a/piece", &long] {
            assert!(Address::try_from(text.to_owned()).is_err(), "{text}");
        }
    }
}
