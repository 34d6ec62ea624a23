//! Edges that had to be made smaller than asked.

use super::{Finding, Job, Weight};
use crate::piece::Address;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let elements =
        job.layout.elements.iter().map(|p| (job.address(&p.id), p.reduced_edge, Some(p.frame)));
    let blank = (job.component.blank_address(), job.layout.blank.reduced_edge, None);
    let all = std::iter::once(blank).chain(elements);
    all.filter_map(|(target, reduced, place)| {
        let reduced = reduced?;
        let message = if reduced < 0.005 {
            "There is no room for a chamfer or a round here; the edge is left square.".to_owned()
        } else {
            format!(
                "Chamfers and rounds can be {} at most where the thinnest stroke or wall is about {}. \
                 They are made smaller where they must be.",
                job.shown(reduced),
                job.shown(2.0 * reduced)
            )
        };
        let field = if matches!(target, Address::Blank(_)) { "edges" } else { "edge" };
        let mut finding = Finding::new("edge-reduced", Weight::Should, target, message);
        finding.place = place;
        Some(finding.field(field).instead())
    })
    .collect()
}
