//! Patterns: motifs over a face, a recess or a halo, clear of what else lies there.

use super::super::ground::{Figure, Ground};
use super::super::motifs::{Filling, Tiling};
use super::super::prism::Order;
use super::super::relations::Boxes;
use super::super::relief::TopForm;
use super::Work;
use crate::evaluate::{Drawn, Placed};
use crate::piece::{Edge, Element, Fills, Motif, Pattern, Relief};
use crate::plane::{Rect, Region, Tolerance};
use crate::units::Length;

impl Work for Pattern {
    fn place(&self, head: &Element, ground: &mut Ground<'_>) -> Placed {
        let room = self.room(ground);
        let wide = room.bounds().map_or(0.0, |bounds| bounds.width());
        let round = ground.face.round.as_ref().filter(|round| round.is_all_round(wide));
        let tiling = Tiling::of(self, ground.workshop);
        let tiling = match round {
            Some(round) => Tiling::of(&tiling.closing(self, round.way_round()), ground.workshop),
            None => tiling,
        };
        // Round a skirt a motif on the seam is as whole as any other.
        let further = 2.0 * tiling.pitch();
        let beyond = |region: &Region| match round {
            Some(round) => round.once(&round.gone_round(region), further),
            None => region.clone(),
        };
        let narrowest = ground.piece.printer.line.as_mm();
        let filling = tiling.fill(&beyond(&room), (self.whole, narrowest), ground.workshop);
        let (region, drawn) = match filling {
            Filling::Motifs(motifs) => {
                // What is cut through must leave everything in one.
                let region = match self.relief {
                    Relief::Through => {
                        motifs.holding(&beyond(&ground.face.outline), ground.workshop.tolerance)
                    }
                    _ => motifs.region(),
                };
                let region = round.map_or(region.clone(), |round| round.once(&region, 0.0));
                let pitch = round.map(|_| tiling.pitch());
                (region, Drawn { pitch, ..Drawn::default() })
            }
            Filling::TooMany(motifs) => {
                (Region::default(), Drawn { too_many: motifs, ..Drawn::default() })
            }
        };
        let frame = region.bounds().or(room.bounds()).unwrap_or(Rect::centred(0.0, 0.0));
        let form = TopForm::Edge(Edge::Square);
        let mut prisms = ground.relief(&region, self.relief, form, self.root);
        if self.relief == Relief::Through {
            prisms.iter_mut().for_each(|prism| prism.order = Order::Last);
        }
        Placed { drawn, ..ground.placed(head, region, frame, prisms) }
    }

    fn figure(&self, _: &Element, _: &Ground<'_>) -> Option<Figure> {
        None
    }

    fn asked(&self, _: &Ground<'_>) -> Option<Boxes> {
        None
    }
}

impl Pattern {
    /// What it fills, drawn in and without what it keeps clear of.
    fn room(&self, ground: &Ground<'_>) -> Region {
        let cache = ground.workshop.cache;
        let inset = self.inset.as_mm();
        let round = ground.face.round.as_ref();
        let drawn_in = |region: &Region| cache.offset(region, -inset, ground.workshop.tolerance);
        let within = |region: &Region| {
            let wide = region.bounds().map_or(0.0, |bounds| bounds.width());
            // What runs round has no ends to draw in.
            match round.filter(|round| round.is_all_round(wide)) {
                Some(round) => round.once(&drawn_in(&round.gone_round(region)), 0.0),
                None => drawn_in(region),
            }
        };
        let filled = match &self.fills {
            Fills::Face => ground.drawn_in(inset),
            Fills::Element(_) => within(&ground.outline_of(&self.fills)),
        };
        let on_what = match &self.fills {
            Fills::Face => None,
            Fills::Element(id) => Some(id.as_str()),
        };
        let apart = self.apart.as_mm();
        // What is grown only keeps clear: a coarse outline is as good, and lies outside.
        let kept = ground.kept_clear(on_what).into_iter();
        let kept = kept.map(|region| {
            let grown = cache.offset(&region, apart, Tolerance::Normal);
            round.map_or(grown.clone(), |round| round.gone_round(&grown))
        });
        filled.difference(&Region::gather(kept.collect()))
    }

    /// A honeycomb of the whole face, sunk.
    pub(super) fn fresh(ground: &Ground<'_>) -> Self {
        let pitch =
            (ground.shorter_side() / 5.0).clamp(2.0, ground.customary(6.0, 1.0 / 4.0).as_mm());
        Pattern {
            motif: Motif::Hexagons,
            pitch: ground.tidy(pitch),
            line: ground.customary(1.0, 1.0 / 32.0),
            turn: 0.0,
            fills: Fills::Face,
            inset: ground.customary(2.0, 1.0 / 16.0),
            apart: ground.customary(1.5, 1.0 / 16.0),
            whole: false,
            relief: {
                let deepest = (ground.face.thickness / 3.0 * 10.0).floor() / 10.0;
                let depth = ground.customary(0.8, 1.0 / 32.0).as_mm();
                Relief::recessed(depth.min(deepest.max(0.1)))
            },
            colour: None,
            root: Length::ZERO,
        }
    }
}
