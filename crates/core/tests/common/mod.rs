//! What many tests need: a workshop of shipped things, pieces with something on them, and the first
//! component of what comes out.
#![allow(dead_code)]

use kalotype_core::cache::Cache;
use kalotype_core::edit::{Unapplied, apply};
use kalotype_core::evaluate::{Evaluation, Layout, Made, evaluate};
use kalotype_core::formats::read_drawing;
use kalotype_core::library::{Library, Shelf, Shipped};
use kalotype_core::piece::{
    Address, Component, Edit, EditError, Element, ElementKind, Kind, Piece,
};
use kalotype_core::plane::Tolerance;
use kalotype_core::preflight::{self, Finding};
use kalotype_core::shapes::{Chosen, LineUse, Shape, take};
use kalotype_core::units::Unit;
use kalotype_core::workshop::Workshop;
use proptest::test_runner::Config;
use std::ops::Deref;

/// So many random cases, or as many as `PROPTEST_CASES` says.
pub fn cases(usual: u32) -> Config {
    let cases = match std::env::var_os("PROPTEST_CASES") {
        Some(_) => Config::default().cases,
        None => usual,
    };
    Config { cases, failure_persistence: None, ..Config::default() }
}

/// A cache of its own, so that no test rests on what another left.
pub fn cache() -> Cache {
    Cache::new(16 << 20)
}

/// Does something in a fresh workshop of shipped things.
pub fn with_workshop<T>(tolerance: Tolerance, work: impl FnOnce(&Workshop<'_>) -> T) -> T {
    work(&Workshop::new(&Shipped, &cache(), tolerance))
}

/// The address of "piece", "component", "blank" or an element, in the first component.
pub fn address(target: &str) -> Address {
    let first = Component::FIRST.to_owned();
    match target {
        "piece" => Address::Piece,
        "component" => Address::Component(first),
        "blank" => Address::Blank(first),
        element => Address::Element(first, element.to_owned()),
    }
}

/// The edit that puts a value into a field.
pub fn set(target: &str, field: &str, value: impl Into<serde_json::Value>) -> Edit {
    Edit::set(&address(target), field, value)
}

/// The edit that adds an element to the front of the first component.
pub fn add(kind: ElementKind) -> Edit {
    Edit::add(Component::FIRST, kind)
}

/// A piece after edits, or why one was refused.
pub fn try_edits(piece: &Piece, edits: &[Edit]) -> Result<Piece, EditError> {
    let applied = with_workshop(Tolerance::Draft, |workshop| apply(piece, edits, workshop));
    applied.map(|applied| applied.piece).map_err(|error| match error {
        Unapplied::Refused(error) => error,
        Unapplied::Halted(_) => unreachable!("nobody stops it"),
    })
}

/// A piece after edits that fit.
pub fn edited(piece: &Piece, edits: &[Edit]) -> Piece {
    try_edits(piece, edits).unwrap()
}

/// A new piece in millimetres with elements of these kinds on it.
pub fn fresh(kinds: &[ElementKind]) -> Piece {
    let piece = Piece::new("Berth 7", Unit::Millimetre);
    edited(&piece, &kinds.iter().map(|kind| add(*kind)).collect::<Vec<_>>())
}

/// An element on the front.
pub fn element(id: &str, kind: impl Into<Kind>) -> Element {
    Element::new(id, kind)
}

/// A piece worked out.
pub fn evaluated(piece: &Piece, tolerance: Tolerance) -> Evaluation {
    with_workshop(tolerance, |workshop| evaluate(piece, workshop).unwrap())
}

/// The first component of a piece worked out, with what preflight finds in the piece. The remedies were not tried.
pub struct Worked {
    pub evaluation: Evaluation,
    pub findings: Vec<Finding>,
}

impl Deref for Worked {
    type Target = Made;

    fn deref(&self) -> &Made {
        &self.evaluation.components[0]
    }
}

/// Works a piece out with shipped things.
pub fn worked(piece: &Piece, tolerance: Tolerance) -> Worked {
    worked_with(&Shipped, piece, tolerance)
}

/// Works a piece out with what a library has.
pub fn worked_with(library: &dyn Library, piece: &Piece, tolerance: Tolerance) -> Worked {
    let cache = cache();
    let workshop = Workshop::new(library, &cache, tolerance);
    let evaluation = evaluate(piece, &workshop).unwrap();
    let findings = preflight::found(piece, &evaluation, &workshop).unwrap();
    Worked { evaluation, findings }
}

/// The first component of a piece with everything in its place.
pub fn placed(piece: &Piece, tolerance: Tolerance) -> Layout {
    worked(piece, tolerance).layout.clone()
}

/// That a figure is another but for a share of it.
#[track_caller]
pub fn close(found: f64, exact: f64, relative: f64) {
    assert!((found - exact).abs() <= relative * exact.abs(), "{found} is not {exact}");
}

/// Puts the shape of an SVG, its body given, on a shelf: 100 × 100 mm to 100 × 100 units. Its id and its width.
pub fn put_shape(shelf: &mut Shelf, body: &str, lines: Option<LineUse>) -> (String, f64) {
    let svg = format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"100mm\" height=\"100mm\" \
         viewBox=\"0 0 100 100\">{body}</svg>"
    );
    let found = read_drawing(svg.as_bytes()).unwrap();
    let taken = take(&found, &Chosen { lines, ..Chosen::all(found.likely) }).unwrap();
    let shape = Shape::open(&taken.shapes[0].document.write(), "Shape").unwrap();
    let told = (shape.id.clone(), shape.size().0);
    shelf.put_shape(shape);
    told
}
