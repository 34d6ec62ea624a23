//! Lettering, emblems and codes that run over the edge of the plate.

use super::{Figure, Finding, Job, Weight};
use crate::evaluate::height_to_fit;
use crate::piece::{FaceName, Kind, Relief};
use crate::plane::Rect;
use serde_json::json;

/// Less than this is rounding.
const NOTICEABLE_MM2: f64 = 0.01;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let foot = job.layout.stock.as_ref().map(|stock| &stock.foot);
    let mut findings = halos(job);
    for figure in job.figures() {
        let Some(ink) = figure.placed.region.bounds() else { continue };
        // What stands on the bed beside the plate is meant to.
        if figure.relief.stands_on_the_bed() {
            continue;
        }
        if job.layout.clear_of(figure.placed.face).is_some_and(|clear| clear.contains(&ink)) {
            continue;
        }
        let (outline, rect) = job.layout.room_for(figure.placed);
        let beyond = match (figure.placed.face, foot) {
            (FaceName::Back, Some(foot)) => figure.placed.region.difference(foot),
            _ => figure.placed.region.difference(outline),
        };
        if beyond.area() < NOTICEABLE_MM2 {
            continue;
        }
        let noun = figure.noun;
        let overhang = [rect.x0 - ink.x0, rect.y0 - ink.y0, ink.x1 - rect.x1, ink.y1 - rect.y1]
            .into_iter()
            .fold(0.0, f64::max);
        let where_ = if overhang > 0.0 {
            format!("{} over the edge of the {}", job.shown(overhang), job.face())
        } else {
            format!("over the outline of the {}", job.face())
        };
        let message = format!("The {noun} runs {where_}. Make it smaller or move it in.");
        let finding = job
            .finding("over-edge", Weight::Must, &figure.placed.id, message)
            .field(figure.size_field)
            .spots([job.spot(figure.placed, beyond)]);
        let spans_opening = overhang <= 0.0 && matches!(figure.relief, Relief::Raised(_));
        findings.push(if spans_opening {
            let tall = json!({ "raised": { "from-foot": figure.placed.top } });
            let edits = vec![job.set(&figure.placed.id, "relief", tall)];
            finding.remedy("Stand it on the bed", edits)
        } else {
            with_fit(job, finding, figure, ink)
        });
    }
    findings
}

/// Halos reach over the edge with what they go round, or beyond it.
fn halos(job: &Job<'_>) -> Vec<Finding> {
    let halos = job.pairs().filter_map(|(element, placed)| {
        let Kind::Halo(halo) = &element.kind else { return None };
        if halo.relief.stands_on_the_bed() {
            return None;
        }
        let (outline, _) = job.layout.room_for(placed);
        let beyond = placed.region.difference(outline);
        if beyond.area() < NOTICEABLE_MM2 {
            return None;
        }
        let message = format!(
            "The halo reaches over the edge of the {}. Let it reach less far, or keep what it goes round further in.",
            job.face()
        );
        let finding = job.finding("over-edge", Weight::Must, &placed.id, message);
        Some(finding.field("distance").spots([job.spot(placed, beyond)]))
    });
    halos.collect()
}

/// Offers to bring a figure into the clear area, where that leaves it legible.
pub(super) fn with_fit(job: &Job<'_>, finding: Finding, figure: Figure<'_>, ink: Rect) -> Finding {
    const SMALLEST_MM: f64 = 2.0;
    let Some(clear) = job.layout.clear_of(figure.placed.face) else { return finding };
    let id = &figure.placed.id;
    if figure.is_repeated {
        return finding;
    }
    let fitted = match figure.lettering {
        Some(lettering) => height_to_fit(job.piece, lettering, clear, job.workshop),
        None => {
            let ratio = (clear.width() / ink.width()).min(clear.height() / ink.height());
            Some(figure.size * ratio)
        }
    };
    let Some(fitted) = fitted.map(|size| (size * 20.0).floor() / 20.0) else { return finding };
    let centred = json!({ "from": "clear", "distance": 0.0 });
    let mut edits =
        vec![job.set(id, "place.across", centred.clone()), job.set(id, "place.up", centred)];
    if fitted >= figure.size {
        return finding.remedy("Move it into the clear area", edits);
    }
    // A module of a code is small by nature, and has a finding of its own.
    let smallest = if figure.size_field == "module" { 0.2 } else { SMALLEST_MM };
    if fitted < smallest {
        return finding;
    }
    match figure.lettering {
        Some(_) => edits.push(job.set(id, "size", json!({ "height": fitted }))),
        None => edits.push(job.set(id, figure.size_field, fitted)),
    }
    let size = if figure.lettering.is_some() { "letters" } else { figure.size_field };
    finding.remedy(format!("Fit it in, {size} {}", job.shown(fitted)), edits)
}
