//! A corner radius there is no room for.

use super::finding::set;
use super::{Finding, Job, Weight};

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let plate = job.piece.component().plate();
    let largest = plate.largest_radius();
    if plate.corner_radius.as_mm() <= largest {
        return Vec::new();
    }
    let message = format!(
        "The corners can be rounded by {} at most, half the shorter side; that is used instead of {}.",
        job.shown(largest),
        job.shown(plate.corner_radius.as_mm())
    );
    let finding = Finding::new("corner-radius", Weight::Look, "blank", message)
        .field("corner_radius")
        .remedy(
            format!("Set it to {}", job.shown(largest)),
            vec![set("blank", "corner_radius", largest)],
        );
    vec![finding]
}
