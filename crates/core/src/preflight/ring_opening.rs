//! The opening of a ring larger than there is room for.

use super::{Finding, Job, Weight};
use crate::evaluate::RING_WALLS_MM;
use crate::piece::Outline;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let Some(Outline::Ring(ring)) = job.component.outline() else { return Vec::new() };
    let largest = job.shorter_side() - RING_WALLS_MM;
    let asked = ring.inside.as_mm();
    if asked <= largest {
        return Vec::new();
    }
    let message = format!(
        "The opening of this ring can be {} at most, just less than its shorter side; that is used \
         instead of {}.",
        job.shown(largest),
        job.shown(asked)
    );
    let fitting = serde_json::json!(largest);
    let finding = job
        .of_blank("ring-opening", Weight::Should, message)
        .field("outline.ring.inside")
        .instead()
        .remedy(
            format!("Set it to {}", job.shown(largest)),
            vec![job.set_blank("outline.ring.inside", fitting)],
        );
    vec![finding]
}
