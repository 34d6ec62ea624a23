//! Words along a circle that meet themselves.

use super::{Finding, Job, Weight};
use crate::piece::{Course, LetterSize};
use serde_json::json;

/// Between the end of the words and their beginning, as a part of the circle.
const LEAST_GAP_DEGREES: f64 = 6.0;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let mut findings = Vec::new();
    for (lettering, placed) in job.lettering() {
        let Course::Circle(circle) = lettering.course else { continue };
        let span = placed.drawn.span;
        let is_spread = circle.spread.is_some();
        if is_spread || span <= 360.0 - LEAST_GAP_DEGREES {
            continue;
        }
        let message = format!(
            "The words take {span:.0}° of the circle and run into themselves. Make the letters \
             smaller, the circle larger, or the words fewer."
        );
        let finding = job
            .finding("circle-full", Weight::Wrong, &placed.id, message)
            .field("course.circle.radius")
            .at(placed.frame);
        let ratio = (360.0 - 2.0 * LEAST_GAP_DEGREES) / span;
        let fitting = (placed.drawn.letter_height * ratio * 20.0).floor() / 20.0;
        findings.push(match lettering.size {
            LetterSize::Height(_) if fitting >= 1.0 => finding.remedy(
                format!("Make the letters {}", job.shown(fitting)),
                vec![job.set(&placed.id, "size", json!({ "height": fitting }))],
            ),
            _ => finding,
        });
    }
    findings
}
