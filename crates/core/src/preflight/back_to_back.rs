//! What is sunk into one face and meets what is sunk into the other.

use super::depth::{LEAST_FLOOR_MM, Sunk, weight_of_floor};
use super::layers::LEAST_LAYERS;
use super::spot::Spot;
use super::{Finding, Job, Remedy, Weight, rounded_down, rounded_up};
use crate::evaluate::Placed;
use crate::piece::{Element, ElementKind, FaceName};
use crate::solid::Act;

/// Less than this is rounding.
const NOTICEABLE_MM2: f64 = 0.01;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let sunk_into = |side: FaceName| {
        let is_sunk = move |(_, placed): &(&Element, &Placed)| {
            let cuts = placed.act == Act::Cuts && placed.kind != ElementKind::Loop;
            let is_here = placed.face == side && job.layout.is_on_sections(placed);
            cuts && !placed.through && is_here
        };
        job.pairs().filter(is_sunk)
    };
    let mut findings = Vec::new();
    for (sunk_below, back) in sunk_into(FaceName::Back) {
        for (sunk_above, front) in sunk_into(FaceName::Front) {
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
                (weight_of_floor(job, between), message)
            };
            let finding = job.finding("back-to-back", weight, &back.id, message);
            // From the floor of the one to that of the other.
            let spot = Spot {
                bottom: back.top.min(front.bottom),
                top: back.top.max(front.bottom),
                ..job.spot(front, shared)
            };
            let mut finding = finding.spots([spot]);
            finding.remedies = less_deep(job, (sunk_below, back), (sunk_above, front), between);
            findings.push(finding);
        }
    }
    findings
}

/// The ways to leave a good floor between what is sunk into the back and into the front: both less deep by as much,
/// one of them, or a thicker plate.
fn less_deep(
    job: &Job<'_>,
    back: (&Element, &Placed),
    front: (&Element, &Placed),
    between: f64,
) -> Vec<Remedy> {
    let lacks = 2.0 * LEAST_FLOOR_MM - between;
    let least = LEAST_LAYERS * job.piece.layers.height.as_mm();
    let less = |(element, placed): (&Element, &Placed), by: f64| {
        let sunk = Sunk::of(element)?;
        let deep = placed.ground - sunk.depth.floor(placed.ground);
        let mm = rounded_down(deep - by);
        let label = format!("{} {} deep", placed.kind.word(), job.shown(mm));
        (mm >= least - 1e-9).then(|| (label, sunk.made(job, &placed.id, mm)))
    };
    let one = |of, side: &str| {
        let (label, edit) = less(of, lacks)?;
        Some(Remedy { label: format!("Make the {label} on the {side}"), edits: vec![edit] })
    };
    let both = || {
        let [(first, one), (second, other)] = [less(front, lacks / 2.0)?, less(back, lacks / 2.0)?];
        let label = format!("Make the {first} on the front, and the {second} on the back");
        Some(Remedy { label, edits: vec![one, other] })
    };
    let thicker = || {
        let plate = job.component.plate()?;
        let thick = rounded_up(plate.thickness.as_mm() + lacks);
        let label = format!("Make the plate {} thick", job.shown(thick));
        Some(Remedy { label, edits: vec![job.set_blank("thickness", thick)] })
    };
    [both(), one(back, "back"), one(front, "front"), thicker()].into_iter().flatten().collect()
}
