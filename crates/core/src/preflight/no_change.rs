//! Elements that change nothing: what is cut where nothing is, what is added where everything is.

use super::{Finding, Job, Weight};
use crate::piece::{Edit, ElementKind, Relief};

/// Of more elements it is not asked.
const MOST_ELEMENTS: usize = 150;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let mut findings = Vec::new();
    if job.has_too_many_slices() || job.layout.elements.len() > MOST_ELEMENTS {
        return findings;
    }
    for (element, placed) in job.pairs() {
        // What is empty, or has no height, has findings of its own.
        let has_none = placed.region.is_empty() || placed.prisms.is_empty();
        let is_loop = placed.kind == ElementKind::Loop;
        let is_flush = matches!(element.relief(), Some(Relief::Flush(_)));
        if has_none || is_loop || is_flush || job.made.is_changed_by(&placed.id) {
            continue;
        }
        let message = format!(
            "The {} “{}” changes nothing: what is around it hides it.",
            placed.kind.word(),
            element.name()
        );
        let edit = Edit::Remove { target: job.address(&placed.id) };
        findings.push(
            job.finding("changes-nothing", Weight::Should, &placed.id, message)
                .at(placed.frame)
                .remedy("Take it away", vec![edit]),
        );
    }
    findings
}
