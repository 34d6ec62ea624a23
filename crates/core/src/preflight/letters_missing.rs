//! Letters the typefaces do not have.

use super::{Finding, Job, Weight};
use crate::lettering::typeface_for;
use serde_json::Value;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let lacking = job.lettering().filter(|(_, placed)| !placed.drawn.missing.is_empty());
    lacking
        .filter_map(|(lettering, placed)| {
            let face = job.workshop.typeface(&lettering.typeface)?;
            let named: Vec<String> =
                placed.drawn.missing.iter().take(6).map(|c| format!("“{c}”")).collect();
            let named = named.join(", ");
            let words = job.piece.filled_in(&lettering.words());
            let characters: Vec<char> =
                words.chars().filter(|c| !c.is_whitespace() && !c.is_control()).collect();
            let other = typeface_for(&characters, face.group);
            let ending = match &other {
                Some(other) => format!("{} has.", other.name),
                None => "No typeface here has all the letters of these words.".to_owned(),
            };
            let message = format!("{} does not have {named}; left out. {ending}", face.name);
            let finding = job
                .finding("letters-missing", Weight::Wrong, &placed.id, message)
                .field("lines")
                .at(placed.frame);
            let Some(other) = other else { return Some(finding) };
            let id = &placed.id;
            let mut edits = vec![job.set(id, "typeface", other.id.as_ref())];
            for (i, line) in lettering.lines.iter().enumerate() {
                if line.typeface.is_some() {
                    edits.push(job.set(id, &format!("lines.{i}.typeface"), Value::Null));
                }
            }
            Some(finding.remedy(format!("Use {}", other.name), edits))
        })
        .collect()
}
