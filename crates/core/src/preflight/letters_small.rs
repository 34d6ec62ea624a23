//! Letters too small to print well.

use super::{Finding, Job, Weight};
use crate::piece::{LetterSize, Relief};
use serde_json::json;

/// Raised letters at least 4 mm tall, 5 mm or more is better (common practice, no source).
const LEAST_HEIGHT_MM: f64 = 4.0;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let mut findings = Vec::new();
    for (lettering, placed) in job.lettering() {
        let smallest = lettering.lines.iter().map(|line| line.scale).fold(f64::INFINITY, f64::min);
        let height = placed.drawn.letter_height * smallest;
        let is_raised = matches!(lettering.relief, Relief::Raised(_));
        if height >= LEAST_HEIGHT_MM - 1e-9 || !is_raised || placed.drawn.glyphs == 0 {
            continue;
        }
        let least = job.shown(LEAST_HEIGHT_MM);
        let message = format!(
            "The letters are {} tall; raised letters under {least} often print badly.",
            job.shown(height)
        );
        let finding =
            job.finding("letters-small", Weight::Should, &placed.id, message).at(placed.frame);
        findings.push(match lettering.size {
            LetterSize::Height(_) => {
                let enough = json!({ "height": LEAST_HEIGHT_MM / smallest });
                finding
                    .field("size.height")
                    .remedy(format!("Make them {least}"), vec![job.set(&placed.id, "size", enough)])
            }
            LetterSize::Box(_) | LetterSize::ClearArea => finding.field("size"),
        });
    }
    findings
}
