//! The short form of a piece: a few fields up front.

use super::{Address, Fronted, Piece};
use serde::Serialize;
use serde_json::Value;

/// A field as a form asks for it.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
pub struct FormField {
    /// Whose field, as in an edit.
    pub target: Address,
    /// Which field, as in an edit.
    pub field: String,
    /// What it is called.
    pub label: String,
    /// What is put into it.
    pub kind: FieldKind,
}

/// What is put into a field of a form.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[serde(rename_all = "kebab-case")]
pub enum FieldKind {
    /// One line of text.
    Text,
    /// Lines of words.
    Lines,
    /// A length.
    Length,
    /// A plain number.
    Number,
    /// A typeface.
    Typeface,
    /// An emblem.
    Emblem,
}

/// Numbers that are no lengths.
const PLAIN_NUMBERS: [&str; 17] = [
    "turn", "stretch", "scale", "pitch", "spacing", "slant", "middle", "spread", "fraction",
    "sides", "points", "inner", "waves", "angle", "count", "around", "lean",
];

impl Piece {
    /// The fields its short form asks for: those that were chosen and still are there, or where
    /// none were chosen what it says.
    pub fn form(&self) -> Vec<FormField> {
        let chosen: Vec<FormField> =
            self.fronted.iter().filter_map(|fronted| self.form_field(fronted)).collect();
        if !chosen.is_empty() {
            return chosen;
        }
        let mut words = self.form_candidates();
        words.retain(|field| field.kind == FieldKind::Lines || field.field.starts_with("inputs"));
        words
    }

    /// The fields a form could ask for: what it says and in which face, its shapes and main sizes.
    pub fn form_candidates(&self) -> Vec<FormField> {
        let mut found: Vec<Fronted> = Vec::new();
        let mut push = |target: &Address, field: &str, label: String| {
            found.push(Fronted { target: target.clone(), field: field.into(), label });
        };
        for (i, input) in self.inputs.iter().enumerate() {
            push(&Address::Piece, &format!("inputs.{i}.value"), capitalised(&input.name));
        }
        for component in &self.components {
            let mut counts = std::collections::HashMap::new();
            for element in &component.elements {
                let count = counts.entry(element.tag()).or_insert(0);
                *count += 1;
                let address = component.element_address(&element.id);
                for (field, what) in element.kind.fields().main_fields() {
                    let number = if *count > 1 { format!(" {count}") } else { String::new() };
                    push(&address, field, format!("{what}{number}"));
                }
            }
            for (field, label) in component.blank.main_fields() {
                push(&component.blank_address(), field, (*label).to_owned());
            }
        }
        found.iter().filter_map(|fronted| self.form_field(fronted)).collect()
    }

    fn form_field(&self, fronted: &Fronted) -> Option<FormField> {
        let Fronted { target, field, label } = fronted;
        let value = self.value(target, field)?;
        let last = field.rsplit('.').next().unwrap_or_default();
        let kind = match (value, last) {
            (Value::Array(_), "lines") => FieldKind::Lines,
            (Value::String(_), "typeface") => FieldKind::Typeface,
            (Value::String(_), "shape") => FieldKind::Emblem,
            (Value::String(_), "value" | "name" | "words") => FieldKind::Text,
            (Value::Number(_), name) if PLAIN_NUMBERS.contains(&name) => FieldKind::Number,
            (Value::Number(_), _) => FieldKind::Length,
            _ => return None,
        };
        Some(FormField { target: target.clone(), field: field.clone(), label: label.clone(), kind })
    }
}

fn capitalised(name: &str) -> String {
    let mut characters = name.chars();
    match characters.next() {
        Some(first) => first.to_uppercase().chain(characters).collect(),
        None => String::new(),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::piece::{ElementKind, Input};
    use crate::testing::{address, fresh};

    #[test]
    fn a_form_asks_for_what_was_chosen_and_is_still_there() {
        use ElementKind::{Hole, Lettering};
        let mut piece = fresh(&[Hole, Lettering, Lettering]);
        let words = |piece: &Piece| {
            piece.form().iter().map(|field| field.label.clone()).collect::<Vec<_>>()
        };
        assert_eq!(words(&piece), ["Words", "Words 2"]);
        piece.inputs.push(Input::new("name", "Łucja"));
        assert_eq!(words(&piece), ["Name", "Words", "Words 2"]);
        let fronted = |target: &str, field: &str| Fronted {
            target: address(target),
            field: field.into(),
            label: field.into(),
        };
        piece.fronted = vec![
            fronted("hole-1", "diameter"),
            fronted("hole-9", "diameter"),
            fronted("lettering-1", "style.slant"),
            fronted("lettering-1", "place"),
            fronted("piece", "inputs.0.value"),
        ];
        let kinds: Vec<FieldKind> = piece.form().iter().map(|field| field.kind).collect();
        assert_eq!(kinds, [FieldKind::Length, FieldKind::Number, FieldKind::Text]);
        assert!(piece.form_candidates().len() > 8);
    }
}
