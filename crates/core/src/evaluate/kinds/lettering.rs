//! Lettering: words, made into regions where they stand on their face.

use super::super::fits::{fitted, measured};
use super::super::ground::{Ground, repeated, repeated_seats};
use super::super::relations::Boxes;
use super::super::words::{Room, along_outline, laid, laying, own_words};
use super::{Figure, Work, in_clear_area};
use crate::evaluate::relief::TopForm;
use crate::evaluate::{Drawn, Placed, Round};
use crate::lettering::{Seat, TYPEFACES, set};
use crate::piece::{Course, Element, Gives, LetterSize, Lettering, OutlineCourse};
use crate::plane::{Rect, Tolerance};
use kurbo::Affine;
use std::sync::Arc;

impl Work for Lettering {
    fn place(&self, head: &Element, ground: &mut Ground<'_>) -> Placed {
        let figure = ground.figure_of(head);
        ground.in_relief(head, figure, self.relief, TopForm::Edge(self.edge), self.root)
    }

    fn figure(&self, head: &Element, ground: &Ground<'_>) -> Option<Figure> {
        if let Course::Outline(course) = &self.course {
            return Some(self.along(course, ground));
        }
        let fitted = fitted(self, head, ground);
        let words = own_words(ground.piece, &fitted, self.room(head, ground), ground.workshop);
        let (region, frame) = laid(self, words.region.clone(), words.frame);
        let own = Boxes { frame, ink: region.bounds().unwrap_or(frame) };
        let (dx, dy) = ground.put(&head.id, own, ground.face.guide, &self.place);
        let drawn = Drawn {
            glyphs: words.glyphs,
            missing: words.missing.clone(),
            letter_height: words.letter_height,
            span: words.span,
            ..Drawn::default()
        };
        let region = repeated(region.moved(dx, dy), self.repeat);
        let by = Affine::translate((dx, dy)) * laying(self, words.frame);
        let seats = self.seats(&words.seats, by);
        Some(Figure { region, frame: frame.moved(dx, dy), drawn, field: None, seats })
    }

    fn asked(&self, ground: &Ground<'_>) -> Option<Boxes> {
        if self.size == LetterSize::ClearArea || matches!(self.course, Course::Outline(_)) {
            return None;
        }
        if let Some(boxes) = measured(self, ground.piece, ground.workshop) {
            return Some(boxes);
        }
        let way_round = ground.face.round.as_ref().map(Round::way_round);
        let room = Room { way_round, ..Room::default() };
        let words = own_words(ground.piece, self, room, ground.workshop);
        let (region, frame) = laid(self, words.region.clone(), words.frame);
        Some(Boxes { frame, ink: region.bounds().unwrap_or(frame) })
    }
}

impl Lettering {
    /// Its words along an outline, which says where they lie.
    fn along(&self, course: &OutlineCourse, ground: &Ground<'_>) -> Figure {
        let outline = ground.outline_of(&course.of);
        let words = along_outline(ground.piece, self, course, &outline, ground.workshop);
        let drawn = Drawn {
            glyphs: words.glyphs,
            missing: words.missing.clone(),
            letter_height: words.letter_height,
            span: words.span,
            along: Some(Arc::new(outline.clone())),
            ..Drawn::default()
        };
        let region = repeated(words.region.clone(), self.repeat);
        let frame = region.bounds().unwrap_or(words.frame);
        let seats = self.seats(&words.seats, Affine::IDENTITY);
        Figure { region, frame, drawn, field: None, seats }
    }

    /// Where its letters stand after they were laid in their place; nothing where they have no bridges.
    fn seats(&self, own: &[Seat], by: Affine) -> Vec<Seat> {
        match self.bridges {
            Some(_) => repeated_seats(own.iter().map(|seat| seat.then(by)).collect(), self.repeat),
            None => Vec::new(),
        }
    }

    /// The room its words have: the clear area, without what is placed by it.
    fn room(&self, head: &Element, ground: &Ground<'_>) -> Room {
        let clear = ground.face.clear.unwrap_or(ground.face.guide);
        let way_round = ground.face.round.as_ref().map(Round::way_round);
        let mut room = (clear.width(), clear.height());
        if self.size == LetterSize::ClearArea {
            let whole = Boxes { frame: clear, ink: clear };
            let taken = ground.put_together(&head.id, whole, &self.place).ink;
            let beyond = (taken.width() - clear.width(), taken.height() - clear.height());
            room = ((room.0 - beyond.0).max(0.0), (room.1 - beyond.1).max(0.0));
        }
        Room { clear: room, way_round }
    }

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
