//! A component that is not one solid.

use super::{Finding, Job, Weight};
use crate::piece::{Address, Relief};

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    if job.made.parts < 2 {
        return Vec::new();
    }
    let cut_through = job.lettering().find(|(lettering, _)| lettering.relief == Relief::Through);
    let loose = job.made.parts - 1;
    let parts = match loose {
        1 => "One part hangs on nothing and falls out.".to_owned(),
        _ => format!("{loose} parts hang on nothing and fall out."),
    };
    let (target, place, reason) = match cut_through {
        Some((_, placed)) => (
            job.address(&placed.id),
            Some(placed.frame),
            "Where letters are cut through, the inside of an O or an A (its counter) is cut loose; a stencil typeface keeps it.",
        ),
        None => {
            (Address::Piece, None, "Bring everything that stands alone onto what it belongs to.")
        }
    };
    let message = format!("{parts} {reason}");
    let mut finding = Finding::new("loose-parts", Weight::Must, target, message);
    finding.place = place;
    vec![finding]
}
