//! Figures of outlines that there is no room for: corners, roundings, tips, waves.

use super::{Finding, Job, Weight, rounded_down};
use crate::evaluate::reduced;
use crate::piece::{Address, Edit, FieldShape, Kind, Outline};
use serde_json::json;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let rect = job.layout.blank.rect;
    let own = job.component.outline().map(|outline| {
        let size = (rect.width(), rect.height());
        (job.component.blank_address(), "outline", outline, size)
    });
    let fits = job.piece.printer.drawn();
    let fields = job.pairs().filter_map(|(element, placed)| match &element.kind {
        Kind::Recess(recess) => match &recess.shape {
            FieldShape::Own(own) => {
                let target = job.address(&placed.id);
                Some((target, "shape.own.outline", &own.outline, own.size(&fits)))
            }
            FieldShape::Inset(_) => None,
        },
        _ => None,
    });
    own.into_iter().chain(fields).filter_map(|one| too_large(job, one)).collect()
}

fn too_large(
    job: &Job<'_>,
    (target, prefix, outline, size): (Address, &str, &Outline, (f64, f64)),
) -> Option<Finding> {
    // The opening of a plate has a finding of its own, which says what else it comes to.
    let is_told = |field: &str| prefix == "outline" && field == "ring.inside";
    let mut found = reduced(outline, size, job.workshop);
    found.retain(|one| !is_told(&one.field));
    let first = found.first()?;
    let what = match first.field.rsplit('.').next() {
        Some("rounding") => "The corners can be rounded by",
        Some("point") => "The point can be",
        Some("depth") => "The waves can be",
        Some("inside") => "The opening can be",
        _ => "A corner can be",
    };
    let message = format!(
        "{what} {} at most here; that is used instead of {}.",
        job.shown(first.used),
        job.shown(first.asked)
    );
    let fitting = rounded_down(first.used);
    let edits = found.iter().map(|one| {
        Edit::set(&target, &format!("{prefix}.{}", one.field), json!(rounded_down(one.used)))
    });
    let edits: Vec<Edit> = edits.collect();
    let finding = Finding::new("corner-size", Weight::Should, target.clone(), message)
        .field(format!("{prefix}.{}", first.field))
        .instead();
    Some(finding.remedy(format!("Set it to {}", job.shown(fitting)), edits))
}
