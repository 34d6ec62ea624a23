//! Patterns: a motif over and over on a face.

use super::check::{Checker, cut};
use super::element::{FOLLOWS_OUTLINE, Fields};
use super::emblem::own_shape_problem;
use super::{LetteringPlace, OWN_SHAPE, Relief, Repeat, limits};
use crate::emblems::emblem;
use crate::units::Length;
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A face, a recess or a halo filled with one motif over and over.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Pattern {
    /// What is repeated.
    pub motif: Motif,
    /// From one motif to the next, 0.5 to 100 mm.
    pub pitch: Length,
    /// What is left between them at the least, 0.1 to 99 mm.
    pub line: Length,
    /// Turn of the whole in degrees, counter-clockwise.
    pub turn: f64,
    /// What it fills.
    pub fills: Fills,
    /// How far it keeps from the edge of that, 0 to 250 mm.
    pub inset: Length,
    /// How far it keeps from lettering, emblems, codes, halos, rims and holes, 0 to 100 mm.
    pub apart: Length,
    /// Whether only whole motifs are kept; otherwise they are cut at the edge. Stripes and waves always are.
    pub whole: bool,
    /// How it meets the face.
    pub relief: Relief,
    /// Its colour, the id of one of the piece's filaments; nothing for that of the plate.
    pub colour: Option<String>,
    /// How deep it is rooted in what it stands on, if it stands up in a colour of its own, 0 to 100 mm; of something
    /// sunk, how deep its floor has that colour, where 0 is 0.6 mm.
    pub root: Length,
}

/// What a pattern repeats.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "lowercase", deny_unknown_fields)]
pub enum Motif {
    /// Hexagons, as a honeycomb has them.
    Hexagons,
    /// Discs, every row between those of the one below.
    Dots,
    /// Squares.
    Squares,
    /// Straight stripes.
    Stripes,
    /// Stripes that swell and sink.
    Waves,
    /// Scales, every row covering half of the one below.
    Scales,
    /// An emblem, by its name, or a shape of one's own by its id.
    Shape(String),
}

/// What a pattern fills.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "lowercase", deny_unknown_fields)]
pub enum Fills {
    /// The face.
    Face,
    /// A recess or a halo of the same face, by its id.
    Element(String),
}

impl Pattern {
    /// How large a motif is, in mm.
    pub fn size(&self) -> f64 {
        self.pitch.as_mm() - self.line.as_mm()
    }

    /// The shape it repeats, if that is one of one's own.
    pub fn own_shape(&self) -> Option<&str> {
        match &self.motif {
            Motif::Shape(id) => Some(id.as_str()).filter(|id| id.starts_with(OWN_SHAPE)),
            _ => None,
        }
    }
}

impl Fields for Pattern {
    fn check(&self, checker: &mut Checker) {
        checker.length(&limits::PATTERN_PITCH, self.pitch);
        checker.length(&limits::PATTERN_LINE, self.line);
        if self.line >= self.pitch {
            let message = "Between the motifs there is more than from one to the next: nothing is left of them. \
                           Make the line thinner, or the pitch larger.";
            checker.report("line", message.to_owned());
        }
        if let Motif::Shape(id) = &self.motif {
            if id.starts_with(OWN_SHAPE) {
                let problem = own_shape_problem(id).into_iter();
                problem.for_each(|message| checker.report("motif.shape", message));
            } else if emblem(id).is_none() {
                checker.report("motif.shape", format!("There is no emblem “{}”.", cut(id)));
            }
        }
        checker.angle("turn", self.turn);
        checker.length(&limits::PATTERN_INSET, self.inset);
        checker.length(&limits::PATTERN_APART, self.apart);
        self.relief.check(checker);
        checker.length(&limits::ROOT, self.root);
    }

    fn relief(&self) -> Option<Relief> {
        Some(self.relief)
    }

    fn place(&self) -> Option<&LetteringPlace> {
        None
    }

    fn place_mut(&mut self) -> Option<&mut LetteringPlace> {
        None
    }

    fn colour(&self) -> Option<(&'static str, Option<&str>)> {
        Some(("colour", self.colour.as_deref()))
    }

    fn lose_colour(&mut self) {
        self.colour = None;
    }

    fn root(&self) -> Option<Length> {
        Some(self.root)
    }

    fn repeat(&self) -> Repeat {
        Repeat::Once
    }

    fn carries(&self, _: bool) -> bool {
        false
    }

    fn nudge(&mut self, mm: f64) {
        self.inset = Length::mm(self.inset.as_mm() + mm);
    }

    fn shift(&mut self, _: f64, _: f64) -> Result<(), &'static str> {
        Err(FOLLOWS_OUTLINE)
    }

    fn name(&self) -> String {
        "Pattern".to_owned()
    }

    fn main_fields(&self) -> Vec<(&'static str, &'static str)> {
        vec![("pitch", "Pattern, pitch")]
    }
}
