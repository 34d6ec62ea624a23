//! Slots: what a component has cut into it so that a plate goes in, and where that plate then stands.
//!
//! A slot is a box in a chart of its own, whose origin is the middle of its mouth and which leans as the
//! plate does; so the clearance stays square to its walls however it leans. It is as long and as thick as
//! the plate and the clearance; the plate stands half the clearance above its floor.

use super::face::{Face, Frame};
use super::{Body, Evaluation, Made, Prism};
use crate::piece::{Component, FaceName, Fits, Joint, Piece};
use crate::plane::{GridPoint, Rect, Region, Tolerance, rounded_rectangle, to_grid};
use crate::solid::Act;

/// A slot as it is cut. Lengths in mm.
#[derive(Debug, Clone)]
pub struct SlotCut {
    /// The joint's id.
    pub joint: String,
    /// The face it opens into.
    pub face: FaceName,
    /// Its own chart: heights count from its mouth along the plate.
    pub frame: Frame,
    /// How deep it is.
    pub depth: f64,
    /// How long it is; beyond both ends where it is open.
    pub length: f64,
    /// From wall to wall.
    pub width: f64,
    /// How much larger than the plate it is, in all.
    pub clearance: f64,
    /// How far it leans from square to its face, in degrees.
    pub lean: f64,
    /// Where the plate's own origin and axes come to lie, not counting what lifts it off its bed.
    plate: Frame,
}

impl SlotCut {
    /// The slot of a joint on one of the faces, for the plate that goes in as it is made; nothing where there is no
    /// such face or the joint has no slot.
    pub(super) fn of(joint: &Joint, part: &Body, faces: &[Face], fits: &Fits) -> Option<Self> {
        let slot = joint.slot.as_ref()?;
        let face = faces.iter().find(|face| face.name == slot.face)?;
        let sheet = part.outline.bounds()?;
        let (width, [_, _, thickness]) = (sheet.width(), part.size());
        let clearance = fits.clearance(joint.fit);
        let (across, up) = super::ground::spans(face.rect);
        let u = slot.place.across.resolve(0.0, across, across);
        let v = slot.place.up.resolve(0.0, up, up);
        let mouth = face.frame.point(u, v, face.thickness);
        let (sine, cosine) = slot.lean.to_radians().sin_cos();
        let mixed =
            |a: [f64; 3], s: f64, b: [f64; 3], t: f64| [0, 1, 2].map(|i| a[i] * s + b[i] * t);
        let frame = Frame {
            origin: mouth,
            across: face.frame.across,
            up: mixed(face.frame.up, cosine, face.frame.out, -sine),
            out: mixed(face.frame.out, cosine, face.frame.up, sine),
        };
        let depth = slot.depth.as_mm();
        // The plate's own origin, which need not be the middle of its outline.
        let high = -sheet.y0 - depth + clearance / 2.0;
        let at = mixed(frame.out, high, frame.up, thickness / 2.0);
        let aside = mixed(at, 1.0, frame.across, -sheet.centre().0);
        let plate = Frame {
            origin: mixed(mouth, 1.0, aside, 1.0),
            across: frame.across,
            up: frame.out,
            out: frame.up.map(|part| -part),
        };
        // Through both ends, wherever it lies.
        let length = if slot.open { 2.0 * face.rect.width() + 2.0 } else { width + clearance };
        Some(SlotCut {
            joint: joint.id.clone(),
            face: face.name,
            frame,
            depth,
            length,
            width: thickness + clearance,
            clearance,
            lean: slot.lean,
            plate,
        })
    }

    /// What is cut, in the slot's own chart; out of its mouth as far as its lean needs.
    pub(super) fn prism(&self) -> Prism {
        /// Beyond the face.
        const OVERSHOOT_MM: f64 = 1.0;
        let rise = self.width / 2.0 * self.lean.to_radians().tan().abs() + OVERSHOOT_MM;
        let outline =
            rounded_rectangle(Rect::centred(self.length, self.width), 0.0, Tolerance::Normal);
        Prism::square(Act::Cuts, outline, -self.depth, rise)
    }

    /// Its section across, as far back and as high as it is in the body, between two heights over its mouth
    /// (below it where they are negative).
    pub fn section(&self, low: f64, high: f64) -> Region {
        self.across(self.width, low, high)
    }

    /// The same of the plate that stands in it.
    pub fn plate_section(&self, low: f64, high: f64) -> Region {
        self.across(self.width - self.clearance, low, high)
    }

    fn across(&self, width: f64, low: f64, high: f64) -> Region {
        let half = width / 2.0;
        let corners = [(-half, low), (half, low), (half, high), (-half, high)];
        let ring = corners.map(|(v, height)| {
            let [_, back, high] = self.frame.point(0.0, v, height);
            GridPoint::new(to_grid(back), to_grid(high))
        });
        Region::resolve(&[ring.to_vec()])
    }

    /// Where the plate that goes in stands, put together: a point of its mesh, which lies on a bed,
    /// where it comes to be.
    pub fn pose_of(&self, part: &Made) -> Frame {
        let plate = self.plate;
        let down = [0, 1, 2].map(|i| plate.origin[i] - part.lift * plate.out[i]);
        Frame { origin: down, ..plate }
    }
}

/// Where every component stands when the piece is put together, in the order of the document: what goes
/// into another in its slot, everything else as it lies on the bed.
pub fn put_together(piece: &Piece, evaluation: &Evaluation) -> Vec<Frame> {
    let pose = |component: &Component, made: &Made| {
        let joint = piece.joint_of(&component.id)?;
        let into = evaluation.component(&joint.into)?;
        let slot = into.layout.slots.iter().find(|slot| slot.joint == joint.id);
        let socket = into.layout.sockets.iter().find(|socket| socket.joint == joint.id);
        let pose = match (slot, socket) {
            (Some(slot), _) => slot.pose_of(made),
            (_, Some(socket)) => socket.pose_of(made),
            _ => return None,
        };
        Some(Frame { origin: [0, 1, 2].map(|i| pose.origin[i] + [0.0, 0.0, into.lift][i]), ..pose })
    };
    let all = piece.components.iter().zip(&evaluation.components);
    all.map(|(component, made)| pose(component, made).unwrap_or(Frame::LOOKING_UP)).collect()
}
