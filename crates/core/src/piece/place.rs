//! Placing by relation.

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
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct LetteringPlace {
    /// Left to right.
    pub across: Offset<AcrossClear>,
    /// Bottom to top.
    pub up: Offset<UpClear>,
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
    /// Moved by so many mm to the right and up.
    pub(crate) fn shift(&mut self, across: f64, up: f64) {
        self.across.nudge(across);
        self.up.nudge(up);
    }
}
