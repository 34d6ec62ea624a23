//! The edges of many outlines, split until they meet only in end points.

use super::{ArrangementError, Line};
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
#[derive(Default)]
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

    pub(super) fn add_line(&mut self, [a, b]: Line) {
        self.add(a, b, LINE);
    }

    fn add(&mut self, a: GridPoint, b: GridPoint, owner: u32) {
        if a != b {
            self.records.push(Record { a: a.min(b), b: a.max(b), owner, is_fresh: true });
        }
    }

    /// Splits edges until they meet only in end points. Rounding a crossing to the grid moves the
    /// pieces by less than a step, which can make new crossings; a few rounds settle them.
    pub(super) fn resolve(mut self) -> Result<Vec<Edge>, ArrangementError> {
        const ROUNDS: usize = 48;
        for _ in 0..ROUNDS {
            self.cancel();
            let edges = self.segments();
            let cuts = crossings(&edges);
            if cuts.is_empty() {
                return Ok(self.edges());
            }
            self.cut(&cuts);
        }
        Err(ArrangementError::Unresolved)
    }

    /// Sorts the records and drops what bounds the same footprint twice.
    fn cancel(&mut self) {
        self.records.sort_unstable();
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

    fn edges(&self) -> Vec<Edge> {
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
    let all = edges.records.len();
    edges.cancel();
    edges.records.len() != all || !crossings(&edges.segments()).is_empty()
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

/// The points at which edges must be cut, by edge and along it.
fn crossings(edges: &[Segment]) -> Vec<(u32, GridPoint)> {
    let mut cuts: Vec<(u32, GridPoint)> = Vec::new();
    for_neighbours(edges, |i, j| {
        let (Segment { a, b, .. }, Segment { a: c, b: d, .. }) =
            (edges[i as usize], edges[j as usize]);
        let (c_side, d_side) = (turn(a, b, c).signum(), turn(a, b, d).signum());
        if c_side == d_side && c_side != 0 {
            return;
        }
        let (a_side, b_side) = (turn(c, d, a).signum(), turn(c, d, b).signum());
        if a_side == b_side && a_side != 0 {
            return;
        }
        let mut cut = |edge: u32, point: GridPoint| {
            let Segment { a, b, .. } = edges[edge as usize];
            if point != a && point != b {
                cuts.push((edge, point));
            }
        };
        if c_side * d_side < 0 && a_side * b_side < 0 {
            let point = crossing_point(a, b, c, d);
            cut(i, point);
            cut(j, point);
            return;
        }
        for (edge, side, point) in [(i, c_side, c), (i, d_side, d), (j, a_side, a), (j, b_side, b)]
        {
            if side == 0 && within(edges[edge as usize], point) {
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

/// Whether a point that is collinear with an edge lies between its ends.
fn within(Segment { a, b, .. }: Segment, p: GridPoint) -> bool {
    let between = |low: i32, high: i32, v: i32| (low.min(high)..=low.max(high)).contains(&v);
    between(a.x, b.x, p.x) && between(a.y, b.y, p.y)
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

/// Calls for every pair of edges whose boxes meet and of which one is fresh. Pairs are found on a coarse
/// lattice, each edge being in the buckets it runs through, so that the cost grows with the number of
/// edges and not with its square.
fn for_neighbours(edges: &[Segment], mut found: impl FnMut(u32, u32)) {
    let Some(lattice) = Lattice::of(edges) else { return };
    let mut first = vec![0u32; lattice.buckets() + 1];
    for edge in edges {
        lattice.for_buckets(edge, |bucket| first[bucket + 1] += 1);
    }
    for bucket in 0..lattice.buckets() {
        first[bucket + 1] += first[bucket];
    }
    let mut fill = first.clone();
    let mut members = vec![0u32; first[lattice.buckets()] as usize];
    for (index, edge) in edges.iter().enumerate() {
        lattice.for_buckets(edge, |bucket| {
            members[fill[bucket] as usize] = index as u32;
            fill[bucket] += 1;
        });
    }
    let mut met_by = vec![u32::MAX; edges.len()];
    for (i, one) in edges.iter().enumerate() {
        let (x, y) = ((one.a.x, one.b.x), (one.a.y.min(one.b.y), one.a.y.max(one.b.y)));
        lattice.for_buckets(one, |bucket| {
            for &j in &members[first[bucket] as usize..first[bucket + 1] as usize] {
                let other = &edges[j as usize];
                let is_new = j as usize > i && met_by[j as usize] != i as u32;
                if !is_new || !(one.is_fresh || other.is_fresh) {
                    continue;
                }
                met_by[j as usize] = i as u32;
                let (low, high) = (other.a.y.min(other.b.y), other.a.y.max(other.b.y));
                if other.a.x <= x.1 && x.0 <= other.b.x && low <= y.1 && y.0 <= high {
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

    /// The buckets an edge runs through, column by column.
    fn for_buckets(&self, edge: &Segment, mut found: impl FnMut(usize)) {
        let [ax, bx] = [edge.a.x, edge.b.x].map(|x| i64::from(x) - self.x);
        let [ay, by] = [edge.a.y, edge.b.y].map(|y| i64::from(y) - self.y);
        let (low, high) = (ay.min(by), ay.max(by));
        let slope = if bx > ax { (by - ay) as f64 / (bx - ax) as f64 } else { 0.0 };
        for column in ax / self.pitch..=bx / self.pitch {
            let (from, to) = if bx > ax {
                let left = (column * self.pitch).max(ax);
                let right = ((column + 1) * self.pitch).min(bx);
                let at = |x: i64| ay + (slope * (x - ax) as f64) as i64;
                let (p, q) = (at(left), at(right));
                // A step more at both ends covers the rounding.
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
