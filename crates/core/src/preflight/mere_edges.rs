//! Parts that touch along a mere edge, where no machine can join them.

use super::{Finding, Job, Weight};
use crate::piece::Address;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    if job.made.partings == 0 {
        return Vec::new();
    }
    let message =
        "Some parts touch only along an edge, which holds nothing; they are written 2 µm \
                   apart. Let them overlap or keep them clear of each other."
            .to_owned();
    vec![Finding::new("mere-edge", Weight::Look, Address::Piece, message)]
}
