//! `fit`: prints the joints of a piece file and their clearances.

use super::{FitArguments, NOT_BUILDABLE, print, print_json, work_out};
use kalotype_core::piece::Piece;
use kalotype_core::plane::Tolerance;
use kalotype_core::units::{Length, format_length};
use serde_json::json;
use std::process::ExitCode;

/// Prints the joints of a piece file with their clearances.
pub(super) fn run(arguments: &FitArguments) -> anyhow::Result<ExitCode> {
    let (piece, worked) = work_out(&arguments.piece, &arguments.meshes, Tolerance::Normal)?;
    let evaluation = &worked.evaluation;
    let slots = evaluation.components.iter().flat_map(|made| &made.layout.slots);
    let called = |id: &str| {
        piece.component(id).map_or(String::new(), |component| component.called().to_owned())
    };
    let (mut lines, mut all) = (String::new(), Vec::new());
    for slot in slots {
        let Some(joint) = piece.joints.iter().find(|joint| joint.id == slot.joint) else {
            continue;
        };
        let (into, part) = (called(&joint.into), called(&joint.part));
        let [width, length, depth, room] =
            [slot.width, slot.length, slot.depth, slot.clearance / 2.0].map(|mm| shown(mm, &piece));
        let is_open = joint.slot.as_ref().is_some_and(|slot| slot.open);
        let ends = if is_open { "open at both ends".to_owned() } else { format!("{length} long") };
        lines += &format!(
            "{part} in {into}: a slot {width} wide, {ends}, {depth} deep, leaning {}°; {room} of room on \
             either side\n",
            slot.lean
        );
        all.push(json!({
            "joint": slot.joint, "into": into, "part": part, "fit": joint.fit,
            "clearance_mm": slot.clearance, "width_mm": slot.width, "length_mm": slot.length,
            "depth_mm": slot.depth, "lean_degrees": slot.lean, "open": is_open,
        }));
    }
    for socket in evaluation.components.iter().flat_map(|made| &made.layout.sockets) {
        let Some(joint) = piece.joints.iter().find(|joint| joint.id == socket.joint) else {
            continue;
        };
        let (into, part) = (called(&joint.into), called(&joint.part));
        let [depth, room] = [socket.depth, socket.clearance / 2.0].map(|mm| shown(mm, &piece));
        lines += &format!("{part} in {into}: a socket {depth} deep; {room} of room all round\n");
        all.push(json!({
            "joint": socket.joint, "into": into, "part": part, "fit": joint.fit,
            "clearance_mm": socket.clearance, "depth_mm": socket.depth,
        }));
    }
    for (component, made) in piece.components.iter().zip(&evaluation.components) {
        let Some(joint) = made.layout.stack.as_ref().and_then(|stack| stack.joint.as_ref()) else {
            continue;
        };
        let (name, clearance) = (component.called(), (joint.across - joint.measured).abs());
        let [measured, across, room] =
            [joint.measured, joint.across, clearance / 2.0].map(|mm| shown(mm, &piece));
        lines += &format!(
            "{name}: {measured} was measured, {across} is made; {room} of room all round\n"
        );
        all.push(json!({
            "component": name, "measured_mm": joint.measured, "made_mm": joint.across,
            "clearance_mm": clearance,
        }));
    }
    if arguments.json {
        print_json(&json!(all))?;
    } else if all.is_empty() {
        print("Nothing in this piece is joined.\n")?;
    } else {
        print(&lines)?;
    }
    Ok(if evaluation.is_built() { ExitCode::SUCCESS } else { NOT_BUILDABLE.into() })
}

/// A length as the piece shows lengths.
fn shown(mm: f64, piece: &Piece) -> String {
    format_length(Length::mm((mm * 1000.0).round() / 1000.0), piece.units)
}
