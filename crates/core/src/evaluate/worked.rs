//! The solid of a piece made of a mesh: its elements become tools, merged in sections where they do
//! the same, and the kernel works the mesh with one after the other.

use super::sections::of_prisms;
use super::{Layout, Prism};
use crate::solid::{self, Act, Colour, KernelSolid, Mesh, MeshError, Meshed};
use crate::stock::Levelled;
use crate::workshop::Workshop;

/// How far a cut that is open at an end reaches beyond the mesh, in mm.
const OVERSHOOT_MM: f64 = 1.0;

/// How far tools are moved off what they meet level or along a mere edge, from one attempt to the next,
/// in mm: first not at all, for on a level face on the grid flush tools mostly hold.
const NUDGE_MM: f64 = 0.002;
const ATTEMPTS: usize = 5;

/// A step of the work.
struct Step {
    act: Act,
    colour: Colour,
    tool: KernelSolid,
}

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
        let (mut wholes, mut partings) = (wholes(&steps, stock, workshop)?, stock.partings);
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
    let alike =
        |a: &Prism, b: &Prism| a.act == b.act && (a.act == Act::Cuts || a.colour == b.colour);
    let mut steps = Vec::new();
    for group in work.chunk_by(alike) {
        let (act, colour) = (group[0].act, group[0].colour);
        let tool = tool_of(group, workshop)?;
        steps.extend(tool.map(|tool| Step { act, colour, tool }));
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

/// The solid of prisms that do the same.
fn tool_of(group: &[Prism], workshop: &Workshop<'_>) -> Result<Option<KernelSolid>, MeshError> {
    let all: Vec<&Prism> = group.iter().collect();
    let mut sections = of_prisms(&all, workshop.tolerance, workshop.cache);
    // As a tool it is material, whatever is done with it.
    for layer in sections.slabs.iter_mut().flat_map(|slab| &mut slab.layers) {
        (layer.act, layer.colour) = (Act::Adds, 0);
    }
    let mesh = solid::mesh(&sections, &workshop.halt)?.mesh;
    if mesh.triangles.is_empty() {
        return Ok(None);
    }
    KernelSolid::of(&mesh).map(Some).ok_or(MeshError::Tangled)
}

/// All there is before every step, and after the last one.
fn wholes(
    steps: &[Step],
    stock: &Levelled,
    workshop: &Workshop<'_>,
) -> Result<Vec<KernelSolid>, MeshError> {
    let mut whole = stock.solid.clone();
    let mut wholes = vec![whole.clone()];
    for Step { act, tool, .. } in steps {
        workshop.go_on()?;
        whole = match act {
            Act::Adds => whole.with(tool),
            Act::Cuts => whole.without(tool),
            Act::Paints => whole,
        };
        wholes.push(whole.clone());
    }
    Ok(wholes)
}

/// The body of every colour, if there are several; `wholes` is all there is before every step. Until
/// another colour comes, the blank's body is all there is.
fn bodies(
    steps: &[Step],
    wholes: Vec<KernelSolid>,
    blank: Colour,
    workshop: &Workshop<'_>,
) -> Result<Vec<(Colour, Mesh)>, MeshError> {
    let mut bodies: Vec<(Colour, KernelSolid)> = Vec::new();
    for (Step { act, colour, tool }, whole) in steps.iter().zip(wholes) {
        let is_other = *act != Act::Cuts && *colour != blank;
        if bodies.is_empty() && !is_other {
            continue;
        }
        workshop.go_on()?;
        let joined = match act {
            Act::Adds => Some(tool.clone()),
            Act::Paints => Some(tool.within(&whole).without_specks()),
            Act::Cuts => None,
        };
        if bodies.is_empty() {
            bodies.push((blank, whole));
        }
        for (own, body) in &mut bodies {
            if joined.is_none() || own != colour {
                *body = body.without(tool);
            }
        }
        if let Some(joined) = joined {
            match bodies.iter_mut().find(|(own, _)| own == colour) {
                Some((_, body)) => *body = body.with(&joined),
                None => bodies.push((*colour, joined)),
            }
        }
    }
    bodies.sort_by_key(|(colour, _)| *colour);
    let sound = |body: KernelSolid| {
        let mesh = body.mesh();
        if mesh.faults().is_sound() { mesh } else { body.parted().0.mesh() }
    };
    let meshes = bodies.into_iter().map(|(colour, body)| (colour, sound(body)));
    Ok(meshes.filter(|(_, body)| !body.triangles.is_empty()).collect())
}
