//! Recesses that leave no floor, or hardly any.

use super::finding::set;
use super::{Finding, Job, Weight};
use crate::piece::Relief;

/// Two layers of 0.2 mm: less shows through and breaks (common practice, no source).
const LEAST_FLOOR_MM: f64 = 0.4;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let thickness = job.layout.plate.thickness;
    let mut findings = Vec::new();
    for (lettering, placed) in job.lettering() {
        let Relief::Recessed(depth) = lettering.relief else {
            continue;
        };
        let floor = thickness - depth.as_mm();
        let (code, weight, message) = if floor <= 0.0 {
            let message = format!(
                "{} is deeper than the plate, which is {} thick. Recess it less, or cut it through.",
                job.shown(depth.as_mm()),
                job.shown(thickness)
            );
            ("too-deep", Weight::Wrong, message)
        } else if floor < LEAST_FLOOR_MM - 1e-9 {
            let message =
                format!("The floor under the lettering is only {} thick.", job.shown(floor));
            ("thin-floor", Weight::Look, message)
        } else {
            continue;
        };
        let half = Relief::Recessed(crate::units::Length::mm((thickness * 5.0).floor() / 10.0));
        let value = serde_json::to_value(half).unwrap_or_default();
        let finding = Finding::new(code, weight, &lettering.id, message)
            .field("relief.recessed")
            .at(placed.frame)
            .remedy("Recess half the thickness", vec![set(&lettering.id, "relief", value)]);
        findings.push(finding);
    }
    findings
}
