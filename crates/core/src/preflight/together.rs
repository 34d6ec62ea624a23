//! Components that run into each other when the piece is put together.
//!
//! What goes into something is set where it comes to be, and half and all of the way out of its slot or socket; what
//! of both is solid there at once is worked out by the boolean kernel. A fit tighter than nothing is meant to press:
//! what is no thicker than that is no collision.

use super::on_each_other::capital;
use super::spot::Spot;
use super::{Finding, Weight};
use crate::cache::{Kept, Stage};
use crate::evaluate::{Along, Evaluation, Frame, Made, put_together};
use crate::piece::{Address, Component, Joint, Piece};
use crate::solid::{Act, KernelSolid, Measures, Mesh, extremes};
use crate::workshop::Workshop;
use std::sync::Arc;

/// Thinner than this is rounding, in mm.
const NOTICEABLE_MM: f64 = 0.05;

/// No more is put together than so many triangles, each counted as often as it is set against others.
const MOST_TRIANGLES: usize = 400_000;

/// How far out of its place what goes in is looked at, as shares of the way.
const DRAWN_OUT: [f64; 3] = [0.0, 0.5, 1.0];

/// What is said already where it does not go in: that says why.
const SAYS_MORE: [&str; 9] = [
    "in-the-slot",
    "stands-in-socket",
    "socket-too-deep",
    "socket-breaks-out",
    "lid-falls-in",
    "slot-too-deep",
    "slot-breaks-out",
    "slot-too-long",
    "slots-meet",
];

/// A component in its place in another one, in the coordinates of that.
struct Put<'a> {
    joint: &'a Joint,
    component: &'a Component,
    made: &'a Made,
    pose: Frame,
    /// Its mesh there.
    mesh: Mesh,
    /// Which way it is drawn out, and how far until it is free.
    out: [f64; 3],
    depth: f64,
}

/// What runs into something else, so far as nothing else of these findings says why.
pub(super) fn check(
    piece: &Piece,
    evaluation: &Evaluation,
    workshop: &Workshop<'_>,
    known: &[Finding],
) -> Vec<Finding> {
    let says_why = |finding: &Finding| SAYS_MORE.contains(&finding.code);
    if piece.joints.is_empty()
        || known.iter().any(says_why)
        || evaluation.components.iter().any(|made| made.stop.is_some())
    {
        return Vec::new();
    }
    let poses = put_together(piece, evaluation);
    let mut left = MOST_TRIANGLES;
    let mut spent = |one: &Made, other: &Made, times: usize| {
        let work = times * (one.mesh.triangles.len() + other.mesh.triangles.len());
        let is_spent = work > left;
        left = left.saturating_sub(work);
        is_spent
    };
    let mut findings = Vec::new();
    for (into, whole) in piece.components.iter().zip(&evaluation.components) {
        let parts: Vec<Put<'_>> = piece
            .joints_into(&into.id)
            .filter_map(|(joint, component)| {
                let at = piece.components.iter().position(|one| one.id == component.id)?;
                let (out, depth) = way_out(whole, joint)?;
                Some(Put::new(joint, component, &evaluation.components[at], poses[at], out, depth))
            })
            .collect();
        for (i, part) in parts.iter().enumerate() {
            if spent(part.made, whole, DRAWN_OUT.len()) {
                return [findings, vec![not_tried()]].concat();
            }
            findings.extend(with_what_it_goes_into(piece, part, into, whole, workshop));
            for other in parts[..i].iter().filter(|other| part.is_near(other)) {
                if spent(part.made, other.made, 1) {
                    return [findings, vec![not_tried()]].concat();
                }
                findings.extend(with_each_other(part, other, into, whole, workshop));
            }
        }
    }
    findings
}

/// There is more to put together than is tried.
fn not_tried() -> Finding {
    let message =
        "There is so much on its components that preflight has not put all of them together.";
    Finding::new("not-put-together", Weight::Note, Address::Piece, message.to_owned())
}

/// Which way what is in a joint is drawn out of it, and how far.
fn way_out(whole: &Made, joint: &Joint) -> Option<([f64; 3], f64)> {
    let layout = &whole.layout;
    let slot = layout.slots.iter().find(|slot| slot.joint == joint.id);
    let socket = layout.sockets.iter().find(|socket| socket.joint == joint.id);
    match (slot, socket) {
        (Some(slot), _) => Some((slot.frame.out, slot.depth)),
        (_, Some(socket)) => Some((layout.face(socket.face)?.frame.out, socket.depth)),
        _ => None,
    }
}

impl<'a> Put<'a> {
    fn new(
        joint: &'a Joint,
        component: &'a Component,
        made: &'a Made,
        pose: Frame,
        out: [f64; 3],
        depth: f64,
    ) -> Self {
        let vertices = made.mesh.vertices.iter().map(|&[x, y, z]| pose.point(x, y, z)).collect();
        let mesh = Mesh { vertices, triangles: made.mesh.triangles.clone() };
        Put { joint, component, made, pose, mesh, out, depth }
    }

    /// Its mesh drawn out by so much.
    fn drawn_out(&self, by: f64) -> Mesh {
        let at = |vertex: &[f64; 3]| [0, 1, 2].map(|i| vertex[i] + by * self.out[i]);
        let vertices = self.mesh.vertices.iter().map(at).collect();
        Mesh { vertices, triangles: self.mesh.triangles.clone() }
    }

    /// Whether the boxes round it and another one share something.
    fn is_near(&self, other: &Self) -> bool {
        let [(low, high), (other_low, other_high)] =
            [self, other].map(|one| extremes(one.mesh.vertices.iter().copied()));
        (0..3).all(|i| low[i] < other_high[i] && other_low[i] < high[i])
    }

    /// A point of the other component, in the sections of this one.
    fn own(&self, point: [f64; 3]) -> [f64; 3] {
        let from = [0, 1, 2].map(|i| point[i] - self.pose.origin[i]);
        let along = |axis: [f64; 3]| (0..3).map(|i| from[i] * axis[i]).sum::<f64>();
        let [x, y, z] = [self.pose.across, self.pose.up, self.pose.out].map(along);
        [x, y, z - self.made.lift]
    }
}

/// What two solids share, and how thick it is on the whole.
///
/// A sheet encloses its area times its thickness, and its surface is twice its area; so 2 V / A.
#[derive(Default)]
struct Shared {
    both: Mesh,
    thick: f64,
}

impl Shared {
    /// Nothing where one of them is no solid.
    fn of(one: &Mesh, other: &Mesh) -> Self {
        let [Some(one), Some(other)] = [one, other].map(KernelSolid::of) else {
            return Shared::default();
        };
        let both = one.within(&other).surface();
        let measures = both.measures();
        Shared { both, thick: 2.0 * measures.volume / measures.area.max(1e-9) }
    }
}

impl Kept for Shared {
    fn bytes(&self) -> usize {
        self.both.bytes() + 8
    }
}

/// What two solids share, where that is thicker than a fit presses. Of many things that go into one, most are as they
/// were before an edit.
fn shared(one: &Mesh, other: &Mesh, pressed: f64, workshop: &Workshop<'_>) -> Option<Arc<Shared>> {
    let key = workshop.cache.key(Stage::Shared, (one, other));
    let found = workshop.cache.kept(key, || Shared::of(one, other));
    (found.thick > pressed + NOTICEABLE_MM).then_some(found)
}

fn with_what_it_goes_into(
    piece: &Piece,
    part: &Put<'_>,
    into: &Component,
    whole: &Made,
    workshop: &Workshop<'_>,
) -> Option<Finding> {
    let clearance = piece.printer.drawn().clearance(part.joint.fit);
    let pressed = (-clearance).max(0.0);
    let found = DRAWN_OUT.into_iter().find_map(|share| {
        let drawn_out = share * part.depth;
        Some((shared(&part.drawn_out(drawn_out), &whole.mesh, pressed, workshop)?, drawn_out))
    });
    let (found, drawn_out) = found?;
    let both = &found.both;
    let Measures { low, high, .. } = both.measures();
    // What stands in the way on either of them.
    let back = part.out.map(|axis| drawn_out * axis);
    let own = [low, high].map(|corner| part.own([0, 1, 2].map(|i| corner[i] - back[i])));
    let of_part = in_the_way(part.component, part.made, own);
    let lifted = [low, high].map(|[x, y, z]| [x, y, z - whole.lift]);
    let of_whole = in_the_way(into, whole, lifted);
    let [part_called, into_called] = [part.component.called(), into.called()];
    // Where it is seen is told in the sections of what it is said of.
    let seen_in_part = || {
        let vertices = both.vertices.iter().map(|at| part.own([0, 1, 2].map(|i| at[i] - back[i])));
        spot(&Mesh { vertices: vertices.collect(), triangles: both.triangles.clone() }, 0.0)
    };
    let (target, why, spot) = match (of_part, of_whole) {
        (Some((id, what)), _) => {
            let target = part.component.element_address(id);
            (target, format!("{what} on it is in the way"), seen_in_part())
        }
        (_, Some((id, what))) => {
            let why = format!("{what} on {into_called} is in the way");
            (into.element_address(id), why, spot(both, whole.lift))
        }
        _ => {
            let why = "both are solid at the same place".to_owned();
            (part.component.address(), why, seen_in_part())
        }
    };
    let message = format!(
        "{} does not go into {into_called}: {why}. Move it, or sink it.",
        capital(part_called)
    );
    Some(Finding::new("does-not-go-in", Weight::Must, target, message).spots([spot]))
}

/// What stands in one component and runs into each other is said of that: there both can be moved.
fn with_each_other(
    part: &Put<'_>,
    other: &Put<'_>,
    into: &Component,
    whole: &Made,
    workshop: &Workshop<'_>,
) -> Option<Finding> {
    let found = shared(&part.mesh, &other.mesh, 0.0, workshop)?;
    let message = format!(
        "{} and {} run into each other where they stand. Move one of them, or lean them apart.",
        capital(part.component.called()),
        other.component.called()
    );
    let finding = Finding::new("parts-collide", Weight::Must, into.address(), message);
    Some(finding.spots([spot(&found.both, whole.lift)]))
}

/// The element that adds something in a box of the sections of a component, and what it is called.
fn in_the_way<'a>(
    component: &'a Component,
    made: &Made,
    [one, other]: [[f64; 3]; 2],
) -> Option<(&'a str, String)> {
    let [low, high] = [f64::min as fn(f64, f64) -> f64, f64::max]
        .map(|pick| [0, 1, 2].map(|i| pick(one[i], other[i])));
    let thickness = made.layout.blank.thickness;
    component.elements.iter().zip(&made.layout.elements).rev().find_map(|(element, placed)| {
        let is_there = placed.prisms.iter().any(|prism| {
            let stands_out = prism.bottom < -1e-6 || prism.top > thickness + 1e-6;
            let beyond = |bounds: crate::plane::Rect| {
                bounds.x0 < high[0]
                    && low[0] < bounds.x1
                    && bounds.y0 < high[1]
                    && low[1] < bounds.y1
            };
            prism.act == Act::Adds
                && (stands_out
                    || !made.layout.blank.base.bounds().is_some_and(|b| b.contains(&placed.frame)))
                && prism.bottom < high[2]
                && low[2] < prism.top
                && prism.outline.bounds().is_some_and(beyond)
        });
        is_there.then(|| (&*element.id, format!("the {} “{}”", placed.kind.word(), element.name())))
    })
}

/// Where a solid is, cut through at half of its height.
fn spot(both: &Mesh, lift: f64) -> Spot {
    let measures = both.measures();
    let [bottom, top] = [measures.low[2], measures.high[2]];
    let shape = both.level((bottom + top) / 2.0);
    Spot { seen: Along::Sections, shape, bottom: bottom - lift, top: top - lift, ends: None }
}
