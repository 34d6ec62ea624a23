//! A hole that runs through lettering or an emblem, or leaves too little between.

use super::room::with_fit;
use super::{Finding, Job, Weight};
use crate::evaluate::Placed;
use crate::piece::{Hole, Repeat};

/// Land between a hole and a letter below which both tend to break out (common practice, no
/// source).
const LEAST_LAND_MM: f64 = 0.8;

/// Between a hole and the end it is put at (common practice, no source).
const END_LAND_MM: f64 = 2.0;

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
            let finding = with_fit(job, finding, figure, ink);
            findings.push(to_an_end(job, finding, asked, hole));
        }
    }
    findings
}

/// Offers to put a hole at either end of what it is in, with land beside it.
fn to_an_end(job: &Job<'_>, finding: Finding, asked: &Hole, hole: &Placed) -> Finding {
    let (_, room) = job.layout.room_for(hole);
    if asked.repeat != Repeat::Once || room.width() < 3.0 * hole.frame.width() {
        return finding;
    }
    let from_edge = (hole.frame.width() / 2.0 + asked.edges.top.size() + END_LAND_MM).ceil();
    ["left", "right"].into_iter().fold(finding, |finding, end| {
        let across = job.place(&hole.id, "across", end, from_edge);
        let edits = vec![across, job.place(&hole.id, "up", "centre", 0.0)];
        finding.remedy(format!("Put the hole at the {end}"), edits)
    })
}
