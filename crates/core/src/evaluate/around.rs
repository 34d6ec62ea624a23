//! What is on faces that do not lie level with the sections of a body, and the slots in it: tools in the
//! charts of their faces, brought to their places, with which the kernel works the body.
//!
//! Tools are never flush with what they meet, for a leaning face is on the grid only as nearly as its
//! corners are: what is added is sunk a little into what it stands on, and what cuts or paints goes a
//! little beyond the face.

use super::face::Face;
use super::tools::{Step, are_alike, bodies, stands, tool_of, tool_on, wholes};
use super::{Layout, Placed, Prism, SocketCut};
use crate::solid::{Act, Colour, KernelSolid, Mesh, MeshError, Meshed};
use crate::workshop::Workshop;

/// How deep what is added is rooted in what it stands on, in mm.
const SUNK_MM: f64 = 0.1;

/// How far a cut that goes through a wall reaches out of it behind, and what is painted out of the face.
const BEYOND_MM: f64 = 0.02;

/// The same behind a wall that runs round, whose inside has chords of its own.
const BEYOND_CHORDS_MM: f64 = 0.25;

/// How far a cut that is open towards its face reaches over everything on it.
const OVER_MM: f64 = 1.0;

/// Whether the kernel is needed at all.
pub(super) fn is_needed(layout: &Layout) -> bool {
    let has_knurl = layout.stack.as_ref().is_some_and(|stack| stack.sleeve.is_some());
    has_knurl
        || !layout.slots.is_empty()
        || layout.sockets.iter().any(|socket| charted(layout, socket).is_some())
        || layout.elements.iter().any(|one| !layout.is_on_sections(one) && !one.prisms.is_empty())
}

/// Works what the sections came to. `blank` is the colour of the blank, the only one there is so far.
///
/// # Errors
/// [`MeshError`] where the tools cannot be built or no sound solid comes of the work.
pub(super) fn worked_around(
    layout: &Layout,
    start: &Meshed,
    blank: Colour,
    workshop: &Workshop<'_>,
) -> Result<Meshed, MeshError> {
    let solid = KernelSolid::of(&start.mesh).ok_or(MeshError::Tangled)?;
    let steps = steps(layout, blank, workshop)?;
    let mut wholes = wholes(&solid, &steps, workshop)?;
    let whole = wholes.pop().expect("what there is at the beginning");
    let (mut mesh, mut partings) = (whole.mesh(), start.partings);
    if !mesh.faults().is_sound() {
        // What touches itself along mere edges is cut apart there.
        let (parted, more) = whole.parted();
        mesh = parted.mesh();
        partings = partings.and(more.count, more.widest);
    }
    let mut bodies = bodies(&steps, wholes, blank, workshop)?;
    if bodies.is_empty() && !mesh.triangles.is_empty() {
        bodies.push((blank, mesh.clone()));
    }
    let is_sound =
        mesh.faults().is_sound() && bodies.iter().all(|(_, body)| body.faults().is_sound());
    if is_sound { Ok(Meshed { mesh, bodies, partings, is_sound }) } else { Err(MeshError::Tangled) }
}

/// The steps in the order of work, slots last: they go through whatever is there. Neighbours on one face
/// that do the same become one tool.
fn steps(layout: &Layout, blank: Colour, workshop: &Workshop<'_>) -> Result<Vec<Step>, MeshError> {
    let here = |placed: &Placed| !layout.is_on_sections(placed);
    let is_other = |prism: &Prism| prism.act != Act::Cuts && prism.colour != blank;
    let several = layout.in_order(here).any(|(_, prism)| is_other(prism));
    let work: Vec<(&Face, Prism)> = layout
        .in_order(here)
        .filter(|(_, prism)| !prism.outline.is_empty())
        .filter(|(_, prism)| several || prism.act != Act::Paints)
        .filter_map(|(placed, prism)| {
            let face = layout.face(placed.face)?;
            Some((face, prism.clone()))
        })
        .collect();
    let mut steps = Vec::new();
    if let Some(sleeve) = layout.stack.as_ref().and_then(|stack| stack.sleeve.as_ref()) {
        let tool = KernelSolid::of(sleeve).ok_or(MeshError::Tangled)?;
        steps.push(Step { act: Act::Adds, colour: blank, tool, yields: false });
    }
    for group in work.chunk_by(|a, b| a.0.name == b.0.name && are_alike(&a.1, &b.1)) {
        workshop.go_on()?;
        let (face, Prism { act, colour, .. }) = &group[0];
        let yields = *act == Act::Adds && stands(&group[0].1);
        let highest = highest_on(layout, face);
        let prisms: Vec<Prism> =
            group.iter().map(|(_, prism)| reaching(prism, face, highest)).collect();
        let tool = tool_on(face, &prisms, workshop)?;
        steps.extend(tool.map(|tool| Step { act: *act, colour: *colour, tool, yields }));
    }
    for slot in &layout.slots {
        let place = |mesh: Mesh| slot.frame.mesh(mesh);
        let tool = tool_of(&[slot.prism()], place, workshop)?;
        steps.extend(tool.map(|tool| cut(blank, tool)));
    }
    for socket in &layout.sockets {
        let Some(face) = charted(layout, socket) else { continue };
        let highest = highest_on(layout, face);
        let prisms: Vec<Prism> =
            socket.prisms.iter().map(|prism| reaching(prism, face, highest)).collect();
        let tool = tool_on(face, &prisms, workshop)?;
        steps.extend(tool.map(|tool| cut(blank, tool)));
    }
    // What stands on the faces of a stack does not close what is cut through it.
    let adds = steps.iter().any(|step| step.act == Act::Adds);
    for prism in layout.stack.iter().filter(|_| adds).flat_map(|stack| &stack.through) {
        let top = layout.faces.iter().map(|face| highest_on(layout, face)).fold(0.0, f64::max);
        let through = Prism {
            bottom: prism.bottom - top - OVER_MM,
            top: prism.top + top + OVER_MM,
            ..prism.clone()
        };
        let tool = tool_of(&[through], |mesh| mesh, workshop)?;
        steps.extend(tool.map(|tool| cut(blank, tool)));
    }
    Ok(steps)
}

/// A step that takes away.
fn cut(colour: Colour, tool: KernelSolid) -> Step {
    Step { act: Act::Cuts, colour, tool, yields: false }
}

/// The face a socket opens into, where that is a chart.
fn charted<'a>(layout: &'a Layout, socket: &SocketCut) -> Option<&'a Face> {
    layout.face(socket.face).filter(|face| !face.in_sections)
}

/// The highest anything on a face reaches over its foot, in mm.
fn highest_on(layout: &Layout, face: &Face) -> f64 {
    let on_it = layout.elements.iter().filter(|placed| placed.face == face.name);
    let tops = on_it.flat_map(|placed| &placed.prisms).map(|prism| prism.top);
    tops.filter(|top| top.is_finite()).fold(face.thickness, f64::max)
}

/// A prism as a tool that is flush with nothing.
fn reaching(prism: &Prism, face: &Face, highest: f64) -> Prism {
    let mut tool = prism.clone();
    match prism.act {
        Act::Adds if prism.bottom > 0.0 => tool.bottom = (prism.bottom - SUNK_MM).max(0.0),
        Act::Adds => {}
        Act::Paints if prism.top >= face.thickness => tool.top += BEYOND_MM,
        Act::Paints => {}
        Act::Cuts => {
            if prism.top.is_infinite() {
                tool.top = highest.max(prism.bottom) + OVER_MM;
            }
            if prism.bottom.is_infinite() {
                tool.bottom = match face.round {
                    Some(_) => -BEYOND_CHORDS_MM.min(face.thickness),
                    None => -BEYOND_MM,
                };
            }
        }
    }
    tool
}
