//! What nobody sees once the piece is put together: what lies where a slot or a socket is cut, and what of a plate stands
//! in its slot or lies on the floor of its socket.

use super::{Finding, Job, Remedy, Weight, free, rounded_up};
use crate::evaluate::Placed;
use crate::piece::{Element, FaceName, Joint};
use crate::plane::{Rect, Region, Tolerance, rounded_rectangle};

/// Less than this is rounding, in mm².
const NOTICEABLE_MM2: f64 = 0.05;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let mut findings = cut_away(job);
    if let Some(joint) = job.piece.joint_of(&job.component.id) {
        findings.extend(covered(job, joint));
    }
    findings
}

/// What is put on faces to be seen.
fn seen<'a>(job: &'a Job<'_>) -> impl Iterator<Item = (&'a Element, &'a Placed)> {
    job.pairs().filter(|(element, placed)| element.is_figure() && !placed.region.is_empty())
}

/// Figures where something is cut for another component.
fn cut_away(job: &Job<'_>) -> Vec<Finding> {
    let mut findings = Vec::new();
    for opening in job.layout.openings() {
        let joint = job.piece.joints.iter().find(|joint| joint.id == opening.joint);
        let Some(joint) = joint else { continue };
        let part = job.piece.component(&joint.part).map_or("the other part", |one| one.called());
        let what = if joint.slot.is_some() { "slot" } else { "socket" };
        for (element, placed) in seen(job) {
            let is_there = placed.face == opening.face
                || (placed.through && opening.through)
                || (opening.through && job.layout.is_on_sections(placed));
            if !is_there {
                continue;
            }
            let shared = placed.region.intersection(&opening.region);
            if shared.area() < NOTICEABLE_MM2 {
                continue;
            }
            let share = shared.area() / placed.region.area();
            let how_much =
                if share > 0.99 { "It is cut away" } else { "What lies there is cut away" };
            let message = format!(
                "The {} “{}” lies where the {what} for {part} is. {how_much}: move it aside.",
                placed.kind.word(),
                element.name()
            );
            let finding = job.finding("in-an-opening", Weight::Must, &placed.id, message);
            let finding = finding.field("place");
            let mut finding = match shared.bounds() {
                Some(bounds) => finding.at(bounds),
                None => finding,
            };
            finding.remedies.extend(free::moved_there(job, element, placed));
            findings.push(finding);
        }
    }
    findings
}

/// Figures of a plate that its slot or its socket covers.
fn covered(job: &Job<'_>, joint: &Joint) -> Vec<Finding> {
    let Some(into) = job.piece.component(&joint.into) else { return Vec::new() };
    let Some(sheet) = job.layout.blank.base.bounds() else { return Vec::new() };
    let found = seen(job).filter_map(|(element, placed)| {
        let what = format!("{} “{}”", placed.kind.word(), element.name());
        if let Some(slot) = &joint.slot {
            let mouth = sheet.y0 + slot.depth.as_mm();
            let hidden = placed.region.intersection(&below(sheet, mouth));
            if hidden.area() < NOTICEABLE_MM2 {
                return None;
            }
            let by = rounded_up(mouth - placed.region.bounds()?.y0);
            let message = format!(
                "The {what} stands {} deep in the slot of {}, where it is not seen. Move it up.",
                job.shown(by),
                into.called()
            );
            let finding = job.finding("hidden", Weight::Must, &placed.id, message).field("place");
            let finding = finding.at(hidden.bounds()?);
            if element.locked {
                return Some(finding);
            }
            let edits = vec![job.shift(placed, 0.0, by)];
            return Some(finding.remedy(format!("Move it up by {}", job.shown(by)), edits));
        }
        let lies_on_it = joint.socket.is_some() && placed.face == FaceName::Back && !placed.through;
        if !lies_on_it {
            return None;
        }
        let message = format!(
            "The {what} is on the side that lies on the floor of its socket in {}, where it is not seen.",
            into.called()
        );
        let finding = job.finding("hidden", Weight::Should, &placed.id, message).at(placed.frame);
        let remedy = Remedy {
            label: "Put it on the front".to_owned(),
            edits: vec![job.set(&placed.id, "face", "front")],
        };
        let mut finding = finding.field("face");
        finding.remedies.push(remedy);
        Some(finding)
    });
    found.collect()
}

/// All of a sheet below a height, and what lies beyond it.
fn below(sheet: Rect, height: f64) -> Region {
    let all = Rect { y1: height, y0: sheet.y0.min(height) - 1.0, ..sheet.grown(1.0) };
    rounded_rectangle(all, 0.0, Tolerance::Draft)
}
