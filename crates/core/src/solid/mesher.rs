//! From sections to a closed mesh.
//!
//! All footprints are laid over each other once ([`Arrangement`]). Every cell of that subdivision
//! then carries a column: a bit for each slab that is solid there. The mesh is the boundary of
//! all solid prisms: a face wherever a column starts or stops, a wall wherever two neighbouring
//! columns differ. The boundary of a set of cells is closed whatever the cells are, so the mesh is
//! watertight by construction and its volume is the sum of its prisms.

use super::{Mesh, Sections, pinch};
use crate::plane::{Arrangement, ArrangementError, Region, from_grid, to_grid};
use std::collections::HashMap;
use thiserror::Error;

/// Why sections could not be meshed.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum MeshError {
    /// The outlines could not be laid over each other.
    #[error(transparent)]
    Arrangement(#[from] ArrangementError),
    /// More heights than a column has bits.
    #[error("a component can have at most 127 heights at once, and this one has {0}")]
    TooManySlabs(usize),
}

/// The solid columns above every cell of an arrangement: bit `i` stands for slab `i`.
pub(super) struct Columns {
    pub(super) arrangement: Arrangement,
    pub(super) bits: Vec<u128>,
}

impl Columns {
    fn of(sections: &Sections) -> Result<Self, ArrangementError> {
        let footprints: Vec<&Region> = sections.footprints.iter().collect();
        let arrangement = Arrangement::of(&footprints)?;
        let mut known: HashMap<u128, u128> = HashMap::new();
        let column = |cover: u128| {
            let slabs = sections.slabs.iter().enumerate();
            slabs.fold(0, |bits, (i, slab)| bits | u128::from(slab.is_solid(cover)) << i)
        };
        let bits = arrangement
            .cells
            .iter()
            .map(|cell| *known.entry(cell.cover).or_insert_with(|| column(cell.cover)))
            .collect();
        Ok(Columns { arrangement, bits })
    }

    /// The column across a side of a cell; nothing lies beyond the hull.
    pub(super) fn across(&self, cell: usize, side: usize) -> u128 {
        self.arrangement.cells[cell].across[side].map_or(0, |other| self.bits[other as usize])
    }
}

/// A meshed component.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Meshed {
    /// The closed mesh.
    pub mesh: Mesh,
    /// Places where solids touched along a mere edge and were parted by 2 µm.
    pub partings: usize,
}

/// Meshes sections. The result is closed and consistently turned outwards; where solids would
/// touch along a mere edge they are parted by a few thousandths of a millimetre, so that every
/// edge has exactly two faces.
///
/// # Errors
/// [`MeshError`] where there are more outlines or heights than can be handled at once.
pub fn mesh(sections: &Sections) -> Result<Meshed, MeshError> {
    const ROUNDS: usize = 3;
    if sections.slabs.len() > 127 {
        return Err(MeshError::TooManySlabs(sections.slabs.len()));
    }
    let heights = sections.heights();
    let mut columns = Columns::of(sections)?;
    let mut parted = None;
    let mut partings = 0;
    for _ in 0..ROUNDS {
        let pinches = pinch::find(&columns, &heights);
        if pinches.is_empty() {
            break;
        }
        partings += pinches.values().map(Vec::len).sum::<usize>();
        let sections = parted.get_or_insert_with(|| sections.clone());
        pinch::part(sections, pinches);
        columns = Columns::of(sections)?;
    }
    Ok(Meshed { mesh: boundary(&columns, &heights), partings })
}

/// The boundary of all solid prisms. Heights in mm, one more than there are slabs.
fn boundary(columns: &Columns, heights: &[f64]) -> Mesh {
    let Arrangement { points, cells } = &columns.arrangement;
    let needed = needed_heights(columns);
    let levels = heights.len();
    let mut index = vec![u32::MAX; points.len() * levels];
    let mut mesh = Mesh::default();
    let mut vertex = |mesh: &mut Mesh, point: u32, level: usize| {
        let slot = &mut index[point as usize * levels + level];
        if *slot == u32::MAX {
            *slot = mesh.vertices.len() as u32;
            let p = points[point as usize];
            let z = from_grid(to_grid(heights[level]));
            mesh.vertices.push([from_grid(p.x), from_grid(p.y), z]);
        }
        *slot
    };

    for (at, cell) in cells.iter().enumerate() {
        let column = columns.bits[at];
        let [a, b, c] = cell.corners;
        for level in ones((column << 1) & !column) {
            let face = [a, b, c].map(|corner| vertex(&mut mesh, corner, level));
            mesh.triangles.push(face);
        }
        for level in ones(column & !(column << 1)) {
            let face = [a, c, b].map(|corner| vertex(&mut mesh, corner, level));
            mesh.triangles.push(face);
        }
        for side in 0..3 {
            let (a, b) = (cell.corners[side], cell.corners[(side + 1) % 3]);
            for (bottom, top) in runs(column & !columns.across(at, side)) {
                let between = |level: &usize| (bottom..=top).contains(level);
                let mut left = ones(needed[a as usize]).filter(between).peekable();
                let mut right = ones(needed[b as usize]).filter(between).peekable();
                let (Some(mut l), Some(mut r)) = (left.next(), right.next()) else {
                    continue;
                };
                // A strip between the two upright edges, climbing on whichever side is lower.
                while let Some((climb_left, level)) = match (left.peek(), right.peek()) {
                    (Some(&next_l), Some(&next_r)) if next_l < next_r => Some((true, next_l)),
                    (Some(&next_l), None) => Some((true, next_l)),
                    (_, Some(&next_r)) => Some((false, next_r)),
                    (None, None) => None,
                } {
                    let third = if climb_left { (a, level) } else { (b, level) };
                    let face = [(a, l), (b, r), third].map(|(p, h)| vertex(&mut mesh, p, h));
                    mesh.triangles.push(face);
                    if climb_left {
                        l = level;
                        left.next();
                    } else {
                        r = level;
                        right.next();
                    }
                }
            }
        }
    }
    mesh
}

/// For every point, the heights at which the boundary has a vertex there: where a face meets the
/// upright edge or a wall begins or ends. Between them walls run through in one piece.
fn needed_heights(columns: &Columns) -> Vec<u128> {
    let mut needed = vec![0u128; columns.arrangement.points.len()];
    for (at, cell) in columns.arrangement.cells.iter().enumerate() {
        let ends = |column: u128| column ^ (column << 1);
        let faces = ends(columns.bits[at]);
        for side in 0..3 {
            let walls = ends(columns.bits[at] & !columns.across(at, side));
            needed[cell.corners[side] as usize] |= faces | walls;
            needed[cell.corners[(side + 1) % 3] as usize] |= walls;
        }
    }
    needed
}

/// The places of the set bits, lowest first.
fn ones(mut bits: u128) -> impl Iterator<Item = usize> {
    std::iter::from_fn(move || {
        let place = (bits != 0).then(|| bits.trailing_zeros() as usize)?;
        bits &= bits - 1;
        Some(place)
    })
}

/// The runs of set bits as (first, one past last), lowest first.
fn runs(mut bits: u128) -> impl Iterator<Item = (usize, usize)> {
    std::iter::from_fn(move || {
        let first = (bits != 0).then(|| bits.trailing_zeros())?;
        let end = first + (bits >> first).trailing_ones();
        bits &= !0u128 << end;
        Some((first as usize, end as usize))
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plane::{Rect, Tolerance, circle, rounded_rectangle};
    use crate::solid::{Act, Layer, Slab};

    fn rect(x0: f64, y0: f64, x1: f64, y1: f64) -> Region {
        rounded_rectangle(Rect { x0, y0, x1, y1 }, 0.0, Tolerance::Normal)
    }

    /// Bottom, top, and what each footprint does there.
    type Slice<'a> = (f64, f64, &'a [(Act, usize)]);

    fn stack(footprints: Vec<Region>, slabs: &[Slice<'_>]) -> Sections {
        let slabs = slabs
            .iter()
            .map(|&(bottom, top, layers)| Slab {
                bottom,
                top,
                layers: layers.iter().map(|&(act, f)| Layer::upright(act, f)).collect(),
            })
            .collect();
        Sections { footprints, slabs }
    }

    use Act::{Adds, Cuts};

    #[test]
    fn a_plate_with_raised_and_recessed_parts_has_the_volume_of_its_prisms() {
        // 20 × 10 × 3 plate, a 4 × 4 recess 1 deep, a 5 × 5 block 2 high, a hole of 2 mm radius.
        let hole = circle((-6.0, 0.0), 2.0, Tolerance::Normal);
        let hole_area = hole.area();
        let sections = stack(
            vec![rect(-10., -5., 10., 5.), rect(-2., -2., 2., 2.), rect(4., -2., 9., 3.), hole],
            &[
                (0.0, 2.0, &[(Adds, 0), (Cuts, 3)]),
                (2.0, 3.0, &[(Adds, 0), (Cuts, 1), (Cuts, 3)]),
                (3.0, 5.0, &[(Adds, 2), (Cuts, 3)]),
            ],
        );
        let Meshed { mesh, partings } = mesh(&sections).unwrap();
        assert_eq!(partings, 0);
        let measures = mesh.measures();
        let exact = 200.0 * 3.0 - 16.0 + 50.0 - 3.0 * hole_area;
        assert!((measures.volume - exact).abs() < 1e-9 * exact);
        assert!(mesh.soundness().is_sound());
        assert_eq!(mesh.bodies(), 1);
        // Walls that pass a height where nothing changes beside them are not cut there.
        let at_two = mesh.vertices.iter().filter(|v| v[2] == 2.0);
        assert!(at_two.clone().count() == 4, "{:?}", at_two.collect::<Vec<_>>());
    }

    #[test]
    fn solids_that_touch_in_an_upright_edge_are_parted() {
        // A hole tangent to the plate's edge: a corner of its polygon lies exactly on the edge.
        let hole = circle((-8.0, 0.0), 2.0, Tolerance::Normal);
        let sections =
            stack(vec![rect(-10., -5., 10., 5.), hole], &[(0.0, 3.0, &[(Adds, 0), (Cuts, 1)])]);
        let Meshed { mesh: found, partings } = mesh(&sections).unwrap();
        assert!(partings > 0);
        assert!(found.soundness().is_sound(), "{:?}", found.soundness());

        // Two blocks corner to corner fall into two bodies.
        let sections = stack(
            vec![rect(0., 0., 5., 5.), rect(5., 5., 10., 10.)],
            &[(0.0, 3.0, &[(Adds, 0), (Adds, 1)])],
        );
        let Meshed { mesh: found, partings } = mesh(&sections).unwrap();
        assert!(partings > 0);
        assert!(found.soundness().is_sound(), "{:?}", found.soundness());
        assert_eq!(found.bodies(), 2);
        assert!((found.measures().volume - 150.0).abs() < 1e-3);
    }

    #[test]
    fn solids_that_touch_in_a_level_edge_are_parted() {
        let sections = stack(
            vec![rect(0., 0., 5., 5.), rect(5., 0., 10., 5.)],
            &[(0.0, 3.0, &[(Adds, 0)]), (3.0, 6.0, &[(Adds, 1)])],
        );
        let Meshed { mesh: found, partings } = mesh(&sections).unwrap();
        assert!(partings > 0);
        assert!(found.soundness().is_sound(), "{:?}", found.soundness());
        assert_eq!(found.bodies(), 2);
    }

    #[test]
    fn nothing_gives_an_empty_mesh() {
        assert!(mesh(&Sections::default()).unwrap().mesh.triangles.is_empty());
        let sections = stack(
            vec![rect(0., 0., 5., 5.), rect(-1., -1., 6., 6.)],
            &[(0.0, 3.0, &[(Adds, 0), (Cuts, 1)])],
        );
        assert!(mesh(&sections).unwrap().mesh.triangles.is_empty());
    }
}
