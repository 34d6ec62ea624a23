//! What is cut into a component for another one, as it is drawn on its face: the mouths of slots and sockets.

use super::{Body, Face, Layout, SlotCut, SocketCut};
use crate::halt::Halted;
use crate::piece::{Component, FaceName, Piece};
use crate::plane::{Rect, Region, rounded_rectangle};
use crate::workshop::Workshop;

/// The mouth of a slot or a socket. Lengths in mm.
#[derive(Debug, Clone)]
pub struct Opening<'a> {
    /// The joint's id.
    pub joint: &'a str,
    /// The face it opens into.
    pub face: FaceName,
    /// What it takes of that face; of the underside of sections as it is seen from the front.
    pub region: Region,
    /// How deep it goes.
    pub depth: f64,
    /// Whether it goes through to the other side.
    pub through: bool,
}

/// What is cut into the faces of a component for others.
#[derive(Debug, Default)]
pub(super) struct Cuts {
    pub slots: Vec<SlotCut>,
    pub sockets: Vec<SocketCut>,
}

impl Cuts {
    /// All slots and sockets of a component, in the order of the joints.
    pub fn into(
        piece: &Piece,
        component: &Component,
        faces: &[Face],
        workshop: &Workshop<'_>,
    ) -> Result<Self, Halted> {
        let mut cuts = Cuts::default();
        for (joint, part) in piece.joints_into(&component.id) {
            cuts.sockets.extend(SocketCut::of(piece, (joint, part), faces, workshop)?);
            if joint.slot.is_some() {
                let part = Body::of(piece, part, workshop)?;
                cuts.slots.extend(SlotCut::of(joint, &part, faces, &piece.printer.drawn()));
            }
        }
        Ok(cuts)
    }

    /// What they take of a face, as it is seen from there.
    pub fn taken_of(&self, face: &Face) -> Region {
        let slots = self.slots.iter().filter(|slot| slot.face == face.name);
        let slots = slots.map(|slot| mouth_of(slot, face).intersection(&face.outline));
        let sockets = self.sockets.iter().filter_map(|socket| {
            let is_here = socket.face == face.name;
            // Only sections have another side that looks back through the same chart.
            let is_through = face.in_sections && socket.depth >= face.thickness;
            match (is_here, is_through) {
                (true, _) => Some(socket.outline.clone()),
                (false, true) => Some(socket.outline.mirrored(true)),
                (false, false) => None,
            }
        });
        slots.chain(sockets).fold(Region::default(), |all, one| all.union(&one))
    }
}

impl Layout {
    /// The mouths of all slots and sockets.
    pub fn openings(&self) -> Vec<Opening<'_>> {
        let slots = self.slots.iter().filter_map(|slot| {
            let face = self.face(slot.face)?;
            let region = mouth_of(slot, face).intersection(&face.outline);
            Some(Opening {
                joint: &slot.joint,
                face: slot.face,
                region,
                depth: slot.depth,
                through: false,
            })
        });
        let sockets = self.sockets.iter().filter_map(|socket| {
            let SocketCut { joint, face: name, outline, depth, .. } = socket;
            let face = self.face(*name)?;
            let region = outline.intersection(&face.outline);
            let region = if face.is_turned_over() { region.mirrored(true) } else { region };
            let through = *depth >= face.thickness;
            Some(Opening { joint, face: *name, region, depth: *depth, through })
        });
        slots.chain(sockets).collect()
    }

    /// Whether an opening is seen on the main face.
    pub fn opens_on_main(&self, opening: &Opening<'_>) -> bool {
        let is_on_it = self.faces.first().is_some_and(|main| main.name == opening.face);
        is_on_it
            || (opening.through && self.face(opening.face).is_some_and(|face| face.in_sections))
    }
}

/// What a slot takes of its face: as wide as its walls are apart along it, which a lean makes more.
fn mouth_of(slot: &SlotCut, face: &Face) -> Region {
    let along = |axis: [f64; 3]| -> f64 {
        (0..3).map(|i| (slot.frame.origin[i] - face.frame.origin[i]) * axis[i]).sum()
    };
    let wide = slot.width / slot.lean.to_radians().cos();
    let mouth =
        Rect::centred(slot.length, wide).moved(along(face.frame.across), along(face.frame.up));
    rounded_rectangle(mouth, 0.0, Default::default())
}
