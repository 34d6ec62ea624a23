//! Letters too small to print well.

use super::finding::set;
use super::{Finding, Job, Weight};
use crate::piece::Relief;

/// Raised letters at least 4 mm tall, 5 mm or more is better (common practice, no source).
const LEAST_HEIGHT_MM: f64 = 4.0;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let small = job.lettering().filter(|(lettering, placed)| {
        let height = lettering.letter_height.as_mm();
        height < LEAST_HEIGHT_MM
            && matches!(lettering.relief, Relief::Raised(_))
            && placed.drawn.glyphs > 0
    });
    small
        .map(|(lettering, placed)| {
            let least = job.shown(LEAST_HEIGHT_MM);
            let message = format!(
                "The letters are {} tall; raised letters under {least} often print badly.",
                job.shown(lettering.letter_height.as_mm())
            );
            Finding::new("letters-small", Weight::Look, &lettering.id, message)
                .field("letter_height")
                .at(placed.frame)
                .remedy(
                    format!("Make them {least}"),
                    vec![set(&lettering.id, "letter_height", LEAST_HEIGHT_MM)],
                )
        })
        .collect()
}
