//! Letters whose insides are filled by the weight that was added.

use super::{Figures, Finding, Job, Source, Weight};
use crate::evaluate::{Placed, letters_alone};
use crate::piece::Lettering;
use crate::plane::{Rect, Region, Side, Tolerance};

/// The weight is offered in so many steps to the millimetre.
const STEPS: f64 = 20.0;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    job.lettering().filter_map(|(lettering, placed)| filled(job, lettering, placed)).collect()
}

fn filled(job: &Job<'_>, lettering: &Lettering, placed: &Placed) -> Option<Finding> {
    let heavier = lettering.style.heavier.as_mm();
    if heavier <= 0.0 || placed.drawn.glyphs == 0 {
        return None;
    }
    let gap = job.piece.printer.gap.as_mm();
    let height = placed.drawn.letter_height;
    let letters = letters_alone(job.piece, lettering, height, job.workshop);
    let filled_by = |mm: f64| -> usize {
        letters.iter().map(|(letter, times)| times * insides_filled(letter, mm)).sum()
    };
    let lost = filled_by(heavier);
    if lost == 0 {
        return None;
    }
    // What leaves all of them open by what does not close in print.
    let is_open = |steps: u32| filled_by((f64::from(steps) + 0.5) / STEPS + gap / 2.0) == 0;
    let (mut most, mut too_much) = (0, (heavier * STEPS).ceil() as u32);
    while too_much - most > 1 {
        let between = (most + too_much) / 2;
        match is_open(between) {
            true => most = between,
            false => too_much = between,
        }
    }
    let enough = f64::from(most) / STEPS;
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
        let less = f64::from(steps) / STEPS;
        let label = match steps {
            0 => "Add no weight".to_owned(),
            _ => format!("Add {}", job.shown(less)),
        };
        finding.remedy(label, vec![job.set(&placed.id, "style.heavier", less)])
    }))
}

/// Of how many openings of a letter nothing is left when it is grown.
fn insides_filled(letter: &Region, by: f64) -> usize {
    let boxes = |region: &Region| -> Vec<Rect> {
        region.extents(Side::Outside).into_iter().map(|opening| opening.bounds).collect()
    };
    let left = boxes(&letter.offset(by, Tolerance::Draft));
    let is_left = |own: &Rect| left.iter().any(|one| own.contains(one));
    boxes(letter).iter().filter(|own| !is_left(own)).count()
}
