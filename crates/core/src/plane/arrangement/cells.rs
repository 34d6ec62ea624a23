//! The triangles between the edges, and what covers each.

use super::edges::Edge;
use super::{Arrangement, ArrangementError, Cell, Covers, OutlineEdge};
use crate::halt::{heed, heed_at, heed_often, sort_heeding};
use crate::plane::GridPoint;
use spade::{ConstrainedDelaunayTriangulation, HasPosition, Point2, Triangulation};

/// Triangulates edges that meet only in end points, sorted by their ends.
pub(super) fn triangulate(
    edges: &[Edge],
    footprints: usize,
) -> Result<Arrangement, ArrangementError> {
    let mut points: Vec<GridPoint> = edges.iter().flat_map(|edge| [edge.a, edge.b]).collect();
    sort_heeding(&mut points);
    points.dedup();
    if points.len() < 3 {
        return Ok(Arrangement::default());
    }
    let mut covers = Covers::new(footprints);
    let bounds = Bounds::of(edges, &points, &mut covers);
    let constraints = bounds.edges.iter().map(|edge| edge.ends.map(|end| end as usize)).collect();
    let positions = points.iter().map(|p| Corner([p.x, p.y].map(f64::from))).collect();
    let mut conflict = false;
    let cdt = ConstrainedDelaunayTriangulation::<Corner>::try_bulk_load_cdt(
        positions,
        constraints,
        |_| conflict = true,
    )
    .map_err(|_| ArrangementError::Unresolved)?;
    if conflict || cdt.num_vertices() != points.len() {
        return Err(ArrangementError::Unresolved);
    }

    heed();
    let mut number = vec![u32::MAX; cdt.num_all_faces()];
    for (cell, face) in cdt.inner_faces().enumerate() {
        heed_at(cell);
        number[face.fix().index()] = cell as u32;
    }
    let mut cells: Vec<Cell> = Vec::with_capacity(cdt.num_inner_faces());
    // What each side of a cell bounds.
    let mut sides: Vec<[u32; 3]> = Vec::with_capacity(cdt.num_inner_faces());
    for (cell, face) in cdt.inner_faces().enumerate() {
        heed_at(cell);
        let edges = face.adjacent_edges();
        let across =
            edges.map(|edge| edge.rev().face().as_inner().map(|other| number[other.fix().index()]));
        let corners = edges.map(|edge| edge.from().fix().index() as u32);
        cells.push(Cell { corners, across, cover: 0 });
        sides.push(edges.map(|edge| {
            let ends = [edge.from().fix().index() as u32, edge.to().fix().index() as u32];
            if edge.is_constraint_edge() { bounds.between(ends) } else { 0 }
        }));
    }
    heed();
    spread_covers(&mut cells, &sides, &mut covers);
    let outlines = bounds.edges.into_iter().filter(|edge| edge.bounds != 0).collect();
    Ok(Arrangement { points, cells, covers, outlines })
}

/// A point to be triangulated. The library can be told nothing while it works, but it asks where its points are all the
/// time: there the work is left when it is stopped.
struct Corner([f64; 2]);

impl HasPosition for Corner {
    type Scalar = f64;

    fn position(&self) -> Point2<f64> {
        heed_often();
        let Corner([x, y]) = *self;
        Point2::new(x, y)
    }
}

/// The edges by the numbers of their ends, sorted.
struct Bounds {
    edges: Vec<OutlineEdge>,
    /// Where the edges of a point start, its being the smaller end.
    first: Vec<u32>,
}

impl Bounds {
    fn of(edges: &[Edge], points: &[GridPoint], covers: &mut Covers) -> Self {
        let number = |point: GridPoint| points.partition_point(|one| *one < point) as u32;
        let mut first = vec![0u32; points.len() + 1];
        let mut at = 0;
        let edges: Vec<OutlineEdge> = edges
            .iter()
            .enumerate()
            .map(|(place, edge)| {
                heed_at(place);
                // Both are sorted alike.
                while points[at] != edge.a {
                    at += 1;
                }
                first[at + 1] += 1;
                let ends = [at as u32, number(edge.b)];
                OutlineEdge { ends, bounds: covers.of(&edge.bounds) }
            })
            .collect();
        for point in 0..points.len() {
            first[point + 1] += first[point];
        }
        Bounds { edges, first }
    }

    /// What the edge between two points bounds.
    fn between(&self, [a, b]: [u32; 2]) -> u32 {
        let (low, high) = (a.min(b), a.max(b));
        let (from, to) = (self.first[low as usize], self.first[low as usize + 1]);
        let mut of_point = self.edges[from as usize..to as usize].iter();
        of_point.find(|edge| edge.ends[1] == high).map_or(0, |edge| edge.bounds)
    }
}

/// From outside the hull, where nothing covers, inwards: crossing an edge changes whether those
/// footprints cover that it bounds.
fn spread_covers(cells: &mut [Cell], sides: &[[u32; 3]], covers: &mut Covers) {
    let mut reached = vec![false; cells.len()];
    let mut queue = Vec::with_capacity(cells.len());
    for seed in 0..cells.len() {
        if let Some(side) = cells[seed].across.iter().position(Option::is_none)
            && !std::mem::replace(&mut reached[seed], true)
        {
            cells[seed].cover = sides[seed][side];
            queue.push(seed);
        }
    }
    while let Some(at) = queue.pop() {
        heed_at(at);
        let cell = cells[at];
        for (across, bounds) in cell.across.iter().zip(sides[at]) {
            let Some(other) = across.map(|other| other as usize) else { continue };
            if !std::mem::replace(&mut reached[other], true) {
                cells[other].cover = covers.apart(cell.cover, bounds);
                queue.push(other);
            }
        }
    }
}
