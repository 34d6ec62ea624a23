//! Sockets: what a component has cut into it so that a plate lies in it, and where that plate then lies.
//!
//! A socket has the outline of its plate, drawn out by half the clearance, so that the clearance is the
//! same all round. The plate lies on its floor.

use super::face::{Face, Frame};
use super::prism::Order;
use super::relief::open_cut;
use super::{Body, Made, Prism};
use crate::halt::Halted;
use crate::piece::{BothEdges, Component, FaceName, Joint, Piece};
use crate::plane::Region;
use crate::workshop::Workshop;

/// A socket as it is cut. Lengths in mm.
#[derive(Debug, Clone)]
pub struct SocketCut {
    /// The joint's id.
    pub joint: String,
    /// The face it opens into.
    pub face: FaceName,
    /// Its outline, as it is seen from the face.
    pub outline: Region,
    /// How deep it is.
    pub depth: f64,
    /// How much larger than the plate it is, in all.
    pub clearance: f64,
    /// What is cut, as it lies on the face.
    pub(super) prisms: Vec<Prism>,
    /// Where the plate's own origin and axes come to lie, not counting what lifts it off its bed.
    plate: Frame,
}

impl SocketCut {
    /// The socket of a joint on one of the faces; nothing where there is no such face or no plate.
    ///
    /// # Errors
    /// [`Halted`] where the work was stopped.
    pub(super) fn of(
        piece: &Piece,
        (joint, part): (&Joint, &Component),
        faces: &[Face],
        workshop: &Workshop<'_>,
    ) -> Result<Option<Self>, Halted> {
        let (Some(socket), Some(plate)) = (&joint.socket, part.plate()) else { return Ok(None) };
        let Some(face) = faces.iter().find(|face| face.name == socket.face) else {
            return Ok(None);
        };
        let body = Body::of(piece, part, workshop)?;
        let clearance = piece.printer.drawn().clearance(joint.fit);
        let (across, up) = super::ground::spans(face.rect);
        let u = socket.place.across.resolve(0.0, across, across);
        let v = socket.place.up.resolve(0.0, up, up);
        let grown = workshop.cache.offset(&body.outline, clearance / 2.0, workshop.tolerance);
        let outline = grown.turned(socket.turn).moved(u, v);
        let depth = socket.depth.unwrap_or(plate.thickness).as_mm();
        let floor = face.thickness - depth;
        let mut prisms = open_cut(&outline, floor, face.thickness, BothEdges::default());
        prisms.iter_mut().for_each(|prism| prism.order = Order::Last);
        let plate =
            Frame { origin: face.frame.point(u, v, floor), ..face.frame.turned(socket.turn) };
        let (joint, face) = (joint.id.clone(), face.name);
        Ok(Some(SocketCut { joint, face, outline, depth, clearance, prisms, plate }))
    }

    /// Where the plate that lies in it is, put together, as [`super::SlotCut::pose_of`] has it; but what is
    /// raised on its back stands on the floor, and lifts it.
    pub fn pose_of(&self, part: &Made) -> Frame {
        let plate = self.plate;
        let down = [0, 1, 2].map(|i| plate.origin[i] - part.lift.min(0.0) * plate.out[i]);
        Frame { origin: down, ..plate }
    }
}
