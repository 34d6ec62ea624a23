//! Small changes to a piece, carried out.
//!
//! [`apply`] carries out [`Edit`]s in order, all or none. After each the piece must be one: nothing is
//! worked out on a document that could not be kept, and what is refused is refused at the edit that
//! asked for it. What something new looks like, and what is kept where one kind becomes another
//! (`turn`), is decided here and nowhere else.

mod bridges;
mod carry_over;
mod colour;
mod components;
mod insert;
mod lids;
mod line_up;
mod relations;
mod turn;
mod typed;

pub use carry_over::{Overtaken, carry_over};

use crate::evaluate::{Layout, Placed, layout};
use crate::halt::Halted;
use crate::piece::{Address, Edit, EditError, Piece, gone};
use crate::plane::Tolerance;
use crate::workshop::Workshop;
use serde_json::Value;
use thiserror::Error;

/// An edited piece.
#[derive(Debug, Clone, PartialEq)]
pub struct Applied {
    /// The piece after the edits.
    pub piece: Piece,
    /// The last element or component that was added.
    pub added: Option<Address>,
}

/// Why edits were not carried out; the piece is as it was.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum Unapplied {
    /// One of them does not fit.
    #[error(transparent)]
    Refused(#[from] EditError),
    /// The work was stopped.
    #[error(transparent)]
    Halted(#[from] Halted),
}

/// Applies edits in order, all or none.
///
/// # Errors
/// The first edit that does not fit, or after which the piece has a value it cannot have; or that the
/// work was stopped.
pub fn apply(piece: &Piece, edits: &[Edit], workshop: &Workshop<'_>) -> Result<Applied, Unapplied> {
    workshop.over(|| applied(piece, edits, workshop))?
}

fn applied(piece: &Piece, edits: &[Edit], workshop: &Workshop<'_>) -> Result<Applied, Unapplied> {
    let mut applied = Applied { piece: piece.clone(), added: None };
    for edit in edits {
        workshop.go_on()?;
        // Only where something is joined can there be a lid that follows, and only what has to do with something
        // can be left hanging.
        let has_joints = !applied.piece.joints.is_empty();
        let before =
            (has_joints || relations::has_any(&applied.piece)).then(|| applied.piece.clone());
        apply_one(&mut applied, edit, workshop)?;
        if let Some(before) = before {
            lids::follow(&before, &mut applied.piece);
            relations::let_go(&before, &mut applied.piece, workshop)?;
        }
        checked(&applied.piece)?;
    }
    Ok(applied)
}

/// A piece that can be kept, or the first thing that speaks against it.
///
/// # Errors
/// What it cannot have, at its field.
pub fn checked(piece: &Piece) -> Result<(), EditError> {
    match piece.problems().into_iter().next() {
        None => Ok(()),
        Some(p) => Err(EditError { target: p.target, field: p.field, message: p.message }),
    }
}

fn apply_one(applied: &mut Applied, edit: &Edit, workshop: &Workshop<'_>) -> Result<(), Unapplied> {
    let piece = &mut applied.piece;
    match edit {
        Edit::Set { target, field, value } => set(piece, target, field, value)?,
        Edit::Type { target, field, text } => {
            let figure = typed::figure(piece, target, field, text, workshop)?;
            piece.set_value(target, field, figure)?;
        }
        Edit::Turn { target, field, into } => {
            for (field, value) in turn::turned(piece, target, field, into, workshop)? {
                piece.set_value(target, &field, value)?;
            }
        }
        Edit::Shift { target, across, up } => line_up::move_by(piece, target, *across, *up)?,
        Edit::Align { targets, axis, side } => {
            line_up::align(piece, targets, *axis, *side, workshop)?;
        }
        Edit::Distribute { targets, axis } => {
            line_up::distribute(piece, targets, *axis, workshop)?;
        }
        Edit::Add { component, kind, face } => {
            applied.added = Some(insert::fresh(piece, component, *kind, *face, workshop)?);
        }
        Edit::AddShape { component, face, shape, at } => {
            applied.added = Some(insert::shape(piece, component, *face, shape, *at, workshop)?);
        }
        Edit::Insert { component, element, filaments } => {
            let element = (**element).clone();
            applied.added = Some(insert::given(piece, component, element, filaments)?);
        }
        Edit::Colour { target, field, filament } => {
            colour::colour(piece, target, field, filament.as_ref())?;
        }
        Edit::AddComponent { blank } => applied.added = Some(components::fresh(piece, *blank)),
        Edit::AddMesh { mesh, file } => {
            applied.added = Some(components::of_mesh(piece, mesh, file, workshop)?);
        }
        Edit::InsertComponent { component, filaments } => {
            let component = (**component).clone();
            applied.added = Some(components::given(piece, component, filaments));
        }
        Edit::Join { into, part, socket } => components::join(piece, into, part, *socket)?,
        Edit::Bridge { target, act } => bridges::put(piece, target, *act, workshop)?,
        Edit::Duplicate { target: target @ Address::Component(_) } => {
            applied.added = Some(components::copy(piece, target)?);
        }
        Edit::Move { target: target @ Address::Component(_), by } => {
            components::shift(piece, target, *by)?;
        }
        Edit::Remove { target: target @ Address::Component(_) } => {
            components::remove(piece, target)?;
        }
        Edit::Duplicate { target } => applied.added = Some(insert::copy(piece, target)?),
        Edit::Move { target, by } => insert::shift(piece, target, *by)?,
        Edit::Remove { target } => {
            let at = insert::index_of(piece, target)?;
            piece.component_mut(target)?.elements.remove(at);
        }
    }
    Ok(())
}

/// Puts a value into a field. A printer brings its layers; the pattern of file names has rules of its own.
fn set(piece: &mut Piece, target: &Address, field: &str, value: &Value) -> Result<(), EditError> {
    let had = piece.printer.clone();
    piece.set_value(target, field, value.clone())?;
    match (target, field) {
        (Address::Piece, "printer") => {
            let printer = std::mem::replace(&mut piece.printer, had);
            piece.give_printer(printer);
        }
        (Address::Piece, "file_name") => {
            if let Some(message) = piece.trouble_with_file_name(&piece.file_name) {
                let (target, field) = (target.clone(), field.to_owned());
                return Err(EditError { target, field, message });
            }
        }
        _ => {}
    }
    Ok(())
}

/// The component an address lies in, with everything in its place.
fn laid_out(piece: &Piece, target: &Address, workshop: &Workshop<'_>) -> Result<Layout, Unapplied> {
    let component = piece.component_of(target)?;
    Ok(layout(piece, component, &workshop.at(Tolerance::Draft))?)
}

/// The element at an address in its place.
fn placed_at(layout: &Layout, target: &Address) -> Result<Placed, EditError> {
    let Address::Element(_, id) = target else { return Err(gone(target)) };
    layout.element(id).cloned().ok_or_else(|| gone(target))
}

#[cfg(test)]
mod tests;
