//! Bodies that are a profile drawn out along the bed: blocks, bent bars, tents.
//!
//! The profile lies in the plane of depth and height, seen from the right, and is drawn out from left to
//! right. Its volume is its area times its length (Cavalieri), less what is taken off its ends. Every
//! straight side of it becomes a face, and so can its two ends.

use super::face::{Face, Frame};
use crate::piece::{BentBar, Block, Edge, FaceName, Tent};
use crate::plane::{GridPoint, Rect, Region, Tolerance, from_grid, quarter_arc, to_grid};
use std::f64::consts::{FRAC_PI_2, PI};

type Point = (f64, f64);

/// A profile with the faces along it. Lengths in mm; a point is how far to the back and how high.
#[derive(Debug, Clone)]
pub struct Profile {
    /// Seen from the right, its middle above the origin.
    pub outline: Region,
    /// How long it is drawn out.
    pub length: f64,
    /// How the edges round both ends are finished.
    pub ends: Edge,
    walls: Vec<Wall>,
    /// Width, depth and height.
    size: [f64; 3],
}

/// A straight side of a profile.
#[derive(Debug, Clone, Copy)]
struct Wall {
    name: FaceName,
    /// Its lower and its upper end, as it is seen from its face.
    from: Point,
    to: Point,
    /// Whether it is seen from the front, or from behind.
    is_seen_from_front: bool,
    /// How much material lies behind it; nothing for all there is.
    thickness: Option<f64>,
}

/// A corner of a profile: where it is, and how it is finished.
type Treated = (Point, Edge);

impl Profile {
    /// The profile of a block.
    pub(super) fn of_block(block: &Block, tolerance: Tolerance) -> Self {
        let [width, depth, height] =
            [block.width, block.depth, block.height].map(|length| length.as_mm());
        let back = block.set_back();
        let corners = [
            ((0.0, 0.0), block.bottom),
            ((depth, 0.0), block.bottom),
            ((depth, height), block.top),
            ((back, height), block.top),
        ];
        let wall = |name, from, to, is_seen_from_front| Wall {
            name,
            from,
            to,
            is_seen_from_front,
            thickness: None,
        };
        let walls = vec![
            wall(FaceName::Front, (0.0, 0.0), (back, height), true),
            wall(FaceName::Top, (back, height), (depth, height), true),
            wall(FaceName::Back, (depth, 0.0), (depth, height), false),
        ];
        Profile::of(&corners, walls, width, block.ends, tolerance)
    }

    /// The profile of a bent bar: between two arcs about the bend run its legs.
    pub(super) fn of_bent_bar(bar: &BentBar, tolerance: Tolerance) -> Self {
        let [thickness, inside, outside] =
            [bar.thickness, bar.inside, bar.outside].map(|length| length.as_mm());
        let [base, upright] = bar.from_corner();
        let (sine, cosine) = bar.angle.to_radians().sin_cos();
        // Along the upright, and from its outside to its inside.
        let on = |along: f64, inwards: f64| {
            (along * cosine + inwards * sine, along * sine - inwards * cosine)
        };
        let half = (bar.angle.to_radians() / 2.0).tan();
        let round = |radius: f64| match radius {
            0.0 => Edge::Square,
            radius => Edge::Round(crate::units::Length::mm(radius)),
        };
        let corners = [
            ((0.0, 0.0), round(outside)),
            ((base, 0.0), bar.long),
            ((base, thickness), bar.long),
            ((thickness / half, thickness), round(inside)),
            (on(upright, thickness), bar.long),
            (on(upright, 0.0), bar.long),
        ];
        let (bent_out, bent_in) = (bar.taken_by(outside), bar.taken_inside());
        let wall = |name, from, to, is_seen_from_front| Wall {
            name,
            from,
            to,
            is_seen_from_front,
            thickness: Some(thickness),
        };
        let walls = vec![
            wall(FaceName::Front, on(bent_out, 0.0), on(upright, 0.0), true),
            wall(FaceName::Back, on(bent_in, thickness), on(upright, thickness), false),
            wall(FaceName::Top, (bent_in, thickness), (base, thickness), true),
        ];
        Profile::of(&corners, walls, bar.length.as_mm(), bar.ends, tolerance)
    }

    /// The profile of a tent.
    pub(super) fn of_tent(tent: &Tent, tolerance: Tolerance) -> Self {
        let [front, back, fold] = tent.corners();
        let thickness = tent.thickness.map(|thickness| thickness.as_mm());
        let mut corners = vec![(front, Edge::Square)];
        if let Some(thickness) = thickness {
            // The insides of the legs: where they meet the ground, and where they meet each other.
            let slope = |foot: Point| ((fold.1 - foot.1) / (fold.0 - foot.0).abs()).atan().sin();
            let [near, far] = [(front, 1.0), (back, -1.0)]
                .map(|(foot, way)| (foot.0 + way * thickness / slope(foot), 0.0));
            let inner = crossing(
                (near, (near.0 + fold.0 - front.0, fold.1)),
                (far, (far.0 + fold.0 - back.0, fold.1)),
            );
            corners.extend([near, inner, far].map(|point| (point, Edge::Square)));
        }
        corners.extend([(back, Edge::Square), (fold, tent.fold)]);
        let wall = |name, from, is_seen_from_front| Wall {
            name,
            from,
            to: fold,
            is_seen_from_front,
            thickness,
        };
        let walls = vec![wall(FaceName::Front, front, true), wall(FaceName::Back, back, false)];
        Profile::of(&corners, walls, tent.length.as_mm(), tent.ends, tolerance)
    }

    fn of(
        corners: &[Treated],
        walls: Vec<Wall>,
        length: f64,
        ends: Edge,
        tolerance: Tolerance,
    ) -> Self {
        let points = corners.iter().map(|((y, _), _)| *y);
        let (low, high) =
            points.fold((f64::INFINITY, f64::NEG_INFINITY), |(l, h), y| (l.min(y), h.max(y)));
        let middle = (low + high) / 2.0;
        let centred = |(y, z): Point| (y - middle, z);
        let corners: Vec<Treated> = corners.iter().map(|(p, edge)| (centred(*p), *edge)).collect();
        let walls = walls
            .into_iter()
            .map(|wall| Wall { from: centred(wall.from), to: centred(wall.to), ..wall })
            .collect();
        let outline = treated_polygon(&corners, tolerance);
        let height = corners.iter().map(|((_, z), _)| *z).fold(0.0, f64::max);
        Profile { outline, length, ends, walls, size: [length, high - low, height] }
    }

    /// Width, depth and height in mm.
    pub fn size(&self) -> [f64; 3] {
        self.size
    }

    /// A point of the profile's own solid (how far back, how high, how far along) where it stands.
    pub fn stand(&self, [back, high, along]: [f64; 3]) -> [f64; 3] {
        self.frame().point(back, high, along)
    }

    /// How it lies in the component: seen from the right, heights from its left end.
    pub fn frame(&self) -> Frame {
        Frame {
            origin: [-self.length / 2.0, 0.0, 0.0],
            across: [0.0, 1.0, 0.0],
            up: [0.0, 0.0, 1.0],
            out: [1.0, 0.0, 0.0],
        }
    }

    /// A face along it, or at an end of it; its clear area is not known yet.
    pub(super) fn face(&self, name: FaceName) -> Option<Face> {
        if let Some(wall) = self.walls.iter().find(|wall| wall.name == name) {
            return Some(self.along(wall));
        }
        match name {
            FaceName::Left => Some(self.end(name, -1.0)),
            FaceName::Right => Some(self.end(name, 1.0)),
            _ => None,
        }
    }

    fn along(&self, wall: &Wall) -> Face {
        let (dy, dz) = (wall.to.0 - wall.from.0, wall.to.1 - wall.from.1);
        let tall = dy.hypot(dz);
        let (dy, dz) = (dy / tall, dz / tall);
        // Seen from the front, across runs to the right; what is across times up looks out.
        let way = if wall.is_seen_from_front { 1.0 } else { -1.0 };
        let out = [0.0, -dz * way, dy * way];
        let behind =
            |point: Point| (wall.from.0 - point.0) * out[1] + (wall.from.1 - point.1) * out[2];
        let thickness = wall.thickness.unwrap_or_else(|| {
            let points = self.outline.contours().iter().flatten();
            let mm = |point: &GridPoint| (from_grid(point.x), from_grid(point.y));
            points.map(|point| behind(mm(point))).fold(0.0, f64::max)
        });
        let middle = ((wall.from.0 + wall.to.0) / 2.0, (wall.from.1 + wall.to.1) / 2.0);
        let frame = Frame {
            origin: [0.0, middle.0 - thickness * out[1], middle.1 - thickness * out[2]],
            across: [way, 0.0, 0.0],
            up: [0.0, dy, dz],
            out,
        };
        let rect = Rect::centred(self.length, tall);
        let outline = crate::plane::rounded_rectangle(rect, 0.0, Tolerance::Normal);
        Face::chart(wall.name, frame, outline, thickness)
    }

    fn end(&self, name: FaceName, way: f64) -> Face {
        let bounds = self.outline.bounds().unwrap_or(Rect::centred(1.0, 1.0));
        let (y, z) = bounds.centre();
        let frame = Frame {
            origin: [-way * self.length / 2.0, y, z],
            across: [0.0, way, 0.0],
            up: [0.0, 0.0, 1.0],
            out: [way, 0.0, 0.0],
        };
        let outline = self.outline.clone().moved(-y, -z);
        let outline = if way > 0.0 { outline } else { outline.mirrored(true) };
        Face::chart(name, frame, outline, self.length)
    }
}

/// Where two straight lines cross, each through two points.
fn crossing((a, b): (Point, Point), (c, d): (Point, Point)) -> Point {
    let (ux, uy) = (b.0 - a.0, b.1 - a.1);
    let (vx, vy) = (d.0 - c.0, d.1 - c.1);
    let along = ((c.0 - a.0) * vy - (c.1 - a.1) * vx) / (ux * vy - uy * vx);
    (a.0 + along * ux, a.1 + along * uy)
}

/// A polygon, counter-clockwise, with each corner cut off or rounded by as much as there is room for.
fn treated_polygon(corners: &[Treated], tolerance: Tolerance) -> Region {
    let count = corners.len();
    let at = |i: usize| corners[i % count].0;
    let angle = |i: usize| half_angle(at(i + count - 1), at(i), at(i + 1));
    // How much of its sides each corner takes; what two together take is no more than the side.
    let asked = |i: usize| match corners[i % count].1 {
        Edge::Square => 0.0,
        Edge::Chamfer(size) => size.as_mm(),
        Edge::Round(radius) => radius.as_mm() / angle(i % count + count).tan(),
    };
    let share = |i: usize, j: usize| {
        /// A hair of every side stays straight.
        const MOST: f64 = 0.98;
        (MOST * distance(at(i), at(j)) / (asked(i) + asked(j)).max(1e-9)).min(1.0)
    };
    let mut ring: Vec<GridPoint> = Vec::new();
    for (i, (corner, edge)) in corners.iter().enumerate() {
        let (before, after) = (i + count - 1, i + 1);
        let taken = asked(i) * share(before, i).min(share(i, after));
        let sides = [way(*corner, at(before)), way(*corner, at(after))];
        let points = match edge {
            Edge::Square => vec![*corner],
            Edge::Chamfer(_) => sides.map(|side| along(*corner, side, taken)).to_vec(),
            Edge::Round(_) => arc(*corner, sides, taken, tolerance),
        };
        for (y, z) in points {
            let point = GridPoint::new(to_grid(y), to_grid(z));
            if ring.last() != Some(&point) {
                ring.push(point);
            }
        }
    }
    Region::resolve(&[ring])
}

/// The arc that touches two sides of a corner so far from it; both directions lead away from it.
fn arc(corner: Point, sides: [Point; 2], taken: f64, tolerance: Tolerance) -> Vec<Point> {
    let [to_before, to_after] = sides;
    let half = (to_before.0 * to_after.0 + to_before.1 * to_after.1).clamp(-1.0, 1.0).acos() / 2.0;
    let radius = taken * half.tan();
    // The arc turns by what the sides turn; its middle lies on their bisector.
    let turn = PI - 2.0 * half;
    let bisector = unit((to_before.0 + to_after.0, to_before.1 + to_after.1));
    let centre = along(corner, bisector, radius / half.sin());
    let chords = quarter_arc(radius, tolerance).count() as f64 - 1.0;
    let steps = (chords * turn / FRAC_PI_2).ceil().max(1.0) as usize;
    let start = along(corner, to_before, taken);
    let from = (start.0 - centre.0, start.1 - centre.1);
    let turns_left = to_before.0 * to_after.1 - to_before.1 * to_after.0 < 0.0;
    let turned = |step: usize| {
        let angle = turn * step as f64 / steps as f64;
        let (sine, cosine) = if turns_left { angle } else { -angle }.sin_cos();
        (centre.0 + from.0 * cosine - from.1 * sine, centre.1 + from.0 * sine + from.1 * cosine)
    };
    (0..=steps).map(turned).collect()
}

/// Half the angle between the sides that meet in a corner.
fn half_angle(before: Point, corner: Point, after: Point) -> f64 {
    let (a, b) = (way(corner, before), way(corner, after));
    (a.0 * b.0 + a.1 * b.1).clamp(-1.0, 1.0).acos() / 2.0
}

fn along(from: Point, way: Point, mm: f64) -> Point {
    (from.0 + way.0 * mm, from.1 + way.1 * mm)
}

fn distance(a: Point, b: Point) -> f64 {
    (b.0 - a.0).hypot(b.1 - a.1)
}

fn unit((x, y): Point) -> Point {
    let length = x.hypot(y);
    if length == 0.0 { (0.0, 0.0) } else { (x / length, y / length) }
}

fn way(from: Point, to: Point) -> Point {
    unit((to.0 - from.0, to.1 - from.1))
}
