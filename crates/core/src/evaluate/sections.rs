//! From prisms to slabs: what is solid between which heights.

use super::prism::Profiles;
use super::{Layout, Prism};
use crate::cache::Cache;
use crate::plane::{Side, Tolerance, from_grid, to_grid};
use crate::solid::{Act, Layer, Sections, Slab, Taper};

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
    let drawn: Vec<Drawn> = prisms
        .iter()
        .zip(&profiles)
        .map(|(prism, profile)| {
            Drawn::of(prism, profile, &heights, tolerance, cache, &mut sections)
        })
        .collect();
    for pair in heights.windows(2) {
        let (bottom, top) = (pair[0], pair[1]);
        let mut layers = Vec::new();
        for ((prism, profile), drawn) in prisms.iter().zip(&profiles).zip(&drawn) {
            if to_grid(prism.bottom) > to_grid(bottom) || to_grid(top) > to_grid(prism.top) {
                continue;
            }
            let insets = [bottom, top].map(|height| profile.inset_at(height));
            let [foot, head] = insets.map(|inset| drawn.footprint(inset));
            let taper = Taper { outline: drawn.outline, foot: insets[0], head: insets[1] };
            let taper = (foot != head).then_some(taper);
            layers.push(Layer { act: prism.act, colour: prism.colour, foot, head, taper });
        }
        sections.slabs.push(Slab { bottom, top, layers });
    }
    sections
}

/// The outline of a prism at every inset it has at some height, as footprints.
struct Drawn {
    outline: usize,
    /// By the inset in grid steps.
    at: Vec<(i32, usize)>,
}

impl Drawn {
    /// Adds what is drawn of a prism to the sections. Where its flanks cannot be told apart its
    /// outline is offset, and has no ridges.
    fn of(
        prism: &Prism,
        profile: &Profiles,
        heights: &[f64],
        tolerance: Tolerance,
        cache: &Cache,
        sections: &mut Sections,
    ) -> Self {
        let outline = sections.footprints.len();
        sections.footprints.push(prism.outline.clone());
        let mut at = vec![(0, outline)];
        let is_here = |height: &&f64| {
            to_grid(prism.bottom) <= to_grid(**height) && to_grid(**height) <= to_grid(prism.top)
        };
        let mut insets: Vec<i32> = heights
            .iter()
            .filter(is_here)
            .map(|height| to_grid(profile.inset_at(*height)))
            .collect();
        insets.sort_unstable();
        insets.dedup();
        insets.retain(|inset| *inset > 0);
        if insets.is_empty() || prism.outline.is_empty() {
            at.extend(insets.into_iter().map(|inset| (inset, outline)));
            return Drawn { outline, at };
        }
        let side = if prism.act == Act::Adds { Side::Inside } else { Side::Outside };
        let levels = match cache.roof(&prism.outline, side, &insets, tolerance) {
            Some(roof) => {
                sections.ridges.extend(roof.ridges);
                roof.levels
            }
            None => {
                let by = |inset: i32| if side == Side::Inside { -inset } else { inset };
                let drawn =
                    |inset: &i32| cache.offset(&prism.outline, from_grid(by(*inset)), tolerance);
                insets.iter().map(drawn).collect()
            }
        };
        for (inset, level) in insets.into_iter().zip(levels) {
            at.push((inset, sections.footprints.len()));
            sections.footprints.push(level);
        }
        Drawn { outline, at }
    }

    /// The footprint at an inset in mm.
    fn footprint(&self, inset: f64) -> usize {
        let inset = to_grid(inset);
        self.at
            .iter()
            .find(|(at, _)| *at == inset)
            .map_or(self.outline, |(_, footprint)| *footprint)
    }
}
