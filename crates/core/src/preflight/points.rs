//! Points sharper than a line can be drawn.

use super::{Figures, Finding, Job, Source, Weight};
use crate::piece::{Kind, Outline};
use crate::plane::{Point, Rect};
use serde_json::json;

/// Fewer lines are lost of a point than this without a word (ours).
const LEAST_LINES: f64 = 2.0;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let line = job.piece.printer.line.as_mm();
    let mut findings = Vec::new();
    for (element, placed) in job.pairs() {
        if !matches!(element.kind, Kind::Emblem(_)) || placed.act == crate::solid::Act::Cuts {
            continue;
        }
        let Some((point, count, lost)) = worst(&placed.region.sharp_points(), line) else {
            continue;
        };
        let message = message("emblem", count, &job.shown(lost));
        let finding = job.finding("sharp-point", Weight::Note, &placed.id, message);
        findings.push(with_figures(finding, point, line, lost));
    }
    if let Some(Outline::Star(_) | Outline::Drawn(_)) = job.component.outline()
        && let Some((point, count, lost)) = worst(&job.layout.blank.base.sharp_points(), line)
    {
        let message = message("outline", count, &job.shown(lost));
        let finding = job.of_blank("sharp-point", Weight::Note, message);
        let mut finding = with_figures(finding, point, line, lost).field("outline");
        if let Some(Outline::Star(star)) = job.component.outline() {
            let inner = (star.inner + 0.15).min(0.9);
            let edit = job.set_blank("outline.star.inner", json!((inner * 100.0).round() / 100.0));
            finding = finding.remedy("Make its points blunter", vec![edit]);
        }
        findings.push(finding);
    }
    findings
}

/// The sharpest point, how many there are, and how much of it is lost.
fn worst(points: &[Point], line: f64) -> Option<(Point, usize, f64)> {
    let lost: Vec<(Point, f64)> = points
        .iter()
        .map(|point| (*point, point.lost(line)))
        .filter(|(_, lost)| *lost >= LEAST_LINES * line)
        .collect();
    let (point, most) = lost.iter().copied().max_by(|a, b| a.1.total_cmp(&b.1))?;
    Some((point, lost.len(), most))
}

fn message(what: &str, count: usize, lost: &str) -> String {
    match count {
        1 => format!(
            "A point of the {what} is sharper than the printer can draw: {lost} of it is lost."
        ),
        many => format!(
            "{many} points of the {what} are sharper than the printer can draw: up to {lost} of them is lost."
        ),
    }
}

fn with_figures(finding: Finding, point: Point, line: f64, lost: f64) -> Finding {
    let (x, y) = point.at;
    let place = Rect { x0: x, y0: y, x1: x, y1: y }.grown(lost.max(line));
    let figures = Figures { measured: lost, limit: LEAST_LINES * line, source: Source::Ours };
    finding.at(place).measured(figures)
}
