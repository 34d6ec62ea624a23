//! Bent bars: blanks of one thickness with a bend.

use super::check::Checker;
use super::{Edge, FaceName, Sides, limits};
use crate::filament::shipped_palette;
use crate::units::{Length, Unit};
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A flat bar bent once: its base lies on the bed, its upright leans back over it.
///
/// Seen from the right the base runs from the bend at the front to the back.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct BentBar {
    /// From left to right, 1 to 500 mm.
    pub length: Length,
    /// Of the bar, 0.4 to 100 mm.
    pub thickness: Length,
    /// How deep the base is, 1 to 500 mm; `legs` says from where.
    pub base: Length,
    /// How high the upright is along its slope, 1 to 500 mm; `legs` says from where.
    pub upright: Length,
    /// From where base and upright are measured: from their outer corner, where the file does not say.
    #[serde(default)]
    pub legs: Legs,
    /// Between base and upright, 30 to 150 degrees; at 90 it stands upright.
    pub angle: f64,
    /// Radius on the inside of the bend, 0 to 100 mm.
    pub inside: Length,
    /// Radius on the outside of the bend, 0 to 100 mm.
    pub outside: Length,
    /// How the long edges at the ends of base and upright are finished.
    pub long: Edge,
    /// How the edges round its left and right end are finished.
    pub ends: Edge,
    /// Its colour, the id of one of the piece's filaments.
    pub colour: String,
}

/// From where the legs of a bent bar are measured, to their free ends.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "kebab-case")]
pub enum Legs {
    /// From where their outsides would meet without a bend.
    #[default]
    Corner,
    /// From where they are straight inside and outside: the bend comes on top.
    Straight,
}

impl BentBar {
    /// Its faces: the leaning one, its back, and the top of the base.
    pub const FACES: &'static [FaceName] = &[FaceName::Front, FaceName::Back, FaceName::Top];

    /// The fields its faces are as wide and as high as.
    pub(super) fn sides_of(face: FaceName) -> Sides {
        match face {
            FaceName::Top => [Some("length"), Some("base")],
            _ => [Some("length"), Some("upright")],
        }
    }

    /// A bent desk plate: 150 mm long and 6 mm thick, a base of 38 mm and an upright of 50 mm; or 6 in,
    /// 1/4 in, 1 1/2 in and 2 in (common practice, no source).
    pub fn customary(units: Unit) -> Self {
        BentBar {
            length: units.pick(150.0, 6.0),
            thickness: units.pick(6.0, 0.25),
            base: units.pick(38.0, 1.5),
            upright: units.pick(50.0, 2.0),
            legs: Legs::Corner,
            angle: 70.0,
            inside: units.pick(2.0, 1.0 / 16.0),
            outside: units.pick(8.0, 5.0 / 16.0),
            long: Edge::Round(units.pick(1.0, 1.0 / 32.0)),
            ends: Edge::Round(units.pick(1.0, 1.0 / 32.0)),
            colour: shipped_palette().remove(0).id,
        }
    }

    /// How much of a leg a bend of a radius takes up, from where the legs would meet, in mm.
    pub fn taken_by(&self, radius: f64) -> f64 {
        radius / (self.angle.to_radians() / 2.0).tan()
    }

    /// How much of either leg the bend takes up inside, the thickness with it, in mm.
    pub fn taken_inside(&self) -> f64 {
        self.taken_by(self.inside.as_mm() + self.thickness.as_mm())
    }

    /// How long base and upright are from their outer corner, in mm.
    pub fn from_corner(&self) -> [f64; 2] {
        let before = match self.legs {
            Legs::Corner => 0.0,
            Legs::Straight => self.bend(),
        };
        [self.base, self.upright].map(|leg| leg.as_mm() + before)
    }

    /// What of either leg is not straight, from the outer corner, in mm.
    fn bend(&self) -> f64 {
        self.taken_inside().max(self.taken_by(self.outside.as_mm()))
    }

    /// The bar with its legs measured otherwise, and as large as it is.
    #[must_use]
    pub fn measured(&self, legs: Legs) -> BentBar {
        let before = match legs {
            Legs::Corner => 0.0,
            Legs::Straight => self.bend(),
        };
        let [base, upright] = self.from_corner().map(|leg| Length::mm(leg - before));
        BentBar { base, upright, legs, ..self.clone() }
    }

    pub(super) fn check(&self, checker: &mut Checker) {
        checker.length(&limits::BAR_LENGTH, self.length);
        checker.length(&limits::BAR_THICKNESS, self.thickness);
        checker.length(&limits::BAR_BASE, self.base);
        checker.length(&limits::BAR_UPRIGHT, self.upright);
        checker.number(&limits::BAR_ANGLE, self.angle);
        checker.length(&limits::BAR_INSIDE, self.inside);
        checker.length(&limits::BAR_OUTSIDE, self.outside);
        self.long.check("long", checker);
        self.ends.check("ends", checker);
        /// What must be left of a leg beside the bend.
        const LEAST_MM: f64 = 0.2;
        let shorter = self.from_corner().into_iter().fold(f64::INFINITY, f64::min);
        let inside = self.taken_inside();
        let outside = self.taken_by(self.outside.as_mm());
        let bends = [("inside", inside), ("outside", outside)];
        for (field, taken) in bends.iter().filter(|(_, taken)| *taken > shorter - LEAST_MM) {
            let message = format!(
                "The bend would take up {} of a leg that is {}: make its radius smaller, the legs longer or the \
                 angle wider.",
                checker.shown(*taken),
                checker.shown(shorter)
            );
            checker.report(field, message);
        }
        // The two arcs may come no nearer to each other than half the bar.
        let half_angle = self.angle.to_radians() / 2.0;
        let thickness = self.thickness.as_mm();
        let from_corner = |radius: f64| radius * (1.0 / half_angle.sin() - 1.0);
        let wall = (thickness / half_angle.sin() + from_corner(self.inside.as_mm()))
            - from_corner(self.outside.as_mm());
        if wall < thickness / 2.0 {
            let message = format!(
                "The bend would be only {} thick: make the radius outside smaller, or that inside larger.",
                checker.shown(wall.max(0.0))
            );
            checker.report("outside", message);
        }
    }
}
