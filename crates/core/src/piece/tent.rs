//! Tents: blanks that are folded once and stand on two legs.

use super::check::Checker;
use super::{Edge, FaceName, Sides, limits};
use crate::filament::shipped_palette;
use crate::units::{Length, Unit};
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A card folded once, or a wedge, that stands by itself on its two feet.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Tent {
    /// From left to right, 1 to 500 mm.
    pub length: Length,
    /// How high the leg at the front is along its slope, 1 to 500 mm.
    pub front: Length,
    /// How high the leg at the back is along its slope, 1 to 500 mm.
    pub back: Length,
    /// Between the two legs, 10 to 150 degrees.
    pub angle: f64,
    /// Of the card, 0.4 to 100 mm; nothing for a solid wedge.
    pub thickness: Option<Length>,
    /// How the edge along the fold is finished.
    pub fold: Edge,
    /// How the edges round its two ends are finished.
    pub ends: Edge,
    /// Its colour, the id of one of the piece's filaments.
    pub colour: String,
}

impl Tent {
    /// Its faces: the outsides of the two legs.
    pub const FACES: &'static [FaceName] = &[FaceName::Front, FaceName::Back];

    /// The fields its faces are as wide and as high as.
    pub(super) fn sides_of(face: FaceName) -> Sides {
        match face {
            FaceName::Back => [Some("length"), Some("back")],
            _ => [Some("length"), Some("front")],
        }
    }

    /// A name tent: 120 mm long, both legs 50 mm, a card of 3 mm at 50°; or 4 3/4 in, 2 in and 1/8 in
    /// (common practice, no source).
    pub fn customary(units: Unit) -> Self {
        Tent {
            length: units.pick(120.0, 4.75),
            front: units.pick(50.0, 2.0),
            back: units.pick(50.0, 2.0),
            angle: 50.0,
            thickness: Some(units.pick(3.0, 1.0 / 8.0)),
            fold: Edge::Round(units.pick(1.0, 1.0 / 32.0)),
            ends: Edge::Square,
            colour: shipped_palette().remove(0).id,
        }
    }

    /// Its corners seen from the right, in mm: the foot at the front, the foot at the back, the fold.
    /// From the front foot to the back one is level (law of cosines).
    pub fn corners(&self) -> [(f64, f64); 3] {
        let (front, back) = (self.front.as_mm(), self.back.as_mm());
        let cosine = self.angle.to_radians().cos();
        let apart = (front * front + back * back - 2.0 * front * back * cosine).sqrt();
        let along = (front * front - back * back + apart * apart) / (2.0 * apart);
        let high = (front * front - along * along).max(0.0).sqrt();
        [(0.0, 0.0), (apart, 0.0), (along, high)]
    }

    pub(super) fn check(&self, checker: &mut Checker) {
        checker.length(&limits::TENT_LENGTH, self.length);
        checker.length(&limits::TENT_FRONT, self.front);
        checker.length(&limits::TENT_BACK, self.back);
        checker.number(&limits::TENT_ANGLE, self.angle);
        self.fold.check("fold", checker);
        self.ends.check("ends", checker);
        let [_, (apart, _), (along, high)] = self.corners();
        /// How far the fold must stand inside the feet, as a share of what lies between them.
        const LEAST_SHARE: f64 = 0.02;
        if along < LEAST_SHARE * apart || along > (1.0 - LEAST_SHARE) * apart || high < 0.5 {
            let message = "With legs so unlike it would fall over: the fold must stand above the room \
                           between its feet. Make the legs more alike, or the angle wider.";
            let longer = if self.front > self.back { "front" } else { "back" };
            checker.report(longer, message.to_owned());
            return;
        }
        let Some(thickness) = self.thickness else { return };
        checker.length(&limits::TENT_THICKNESS, thickness);
        // The inside ends where the two legs meet: at most at half the height above the feet.
        let most = 0.45 * self.room_inside();
        if thickness.as_mm() > most {
            let message = format!(
                "The card would fill the tent: {} is the most here, or make it solid.",
                checker.at_most(most)
            );
            checker.report("thickness", message);
        }
    }

    /// The radius of the largest circle between its legs and what it stands on, in mm, doubled: twice
    /// the area over half the way round (elementary geometry).
    fn room_inside(&self) -> f64 {
        let [_, (apart, _), (_, high)] = self.corners();
        2.0 * apart * high / (apart + self.front.as_mm() + self.back.as_mm())
    }
}
