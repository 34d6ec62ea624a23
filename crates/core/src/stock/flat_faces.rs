//! The flat faces of a mesh, on which it can be worked.

use super::level::axes;
use crate::solid::{Mesh, dot, minus};
use serde::{Deserialize, Serialize};
use std::collections::HashMap;

/// The most faces that are told of a mesh.
const MOST_FACES: usize = 24;

/// The most planes that parts of faces are gathered in.
const MOST_PLANES: usize = 256;

/// The least share of the whole surface a face may have: smaller ones are trifles.
const LEAST_SHARE: f64 = 0.002;

/// Triangles turned from each other by less than this lie in one face, in degrees.
const SAME_TURN: f64 = 0.2;

/// A face with most of its edge bent less than this, in degrees, is a facet of something curved.
const SMOOTH_TURN: f64 = 30.0;

/// A flat part of a mesh's surface. Lengths in the mesh's own figures.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct FlatFace {
    /// The direction it looks to, of length 1.
    pub normal: [f64; 3],
    /// How far it lies from the origin along that direction.
    pub level: f64,
    /// Its area.
    pub area: f64,
    /// Which triangles it consists of.
    pub triangles: Vec<u32>,
}

/// The flat faces of a closed mesh, 24 at most: those that look up, then the others, the largest first. Parts that lie in one plane and
/// look the same way are one face. Facets of curved surfaces are left out where most of their edge
/// meets its neighbours at less than 30° and they are smaller than a twentieth of the surface, and so
/// are trifles of less than a five-hundredth of it.
pub fn flat_faces(mesh: &Mesh) -> Vec<FlatFace> {
    let surface = Surface::of(mesh);
    let mut faces = surface.in_one_plane(surface.patches());
    faces.retain(|face| face.area >= LEAST_SHARE * surface.area);
    faces.sort_by(|a, b| b.area.total_cmp(&a.area));
    faces.truncate(MOST_FACES);
    // What looks up is what one mostly wants to work on; the others by their size.
    faces.sort_by_key(|face| face.facing() != "top");
    faces
}

/// The surface of a mesh: what lies beside what, and where each triangle looks.
struct Surface<'a> {
    mesh: &'a Mesh,
    /// In mm².
    area: f64,
    /// What single precision leaves of a plane, in mm.
    hair: f64,
    /// Where each triangle looks, and twice its area.
    normals: Vec<([f64; 3], f64)>,
    /// The triangles across the sides of each.
    across: Vec<[u32; 3]>,
    /// The cosines of the angles below which what meets is flat, and is smooth.
    alike: f64,
    smooth: f64,
}

/// A patch as it grows from its first triangle.
struct Growing {
    triangles: Vec<u32>,
    /// How long its edge is, and how much of that is bent little, in mm.
    edge: f64,
    bent_little: f64,
}

impl<'a> Surface<'a> {
    fn of(mesh: &'a Mesh) -> Self {
        let measures = mesh.measures();
        let extent = minus(measures.high, measures.low);
        Surface {
            mesh,
            area: measures.area,
            hair: 1e-5 * dot(extent, extent).sqrt(),
            normals: mesh.triangles.iter().map(|t| normal_of(mesh, *t)).collect(),
            across: neighbours(mesh),
            alike: SAME_TURN.to_radians().cos(),
            smooth: SMOOTH_TURN.to_radians().cos(),
        }
    }

    /// The flat patches that hang together, the largest first; facets of curved surfaces are none.
    fn patches(&self) -> Vec<FlatFace> {
        const FACET_SHARE: f64 = 0.05;
        let twice = |triangle: u32| self.normals[triangle as usize].1;
        let mut seeds: Vec<u32> = (0..self.mesh.triangles.len() as u32).collect();
        seeds.sort_by(|a, b| twice(*b).total_cmp(&twice(*a)).then(a.cmp(b)));
        let mut owner = vec![u32::MAX; self.mesh.triangles.len()];
        let mut patches: Vec<FlatFace> = Vec::new();
        for seed in seeds {
            if owner[seed as usize] != u32::MAX || twice(seed) == 0.0 {
                continue;
            }
            let (normal, level) = self.plane_of(seed);
            let Growing { mut triangles, edge, bent_little } = self.grown(seed, &mut owner);
            let area = triangles.iter().map(|t| twice(*t)).sum::<f64>() / 2.0;
            let is_facet = bent_little > edge / 2.0 && area < FACET_SHARE * self.area;
            if !is_facet {
                triangles.sort_unstable();
                patches.push(FlatFace { normal, level, area, triangles });
            }
        }
        // With the largest first, what is told in the end has its plane found early.
        patches.sort_by(|a, b| b.area.total_cmp(&a.area));
        patches
    }

    /// Where the plane of a triangle looks, and how far from the origin it lies.
    fn plane_of(&self, triangle: u32) -> ([f64; 3], f64) {
        let (normal, _) = self.normals[triangle as usize];
        let corner = self.mesh.triangles[triangle as usize][0];
        (normal, dot(normal, self.mesh.vertices[corner as usize]))
    }

    /// What lies in the plane of a triangle and hangs together with it, taken by it.
    fn grown(&self, seed: u32, owner: &mut [u32]) -> Growing {
        let (normal, level) = self.plane_of(seed);
        let lies_in = |triangle: u32| {
            let (own, size) = self.normals[triangle as usize];
            let corners = self.mesh.corners(self.mesh.triangles[triangle as usize]);
            (size == 0.0 || dot(own, normal) > self.alike)
                && corners.iter().all(|corner| (dot(*corner, normal) - level).abs() <= self.hair)
        };
        let mut patch = Growing { triangles: vec![seed], edge: 0.0, bent_little: 0.0 };
        owner[seed as usize] = seed;
        let mut at = 0;
        while at < patch.triangles.len() {
            let triangle = patch.triangles[at];
            at += 1;
            for (side, &other) in self.across[triangle as usize].iter().enumerate() {
                if owner[other as usize] == u32::MAX && lies_in(other) {
                    owner[other as usize] = seed;
                    patch.triangles.push(other);
                }
                if owner[other as usize] != seed {
                    let corners = self.mesh.corners(self.mesh.triangles[triangle as usize]);
                    let along = minus(corners[(side + 1) % 3], corners[side]);
                    let length = dot(along, along).sqrt();
                    patch.edge += length;
                    if dot(self.normals[other as usize].0, normal) > self.smooth {
                        patch.bent_little += length;
                    }
                }
            }
        }
        patch
    }

    /// Patches of one plane that look the same way as one face.
    fn in_one_plane(&self, patches: Vec<FlatFace>) -> Vec<FlatFace> {
        let mut faces: Vec<FlatFace> = Vec::new();
        for patch in patches {
            let same = |face: &&mut FlatFace| {
                dot(face.normal, patch.normal) > self.alike
                    && (face.level - patch.level).abs() <= self.hair
            };
            let is_full = faces.len() >= MOST_PLANES;
            match faces.iter_mut().find(same) {
                Some(face) => {
                    face.area += patch.area;
                    face.triangles.extend(patch.triangles);
                }
                None if is_full => {}
                None => faces.push(patch),
            }
        }
        faces
    }
}

impl FlatFace {
    /// Where it looks to as the mesh was drawn: "top", "underside", "front", "back", "left", "right" or
    /// "slanted".
    pub fn facing(&self) -> &'static str {
        const STRAIGHT: f64 = 0.999;
        match self.normal {
            [_, _, z] if z > STRAIGHT => "top",
            [_, _, z] if z < -STRAIGHT => "underside",
            [_, y, _] if y < -STRAIGHT => "front",
            [_, y, _] if y > STRAIGHT => "back",
            [x, _, _] if x < -STRAIGHT => "left",
            [x, _, _] if x > STRAIGHT => "right",
            _ => "slanted",
        }
    }

    /// Its width and height as it is seen from above when it is worked on, in the mesh's own figures.
    pub fn size(&self, mesh: &Mesh) -> [f64; 2] {
        let [right, along, _] = axes(self.normal, 0.0);
        let corners =
            || self.triangles.iter().flat_map(|t| mesh.corners(mesh.triangles[*t as usize]));
        [right, along].map(|axis| {
            let places = || corners().map(|corner| dot(axis, corner));
            places().fold(f64::NEG_INFINITY, f64::max) - places().fold(f64::INFINITY, f64::min)
        })
    }
}

/// The direction a triangle looks to, of length 1, and twice its area.
fn normal_of(mesh: &Mesh, triangle: [u32; 3]) -> ([f64; 3], f64) {
    let normal = mesh.normal(triangle);
    let length = dot(normal, normal).sqrt();
    (if length > 0.0 { normal.map(|part| part / length + 0.0) } else { normal }, length)
}

/// The triangle across each side of every triangle; itself where there is none.
fn neighbours(mesh: &Mesh) -> Vec<[u32; 3]> {
    let mut sides: HashMap<(u32, u32), u32> = HashMap::with_capacity(3 * mesh.triangles.len());
    for (i, &[a, b, c]) in mesh.triangles.iter().enumerate() {
        for side in [(a, b), (b, c), (c, a)] {
            sides.insert(side, i as u32);
        }
    }
    let triangles = mesh.triangles.iter().enumerate();
    let across = |(i, &[a, b, c]): (usize, &[u32; 3])| {
        [(b, a), (c, b), (a, c)].map(|side| sides.get(&side).copied().unwrap_or(i as u32))
    };
    triangles.map(across).collect()
}
