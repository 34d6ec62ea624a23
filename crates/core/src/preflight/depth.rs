//! What is sunk so deep that it leaves no floor, or hardly any: reliefs, fields, and holes that do not go through.

use super::layers::LEAST_LAYERS;
use super::{Finding, Job, Weight};
use crate::evaluate::Placed;
use crate::piece::{Depth, Edit, Element, ElementKind, FaceName, Kind, Relief};
use serde_json::{Value, json};

/// Two layers of 0.2 mm: less shows through and breaks (common practice, no source).
pub(super) const LEAST_FLOOR_MM: f64 = 0.4;

/// Something sunk, and where its depth is kept.
pub(super) struct Sunk {
    /// How deep it is asked to be.
    pub depth: Depth,
    /// The field that holds the depth.
    pub field: &'static str,
    /// Whether that field is a mere figure.
    is_figure: bool,
}

impl Sunk {
    /// How an element is sunk into its face, where it is and does not go through.
    pub(super) fn of(element: &Element) -> Option<Self> {
        if let Kind::Hole(hole) = &element.kind {
            return Some(Sunk { depth: Depth::By(hole.depth?), field: "depth", is_figure: true });
        }
        let Some(Relief::Recessed(depth)) = element.relief() else { return None };
        let is_field = matches!(element.kind, Kind::Recess(_));
        let field = if is_field { "depth" } else { "relief.recessed" };
        Some(Sunk { depth, field, is_figure: false })
    }

    /// The edit that makes it so many mm deep.
    pub(super) fn made(&self, job: &Job<'_>, id: &str, mm: f64) -> Edit {
        let by = if self.is_figure { json!(mm) } else { json!({ "by": mm }) };
        job.set(id, self.field, by)
    }

    /// The field its figure stands in.
    fn figure(&self) -> String {
        if self.is_figure {
            self.field.into()
        } else {
            format!("{}.{}", self.field, self.depth.word())
        }
    }
}

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let sunk = job.pairs().filter_map(|(element, placed)| Some((Sunk::of(element)?, placed)));
    sunk.filter_map(|(sunk, placed)| too_deep(job, &sunk, placed)).collect()
}

/// How much a floor of so many mm matters: of less than two layers nothing holds.
pub(super) fn weight_of_floor(job: &Job<'_>, floor: f64) -> Weight {
    let is_lost = floor < LEAST_LAYERS * job.piece.layers.height.as_mm() - 1e-9;
    if is_lost { Weight::Must } else { Weight::Should }
}

fn too_deep(job: &Job<'_>, sunk: &Sunk, placed: &Placed) -> Option<Finding> {
    let is_hole = placed.kind == ElementKind::Hole;
    // What is sunk starts from the ground it lies on: the face, or the floor of a field; a hole from the face.
    let face = job.layout.face(placed.face).map(|face| face.thickness);
    let ground = face.filter(|_| is_hole).unwrap_or(placed.ground);
    let floor = sunk.depth.floor(ground);
    // A mesh may be hollow below its face.
    let below = job.layout.stock.as_ref().filter(|_| placed.face == FaceName::Front);
    let below = below
        .map_or(ground, |stock| stock.material_under(&placed.region) - (stock.thickness - ground));
    let floor = if floor < ground { floor - (ground - below) } else { floor };
    let what = placed.kind.word();
    let (code, weight, message) = if floor >= ground {
        let message = format!(
            "The {what} has no depth: the floor it is to leave is as thick as the {} there are.",
            job.shown(ground)
        );
        ("too-deep", Weight::Must, message)
    } else if floor <= 0.0 {
        let there = job.shown(below);
        if is_hole {
            // It may well be meant, but nobody could tell by its field.
            let message = format!(
                "The {what} goes through: it is as deep as the {there} there are, or deeper."
            );
            ("drilled-through", Weight::Note, message)
        } else {
            let message = format!(
                "The {what} leaves no floor: there are {there} to sink it into. Sink it less, or cut it through."
            );
            ("too-deep", Weight::Must, message)
        }
    } else if floor < LEAST_FLOOR_MM - 1e-9 {
        let message = format!("The {what} leaves a floor of only {}.", job.shown(floor));
        ("thin-floor", weight_of_floor(job, floor), message)
    } else {
        return None;
    };
    let half = match job.layout.stock.is_some() || sunk.is_figure {
        false => job.set(&placed.id, sunk.field, json!({ "fraction": 0.5 })),
        true => sunk.made(job, &placed.id, (below * 50.0).floor() / 100.0),
    };
    let finding = job
        .finding(code, weight, &placed.id, message)
        .field(sunk.figure())
        .at(placed.frame)
        .remedy("Sink it half the thickness", vec![half]);
    Some(match is_hole {
        true => finding.remedy("Drill it through", vec![job.set(&placed.id, "depth", Value::Null)]),
        false => finding,
    })
}
