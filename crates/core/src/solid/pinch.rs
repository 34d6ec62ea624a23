//! Places where solids touch along a mere edge.
//!
//! Such an edge has four faces instead of two, which no printer can make and most programs refuse.
//! The material there is taken away over about two thousandths of a millimetre, far less than any
//! machine resolves and far more than the grid, and over more only where that leaves another touch.

use super::buckets::Buckets;
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

/// A mesh with the edges at which it touches itself.
pub(super) struct Pinched {
    pub mesh: Mesh,
    /// Those that have not just two faces, in order.
    faulty: Vec<u64>,
}

impl Pinched {
    pub fn of(mesh: Mesh) -> Self {
        let faulty = faulty_edges(&mesh);
        Pinched { mesh, faulty }
    }
}

/// All edges of a mesh that have not just two faces, as the cuts that part them.
///
/// `heights` are those of the sections in grid steps, one more than there are slabs. An edge that
/// rises concerns the slabs it rises through; of the two slabs that meet at a level edge the thinner
/// one is cut.
pub(super) fn find(whole: &Pinched, heights: &[i32], round: usize) -> Pinches {
    let mut pinches = Pinches::new();
    for edge in &whole.faulty {
        let (slabs, strip) = strip_along(&whole.mesh, *edge, heights, round);
        pinches.entry((slabs, Mend::Cut)).or_default().push(strip);
    }
    pinches
}

/// The edges at which a body touches itself where the whole does not, as strips that another body
/// takes over. The bodies share their vertices.
pub(super) fn between_colours(
    bodies: &[(Colour, Pinched)],
    heights: &[i32],
    round: usize,
) -> Pinches {
    let mut pinches = Pinches::new();
    if bodies.iter().all(|(_, body)| body.faulty.is_empty()) {
        return pinches;
    }
    let edges: Vec<HashSet<u64>> =
        bodies.iter().map(|(_, body)| edges(&body.mesh).map(packed).collect()).collect();
    for (own, (_, body)) in bodies.iter().enumerate() {
        for edge in &body.faulty {
            let mut others = (0..bodies.len()).filter(|other| *other != own);
            let Some(other) = others.find(|other| edges[*other].contains(edge)) else { continue };
            let (slabs, strip) = strip_along(&body.mesh, *edge, heights, round);
            pinches.entry((slabs, Mend::Paint(bodies[other].0))).or_default().push(strip);
        }
    }
    pinches
}

/// The undirected edges of a mesh, once for every triangle that has them, the lower vertex first.
fn edges(mesh: &Mesh) -> impl Iterator<Item = (u32, u32)> + Clone {
    let of_triangle = |&[i, j, k]: &[u32; 3]| [(i, j), (j, k), (k, i)];
    let edges = mesh.triangles.iter().flat_map(of_triangle);
    edges.map(|(a, b)| (a.min(b), a.max(b)))
}

fn packed((a, b): (u32, u32)) -> u64 {
    u64::from(a) << 32 | u64::from(b)
}

/// The edges that have not just two faces, in order.
pub(super) fn faulty_edges(mesh: &Mesh) -> Vec<u64> {
    let by_vertex = Buckets::of(mesh.vertices.len(), edges(mesh));
    let faulty = by_vertex.iter().flat_map(|(a, others)| {
        let uses = others.chunk_by(|a, b| a == b).filter(|uses| uses.len() != 2);
        uses.map(move |uses| packed((a, uses[0])))
    });
    faulty.collect()
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
