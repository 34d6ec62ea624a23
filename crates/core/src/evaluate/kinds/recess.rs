//! Recesses: fields sunk into a face.

use super::super::ground::{Ground, repeated};
use super::super::outline::outline;
use super::super::prism::Order;
use super::super::relations::Boxes;
use super::{Figure, Work, in_clear_area};
use crate::evaluate::{Placed, Prism};
use crate::piece::{Blank, Depth, Edge, Element, FieldShape, Recess, Repeat};
use crate::plane::{Join, Rect, Region};
use crate::solid::Act;

impl Work for Recess {
    /// What lies within it stands on its floor.
    fn place(&self, head: &Element, ground: &mut Ground<'_>) -> Placed {
        let (region, frame) = self.region(head, ground);
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
            ground.lay(floor.region, floor.height);
        }
        prisms.iter_mut().for_each(|prism| prism.order = Order::First);
        ground.placed(head, region, frame, prisms)
    }

    fn figure(&self, _: &Element, _: &Ground<'_>) -> Option<Figure> {
        None
    }

    fn asked(&self, ground: &Ground<'_>) -> Option<Boxes> {
        let (_, frame) = self.own(ground)?;
        Some(Boxes { frame, ink: frame })
    }
}

impl Recess {
    /// What is sunk, in its place, and the box it is placed by.
    pub(in crate::evaluate) fn region(
        &self,
        head: &Element,
        ground: &Ground<'_>,
    ) -> (Region, Rect) {
        if let Some((shape, frame)) = self.own(ground) {
            let own = Boxes { frame, ink: frame };
            let (dx, dy) = ground.put(&head.id, own, ground.face.rect, &self.place);
            return (repeated(shape.moved(dx, dy), self.repeat), frame.moved(dx, dy));
        }
        let region = match &self.shape {
            FieldShape::Inset(inset) => ground.drawn_in(inset.as_mm()),
            FieldShape::Own(_) => Region::default(),
        };
        let frame = region.bounds().unwrap_or(Rect::centred(0.0, 0.0));
        (region, frame)
    }

    /// A shape of its own before it has a place, with its box.
    fn own(&self, ground: &Ground<'_>) -> Option<(Region, Rect)> {
        let FieldShape::Own(own) = &self.shape else { return None };
        let size = own.size(&ground.piece.printer.drawn());
        let mut shape = outline(&own.outline, size, ground.workshop).turned(own.turn);
        if own.outline.is_given_by_one_figure() {
            // As much room all round as its fit says.
            let room = (size.0 - own.width.as_mm()) / 2.0;
            shape = shape.offset_joined(room, Join::Sharp, ground.workshop.tolerance);
        }
        let frame = shape.bounds().unwrap_or(Rect::centred(size.0, size.1));
        Some((shape, frame))
    }

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
