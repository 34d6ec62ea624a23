//! Colours with one nozzle: the printer pauses at a layer and the filament is changed by hand.
//!
//! Each layer can then have one colour only. Of all ways to give every layer one of the colours it
//! has, the one with the fewest changes is taken, and among those the one that leaves the least in
//! a wrong colour (dynamic programming over the layers).

use crate::bed;
use crate::evaluate::{Evaluation, Made};
use crate::piece::Layering;
use crate::solid::Mesh;
use serde::Serialize;
use std::borrow::Cow;
use std::sync::Arc;

/// A change of filament.
#[derive(Debug, Clone, Copy, PartialEq, Serialize)]
pub struct Swap {
    /// The first layer printed in the new colour, counted from 1.
    pub layer: usize,
    /// The height in mm at which that layer starts.
    pub height: f64,
    /// Which of the filaments of the piece comes.
    pub filament: usize,
}

/// Neighbouring layers that have more than one colour and cannot be printed so with one nozzle.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Conflict {
    /// The first and the last of the layers.
    pub layers: (usize, usize),
    /// From where to where they reach, in mm.
    pub heights: (f64, f64),
    /// The filaments that share them, and first the one they are printed in.
    pub filaments: Vec<usize>,
}

/// How a piece is printed with one nozzle.
#[derive(Debug, Clone, Default, PartialEq, Serialize)]
pub struct SwapPlan {
    /// Layers in all.
    pub layers: usize,
    /// The filament the print begins with.
    pub begins_with: usize,
    /// The changes, from the bed up.
    pub swaps: Vec<Swap>,
    /// Layers with more than one colour.
    pub conflicts: Vec<Conflict>,
}

/// What one layer has.
#[derive(Clone, Debug)]
struct Layer {
    /// Area in mm² of every body at the middle of the layer.
    areas: Vec<f64>,
}

/// Specks below this area in mm² are no reason to change the filament.
const SPECK: f64 = 0.01;

/// Plans the changes of an evaluated piece. A slicing program cuts a layer at the middle of its
/// height (common practice, no source), and so does this.
pub fn plan_swaps(evaluation: &Evaluation, layers: Layering) -> SwapPlan {
    plan_swaps_of(&evaluation.components, layers)
}

/// The same for some components that are printed together.
pub fn plan_swaps_of(components: &[Arc<Made>], layers: Layering) -> SwapPlan {
    let bodies = by_filament(components);
    let top = components.iter().map(|made| bed::size(made)[2]).fold(0.0, f64::max);
    let (height, first) = (layers.height.as_mm(), layers.first.as_mm());
    if bodies.is_empty() || height <= 0.0 || first <= 0.0 {
        return SwapPlan::default();
    }
    // A layer is printed where its middle is within the piece.
    let above = ((top - first) / height + 0.5 - 1e-9).floor();
    // No layer is thinner than 0.02 mm and nothing reaches further than the grid: some 50 000 at the most.
    let count = 1 + above.max(0.0) as usize;
    let foot = |layer: usize| match layer {
        0 => 0.0,
        layer => first + (layer - 1) as f64 * height,
    };
    let middles: Vec<f64> = (0..count).map(|i| (foot(i) + foot(i + 1)) / 2.0).collect();
    let by_body: Vec<Vec<f64>> = bodies
        .iter()
        .map(|(_, meshes)| {
            let mut areas = vec![0.0; middles.len()];
            meshes.iter().for_each(|mesh| add_areas(mesh, &middles, &mut areas));
            areas
        })
        .collect();
    let sliced: Vec<Layer> = (0..count)
        .map(|i| Layer { areas: by_body.iter().map(|areas| areas[i]).collect() })
        .collect();

    let chosen = fewest_changes(&sliced);
    let filament = |body: usize| bodies[body].0;
    let mut plan = SwapPlan {
        layers: count,
        begins_with: filament(chosen[0]),
        conflicts: conflicts(&sliced, &chosen, foot, filament),
        ..SwapPlan::default()
    };
    for i in 1..count {
        let layer = i + layers.start as usize;
        if chosen[i] == chosen[i - 1] {
            continue;
        }
        // A colour that ends before it would start is not changed to at all.
        plan.swaps.retain(|swap: &Swap| swap.layer < layer + 1);
        if layer < count {
            let swap =
                Swap { layer: layer + 1, height: foot(layer), filament: filament(chosen[i]) };
            plan.swaps.push(swap);
        }
    }
    let mut now = plan.begins_with;
    plan.swaps.retain(|swap| std::mem::replace(&mut now, swap.filament) != swap.filament);
    plan
}

/// One body for every layer that has any: the fewest changes, then the least area in a wrong colour.
fn fewest_changes(layers: &[Layer]) -> Vec<usize> {
    let bodies = layers.first().map_or(0, |layer| layer.areas.len());
    let mut costs = vec![(0usize, 0.0f64); bodies];
    let mut came_from: Vec<Vec<usize>> = Vec::with_capacity(layers.len());
    let is_less = |a: (usize, f64), b: (usize, f64)| a.0 < b.0 || (a.0 == b.0 && a.1 < b.1);
    for layer in layers {
        let total: f64 = layer.areas.iter().sum();
        let is_free = layer.areas.iter().all(|area| *area <= SPECK);
        let best =
            (0..bodies).fold(0, |best, i| if is_less(costs[i], costs[best]) { i } else { best });
        let mut next = Vec::with_capacity(bodies);
        let mut from = Vec::with_capacity(bodies);
        for body in 0..bodies {
            let changed = (costs[best].0 + 1, costs[best].1);
            let (before, cost) =
                if is_less(changed, costs[body]) { (best, changed) } else { (body, costs[body]) };
            // A layer cannot have a colour that is not in it: as dear as all changes there can be.
            let foreign = if is_free || layer.areas[body] > SPECK { 0 } else { layers.len() + 1 };
            next.push((cost.0 + foreign, cost.1 + total - layer.areas[body]));
            from.push(before);
        }
        // The first layer begins with whatever it likes.
        costs = next;
        came_from.push(from);
    }
    let mut at =
        (0..bodies).fold(0, |best, i| if is_less(costs[i], costs[best]) { i } else { best });
    let mut chosen = vec![0; layers.len()];
    for i in (0..layers.len()).rev() {
        chosen[i] = at;
        at = came_from[i][at];
    }
    chosen
}

fn conflicts(
    layers: &[Layer],
    chosen: &[usize],
    foot: impl Fn(usize) -> f64,
    filament: impl Fn(usize) -> usize,
) -> Vec<Conflict> {
    let mut found: Vec<Conflict> = Vec::new();
    for (i, layer) in layers.iter().enumerate() {
        let mut present: Vec<usize> =
            (0..layer.areas.len()).filter(|body| layer.areas[*body] > SPECK).collect();
        if present.len() < 2 {
            continue;
        }
        present.sort_by_key(|body| *body != chosen[i]);
        let filaments: Vec<usize> = present.into_iter().map(&filament).collect();
        match found.last_mut() {
            Some(last) if last.layers.1 == i && last.filaments == filaments => {
                last.layers.1 = i + 1;
                last.heights.1 = foot(i + 1);
            }
            _ => found.push(Conflict {
                layers: (i + 1, i + 1),
                heights: (foot(i), foot(i + 1)),
                filaments,
            }),
        }
    }
    found
}

/// The filaments something prints in, each with what prints in it: components that are printed together
/// change it together.
fn by_filament(components: &[Arc<Made>]) -> Vec<(usize, Vec<Cow<'_, Mesh>>)> {
    let mut found: Vec<(usize, Vec<Cow<'_, Mesh>>)> = Vec::new();
    for (made, place) in components.iter().zip(bed::places_of(components)) {
        for body in &made.bodies {
            let mesh = bed::lying(&body.mesh, &place);
            match found.iter_mut().find(|(filament, _)| *filament == body.filament) {
                Some((_, meshes)) => meshes.push(mesh),
                None => found.push((body.filament, vec![mesh])),
            }
        }
    }
    found.sort_by_key(|(filament, _)| *filament);
    found
}

/// Adds the areas in mm² of a mesh's cross-sections at ascending heights.
///
/// By the divergence theorem the area is half the sum of `x dy − y dx` over the cut edges; each
/// triangle that crosses the height gives one, turned by its orientation.
fn add_areas(mesh: &Mesh, heights: &[f64], areas: &mut [f64]) {
    for triangle in &mesh.triangles {
        let corners = mesh.corners(*triangle);
        let low = corners.iter().map(|c| c[2]).fold(f64::INFINITY, f64::min);
        let high = corners.iter().map(|c| c[2]).fold(f64::NEG_INFINITY, f64::max);
        let first = heights.partition_point(|height| *height <= low);
        let last = heights.partition_point(|height| *height < high);
        for i in first..last.max(first) {
            let [from, to] = cut(&corners, heights[i]);
            areas[i] += (from[0] * to[1] - to[0] * from[1]) / 2.0;
        }
    }
}

/// Where a triangle that turns counter-clockwise seen from outside is cut at a height: an edge with
/// the solid on its left.
fn cut(corners: &[[f64; 3]; 3], height: f64) -> [[f64; 2]; 2] {
    let mut ends = [[0.0; 2]; 2];
    for i in 0..3 {
        let (a, b) = (corners[i], corners[(i + 1) % 3]);
        if (a[2] > height) == (b[2] > height) {
            continue;
        }
        let share = (height - a[2]) / (b[2] - a[2]);
        let point = [a[0] + share * (b[0] - a[0]), a[1] + share * (b[1] - a[1])];
        // Going up through the height the edge ends, going down it begins.
        ends[usize::from(b[2] > height)] = point;
    }
    ends
}
