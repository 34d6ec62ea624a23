//! Plates: flat blanks of an outline.

use super::check::Checker;
use super::{BothEdges, Corner, Corners, Grows, Inlay, Outline, Sides, limits};
use crate::filament::shipped_palette;
use crate::units::{Length, Unit};
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A flat plate. Its face looks up, its foot lies on the bed.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Plate {
    /// From left to right, 1 to 500 mm.
    pub width: Length,
    /// From bottom to top of the face, 1 to 500 mm.
    pub height: Length,
    /// From the bed to the face, 0.2 to 100 mm.
    pub thickness: Length,
    /// Which of its sizes follow what stands on it.
    pub grows: Grows,
    /// Its outline.
    pub outline: Outline,
    /// How the edges of its face and its foot are finished.
    pub edges: BothEdges,
    /// Its colour, the id of one of the piece's filaments.
    pub colour: String,
    /// Another colour for its face or its foot.
    pub faces: Faces,
}

/// Faces with a colour of their own.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Faces {
    /// The colour of the front, inlaid.
    pub top: Option<Inlay>,
    /// The colour of the back, inlaid.
    pub bottom: Option<Inlay>,
}

impl Default for Plate {
    fn default() -> Self {
        Plate::customary(Unit::Millimetre)
    }
}

impl Plate {
    /// The fields its faces are as wide and as high as; one that follows what is on it, or one figure, has none.
    pub(super) fn sides(&self) -> Sides {
        match self.outline {
            Outline::Contour(_) => [None, None],
            _ if self.outline.is_given_by_one_figure() => [None, None],
            _ => [Some("width"), Some("height")],
        }
    }

    /// A customary key fob: 72 × 24 × 3 mm with 3 mm corners, or 3 × 1 × 1/8 in with corners of 1/8 in
    /// (common practice, no source).
    pub fn customary(units: Unit) -> Self {
        let corner = Corner::Round(units.pick(3.0, 1.0 / 8.0));
        Plate {
            width: units.pick(72.0, 3.0),
            height: units.pick(24.0, 1.0),
            thickness: units.pick(3.0, 1.0 / 8.0),
            grows: Grows::default(),
            outline: Outline::Rectangle(Corners::all(corner)),
            edges: BothEdges::default(),
            colour: shipped_palette().remove(0).id,
            faces: Faces::default(),
        }
    }

    /// Width, height and thickness in mm of what stands in for a blank that cannot be built.
    pub(crate) const STAND_IN: [f64; 3] = [60.0, 20.0, 3.0];

    /// The colours it names, with the fields that name them.
    pub(super) fn colours(&self) -> Vec<(String, &str)> {
        let faces = [("faces.top", &self.faces.top), ("faces.bottom", &self.faces.bottom)];
        let inlaid = faces.into_iter().filter_map(|(field, inlay)| {
            inlay.as_ref().map(|inlay| (format!("{field}.colour"), inlay.colour.as_str()))
        });
        std::iter::once(("colour".to_owned(), self.colour.as_str())).chain(inlaid).collect()
    }

    pub(super) fn check(&self, checker: &mut Checker) {
        checker.length(&limits::PLATE_WIDTH, self.width);
        checker.length(&limits::PLATE_HEIGHT, self.height);
        checker.length(&limits::PLATE_THICKNESS, self.thickness);
        self.grows.check([self.width, self.height], &self.outline, checker);
        self.outline.check("outline", checker);
        self.edges.check("edges", checker);
        for (field, inlay) in [("faces.top", &self.faces.top), ("faces.bottom", &self.faces.bottom)]
        {
            inlay.iter().for_each(|inlay| inlay.check(field, checker));
        }
    }
}
