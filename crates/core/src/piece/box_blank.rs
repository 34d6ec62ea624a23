//! Boxes: blanks that are open above, and may have a lid.

use super::check::Checker;
use super::{Edge, FaceName, Sides, limits};
use crate::filament::shipped_palette;
use crate::units::{Length, Unit};
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A box that is open above. A plate can be its lid.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct BoxBlank {
    /// The room inside from left to right, 2 to 480 mm.
    pub width: Length,
    /// The room inside from front to back, 2 to 480 mm.
    pub depth: Length,
    /// From the floor inside to its rim, 2 to 480 mm.
    pub height: Length,
    /// How thick its walls are, 0.4 to 50 mm.
    pub wall: Length,
    /// How thick its floor is, 0.4 to 50 mm.
    pub floor: Length,
    /// The radius of its upright corners inside, 0 to 240 mm.
    pub corner: Length,
    /// How the edge round its rim is finished, outside.
    pub upper: Edge,
    /// How the edge round its floor is finished, outside.
    pub lower: Edge,
    /// Its colour, the id of one of the piece's filaments.
    pub colour: String,
}

impl BoxBlank {
    /// Its faces, the front first.
    pub const FACES: &'static [FaceName] = &[
        FaceName::Front,
        FaceName::Back,
        FaceName::Left,
        FaceName::Right,
        FaceName::Top,
        FaceName::Inside,
        FaceName::Under,
    ];

    /// The fields its faces are as wide and as high as.
    pub(super) fn sides_of(face: FaceName) -> Sides {
        match face {
            FaceName::Left | FaceName::Right => [Some("depth"), Some("height")],
            FaceName::Top | FaceName::Inside | FaceName::Under => [Some("width"), Some("depth")],
            _ => [Some("width"), Some("height")],
        }
    }

    /// A box for keys: 80 × 60 × 30 mm inside, walls of 3 mm; or 3 × 2 1/2 × 1 1/4 in (common practice,
    /// no source).
    pub fn customary(units: Unit) -> Self {
        BoxBlank {
            width: units.pick(80.0, 3.0),
            depth: units.pick(60.0, 2.5),
            height: units.pick(30.0, 1.25),
            wall: units.pick(3.0, 1.0 / 8.0),
            floor: units.pick(2.0, 3.0 / 32.0),
            corner: units.pick(4.0, 3.0 / 16.0),
            upper: Edge::Square,
            lower: Edge::Chamfer(units.pick(0.6, 1.0 / 32.0)),
            colour: shipped_palette().remove(0).id,
        }
    }

    /// From the bed to its rim, in mm.
    pub fn tall(&self) -> f64 {
        self.floor.as_mm() + self.height.as_mm()
    }

    /// The radius of its upright corners inside, as large as there is room for, in mm.
    pub fn corner_inside(&self) -> f64 {
        self.corner.as_mm().min(self.width.as_mm().min(self.depth.as_mm()) / 2.0)
    }

    pub(super) fn check(&self, checker: &mut Checker) {
        checker.length(&limits::BOX_INSIDE_WIDTH, self.width);
        checker.length(&limits::BOX_INSIDE_DEPTH, self.depth);
        checker.length(&limits::BOX_INSIDE_HEIGHT, self.height);
        checker.length(&limits::BOX_WALL, self.wall);
        checker.length(&limits::BOX_FLOOR, self.floor);
        checker.length(&limits::BOX_CORNER, self.corner);
        self.upper.check("upper", checker);
        self.lower.check("lower", checker);
        /// What has to be left of the rim (common practice, no source).
        const LEAST_RIM_MM: f64 = 0.2;
        if self.upper.size() > self.wall.as_mm() - LEAST_RIM_MM {
            let message = format!(
                "It would leave less than {} of the rim: {} is the most.",
                checker.shown(LEAST_RIM_MM),
                checker.at_most(self.wall.as_mm() - LEAST_RIM_MM)
            );
            checker.report("upper", message);
        }
    }
}
