//! Rims along the edge of a face.

use super::super::ground::Ground;
use super::super::relations::Boxes;
use super::{Figure, Work};
use crate::evaluate::Placed;
use crate::evaluate::relief::TopForm;
use crate::piece::{Edge, Element, Rim};
use crate::plane::Rect;
use crate::units::Length;

impl Work for Rim {
    fn place(&self, head: &Element, ground: &mut Ground<'_>) -> Placed {
        let (inset, width) = (self.inset.as_mm(), self.width.as_mm());
        let outer = ground.drawn_in(inset);
        let region = outer.difference(&ground.drawn_in(inset + width));
        let frame = region.bounds().unwrap_or(Rect::centred(0.0, 0.0));
        let prisms = ground.relief(&region, self.relief, TopForm::Edge(self.edge), self.root);
        ground.placed(head, region, frame, prisms)
    }

    fn figure(&self, _: &Element, _: &Ground<'_>) -> Option<Figure> {
        None
    }

    fn asked(&self, _: &Ground<'_>) -> Option<Boxes> {
        None
    }
}

impl Rim {
    /// 2 mm wide and 1 mm proud, narrower on a small plate.
    pub(super) fn fresh(ground: &Ground<'_>) -> Self {
        Rim {
            inset: Length::ZERO,
            width: ground.tidy((ground.shorter_side() * 0.15).min(2.0)),
            relief: {
                let height = ground.customary(1.0, 1.0 / 32.0);
                ground.customary_relief(height)
            },
            colour: None,
            root: Length::ZERO,
            edge: Edge::Square,
        }
    }
}
