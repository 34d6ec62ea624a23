//! Openings and plugs whose first layer, pressed wider than the others, takes the room they have.

use super::{Finding, Job, Weight};
use crate::piece::{Address, Blank, Edge, Edit, Fit, Lying};
use crate::units::Length;
use serde_json::json;

/// What goes into something, or something goes into, on the bed.
struct Mouth {
    /// What it is called.
    what: &'static str,
    fit: Fit,
    /// How its edge at the bed is finished, and whose field that is.
    edge: f64,
    target: Address,
    field: &'static str,
    /// Whether that field is a length, not an edge.
    is_length: bool,
}

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let spread = job.piece.printer.spread.as_mm();
    let mouths = at_bore(job).into_iter().chain(at_joint(job));
    mouths.filter_map(|mouth| of_mouth(job, &mouth, spread)).collect()
}

fn of_mouth(job: &Job<'_>, mouth: &Mouth, spread: f64) -> Option<Finding> {
    // Either side is pressed wider; what has more room than that goes in all the same.
    let room = job.piece.printer.fits.clearance(mouth.fit);
    if mouth.edge >= spread - 1e-9 || 2.0 * spread < room - 1e-9 {
        return None;
    }
    // A chamfer twice as wide as the spread, in tenths (common practice, no source).
    let wide = ((spread * 20.0).ceil() / 10.0).max(0.2);
    let message = format!(
        "The first layer is pressed {} wider on either side, and {} on the bed: it takes all the room there \
         is, {}. Break that edge by {}.",
        job.shown(spread),
        mouth.what,
        job.shown(room.max(0.0)),
        job.shown(wide)
    );
    let value = match mouth.is_length {
        true => json!(wide),
        false => json!(Edge::Chamfer(Length::mm(wide))),
    };
    let finding = Finding::new("first-layer", Weight::Should, mouth.target.clone(), message);
    let edits = vec![Edit::set(&mouth.target, mouth.field, value)];
    Some(finding.field(mouth.field).remedy(format!("Break the edge by {}", job.shown(wide)), edits))
}

/// The mouth of what was made for something measured, where it lies on the bed.
fn at_bore(job: &Job<'_>) -> Option<Mouth> {
    let target = job.component.blank_address();
    let lies = job.made.lies;
    let mouth =
        |what, fit, edge, field, is_length| Mouth { what, fit, edge, target, field, is_length };
    match &job.component.blank {
        Blank::Cap(cap) if lies == Lying::AsMade => {
            Some(mouth("its opening lies", cap.fit, cap.lead_in.as_mm(), "lead_in", true))
        }
        Blank::Plug(plug) if lies == Lying::AsMade => {
            Some(mouth("its shank stands", plug.fit, plug.lead_in.size(), "lead_in", false))
        }
        Blank::Ring(ring) if matches!(lies, Lying::AsMade | Lying::OnTop) => {
            Some(mouth("its bore lies", ring.fit, ring.comfort.size(), "comfort", false))
        }
        _ => None,
    }
}

/// The edge of a plate that lies in a socket of another component.
fn at_joint(job: &Job<'_>) -> Option<Mouth> {
    let joint = job.piece.joint_of(&job.component.id).filter(|joint| joint.socket.is_some())?;
    let edges = job.component.plate()?.edges;
    let (edge, field) = match job.made.lies {
        Lying::AsMade => (edges.bottom, "edges.bottom"),
        Lying::OnTop => (edges.top, "edges.top"),
        _ => return None,
    };
    let target = job.component.blank_address();
    Some(Mouth {
        what: "its edge lies",
        fit: joint.fit,
        edge: edge.size(),
        target,
        field,
        is_length: false,
    })
}
