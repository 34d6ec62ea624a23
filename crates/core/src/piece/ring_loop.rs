//! Loops: what a ring or a ribbon goes through.

use super::check::Checker;
use super::element::Fields;
use super::{BothEdges, HolePlace, LetteringPlace, Relief, Repeat, limits};
use crate::units::Length;
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A loop: a ring that stands outside the outline, blended into the plate.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Loop {
    /// Where on the outline it stands.
    pub at: LoopPlace,
    /// Diameter of its hole, 0.5 to 200 mm.
    pub inside: Length,
    /// Length of the opening along the outline for a ribbon, at least as long as `inside`, up to
    /// 480 mm; nothing for a round one.
    pub ribbon: Option<Length>,
    /// Width of the material around the hole, 0.4 to 100 mm.
    pub wall: Length,
    /// Radius of the corners between loop and plate, 0 to 100 mm.
    pub blend: Length,
    /// A thickness of its own from the foot up, with edges of its own; nothing for that of the
    /// plate.
    pub own: Option<OwnThickness>,
    /// Its colour, the id of one of the piece's filaments; nothing for that of the plate.
    pub colour: Option<String>,
}

/// Where a loop stands.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum LoopPlace {
    /// In this direction from the centre of the plate, in degrees: 0 is right, 90 up, 180 left.
    Angle(f64),
    /// At the point of the outline nearest to this one, square to the outline.
    Point(HolePlace),
}

/// The thickness of a loop that has one of its own.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct OwnThickness {
    /// From the foot up, 0.2 to 100 mm.
    pub thickness: Length,
    /// How its edges are finished.
    pub edges: BothEdges,
}

impl Fields for Loop {
    fn check(&self, checker: &mut Checker) {
        match self.at {
            LoopPlace::Angle(angle) => checker.number(&limits::LOOP_ANGLE, angle),
            LoopPlace::Point(place) => {
                for (axis, distance) in
                    [("across", place.across.distance), ("up", place.up.distance)]
                {
                    let field = format!("at.point.{axis}.distance");
                    checker.length_at(&field, &limits::DISTANCE, distance);
                }
            }
        }
        checker.length(&limits::LOOP_INSIDE, self.inside);
        if let Some(length) = self.ribbon {
            checker.length(&limits::LOOP_RIBBON, length);
        }
        checker.length(&limits::LOOP_WALL, self.wall);
        checker.length(&limits::LOOP_BLEND, self.blend);
        if let Some(own) = self.own {
            checker.length(&limits::LOOP_THICKNESS, own.thickness);
            own.edges.check("own.edges", checker);
        }
    }

    fn relief(&self) -> Option<Relief> {
        None
    }

    fn place(&self) -> Option<&LetteringPlace> {
        None
    }

    fn place_mut(&mut self) -> Option<&mut LetteringPlace> {
        None
    }

    fn colour(&self) -> Option<(&'static str, Option<&str>)> {
        Some(("colour", self.colour.as_deref()))
    }

    fn lose_colour(&mut self) {
        self.colour = None;
    }

    fn root(&self) -> Option<Length> {
        None
    }

    fn repeat(&self) -> Repeat {
        Repeat::Once
    }

    fn carries(&self, _: bool) -> bool {
        false
    }

    fn nudge(&mut self, mm: f64) {
        /// Far enough for a customary loop to stand beside its copy.
        const ASIDE_DEGREES: f64 = 30.0;
        match &mut self.at {
            LoopPlace::Angle(angle) => *angle = (*angle + ASIDE_DEGREES + 180.0) % 360.0 - 180.0,
            LoopPlace::Point(place) => place.across.nudge(mm),
        }
    }

    fn shift(&mut self, across: f64, up: f64) -> Result<(), &'static str> {
        match &mut self.at {
            LoopPlace::Angle(_) => Err("This loop stands in a direction; turn it instead."),
            LoopPlace::Point(place) => {
                place.shift(across, up);
                Ok(())
            }
        }
    }

    fn name(&self) -> String {
        "Loop".to_owned()
    }

    fn main_fields(&self) -> Vec<(&'static str, &'static str)> {
        vec![("inside", "Loop, hole across")]
    }
}
