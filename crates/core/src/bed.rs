//! How components lie on the printer's bed: which side is down, where they lie beside each other, and
//! which side had better be down.
//!
//! A solid is worked standing as it is made. For printing it is turned by quarters, so its figures stay
//! on the grid, and set down so that it rests on the bed.

use crate::evaluate::{Evaluation, Frame, Made};
use crate::halt::heed;
use crate::piece::Lying;
use crate::solid::{Mesh, cross, dot, minus};
use std::borrow::Cow;
use std::sync::Arc;

/// Between components that lie side by side, in mm.
const GAP_MM: f64 = 5.0;

/// Where components come to lie side by side, in the order of the document: as a frame that brings what
/// is made to its place. A single one that lies as it is made stays where it is.
pub fn places(evaluation: &Evaluation) -> Vec<Frame> {
    places_of(&evaluation.components)
}

/// The same for some components that are printed together.
pub fn places_of(components: &[Arc<Made>]) -> Vec<Frame> {
    // All on the grid, so that meshes stay on it.
    let middle = |made: &Made, axis: usize| match made.lies {
        Lying::AsMade => 0.0,
        _ => {
            let [low, high] = extent(made);
            -((low[axis] + high[axis]) / 2.0).round()
        }
    };
    let first = components.first().map_or(0.0, |made| middle(made, 0));
    let asides = side_by_side(first, components.iter().map(|made| across(extent(made))));
    let place = |(made, aside): (&Arc<Made>, f64)| {
        let [across, up, out] =
            [[1.0, 0.0, 0.0], [0.0, 1.0, 0.0], [0.0, 0.0, 1.0]].map(|axis| made.lies.turned(axis));
        Frame { origin: [aside, middle(made, 1), 0.0 - extent(made)[0][2]], across, up, out }
    };
    components.iter().zip(asides).map(place).collect()
}

/// Which components lie on each other on the bed, two by two, in the order of the document: none, wherever they are
/// put by [`places`].
pub fn overlapping(evaluation: &Evaluation) -> Vec<(usize, usize)> {
    let boxes: Vec<_> = boxes(evaluation).collect();
    (0..boxes.len())
        .flat_map(|b| (0..b).map(move |a| (a, b)))
        .filter(|(a, b)| overlap(&boxes[*a], &boxes[*b]))
        .collect()
}

/// The lowest and the highest corner of every component where it lies on the bed, in mm.
fn boxes(evaluation: &Evaluation) -> impl Iterator<Item = [[f64; 3]; 2]> {
    let places = places(evaluation);
    evaluation.components.iter().zip(places).map(|(made, place)| {
        extent(made).map(|corner| [0, 1, 2].map(|axis| corner[axis] + place.origin[axis]))
    })
}

/// Whether two boxes share ground: both lie on the bed.
fn overlap([low, high]: &[[f64; 3]; 2], [other_low, other_high]: &[[f64; 3]; 2]) -> bool {
    (0..2).all(|axis| low[axis] < other_high[axis] && other_low[axis] < high[axis])
}

/// How far to the right components are put so that they stand side by side as they are made, in mm.
pub fn asides(evaluation: &Evaluation) -> Vec<f64> {
    let measures = evaluation.components.iter().map(|made| &made.measures);
    side_by_side(0.0, measures.map(|measures| across([measures.low, measures.high])))
}

/// Where a box begins and ends from left to right.
fn across([low, high]: [[f64; 3]; 2]) -> [f64; 2] {
    [low[0], high[0]]
}

/// How far to the right things are put so that they lie side by side, from where each begins and ends: the first by
/// as much as is said.
fn side_by_side(first: f64, extents: impl Iterator<Item = [f64; 2]>) -> Vec<f64> {
    let mut right: Option<f64> = None;
    let place = |[low, high]: [f64; 2]| {
        let aside = right.map_or(first, |right| (right + GAP_MM - low).ceil());
        right = Some(aside + high);
        aside
    };
    extents.map(place).collect()
}

/// The lowest and the highest corner of a component turned as it lies, in mm.
fn extent(made: &Made) -> [[f64; 3]; 2] {
    let ends = [made.measures.low, made.measures.high].map(|corner| made.lies.turned(corner));
    let pick = |pick: fn(f64, f64) -> f64| [0, 1, 2].map(|i| pick(ends[0][i], ends[1][i]));
    [pick(f64::min), pick(f64::max)]
}

/// Width, depth and height of a component as it lies, in mm.
pub fn size(made: &Made) -> [f64; 3] {
    let [low, high] = extent(made);
    [0, 1, 2].map(|i| high[i] - low[i])
}

/// Width, depth and height of all there is where it lies on the bed, in mm.
pub fn size_of_all(evaluation: &Evaluation) -> [f64; 3] {
    let all = boxes(evaluation).reduce(|[low, high], [from, to]| {
        let pick = |pick: fn(f64, f64) -> f64, a: [f64; 3], b: [f64; 3]| {
            [0, 1, 2].map(|axis| pick(a[axis], b[axis]))
        };
        [pick(f64::min, low, from), pick(f64::max, high, to)]
    });
    let [low, high] = all.unwrap_or_default();
    [0, 1, 2].map(|axis| high[axis] - low[axis])
}

/// A mesh of a component, brought to its place.
pub fn lying<'a>(mesh: &'a Mesh, place: &Frame) -> Cow<'a, Mesh> {
    if *place == Frame::LOOKING_UP {
        return Cow::Borrowed(mesh);
    }
    let vertices = mesh.vertices.iter().map(|[x, y, z]| place.point(*x, *y, *z));
    Cow::Owned(Mesh { vertices: vertices.collect(), triangles: mesh.triangles.clone() })
}

/// What a solid is like to print on one of its sides. Areas in mm², the height in mm.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Lie {
    /// The side.
    pub lying: Lying,
    /// What touches the bed.
    pub touching: f64,
    /// What hangs over nothing, steeper than the printer prints without help, as it is seen from below.
    pub hanging: f64,
    /// How high it is.
    pub tall: f64,
}

impl Lie {
    /// How a mesh is to print on each of its sides, where overhangs up to so many degrees from the upright print
    /// without help.
    pub fn all(mesh: &Mesh, steepest: f64) -> [Lie; 6] {
        let flats = Flat::all(mesh);
        Lying::ALL.map(|lying| Lie::of(mesh, &flats, lying, steepest))
    }

    fn of(mesh: &Mesh, flats: &[Flat], lying: Lying, steepest: f64) -> Lie {
        let height = |point: &[f64; 3]| lying.turned(*point)[2];
        let heights = mesh.vertices.iter().map(height);
        let (low, high) = heights.fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), at| {
            (low.min(at), high.max(at))
        });
        /// How near to the bed something lies on it.
        const NEAR_MM: f64 = 1e-3;
        let steepest = steepest.to_radians().sin() + 1e-4;
        let (mut touching, mut hanging) = (0.0, 0.0);
        for flat in flats {
            let slope = -height(&flat.normal);
            if slope <= steepest {
                continue;
            }
            let seen = flat.area * slope;
            match height(&flat.middle) < low + NEAR_MM {
                true => touching += seen,
                false => hanging += seen,
            }
        }
        Lie { lying, touching, hanging, tall: (high - low).max(0.0) }
    }

    /// Whether it stands so that it does not fall over while it is printed: on no less than a twelfth of
    /// the square of its height (ours: 150 mm want a foot of some 40 × 47 mm).
    fn is_steady(&self) -> bool {
        self.touching * 12.0 >= self.tall * self.tall
    }
}

/// The side a solid had better lie on: of those it is steady on, the one that leaves least hanging, then
/// the one that touches most; letters up before letters down. What hangs less by a hair is no reason to
/// turn anything over.
pub fn best(all: &[Lie; 6]) -> Option<Lie> {
    let most = all.iter().map(|lie| lie.touching).fold(0.0, f64::max);
    // Where nothing is steady, the broadest foot has to do.
    let is_steady = |lie: &&Lie| lie.is_steady() || lie.touching >= most;
    let dear = |lie: &Lie| (lie.hanging / HAIR_MM2).floor();
    let better = |a: &Lie, b: &Lie| {
        dear(a).total_cmp(&dear(b)).then(b.touching.total_cmp(&(a.touching + 1e-6)))
    };
    let mut sides = all.iter().filter(is_steady).filter(|lie| lie.touching > 0.0);
    let first = *sides.next()?;
    Some(sides.fold(first, |best, lie| match better(lie, &best) {
        std::cmp::Ordering::Less => *lie,
        _ => best,
    }))
}

/// What hangs over nothing without being worth a word, in mm².
pub const HAIR_MM2: f64 = 20.0;

/// A triangle by its area in mm², the direction it looks in and its middle.
struct Flat {
    area: f64,
    normal: [f64; 3],
    middle: [f64; 3],
}

impl Flat {
    fn all(mesh: &Mesh) -> Vec<Flat> {
        let flat = |triangle: &[u32; 3]| {
            heed();
            let [a, b, c] = mesh.corners(*triangle);
            let normal = cross(minus(b, a), minus(c, a));
            let double = dot(normal, normal).sqrt();
            (double > 0.0).then(|| Flat {
                area: double / 2.0,
                normal: normal.map(|part| part / double),
                middle: [0, 1, 2].map(|i| (a[i] + b[i] + c[i]) / 3.0),
            })
        };
        mesh.triangles.iter().filter_map(flat).collect()
    }
}
