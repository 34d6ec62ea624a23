//! A finding of preflight: what it says, where, how much it matters, and what would mend it.

use super::spot::{Spot, bounded, stacked};
use crate::piece::{Address, Edit, Remedy};
use crate::plane::Rect;
use serde::Serialize;

/// How much a finding matters.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize)]
#[serde(rename_all = "lowercase")]
pub enum Weight {
    /// There is no solid at all.
    Stop,
    /// It must be mended: the print will not be what was asked for.
    Must,
    /// It should be looked at; it may be meant.
    Should,
    /// Good to know.
    Note,
}

/// Where a limit comes from.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[serde(rename_all = "lowercase")]
pub enum Source {
    /// The printer the piece is made on.
    Printer,
    /// Common practice, no source.
    Practice,
    /// A rule of this program.
    Ours,
}

/// What was measured, and what it should have been. Lengths in mm.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct Figures {
    /// What it is.
    pub measured: f64,
    /// What it should be at the least; at the most where it is more.
    pub limit: f64,
    /// Where that comes from.
    pub source: Source,
}

/// One result of preflight.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Finding {
    /// Which check, as a stable word.
    pub code: &'static str,
    /// How much it matters.
    pub weight: Weight,
    /// What it concerns.
    pub target: Address,
    /// The field that would change it, as in an [`Edit`]; empty where there is none.
    pub field: String,
    /// What is wrong and how to mend it.
    pub message: String,
    /// Whether something else is made than the field says.
    pub instead: bool,
    /// The box round where it is on the face, or where it is worst, in mm.
    pub place: Option<Rect>,
    /// Where it is, each place in its own shape; none where the whole of what it concerns is meant.
    pub spots: Vec<Spot>,
    /// What was measured, where something was.
    pub figures: Option<Figures>,
    /// What mends it, the first way before others.
    pub remedies: Vec<Remedy>,
    /// Why it is left as it is, where somebody said so.
    pub set_aside: Option<String>,
}

impl Finding {
    pub(super) fn new(
        code: &'static str,
        weight: Weight,
        target: Address,
        message: String,
    ) -> Self {
        Finding {
            code,
            weight,
            target,
            field: String::new(),
            message,
            instead: false,
            place: None,
            spots: Vec::new(),
            figures: None,
            remedies: Vec::new(),
            set_aside: None,
        }
    }

    pub(super) fn field(mut self, field: impl Into<String>) -> Self {
        self.field = field.into();
        self
    }

    /// Something else is made than the field says, as the message tells: it is said at the field, too.
    pub(super) fn instead(mut self) -> Self {
        self.instead = true;
        self
    }

    pub(super) fn at(mut self, place: Rect) -> Self {
        self.place = Some(place);
        self
    }

    /// The places it speaks of, the worst first; those that are empty are none.
    pub(super) fn spots(mut self, spots: impl IntoIterator<Item = Spot>) -> Self {
        let there_are = spots.into_iter().filter(|spot| !spot.shape.is_empty());
        self.spots = bounded(stacked(there_are));
        if self.place.is_none() {
            let boxes = self.spots.iter().filter_map(Spot::place);
            self.place = boxes.reduce(|all, one| all.hull(&one));
        }
        self
    }

    pub(super) fn measured(mut self, figures: Figures) -> Self {
        self.figures = Some(figures);
        self
    }

    pub(super) fn remedy(mut self, label: impl Into<String>, edits: Vec<Edit>) -> Self {
        self.remedies.push(Remedy { label: label.into(), edits });
        self
    }

    /// Whether it says of a value that it cannot be carried out.
    pub(super) fn is_conflict(&self) -> bool {
        matches!(self.code, "too-deep" | "hole-too-large" | "rim-vanishes" | "recess-vanishes")
    }

    /// Whether an edit of this field must be refused: a value just typed that cannot be carried
    /// out is better said at the field than built as something else.
    pub fn refuses(&self, target: &Address, field: &str) -> bool {
        let conflict = self.is_conflict();
        // An edit may replace a whole of which the field is a part.
        let is_edited = self.field.starts_with(field) && !field.is_empty();
        self.weight == Weight::Stop || (conflict && self.target == *target && is_edited)
    }
}
