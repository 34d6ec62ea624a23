//! How thin a finished solid is.
//!
//! From points on its surface (every corner, and points along every edge) the nearest surface that looks the other way is
//! found, through the material. Two that run nearly along each other are a wall or a floor, and so is what lies between an
//! edge that opens inwards (the inside of a corner) and a face outside. Faces that run towards each other are a wedge:
//! that grows thinner to its point by itself, and is none.

use super::{Mesh, cross, dot, minus};
use crate::halt::{heed, heed_at, sort_heeding};
use rustc_hash::FxHashMap;

/// A thin place of a solid.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct ThinWall {
    /// How thick it is there, in mm.
    pub width: f64,
    /// The two points of the surface that are so near to each other.
    pub ends: [[f64; 3]; 2],
}

/// What was found of how thin a solid is.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Thinnest {
    /// The thinnest place that is thinner than it may be, where there is one.
    pub place: Option<ThinWall>,
    /// Whether all of the surface was looked from; a very fine one is only looked from in part.
    pub is_whole: bool,
}

/// Points along an edge lie no further apart than this, in mm.
const PITCH_MM: f64 = 1.0;

/// More points are not looked from.
const MOST_POINTS: usize = 200_000;

/// Faces whose normals lie in one line to so much, as a cosine, run along each other (some 11°).
const ALONG: f64 = 0.98;

/// An edge opens inwards where its faces bend towards each other by more than this, as a sine.
const BENT: f64 = 0.2;

/// Nearer than this is rounding, or where a surface touches itself along a mere edge, in mm.
const HAIR_MM: f64 = 0.01;

/// A point of the surface that is looked from: where it is, which triangles it lies on, and whether it lies on an edge
/// that opens inwards.
struct Seat {
    at: [f64; 3],
    on: [u32; 2],
    opens_inwards: bool,
}

impl Mesh {
    /// The thinnest place whose walls are nearer to each other than what `limit` says for the direction between them (a
    /// unit vector), in mm, and never more than `most`; nothing where there is none. Points that do not count, for a
    /// direction, are passed over.
    pub fn thinnest_wall(
        &self,
        most: f64,
        limit: impl Fn([f64; 3]) -> f64,
        counts: impl Fn([f64; 3], [f64; 3]) -> bool,
    ) -> Thinnest {
        let normals: Vec<[f64; 3]> = self.triangles.iter().map(|t| normal(self, *t)).collect();
        let (seats, is_whole) = self.seats(&normals);
        let near = Cells::of(self, most);
        let mut thinnest: Option<ThinWall> = None;
        for (i, seat) in seats.iter().enumerate() {
            heed_at(i);
            let reach = thinnest.map_or(most, |thin| thin.width);
            near.each(seat.at, |triangle| {
                let out = normals[triangle as usize];
                let corners = self.corners(self.triangles[triangle as usize]);
                // How far its plane lies from the point, on the way out.
                if !(0.0..reach).contains(&dot(minus(corners[0], seat.at), out)) {
                    return;
                }
                let faces = seat.on.map(|on| dot(normals[on as usize], out));
                let is_wall = faces.iter().any(|face| *face < -ALONG);
                let is_corner = seat.opens_inwards && faces.iter().all(|face| *face < -BENT);
                if !(is_wall || is_corner) || seat.on.contains(&triangle) {
                    return;
                }
                let across = nearest_on(corners, seat.at);
                let way = minus(across, seat.at);
                let width = dot(way, way).sqrt();
                if !(HAIR_MM..reach).contains(&width) {
                    return;
                }
                let way = way.map(|part| part / width);
                // Out through that surface, and square to it.
                if dot(way, out) < ALONG || width >= limit(way) {
                    return;
                }
                if !(counts(seat.at, way) && counts(across, way)) {
                    return;
                }
                if thinnest.is_none_or(|thin| width < thin.width) {
                    thinnest = Some(ThinWall { width, ends: [seat.at, across] });
                }
            });
        }
        Thinnest { place: thinnest, is_whole }
    }

    /// The points that are looked from, and whether these are all.
    fn seats(&self, normals: &[[f64; 3]]) -> (Vec<Seat>, bool) {
        // Every edge with each of its triangles.
        let mut sides: Vec<([u32; 2], u32)> = Vec::with_capacity(3 * self.triangles.len());
        for (i, &[a, b, c]) in self.triangles.iter().enumerate() {
            heed_at(i);
            let edges = [(a, b), (b, c), (c, a)];
            sides.extend(edges.map(|(from, to)| ([from.min(to), from.max(to)], i as u32)));
        }
        sort_heeding(&mut sides);
        let mut seats = Vec::new();
        for (i, beside) in sides.chunk_by(|one, other| one.0 == other.0).enumerate() {
            heed_at(i);
            let [from, to] = beside[0].0;
            let on = [beside[0].1, beside[beside.len() - 1].1];
            let [one, other] = on.map(|triangle| normals[triangle as usize]);
            let [a, b] = [from, to].map(|at| self.vertices[at as usize]);
            // Between two triangles of one plane there is no edge.
            if dot(one, other) > 1.0 - 1e-9 {
                continue;
            }
            let middle = |triangle: u32| {
                let corners = self.corners(self.triangles[triangle as usize]);
                [0, 1, 2].map(|i| corners.iter().map(|corner| corner[i]).sum::<f64>() / 3.0)
            };
            // The second face rises over the plane of the first one.
            let rise = dot(minus(middle(on[1]), a), one);
            let bend = cross(one, other);
            let opens_inwards = rise > 0.0 && dot(bend, bend).sqrt() > BENT;
            let long = dot(minus(b, a), minus(b, a)).sqrt();
            let parts = (long / PITCH_MM).ceil().clamp(1.0, 1e4) as usize;
            for part in 0..=parts {
                let share = part as f64 / parts as f64;
                let at = [0, 1, 2].map(|i| a[i] + share * (b[i] - a[i]));
                seats.push(Seat { at, on, opens_inwards });
            }
            if seats.len() > MOST_POINTS {
                return (seats, false);
            }
        }
        (seats, true)
    }
}

/// Which way a triangle looks; nothing of a sliver, whose rounding says as much of that as its surface does.
fn normal(mesh: &Mesh, triangle: [u32; 3]) -> [f64; 3] {
    /// Triangles no higher than this are slivers, in mm.
    const SLIVER_MM: f64 = 0.01;
    let [a, b, c] = mesh.corners(triangle);
    let across = cross(minus(b, a), minus(c, a));
    let double = dot(across, across).sqrt();
    let sides = [minus(b, a), minus(c, b), minus(a, c)];
    let longest = sides.iter().map(|side| dot(*side, *side).sqrt()).fold(0.0, f64::max);
    match double > SLIVER_MM * longest {
        true => across.map(|part| part / double),
        false => [0.0; 3],
    }
}

/// The point of a triangle that is nearest to a point (Ericson, Real-Time Collision Detection, 2005, 5.1.5).
fn nearest_on([a, b, c]: [[f64; 3]; 3], p: [f64; 3]) -> [f64; 3] {
    let along =
        |from: [f64; 3], way: [f64; 3], share: f64| [0, 1, 2].map(|i| from[i] + share * way[i]);
    let (ab, ac, ap) = (minus(b, a), minus(c, a), minus(p, a));
    let (d1, d2) = (dot(ab, ap), dot(ac, ap));
    if d1 <= 0.0 && d2 <= 0.0 {
        return a;
    }
    let bp = minus(p, b);
    let (d3, d4) = (dot(ab, bp), dot(ac, bp));
    if d3 >= 0.0 && d4 <= d3 {
        return b;
    }
    let vc = d1 * d4 - d3 * d2;
    if vc <= 0.0 && d1 >= 0.0 && d3 <= 0.0 {
        return along(a, ab, d1 / (d1 - d3));
    }
    let cp = minus(p, c);
    let (d5, d6) = (dot(ab, cp), dot(ac, cp));
    if d6 >= 0.0 && d5 <= d6 {
        return c;
    }
    let vb = d5 * d2 - d1 * d6;
    if vb <= 0.0 && d2 >= 0.0 && d6 <= 0.0 {
        return along(a, ac, d2 / (d2 - d6));
    }
    let va = d3 * d6 - d5 * d4;
    if va <= 0.0 && d4 - d3 >= 0.0 && d5 - d6 >= 0.0 {
        return along(b, minus(c, b), (d4 - d3) / ((d4 - d3) + (d5 - d6)));
    }
    let whole = va + vb + vc;
    along(along(a, ab, vb / whole), ac, vc / whole)
}

/// Triangles by the cells of a lattice they come near to.
struct Cells {
    pitch: f64,
    reach: f64,
    by_cell: FxHashMap<[i32; 3], Vec<u32>>,
}

impl Cells {
    /// The triangles of a mesh, to be found from no further than `reach` mm.
    fn of(mesh: &Mesh, reach: f64) -> Self {
        /// Where triangles would take up more cells, these are larger.
        const MOST_CELLS: f64 = 2e6;
        let boxes: Vec<[[f64; 3]; 2]> = mesh
            .triangles
            .iter()
            .map(|triangle| {
                let corners = mesh.corners(*triangle);
                let pick = |pick: fn(f64, f64) -> f64, from: f64| {
                    [0, 1, 2].map(|i| corners.iter().map(|c| c[i]).fold(from, pick))
                };
                [pick(f64::min, f64::INFINITY), pick(f64::max, f64::NEG_INFINITY)]
            })
            .collect();
        let mut pitch = (4.0 * reach).max(1.0);
        let cells = |pitch: f64| -> f64 {
            let of = |[low, high]: &[[f64; 3]; 2]| -> f64 {
                (0..3).map(|i| ((high[i] - low[i]) / pitch).floor() + 2.0).product()
            };
            boxes.iter().map(of).sum()
        };
        while cells(pitch) > MOST_CELLS && pitch < 1e4 {
            pitch *= 2.0;
        }
        let mut found = Cells { pitch, reach, by_cell: FxHashMap::default() };
        for (triangle, [low, high]) in boxes.iter().enumerate() {
            let [from, to] = [low, high].map(|corner| corner.map(|mm| found.cell(mm)));
            for x in from[0]..=to[0] {
                heed();
                for y in from[1]..=to[1] {
                    for z in from[2]..=to[2] {
                        found.by_cell.entry([x, y, z]).or_default().push(triangle as u32);
                    }
                }
            }
        }
        found
    }

    fn cell(&self, mm: f64) -> i32 {
        (mm / self.pitch).floor() as i32
    }

    /// Every triangle that may be within reach of a point; some more than once.
    fn each(&self, at: [f64; 3], mut look: impl FnMut(u32)) {
        let [from, to] = [-self.reach, self.reach].map(|by| at.map(|mm| self.cell(mm + by)));
        for x in from[0]..=to[0] {
            for y in from[1]..=to[1] {
                for z in from[2]..=to[2] {
                    let here = self.by_cell.get(&[x, y, z]).into_iter().flatten();
                    here.for_each(|triangle| look(*triangle));
                }
            }
        }
    }
}
