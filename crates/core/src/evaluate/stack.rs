//! Bodies that are prisms about an upright axis: caps, plugs, rings, boxes.
//!
//! They stand as they are worked: an opening down where a cap has it, up where a box has it. Their
//! volumes are areas times heights; those of beads and rounds follow from the theorem of Pappus. Their
//! faces are charts, level ones, upright ones and such as run round.

use super::face::{Face, Frame};
use super::round::Round;
use super::{Order, Prism};
use crate::piece::{
    Blank, BoxBlank, Cap, Component, Edge, FaceName, Fits, Grip, GripBand, GripPattern, Hold,
    Piece, Plug, RingBlank,
};
use crate::plane::{GridPoint, Rect, Region, Tolerance, circle, rounded_rectangle, to_grid};
use crate::solid::{Act, Mesh};
use crate::units::Length;
use crate::workshop::Workshop;
use std::f64::consts::TAU;

/// Prisms about an upright axis, with the faces they have. Lengths in mm over a foot.
#[derive(Debug, Clone, Default)]
pub struct Stack {
    /// What it is made of, in the order of work.
    pub prisms: Vec<Prism>,
    /// Its faces, the main one first.
    pub faces: Vec<Face>,
    /// Width, depth and height.
    pub size: [f64; 3],
    /// What is cut through whatever stands on its faces.
    pub(super) through: Vec<Prism>,
    /// What no prism is: a knurl.
    pub(super) sleeve: Option<Mesh>,
    /// How it goes together with what was measured, where something was.
    pub joint: Option<Sliver>,
}

/// A joint with something that was measured, to be looked at. Lengths in mm.
#[derive(Debug, Clone)]
pub struct Sliver {
    /// Half of the section of what is made, its axis at 0: how far from it and how high.
    pub body: Region,
    /// The same of what was measured.
    pub guest: Region,
    /// What was measured, across.
    pub measured: f64,
    /// What it meets, across.
    pub across: f64,
}

impl Stack {
    /// The stack of a component; of a blank that is none, nothing.
    pub(super) fn of(piece: &Piece, component: &Component, workshop: &Workshop<'_>) -> Self {
        let (fits, tolerance) = (&piece.printer.drawn(), workshop.tolerance);
        match &component.blank {
            Blank::Cap(cap) => Stack::of_cap(cap, fits, tolerance),
            Blank::Plug(plug) => Stack::of_plug(plug, fits, tolerance),
            Blank::Ring(ring) => Stack::of_ring(ring, fits, tolerance),
            Blank::Box(inner) => Stack::of_box(inner, tolerance),
            _ => Stack::default(),
        }
    }

    fn of_cap(cap: &Cap, fits: &Fits, tolerance: Tolerance) -> Self {
        let [wall, skirt, top] = [cap.wall, cap.skirt, cap.top].map(|length| length.as_mm());
        let (bore, height) = (cap.bore(fits), skirt + top);
        let outer = bore + wall;
        let skin = Skin {
            radius: outer,
            grip: cap.grip,
            band: cap.grip_band,
            reach: [0.0, height],
            edges: [cap.lower, cap.upper],
        };
        let inside = Prism {
            bottom_edge: chamfer(cap.lead_in),
            ..cuts(circle((0.0, 0.0), bore, tolerance), 0.0, skirt)
        };
        let room = match cap.hold {
            Hold::Stop(stop) => bore - stop.width.as_mm(),
            _ => bore,
        };
        let mut prisms = skin.prisms(tolerance);
        prisms.push(inside);
        if let Some(held) = holding(cap, bore, tolerance) {
            let reaches_in = held.bottom < cap.lead_in.as_mm();
            prisms.push(held);
            // A pipe is led in whatever keeps it there afterwards.
            if reaches_in {
                let lead = cuts(circle((0.0, 0.0), bore, tolerance), 0.0, cap.lead_in.as_mm());
                prisms.push(Prism { bottom_edge: chamfer(cap.lead_in), ..lead });
            }
        }
        let vent = cap.vent.map(|vent| circle((0.0, 0.0), vent.as_mm() / 2.0, tolerance));
        let through: Vec<Prism> =
            vent.iter().map(|vent| cuts(vent.clone(), skirt, height)).collect();
        prisms.extend(through.iter().cloned());
        let less_vent = |disc: Region| match &vent {
            Some(vent) => disc.difference(vent),
            None => disc,
        };
        // Ribs and corners are no room for words.
        let seen = less_vent(circle((0.0, 0.0), outer, tolerance));
        let faces = vec![
            Face::chart(
                FaceName::Top,
                Frame { origin: [0.0, 0.0, skirt], ..Frame::LOOKING_UP },
                seen,
                top,
            )
            .edged(cap.upper),
            Face::chart(
                FaceName::Under,
                Frame::looking_down(height),
                less_vent(circle((0.0, 0.0), room, tolerance)),
                top,
            ),
            around((outer, wall), false, skin.plain(), tolerance)
                .edged(larger(cap.lower, cap.upper)),
        ];
        Stack {
            prisms,
            faces,
            size: size(outer, cap.grip, height),
            through,
            sleeve: skin.knurled(tolerance),
            joint: Some(Sliver::of_cap(cap, bore)),
        }
    }

    fn of_plug(plug: &Plug, fits: &Fits, tolerance: Tolerance) -> Self {
        let [shank, top] = [plug.shank, plug.top].map(|length| length.as_mm());
        let (radius, height) = (plug.radius(fits), shank + top);
        let outer = plug.into.as_mm() / 2.0 + plug.collar.as_mm();
        let end = radius - plug.tapers();
        let skin = Skin {
            radius: outer,
            grip: plug.grip,
            band: plug.grip_band,
            reach: [shank, height],
            edges: [Edge::Square, plug.upper],
        };
        let mut prisms = vec![Prism {
            bottom_edge: plug.lead_in,
            taper: plug.tapers(),
            ..adds(circle((0.0, 0.0), radius, tolerance), 0.0, shank)
        }];
        prisms.extend(skin.prisms(tolerance));
        let seen_end = circle((0.0, 0.0), end - plug.lead_in.size(), tolerance);
        let mut faces = vec![
            Face::chart(
                FaceName::Top,
                Frame { origin: [0.0, 0.0, shank], ..Frame::LOOKING_UP },
                circle((0.0, 0.0), outer, tolerance),
                top,
            )
            .edged(plug.upper),
        ];
        match plug.wall {
            Some(wall) => {
                let hollow =
                    circle((0.0, 0.0), end - plug.lead_in.size() - wall.as_mm(), tolerance);
                prisms.push(cuts(hollow.clone(), 0.0, shank));
                faces.push(Face::chart(FaceName::Under, Frame::looking_down(height), hollow, top));
            }
            None => {
                let frame = Frame::looking_down(shank);
                faces.push(Face::chart(FaceName::Under, frame, seen_end, shank));
            }
        }
        let collar = around((outer, outer / 2.0), false, skin.plain(), tolerance);
        faces.push(collar.edged(plug.upper));
        Stack {
            prisms,
            faces,
            size: size(outer, plug.grip, height),
            sleeve: skin.knurled(tolerance),
            joint: Some(Sliver::of_plug(plug, radius)),
            ..Stack::default()
        }
    }

    fn of_ring(ring: &RingBlank, fits: &Fits, tolerance: Tolerance) -> Self {
        let [wall, height] = [ring.wall, ring.height].map(|length| length.as_mm());
        let bore = ring.bore(fits);
        let outer = bore + wall;
        let outside = Prism {
            bottom_edge: ring.edge,
            top_edge: ring.edge,
            ..adds(circle((0.0, 0.0), outer, tolerance), 0.0, height)
        };
        let inside = Prism {
            bottom_edge: ring.comfort,
            top_edge: ring.comfort,
            ..cuts(circle((0.0, 0.0), bore, tolerance), 0.0, height)
        };
        let faces = vec![
            around((outer, wall), false, [0.0, height], tolerance).edged(ring.edge),
            around((bore, wall), true, [0.0, height], tolerance).edged(ring.comfort),
        ];
        Stack {
            prisms: vec![outside, inside],
            faces,
            size: size(outer, Grip::Plain, height),
            joint: Some(Sliver {
                body: polygon(&[(bore, 0.0), (outer, 0.0), (outer, height), (bore, height)]),
                guest: {
                    let radius = ring.over.as_mm() / 2.0;
                    let (low, high) = (-height / 2.0, 1.5 * height);
                    polygon(&[(0.0, low), (radius, low), (radius, high), (0.0, high)])
                },
                measured: ring.over.as_mm(),
                across: 2.0 * bore,
            }),
            ..Stack::default()
        }
    }

    fn of_box(inner: &BoxBlank, tolerance: Tolerance) -> Self {
        let [width, depth, wall, floor] =
            [inner.width, inner.depth, inner.wall, inner.floor].map(|length| length.as_mm());
        let (tall, corner) = (inner.tall(), inner.corner_inside());
        let rect = |more: f64| {
            let rect = Rect::centred(width + 2.0 * more, depth + 2.0 * more);
            rounded_rectangle(rect, if corner > 0.0 { corner + more } else { 0.0 }, tolerance)
        };
        let (outside, inside) = (rect(wall), rect(0.0));
        let prisms = vec![
            Prism {
                bottom_edge: inner.lower,
                top_edge: inner.upper,
                ..adds(outside.clone(), 0.0, tall)
            },
            cuts(inside.clone(), floor, tall),
        ];
        let (far, deep) = (width / 2.0 + wall, depth / 2.0 + wall);
        let rounding = if corner > 0.0 { corner + wall } else { 0.0 };
        let side = |name, long: f64, origin: [f64; 3], across: [f64; 3]| {
            let out = [across[1], -across[0], 0.0];
            let origin = [0, 1, 2].map(|i| origin[i] - wall * out[i]);
            let frame = Frame { origin, across, up: [0.0, 0.0, 1.0], out };
            let straight = Rect::centred((long - 2.0 * rounding).max(0.01), tall);
            let outline = rounded_rectangle(straight, 0.0, tolerance);
            Face::chart(name, frame, outline, wall).edged(larger(inner.lower, inner.upper))
        };
        let middle = tall / 2.0;
        let faces = vec![
            side(FaceName::Front, 2.0 * far, [0.0, -deep, middle], [1.0, 0.0, 0.0]),
            side(FaceName::Back, 2.0 * far, [0.0, deep, middle], [-1.0, 0.0, 0.0]),
            side(FaceName::Left, 2.0 * deep, [-far, 0.0, middle], [0.0, -1.0, 0.0]),
            side(FaceName::Right, 2.0 * deep, [far, 0.0, middle], [0.0, 1.0, 0.0]),
            // Its rim, over the walls.
            Face::chart(FaceName::Top, Frame::LOOKING_UP, outside.difference(&inside), tall)
                .edged(inner.upper),
            Face::chart(FaceName::Inside, Frame::LOOKING_UP, inside, floor),
            Face::chart(FaceName::Under, Frame::looking_down(floor), outside, floor)
                .edged(inner.lower),
        ];
        Stack { prisms, faces, size: [2.0 * far, 2.0 * deep, tall], ..Stack::default() }
    }
}

impl Sliver {
    fn of_cap(cap: &Cap, bore: f64) -> Self {
        let [wall, skirt, top, lead_in] =
            [cap.wall, cap.skirt, cap.top, cap.lead_in].map(|length| length.as_mm());
        let (outer, height) = (bore + wall, skirt + top);
        let vent = cap.vent.map_or(0.0, |vent| vent.as_mm() / 2.0);
        let shell = [
            (vent, height),
            (vent, skirt),
            (bore, skirt),
            (bore, lead_in),
            (bore + lead_in, 0.0),
            (outer, 0.0),
            (outer, height),
        ];
        let mut body = polygon(&shell);
        let mut end = skirt;
        match cap.hold {
            Hold::Nothing => {}
            Hold::Bead(bead) => {
                let (proud, up) = (bead.proud.as_mm(), bead.up.as_mm());
                let ring = [(bore, up - proud), (bore, up + proud), (bore - proud, up)];
                body = body.union(&polygon(&ring));
            }
            Hold::Stop(stop) => {
                end -= stop.height.as_mm();
                let inner = bore - stop.width.as_mm();
                let step = [(inner, end), (bore, end), (bore, skirt), (inner, skirt)];
                body = body.union(&polygon(&step));
            }
        }
        let radius = cap.over.as_mm() / 2.0;
        // A pipe's wall is not asked for: it is drawn as one.
        let (inner, low) = (radius * 0.85, -skirt / 2.0);
        let guest = polygon(&[(inner, low), (radius, low), (radius, end), (inner, end)]);
        Sliver { body, guest, measured: cap.over.as_mm(), across: 2.0 * bore }
    }

    fn of_plug(plug: &Plug, radius: f64) -> Self {
        let [shank, top, into] = [plug.shank, plug.top, plug.into].map(|length| length.as_mm());
        let (bore, height) = (into / 2.0, shank + top);
        let (outer, end) = (bore + plug.collar.as_mm(), radius - plug.tapers());
        let hollow = plug.wall.map_or(0.0, |wall| end - plug.lead_in.size() - wall.as_mm());
        let body = polygon(&[
            (0.0, height),
            (0.0, shank),
            (hollow, shank),
            (hollow, 0.0),
            (end, 0.0),
            (radius, shank),
            (outer, shank),
            (outer, height),
        ]);
        let (far, low) = (outer + 2.0, -shank / 4.0);
        let guest = polygon(&[(bore, low), (far, low), (far, shank), (bore, shank)]);
        Sliver { body, guest, measured: into, across: 2.0 * radius }
    }
}

fn polygon(corners: &[(f64, f64)]) -> Region {
    let ring = corners.iter().map(|(x, y)| GridPoint::new(to_grid(*x), to_grid(*y)));
    Region::resolve(&[ring.collect()])
}

/// How far into its wall a bead goes on, as a share of the wall.
const ROOTED_SHARE: f64 = 0.9;

/// What keeps a cap of a bore where it is, inside its skirt.
fn holding(cap: &Cap, bore: f64, tolerance: Tolerance) -> Option<Prism> {
    let [wall, skirt] = [cap.wall, cap.skirt].map(|length| length.as_mm());
    match cap.hold {
        Hold::Nothing => None,
        Hold::Bead(bead) => {
            let (proud, up) = (bead.proud.as_mm(), bead.up.as_mm());
            // It goes on into the wall, so that only its inner flanks are its own.
            let ring = annulus(bore - proud, bore + ROOTED_SHARE * wall, tolerance);
            let flanks = Edge::Chamfer(bead.proud);
            let bead = adds(ring, up - proud, up + proud);
            Some(Prism { bottom_edge: flanks, top_edge: flanks, ..bead })
        }
        Hold::Stop(stop) => {
            let ring = annulus(bore - stop.width.as_mm(), bore + wall / 2.0, tolerance);
            Some(adds(ring, skirt - stop.height.as_mm(), skirt))
        }
    }
}

fn adds(outline: Region, bottom: f64, top: f64) -> Prism {
    Prism { order: Order::First, ..Prism::square(Act::Adds, outline, bottom, top) }
}

fn cuts(outline: Region, bottom: f64, top: f64) -> Prism {
    Prism { order: Order::First, ..Prism::square(Act::Cuts, outline, bottom, top) }
}

fn chamfer(size: Length) -> Edge {
    if size > Length::ZERO { Edge::Chamfer(size) } else { Edge::Square }
}

fn larger(a: Edge, b: Edge) -> Edge {
    if a.size() < b.size() { b } else { a }
}

fn annulus(inner: f64, outer: f64, tolerance: Tolerance) -> Region {
    circle((0.0, 0.0), outer, tolerance).difference(&circle((0.0, 0.0), inner, tolerance))
}

/// A face that runs round, of a radius and so much material, from a foot so high.
fn around(
    (radius, thickness): (f64, f64),
    is_inside: bool,
    [foot, height]: [f64; 2],
    tolerance: Tolerance,
) -> Face {
    let round = Round::new((radius, thickness), is_inside, [foot, height], tolerance);
    let front = [0.0, -1.0, 0.0];
    let frame = Frame {
        // Where the middle of its chart touches it, and how it looks from there.
        origin: round.point(0.0, 0.0, 0.0),
        across: [1.0, 0.0, 0.0],
        up: [0.0, 0.0, 1.0],
        out: front,
    };
    let rect = Rect::centred(round.way_round(), height);
    let name = if is_inside { FaceName::Inside } else { FaceName::Around };
    let outline = rounded_rectangle(rect, 0.0, tolerance);
    Face { round: Some(round), ..Face::chart(name, frame, outline, thickness) }
}

/// Width, depth and height of something round.
fn size(radius: f64, grip: Grip, height: f64) -> [f64; 3] {
    let across = 2.0 * (radius + grip.stands_out(radius));
    [across, across, height]
}

/// An upright outside with its grip, all of it or in a band. Lengths in mm.
struct Skin {
    radius: f64,
    grip: Grip,
    band: Option<GripBand>,
    /// Its foot and its head.
    reach: [f64; 2],
    /// How its edges there are finished.
    edges: [Edge; 2],
}

impl Skin {
    /// What it is made of. Where a band ends beside the plain part, what stands out slopes by 45°, so that
    /// it is printed without supports.
    fn prisms(&self, tolerance: Tolerance) -> Vec<Prism> {
        let [[foot, head], [lower, upper]] = [self.reach, self.band()];
        let between = |outline, [bottom, top]: [f64; 2], [bottom_edge, top_edge]: [Edge; 2]| {
            Prism { bottom_edge, top_edge, ..adds(outline, bottom, top) }
        };
        let gripped = gripped(self.radius, self.grip, tolerance);
        if (foot, head) == (lower, upper) {
            return vec![between(gripped, self.reach, self.edges)];
        }
        let plain = circle((0.0, 0.0), self.radius, tolerance);
        let mut prisms = vec![between(plain, self.reach, self.edges)];
        if matches!(self.grip, Grip::Ribs(_) | Grip::Facets(_)) {
            let out = self.grip.stands_out(self.radius).min((upper - lower) / 2.0);
            let slope = Edge::Chamfer(Length::mm(out));
            let edges = [
                if lower > foot { slope } else { self.edges[0] },
                if upper < head { slope } else { self.edges[1] },
            ];
            prisms.push(between(gripped, [lower, upper], edges));
        }
        prisms
    }

    /// Where its grip is.
    fn band(&self) -> [f64; 2] {
        let [foot, head] = self.reach;
        match self.band {
            Some(band) if self.grip != Grip::Plain => {
                band.reach(head - foot).map(|above| foot + above)
            }
            _ => self.reach,
        }
    }

    /// The foot and the height of its plain part; of one that is not plain anywhere, of all of it.
    fn plain(&self) -> [f64; 2] {
        let [foot, head] = self.reach;
        match self.band {
            Some(band) if self.grip != Grip::Plain => {
                let [from, to] = band.beside(head - foot);
                [foot + from, to - from]
            }
            _ => [foot, head - foot],
        }
    }

    /// The sleeve of a knurl, clear of the edges.
    fn knurled(&self, tolerance: Tolerance) -> Option<Mesh> {
        let [lower, upper] = self.band();
        let [foot, head] = self.reach;
        let low = lower.max(foot + self.edges[0].size());
        let high = upper.min(head - self.edges[1].size());
        /// Where edges leave less than this nothing is knurled.
        const LEAST_MM: f64 = 0.2;
        if high - low < LEAST_MM {
            return None;
        }
        knurled(self.radius, self.grip, [low, high], tolerance)
    }
}

/// The outline of something round with its grip, as far as that is upright.
fn gripped(radius: f64, grip: Grip, tolerance: Tolerance) -> Region {
    let round = || circle((0.0, 0.0), radius, tolerance);
    match grip {
        Grip::Plain | Grip::Knurl(_) => round(),
        Grip::Facets(count) => facets(radius, count),
        Grip::Ribs(pattern) => round().union(&ribs(radius, pattern)),
    }
}

/// A regular polygon that touches a circle, one of its sides at the front.
fn facets(radius: f64, count: u32) -> Region {
    let step = TAU / f64::from(count);
    let corner = radius / (step / 2.0).cos();
    let ring = (0..count).map(|i| at(corner, step * (f64::from(i) + 0.5) - TAU / 4.0));
    Region::resolve(&[ring.collect()])
}

/// Upright ribs of trapezoidal section round a circle: half a pitch wide at their feet and a quarter at
/// their heads. Their feet are sunk into the circle.
fn ribs(radius: f64, GripPattern { count, depth }: GripPattern) -> Region {
    const FOOT: f64 = 0.25;
    const HEAD: f64 = 0.125;
    let pitch = TAU / f64::from(count);
    let (low, high) = (radius * (pitch * FOOT).cos() * 0.98, radius + depth.as_mm());
    let rib = |i: u32| {
        let middle = pitch * f64::from(i) - TAU / 4.0;
        let foot = pitch * FOOT;
        vec![
            at(low, middle - foot),
            at(low, middle + foot),
            at(radius, middle + foot),
            at(high, middle + pitch * HEAD),
            at(high, middle - pitch * HEAD),
            at(radius, middle - foot),
        ]
    };
    Region::resolve(&(0..count).map(rib).collect::<Vec<_>>())
}

fn at(radius: f64, angle: f64) -> GridPoint {
    let (sine, cosine) = angle.sin_cos();
    GridPoint::new(to_grid(radius * cosine), to_grid(radius * sine))
}

/// The sleeve of a knurl between two heights, nothing for any other grip.
///
/// Peaks and valleys alternate round it and up it; the grooves run from valley to valley across both.
fn knurled(radius: f64, grip: Grip, [low, high]: [f64; 2], tolerance: Tolerance) -> Option<Mesh> {
    let Grip::Knurl(GripPattern { count, depth }) = grip else { return None };
    let columns = 2 * count;
    let across = TAU * radius / f64::from(columns);
    // As many rows as make the diamonds about as high as they are wide.
    let rows = (((high - low) / across).round() as u32).clamp(2, 400);
    /// Its valleys lie off the wall, or they would touch it along mere edges.
    const OFF_MM: f64 = 0.03;
    // The sleeve reaches a little into the wall, below every chord of it.
    let chord = tolerance.chord_mm();
    let inner = radius - 2.0 * chord - radius * (1.0 - (TAU / 2.0 / f64::from(columns)).cos());
    let point = |radius: f64, column: u32, row: u32| {
        let angle = TAU * f64::from(column % columns) / f64::from(columns) - TAU / 4.0;
        let (sine, cosine) = angle.sin_cos();
        let height = low + (high - low) * f64::from(row) / f64::from(rows);
        [radius * cosine, radius * sine, height]
    };
    let mut mesh = Mesh::default();
    for row in 0..=rows {
        for column in 0..columns {
            let ends = row == 0 || row == rows;
            let is_peak = (row + column) % 2 == 0 && !ends;
            let far = radius + if is_peak { depth.as_mm() } else { OFF_MM };
            mesh.vertices.push(point(far, column, row));
        }
    }
    let outside = |column: u32, row: u32| row * columns + column % columns;
    for row in 0..rows {
        for column in 0..columns {
            let [a, b, c, d] = [
                outside(column, row),
                outside(column + 1, row),
                outside(column + 1, row + 1),
                outside(column, row + 1),
            ];
            // From valley to valley.
            let halves = if (row + column) % 2 == 0 {
                [[a, b, d], [b, c, d]]
            } else {
                [[a, b, c], [a, c, d]]
            };
            mesh.triangles.extend(halves);
        }
    }
    let first = mesh.vertices.len() as u32;
    for row in [0, rows] {
        mesh.vertices.extend((0..columns).map(|column| point(inner, column, row)));
    }
    let inside =
        |column: u32, is_head: bool| first + if is_head { columns } else { 0 } + column % columns;
    for column in 0..columns {
        let [a, b] = [inside(column, false), inside(column + 1, false)];
        let [c, d] = [inside(column + 1, true), inside(column, true)];
        mesh.triangles.extend([[b, a, d], [b, d, c]]);
        let [e, f] = [outside(column, 0), outside(column + 1, 0)];
        mesh.triangles.extend([[a, b, f], [a, f, e]]);
        let [g, h] = [outside(column, rows), outside(column + 1, rows)];
        mesh.triangles.extend([[g, h, c], [g, c, d]]);
    }
    Some(mesh)
}
