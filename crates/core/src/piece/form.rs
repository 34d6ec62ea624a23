//! The short form of a piece: a few fields up front.

use super::{Element, Fronted, LetterSize, Piece};
use crate::lettering::OWN_FACE;
use serde::Serialize;
use serde_json::Value;

/// A field as a form asks for it.
#[derive(Debug, Clone, PartialEq, Eq, Serialize)]
pub struct FormField {
    /// Whose field, as in an edit.
    pub target: String,
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
    Face,
    /// An emblem.
    Emblem,
}

/// Numbers that are no lengths.
const PLAIN_NUMBERS: [&str; 16] = [
    "turn", "stretch", "scale", "pitch", "spacing", "slant", "middle", "spread", "fraction",
    "sides", "points", "inner", "waves", "angle", "count", "around",
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
        let mut push = |target: &str, field: &str, label: String| {
            found.push(Fronted { target: target.into(), field: field.into(), label });
        };
        for (i, input) in self.inputs.iter().enumerate() {
            push("piece", &format!("inputs.{i}.value"), capitalised(&input.name));
        }
        let mut counts = std::collections::HashMap::new();
        for element in &self.component().elements {
            let count = counts.entry(element.kind()).or_insert(0);
            *count += 1;
            let id = element.id();
            let named = |what: &str| {
                if *count > 1 { format!("{what} {count}") } else { what.to_owned() }
            };
            match element {
                Element::Lettering(lettering) => {
                    push(id, "lines", named("Words"));
                    push(id, "face", named("Typeface"));
                    match lettering.size {
                        LetterSize::Height(_) => push(id, "size.height", named("Letters tall")),
                        LetterSize::Box(_) => {
                            push(id, "size.box.width", named("Box wide"));
                            push(id, "size.box.height", named("Box high"));
                        }
                        LetterSize::ClearArea => {}
                    }
                }
                Element::Emblem(_) => {
                    push(id, "shape", named("Emblem"));
                    push(id, "width", named("Emblem wide"));
                }
                Element::Hole(_) => push(id, "diameter", named("Hole across")),
                Element::Loop(_) => push(id, "inside", named("Loop, hole across")),
                Element::Rim(_) => push(id, "width", named("Rim wide")),
                Element::Recess(_) => {}
            }
        }
        let sizes = [("width", "Width"), ("height", "Height"), ("thickness", "Thickness")];
        let of_plate = self.component().plate().map(|_| sizes);
        for (field, label) in of_plate.into_iter().flatten() {
            push("blank", field, label.to_owned());
        }
        found.iter().filter_map(|fronted| self.form_field(fronted)).collect()
    }

    fn form_field(&self, fronted: &Fronted) -> Option<FormField> {
        let Fronted { target, field, label } = fronted;
        let value = super::edit::value_of(self, target, field)?;
        let last = field.rsplit('.').next().unwrap_or_default();
        let kind = match (value, last) {
            (Value::Array(_), "lines") => FieldKind::Lines,
            (Value::String(_), "face") => FieldKind::Face,
            (Value::String(_), "shape") => FieldKind::Emblem,
            (Value::String(_), "value" | "name" | "words") => FieldKind::Text,
            (Value::Number(_), name) if PLAIN_NUMBERS.contains(&name) => FieldKind::Number,
            (Value::Number(_), _) => FieldKind::Length,
            _ => return None,
        };
        Some(FormField { target: target.clone(), field: field.clone(), label: label.clone(), kind })
    }

    /// The ids of the user's own typefaces it is set in.
    pub fn own_faces(&self) -> Vec<&str> {
        let mut found = Vec::new();
        for element in &self.component().elements {
            let Element::Lettering(lettering) = element else { continue };
            let of_lines = lettering.lines.iter().filter_map(|line| line.face.as_deref());
            for face in of_lines.chain([lettering.face.as_str()]) {
                if face.starts_with(OWN_FACE) && !found.contains(&face) {
                    found.push(face);
                }
            }
        }
        found
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
    use crate::piece::{Edit, ElementKind, Input, apply};
    use crate::units::Unit;

    #[test]
    fn a_form_asks_for_what_was_chosen_and_is_still_there() {
        let piece = Piece::new("Fob", Unit::Millimetre);
        let kinds = [ElementKind::Hole, ElementKind::Lettering, ElementKind::Lettering];
        let mut piece = apply(&piece, &kinds.map(Edit::add)).unwrap().piece;
        let words = |piece: &Piece| {
            piece.form().iter().map(|field| field.label.clone()).collect::<Vec<_>>()
        };
        assert_eq!(words(&piece), ["Words", "Words 2"]);
        piece.inputs.push(Input { name: "name".into(), value: "Łucja".into() });
        assert_eq!(words(&piece), ["Name", "Words", "Words 2"]);
        let fronted = |target: &str, field: &str| Fronted {
            target: target.into(),
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
