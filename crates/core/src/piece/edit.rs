//! Small changes to a piece.

use super::element::fresh_id;
use super::read::{ReadError, from_json};
use super::{Element, ElementKind, Piece, Side};
use crate::colour::Filament;
use crate::units::parse_length;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use std::collections::HashSet;

/// A change to a piece. Targets are "piece", "component", "blank" or the id of an element; fields
/// are the names in the piece file, joined by dots ("place.across.distance").
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum Edit {
    /// Puts a value into a field.
    Set {
        /// Whose field.
        target: String,
        /// Which field.
        field: String,
        /// The new value as it would stand in the file.
        value: Value,
    },
    /// Puts what a person typed into a length field: "3/8 in", "25.4/2".
    Type {
        /// Whose field.
        target: String,
        /// Which field.
        field: String,
        /// The text, in the piece's units where it names none.
        text: String,
    },
    /// Adds a new element that suits the piece.
    Add {
        /// What to add.
        kind: ElementKind,
        /// On which face.
        #[serde(default)]
        side: Side,
    },
    /// Adds a given element, under a new id where its own is taken.
    Insert {
        /// What to add.
        element: Box<Element>,
        /// The filaments its colours may name, for an element of another piece.
        #[serde(default)]
        filaments: Vec<Filament>,
    },
    /// Gives something a colour, and drops the filaments that nothing names any more.
    Colour {
        /// What: "blank" or the id of an element.
        target: String,
        /// The field that names the colour: "colour", or that of an inlay, which is made if there is
        /// none, such as "floor.colour".
        field: String,
        /// The filament; nothing for the colour of the plate, or for no inlay.
        filament: Option<Filament>,
    },
    /// Adds a copy of an element, a little aside.
    Duplicate {
        /// The element.
        target: String,
    },
    /// Moves an element in the order of work, as far as the list goes.
    Move {
        /// The element.
        target: String,
        /// Places earlier (negative) or later.
        by: i32,
    },
    /// Takes an element away.
    Remove {
        /// The element.
        target: String,
    },
}

impl Edit {
    /// Adds a new element to the front.
    pub fn add(kind: ElementKind) -> Self {
        Edit::Add { kind, side: Side::Front }
    }
}

/// An edited piece.
#[derive(Debug, Clone, PartialEq)]
pub struct Applied {
    /// The piece after the edits.
    pub piece: Piece,
    /// The id of the last element that was added.
    pub added: Option<String>,
}

/// Why an edit was refused; the piece is as it was.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error, Serialize)]
#[error("{message}")]
pub struct EditError {
    /// Whose field, or "piece".
    pub target: String,
    /// Which field; empty where the whole target is meant.
    pub field: String,
    /// What is wrong and how to mend it, for the person at the field.
    pub message: String,
}

/// Applies edits in order, all or none.
///
/// # Errors
/// The first edit that does not fit, or the first value the resulting piece cannot have.
pub fn apply(piece: &Piece, edits: &[Edit]) -> Result<Applied, EditError> {
    let mut applied = Applied { piece: piece.clone(), added: None };
    for edit in edits {
        apply_one(&mut applied, edit)?;
    }
    match applied.piece.problems().into_iter().next() {
        None => Ok(applied),
        Some(p) => Err(EditError { target: p.target, field: p.field, message: p.message }),
    }
}

fn apply_one(applied: &mut Applied, edit: &Edit) -> Result<(), EditError> {
    let piece = &mut applied.piece;
    match edit {
        Edit::Set { target, field, value } => {
            *piece = with_value(piece, target, field, value.clone())?;
        }
        Edit::Type { target, field, text } => {
            let refuse = |error: crate::units::LengthError| EditError {
                target: target.clone(),
                field: field.clone(),
                message: error.to_string(),
            };
            let length = parse_length(text, piece.units).map_err(refuse)?;
            *piece = with_value(piece, target, field, length.as_mm().into())?;
        }
        Edit::Add { kind, side } => {
            let element = kind.fresh(piece, *side);
            insert(applied, element, None);
        }
        Edit::Insert { element, filaments } => {
            let named = element.colour().map(str::to_owned);
            let mut element = (**element).clone();
            if let Some(named) = named.filter(|named| !has_filament(piece, named)) {
                match filaments.iter().find(|filament| filament.id == named) {
                    Some(filament) => piece.filaments.push(filament.clone()),
                    None => element.lose_colour(),
                }
            }
            insert(applied, element, None);
        }
        Edit::Colour { target, field, filament } => {
            *piece = coloured(piece, target, field, filament.as_ref())?;
        }
        Edit::Duplicate { target } => {
            let at = index_of(piece, target)?;
            let mut copy = piece.components[0].elements[at].clone();
            copy.nudge(3.0);
            insert(applied, copy, Some(at + 1));
        }
        Edit::Move { target, by } => {
            let at = index_of(piece, target)?;
            let elements = &mut piece.components[0].elements;
            let last = elements.len() - 1;
            let element = elements.remove(at);
            let to = (at as i64 + i64::from(*by)).clamp(0, last as i64) as usize;
            elements.insert(to, element);
        }
        Edit::Remove { target } => {
            let at = index_of(piece, target)?;
            piece.components[0].elements.remove(at);
        }
    }
    Ok(())
}

fn has_filament(piece: &Piece, id: &str) -> bool {
    piece.filaments.iter().any(|filament| filament.id == id)
}

/// The piece with something in another colour.
fn coloured(
    piece: &Piece,
    target: &str,
    field: &str,
    filament: Option<&Filament>,
) -> Result<Piece, EditError> {
    /// Deep enough for two or three layers (common practice, no source).
    const INLAY_MM: f64 = 0.6;
    let mut piece = piece.clone();
    if let Some(filament) = filament {
        match piece.filaments.iter_mut().find(|own| own.id == filament.id) {
            Some(own) => *own = filament.clone(),
            None => piece.filaments.push(filament.clone()),
        }
    }
    let id = filament.map(|filament| filament.id.clone());
    let inlay = field.strip_suffix(".colour");
    let mut coloured = match (inlay, id) {
        (Some(inlay), None) => with_value(&piece, target, inlay, Value::Null)?,
        (Some(inlay), Some(id)) => {
            let depth = value_of(&piece, target, &format!("{inlay}.depth"));
            let depth = depth.unwrap_or_else(|| INLAY_MM.into());
            let value = serde_json::json!({ "colour": id, "depth": depth });
            with_value(&piece, target, inlay, value)?
        }
        (None, id) => with_value(&piece, target, field, id.into())?,
    };
    let named: HashSet<String> = {
        let component = coloured.component();
        let of_blank = component.blank.colours().into_iter().map(|(_, colour)| colour);
        let of_elements = component.elements.iter().filter_map(Element::colour);
        of_blank.chain(of_elements).map(str::to_owned).collect()
    };
    coloured.filaments.retain(|filament| named.contains(&filament.id));
    Ok(coloured)
}

fn insert(applied: &mut Applied, mut element: Element, at: Option<usize>) {
    if applied.piece.element(element.id()).is_some() {
        element.set_id(fresh_id(&applied.piece, element.kind()));
    }
    applied.added = Some(element.id().to_owned());
    let elements = &mut applied.piece.components[0].elements;
    elements.insert(at.unwrap_or(elements.len()), element);
}

fn index_of(piece: &Piece, target: &str) -> Result<usize, EditError> {
    let found = piece.component().elements.iter().position(|element| element.id() == target);
    found.ok_or_else(|| {
        unknown(target, "", format!("There is no “{target}” in this piece any more."))
    })
}

fn unknown(target: &str, field: &str, message: String) -> EditError {
    EditError { target: target.to_owned(), field: field.to_owned(), message }
}

/// Where a target stands in the JSON of a piece, as a JSON pointer.
fn pointer_to(piece: &Piece, target: &str) -> Result<String, EditError> {
    Ok(match target {
        "piece" => String::new(),
        "component" => "/components/0".to_owned(),
        "blank" => format!("/components/0/blank/{}", piece.component().blank.word()),
        id => {
            let at = index_of(piece, id)?;
            let kind = piece.component().elements[at].kind().word();
            format!("/components/0/elements/{at}/{kind}")
        }
    })
}

/// A field of a piece as it stands in the file, if there is such a field.
pub(super) fn value_of(piece: &Piece, target: &str, field: &str) -> Option<Value> {
    let pointer = format!("{}/{}", pointer_to(piece, target).ok()?, field.replace('.', "/"));
    serde_json::to_value(piece).ok()?.pointer(&pointer).cloned()
}

/// The piece with one field of its JSON replaced, so that every field the format has can be set
/// and none it does not have.
fn with_value(piece: &Piece, target: &str, field: &str, value: Value) -> Result<Piece, EditError> {
    let base = pointer_to(piece, target)?;
    let mut json = serde_json::to_value(piece).expect("a piece has only string keys");
    let pointer = format!("{base}/{}", field.replace('.', "/"));
    let Some(slot) = json.pointer_mut(&pointer) else {
        return Err(unknown(target, field, format!("“{target}” has no “{field}” to set.")));
    };
    *slot = value;
    from_json(json).map_err(|error| {
        let message = match error {
            ReadError::Field { message, .. } => message,
            other => other.to_string(),
        };
        unknown(target, field, message)
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::units::{Length, Unit};
    use serde_json::json;

    fn set(target: &str, field: &str, value: Value) -> Edit {
        Edit::Set { target: target.into(), field: field.into(), value }
    }

    fn typed(target: &str, field: &str, text: &str) -> Edit {
        Edit::Type { target: target.into(), field: field.into(), text: text.into() }
    }

    fn fob() -> Piece {
        let piece = Piece::new("Berth 7", Unit::Millimetre);
        let add = [ElementKind::Hole, ElementKind::Lettering].map(Edit::add);
        apply(&piece, &add).unwrap().piece
    }

    #[test]
    fn a_typed_length_takes_the_pieces_unit_unless_it_names_its_own() {
        let edits = [
            typed("blank", "width", "3 in"),
            set("piece", "units", json!("in")),
            typed("blank", "height", "1"),
            typed("hole-1", "place.across.distance", "6 mm"),
        ];
        let piece = apply(&fob(), &edits).unwrap().piece;
        let plate = piece.component().plate().unwrap();
        assert_eq!((plate.width, plate.height), (Length::mm(76.2), Length::mm(25.4)));
        let Some(Element::Hole(hole)) = piece.element("hole-1") else { panic!() };
        assert_eq!(hole.place.across.distance, Length::mm(6.0));
    }

    #[test]
    fn a_refused_edit_names_its_field_and_changes_nothing() {
        let refused = |edit: Edit| {
            let error = apply(&fob(), &[set("piece", "name", json!("Other")), edit]).unwrap_err();
            format!("{}.{}: {}", error.target, error.field, error.message)
        };
        insta::assert_snapshot!(
            [
                refused(typed("blank", "width", "wide")),
                refused(typed("blank", "width", "10 m")),
                refused(typed("blank", "width", "10000")),
                refused(typed("hole-1", "diameter", "-5")),
                refused(set("hole-1", "diameter", json!("five"))),
                refused(set("hole-1", "glaze", json!(3))),
                refused(set("hole-9", "diameter", json!(3))),
                refused(set("lettering-1", "lines.0.words", json!("x".repeat(1001)))),
                refused(set("lettering-1", "relief", json!({"sunk": 1}))),
                refused(set("lettering-1", "place.across.from", json!("middle"))),
                refused(Edit::Remove { target: "blank".into() }),
            ]
            .join("\n")
        );
    }

    #[test]
    fn elements_come_and_go_under_ids_of_their_own() {
        let hole = |id: &str| id.to_owned();
        let copied = apply(&fob(), &[Edit::Duplicate { target: hole("hole-1") }]).unwrap();
        assert_eq!(copied.added.as_deref(), Some("hole-2"));
        let ids: Vec<_> = copied.piece.component().elements.iter().map(Element::id).collect();
        assert_eq!(ids, ["hole-1", "hole-2", "lettering-1"]);

        let move_ = |by| Edit::Move { target: hole("hole-1"), by };
        let first =
            |by| apply(&fob(), &[move_(by)]).unwrap().piece.component().elements[0].id().to_owned();
        assert_eq!(
            (first(1), first(-3), first(9)),
            (hole("lettering-1"), hole("hole-1"), hole("lettering-1"))
        );

        let element = Box::new(fob().element("hole-1").unwrap().clone());
        let filaments = Vec::new();
        let pasted = apply(&fob(), &[Edit::Insert { element, filaments }]).unwrap();
        assert_eq!(pasted.added.as_deref(), Some("hole-2"));
        let removed = apply(&pasted.piece, &[Edit::Remove { target: hole("hole-1") }]).unwrap();
        assert!(removed.piece.element("hole-1").is_none());
        assert!(removed.piece.element("hole-2").is_some());
    }
}
