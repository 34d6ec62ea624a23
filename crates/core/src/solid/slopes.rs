//! The heights of slopes.
//!
//! Where a layer tapers, its region at the foot of a slab differs from that at the head, and the
//! band between the two is a slope: at the height of the foot on the foot's outline, at that of the
//! head on the head's, and in between in proportion to the distance from the outline the taper
//! follows. With the ridges in the subdivision every cell of the band lies in one flank, so that a
//! slope is plane along straight edges and true to the chord round corners, whatever crosses it.

use super::{Layer, Sections};
use crate::halt::heed_at;
use crate::plane::{Arrangement, Distances, GridPoint, Line, from_grid, to_grid};
use rustc_hash::{FxHashMap, FxHashSet};

/// A slope in a slab.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub(super) struct Slope {
    /// Which slab.
    pub slab: usize,
    /// Which of its layers.
    pub layer: usize,
}

/// What the heights of all slopes follow from.
pub(super) struct Slopes {
    /// Distances from the outlines that tapers follow.
    distances: FxHashMap<usize, Distances>,
}

impl Slopes {
    /// The slopes of sections.
    pub(super) fn of(sections: &Sections) -> Self {
        let mut reach: FxHashMap<usize, f64> = FxHashMap::default();
        for layer in sections.slabs.iter().flat_map(|slab| &slab.layers) {
            if let Some(taper) = layer.taper {
                let most = reach.entry(taper.outline).or_default();
                *most = most.max(taper.foot).max(taper.head);
            }
        }
        let distances = reach
            .into_iter()
            .map(|(outline, most)| (outline, Distances::of(&sections.footprints[outline], most)));
        Slopes { distances: distances.collect() }
    }

    /// Whether there are any.
    pub(super) fn are_none(&self) -> bool {
        self.distances.is_empty()
    }

    /// The heights over an arrangement of the sections' footprints, those of the slabs, one more than there are,
    /// being given in grid steps.
    pub(super) fn over<'a>(
        &'a self,
        sections: &'a Sections,
        heights: &'a [i32],
        arrangement: &'a Arrangement,
    ) -> Heights<'a> {
        let mut outlines: FxHashMap<usize, FxHashSet<u32>> = FxHashMap::default();
        let layers = sections.slabs.iter().flat_map(|slab| &slab.layers);
        for layer in layers.filter(|layer| layer.taper.is_some()) {
            outlines.entry(layer.foot).or_default();
            outlines.entry(layer.head).or_default();
        }
        if !outlines.is_empty() {
            for (number, edge) in arrangement.outlines.iter().enumerate() {
                heed_at(number);
                for footprint in arrangement.covers.members(edge.bounds) {
                    if let Some(points) = outlines.get_mut(&footprint) {
                        points.extend(edge.ends);
                    }
                }
            }
        }
        Heights {
            slopes: self,
            sections,
            heights,
            arrangement,
            outlines,
            known: FxHashMap::default(),
        }
    }
}

/// The heights of slopes over an arrangement.
pub(super) struct Heights<'a> {
    slopes: &'a Slopes,
    sections: &'a Sections,
    heights: &'a [i32],
    arrangement: &'a Arrangement,
    /// For every footprint a slope starts or ends at, the points on its outline.
    outlines: FxHashMap<usize, FxHashSet<u32>>,
    known: FxHashMap<(usize, usize, u32), i32>,
}

impl Heights<'_> {
    fn layer(&self, slope: Slope) -> Layer {
        self.sections.slabs[slope.slab].layers[slope.layer]
    }

    /// The height of a slope at a point of the arrangement, in grid steps.
    pub(super) fn at(&mut self, slope: Slope, point: u32) -> i32 {
        let key = (slope.slab, slope.layer, point);
        if let Some(known) = self.known.get(&key) {
            return *known;
        }
        let layer = self.layer(slope);
        let bottom = self.heights[slope.slab];
        let top = self.heights[slope.slab + 1];
        let is_on = |footprint: usize| {
            self.outlines.get(&footprint).is_some_and(|points| points.contains(&point))
        };
        let height = if is_on(layer.foot) {
            bottom
        } else if is_on(layer.head) {
            top
        } else {
            self.between(layer, self.arrangement.points[point as usize], bottom, top)
        };
        self.known.insert(key, height);
        height
    }

    fn between(&self, layer: Layer, point: GridPoint, bottom: i32, top: i32) -> i32 {
        let Some(taper) = layer.taper else { return bottom };
        let distance =
            self.slopes.distances[&taper.outline].from((from_grid(point.x), from_grid(point.y)));
        let share = ((distance - taper.foot) / (taper.head - taper.foot)).clamp(0.0, 1.0);
        bottom + (share * f64::from(top - bottom)).round() as i32
    }

    /// The slopes over a cell in a slab, from the list of those there may be, with their heights at
    /// the cell's corners, lowest first; they do not cross.
    pub(super) fn over_cell(&mut self, cell: usize, slopes: &[Slope]) -> Vec<(Slope, [i32; 3])> {
        let corners = self.arrangement.cells[cell].corners;
        let mut found: Vec<(Slope, [i32; 3])> = slopes
            .iter()
            .map(|slope| (*slope, corners.map(|corner| self.at(*slope, corner))))
            .collect();
        found.sort_by_key(|(_, heights)| {
            heights.iter().map(|height| i64::from(*height)).sum::<i64>()
        });
        for i in 1..found.len() {
            // Rounding may have them cross by a step.
            let below = found[i - 1].1;
            found[i].1.iter_mut().zip(below).for_each(|(height, low)| *height = (*height).max(low));
        }
        found
    }

    /// The lines along which slopes of one slab cross within a cell.
    pub(super) fn crossings(&mut self, cell: usize, slopes: &[Slope], lines: &mut Vec<Line>) {
        /// What rounding may come to, in grid steps.
        const ROUNDING: i32 = 4;
        let corners = self.arrangement.cells[cell].corners;
        let places = corners.map(|corner| self.arrangement.points[corner as usize]);
        for (i, one) in slopes.iter().enumerate() {
            for other in slopes[..i].iter().filter(|other| other.slab == one.slab) {
                let apart = corners.map(|corner| self.at(*one, corner) - self.at(*other, corner));
                let crosses =
                    apart.iter().any(|d| *d > ROUNDING) && apart.iter().any(|d| *d < -ROUNDING);
                if !crosses {
                    continue;
                }
                let mut ends = Vec::with_capacity(3);
                for side in 0..3 {
                    let (a, b) = (side, (side + 1) % 3);
                    let (from, to) = (f64::from(apart[a]), f64::from(apart[b]));
                    if apart[a] == 0 {
                        ends.push(places[a]);
                    } else if from * to < 0.0 {
                        let share = from / (from - to);
                        let at = |p: i32, q: i32| {
                            (f64::from(p) + share * (f64::from(q) - f64::from(p))).round() as i32
                        };
                        let (p, q) = (places[a], places[b]);
                        ends.push(GridPoint::new(at(p.x, q.x), at(p.y, q.y)));
                    }
                }
                if let [a, b] = ends[..]
                    && a != b
                {
                    lines.push([a, b]);
                }
            }
        }
    }
}

/// Heights in mm as steps of the grid.
pub(super) fn steps_of(sections: &Sections) -> Vec<i32> {
    sections.heights().into_iter().map(to_grid).collect()
}
