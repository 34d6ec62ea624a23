//! Places where solids touch along a mere edge.
//!
//! Such an edge has four faces instead of two, which no printer can make and most programs refuse.
//! The material there is taken away over about two thousandths of a millimetre, far less than any
//! machine resolves and far more than the grid, and over more only where that leaves another touch.

use super::{Act, Colour, Layer, Mesh, Sections};
use crate::plane::{GridPoint, Region, from_grid, to_grid};
use std::collections::{BTreeMap, HashSet};

/// Half the width of a parting cut in the first round, in grid steps: about 1 µm. Where that leaves
/// another touch, as between edges that run together at a very small angle, it is twice as
/// wide in the next.
const HALF_WIDTH: i32 = 64;

/// How wide the cuts of a round are, in mm.
pub(super) fn width(round: usize) -> f64 {
    2.0 * from_grid(HALF_WIDTH << round)
}

/// Narrow strips by the slabs they concern (the first, and the one after the last), and what is done
/// there.
pub(super) type Pinches = BTreeMap<((usize, usize), Mend), Vec<Vec<GridPoint>>>;

/// How a touch is mended.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub(super) enum Mend {
    /// What is there is taken away.
    Cut,
    /// What is there takes the colour of another body that meets it.
    Paint(Colour),
}

/// All edges of a mesh that have not just two faces, as the cuts that part them.
///
/// `heights` are those of the sections in grid steps, one more than there are slabs. An edge that
/// rises concerns the slabs it rises through; of the two slabs that meet at a level edge the thinner
/// one is cut.
pub(super) fn find(mesh: &Mesh, heights: &[i32], round: usize) -> Pinches {
    let mut pinches = Pinches::new();
    for edge in faulty_edges(mesh) {
        let (slabs, strip) = strip_along(mesh, edge, heights, round);
        pinches.entry((slabs, Mend::Cut)).or_default().push(strip);
    }
    pinches
}

/// The edges at which a body touches itself where the whole does not, as strips that another body
/// takes over. The bodies share their vertices.
pub(super) fn between_colours(bodies: &[(Colour, Mesh)], heights: &[i32], round: usize) -> Pinches {
    let mut pinches = Pinches::new();
    let faults: Vec<Vec<u64>> = bodies.iter().map(|(_, body)| faulty_edges(body)).collect();
    if faults.iter().all(Vec::is_empty) {
        return pinches;
    }
    let edges: Vec<HashSet<u64>> = bodies.iter().map(|(_, body)| edges(body).collect()).collect();
    for (own, ((_, body), faults)) in bodies.iter().zip(faults).enumerate() {
        for edge in faults {
            let mut others = (0..bodies.len()).filter(|other| *other != own);
            let Some(other) = others.find(|other| edges[*other].contains(&edge)) else { continue };
            let (slabs, strip) = strip_along(body, edge, heights, round);
            pinches.entry((slabs, Mend::Paint(bodies[other].0))).or_default().push(strip);
        }
    }
    pinches
}

/// The undirected edges of a mesh, once for every triangle that has them.
fn edges(mesh: &Mesh) -> impl Iterator<Item = u64> {
    mesh.triangles
        .iter()
        .flat_map(|&[i, j, k]| [(i, j), (j, k), (k, i)])
        .map(|(a, b)| u64::from(a.min(b)) << 32 | u64::from(a.max(b)))
}

/// The edges that have not just two faces.
pub(super) fn faulty_edges(mesh: &Mesh) -> Vec<u64> {
    let mut edges: Vec<u64> = edges(mesh).collect();
    edges.sort_unstable();
    let uses = edges.chunk_by(|a, b| a == b);
    uses.filter(|uses| uses.len() != 2).map(|uses| uses[0]).collect()
}

/// The slabs an edge concerns, and a narrow strip along it.
fn strip_along(
    mesh: &Mesh,
    edge: u64,
    heights: &[i32],
    round: usize,
) -> ((usize, usize), Vec<GridPoint>) {
    let [a, b] =
        [(edge >> 32) as usize, edge as u32 as usize].map(|i| mesh.vertices[i].map(to_grid));
    let (low, high) = (a[2].min(b[2]), a[2].max(b[2]));
    let plan = [a, b].map(|[x, y, _]| GridPoint::new(x, y));
    let width = f64::from(HALF_WIDTH << round);
    (slabs_between(low, high, heights), strip(plan[0], plan[1], width))
}

/// The slabs an edge between two heights concerns: the first, and the one after the last.
fn slabs_between(low: i32, high: i32, heights: &[i32]) -> (usize, usize) {
    let slabs = heights.len().saturating_sub(1);
    if low < high {
        let first = heights[1..].partition_point(|top| *top <= low);
        return (first, heights[..slabs].partition_point(|bottom| *bottom < high));
    }
    let touched = |i: &usize| heights[*i] <= low && heights[i + 1] >= low;
    let thinnest = (0..slabs).filter(touched).min_by_key(|i| heights[i + 1] - heights[*i]);
    thinnest.map_or((0, 0), |i| (i, i + 1))
}

/// Adds the strips to the sections as their last layers.
pub(super) fn part(sections: &mut Sections, pinches: Pinches) {
    for ((slabs, mend), contours) in pinches {
        let (act, colour) = match mend {
            Mend::Cut => (Act::Cuts, 0),
            Mend::Paint(colour) => (Act::Paints, colour),
        };
        let footprint = sections.footprints.len();
        sections.footprints.push(Region::resolve_all(&contours));
        for slab in &mut sections.slabs[slabs.0..slabs.1] {
            slab.layers.push(Layer::upright(act, colour, footprint));
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
