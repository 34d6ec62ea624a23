//! What is sunk into one face and meets what is sunk into the other.

use super::depth::LEAST_FLOOR_MM;
use super::spot::Spot;
use super::{Finding, Job, Weight};
use crate::evaluate::Placed;
use crate::piece::{ElementKind, FaceName};
use crate::solid::Act;

/// Less than this is rounding.
const NOTICEABLE_MM2: f64 = 0.01;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let sunk_into = |side: FaceName| {
        let is_sunk = move |placed: &&Placed| {
            let cuts = placed.act == Act::Cuts && placed.kind != ElementKind::Loop;
            let is_here = placed.face == side && job.layout.is_on_sections(placed);
            cuts && !placed.through && is_here
        };
        job.layout.elements.iter().filter(is_sunk)
    };
    let mut findings = Vec::new();
    for back in sunk_into(FaceName::Back) {
        for front in sunk_into(FaceName::Front) {
            let between = front.bottom - back.top;
            if between >= LEAST_FLOOR_MM - 1e-9 || !front.frame.overlaps(&back.frame) {
                continue;
            }
            let shared = front.region.intersection(&back.region);
            if shared.area() < NOTICEABLE_MM2 {
                continue;
            }
            let (one, other) = (back.kind.word(), front.kind.word());
            let (weight, message) = if between <= 0.0 {
                let message = format!(
                    "The {one} on the back and the {other} on the front meet: nothing is left \
                     between them. Sink one of them less."
                );
                (Weight::Must, message)
            } else {
                let message = format!(
                    "Only {} is left between the {one} on the back and the {other} on the front.",
                    job.shown(between)
                );
                (Weight::Should, message)
            };
            let finding = job.finding("back-to-back", weight, &back.id, message);
            // From the floor of the one to that of the other.
            let spot = Spot {
                bottom: back.top.min(front.bottom),
                top: back.top.max(front.bottom),
                ..job.spot(front, shared)
            };
            findings.push(finding.spots([spot]));
        }
    }
    findings
}
