//! Letters the typeface does not have.

use super::finding::set;
use super::{Finding, Job, Weight};
use crate::lettering::{typeface, typeface_for};

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let lacking = job.lettering().filter(|(_, placed)| !placed.drawn.missing.is_empty());
    lacking
        .filter_map(|(lettering, placed)| {
            let face = typeface(&lettering.face)?;
            let named: Vec<String> =
                placed.drawn.missing.iter().take(6).map(|c| format!("“{c}”")).collect();
            let named = named.join(", ");
            let characters: Vec<char> =
                lettering.words.chars().filter(|c| !c.is_whitespace() && !c.is_control()).collect();
            let other = typeface_for(&characters, face.group);
            let ending = match other {
                Some(other) => format!("{} has.", other.name),
                None => "No typeface here has all the letters of these words.".to_owned(),
            };
            let message = format!("{} does not have {named}; left out. {ending}", face.name);
            let finding = Finding::new("letters-missing", Weight::Wrong, &lettering.id, message)
                .field("words")
                .at(placed.frame);
            Some(match other {
                Some(other) => finding.remedy(
                    format!("Use {}", other.name),
                    vec![set(&lettering.id, "face", other.id)],
                ),
                None => finding,
            })
        })
        .collect()
}
