//! Rims and recesses the plate has no room for, and figures that run onto the rim.

use super::room::with_fit;
use super::{Figure, Finding, Job, Weight, rounded_down};
use crate::evaluate::Placed;
use crate::piece::{Element, ElementKind, FieldShape, Kind, Relief};
use crate::solid::Act;
use serde_json::json;

/// Less than this is rounding.
const NOTICEABLE_MM2: f64 = 0.01;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let mut findings: Vec<Finding> =
        job.pairs().filter_map(|(element, placed)| without_room(job, element, placed)).collect();
    let rims = job.layout.elements.iter().filter(|placed| placed.kind == ElementKind::Rim);
    findings.extend(rims.clone().flat_map(|rim| onto(job, rim)));
    findings.extend(rims.flat_map(|rim| above(job, rim)));
    findings
}

/// Figures that stand higher than a rim something else is meant to stand on: of a coaster, or of what is as large as one.
fn above(job: &Job<'_>, rim: &Placed) -> Vec<Finding> {
    /// What a cup stands on is about as large as its foot (common practice, no source).
    const COASTER_MM: f64 = 80.0;
    let (_, rect) = job.layout.room_for(rim);
    let is_stood_upon = rect.width().min(rect.height()) >= COASTER_MM && rim.act == Act::Adds;
    let is_over = |figure: &Figure<'_>| {
        let placed = figure.placed;
        let stands = placed.face == rim.face && matches!(figure.relief, Relief::Raised(_));
        let over = match job.layout.is_seen_through(placed) {
            true => rim.bottom - placed.bottom,
            false => placed.top - rim.top,
        };
        stands && over > 1e-6
    };
    let told = job.figures().filter(|figure| is_stood_upon && is_over(figure)).map(|figure| {
        let message = format!(
            "The {} stands higher than the rim: what is put on it stands on that. Make it level with the rim, or sink \
             it.",
            figure.noun
        );
        let id = &figure.placed.id;
        let finding = job.finding("above-rim", Weight::Note, id, message).field("relief");
        let level = job.set(id, "relief", json!({ "raised": "level-with-rim" }));
        finding.at(figure.placed.frame).remedy("Make it level with the rim", vec![level])
    });
    told.collect()
}

/// A rim or a recess of which nothing is left, or that leaves nothing.
fn without_room(job: &Job<'_>, element: &Element, placed: &Placed) -> Option<Finding> {
    let id = &placed.id;
    let (_, rect) = job.layout.room_for(placed);
    let room = rect.width().min(rect.height()) / 2.0;
    let told = job.shown(room);
    let (code, weight, message, field, label, enough) = match &element.kind {
        Kind::Rim(_) if placed.region.is_empty() => (
            "rim-vanishes",
            Weight::Must,
            format!("There is no room for the rim: only {told} from the edge to the middle."),
            "inset",
            "Put it at the edge".to_owned(),
            0.0,
        ),
        Kind::Rim(rim) if rim.inset.as_mm() + rim.width.as_mm() >= room => {
            let half = rounded_down((room - rim.inset.as_mm()) / 2.0);
            let message = format!(
                "The rim covers the whole face: there are only {told} from the edge to the middle."
            );
            let label = format!("Make it {} wide", job.shown(half));
            ("rim-vanishes", Weight::Should, message, "width", label, half)
        }
        Kind::Recess(recess)
            if placed.region.is_empty() && matches!(recess.shape, FieldShape::Inset(_)) =>
        {
            let quarter = rounded_down(room / 4.0);
            let message =
                format!("Nothing is left of the field: only {told} from the edge to the middle.");
            let label = format!("Leave {} to the edge", job.shown(quarter));
            ("recess-vanishes", Weight::Must, message, "shape.inset", label, quarter)
        }
        _ => return None,
    };
    let finding = job.finding(code, weight, id, message).field(field);
    Some(finding.remedy(label, vec![job.set(id, field, enough)]))
}

/// The figures that run onto a rim.
fn onto(job: &Job<'_>, rim: &Placed) -> Vec<Finding> {
    let on_same_side = job.figures().filter(|figure| {
        // Openwork that stands on the bed is meant to join on to the ring and its rim.
        let is_openwork = figure.relief.stands_on_the_bed();
        let is_cut = matches!(figure.relief, Relief::Through);
        figure.placed.face == rim.face && !is_cut && !is_openwork
    });
    let runs_onto = |figure: Figure<'_>| {
        let ink = figure.placed.region.bounds()?;
        if job.layout.clear_of(figure.placed.face).is_some_and(|clear| clear.contains(&ink)) {
            return None;
        }
        let shared = figure.placed.region.intersection(&rim.region);
        if shared.area() < NOTICEABLE_MM2 {
            return None;
        }
        let message = format!("The {} runs onto the rim.", figure.noun);
        let finding = job
            .finding("onto-rim", Weight::Should, &figure.placed.id, message)
            .field(figure.size_field)
            .spots([job.spot(figure.placed, shared)]);
        Some(with_fit(job, finding, figure, ink))
    };
    on_same_side.filter_map(runs_onto).collect()
}
