//! Reliefs that make no difference to the solid, and what stands on the bed by its letters.

use super::colours::standing_out;
use super::layers::LEAST_LAYERS;
use super::{Finding, Job, Remedy, Weight, rounded_down};
use crate::evaluate::Placed;
use crate::piece::{Edit, Element, Height, Relief};
use serde_json::json;

/// What is to be seen is raised so many layers (ours).
const SEEN_LAYERS: f64 = 3.0;

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
                props.push((element, placed));
                continue;
            }
            _ => continue,
        };
        let mut finding = job.finding("unseen", Weight::Should, &placed.id, message);
        finding.remedies = shown(job, relief, placed);
        findings.push(
            finding
                .field(if matches!(relief, Relief::Flush(_)) { "colour" } else { "relief" })
                .at(placed.frame),
        );
    }
    if let Some((_, first)) = props.first() {
        let message = format!(
            "The piece stands on what is raised on its back; the plate hangs {} above the bed and \
             needs support. Sink it into the back instead.",
            job.shown(-first.bottom)
        );
        let finding = job.finding("stands-on-relief", Weight::Should, &first.id, message);
        let mut finding = finding.field("relief").at(first.frame);
        finding.remedies = sunk(job, &props);
        findings.push(finding);
    }
    findings
}

/// The ways to let something be seen that lies level: in another colour, raised, or sunk by as much as it was to be
/// inlaid.
fn shown(job: &Job<'_>, relief: Relief, placed: &Placed) -> Vec<Remedy> {
    let layer = job.piece.layers.height.as_mm();
    let high = SEEN_LAYERS * layer;
    let coloured = standing_out(job, placed).filter(|_| matches!(relief, Relief::Flush(_)));
    let mut ways: Vec<Remedy> = coloured.into_iter().collect();
    ways.push(Remedy {
        label: format!("Raise it by {}", job.shown(high)),
        edits: vec![job.set(&placed.id, "relief", json!({ "raised": { "by": high } }))],
    });
    if let Relief::Flush(depth) = relief {
        let deep = depth.as_mm().max(LEAST_LAYERS * layer);
        ways.push(Remedy {
            label: format!("Sink it by {}", job.shown(deep)),
            edits: vec![job.set(&placed.id, "relief", json!({ "recessed": { "by": deep } }))],
        });
    }
    ways
}

/// What the piece would stand on, sunk into its back instead, or inlaid where it has a colour of its own; so deep
/// as it was high, and no deeper than a third of the plate.
fn sunk(job: &Job<'_>, props: &[(&Element, &Placed)]) -> Vec<Remedy> {
    let deepest = |placed: &Placed| rounded_down(placed.ground / 3.0).max(0.05);
    let all = |into: fn(f64) -> serde_json::Value| -> Vec<Edit> {
        let edit = |(_, placed): &(&Element, &Placed)| {
            let high = (placed.top - placed.bottom).min(deepest(placed));
            job.set(&placed.id, "relief", into((high * 100.0).round() / 100.0))
        };
        props.iter().map(edit).collect()
    };
    let remedy = |label: &str, edits| Remedy { label: label.to_owned(), edits };
    vec![
        remedy("Sink it into the back", all(|mm| json!({ "recessed": { "by": mm } }))),
        remedy("Inlay it level with the back", all(|mm| json!({ "flush": mm }))),
    ]
}
