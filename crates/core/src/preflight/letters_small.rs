//! Letters too small to print well.

use super::room::more_room;
use super::{Finding, Job, Weight};
use crate::evaluate::Placed;
use crate::piece::{LetterBox, LetterSize, Relief};
use serde_json::json;

/// Raised letters at least 4 mm tall, 5 mm or more is better (common practice, no source).
const LEAST_HEIGHT_MM: f64 = 4.0;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let mut findings = Vec::new();
    for (lettering, placed) in job.lettering() {
        let smallest = lettering.lines.iter().map(|line| line.scale).fold(f64::INFINITY, f64::min);
        let height = placed.drawn.letter_height * smallest;
        let is_raised = matches!(lettering.relief, Relief::Raised(_));
        if height >= LEAST_HEIGHT_MM - 1e-9 || !is_raised || placed.drawn.glyphs == 0 {
            continue;
        }
        let least = job.shown(LEAST_HEIGHT_MM);
        let message = format!(
            "The letters are {} tall; raised letters under {least} often print badly.",
            job.shown(height)
        );
        let finding =
            job.finding("letters-small", Weight::Should, &placed.id, message).at(placed.frame);
        findings.push(match lettering.size {
            LetterSize::Height(_) => as_tall(job, finding, placed, smallest),
            LetterSize::Box(box_) => {
                let times = LEAST_HEIGHT_MM / height;
                let finding = larger_box(job, finding.field("size"), placed, (box_, times));
                room_for_larger(job, finding, placed, times)
            }
            LetterSize::ClearArea => {
                room_for_larger(job, finding.field("size"), placed, LEAST_HEIGHT_MM / height)
            }
        });
    }
    findings
}

/// Offers letters that are tall enough in the smallest line; where that leaves something too thin, half as tall again.
fn as_tall(job: &Job<'_>, finding: Finding, placed: &Placed, smallest: f64) -> Finding {
    [1.0, 1.5].into_iter().fold(finding.field("size.height"), |finding, times| {
        let enough = times * LEAST_HEIGHT_MM;
        let edits = vec![job.letters(&placed.id, enough / smallest)];
        finding.remedy(format!("Make them {}", job.shown(enough)), edits)
    })
}

/// Offers a box so many times as large for the words to be fitted into.
fn larger_box(
    job: &Job<'_>,
    finding: Finding,
    placed: &Placed,
    (box_, times): (LetterBox, f64),
) -> Finding {
    let [wide, tall] = [box_.width, box_.height].map(|side| (side.as_mm() * times).ceil());
    let label = format!("Make their box {} by {}", job.shown(wide), job.shown(tall));
    let larger = json!({ "box": { "width": wide, "height": tall } });
    finding.remedy(label, vec![job.set(&placed.id, "size", larger)])
}

/// Offers what gives fitted words room to be so many times as large.
fn room_for_larger(job: &Job<'_>, mut finding: Finding, placed: &Placed, times: f64) -> Finding {
    let figure = job.figures().find(|figure| figure.placed.id == placed.id);
    let (Some(figure), Some(ink)) = (figure, placed.region.bounds()) else { return finding };
    finding.remedies.extend(more_room(job, figure, ink.width() * times));
    finding
}
