//! Things that are worked on upright walls, or lie long and flat on the bed, and what the nozzle is too wide for.

use super::{Figures, Finding, Job, Source, Weight};
use crate::piece::{Blank, Hold, Lying, Relief};
use serde_json::json;

/// Sunk deeper into an upright wall the roof of a letter droops, in mm (common practice, no source).
const DEEPEST_MM: f64 = 2.0;

/// A part longer than this, and so many times as long as it is wide, lifts at its ends (ours).
const LONG_MM: f64 = 150.0;
const LONG: f64 = 6.0;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let mut findings = deep_on_walls(job);
    findings.extend(lifts(job));
    findings.extend(bead(job));
    findings
}

fn deep_on_walls(job: &Job<'_>) -> Vec<Finding> {
    let is_upright = |placed: &crate::evaluate::Placed| {
        let face = job.layout.face(placed.face);
        face.is_some_and(|face| face.round.is_some() || face.frame.out[2].abs() < 0.5)
            && matches!(job.made.lies, Lying::AsMade | Lying::OnTop)
    };
    let deep = job.pairs().filter_map(|(element, placed)| {
        let Some(Relief::Recessed(depth)) = element.relief() else { return None };
        let deep = placed.ground - depth.floor(placed.ground);
        if deep <= DEEPEST_MM + 1e-6 || !is_upright(placed) || placed.region.is_empty() {
            return None;
        }
        let message = format!(
            "The {} is sunk {} into an upright wall: deeper than {} its roof droops.",
            placed.kind.word(),
            job.shown(deep),
            job.shown(DEEPEST_MM)
        );
        let figures = Figures { measured: deep, limit: DEEPEST_MM, source: Source::Practice };
        let finding = job
            .finding("deep-on-wall", Weight::Should, &placed.id, message)
            .field(format!("relief.recessed.{}", depth.word()))
            .at(placed.frame)
            .measured(figures);
        Some(match element.kind {
            crate::piece::Kind::Recess(_) => finding.field(format!("depth.{}", depth.word())),
            _ => {
                let edit =
                    job.set(&placed.id, "relief", json!({ "recessed": { "by": DEEPEST_MM } }));
                finding.remedy(format!("Sink it {}", job.shown(DEEPEST_MM)), vec![edit])
            }
        })
    });
    deep.collect()
}

fn lifts(job: &Job<'_>) -> Option<Finding> {
    let [width, depth, _] = crate::bed::size(job.made);
    let (long, short) = (width.max(depth), width.min(depth));
    if long <= LONG_MM || long <= LONG * short || job.made.mesh.triangles.is_empty() {
        return None;
    }
    let message = format!(
        "It lies {} long and only {} wide on the bed: its ends may lift. Let whoever slices it give it a brim.",
        job.shown(long),
        job.shown(short)
    );
    let figures = Figures { measured: long, limit: LONG_MM, source: Source::Ours };
    Some(job.of_blank("may-lift", Weight::Note, message).measured(figures))
}

/// A bead flatter than half of what the nozzle is wide is smoothed away (ours).
fn bead(job: &Job<'_>) -> Option<Finding> {
    let Blank::Cap(cap) = &job.component.blank else { return None };
    let Hold::Bead(bead) = cap.hold else { return None };
    let least = job.piece.printer.nozzle.as_mm() / 2.0;
    if bead.proud.as_mm() >= least - 1e-9 {
        return None;
    }
    let message = format!(
        "The bead stands out {}, less than half of the nozzle’s {}: it is lost.",
        job.shown(bead.proud.as_mm()),
        job.shown(2.0 * least)
    );
    let figures = Figures { measured: bead.proud.as_mm(), limit: least, source: Source::Ours };
    let edit = job.set_blank("hold.bead.proud", json!(least));
    let finding = job.of_blank("bead-lost", Weight::Should, message).field("hold.bead.proud");
    Some(
        finding
            .measured(figures)
            .remedy(format!("Let it stand out {}", job.shown(least)), vec![edit]),
    )
}
