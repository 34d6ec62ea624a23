//! Why there is no solid at all.

use super::{Finding, Weight};
use crate::build::Placed;
use crate::piece::{ElementKind, MeshBlank, Piece};
use crate::plane::MAX_COORDINATE_MM;
use crate::solid::MeshError;
use crate::stock::{MAX_EXTENT_MM, on_shelf};
use crate::units::{Length, format_length};

/// An element reaches further than coordinates go.
pub(crate) fn out_of_reach(piece: &Piece, placed: &Placed) -> Finding {
    let limit = format_length(Length::mm(2.0 * MAX_COORDINATE_MM), piece.units);
    let length = format_length(Length::mm(placed.frame.width().round()), piece.units);
    let (field, message) = match placed.kind {
        ElementKind::Lettering => (
            "lines",
            format!(
                "The lettering would be {length} long and reach beyond the {limit} there is room \
                 for. Use fewer or smaller letters."
            ),
        ),
        _ => (
            "",
            format!(
                "This reaches beyond the {limit} there is room for. Bring it back to the plate."
            ),
        ),
    };
    Finding::new("out-of-reach", Weight::Stop, &placed.id, message).field(field)
}

/// The cuts took everything.
pub(crate) fn nothing_left(piece: &Piece) -> Finding {
    let component = piece.component();
    let largest = format_length(Length::mm(component.shorter_side()), piece.units);
    let message = format!(
        "Nothing is left of the {}: what is cut out covers all of it. A hole in it must be \
         smaller than {largest}.",
        component.blank.word()
    );
    Finding::new("nothing-left", Weight::Stop, "blank", message)
}

/// The mesh it is made of is not there, or cannot stand on a bed at its scale.
pub(crate) fn mesh_missing(piece: &Piece, mesh: &MeshBlank) -> Finding {
    let (field, message) = match on_shelf(&mesh.mesh) {
        None => (
            "mesh",
            format!(
                "The mesh this piece is made of is not here: read the file “{}” again on the page \
                 of mesh files, and the piece is whole.",
                mesh.file
            ),
        ),
        Some(_) => {
            let limit = format_length(Length::mm(MAX_EXTENT_MM), piece.units);
            let message = format!(
                "At this scale the mesh is less than a millimetre across or more than {limit}. \
                 Choose the unit it was drawn in."
            );
            ("scale", message)
        }
    };
    Finding::new("mesh-missing", Weight::Stop, "blank", message).field(field)
}

/// The outlines are beyond what can be resolved.
pub(crate) fn not_buildable(error: &MeshError) -> Finding {
    let message = format!("This cannot be built: {error}. Take some elements away.");
    Finding::new("not-buildable", Weight::Stop, "piece", message)
}
