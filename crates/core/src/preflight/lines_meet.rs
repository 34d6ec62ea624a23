//! Lines of one lettering that run into each other.

use super::{Figures, Finding, Job, Remedy, SMALLEST_LETTERS_MM, Source, Weight};
use crate::evaluate::{LinesAlone, Placed};
use crate::piece::{Course, LetterSize, Lettering, Relief, Repeat, limit_of};
use crate::plane::{Region, Tolerance};

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
    let is_one = lettering.lines.len() < 2 && lettering.course != Course::Below;
    // Openwork is meant to join.
    if is_one || placed.drawn.glyphs == 0 || lettering.relief.stands_on_the_bed() {
        return None;
    }
    let height = placed.drawn.letter_height;
    let alone = LinesAlone::of(job.piece, lettering, height, job.workshop)?;
    let lines = alone.at(lettering.pitch);
    let (mut all, mut most, mut share) = (Vec::new(), 0.0, 0.0);
    for [one, other] in neighbours(&lines) {
        let shared = one.intersection(other);
        let area = shared.area();
        most = f64::max(most, area);
        share = f64::max(share, area / one.area().min(other.area()).max(1e-9));
        all.push(shared);
    }
    if most < NOTICEABLE_MM2 {
        return None;
    }
    let weight = if share > UNREADABLE { Weight::Must } else { Weight::Should };
    let message = "Lines of the lettering run into each other. Set them further apart.".to_owned();
    let finding = job.finding("lines-meet", weight, &placed.id, message);
    let there =
        as_placed(job, lettering, placed, &lines).map(|(dx, dy)| Region::gather(all).moved(dx, dy));
    let finding = finding.field("pitch").at(placed.frame);
    let finding = finding.spots(there.map(|shared| job.spot(placed, shared)));
    let Some(enough) = enough(job, lettering, &alone) else { return Some(finding) };
    let [measured, limit] = [lettering.pitch, enough].map(|pitch| pitch * height);
    let mut finding = finding.measured(Figures { measured, limit, source: Source::Ours });
    finding.remedies = further_apart(job, lettering, placed, enough);
    Some(finding)
}

/// How lines by themselves are moved to where they are on the face, unless they were turned over or repeated.
fn as_placed(
    job: &Job<'_>,
    lettering: &Lettering,
    placed: &Placed,
    lines: &[Region],
) -> Option<(f64, f64)> {
    /// What they may differ by for being worked out more coarsely, in mm.
    const NEAR_MM: f64 = 0.2;
    if lettering.turn != 0.0 || lettering.repeat != Repeat::Once {
        return None;
    }
    let own = lines.iter().filter_map(Region::bounds).reduce(|all, one| all.hull(&one))?;
    let there = placed.region.bounds()?;
    let (dx, dy) = (there.x0 - own.x0, there.y0 - own.y0);
    let is_it = (there.x1 - own.x1 - dx).hypot(there.y1 - own.y1 - dy) < NEAR_MM;
    (is_it && !lettering.mirrored && !job.layout.is_seen_through(placed)).then_some((dx, dy))
}

/// Every line with the next below it that says something.
fn neighbours(lines: &[Region]) -> impl Iterator<Item = [&Region; 2]> {
    let said: Vec<&Region> = lines.iter().filter(|line| !line.is_empty()).collect();
    (1..said.len()).map(move |i| [said[i - 1], said[i]])
}

/// Whether one of two lines is nowhere nearer to the other than `apart` mm.
fn is_clear_of(one: &Region, other: &Region, apart: f64) -> bool {
    let is_near =
        one.bounds().zip(other.bounds()).is_some_and(|(a, b)| a.grown(apart).overlaps(&b));
    !is_near || one.offset(apart, Tolerance::Draft).intersection(other).is_empty()
}

/// The least distance from line to line, as a part of their height, at which no two are nearer than what closes in
/// print, or what stands between them is two lines of the printer wide.
fn enough(job: &Job<'_>, lettering: &Lettering, alone: &LinesAlone<'_>) -> Option<f64> {
    let printer = &job.piece.printer;
    let apart = match lettering.relief {
        Relief::Raised(_) => printer.gap.as_mm(),
        Relief::Recessed(_) | Relief::Flush(_) | Relief::Through => 2.0 * printer.line.as_mm(),
    };
    let is_clear = |steps: u32| {
        let lines = alone.at(f64::from(steps) / STEPS);
        neighbours(&lines).all(|[one, other]| is_clear_of(one, other, apart))
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
    let (id, height) = (&placed.id, placed.drawn.letter_height);
    let apart = job.set(id, "pitch", enough);
    let label = match lettering.size {
        LetterSize::Height(_) => format!("Set the lines {} apart", job.shown(enough * height)),
        // The letters become smaller with it.
        LetterSize::Box(_) | LetterSize::ClearArea => "Set the lines further apart".to_owned(),
    };
    let mut ways = vec![Remedy { label, edits: vec![apart.clone()] }];
    let wider = Lettering { pitch: enough, ..lettering.clone() };
    let is_less = |fitted: &f64| (SMALLEST_LETTERS_MM..height).contains(fitted);
    let fitted = job.fitted(&wider, placed).filter(is_less);
    ways.extend(fitted.map(|fitted| Remedy {
        label: format!("Set them apart and fit them in, letters {}", job.shown(fitted)),
        edits: [&[apart, job.letters(id, fitted)][..], &job.place_in_clear(id)].concat(),
    }));
    ways
}
