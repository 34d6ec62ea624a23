//! What a document may hold at all. Whether its sizes suit each other is for preflight to say.

use super::address::is_id;
use super::limits::{self, Limit, Measure};
use super::{Address, Component, Edge, Element, FORMAT_VERSION, Kind, LetteringPlace, Piece};
use crate::lettering::{OWN_FACE, TYPEFACES, shipped};
use crate::units::{Length, Unit, format_length};
use std::collections::HashSet;

/// The most filaments a piece can have.
const MOST_FILAMENTS: usize = 16;

/// The most components a piece can have.
pub const MOST_COMPONENTS: usize = 8;

/// The most elements a component can have.
const MOST_ELEMENTS: usize = 100;

/// The most copies that the elements of a component come to in all.
const MOST_COPIES: u32 = 1000;

/// The most letters a component can have, its texts filled in, its copies counted, and those with
/// treated edges weighed by the work they make ([`weight_of`]): so many take about a second to work out
/// for the page on one core, and up to ten at the finest tolerance.
const MOST_LETTERS: usize = 3000;

/// The most modules the codes of a component come to: so many take about a second to work out for the page.
const MOST_MODULES: usize = 60_000;

/// How much more work a letter makes with its edges treated: a chamfer needs its inset and its ridges,
/// a round those of every chord.
fn weight_of(edge: Edge) -> usize {
    match edge {
        Edge::Square => 1,
        Edge::Chamfer(_) => 2,
        Edge::Round(_) => 4,
    }
}

/// The most characters of a name.
const LONGEST_NAME: usize = 120;

/// The most characters of the name of a component.
const LONGEST_COMPONENT_NAME: usize = 60;

/// A value a piece cannot have.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Problem {
    /// What it concerns.
    pub target: Address,
    /// The field of the target, with dots.
    pub field: String,
    /// Where it stands in the file, for example `components[0].elements[2].kind.hole.diameter`.
    pub path: String,
    /// What is wrong and what would be right.
    pub message: String,
}

/// Collects problems, each at the place that was gone to last.
pub(crate) struct Checker {
    units: Unit,
    target: Address,
    path: String,
    problems: Vec<Problem>,
}

/// A text that somebody else wrote, cut to what can be shown in a sentence.
pub(super) fn cut(text: &str) -> String {
    const SHOWN: usize = 40;
    let mut shown: String = text.chars().take(SHOWN).collect();
    if text.chars().nth(SHOWN).is_some() {
        shown.push('…');
    }
    shown
}

impl Checker {
    pub(super) fn new(units: Unit) -> Self {
        Checker { units, target: Address::Piece, path: String::new(), problems: Vec::new() }
    }

    /// A length in mm as the piece shows lengths, to a hundredth of a millimetre; the last figure is never rounded up, so
    /// that what is called the most can be had.
    pub fn at_most(&self, mm: f64) -> String {
        let tidy = (mm.max(0.0) * 100.0 + 1e-6).floor() / 100.0;
        format_length(Length::mm(tidy), self.units)
    }

    /// A length in mm as the piece shows lengths.
    pub fn shown(&self, mm: f64) -> String {
        format_length(Length::mm((mm * 100.0).round() / 100.0), self.units)
    }

    /// Everything that was reported.
    pub(super) fn into_problems(self) -> Vec<Problem> {
        self.problems
    }

    pub(super) fn at(&mut self, target: Address, path: String) -> &mut Self {
        self.target = target;
        self.path = path;
        self
    }

    pub fn report(&mut self, field: &str, message: String) {
        self.problems.push(Problem {
            target: self.target.clone(),
            field: field.to_owned(),
            path: format!("{}{field}", self.path),
            message,
        });
    }

    /// A figure that stands in the field its limit names.
    pub fn length(&mut self, limit: &Limit, value: Length) {
        self.figure(limit.field, limit, value.as_mm());
    }

    /// The same in another field.
    pub fn length_at(&mut self, field: &str, limit: &Limit, value: Length) {
        self.figure(field, limit, value.as_mm());
    }

    pub fn number(&mut self, limit: &Limit, value: f64) {
        self.figure(limit.field, limit, value);
    }

    pub fn number_at(&mut self, field: &str, limit: &Limit, value: f64) {
        self.figure(field, limit, value);
    }

    pub fn count(&mut self, limit: &Limit, value: u32) {
        self.figure(limit.field, limit, value.into());
    }

    pub fn count_at(&mut self, field: &str, limit: &Limit, value: u32) {
        self.figure(field, limit, value.into());
    }

    pub fn angle(&mut self, field: &str, degrees: f64) {
        self.figure(field, &limits::TURN, degrees);
    }

    pub fn place(&mut self, across: Length, up: Length) {
        self.length_at("place.across.distance", &limits::DISTANCE, across);
        self.length_at("place.up.distance", &limits::DISTANCE, up);
    }

    /// A place that may be by another element; whether there is such a one the component knows.
    pub fn lettering_place(&mut self, place: &LetteringPlace) {
        self.place(place.across.distance, place.up.distance);
        if let Some(by) = &place.by {
            self.length(&limits::BESIDE_GAP, by.gap);
            self.length(&limits::BESIDE_SHIFT, by.shift);
        }
    }

    /// The unit lengths are said in.
    pub fn units(&self) -> Unit {
        self.units
    }

    fn figure(&mut self, field: &str, limit: &Limit, value: f64) {
        if (limit.low..=limit.high).contains(&value) {
            return;
        }
        let shown = |figure: f64| match limit.measure {
            Measure::Length => format_length(Length::mm(figure), self.units),
            Measure::Angle => format!("{figure}°"),
            Measure::Number | Measure::Count => figure.to_string(),
        };
        let (low, high, found) = (shown(limit.low), shown(limit.high), shown(value));
        self.report(field, format!("{} can be {low} to {high}, not {found}.", limit.what));
    }

    /// A typeface: unknown ones of the user's own are let pass, since a piece may come from another
    /// shelf; preflight says so.
    pub fn typeface(&mut self, field: &str, id: &str) {
        const LONGEST_ID: usize = 80;
        if (id.starts_with(OWN_FACE) && id.len() <= LONGEST_ID) || shipped(id).is_some() {
            return;
        }
        let known: Vec<_> = TYPEFACES.iter().map(|t| t.id.as_ref()).collect();
        let known = known.join(", ");
        self.report(field, format!("There is no typeface “{}”. There are: {known}.", cut(id)));
    }

    /// A colour, which must be one of the piece's filaments.
    fn colour(&mut self, piece: &Piece, field: &str, colour: &str) {
        if !piece.filaments.iter().any(|filament| filament.id == colour) {
            let known: Vec<_> = piece.filaments.iter().map(|f| cut(&f.id)).collect();
            let (colour, known) = (cut(colour), known.join(", "));
            self.report(field, format!("The piece has no filament “{colour}”; it has {known}."));
        }
    }

    fn id(&mut self, id: &str, is_new: bool) {
        if !is_id(id) || !is_new {
            let message = format!(
                "“{}” cannot be an id here: it takes 1 to 40 letters, figures, - and _, and no two may \
                 be alike.",
                cut(id)
            );
            self.report("id", message);
        }
    }
}

impl Piece {
    /// Everything that keeps the document from being a piece; empty for a valid one.
    pub fn problems(&self) -> Vec<Problem> {
        let mut checker = Checker::new(self.units);
        if self.kalotype != FORMAT_VERSION {
            let message = format!(
                "This is version {}; version {FORMAT_VERSION} is known here.",
                self.kalotype
            );
            checker.report("kalotype", message);
        }
        let letters = self.name.chars().count();
        if self.name.trim().is_empty() {
            checker.report("name", "Give the piece a name; its file is named after it.".to_owned());
        } else if letters > LONGEST_NAME {
            let message =
                format!("The name has {letters} characters; {LONGEST_NAME} are the most.");
            checker.report("name", message);
        }
        self.check_inputs(&mut checker);
        self.check_filaments(&mut checker);
        self.layers.check(&mut checker);
        self.printer.check(&mut checker);
        super::set_aside::check(&self.set_aside, &mut checker);
        let letters = self.file_name.chars().count();
        if self.file_name.trim().is_empty() || letters > LONGEST_NAME {
            let message = format!("The file name can have 1 to {LONGEST_NAME} characters.");
            checker.report("file_name", message);
        }
        let count = self.components.len();
        if count == 0 || count > MOST_COMPONENTS {
            let message = format!("A piece has 1 to {MOST_COMPONENTS} components, not {count}.");
            checker.report("components", message);
        }
        let mut ids = HashSet::new();
        for (i, component) in self.components.iter().take(MOST_COMPONENTS).enumerate() {
            let path = format!("components[{i}].");
            checker.at(component.address(), path.clone());
            checker.id(&component.id, ids.insert(&component.id));
            self.check_component(component, &path, &mut checker);
        }
        checker.at(Address::Piece, String::new());
        self.check_joints(&mut checker);
        checker.problems
    }

    fn check_filaments(&self, checker: &mut Checker) {
        if self.filaments.is_empty() || self.filaments.len() > MOST_FILAMENTS {
            let found = self.filaments.len();
            let message = format!("A piece has 1 to {MOST_FILAMENTS} filaments, not {found}.");
            checker.report("filaments", message);
        }
        let mut ids = HashSet::new();
        for (i, filament) in self.filaments.iter().take(MOST_FILAMENTS).enumerate() {
            for (field, message) in filament.problems() {
                checker.report(&format!("filaments.{i}.{field}"), message);
            }
            if !ids.insert(&filament.id) {
                let message = format!("“{}” is there twice.", cut(&filament.id));
                checker.report(&format!("filaments.{i}.id"), message);
            }
        }
    }

    fn check_component(&self, component: &Component, path: &str, checker: &mut Checker) {
        if component.name.chars().count() > LONGEST_COMPONENT_NAME {
            let message = format!("The name can have {LONGEST_COMPONENT_NAME} characters at most.");
            checker.report("name", message);
        }
        checker.length(&limits::MARGIN, component.margin);
        let at = format!("{path}blank.{}.", component.blank.word());
        checker.at(component.blank_address(), at);
        component.blank.check(&self.printer.drawn(), checker);
        for (field, colour) in component.blank.colours() {
            checker.colour(self, &field, colour);
        }
        checker.at(component.address(), path.to_owned());
        let count = component.elements.len();
        if count > MOST_ELEMENTS {
            let message = format!("{count} elements; {MOST_ELEMENTS} are the most.");
            checker.report("elements", message);
        }
        let mut ids = HashSet::new();
        for (j, element) in component.elements.iter().take(MOST_ELEMENTS).enumerate() {
            let address = component.element_address(&element.id);
            checker.at(address.clone(), format!("{path}elements[{j}]."));
            checker.id(&element.id, ids.insert(&element.id));
            checker.at(address, format!("{path}elements[{j}].kind.{}.", element.tag().word()));
            element.kind.fields().check(checker);
            if !component.blank.faces().contains(&element.face) {
                checker.report("face", component.blank.no_such_face(element.face));
            }
            if let (None, Kind::Loop(_)) = (component.plate(), &element.kind) {
                let noun = component.blank.noun();
                let message =
                    format!("A loop grows out of a plate; on a {noun}, drill a hole instead.");
                checker.report("at", message);
            }
            if let Some((field, Some(colour))) = element.kind.fields().colour() {
                checker.colour(self, field, colour);
            }
        }
        component.check_relations(path, checker);
        checker.at(component.address(), path.to_owned());
        self.check_budgets(component, checker);
    }

    /// What a component comes to in all: more would take too long to work out.
    fn check_budgets(&self, component: &Component, checker: &mut Checker) {
        let copies: u32 = component.elements.iter().map(|one| one.repeat().count()).sum();
        if copies > MOST_COPIES {
            let message = format!(
                "The elements come to {copies} with their copies; {MOST_COPIES} are the most."
            );
            checker.report("elements", message);
        }
        let modules: usize = component.elements.iter().map(|one| self.modules_of(one)).sum();
        if modules > MOST_MODULES {
            let message = format!(
                "The codes come to some {modules} modules with their copies; {MOST_MODULES} are the most. Say less in \
                 them, or use fewer copies."
            );
            checker.report("elements", message);
        }
        let letters: usize = component.elements.iter().map(|one| self.letters_of(one)).sum();
        if letters > MOST_LETTERS {
            let message = format!(
                "{letters} letters in all, where one with a chamfered edge counts for two and one \
                 with a rounded edge for four; {MOST_LETTERS} are the most. Use fewer letters or \
                 copies, or leave edges square."
            );
            checker.report("elements", message);
        }
    }

    /// About how many modules an element has to draw, texts filled in and copies counted: a QR code of the highest
    /// level has up to 26 for each byte (ISO/IEC 18004, table 7), beside the smallest one's 441.
    fn modules_of(&self, element: &Element) -> usize {
        let Kind::Code(code) = &element.kind else { return 0 };
        let bytes = self.filled_in(&code.words).len();
        (441 + 26 * bytes) * code.repeat.count() as usize
    }

    /// How many letters an element has to draw, texts filled in, copies counted and edges weighed.
    fn letters_of(&self, element: &Element) -> usize {
        let Kind::Lettering(lettering) = &element.kind else { return 0 };
        let letters: usize = lettering.lines.iter().map(|line| self.length_of(&line.words)).sum();
        letters * lettering.repeat.count() as usize * weight_of(lettering.edge)
    }
}
