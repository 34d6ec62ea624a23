//! Lettering that says nothing, or asks for a text the piece does not have.

use super::{Finding, Job, Weight};
use crate::piece::{Address, Edit, Input};
use serde_json::json;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let mut findings = Vec::new();
    for (lettering, placed) in job.lettering() {
        let words = lettering.words();
        if job.piece.filled_in(&words).trim().is_empty() {
            let message = "The lettering has no words yet. Type a name.".to_owned();
            let finding = job.finding("no-words", Weight::Must, &placed.id, message);
            let edit = Edit::Remove { target: job.address(&placed.id) };
            findings.push(finding.field("lines").remedy("Take it away", vec![edit]));
        }
        for name in job.piece.unknown_inputs(&words) {
            let message = format!(
                "The piece has no text called “{name}”, so {{{name}}} is printed as it stands."
            );
            let mut inputs = job.piece.inputs.clone();
            inputs.push(Input::new(&name, "Name"));
            let finding = job.finding("no-input", Weight::Must, &placed.id, message);
            findings.push(finding.field("lines").at(placed.frame).remedy(
                "Make it a text of the piece",
                vec![Edit::set(&Address::Piece, "inputs", json!(inputs))],
            ));
        }
    }
    findings
}
