//! Triangle meshes: what they measure, and what is done with them whatever they came from.

use super::groups::Groups;
use crate::halt::heed_often;
use crate::plane::SPECK_MM2;
use rustc_hash::FxHashMap;
use serde::{Deserialize, Serialize};
use std::collections::HashMap;
use std::hash::{Hash, Hasher};

/// A triangle mesh. Seen from outside every triangle turns counter-clockwise.
#[derive(Debug, Clone, Default, PartialEq, Serialize, Deserialize)]
pub struct Mesh {
    /// Positions in mm.
    pub vertices: Vec<[f64; 3]>,
    /// Indices into `vertices`.
    pub triangles: Vec<[u32; 3]>,
}

/// By the bits of its coordinates.
impl Hash for Mesh {
    fn hash<H: Hasher>(&self, hasher: &mut H) {
        self.vertices.len().hash(hasher);
        for vertex in &self.vertices {
            vertex.map(f64::to_bits).hash(hasher);
        }
        self.triangles.hash(hasher);
    }
}

/// What can be measured on a closed mesh.
#[derive(Debug, Clone, Copy, PartialEq, serde::Serialize)]
pub struct Measures {
    /// Volume in mm³; negative where the mesh is inside out.
    pub volume: f64,
    /// Surface in mm².
    pub area: f64,
    /// Lowest x, y and z in mm.
    pub low: [f64; 3],
    /// Highest x, y and z in mm.
    pub high: [f64; 3],
    /// Centre of mass in mm, for even density.
    pub centre_of_mass: [f64; 3],
}

/// What hangs together in a mesh: its volume in mm³, negative for a hollow, and the corners of its box.
struct LoosePart {
    volume: f64,
    low: [f64; 3],
    high: [f64; 3],
}

impl Default for LoosePart {
    fn default() -> Self {
        LoosePart { volume: 0.0, low: [f64::INFINITY; 3], high: [f64::NEG_INFINITY; 3] }
    }
}

impl LoosePart {
    /// Whether it is thinner in section than the specks that outlines are cleared of.
    fn is_dust(&self) -> bool {
        self.volume > 0.0 && self.volume < SPECK_MM2 * (self.high[2] - self.low[2])
    }
}

impl Mesh {
    /// About how many bytes it takes.
    pub(crate) fn bytes(&self) -> usize {
        size_of_val(&*self.vertices) + size_of_val(&*self.triangles)
    }

    /// Welds loose triangles: corners with equal coordinates become one vertex.
    pub fn weld(triangles: &[[[f32; 3]; 3]]) -> Self {
        let mut index: HashMap<[u32; 3], u32> = HashMap::with_capacity(triangles.len() / 2);
        let mut mesh = Mesh::default();
        for triangle in triangles {
            let corners = triangle.map(|corner| {
                // Adding zero makes the two zeros one.
                let key = corner.map(|v| (v + 0.0).to_bits());
                *index.entry(key).or_insert_with(|| {
                    mesh.vertices.push(corner.map(f64::from));
                    mesh.vertices.len() as u32 - 1
                })
            });
            mesh.triangles.push(corners);
        }
        mesh
    }

    /// The same with vertices at one place made one.
    pub fn welded(self) -> Self {
        let mut index: HashMap<[u64; 3], u32> = HashMap::with_capacity(self.vertices.len());
        let mut vertices = Vec::with_capacity(self.vertices.len());
        let place: Vec<u32> = self
            .vertices
            .iter()
            .map(|vertex| {
                let key = vertex.map(|v| (v + 0.0).to_bits());
                *index.entry(key).or_insert_with(|| {
                    vertices.push(*vertex);
                    vertices.len() as u32 - 1
                })
            })
            .collect();
        let triangles = self.triangles.into_iter().map(|t| t.map(|i| place[i as usize])).collect();
        Mesh { vertices, triangles }
    }

    /// Keeps only the vertices that triangles use, in their order.
    pub fn drop_unused_vertices(&mut self) {
        let mut used = vec![false; self.vertices.len()];
        self.triangles.iter().flatten().for_each(|i| used[*i as usize] = true);
        let mut place = Vec::with_capacity(used.len());
        let mut count = 0u32;
        for is_used in &used {
            place.push(count);
            count += u32::from(*is_used);
        }
        let mut used = used.into_iter();
        self.vertices.retain(|_| used.next().unwrap_or(false));
        self.triangles.iter_mut().flatten().for_each(|i| *i = place[*i as usize]);
    }

    /// Takes out triangles whose corners lie in a line: the longest side of each is turned, with the
    /// triangle across it, so that it ends in the corner between. Whether any was found.
    pub(super) fn turn_flat_triangles(&mut self) -> bool {
        let is_flat = |triangle: &[u32; 3]| self.normal(*triangle) == [0.0; 3];
        let flat: Vec<usize> =
            (0..self.triangles.len()).filter(|i| is_flat(&self.triangles[*i])).collect();
        if flat.is_empty() {
            return false;
        }
        let mut sides: HashMap<(u32, u32), usize> =
            HashMap::with_capacity(3 * self.triangles.len());
        for (i, &[a, b, c]) in self.triangles.iter().enumerate() {
            sides.extend([((a, b), i), ((b, c), i), ((c, a), i)]);
        }
        let mut turned = vec![false; self.triangles.len()];
        for i in flat {
            let [a, b, c] = self.triangles[i];
            let length = |[from, to, _]: &[u32; 3]| {
                let along = minus(self.vertices[*to as usize], self.vertices[*from as usize]);
                dot(along, along)
            };
            let around = [[a, b, c], [b, c, a], [c, a, b]];
            let longest = around.into_iter().max_by(|p, q| length(p).total_cmp(&length(q)));
            let Some([from, to, between]) = longest else { continue };
            let Some(&other) = sides.get(&(to, from)) else { continue };
            if turned[i] || turned[other] {
                continue;
            }
            let Some(apex) = self.triangles[other].into_iter().find(|v| *v != from && *v != to)
            else {
                continue;
            };
            (turned[i], turned[other]) = (true, true);
            self.triangles[i] = [from, apex, between];
            self.triangles[other] = [apex, to, between];
        }
        self.triangles.retain(|[a, b, c]| a != b && b != c && c != a);
        self.drop_folds();
        true
    }

    /// Takes out pairs of triangles that lie on each other and look to opposite sides, which turning
    /// leaves where three of them had two corners in common.
    fn drop_folds(&mut self) {
        let sorted = |triangle: &[u32; 3]| {
            let mut corners = *triangle;
            corners.sort_unstable();
            corners
        };
        // Whether the corners go round as they are sorted.
        let is_even = |[a, b, c]: &[u32; 3]| (a < b) as u8 + (b < c) as u8 + (c < a) as u8 == 2;
        let mut known: HashMap<[u32; 3], [usize; 2]> = HashMap::with_capacity(self.triangles.len());
        for triangle in &self.triangles {
            known.entry(sorted(triangle)).or_default()[usize::from(is_even(triangle))] += 1;
        }
        known.retain(|_, [odd, even]| *odd > 0 && *even > 0);
        if known.is_empty() {
            return;
        }
        let mut gone: HashMap<[u32; 3], [usize; 2]> = HashMap::new();
        self.triangles.retain(|triangle| {
            let Some([odd, even]) = known.get(&sorted(triangle)) else { return true };
            let gone =
                &mut gone.entry(sorted(triangle)).or_default()[usize::from(is_even(triangle))];
            *gone += 1;
            *gone > *odd.min(even)
        });
    }

    /// The corners of a triangle.
    pub fn corners(&self, triangle: [u32; 3]) -> [[f64; 3]; 3] {
        triangle.map(|i| self.vertices[i as usize])
    }

    /// The direction a triangle looks to, as long as twice its area.
    pub(crate) fn normal(&self, triangle: [u32; 3]) -> [f64; 3] {
        let [a, b, c] = self.corners(triangle);
        cross(minus(b, a), minus(c, a))
    }

    /// Adds another mesh; vertices at one place stay apart.
    pub fn append(&mut self, other: &Mesh) {
        let first = self.vertices.len() as u32;
        self.vertices.extend(&other.vertices);
        self.triangles.extend(other.triangles.iter().map(|t| t.map(|i| i + first)));
    }

    /// The height of its lowest point in mm; 0 for an empty mesh.
    pub fn lowest(&self) -> f64 {
        self.vertices.iter().map(|vertex| vertex[2]).reduce(f64::min).unwrap_or(0.0)
    }

    /// Moves it up by a height in mm.
    pub fn lift(&mut self, by: f64) {
        if by != 0.0 {
            self.vertices.iter_mut().for_each(|vertex| vertex[2] += by);
        }
    }

    /// Volume, surface, extent and centre of mass.
    ///
    /// Volume and centre are sums over the tetrahedra that each triangle spans with a reference
    /// point (C. Zhang and T. Chen, "Efficient feature extraction for 2D/3D objects in mesh
    /// representation", 2001).
    pub fn measures(&self) -> Measures {
        let (mut low, mut high) = extremes(self.vertices.iter().copied());
        if self.vertices.is_empty() {
            (low, high) = ([0.0; 3], [0.0; 3]);
        }
        let (mut volume, mut area, mut moment) = (0.0, 0.0, [0.0; 3]);
        for &triangle in &self.triangles {
            heed_often();
            let [a, b, c] = self.corners(triangle).map(|corner| minus(corner, low));
            let normal = cross(minus(b, a), minus(c, a));
            let part = dot(a, normal) / 6.0;
            volume += part;
            area += dot(normal, normal).sqrt() / 2.0;
            for axis in 0..3 {
                moment[axis] += part * (a[axis] + b[axis] + c[axis]) / 4.0;
            }
        }
        let centre =
            |axis: usize| low[axis] + if volume == 0.0 { 0.0 } else { moment[axis] / volume };
        Measures { volume, area, low, high, centre_of_mass: [centre(0), centre(1), centre(2)] }
    }

    /// Its volume alone, in mm³, as [`Mesh::measures`] has it.
    pub fn volume(&self) -> f64 {
        let (low, _) = extremes(self.vertices.iter().copied());
        let of_triangle = |triangle: &[u32; 3]| {
            let [a, b, c] = self.corners(*triangle).map(|corner| minus(corner, low));
            dot(a, cross(minus(b, a), minus(c, a))) / 6.0
        };
        self.triangles.iter().map(of_triangle).sum()
    }

    /// Takes away loose parts that are dust, unless it is nothing else, and tells the boxes they lay in: crumbs that
    /// rounding leaves where two outlines almost meet, and that nobody could print.
    pub fn drop_dust(&mut self) -> Vec<([f64; 3], [f64; 3])> {
        let all = self.loose_parts();
        let dust: Vec<u32> =
            all.iter().filter(|(_, part)| part.is_dust()).map(|(root, _)| *root).collect();
        let bodies = all.values().filter(|part| part.volume > 0.0).count();
        if dust.is_empty() || dust.len() == bodies {
            return Vec::new();
        }
        self.keep(|root, _| !dust.contains(&root));
        dust.iter().map(|root| (all[root].low, all[root].high)).collect()
    }

    /// Takes away loose parts that are dust and lie in one of these boxes.
    pub fn drop_dust_in(&mut self, boxes: &[([f64; 3], [f64; 3])]) {
        /// Boxes of the same corners are the same.
        const HAIR_MM: f64 = 1e-6;
        self.keep(|_, part| {
            let is_in = |(low, high): &([f64; 3], [f64; 3])| {
                (0..3).all(|i| part.low[i] > low[i] - HAIR_MM && part.high[i] < high[i] + HAIR_MM)
            };
            !(part.is_dust() && boxes.iter().any(is_in))
        });
    }

    /// Its loose parts but the largest, at most so many, each a mesh of its own.
    pub fn loose_from_largest(&self, most: usize) -> Vec<Mesh> {
        let all = self.loose_parts();
        let mut bodies: Vec<_> = all.iter().filter(|(_, part)| part.volume > 0.0).collect();
        bodies.sort_by(|a, b| b.1.volume.total_cmp(&a.1.volume).then(a.0.cmp(b.0)));
        let others = bodies.iter().skip(1).take(most);
        let place: FxHashMap<u32, usize> =
            others.enumerate().map(|(place, (root, _))| (**root, place)).collect();
        // Each with the vertices it has taken over so far.
        let mut alone: Vec<(Mesh, FxHashMap<u32, u32>)> = vec![Default::default(); place.len()];
        let mut groups = self.groups();
        for triangle in &self.triangles {
            let Some(place) = place.get(&groups.root(triangle[0])) else { continue };
            let (mesh, taken) = &mut alone[*place];
            let own = triangle.map(|vertex| {
                *taken.entry(vertex).or_insert_with(|| {
                    mesh.vertices.push(self.vertices[vertex as usize]);
                    mesh.vertices.len() as u32 - 1
                })
            });
            mesh.triangles.push(own);
        }
        alone.into_iter().map(|(mesh, _)| mesh).collect()
    }

    /// Keeps some of its loose parts.
    fn keep(&mut self, is_kept: impl Fn(u32, &LoosePart) -> bool) {
        let all = self.loose_parts();
        let mut groups = self.groups();
        self.triangles.retain(|triangle| {
            let root = groups.root(triangle[0]);
            is_kept(root, &all[&root])
        });
        self.drop_idle_vertices();
    }

    /// Takes away the vertices of no triangle.
    fn drop_idle_vertices(&mut self) {
        let mut is_used = vec![false; self.vertices.len()];
        for vertex in self.triangles.iter().flatten() {
            is_used[*vertex as usize] = true;
        }
        let mut places = vec![0; self.vertices.len()];
        let mut kept = Vec::new();
        for (vertex, at) in self.vertices.iter().enumerate().filter(|(vertex, _)| is_used[*vertex])
        {
            places[vertex] = kept.len() as u32;
            kept.push(*at);
        }
        for vertex in self.triangles.iter_mut().flatten() {
            *vertex = places[*vertex as usize];
        }
        self.vertices = kept;
    }

    /// Triangles that hang together, by their vertices.
    fn groups(&self) -> Groups {
        let mut groups = Groups::of(self.vertices.len());
        for &[a, b, c] in &self.triangles {
            heed_often();
            groups.join(a, b);
            groups.join(a, c);
        }
        groups
    }

    /// All that hangs together, by the root of its group.
    fn loose_parts(&self) -> FxHashMap<u32, LoosePart> {
        let mut groups = self.groups();
        let mut parts: FxHashMap<u32, LoosePart> = FxHashMap::default();
        for &triangle in &self.triangles {
            heed_often();
            let corners = self.corners(triangle);
            let [a, b, c] = corners;
            let part = parts.entry(groups.root(triangle[0])).or_default();
            part.volume += dot(a, cross(b, c)) / 6.0;
            let (low, high) = extremes(corners.into_iter());
            for i in 0..3 {
                part.low[i] = part.low[i].min(low[i]);
                part.high[i] = part.high[i].max(high[i]);
            }
        }
        parts
    }

    /// How many loose parts the mesh falls into; those that touch in a vertex count as one, and
    /// hollows do not count.
    pub fn parts(&self) -> usize {
        self.loose_parts().values().filter(|part| part.volume > 0.0).count()
    }
}

/// The lowest and the highest coordinates of points; infinite where there are none.
pub(crate) fn extremes(points: impl Iterator<Item = [f64; 3]>) -> ([f64; 3], [f64; 3]) {
    let (mut low, mut high) = ([f64::INFINITY; 3], [f64::NEG_INFINITY; 3]);
    for point in points {
        for axis in 0..3 {
            low[axis] = low[axis].min(point[axis]);
            high[axis] = high[axis].max(point[axis]);
        }
    }
    (low, high)
}

pub(crate) fn minus(a: [f64; 3], b: [f64; 3]) -> [f64; 3] {
    [a[0] - b[0], a[1] - b[1], a[2] - b[2]]
}

pub(crate) fn cross(a: [f64; 3], b: [f64; 3]) -> [f64; 3] {
    [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]]
}

pub(crate) fn dot(a: [f64; 3], b: [f64; 3]) -> f64 {
    a[0] * b[0] + a[1] * b[1] + a[2] * b[2]
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A tetrahedron with three legs along the axes: volume abc/6, centre a quarter along each
    /// (closed form).
    fn corner_tetrahedron() -> Mesh {
        Mesh {
            vertices: vec![[1., 2., 3.], [7., 2., 3.], [1., 6., 3.], [1., 2., 5.]],
            triangles: vec![[0, 2, 1], [0, 1, 3], [0, 3, 2], [1, 2, 3]],
        }
    }

    /// A crumb beside a body goes, a small body of its own stays, and nothing but crumbs stays too.
    #[test]
    fn dust_beside_a_body_is_dropped() {
        let with = |size: f64| {
            let mut mesh = corner_tetrahedron();
            let small = corner_tetrahedron();
            let first = mesh.vertices.len() as u32;
            mesh.vertices.extend(small.vertices.iter().map(|at| at.map(|x| 20.0 + x * size)));
            let more = small.triangles.iter().map(|corners| corners.map(|i| i + first));
            mesh.triangles.extend(more);
            mesh
        };
        // 8 mm³ a thousandth as large each way, and a twentieth.
        let (mut dusty, mut pair) = (with(0.001), with(0.05));
        let boxes = dusty.drop_dust();
        assert_eq!((boxes.len(), &dusty), (1, &corner_tetrahedron()));
        assert_eq!((pair.drop_dust(), pair.parts()), (Vec::new(), 2));
        let [small] = &pair.loose_from_largest(9)[..] else { panic!() };
        assert!(
            (small.volume() - 8.0 * 0.05f64.powi(3)).abs() < 1e-12 && small.faults().is_sound()
        );
        assert!(pair.loose_from_largest(0).is_empty());
        let mut body = with(0.001);
        body.drop_dust_in(&boxes);
        assert_eq!(body, corner_tetrahedron());
        body.drop_dust_in(&[([0.0; 3], [10.0; 3])]);
        assert_eq!(body, corner_tetrahedron(), "what is no dust stays");
        let mut alone = Mesh {
            vertices: corner_tetrahedron()
                .vertices
                .iter()
                .map(|at| at.map(|x| x * 0.001))
                .collect(),
            ..corner_tetrahedron()
        };
        assert_eq!((alone.drop_dust(), alone.parts()), (Vec::new(), 1));
    }

    #[test]
    fn measures_of_a_tetrahedron() {
        let measures = corner_tetrahedron().measures();
        assert!((measures.volume - 6.0 * 4.0 * 2.0 / 6.0).abs() < 1e-12);
        for (found, exact) in measures.centre_of_mass.iter().zip([2.5, 3.0, 3.5]) {
            assert!((found - exact).abs() < 1e-12);
        }
        assert_eq!((measures.low, measures.high), ([1., 2., 3.], [7., 6., 5.]));
    }
}
