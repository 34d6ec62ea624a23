//! Lines of a shape that cannot be as wide as was asked for.

use super::{Finding, Job, Weight};
use crate::evaluate::drawn_out;
use crate::piece::Kind;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let said = job.pairs().filter_map(|(element, placed)| {
        let Kind::Emblem(emblem) = &element.kind else { return None };
        let asked = emblem.stroke.width?;
        emblem.own_shape().and_then(|id| job.workshop.shape(id))?;
        if drawn_out(emblem, job.workshop).width == Some(asked) {
            return None;
        }
        let message = format!(
            "Lines as wide as {} would lie over each other more often than can be worked out; they are as \
             wide as they were drawn instead. Choose a smaller width.",
            job.shown(asked.as_mm())
        );
        let finding = job
            .finding("lines-as-drawn", Weight::Must, &placed.id, message)
            .field("stroke.width")
            .instead()
            .remedy(
                "Leave them as they were drawn",
                vec![job.set(&placed.id, "stroke.width", serde_json::Value::Null)],
            );
        Some(finding)
    });
    said.collect()
}
