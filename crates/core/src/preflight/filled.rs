//! Letters whose insides are filled by the weight that was added.

use super::{Figures, Finding, Job, Source, Weight};
use crate::evaluate::{Placed, counters};
use crate::piece::Lettering;

/// The weight is offered in steps of so much.
const STEP_MM: f64 = 0.05;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    job.lettering().filter_map(|(lettering, placed)| filled(job, lettering, placed)).collect()
}

fn filled(job: &Job<'_>, lettering: &Lettering, placed: &Placed) -> Option<Finding> {
    let heavier = lettering.style.heavier.as_mm();
    if heavier <= 0.0 || placed.drawn.glyphs == 0 {
        return None;
    }
    let height = placed.drawn.letter_height;
    let open = |heavier: f64| counters(job.piece, lettering, height, heavier, job.workshop);
    let all = open(0.0);
    let lost = all.saturating_sub(open(heavier));
    if lost == 0 {
        return None;
    }
    // What leaves all of them open by what does not close in print.
    let gap = job.piece.printer.gap.as_mm();
    let is_open = |steps: u32| open(f64::from(steps) * STEP_MM + gap / 2.0 + STEP_MM / 2.0) == all;
    let (mut most, mut too_much) = (0, (heavier / STEP_MM).ceil() as u32);
    while too_much - most > 1 {
        let between = (most + too_much) / 2;
        match is_open(between) {
            true => most = between,
            false => too_much = between,
        }
    }
    let enough = f64::from(most) * STEP_MM;
    let message = format!(
        "{} filled: {} of weight added all round is more than there is room for.",
        match lost {
            1 => "An inside of a letter is".to_owned(),
            many => format!("{many} insides of letters are"),
        },
        job.shown(heavier)
    );
    let figures = Figures { measured: heavier, limit: enough, source: Source::Printer };
    let finding = job.finding("filled-letters", Weight::Should, &placed.id, message);
    let finding = finding.field("style.heavier").at(placed.frame).measured(figures);
    // Less, and then none, where letters would still be too near to each other.
    Some([most, most / 2, 0].into_iter().fold(finding, |finding, steps| {
        let less = f64::from(steps) * STEP_MM;
        let label = match steps {
            0 => "Add no weight".to_owned(),
            _ => format!("Add {}", job.shown(less)),
        };
        finding.remedy(label, vec![job.set(&placed.id, "style.heavier", less)])
    }))
}
