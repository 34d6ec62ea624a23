//! Parts that touch along a mere edge, where no machine can join them.

use super::{Finding, Job, Weight};
use crate::piece::Address;
use crate::units::{Length, format_length};

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let partings = job.made.partings;
    if partings.count == 0 {
        return Vec::new();
    }
    let apart = match partings.widest * 1000.0 {
        micrometres if micrometres < 100.0 => format!("{micrometres:.0} µm"),
        _ => format_length(Length::mm((partings.widest * 100.0).round() / 100.0), job.piece.units),
    };
    let message = format!(
        "Some parts touch only along an edge, which holds nothing; they are written {apart} apart. \
         Let them overlap or keep them clear of each other."
    );
    vec![Finding::new("mere-edge", Weight::Should, Address::Piece, message)]
}
