//! Where a finding is: shapes of its own, each seen from somewhere and between two heights.

use super::Job;
use crate::evaluate::{Along, Placed, Slice};
use crate::piece::FaceName;
use crate::plane::{Rect, Region};
use serde::{Serialize, Serializer};

/// More spots of one finding are not told.
pub(super) const MOST_SPOTS: usize = 100;

/// A place a finding speaks of. Lengths in mm.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Spot {
    /// From where it is seen.
    pub seen: Along,
    /// What is concerned, in its own shape; as an SVG path, y downwards, where it is written.
    #[serde(rename = "path", serialize_with = "as_path")]
    pub shape: Region,
    /// From which height; of a profile, how far from its left end.
    pub bottom: f64,
    /// Up to which.
    pub top: f64,
    /// The two points of an outline that are too near to each other, where that is what was measured.
    pub ends: Option<[(f64, f64); 2]>,
}

fn as_path<S: Serializer>(shape: &Region, to: S) -> Result<S::Ok, S::Error> {
    to.serialize_str(&shape.svg_path())
}

impl Spot {
    /// A shape in a slice.
    pub(super) fn in_slice(slice: &Slice, shape: Region) -> Self {
        Spot { seen: slice.along, shape, bottom: slice.bottom, top: slice.top, ends: None }
    }

    /// The same with the two points that were measured between.
    pub(super) fn between(mut self, ends: [(f64, f64); 2]) -> Self {
        self.ends = Some(ends);
        self
    }

    /// The box round it, unless it is seen in a profile.
    pub(super) fn place(&self) -> Option<Rect> {
        (self.seen != Along::Profile).then(|| self.shape.bounds()).flatten()
    }
}

/// Spots of one shape that lie on each other are one, from the foot of the lowest to the top of the highest.
pub(super) fn stacked(spots: impl Iterator<Item = Spot>) -> Vec<Spot> {
    const NEAR_MM: f64 = 0.01;
    let is_near = |a: f64, b: f64| (a - b).abs() < NEAR_MM;
    let is_over = |one: &Spot, other: &Spot| {
        let [Some(a), Some(b)] = [one.shape.bounds(), other.shape.bounds()] else { return false };
        let is_alike = is_near(a.x0, b.x0)
            && is_near(a.x1, b.x1)
            && is_near(a.y0, b.y0)
            && is_near(a.y1, b.y1)
            && (one.shape.area() - other.shape.area()).abs() < NEAR_MM * one.shape.area();
        let touches = is_near(one.top, other.bottom) || is_near(other.top, one.bottom);
        one.seen == other.seen && is_alike && touches
    };
    let mut all: Vec<Spot> = Vec::new();
    for spot in spots {
        match all.iter_mut().find(|known| is_over(known, &spot)) {
            Some(known) => {
                known.bottom = known.bottom.min(spot.bottom);
                known.top = known.top.max(spot.top);
            }
            None => all.push(spot),
        }
    }
    all
}

impl Job<'_> {
    /// From where what lies on a face is seen.
    pub(super) fn seen(&self, face: FaceName) -> Along {
        match self.layout.face(face) {
            Some(own) if !own.in_sections => Along::Face(face),
            _ => Along::Sections,
        }
    }

    /// A shape on an element, as high as that is.
    pub(super) fn spot(&self, placed: &Placed, shape: Region) -> Spot {
        let seen = self.seen(placed.face);
        Spot { seen, shape, bottom: placed.bottom, top: placed.top, ends: None }
    }

    /// A shape of the blank, from its foot to its face.
    pub(super) fn spot_of_blank(&self, shape: Region) -> Spot {
        let top = self.layout.blank.thickness;
        Spot { seen: Along::Sections, shape, bottom: 0.0, top, ends: None }
    }
}
