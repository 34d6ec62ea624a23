//! Reliefs that make no difference to the solid, and what stands on the bed by its letters.

use super::{Finding, Job, Weight};
use crate::piece::{Height, Relief};

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let mut findings = Vec::new();
    let mut props = Vec::new();
    for (element, placed) in job.pairs() {
        let Some(relief) = element.relief() else { continue };
        let what = placed.kind.word();
        let message = match relief {
            Relief::Raised(Height::LevelWithFace) if placed.prisms.is_empty() => format!(
                "The {what} has no height: it lies on the face and is to be level with it. Put a \
                 recess under it, or raise it."
            ),
            Relief::Raised(Height::LevelWithRim) if placed.prisms.is_empty() => {
                format!("The {what} has no height: the rim is no higher than what it stands on.")
            }
            Relief::Flush(_)
                if usize::from(placed.colour) == job.layout.blank.face_colour(placed.face) =>
            {
                format!(
                    "The {what} is level with the face and has the colour of the {}: it does not show. Give it another \
                     colour.",
                    job.blank()
                )
            }
            Relief::Raised(_)
                if job.layout.is_seen_through(placed) && !placed.prisms.is_empty() =>
            {
                props.push(placed);
                continue;
            }
            _ => continue,
        };
        let finding = job.finding("unseen", Weight::Should, &placed.id, message);
        findings.push(
            finding
                .field(if matches!(relief, Relief::Flush(_)) { "colour" } else { "relief" })
                .at(placed.frame),
        );
    }
    if let Some(first) = props.first() {
        let message = format!(
            "The piece stands on what is raised on its back; the plate hangs {} above the bed and \
             needs support. Sink it into the back instead.",
            job.shown(-first.bottom)
        );
        let finding = job.finding("stands-on-relief", Weight::Should, &first.id, message);
        findings.push(finding.field("relief").at(first.frame));
    }
    findings
}
