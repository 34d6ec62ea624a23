//! The solid of a piece made of a mesh: its elements become tools, merged in sections where they do
//! the same, and the kernel works the mesh with one after the other.

use super::sections::of_prisms;
use super::{Layout, Prism};
use crate::solid::{self, Act, Colour, KernelSolid, Mesh, MeshError, Meshed, Partings};
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
        let solids = carried_out(&steps, stock, blank, workshop)?;
        let meshed = solids.meshed();
        if meshed.is_sound {
            return Ok(Meshed { partings: stock.partings, ..meshed });
        }
        if attempt + 1 == ATTEMPTS {
            let (solids, partings) = solids.parted();
            let meshed = solids.meshed();
            if meshed.is_sound {
                return Ok(Meshed { partings, ..meshed });
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

/// What comes of the work: all of it, and the body of every colour where there are several.
struct Solids {
    whole: KernelSolid,
    bodies: Vec<(Colour, KernelSolid)>,
    blank: Colour,
}

/// Carries out the steps on all of the mesh, and on the body of every colour.
fn carried_out(
    steps: &[Step],
    stock: &Levelled,
    blank: Colour,
    workshop: &Workshop<'_>,
) -> Result<Solids, MeshError> {
    let mut whole = stock.solid.clone();
    let several = steps.iter().any(|step| step.act != Act::Cuts && step.colour != blank);
    let mut bodies = if several { vec![(blank, whole.clone())] } else { Vec::new() };
    for Step { act, colour, tool } in steps {
        workshop.go_on()?;
        let joined = match act {
            Act::Adds => Some(tool.clone()),
            Act::Paints => Some(tool.within(&whole).without_specks()),
            Act::Cuts => None,
        };
        whole = match act {
            Act::Adds => whole.with(tool),
            Act::Cuts => whole.without(tool),
            Act::Paints => whole,
        };
        if !several {
            continue;
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
    Ok(Solids { whole, bodies, blank })
}

impl Solids {
    /// The same with what touches along mere edges cut apart, and where that was.
    fn parted(self) -> (Self, Partings) {
        let (whole, partings) = self.whole.parted();
        let bodies = self.bodies.into_iter().map(|(colour, body)| (colour, body.parted().0));
        (Solids { whole, bodies: bodies.collect(), ..self }, partings)
    }

    /// The meshes of the solids.
    fn meshed(&self) -> Meshed {
        let mesh = self.whole.mesh();
        let bodies = self.bodies.iter().map(|(colour, body)| (*colour, body.mesh()));
        let mut bodies: Vec<(Colour, Mesh)> =
            bodies.filter(|(_, body)| !body.triangles.is_empty()).collect();
        let mut is_sound =
            mesh.faults().is_sound() && bodies.iter().all(|(_, body)| body.faults().is_sound());
        if self.bodies.is_empty() {
            bodies.push((self.blank, mesh.clone()));
        }
        is_sound &= !bodies.is_empty();
        Meshed { mesh, bodies, is_sound, ..Meshed::default() }
    }
}
