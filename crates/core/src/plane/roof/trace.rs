//! Levels and ridges, traced on a skeleton.

use super::skeleton::{Cell, Node, Seam, Site, Skeleton, height_over};
use super::{Roof, Side};
use crate::halt::heed;
use crate::plane::{GRID_PER_MM, GridPoint, Line, Region, Tolerance};

/// A place where a seam passes a level.
struct Crossing {
    level: usize,
    /// Whether the seam, run forwards, goes away from the outline here.
    rises: bool,
    /// Whether the seam runs between an edge and that edge's own end.
    is_own_end: bool,
    at: GridPoint,
    /// The crossing the level goes on to, and the points between.
    next: Option<(u32, Vec<GridPoint>)>,
}

impl Skeleton {
    /// The outline at some distances, in grid steps and rising, with the ridges as far as the last of
    /// them. Arcs follow their circles to the tolerance.
    ///
    /// `None` where the levels do not close, which no outline should come to.
    pub fn roof(&self, distances: &[f64], tolerance: Tolerance) -> Option<Roof> {
        let chord = tolerance.chord_mm() * GRID_PER_MM;
        let mut crossings: Vec<Crossing> = Vec::new();
        // The crossings of every seam, in the order they lie along it.
        let mut of_seam: Vec<(u32, u32)> = Vec::with_capacity(self.seams.len());
        for seam in &self.seams {
            heed();
            let first = crossings.len();
            self.cross(seam, distances, &mut crossings);
            of_seam.push((first as u32, crossings.len() as u32));
        }
        let mut ridges = Vec::new();
        for cell in &self.cells {
            heed();
            self.connect(cell, distances, chord, &of_seam, &mut crossings, &mut ridges);
        }
        let levels = closed(&crossings, distances.len(), self.side == Side::Outside)?;
        for (seam, (from, to)) in self.seams.iter().zip(of_seam) {
            let own = &crossings[from as usize..to as usize];
            self.ridge(seam, own, distances, chord, &mut ridges);
        }
        Some(Roof { levels, ridges })
    }

    /// Finds where a seam passes the levels.
    fn cross(&self, seam: &Seam, distances: &[f64], crossings: &mut Vec<Crossing>) {
        let course = self.course(seam);
        let [from, to] = seam.ends.map(|end| self.nodes[end as usize]);
        let (a, b) = (from.distance, to.distance);
        let least = course.least(from, to);
        let mut found = |level: usize, rises: bool| {
            let at = rounded(course.at(distances[level], rises, from, to));
            let is_own_end = seam.is_own_end;
            crossings.push(Crossing { level, rises, is_own_end, at, next: None });
        };
        // Towards the outline first, then away from it.
        for level in (0..distances.len()).rev() {
            let d = distances[level];
            if a >= d && (b < d || least < d) {
                found(level, false);
            }
        }
        for (level, d) in distances.iter().enumerate() {
            if b >= *d && (a < *d || least < *d) {
                found(level, true);
            }
        }
    }

    /// Joins the crossings on the boundary of a cell: run around it counter-clockwise, a level ends
    /// where the boundary rises through it and starts where next it falls.
    fn connect(
        &self,
        cell: &Cell,
        distances: &[f64],
        chord: f64,
        of_seam: &[(u32, u32)],
        crossings: &mut [Crossing],
        ridges: &mut Vec<Line>,
    ) {
        // For every level where it rose last, and where it fell before it ever rose.
        let mut rose: Vec<Option<u32>> = vec![None; distances.len()];
        let mut fell_first: Vec<Option<u32>> = vec![None; distances.len()];
        let mut pairs: Vec<(u32, u32)> = Vec::new();
        for (seam, is_backwards) in &cell.seams {
            let (from, to) = of_seam[*seam as usize];
            for step in 0..to - from {
                let number = if *is_backwards { to - 1 - step } else { from + step };
                let Crossing { level, rises, .. } = crossings[number as usize];
                if rises != *is_backwards {
                    rose[level] = Some(number);
                } else if let Some(end) = rose[level].take() {
                    pairs.push((number, end));
                } else {
                    fell_first[level] = Some(number);
                }
            }
        }
        for (start, end) in fell_first.into_iter().zip(rose) {
            pairs.extend(start.zip(end));
        }
        for (start, end) in pairs {
            let level = crossings[start as usize].level;
            let between = match cell.site {
                Site::Corner(corner) => {
                    let ends = [start, end].map(|one| crossings[one as usize].at);
                    let (turn, d) = (clockwise(corner, ends), distances[level]);
                    // A corner that hardly turns stays one: its two flanks go on until they meet, which
                    // those of a spike that turns back on itself never do.
                    let is_whole =
                        [start, end].iter().all(|one| crossings[*one as usize].is_own_end);
                    let is_slight =
                        turn < 3.0 && d * (1.0 / (turn / 2.0).cos() - 1.0) <= chord / 4.0;
                    if is_whole && is_slight {
                        let at = on_arc(corner, ends[0], turn / 2.0, d / (turn / 2.0).cos());
                        crossings[start as usize].at = at;
                        crossings[end as usize].at = at;
                        Vec::new()
                    } else {
                        let points = arc(corner, ends[0], turn, d, chord);
                        // From the corner to the nearest arc its cone is a fan.
                        if level == 0 {
                            let spokes = points.iter().chain(&ends);
                            ridges.extend(spokes.map(|point| [rounded(corner), *point]));
                        }
                        points
                    }
                }
                _ => Vec::new(),
            };
            crossings[start as usize].next = Some((end, between));
        }
    }

    /// The ridge along a seam as far as the last level, as lines between the levels.
    fn ridge(
        &self,
        seam: &Seam,
        crossings: &[Crossing],
        distances: &[f64],
        chord: f64,
        ridges: &mut Vec<Line>,
    ) {
        let Some(most) = distances.last() else { return };
        let ends = seam.ends.map(|end| self.nodes[end as usize]);
        let course = self.course(seam);
        let (mut points, mut is_out): (Vec<GridPoint>, Vec<bool>) = (Vec::new(), Vec::new());
        let mut add = |at: GridPoint, is_beyond: bool| {
            points.push(at);
            is_out.push(is_beyond);
        };
        add(rounded(ends[0].at), ends[0].distance > *most);
        crossings.iter().for_each(|crossing| add(crossing.at, false));
        add(rounded(ends[1].at), ends[1].distance > *most);
        for (i, pair) in points.windows(2).enumerate() {
            if is_out[i] || is_out[i + 1] || pair[0] == pair[1] {
                continue;
            }
            let between = course.between(pair[0], pair[1], chord);
            if !seam.is_own_end {
                let met = between.iter().chain(pair);
                met.for_each(|point| self.spokes(seam, *point, distances[0], ridges));
            }
            let stops = between.into_iter().chain([pair[1]]);
            stops.fold(pair[0], |from, to| {
                ridges.push([from, to]);
                to
            });
        }
    }

    /// From the corners a seam belongs to to a point of it that lies before the first level, beyond which
    /// arcs lead round the corner.
    fn spokes(&self, seam: &Seam, point: GridPoint, first: f64, ridges: &mut Vec<Line>) {
        for cell in seam.cells {
            if let Site::Corner(corner) = self.cells[cell as usize].site {
                let (x, y) = (f64::from(point.x) - corner.0, f64::from(point.y) - corner.1);
                if x.hypot(y) < first {
                    ridges.push([rounded(corner), point]);
                }
            }
        }
    }

    fn course(&self, seam: &Seam) -> Course {
        let [one, other] = seam.cells.map(|cell| self.cells[cell as usize].site);
        match (one, other) {
            (Site::Corner(p), Site::Corner(q)) => Course::Between(p, q),
            (Site::Edge(a, b), Site::Corner(p)) | (Site::Corner(p), Site::Edge(a, b))
                if !seam.is_own_end =>
            {
                Course::Parabola { edge: (a, b), focus: p }
            }
            _ => Course::Straight,
        }
    }
}

/// How a seam runs.
enum Course {
    /// Straight, its distance from the outline changing evenly.
    Straight,
    /// Straight, as far from one corner as from another.
    Between((f64, f64), (f64, f64)),
    /// As far from an edge as from a corner.
    Parabola { edge: ((f64, f64), (f64, f64)), focus: (f64, f64) },
}

impl Course {
    /// The least distance from the outline between two nodes.
    fn least(&self, from: Node, to: Node) -> f64 {
        let ends = from.distance.min(to.distance);
        let (along, least) = match self {
            Course::Straight => return ends,
            Course::Between(p, q) => {
                let half = (q.0 - p.0).hypot(q.1 - p.1) / 2.0;
                ([from, to].map(|node| height_over(*p, *q, node.at)), half)
            }
            Course::Parabola { edge: (a, b), focus } => {
                let half = height_over(*a, *b, *focus).abs() / 2.0;
                let at = along_line(*a, *b, *focus);
                ([from, to].map(|node| along_line(*a, *b, node.at) - at), half)
            }
        };
        if along[0] * along[1] < 0.0 { least } else { ends }
    }

    /// The point at a distance from the outline, which lies between two nodes; on the side of the
    /// second one if the seam rises there, of the first if it falls.
    fn at(&self, d: f64, rises: bool, from: Node, to: Node) -> (f64, f64) {
        let far = if rises { to } else { from };
        match self {
            Course::Straight => {
                let share = (d - from.distance) / (to.distance - from.distance);
                let share = if share.is_finite() { share.clamp(0.0, 1.0) } else { 0.0 };
                (
                    from.at.0 + share * (to.at.0 - from.at.0),
                    from.at.1 + share * (to.at.1 - from.at.1),
                )
            }
            Course::Between(p, q) => {
                let (x, y) = ((p.0 + q.0) / 2.0, (p.1 + q.1) / 2.0);
                let (ex, ey) = (q.0 - p.0, q.1 - p.1);
                let length = ex.hypot(ey);
                let off = (d * d - length * length / 4.0).max(0.0).sqrt();
                let off = off.copysign(height_over(*p, *q, far.at));
                (x - off * ey / length, y + off * ex / length)
            }
            Course::Parabola { edge: (a, b), focus } => {
                // A point at the height y over the edge is y from the focus, whose height is q:
                // (u − p)² + (y − q)² = y².
                let q = height_over(*a, *b, *focus).abs();
                let p = along_line(*a, *b, *focus);
                let off = (2.0 * q * d - q * q).max(0.0).sqrt();
                let off = off.copysign(along_line(*a, *b, far.at) - p);
                on_line(*a, *b, p + off, d)
            }
        }
    }

    /// Points between two on the seam, so close that the flank over every line between neighbours, plane
    /// from there to the corner it is as far from, follows that corner's cone to a tolerance.
    fn between(&self, from: GridPoint, to: GridPoint, chord: f64) -> Vec<GridPoint> {
        const MOST: f64 = 64.0;
        let exact = |p: GridPoint| (f64::from(p.x), f64::from(p.y));
        let ends = [exact(from), exact(to)];
        match self {
            Course::Straight => Vec::new(),
            Course::Between(p, q) => {
                // Seen from a corner r away, a line of the length l strays from the circle by l²/8r;
                // none of the seam is nearer than half the way between the corners.
                let r = (q.0 - p.0).hypot(q.1 - p.1) / 2.0;
                let [(ax, ay), (bx, by)] = ends;
                let length = (bx - ax).hypot(by - ay);
                let pieces = (length / (8.0 * r * chord).sqrt()).ceil().clamp(1.0, MOST) as u32;
                let share = |i: u32| f64::from(i) / f64::from(pieces);
                (1..pieces)
                    .map(|i| rounded((ax + share(i) * (bx - ax), ay + share(i) * (by - ay))))
                    .collect()
            }
            Course::Parabola { edge: (a, b), focus } => {
                // The same, no nearer than half the way between the edge and the corner.
                let q = height_over(*a, *b, *focus).abs();
                let p = along_line(*a, *b, *focus);
                let [u, v] = ends.map(|end| along_line(*a, *b, end));
                let pieces =
                    ((v - u).abs() / (4.0 * q * chord).sqrt()).ceil().clamp(1.0, MOST) as u32;
                (1..pieces)
                    .map(|i| {
                        let along = u + (v - u) * f64::from(i) / f64::from(pieces);
                        rounded(on_line(*a, *b, along, ((along - p).powi(2) + q * q) / (2.0 * q)))
                    })
                    .collect()
            }
        }
    }
}

/// How far along the line from `a` to `b` the foot of a point lies.
fn along_line(a: (f64, f64), b: (f64, f64), p: (f64, f64)) -> f64 {
    let (ex, ey) = (b.0 - a.0, b.1 - a.1);
    (ex * (p.0 - a.0) + ey * (p.1 - a.1)) / ex.hypot(ey)
}

/// The point so far along the line from `a` to `b` and so far left of it.
fn on_line(a: (f64, f64), b: (f64, f64), along: f64, left: f64) -> (f64, f64) {
    let (ex, ey) = (b.0 - a.0, b.1 - a.1);
    let length = ex.hypot(ey);
    (a.0 + (along * ex - left * ey) / length, a.1 + (along * ey + left * ex) / length)
}

/// The angle, clockwise, between two directions from a corner, in 0 to 2π.
fn clockwise(corner: (f64, f64), ends: [GridPoint; 2]) -> f64 {
    let [a, b] = ends.map(|end| (f64::from(end.y) - corner.1).atan2(f64::from(end.x) - corner.0));
    let turn = (a - b).rem_euclid(std::f64::consts::TAU);
    // A hair the wrong way is none.
    if turn > 6.2 { 0.0 } else { turn }
}

/// The point at a clockwise angle from a direction, at a distance.
fn on_arc(corner: (f64, f64), from: GridPoint, turn: f64, distance: f64) -> GridPoint {
    let start = (f64::from(from.y) - corner.1).atan2(f64::from(from.x) - corner.0);
    let (sine, cosine) = (start - turn).sin_cos();
    rounded((corner.0 + distance * cosine, corner.1 + distance * sine))
}

/// The points of an arc between its ends, so many that its chords stray no more than `chord`
/// (sagitta r (1 − cos(a/2)), elementary geometry).
fn arc(
    corner: (f64, f64),
    from: GridPoint,
    turn: f64,
    distance: f64,
    chord: f64,
) -> Vec<GridPoint> {
    const MOST: f64 = 720.0;
    let step = 2.0 * (1.0 - chord / distance).clamp(0.0, 1.0).acos();
    let pieces = (turn / step).ceil().clamp(1.0, MOST) as u32;
    let angle = |i: u32| turn * f64::from(i) / f64::from(pieces);
    (1..pieces).map(|i| on_arc(corner, from, angle(i), distance)).collect()
}

fn rounded((x, y): (f64, f64)) -> GridPoint {
    GridPoint::new(x.round() as i32, y.round() as i32)
}

/// The contours of every level, from crossing to crossing. On the outside they are run backwards, as
/// the edges were.
fn closed(crossings: &[Crossing], levels: usize, is_reversed: bool) -> Option<Vec<Region>> {
    let mut contours: Vec<Vec<Vec<GridPoint>>> = vec![Vec::new(); levels];
    let mut is_done = vec![false; crossings.len()];
    for start in 0..crossings.len() {
        let mut contour: Vec<GridPoint> = Vec::new();
        let mut at = start;
        while !std::mem::replace(&mut is_done[at], true) {
            let (next, between) = crossings[at].next.as_ref()?;
            contour.push(crossings[at].at);
            contour.extend_from_slice(between);
            at = *next as usize;
        }
        if at != start {
            return None;
        }
        contour.dedup();
        while contour.len() > 1 && contour.first() == contour.last() {
            contour.pop();
        }
        if contour.len() > 2 {
            if is_reversed {
                contour.reverse();
            }
            contours[crossings[start].level].push(contour);
        }
    }
    Some(contours.into_iter().map(Region::from_contours).collect())
}
