//! What the kernel is set to work with: prisms that do the same, merged in sections, as one solid each.

use super::face::Face;
use super::round::Half;
use super::sections::of_prisms;
use super::{Prism, Round};
use crate::plane::{Line, Rect};
use crate::solid::{self, Act, Colour, KernelSolid, Mesh, MeshError};
use crate::workshop::Workshop;

/// A step of the work.
pub(super) struct Step {
    pub act: Act,
    pub colour: Colour,
    pub tool: KernelSolid,
    /// Whether what it adds is sunk a little into what it stands on only so that both hold together. What is there
    /// keeps its colour then.
    pub yields: bool,
}

/// Whether two prisms can be one tool.
pub(super) fn are_alike(a: &Prism, b: &Prism) -> bool {
    a.act == b.act
        && (a.act == Act::Cuts || a.colour == b.colour)
        && (a.act != Act::Adds || stands(a) == stands(b))
}

/// Whether what a prism adds stands on something, and does not begin at the foot of its face, as an inlay does that goes
/// all the way through.
pub(super) fn stands(prism: &Prism) -> bool {
    prism.bottom > 0.0
}

/// The solid of prisms that do the same, brought to its place.
pub(super) fn tool_of(
    group: &[Prism],
    place: impl Fn(Mesh) -> Mesh,
    workshop: &Workshop<'_>,
) -> Result<Option<KernelSolid>, MeshError> {
    cut_along(group, Vec::new(), place, workshop)
}

/// The same, cut along lines before it is brought to its place.
fn cut_along(
    group: &[Prism],
    lines: Vec<Line>,
    place: impl Fn(Mesh) -> Mesh,
    workshop: &Workshop<'_>,
) -> Result<Option<KernelSolid>, MeshError> {
    let all: Vec<&Prism> = group.iter().collect();
    let mut sections = of_prisms(&all, workshop.tolerance, workshop.cache);
    sections.ridges.extend(lines);
    // As a tool it is material, whatever is done with it.
    for layer in sections.slabs.iter_mut().flat_map(|slab| &mut slab.layers) {
        (layer.act, layer.colour) = (Act::Adds, 0);
    }
    let mesh = solid::mesh(&sections, &workshop.halt)?.mesh;
    if mesh.triangles.is_empty() {
        return Ok(None);
    }
    KernelSolid::of(&place(mesh)).map(Some).ok_or(MeshError::Tangled)
}

/// The solid of prisms on a face that do the same, where it lies in the body.
pub(super) fn tool_on(
    face: &Face,
    group: &[Prism],
    workshop: &Workshop<'_>,
) -> Result<Option<KernelSolid>, MeshError> {
    match &face.round {
        Some(round) => wound(round, group, workshop),
        None => tool_of(group, |mesh| face.frame.mesh(mesh), workshop),
    }
}

/// How much larger one half of what runs all the way round is, in mm.
const HAIR_MM: f64 = 0.003;

/// Prisms wound round. What takes up all of the way is made of two halves that overlap, so that it closes
/// without a seam.
fn wound(
    round: &Round,
    group: &[Prism],
    workshop: &Workshop<'_>,
) -> Result<Option<KernelSolid>, MeshError> {
    let way = round.way_round();
    let group: Vec<Prism> = group.iter().map(|prism| round.short_of_axis(prism)).collect();
    let group = &group[..];
    let one = |group: &[Prism], moved: f64| {
        let Some(extent) = extent(group) else { return Ok(None) };
        let lines = round.lines(extent, moved);
        cut_along(group, lines, |mesh| round.wound(mesh, moved), workshop)
    };
    let Some(whole) = extent(group) else { return Ok(None) };
    if !round.is_all_round(whole.width()) {
        let (middle, _) = whole.centre();
        let centred = |prism: &Prism| Prism {
            outline: prism.outline.clone().moved(-middle, 0.0),
            ..prism.clone()
        };
        return one(&group.iter().map(centred).collect::<Vec<_>>(), middle);
    }
    // Where both halves have curves, their surfaces would nearly coincide; so one is a hair larger.
    let is_plain = group.iter().all(|prism| prism.outline.is_axis_parallel());
    let mut closed: Option<KernelSolid> = None;
    for half in [Half::Near, Half::Far] {
        workshop.go_on()?;
        let more = if is_plain || half == Half::Near { 0.0 } else { HAIR_MM };
        let part = |prism: &Prism| {
            let outline = round.half(&prism.outline, half);
            Prism {
                outline: if more > 0.0 {
                    outline.offset(more, workshop.tolerance)
                } else {
                    outline
                },
                bottom: prism.bottom - more,
                top: prism.top + more,
                ..prism.clone()
            }
        };
        let parts: Vec<Prism> =
            group.iter().map(part).filter(|part| !part.outline.is_empty()).collect();
        let Some(tool) = one(&parts, half.moved(way))? else { continue };
        closed = Some(match closed {
            Some(other) => other.with(&tool),
            None => tool,
        });
    }
    Ok(closed)
}

/// The box round prisms, their widened edges among them.
fn extent(group: &[Prism]) -> Option<Rect> {
    let boxes = group.iter().filter_map(|prism| {
        let more = prism.top_edge.size().max(prism.bottom_edge.size());
        Some(prism.outline.bounds()?.grown(more))
    });
    boxes.reduce(|a, b| Rect {
        x0: a.x0.min(b.x0),
        y0: a.y0.min(b.y0),
        x1: a.x1.max(b.x1),
        y1: a.y1.max(b.y1),
    })
}

/// All there is before every step, and after the last one.
pub(super) fn wholes(
    start: &KernelSolid,
    steps: &[Step],
    workshop: &Workshop<'_>,
) -> Result<Vec<KernelSolid>, MeshError> {
    let mut whole = start.clone();
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
pub(super) fn bodies(
    steps: &[Step],
    wholes: Vec<KernelSolid>,
    blank: Colour,
    workshop: &Workshop<'_>,
) -> Result<Vec<(Colour, Mesh)>, MeshError> {
    let mut bodies: Vec<(Colour, KernelSolid)> = Vec::new();
    for (Step { act, colour, tool, yields }, whole) in steps.iter().zip(wholes) {
        let is_other = *act != Act::Cuts && *colour != blank;
        if bodies.is_empty() && !is_other {
            continue;
        }
        workshop.go_on()?;
        let joined = match act {
            Act::Adds if *yields && bodies.is_empty() => Some(tool.without(&whole)),
            Act::Adds if *yields => {
                let others = bodies.iter().filter(|(own, _)| own != colour);
                Some(others.fold(tool.clone(), |rest, (_, other)| rest.without(other)))
            }
            Act::Adds => Some(tool.clone()),
            Act::Paints => Some(tool.within(&whole).without_specks()),
            Act::Cuts => None,
        };
        if bodies.is_empty() {
            bodies.push((blank, whole));
        }
        for (own, body) in &mut bodies {
            if joined.is_none() || (own != colour && !yields) {
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
