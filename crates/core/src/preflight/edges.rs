//! Edges that had to be made smaller than asked.

use super::{Finding, Job, Weight, rounded_down};
use crate::piece::{Address, Edit, Element};
use serde_json::{Value, json};

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let elements =
        job.layout.elements.iter().map(|p| (job.address(&p.id), p.reduced_edge, Some(p.frame)));
    let blank = (job.component.blank_address(), job.layout.blank.reduced_edge, None);
    let all = std::iter::once(blank).chain(elements);
    all.filter_map(|(target, reduced, place)| {
        let reduced = reduced?;
        let message = if reduced < 0.005 {
            "There is no room for a chamfer or a round here; the edge is left square.".to_owned()
        } else {
            format!(
                "Chamfers and rounds can be {} at most where the thinnest stroke or wall is about {}. \
                 They are made smaller where they must be.",
                job.shown(reduced),
                job.shown(2.0 * reduced)
            )
        };
        let field = field_of(&edges_of(job, &target));
        let (label, edits) = everywhere(job, &target, reduced);
        let mut finding = Finding::new("edge-reduced", Weight::Should, target, message);
        finding.place = place;
        Some(finding.field(field).instead().remedy(label, edits))
    })
    .collect()
}

/// The field of the largest edge, or the one they all stand in.
fn field_of(edges: &[Treated]) -> String {
    let largest = edges.iter().max_by(|a, b| a.mm.total_cmp(&b.mm));
    let Some(largest) = largest else { return "edge".to_owned() };
    largest.field.split_once('.').map_or(largest.field.as_str(), |(whole, _)| whole).to_owned()
}

/// As large everywhere as it can be where it is smallest; what is less is in proportion.
fn everywhere(job: &Job<'_>, target: &Address, reduced: f64) -> (String, Vec<Edit>) {
    let edges = edges_of(job, target);
    let largest = edges.iter().map(|edge| edge.mm).fold(0.0, f64::max);
    let share = (reduced / largest.max(1e-9)).min(1.0);
    let fitting = |mm: f64| rounded_down(share * mm);
    let set = |edge: &Treated| {
        let mm = fitting(edge.mm);
        let value = if mm == 0.0 { json!("square") } else { json!({ edge.how: mm }) };
        Edit::set(target, &edge.field, value)
    };
    let label = match fitting(largest) {
        mm if mm > 0.0 => format!("Make it {} everywhere", job.shown(mm)),
        _ => "Leave it square".to_owned(),
    };
    (label, edges.iter().map(set).collect())
}

/// Each treated edge of something by itself smaller by so many mm.
pub(super) fn smaller_edges(job: &Job<'_>, target: &Address, by: f64) -> Vec<(String, Vec<Edit>)> {
    let smaller = |edge: Treated| {
        let mm = rounded_down((edge.mm - by).max(0.0));
        let (value, label) = match mm > 0.0 {
            true => (json!({ edge.how: mm }), format!("Make the {} {}", edge.how, job.shown(mm))),
            false => (json!("square"), format!("Leave out the {}", edge.how)),
        };
        (label, vec![Edit::set(target, &edge.field, value)])
    };
    edges_of(job, target).into_iter().map(smaller).collect()
}

/// A chamfered or rounded edge: its field, which of the two, and its size in mm.
struct Treated {
    field: String,
    how: &'static str,
    mm: f64,
}

/// The edges of a blank or an element that are not square.
fn edges_of(job: &Job<'_>, target: &Address) -> Vec<Treated> {
    let told = match target {
        Address::Element(_, id) => {
            let is_it = |element: &&Element| element.id == *id;
            job.component.elements.iter().find(is_it).map_or(Value::Null, |one| json!(one.kind))
        }
        _ => json!(job.component.blank),
    };
    // What it is comes first, then its fields.
    let fields = told.as_object().and_then(|kind| kind.values().next());
    let Some(fields) = fields.and_then(Value::as_object) else { return Vec::new() };
    let mut all = Vec::new();
    for (name, value) in fields {
        all.extend(treated(name.clone(), value));
        for end in ["top", "bottom"] {
            all.extend(value.get(end).and_then(|edge| treated(format!("{name}.{end}"), edge)));
        }
    }
    all
}

fn treated(field: String, edge: &Value) -> Option<Treated> {
    let of = |how: &'static str| Some((how, edge.get(how)?.as_f64()?));
    let (how, mm) = of("chamfer").or_else(|| of("round"))?;
    Some(Treated { field, how, mm })
}
