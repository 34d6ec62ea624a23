//! Ties: strips that hold together what lies apart in the plane.
//!
//! What a cut leaves standing alone, and what was never joined, is found as the parts of one region. Ties are laid
//! where the way from a part to another is short, in the direction that was asked for where that is not much
//! longer; so many that all parts become one.

mod edges;

use super::distance::nearest_on_edge;
use super::{GridPoint, Rect, Region, Tolerance, to_grid};
use crate::halt::heed;
use edges::{Edges, Nearest};
use std::borrow::Cow;
use std::cell::Cell;
use std::f64::consts::{FRAC_PI_2, FRAC_PI_4};

/// A point in mm.
type At = (f64, f64);

/// A strip from one part to another.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Tie {
    /// The middles of its ends, a little within the parts it joins, in mm.
    pub ends: [At; 2],
    /// How wide it is, in mm.
    pub width: f64,
}

/// A tie with what it holds.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Laid {
    /// The strip.
    pub tie: Tie,
    /// What ties hold together apart from the rest has one number.
    pub holds: usize,
}

/// Where ties can lie.
#[derive(Debug, Clone, Copy)]
pub enum Room<'a> {
    /// Anywhere.
    Anywhere,
    /// Within a region that touches what is held: what was cut.
    Within(&'a Region),
    /// Outside a region.
    Off(&'a Region),
}

/// How many ties hold a part.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Held {
    /// One, where a lever of the strength asked for is not exceeded; two otherwise.
    AsNeeded,
    /// One.
    Once,
    /// Two.
    Twice,
}

/// How a part lies, for the ties that hold it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Lay {
    /// What heights are measured from, in mm.
    pub origin: At,
    /// The direction ties are to run in, in radians counter-clockwise from the right.
    pub along: f64,
    /// Parts of one row can have their ties in one line.
    pub row: usize,
}

/// What ties are asked for.
pub struct Wish<'a> {
    /// How wide they are, in mm.
    pub width: f64,
    /// How many hold a part.
    pub held: Held,
    /// As far as a part's middle may lie from the far end of a single tie, in mm.
    pub lever: f64,
    /// Whether those of a row lie in one line.
    pub in_line: bool,
    /// How a part lies whose middle is given.
    pub lay: &'a dyn Fn(At) -> Lay,
}

/// More parts are not held: that is a pattern, not a word.
pub const MOST_PARTS: usize = 1500;

/// More edges are not looked at for parts that have nothing near them.
const MOST_LOOKED_AT: usize = 2_000_000;

/// A tie goes so far into what it joins, in mm, so that both become one.
const ROOT_MM: f64 = 0.05;

/// Outlines that lie so near to each other are the same, in mm.
const SAME_MM: f64 = 0.02;

/// Across a tie the outlines it joins are looked at here, in widths from its middle.
const SEEN_AT: [f64; 5] = [0.0, -0.5, 0.5, -0.25, 0.25];

/// Where on a part a tie is tried, in halves of the room it has there.
const TRIED_AT: [f64; 7] = [0.0, -0.33, 0.33, -0.66, 0.66, -1.0, 1.0];

/// The directions that are tried, from the one asked for, and how much longer than there a way must be to be worse
/// (ours).
const TURNS: [(f64, f64); 4] = [(0.0, 1.0), (FRAC_PI_2, 1.8), (FRAC_PI_4, 2.2), (-FRAC_PI_4, 2.2)];

/// A tie out of the middle of its part by all there is looks as bad as one longer by this share (ours).
const OFF_MIDDLE: f64 = 0.6;

/// A tie that goes on where another ends is as good as one of this share of its length (ours).
const GOES_ON: f64 = 0.4;

/// A part narrower than a tie is held worse (ours).
const NARROW: f64 = 1.5;

impl Tie {
    /// How long it is, in mm.
    pub fn length(&self) -> f64 {
        let [(ax, ay), (bx, by)] = self.ends;
        (bx - ax).hypot(by - ay)
    }

    /// Its middle, in mm.
    pub fn middle(&self) -> At {
        let [(ax, ay), (bx, by)] = self.ends;
        ((ax + bx) / 2.0, (ay + by) / 2.0)
    }

    /// The strip itself.
    pub fn strip(&self) -> Region {
        let [(ax, ay), (bx, by)] = self.ends;
        let length = self.length().max(1e-9);
        let half = self.width / 2.0 / length;
        let (nx, ny) = (-(by - ay) * half, (bx - ax) * half);
        let corners =
            [(ax - nx, ay - ny), (bx - nx, by - ny), (bx + nx, by + ny), (ax + nx, ay + ny)];
        let ring = corners.map(|(x, y)| GridPoint::new(to_grid(x), to_grid(y)));
        Region::resolve(&[ring.to_vec()])
    }
}

/// Several strips as one region.
pub fn strips(ties: &[Tie]) -> Region {
    Region::gather(ties.iter().map(Tie::strip).collect())
}

/// The ties that make one part of a region. Where there is no room for them, some parts stay alone; of more than
/// [`MOST_PARTS`] none is held.
pub fn ties(solid: &Region, room: Room<'_>, wish: &Wish<'_>) -> Vec<Laid> {
    let parts = Part::all(&apart(solid));
    heed();
    if parts.len() < 2 || parts.len() > MOST_PARTS {
        return Vec::new();
    }
    let mut work = Work::new(parts, room, wish);
    work.hold_each();
    work.join_all();
    if wish.held == Held::AsNeeded {
        work.brace();
    }
    work.laid()
}

/// A region whose parts meet at a corner only, parted there: such a corner holds nothing. Any other stays as it is.
fn apart(solid: &Region) -> Cow<'_, Region> {
    let parted = solid.offset(-SAME_MM / 2.0, Tolerance::Fine);
    match parted.clumps().len() > solid.clumps().len() {
        true => Cow::Owned(parted),
        false => Cow::Borrowed(solid),
    }
}

/// The tie of a width that runs through a point, or the nearest beside it in its direction; nothing where there is
/// no way from solid to solid near it.
pub fn tie_at(solid: &Region, room: Room<'_>, point: At, along: f64, width: f64) -> Option<Tie> {
    let edges: Vec<Edge> = edges_of(solid, 0).collect();
    let free = Free::of(room);
    let line = Line::new(point, along);
    let ways = ways(&edges, &line, width);
    let off = |way: &Way| match way.from <= 0.0 && 0.0 <= way.to {
        true => 0.0,
        false => way.from.abs().min(way.to.abs()),
    };
    ways.into_iter()
        .filter(|way| off(way) <= 2.0 * width && free.lets(&line, way, None))
        .min_by(|a, b| off(a).total_cmp(&off(b)))
        .map(|way| line.tie(&way, width))
}

/// An edge of an outline, the solid on its left.
#[derive(Clone, Copy)]
struct Edge {
    a: At,
    b: At,
    part: usize,
}

impl Edge {
    fn bounds(&self) -> Rect {
        Rect {
            x0: self.a.0.min(self.b.0),
            y0: self.a.1.min(self.b.1),
            x1: self.a.0.max(self.b.0),
            y1: self.a.1.max(self.b.1),
        }
    }
}

fn edges_of(region: &Region, part: usize) -> impl Iterator<Item = Edge> + '_ {
    region.edges().map(move |(a, b)| Edge { a, b, part })
}

/// A part of the solid.
struct Part {
    edges: Vec<Edge>,
    bounds: Rect,
    area: f64,
}

impl Part {
    fn all(solid: &Region) -> Vec<Part> {
        let clumps = solid.clumps().into_iter().enumerate();
        clumps
            .filter_map(|(part, clump)| {
                let edges = edges_of(&clump, part).collect();
                Some(Part { edges, bounds: clump.bounds()?, area: clump.area() })
            })
            .collect()
    }
}

/// A line ties are looked for along; distances along it are from its point.
#[derive(Clone, Copy)]
struct Line {
    point: At,
    along: f64,
    across: At,
    ahead: At,
}

impl Line {
    fn new(point: At, along: f64) -> Self {
        let (sine, cosine) = along.sin_cos();
        Line { point, along, ahead: (cosine, sine), across: (-sine, cosine) }
    }

    /// How far a point lies ahead and to the left.
    fn seen(&self, (x, y): At) -> At {
        let (dx, dy) = (x - self.point.0, y - self.point.1);
        (dx * self.ahead.0 + dy * self.ahead.1, dx * self.across.0 + dy * self.across.1)
    }

    fn at(&self, ahead: f64) -> At {
        (self.point.0 + ahead * self.ahead.0, self.point.1 + ahead * self.ahead.1)
    }

    /// The same line so far to the left.
    fn beside(&self, left: f64) -> Self {
        let point = (self.point.0 + left * self.across.0, self.point.1 + left * self.across.1);
        Line { point, ..Line::new(point, self.along) }
    }

    fn tie(&self, way: &Way, width: f64) -> Tie {
        Tie { ends: [self.at(way.from - ROOT_MM), self.at(way.to + ROOT_MM)], width }
    }

    /// Where edges cross it, in order: how far ahead, whether the solid begins there, and of which part it is.
    fn crossings<'a>(&self, edges: impl Iterator<Item = &'a Edge>) -> Vec<(f64, bool, usize)> {
        let mut found: Vec<(f64, bool, usize)> = edges
            .filter_map(|edge| {
                let (from, to) = (self.seen(edge.a), self.seen(edge.b));
                if (from.1 > 0.0) == (to.1 > 0.0) {
                    return None;
                }
                let ahead = from.0 + (to.0 - from.0) * from.1 / (from.1 - to.1);
                // An edge that leads to the left has the solid behind it.
                Some((ahead, from.1 > 0.0, edge.part))
            })
            .collect();
        found.sort_by(|a, b| a.0.total_cmp(&b.0));
        found
    }
}

/// A way from part to part along a line.
#[derive(Debug, Clone, Copy)]
struct Way {
    from: f64,
    to: f64,
    /// From where to where it is in the middle of the tie.
    middle: [f64; 2],
    parts: [usize; 2],
    /// Whether a part is narrower than the tie.
    is_narrow: bool,
}

impl Way {
    fn length(&self) -> f64 {
        self.to - self.from
    }
}

/// The ways along a line, as far as a tie of a width would reach on all of its width.
fn ways(edges: &[Edge], line: &Line, width: f64) -> Vec<Way> {
    let gaps = |line: &Line| -> Vec<Way> {
        let all = line.crossings(edges.iter());
        let between = all.windows(2).filter(|pair| !pair[0].1 && pair[1].1);
        between
            .map(|pair| Way {
                from: pair[0].0,
                to: pair[1].0,
                middle: [pair[0].0, pair[1].0],
                parts: [pair[0].2, pair[1].2],
                is_narrow: false,
            })
            .collect()
    };
    let [middle, beside @ ..] = SEEN_AT;
    let mut found = gaps(&line.beside(middle * width));
    if found.is_empty() {
        return found;
    }
    for left in beside {
        let others = gaps(&line.beside(left * width));
        for way in &mut found {
            let meets = |other: &&Way| {
                let is_here = other.from < way.to && way.from < other.to;
                is_here && other.parts == way.parts
            };
            match others.iter().find(meets) {
                Some(other) => {
                    way.from = way.from.min(other.from);
                    way.to = way.to.max(other.to);
                }
                None => way.is_narrow = true,
            }
        }
    }
    found
}

/// Where ties can lie, ready to be asked.
struct Free {
    edges: Edges,
    is_within: bool,
}

impl Free {
    fn of(room: Room<'_>) -> Self {
        let (edges, is_within) = match room {
            Room::Anywhere => (Vec::new(), false),
            Room::Within(region) => (edges_of(region, 0).collect(), true),
            Room::Off(region) => (edges_of(region, 0).collect(), false),
        };
        Free { edges: Edges::of(edges), is_within }
    }

    /// Whether a tie can lie on a way, by its middle: at its sides the room is cut to. The room begins where the
    /// solid ends. Where a box is looked at, what lies outside it is not.
    fn lets(&self, line: &Line, way: &Way, box_of: Option<Rect>) -> bool {
        if self.edges.is_empty() {
            return !self.is_within;
        }
        let [from, to] = way.middle;
        let edges = self.edges.along(line, [from - 1.0, to + 1.0], SAME_MM, box_of);
        let crossings = line.crossings(edges.iter());
        let is_crossed =
            crossings.iter().any(|(ahead, ..)| (from + SAME_MM..to - SAME_MM).contains(ahead));
        let begins =
            crossings.iter().any(|(ahead, begins, _)| *begins && (ahead - from).abs() <= SAME_MM);
        !is_crossed && begins == self.is_within
    }
}

/// A way with the line it lies on, and what speaks against it.
struct Choice {
    line: Line,
    way: Way,
    cost: f64,
}

struct Work<'a> {
    parts: Vec<Part>,
    /// The group of each part.
    groups: Vec<usize>,
    /// What everything is to be joined to.
    main: usize,
    lays: Vec<Lay>,
    /// The edges of all parts.
    edges: Edges,
    nearest: Nearest,
    free: Free,
    wish: &'a Wish<'a>,
    ties: Vec<Tie>,
    /// Which parts a tie joins.
    joins: Vec<[usize; 2]>,
    /// The height of the line of each row, from its origin.
    rows: Vec<(usize, f64)>,
    /// How many edges were looked at for parts that have nothing near them.
    looked_at: Cell<usize>,
}

impl<'a> Work<'a> {
    fn new(parts: Vec<Part>, room: Room<'_>, wish: &'a Wish<'a>) -> Self {
        let main = (0..parts.len())
            .max_by(|a, b| parts[*a].area.total_cmp(&parts[*b].area))
            .unwrap_or_default();
        let lays = parts.iter().map(|part| (wish.lay)(part.bounds.centre())).collect();
        let groups = (0..parts.len()).collect();
        let (ties, joins, rows) = (Vec::new(), Vec::new(), Vec::new());
        let all: Vec<Edge> = parts.iter().flat_map(|part| &part.edges).copied().collect();
        let edges = Edges::of(all.clone());
        heed();
        let nearest = Nearest::of(all);
        heed();
        let free = Free::of(room);
        Work {
            parts,
            groups,
            main,
            lays,
            edges,
            nearest,
            free,
            wish,
            ties,
            joins,
            rows,
            looked_at: Cell::new(0),
        }
    }

    /// Gives every part but the main one the ties it is to have.
    fn hold_each(&mut self) {
        let mut order: Vec<usize> =
            (0..self.parts.len()).filter(|part| *part != self.main).collect();
        order.sort_by(|a, b| {
            let key = |part: usize| (self.lays[part].row, self.parts[part].bounds.centre().0);
            let (a, b) = (key(*a), key(*b));
            a.0.cmp(&b.0).then(a.1.total_cmp(&b.1))
        });
        if self.wish.in_line {
            self.find_rows(&order);
        }
        for part in order {
            heed();
            let had = self.joins.iter().filter(|pair| pair.contains(&part)).count();
            let choices = self.choices(part);
            match self.wish.held {
                Held::Once => self.hold_once(part, choices),
                Held::Twice => self.hold_twice(part, choices, had),
                Held::AsNeeded => {
                    let best = self.best(part, &choices);
                    match best.is_none_or(|best| self.is_strong(part, best)) {
                        true => self.hold_once(part, choices),
                        false => self.hold_twice(part, choices, had),
                    }
                }
            }
        }
    }

    /// Whether one tie is enough for a part.
    fn is_strong(&self, part: usize, choice: &Choice) -> bool {
        let (x, y) = self.parts[part].bounds.centre();
        let far = if choice.way.parts[0] == part { choice.way.to } else { choice.way.from };
        let (fx, fy) = choice.line.at(far);
        (fx - x).hypot(fy - y) <= self.wish.lever
    }

    fn hold_once(&mut self, part: usize, choices: Vec<Choice>) {
        if self.groups[part] == self.groups[self.main] {
            return;
        }
        let best = self.best(part, &choices).map(|best| self.ready(best));
        let members = self.members(self.groups[part]);
        if let Some((_, tie, parts)) = self.or_shorter(best, &members) {
            self.lay(tie, parts);
        }
    }

    /// What a choice costs, its tie, and the parts that joins.
    fn ready(&self, choice: &Choice) -> (f64, Tie, [usize; 2]) {
        (choice.cost, choice.line.tie(&choice.way, self.wish.width), choice.way.parts)
    }

    /// The parts of a group.
    fn members(&self, group: usize) -> Vec<usize> {
        (0..self.parts.len()).filter(|part| self.groups[*part] == group).collect()
    }

    /// The best way out of a group, or the shortest in any direction where that is much shorter.
    fn or_shorter(
        &self,
        best: Option<(f64, Tie, [usize; 2])>,
        members: &[usize],
    ) -> Option<(f64, Tie, [usize; 2])> {
        /// A tie no longer than so many widths is short enough (ours).
        const SHORT: f64 = 2.0;
        let is_short = |(_, tie, _): &(f64, Tie, [usize; 2])| tie.length() <= SHORT * tie.width;
        if best.as_ref().is_some_and(is_short) {
            return best;
        }
        match (best, self.shortest(members)) {
            (Some(best), Some((cost, ..))) if best.0 <= cost => Some(best),
            (best, shortest) => shortest.or(best),
        }
    }

    fn hold_twice(&mut self, part: usize, choices: Vec<Choice>, had: usize) {
        let width = self.wish.width;
        let ready = |choice: &Choice| (choice.line.tie(&choice.way, width), choice.way.parts);
        if had >= 2 {
            return;
        }
        if had == 1 {
            let far = |choice: &Choice| self.is_clear_of_others(&ready(choice).0);
            let more =
                choices.iter().filter(|one| far(one)).min_by(|a, b| a.cost.total_cmp(&b.cost));
            if let Some((tie, parts)) = more.map(ready) {
                self.lay(tie, parts);
            }
            return;
        }
        // Both on one line, one on either side of the part.
        let mut best: Option<(f64, [usize; 2])> = None;
        for (i, one) in choices.iter().enumerate().filter(|(_, one)| one.way.parts[1] == part) {
            for (j, other) in choices.iter().enumerate() {
                let is_across = other.way.parts[0] == part && other.way.from > one.way.to;
                let is_same_line =
                    other.line.point == one.line.point && other.line.along == one.line.along;
                if is_across && is_same_line {
                    let cost = one.cost + other.cost;
                    if best.is_none_or(|(least, _)| cost < least) {
                        best = Some((cost, [i, j]));
                    }
                }
            }
        }
        let both: Vec<(Tie, [usize; 2])> = match best {
            Some((_, pair)) => pair.into_iter().map(|i| ready(&choices[i])).collect(),
            None => Vec::new(),
        };
        if !both.is_empty() {
            both.into_iter().for_each(|(tie, parts)| self.lay(tie, parts));
            return;
        }
        let mut by_cost: Vec<&Choice> = choices.iter().collect();
        by_cost.sort_by(|a, b| a.cost.total_cmp(&b.cost));
        for choice in by_cost.into_iter().map(ready).collect::<Vec<_>>() {
            let has = self.joins.iter().filter(|pair| pair.contains(&part)).count();
            if has < 2 && self.is_clear_of_others(&choice.0) {
                self.lay(choice.0, choice.1);
            }
        }
    }

    /// Whether a tie lies beside all others, or joins others.
    fn is_clear_of_others(&self, tie: &Tie) -> bool {
        let (x, y) = tie.middle();
        self.ties.iter().all(|other| {
            let (ox, oy) = other.middle();
            (ox - x).hypot(oy - y) > 2.0 * self.wish.width.max(other.length() / 2.0)
        })
    }

    /// What of the parts hangs together without the main one, by a number.
    fn numbers(&self) -> Vec<usize> {
        let mut numbers: Vec<usize> = (0..self.parts.len()).collect();
        for [a, b] in &self.joins {
            if *a != self.main && *b != self.main {
                let (from, into) = (numbers[*a], numbers[*b]);
                numbers.iter_mut().filter(|one| **one == from).for_each(|one| *one = into);
            }
        }
        numbers
    }

    /// Gives parts that hang together on one long lever a second tie, on the other side if there is a way.
    fn brace(&mut self) {
        let numbers = self.numbers();
        let mut all: Vec<usize> = numbers.clone();
        all.sort_unstable();
        all.dedup();
        let main = numbers[self.main];
        for number in all.into_iter().filter(|number| *number != main) {
            let is_of_it = |part: &usize| numbers[*part] == number;
            let members: Vec<usize> = (0..self.parts.len()).filter(is_of_it).collect();
            heed();
            let roots = self.joins.iter().zip(&self.ties).filter_map(|(pair, tie)| {
                let main = pair.iter().position(|part| *part == self.main)?;
                members.contains(&pair[1 - main]).then_some(tie.ends[main])
            });
            let roots: Vec<At> = roots.collect();
            let [(rx, ry)] = roots[..] else { continue };
            let bounds = members.iter().map(|part| self.parts[*part].bounds);
            let Some(bounds) = bounds.reduce(|a, b| a.hull(&b)) else { continue };
            let (x, y) = bounds.centre();
            let (ax, ay) = (rx - x, ry - y);
            if ax.hypot(ay) <= self.wish.lever + ROOT_MM {
                continue;
            }
            // On the same side it is no help: there it counts three times.
            let aside = |choice: &Choice| {
                let main = usize::from(choice.way.parts[1] == self.main);
                let [from, to] = [choice.way.from, choice.way.to];
                let (bx, by) = choice.line.at(if main == 0 { from } else { to });
                let (bx, by) = (bx - x, by - y);
                2.0 + (ax * bx + ay * by) / (ax.hypot(ay) * bx.hypot(by)).max(1e-9)
            };
            let ways = members.iter().flat_map(|part| self.choices_within(*part, None));
            let ways =
                ways.filter(|choice| choice.way.parts.contains(&self.main)).filter_map(|choice| {
                    let (cost, tie, parts) = self.ready(&choice);
                    self.is_clear_of_others(&tie).then(|| (cost * aside(&choice), tie, parts))
                });
            if let Some((_, tie, parts)) = ways.min_by(|a, b| a.0.total_cmp(&b.0)) {
                self.lay(tie, parts);
            }
        }
    }

    /// The ties with what they hold: parts that are joined to each other and not only to the main one go together.
    fn laid(self) -> Vec<Laid> {
        let holds = self.numbers();
        let of = |(tie, [a, b]): (&Tie, &[usize; 2])| Laid {
            tie: *tie,
            holds: holds[if *a == self.main { *b } else { *a }],
        };
        self.ties.iter().zip(&self.joins).map(of).collect()
    }

    /// The best way out of the group of a part.
    fn best<'c>(&self, part: usize, choices: &'c [Choice]) -> Option<&'c Choice> {
        let leads_out = |choice: &&Choice| {
            let [a, b] = choice.way.parts;
            self.groups[a] != self.groups[b] && (a == part || b == part)
        };
        choices.iter().filter(leads_out).min_by(|a, b| a.cost.total_cmp(&b.cost))
    }

    fn lay(&mut self, tie: Tie, [a, b]: [usize; 2]) {
        let (from, into) = (self.groups[a], self.groups[b]);
        self.groups.iter_mut().filter(|group| **group == from).for_each(|group| *group = into);
        self.ties.push(tie);
        self.joins.push([a, b]);
    }

    /// What there is near a part: first near it, and where that leads to nothing everywhere, as long as not
    /// [too much](MOST_LOOKED_AT) was looked at so; after that the shortest way is left.
    fn choices(&self, part: usize) -> Vec<Choice> {
        let Part { bounds, .. } = &self.parts[part];
        let size = bounds.width().max(bounds.height());
        let reach = size.max(4.0 * self.wish.width).max(3.0);
        let near = self.choices_within(part, Some(bounds.grown(reach)));
        if near.is_empty() && self.looked_at.get() < MOST_LOOKED_AT {
            return self.choices_within(part, None);
        }
        near
    }

    fn choices_within(&self, part: usize, within: Option<Rect>) -> Vec<Choice> {
        let (lay, width) = (self.lays[part], self.wish.width);
        let mut found = Vec::new();
        for (turn, worse) in TURNS {
            for (line, off) in self.lines(part, lay, turn) {
                heed();
                let edges = self.edges.across(&line, width / 2.0, within);
                if within.is_none() {
                    self.looked_at.set(self.looked_at.get() + edges.len());
                }
                for way in ways(&edges, &line, width) {
                    let is_of_part = way.parts.contains(&part) && way.parts[0] != way.parts[1];
                    if !is_of_part || !self.free.lets(&line, &way, within) {
                        continue;
                    }
                    let narrow = if way.is_narrow { NARROW } else { 1.0 };
                    let goes_on = if self.goes_on(part, &line) { GOES_ON } else { 1.0 };
                    let cost = way.length() * worse * narrow * goes_on * (1.0 + OFF_MIDDLE * off);
                    found.push(Choice { line, way, cost });
                }
            }
        }
        found
    }

    /// The lines that are tried on a part in a direction, with how far off its middle each lies, from 0 to 1.
    fn lines(&self, part: usize, lay: Lay, turn: f64) -> Vec<(Line, f64)> {
        let Part { edges, bounds, .. } = &self.parts[part];
        let middle = Line::new(bounds.centre(), lay.along + turn);
        let sides = edges.iter().map(|edge| middle.seen(edge.a).1);
        let (low, high) = sides
            .fold((f64::INFINITY, f64::NEG_INFINITY), |(a, b), side| (a.min(side), b.max(side)));
        let half = ((high - low - self.wish.width) / 2.0).max(0.0);
        let row = self.rows.iter().find(|(row, _)| *row == lay.row && turn == 0.0);
        if let Some((_, height)) = row {
            let line = Line::new(lay.origin, lay.along).beside(*height);
            let off = middle.seen(line.point).1;
            // What the line of the row does not meet has its own.
            if off > low + self.wish.width / 4.0 && off < high - self.wish.width / 4.0 {
                return vec![(line, 0.0)];
            }
        }
        let mut lines: Vec<(Line, f64)> = TRIED_AT
            .iter()
            .filter(|at| half > 0.0 || **at == 0.0)
            .map(|at| (middle.beside((low + high) / 2.0 + at * half), at.abs()))
            .collect();
        // A tie that holds it already can go on.
        for (tie, joined) in self.ties.iter().zip(&self.joins) {
            if joined.contains(&part) {
                let left = middle.seen(tie.middle()).1;
                lines.push((middle.beside(left), 0.0));
            }
        }
        lines
    }

    /// Whether a line is that of a tie that holds a part.
    fn goes_on(&self, part: usize, line: &Line) -> bool {
        let is_on = |tie: &Tie| tie.ends.iter().all(|end| line.seen(*end).1.abs() < SAME_MM);
        self.ties.iter().zip(&self.joins).any(|(tie, pair)| pair.contains(&part) && is_on(tie))
    }

    /// The height of the line of each row that holds most parts by the shortest ways.
    fn find_rows(&mut self, order: &[usize]) {
        /// So many heights are tried for a row.
        const TRIED: usize = 24;
        let mut rows: Vec<usize> = order.iter().map(|part| self.lays[*part].row).collect();
        rows.dedup();
        for row in rows {
            let parts: Vec<usize> =
                order.iter().copied().filter(|part| self.lays[*part].row == row).collect();
            let spans: Vec<(f64, f64)> = parts.iter().map(|part| self.span(*part)).collect();
            let low = spans.iter().map(|span| span.0).fold(f64::INFINITY, f64::min);
            let high = spans.iter().map(|span| span.1).fold(f64::NEG_INFINITY, f64::max);
            let step = (high - low) / TRIED as f64;
            // The most parts; of those heights the shortest ways.
            let mut best: Option<((usize, f64), f64)> = None;
            for i in 1..TRIED {
                heed();
                let height = low + step * i as f64;
                let lengths = parts.iter().filter_map(|part| self.way_at(*part, height));
                let (count, length) =
                    lengths.fold((0, 0.0), |(count, all), length| (count + 1, all + length));
                let key = (count, -length);
                if best.is_none_or(|(known, _)| key > known) {
                    best = Some((key, height));
                }
            }
            if let Some(((1.., _), height)) = best {
                self.rows.push((row, height));
            }
        }
    }

    /// From where to where a part reaches across the direction of its ties, from its origin.
    fn span(&self, part: usize) -> (f64, f64) {
        let lay = self.lays[part];
        let line = Line::new(lay.origin, lay.along);
        let sides = self.parts[part].edges.iter().map(|edge| line.seen(edge.a).1);
        sides.fold((f64::INFINITY, f64::NEG_INFINITY), |(a, b), side| (a.min(side), b.max(side)))
    }

    /// How long the shorter way out of a part is at a height of its row.
    fn way_at(&self, part: usize, height: f64) -> Option<f64> {
        let Part { bounds, .. } = &self.parts[part];
        let reach = bounds.width().max(bounds.height()).max(4.0 * self.wish.width);
        let (within, width) = (bounds.grown(reach), self.wish.width);
        let lay = self.lays[part];
        let line = Line::new(lay.origin, lay.along).beside(height);
        let edges = self.edges.across(&line, width / 2.0, Some(within));
        let ways = ways(&edges, &line, width).into_iter().filter(|way| {
            let is_of_part = way.parts.contains(&part) && way.parts[0] != way.parts[1];
            is_of_part && !way.is_narrow && self.free.lets(&line, way, Some(within))
        });
        ways.map(|way| way.length()).reduce(f64::min)
    }

    /// Joins what still lies apart, by the shortest ways there are.
    fn join_all(&mut self) {
        let mut hopeless: Vec<usize> = Vec::new();
        loop {
            heed();
            let main = self.groups[self.main];
            let loose = (0..self.parts.len())
                .find(|part| self.groups[*part] != main && !hopeless.contains(&self.groups[*part]));
            let Some(loose) = loose else { return };
            let group = self.groups[loose];
            let members = self.members(group);
            let ways = members.iter().filter_map(|part| {
                let choices = self.choices(*part);
                self.best(*part, &choices).map(|best| self.ready(best))
            });
            let best = ways.min_by(|a, b| a.0.total_cmp(&b.0));
            match self.or_shorter(best, &members) {
                Some((_, tie, parts)) => self.lay(tie, parts),
                None => hopeless.push(group),
            }
        }
    }

    /// The shortest way from a group to any other there is room for, whatever its direction, and what it costs.
    fn shortest(&self, members: &[usize]) -> Option<(f64, Tie, [usize; 2])> {
        /// More ways are not tried.
        const MOST_TRIED: usize = 400;
        /// It costs as much as the least neat of directions.
        const ANY_WAY: f64 = 2.2;
        let group = self.groups[*members.first()?];
        let is_own = |edge: &Edge| self.groups[edge.part] == group;
        let own: Vec<Edge> =
            members.iter().flat_map(|part| &self.parts[*part].edges).copied().collect();
        let own_bounds = own.iter().map(Edge::bounds).reduce(|one, other| one.hull(&other))?;
        let way = |one: &Edge, other: Edge| {
            let (ax, ay) = one.a;
            let (bx, by) = nearest_on_edge(one.a, (other.a, other.b));
            ((bx - ax).hypot(by - ay), one.a, (bx, by), [one.part, other.part])
        };
        // From every corner of the group the nearest of the others,
        let mut ways: Vec<(f64, At, At, [usize; 2])> = own
            .iter()
            .filter_map(|one| Some(way(one, self.nearest.to(one.a, |edge| !is_own(edge))?)))
            .collect();
        // and from every corner of the others that is not farther off the nearest of the group.
        let far = ways.iter().map(|way| way.0).fold(0.0, f64::max) + self.wish.width;
        let nearest_own = Nearest::of(own);
        let others = self.nearest.near(&own_bounds.grown(far)).filter(|edge| !is_own(edge));
        ways.extend(others.filter_map(|one| {
            let (length, from, to, [a, b]) = way(&one, nearest_own.to(one.a, |_| true)?);
            Some((length, to, from, [b, a]))
        }));
        ways.sort_by(|a, b| a.0.total_cmp(&b.0));
        ways.truncate(MOST_TRIED);
        ways.into_iter().find_map(|(length, from, to, parts)| {
            let (x, y) = self.parts[parts[0]].bounds.centre();
            // Where they touch, the tie leads out of the part.
            let (dx, dy) = match length > 1e-6 {
                true => (to.0 - from.0, to.1 - from.1),
                false => (to.0 - x, to.1 - y),
            };
            let line = Line::new(from, dy.atan2(dx));
            let more = self.wish.width / 2.0;
            let ends = [line.at(-more), line.at(length + more)];
            let way = Way { from: 0.0, to: length, middle: [0.0, length], parts, is_narrow: true };
            let is_free = length <= 2.0 * SAME_MM || self.free.lets(&line, &way, None);
            is_free.then_some((ANY_WAY * length, Tie { ends, width: self.wish.width }, parts))
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plane::{Tolerance, circle, rounded_rectangle};

    const TOLERANCES: [Tolerance; 3] = [Tolerance::Draft, Tolerance::Normal, Tolerance::Fine];

    fn alone(laid: Vec<Laid>) -> Vec<Tie> {
        laid.into_iter().map(|one| one.tie).collect()
    }

    fn upright(_: At) -> Lay {
        Lay { origin: (0.0, 0.0), along: FRAC_PI_2, row: 0 }
    }

    fn wish(held: Held) -> Wish<'static> {
        Wish { width: 1.0, held, lever: 6.0, in_line: false, lay: &upright }
    }

    fn block(wide: f64, tall: f64, x: f64, y: f64) -> Region {
        rounded_rectangle(Rect::centred(wide, tall).moved(x, y), 0.0, Tolerance::Fine)
    }

    fn held(sheet: &Region, cut: &Region, wish: &Wish<'_>) -> (Vec<Tie>, Region) {
        let solid = sheet.difference(cut);
        let ties = alone(ties(&solid, Room::Within(cut), wish));
        let left = sheet.difference(&cut.difference(&strips(&ties)));
        (ties, left)
    }

    /// A ring cut of a sheet: the tie is as long as the ring is wide, and takes its area from the cut.
    #[test]
    fn the_inside_of_a_ring_is_held_across_its_stroke() {
        for tolerance in TOLERANCES {
            let ring = circle((0., 0.), 5., tolerance).difference(&circle((0., 0.), 3., tolerance));
            let sheet = block(20., 20., 0., 0.);
            for (many, count) in [(Held::Once, 1), (Held::Twice, 2), (Held::AsNeeded, 1)] {
                let (found, left) = held(&sheet, &ring, &wish(many));
                assert_eq!((found.len(), left.parts().len()), (count, 1), "{tolerance:?} {many:?}");
                for tie in &found {
                    assert!(tie.middle().0.abs() < 1e-6, "upright, in the middle: {tie:?}");
                    // The ring is 2 mm wide; at half a millimetre beside its middle the inner circle lies
                    // 0.042 mm lower (3 − √(9 − ¼)).
                    assert!(
                        (tie.length() - 2.042 - 2.0 * ROOT_MM).abs() < 0.05,
                        "{}",
                        tie.length()
                    );
                }
                // What stays of the cut is the ring less strips 1 mm wide: by the circles' segments
                // ∫ (√(25 − x²) − √(9 − x²)) dx over ±½ = 2.0056 mm².
                let stays = left.area() - (sheet.area() - ring.area());
                assert!((stays - 2.0056 * count as f64).abs() < 0.02 * count as f64, "{stays}");
            }
        }
    }

    #[test]
    fn a_long_lever_is_held_twice_and_a_thin_crossing_is_preferred() {
        // An upright slot of a frame: 2 mm at the sides, 6 mm above and below.
        let cut = block(14., 32., 0., 0.).difference(&block(10., 20., 0., 0.));
        let sheet = block(40., 50., 0., 0.);
        let (one, left) = held(&sheet, &cut, &wish(Held::Once));
        assert_eq!((one.len(), left.parts().len()), (1, 1));
        let [(ax, ay), (bx, by)] = one[0].ends;
        assert!(
            (ay - by).abs() < 1e-6 && (ax - bx).abs() < 2.2,
            "across, where it is thin: {one:?}"
        );
        let (two, left) = held(&sheet, &cut, &wish(Held::AsNeeded));
        assert_eq!((two.len(), left.parts().len()), (2, 1));
        let (x, other) = (two[0].middle().0, two[1].middle().0);
        assert!((x + other).abs() < 1e-6 && x * other < 0.0, "on either side");
    }

    /// Rings in rings, a grid of islands, islands smaller than a tie: whatever lies apart becomes one part.
    #[test]
    fn everything_becomes_one_part() {
        let ring = |r: f64| {
            let outer = circle((0., 0.), r, Tolerance::Normal);
            outer.difference(&circle((0., 0.), r - 1.0, Tolerance::Normal))
        };
        let nested = Region::gather((1..8).map(|i| ring(2.0 * f64::from(i))).collect());
        let specks = (0..40).map(|i| {
            let at = (f64::from(i % 8) * 4.0 - 14.0, f64::from(i / 8) * 4.0 - 8.0);
            let outer = circle(at, 1.2, Tolerance::Normal);
            outer.difference(&circle(at, 0.1 + 0.02 * f64::from(i), Tolerance::Normal))
        });
        let specks = Region::gather(specks.collect());
        let split = block(60., 2., 0., 3.).union(&block(2., 60., 1., 0.));
        let sheet = block(50., 50., 0., 0.);
        for cut in [nested, specks, split] {
            for many in [Held::Once, Held::Twice, Held::AsNeeded] {
                let before = sheet.difference(&cut).parts().len();
                let (found, left) = held(&sheet, &cut, &wish(many));
                assert_eq!(left.parts().len(), 1, "{many:?} of {before}");
                if many == Held::Once {
                    assert_eq!(found.len(), before - 1, "the fewest");
                }
            }
        }
    }

    /// A bar of two parts in a wide ring: one long tie alone would be a lever.
    #[test]
    fn what_hangs_on_a_long_lever_is_held_from_two_sides() {
        let ring = circle((0., 0.), 25., Tolerance::Normal).difference(&circle(
            (0., 0.),
            20.,
            Tolerance::Normal,
        ));
        let all = ring.union(&block(6., 3., -4., 0.)).union(&block(6., 3., 4., 0.));
        let found = alone(ties(&all, Room::Anywhere, &wish(Held::AsNeeded)));
        assert_eq!((found.len(), all.union(&strips(&found)).parts().len()), (3, 1));
        let long: Vec<At> =
            found.iter().filter(|tie| tie.length() > 5.0).map(Tie::middle).collect();
        let [(ax, ay), (bx, by)] = long[..] else { panic!("{found:?}") };
        assert!(ax * bx + ay * by < 0.0, "on opposite sides: {found:?}");
        // A lever that is long enough needs no other.
        let strong = Wish { lever: 60.0, ..wish(Held::AsNeeded) };
        assert_eq!(alone(ties(&all, Room::Anywhere, &strong)).len(), 2);
    }

    #[test]
    fn ties_of_a_row_lie_in_one_line() {
        let level = |_: At| Lay { origin: (0.0, 0.0), along: 0.0, row: 0 };
        let ring = |x: f64, y: f64, r: f64| {
            let outer = circle((x, y), r, Tolerance::Normal);
            outer.difference(&circle((x, y), r - 1.5, Tolerance::Normal))
        };
        let cut = Region::gather(vec![ring(-14., 0.5, 5.), ring(0., 0., 4.), ring(14., -0.7, 5.)]);
        let sheet = block(50., 20., 0., 0.);
        let asked = Wish { in_line: true, lay: &level, ..wish(Held::Twice) };
        let (found, left) = held(&sheet, &cut, &asked);
        assert_eq!((found.len(), left.parts().len()), (6, 1));
        let height = found[0].middle().1;
        assert!(found.iter().all(|tie| (tie.middle().1 - height).abs() < 1e-6), "{found:?}");
    }

    #[test]
    fn parts_that_do_not_touch_are_tied_and_what_is_in_the_way_is_kept_clear_of() {
        // A stem and its dot, and a post beside them.
        let parts = block(2., 8., 0., 0.).union(&block(2., 2., 0., 7.));
        let found = alone(ties(&parts, Room::Anywhere, &wish(Held::Once)));
        assert_eq!(found.len(), 1);
        assert!(
            (found[0].length() - 2.0 - 2.0 * ROOT_MM).abs() < 1e-3
                && found[0].middle().0.abs() < 1e-6
        );
        assert_eq!(parts.union(&strips(&found)).parts().len(), 1);
        let hole = circle((0., 5.), 0.6, Tolerance::Normal);
        let clear = alone(ties(&parts, Room::Off(&hole), &wish(Held::Once)));
        assert!(clear.iter().all(|tie| tie.middle().0.abs() > 0.3), "{clear:?}");
        let one = ties(&block(2., 2., 0., 0.), Room::Anywhere, &wish(Held::Once));
        assert_eq!(one, Vec::new());
    }

    #[test]
    fn a_tie_is_laid_through_a_point_that_was_given() {
        let ring = circle((0., 0.), 5., Tolerance::Fine).difference(&circle(
            (0., 0.),
            3.,
            Tolerance::Fine,
        ));
        let solid = block(20., 20., 0., 0.).difference(&ring);
        let tie = tie_at(&solid, Room::Within(&ring), (4.0, 0.0), 0.0, 1.0).unwrap();
        assert!((tie.middle().0 - 4.0).abs() < 0.05 && tie.middle().1.abs() < 1e-9);
        // Beside the stroke the nearest way counts; far off there is none.
        assert!(tie_at(&solid, Room::Within(&ring), (5.5, 0.0), 0.0, 1.0).is_some());
        assert_eq!(tie_at(&solid, Room::Within(&ring), (9.0, 9.0), 0.0, 1.0), None);
    }
}
