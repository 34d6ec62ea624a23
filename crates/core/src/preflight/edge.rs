//! Lettering that runs over the edge of the plate.

use super::finding::set;
use super::{Finding, Job, Weight};
use crate::build::PlacedPlate;
use crate::piece::Edit;
use crate::plane::Rect;
use serde_json::json;

/// Less than this is rounding.
const NOTICEABLE_MM2: f64 = 0.01;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let plate = &job.layout.plate;
    let mut findings = Vec::new();
    for (lettering, placed) in job.lettering() {
        let Some(ink) = placed.region.bounds().filter(|ink| !lies_within(ink, plate)) else {
            continue;
        };
        let beyond = placed.region.difference(&plate.outline);
        if beyond.area() < NOTICEABLE_MM2 {
            continue;
        }
        let overhang = [
            plate.rect.x0 - ink.x0,
            plate.rect.y0 - ink.y0,
            ink.x1 - plate.rect.x1,
            ink.y1 - plate.rect.y1,
        ]
        .into_iter()
        .fold(0.0, f64::max);
        let message = if overhang > 0.0 {
            format!(
                "The lettering runs {} over the edge of the plate. Make it smaller or move it in.",
                job.shown(overhang)
            )
        } else {
            "The lettering runs over a corner of the plate. Make it smaller or move it in."
                .to_owned()
        };
        let mut finding = Finding::new("over-edge", Weight::Wrong, &lettering.id, message)
            .field("letter_height")
            .at(beyond.bounds().unwrap_or(ink));
        if let Some((label, edits)) = fit(job, &lettering.id, ink, lettering.letter_height.as_mm())
        {
            finding = finding.remedy(label, edits);
        }
        findings.push(finding);
    }
    findings
}

/// Whether all of a box lies on the plate, by its corners: the plate is convex.
fn lies_within(ink: &Rect, plate: &PlacedPlate) -> bool {
    let radius = plate.corner_radius;
    let core = plate.rect.grown(-radius);
    plate.rect.contains(ink)
        && [(ink.x0, ink.y0), (ink.x1, ink.y0), (ink.x0, ink.y1), (ink.x1, ink.y1)].into_iter().all(
            |(x, y)| {
                let dx = (core.x0 - x).max(x - core.x1).max(0.0);
                let dy = (core.y0 - y).max(y - core.y1).max(0.0);
                dx.hypot(dy) <= radius
            },
        )
}

/// The edits that shrink the lettering into the clear area, where that leaves it legible.
pub(super) fn fit(job: &Job<'_>, id: &str, ink: Rect, height: f64) -> Option<(String, Vec<Edit>)> {
    const SMALLEST_MM: f64 = 2.0;
    let clear = job.layout.clear?;
    let scale = (clear.width() / ink.width()).min(clear.height() / ink.height()).min(1.0);
    let fitted = (height * scale * 20.0).floor() / 20.0;
    if fitted < SMALLEST_MM {
        return None;
    }
    let centred = json!({ "from": "clear", "distance": 0.0 });
    let mut edits = vec![set(id, "place.across", centred.clone()), set(id, "place.up", centred)];
    let mut label = "Move it into the clear area".to_owned();
    if fitted < height {
        edits.push(set(id, "letter_height", fitted));
        label = format!("Fit it in, letters {}", job.shown(fitted));
    }
    Some((label, edits))
}
