//! What a document may hold at all. Whether its sizes suit each other is for preflight to say.

use super::{Blank, Element, FORMAT_VERSION, MOST_FILAMENTS, Piece};
use crate::lettering::{OWN_FACE, TYPEFACES, typeface};
use crate::units::{Length, Unit, format_length};
use std::collections::HashSet;
use std::ops::RangeInclusive;

/// A value a piece cannot have.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Problem {
    /// "piece", "component", "blank" or the id of an element.
    pub target: String,
    /// The field of the target, with dots.
    pub field: String,
    /// Where it stands in the file, for example `components[0].elements[2].hole.diameter`.
    pub path: String,
    /// What is wrong and what would be right.
    pub message: String,
}

/// Collects problems, each at the path that was set last.
pub(crate) struct Checker {
    units: Unit,
    target: String,
    path: String,
    problems: Vec<Problem>,
}

impl Checker {
    /// Nothing wrong yet.
    pub fn new(units: Unit) -> Self {
        Checker { units, target: "piece".to_owned(), path: String::new(), problems: Vec::new() }
    }

    /// What was reported.
    pub fn into_problems(self) -> Vec<Problem> {
        self.problems
    }

    fn at(&mut self, target: &str, path: String) -> &mut Self {
        self.target = target.to_owned();
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

    pub fn range(&mut self, field: &str, what: &str, value: Length, range: RangeInclusive<f64>) {
        if range.contains(&value.as_mm()) {
            return;
        }
        let shown = |mm: f64| format_length(Length::mm(mm), self.units);
        let (low, high) = (shown(*range.start()), shown(*range.end()));
        let found = shown(value.as_mm());
        self.report(field, format!("{what} can be {low} to {high}, not {found}."));
    }

    pub fn count(&mut self, field: &str, what: &str, value: u32, range: RangeInclusive<u32>) {
        if !range.contains(&value) {
            let (low, high) = (range.start(), range.end());
            self.report(field, format!("{what} can be {low} to {high}, not {value}."));
        }
    }

    pub fn share(&mut self, field: &str, what: &str, value: f64, range: RangeInclusive<f64>) {
        if !range.contains(&value) {
            let (low, high) = (range.start(), range.end());
            self.report(field, format!("{what} can be {low} to {high}, not {value}."));
        }
    }

    pub fn angle(&mut self, field: &str, degrees: f64) {
        if !(-360.0..=360.0).contains(&degrees) {
            self.report(field, format!("A turn can be −360° to 360°, not {degrees}°."));
        }
    }

    /// A typeface: unknown ones of the user's own are let pass, since a piece may come from another
    /// shelf; preflight says so.
    pub fn face(&mut self, field: &str, face: &str) {
        if face.starts_with(OWN_FACE) || typeface(face).is_some() {
            return;
        }
        let known: Vec<_> = TYPEFACES.iter().map(|t| t.id.as_ref()).collect();
        let known = known.join(", ");
        self.report(field, format!("There is no typeface “{face}”. There are: {known}."));
    }

    /// A colour, which must be one of the piece's filaments.
    fn colour(&mut self, piece: &Piece, field: &str, colour: &str) {
        if !piece.filaments.iter().any(|filament| filament.id == colour) {
            let known: Vec<_> = piece.filaments.iter().map(|f| f.id.as_str()).collect();
            let known = known.join(", ");
            self.report(field, format!("The piece has no filament “{colour}”; it has {known}."));
        }
    }

    pub fn place(&mut self, what: &str, across: Length, up: Length) {
        for (field, distance) in [("place.across.distance", across), ("place.up.distance", up)] {
            self.range(field, what, distance, -500.0..=500.0);
        }
    }
}

impl Piece {
    fn check_filaments(&self, checker: &mut Checker) {
        if self.filaments.is_empty() || self.filaments.len() > MOST_FILAMENTS {
            let found = self.filaments.len();
            let message = format!("A piece has 1 to {MOST_FILAMENTS} filaments, not {found}.");
            checker.report("filaments", message);
        }
        let mut ids = HashSet::new();
        for (i, filament) in self.filaments.iter().enumerate() {
            filament.check(&format!("filaments.{i}"), checker);
            if filament.id.is_empty() || !ids.insert(&filament.id) {
                let message = format!("“{}” cannot be used as an id here.", filament.id);
                checker.report(&format!("filaments.{i}.id"), message);
            }
        }
    }

    /// Everything that keeps the document from being a piece; empty for a valid one.
    pub fn problems(&self) -> Vec<Problem> {
        const MOST_ELEMENTS: usize = 100;
        const MOST_LETTERS: usize = 3000;
        const LONGEST_NAME: usize = 120;
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
        let letters = self.file_name.chars().count();
        if self.file_name.trim().is_empty() || letters > LONGEST_NAME {
            let message = format!("The file name can have 1 to {LONGEST_NAME} characters.");
            checker.report("file_name", message);
        }
        if self.components.len() != 1 {
            let message = format!("A piece has one component, not {}.", self.components.len());
            checker.report("components", message);
        }
        for (i, component) in self.components.iter().enumerate() {
            let path = format!("components[{i}].");
            checker.at("component", path.clone());
            checker.range("margin", "The margin", component.margin, 0.0..=100.0);
            checker.at("blank", format!("{path}blank.{}.", component.blank.word()));
            match &component.blank {
                Blank::Plate(plate) => plate.check(&mut checker),
                Blank::Mesh(mesh) => mesh.check(&mut checker),
            }
            for (field, colour) in component.blank.colours() {
                checker.colour(self, &field, colour);
            }
            let mut ids = HashSet::new();
            for (j, element) in component.elements.iter().enumerate() {
                let kind = element.kind().word();
                checker.at(element.id(), format!("{path}elements[{j}].{kind}."));
                element.check(&mut checker);
                if let (Blank::Mesh(_), Element::Loop(_)) = (&component.blank, element) {
                    let message = "A loop grows out of a plate; on a mesh, drill a hole instead.";
                    checker.report("at", message.to_owned());
                }
                if let Some((field, colour)) = element.colours() {
                    checker.colour(self, field, colour);
                }
                let id = element.id();
                if !ids.insert(id) || id.is_empty() || ["piece", "component", "blank"].contains(&id)
                {
                    checker.report("id", format!("“{id}” cannot be used as an id here."));
                }
            }
            let letters: usize = component.elements.iter().map(Element::letters).sum();
            if letters > MOST_LETTERS {
                let message = format!("{letters} letters in all; {MOST_LETTERS} are the most.");
                checker.at("component", path.clone()).report("elements", message);
            }
            if component.elements.len() > MOST_ELEMENTS {
                let found = component.elements.len();
                let message = format!("{found} elements; {MOST_ELEMENTS} are the most.");
                checker.at("component", path).report("elements", message);
            }
        }
        checker.problems
    }
}
