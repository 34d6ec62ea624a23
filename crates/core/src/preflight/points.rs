//! Points sharper than a line can be drawn.

use super::{Figures, Finding, Job, Source, Weight};
use crate::piece::{Kind, Outline};
use crate::plane::{Point, Rect, Region, Side};
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
        let region = &placed.region;
        let Some((point, count, lost)) = worst(&region.sharp_points(), line) else { continue };
        let message = message("emblem", count, &job.shown(lost));
        let finding = job.finding("sharp-point", Weight::Note, &placed.id, message);
        let tips = tips(job, region, line);
        let finding = with_figures(finding, point, line, lost);
        findings.push(finding.spots(tips.into_iter().map(|tip| job.spot(placed, tip))));
    }
    if let Some(Outline::Star(_) | Outline::Drawn(_)) = job.component.outline()
        && let base = &job.layout.blank.base
        && let Some((point, count, lost)) = worst(&base.sharp_points(), line)
    {
        let message = message("outline", count, &job.shown(lost));
        let finding = job.of_blank("sharp-point", Weight::Note, message);
        let tips = tips(job, base, line);
        let finding = with_figures(finding, point, line, lost).field("outline");
        let mut finding = finding.spots(tips.into_iter().map(|tip| job.spot_of_blank(tip)));
        if let Some(Outline::Star(star)) = job.component.outline() {
            let inner = (star.inner + 0.15).min(0.9);
            let edit = job.set_blank("outline.star.inner", json!((inner * 100.0).round() / 100.0));
            finding = finding.remedy("Make its points blunter", vec![edit]);
        }
        findings.push(finding);
    }
    findings
}

/// What of a region is lost at its points.
fn tips(job: &Job<'_>, region: &Region, line: f64) -> Vec<Region> {
    let lost = region.sharp_points().into_iter().map(|point| (point, point.lost(line)));
    let lost = lost.filter(|(_, lost)| *lost >= LEAST_LINES * line);
    let places: Vec<Rect> = lost.map(|(point, lost)| around(point, lost, line)).collect();
    let is_there = |part: &Region| {
        part.bounds().is_some_and(|bounds| places.iter().any(|place| place.overlaps(&bounds)))
    };
    let narrow = job.narrow(region, &places, line, Side::Inside);
    narrow.into_iter().filter(is_there).collect()
}

/// Where a point is lost.
fn around(point: Point, lost: f64, line: f64) -> Rect {
    let (x, y) = point.at;
    Rect { x0: x, y0: y, x1: x, y1: y }.grown(lost.max(line))
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
    let figures = Figures { measured: lost, limit: LEAST_LINES * line, source: Source::Ours };
    finding.at(around(point, lost, line)).measured(figures)
}
