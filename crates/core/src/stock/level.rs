//! Stock on the bed, a face of it up.

use super::Stock;
use crate::cache::Kept;
use crate::piece::{MeshBlank, WorkedFace};
use crate::plane::{GridPoint, Rect, Region, from_grid, to_grid};
use crate::solid::{KernelSolid, Mesh, Partings, cross, dot, extremes, minus};
use std::collections::HashMap;
use std::sync::Arc;

/// The largest extent a blank may have along any axis, in mm.
pub const MAX_EXTENT_MM: f64 = 500.0;

/// Stock that stands as a piece wants it: the worked face looks up and its middle lies above the
/// origin; the lowest point is on the bed. Lengths in mm, on the grid.
#[derive(Debug)]
pub struct Levelled {
    /// Its closed mesh.
    pub mesh: Mesh,
    /// The same for the kernel.
    pub(crate) solid: KernelSolid,
    /// The outline of the worked face.
    pub face: Region,
    /// The extent of that face.
    pub rect: Rect,
    /// The outline of what lies flat on the bed, as it is seen from above; empty where nothing does.
    pub foot: Region,
    /// The outline of all of it as it is seen from above.
    pub silhouette: Region,
    /// Height of the worked face above the bed.
    pub thickness: f64,
    /// Height of its highest point.
    pub top: f64,
    /// How many loose parts it falls into.
    pub parts: usize,
    /// Where it touched itself along a mere edge and was parted.
    pub partings: Partings,
    /// Its extent along all three axes.
    pub extent: [f64; 3],
}

/// The share of its area that a triangle must show from above to be part of the silhouette.
const EDGE_ON: f64 = 1e-3;

impl Stock {
    /// Which of its flat faces comes nearest to the one a piece names.
    pub fn nearest_face(&self, wanted: WorkedFace) -> usize {
        let distance = |face: &super::FlatFace| {
            let turn = minus(face.normal, wanted.normal);
            dot(turn, turn).sqrt() * 1e6 + (face.level - wanted.level).abs()
        };
        let nearest = self.faces.iter().enumerate();
        nearest.min_by(|a, b| distance(a.1).total_cmp(&distance(b.1))).map_or(0, |(i, _)| i)
    }
}

/// Stock as a blank wants it to stand; `None` where it is larger than half a metre or smaller than a
/// millimetre at the blank's scale.
pub fn level(stock: &Stock, stand: &MeshBlank) -> Option<Levelled> {
    let face = stock.faces.get(stock.nearest_face(stand.face))?;
    let axes = axes(face.normal, stand.turn);
    let turned = |vertex: &[f64; 3]| axes.map(|axis| dot(axis, *vertex) * stand.scale);
    let mut vertices: Vec<[f64; 3]> = stock.mesh.vertices.iter().map(turned).collect();

    // The corners of the face lie exactly level.
    let corners = || face.triangles.iter().flat_map(|t| stock.mesh.triangles[*t as usize]);
    let level = face.level * stand.scale;
    corners().for_each(|i| vertices[i as usize][2] = level);
    let (low, high) = extremes(vertices.iter().copied());
    let extent = minus(high, low);
    let largest = extent.into_iter().fold(0.0, f64::max);
    if !(1.0..=MAX_EXTENT_MM).contains(&largest) {
        return None;
    }
    let (face_low, face_high) = extremes(corners().map(|i| vertices[i as usize]));
    let middle = [0, 1].map(|axis| (face_low[axis] + face_high[axis]) / 2.0);
    let origin = [middle[0], middle[1], low[2]];
    let vertices: Vec<[i32; 3]> =
        vertices.into_iter().map(|vertex| minus(vertex, origin).map(to_grid)).collect();

    let flat = |triangles: &[u32]| outline(triangles, &stock.mesh.triangles, &vertices);
    let face_region = flat(&face.triangles);
    let all: Vec<u32> = (0..stock.mesh.triangles.len() as u32).collect();
    let on_bed = |triangle: &u32| {
        stock.mesh.triangles[*triangle as usize].iter().all(|i| vertices[*i as usize][2] == 0)
    };
    let foot: Vec<u32> = all.iter().copied().filter(on_bed).collect();
    let standing = Mesh {
        vertices: vertices.iter().map(|vertex| vertex.map(from_grid)).collect(),
        triangles: stock.mesh.triangles.clone(),
    };
    // What is seen edge-on adds nothing but a tangle of lines that nearly coincide.
    let looks_up = |triangle: &u32| {
        let normal = standing.normal(standing.triangles[*triangle as usize]);
        normal[2] > EDGE_ON * dot(normal, normal).sqrt()
    };
    let upper: Vec<u32> = all.iter().copied().filter(looks_up).collect();

    let (solid, partings) = KernelSolid::of(&standing)?.parted();
    let mesh = solid.mesh();
    Some(Levelled {
        parts: mesh.parts(),
        partings,
        rect: face_region.bounds()?,
        thickness: from_grid(to_grid(level - low[2])),
        top: from_grid(to_grid(extent[2])),
        extent,
        foot: flat(&foot),
        silhouette: flat(&upper),
        face: face_region,
        mesh,
        solid,
    })
}

impl Kept for Option<Arc<Levelled>> {
    fn bytes(&self) -> usize {
        /// What the kernel and the mesh hold of a triangle, about.
        const OF_A_TRIANGLE: usize = 400;
        self.as_ref().map_or(0, |levelled| OF_A_TRIANGLE * levelled.mesh.triangles.len())
    }
}

impl Levelled {
    /// The least material there is under a part of the worked face, in mm: down to the first hollow, or
    /// to what it stands on.
    pub fn material_under(&self, region: &Region) -> f64 {
        let region = region.intersection(&self.face);
        let Some(bounds) = region.bounds() else { return self.thickness };
        let corners = |triangle: &[u32; 3]| self.mesh.corners(*triangle);
        let is_ceiling = |[a, b, c]: &[[f64; 3]; 3]| {
            let turn = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
            let (xs, ys) = ([a[0], b[0], c[0]], [a[1], b[1], c[1]]);
            let is_right = xs.iter().any(|x| *x > bounds.x0) && xs.iter().any(|x| *x < bounds.x1);
            let is_level = ys.iter().any(|y| *y > bounds.y0) && ys.iter().any(|y| *y < bounds.y1);
            turn < 0.0 && is_right && is_level && a[2].min(b[2]).min(c[2]) < self.thickness
        };
        let mut ceilings: Vec<[[f64; 3]; 3]> =
            self.mesh.triangles.iter().map(corners).filter(is_ceiling).collect();
        let highest =
            |corners: &[[f64; 3]; 3]| corners.map(|c| c[2]).into_iter().fold(0.0, f64::max);
        ceilings.sort_by(|a, b| highest(b).total_cmp(&highest(a)));
        let mut nearest: f64 = 0.0;
        for [a, b, c] in ceilings {
            if highest(&[a, b, c]) <= nearest {
                break;
            }
            let ring = [a, c, b].map(|p| GridPoint::new(to_grid(p[0]), to_grid(p[1])));
            let shared = Region::resolve(&[ring.to_vec()]).intersection(&region);
            for point in shared.contours().iter().flatten() {
                let height = height_at((from_grid(point.x), from_grid(point.y)), [a, b, c]);
                nearest = nearest.max(height.min(self.thickness));
            }
        }
        self.thickness - nearest
    }
}

/// The height of a triangle's plane at a point within it, by barycentric coordinates.
fn height_at((x, y): (f64, f64), [a, b, c]: [[f64; 3]; 3]) -> f64 {
    let double = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
    let of_b = ((x - a[0]) * (c[1] - a[1]) - (y - a[1]) * (c[0] - a[0])) / double;
    let of_c = ((b[0] - a[0]) * (y - a[1]) - (b[1] - a[1]) * (x - a[0])) / double;
    a[2] + of_b * (b[2] - a[2]) + of_c * (c[2] - a[2])
}

/// The directions that become right, up and above where a direction is to look up, turned about it
/// in degrees. What was upright stays so; seen from above or below, y stays up.
pub(super) fn axes(normal: [f64; 3], turn: f64) -> [[f64; 3]; 3] {
    const LEVEL: f64 = 0.9;
    let up = if normal[2].abs() > LEVEL { [0.0, 1.0, 0.0] } else { [0.0, 0.0, 1.0] };
    let share = dot(up, normal);
    let along = minus(up, normal.map(|part| part * share));
    let length = dot(along, along).sqrt();
    let along = along.map(|part| part / length);
    let right = cross(along, normal);
    let (sine, cosine) = match turn.rem_euclid(360.0) {
        0.0 => (0.0, 1.0),
        90.0 => (1.0, 0.0),
        180.0 => (0.0, -1.0),
        270.0 => (-1.0, 0.0),
        turn => turn.to_radians().sin_cos(),
    };
    let mix = |a: f64, b: f64| [0, 1, 2].map(|i| a * right[i] + b * along[i]);
    [mix(cosine, -sine), mix(sine, cosine), normal]
}

/// The outline of some triangles as they are seen from above: what encloses them, without the sides
/// they share.
fn outline(triangles: &[u32], all: &[[u32; 3]], vertices: &[[i32; 3]]) -> Region {
    let mut sides: HashMap<(u32, u32), u32> = HashMap::new();
    for &triangle in triangles {
        let [a, b, c] = all[triangle as usize];
        for side in [(a, b), (b, c), (c, a)] {
            // A side and its reverse take each other away.
            match sides.get_mut(&(side.1, side.0)) {
                Some(count) if *count > 0 => *count -= 1,
                _ => *sides.entry(side).or_insert(0) += 1,
            }
        }
    }
    let mut onwards: HashMap<u32, Vec<u32>> = HashMap::new();
    for ((from, to), count) in sides {
        (0..count).for_each(|_| onwards.entry(from).or_default().push(to));
    }
    let mut starts: Vec<u32> = onwards.keys().copied().collect();
    starts.sort_unstable();
    onwards.values_mut().for_each(|ends| ends.sort_unstable());
    let mut contours: Vec<Vec<GridPoint>> = Vec::new();
    for start in starts {
        while onwards.get(&start).is_some_and(|ends| !ends.is_empty()) {
            let mut contour = Vec::new();
            let mut at = start;
            while let Some(next) = onwards.get_mut(&at).and_then(Vec::pop) {
                let [x, y, _] = vertices[at as usize];
                contour.push(GridPoint::new(x, y));
                at = next;
            }
            contours.push(contour);
        }
    }
    Region::resolve(&contours)
}
