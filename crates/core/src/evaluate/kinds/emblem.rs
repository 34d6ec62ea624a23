use super::super::ground::{Ground, repeated};
use super::{Figure, Work, in_clear_area, in_the_middle};
use crate::emblems::{EMBLEMS, Setting, emblem};
use crate::evaluate::{Drawn, Placed};
use crate::piece::{Edge, Element, Emblem, Height, Outline, Relief, Repeat};
use crate::plane::Rect;
use crate::units::Length;

impl Work for Emblem {
    fn place(&self, head: &Element, ground: &mut Ground<'_>) -> Placed {
        ground.in_relief(head, self.figure(ground), self.relief, self.edge, self.root)
    }

    fn figure(&self, ground: &Ground<'_>) -> Option<Figure> {
        let shape = emblem(&self.shape).unwrap_or(&EMBLEMS[0]);
        let setting = Setting {
            width: self.width.as_mm(),
            stretch: self.stretch,
            turn: self.turn,
            mirrored: self.mirrored,
        };
        let region = shape.set(setting, ground.workshop.tolerance);
        let own = region.bounds().unwrap_or(Rect::centred(0.0, 0.0));
        let (dx, dy) = ground.offset_of(own, ground.face.guide, &self.place);
        let region = repeated(region.moved(dx, dy), self.repeat);
        Some(Figure { region, frame: own.moved(dx, dy), drawn: Drawn::default() })
    }
}

impl Emblem {
    /// A star in the clear area; one that spans the opening of a ring, which is what an emblem is put
    /// into there.
    pub(super) fn fresh(ground: &Ground<'_>) -> Self {
        let (half, thickness) = (ground.shorter_side() / 2.0, ground.face.thickness);
        let opening = match ground.component.outline() {
            Some(Outline::Ring(ring)) => Some(ring.inside.as_mm().min(2.0 * half) * 1.04),
            _ => None,
        };
        let room = ground.face.clear;
        let in_clear = room.map_or(5.0, |room| room.height().min(room.width()) * 0.7);
        let width = opening.unwrap_or(in_clear).clamp(0.5, 480.0);
        Emblem {
            shape: "star".to_owned(),
            width: ground.tidy(width),
            stretch: 1.0,
            turn: 0.0,
            mirrored: false,
            relief: match opening {
                Some(_) => Relief::Raised(Height::FromFoot(Length::mm(thickness))),
                None => ground.customary_relief(ground.customary(1.0, 1.0 / 32.0)),
            },
            colour: None,
            root: Length::ZERO,
            edge: Edge::Square,
            place: if opening.is_some() { in_the_middle() } else { in_clear_area() },
            repeat: Repeat::Once,
        }
    }
}
