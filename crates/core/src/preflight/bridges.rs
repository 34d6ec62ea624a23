//! Bridges that are too thin, too wide, too low or too slender, and such as lie nowhere.

use super::{Figures, Finding, Job, Source, Weight};
use crate::evaluate::{Bridging, Placed};
use crate::piece::{Bridges, limit_of};
use serde_json::json;

/// What holds should be so many lines wide, and so many layers high (common practice, no source).
const LINES: f64 = 2.0;
const LAYERS: f64 = 2.0;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let held = job.pairs().filter_map(|(element, placed)| {
        Some((element.bridges()?, placed.bridging.as_deref()?, placed))
    });
    let said = held.flat_map(|(bridges, bridging, placed)| {
        let there_are = !bridging.bridges.is_empty();
        let thin = there_are.then(|| thin(job, bridges, placed)).flatten();
        let low = there_are.then(|| low(job, bridges, bridging, placed)).flatten();
        let weak = match (&thin, &low) {
            (None, None) => weak(job, bridges, bridging, placed),
            _ => None,
        };
        let wide = there_are.then(|| wide(job, bridges, placed)).flatten();
        [thin, low, weak, wide, idle(job, bridges, bridging, placed)]
    });
    said.flatten().collect()
}

/// Up to the next tenth.
fn up(mm: f64) -> f64 {
    ((mm - 1e-6) * 10.0).ceil() / 10.0
}

/// A finding of how wide the bridges of an element are.
fn of_width(
    job: &Job<'_>,
    code: &'static str,
    weight: Weight,
    placed: &Placed,
    message: &str,
    figures: Figures,
) -> Finding {
    let finding = job.finding(code, weight, &placed.id, message.to_owned());
    finding.field("bridges.width").measured(figures).at(placed.frame)
}

/// The same with another width offered, in mm.
fn made_wide(finding: Finding, job: &Job<'_>, placed: &Placed, wide: f64) -> Finding {
    let edits = vec![job.set(&placed.id, "bridges.width", wide)];
    finding.remedy(format!("Make them {} wide", job.shown(wide)), edits)
}

fn thin(job: &Job<'_>, bridges: &Bridges, placed: &Placed) -> Option<Finding> {
    let (line, width) = (job.piece.printer.line.as_mm(), bridges.width.as_mm());
    let wanted = LINES * line;
    let (weight, message) = match width {
        width if width < line - 1e-6 => (
            Weight::Must,
            "The bridges are thinner than a line of the printer: they will not be there.",
        ),
        width if width < wanted - 1e-6 => {
            (Weight::Should, "The bridges are so thin that they break easily.")
        }
        _ => return None,
    };
    let wide = up(wanted);
    let figures = Figures { measured: width, limit: wanted, source: Source::Printer };
    let finding = of_width(job, "thin-bridge", weight, placed, message, figures);
    Some(made_wide(finding, job, placed, wide))
}

/// Bridges wider than half of the letters, or of a shape, take what they are to hold (ours).
fn wide(job: &Job<'_>, bridges: &Bridges, placed: &Placed) -> Option<Finding> {
    let size = match placed.drawn.letter_height {
        height if height > 0.0 => height,
        _ => placed.frame.width().min(placed.frame.height()),
    };
    let (width, most) = (bridges.width.as_mm(), size / 2.0);
    let wide = up(LINES * job.piece.printer.line.as_mm());
    if width <= most.max(wide) {
        return None;
    }
    let message = "The bridges are so wide that little is left of what they are in.";
    let figures = Figures { measured: width, limit: most, source: Source::Ours };
    let finding = of_width(job, "wide-bridge", Weight::Should, placed, message, figures);
    Some(made_wide(finding, job, placed, wide))
}

fn low(job: &Job<'_>, bridges: &Bridges, bridging: &Bridging, placed: &Placed) -> Option<Finding> {
    let height = bridges.height()?;
    let layer = job.piece.layers.height.as_mm();
    let wanted = LAYERS * layer;
    if height >= wanted - 1e-6 {
        return None;
    }
    let message = "The bridges are lower than two layers: they tear off.".to_owned();
    // What they stand grows with the square of their height.
    let high = up(wanted.max(height * bridging.strain.sqrt()));
    Some(
        job.finding("low-bridge", Weight::Should, &placed.id, message)
            .field("bridges.height")
            .measured(Figures { measured: height, limit: wanted, source: Source::Practice })
            .at(placed.frame)
            .remedy(
                format!("Make them {} high", job.shown(high)),
                vec![job.set(&placed.id, "bridges.height", high)],
            ),
    )
}

/// Bridges that break when a finger presses on what they hold. What they stand grows with their width, and with
/// the square of their height.
fn weak(job: &Job<'_>, bridges: &Bridges, bridging: &Bridging, placed: &Placed) -> Option<Finding> {
    if bridging.strain <= 1.0 + 1e-6 {
        return None;
    }
    let width = bridges.width.as_mm();
    let wide = up(width * bridging.strain);
    let message =
        "The bridges are so slender that they break when a finger presses on what they hold.";
    let figures = Figures { measured: width, limit: wide, source: Source::Ours };
    let mut finding = of_width(job, "weak-bridge", Weight::Should, placed, message, figures);
    if bridges.height.is_some() {
        let full = vec![job.set(&placed.id, "bridges.height", json!(null))];
        finding = finding.remedy("Make them as high as what is cut", full);
    }
    if limit_of("lettering", "bridges.width").is_some_and(|limit| wide <= limit.high) {
        finding = made_wide(finding, job, placed, wide);
    }
    let twice = vec![job.set(&placed.id, "bridges.each", "two")];
    Some(finding.remedy("Hold each part by two", twice))
}

fn idle(job: &Job<'_>, bridges: &Bridges, bridging: &Bridging, placed: &Placed) -> Option<Finding> {
    let message = match bridging.idle.len() {
        0 => return None,
        1 => "A bridge that was put by hand lies nowhere now: its letter is not there, or nothing is cut where it was."
            .to_owned(),
        many => format!(
            "{many} bridges that were put by hand lie nowhere now: their letters are not there, or nothing is \
             cut where they were."
        ),
    };
    let kept: Vec<_> = bridges
        .by_hand
        .iter()
        .enumerate()
        .filter(|(i, _)| !bridging.idle.contains(i))
        .map(|(_, bridge)| bridge)
        .collect();
    let label = if bridging.idle.len() == 1 { "Take it away" } else { "Take them away" };
    Some(
        job.finding("idle-bridge", Weight::Note, &placed.id, message)
            .field("bridges.by_hand")
            .at(placed.frame)
            .remedy(label, vec![job.set(&placed.id, "bridges.by_hand", json!(kept))]),
    )
}
