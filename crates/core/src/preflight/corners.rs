//! Corners larger than there is room for.

use super::{Finding, Job, Weight};
use crate::piece::{Corner, Outline};
use crate::units::Length;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let component = job.component;
    let largest = job.shorter_side() / 2.0;
    let Some(Outline::Rectangle(corners)) = component.outline() else { return Vec::new() };
    let too_large: Vec<(&str, Corner)> =
        corners.named().into_iter().filter(|(_, corner)| corner.size() > largest).collect();
    let Some(&(first, corner)) = too_large.first() else { return Vec::new() };
    let message = format!(
        "A corner can be {} at most, half the shorter side; that is used instead of {}.",
        job.shown(largest),
        job.shown(corner.size())
    );
    let fitting = |corner: Corner| match corner {
        Corner::Square => Corner::Square,
        Corner::Round(_) => Corner::Round(Length::mm(largest)),
        Corner::Chamfer(_) => Corner::Chamfer(Length::mm(largest)),
        Corner::Scoop(_) => Corner::Scoop(Length::mm(largest)),
    };
    let edits = too_large
        .iter()
        .map(|&(name, corner)| {
            let value = serde_json::to_value(fitting(corner)).unwrap_or_default();
            job.set_blank(&format!("outline.rectangle.{name}"), value)
        })
        .collect();
    let finding = job
        .of_blank("corner-size", Weight::Should, message)
        .field(format!("outline.rectangle.{first}.{}", treatment(corner)))
        .instead()
        .remedy(format!("Set it to {}", job.shown(largest)), edits);
    vec![finding]
}

fn treatment(corner: Corner) -> &'static str {
    match corner {
        Corner::Square => "square",
        Corner::Round(_) => "round",
        Corner::Chamfer(_) => "chamfer",
        Corner::Scoop(_) => "scoop",
    }
}
