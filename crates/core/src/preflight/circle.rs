//! Words along a circle that meet themselves.

use super::{Finding, Job, Remedy, Weight};
use crate::evaluate::{Layout, Placed, layout};
use crate::piece::{Course, Edit, LetterSize, Lettering};
use crate::plane::Tolerance;

/// Between the end of the words and their beginning, as a part of the circle.
const LEAST_GAP_DEGREES: f64 = 6.0;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let mut findings = Vec::new();
    for (lettering, placed) in job.lettering() {
        findings.extend(along_outline(job, lettering, placed));
        let Course::Circle(circle) = lettering.course else { continue };
        let span = placed.drawn.span;
        let is_spread = circle.spread.is_some();
        if is_spread || span <= 360.0 - LEAST_GAP_DEGREES {
            continue;
        }
        let message = format!(
            "The words take {span:.0}° of the circle and run into themselves. Make the letters \
             smaller, the circle larger, or the words fewer."
        );
        let finding = job
            .finding("circle-full", Weight::Must, &placed.id, message)
            .field("course.circle.radius")
            .at(placed.frame);
        let ratio = span / (360.0 - 2.0 * LEAST_GAP_DEGREES);
        let trial = Trial { job, placed };
        let remedies = [
            trial.smaller_letters(lettering.size, ratio),
            trial.larger_circle(circle.radius.as_mm() * ratio),
        ];
        findings.push(Finding { remedies: remedies.into_iter().flatten().collect(), ..finding });
    }
    findings
}

/// Words along an outline that are longer than it, or find none so far within it.
fn along_outline(job: &Job<'_>, lettering: &Lettering, placed: &Placed) -> Option<Finding> {
    let Course::Outline(course) = &lettering.course else { return None };
    let span = placed.drawn.span;
    let says_nothing = job.piece.filled_in(&lettering.words()).trim().is_empty();
    if placed.region.is_empty() && !says_nothing {
        let message = "So far within the outline nothing is left of it for the words to run along. Let them run \
                       nearer to it, or make them smaller.";
        let finding = job.finding("no-way", Weight::Must, &placed.id, message.to_owned());
        return Some(finding.field("course.outline.distance"));
    }
    if course.spread.is_some() || span <= 360.0 - LEAST_GAP_DEGREES {
        return None;
    }
    let message = format!(
        "The words take {:.0} % of the way round and run into themselves. Make the letters smaller, or the words \
         fewer.",
        span / 3.6
    );
    let finding = job.finding("circle-full", Weight::Must, &placed.id, message);
    let finding = finding.field("size.height").at(placed.frame);
    let trial = Trial { job, placed };
    let ratio = span / (360.0 - 2.0 * LEAST_GAP_DEGREES);
    let remedy = trial.smaller_letters(lettering.size, ratio);
    Some(Finding { remedies: remedy.into_iter().collect(), ..finding })
}

/// Ways to give words room on their circle. Each is tried before it is offered.
struct Trial<'a> {
    job: &'a Job<'a>,
    placed: &'a Placed,
}

impl Trial<'_> {
    fn smaller_letters(&self, size: LetterSize, ratio: f64) -> Option<Remedy> {
        let height = (self.placed.drawn.letter_height / ratio * 20.0).floor() / 20.0;
        if !matches!(size, LetterSize::Height(_)) || height < 1.0 {
            return None;
        }
        let edit = self.job.letters(&self.placed.id, height);
        self.offered(format!("Make the letters {}", self.job.shown(height)), edit)
    }

    fn larger_circle(&self, radius: f64) -> Option<Remedy> {
        let radius = (radius * 10.0).ceil() / 10.0;
        let edit = self.job.set(&self.placed.id, "course.circle.radius", radius);
        self.offered(format!("Make the radius {}", self.job.shown(radius)), edit)
    }

    /// The remedy, if after it the words have room on their circle and the circle on the face.
    fn offered(&self, label: String, edit: Edit) -> Option<Remedy> {
        let Edit::Set { target, field, value } = &edit else { return None };
        let mut piece = self.job.piece.clone();
        piece.set_value(target, field, value.clone()).ok()?;
        let component = piece.component(&self.job.component.id)?;
        let workshop = self.job.workshop.at(Tolerance::Draft);
        let layout = layout(&piece, component, &workshop).ok()?;
        let placed = layout.element(&self.placed.id)?;
        let has_room = placed.drawn.span <= 360.0 - LEAST_GAP_DEGREES;
        let over = |layout: &Layout, placed: &Placed| {
            let room = match layout.is_on_sections(placed) {
                true => &layout.blank.base,
                false => layout.room_for(placed).0,
            };
            placed.region.difference(room).area()
        };
        let over_before = over(self.job.layout, self.placed);
        let over = over(&layout, placed);
        // What ran over the edge before may go on doing so.
        let stays = over <= over_before + 0.01;
        (has_room && stays).then(|| Remedy { label, edits: vec![edit] })
    }
}
