//! The common subdivision of the plane by several footprints.
//!
//! All outlines that matter at any height are laid over each other once: their edges are split
//! where they meet, the pieces become the constraints of one Delaunay triangulation, and every
//! triangle learns which footprints cover it. Whatever is then built above and below shares these
//! vertices exactly, which is what makes a mesh of sections closed by construction.

use super::{Cover, GridPoint, Region};
use spade::{ConstrainedDelaunayTriangulation, Point2, Triangulation};
use std::collections::HashMap;
use thiserror::Error;

/// Why footprints could not be laid over each other.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum ArrangementError {
    /// More footprints than there are bits in a cover.
    #[error("a component can have at most {max} outlines at once, and this one has {found}")]
    TooManyFootprints {
        /// Outlines found.
        found: usize,
        /// Outlines allowed.
        max: usize,
    },
    /// Splitting did not settle; the outlines are finer than the grid.
    #[error("the outlines are too fine or too tangled to be resolved")]
    Unresolved,
}

/// One triangle of the subdivision: vertex indices, counter-clockwise.
#[derive(Debug, Clone, Copy)]
pub struct Cell {
    /// Indices into [`Arrangement::points`].
    pub corners: [u32; 3],
    /// The cell across the side from corner `i` to corner `i + 1`; `None` on the hull.
    pub across: [Option<u32>; 3],
    /// The footprints that cover the cell.
    pub cover: Cover,
}

/// The plane within the hull of all footprints, cut into triangles none of which an outline
/// crosses.
#[derive(Debug, Clone, Default)]
pub struct Arrangement {
    /// Vertices on the grid, each used once.
    pub points: Vec<GridPoint>,
    /// The triangles.
    pub cells: Vec<Cell>,
}

impl Arrangement {
    /// Lays the footprints over each other. The order of the footprints is the order of the bits
    /// in [`Cell::cover`].
    ///
    /// # Errors
    /// With more than [`Cover::CAPACITY`] footprints, or where edges cannot be resolved on the grid.
    pub fn of(footprints: &[&Region]) -> Result<Self, ArrangementError> {
        let (found, max) = (footprints.len(), Cover::CAPACITY);
        if found > max {
            return Err(ArrangementError::TooManyFootprints { found, max });
        }
        let mut edges = EdgeSet::default();
        for (bit, footprint) in footprints.iter().enumerate() {
            for contour in footprint.contours() {
                for (&a, &b) in contour.iter().zip(contour.iter().cycle().skip(1)) {
                    edges.toggle(a, b, Cover::only(bit));
                }
            }
        }
        edges.resolve()?;
        triangulate(&edges)
    }
}

/// Undirected edges with the footprints whose boundary they are part of. An edge that bounds one
/// footprint twice does not bound it at all, so masks are combined by exclusive or.
#[derive(Default)]
struct EdgeSet {
    masks: HashMap<(GridPoint, GridPoint), Cover>,
}

impl EdgeSet {
    fn toggle(&mut self, a: GridPoint, b: GridPoint, mask: Cover) {
        if a != b {
            let key = if a < b { (a, b) } else { (b, a) };
            *self.masks.entry(key).or_default() ^= mask;
        }
    }

    /// Splits edges until they meet only in end points. Rounding a crossing to the grid moves the
    /// pieces by less than a step, which can make new crossings; a few rounds settle them.
    fn resolve(&mut self) -> Result<(), ArrangementError> {
        const ROUNDS: usize = 24;
        for _ in 0..ROUNDS {
            self.masks.retain(|_, mask| !mask.is_empty());
            let mut edges: Vec<_> = self.masks.keys().copied().collect();
            edges.sort_unstable();
            let cuts = crossings(&edges);
            if cuts.is_empty() {
                return Ok(());
            }
            for (edge, mut points) in cuts {
                let (a, b) = edges[edge];
                let Some(mask) = self.masks.remove(&(a, b)) else {
                    continue;
                };
                points.sort_unstable_by_key(|p| distance_squared(a, *p));
                let mut from = a;
                for point in points.into_iter().chain([b]) {
                    self.toggle(from, point, mask);
                    from = point;
                }
            }
        }
        Err(ArrangementError::Unresolved)
    }
}

fn distance_squared(a: GridPoint, b: GridPoint) -> i64 {
    let (dx, dy) = (i64::from(b.x) - i64::from(a.x), i64::from(b.y) - i64::from(a.y));
    dx * dx + dy * dy
}

/// Twice the signed area of a triangle: positive where `c` lies left of the line from `a` to `b`.
fn turn(a: GridPoint, b: GridPoint, c: GridPoint) -> i64 {
    let (ax, ay) = (i64::from(a.x), i64::from(a.y));
    (i64::from(b.x) - ax) * (i64::from(c.y) - ay) - (i64::from(b.y) - ay) * (i64::from(c.x) - ax)
}

/// The points at which each edge must be cut, by edge index.
fn crossings(edges: &[(GridPoint, GridPoint)]) -> HashMap<usize, Vec<GridPoint>> {
    let mut cuts: HashMap<usize, Vec<GridPoint>> = HashMap::new();
    for (i, j) in neighbouring_pairs(edges) {
        let ((a, b), (c, d)) = (edges[i], edges[j]);
        let (c_side, d_side) = (turn(a, b, c).signum(), turn(a, b, d).signum());
        if c_side == d_side && c_side != 0 {
            continue;
        }
        let (a_side, b_side) = (turn(c, d, a).signum(), turn(c, d, b).signum());
        if a_side == b_side && a_side != 0 {
            continue;
        }
        let mut cut = |edge: usize, point: GridPoint| {
            let (from, to) = edges[edge];
            if point != from && point != to {
                cuts.entry(edge).or_default().push(point);
            }
        };
        if c_side * d_side < 0 && a_side * b_side < 0 {
            let point = crossing_point(a, b, c, d);
            cut(i, point);
            cut(j, point);
            continue;
        }
        for (edge, side, point) in [(i, c_side, c), (i, d_side, d), (j, a_side, a), (j, b_side, b)]
        {
            if side == 0 && within(edges[edge], point) {
                cut(edge, point);
            }
        }
    }
    cuts
}

/// Whether a point that is collinear with an edge lies between its ends.
fn within((a, b): (GridPoint, GridPoint), p: GridPoint) -> bool {
    let between = |low: i32, high: i32, v: i32| (low.min(high)..=low.max(high)).contains(&v);
    between(a.x, b.x, p.x) && between(a.y, b.y, p.y)
}

/// Where two edges that properly cross do so, rounded to the grid.
fn crossing_point(a: GridPoint, b: GridPoint, c: GridPoint, d: GridPoint) -> GridPoint {
    let near = i128::from(turn(c, d, a)).abs();
    let far = i128::from(turn(c, d, b)).abs();
    let along = |from: i32, to: i32| {
        let step = i128::from(to) - i128::from(from);
        let (numerator, denominator) = (2 * step * near + near + far, 2 * (near + far));
        (i128::from(from) + numerator.div_euclid(denominator)) as i32
    };
    GridPoint::new(along(a.x, b.x), along(a.y, b.y))
}

/// Pairs of edges whose boxes meet, found on a coarse lattice so that the cost grows with the
/// number of edges and not with its square.
fn neighbouring_pairs(edges: &[(GridPoint, GridPoint)]) -> Vec<(usize, usize)> {
    let Some(extent) = extent(edges) else {
        return Vec::new();
    };
    let side = ((edges.len() as f64).sqrt().ceil() as i64).clamp(1, 1024);
    let pitch = (extent.size / side + 1).max(1);
    let lattice =
        |p: GridPoint| ((i64::from(p.x) - extent.x) / pitch, (i64::from(p.y) - extent.y) / pitch);

    let mut buckets: HashMap<(i64, i64), Vec<u32>> = HashMap::with_capacity(edges.len());
    for (index, &(a, b)) in edges.iter().enumerate() {
        let ((ax, ay), (bx, by)) = (lattice(a), lattice(b));
        for column in ax.min(bx)..=ax.max(bx) {
            for row in ay.min(by)..=ay.max(by) {
                buckets.entry((column, row)).or_default().push(index as u32);
            }
        }
    }
    let mut pairs = Vec::new();
    for (place, bucket) in &buckets {
        for (k, &i) in bucket.iter().enumerate() {
            let (a, b) = edges[i as usize];
            for &j in &bucket[k + 1..] {
                let (c, d) = edges[j as usize];
                let low =
                    GridPoint::new(a.x.min(b.x).max(c.x.min(d.x)), a.y.min(b.y).max(c.y.min(d.y)));
                let high =
                    GridPoint::new(a.x.max(b.x).min(c.x.max(d.x)), a.y.max(b.y).min(c.y.max(d.y)));
                // A pair that shares several buckets is tested in the one that holds the low
                // corner of what their boxes have in common.
                if low.x <= high.x && low.y <= high.y && lattice(low) == *place {
                    pairs.push((i as usize, j as usize));
                }
            }
        }
    }
    pairs
}

struct Extent {
    x: i64,
    y: i64,
    size: i64,
}

fn extent(edges: &[(GridPoint, GridPoint)]) -> Option<Extent> {
    let points = || edges.iter().flat_map(|&(a, b)| [a, b]);
    let (x, right) = (points().map(|p| p.x).min()?, points().map(|p| p.x).max()?);
    let (y, top) = (points().map(|p| p.y).min()?, points().map(|p| p.y).max()?);
    let size = (i64::from(right) - i64::from(x)).max(i64::from(top) - i64::from(y));
    Some(Extent { x: i64::from(x), y: i64::from(y), size })
}

fn triangulate(edges: &EdgeSet) -> Result<Arrangement, ArrangementError> {
    let mut points: Vec<GridPoint> = edges.masks.keys().flat_map(|&(a, b)| [a, b]).collect();
    points.sort_unstable();
    points.dedup();
    if points.len() < 3 {
        return Ok(Arrangement::default());
    }
    let index: HashMap<GridPoint, usize> =
        points.iter().enumerate().map(|(i, p)| (*p, i)).collect();
    let mut constraints: Vec<[usize; 2]> =
        edges.masks.keys().map(|(a, b)| [index[a], index[b]]).collect();
    constraints.sort_unstable();
    let positions = points.iter().map(|p| Point2::new(f64::from(p.x), f64::from(p.y))).collect();
    let mut conflict = false;
    let cdt = ConstrainedDelaunayTriangulation::<Point2<f64>>::try_bulk_load_cdt(
        positions,
        constraints,
        |_| conflict = true,
    )
    .map_err(|_| ArrangementError::Unresolved)?;
    if conflict || cdt.num_vertices() != points.len() {
        return Err(ArrangementError::Unresolved);
    }

    let mut cells: Vec<Cell> = Vec::with_capacity(cdt.num_inner_faces());
    let mut number = vec![u32::MAX; cdt.num_all_faces()];
    let mut seeds = Vec::new();
    for (cell, face) in cdt.inner_faces().enumerate() {
        number[face.fix().index()] = cell as u32;
    }
    for face in cdt.inner_faces() {
        let sides = face.adjacent_edges();
        let across =
            sides.map(|side| side.rev().face().as_inner().map(|other| number[other.fix().index()]));
        let corners = sides.map(|side| side.from().fix().index() as u32);
        seeds.extend(across.contains(&None).then_some(cells.len() as u32));
        cells.push(Cell { corners, across, cover: Cover::default() });
    }

    // From outside the hull, where nothing covers, inwards: crossing an edge toggles the
    // footprints it bounds.
    let mask_between = |a: u32, b: u32| {
        let (a, b) = (points[a as usize], points[b as usize]);
        let key = if a < b { (a, b) } else { (b, a) };
        edges.masks.get(&key).copied().unwrap_or_default()
    };
    let mut reached = vec![false; cells.len()];
    let mut queue = Vec::with_capacity(cells.len());
    for seed in seeds {
        let cell = &mut cells[seed as usize];
        if let Some(side) = cell.across.iter().position(Option::is_none)
            && !std::mem::replace(&mut reached[seed as usize], true)
        {
            cell.cover = mask_between(cell.corners[side], cell.corners[(side + 1) % 3]);
            queue.push(seed);
        }
    }
    while let Some(at) = queue.pop() {
        let cell = cells[at as usize];
        for side in 0..3 {
            let Some(other) = cell.across[side] else {
                continue;
            };
            if !std::mem::replace(&mut reached[other as usize], true) {
                let mask = mask_between(cell.corners[side], cell.corners[(side + 1) % 3]);
                cells[other as usize].cover = cell.cover ^ mask;
                queue.push(other);
            }
        }
    }
    Ok(Arrangement { points, cells })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plane::{Rect, Tolerance, circle, rounded_rectangle};
    use proptest::prelude::*;

    fn covered_area(arrangement: &Arrangement, accept: impl Fn(Cover) -> bool) -> f64 {
        let doubled: i128 = arrangement
            .cells
            .iter()
            .filter(|cell| accept(cell.cover))
            .map(|cell| {
                let [a, b, c] = cell.corners.map(|i| arrangement.points[i as usize]);
                i128::from(turn(a, b, c))
            })
            .sum();
        doubled as f64 / (2.0 * 65536.0 * 65536.0)
    }

    #[test]
    fn shared_and_half_shared_edges_are_no_trouble() {
        let rect =
            |x0, y0, x1, y1| rounded_rectangle(Rect { x0, y0, x1, y1 }, 0.0, Tolerance::Normal);
        let (a, b, c) = (rect(0., 0., 10., 10.), rect(10., 2., 20., 8.), rect(0., 0., 10., 5.));
        let arrangement = Arrangement::of(&[&a, &b, &c]).unwrap();
        assert_eq!(covered_area(&arrangement, |cover| cover.has(0)), 100.0);
        assert_eq!(covered_area(&arrangement, |cover| cover == Cover::only(1)), 60.0);
        assert_eq!(
            covered_area(&arrangement, |cover| cover == Cover::only(0) ^ Cover::only(2)),
            50.0
        );
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(64))]
        #[test]
        fn every_footprint_keeps_its_area_and_booleans_agree_with_the_overlay(
            circles in prop::collection::vec((-9.0..9f64, -9.0..9f64, 0.2..9f64), 1..6)
        ) {
            let regions: Vec<Region> =
                circles.iter().map(|&(x, y, r)| circle((x, y), r, Tolerance::Draft)).collect();
            let footprints: Vec<&Region> = regions.iter().collect();
            let arrangement = Arrangement::of(&footprints).unwrap();
            for (bit, region) in regions.iter().enumerate() {
                let area = covered_area(&arrangement, |cover| cover.has(bit));
                prop_assert!((area - region.area()).abs() < 1e-3);
            }
            let rest = regions[1..].iter().fold(Region::default(), |sum, r| sum.union(r));
            let cut = covered_area(&arrangement, |cover| cover == Cover::only(0));
            prop_assert!((cut - regions[0].difference(&rest).area()).abs() < 1e-3);
        }
    }
}
