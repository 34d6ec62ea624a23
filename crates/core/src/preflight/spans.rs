//! What is printed over nothing, further than a printer bridges; and floors of little height between hollows.

use super::depth::LEAST_FLOOR_MM;
use super::spot::Spot;
use super::{Figures, Finding, Job, Source, Weight};
use crate::evaluate::{Along, Slice};
use crate::piece::Lying;
use crate::plane::{Region, Tolerance};

/// Less than this is rounding, in mm².
const NOTICEABLE_MM2: f64 = 1.0;

/// How closely a span is measured: halved so often.
const HALVINGS: usize = 7;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let slices = printed_up(job);
    let mut findings: Vec<Finding> = slices
        .windows(2)
        .filter_map(|pair| span(job, pair[0], pair[1]))
        .max_by(|a, b| measured(a).total_cmp(&measured(b)))
        .into_iter()
        .collect();
    findings.extend(floors(job, &slices));
    findings
}

/// What lies over hollows that the printer bridges, in mm²; of what is not made in sections nothing is known.
pub(super) fn bridged(job: &Job<'_>) -> f64 {
    let slices = printed_up(job);
    let limit = job.piece.printer.span.as_mm();
    let of_pair = |pair: &[&Slice]| -> f64 {
        let spans = spanned(pair[0], pair[1]);
        let is_bridged =
            |part: &Region| part.offset(-limit / 2.0 - 0.01, Tolerance::Draft).is_empty();
        spans.clumps().iter().filter(|part| is_bridged(part)).map(Region::area).sum()
    };
    slices.windows(2).map(of_pair).sum()
}

/// The slices of a component that is made in sections, in the order they are printed.
fn printed_up<'a>(job: &'a Job<'_>) -> Vec<&'a Slice> {
    let is_upright = matches!(job.made.lies, Lying::AsMade | Lying::OnTop);
    // A mesh blank, a bar and a stack are looked at whole, by what hangs.
    let is_in_sections = job.layout.stock.is_none() && !job.layout.has_charts();
    if !is_upright || !is_in_sections {
        return Vec::new();
    }
    let mut slices: Vec<&Slice> =
        job.slices().iter().filter(|slice| slice.along == Along::Sections).collect();
    if job.made.lies == Lying::OnTop {
        slices.reverse();
    }
    slices
}

/// What of a slice lies over a hollow of the one below. What reaches beyond all that is below hangs, and spans
/// nothing.
fn spanned(below: &Slice, above: &Slice) -> Region {
    let hangs = above.solid.difference(&below.solid);
    hangs.intersection(&below.solid.without_openings())
}

fn measured(finding: &Finding) -> f64 {
    finding.figures.map_or(0.0, |figures| figures.measured)
}

/// What of a slice lies over nothing and reaches further than the printer bridges.
fn span(job: &Job<'_>, below: &Slice, above: &Slice) -> Option<Finding> {
    let limit = job.piece.printer.span.as_mm();
    let spans = spanned(below, above);
    if spans.area() < NOTICEABLE_MM2 {
        return None;
    }
    let is_too_far = |by: f64| !spans.offset(-by, Tolerance::Draft).is_empty();
    if !is_too_far(limit / 2.0 + 0.01) {
        return None;
    }
    let bounds = spans.bounds()?;
    let (mut low, mut high) = (limit / 2.0, bounds.width().min(bounds.height()) / 2.0 + 0.02);
    for _ in 0..HALVINGS {
        let middle = (low + high) / 2.0;
        if is_too_far(middle) { low = middle } else { high = middle }
    }
    let wide = low + high;
    let message = format!(
        "Something is printed over a hollow {} wide; more than {} sags. Let the hollow look up, or make it \
         narrower.",
        job.shown(wide),
        job.shown(limit)
    );
    let finding = job.of_blank("long-span", Weight::Should, message);
    let finding = finding.spots([Spot::in_slice(above, spans)]);
    let figures = Figures { measured: wide, limit, source: Source::Printer };
    let label = match job.made.lies {
        Lying::AsMade => (Lying::OnTop, "Print it the other way up"),
        _ => (Lying::AsMade, "Print it as it is made"),
    };
    let edit = crate::piece::Edit::set(&job.component.address(), "lies", label.0.word());
    Some(finding.measured(figures).remedy(label.1, vec![edit]))
}

/// What stays between a hollow below and one above it.
fn floors(job: &Job<'_>, slices: &[&Slice]) -> Option<Finding> {
    let nothing = Region::default();
    for (i, slice) in slices.iter().enumerate() {
        let thick = slice.height();
        let is_between = i > 0 && i + 1 < slices.len();
        if thick >= LEAST_FLOOR_MM - 1e-6 || !is_between {
            continue;
        }
        let below = slices.get(i.wrapping_sub(1)).map_or(&nothing, |slice| &slice.solid);
        let above = slices.get(i + 1).map_or(&nothing, |slice| &slice.solid);
        let alone = slice.solid.difference(below).difference(above);
        if alone.area() < NOTICEABLE_MM2 {
            continue;
        }
        let message = format!(
            "Only {} is left between what is sunk into the one side and what is sunk into the other.",
            job.shown(thick)
        );
        let figures = Figures { measured: thick, limit: LEAST_FLOOR_MM, source: Source::Practice };
        let finding = job.of_blank("thin-floor", Weight::Should, message);
        return Some(finding.spots([Spot::in_slice(slice, alone)]).measured(figures));
    }
    None
}
