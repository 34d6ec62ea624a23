//! What goes wrong on the printer, said before the plastic is spent.
//!
//! Each check is a file with one function that looks at the piece and its layout and reports
//! [`Finding`]s. A finding names the element and the field it concerns, says how to mend it and,
//! where that can be done for the person, carries the edits that do.

mod back_to_back;
mod circle;
mod contour_apart;
mod corners;
mod depth;
mod edge;
mod edges;
mod fields;
mod finding;
mod hole_in_plate;
mod hole_through_letters;
mod letters_missing;
mod letters_small;
mod loose_parts;
mod mere_edges;
mod no_back;
mod stops;
mod typeface_missing;
mod unseen;
mod words_missing;

pub use finding::{Finding, Remedy, Weight};
pub(crate) use stops::{mesh_missing, not_buildable, nothing_left, out_of_reach};

use crate::build::{Layout, Placed};
use crate::piece::{Element, Hole, LetterSize, Lettering, Piece, Relief, Repeat};
use crate::units::{Length, format_length};

/// What a check looks at.
struct Job<'a> {
    piece: &'a Piece,
    layout: &'a Layout,
    parts: usize,
    partings: usize,
}

impl Job<'_> {
    fn pairs(&self) -> impl Iterator<Item = (&Element, &Placed)> {
        self.piece.component().elements.iter().zip(&self.layout.elements)
    }

    fn lettering(&self) -> impl Iterator<Item = (&Lettering, &Placed)> {
        self.pairs().filter_map(|(element, placed)| match element {
            Element::Lettering(lettering) => Some((lettering, placed)),
            _ => None,
        })
    }

    fn holes(&self) -> impl Iterator<Item = (&Hole, &Placed)> {
        self.pairs().filter_map(|(element, placed)| match element {
            Element::Hole(hole) => Some((hole, placed)),
            _ => None,
        })
    }

    /// What is put on the face in relief: lettering and emblems.
    fn figures(&self) -> impl Iterator<Item = Figure<'_>> {
        self.pairs().filter_map(|(element, placed)| match element {
            Element::Lettering(one) => Some(Figure {
                noun: "lettering",
                size: placed.drawn.letter_height,
                size_field: match one.size {
                    LetterSize::Height(_) => "size.height",
                    LetterSize::Box(_) | LetterSize::ClearArea => "size",
                },
                lettering: Some(one),
                relief: one.relief,
                is_repeated: one.repeat != Repeat::Once,
                placed,
            }),
            Element::Emblem(one) => Some(Figure {
                noun: "emblem",
                lettering: None,
                size: one.width.as_mm(),
                size_field: "width",
                relief: one.relief,
                is_repeated: one.repeat != Repeat::Once,
                placed,
            }),
            _ => None,
        })
    }

    /// What the component starts from: "plate" or "mesh".
    fn blank(&self) -> &'static str {
        self.piece.component().blank.word()
    }

    /// What things must not run over: the plate, or the worked face of a mesh.
    fn face(&self) -> &'static str {
        match self.layout.stock {
            Some(_) => "face",
            None => "plate",
        }
    }

    /// A length as the piece shows lengths.
    fn shown(&self, mm: f64) -> String {
        format_length(Length::mm((mm * 100.0).round() / 100.0), self.piece.units)
    }
}

/// Lettering or an emblem.
#[derive(Clone, Copy)]
struct Figure<'a> {
    /// What to call it.
    noun: &'static str,
    /// Letter height or width in mm.
    size: f64,
    /// The field that holds it.
    size_field: &'static str,
    relief: Relief,
    /// The lettering, if it is one.
    lettering: Option<&'a Lettering>,
    /// Whether there are copies of it, which a remedy for one would not suit.
    is_repeated: bool,
    placed: &'a Placed,
}

/// Runs every check. `parts` is the number of loose parts the solid falls into, `partings` the number
/// of places where it touched itself along a mere edge.
pub fn run(piece: &Piece, layout: &Layout, parts: usize, partings: usize) -> Vec<Finding> {
    const CHECKS: [fn(&Job<'_>) -> Vec<Finding>; 18] = [
        words_missing::check,
        typeface_missing::check,
        letters_missing::check,
        edge::check,
        hole_through_letters::check,
        hole_in_plate::check,
        depth::check,
        back_to_back::check,
        no_back::check,
        unseen::check,
        corners::check,
        fields::check,
        edges::check,
        letters_small::check,
        circle::check,
        contour_apart::check,
        loose_parts::check,
        mere_edges::check,
    ];
    let job = Job { piece, layout, parts, partings };
    CHECKS.iter().flat_map(|check| check(&job)).collect()
}

#[cfg(test)]
mod tests;
