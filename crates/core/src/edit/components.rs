//! Components that come into a piece, are copied, moved in its list and taken away, and what joins them.

use super::insert::{free_id, moved_by};
use super::lids::LidSizes;
use crate::filament::Filament;
use crate::piece::{
    Across, Address, Blank, BlankKind, Component, Edge, EditError, FaceName, Fit, HolePlace, Joint,
    MeshBlank, Offset, Piece, Slot, Socket, Up, WorkedFace, gone,
};
use crate::stock::level;
use crate::units::Length;
use crate::workshop::Workshop;

/// Adds a component of customary sizes behind the others, in the colour of the first.
pub(super) fn fresh(piece: &mut Piece, kind: BlankKind) -> Address {
    let mut component = Component::customary("", kind, piece.units);
    *component.blank.colour_mut() = piece.first().blank.colour().to_owned();
    push(piece, component)
}

/// Adds a component made of a mesh behind the others, in the colour of the first. Its figures are taken for
/// millimetres; where it could not be made at that size, for inches or metres.
pub(super) fn of_mesh(
    piece: &mut Piece,
    mesh: &str,
    file: &str,
    workshop: &Workshop<'_>,
) -> Result<Address, EditError> {
    const SCALES: [f64; 3] = [1.0, 25.4, 1000.0];
    let refused = |message: &str| refused(&Address::Piece, message.to_owned());
    let stock = workshop.mesh(mesh);
    let stock =
        stock.ok_or_else(|| refused("This mesh is no longer kept. Read its file again."))?;
    let face = stock.faces.first();
    let face =
        face.ok_or_else(|| refused("This mesh has no flat face that could be worked on."))?;
    let blank = SCALES.into_iter().find_map(|scale| {
        let face = WorkedFace { normal: face.normal, level: face.level };
        let colour = piece.first().blank.colour().to_owned();
        let (mesh, file) = (mesh.to_owned(), file.to_owned());
        let blank = MeshBlank { mesh, file, scale, face, turn: 0.0, colour };
        level(&stock, &blank).is_some().then_some(blank)
    });
    let blank = blank.ok_or_else(|| {
        refused("This mesh is too small or too large to be made. Choose its unit on the page of meshes.")
    })?;
    Ok(push(piece, Component::new("", "", Blank::Mesh(blank))))
}

/// Adds a given component behind the others, with those of the filaments its colours name. What names a
/// colour that is nowhere takes that of the first component.
pub(super) fn given(
    piece: &mut Piece,
    mut component: Component,
    filaments: &[Filament],
) -> Address {
    let of_elements = component.elements.iter().filter_map(|element| element.colour());
    let of_blank = component.blank.colours().into_iter().map(|(_, colour)| colour);
    let named: Vec<String> = of_blank.chain(of_elements).map(str::to_owned).collect();
    for colour in named {
        let is_known = piece.filaments.iter().any(|filament| filament.id == colour);
        match filaments.iter().find(|filament| filament.id == colour) {
            _ if is_known => {}
            Some(filament) => piece.filaments.push(filament.clone()),
            None => {
                let lost =
                    component.elements.iter_mut().filter(|one| one.colour() == Some(&colour));
                lost.for_each(|element| element.kind.fields_mut().lose_colour());
                if component.blank.colour() == colour {
                    *component.blank.colour_mut() = piece.first().blank.colour().to_owned();
                }
            }
        }
    }
    push(piece, component)
}

/// Puts a component behind the others, under an id and a name no other has.
fn push(piece: &mut Piece, mut component: Component) -> Address {
    component.id = free_id("component", |id| piece.component(id).is_some());
    component.name = free_name(piece, component.called());
    let address = component.address();
    piece.components.push(component);
    address
}

/// Adds a copy of a component behind it; what it goes into holds only the one it held.
pub(super) fn copy(piece: &mut Piece, target: &Address) -> Result<Address, EditError> {
    let at = place_of(piece, target)?;
    let mut copy = piece.components[at].clone();
    copy.id = free_id("component", |id| piece.component(id).is_some());
    copy.name = free_name(piece, copy.called());
    let address = copy.address();
    piece.components.insert(at + 1, copy);
    Ok(address)
}

/// Takes a component away, and what joined it to others.
pub(super) fn remove(piece: &mut Piece, target: &Address) -> Result<(), EditError> {
    let at = place_of(piece, target)?;
    if piece.components.len() == 1 {
        let message = "A piece needs one component. Change this one, or delete the piece.";
        return Err(refused(target, message.to_owned()));
    }
    let id = piece.components.remove(at).id;
    piece.joints.retain(|joint| joint.into != id && joint.part != id);
    Ok(())
}

/// Moves a component in the list, as far as it goes.
pub(super) fn shift(piece: &mut Piece, target: &Address, by: i32) -> Result<(), EditError> {
    let at = place_of(piece, target)?;
    moved_by(&mut piece.components, at, by);
    Ok(())
}

/// Cuts a slot or a socket for a plate into a component, with a fit that holds by itself or, for a lid,
/// one that comes off again.
pub(super) fn join(
    piece: &mut Piece,
    into: &str,
    part: &str,
    socket: bool,
) -> Result<(), EditError> {
    let target = Address::Component(into.to_owned());
    let receiver = piece.component_of(&target)?;
    let id = free_id("joint", |id| piece.joints.iter().any(|joint| joint.id == id));
    let lid = match (&receiver.blank, piece.component(part)) {
        (Blank::Box(inner), Some(part)) if part.plate().is_some() => Some(inner.clone()),
        _ => None,
    };
    let (slot, socket) = match socket || lid.is_some() {
        true => (None, Some(fresh_socket(receiver))),
        false => (Some(fresh_slot(receiver, piece.component(part))), None),
    };
    let fit = if lid.is_some() { Fit::Sliding } else { Fit::Snug };
    if let Some(inner) = lid {
        let clearance = piece.printer.drawn().clearance(fit);
        let target = Address::Component(part.to_owned());
        if let Blank::Plate(plate) = &mut piece.component_mut(&target)?.blank {
            LidSizes::of(&inner, clearance).give(plate);
            // A first layer that is pressed wider keeps no lid out (common practice, no source).
            if plate.edges.bottom == Edge::Square {
                plate.edges.bottom = Edge::Chamfer(Length::mm(0.3));
            }
        }
    }
    let joint = Joint { id, into: into.to_owned(), part: part.to_owned(), fit, slot, socket };
    piece.joints.push(joint);
    Ok(())
}

fn in_the_middle() -> HolePlace {
    HolePlace {
        across: Offset { from: Across::Centre, distance: Length::ZERO },
        up: Offset { from: Up::Centre, distance: Length::ZERO },
    }
}

/// Into the top, two thirds of the way down but no more than a third of the plate.
fn fresh_slot(receiver: &Component, part: Option<&Component>) -> Slot {
    let height = receiver.blank.room_for_slot();
    let plate = part.and_then(Component::plate);
    let third = plate.map_or(height, |plate| plate.height.as_mm() / 3.0);
    let depth = (height * 2.0 / 3.0).min(third);
    let depth = Length::mm((depth * 2.0).floor().max(1.0) / 2.0);
    Slot { face: upper_face(receiver), depth, lean: 0.0, open: false, place: in_the_middle() }
}

/// As deep as the plate is thick, in the middle of what looks up.
fn fresh_socket(receiver: &Component) -> Socket {
    Socket { face: upper_face(receiver), depth: None, place: in_the_middle(), turn: 0.0 }
}

fn upper_face(receiver: &Component) -> FaceName {
    let faces = receiver.blank.faces();
    if faces.contains(&FaceName::Top) { FaceName::Top } else { faces[0] }
}

fn place_of(piece: &Piece, target: &Address) -> Result<usize, EditError> {
    let Address::Component(id) = target else { return Err(gone(target)) };
    let found = piece.components.iter().position(|component| component.id == *id);
    found.ok_or_else(|| gone(target))
}

/// A name no other component has: itself, or with the first number that is free.
fn free_name(piece: &Piece, name: &str) -> String {
    let stem = name.trim_end_matches(|c: char| c.is_ascii_digit()).trim_end();
    let stem = if stem.is_empty() { name } else { stem };
    let is_free = |name: &String| piece.components.iter().all(|one| one.called() != name);
    let numbered = (2..).map(|number| format!("{stem} {number}"));
    std::iter::once(stem.to_owned()).chain(numbered).find(is_free).unwrap_or_default()
}

fn refused(target: &Address, message: String) -> EditError {
    EditError { target: target.clone(), field: String::new(), message }
}
