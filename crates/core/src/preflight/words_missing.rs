//! Lettering that says nothing.

use super::{Finding, Job, Weight};

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let silent = job.lettering().filter(|(lettering, _)| lettering.words.trim().is_empty());
    silent
        .map(|(lettering, _)| {
            let message = "The lettering has no words yet. Type a name.".to_owned();
            Finding::new("no-words", Weight::Wrong, &lettering.id, message).field("words")
        })
        .collect()
}
