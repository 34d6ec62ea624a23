use super::super::fits::fitted;
use super::super::ground::{Ground, repeated};
use super::super::words::{Room, laid, own_words};
use super::{Figure, Work, in_clear_area};
use crate::evaluate::relief::TopForm;
use crate::evaluate::{Drawn, Placed, Round};
use crate::lettering::{TYPEFACES, set};
use crate::piece::{Element, Gives, Lettering};
use crate::plane::{Rect, Tolerance};

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
        let fitted = fitted(self, ground);
        let words = own_words(ground.piece, &fitted, room, ground.workshop);
        let (region, frame) = laid(self, words.region.clone(), words.frame);
        let (dx, dy) = ground.offset_of(frame, ground.face.guide, &self.place);
        let drawn = Drawn {
            glyphs: words.glyphs,
            missing: words.missing.clone(),
            letter_height: words.letter_height,
            span: words.span,
        };
        let region = repeated(region.moved(dx, dy), self.repeat);
        Some(Figure { region, frame: frame.moved(dx, dy), drawn })
    }
}

impl Lettering {
    /// As large as there is room, and no longer than the clear area whatever it says then.
    pub(super) fn fresh(ground: &Ground<'_>, free: Option<Rect>) -> Self {
        let (typeface, words) = (&TYPEFACES[0], "NAME");
        let height = free.or(ground.face.clear).map_or(5.0, |room| {
            let set = set(words, typeface, 10.0, Tolerance::Draft, ground.workshop.cache);
            (room.height() * 0.6).min(room.width() / (set.advance / 10.0)).clamp(0.5, 400.0)
        });
        let relief = ground.customary_relief(ground.customary(1.5, 1.0 / 16.0));
        let plain = Lettering::one_line(words, &typeface.id, ground.tidy(height));
        let place = free.map_or_else(in_clear_area, |room| ground.in_the_middle_of(room));
        Lettering { relief, place, gives: Gives::Size, ..plain }
    }
}
