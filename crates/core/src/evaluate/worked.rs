//! The solid of a piece made of a mesh: its elements become tools, merged in sections where they do
//! the same, and the kernel works the mesh with one after the other.

use super::tools::{Step, are_alike, bodies, stands, tool_of, wholes};
use super::{Layout, Prism};
use crate::solid::{Act, Colour, MeshError, Meshed};
use crate::stock::Levelled;
use crate::workshop::Workshop;

/// How far a cut that is open at an end reaches beyond the mesh, in mm.
const OVERSHOOT_MM: f64 = 1.0;

/// How far tools are moved off what they meet level or along a mere edge, from one attempt to the next,
/// in mm: first not at all, for on a level face on the grid flush tools mostly hold.
const NUDGE_MM: f64 = 0.002;
const ATTEMPTS: usize = 5;

/// Works a mesh. `blank` is its colour.
///
/// # Errors
/// [`MeshError`] where the tools cannot be built or no sound solid comes of the work.
pub(super) fn worked(
    layout: &Layout,
    stock: &Levelled,
    blank: Colour,
    workshop: &Workshop<'_>,
) -> Result<Meshed, MeshError> {
    let mut layout = layout.clone();
    for attempt in 0..ATTEMPTS {
        let nudge = NUDGE_MM * attempt as f64;
        let steps = steps(&layout, stock, blank, nudge, workshop)?;
        let (mut wholes, mut partings) = (wholes(&stock.solid, &steps, workshop)?, stock.partings);
        let whole = wholes.last().expect("what there is at the beginning").clone();
        let mut mesh = whole.mesh();
        let is_last = attempt + 1 == ATTEMPTS;
        if !mesh.faults().is_sound() && is_last {
            // What still touches itself along mere edges is cut apart there.
            let (parted, more) = whole.parted();
            mesh = parted.mesh();
            partings = partings.and(more.count, more.widest);
        }
        if mesh.faults().is_sound() {
            wholes.pop();
            let mut bodies = bodies(&steps, wholes, blank, workshop)?;
            if bodies.is_empty() && !mesh.triangles.is_empty() {
                bodies.push((blank, mesh.clone()));
            }
            if bodies.iter().all(|(_, body)| body.faults().is_sound()) {
                return Ok(Meshed { mesh, bodies, partings, is_sound: true });
            }
        }
        layout.draw_outlines_apart();
    }
    Err(MeshError::Tangled)
}

/// Elements next to each other in the order of work that do the same become one tool.
fn steps(
    layout: &Layout,
    stock: &Levelled,
    blank: Colour,
    nudge: f64,
    workshop: &Workshop<'_>,
) -> Result<Vec<Step>, MeshError> {
    let several = layout.work().any(|prism| prism.act != Act::Cuts && prism.colour != blank);
    let extent = extent(layout, stock);
    let work: Vec<Prism> = layout
        .work()
        .filter(|prism| !prism.outline.is_empty() && (several || prism.act != Act::Paints))
        .enumerate()
        .map(|(i, prism)| reaching(prism, extent, nudge * (1 + i % 3) as f64))
        .collect();
    let mut steps = Vec::new();
    for group in work.chunk_by(are_alike) {
        let (act, colour) = (group[0].act, group[0].colour);
        let tool = tool_of(group, |mesh| mesh, workshop)?;
        // A tool that is not sunk shares nothing with what it stands on.
        let yields = act == Act::Adds && nudge > 0.0 && stands(&group[0]);
        steps.extend(tool.map(|tool| Step { act, colour, tool, yields }));
    }
    Ok(steps)
}

/// A prism as a tool: a cut reaches beyond all there is where it is open, and its foot and that of what
/// stands on the face are sunk by a nudge. One that ends with the foot of the mesh goes a little further.
fn reaching(prism: &Prism, [low, high]: [f64; 2], nudge: f64) -> Prism {
    /// Far less than shows, and enough that nothing is left of a face the cut ends in.
    const SUNK_MM: f64 = 0.05;
    let mut tool = prism.clone();
    if prism.bottom > 0.0 {
        tool.bottom -= nudge;
    }
    if prism.act != Act::Cuts {
        return tool;
    }
    if prism.top.is_infinite() {
        tool.top = high.max(prism.bottom) + OVERSHOOT_MM;
    }
    if prism.bottom.is_infinite() {
        tool.bottom = low.min(prism.top) - OVERSHOOT_MM;
    }
    if prism.bottom == 0.0 {
        tool.bottom = -SUNK_MM;
    }
    tool
}

/// The lowest and the highest anything reaches, in mm.
fn extent(layout: &Layout, stock: &Levelled) -> [f64; 2] {
    let heights = layout.work().flat_map(|prism| [prism.bottom, prism.top]);
    let finite = heights.filter(|height| height.is_finite());
    finite.fold([0.0, stock.top], |[low, high], height| [low.min(height), high.max(height)])
}
