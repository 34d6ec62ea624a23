//! A hole that runs through lettering, or leaves too little between.

use super::edge::fit;
use super::{Finding, Job, Weight};

/// Land between a hole and a letter below which both tend to break out (common practice, no
/// source).
const LEAST_LAND_MM: f64 = 0.8;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let mut findings = Vec::new();
    for (lettering, letters) in job.lettering() {
        for (_, hole) in job.holes() {
            let Some(ink) = letters.region.bounds() else {
                continue;
            };
            if !ink.overlaps(&hole.frame.grown(LEAST_LAND_MM)) {
                continue;
            }
            let shared = letters.region.intersection(&hole.region);
            let (weight, place, message) = if shared.is_empty() {
                let grown = crate::plane::circle(
                    hole.frame.centre(),
                    hole.frame.width() / 2.0 + LEAST_LAND_MM,
                    crate::plane::Tolerance::Draft,
                );
                let near = letters.region.intersection(&grown);
                let Some(place) = near.bounds() else { continue };
                let message = format!(
                    "Less than {} is left between the hole and a letter.",
                    job.shown(LEAST_LAND_MM)
                );
                (Weight::Look, place, message)
            } else {
                let message = "The hole runs through the lettering. Move one of them.".to_owned();
                (Weight::Wrong, shared.bounds().unwrap_or(hole.frame), message)
            };
            let mut finding =
                Finding::new("hole-meets-letters", weight, &lettering.id, message).at(place);
            if let Some((label, edits)) =
                fit(job, &lettering.id, ink, lettering.letter_height.as_mm())
            {
                finding = finding.remedy(label, edits);
            }
            findings.push(finding);
        }
    }
    findings
}
