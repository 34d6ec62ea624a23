//! The common subdivision of the plane by several footprints.
//!
//! All outlines that matter at any height are laid over each other once: their edges are split
//! where they meet, the pieces become the constraints of one Delaunay triangulation, and every
//! triangle learns which footprints cover it. Whatever is then built above and below shares these
//! vertices exactly, which is what makes a mesh of sections closed by construction.

mod cells;
mod covers;
mod edges;

pub use covers::Covers;
pub(super) use edges::meets_itself;

use super::{GridPoint, Region};
use edges::EdgeSet;
use thiserror::Error;

/// Why footprints could not be laid over each other.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum ArrangementError {
    /// Splitting did not settle; the outlines are finer than the grid.
    #[error("the outlines are too fine or too tangled to be resolved")]
    Unresolved,
}

/// A line that cuts cells without bounding anything: from one end to the other.
pub type Line = [GridPoint; 2];

/// One triangle of the subdivision: vertex indices, counter-clockwise.
#[derive(Debug, Clone, Copy)]
pub struct Cell {
    /// Indices into [`Arrangement::points`].
    pub corners: [u32; 3],
    /// The cell across the side from corner `i` to corner `i + 1`; `None` on the hull.
    pub across: [Option<u32>; 3],
    /// The footprints that cover the cell, by their number in [`Arrangement::covers`].
    pub cover: u32,
}

/// An edge of an outline, between two points.
#[derive(Debug, Clone, Copy)]
pub struct OutlineEdge {
    /// Indices into [`Arrangement::points`].
    pub ends: [u32; 2],
    /// The footprints it bounds, by their number in [`Arrangement::covers`].
    pub bounds: u32,
}

/// The plane within the hull of all footprints, cut into triangles none of which an outline or a
/// line crosses.
#[derive(Debug, Clone, Default)]
pub struct Arrangement {
    /// Vertices on the grid, each used once.
    pub points: Vec<GridPoint>,
    /// The triangles.
    pub cells: Vec<Cell>,
    /// The sets of footprints that cover a cell or have an edge in common.
    pub covers: Covers,
    /// The edges of the outlines.
    pub outlines: Vec<OutlineEdge>,
}

/// Outlines and lines laid over each other so that they meet only in their ends. More can be added: what was laid
/// before is not held against itself again.
#[derive(Debug, Clone, Default)]
pub struct Linework {
    edges: EdgeSet,
    footprints: usize,
}

impl Linework {
    /// Lays more footprints over those there are, numbered on, and lines over them all.
    ///
    /// # Errors
    /// Where edges cannot be resolved on the grid.
    pub fn add(&mut self, footprints: &[&Region], lines: &[Line]) -> Result<(), ArrangementError> {
        for footprint in footprints {
            self.edges.add_outline(self.footprints, footprint);
            self.footprints += 1;
        }
        lines.iter().for_each(|line| self.edges.add_line(*line));
        self.edges.resolve()
    }

    /// How many footprints it has.
    pub fn footprints(&self) -> usize {
        self.footprints
    }

    /// The plane cut along it.
    ///
    /// # Errors
    /// Where edges cannot be resolved on the grid.
    pub fn arrangement(&self) -> Result<Arrangement, ArrangementError> {
        cells::triangulate(&self.edges.edges(), self.footprints)
    }
}

impl Arrangement {
    /// Lays the footprints over each other, and lines over them all.
    ///
    /// # Errors
    /// Where edges cannot be resolved on the grid.
    pub fn of(footprints: &[&Region], lines: &[Line]) -> Result<Self, ArrangementError> {
        let mut linework = Linework::default();
        linework.add(footprints, lines)?;
        linework.arrangement()
    }
}

/// The inside of what some edges bound as triangles between their ends, counter-clockwise and as little
/// elongated as they can be. `None` where edges meet other than in their ends.
pub fn triangles_within(sides: &[Line]) -> Option<Vec<[GridPoint; 3]>> {
    let mut edges = EdgeSet::default();
    sides.iter().for_each(|side| edges.add_side(0, *side));
    let Arrangement { points, cells, covers, .. } =
        cells::triangulate(&edges.unsplit()?, 1).ok()?;
    let inside = cells.into_iter().filter(|cell| covers.has(cell.cover, 0));
    Some(inside.map(|cell| cell.corners.map(|corner| points[corner as usize])).collect())
}

#[cfg(test)]
mod tests {
    use super::edges::turn;
    use super::*;
    use crate::plane::{Rect, Tolerance, circle, rounded_rectangle};
    use proptest::prelude::*;

    fn covered_area(
        arrangement: &Arrangement,
        accept: impl Fn(&dyn Fn(usize) -> bool) -> bool,
    ) -> f64 {
        let doubled: i128 = arrangement
            .cells
            .iter()
            .filter(|cell| accept(&|footprint| arrangement.covers.has(cell.cover, footprint)))
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
        let arrangement = Arrangement::of(&[&a, &b, &c], &[]).unwrap();
        assert_eq!(covered_area(&arrangement, |has| has(0)), 100.0);
        assert_eq!(covered_area(&arrangement, |has| !has(0) && has(1) && !has(2)), 60.0);
        assert_eq!(covered_area(&arrangement, |has| has(0) && !has(1) && has(2)), 50.0);
    }

    /// A sheaf of lines that nearly lie on each other, each crossing all others within a few steps: the
    /// crossings of rounded pieces used to go on one after the other, for dozens of rounds.
    #[test]
    fn lines_that_nearly_lie_on_each_other_settle() {
        let lines: Vec<Line> = (0..60)
            .map(|i| {
                let (left, right) = (7 * i % 61 - 30, 23 * i % 59 - 29);
                [GridPoint::new(i, left), GridPoint::new(2_000_000 - 3 * i, 1_000 + right)]
            })
            .collect();
        let frame = rounded_rectangle(
            Rect { x0: -2.0, y0: -2.0, x1: 40.0, y1: 2.0 },
            0.0,
            Tolerance::Normal,
        );
        let arrangement = Arrangement::of(&[&frame], &lines).unwrap();
        assert_eq!(covered_area(&arrangement, |has| has(0)), 168.0);
        assert!(arrangement.points.len() < 4_000, "{}", arrangement.points.len());
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
            let arrangement = Arrangement::of(&footprints, &[]).unwrap();
            // Laid one after the other they come to the same.
            let mut linework = Linework::default();
            footprints.iter().for_each(|footprint| linework.add(&[footprint], &[]).unwrap());
            let in_turn = linework.arrangement().unwrap();
            for (bit, region) in regions.iter().enumerate() {
                for arrangement in [&arrangement, &in_turn] {
                    let area = covered_area(arrangement, |has| has(bit));
                    prop_assert!((area - region.area()).abs() < 1e-3);
                }
            }
            let rest = regions[1..].iter().fold(Region::default(), |sum, r| sum.union(r));
            let cut = covered_area(&arrangement, |has| has(0) && (1..regions.len()).all(|other| !has(other)));
            prop_assert!((cut - regions[0].difference(&rest).area()).abs() < 1e-3);
        }
    }
}
