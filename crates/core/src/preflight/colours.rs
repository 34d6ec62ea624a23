//! More colours beside each other in a layer than the printer lays.

use super::layers::LEAST_LAYERS;
use super::spot::Spot;
use super::{Finding, Job, Remedy, Weight};
use crate::colour::{Conflict, plan_swaps_of};
use crate::evaluate::Placed;
use crate::filament::Filament;
use crate::piece::{Edit, Element, FaceName, Lying, Relief};
use crate::solid::Act;
use serde_json::json;

/// Filaments changed by hand come layer by layer; what lies beside each other in one layer takes as many at once. Of a
/// printer of which that is not known it is good to know.
pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let known = job.piece.printer.filaments.map(|most| most as usize);
    let (most, weight) = known.map_or((1, Weight::Note), |most| (most, Weight::Should));
    if job.made.bodies.len() <= most {
        return Vec::new();
    }
    let plan = plan_swaps_of(std::slice::from_ref(job.made), job.piece.layers);
    let beyond = plan.conflicts.iter().filter(|conflict| conflict.filaments.len() > most);
    let beyond: Vec<&Conflict> = beyond.collect();
    let Some(worst) = beyond.iter().max_by_key(|conflict| conflict.filaments.len()) else {
        return Vec::new();
    };
    let layers: usize = beyond.iter().map(|one| one.layers.1 + 1 - one.layers.0).sum();
    let message = format!(
        "In {}, from {} up, {} colours lie beside each other; {} {}.",
        if layers == 1 { "one layer".to_owned() } else { format!("{layers} layers") },
        job.shown(worst.heights.0),
        worst.filaments.len(),
        if known.is_some() { "the printer lays" } else { "with one nozzle a printer lays" },
        if most == 1 { "one at a time".to_owned() } else { format!("{most} at a time") }
    );
    let culprits = culprits(job, &beyond);
    let finding = match culprits.first() {
        Some((_, placed)) => {
            job.finding("colours-in-layer", weight, &placed.id, message).field("colour")
        }
        None => job.of_blank("colours-in-layer", weight, message),
    };
    let spots = culprits.iter().map(|(_, placed)| job.spot(placed, placed.region.clone()));
    let spots: Vec<Spot> = spots.collect();
    let them = if culprits.len() == 1 { "it" } else { "them" };
    let mut finding = finding.spots(spots);
    let lifted: Option<Vec<Edit>> = culprits.iter().map(|one| lifted(job, one)).collect();
    if let Some(edits) = lifted.filter(|edits| !edits.is_empty()) {
        finding = finding.remedy(format!("Lift {them} out of the face"), edits);
    }
    let beside = &job.piece.filaments[worst.filaments[0]];
    let coloured = culprits.iter().map(|(_, placed)| coloured(job, placed, beside));
    let edits: Vec<Edit> = coloured.collect();
    if !edits.is_empty() {
        finding = finding.remedy(format!("Give {them} the colour of what is beside"), edits);
    }
    vec![finding]
}

/// The elements that have another colour than the rest of those layers.
fn culprits<'a>(job: &'a Job<'_>, conflicts: &[&Conflict]) -> Vec<(&'a Element, &'a Placed)> {
    let is_in = |placed: &Placed| {
        conflicts.iter().any(|conflict| {
            let is_another = usize::from(placed.colour) != conflict.filaments[0]
                && conflict.filaments.contains(&usize::from(placed.colour));
            // Layers are counted from the bed; on another side they lie across.
            let [from, to] = [conflict.heights.0, conflict.heights.1].map(|z| z - job.made.lift);
            let is_level = job.made.lies == Lying::AsMade && job.layout.is_on_sections(placed);
            let reaches = placed.prisms.iter().any(|prism| prism.bottom < to && from < prism.top);
            is_another && (reaches || !is_level)
        })
    };
    job.pairs().filter(|(_, placed)| placed.act != Act::Cuts && is_in(placed)).collect()
}

/// What is level with the face stands out of it by so many layers as a relief should have; on the side it lies on
/// it is sunk.
fn lifted(job: &Job<'_>, (element, placed): &(&Element, &Placed)) -> Option<Edit> {
    let Some(Relief::Flush(_)) = element.relief() else { return None };
    if placed.face == FaceName::Back {
        let target = job.address(&placed.id);
        return Some(Edit::Turn {
            target,
            field: "relief".to_owned(),
            into: "recessed".to_owned(),
        });
    }
    let high = LEAST_LAYERS * job.piece.layers.height.as_mm();
    Some(job.set(&placed.id, "relief", json!({ "raised": { "by": high } })))
}

/// Gives something the colour, of those the piece has, that stands out most from its face; there is none where all are
/// as light or as dark.
pub(super) fn standing_out(job: &Job<'_>, placed: &Placed) -> Option<Remedy> {
    /// As a share of black to white (ours).
    const NOTICEABLE: f64 = 0.2;
    let face = job.layout.blank.face_colour(placed.face);
    let own = job.piece.filaments.get(face)?.colour.luma();
    let unlike = |one: &Filament| (one.colour.luma() - own).abs();
    let others = job.piece.filaments.iter().filter(|one| unlike(one) > NOTICEABLE);
    let filament = others.max_by(|a, b| unlike(a).total_cmp(&unlike(b)))?;
    let label = format!("Give it the colour {}", filament.name);
    Some(Remedy { label, edits: vec![coloured(job, placed, filament)] })
}

fn coloured(job: &Job<'_>, placed: &Placed, filament: &Filament) -> Edit {
    let (target, field) = (job.address(&placed.id), "colour".to_owned());
    Edit::Colour { target, field, filament: Some(filament.clone()) }
}
