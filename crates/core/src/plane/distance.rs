//! Distances from points to outlines.

use super::{GridPoint, Rect, Region, from_grid};
use crate::halt::{heed, heed_at};
use rustc_hash::FxHashMap;

/// The point of an edge nearest to a point; mm.
pub(super) fn nearest_on_edge(
    (x, y): (f64, f64),
    ((ax, ay), (bx, by)): ((f64, f64), (f64, f64)),
) -> (f64, f64) {
    let (ex, ey) = (bx - ax, by - ay);
    let length = ex * ex + ey * ey;
    let along = if length > 0.0 { ((x - ax) * ex + (y - ay) * ey) / length } else { 0.0 };
    let along = along.clamp(0.0, 1.0);
    (ax + along * ex, ay + along * ey)
}

impl Region {
    /// All edges as pairs of points in mm, the region on the left.
    pub fn edges(&self) -> impl Iterator<Item = ((f64, f64), (f64, f64))> + '_ {
        let mm = |p: GridPoint| (from_grid(p.x), from_grid(p.y));
        self.contours().iter().flat_map(move |contour| {
            (0..contour.len()).map(move |i| (mm(contour[i]), mm(contour[(i + 1) % contour.len()])))
        })
    }

    /// The point of the outline nearest to a point, or `None` for an empty region; mm.
    pub fn nearest_on_outline(&self, (x, y): (f64, f64)) -> Option<(f64, f64)> {
        let candidates = self.edges().map(|edge| nearest_on_edge((x, y), edge));
        let distance = |(px, py): &(f64, f64)| (px - x).hypot(py - y);
        candidates.min_by(|p, q| distance(p).total_cmp(&distance(q)))
    }

    /// The point of the outline nearest to a point, and the direction that leads squarely out of
    /// the region there, of length 1; `None` for an empty region.
    pub fn outward_at(&self, point: (f64, f64)) -> Option<((f64, f64), (f64, f64))> {
        let near = self.nearest_on_outline(point)?;
        heed();
        let mut normal = (0.0, 0.0);
        // At a corner the edges that meet there are averaged.
        const AT_CORNER_MM: f64 = 1e-4;
        for ((ax, ay), (bx, by)) in self.edges() {
            let (ex, ey) = (bx - ax, by - ay);
            let length = ex.hypot(ey);
            let along = ((near.0 - ax) * ex + (near.1 - ay) * ey) / (length * length);
            let along = along.clamp(0.0, 1.0);
            let off = (near.0 - ax - along * ex).hypot(near.1 - ay - along * ey);
            if off < AT_CORNER_MM {
                // The region lies on the left of its edges.
                normal = (normal.0 + ey / length, normal.1 - ex / length);
            }
        }
        let length = f64::hypot(normal.0, normal.1);
        (length > 0.0).then(|| (near, (normal.0 / length, normal.1 / length)))
    }

    /// The distance from a point to the outline in mm; infinite for an empty region.
    pub fn distance_to_outline(&self, point: (f64, f64)) -> f64 {
        let nearest = self.nearest_on_outline(point);
        nearest.map_or(f64::INFINITY, |(x, y)| (x - point.0).hypot(y - point.1))
    }

    /// Whether a point in mm lies inside, by the crossings of a ray to the right.
    pub fn contains(&self, (x, y): (f64, f64)) -> bool {
        let crossings = self.edges().filter(|&((ax, ay), (bx, by))| {
            (ay > y) != (by > y) && x < ax + (y - ay) / (by - ay) * (bx - ax)
        });
        crossings.count() % 2 == 1
    }

    /// Whether all of an upright box lies within it: its middle does, and no outline comes into it.
    pub fn holds_box(&self, of: Rect) -> bool {
        let (wide, high) = (of.width().max(1e-9), of.height().max(1e-9));
        let share = |(x, y): (f64, f64)| [(x - of.x0) / wide, (y - of.y0) / high];
        self.contains(of.centre())
            && self.edges().all(|(a, b)| within_square(share(a), share(b), 1e-6).is_none())
    }

    /// The distance to the outline, negative outside.
    pub fn depth_of(&self, point: (f64, f64)) -> f64 {
        let distance = self.distance_to_outline(point);
        if self.contains(point) { distance } else { -distance }
    }
}

/// The part of a line that lies in the unit square drawn in by a hair (clipping after Liang and Barsky 1984).
pub(super) fn within_square(a: [f64; 2], b: [f64; 2], hair: f64) -> Option<[[f64; 2]; 2]> {
    let (mut from, mut to) = (0.0_f64, 1.0_f64);
    for axis in 0..2 {
        let way = b[axis] - a[axis];
        for (wall, sign) in [(hair, 1.0), (1.0 - hair, -1.0)] {
            let (beyond, along) = (sign * (wall - a[axis]), sign * way);
            if along == 0.0 {
                if beyond > 0.0 {
                    return None;
                }
            } else if along > 0.0 {
                from = from.max(beyond / along);
            } else {
                to = to.min(beyond / along);
            }
        }
    }
    let at = |share: f64| [0, 1].map(|axis| a[axis] + share * (b[axis] - a[axis]));
    (from <= to).then(|| [at(from), at(to)])
}

/// The distances of many points from one outline, as far as they matter.
pub struct Distances {
    edges: Vec<((f64, f64), (f64, f64))>,
    reach: f64,
    pitch: f64,
    /// The edges within reach of each square of a lattice, by its place.
    near: FxHashMap<(i32, i32), Vec<u32>>,
}

impl Distances {
    /// Those from the outline of a region up to `reach` mm.
    pub fn of(region: &Region, reach: f64) -> Self {
        let edges: Vec<_> = region.edges().collect();
        let pitch = reach.max(0.5);
        let mut near: FxHashMap<(i32, i32), Vec<u32>> = FxHashMap::default();
        let place = |v: f64| (v / pitch).floor() as i32;
        for (number, ((ax, ay), (bx, by))) in edges.iter().enumerate() {
            heed_at(number);
            // Column by column, the rows the edge comes within reach of.
            let (left, right) = (ax.min(*bx), ax.max(*bx));
            for column in place(left - reach)..=place(right + reach) {
                let (from, to) = (f64::from(column) * pitch, f64::from(column + 1) * pitch);
                let at = |x: f64| {
                    let share = if bx == ax { 0.0 } else { ((x - ax) / (bx - ax)).clamp(0.0, 1.0) };
                    ay + share * (by - ay)
                };
                let (p, q) = if bx == ax { (*ay, *by) } else { (at(from - reach), at(to + reach)) };
                for row in place(p.min(q) - reach)..=place(p.max(q) + reach) {
                    near.entry((column, row)).or_default().push(number as u32);
                }
            }
        }
        Distances { edges, reach, pitch, near }
    }

    /// The distance of a point in mm; what is further than the reach counts as just that.
    pub fn from(&self, (x, y): (f64, f64)) -> f64 {
        let place = ((x / self.pitch).floor() as i32, (y / self.pitch).floor() as i32);
        let near = self.near.get(&place).into_iter().flatten();
        let squared = |edge: &u32| {
            let ((ax, ay), (bx, by)) = self.edges[*edge as usize];
            let (ex, ey) = (bx - ax, by - ay);
            let length = ex * ex + ey * ey;
            let along = if length > 0.0 { ((x - ax) * ex + (y - ay) * ey) / length } else { 0.0 };
            let along = along.clamp(0.0, 1.0);
            let (dx, dy) = (ax + along * ex - x, ay + along * ey - y);
            dx * dx + dy * dy
        };
        near.map(squared).fold(self.reach * self.reach, f64::min).sqrt()
    }
}

#[cfg(test)]
mod tests {
    use crate::plane::{Distances, Rect, Tolerance, circle, rounded_rectangle};

    #[test]
    fn distances_to_a_plate_with_a_hole() {
        let plate = rounded_rectangle(Rect::centred(20., 10.), 0.0, Tolerance::Fine);
        let region = plate.difference(&circle((-5., 0.), 2., Tolerance::Fine));
        for (point, depth) in [
            ((0., 0.), 3.0),
            ((8., 0.), 2.0),
            ((12., 0.), -2.0),
            ((-5., 0.), -2.0),
            ((13., 9.), -5.0),
        ] {
            assert!((region.depth_of(point) - depth).abs() < 0.01, "{point:?}");
            for reach in [0.5, 2.5, 7.0] {
                let near = Distances::of(&region, reach).from(point);
                let exact = region.distance_to_outline(point).min(reach);
                assert!((near - exact).abs() < 1e-9, "{point:?} {near} {exact}");
            }
        }
    }
}
