//! Lines of one lettering that run into each other.

use super::{Figures, Finding, Job, Remedy, Source, Weight};
use crate::evaluate::{Placed, height_to_fit, lines_alone};
use crate::piece::{Lettering, Relief, limit_of};
use crate::plane::{Region, Tolerance};
use serde_json::json;

/// Less than this is a touch, in mm².
const NOTICEABLE_MM2: f64 = 0.05;

/// What covers more than this share of a line cannot be read any more (ours).
const UNREADABLE: f64 = 0.05;

/// Distances from line to line are offered in so many steps to the height of a line.
const STEPS: f64 = 20.0;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    job.lettering().filter_map(|(lettering, placed)| meeting(job, lettering, placed)).collect()
}

fn meeting(job: &Job<'_>, lettering: &Lettering, placed: &Placed) -> Option<Finding> {
    // Openwork is meant to join.
    if placed.drawn.glyphs == 0 || lettering.relief.stands_on_the_bed() {
        return None;
    }
    let height = placed.drawn.letter_height;
    let lines_at = |pitch| lines_alone(job.piece, lettering, pitch, height, job.workshop);
    let lines = lines_at(lettering.pitch);
    let shared = |[one, other]: [&Region; 2]| {
        let area = one.intersection(other).area();
        (area, area / one.area().min(other.area()).max(1e-9))
    };
    let (area, share) = neighbours(&lines)
        .map(shared)
        .fold((0.0, 0.0), |(area, share), one| (one.0.max(area), one.1.max(share)));
    if area < NOTICEABLE_MM2 {
        return None;
    }
    let weight = if share > UNREADABLE { Weight::Must } else { Weight::Should };
    let message = "Lines of the lettering run into each other. Set them further apart.".to_owned();
    let finding = job.finding("lines-meet", weight, &placed.id, message);
    let finding = finding.field("pitch").at(placed.frame);
    let Some(enough) = enough(job, lettering, lines_at) else { return Some(finding) };
    let figures = Figures { measured: lettering.pitch, limit: enough, source: Source::Ours };
    let mut finding = finding.measured(figures);
    finding.remedies = further_apart(job, lettering, placed, enough);
    Some(finding)
}

/// Every line with the next below it that says something.
fn neighbours(lines: &[Region]) -> impl Iterator<Item = [&Region; 2]> {
    let said: Vec<&Region> = lines.iter().filter(|line| !line.is_empty()).collect();
    (1..said.len()).map(move |i| [said[i - 1], said[i]])
}

/// The least distance from line to line, as a part of their height, at which no two are nearer than what closes in
/// print, or what stands between them is two lines of the printer wide.
fn enough(
    job: &Job<'_>,
    lettering: &Lettering,
    lines_at: impl Fn(f64) -> Vec<Region>,
) -> Option<f64> {
    let printer = &job.piece.printer;
    let apart = match lettering.relief {
        Relief::Raised(_) => printer.gap.as_mm(),
        Relief::Recessed(_) | Relief::Flush(_) | Relief::Through => 2.0 * printer.line.as_mm(),
    };
    let is_clear = |steps: u32| {
        let lines = lines_at(f64::from(steps) / STEPS);
        neighbours(&lines)
            .all(|[one, other]| one.offset(apart, Tolerance::Draft).intersection(other).is_empty())
    };
    let highest = limit_of("lettering", "pitch")?.high;
    let (mut below, mut enough) =
        ((lettering.pitch * STEPS).floor() as u32, (highest * STEPS) as u32);
    if !is_clear(enough) {
        return None;
    }
    while enough - below > 1 {
        let between = (below + enough) / 2;
        match is_clear(between) {
            true => enough = between,
            false => below = between,
        }
    }
    Some(f64::from(enough) / STEPS)
}

/// The lines further apart as they are; and fitted into the clear area, where they would be too tall.
fn further_apart(
    job: &Job<'_>,
    lettering: &Lettering,
    placed: &Placed,
    enough: f64,
) -> Vec<Remedy> {
    let id = &placed.id;
    let apart = job.set(id, "pitch", enough);
    let mut ways = vec![Remedy {
        label: format!("Set the lines {enough} of their height apart"),
        edits: vec![apart.clone()],
    }];
    let wider = Lettering { pitch: enough, ..lettering.clone() };
    let fitted = job
        .layout
        .clear_of(placed.face)
        .and_then(|clear| height_to_fit(job.piece, &wider, clear, job.workshop))
        .map(super::rounded_down)
        .filter(|fitted| *fitted > 1.0);
    ways.extend(fitted.map(|fitted| Remedy {
        label: format!("Set them apart and fit them in, letters {}", job.shown(fitted)),
        edits: vec![
            apart,
            job.set(id, "size", json!({ "height": fitted })),
            job.place(id, "across", "clear", 0.0),
            job.place(id, "up", "clear", 0.0),
        ],
    }));
    ways
}
