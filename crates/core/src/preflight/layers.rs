//! Reliefs of less than two layers, and heights that are no whole layers.

use super::{Figures, Finding, Job, Remedy, Source, Weight};
use crate::evaluate::Placed;
use crate::piece::{Depth, Element, Height, Kind, Lying, Relief};
use crate::units::Unit;
use serde_json::{Value, json};

/// A relief should have so many layers: one alone is torn off, or filled up, easily (common practice, no source).
pub(super) const LEAST_LAYERS: f64 = 2.0;

/// What rounding to whole layers changes by a smaller share than this nobody sees (ours): 1.5 mm in layers of 0.2
/// is 1.6.
const SEEN: f64 = 0.08;

/// Nearer to a whole layer than this it is one, in mm.
const NEAR_MM: f64 = 0.011;

/// A relief by its height, and how another height is put into its field.
struct Measured {
    mm: f64,
    field: String,
    set: &'static str,
    /// The value of that field that comes to so many mm.
    value: fn(f64) -> Value,
    /// Whether it is measured from the bed, so that the first layer counts.
    from_bed: bool,
}

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let mut findings: Vec<Finding> = thickness(job).into_iter().collect();
    for (element, placed) in job.pairs() {
        if !lies_level(job, placed) || placed.region.is_empty() {
            continue;
        }
        let Some(measured) = measured(job, element, placed) else { continue };
        let least = LEAST_LAYERS * job.piece.layers.height.as_mm();
        if measured.mm < least - 1e-6 {
            findings.push(too_low(job, placed, &measured, least));
        } else {
            findings.extend(part_layers(job, placed, &measured));
        }
    }
    findings
}

/// Whether layers run along the face something is on.
fn lies_level(job: &Job<'_>, placed: &Placed) -> bool {
    let face = job.layout.face(placed.face);
    let is_level = face.is_none_or(|face| face.round.is_none() && face.frame.out[2].abs() > 0.999);
    is_level && matches!(job.made.lies, Lying::AsMade | Lying::OnTop)
}

fn measured(job: &Job<'_>, element: &Element, placed: &Placed) -> Option<Measured> {
    let thickness = job.layout.face(placed.face).map_or(0.0, |face| face.thickness);
    let of = |mm, field: &str, set, value, from_bed| {
        Some(Measured { mm, field: field.to_owned(), set, value, from_bed })
    };
    match element.relief()? {
        Relief::Raised(Height::By(height)) => {
            let value = |mm| json!({ "raised": { "by": mm } });
            of(height.as_mm(), "relief.raised.by", "relief", value, false)
        }
        Relief::Raised(Height::Fraction(share)) => {
            let value = |mm| json!({ "raised": { "by": mm } });
            of(share * thickness, "relief.raised.fraction", "relief", value, false)
        }
        Relief::Raised(Height::FromFoot(height)) => {
            let value = |mm| json!({ "raised": { "from-foot": mm } });
            of(height.as_mm(), "relief.raised.from-foot", "relief", value, true)
        }
        Relief::Recessed(depth) => {
            let deep = placed.ground - depth.floor(placed.ground);
            let is_field = matches!(element.kind, Kind::Recess(_));
            let field = if is_field { "depth" } else { "relief.recessed" };
            let field = format!("{field}.{}", depth.word());
            match (is_field, depth) {
                (_, Depth::Floor(_)) => None,
                (true, _) => of(deep, &field, "depth", |mm| json!({ "by": mm }), false),
                (false, _) => {
                    of(deep, &field, "relief", |mm| json!({ "recessed": { "by": mm } }), false)
                }
            }
        }
        Relief::Flush(depth) => {
            of(depth.as_mm(), "relief.flush", "relief", |mm| json!({ "flush": mm }), false)
        }
        Relief::Raised(Height::LevelWithRim | Height::LevelWithFace) | Relief::Through => None,
    }
}

fn too_low(job: &Job<'_>, placed: &Placed, measured: &Measured, least: f64) -> Finding {
    let message = format!(
        "The {} is only {} {}: less than two layers, which hardly shows.",
        placed.kind.word(),
        job.shown(measured.mm),
        if measured.field.contains("raised") { "high" } else { "deep" }
    );
    let edit = job.set(&placed.id, measured.set, (measured.value)(tidy(least)));
    job.finding("thin-relief", Weight::Should, &placed.id, message)
        .field(measured.field.clone())
        .at(placed.frame)
        .measured(Figures {
            measured: tidy(measured.mm),
            limit: tidy(least),
            source: Source::Practice,
        })
        .remedy(
            format!("Make the {} two layers, {}", placed.kind.word(), job.shown(least)),
            vec![edit],
        )
}

/// Half layers are made whole by whoever slices, up or down; sizes in inches never come to whole ones.
fn part_layers(job: &Job<'_>, placed: &Placed, measured: &Measured) -> Option<Finding> {
    let [down, up] = whole_layers(job, measured.mm, measured.from_bed)?;
    let message = format!(
        "The {} is {} {}, which is no whole number of layers: it comes out {} or {}.",
        placed.kind.word(),
        job.shown(measured.mm),
        if measured.field.contains("raised") { "high" } else { "deep" },
        job.shown(down),
        job.shown(up)
    );
    let way = |mm: f64| Remedy {
        label: format!("Make the {} {}", placed.kind.word(), job.shown(mm)),
        edits: vec![job.set(&placed.id, measured.set, (measured.value)(tidy(mm)))],
    };
    let mut finding = job
        .finding("part-layers", Weight::Note, &placed.id, message)
        .field(measured.field.clone())
        .measured(Figures {
            measured: tidy(measured.mm),
            limit: tidy(up),
            source: Source::Printer,
        });
    finding.remedies = nearer_first(measured.mm, [down, up]).map(way).into();
    Some(finding)
}

fn thickness(job: &Job<'_>) -> Option<Finding> {
    let plate = job.component.plate()?;
    if !matches!(job.made.lies, Lying::AsMade | Lying::OnTop) {
        return None;
    }
    let thick = plate.thickness.as_mm();
    let [down, up] = whole_layers(job, thick, true)?;
    let message = format!(
        "The plate is {} thick, which is no whole number of layers: it comes out {} or {}.",
        job.shown(thick),
        job.shown(down),
        job.shown(up)
    );
    let way = |mm: f64| Remedy {
        label: format!("Make the plate {} thick", job.shown(mm)),
        edits: vec![job.set_blank("thickness", json!(tidy(mm)))],
    };
    let mut finding = job
        .of_blank("part-layers", Weight::Note, message)
        .field("thickness")
        .measured(Figures { measured: tidy(thick), limit: tidy(up), source: Source::Printer });
    finding.remedies = nearer_first(thick, [down, up]).map(way).into();
    Some(finding)
}

/// The heights of whole layers below and above one that is none.
fn whole_layers(job: &Job<'_>, mm: f64, from_bed: bool) -> Option<[f64; 2]> {
    if job.piece.units == Unit::Inch {
        return None;
    }
    let layer = job.piece.layers.height.as_mm();
    let first = if from_bed { job.piece.layers.first.as_mm() } else { 0.0 };
    let layers = (mm - first) / layer;
    let off = (layers - layers.round()).abs() * layer;
    if off < NEAR_MM || off < SEEN * mm || layers < 0.0 {
        return None;
    }
    Some([first + layers.floor() * layer, first + layers.ceil() * layer])
}

fn nearer_first(mm: f64, [down, up]: [f64; 2]) -> [f64; 2] {
    if mm - down < up - mm - 1e-9 { [down, up] } else { [up, down] }
}

fn tidy(mm: f64) -> f64 {
    (mm * 1e6).round() / 1e6
}
