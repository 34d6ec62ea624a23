//! What is longer than the way round a round face.

use super::{Finding, Job, Weight};
use crate::evaluate::Placed;
use crate::piece::{Course, LetterSize, Lettering};
use crate::solid::Act;

/// What must stay free between the end of what runs round and its beginning, as a share of the way.
const LEAST_GAP: f64 = 0.02;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let mut findings = Vec::new();
    for figure in job.figures() {
        let placed = figure.placed;
        let Some(round) = job.layout.face(placed.face).and_then(|face| face.round.as_ref()) else {
            continue;
        };
        if placed.act == Act::Adds && placed.top > round.highest() {
            let message = format!(
                "The {} would meet itself in the middle of the bore: it is made {} high. Make it less \
                 high.",
                figure.noun,
                job.shown(round.highest() - round.thickness)
            );
            let finding = job.finding("fills-the-bore", Weight::Must, &placed.id, message);
            findings.push(finding.field("relief"));
        }
        if let Some(finding) = overfull(job, figure.lettering, placed) {
            findings.push(finding);
            continue;
        }
        let (Some(ink), way) = (placed.region.bounds(), round.way_round()) else { continue };
        let room = way * (1.0 - LEAST_GAP);
        let is_spread = figure.lettering.is_some_and(|one| matches!(one.course, Course::Round(_)));
        if ink.width() <= room || figure.is_repeated || is_spread {
            continue;
        }
        let message = format!(
            "The {} is {} long, and once round is {}: it runs into itself. Make it smaller or shorter.",
            figure.noun,
            job.shown(ink.width()),
            job.shown(way)
        );
        let finding = job
            .finding("longer-than-round", Weight::Must, &placed.id, message)
            .field(figure.size_field)
            .at(ink);
        findings.push(smaller(job, finding, figure.lettering, placed, room / ink.width()));
    }
    findings
}

/// Words that are to be spread over less than they take by themselves.
fn overfull(job: &Job<'_>, lettering: Option<&Lettering>, placed: &Placed) -> Option<Finding> {
    let lettering = lettering?;
    let Course::Round(round) = lettering.course else { return None };
    let span = placed.drawn.span;
    if span <= round.spread {
        return None;
    }
    let message = format!(
        "The words take {span:.0}° of the way round and are to be spread over {:.0}°: their letters run \
         into each other. Make them smaller or fewer.",
        round.spread
    );
    let finding = job
        .finding("longer-than-round", Weight::Must, &placed.id, message)
        .field("course.round.spread")
        .at(placed.frame);
    Some(smaller(job, finding, Some(lettering), placed, round.spread / span))
}

/// With letters smaller by a ratio as its remedy, where they are given by their height and stay legible.
fn smaller(
    job: &Job<'_>,
    finding: Finding,
    lettering: Option<&Lettering>,
    placed: &Placed,
    ratio: f64,
) -> Finding {
    const SMALLEST_MM: f64 = 1.0;
    let height = (placed.drawn.letter_height * ratio * 20.0).floor() / 20.0;
    let is_height = lettering.is_some_and(|one| matches!(one.size, LetterSize::Height(_)));
    if !is_height || height < SMALLEST_MM {
        return finding;
    }
    let edits = vec![job.letters(&placed.id, height)];
    finding.remedy(format!("Make the letters {}", job.shown(height)), edits)
}
