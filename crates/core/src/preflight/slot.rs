//! Slots that break out of what they are cut into, and plates that do not go into theirs.

use super::{Finding, Job, Weight};
use crate::evaluate::SlotCut;
use crate::piece::Edit;
use crate::plane::Region;

/// A wall beside or below a slot that breaks more easily than it holds (common practice, no source).
const LEAST_WALL_MM: f64 = 0.8;

/// Less than this is rounding.
const NOTICEABLE_MM2: f64 = 0.01;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let slots = &job.layout.slots;
    let mut findings: Vec<Finding> = slots.iter().flat_map(|slot| of_slot(job, slot)).collect();
    findings.extend(meeting(job, slots));
    findings.extend(in_the_way(job));
    findings
}

/// A finding at a field of a joint.
fn at_joint(
    job: &Job<'_>,
    code: &'static str,
    weight: Weight,
    (joint, field): (&str, &str),
    message: String,
) -> Finding {
    let (target, field) = job.piece.joint_field(joint, field);
    Finding::new(code, weight, target, message).field(field)
}

/// A change of a field of a joint.
fn change(job: &Job<'_>, joint: &str, field: &str, value: impl Into<serde_json::Value>) -> Edit {
    let (target, field) = job.piece.joint_field(joint, field);
    Edit::set(&target, &field, value)
}

/// What a slot leaves of what it is cut into: at both ends, below and beside it.
fn of_slot(job: &Job<'_>, slot: &SlotCut) -> Option<Finding> {
    let profile = job.layout.profile.as_ref()?;
    let joint = &slot.joint;
    let called = job.component.called();
    // Where the lean is, seen from the right.
    let cut = slot.section(-slot.depth, 0.0);
    let whole = &profile.outline;
    let beyond = cut.difference(whole);
    let lowest = cut.bounds().map_or(0.0, |bounds| bounds.y0);
    // A leaning slot rises over its mouth on one side; what counts lies below it.
    let below_mouth = beyond.difference(&slot_mouth(slot));
    if below_mouth.area() >= NOTICEABLE_MM2 {
        let (code, field, message) = if lowest <= 0.0 {
            let message = format!(
                "The slot goes {} deep and out of the bottom of {called}. Make it less deep, or make {called} \
                 higher.",
                job.shown(slot.depth)
            );
            ("slot-too-deep", "slot.depth", message)
        } else {
            let side = if slot.lean > 0.0 { "front" } else { "back" };
            let message = format!(
                "The slot breaks out of the {side} of {called}. Lean it less, make it less deep, or move \
                 it in."
            );
            ("slot-breaks-out", "slot.lean", message)
        };
        return Some(at_joint(job, code, Weight::Must, (joint, field), message));
    }
    let room = profile.length - slot.length;
    if room < 2.0 * LEAST_WALL_MM && slot.length < 2.0 * profile.length {
        let open = change(job, joint, "slot.open", true);
        let message = if room <= 0.0 {
            format!(
                "The slot is {} long and breaks out of the ends of {called}, which is {}. Open its ends, or \
                 make {called} wider.",
                job.shown(slot.length),
                job.shown(profile.length)
            )
        } else {
            format!("Only {} is left at the ends of the slot.", job.shown(room / 2.0))
        };
        let weight = if room <= 0.0 { Weight::Must } else { Weight::Should };
        let finding = at_joint(job, "slot-too-long", weight, (joint, "slot.open"), message);
        return Some(finding.remedy("Open its ends", vec![open]));
    }
    let wall = wall_below(whole, slot);
    (wall < LEAST_WALL_MM).then(|| {
        let message = format!("Only {} is left beside or below the slot.", job.shown(wall));
        at_joint(job, "slot-thin-wall", Weight::Should, (joint, "slot.depth"), message)
    })
}

/// The part of a slot's section that lies at its mouth: as deep as its lean lifts one side of it.
fn slot_mouth(slot: &SlotCut) -> Region {
    let lifted = slot.width * slot.lean.to_radians().tan().abs() + 0.01;
    slot.section(-lifted, lifted)
}

/// The least material between the floor of a slot and the outside, in mm.
fn wall_below(whole: &Region, slot: &SlotCut) -> f64 {
    /// What is looked at of it.
    const FLOOR_MM: f64 = 0.01;
    let floor = slot.section(-slot.depth, FLOOR_MM - slot.depth);
    floor.edges().map(|(vertex, _)| whole.depth_of(vertex)).fold(f64::INFINITY, f64::min)
}

/// Slots of one component that meet.
fn meeting(job: &Job<'_>, slots: &[SlotCut]) -> Vec<Finding> {
    let mut findings = Vec::new();
    for (i, slot) in slots.iter().enumerate() {
        let meets = slots[..i].iter().any(|other| {
            let shared =
                slot.section(-slot.depth, 0.0).intersection(&other.section(-other.depth, 0.0));
            let apart = (slot.frame.origin[0] - other.frame.origin[0]).abs();
            shared.area() >= NOTICEABLE_MM2 && apart < (slot.length + other.length) / 2.0
        });
        if meets {
            let message = format!(
                "Two slots of {} run into each other. Move one of them.",
                job.component.called()
            );
            let at = (slot.joint.as_str(), "slot.place.up.distance");
            findings.push(at_joint(job, "slots-meet", Weight::Must, at, message));
        }
    }
    findings
}

/// What stands up on a plate where it goes into its slot.
fn in_the_way(job: &Job<'_>) -> Vec<Finding> {
    let Some(joint) = job.piece.joint_of(&job.component.id) else { return Vec::new() };
    let Some(into) = job.piece.component(&joint.into) else { return Vec::new() };
    let Some(slot) = &joint.slot else { return Vec::new() };
    let foot = job.layout.blank.base.bounds().map_or(0.0, |sheet| sheet.y0);
    let mouth = foot + slot.depth.as_mm();
    let thickness = job.layout.blank.thickness;
    let stands_up = |bottom: f64, top: f64| bottom < -1e-6 || top > thickness + 1e-6;
    let mut findings = Vec::new();
    for placed in &job.layout.elements {
        let is_in = |prism: &crate::evaluate::Prism| {
            prism.act == crate::solid::Act::Adds
                && stands_up(prism.bottom, prism.top)
                && prism.outline.bounds().is_some_and(|bounds| bounds.y0 < mouth)
        };
        if placed.prisms.iter().any(is_in) {
            let message = format!(
                "The {} stands up where the plate goes into {}: it does not go in. Move it up by {}, or \
                 make the slot less deep.",
                placed.kind.word(),
                into.called(),
                job.shown(mouth - placed.frame.y0.min(mouth))
            );
            let finding = job.finding("in-the-slot", Weight::Must, &placed.id, message);
            findings.push(finding.field("place.up.distance").at(placed.frame));
        }
    }
    findings
}
