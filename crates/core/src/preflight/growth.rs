//! Plates that may not grow as far as what stands on them asks for.

use super::{Finding, Job, SMALLEST_LETTERS_MM, Weight, rounded_down};
use crate::evaluate::size;
use crate::piece::{Blank, Component, Growth, limit_of};
use crate::plane::Tolerance;
use crate::units::Length;
use serde_json::json;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let Some(plate) = job.component.plate() else { return Vec::new() };
    let rect = job.layout.blank.rect;
    let sides = [
        ("width", "wide", plate.grows.width, rect.width(), 0),
        ("height", "high", plate.grows.height, rect.height(), 1),
    ];
    let at_most = sides.iter().filter_map(|(side, what, growth, now, axis)| {
        let growth = (*growth)?;
        let is_at_most = growth.most.as_mm() - now < growth.step.as_mm().max(0.01) + 1e-9;
        is_at_most.then_some((*side, *what, growth, *axis))
    });
    at_most.filter_map(|(side, what, growth, axis)| more(job, side, what, growth, axis)).collect()
}

fn more(
    job: &Job<'_>,
    side: &'static str,
    what: &str,
    growth: Growth,
    axis: usize,
) -> Option<Finding> {
    let limit = limit_of("plate", &format!("grows.{side}.most"))?;
    // As large as it would be if it could.
    let Blank::Plate(mut plate) = job.component.blank.clone() else { return None };
    let freed = Some(Growth { most: Length::mm(limit.high), ..growth });
    match axis {
        0 => plate.grows.width = freed,
        _ => plate.grows.height = freed,
    }
    let freed = Component { blank: Blank::Plate(plate), ..job.component.clone() };
    let wanted = size(job.piece, &freed, &job.workshop.at(Tolerance::Draft)).ok()?[axis];
    if wanted <= growth.most.as_mm() + 0.02 {
        return None;
    }
    let most = job.shown(growth.most.as_mm());
    let is_enough = wanted < limit.high - growth.step.as_mm().max(0.02);
    let message = match is_enough {
        true => format!(
            "The plate may be {most} {what} at the most, and what is on it asks for {}. Let it grow further, or \
             say less.",
            job.shown(wanted)
        ),
        false => format!(
            "The plate may be {most} {what} at the most, and what is on it asks for more than any plate has. Say \
             less, or make it smaller."
        ),
    };
    let finding = job.of_blank("plate-at-most", Weight::Should, message);
    let finding = finding.field(format!("grows.{side}.most"));
    if !is_enough {
        return Some(smaller(job, finding));
    }
    let enough = (wanted * 10.0 - 1e-6).ceil() / 10.0;
    let edits = vec![job.set_blank(&format!("grows.{side}.most"), json!(enough))];
    Some(finding.remedy(format!("Let it grow to {}", job.shown(enough)), edits))
}

/// Offers letters, of the longest words on it, that are as large as the plate as it is has room for.
fn smaller(job: &Job<'_>, finding: Finding) -> Finding {
    let longest = job.lettering().filter(|(_, placed)| placed.drawn.glyphs > 0);
    let longest = longest.max_by(|a, b| a.1.frame.width().total_cmp(&b.1.frame.width()));
    let fitted = longest.and_then(|(lettering, placed)| {
        let fitted = job.fitted(lettering, placed)?;
        Some((placed, fitted.min(placed.drawn.letter_height)))
    });
    let Some((placed, fitted)) = fitted else { return finding };
    // What stands beside the words takes some of the room.
    let sizes = [1.0, 0.75, 0.5].map(|share| rounded_down(share * fitted));
    let legible = sizes.into_iter().filter(|tall| *tall >= SMALLEST_LETTERS_MM);
    legible.fold(finding, |finding, tall| {
        let edits = vec![job.letters(&placed.id, tall)];
        finding.remedy(format!("Make the letters {}", job.shown(tall)), edits)
    })
}
