//! Recesses that leave no floor, or hardly any.

use super::finding::set;
use super::{Finding, Job, Weight};
use crate::piece::{Depth, Element, Relief};
use serde_json::{Value, json};

/// Two layers of 0.2 mm: less shows through and breaks (common practice, no source).
const LEAST_FLOOR_MM: f64 = 0.4;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let thickness = job.layout.plate.thickness;
    let mut findings = Vec::new();
    for (element, placed) in job.pairs() {
        // What is sunk starts from the ground it lies on: the face, or the floor of a field.
        let ground = placed.prisms.first().map_or(thickness, |prism| prism.top);
        let half = (ground * 5.0).floor() / 10.0;
        let (what, field, floor, value): (&str, &str, f64, Value) = match element {
            Element::Recess(recess) => {
                let field = match recess.depth {
                    Depth::By(_) => "depth.by",
                    Depth::Fraction(_) => "depth.fraction",
                    Depth::Floor(_) => "depth.floor",
                };
                let floor = recess.depth.floor(thickness);
                // A floor as thick as the plate is no recess at all.
                let floor = if floor >= thickness { f64::NEG_INFINITY } else { floor };
                ("The recess", field, floor, json!({ "fraction": 0.5 }))
            }
            _ => {
                let Some(figure) = job.figures().find(|figure| figure.placed.id == placed.id)
                else {
                    continue;
                };
                let Relief::Recessed(depth) = figure.relief else { continue };
                let what = if figure.noun == "emblem" { "The emblem" } else { "The lettering" };
                (what, "relief.recessed", ground - depth.as_mm(), json!({ "recessed": half }))
            }
        };
        let (code, weight, message) = if floor <= 0.0 {
            let message = format!(
                "{what} leaves no floor: there are {} to sink it into. Sink it less, or cut it through.",
                job.shown(ground)
            );
            ("too-deep", Weight::Wrong, message)
        } else if floor < LEAST_FLOOR_MM - 1e-9 {
            let message = format!("{what} leaves a floor of only {}.", job.shown(floor));
            ("thin-floor", Weight::Look, message)
        } else {
            continue;
        };
        let whole = field.split('.').next().unwrap_or_default();
        let finding = Finding::new(code, weight, &placed.id, message)
            .field(field)
            .at(placed.frame)
            .remedy("Sink it half the thickness", vec![set(&placed.id, whole, value)]);
        findings.push(finding);
    }
    findings
}
