use super::super::ground::{Ground, repeated};
use super::super::words::{Room, own_words};
use super::{Figure, Work, in_clear_area};
use crate::evaluate::relief::TopForm;
use crate::evaluate::{Drawn, Placed, Round};
use crate::lettering::{TYPEFACES, set};
use crate::piece::{Element, Lettering};
use crate::plane::Tolerance;

impl Work for Lettering {
    fn place(&self, head: &Element, ground: &mut Ground<'_>) -> Placed {
        ground.in_relief(
            head,
            self.figure(ground),
            self.relief,
            TopForm::Edge(self.edge),
            self.root,
        )
    }

    fn figure(&self, ground: &Ground<'_>) -> Option<Figure> {
        let room = ground.face.clear.unwrap_or(ground.face.guide);
        let way_round = ground.face.round.as_ref().map(Round::way_round);
        let room = Room { clear: (room.width(), room.height()), way_round };
        let words = own_words(ground.piece, self, room, ground.workshop);
        let (dx, dy) = ground.offset_of(words.frame, ground.face.guide, &self.place);
        let drawn = Drawn {
            glyphs: words.glyphs,
            missing: words.missing.clone(),
            letter_height: words.letter_height,
            span: words.span,
        };
        let region = repeated(words.region.clone().moved(dx, dy), self.repeat);
        Some(Figure { region, frame: words.frame.moved(dx, dy), drawn })
    }
}

impl Lettering {
    /// As large as the clear area lets it be.
    pub(super) fn fresh(ground: &Ground<'_>) -> Self {
        let (typeface, words) = (&TYPEFACES[0], "NAME");
        let height = ground.face.clear.map_or(5.0, |room| {
            let set = set(words, typeface, 10.0, Tolerance::Draft, ground.workshop.cache);
            (room.height() * 0.6).min(room.width() / (set.advance / 10.0)).clamp(0.5, 400.0)
        });
        let relief = ground.customary_relief(ground.customary(1.5, 1.0 / 16.0));
        let plain = Lettering::one_line(words, &typeface.id, ground.tidy(height));
        Lettering { relief, place: in_clear_area(), ..plain }
    }
}
