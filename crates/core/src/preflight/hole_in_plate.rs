//! A hole that does not sit well in the plate.

use super::{Finding, Job, Weight, free, rounded_down};
use crate::evaluate::Placed;
use crate::piece::{Edit, HoleShape, Repeat};
use crate::plane::{Rect, Region, Tolerance};

/// Land between a hole and the edge below which it tears out (common practice, no source).
const LEAST_LAND_MM: f64 = 1.0;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let mut findings = Vec::new();
    for (hole, placed) in job.holes() {
        let diameter = hole.diameter.as_mm();
        let (outline, rect) = job.layout.room_for(placed);
        let shorter = rect.width().min(rect.height());
        if diameter >= shorter {
            let message = format!(
                "A {} hole does not fit: the {} is {} on its shorter side.",
                job.shown(diameter),
                job.face(),
                job.shown(shorter)
            );
            let finding = job.finding("hole-too-large", Weight::Must, &placed.id, message);
            let finding = finding.field("diameter").at(placed.frame);
            // As large as leaves enough land where it is.
            let most = 2.0 * (outline.depth_of(placed.frame.centre()) - LEAST_LAND_MM);
            let most = rounded_down(most - 0.02);
            findings.push(match most > 1.0 && hole.repeat == Repeat::Once {
                true => finding.remedy(
                    format!("Make it {} across", job.shown(most)),
                    vec![job.set(&placed.id, "diameter", most)],
                ),
                false => finding,
            });
            continue;
        }
        let land = land(&placed.region, outline);
        if land >= LEAST_LAND_MM - 0.01 {
            continue;
        }
        let inside = placed.region.intersection(outline).area();
        let (weight, message) = if inside <= 0.0 {
            let message = format!("The hole lies outside the {}. Bring it back in.", job.face());
            (Weight::Must, message)
        } else if land <= 0.0 {
            let message = format!("The hole breaks through the edge of the {}.", job.face());
            (Weight::Must, message)
        } else {
            let message =
                format!("Only {} is left between the hole and the edge.", job.shown(land));
            (Weight::Should, message)
        };
        let mut finding = job
            .finding("hole-near-edge", weight, &placed.id, message)
            .field("place.across.distance")
            .at(placed.frame);
        let is_round = hole.shape == HoleShape::Round && hole.repeat == Repeat::Once;
        let near = nearest_good_centre(placed.frame, outline).filter(|_| is_round);
        let radius = diameter / 2.0 + hole.edges.top.size().max(hole.edges.bottom.size());
        // Where something lies there, the nearest place where nothing does comes first.
        let is_taken = |at: &(f64, f64)| !free::is_free(job, placed, *at, radius);
        if let Some(at) = near.filter(is_taken).and_then(|_| free::for_round(job, placed, radius)) {
            let edits = put(job, placed, at, rect);
            finding = finding.remedy("Move it to where there is room", edits);
        }
        if let Some(at) = near {
            let label = format!("Leave {} to the edge", job.shown(LEAST_LAND_MM));
            finding = finding.remedy(label, put(job, placed, at, rect));
        }
        findings.push(finding);
    }
    findings
}

/// The edits that put the middle of a hole somewhere, measured from the nearer end.
fn put(job: &Job<'_>, placed: &Placed, (x, y): (f64, f64), rect: Rect) -> Vec<Edit> {
    let x = if job.layout.is_seen_through(placed) { -x } else { x };
    let (end, from_end) = if x <= 0.0 { ("left", x - rect.x0) } else { ("right", rect.x1 - x) };
    vec![
        job.place(&placed.id, "across", end, round(from_end)),
        job.place(&placed.id, "up", "centre", round(y)),
    ]
}

fn round(mm: f64) -> f64 {
    (mm * 1000.0).round() / 1000.0 + 0.0
}

/// The least material between a hole and the outline, by the hole's vertices; not positive where
/// the hole reaches it or over it.
fn land(hole: &Region, plate: &Region) -> f64 {
    hole.edges().map(|(vertex, _)| plate.depth_of(vertex)).fold(f64::INFINITY, f64::min)
}

/// The nearest centre of a round hole that leaves enough land, where there is one.
fn nearest_good_centre(hole: Rect, plate: &Region) -> Option<(f64, f64)> {
    let inset = hole.width() / 2.0 + LEAST_LAND_MM + 0.02;
    plate.offset(-inset, Tolerance::Draft).nearest_on_outline(hole.centre())
}
