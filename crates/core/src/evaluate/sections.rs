use super::{Layout, Prism};
use crate::cache::Cache;
use crate::plane::{Tolerance, to_grid};
use crate::solid::{Act, Layer, Sections, Slab};
use std::collections::HashMap;

/// What is solid between which heights.
///
/// The heights are all those at which a prism starts, ends or changes slope, on the grid; between
/// two neighbours nothing changes but what an edge profile tapers.
pub(super) fn sections(layout: &Layout, cache: &Cache) -> Sections {
    let mut prisms: Vec<&Prism> = layout.prisms().collect();
    // In a piece of one colour nothing needs to be painted.
    let mut solid = prisms.iter().filter(|prism| prism.act != Act::Cuts);
    let first = solid.next().map(|prism| prism.colour);
    if solid.all(|prism| Some(prism.colour) == first) {
        prisms.retain(|prism| prism.act != Act::Paints);
    }
    of_prisms(&prisms, layout.tolerance, cache)
}

/// The sections of some prisms, in the order of work.
pub(super) fn of_prisms(prisms: &[&Prism], tolerance: Tolerance, cache: &Cache) -> Sections {
    let profiles: Vec<_> = prisms.iter().map(|prism| prism.profiles(tolerance)).collect();
    let mut heights: Vec<f64> = profiles.iter().flat_map(|profile| profile.breaks()).collect();
    heights.sort_by(f64::total_cmp);
    heights.dedup_by_key(|height| to_grid(*height));

    let mut sections = Sections::default();
    let mut known: HashMap<(usize, i32), usize> = HashMap::new();
    for pair in heights.windows(2) {
        let (bottom, top) = (pair[0], pair[1]);
        let mut layers = Vec::new();
        for (i, prism) in prisms.iter().enumerate() {
            if to_grid(prism.bottom) > to_grid(bottom) || to_grid(top) > to_grid(prism.top) {
                continue;
            }
            let [foot, head] = [bottom, top].map(|height| {
                let inset = profiles[i].inset_at(height);
                *known.entry((i, to_grid(inset))).or_insert_with(|| {
                    let by = if prism.act == Act::Adds { -inset } else { inset };
                    sections.footprints.push(cache.offset(&prism.outline, by, tolerance));
                    sections.footprints.len() - 1
                })
            });
            layers.push(Layer { act: prism.act, colour: prism.colour, foot, head });
        }
        sections.slabs.push(Slab { bottom, top, layers });
    }
    sections
}
