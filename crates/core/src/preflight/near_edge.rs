//! Words nearer to the edge than their own strokes are wide.

use super::room::with_fit;
use super::{Figure, Figures, Finding, Job, Source, Weight};
use crate::piece::{Course, LetterSize, Outline};
use crate::plane::{Distances, Tolerance};

/// No more is asked for than this, in mm: heavy letters may come nearer (ours).
const MOST_MM: f64 = 1.0;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    // A contour keeps its own distance.
    if matches!(job.component.outline(), Some(Outline::Contour(_))) {
        return Vec::new();
    }
    let mut findings = Vec::new();
    for figure in job.figures() {
        let Some(lettering) = figure.lettering else { continue };
        let is_free =
            figure.relief.stands_on_the_bed() || matches!(lettering.course, Course::Outline(_));
        let Some(ink) = figure.placed.region.bounds().filter(|_| !is_free) else { continue };
        let (outline, rect) = job.layout.room_for(figure.placed);
        let is_well_within = rect.grown(-MOST_MM).contains(&ink) && outline.is_box();
        let is_clear =
            job.layout.clear_of(figure.placed.face).is_some_and(|clear| clear.contains(&ink));
        if is_well_within || is_clear || outline.is_empty() {
            continue;
        }
        let wanted = stroke(&figure.placed.region).min(MOST_MM);
        let distances = Distances::of(outline, wanted);
        let near = figure.placed.region.edges().map(|(vertex, _)| distances.from(vertex));
        let least = near.fold(f64::INFINITY, f64::min);
        let runs_over = figure.placed.region.difference(outline).area() > 0.01;
        if least >= wanted - 0.01 || runs_over {
            continue;
        }
        let message = format!(
            "The letters come within {} of the edge of the {}; they want at least the width of their own \
             strokes, {}.",
            job.shown(least),
            job.face(),
            job.shown(wanted)
        );
        let figures = Figures { measured: least, limit: wanted, source: Source::Ours };
        let within = outline.offset(-wanted, Tolerance::Draft);
        let near = figure.placed.region.difference(&within);
        let finding = job
            .finding("near-edge", Weight::Should, &figure.placed.id, message)
            .field(figure.size_field)
            .measured(figures)
            .at(ink)
            .spots([job.spot(figure.placed, near)]);
        let finding = with_fit(job, finding, figure, ink);
        findings.push(smaller(job, finding, &figure, wanted - least));
    }
    findings
}

/// Offers letters that end sooner by what is missing at either end, or by twice that.
fn smaller(job: &Job<'_>, finding: Finding, figure: &Figure<'_>, missing: f64) -> Finding {
    /// Smaller ones print badly (common practice, no source).
    const LEAST_MM: f64 = 4.0;
    let Some(LetterSize::Height(height)) = figure.lettering.map(|lettering| lettering.size) else {
        return finding;
    };
    let heights =
        [1.0, 2.0, 4.0].map(|times| ((height.as_mm() - times * missing) * 20.0).floor() / 20.0);
    heights.into_iter().filter(|tall| *tall >= LEAST_MM).fold(finding, |finding, tall| {
        let edits = vec![job.letters(&figure.placed.id, tall)];
        finding.remedy(format!("Make the letters {}", job.shown(tall)), edits)
    })
}

/// How wide the strokes of letters are, on the whole: what they cover by half of what goes round it, as it is
/// for a long strip (elementary geometry).
fn stroke(region: &crate::plane::Region) -> f64 {
    let round: f64 = region.edges().map(|((ax, ay), (bx, by))| (bx - ax).hypot(by - ay)).sum();
    if round > 0.0 { 2.0 * region.area() / round } else { 0.0 }
}
