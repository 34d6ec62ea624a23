//! Lids: plates that are as large as their boxes ask for, and stay so.

use crate::piece::{
    Blank, BoxBlank, Component, Corner, Corners, Joint, Outline, Piece, Plate, limit_of,
};
use crate::units::Length;

/// What a lid takes from its box.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct LidSizes {
    width: Length,
    height: Length,
    outline: Outline,
}

impl LidSizes {
    /// A lid reaches over half of the walls, and its corners are round about the same middles as those
    /// inside. The clearance, in mm, is what it is smaller in all than the rebate it lies in.
    pub fn of(inner: &BoxBlank, clearance: f64) -> Self {
        let ledge = inner.wall.as_mm() / 2.0;
        let size = |inside: Length| Length::mm(inside.as_mm() + 2.0 * ledge - clearance);
        let corner = match inner.corner_inside() {
            0.0 => Corner::Square,
            corner => Corner::Round(Length::mm(corner + ledge - clearance / 2.0)),
        };
        let outline = Outline::Rectangle(Corners::all(corner));
        LidSizes { width: size(inner.width), height: size(inner.depth), outline }
    }

    /// What a plate has.
    fn had(plate: &Plate) -> Self {
        let Plate { width, height, outline, .. } = plate;
        LidSizes { width: *width, height: *height, outline: outline.clone() }
    }

    /// Whether a plate can be so large. A box can be larger than any plate, and smaller than the room its
    /// lid is to have.
    fn is_possible(&self) -> bool {
        let within = |field: &str, length: Length| {
            let limit = limit_of("plate", field);
            limit.is_some_and(|limit| (limit.low..=limit.high).contains(&length.as_mm()))
        };
        within("width", self.width) && within("height", self.height)
    }

    /// Gives it to a plate.
    pub fn give(self, plate: &mut Plate) {
        (plate.width, plate.height, plate.outline) = (self.width, self.height, self.outline);
    }
}

/// Lets lids follow their boxes: one that was just as large as its box asked for is so again. One that was
/// given other sizes, or is by the edit itself, keeps them.
pub(super) fn follow(before: &Piece, after: &mut Piece) {
    let lids = after.joints.iter().filter(|joint| joint.socket.is_some());
    let grown: Vec<(String, LidSizes)> = lids
        .filter_map(|joint| {
            let was = asked(before, before.joints.iter().find(|one| one.id == joint.id)?)?;
            let plate = |piece: &Piece| {
                piece.component(&joint.part).and_then(Component::plate).map(LidSizes::had)
            };
            let asked = asked(after, joint)?;
            let (had, has) = (plate(before)?, plate(after)?);
            let follows = had == was && has == was && asked != was && asked.is_possible();
            follows.then(|| (joint.part.clone(), asked))
        })
        .collect();
    for (part, sizes) in grown {
        let part = after.components.iter_mut().find(|component| component.id == part);
        if let Some(Component { blank: Blank::Plate(plate), .. }) = part {
            sizes.give(plate);
        }
    }
}

/// The sizes a lid would have by its joint, where that is one with a box.
fn asked(piece: &Piece, joint: &Joint) -> Option<LidSizes> {
    match &piece.component(&joint.into)?.blank {
        Blank::Box(inner) => Some(LidSizes::of(inner, piece.printer.drawn().clearance(joint.fit))),
        _ => None,
    }
}
