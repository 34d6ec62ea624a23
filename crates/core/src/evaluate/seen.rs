//! Boxes and ways by where they are seen from.
//!
//! A layout holds what lies on the underside of sections as it is seen through them from the front, where it is drawn and
//! looked at beside everything else. Documents and edits speak of it as it is seen from its own face. Only what is
//! here goes from one to the other, and what it gives is of a type of its own.

use super::{Layout, Placed};
use crate::plane::Rect;

/// A box as it is seen from the face it is on: as places are given.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct FromFace(pub Rect);

/// How far something goes across and up, in mm, as it is seen from the face it is on: as an edit shifts it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct WayOnFace {
    /// To the right.
    pub across: f64,
    /// Upwards.
    pub up: f64,
}

impl Layout {
    /// A box of an element, such as its frame or its row, as it is seen from the element's own face.
    pub fn from_face(&self, placed: &Placed, seen_from_front: Rect) -> FromFace {
        FromFace(match self.is_seen_through(placed) {
            true => seen_from_front.mirrored(),
            false => seen_from_front,
        })
    }

    /// A way an element goes, in mm, from as it is seen from the front to as its own face has it.
    pub fn way_on_face(&self, placed: &Placed, (dx, dy): (f64, f64)) -> WayOnFace {
        let across = if self.is_seen_through(placed) { 0.0 - dx } else { dx };
        WayOnFace { across, up: dy }
    }
}
