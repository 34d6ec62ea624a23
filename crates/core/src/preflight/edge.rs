//! Lettering, emblems and codes that run over the edge of the plate.

use super::room::{larger_plate, smaller_circle, with_fit, with_room};
use super::{Finding, Job, Weight, rounded_down};
use crate::evaluate::Placed;
use crate::piece::{Element, FaceName, Halo, Kind, Relief};
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
            let mut finding = with_room(job, with_fit(job, finding, figure, ink), figure, ink);
            let more = [smaller_circle(job, figure), larger_plate(job, ink, rect)];
            finding.remedies.extend(more.into_iter().flatten());
            finding
        });
    }
    findings
}

/// Halos reach over the edge with what they go round, or beyond it.
fn halos(job: &Job<'_>) -> Vec<Finding> {
    let of = |(element, placed): (&Element, &Placed)| match &element.kind {
        Kind::Halo(halo) => halo_over(job, halo, placed),
        _ => None,
    };
    job.pairs().filter_map(of).collect()
}

fn halo_over(job: &Job<'_>, halo: &Halo, placed: &Placed) -> Option<Finding> {
    if halo.relief.stands_on_the_bed() {
        return None;
    }
    let (outline, rect) = job.layout.room_for(placed);
    let beyond = placed.region.difference(outline);
    if beyond.area() < NOTICEABLE_MM2 {
        return None;
    }
    let message = format!(
        "The halo reaches over the edge of the {}. Let it reach less far, or keep what it goes round further in.",
        job.face()
    );
    let finding = job.finding("over-edge", Weight::Must, &placed.id, message);
    let mut finding = finding.field("distance").spots([job.spot(placed, beyond)]);
    // Less far by what reaches out furthest.
    let deepest = placed.region.edges().map(|(vertex, _)| outline.depth_of(vertex));
    let over = deepest.fold(0.0, |over: f64, depth| over.max(-depth));
    let less = rounded_down(halo.distance.as_mm() - over - 0.02);
    if less > 0.0 {
        let label = format!("Let the halo reach {}", job.shown(less));
        finding = finding.remedy(label, vec![job.set(&placed.id, "distance", less)]);
    }
    finding.remedies.extend(placed.region.bounds().and_then(|ink| larger_plate(job, ink, rect)));
    Some(finding)
}
