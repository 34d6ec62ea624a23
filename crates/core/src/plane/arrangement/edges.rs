//! The edges of many outlines, split until they meet only in end points.

use super::{ArrangementError, Line};
use crate::halt::{heed, heed_at, sort_heeding};
use crate::plane::{GridPoint, Region};

/// Owner of an edge that is a mere line and bounds nothing.
const LINE: u32 = u32::MAX;

/// An edge and one of those it belongs to.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
struct Record {
    a: GridPoint,
    b: GridPoint,
    owner: u32,
    /// Whether it has yet to be held against the others.
    is_fresh: bool,
}

/// Undirected edges with the footprints whose boundary they are part of, and lines. An edge that
/// bounds one footprint twice does not bound it at all.
#[derive(Debug, Clone, Default)]
pub(super) struct EdgeSet {
    records: Vec<Record>,
}

/// One edge, from the smaller to the larger end, and the footprints it bounds; none for a line.
pub(super) struct Edge {
    pub a: GridPoint,
    pub b: GridPoint,
    pub bounds: Vec<u32>,
}

impl EdgeSet {
    pub(super) fn add_outline(&mut self, footprint: usize, region: &Region) {
        for contour in region.contours() {
            for (&a, &b) in contour.iter().zip(contour.iter().cycle().skip(1)) {
                self.add(a, b, footprint as u32);
            }
        }
    }

    pub(super) fn add_side(&mut self, footprint: usize, [a, b]: Line) {
        self.add(a, b, footprint as u32);
    }

    pub(super) fn add_line(&mut self, [a, b]: Line) {
        self.add(a, b, LINE);
    }

    fn add(&mut self, a: GridPoint, b: GridPoint, owner: u32) {
        if a != b {
            self.records.push(Record { a: a.min(b), b: a.max(b), owner, is_fresh: true });
        }
    }

    /// Splits edges until they meet only in end points; those that did so before are held against new ones only. Rounding a crossing to the grid moves the
    /// pieces by less than a step, which could make new crossings one after the other along edges that
    /// nearly lie on each other; so an edge is drawn to every end within half a step of it (snap rounding:
    /// J. D. Hobby, "Practical segment intersection with finite precision output", 1999), and a few
    /// rounds settle all.
    pub(super) fn resolve(&mut self) -> Result<(), ArrangementError> {
        const ROUNDS: usize = 48;
        for _ in 0..ROUNDS {
            heed();
            self.cancel();
            heed();
            let edges = self.segments();
            let cuts = crossings(&edges, Meeting::WithinHalfAStep);
            if cuts.is_empty() {
                self.records.iter_mut().for_each(|record| record.is_fresh = false);
                return Ok(());
            }
            heed();
            self.cut(&cuts);
        }
        Err(ArrangementError::Unresolved)
    }

    /// The edges, if they meet only in end points without being split.
    pub(super) fn unsplit(mut self) -> Option<Vec<Edge>> {
        let all = self.records.len();
        self.cancel();
        let is_so =
            self.records.len() == all && crossings(&self.segments(), Meeting::Exactly).is_empty();
        is_so.then(|| self.edges())
    }

    /// Sorts the records and drops what bounds the same footprint twice.
    fn cancel(&mut self) {
        sort_heeding(&mut self.records);
        let mut kept = 0;
        let mut at = 0;
        while at < self.records.len() {
            let first = self.records[at];
            let same = |record: &Record| {
                (record.a, record.b, record.owner) == (first.a, first.b, first.owner)
            };
            let count = self.records[at..].iter().take_while(|record| same(record)).count();
            let is_fresh = self.records[at..at + count].iter().any(|record| record.is_fresh);
            if first.owner == LINE || count % 2 == 1 {
                self.records[kept] = Record { is_fresh, ..first };
                kept += 1;
            }
            at += count;
        }
        self.records.truncate(kept);
    }

    /// The different edges, the records being sorted.
    fn segments(&self) -> Vec<Segment> {
        let same = self.records.chunk_by(|p, q| (p.a, p.b) == (q.a, q.b));
        let segment = |same: &[Record]| Segment {
            a: same[0].a,
            b: same[0].b,
            is_fresh: same.iter().any(|record| record.is_fresh),
        };
        same.map(segment).collect()
    }

    /// Cuts edges, given by their place among the different ones, at points.
    fn cut(&mut self, cuts: &[(u32, GridPoint)]) {
        let mut all = Vec::with_capacity(self.records.len() + 2 * cuts.len());
        let mut cuts = cuts.chunk_by(|p, q| p.0 == q.0).peekable();
        let edges = self.records.chunk_by(|p, q| (p.a, p.b) == (q.a, q.b));
        for (place, same) in edges.enumerate() {
            let here = cuts.next_if(|cuts| cuts[0].0 as usize == place);
            for record in same {
                let Some(points) = here else {
                    all.push(Record { is_fresh: false, ..*record });
                    continue;
                };
                let stops = points.iter().map(|(_, point)| *point).chain([record.b]);
                stops.fold(record.a, |from, to| {
                    if from != to {
                        let (a, b) = (from.min(to), from.max(to));
                        all.push(Record { a, b, owner: record.owner, is_fresh: true });
                    }
                    to
                });
            }
        }
        self.records = all;
    }

    /// The edges, sorted by their ends, once they are resolved.
    pub(super) fn edges(&self) -> Vec<Edge> {
        let same = self.records.chunk_by(|p, q| (p.a, p.b) == (q.a, q.b));
        same.map(|same| Edge {
            a: same[0].a,
            b: same[0].b,
            bounds: same.iter().map(|record| record.owner).filter(|one| *one != LINE).collect(),
        })
        .collect()
    }
}

/// Whether edges of a region meet other than in their ends, or lie on each other.
pub(in crate::plane) fn meets_itself(region: &Region) -> bool {
    let mut edges = EdgeSet::default();
    edges.add_outline(0, region);
    edges.unsplit().is_none()
}

#[derive(Clone, Copy)]
struct Segment {
    a: GridPoint,
    b: GridPoint,
    is_fresh: bool,
}

/// Twice the signed area of a triangle: positive where `c` lies left of the line from `a` to `b`.
pub(super) fn turn(a: GridPoint, b: GridPoint, c: GridPoint) -> i64 {
    let (ax, ay) = (i64::from(a.x), i64::from(a.y));
    (i64::from(b.x) - ax) * (i64::from(c.y) - ay) - (i64::from(b.y) - ay) * (i64::from(c.x) - ax)
}

fn distance_squared(a: GridPoint, b: GridPoint) -> i64 {
    let (dx, dy) = (i64::from(b.x) - i64::from(a.x), i64::from(b.y) - i64::from(a.y));
    dx * dx + dy * dy
}

/// When an edge meets the end of another.
#[derive(Clone, Copy, PartialEq, Eq)]
enum Meeting {
    /// Where the end lies on it.
    Exactly,
    /// Where it runs through the square of a grid step around the end.
    WithinHalfAStep,
}

/// The points at which edges must be cut, by edge and along it.
fn crossings(edges: &[Segment], meeting: Meeting) -> Vec<(u32, GridPoint)> {
    let mut cuts: Vec<(u32, GridPoint)> = Vec::new();
    for_neighbours(edges, |i, j| {
        let (Segment { a, b, .. }, Segment { a: c, b: d, .. }) =
            (edges[i as usize], edges[j as usize]);
        let off_one = [turn(a, b, c), turn(a, b, d)];
        let off_other = [turn(c, d, a), turn(c, d, b)];
        let are_apart = |[p, q]: [i64; 2]| p.signum() * q.signum() < 0;
        let mut cut = |edge: u32, point: GridPoint| {
            let Segment { a, b, .. } = edges[edge as usize];
            if point != a && point != b {
                cuts.push((edge, point));
            }
        };
        if are_apart(off_one) && are_apart(off_other) {
            let point = crossing_point(a, b, c, d);
            cut(i, point);
            cut(j, point);
        }
        for (edge, off, point) in
            [(i, off_one[0], c), (i, off_one[1], d), (j, off_other[0], a), (j, off_other[1], b)]
        {
            if edges[edge as usize].meets(point, off, meeting) {
                cut(edge, point);
            }
        }
    });
    let along = |(edge, point): &(u32, GridPoint)| {
        (*edge, distance_squared(edges[*edge as usize].a, *point), *point)
    };
    cuts.sort_unstable_by_key(along);
    cuts.dedup();
    cuts
}

impl Segment {
    /// Whether it runs by a point, `off` being twice the area of the triangle the point makes with it.
    fn meets(&self, point: GridPoint, off: i64, meeting: Meeting) -> bool {
        let across = i64::from(self.b.x) - i64::from(self.a.x);
        let up = i64::from(self.b.y) - i64::from(self.a.y);
        let is_by = match meeting {
            Meeting::Exactly => off == 0,
            Meeting::WithinHalfAStep => 2 * off.abs() <= across.abs() + up.abs(),
        };
        let from = i64::from(point.x) - i64::from(self.a.x);
        let above = i64::from(point.y) - i64::from(self.a.y);
        let along = || from * across + above * up;
        is_by && (0..=across * across + up * up).contains(&along())
    }
}

/// Where two edges that properly cross do so, rounded to the grid.
fn crossing_point(a: GridPoint, b: GridPoint, c: GridPoint, d: GridPoint) -> GridPoint {
    let near = i128::from(turn(c, d, a)).abs();
    let far = i128::from(turn(c, d, b)).abs();
    let along = |from: i32, to: i32| {
        let step = i128::from(to) - i128::from(from);
        let (numerator, denominator) = (2 * step * near + near + far, 2 * (near + far));
        (i128::from(from) + numerator.div_euclid(denominator)) as i32
    };
    GridPoint::new(along(a.x, b.x), along(a.y, b.y))
}

/// Calls for every pair of edges whose boxes come within a step and of which one is fresh. Pairs are found on a coarse
/// lattice, each edge being in the buckets it runs through, so that the cost grows with the number of
/// edges and not with its square.
fn for_neighbours(edges: &[Segment], mut found: impl FnMut(u32, u32)) {
    let Some(lattice) = Lattice::of(edges) else { return };
    let mut first = vec![0u32; lattice.buckets() + 1];
    for (at, edge) in edges.iter().enumerate() {
        heed_at(at);
        lattice.for_buckets(edge, |bucket| first[bucket + 1] += 1);
    }
    for bucket in 0..lattice.buckets() {
        first[bucket + 1] += first[bucket];
    }
    let mut fill = first.clone();
    let mut members = vec![0u32; first[lattice.buckets()] as usize];
    for (index, edge) in edges.iter().enumerate() {
        heed_at(index);
        lattice.for_buckets(edge, |bucket| {
            members[fill[bucket] as usize] = index as u32;
            fill[bucket] += 1;
        });
    }
    let mut met_by = vec![u32::MAX; edges.len()];
    for (i, one) in edges.iter().enumerate().filter(|(_, one)| one.is_fresh) {
        heed_at(i);
        let (low, high) = (one.a.y.min(one.b.y) - 1, one.a.y.max(one.b.y) + 1);
        lattice.for_buckets(one, |bucket| {
            for &j in &members[first[bucket] as usize..first[bucket + 1] as usize] {
                let other = &edges[j as usize];
                // Of two fresh ones, the first finds the second.
                let is_found = other.is_fresh && j as usize <= i;
                if is_found || std::mem::replace(&mut met_by[j as usize], i as u32) == i as u32 {
                    continue;
                }
                let is_beside = other.a.x > one.b.x + 1 || one.a.x > other.b.x + 1;
                if !is_beside && other.a.y.min(other.b.y) <= high && low <= other.a.y.max(other.b.y)
                {
                    found(i as u32, j);
                }
            }
        });
    }
}

/// Square buckets over the extent of some edges.
struct Lattice {
    x: i64,
    y: i64,
    pitch: i64,
    columns: i64,
    rows: i64,
}

impl Lattice {
    fn of(edges: &[Segment]) -> Option<Self> {
        let x = i64::from(edges.iter().map(|edge| edge.a.x).min()?);
        let right = i64::from(edges.iter().map(|edge| edge.b.x).max()?);
        let ys = || edges.iter().flat_map(|edge| [edge.a.y, edge.b.y]);
        let (y, top) = (i64::from(ys().min()?), i64::from(ys().max()?));
        let side = ((edges.len() as f64).sqrt().ceil() as i64).clamp(1, 1024);
        let pitch = ((right - x).max(top - y) / side + 1).max(1);
        Some(Lattice { x, y, pitch, columns: (right - x) / pitch + 1, rows: (top - y) / pitch + 1 })
    }

    fn buckets(&self) -> usize {
        (self.columns * self.rows) as usize
    }

    /// The buckets an edge runs through or by within a step, column by column.
    fn for_buckets(&self, edge: &Segment, mut found: impl FnMut(usize)) {
        let [ax, bx] = [edge.a.x, edge.b.x].map(|x| i64::from(x) - self.x);
        let [ay, by] = [edge.a.y, edge.b.y].map(|y| i64::from(y) - self.y);
        let low = (ay.min(by) - 1).max(0);
        let high = (ay.max(by) + 1).min(self.rows * self.pitch - 1);
        let slope = if bx > ax { (by - ay) as f64 / (bx - ax) as f64 } else { 0.0 };
        let last = (bx + 1).min(self.columns * self.pitch - 1);
        for column in (ax - 1).max(0) / self.pitch..=last / self.pitch {
            let (from, to) = if bx > ax {
                let left = (column * self.pitch).max(ax);
                let right = ((column + 1) * self.pitch).min(bx);
                let at = |x: i64| ay + (slope * (x - ax) as f64) as i64;
                let (p, q) = (at(left), at(right));
                // Two steps more at both ends cover the rounding and the step.
                ((p.min(q) - 2).max(low), (p.max(q) + 2).min(high))
            } else {
                (low, high)
            };
            for row in from / self.pitch..=to / self.pitch {
                found((column * self.rows + row) as usize);
            }
        }
    }
}
