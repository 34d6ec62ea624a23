//! Codes: what they say as modules or bars, in their place.

use super::super::ground::{Figure, Ground, repeated};
use super::super::relations::Boxes;
use super::super::relief::TopForm;
use super::{Work, in_clear_area};
use crate::cache::Stage;
use crate::codes::modules;
use crate::evaluate::{Drawn, Placed};
use crate::piece::{Code, Edge, Element, Level, Piece, Repeat, Symbol};
use crate::plane::{Rect, Region, Tolerance, rounded_rectangle};
use crate::units::Length;
use crate::workshop::Workshop;

impl Work for Code {
    fn place(&self, head: &Element, ground: &mut Ground<'_>) -> Placed {
        let figure = ground.figure_of(head);
        ground.in_relief(head, figure, self.relief, TopForm::Edge(Edge::Square), self.root)
    }

    fn figure(&self, head: &Element, ground: &Ground<'_>) -> Option<Figure> {
        let (region, frame) = self.own(ground.piece, ground.workshop);
        let own = Boxes { frame, ink: frame };
        let (dx, dy) = ground.put(&head.id, own, ground.face.guide, &self.place);
        let placed = |region: Region| repeated(region.moved(dx, dy), self.repeat);
        let field = Some(placed(self.field(ground.piece)));
        let (region, frame) = (placed(region), frame.moved(dx, dy));
        Some(Figure { region, frame, drawn: Drawn::default(), field, seats: Vec::new() })
    }

    fn asked(&self, ground: &Ground<'_>) -> Option<Boxes> {
        let (_, frame) = self.own(ground.piece, ground.workshop);
        Some(Boxes { frame, ink: frame })
    }
}

impl Code {
    /// What is drawn about the origin, and its box with the room that stays free; of a code that cannot be made
    /// nothing but a box as large as a small one.
    fn own(&self, piece: &Piece, workshop: &Workshop<'_>) -> (Region, Rect) {
        let words = piece.filled_in(&self.words);
        let size = self.size(piece);
        let Ok(modules) = modules(self.symbol, &words) else {
            return (Region::default(), Rect::centred(size.0, size.1));
        };
        let symbol = serde_json::to_vec(&self.symbol).expect("a symbol has only string keys");
        let figures = [self.module.as_mm(), self.turn].map(f64::to_bits);
        let read = ("code", words, symbol, figures, self.quiet, self.inverse);
        let key = workshop.cache.key(Stage::Shape, read);
        let region = workshop.cache.kept(key, || {
            let region = modules.region(self.module.as_mm(), self.quiet, self.inverse);
            region.turned(self.turn)
        });
        let (sine, cosine) = self.turn.to_radians().sin_cos();
        let (sine, cosine) = (sine.abs(), cosine.abs());
        let frame = Rect::centred(size.0 * cosine + size.1 * sine, size.0 * sine + size.1 * cosine);
        (Region::clone(&region), frame)
    }

    /// What is drawn about the origin and its box, before it is turned.
    pub(crate) fn upright(&self, piece: &Piece, workshop: &Workshop<'_>) -> (Region, Rect) {
        Code { turn: 0.0, ..self.clone() }.own(piece, workshop)
    }

    /// The whole of it about the origin, with the room that stays free.
    fn field(&self, piece: &Piece) -> Region {
        let (width, height) = self.size(piece);
        let whole = Rect::centred(width, height);
        rounded_rectangle(whole, 0.0, Tolerance::Draft).turned(self.turn)
    }

    /// Width and height in mm before it is turned, with the room that stays free; of a code that cannot be made
    /// those of a small one.
    fn size(&self, piece: &Piece) -> (f64, f64) {
        const SMALL: f64 = 21.0;
        match modules(self.symbol, &piece.filled_in(&self.words)) {
            Ok(modules) => modules.size(self.module.as_mm(), self.quiet),
            Err(_) => {
                let side = (SMALL + 2.0 * f64::from(self.quiet)) * self.module.as_mm();
                (side, side)
            }
        }
    }

    /// A small QR code that fits into the clear area.
    pub(super) fn fresh(ground: &Ground<'_>, free: Option<Rect>) -> Self {
        let room = free.or(ground.face.clear);
        let side = room.map_or(20.0, |room| room.width().min(room.height()));
        let code = Code {
            words: "BERTH 7".to_owned(),
            symbol: Symbol::Qr(Level::M),
            module: Length::mm(1.0),
            quiet: 4,
            inverse: false,
            turn: 0.0,
            relief: ground.customary_relief(ground.customary(0.8, 1.0 / 32.0)),
            colour: None,
            root: Length::ZERO,
            place: free.map_or_else(in_clear_area, |room| ground.in_the_middle_of(room)),
            repeat: Repeat::Once,
        };
        let (_, frame) = code.own(ground.piece, ground.workshop);
        let module = (side / frame.width()).min(ground.customary(1.2, 1.0 / 20.0).as_mm());
        Code { module: Length::mm(((module * 20.0).floor() / 20.0).clamp(0.2, 20.0)), ..code }
    }
}
