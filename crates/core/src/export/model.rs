//! A piece as parts of a mesh file.

use crate::evaluate::{Evaluation, Made};
use crate::formats::{Model, Part};
use crate::piece::{Component, Piece};
use crate::solid::Mesh;
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

/// Between components that lie side by side on the bed, in mm.
const GAP_MM: f64 = 5.0;

/// How far to the right each component of an evaluation is put, in mm, so that they lie side by side on
/// the bed; a single one stays where it is.
pub fn places(evaluation: &Evaluation) -> Vec<f64> {
    let mut right: Option<f64> = None;
    evaluation
        .components
        .iter()
        .map(|made| {
            let (low, high) = (made.measures.low[0], made.measures.high[0]);
            // On the grid, so that meshes stay on it.
            let place = right.map_or(0.0, |right| (right + GAP_MM - low).ceil());
            right = Some(place + high);
            place
        })
        .collect()
}

/// The model of a piece: all of it in one part in the filament of the first blank, or a part for each
/// colour of each component, called by the name of its filament, and of its component where there are
/// several.
pub fn model_of<'a>(piece: &'a Piece, evaluation: &'a Evaluation, division: Division) -> Model<'a> {
    let components = piece.components.iter().zip(&evaluation.components);
    let placed = components.zip(places(evaluation));
    let parts = match division {
        Division::Together => {
            let meshes = placed.map(|((_, made), place)| moved(&made.mesh, place));
            let mesh = meshes.reduce(|mut all, mesh| {
                all.to_mut().append(&mesh);
                all
            });
            let first = piece.first();
            vec![Part {
                name: Cow::Borrowed(&piece.name),
                filament: &piece.filaments[piece.filament_of(first, None)],
                mesh: mesh.unwrap_or_default(),
            }]
        }
        Division::Split | Division::Apart => placed
            .flat_map(|((component, made), place)| parts_of(piece, component, made, place))
            .collect(),
    };
    let is_one_object = division != Division::Apart;
    Model { name: &piece.name, date: None, parts, is_one_object, picture: None }
}

fn parts_of<'a>(
    piece: &'a Piece,
    component: &'a Component,
    made: &'a Made,
    place: f64,
) -> Vec<Part<'a>> {
    let is_only = piece.components.len() == 1;
    let called = component.called();
    let part = |body: &'a crate::evaluate::ColourBody| {
        let filament = &piece.filaments[body.filament];
        let colour = super::naming::called(piece, body.filament);
        let name = if is_only { colour } else { Cow::Owned(format!("{called}, {colour}")) };
        Part { name, filament, mesh: moved(&body.mesh, place) }
    };
    made.bodies.iter().map(part).collect()
}

fn moved(mesh: &Mesh, right: f64) -> Cow<'_, Mesh> {
    if right == 0.0 {
        return Cow::Borrowed(mesh);
    }
    let mut mesh = mesh.clone();
    mesh.vertices.iter_mut().for_each(|vertex| vertex[0] += right);
    Cow::Owned(mesh)
}
