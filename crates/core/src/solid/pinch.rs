//! Places where solids touch along a mere edge.
//!
//! Such an edge has four faces instead of two, which no printer can make and most programs refuse.
//! The material there is taken away over two thousandths of a millimetre: far less than any
//! machine resolves, and far more than the grid.

use super::mesher::Columns;
use super::{Act, Layer, Sections};
use crate::plane::{GridPoint, Region};
use std::collections::BTreeMap;

/// Half the width of a parting cut, in grid steps: about 1 µm.
const HALF_WIDTH: i32 = 64;

/// Small cuts by the slabs they concern (a bit for each).
pub(super) type Pinches = BTreeMap<u128, Vec<Vec<GridPoint>>>;

/// All edges with more than two faces, as the cuts that part them.
///
/// `heights` in grid steps, one more than there are slabs. Of the two slabs that meet at a level edge the
/// thinner one is cut.
pub(super) fn find(columns: &Columns, heights: &[i32]) -> Pinches {
    let points = &columns.arrangement.points;
    let mut pinches = Pinches::new();
    // Bitwise counters of the walls that meet in each point, one lane for each slab.
    let mut counts = vec![(0u128, 0u128, 0u128); points.len()];
    for (at, cell) in columns.arrangement.cells.iter().enumerate() {
        for side in 0..3 {
            let (feet, heads) = (columns.feet[at], columns.heads[at]);
            let (other_feet, other_heads) = columns.across(at, side);
            // Slopes meet in edges of two faces by their nature; only upright walls are counted.
            let (here, there) = (feet & heads, other_feet & other_heads);
            let is_counted = cell.across[side].is_none_or(|other| (at as u32) < other);
            if (feet, heads) == (other_feet, other_heads) || !is_counted {
                continue;
            }
            let (a, b) = (cell.corners[side], cell.corners[(side + 1) % 3]);
            for corner in [a, b] {
                let (ones, twos, fours) = &mut counts[corner as usize];
                let carry = *ones & (here ^ there);
                *ones ^= here ^ there;
                *fours |= *twos & carry;
                *twos ^= carry;
            }
            // Solid below on one side only and above on the other side only.
            let below = (heads << 1, other_heads << 1);
            let levels = (below.0 & other_feet & !feet & !below.1)
                | (below.1 & feet & !other_feet & !below.0);
            if levels != 0 {
                let (a, b) = (points[a as usize], points[b as usize]);
                for level in (1..heights.len() - 1).filter(|level| levels & 1 << level != 0) {
                    let below = heights[level] - heights[level - 1];
                    let above = heights[level + 1] - heights[level];
                    let slab = if below <= above { level - 1 } else { level };
                    pinches.entry(1 << slab).or_default().push(strip(a, b));
                }
            }
        }
    }
    for (point, (_, _, slabs)) in points.iter().zip(counts) {
        if slabs != 0 {
            pinches.entry(slabs).or_default().push(strip(*point, *point));
        }
    }
    pinches
}

/// Adds the cuts to the sections as their last layers.
pub(super) fn part(sections: &mut Sections, pinches: Pinches) {
    for (slabs, contours) in pinches {
        let footprint = sections.footprints.len();
        sections.footprints.push(Region::resolve(&contours));
        for (i, slab) in sections.slabs.iter_mut().enumerate() {
            if slabs & 1 << i != 0 {
                slab.layers.push(Layer::upright(Act::Cuts, footprint));
            }
        }
    }
}

/// A narrow hexagon around an edge; around a single point, a lozenge.
fn strip(a: GridPoint, b: GridPoint) -> Vec<GridPoint> {
    let (dx, dy) = (f64::from(b.x) - f64::from(a.x), f64::from(b.y) - f64::from(a.y));
    let length = dx.hypot(dy);
    let width = f64::from(HALF_WIDTH);
    let (ux, uy) =
        if length > 0.0 { (width * dx / length, width * dy / length) } else { (width, 0.0) };
    let offset = |p: GridPoint, x: f64, y: f64| GridPoint::new(p.x + x as i32, p.y + y as i32);
    vec![
        offset(a, -ux, -uy),
        offset(a, uy, -ux),
        offset(b, uy, -ux),
        offset(b, ux, uy),
        offset(b, -uy, ux),
        offset(a, -uy, ux),
    ]
}
