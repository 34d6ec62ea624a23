//! Why there is no solid at all.

use super::{Finding, Job, Weight, rounded_down};
use crate::evaluate::{Placed, Stop};
use crate::piece::{Address, Edit, ElementKind, Hole, Kind, Repeat};
use crate::plane::{MAX_COORDINATE_MM, Rect};
use crate::stock::MAX_EXTENT_MM;
use crate::units::{Length, format_length};

/// What is said of a component that could not be made.
pub(super) fn said(job: &Job<'_>, stop: &Stop) -> Finding {
    match stop {
        Stop::OutOfReach { element } => out_of_reach(job, element),
        Stop::MeshMissing => mesh_missing(job),
        Stop::ShapeMissing => {
            let message = "The shape this plate has is not here. Open the archive the piece was exported \
                           as, read its drawing again on the page of shapes, or choose another outline.";
            job.of_blank("shape-missing", Weight::Stop, message.to_owned()).field("outline")
        }
        Stop::MeshOutOfScale => {
            let limit = format_length(Length::mm(MAX_EXTENT_MM), job.piece.units);
            let message = format!(
                "At this scale the mesh is less than a millimetre across or more than {limit}. \
                 Choose the unit it was drawn in."
            );
            job.of_blank("mesh-missing", Weight::Stop, message).field("scale")
        }
        Stop::NothingLeft => {
            let has_hole =
                job.component.elements.iter().any(|one| matches!(one.kind, Kind::Hole(_)));
            let advice = if has_hole {
                let largest = format_length(Length::mm(job.shorter_side()), job.piece.units);
                format!("A hole in it must be smaller than {largest}.")
            } else {
                "Cut out less, or make it larger.".to_owned()
            };
            let message = format!(
                "Nothing is left of the {}: what is cut out covers all of it. {advice}",
                job.blank()
            );
            let finding = job.of_blank("nothing-left", Weight::Stop, message);
            smaller_hole(job, finding)
        }
        Stop::NotBuildable(error) => {
            let message = format!("This cannot be built: {error}. Take some elements away.");
            let target = match job.is_only() {
                true => Address::Piece,
                false => job.component.address(),
            };
            Finding::new("not-buildable", Weight::Stop, target, message)
        }
    }
}

/// Offers the largest hole a third as wide as the face is on its shorter side.
fn smaller_hole(job: &Job<'_>, finding: Finding) -> Finding {
    let wide = |hole: &Hole| hole.diameter.as_mm();
    let largest = job.holes().max_by(|(a, _), (b, _)| wide(a).total_cmp(&wide(b)));
    let third = rounded_down(job.shorter_side() / 3.0);
    match largest {
        Some((_, placed)) if third > 0.5 => finding.remedy(
            format!("Make the hole {} across", job.shown(third)),
            vec![job.set(&placed.id, "diameter", third)],
        ),
        _ => finding,
    }
}

/// An element reaches further than coordinates go.
fn out_of_reach(job: &Job<'_>, element: &str) -> Finding {
    let limit = format_length(Length::mm(2.0 * MAX_COORDINATE_MM), job.piece.units);
    let placed = job.layout.element(element);
    let is_within = |frame: &Rect| {
        Rect::centred(2.0 * MAX_COORDINATE_MM, 2.0 * MAX_COORDINATE_MM).contains(frame)
    };
    let copies = placed.filter(|placed| is_within(&placed.frame) && is_repeated(job, element));
    let (field, message) = match placed.filter(|placed| placed.kind == ElementKind::Lettering) {
        _ if copies.is_some() => {
            let message = format!(
                "The copies of this reach beyond the {limit} there is room for. Make fewer of them, \
                 or put them closer."
            );
            ("repeat", message)
        }
        Some(placed) => {
            let width = Length::mm(placed.frame.width().round());
            let length = format_length(width, job.piece.units);
            // What is short enough lies too far out.
            let message = match placed.frame.width() > 2.0 * MAX_COORDINATE_MM {
                true => format!(
                    "The lettering would be {length} long and reach beyond the {limit} there is room for. Use \
                     fewer or smaller letters."
                ),
                false => format!(
                    "The lettering, {length} long, lies so far out that it reaches beyond the {limit} there is room \
                     for. Bring it back, or use fewer or smaller letters."
                ),
            };
            ("lines", message)
        }
        None => {
            let message = format!(
                "This reaches beyond the {limit} there is room for. Bring it back to the plate."
            );
            ("", message)
        }
    };
    let finding = job.finding("out-of-reach", Weight::Stop, element, message).field(field);
    let back = job.place_in_clear(element);
    match (copies, field) {
        (Some(_), _) => {
            finding.remedy("Make only one of it", vec![job.set(element, "repeat", "once")])
        }
        (None, "lines") => smaller_letters(job, finding, element, &back),
        (None, _) => finding.remedy("Bring it back to the middle", back.to_vec()),
    }
}

/// Offers letters as large as fill the clear area, or half of that, where they are; and in its middle.
fn smaller_letters(job: &Job<'_>, finding: Finding, id: &str, back: &[Edit]) -> Finding {
    let own = job.lettering().find(|(_, placed)| placed.id == id);
    // What does not run straight is made smaller in proportion.
    let in_proportion = |placed: &Placed| {
        let (clear, frame) = (job.layout.clear_of(placed.face)?, placed.frame);
        let share = (clear.width() / frame.width()).min(clear.height() / frame.height());
        Some(share * placed.drawn.letter_height)
    };
    let fitted = own.and_then(|(lettering, placed)| {
        job.fitted(lettering, placed).or_else(|| in_proportion(placed))
    });
    let Some(fitted) = fitted else { return finding };
    let ways = [(1.0, &[][..]), (0.5, &[]), (1.0, back)];
    ways.into_iter().fold(finding, |finding, (share, moved)| {
        let tall = rounded_down(share * fitted);
        let edit = job.letters(id, tall);
        finding.remedy(format!("Make the letters {}", job.shown(tall)), [&[edit], moved].concat())
    })
}

/// Whether an element has copies.
fn is_repeated(job: &Job<'_>, id: &str) -> bool {
    job.component.element(id).is_some_and(|element| element.repeat() != Repeat::Once)
}

/// The mesh it is made of is not there.
fn mesh_missing(job: &Job<'_>) -> Finding {
    let file = job.component.mesh().map(|mesh| mesh.file.as_str()).unwrap_or_default();
    let message = format!(
        "The mesh this piece is made of is not here: read the file “{file}” again on the page \
         of mesh files, and the piece is whole."
    );
    job.of_blank("mesh-missing", Weight::Stop, message).field("mesh")
}
