//! A hole that runs through lettering or an emblem, or leaves too little between.

use super::edge::with_fit;
use super::{Finding, Job, Weight};

/// Land between a hole and a letter below which both tend to break out (common practice, no
/// source).
const LEAST_LAND_MM: f64 = 0.8;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let mut findings = Vec::new();
    for figure in job.figures() {
        let (letters, noun) = (figure.placed, figure.noun);
        for (asked, hole) in job.holes() {
            let goes_through = hole.through && job.layout.is_on_sections(hole);
            if hole.face != letters.face && !goes_through {
                continue;
            }
            // A countersink takes more of the face than the hole itself.
            let same_side = hole.face == letters.face;
            let edge = if same_side { asked.edges.top } else { asked.edges.bottom };
            let sunk = hole.region.offset(edge.size(), crate::plane::Tolerance::Draft);
            let frame = hole.frame.grown(edge.size());
            let Some(ink) = letters.region.bounds() else { continue };
            if !ink.overlaps(&frame.grown(LEAST_LAND_MM)) {
                continue;
            }
            let shared = letters.region.intersection(&sunk);
            let (weight, shape, message) = if shared.is_empty() {
                let grown = sunk.offset(LEAST_LAND_MM, crate::plane::Tolerance::Draft);
                let near = letters.region.intersection(&grown);
                if near.is_empty() {
                    continue;
                }
                let message = format!(
                    "Less than {} is left between the hole and the {noun}.",
                    job.shown(LEAST_LAND_MM)
                );
                (Weight::Should, near, message)
            } else {
                let message = format!("The hole runs through the {noun}. Move one of them.");
                (Weight::Must, shared, message)
            };
            let finding = job.finding("hole-meets-letters", weight, &letters.id, message);
            let finding = finding.spots([job.spot(letters, shape)]);
            findings.push(with_fit(job, finding, figure, ink));
        }
    }
    findings
}
