//! A contour blank that falls into several pieces.

use super::{Finding, Job, Weight};
use crate::evaluate::contour;
use crate::piece::{Contour, FaceName, Outline, Remedy};
use crate::plane::{Region, Tolerance};
use crate::units::Length;

/// What ties are offered by, in mm: they are what the piece is held by (common practice, no source).
const TIES_MM: f64 = 2.0;

/// Beyond this an offset joins nothing that belongs together.
const LARGEST_OFFSET_MM: f64 = 25.0;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let Some(Outline::Contour(asked)) = job.component.outline() else {
        return Vec::new();
    };
    // Loops join nothing: what they stand on must hold together by itself.
    let mut parts = job.layout.blank.base.parts();
    let pieces = parts.len();
    if pieces < 2 {
        return Vec::new();
    }
    let on_front = job.figures().filter(|figure| figure.placed.face == FaceName::Front);
    let figures = Region::gather(on_front.map(|figure| figure.placed.region.clone()).collect());
    let message = format!("The contour falls into {pieces} pieces.");
    let tie = Remedy {
        label: format!("Tie them together, {} wide", job.shown(TIES_MM)),
        edits: vec![job.set_blank("outline.contour.ties", TIES_MM)],
    };
    let mut finding = match joining_offset(&figures, asked) {
        Some(offset) => {
            let message = format!("{message} An offset of {} would join them.", job.shown(offset));
            job.of_blank("contour-apart", Weight::Must, message).remedy(
                format!("Set it to {}", job.shown(offset)),
                vec![job.set_blank("outline.contour.offset", offset)],
            )
        }
        None => {
            let message = format!("{message} Bring what is on it closer together.");
            job.of_blank("contour-apart", Weight::Must, message)
        }
    };
    finding.remedies.push(tie);
    parts.sort_by(|a, b| b.area().total_cmp(&a.area()));
    let apart = parts.into_iter().skip(1).map(|part| job.spot_of_blank(part));
    vec![finding.field("outline.contour.offset").spots(apart)]
}

/// The least offset, to a tenth of a millimetre, at which the contour is one piece.
fn joining_offset(figures: &Region, asked: &Contour) -> Option<f64> {
    let joins = |mm: f64| {
        let wider = Contour { offset: Length::mm(mm), ..asked.clone() };
        contour(figures, &wider, Tolerance::Draft).parts().len() == 1
    };
    let (mut apart, mut joined) = (asked.offset.as_mm(), LARGEST_OFFSET_MM);
    if !joins(joined) {
        return None;
    }
    while joined - apart > 0.02 {
        let middle = (apart + joined) / 2.0;
        if joins(middle) { joined = middle } else { apart = middle }
    }
    // What only just touches does not hold.
    Some(((joined + 0.05) * 10.0).ceil() / 10.0)
}
