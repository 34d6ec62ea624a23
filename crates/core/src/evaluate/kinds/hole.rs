//! Holes through a plate.

use super::super::ground::{Ground, repeated, spans};
use super::super::prism::Order;
use super::super::relations::Boxes;
use super::super::relief::{open_cut, through_cut};
use super::{Figure, Work};
use crate::emblems::{EMBLEMS, Setting, emblem};
use crate::evaluate::Placed;
use crate::piece::{
    Across, BothEdges, Edge, Element, Hole, HolePlace, HoleShape, Offset, Repeat, Up,
};
use crate::plane::{Rect, Region, Tolerance, circle, rounded_rectangle};
use crate::units::Length;

impl Work for Hole {
    fn place(&self, head: &Element, ground: &mut Ground<'_>) -> Placed {
        self.drilled(head, ground)
    }

    fn figure(&self, _: &Element, _: &Ground<'_>) -> Option<Figure> {
        None
    }

    fn asked(&self, _: &Ground<'_>) -> Option<Boxes> {
        None
    }
}

impl Hole {
    /// The hole in its place, as it is seen from the face it is drilled from.
    pub(in crate::evaluate) fn drilled(&self, head: &Element, ground: &Ground<'_>) -> Placed {
        let (across, up) = spans(ground.face.rect);
        let x = self.place.across.resolve(0.0, across, across);
        let y = self.place.up.resolve(0.0, up, up);
        let region = outline_of(self, (x, y), ground.workshop.tolerance);
        let diameter = self.diameter.as_mm();
        let frame = region.bounds().unwrap_or(Rect::centred(diameter, diameter).moved(x, y));
        // The box stands about the point the hole is placed by.
        let (half_width, half_height) =
            ((x - frame.x0).max(frame.x1 - x), (y - frame.y0).max(frame.y1 - y));
        let frame = Rect::centred(2.0 * half_width, 2.0 * half_height).moved(x, y);
        let thickness = ground.face.thickness;
        let region = repeated(region, self.repeat);
        let mut prisms = match self.depth {
            None => through_cut(&region, thickness, self.edges),
            Some(depth) => {
                let edges = BothEdges { top: self.edges.top, bottom: Edge::Square };
                open_cut(&region, thickness - depth.as_mm(), thickness, edges)
            }
        };
        prisms.iter_mut().for_each(|prism| prism.order = Order::Last);
        ground.placed(head, region, frame, prisms)
    }

    /// About 5 mm across and its centre about 5 mm from an end, an edge or a corner: the first of them where nothing
    /// lies yet, or the left end where something lies everywhere.
    pub(super) fn fresh(ground: &Ground<'_>) -> Self {
        let customary = ground.customary(5.0, 1.0 / 4.0).as_mm();
        let diameter = (ground.shorter_side() * 0.4).min(customary);
        let inwards = ground.tidy(diameter * 1.2);
        let hole = |place: HolePlace| Hole {
            shape: HoleShape::Round,
            diameter: ground.tidy(diameter),
            turn: 0.0,
            depth: None,
            edges: BothEdges::default(),
            place,
            repeat: Repeat::Once,
        };
        let middle = Length::ZERO;
        let places = [
            (Across::Left, inwards, Up::Centre, middle),
            (Across::Right, inwards, Up::Centre, middle),
            (Across::Centre, middle, Up::Top, inwards),
            (Across::Centre, middle, Up::Bottom, inwards),
            (Across::Left, inwards, Up::Top, inwards),
            (Across::Right, inwards, Up::Top, inwards),
            (Across::Left, inwards, Up::Bottom, inwards),
            (Across::Right, inwards, Up::Bottom, inwards),
        ];
        let places = places.map(|(across, right, up, high)| HolePlace {
            across: Offset { from: across, distance: right },
            up: Offset { from: up, distance: high },
        });
        let taken = ground.taken();
        let is_free = |place: &HolePlace| {
            let here = Element::new("new", hole(*place));
            let region = hole(*place).drilled(&here, ground).region;
            // Somewhat of the face has to be left round it.
            let round = region.offset(ground.customary(1.0, 1.0 / 32.0).as_mm(), Tolerance::Draft);
            let is_within = round.difference(&ground.face.outline).is_empty();
            is_within && round.intersection(&taken).is_empty()
        };
        hole(places.iter().find(|place| is_free(place)).copied().unwrap_or(places[0]))
    }
}

fn outline_of(hole: &Hole, centre: (f64, f64), tolerance: Tolerance) -> Region {
    let diameter = hole.diameter.as_mm();
    let radius = diameter / 2.0;
    let upright = match hole.shape {
        HoleShape::Round => return circle(centre, radius, tolerance),
        HoleShape::Slot(length) => rounded_rectangle(
            Rect::centred(length.as_mm().max(diameter), diameter),
            radius,
            tolerance,
        ),
        HoleShape::Square => rounded_rectangle(Rect::centred(diameter, diameter), 0.0, tolerance),
        HoleShape::Hexagon => {
            let across_corners = diameter / (std::f64::consts::PI / 6.0).cos();
            let shape = emblem("hexagon").unwrap_or(&EMBLEMS[0]);
            let setting =
                Setting { width: across_corners, stretch: 1.0, turn: 0.0, mirrored: false };
            shape.set(setting, tolerance)
        }
        HoleShape::KeyHole => {
            let (half, top) = (radius / 2.0, radius + diameter);
            let slot = Rect { x0: -half, y0: 0.0, x1: half, y1: top };
            circle((0.0, 0.0), radius, tolerance).union(&rounded_rectangle(slot, half, tolerance))
        }
    };
    upright.turned(hole.turn).moved(centre.0, centre.1)
}
