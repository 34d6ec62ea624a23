//! Elements that come into a piece: new ones, given ones and copies.

use super::{Unapplied, laid_out, placed_at, relations};
use crate::evaluate::{self, FromFace};
use crate::filament::Filament;
use crate::piece::{
    Address, Component, EditError, Element, ElementKind, FaceName, Kind, Piece, gone,
};
use crate::units::Length;
use crate::workshop::Workshop;

/// How far a copy lies aside, in mm.
const ASIDE_MM: f64 = 3.0;

/// Adds a new element that suits a face of a component.
pub(super) fn fresh(
    piece: &mut Piece,
    component: &str,
    kind: ElementKind,
    face: FaceName,
    workshop: &Workshop<'_>,
) -> Result<Address, Unapplied> {
    let target = Address::Component(component.to_owned());
    let on = piece.component_of(&target)?;
    let made = evaluate::fresh(kind, piece, on, face, workshop)?;
    let element = Element { id: fresh_id(on, kind), locked: false, face, kind: made };
    Ok(insert(piece, &target, element, None)?)
}

/// Adds an emblem of a shape of one's own, its middle at a point as it is seen from the face.
pub(super) fn shape(
    piece: &mut Piece,
    component: &str,
    face: FaceName,
    id: &str,
    at: [f64; 2],
    workshop: &Workshop<'_>,
) -> Result<Address, Unapplied> {
    let target = Address::Component(component.to_owned());
    let refuse = |message: &str| EditError {
        target: target.clone(),
        field: "shape".to_owned(),
        message: message.to_owned(),
    };
    let missing = || refuse("This shape is not at hand. It may have been taken away meanwhile.");
    let shape = workshop.shape(id).ok_or_else(missing)?;
    let address = fresh(piece, component, ElementKind::Emblem, face, workshop)?;
    let Kind::Emblem(emblem) = &mut piece.element_mut(&address)?.kind else {
        return Err(refuse("An emblem cannot be put there.").into());
    };
    emblem.shape = id.to_owned();
    emblem.width = Length::mm((shape.frame.width() * 1e4).round() / 1e4);
    let layout = laid_out(piece, &address, workshop)?;
    let placed = placed_at(&layout, &address)?;
    let FromFace(frame) = layout.from_face(&placed, placed.frame);
    let (x, y) = frame.centre();
    let [across, up] = [at[0] - x, at[1] - y].map(|mm| (mm * 1e4).round() / 1e4);
    let element = &mut piece.element_mut(&address)?.kind;
    element.fields_mut().shift(across, up).map_err(refuse)?;
    Ok(address)
}

/// Adds a given element, with those of the filaments its colour names.
pub(super) fn given(
    piece: &mut Piece,
    component: &str,
    mut element: Element,
    filaments: &[Filament],
) -> Result<Address, EditError> {
    let target = Address::Component(component.to_owned());
    piece.component_of(&target)?;
    let is_known =
        |piece: &Piece, id: &str| piece.filaments.iter().any(|filament| filament.id == id);
    let named = element.colour().map(str::to_owned);
    if let Some(named) = named.filter(|named| !is_known(piece, named)) {
        match filaments.iter().find(|filament| filament.id == named) {
            Some(filament) => piece.filaments.push(filament.clone()),
            None => element.kind.fields_mut().lose_colour(),
        }
    }
    // What is given twice lies beside the first, not on it.
    let beside = |element: &Element| Element { id: String::new(), ..element.clone() };
    let of = piece.component_of(&target)?;
    // What comes from a face that is not here comes to the main one.
    let faces = of.blank.faces();
    if !faces.contains(&element.face) {
        element.face = faces[0];
    }
    relations::alone_in(of, &mut element);
    let taken: Vec<Element> = of.elements.iter().map(beside).collect();
    for _ in 0..taken.len() {
        if !taken.contains(&beside(&element)) {
            break;
        }
        element.kind.fields_mut().nudge(ASIDE_MM);
    }
    insert(piece, &target, element, None)
}

/// Adds a copy of an element behind it, a little aside.
pub(super) fn copy(piece: &mut Piece, target: &Address) -> Result<Address, EditError> {
    let at = index_of(piece, target)?;
    let mut copy = piece.component_of(target)?.elements[at].clone();
    copy.kind.fields_mut().nudge(ASIDE_MM);
    insert(piece, target, copy, Some(at + 1))
}

/// Moves an element in the order of work, as far as it goes.
pub(super) fn shift(piece: &mut Piece, target: &Address, by: i32) -> Result<(), EditError> {
    let at = index_of(piece, target)?;
    let elements = &mut piece.component_mut(target)?.elements;
    moved_by(elements, at, by);
    Ok(())
}

/// Moves one of a list so many places, as far as the list goes.
pub(super) fn moved_by<T>(list: &mut Vec<T>, at: usize, by: i32) {
    let last = list.len() - 1;
    let one = list.remove(at);
    let to = (at as i64 + i64::from(by)).clamp(0, last as i64) as usize;
    list.insert(to, one);
}

fn insert(
    piece: &mut Piece,
    target: &Address,
    mut element: Element,
    at: Option<usize>,
) -> Result<Address, EditError> {
    let component = piece.component_mut(target)?;
    if component.element(&element.id).is_some() {
        element.id = fresh_id(component, element.tag());
    }
    let address = component.element_address(&element.id);
    let elements = &mut component.elements;
    elements.insert(at.unwrap_or(elements.len()), element);
    Ok(address)
}

/// "hole-2": the kind and the first number not taken.
fn fresh_id(component: &Component, kind: ElementKind) -> String {
    free_id(kind.word(), |id| component.element(id).is_some())
}

/// A word and the first number that is not taken with it.
pub(super) fn free_id(word: &str, is_taken: impl Fn(&str) -> bool) -> String {
    (1..).map(|number| format!("{word}-{number}")).find(|id| !is_taken(id)).unwrap_or_default()
}

/// The place of an element in the order of work.
pub(super) fn index_of(piece: &Piece, target: &Address) -> Result<usize, EditError> {
    let Address::Element(_, id) = target else { return Err(gone(target)) };
    let component = piece.component_of(target)?;
    let found = component.elements.iter().position(|element| element.id == *id);
    found.ok_or_else(|| gone(target))
}
