//! The heights of slopes.
//!
//! Where a layer tapers, its region at the foot of a slab differs from that at the head, and the
//! band between the two outlines is a slope: at the height of the foot on the foot's outline, at
//! that of the head on the head's, and in between in proportion to the distances from both. Offsets
//! of one outline make such slopes plane along straight edges and true to the chord along arcs.

use super::columns::Columns;
use super::{Act, Layer, Sections};
use crate::plane::{Cover, Region, from_grid};
use std::collections::HashMap;

/// The height of every point that a slope touches, by slab and point.
#[derive(Default)]
pub(super) struct Slopes {
    heights: HashMap<(usize, u32), i32>,
}

impl Slopes {
    /// The height of a slope at a point, in grid steps. Heights, one more than there are slabs.
    pub(super) fn height(&self, slab: usize, point: u32, heights: &[i32]) -> i32 {
        self.heights.get(&(slab, point)).copied().unwrap_or(heights[slab])
    }
}

/// Works out the heights of all slopes.
pub(super) fn of(sections: &Sections, columns: &Columns, heights: &[i32]) -> Slopes {
    let mut slopes = Slopes::default();
    let is_tapered = |layer: &&Layer| layer.foot != layer.head;
    if !sections.slabs.iter().flat_map(|slab| &slab.layers).any(|layer| is_tapered(&layer)) {
        return slopes;
    }
    let arrangement = &columns.arrangement;
    let outlines = outlines_at_points(columns);
    for (i, slab) in sections.slabs.iter().enumerate() {
        let (bottom, top) = (heights[i], heights[i + 1]);
        for layer in slab.layers.iter().filter(is_tapered) {
            let mut known: HashMap<u32, i32> = HashMap::new();
            for (at, cell) in arrangement.cells.iter().enumerate() {
                let in_foot = cell.cover.has(layer.foot);
                let in_band = in_foot != cell.cover.has(layer.head);
                let is_slope = columns.sloped[at] & 1 << i != 0;
                if !in_band || !is_slope {
                    continue;
                }
                // An added part that shrinks, or a cut that widens, leaves solid below the slope.
                let solid_below = in_foot == (layer.act == Act::Adds);
                for corner in cell.corners {
                    let height = *known.entry(corner).or_insert_with(|| {
                        let met = outlines[corner as usize];
                        if met.has(layer.foot) {
                            bottom
                        } else if met.has(layer.head) {
                            top
                        } else {
                            let regions = [layer.foot, layer.head].map(|f| &sections.footprints[f]);
                            let p = arrangement.points[corner as usize];
                            between((from_grid(p.x), from_grid(p.y)), regions, bottom, top)
                        }
                    });
                    let entry = slopes.heights.entry((i, corner)).or_insert(height);
                    *entry = if solid_below { height.min(*entry) } else { height.max(*entry) };
                }
            }
        }
    }
    slopes
}

/// For every point, the footprints whose outlines pass through it.
fn outlines_at_points(columns: &Columns) -> Vec<Cover> {
    let arrangement = &columns.arrangement;
    let mut met = vec![Cover::default(); arrangement.points.len()];
    for cell in &arrangement.cells {
        for side in 0..3 {
            let other = cell.across[side]
                .map_or(Cover::default(), |other| arrangement.cells[other as usize].cover);
            let crossed = cell.cover ^ other;
            met[cell.corners[side] as usize] |= crossed;
            met[cell.corners[(side + 1) % 3] as usize] |= crossed;
        }
    }
    met
}

/// The height of a point inside a band, in proportion to its distances from the two outlines.
fn between(point: (f64, f64), [foot, head]: [&Region; 2], bottom: i32, top: i32) -> i32 {
    let (from_foot, from_head) = (foot.distance_to_outline(point), head.distance_to_outline(point));
    if !from_head.is_finite() || from_foot + from_head == 0.0 {
        return bottom;
    }
    let share = from_foot / (from_foot + from_head);
    bottom + (share * f64::from(top - bottom)).round() as i32
}
