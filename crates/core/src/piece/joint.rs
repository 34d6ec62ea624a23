//! Joints: what two components share.
//!
//! A joint knows which component it is cut into and which goes in. Sizes are those of what goes in,
//! opened by the clearance of a fit, so a plate that gets thicker takes its slot along.

use super::check::{Checker, cut};
use super::{Address, Component, FaceName, Fit, HolePlace, Piece, limits};
use crate::units::Length;
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use std::collections::HashSet;

/// The most joints a piece can have.
pub(super) const MOST_JOINTS: usize = 16;

/// What two components share.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Joint {
    /// Unique among the joints of the piece: 1 to 40 letters, figures, `-` and `_`.
    pub id: String,
    /// The id of the component it is cut into.
    pub into: String,
    /// The id of the component that goes in: a plate.
    pub part: String,
    /// How much room it has.
    pub fit: Fit,
    /// A slot that a plate stands in; a joint has either this or a socket.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub slot: Option<Slot>,
    /// A socket that a plate lies in.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub socket: Option<Socket>,
}

/// A socket for a plate that lies in it, of the outline of that plate: a tag in a recess, a tab or a peg in
/// its hole, a lid in the rebate of a box.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Socket {
    /// The face it opens into.
    pub face: FaceName,
    /// How deep it is, 0.2 to 200 mm; nothing for as deep as the plate is thick, so that both are level.
    pub depth: Option<Length>,
    /// Where the middle of the plate lies on the face.
    pub place: HolePlace,
    /// How far the plate is turned in it, counter-clockwise seen from the face, −360 to 360 degrees.
    #[serde(default)]
    pub turn: f64,
}

/// A slot for the lower edge of a plate.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Slot {
    /// The face it opens into.
    pub face: FaceName,
    /// How deep it goes, along the plate, 0.5 to 200 mm.
    pub depth: Length,
    /// How far the plate leans back out of it, −45 to 45 degrees from square to the face.
    pub lean: f64,
    /// Whether it goes on through both ends of what it is cut into.
    pub open: bool,
    /// Where the middle of its mouth lies on the face.
    pub place: HolePlace,
}

impl Joint {
    /// The face it is cut into.
    pub fn face(&self) -> FaceName {
        match (&self.slot, &self.socket) {
            (Some(slot), _) => slot.face,
            (None, Some(socket)) => socket.face,
            (None, None) => FaceName::Front,
        }
    }

    /// Reports what it cannot be at all. The checker is at the piece, and the joint at this place of its
    /// list.
    fn check(&self, piece: &Piece, at: usize, checker: &mut Checker) {
        let field = |name: &str| format!("joints.{at}.{name}");
        let (word, place, face) = match (&self.slot, &self.socket) {
            (Some(slot), None) => {
                checker.length_at(&field("slot.depth"), &limits::SLOT_DEPTH, slot.depth);
                checker.number_at(&field("slot.lean"), &limits::SLOT_LEAN, slot.lean);
                ("slot", &slot.place, slot.face)
            }
            (None, Some(socket)) => {
                checker.number_at(&field("socket.turn"), &limits::SOCKET_TURN, socket.turn);
                if let Some(depth) = socket.depth {
                    checker.length_at(&field("socket.depth"), &limits::SOCKET_DEPTH, depth);
                }
                ("socket", &socket.place, socket.face)
            }
            _ => {
                let message = "A joint has a slot or a socket, and not both.".to_owned();
                checker.report(&field("slot"), message);
                return;
            }
        };
        for (axis, distance) in [("across", place.across.distance), ("up", place.up.distance)] {
            let name = field(&format!("{word}.place.{axis}.distance"));
            checker.length_at(&name, &limits::DISTANCE, distance);
        }
        self.fit.check(&field("fit"), checker);
        let [into, part] = [&self.into, &self.part].map(|id| piece.component(id));
        for (name, id, found) in [("into", &self.into, into), ("part", &self.part, part)] {
            if found.is_none() {
                let message = format!("There is no component “{}” to join.", cut(id));
                checker.report(&field(name), message);
            }
        }
        let (Some(into), Some(part)) = (into, part) else { return };
        if into.id == part.id {
            let message = "A component cannot go into itself.".to_owned();
            checker.report(&field("part"), message);
        } else if part.plate().is_none() {
            let message =
                format!("A {word} takes a plate; {} is a {}.", part.called(), part.blank.noun());
            checker.report(&field("part"), message);
        }
        match word {
            "socket" => check_socket([into, part], face, &field, checker),
            _ => check_slot(into, face, &field, checker),
        }
    }
}

/// Reports what keeps a plate from lying in a face of a component.
fn check_socket(
    [into, part]: [&Component; 2],
    face: FaceName,
    field: &impl Fn(&str) -> String,
    checker: &mut Checker,
) {
    let is_loop = |element: &super::Element| matches!(element.kind, super::Kind::Loop(_));
    if part.elements.iter().any(is_loop) {
        let message = "A socket takes a plate without loops; take them away first.";
        checker.report(&field("part"), message.to_owned());
    }
    if into.mesh().is_some() {
        let message = "A socket is cut into what is made here, not into a mesh.".to_owned();
        checker.report(&field("into"), message);
    } else if !into.blank.faces().contains(&face) {
        checker.report(&field("socket.face"), into.blank.no_such_face(face));
    } else if matches!(face, FaceName::Around) || (face == FaceName::Inside && !into.is_box()) {
        let message = "A socket is cut into a flat face.".to_owned();
        checker.report(&field("socket.face"), message);
    }
}

/// Reports what keeps a slot out of a face of a component.
fn check_slot(
    into: &Component,
    face: FaceName,
    field: &impl Fn(&str) -> String,
    checker: &mut Checker,
) {
    if into.blank.room_for_slot() <= 0.0 || into.plate().is_some() {
        let message = format!(
            "A slot is cut into what stands on the bed, such as a block; {} is a {}.",
            into.called(),
            into.blank.noun()
        );
        checker.report(&field("into"), message);
    } else if matches!(face, FaceName::Left | FaceName::Right) {
        let message = "A slot runs from left to right: into the top, the front or the back.";
        checker.report(&field("slot.face"), message.to_owned());
    } else if !into.blank.faces().contains(&face) {
        checker.report(&field("slot.face"), into.blank.no_such_face(face));
    }
}

impl Piece {
    /// Reports what its joints cannot be.
    pub(super) fn check_joints(&self, checker: &mut Checker) {
        let count = self.joints.len();
        if count > MOST_JOINTS {
            checker.report("joints", format!("{count} joints; {MOST_JOINTS} are the most."));
        }
        let mut ids = HashSet::new();
        // A plate can hold another in a socket, but nothing holds what it lies in itself.
        let holds = |id: &str| self.joints.iter().any(|joint| joint.into == id);
        let mut joined = HashSet::new();
        for (at, joint) in self.joints.iter().take(MOST_JOINTS).enumerate() {
            if !super::address::is_id(&joint.id) || !ids.insert(&joint.id) {
                let message = format!("“{}” cannot be the id of another joint.", cut(&joint.id));
                checker.report(&format!("joints.{at}.id"), message);
            }
            joint.check(self, at, checker);
            if holds(&joint.part) {
                let message = "Something is let into it already, so it cannot go into something else \
                               itself.";
                checker.report(&format!("joints.{at}.part"), message.to_owned());
            }
            if !joined.insert(&joint.part) {
                let message = "It goes into something already; a component can be held by one joint \
                               only. Take the other joint away first.";
                checker.report(&format!("joints.{at}.part"), message.to_owned());
            }
        }
    }

    /// The joints that are cut into a component, with the plates that go in.
    pub fn joints_into<'a>(
        &'a self,
        component: &'a str,
    ) -> impl Iterator<Item = (&'a Joint, &'a Component)> {
        let into = self.joints.iter().filter(move |joint| joint.into == component);
        into.filter_map(|joint| Some((joint, self.component(&joint.part)?)))
    }

    /// The joint a component goes into.
    pub fn joint_of(&self, component: &str) -> Option<&Joint> {
        self.joints.iter().find(|joint| joint.part == component)
    }

    /// The address a field of a joint is said at, and that field.
    pub fn joint_field(&self, joint: &str, field: &str) -> (Address, String) {
        let at = self.joints.iter().position(|one| one.id == joint).unwrap_or_default();
        (Address::Piece, format!("joints.{at}.{field}"))
    }
}
