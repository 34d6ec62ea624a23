//! A component that is not one solid.

use super::{Finding, Job, Weight};
use crate::piece::{Address, Relief};

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    if job.made.parts < 2 {
        return Vec::new();
    }
    let cut_through = job.lettering().find(|(lettering, _)| lettering.relief == Relief::Through);
    let loose = job.made.parts - 1;
    let parts = if loose == 1 { "One part is".to_owned() } else { format!("{loose} parts are") };
    let (target, place, reason) = match cut_through {
        Some((_, placed)) => (
            job.address(&placed.id),
            Some(placed.frame),
            "Letters cut through lose their counters, the enclosed white of an O or an A; a stencil face keeps them.",
        ),
        None => {
            (Address::Piece, None, "Bring everything that stands alone onto what it belongs to.")
        }
    };
    let message = format!("{parts} not held by the {} and will fall out. {reason}", job.blank());
    let mut finding = Finding::new("loose-parts", Weight::Wrong, target, message);
    finding.place = place;
    vec![finding]
}
