//! A hole that does not sit well in the plate.

use super::finding::set;
use super::{Finding, Job, Weight};
use crate::plane::Rect;
use serde_json::json;

/// Land between a hole and the edge below which it tears out (common practice, no source).
const LEAST_LAND_MM: f64 = 1.0;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let plate = &job.layout.plate;
    let mut findings = Vec::new();
    for (hole, placed) in job.holes() {
        let diameter = hole.diameter.as_mm();
        let shorter = plate.rect.width().min(plate.rect.height());
        if diameter >= shorter {
            let message = format!(
                "A {} hole does not fit: the plate is {} on its shorter side.",
                job.shown(diameter),
                job.shown(shorter)
            );
            let finding = Finding::new("hole-too-large", Weight::Wrong, &hole.id, message);
            findings.push(finding.field("diameter").at(placed.frame));
            continue;
        }
        let land = land(placed.frame, plate.rect, plate.corner_radius);
        if land >= LEAST_LAND_MM - 1e-6 {
            continue;
        }
        let (weight, message) = if land <= -diameter {
            (Weight::Wrong, "The hole lies outside the plate. Bring it back in.".to_owned())
        } else if land <= 0.0 {
            (Weight::Wrong, "The hole breaks through the edge of the plate.".to_owned())
        } else {
            let message =
                format!("Only {} is left between the hole and the edge.", job.shown(land));
            (Weight::Look, message)
        };
        let mut finding = Finding::new("hole-near-edge", weight, &hole.id, message)
            .field("place.across.distance")
            .at(placed.frame);
        if let Some((x, y)) = nearest_good_centre(placed.frame, plate.rect, plate.corner_radius) {
            let from_left = json!({ "from": "left", "distance": round(x - plate.rect.x0) });
            let from_right = json!({ "from": "right", "distance": round(plate.rect.x1 - x) });
            let up = json!({ "from": "centre", "distance": round(y) });
            let across = if x <= 0.0 { from_left } else { from_right };
            let edits = vec![set(&hole.id, "place.across", across), set(&hole.id, "place.up", up)];
            finding = finding.remedy(format!("Leave {} of land", job.shown(LEAST_LAND_MM)), edits);
        }
        findings.push(finding);
    }
    findings
}

fn round(mm: f64) -> f64 {
    (mm * 1000.0).round() / 1000.0 + 0.0
}

/// The least material between a hole and the edge; negative where the hole reaches over it.
/// The distance is the signed distance to a rounded rectangle (elementary geometry).
fn land(hole: Rect, plate: Rect, corner_radius: f64) -> f64 {
    let (x, y) = hole.centre();
    let qx = x.abs() - (plate.x1 - corner_radius);
    let qy = y.abs() - (plate.y1 - corner_radius);
    let outside = qx.max(0.0).hypot(qy.max(0.0));
    let signed = outside + qx.max(qy).min(0.0) - corner_radius;
    -signed - hole.width() / 2.0
}

/// The nearest centre that leaves enough land, where there is one.
fn nearest_good_centre(hole: Rect, plate: Rect, corner_radius: f64) -> Option<(f64, f64)> {
    let inset = hole.width() / 2.0 + LEAST_LAND_MM;
    let room = plate.grown(-inset);
    if room.width() < 0.0 || room.height() < 0.0 {
        return None;
    }
    let (x, y) = hole.centre();
    let (x, y) = (x.clamp(room.x0, room.x1), y.clamp(room.y0, room.y1));
    // Near a round corner, come in towards the corner's own centre.
    let radius = (corner_radius - inset).max(0.0);
    let (cx, cy) = (room.x1 - radius, room.y1 - radius);
    let (dx, dy) = ((x.abs() - cx).max(0.0), (y.abs() - cy).max(0.0));
    let distance = dx.hypot(dy);
    if distance <= radius || dx == 0.0 || dy == 0.0 {
        return Some((x, y));
    }
    let scale = radius / distance;
    Some(((cx + dx * scale).copysign(x), (cy + dy * scale).copysign(y)))
}
