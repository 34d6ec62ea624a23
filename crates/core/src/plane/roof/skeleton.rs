//! The Voronoi diagram of an outline, on the side that is worked on.

use crate::halt::{guarded, heed};
use crate::plane::arrangement::meets_itself;
use crate::plane::{GridPoint, Region, Side};
use boostvoronoi::prelude::*;

/// What a cell belongs to. Coordinates in grid steps.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) enum Site {
    /// An edge of the outline, the side worked on lying left of it.
    Edge((f64, f64), (f64, f64)),
    /// A corner.
    Corner((f64, f64)),
    /// Part of the frame around everything, which bounds nothing.
    Frame,
}

/// A point where at least three cells meet, or a corner of the outline.
#[derive(Debug, Clone, Copy)]
pub(super) struct Node {
    pub at: (f64, f64),
    /// Its distance from the outline.
    pub distance: f64,
}

/// Where two cells meet.
#[derive(Debug, Clone, Copy)]
pub(super) struct Seam {
    pub ends: [u32; 2],
    /// The cells on its left and right.
    pub cells: [u32; 2],
    /// Whether it runs between an edge and that edge's own end.
    pub is_own_end: bool,
}

/// The boundary of a cell, counter-clockwise: seams, and whether each is run backwards.
#[derive(Debug, Clone)]
pub(super) struct Cell {
    pub site: Site,
    pub seams: Vec<(u32, bool)>,
}

/// What of the plane on one side of an outline is nearest to which edge or corner of it.
#[derive(Debug, Clone)]
pub struct Skeleton {
    pub(super) nodes: Vec<Node>,
    pub(super) seams: Vec<Seam>,
    pub(super) cells: Vec<Cell>,
    pub(super) side: Side,
}

/// A directed edge, the side worked on lying left of it.
type Directed = (GridPoint, GridPoint);

impl Skeleton {
    /// The skeleton of an outline as far as `most` grid steps from it; `None` where there is none, as of
    /// one that meets itself other than in corners, which the library's diagram is not defined for: it
    /// would come out wrong, and not the same every time.
    pub fn of(outline: &Region, side: Side, most: f64) -> Option<Self> {
        let mut edges: Vec<Directed> = Vec::with_capacity(outline.vertex_count());
        for contour in outline.contours() {
            for (&a, &b) in contour.iter().zip(contour.iter().cycle().skip(1)) {
                if a != b {
                    edges.push(if side == Side::Inside { (a, b) } else { (b, a) });
                }
            }
        }
        if edges.is_empty() || meets_itself(outline) {
            return None;
        }
        heed();
        let own = edges.len();
        if side == Side::Outside {
            edges.extend(frame(&edges, most));
        }
        let lines = edges.iter().map(|(a, b)| [a.x, a.y, b.x, b.y]);
        let lines: Vec<[i32; 4]> = lines.collect();
        // The library may give up by a panic where circles and lines meet all but exactly.
        let diagram =
            guarded(|| Builder::<i32>::default().with_segments(lines.iter()).ok()?.build().ok());
        let diagram = diagram??;
        let is_real = |vertex: &Vertex| vertex.x().is_finite() && vertex.y().is_finite();
        if !diagram.vertices().iter().all(is_real) {
            return None;
        }
        Skeleton::read(&diagram, &edges, own, outline, side)
    }

    fn read(
        diagram: &Diagram,
        edges: &[Directed],
        own: usize,
        outline: &Region,
        side: Side,
    ) -> Option<Self> {
        let sites = sites_of(diagram, edges, own);
        let nodes = nodes_of(diagram, &sites)?;
        // Every pair of half-edges once; the half-edges of a cell run around it counter-clockwise.
        let mut seams: Vec<Seam> = Vec::new();
        let mut of_edge = vec![None; diagram.edges().len()];
        for edge in diagram.edges() {
            heed();
            let twin = edge.twin().ok()?;
            if edge.id().usize() > twin.usize() {
                continue;
            }
            let twin = diagram.edge(twin).ok()?;
            let (Some(v0), Some(v1)) = (edge.vertex0(), twin.vertex0()) else { continue };
            let ends = [v0.usize() as u32, v1.usize() as u32];
            let cells = [edge.cell().ok()?, twin.cell().ok()?].map(|cell| cell.usize());
            let of_sites = cells.map(|cell| sites[cell]);
            if of_sites.contains(&Site::Frame) {
                continue;
            }
            if !is_on_side(of_sites, ends.map(|end| nodes[end as usize]), outline, side) {
                continue;
            }
            if !ends.iter().all(|end| is_between(of_sites, nodes[*end as usize])) {
                return None;
            }
            let number = seams.len() as u32;
            of_edge[edge.id().usize()] = Some((number, false));
            of_edge[twin.id().usize()] = Some((number, true));
            seams.push(Seam {
                ends,
                cells: cells.map(|cell| cell as u32),
                is_own_end: edge.is_secondary(),
            });
        }

        let mut cells = Vec::with_capacity(sites.len());
        for (cell, site) in diagram.cells().iter().zip(&sites) {
            let mut around = Vec::new();
            if *site != Site::Frame && !cell.is_degenerate() {
                let edges = diagram.cell_edge_iterator(cell.id());
                around.extend(edges.filter_map(|edge| of_edge[edge.usize()]));
            }
            cells.push(Cell { site: *site, seams: around });
        }
        Some(Skeleton { nodes, seams, cells, side })
    }

    /// About how many bytes it takes.
    pub fn bytes(&self) -> usize {
        let around: usize = self.cells.iter().map(|cell| 8 * cell.seams.len()).sum();
        24 * self.nodes.len() + 20 * self.seams.len() + 64 * self.cells.len() + around
    }
}

/// What every cell belongs to; edges after the first `own` are the frame.
fn sites_of(diagram: &Diagram, edges: &[Directed], own: usize) -> Vec<Site> {
    let steps = |p: GridPoint| (f64::from(p.x), f64::from(p.y));
    let site = |cell: &boostvoronoi::prelude::Cell| {
        let (index, category) = cell.source_index_2();
        let Some((a, b)) = edges[..own].get(index.usize()) else { return Site::Frame };
        match category {
            SourceCategory::SegmentStart => Site::Corner(steps(*a)),
            SourceCategory::SegmentEnd => Site::Corner(steps(*b)),
            _ => Site::Edge(steps(*a), steps(*b)),
        }
    };
    diagram.cells().iter().map(site).collect()
}

/// The points where cells meet, with their distances from what the cells belong to.
fn nodes_of(diagram: &Diagram, sites: &[Site]) -> Option<Vec<Node>> {
    let node = |vertex: &Vertex| Node { at: (vertex.x(), vertex.y()), distance: 0.0 };
    let mut nodes: Vec<Node> = diagram.vertices().iter().map(node).collect();
    for edge in diagram.edges() {
        let Some(vertex) = edge.vertex0() else { continue };
        let site = sites[edge.cell().ok()?.usize()];
        let is_corner = diagram.vertices()[vertex.usize()].is_site_point();
        if !is_corner && site != Site::Frame {
            let node = &mut nodes[vertex.usize()];
            node.distance = distance_to(site, node.at);
        }
    }
    Some(nodes)
}

/// A frame so far around some edges that nothing within reach is nearer to it than to them.
fn frame(edges: &[Directed], most: f64) -> [Directed; 4] {
    let room = (4.0 * most) as i32 + 65536;
    let ends = || edges.iter().flat_map(|(a, b)| [*a, *b]);
    let [left, right] = [ends().map(|p| p.x).min(), ends().map(|p| p.x).max()];
    let [bottom, top] = [ends().map(|p| p.y).min(), ends().map(|p| p.y).max()];
    let [left, bottom] = [left, bottom].map(|low| low.unwrap_or(0) - room);
    let [right, top] = [right, top].map(|high| high.unwrap_or(0) + room);
    let corners = [(left, bottom), (right, bottom), (right, top), (left, top)];
    let corners = corners.map(|(x, y)| GridPoint::new(x, y));
    [0, 1, 2, 3].map(|i| (corners[i], corners[(i + 1) % 4]))
}

/// The distance of a point from what its cell belongs to.
pub(super) fn distance_to(site: Site, (x, y): (f64, f64)) -> f64 {
    match site {
        Site::Edge(a, b) => height_over(a, b, (x, y)).abs(),
        Site::Corner(corner) => (x - corner.0).hypot(y - corner.1),
        Site::Frame => f64::INFINITY,
    }
}

/// Whether a node is as far from one cell's site as from the other's, but for rounding.
fn is_between(sites: [Site; 2], node: Node) -> bool {
    let [one, other] = sites.map(|site| distance_to(site, node.at));
    (one - other).abs() <= 1.0 + 1e-6 * one
}

/// How far a point lies left of the line from `a` to `b`.
pub(super) fn height_over(a: (f64, f64), b: (f64, f64), p: (f64, f64)) -> f64 {
    let (ex, ey) = (b.0 - a.0, b.1 - a.1);
    (ex * (p.1 - a.1) - ey * (p.0 - a.0)) / ex.hypot(ey)
}

/// Whether a seam runs on the side that is worked on.
fn is_on_side(sites: [Site; 2], ends: [Node; 2], outline: &Region, side: Side) -> bool {
    let far = if ends[0].distance >= ends[1].distance { ends[0] } else { ends[1] };
    if far.distance <= 0.0 {
        return false;
    }
    for site in sites {
        if let Site::Edge(a, b) = site {
            return height_over(a, b, far.at) > 0.0;
        }
    }
    let steps = crate::plane::GRID_PER_MM;
    outline.contains((far.at.0 / steps, far.at.1 / steps)) == (side == Side::Inside)
}
