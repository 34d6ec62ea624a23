//! Rims and recesses the plate has no room for, and figures that run onto the rim.

use super::edge::with_fit;
use super::{Finding, Job, Weight};
use crate::piece::{ElementKind, FieldShape, Kind, Relief};

/// Less than this is rounding.
const NOTICEABLE_MM2: f64 = 0.01;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let mut findings = Vec::new();
    for (element, placed) in job.pairs() {
        let (_, rect) = job.layout.room_for(placed);
        let shorter = rect.width().min(rect.height());
        let room = job.shown(shorter / 2.0);
        let finding = match &element.kind {
            Kind::Rim(_) if placed.region.is_empty() => {
                let message = format!(
                    "There is no room for the rim: only {room} from the edge to the middle."
                );
                job.finding("rim-vanishes", Weight::Must, &placed.id, message)
                    .field("inset")
                    .remedy("Put it at the edge", vec![job.set(&placed.id, "inset", 0.0)])
            }
            Kind::Rim(rim) if rim.inset.as_mm() + rim.width.as_mm() >= shorter / 2.0 => {
                let message = format!(
                    "The rim covers the whole face: there are only {room} from the edge to the middle."
                );
                let half = round_mm((shorter / 2.0 - rim.inset.as_mm()) / 2.0);
                job.finding("rim-vanishes", Weight::Should, &placed.id, message)
                    .field("width")
                    .remedy(
                        format!("Make it {} wide", job.shown(half)),
                        vec![job.set(&placed.id, "width", half)],
                    )
            }
            Kind::Recess(recess)
                if placed.region.is_empty() && matches!(recess.shape, FieldShape::Inset(_)) =>
            {
                let message = format!(
                    "Nothing is left of the field: only {room} from the edge to the middle."
                );
                job.finding("recess-vanishes", Weight::Must, &placed.id, message)
                    .field("shape.inset")
                    .remedy(
                        format!("Leave {} to the edge", job.shown(round_mm(shorter / 8.0))),
                        vec![job.set(&placed.id, "shape.inset", round_mm(shorter / 8.0))],
                    )
            }
            _ => continue,
        };
        findings.push(finding);
    }
    let rims = job.layout.elements.iter().filter(|placed| placed.kind == ElementKind::Rim);
    for rim in rims {
        let on_same_side = job.figures().filter(|figure| {
            // Openwork that stands on the bed is meant to join on to the ring and its rim.
            let is_openwork = figure.relief.stands_on_the_bed();
            let is_cut = matches!(figure.relief, Relief::Through);
            figure.placed.face == rim.face && !is_cut && !is_openwork
        });
        for figure in on_same_side {
            let Some(ink) = figure.placed.region.bounds() else { continue };
            if job.layout.clear_of(figure.placed.face).is_some_and(|clear| clear.contains(&ink)) {
                continue;
            }
            let shared = figure.placed.region.intersection(&rim.region);
            if shared.area() < NOTICEABLE_MM2 {
                continue;
            }
            let message = format!("The {} runs onto the rim.", figure.noun);
            let finding = job
                .finding("onto-rim", Weight::Should, &figure.placed.id, message)
                .field(figure.size_field)
                .spots([job.spot(figure.placed, shared)]);
            findings.push(with_fit(job, finding, figure, ink));
        }
    }
    findings
}

/// A figure as somebody would type it.
fn round_mm(mm: f64) -> f64 {
    (mm * 10.0).floor() / 10.0
}
