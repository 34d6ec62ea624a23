//! What is sunk so deep that it leaves no floor, or hardly any.

use super::{Finding, Job, Weight};
use crate::piece::{ElementKind, FaceName, Relief};
use serde_json::json;

/// Two layers of 0.2 mm: less shows through and breaks (common practice, no source).
pub(super) const LEAST_FLOOR_MM: f64 = 0.4;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let mut findings = Vec::new();
    for (element, placed) in job.pairs() {
        let Some(Relief::Recessed(depth)) = element.relief() else { continue };
        let field = if placed.kind == ElementKind::Recess { "depth" } else { "relief.recessed" };
        // What is sunk starts from the ground it lies on: the face, or the floor of a field.
        let ground = placed.ground;
        let floor = depth.floor(ground);
        // A mesh may be hollow below its face.
        let below = job.layout.stock.as_ref().filter(|_| placed.face == FaceName::Front);
        let below = below.map_or(ground, |stock| {
            stock.material_under(&placed.region) - (stock.thickness - ground)
        });
        let floor = if floor < ground { floor - (ground - below) } else { floor };
        let what = placed.kind.word();
        let (code, weight, message) = if floor >= ground {
            let message = format!(
                "The {what} has no depth: the floor it is to leave is as thick as the {} there are.",
                job.shown(ground)
            );
            ("too-deep", Weight::Must, message)
        } else if floor <= 0.0 {
            let message = format!(
                "The {what} leaves no floor: there are {} to sink it into. Sink it less, or cut it through.",
                job.shown(below)
            );
            ("too-deep", Weight::Must, message)
        } else if floor < LEAST_FLOOR_MM - 1e-9 {
            let message = format!("The {what} leaves a floor of only {}.", job.shown(floor));
            ("thin-floor", Weight::Should, message)
        } else {
            continue;
        };
        let half = match job.layout.stock {
            None => json!({ "fraction": 0.5 }),
            Some(_) => json!({ "by": (below * 50.0).floor() / 100.0 }),
        };
        let half = job.set(&placed.id, field, half);
        let finding = job
            .finding(code, weight, &placed.id, message)
            .field(format!("{field}.{}", depth.word()))
            .at(placed.frame)
            .remedy("Sink it half the thickness", vec![half]);
        findings.push(finding);
    }
    findings
}
