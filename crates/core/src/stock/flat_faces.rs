use super::level::axes;
use crate::solid::{Mesh, dot, minus};
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
#[derive(Debug, Clone, PartialEq)]
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
    const FACET_SHARE: f64 = 0.05;
    let measures = mesh.measures();
    let extent = minus(measures.high, measures.low);
    // What single precision leaves of a plane.
    let hair = 1e-5 * dot(extent, extent).sqrt();
    let normals: Vec<([f64; 3], f64)> =
        mesh.triangles.iter().map(|t| normal_of(mesh, *t)).collect();
    let across = neighbours(mesh);
    let alike = SAME_TURN.to_radians().cos();
    let smooth = SMOOTH_TURN.to_radians().cos();

    let mut seeds: Vec<u32> = (0..mesh.triangles.len() as u32).collect();
    seeds.sort_by(|a, b| normals[*b as usize].1.total_cmp(&normals[*a as usize].1).then(a.cmp(b)));
    let mut owner = vec![u32::MAX; mesh.triangles.len()];
    let mut patches: Vec<FlatFace> = Vec::new();
    for seed in seeds {
        let (normal, size) = normals[seed as usize];
        if owner[seed as usize] != u32::MAX || size == 0.0 {
            continue;
        }
        let level = dot(normal, mesh.vertices[mesh.triangles[seed as usize][0] as usize]);
        let lies_in = |triangle: u32| {
            let (own, size) = normals[triangle as usize];
            let corners = mesh.corners(mesh.triangles[triangle as usize]);
            (size == 0.0 || dot(own, normal) > alike)
                && corners.iter().all(|corner| (dot(*corner, normal) - level).abs() <= hair)
        };
        let mut triangles = vec![seed];
        owner[seed as usize] = seed;
        let (mut edge, mut bent_little) = (0.0, 0.0);
        let mut at = 0;
        while at < triangles.len() {
            let triangle = triangles[at];
            at += 1;
            for (side, &other) in across[triangle as usize].iter().enumerate() {
                if owner[other as usize] == u32::MAX && lies_in(other) {
                    owner[other as usize] = seed;
                    triangles.push(other);
                }
                if owner[other as usize] != seed {
                    let corners = mesh.corners(mesh.triangles[triangle as usize]);
                    let along = minus(corners[(side + 1) % 3], corners[side]);
                    let length = dot(along, along).sqrt();
                    edge += length;
                    if dot(normals[other as usize].0, normal) > smooth {
                        bent_little += length;
                    }
                }
            }
        }
        let area = triangles.iter().map(|t| normals[*t as usize].1).sum::<f64>() / 2.0;
        let is_facet = bent_little > edge / 2.0 && area < FACET_SHARE * measures.area;
        if !is_facet {
            triangles.sort_unstable();
            patches.push(FlatFace { normal, level, area, triangles });
        }
    }
    // With the largest first, what is told in the end has its plane found early.
    patches.sort_by(|a, b| b.area.total_cmp(&a.area));
    let mut faces: Vec<FlatFace> = Vec::new();
    for patch in patches {
        let same = |face: &&mut FlatFace| {
            dot(face.normal, patch.normal) > alike && (face.level - patch.level).abs() <= hair
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
    faces.retain(|face| face.area >= LEAST_SHARE * measures.area);
    faces.sort_by(|a, b| b.area.total_cmp(&a.area));
    faces.truncate(MOST_FACES);
    // What looks up is what one mostly wants to work on; the others by their size.
    faces.sort_by_key(|face| face.facing() != "top");
    faces
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
