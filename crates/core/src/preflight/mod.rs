//! What goes wrong on the printer, said before the plastic is spent.
//!
//! Each check is a file with one function that looks at the piece and its layout and reports
//! [`Finding`]s. A finding names the element and the field it concerns, says how to mend it and,
//! where that can be done for the person, carries the edits that do.

mod back_to_back;
mod bed;
mod bridges;
mod circle;
mod codes;
mod colours;
mod contour_apart;
mod corners;
mod depth;
mod edge;
mod edges;
mod fields;
mod filled;
mod finding;
mod first_layer;
mod free;
mod growth;
mod hanging;
mod hidden;
mod hole_in_plate;
mod hole_through_letters;
mod layers;
mod letters_meet;
mod letters_missing;
mod letters_small;
mod lines_as_drawn;
mod lines_meet;
mod loose_parts;
mod mend;
mod mere_edges;
mod near_edge;
mod necks;
mod no_back;
mod no_change;
mod on_each_other;
mod once;
mod over_walls;
mod patterns;
mod points;
mod printed;
mod ring_opening;
mod room;
mod shape_missing;
mod slot;
mod socket;
mod spans;
mod spot;
mod stops;
mod thin;
mod thin_walls;
mod together;
mod tried;
mod typeface_missing;
mod unseen;
mod walls;
mod way_round;
mod words_missing;

pub use crate::piece::Remedy;
pub use finding::{Figures, Finding, Source, Weight};
pub use mend::{Mended, mend};
pub use printed::{Printed, printed};
pub use spot::Spot;

use crate::evaluate::{Evaluation, Layout, Made, Placed, Slice, WayOnFace, height_to_fit};
use crate::halt::{Halted, heed};
use crate::piece::{
    Address, Component, Edit, Element, Hole, Kind, LetterSize, Lettering, Piece, Relief, Repeat,
    SetAside,
};
use crate::units::{Length, format_length};
use crate::workshop::Workshop;
use serde_json::{Value, json};
use std::cell::OnceCell;
use std::sync::Arc;

/// The next lower figure that somebody would type: a whole number of twentieths of a millimetre.
fn rounded_down(mm: f64) -> f64 {
    (mm * 20.0 + 1e-6).floor() / 20.0
}

/// The next higher one.
fn rounded_up(mm: f64) -> f64 {
    (mm * 20.0 - 1e-6).ceil() / 20.0
}

/// Smaller letters are not offered, in mm (ours).
const SMALLEST_LETTERS_MM: f64 = 2.0;

/// What a check looks at: a component as it was asked for, and as it was made.
struct Job<'a> {
    piece: &'a Piece,
    component: &'a Component,
    made: &'a Arc<Made>,
    layout: &'a Layout,
    workshop: &'a Workshop<'a>,
    /// Its distinct sections, once somebody asked for them.
    slices: OnceCell<Option<Vec<Slice>>>,
}

impl Job<'_> {
    /// The distinct sections of the component; none where there are too many to look at.
    fn slices(&self) -> &[Slice] {
        self.slices.get_or_init(|| self.made.slices()).as_deref().unwrap_or_default()
    }

    /// Whether it has more sections than are looked at.
    fn has_too_many_slices(&self) -> bool {
        self.slices.get_or_init(|| self.made.slices()).is_none()
    }

    fn pairs(&self) -> impl Iterator<Item = (&Element, &Placed)> {
        self.component.elements.iter().zip(&self.layout.elements)
    }

    fn lettering(&self) -> impl Iterator<Item = (&Lettering, &Placed)> {
        self.pairs().filter_map(|(element, placed)| match &element.kind {
            Kind::Lettering(lettering) => Some((lettering, placed)),
            _ => None,
        })
    }

    fn holes(&self) -> impl Iterator<Item = (&Hole, &Placed)> {
        self.pairs().filter_map(|(element, placed)| match &element.kind {
            Kind::Hole(hole) => Some((hole, placed)),
            _ => None,
        })
    }

    /// What is put on the face in relief: lettering, emblems and codes.
    fn figures(&self) -> impl Iterator<Item = Figure<'_>> {
        self.pairs().filter_map(|(element, placed)| match &element.kind {
            Kind::Lettering(one) => Some(Figure {
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
            Kind::Emblem(one) => Some(Figure {
                noun: "emblem",
                lettering: None,
                size: one.width.as_mm(),
                size_field: "width",
                relief: one.relief,
                is_repeated: one.repeat != Repeat::Once,
                placed,
            }),
            Kind::Code(one) => Some(Figure {
                noun: "code",
                lettering: None,
                size: one.module.as_mm(),
                size_field: "module",
                relief: one.relief,
                is_repeated: one.repeat != Repeat::Once,
                placed,
            }),
            _ => None,
        })
    }

    /// Whether the piece has no other component.
    fn is_only(&self) -> bool {
        self.piece.components.len() == 1
    }

    /// What the component starts from, as it is called in a sentence.
    fn blank(&self) -> &'static str {
        self.component.blank.noun()
    }

    /// The smaller side of the face that is worked on, in mm.
    fn shorter_side(&self) -> f64 {
        let guide = self.layout.blank.guide;
        guide.width().min(guide.height())
    }

    /// What things must not run over: the plate, or the worked face of a mesh.
    fn face(&self) -> &'static str {
        if self.layout.stock.is_some() || self.layout.has_charts() { "face" } else { "plate" }
    }

    /// The address of an element.
    fn address(&self, element: &str) -> Address {
        self.component.element_address(element)
    }

    /// A finding that concerns an element.
    fn finding(
        &self,
        code: &'static str,
        weight: Weight,
        element: &str,
        message: String,
    ) -> Finding {
        Finding::new(code, weight, self.address(element), message)
    }

    /// A finding that concerns the blank.
    fn of_blank(&self, code: &'static str, weight: Weight, message: String) -> Finding {
        Finding::new(code, weight, self.component.blank_address(), message)
    }

    /// The edit that puts a value into a field of an element.
    fn set(&self, element: &str, field: &str, value: impl Into<Value>) -> Edit {
        Edit::set(&self.address(element), field, value)
    }

    /// The edit that places an element along an axis, so many mm from a datum.
    fn place(&self, element: &str, axis: &str, from: &str, distance: f64) -> Edit {
        let place = json!({ "from": from, "distance": distance });
        self.set(element, &format!("place.{axis}"), place)
    }

    /// The edits that put an element into the middle of the clear area.
    fn place_in_clear(&self, element: &str) -> [Edit; 2] {
        ["across", "up"].map(|axis| self.place(element, axis, "clear", 0.0))
    }

    /// The edit that moves an element by so many mm, as the sections are seen from the front.
    fn shift(&self, placed: &Placed, across: f64, up: f64) -> Edit {
        let WayOnFace { across, up } = self.layout.way_on_face(placed, (across, up));
        Edit::Shift { target: self.address(&placed.id), across: across + 0.0, up: up + 0.0 }
    }

    /// The edit that makes letters so many mm tall.
    fn letters(&self, element: &str, mm: f64) -> Edit {
        self.set(element, "size", json!({ "height": mm }))
    }

    /// How tall letters of words can be in the clear area of their face, in mm.
    fn fitted(&self, lettering: &Lettering, placed: &Placed) -> Option<f64> {
        let clear = self.layout.clear_of(placed.face)?;
        height_to_fit(self.piece, lettering, clear, self.workshop).map(rounded_down)
    }

    /// The edit that puts a value into a field of the blank.
    fn set_blank(&self, field: &str, value: impl Into<Value>) -> Edit {
        Edit::set(&self.component.blank_address(), field, value)
    }

    /// A length as the piece shows lengths.
    fn shown(&self, mm: f64) -> String {
        format_length(Length::mm((mm * 100.0).round() / 100.0), self.piece.units)
    }
}

/// Lettering, an emblem or a code.
#[derive(Clone, Copy)]
struct Figure<'a> {
    /// What to call it.
    noun: &'static str,
    /// Letter height, width or module in mm.
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

/// Looks a piece through; the weightiest findings come first. A component that could not be made has one finding,
/// which says why. What is offered to mend a finding was tried: it mends it, and leaves nothing weightier.
///
/// # Errors
/// [`Halted`] where the work was stopped: what a stopped look did not find is no good news.
pub fn run(
    piece: &Piece,
    evaluation: &Evaluation,
    workshop: &Workshop<'_>,
) -> Result<Vec<Finding>, Halted> {
    let mut findings = found(piece, evaluation, workshop)?;
    workshop.over(|| tried::keep_what_mends(piece, &mut findings, workshop))?;
    let beyond = findings.len().saturating_sub(MOST_TOLD);
    if beyond > 0 {
        findings.truncate(MOST_TOLD);
        let message = format!("There are {beyond} findings more. Mend these first.");
        findings.push(Finding::new("more-findings", Weight::Note, Address::Piece, message));
    }
    Ok(findings)
}

/// More findings are only counted: nobody reads them.
const MOST_TOLD: usize = 60;

type Check = fn(&Job<'_>) -> Vec<Finding>;

/// A check of all components together, which knows what was found of each.
type CheckOfAll = fn(&Piece, &Evaluation, &Workshop<'_>, &[Finding]) -> Vec<Finding>;

/// The checks that say of a value just typed that it cannot be carried out.
const AT_ONCE: [Check; 3] = [hole_in_plate::check, depth::check, fields::check];

/// What speaks against keeping a piece as it is: why there is no solid of it, and values that cannot be carried
/// out. A small part of what [`run`] says, and at once.
///
/// # Errors
/// [`Halted`] where the work was stopped.
pub fn objections(
    piece: &Piece,
    evaluation: &Evaluation,
    workshop: &Workshop<'_>,
) -> Result<Vec<Finding>, Halted> {
    let mut all = workshop.over(|| checked(piece, evaluation, workshop, &AT_ONCE, &[]))?;
    all.retain(|finding| finding.weight == Weight::Stop || finding.is_conflict());
    Ok(all)
}

/// Everything that is found, with remedies that were not tried: for who does not offer them.
///
/// # Errors
/// [`Halted`] where the work was stopped.
pub fn found(
    piece: &Piece,
    evaluation: &Evaluation,
    workshop: &Workshop<'_>,
) -> Result<Vec<Finding>, Halted> {
    const CHECKS: &[Check] = &[
        words_missing::check,
        typeface_missing::check,
        shape_missing::check,
        lines_as_drawn::check,
        letters_missing::check,
        codes::check,
        patterns::check,
        growth::check,
        edge::check,
        hole_through_letters::check,
        hole_in_plate::check,
        depth::check,
        back_to_back::check,
        no_back::check,
        unseen::check,
        corners::check,
        ring_opening::check,
        slot::check,
        socket::check,
        hidden::check,
        fields::check,
        over_walls::check,
        edges::check,
        filled::check,
        letters_small::check,
        lines_meet::check,
        letters_meet::check,
        circle::check,
        way_round::check,
        contour_apart::check,
        loose_parts::check,
        bridges::check,
        necks::check,
        thin::check,
        on_each_other::check,
        no_change::check,
        near_edge::check,
        layers::check,
        points::check,
        spans::check,
        walls::check,
        thin_walls::check,
        mere_edges::check,
        colours::check,
        bed::check,
        hanging::check,
        first_layer::check,
    ];
    workshop
        .over(|| checked(piece, evaluation, workshop, CHECKS, &[together::check, bed::overlapping]))
}

fn checked(
    piece: &Piece,
    evaluation: &Evaluation,
    workshop: &Workshop<'_>,
    checks: &[Check],
    of_all: &[CheckOfAll],
) -> Vec<Finding> {
    let mut findings = Vec::new();
    for (component, made) in piece.components.iter().zip(&evaluation.components) {
        let slices = OnceCell::new();
        let job = Job { piece, component, made, layout: &made.layout, workshop, slices };
        match &made.stop {
            Some(stop) => findings.push(stops::said(&job, stop)),
            None => {
                findings.extend(checks.iter().inspect(|_| heed()).flat_map(|check| check(&job)))
            }
        }
    }
    for check in of_all {
        let more = check(piece, evaluation, workshop, &findings);
        findings.extend(more);
    }
    once::each(&mut findings);
    for finding in &mut findings {
        let is_it = |one: &&SetAside| one.code == finding.code && one.target == finding.target;
        finding.set_aside = piece.set_aside.iter().find(is_it).map(|one| one.reason.clone());
    }
    findings.sort_by_key(|finding| (finding.set_aside.is_some(), finding.weight));
    findings
}

#[cfg(test)]
mod tests;
