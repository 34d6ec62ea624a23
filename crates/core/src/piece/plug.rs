//! Plugs: blanks that go into a bore.

use super::check::Checker;
use super::grip::check_band;
use super::{Edge, FaceName, Fit, Fits, Grip, GripBand, Sides, limits};
use crate::filament::shipped_palette;
use crate::units::{Length, Unit};
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A plug that goes into a bore: a shank below a collar that stays outside.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Plug {
    /// What the bore measures across, 2 to 250 mm.
    pub into: Length,
    /// How much room the shank has in it.
    pub fit: Fit,
    /// How far the shank goes in, 1 to 200 mm.
    pub shank: Length,
    /// How much thinner the shank gets from its collar down, on either side, 0 to 20 degrees.
    pub taper: f64,
    /// How thick the wall of a hollow shank is, 0.4 to 100 mm; nothing for a solid one.
    pub wall: Option<Length>,
    /// How far the collar reaches over the edge of the bore, 0 to 100 mm.
    pub collar: Length,
    /// How thick the collar is, 0.4 to 50 mm.
    pub top: Length,
    /// What the collar is like round its outside.
    pub grip: Grip,
    /// The part of it the grip is kept to; nothing for all of it.
    #[serde(default)]
    pub grip_band: Option<GripBand>,
    /// How the lower edge of the shank is finished, so that it finds its way in.
    pub lead_in: Edge,
    /// How the edge round its top is finished.
    pub upper: Edge,
    /// Its colour, the id of one of the piece's filaments.
    pub colour: String,
}

impl Plug {
    /// Its faces, the one that looks up first.
    pub const FACES: &'static [FaceName] = &[FaceName::Top, FaceName::Under, FaceName::Around];

    /// The fields its faces are as wide and as high as.
    pub(super) fn sides_of(face: FaceName) -> Sides {
        match face {
            FaceName::Around => [None, Some("top")],
            _ => [Some("into"), Some("into")],
        }
    }

    /// A bung plug into 30 mm, 14 mm deep; or into 1 1/4 in (common practice, no source).
    pub fn customary(units: Unit) -> Self {
        Plug {
            into: units.pick(30.0, 1.25),
            fit: Fit::Snug,
            shank: units.pick(14.0, 5.0 / 8.0),
            taper: 2.0,
            wall: None,
            collar: units.pick(4.0, 3.0 / 16.0),
            top: units.pick(4.0, 3.0 / 16.0),
            grip: Grip::Plain,
            grip_band: None,
            lead_in: Edge::Chamfer(units.pick(1.0, 1.0 / 32.0)),
            upper: Edge::Chamfer(units.pick(0.8, 1.0 / 32.0)),
            colour: shipped_palette().remove(0).id,
        }
    }

    /// The radius of its shank below the collar in mm.
    pub fn radius(&self, fits: &Fits) -> f64 {
        (self.into.as_mm() - fits.clearance(self.fit)) / 2.0
    }

    /// How much thinner the shank is at its end, on either side, in mm.
    pub fn tapers(&self) -> f64 {
        self.shank.as_mm() * self.taper.to_radians().tan()
    }

    pub(super) fn check(&self, fits: &Fits, checker: &mut Checker) {
        checker.length(&limits::PLUG_INTO, self.into);
        self.fit.check("fit", checker);
        checker.length(&limits::PLUG_SHANK, self.shank);
        checker.number(&limits::PLUG_TAPER, self.taper);
        checker.length(&limits::PLUG_COLLAR, self.collar);
        checker.length(&limits::PLUG_TOP, self.top);
        let outer = self.into.as_mm() / 2.0 + self.collar.as_mm();
        self.grip.check(outer, checker);
        check_band(self.grip_band, self.top.as_mm(), checker);
        self.lead_in.check("lead_in", checker);
        self.upper.check("upper", checker);
        let radius = self.radius(fits);
        let end = radius - self.tapers() - self.lead_in.size();
        /// The smallest end a shank has.
        const LEAST_MM: f64 = 0.5;
        if radius < LEAST_MM {
            let message = "So much room leaves nothing of the shank.".to_owned();
            checker.report("fit", message);
        } else if end < LEAST_MM {
            let message = format!(
                "The shank would come to a point: {:.1}° are the most here.",
                (((radius - self.lead_in.size() - LEAST_MM).max(0.0) / self.shank.as_mm())
                    .atan()
                    .to_degrees()
                    * 10.0)
                    .floor()
                    / 10.0
            );
            checker.report("taper", message);
        }
        if let Some(wall) = self.wall {
            checker.length_at("wall", &limits::PLUG_WALL, wall);
            // The hollow is straight: its wall is thinnest at the end of the shank.
            let most = end - LEAST_MM;
            if wall.as_mm() > most.max(0.0) {
                let message = format!(
                    "So thick a wall fills the shank: {} is the most, or make it solid.",
                    checker.at_most(most)
                );
                checker.report("wall", message);
            }
        }
    }
}
