//! Emblems: shipped shapes and the user's own, in their place.

use super::super::ground::{Ground, repeated, repeated_seats};
use super::super::relations::Boxes;
use super::{Figure, Work, in_clear_area, in_the_middle};
use crate::cache::{Kept, Stage};
use crate::emblems::{EMBLEMS, Setting, emblem};
use crate::evaluate::prism::Crest;
use crate::evaluate::relief::TopForm;
use crate::evaluate::{Drawn, Placed};
use crate::lettering::Seat;
use crate::piece::{Element, Emblem, Height, Outline, Relief, Stroke, StrokeSection};
use crate::plane::{Rect, Region};
use crate::units::Length;
use crate::workshop::Workshop;
use kurbo::Affine;

impl Work for Emblem {
    fn place(&self, head: &Element, ground: &mut Ground<'_>) -> Placed {
        let figure = ground.figure_of(head);
        let form = self.crest(ground.workshop).map_or(TopForm::Edge(self.edge), TopForm::Crest);
        ground.in_relief(head, figure, self.relief, form, self.root)
    }

    fn figure(&self, head: &Element, ground: &Ground<'_>) -> Option<Figure> {
        let (region, frame) = self.own(ground.workshop);
        let own = Boxes { frame, ink: region.bounds().unwrap_or(frame) };
        let (dx, dy) = ground.put(&head.id, own, ground.face.guide, &self.place);
        let region = repeated(region.moved(dx, dy), self.repeat);
        let frame = frame.moved(dx, dy);
        let seats = match self.bridges {
            Some(_) => repeated_seats(vec![self.seat(frame)], self.repeat),
            None => Vec::new(),
        };
        Some(Figure { region, frame, drawn: Drawn::default(), field: None, seats })
    }

    fn asked(&self, ground: &Ground<'_>) -> Option<Boxes> {
        let (region, frame) = self.own(ground.workshop);
        Some(Boxes { frame, ink: region.bounds().unwrap_or(frame) })
    }
}

/// Whether lines can be as they were asked for.
struct CanBe(bool);

impl Kept for CanBe {
    fn bytes(&self) -> usize {
        1
    }
}

/// How the lines of an emblem are drawn out: as it asks, or as they were drawn where that would take too long.
pub(crate) fn drawn_out(emblem: &Emblem, workshop: &Workshop<'_>) -> Stroke {
    let as_drawn = Stroke { width: None, ..emblem.stroke };
    let Some(width) = emblem.stroke.width else { return as_drawn };
    let Some(shape) = emblem.own_shape().and_then(|id| workshop.shape(id)) else { return as_drawn };
    let setting = emblem.setting();
    let figures = [width.as_mm(), setting.width, setting.stretch, setting.turn].map(f64::to_bits);
    let read = ("drawn out", shape.id.as_str(), figures, setting.mirrored, emblem.stroke.ends);
    let key = workshop.cache.key(Stage::Shape, read);
    let can_be =
        workshop.cache.kept(key, || CanBe(shape.can_be_drawn_out(setting, &emblem.stroke)));
    if can_be.0 { emblem.stroke } else { as_drawn }
}

/// A shape of one's own and the box it is placed by; of one that is not at hand nothing but a box.
fn own_shape(
    id: &str,
    setting: Setting,
    stroke: &Stroke,
    workshop: &Workshop<'_>,
) -> (Region, Rect) {
    let Some(shape) = workshop.shape(id) else {
        return (Region::default(), Rect::centred(setting.width, setting.width));
    };
    let Setting { width, stretch, turn, mirrored } = setting;
    let figures = [width, stretch, turn].map(f64::to_bits);
    let line = (stroke.width.map(|width| width.as_mm().to_bits()), stroke.ends);
    let key = workshop.cache.key(Stage::Shape, (id, figures, mirrored, line, workshop.tolerance));
    let region = workshop.cache.kept(key, || shape.set(setting, stroke, workshop.tolerance));
    let region = Region::clone(&region);
    let own = match region.bounds() {
        Some(bounds) if shape.fills_its_frame() => bounds,
        // A layer of a picture is placed by the whole picture, so that its layers stay together.
        _ => {
            let placed = setting.placing(shape.frame).transform_rect_bbox(kurbo::Rect::new(
                shape.frame.x0,
                shape.frame.y0,
                shape.frame.x1,
                shape.frame.y1,
            ));
            Rect { x0: placed.x0, y0: placed.y0, x1: placed.x1, y1: placed.y1 }
        }
    };
    (region, own)
}

impl Emblem {
    /// What is drawn before it has a place, with the box it is placed by.
    fn own(&self, workshop: &Workshop<'_>) -> (Region, Rect) {
        let setting = self.setting();
        match self.own_shape() {
            Some(id) => own_shape(id, setting, &drawn_out(self, workshop), workshop),
            None => {
                let shape = emblem(&self.shape).unwrap_or(&EMBLEMS[0]);
                let region = shape.set_by(self.numbers(), setting, workshop.tolerance);
                let own = region.bounds().unwrap_or(Rect::centred(0.0, 0.0));
                (region, own)
            }
        }
    }

    /// How it lies in its box: as wide and tall as it is before it is turned.
    fn seat(&self, frame: Rect) -> Seat {
        let [wide, tall] = [self.width.as_mm(), self.width.as_mm() * self.stretch];
        let across = if self.mirrored { -1.0 } else { 1.0 };
        let stand = Affine::translate(frame.centre())
            * Affine::rotate(self.turn.to_radians())
            * Affine::scale_non_uniform(across, 1.0)
            * Affine::translate((-wide / 2.0, -tall / 2.0));
        Seat { line: 0, letter: 0, is: None, stand, wide, tall }
    }

    /// The section of its strokes, where it is raised, has nothing but lines, and is not flat.
    fn crest(&self, workshop: &Workshop<'_>) -> Option<Crest> {
        let Relief::Raised(_) = self.relief else { return None };
        let section = match self.stroke.section {
            StrokeSection::Flat => return None,
            section => section,
        };
        let shape = workshop.shape(self.own_shape()?).filter(|shape| shape.is_lines_alone())?;
        let width = shape.thinnest_line(self.setting(), &drawn_out(self, workshop))?;
        Some(Crest::new(section, width))
    }

    /// A star in the clear area; one that spans the opening of a ring, which is what an emblem is put
    /// into there.
    pub(super) fn fresh(ground: &Ground<'_>, free: Option<Rect>) -> Self {
        let (half, thickness) = (ground.shorter_side() / 2.0, ground.face.thickness);
        let opening = match ground.component.outline() {
            Some(Outline::Ring(ring)) => Some(ring.inside.as_mm().min(2.0 * half) * 1.04),
            _ => None,
        };
        let room = free.or(ground.face.clear);
        let in_clear = room.map_or(5.0, |room| room.height().min(room.width()) * 0.7);
        let width = opening.unwrap_or(in_clear).clamp(0.5, 480.0);
        Emblem {
            relief: match opening {
                Some(_) => Relief::Raised(Height::FromFoot(Length::mm(thickness))),
                None => ground.customary_relief(ground.customary(1.0, 1.0 / 32.0)),
            },
            place: match (opening, free) {
                (Some(_), _) => in_the_middle(),
                (None, Some(room)) => ground.in_the_middle_of(room),
                (None, None) => in_clear_area(),
            },
            ..Emblem::plain("star", ground.tidy(width))
        }
    }
}
