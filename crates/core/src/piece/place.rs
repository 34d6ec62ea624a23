//! Placing by relation.

use crate::plane::Rect;
use crate::units::Length;
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A distance from a datum along one axis.
///
/// From an edge, the distance runs inwards: for a hole to its centre, for lettering to the side
/// of its box that is nearer to that edge. From a centre, it runs right or up to the element's
/// own centre.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Offset<D> {
    /// What the distance is measured from.
    pub from: D,
    /// The distance, −500 to 500 mm.
    pub distance: Length,
}

/// What a hole is measured from, left to right.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "lowercase")]
pub enum Across {
    /// The left edge of the plate.
    Left,
    /// The right edge of the plate.
    Right,
    /// The upright centre line of the plate.
    Centre,
}

/// What a hole is measured from, bottom to top.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "lowercase")]
pub enum Up {
    /// The bottom edge of the plate.
    Bottom,
    /// The top edge of the plate.
    Top,
    /// The level centre line of the plate.
    Centre,
}

/// What lettering or an emblem is measured from, left to right.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "lowercase")]
pub enum AcrossClear {
    /// The left edge of the plate.
    Left,
    /// The right edge of the plate.
    Right,
    /// The upright centre line of the plate.
    Centre,
    /// The centre of the clear area: the largest box free of holes and margins.
    Clear,
}

/// What lettering or an emblem is measured from, bottom to top.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "lowercase")]
pub enum UpClear {
    /// The bottom edge of the plate.
    Bottom,
    /// The top edge of the plate.
    Top,
    /// The level centre line of the plate.
    Centre,
    /// The centre of the clear area.
    Clear,
}

/// Where the centre of a hole lies.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct HolePlace {
    /// Left to right.
    pub across: Offset<Across>,
    /// Bottom to top.
    pub up: Offset<Up>,
}

/// Where lettering or an emblem sits. The box of lettering is as wide as the letters drawn and as high as the capitals.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct LetteringPlace {
    /// Left to right.
    pub across: Offset<AcrossClear>,
    /// Bottom to top.
    pub up: Offset<UpClear>,
    /// Another element of the same face that it is placed by instead.
    #[serde(default)]
    pub by: Option<Beside>,
    /// Whether it is put in its place alone. Otherwise all that is placed by it counts, so that a row of them is
    /// centred as a whole.
    #[serde(default)]
    pub alone: bool,
}

/// A place beside another element, or in the middle of it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Beside {
    /// The id of the other element, which is on the same face of the same component.
    pub element: String,
    /// On which side of it.
    pub side: BesideSide,
    /// From the one box to the other, −500 to 500 mm; in the middle to the right of it.
    pub gap: Length,
    /// What of the two is in line.
    pub in_line: InLine,
    /// Moved along that by so much, −500 to 500 mm: upwards beside it and in the middle, to the right above and
    /// below.
    pub shift: Length,
}

/// A side of another element.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "lowercase")]
pub enum BesideSide {
    /// To the left of it.
    Left,
    /// To the right of it.
    Right,
    /// Above it.
    Above,
    /// Below it.
    Below,
    /// In the middle of it.
    Middle,
}

/// What of two elements is in line.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "lowercase")]
pub enum InLine {
    /// Their left ends, or their feet.
    Low,
    /// Their middles.
    Middle,
    /// Their right ends, or their tops.
    High,
}

impl Beside {
    /// To the middle of an element's side, at a distance.
    pub fn new(element: &str, side: BesideSide, gap: Length) -> Self {
        let (in_line, shift) = (InLine::Middle, Length::ZERO);
        Beside { element: element.to_owned(), side, gap, in_line, shift }
    }

    /// The vector that moves a box to its place beside another.
    pub(crate) fn offset(&self, own: Rect, other: Rect) -> (f64, f64) {
        let (gap, shift) = (self.gap.as_mm(), self.shift.as_mm());
        let ((own_x, own_y), (x, y)) = (own.centre(), other.centre());
        let along = |low: f64, middle: f64, high: f64| match self.in_line {
            InLine::Low => low + shift,
            InLine::Middle => middle + shift,
            InLine::High => high + shift,
        };
        let upwards = || along(other.y0 - own.y0, y - own_y, other.y1 - own.y1);
        let sideways = || along(other.x0 - own.x0, x - own_x, other.x1 - own.x1);
        match self.side {
            BesideSide::Left => (other.x0 - gap - own.x1, upwards()),
            BesideSide::Right => (other.x1 + gap - own.x0, upwards()),
            BesideSide::Above => (sideways(), other.y1 + gap - own.y0),
            BesideSide::Below => (sideways(), other.y0 - gap - own.y1),
            BesideSide::Middle => (x - own_x + gap, y - own_y + shift),
        }
    }

    /// What says how far it is moved to the right, and up: the field of each, its length, and what that grows by on
    /// the way, 1 or −1.
    pub fn axes(&self) -> [(&'static str, Length, f64); 2] {
        let (gap, shift) = (("gap", self.gap), ("shift", self.shift));
        let along = |(field, length): (&'static str, Length), way: f64| (field, length, way);
        match self.side {
            BesideSide::Left => [along(gap, -1.0), along(shift, 1.0)],
            BesideSide::Right | BesideSide::Middle => [along(gap, 1.0), along(shift, 1.0)],
            BesideSide::Above => [along(shift, 1.0), along(gap, 1.0)],
            BesideSide::Below => [along(shift, 1.0), along(gap, -1.0)],
        }
    }

    /// Moved by so many mm to the right and up.
    fn shift(&mut self, across: f64, up: f64) {
        let axes = self.axes();
        for ((field, length, way), by) in axes.into_iter().zip([across, up]) {
            let moved = Length::mm(length.as_mm() + way * by);
            if field == "gap" { self.gap = moved } else { self.shift = moved }
        }
    }
}

/// A datum along either axis.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Datum {
    /// The left or bottom edge.
    Low,
    /// The right or top edge.
    High,
    /// The centre line.
    Centre,
    /// The centre of the clear area.
    Clear,
}

/// What can serve as a datum.
pub trait FromDatum: Copy {
    /// The datum along its axis.
    fn datum(self) -> Datum;
}

macro_rules! datum {
    ($kind:ident, $($variant:ident => $datum:ident),*) => {
        impl FromDatum for $kind {
            fn datum(self) -> Datum {
                match self { $($kind::$variant => Datum::$datum),* }
            }
        }
    };
}

datum!(Across, Left => Low, Right => High, Centre => Centre);
datum!(Up, Bottom => Low, Top => High, Centre => Centre);
datum!(AcrossClear, Left => Low, Right => High, Centre => Centre, Clear => Clear);
datum!(UpClear, Bottom => Low, Top => High, Centre => Centre, Clear => Clear);

/// A span along one axis in mm.
#[derive(Debug, Clone, Copy)]
pub(crate) struct Span {
    pub low: f64,
    pub high: f64,
}

impl Span {
    pub fn centre(self) -> f64 {
        (self.low + self.high) / 2.0
    }
}

impl<D: FromDatum> Offset<D> {
    /// Moves what it places by so many mm, to the right or up, without changing what it is measured
    /// from.
    pub(crate) fn nudge(&mut self, mm: f64) {
        let inwards = if self.from.datum() == Datum::High { -1.0 } else { 1.0 };
        self.distance = Length::mm(self.distance.as_mm() + inwards * mm);
    }

    /// Where the low side of something `size` mm long comes to lie, given the plate's span and the
    /// clear area's.
    pub(crate) fn resolve(&self, size: f64, plate: Span, clear: Span) -> f64 {
        let distance = self.distance.as_mm();
        match self.from.datum() {
            Datum::Low => plate.low + distance,
            Datum::High => plate.high - distance - size,
            Datum::Centre => plate.centre() + distance - size / 2.0,
            Datum::Clear => clear.centre() + distance - size / 2.0,
        }
    }
}

impl HolePlace {
    /// Moved by so many mm to the right and up.
    pub(crate) fn shift(&mut self, across: f64, up: f64) {
        self.across.nudge(across);
        self.up.nudge(up);
    }
}

impl LetteringPlace {
    /// In the middle of the clear area.
    pub fn in_clear_area() -> Self {
        LetteringPlace {
            across: Offset { from: AcrossClear::Clear, distance: Length::ZERO },
            up: Offset { from: UpClear::Clear, distance: Length::ZERO },
            by: None,
            alone: false,
        }
    }

    /// In the middle of the face.
    pub fn in_the_middle() -> Self {
        LetteringPlace {
            across: Offset { from: AcrossClear::Centre, distance: Length::ZERO },
            up: Offset { from: UpClear::Centre, distance: Length::ZERO },
            ..Self::in_clear_area()
        }
    }

    /// Moved by so many mm to the right and up.
    pub(crate) fn shift(&mut self, across: f64, up: f64) {
        match &mut self.by {
            Some(by) => by.shift(across, up),
            None => {
                self.across.nudge(across);
                self.up.nudge(up);
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Every side and every line, by hand: a box of 4 × 2 beside one of 10 × 6 about (20, 30).
    #[test]
    fn what_is_beside_lies_at_its_distance_in_line() {
        let other = Rect::centred(10.0, 6.0).moved(20.0, 30.0);
        let own = Rect::centred(4.0, 2.0).moved(-7.0, 3.0);
        let middle_at = |side, in_line| {
            let beside = Beside {
                in_line,
                shift: Length::mm(0.5),
                ..Beside::new("a", side, Length::mm(1.5))
            };
            let (dx, dy) = beside.offset(own, other);
            own.moved(dx, dy).centre()
        };
        let expected = [
            (BesideSide::Right, InLine::Low, (28.5, 28.5)),
            (BesideSide::Right, InLine::Middle, (28.5, 30.5)),
            (BesideSide::Left, InLine::High, (11.5, 32.5)),
            (BesideSide::Above, InLine::Low, (17.5, 35.5)),
            (BesideSide::Below, InLine::High, (23.5, 24.5)),
            (BesideSide::Below, InLine::Middle, (20.5, 24.5)),
            (BesideSide::Middle, InLine::Low, (21.5, 30.5)),
        ];
        for (side, in_line, middle) in expected {
            assert_eq!(middle_at(side, in_line), middle, "{side:?} {in_line:?}");
        }
    }

    /// What is moved by hand keeps to what it is placed by, and goes where the hand goes.
    #[test]
    fn what_is_beside_moves_with_the_hand() {
        let other = Rect::centred(10.0, 6.0);
        let own = Rect::centred(4.0, 2.0);
        for side in [
            BesideSide::Left,
            BesideSide::Right,
            BesideSide::Above,
            BesideSide::Below,
            BesideSide::Middle,
        ] {
            let mut beside = Beside::new("a", side, Length::mm(2.0));
            let before = beside.offset(own, other);
            beside.shift(1.25, -0.5);
            let after = beside.offset(own, other);
            assert_eq!((after.0 - before.0, after.1 - before.1), (1.25, -0.5), "{side:?}");
        }
    }
}
