//! Edges of outlines, found again by where they lie: along a line, or nearest to a point.

use super::{At, Edge, Line};
use crate::halt::heed_often;
use crate::plane::Rect;
use crate::plane::distance::nearest_on_edge;
use rstar::{AABB, PointDistance, RTree, RTreeObject};

/// An edge in the tree, by its number. The tree asks where they lie all the time: there its work is left when it is
/// stopped.
struct Indexed {
    ends: [At; 2],
    data: u32,
}

impl RTreeObject for Indexed {
    type Envelope = AABB<[f64; 2]>;

    fn envelope(&self) -> Self::Envelope {
        heed_often();
        let [a, b] = self.ends;
        AABB::from_corners(a.into(), b.into())
    }
}

impl PointDistance for Indexed {
    fn distance_2(&self, &[x, y]: &[f64; 2]) -> f64 {
        heed_often();
        let [a, b] = self.ends;
        let (near_x, near_y) = nearest_on_edge((x, y), (a, b));
        (near_x - x).powi(2) + (near_y - y).powi(2)
    }
}

/// Edges no longer than this are looked for in the tree; the few longer ones are looked at every time. In mm.
const SHORT_MM: f64 = 8.0;

/// Edges, and a tree (R*-tree, Beckmann et al. 1990) of the short ones.
pub(super) struct Edges {
    all: Vec<Edge>,
    tree: RTree<Indexed>,
    long: Vec<u32>,
    bounds: Option<Rect>,
}

fn indexed(edge: &Edge, number: usize) -> Indexed {
    Indexed { ends: [edge.a, edge.b], data: number as u32 }
}

impl Edges {
    pub fn of(all: Vec<Edge>) -> Self {
        let is_short = |edge: &Edge| (edge.b.0 - edge.a.0).hypot(edge.b.1 - edge.a.1) <= SHORT_MM;
        let (mut short, mut long) = (Vec::new(), Vec::new());
        for (number, edge) in all.iter().enumerate() {
            match is_short(edge) {
                true => short.push(indexed(edge, number)),
                false => long.push(number as u32),
            }
        }
        let bounds = all.iter().map(Edge::bounds).reduce(|one, other| one.hull(&other));
        Edges { tree: RTree::bulk_load(short), long, bounds, all }
    }

    pub fn is_empty(&self) -> bool {
        self.all.is_empty()
    }

    /// Those that may cross lines no farther than `half` mm beside a line, from so far to so far ahead on it; of those
    /// within a box, if there is one. They are in the order they were given in.
    pub fn along(
        &self,
        line: &Line,
        [from, to]: [f64; 2],
        half: f64,
        within: Option<Rect>,
    ) -> Vec<Edge> {
        // One box round an upright or level line is no larger than the line itself.
        let is_straight = line.ahead.0.abs().min(line.ahead.1.abs()) < 1e-9;
        let steps = if is_straight { 1.0 } else { ((to - from) / SHORT_MM).ceil().max(1.0) };
        let mut found = self.long.clone();
        for step in 0..steps as usize {
            let at = |share: f64| line.at(from + (to - from) * share / steps);
            let ((ax, ay), (bx, by)) = (at(step as f64), at(step as f64 + 1.0));
            let low = [ax.min(bx) - half, ay.min(by) - half];
            let high = [ax.max(bx) + half, ay.max(by) + half];
            let box_of = AABB::from_corners(low, high);
            found.extend(self.tree.locate_in_envelope_intersecting(box_of).map(|one| one.data));
        }
        found.sort_unstable();
        found.dedup();
        let edges = found.into_iter().map(|number| self.all[number as usize]);
        edges.filter(|edge| within.is_none_or(|within| edge.bounds().overlaps(&within))).collect()
    }

    /// The same of all that may cross it within a box, or anywhere.
    pub fn across(&self, line: &Line, half: f64, within: Option<Rect>) -> Vec<Edge> {
        let Some(bounds) = within.or(self.bounds) else { return Vec::new() };
        let Rect { x0, y0, x1, y1 } = bounds;
        let corners = [(x0, y0), (x1, y0), (x0, y1), (x1, y1)].map(|corner| line.seen(corner).0);
        let low = corners.into_iter().fold(f64::INFINITY, f64::min);
        let high = corners.into_iter().fold(f64::NEG_INFINITY, f64::max);
        // A short edge within the box does not reach farther out of it.
        self.along(line, [low - SHORT_MM, high + SHORT_MM], half, within)
    }
}

/// Edges by how near they are.
pub(super) struct Nearest {
    edges: Vec<Edge>,
    tree: RTree<Indexed>,
}

impl Nearest {
    pub fn of(edges: Vec<Edge>) -> Self {
        let all = edges.iter().enumerate().map(|(number, edge)| indexed(edge, number));
        Nearest { tree: RTree::bulk_load(all.collect()), edges }
    }

    /// The nearest of those that are asked for.
    pub fn to(&self, (x, y): At, is_asked: impl Fn(&Edge) -> bool) -> Option<Edge> {
        self.tree
            .nearest_neighbor_iter([x, y])
            .map(|one| self.edges[one.data as usize])
            .find(is_asked)
    }

    /// Those that reach into a box.
    pub fn near(&self, bounds: &Rect) -> impl Iterator<Item = Edge> + '_ {
        let box_of = AABB::from_corners([bounds.x0, bounds.y0], [bounds.x1, bounds.y1]);
        self.tree
            .locate_in_envelope_intersecting(box_of)
            .map(|one| self.edges[one.data as usize])
            .collect::<Vec<_>>()
            .into_iter()
    }
}
