//! Figures that run over the wall of a recess: a part of them stands on its floor, and a part beside it.

use super::{Finding, Job, Weight, rounded_down};
use crate::evaluate::{Placed, height_to_fit};
use crate::piece::{Element, Height, Kind, Relief};
use crate::plane::{Rect, Tolerance, largest_inner_rect};

/// What lies over a wall by less than this share of itself touches it (ours).
const TOUCH: f64 = 0.01;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let recesses = || {
        let is_sunk = |(element, placed): &(&Element, &Placed)| {
            matches!(element.kind, Kind::Recess(_)) && !placed.region.is_empty()
        };
        job.pairs().filter(is_sunk)
    };
    let mut findings = Vec::new();
    for (element, placed) in job.pairs() {
        if !element.is_figure() || !steps_with_the_ground(element) || placed.region.is_empty() {
            continue;
        }
        for (_, recess) in recesses().filter(|(_, recess)| recess.face == placed.face) {
            let inside = placed.region.intersection(&recess.region).area() / placed.region.area();
            if (TOUCH..1.0 - TOUCH).contains(&inside) {
                findings.push(said(job, (element, placed), recess));
            }
        }
    }
    findings
}

/// Whether what is made of it starts from whatever lies below, so that it comes in two heights over a wall.
fn steps_with_the_ground(element: &Element) -> bool {
    match element.relief() {
        Some(Relief::Raised(height)) => matches!(height, Height::By(_) | Height::Fraction(_)),
        Some(Relief::Recessed(_) | Relief::Flush(_)) => true,
        Some(Relief::Through) | None => false,
    }
}

fn said(job: &Job<'_>, (element, placed): (&Element, &Placed), recess: &Placed) -> Finding {
    let message = format!(
        "The {} “{}” runs over the wall of the recess: a part of it stands on its floor, and a part beside it.",
        placed.kind.word(),
        element.name()
    );
    let across = placed.region.intersection(&recess.region);
    let finding = job.finding("over-a-wall", Weight::Should, &placed.id, message);
    let finding = finding.field("place").spots([job.spot(placed, across)]);
    let margin = job.component.margin.as_mm();
    let floor = largest_inner_rect(&recess.region.offset(-margin, Tolerance::Draft));
    match floor {
        Some(floor) if !element.locked => within(job, finding, (element, placed), floor),
        _ => finding,
    }
}

/// Offers to bring it onto the floor: as large as it is, or as large as there is room.
fn within(
    job: &Job<'_>,
    finding: Finding,
    (element, placed): (&Element, &Placed),
    floor: Rect,
) -> Finding {
    let Some(ink) = placed.region.bounds() else { return finding };
    let ((fx, fy), (x, y)) = (floor.centre(), ink.centre());
    let onto = job.shift(placed, fx - x, fy - y);
    let has_room = ink.width() <= floor.width() && ink.height() <= floor.height();
    if has_room {
        return finding.remedy("Move it onto the floor", vec![onto]);
    }
    let Kind::Lettering(lettering) = &element.kind else { return finding };
    let fitting = height_to_fit(job.piece, lettering, floor, job.workshop).map(rounded_down);
    let Some(tall) = fitting.filter(|tall| *tall >= super::SMALLEST_LETTERS_MM) else {
        return finding;
    };
    let label = format!("Fit it onto the floor, letters {}", job.shown(tall));
    finding.remedy(label, vec![job.letters(&placed.id, tall), onto])
}
