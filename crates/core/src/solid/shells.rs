//! The separate surfaces of a mesh, what each encloses, and how often it is surrounded by the others.

use super::groups::Groups;
use super::{Mesh, cross, dot, extremes, minus};
use std::collections::HashMap;

/// How many points of a shell are looked at to tell what surrounds it: the middles of its largest
/// triangles. More than one, since a middle may lie on another shell.
const SAMPLES: usize = 3;

/// The most triangles that are looked at, all shells together; a file could be made of nothing but
/// shells that lie in each other. What is beyond is taken for surrounded by nothing.
const MOST_VISITS: usize = 100_000_000;

/// What encloses less than this share of the cube around it is rounding, not volume.
const NO_VOLUME: f64 = 1e-12;

/// A separate surface: triangles that hang together by their edges.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Shell {
    /// Volume in mm³; negative where it is turned inwards, as around a hollow.
    pub volume: f64,
    /// Whether it encloses anything at all.
    pub is_empty: bool,
    /// How many of the other shells lie around it, those turned inwards taken off.
    pub around: i32,
}

/// The shells of a mesh, and which of them each triangle belongs to. How often each is surrounded can
/// only be told of closed surfaces.
pub(super) fn shells(mesh: &Mesh, groups: &mut Groups, is_closed: bool) -> (Vec<Shell>, Vec<u32>) {
    let mut places: HashMap<u32, u32> = HashMap::new();
    let count = mesh.triangles.len() as u32;
    let of_triangle: Vec<u32> = (0..count)
        .map(|triangle| {
            let next = places.len() as u32;
            *places.entry(groups.root(triangle)).or_insert(next)
        })
        .collect();
    let mut found = vec![Found::default(); places.len()];
    for (triangle, shell) in mesh.triangles.iter().zip(&of_triangle) {
        found[*shell as usize].take_in(mesh.corners(*triangle));
    }
    let around = if is_closed && found.len() > 1 {
        surrounded(mesh, &of_triangle, &found)
    } else {
        vec![0; found.len()]
    };
    let shells = found.iter().zip(around).map(|(found, around)| {
        let extent = minus(found.high, found.low).into_iter().fold(0.0, f64::max);
        let is_empty = found.volume.abs() <= NO_VOLUME * extent.powi(3);
        Shell { volume: found.volume, is_empty, around }
    });
    (shells.collect(), of_triangle)
}

/// A shell on the way.
#[derive(Clone)]
struct Found {
    volume: f64,
    /// The first corner, which volumes are summed from so that far from the origin nothing is lost.
    origin: Option<[f64; 3]>,
    low: [f64; 3],
    high: [f64; 3],
    /// The middles of its largest triangles, with the square of their size.
    samples: [(f64, [f64; 3]); SAMPLES],
}

impl Default for Found {
    fn default() -> Self {
        Found {
            volume: 0.0,
            origin: None,
            low: [f64::INFINITY; 3],
            high: [f64::NEG_INFINITY; 3],
            samples: [(-1.0, [0.0; 3]); SAMPLES],
        }
    }
}

impl Found {
    fn take_in(&mut self, corners @ [a, b, c]: [[f64; 3]; 3]) {
        let origin = *self.origin.get_or_insert(a);
        let normal = cross(minus(b, a), minus(c, a));
        self.volume += dot(minus(a, origin), normal) / 6.0;
        let (low, high) = extremes(corners.into_iter());
        self.low = [0, 1, 2].map(|axis| self.low[axis].min(low[axis]));
        self.high = [0, 1, 2].map(|axis| self.high[axis].max(high[axis]));
        let size = dot(normal, normal);
        if let Some(place) = self.samples.iter().position(|(known, _)| size > *known) {
            let middle = [0, 1, 2].map(|axis| (a[axis] + b[axis] + c[axis]) / 3.0);
            self.samples[place..].rotate_right(1);
            self.samples[place] = (size, middle);
        }
    }
}

/// How many others lie around each shell: the winding number of all others at a point of it, counted
/// along a ray in the direction of x; of several points, the one in the middle.
fn surrounded(mesh: &Mesh, of_triangle: &[u32], found: &[Found]) -> Vec<i32> {
    let rows = Rows::of(mesh);
    let mut visits = 0;
    let around = |(shell, found): (usize, &Found)| {
        let mut counts = found.samples.map(|(_, point)| {
            let mut winding = 0;
            for &triangle in rows.along(point) {
                visits += 1;
                if visits > MOST_VISITS {
                    return 0;
                }
                if of_triangle[triangle as usize] as usize != shell {
                    winding += crossing(mesh, mesh.triangles[triangle as usize], point);
                }
            }
            winding
        });
        counts.sort_unstable();
        counts[SAMPLES / 2]
    };
    found.iter().enumerate().map(around).collect()
}

/// What a ray from a point in the direction of x gains by a triangle: 1 where it leaves, −1 where it
/// enters, 0 where it misses. Both triangles at an edge judge it alike, so that a closed surface has no
/// gaps for a ray to slip through.
fn crossing(mesh: &Mesh, triangle: [u32; 3], [x, y, z]: [f64; 3]) -> i32 {
    let place = |i: u32| mesh.vertices[i as usize];
    let mut is_hit = false;
    for side in 0..3 {
        let (a, b) = (triangle[side], triangle[(side + 1) % 3]);
        let [[_, ay, az], [_, by, bz]] = [place(a.min(b)), place(a.max(b))];
        if (az > z) != (bz > z) {
            is_hit ^= y < ay + (z - az) * (by - ay) / (bz - az);
        }
    }
    let normal = mesh.normal(triangle);
    if !is_hit || normal[0] == 0.0 {
        return 0;
    }
    let corners = mesh.corners(triangle);
    let at = corners[0];
    let plane = at[0] - ((y - at[1]) * normal[1] + (z - at[2]) * normal[2]) / normal[0];
    let xs = corners.map(|corner| corner[0]);
    let low = xs.into_iter().fold(f64::INFINITY, f64::min);
    let high = xs.into_iter().fold(f64::NEG_INFINITY, f64::max);
    if plane.clamp(low, high) > x { normal[0].signum() as i32 } else { 0 }
}

/// Triangles by the fields of a grid across x which they reach into.
struct Rows {
    low: [f64; 2],
    field: [f64; 2],
    across: usize,
    /// Where the triangles of each field begin, one more than there are fields.
    begins: Vec<u32>,
    triangles: Vec<u32>,
}

impl Rows {
    /// As fine as the number of triangles is worth, and coarser where that would put long ones into very
    /// many fields.
    fn of(mesh: &Mesh) -> Self {
        const PER_TRIANGLE: usize = 16;
        let (mut low, mut high) = ([f64::INFINITY; 2], [f64::NEG_INFINITY; 2]);
        for vertex in &mesh.vertices {
            for axis in 0..2 {
                low[axis] = low[axis].min(vertex[axis + 1]);
                high[axis] = high[axis].max(vertex[axis + 1]);
            }
        }
        let mut across = ((mesh.triangles.len() as f64).sqrt() as usize).clamp(1, 512);
        loop {
            let field = [0, 1].map(|axis| (high[axis] - low[axis]) / across as f64);
            let rows = Rows { low, field, across, begins: Vec::new(), triangles: Vec::new() };
            let reach = |triangle: &[u32; 3]| rows.reach(mesh.corners(*triangle));
            let entries: usize =
                mesh.triangles.iter().map(reach).map(|[y, z]| y.len() * z.len()).sum();
            if across == 1 || entries <= PER_TRIANGLE * mesh.triangles.len() {
                return rows.filled(mesh);
            }
            across /= 2;
        }
    }

    fn filled(mut self, mesh: &Mesh) -> Self {
        let fields = |triangle: &[u32; 3]| {
            let [ys, zs] = self.reach(mesh.corners(*triangle));
            let across = self.across;
            zs.flat_map(move |z| ys.clone().map(move |y| z * across + y))
        };
        let mut begins = vec![0u32; self.across * self.across + 1];
        mesh.triangles.iter().flat_map(fields).for_each(|field| begins[field + 1] += 1);
        for field in 1..begins.len() {
            begins[field] += begins[field - 1];
        }
        let mut next = begins.clone();
        let mut triangles = vec![0; *begins.last().unwrap_or(&0) as usize];
        for (i, triangle) in mesh.triangles.iter().enumerate() {
            for field in fields(triangle) {
                triangles[next[field] as usize] = i as u32;
                next[field] += 1;
            }
        }
        (self.begins, self.triangles) = (begins, triangles);
        self
    }

    /// The fields along y and along z a triangle reaches into.
    fn reach(&self, corners: [[f64; 3]; 3]) -> [std::ops::Range<usize>; 2] {
        [0, 1].map(|axis| {
            let along = corners.map(|corner| self.place(axis, corner[axis + 1]));
            along.into_iter().min().unwrap_or(0)..along.into_iter().max().unwrap_or(0) + 1
        })
    }

    fn place(&self, axis: usize, figure: f64) -> usize {
        // A flat extent gives no number, which becomes 0.
        (((figure - self.low[axis]) / self.field[axis]) as usize).min(self.across - 1)
    }

    /// The triangles a ray in the direction of x from a point may meet.
    fn along(&self, [_, y, z]: [f64; 3]) -> &[u32] {
        let field = self.place(1, z) * self.across + self.place(0, y);
        &self.triangles[self.begins[field] as usize..self.begins[field + 1] as usize]
    }
}
