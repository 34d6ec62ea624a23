//! Typefaces that are not on this shelf.

use super::finding::set;
use super::{Finding, Job, Weight};
use crate::lettering::{TYPEFACES, typeface};
use serde_json::Value;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let mut findings = Vec::new();
    for (lettering, placed) in job.lettering() {
        let own = lettering.lines.iter().enumerate().filter_map(|(i, line)| {
            line.face.as_ref().map(|face| (format!("lines.{i}.face"), face, Value::Null))
        });
        let first = &TYPEFACES[0];
        let whole = ("face".to_owned(), &lettering.face, Value::from(first.id.as_ref()));
        for (field, face, instead) in std::iter::once(whole).chain(own) {
            if typeface(face).is_some() {
                continue;
            }
            let message = format!(
                "The typeface of this lettering is not among yours here; {} stands in for it. Add \
                 its font file, or choose another.",
                first.name
            );
            let finding = Finding::new("typeface-missing", Weight::Wrong, &lettering.id, message);
            findings.push(
                finding.field(field.clone()).at(placed.frame).remedy(
                    format!("Use {}", first.name),
                    vec![set(&lettering.id, &field, instead)],
                ),
            );
        }
    }
    findings
}
