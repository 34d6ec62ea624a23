//! Letters that run into each other although their typeface does not join them, and such as lose their strokes.

use super::{Figures, Finding, Job, Source, Weight};
use crate::evaluate::{LettersOfLines, Placed};
use crate::piece::{Course, Lettering};

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let lost = job.lettering().filter_map(|(lettering, placed)| losing(job, lettering, placed));
    let meeting = job.lettering().filter_map(|(lettering, placed)| meeting(job, lettering, placed));
    lost.chain(meeting).collect()
}

/// The letters of a lettering, to be set at any spacing.
fn letters_of<'a>(
    job: &'a Job<'a>,
    lettering: &'a Lettering,
    placed: &'a Placed,
) -> Option<LettersOfLines<'a>> {
    let round = job.layout.face(placed.face).and_then(|face| face.round.as_ref());
    let way = round.map(|round| round.way_round());
    let along = placed.drawn.along.as_deref();
    LettersOfLines::of(job.piece, lettering, placed.drawn.letter_height, way, along, job.workshop)
}

/// Strokes that are gone by the weight that is taken away from them: what is gone, no measure of what is left tells.
fn losing(job: &Job<'_>, lettering: &Lettering, placed: &Placed) -> Option<Finding> {
    let heavier = lettering.style.heavier.as_mm();
    if heavier >= 0.0 || placed.drawn.glyphs == 0 {
        return None;
    }
    let message = match letters_of(job, lettering, placed)?.losing() {
        0 => return None,
        1 => "One letter loses strokes by the weight that is taken away from it.".to_owned(),
        many => format!("{many} letters lose strokes by the weight that is taken away from them."),
    };
    let finding = job.finding("strokes-lost", Weight::Must, &placed.id, message);
    let finding = finding.field("style.heavier").at(placed.frame);
    let none = vec![job.set(&placed.id, "style.heavier", 0.0)];
    Some(finding.remedy("Take no weight away".to_owned(), none))
}

fn meeting(job: &Job<'_>, lettering: &Lettering, placed: &Placed) -> Option<Finding> {
    // Openwork is meant to join; what nobody set closer stands as the typeface has it.
    let Lettering { style, course, .. } = lettering;
    let is_plain = matches!(course, Course::Straight | Course::Below);
    let is_as_it_was = is_plain && style.spacing >= 0.0 && style.heavier.as_mm() <= 0.0;
    if is_as_it_was || placed.drawn.glyphs == 0 || lettering.relief.stands_on_the_bed() {
        return None;
    }
    let height = placed.drawn.letter_height;
    let letters = letters_of(job, lettering, placed)?;
    let message = match letters.meeting() {
        0 => return None,
        1 => "Two letters of this run into each other. Set them further apart.".to_owned(),
        _ => "Letters of this run into each other. Set them further apart.".to_owned(),
    };
    let finding = job.finding("letters-meet", Weight::Must, &placed.id, message);
    let finding = finding.field("style.spacing").at(placed.frame);
    let Some(enough) = letters.apart(job.piece.printer.gap.as_mm()) else { return Some(finding) };
    let [measured, limit] = [style.spacing, enough].map(|spacing| spacing * height);
    let label = format!("Set the letters {} further apart", job.shown(limit - measured));
    let edits = vec![job.set(&placed.id, "style.spacing", enough)];
    let finding = finding.measured(Figures { measured, limit, source: Source::Printer });
    let mut finding = finding.remedy(label, edits);
    if let Course::Circle(circle) = course {
        let radius = circle.radius.as_mm();
        for share in [1.25, 1.5, 2.0] {
            let larger = (radius * share * 10.0).round() / 10.0;
            let label = format!("Make the radius {}", job.shown(larger));
            let edit = job.set(&placed.id, "course.circle.radius", larger);
            finding = finding.remedy(label, vec![edit]);
        }
    }
    Some(finding)
}
