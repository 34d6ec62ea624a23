//! Typefaces that are not on this shelf.

use super::{Finding, Job, Weight};
use crate::lettering::TYPEFACES;
use serde_json::Value;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let mut findings = Vec::new();
    for (lettering, placed) in job.lettering() {
        let own = lettering.lines.iter().enumerate().filter_map(|(i, line)| {
            line.typeface.as_ref().map(|id| (format!("lines.{i}.typeface"), id, Value::Null))
        });
        let first = &TYPEFACES[0];
        let whole = ("typeface".to_owned(), &lettering.typeface, Value::from(first.id.as_ref()));
        for (field, face, instead) in std::iter::once(whole).chain(own) {
            if job.workshop.typeface(face).is_some() {
                continue;
            }
            let message = format!(
                "The typeface of this lettering is not among yours here; {} stands in for it. Add \
                 its font file, or choose another.",
                first.name
            );
            let finding = job.finding("typeface-missing", Weight::Must, &placed.id, message);
            findings.push(
                finding.field(field.clone()).at(placed.frame).remedy(
                    format!("Use {}", first.name),
                    vec![job.set(&placed.id, &field, instead)],
                ),
            );
        }
    }
    findings
}
