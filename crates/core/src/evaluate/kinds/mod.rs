//! What is done for every kind of element: a file for each, and its line in [`work`].

mod code;
mod emblem;
mod halo;
mod hole;
mod lettering;
mod pattern;
mod recess;
mod rim;
mod ring_loop;

pub(crate) use emblem::drawn_out;
pub(super) use ring_loop::with_loop;

use super::Placed;
use super::ground::{Figure, Ground};
use super::prism::Order;
use super::relations::Boxes;
use crate::piece::{
    Code, Element, ElementKind, Emblem, Halo, Hole, Kind, Lettering, LetteringPlace, Loop, Pattern,
    Recess, Relief, Rim,
};
use crate::plane::Rect;
use crate::units::{Length, Unit};

/// What is done for a kind of element. Nothing here has an answer of its own, so that a new kind forgets
/// nothing.
pub(super) trait Work {
    /// The element in its place, as it is seen from its face. What it changes of the ground, what
    /// comes after it meets.
    fn place(&self, head: &Element, ground: &mut Ground<'_>) -> Placed;

    /// Its outline, if it is a figure that a contour blank follows.
    fn figure(&self, head: &Element, ground: &Ground<'_>) -> Option<Figure>;

    /// The box it is placed by and that of all that is drawn, as large as it is asked for and before it has a
    /// place; nothing for what is not placed so, or takes the room there is.
    fn asked(&self, ground: &Ground<'_>) -> Option<Boxes>;
}

/// When an element is placed: what changes the ground comes before what stands on it.
pub(super) fn order_of(kind: &Kind) -> Order {
    match kind {
        Kind::Recess(_) => Order::First,
        Kind::Halo(_) => Order::Beneath,
        Kind::Lettering(_)
        | Kind::Emblem(_)
        | Kind::Code(_)
        | Kind::Pattern(_)
        | Kind::Rim(_)
        | Kind::Hole(_)
        | Kind::Loop(_) => Order::InTurn,
    }
}

/// What is done for an element.
pub(super) fn work(kind: &Kind) -> &dyn Work {
    match kind {
        Kind::Lettering(inner) => inner,
        Kind::Emblem(inner) => inner,
        Kind::Code(inner) => inner,
        Kind::Halo(inner) => inner,
        Kind::Pattern(inner) => inner,
        Kind::Rim(inner) => inner,
        Kind::Recess(inner) => inner,
        Kind::Hole(inner) => inner,
        Kind::Loop(inner) => inner,
    }
}

/// A new element that suits the face as it is. Sizes are customary ones (common practice, no source).
///
/// `free` is the largest box of the face that nothing lies in, where something lies on it.
pub(super) fn fresh(kind: ElementKind, ground: &Ground<'_>, free: Option<Rect>) -> Kind {
    match kind {
        ElementKind::Lettering => Lettering::fresh(ground, free).into(),
        ElementKind::Emblem => Emblem::fresh(ground, free).into(),
        ElementKind::Code => Code::fresh(ground, free).into(),
        ElementKind::Halo => Halo::fresh(ground).into(),
        ElementKind::Pattern => Pattern::fresh(ground).into(),
        ElementKind::Rim => Rim::fresh(ground).into(),
        ElementKind::Recess => Recess::fresh(ground).into(),
        ElementKind::Hole => Hole::fresh(ground).into(),
        ElementKind::Loop => Loop::fresh(ground).into(),
    }
}

impl Ground<'_> {
    /// A size a person would have typed: to a tenth of a millimetre or 1/32 in, downwards.
    fn tidy(&self, mm: f64) -> Length {
        /// What is a whole number of steps but for rounding stays that.
        const ROUNDING: f64 = 1e-6;
        let whole = |steps: f64| (steps + ROUNDING).floor();
        match self.piece.units {
            Unit::Millimetre => Length::mm((whole(mm * 10.0) / 10.0).max(0.5)),
            Unit::Inch => Length::inches((whole(mm / 25.4 * 32.0) / 32.0).max(1.0 / 32.0)),
        }
    }

    /// The relief a new element gets: raised by a height; on a face that lies on the bed sunk by as much,
    /// but no deeper than a third of the thickness.
    fn customary_relief(&self, height: Length) -> Relief {
        let height = height.as_mm();
        // What would stand on the bed, or hang over it, is sunk instead.
        let looks_down = self.component.lies.turned(self.face.frame.out)[2] < -0.99;
        if !looks_down {
            return Relief::raised(height);
        }
        let deepest = (self.face.thickness / 3.0 * 10.0).floor() / 10.0;
        Relief::recessed(height.min(deepest.max(0.1)))
    }

    /// The place in the middle of a box, to a tenth of a millimetre or 1/32 in.
    fn in_the_middle_of(&self, room: Rect) -> LetteringPlace {
        let guide = self.face.guide.centre();
        let step = self.piece.units.pick(0.1, 1.0 / 32.0).as_mm();
        let (x, y) = room.centre();
        let from_middle = |mm: f64| Length::mm(((mm / step).round() * step * 1e4).round() / 1e4);
        let mut place = in_the_middle();
        place.across.distance = from_middle(x - guide.0);
        place.up.distance = from_middle(y - guide.1);
        place
    }

    /// A customary size, which is another one in inches.
    fn customary(&self, mm: f64, inches: f64) -> Length {
        self.piece.units.pick(mm, inches)
    }
}

fn in_the_middle() -> LetteringPlace {
    LetteringPlace::in_the_middle()
}

fn in_clear_area() -> LetteringPlace {
    LetteringPlace::in_clear_area()
}
