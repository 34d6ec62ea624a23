use super::super::ground::{Ground, repeated};
use super::super::outline::outline;
use super::super::prism::Order;
use super::{Figure, Work, in_clear_area};
use crate::evaluate::{Placed, Prism};
use crate::piece::{Blank, Depth, Edge, Element, FieldShape, Recess, Repeat};
use crate::plane::Rect;
use crate::solid::Act;

impl Work for Recess {
    /// What lies within it stands on its floor.
    fn place(&self, head: &Element, ground: &mut Ground<'_>) -> Placed {
        let (region, frame) = match &self.shape {
            FieldShape::Inset(inset) => {
                let region = ground.drawn_in(inset.as_mm());
                let frame = region.bounds().unwrap_or(Rect::centred(0.0, 0.0));
                (region, frame)
            }
            FieldShape::Own(own) => {
                let size = own.size(&ground.piece.printer.drawn());
                let shape = outline(&own.outline, size, ground.workshop).turned(own.turn);
                let box_ = shape.bounds().unwrap_or(Rect::centred(size.0, size.1));
                let (dx, dy) = ground.offset_of(box_, ground.face.rect, &self.place);
                (repeated(shape.moved(dx, dy), self.repeat), box_.moved(dx, dy))
            }
        };
        let mut prisms = Vec::new();
        for floor in ground.floors(&region, self.depth) {
            prisms.extend(floor.cut(self.edge));
            if let Some(inlay) = &self.floor {
                let foot = (floor.height - inlay.depth.as_mm()).max(0.0);
                if foot < floor.height {
                    let outline = floor.region.clone();
                    prisms.push(Prism::square(Act::Paints, outline, foot, floor.height));
                }
            }
            ground.sink(floor.region, floor.height);
        }
        prisms.iter_mut().for_each(|prism| prism.order = Order::First);
        ground.placed(head, region, frame, prisms)
    }

    fn figure(&self, _: &Ground<'_>) -> Option<Figure> {
        None
    }
}

impl Recess {
    /// The field inside a rim, half the thickness of a plate deep; a mesh may be as tall as it likes.
    pub(super) fn fresh(ground: &Ground<'_>) -> Self {
        Recess {
            shape: FieldShape::Inset(ground.tidy((ground.shorter_side() * 0.15).min(2.0))),
            depth: match ground.component.blank {
                Blank::Plate(_) => Depth::Fraction(0.5),
                _ => Depth::By(ground.customary(1.0, 1.0 / 32.0)),
            },
            floor: None,
            edge: Edge::Square,
            place: in_clear_area(),
            repeat: Repeat::Once,
        }
    }
}
