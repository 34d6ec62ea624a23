//! A hole that does not sit well in the plate.

use super::{Finding, Job, Weight, free, rounded_down};
use crate::evaluate::{FromFace, Placed};
use crate::piece::{Edge, Edit, ElementKind, Hole, HoleShape, Repeat};
use crate::plane::{Rect, Region, Tolerance};

/// Land between a hole and the edge below which it tears out (common practice, no source).
const LEAST_LAND_MM: f64 = 1.0;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let mut findings = into_rims(job);
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
        // A treated edge takes its share of what is left at its face.
        let taken = taken_by_edges(job, hole, placed);
        let line = job.piece.printer.line.as_mm();
        let below = land(&placed.region, outline);
        let land = below - taken;
        // At the very face, where edges narrow it, a line and a half holds (ours).
        if below >= LEAST_LAND_MM - 0.01 && land >= 1.5 * line - 0.005 {
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
            (if land < line { Weight::Must } else { Weight::Should }, message)
        };
        let mut finding = job
            .finding("hole-near-edge", weight, &placed.id, message)
            .field("place.across.distance")
            .at(placed.frame);
        let is_round = hole.shape == HoleShape::Round && hole.repeat == Repeat::Once;
        let near = nearest_good_centre(placed.frame, taken, outline).filter(|_| is_round);
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

/// Holes that bite into a rim.
fn into_rims(job: &Job<'_>) -> Vec<Finding> {
    /// Less than this is rounding.
    const NOTICEABLE_MM2: f64 = 0.01;
    let mut findings = Vec::new();
    let rims = || job.layout.elements.iter().filter(|placed| placed.kind == ElementKind::Rim);
    for (hole, placed) in job.holes() {
        let rim = rims().find(|rim| {
            let is_met =
                rim.face == placed.face || (placed.through && job.layout.is_on_sections(rim));
            is_met && rim.region.intersection(&placed.region).area() >= NOTICEABLE_MM2
        });
        let Some(rim) = rim else { continue };
        let message = "The hole bites into the rim. Move it off, or make it smaller.".to_owned();
        let finding = job.finding("hole-in-rim", Weight::Should, &placed.id, message);
        let shared = rim.region.intersection(&placed.region);
        let mut finding = finding.field("place.across.distance").spots([job.spot(placed, shared)]);
        let (outline, rect) = job.layout.room_for(placed);
        let is_round = hole.shape == HoleShape::Round && hole.repeat == Repeat::Once;
        // Within the rim: what it goes round.
        let inside = rim.region.without_openings().difference(&rim.region).intersection(outline);
        let radius =
            hole.diameter.as_mm() / 2.0 + hole.edges.top.size().max(hole.edges.bottom.size());
        let there = free::for_round_in(job, placed, radius, &inside).filter(|_| is_round);
        if let Some(at) = there {
            let edits = put(job, placed, at, rect);
            finding = finding.remedy("Move it off the rim", edits);
        }
        findings.push(finding);
    }
    findings
}

/// What the edges of a hole and of its plate take together of the land between them, at the face where that is most, in
/// mm.
fn taken_by_edges(job: &Job<'_>, hole: &Hole, placed: &Placed) -> f64 {
    let edges = job.layout.face(placed.face).map(|face| face.edges).unwrap_or_default();
    let is_plate = job.layout.is_on_sections(placed) && job.layout.stock.is_none();
    let of_plate = |edge: Edge| if is_plate { edge.size() } else { 0.0 };
    let here = hole.edges.top.size() + of_plate(edges.top);
    let behind = match placed.through {
        true => hole.edges.bottom.size() + of_plate(edges.bottom),
        false => 0.0,
    };
    here.max(behind)
}

/// The edits that put the middle of a hole somewhere, measured from the nearer end.
fn put(job: &Job<'_>, placed: &Placed, (x, y): (f64, f64), rect: Rect) -> Vec<Edit> {
    let x = job.layout.way_on_face(placed, (x, 0.0)).across;
    let FromFace(rect) = job.layout.from_face(placed, rect);
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
fn nearest_good_centre(hole: Rect, taken: f64, plate: &Region) -> Option<(f64, f64)> {
    let inset = hole.width() / 2.0 + taken + LEAST_LAND_MM + 0.02;
    plate.offset(-inset, Tolerance::Draft).nearest_on_outline(hole.centre())
}
