//! Bridges that are too thin, too wide, too low or too slender, and such as lie nowhere.

use super::spot::Spot;
use super::{Figures, Finding, Job, Source, Weight};
use crate::evaluate::{Bridging, Placed};
use crate::piece::{BridgeByHand, Bridges, Edit, Outline, limit_of};
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
    said.flatten().chain(idle_ties(job)).collect()
}

/// Up to the next tenth.
fn up(mm: f64) -> f64 {
    ((mm - 1e-6) * 10.0).ceil() / 10.0
}

/// The bridges of an element, each in its shape.
fn strips(job: &Job<'_>, placed: &Placed) -> Vec<Spot> {
    let laid = placed.bridging.iter().flat_map(|bridging| bridging.region.clumps());
    laid.map(|strip| job.spot(placed, strip)).collect()
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
    let finding = finding.field("bridges.width").measured(figures).at(placed.frame);
    finding.spots(strips(job, placed))
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
            .spots(strips(job, placed))
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

/// Bridges that were put by hand and lie nowhere now.
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
    let finding = job.finding("idle-bridge", Weight::Note, &placed.id, message).at(placed.frame);
    Some(without_idle(finding, "bridges.by_hand", &bridges.by_hand, &bridging.idle))
}

/// The same of the ties of a contour.
fn idle_ties(job: &Job<'_>) -> Option<Finding> {
    let ties = job.layout.blank.ties.as_deref()?;
    let Some(Outline::Contour(contour)) = job.component.outline() else { return None };
    let message = match ties.idle.len() {
        0 => return None,
        1 => "A tie that was put by hand lies nowhere now: there are not two sides to join."
            .to_owned(),
        many => format!(
            "{many} ties that were put by hand lie nowhere now: there are not two sides to join."
        ),
    };
    let finding = job.of_blank("idle-bridge", Weight::Note, message);
    Some(without_idle(finding, "outline.contour.by_hand", &contour.by_hand, &ties.idle))
}

/// With those that lie nowhere taken away as its remedy.
fn without_idle(
    finding: Finding,
    field: &str,
    by_hand: &[BridgeByHand],
    idle: &[usize],
) -> Finding {
    let kept = by_hand.iter().enumerate().filter(|(i, _)| !idle.contains(i));
    let kept: Vec<&BridgeByHand> = kept.map(|(_, bridge)| bridge).collect();
    let label = if idle.len() == 1 { "Take it away" } else { "Take them away" };
    let edit = Edit::set(&finding.target, field, json!(kept));
    finding.field(field).remedy(label, vec![edit])
}
