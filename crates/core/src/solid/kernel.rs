//! The boolean kernel: solids that are no stack of sections, joined, cut and shared out.

use super::Mesh;
use super::groups::Groups;
use crate::plane::{from_grid, to_grid};
use manifold_rust::manifold::Manifold;
use manifold_rust::types::{Error, MeshGLP, WindingRule};
use std::collections::HashMap;

/// What is smaller, in mm³, is a speck that rounding left.
const SPECK_MM3: f64 = 1e-3;

/// How often flat triangles are looked for: turning one can leave another.
const FLATTENINGS: usize = 6;

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
        let large: Vec<Manifold> =
            parts.iter().filter(|part| part.volume() > SPECK_MM3).cloned().collect();
        if large.len() == parts.len() {
            self.clone()
        } else {
            KernelSolid(Manifold::compose(&large))
        }
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

    /// Its closed mesh, on the grid. Triangles that rounding to the grid left without area are taken
    /// out. Surfaces that touch in a place share their vertices there.
    pub fn mesh(&self) -> Mesh {
        let Mesh { vertices, triangles } = self.surface();
        let mut index: HashMap<[i32; 3], u32> = HashMap::with_capacity(vertices.len());
        let mut placed = Vec::with_capacity(vertices.len());
        let places = vertices.iter().map(|vertex| {
            let steps = vertex.map(to_grid);
            *index.entry(steps).or_insert_with(|| {
                placed.push(steps.map(from_grid));
                placed.len() as u32 - 1
            })
        });
        let places: Vec<u32> = places.collect();
        tidied(placed, triangles.into_iter().map(|t| t.map(|i| places[i as usize])))
    }

    /// The same, but surfaces that touch keep vertices of their own, so that every edge has exactly two
    /// faces even where they touch along a mere edge. Files without indices, such as STL, lose that.
    pub fn mesh_with_own_vertices(&self) -> Mesh {
        let Mesh { vertices, triangles } = self.surface();
        let vertices: Vec<[f64; 3]> =
            vertices.into_iter().map(|vertex| vertex.map(to_grid).map(from_grid)).collect();
        // Only neighbours that fell together become one.
        let mut groups = Groups::of(vertices.len());
        for &[a, b, c] in &triangles {
            for (from, to) in [(a, b), (b, c), (c, a)] {
                if vertices[from as usize] == vertices[to as usize] {
                    groups.join(from, to);
                }
            }
        }
        tidied(vertices, triangles.into_iter().map(|t| t.map(|i| groups.root(i))))
    }
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
