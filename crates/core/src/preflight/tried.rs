//! Remedies are tried before they are offered.

use super::{Finding, Weight, found};
use crate::edit::apply;
use crate::evaluate::evaluate;
use crate::halt::heed;
use crate::piece::{Address, Edit, Piece, Remedy};
use crate::workshop::Workshop;
use serde_json::Value;

/// More are not tried for one piece; what is not tried is not offered.
const MOST_TRIED: usize = 24;

/// No more ways than this are offered for one finding.
const MOST_WAYS: usize = 3;

/// A trial is so much work; a piece of many triangles has fewer.
const MOST_TRIANGLES: usize = 400_000;

/// What is left to mend: how many findings there are of each weight.
type Left = [usize; 4];

fn left(findings: &[Finding]) -> Left {
    let of = |weight: Weight| {
        let is_left = |one: &&Finding| one.weight == weight && one.set_aside.is_none();
        findings.iter().filter(is_left).count()
    };
    [of(Weight::Stop), of(Weight::Must), of(Weight::Should), of(Weight::Note)]
}

/// Takes away the remedies that do not mend what they are offered for, or leave something else to mend.
pub(super) fn keep_what_mends(piece: &Piece, findings: &mut [Finding], workshop: &Workshop<'_>) {
    let before = left(findings);
    let known: Vec<(&'static str, String)> =
        findings.iter().map(|one| (one.code, one.target.to_string())).collect();
    let (mut trials, mut triangles) = (MOST_TRIED, 0);
    for finding in findings.iter_mut() {
        let candidates = std::mem::take(&mut finding.remedies);
        if finding.set_aside.is_some() {
            continue;
        }
        for remedy in candidates {
            heed();
            if trials == 0 || triangles > MOST_TRIANGLES || finding.remedies.len() == MOST_WAYS {
                break;
            }
            // One figure is offered once.
            let is_known = |other: &Remedy| {
                field_of(other).is_some_and(|field| Some(field) == field_of(&remedy))
            };
            if finding.remedies.iter().any(is_known) {
                continue;
            }
            trials -= 1;
            let Some((after, size)) = tried(piece, &remedy, workshop) else { continue };
            triangles += size;
            let is_new = |one: &&Finding| {
                let key = (one.code, one.target.to_string());
                one.weight <= Weight::Must && !known.contains(&key)
            };
            let stays =
                after.iter().any(|one| one.code == finding.code && one.target == finding.target);
            if !stays && lighter(left(&after), before) && after.iter().find(is_new).is_none() {
                finding.remedies.push(remedy);
            }
        }
    }
}

/// The field a remedy of one edit sets, and to what: one of its choices, or some figure.
fn field_of(remedy: &Remedy) -> Option<(&Address, &str, Option<&str>)> {
    let [edit] = &remedy.edits[..] else { return None };
    let Edit::Set { value, .. } = edit else { return None };
    let choice = match value {
        Value::Object(fields) => fields.keys().next().map(String::as_str),
        Value::String(word) => Some(word.as_str()),
        Value::Null => Some(""),
        _ => None,
    };
    edit.field().map(|(target, field)| (target, field, choice))
}

/// Whether less is left than before, the weightiest first.
fn lighter(after: Left, before: Left) -> bool {
    after < before && after[1] <= before[1] && after[0] <= before[0]
}

/// What is found after a remedy, and how many triangles it came to.
fn tried(piece: &Piece, remedy: &Remedy, workshop: &Workshop<'_>) -> Option<(Vec<Finding>, usize)> {
    let applied = apply(piece, &remedy.edits, workshop).ok()?;
    let evaluation = evaluate(&applied.piece, workshop).ok()?;
    let size = evaluation.components.iter().map(|made| made.mesh.triangles.len()).sum();
    Some((found(&applied.piece, &evaluation, workshop).ok()?, size))
}
