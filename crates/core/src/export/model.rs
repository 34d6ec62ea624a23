//! A piece as parts of a mesh file.

use crate::bed::{lying, places};
use crate::evaluate::{Evaluation, Frame, Made};
use crate::formats::{Model, Object, Part};
use crate::piece::{Component, Piece};
use crate::solid::{exact_in_f32, furthest};
use serde::Deserialize;
use std::borrow::Cow;

/// How the colours of a piece are told apart in a mesh file.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Division {
    /// Not at all: one mesh.
    #[default]
    Together,
    /// A part for each colour, the parts belonging together: of one object in 3MF, of one file in
    /// OBJ. STL knows no parts and takes a file for each.
    Split,
    /// Each colour on its own: an object for each in 3MF, a file for each in OBJ and STL, all on one
    /// origin.
    Apart,
}

/// The model of a piece: all of it in one part in the filament of the first blank, or a part for each
/// colour of each component, called by the name of its filament, and of its component where there are
/// several.
pub fn model_of<'a>(piece: &'a Piece, evaluation: &'a Evaluation, division: Division) -> Model<'a> {
    let components = piece.components.iter().zip(&evaluation.components);
    let placed = components.zip(places(evaluation));
    let (parts, objects) = match division {
        Division::Together => {
            let meshes = placed.map(|((_, made), place)| lying(&made.mesh, &place));
            let mesh = meshes.reduce(|mut all, mesh| {
                all.to_mut().append(&mesh);
                all
            });
            let part = Part {
                name: Cow::Borrowed(&piece.name),
                filament: &piece.filaments[piece.filament_of(piece.first(), None)],
                mesh: mesh.unwrap_or_default(),
            };
            (vec![part], vec![Object { name: Cow::Borrowed(&piece.name), parts: 1 }])
        }
        Division::Split | Division::Apart => {
            let (mut parts, mut objects) = (Vec::new(), Vec::new());
            for ((component, made), place) in placed {
                let own = parts_of(piece, component, made, &place);
                if division == Division::Split {
                    objects.push(Object { name: object_name(piece, component), parts: own.len() });
                } else {
                    objects.extend(
                        own.iter().map(|part| Object { name: part.name.clone(), parts: 1 }),
                    );
                }
                parts.extend(own);
            }
            (parts, objects)
        }
    };
    Model { name: &piece.name, date: None, parts: exact(parts), objects, picture: None }
}

/// The model of a piece of several components in one colour each: an object for every component, which
/// can be moved about on the bed by itself.
pub(super) fn model_of_components<'a>(piece: &'a Piece, evaluation: &'a Evaluation) -> Model<'a> {
    let components = piece.components.iter().zip(&evaluation.components);
    let parts = components.zip(places(evaluation)).map(|((component, made), place)| Part {
        name: object_name(piece, component),
        filament: &piece.filaments[piece.filament_of(component, None)],
        mesh: lying(&made.mesh, &place),
    });
    let parts: Vec<Part<'_>> = parts.collect();
    let objects = parts.iter().map(|part| Object { name: part.name.clone(), parts: 1 }).collect();
    Model { name: &piece.name, date: None, parts: exact(parts), objects, picture: None }
}

/// Parts whose coordinates f32 holds exactly, as files do: all on one grid, so that they still share their faces.
fn exact(mut parts: Vec<Part<'_>>) -> Vec<Part<'_>> {
    let far = parts.iter().map(|part| furthest(&part.mesh)).fold(0.0, f64::max);
    for part in &mut parts {
        if let Some(mesh) = exact_in_f32(&part.mesh, far) {
            part.mesh = Cow::Owned(mesh);
        }
    }
    parts
}

/// What a component is called as an object: an only one like the piece.
fn object_name<'a>(piece: &'a Piece, component: &'a Component) -> Cow<'a, str> {
    let is_only = piece.components.len() == 1;
    Cow::Borrowed(if is_only { &piece.name } else { component.called() })
}

fn parts_of<'a>(
    piece: &'a Piece,
    component: &'a Component,
    made: &'a Made,
    place: &Frame,
) -> Vec<Part<'a>> {
    let is_only = piece.components.len() == 1;
    let called = component.called();
    let part = |body: &'a crate::evaluate::ColourBody| {
        let filament = &piece.filaments[body.filament];
        let colour = super::naming::called(piece, body.filament);
        let name = if is_only { colour } else { Cow::Owned(format!("{called}, {colour}")) };
        Part { name, filament, mesh: lying(&body.mesh, place) }
    };
    made.bodies.iter().map(part).collect()
}
