//! Shapes of one's own that are not here.

use super::{Finding, Job, Weight};
use crate::piece::Kind;
use serde_json::json;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let mut findings = Vec::new();
    for (element, placed) in job.pairs() {
        if element.own_shape().is_none_or(|id| job.workshop.shape(id).is_some()) {
            continue;
        }
        let (field, instead, label) = match &element.kind {
            Kind::Recess(_) => ("shape.own.outline", json!("ellipse"), "Use an ellipse"),
            _ => ("shape", json!("star"), "Use the star"),
        };
        let message = "The shape of this is not here, so there is nothing of it. Open the archive the \
                       piece was exported as, read its drawing again on the page of shapes, or choose \
                       another shape.";
        let finding = job.finding("shape-missing", Weight::Must, &placed.id, message.to_owned());
        let remedy = vec![job.set(&placed.id, field, instead)];
        findings.push(finding.field(field).at(placed.frame).remedy(label.to_owned(), remedy));
    }
    findings
}
