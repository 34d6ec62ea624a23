//! Places where solids touch along a mere edge.
//!
//! Such an edge has four faces instead of two, which no printer can make and most programs refuse.
//! The material there is taken away over about two thousandths of a millimetre: far less than any
//! machine resolves, and far more than the grid.

use super::{Act, Layer, Mesh, Sections};
use crate::plane::{GridPoint, Region, to_grid};
use std::collections::BTreeMap;

/// Half the width of a parting cut in the first round, in grid steps: about 1 µm. Where that leaves
/// another touch, as between edges that run together at a very small angle, it is twice as
/// wide in the next.
const HALF_WIDTH: i32 = 64;

/// Small cuts by the slabs they concern (a bit for each).
pub(super) type Pinches = BTreeMap<u128, Vec<Vec<GridPoint>>>;

/// All edges of a mesh that have not just two faces, as the cuts that part them.
///
/// `heights` are those of the sections in grid steps, one more than there are slabs. An edge that
/// rises concerns the slabs it rises through; of the two slabs that meet at a level edge the thinner
/// one is cut.
pub(super) fn find(mesh: &Mesh, heights: &[i32], round: usize) -> Pinches {
    let width = f64::from(HALF_WIDTH << round);
    let mut edges: Vec<u64> = mesh
        .triangles
        .iter()
        .flat_map(|&[i, j, k]| [(i, j), (j, k), (k, i)])
        .map(|(a, b)| u64::from(a.min(b)) << 32 | u64::from(a.max(b)))
        .collect();
    edges.sort_unstable();
    let mut pinches = Pinches::new();
    for edge in edges.chunk_by(|a, b| a == b).filter(|uses| uses.len() != 2).map(|uses| uses[0]) {
        let [a, b] =
            [(edge >> 32) as usize, edge as u32 as usize].map(|i| mesh.vertices[i].map(to_grid));
        let (low, high) = (a[2].min(b[2]), a[2].max(b[2]));
        let slabs = slabs_between(low, high, heights);
        let plan = [a, b].map(|[x, y, _]| GridPoint::new(x, y));
        pinches.entry(slabs).or_default().push(strip(plan[0], plan[1], width));
    }
    pinches
}

/// The slabs an edge between two heights concerns.
fn slabs_between(low: i32, high: i32, heights: &[i32]) -> u128 {
    if low < high {
        let crossed = |i: &usize| heights[*i] < high && heights[i + 1] > low;
        return (0..heights.len() - 1).filter(crossed).fold(0, |slabs, i| slabs | 1 << i);
    }
    let touched = |i: &usize| heights[*i] <= low && heights[i + 1] >= low;
    let thinnest =
        (0..heights.len() - 1).filter(touched).min_by_key(|i| heights[i + 1] - heights[*i]);
    thinnest.map_or(0, |i| 1 << i)
}

/// Adds the cuts to the sections as their last layers.
pub(super) fn part(sections: &mut Sections, pinches: Pinches) {
    for (slabs, contours) in pinches {
        let footprint = sections.footprints.len();
        sections.footprints.push(Region::resolve_all(&contours));
        for (i, slab) in sections.slabs.iter_mut().enumerate() {
            if slabs & 1 << i != 0 {
                slab.layers.push(Layer::upright(Act::Cuts, footprint));
            }
        }
    }
}

/// A narrow hexagon around an edge; around a single point, a lozenge.
fn strip(a: GridPoint, b: GridPoint, width: f64) -> Vec<GridPoint> {
    let (dx, dy) = (f64::from(b.x) - f64::from(a.x), f64::from(b.y) - f64::from(a.y));
    let length = dx.hypot(dy);
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
