//! A component that is not one solid.

use super::spot::{MOST_SPOTS, Spot};
use super::{Finding, Job, Weight};
use crate::evaluate::{Along, Placed};
use crate::lettering::{Group, typeface_for};
use crate::piece::{Address, Bridges, Element, Kind, Relief, Remedy};
use crate::plane::MOST_PARTS;
use crate::solid::Mesh;
use serde_json::json;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    if job.made.parts < 2 {
        return Vec::new();
    }
    let cut: Vec<(&Element, &Placed)> = unheld(job, |relief| relief == Relief::Through).collect();
    let standing: Vec<(&Element, &Placed)> = unheld(job, Relief::stands_on_the_bed).collect();
    let loose = job.made.parts - 1;
    let parts = match loose {
        1 => "One part hangs on nothing and falls out.".to_owned(),
        _ => format!("{loose} parts hang on nothing and fall out."),
    };
    let (first, reason) = match (&cut[..], &standing[..]) {
        ([first, ..], _) => (
            Some(*first),
            "Where letters or shapes are cut through, what lies inside them, as in an O or an A, is cut loose; \
             bridges hold it, and a stencil typeface has them drawn in.",
        ),
        (_, [first, ..]) => (
            Some(*first),
            "What stands on the bed beside the rest has to touch it, or be held by bridges.",
        ),
        _ => match job.pairs().find(|(element, _)| element.bridges().is_some()) {
            Some(held) if job.made.parts > MOST_PARTS => (
                Some(held),
                "They are so many that no bridges are laid: a typeface with bridges of its own holds them.",
            ),
            Some(held) => (
                Some(held),
                "No bridge leads from some parts to the rest: what is cut away beside them leaves no room for one, or they \
                 are too small to hold on to.",
            ),
            None => (None, "Bring everything that stands alone onto what it belongs to."),
        },
    };
    let target = first.map_or(Address::Piece, |(_, placed)| job.address(&placed.id));
    let mut finding =
        Finding::new("loose-parts", Weight::Must, target, format!("{parts} {reason}"));
    finding.place = first.map(|(_, placed)| placed.frame);
    let loose = job.made.mesh.loose_from_largest(MOST_SPOTS);
    finding = finding.spots(loose.iter().map(|part| across_its_middle(job, part)));
    let through: Vec<_> =
        job.pairs().filter(|(one, _)| one.relief() == Some(Relief::Through)).collect();
    finding.remedies = [bridged(job, &cut), stencilled(job, &through), bridged(job, &standing)]
        .into_iter()
        .flatten()
        .collect();
    vec![finding]
}

/// A part that hangs on nothing, cut through at half of its height.
fn across_its_middle(job: &Job<'_>, part: &Mesh) -> Spot {
    let measures = part.measures();
    let [bottom, top] = [measures.low[2], measures.high[2]];
    let shape = part.level((bottom + top) / 2.0);
    let lift = job.made.lift;
    Spot { seen: Along::Sections, shape, bottom: bottom - lift, top: top - lift, ends: None }
}

/// Lettering and emblems of a relief that have no bridges.
fn unheld<'a>(
    job: &'a Job<'_>,
    is_it: impl Fn(Relief) -> bool + 'a,
) -> impl Iterator<Item = (&'a Element, &'a Placed)> {
    job.pairs().filter(move |(element, _)| {
        let can_be = matches!(element.kind, Kind::Lettering(_) | Kind::Emblem(_));
        can_be && element.bridges().is_none() && element.relief().is_some_and(&is_it)
    })
}

/// Bridges for all of them.
fn bridged(job: &Job<'_>, these: &[(&Element, &Placed)]) -> Option<Remedy> {
    let edits: Vec<_> = these
        .iter()
        .map(|(_, placed)| job.set(&placed.id, "bridges", json!(Bridges::default())))
        .collect();
    (!edits.is_empty()).then(|| Remedy { label: "Hold them by bridges".to_owned(), edits })
}

/// A typeface that keeps its counters by itself, for all letters that are cut through.
fn stencilled(job: &Job<'_>, these: &[(&Element, &Placed)]) -> Option<Remedy> {
    let letters = these.iter().filter_map(|(element, placed)| match &element.kind {
        Kind::Lettering(lettering) => Some((lettering, placed)),
        _ => None,
    });
    let letters: Vec<_> = letters.collect();
    let says: Vec<char> = letters
        .iter()
        .flat_map(|(lettering, _)| {
            job.piece.filled_in(&lettering.words()).chars().collect::<Vec<_>>()
        })
        .filter(|c| !c.is_whitespace())
        .collect();
    let typeface = typeface_for(&says, Some(Group::Stencil))
        .filter(|one| one.group == Some(Group::Stencil))?;
    let edits: Vec<_> = letters
        .iter()
        .map(|(_, placed)| job.set(&placed.id, "typeface", json!(typeface.id)))
        .collect();
    let label = format!("Use {}", typeface.name);
    (!edits.is_empty()).then_some(Remedy { label, edits })
}
