//! What is cut into a component for another one, as it is drawn on its face: the mouths of slots and sockets.

use super::{Face, Layout, SlotCut, SocketCut};
use crate::piece::FaceName;
use crate::plane::{Rect, Region, rounded_rectangle};

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
