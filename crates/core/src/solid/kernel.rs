//! The boolean kernel: solids that are no stack of sections, joined, cut and shared out.

use super::pinch::faulty_edges;
use super::{Mesh, Partings, cross, dot, minus};
use crate::halt::heed;
use crate::plane::{MAX_COORDINATE_MM, from_grid, to_grid};
use manifold_rust::manifold::Manifold;
use manifold_rust::types::{Error, MeshGLP, WindingRule};
use std::collections::HashMap;

/// What is smaller, in mm³, is a speck that rounding left.
const SPECK_MM3: f64 = 1e-3;

/// How often flat triangles are looked for: turning one can leave another.
const FLATTENINGS: usize = 6;

/// How far solids that touch along a mere edge are parted, in mm: at first, and doubled where edges run
/// together so closely that they touch again.
const PARTED_MM: f64 = 0.002;
const PARTINGS: usize = 4;

/// The most edges that are parted; each takes a cut of its own.
const MOST_PARTED: usize = 500;

/// A solid as the kernel holds it. Cheap to make others from; nothing about it changes.
#[derive(Clone)]
pub(crate) struct KernelSolid(Manifold);

impl std::fmt::Debug for KernelSolid {
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        write!(f, "KernelSolid({} triangles)", self.0.num_tri())
    }
}

impl KernelSolid {
    /// The solid a closed mesh bounds; `None` where its surface is not closed and consistently turned.
    pub fn of(mesh: &Mesh) -> Option<Self> {
        let solid = Manifold::from_mesh_glp(&exchanged(mesh));
        (solid.status() == Error::NoError).then_some(KernelSolid(solid))
    }

    /// The solid a mesh was probably meant to bound: surfaces that cross or touch become one, and
    /// those that are turned inside out are turned. `None` where the surface has gaps.
    pub fn mended(mesh: &Mesh) -> Option<Self> {
        let soup = Manifold::from_mesh_glp_robust(&exchanged(mesh));
        if soup.status() != Error::NoError {
            return None;
        }
        let solid = soup.rebuild_solid(WindingRule::Nonzero);
        (solid.status() == Error::NoError && !solid.is_empty()).then_some(KernelSolid(solid))
    }

    /// What shells that cross or touch each other enclose together, where each of them is sound by itself: a part
    /// put together of boxes. `None` where one is not, or one of several is a hollow. Shells that are all turned inside
    /// out are turned.
    pub fn joined(mesh: &Mesh) -> Option<Self> {
        // Each as a solid of its own: parts of one mesh pass for one surface where they lie in one plane.
        let alone = KernelSolid::of(mesh)?.0.decompose().into_iter();
        let mut shells: Vec<Mesh> =
            alone.inspect(|_| heed()).map(|shell| KernelSolid(shell).surface()).collect();
        // Without one that is turned outwards there is nothing a hollow could be in: all are turned inside out.
        if shells.iter().all(|shell| shell.measures().volume < 0.0) {
            let triangles = shells.iter_mut().flat_map(|shell| &mut shell.triangles);
            triangles.for_each(|triangle| triangle.swap(1, 2));
        }
        let solids = shells.iter().map(|shell| {
            heed();
            // The kernel itself takes one that is turned inside out for what it would be turned outwards.
            let is_outwards = shell.measures().volume > 0.0;
            let solid = KernelSolid::of(shell).filter(|_| is_outwards)?;
            (!solid.crosses_itself()).then_some(solid.0)
        });
        let mut solids = solids.collect::<Option<Vec<Manifold>>>()?;
        // Of two halves each, so that the large ones are joined last.
        while solids.len() > 1 {
            solids = solids
                .chunks(2)
                .inspect(|_| heed())
                .map(|pair| match pair {
                    [one, other] => one.union(other),
                    _ => pair[0].clone(),
                })
                .collect();
        }
        let joined = solids.pop()?;
        (joined.status() == Error::NoError && !joined.is_empty()).then_some(KernelSolid(joined))
    }

    /// Whether surfaces of it cross or lie on each other.
    pub fn crosses_itself(&self) -> bool {
        self.0.has_self_intersections()
    }

    /// Both together.
    pub fn with(&self, other: &KernelSolid) -> Self {
        KernelSolid(self.0.union(&other.0))
    }

    /// What of it lies outside the other.
    pub fn without(&self, other: &KernelSolid) -> Self {
        KernelSolid(self.0.difference(&other.0))
    }

    /// What of it lies inside the other.
    pub fn within(&self, other: &KernelSolid) -> Self {
        KernelSolid(self.0.intersection(&other.0))
    }

    /// The same without loose specks, which rounding leaves where two faces nearly meet.
    pub fn without_specks(&self) -> Self {
        let parts = self.0.decompose();
        // A hollow is a part of negative volume.
        let large: Vec<Manifold> =
            parts.iter().filter(|part| part.volume().abs() > SPECK_MM3).cloned().collect();
        if large.len() == parts.len() {
            self.clone()
        } else {
            KernelSolid(Manifold::compose(&large))
        }
    }

    /// The same with what touches along a mere edge cut apart there, and where that was.
    pub fn parted(self) -> (Self, Partings) {
        let mut parted = self;
        let mut partings = Partings::default();
        for round in 0..PARTINGS {
            let mesh = parted.mesh();
            let edges = faulty_edges(&mesh);
            if edges.is_empty() || edges.len() > MOST_PARTED {
                break;
            }
            let width = PARTED_MM * f64::from(1 << round);
            for edge in &edges {
                let ends = [(edge >> 32) as usize, *edge as u32 as usize];
                // Corners at right angles are then as far apart.
                let half = width * std::f64::consts::FRAC_1_SQRT_2;
                let rod = rod_along(ends.map(|i| mesh.vertices[i]), half);
                if let Some(rod) = KernelSolid::of(&rod) {
                    parted = parted.without(&rod);
                }
            }
            partings = partings.and(edges.len(), width);
        }
        (parted, partings)
    }

    /// Its closed mesh as the kernel holds it.
    pub fn surface(&self) -> Mesh {
        let found: MeshGLP<f64, u32> = self.0.get_mesh_glp(-1);
        let vertices = found.vert_properties.chunks_exact(found.num_prop as usize);
        Mesh {
            vertices: vertices.map(|v| [v[0], v[1], v[2]]).collect(),
            triangles: found.tri_verts.chunks_exact(3).map(|t| [t[0], t[1], t[2]]).collect(),
        }
    }

    /// Its closed mesh, on the grid, without specks. Triangles that rounding to the grid left without area
    /// are taken out. Surfaces that touch in a place share their vertices there.
    pub fn mesh(&self) -> Mesh {
        let surface = self.surface();
        let steps = exact_steps(furthest(&surface));
        on_grid(&surface, steps)
    }
}

/// How far from the origin a mesh reaches along any axis, in mm.
pub(crate) fn furthest(mesh: &Mesh) -> f64 {
    mesh.vertices.iter().flatten().fold(0.0, |far: f64, mm| far.max(mm.abs()))
}

/// A mesh whose vertices f32 holds exactly, where it or what it is to be seen with reaches so far, in mm; nothing where it
/// is so already.
pub(crate) fn exact_in_f32(mesh: &Mesh, furthest: f64) -> Option<Mesh> {
    let steps = exact_steps(furthest);
    (steps > 1).then(|| on_grid(mesh, steps))
}

/// A mesh rounded to so many grid steps, without triangles that have no area left.
fn on_grid(mesh: &Mesh, steps: i32) -> Mesh {
    let mut index: HashMap<[i32; 3], u32> = HashMap::with_capacity(mesh.vertices.len());
    let mut placed = Vec::with_capacity(mesh.vertices.len());
    let places = mesh.vertices.iter().map(|vertex| {
        let at = vertex.map(|mm| to_coarse_grid(mm, steps));
        *index.entry(at).or_insert_with(|| {
            placed.push(at.map(from_grid));
            placed.len() as u32 - 1
        })
    });
    let places: Vec<u32> = places.collect();
    tidied(placed, mesh.triangles.iter().map(|t| t.map(|i| places[i as usize])))
}

/// How many grid steps vertices are rounded to so that all of them are exact in f32, as files hold them:
/// 1 where nothing reaches beyond [`MAX_COORDINATE_MM`], 2 up to twice that.
fn exact_steps(furthest: f64) -> i32 {
    let mut steps = 1;
    while f64::from(steps) * MAX_COORDINATE_MM < furthest && steps < 1 << 10 {
        steps *= 2;
    }
    steps
}

fn to_coarse_grid(mm: f64, steps: i32) -> i32 {
    to_grid(mm / f64::from(steps)) * steps
}

/// A square rod along an edge, a little longer than it, half as wide as `half` says and more across its
/// corners.
fn rod_along([from, to]: [[f64; 3]; 2], half: f64) -> Mesh {
    let scaled = |v: [f64; 3], by: f64| v.map(|figure| figure * by);
    let unit = |v: [f64; 3]| scaled(v, 1.0 / dot(v, v).sqrt());
    let plus = |a: [f64; 3], b: [f64; 3]| [a[0] + b[0], a[1] + b[1], a[2] + b[2]];
    let along = unit(minus(to, from));
    let least = (0..3).min_by(|i, j| along[*i].abs().total_cmp(&along[*j].abs())).unwrap_or(0);
    let mut axis = [0.0; 3];
    axis[least] = 1.0;
    let across = unit(cross(along, axis));
    let up = cross(along, across);
    let corner = |end: [f64; 3], on: f64, i: usize| {
        let (x, y) = [(-1.0, -1.0), (1.0, -1.0), (1.0, 1.0), (-1.0, 1.0)][i];
        plus(plus(end, scaled(along, on)), plus(scaled(across, x * half), scaled(up, y * half)))
    };
    let ends = (0..4).map(|i| corner(from, -half, i)).chain((0..4).map(|i| corner(to, half, i)));
    let sides = (0..4u32).flat_map(|i| {
        let j = (i + 1) % 4;
        [[i, j, j + 4], [i, j + 4, i + 4]]
    });
    let caps = [[0, 2, 1], [0, 3, 2], [4, 5, 6], [4, 6, 7]];
    Mesh { vertices: ends.collect(), triangles: sides.chain(caps).collect() }
}

/// A mesh without the triangles that have no area, and without the vertices only those used.
fn tidied(vertices: Vec<[f64; 3]>, triangles: impl Iterator<Item = [u32; 3]>) -> Mesh {
    let triangles = triangles.filter(|[a, b, c]| a != b && b != c && c != a).collect();
    let mut mesh = Mesh { vertices, triangles };
    for _ in 0..FLATTENINGS {
        if !mesh.turn_flat_triangles() {
            break;
        }
    }
    mesh.drop_specks(SPECK_MM3);
    mesh.drop_unused_vertices();
    mesh
}

fn exchanged(mesh: &Mesh) -> MeshGLP<f64, u32> {
    MeshGLP {
        num_prop: 3,
        vert_properties: mesh.vertices.iter().flatten().copied().collect(),
        tri_verts: mesh.triangles.iter().flatten().copied().collect(),
        ..MeshGLP::default()
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A box about a place, turned about an axis through its middle by so many degrees.
    fn turned_box(sides: [f64; 3], middle: [f64; 3], axis: usize, degrees: f64) -> Mesh {
        let (sin, cos) = degrees.to_radians().sin_cos();
        let corner = |i: usize| {
            let mut at = [0, 1, 2].map(|a| sides[a] * (((i >> a) & 1) as f64 - 0.5));
            let (u, v) = ((axis + 1) % 3, (axis + 2) % 3);
            (at[u], at[v]) = (at[u] * cos - at[v] * sin, at[u] * sin + at[v] * cos);
            [0, 1, 2].map(|a| at[a] + middle[a])
        };
        let quads =
            [[0, 2, 3, 1], [4, 5, 7, 6], [0, 1, 5, 4], [2, 6, 7, 3], [0, 4, 6, 2], [1, 3, 7, 5]];
        let triangles = quads.iter().flat_map(|&[a, b, c, d]| [[a, b, c], [a, c, d]]).collect();
        Mesh { vertices: (0..8).map(corner).collect(), triangles }
    }

    /// Shells that are joined one by one enclose what they do where all of them are resolved at once, which takes a
    /// hundred times as long.
    #[test]
    fn shells_joined_enclose_what_they_do_resolved_together() {
        let mut seed = 20_261_201_u32;
        let mut random = |low: f64, high: f64| {
            seed = seed.wrapping_mul(1_664_525).wrapping_add(1_013_904_223);
            low + (high - low) * f64::from(seed >> 8) / f64::from(1 << 24)
        };
        for count in [2, 5, 9, 14] {
            let mut all = Mesh::default();
            for i in 0..count {
                let sides = [0; 3].map(|_| random(4.0, 30.0));
                let middle = [0; 3].map(|_| random(-8.0, 8.0));
                all.append(&turned_box(sides, middle, i % 3, random(0.0, 90.0)));
            }
            let joined = KernelSolid::joined(&all).unwrap().surface().measures().volume;
            let together = KernelSolid::mended(&all).unwrap().surface().measures().volume;
            assert!((joined / together - 1.0).abs() < 1e-6, "{count}: {joined} {together}");
            all.triangles.iter_mut().for_each(|triangle| triangle.swap(1, 2));
            let turned = KernelSolid::joined(&all).unwrap().surface().measures().volume;
            assert!((turned / together - 1.0).abs() < 1e-6, "{count}: {turned} {together}");
        }
        // What is in a hollow fills it as far as it goes.
        let mut hollow = turned_box([20.0; 3], [0.0; 3], 0, 0.0);
        let mut inner = turned_box([10.0; 3], [0.0; 3], 0, 0.0);
        inner.triangles.iter_mut().for_each(|triangle| triangle.swap(1, 2));
        hollow.append(&inner);
        hollow.append(&turned_box([6.0, 6.0, 30.0], [0.0; 3], 2, 30.0));
        let exact = 8000.0 - 1000.0 + 36.0 * (10.0 + 10.0);
        for solid in [KernelSolid::joined(&hollow), KernelSolid::mended(&hollow)] {
            let volume = solid.map(|solid| solid.surface().measures().volume);
            assert!(volume.is_none_or(|volume| (volume - exact).abs() < 1e-6), "{volume:?}");
        }
    }
}
