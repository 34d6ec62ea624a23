//! Caps: blanks that go over a pipe, and what keeps them there.

use super::check::Checker;
use super::grip::check_band;
use super::{Edge, FaceName, Fit, Fits, Grip, GripBand, Sides, limits};
use crate::filament::shipped_palette;
use crate::units::{Length, Unit};
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A cap that goes over a pipe or a bar: a disc with a skirt that hangs from it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Cap {
    /// What the pipe measures across, outside, 2 to 250 mm.
    pub over: Length,
    /// How much room the pipe has in it.
    pub fit: Fit,
    /// How thick the skirt is, 0.4 to 30 mm.
    pub wall: Length,
    /// How far down the pipe the skirt goes, 1 to 200 mm.
    pub skirt: Length,
    /// How thick the disc is, 0.4 to 50 mm.
    pub top: Length,
    /// What its outside is like.
    pub grip: Grip,
    /// The part of it the grip is kept to; nothing for all of it.
    #[serde(default)]
    pub grip_band: Option<GripBand>,
    /// How far the opening widens towards the pipe, as wide as high, 0 to 10 mm.
    pub lead_in: Length,
    /// What keeps it where it is.
    pub hold: Hold,
    /// A hole through the middle of its top that lets air in, 0.5 to 200 mm across; nothing for none.
    pub vent: Option<Length>,
    /// How the edge round its top is finished.
    pub upper: Edge,
    /// How the edge round its opening is finished, outside.
    pub lower: Edge,
    /// Its colour, the id of one of the piece's filaments.
    pub colour: String,
}

/// What keeps a cap where it is.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum Hold {
    /// The fit alone.
    #[default]
    Nothing,
    /// A bead inside the skirt that snaps in below a rim or into a groove.
    Bead(Bead),
    /// A step below the top that the pipe comes to rest on.
    Stop(Stop),
}

/// A bead: a ring of triangular section, whose flanks slope at 45°.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Bead {
    /// How far it stands out of the wall, 0.05 to 5 mm.
    pub proud: Length,
    /// How high its middle lies above the opening, 0 to 200 mm.
    pub up: Length,
}

/// A step below the top.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Stop {
    /// How far it stands out of the wall, 0.2 to 50 mm.
    pub width: Length,
    /// How high it is, 0.2 to 100 mm.
    pub height: Length,
}

impl Cap {
    /// Its faces, the one that looks up first.
    pub const FACES: &'static [FaceName] = &[FaceName::Top, FaceName::Under, FaceName::Around];

    /// The fields its faces are as wide and as high as.
    pub(super) fn sides_of(face: FaceName) -> Sides {
        match face {
            FaceName::Around => [None, Some("skirt")],
            _ => [Some("over"), Some("over")],
        }
    }

    /// A cap over a sounding pipe of 42.4 mm: a wall of 2.4, a skirt of 16 and a top of 3 mm; or over one
    /// of 1.66 in (sizes are common practice, no source).
    pub fn customary(units: Unit) -> Self {
        Cap {
            over: units.pick(42.4, 1.66),
            fit: Fit::Sliding,
            wall: units.pick(2.4, 3.0 / 32.0),
            skirt: units.pick(16.0, 5.0 / 8.0),
            top: units.pick(3.0, 1.0 / 8.0),
            grip: Grip::Plain,
            grip_band: None,
            lead_in: units.pick(0.8, 1.0 / 32.0),
            hold: Hold::Nothing,
            vent: None,
            upper: Edge::Chamfer(units.pick(0.8, 1.0 / 32.0)),
            lower: Edge::Square,
            colour: shipped_palette().remove(0).id,
        }
    }

    /// The radius of its bore in mm.
    pub fn bore(&self, fits: &Fits) -> f64 {
        (self.over.as_mm() + fits.clearance(self.fit)) / 2.0
    }

    pub(super) fn check(&self, fits: &Fits, checker: &mut Checker) {
        checker.length(&limits::CAP_OVER, self.over);
        self.fit.check("fit", checker);
        checker.length(&limits::CAP_WALL, self.wall);
        checker.length(&limits::CAP_SKIRT, self.skirt);
        checker.length(&limits::CAP_TOP, self.top);
        checker.length(&limits::LEAD_IN, self.lead_in);
        let bore = self.bore(fits);
        self.grip.check(bore + self.wall.as_mm(), checker);
        check_band(self.grip_band, self.skirt.as_mm() + self.top.as_mm(), checker);
        self.upper.check("upper", checker);
        self.lower.check("lower", checker);
        let [wall, skirt, lead_in] =
            [self.wall, self.skirt, self.lead_in].map(|length| length.as_mm());
        /// What has to be left of the wall at its opening (common practice, no source).
        const LEAST_RIM_MM: f64 = 0.2;
        if lead_in > 0.0 && lead_in + self.lower.size() > wall - LEAST_RIM_MM {
            let message = format!(
                "Together with the edge outside it would leave less than {} of the wall: {} is the most.",
                checker.shown(LEAST_RIM_MM),
                checker.at_most(wall - LEAST_RIM_MM - self.lower.size())
            );
            checker.report("lead_in", message);
        } else if lead_in > skirt / 2.0 {
            let message = "It would take more than half of the skirt.".to_owned();
            checker.report("lead_in", message);
        }
        let mut room = bore;
        match self.hold {
            Hold::Nothing => {}
            Hold::Bead(bead) => {
                checker.length_at("hold.bead.proud", &limits::BEAD_PROUD, bead.proud);
                checker.length_at("hold.bead.up", &limits::BEAD_UP, bead.up);
                room -= bead.proud.as_mm();
                bead.check(wall, skirt, bore, checker);
            }
            Hold::Stop(stop) => {
                checker.length_at("hold.stop.width", &limits::STOP_WIDTH, stop.width);
                checker.length_at("hold.stop.height", &limits::STOP_HEIGHT, stop.height);
                room -= stop.width.as_mm();
                if stop.width.as_mm() >= bore {
                    let message =
                        "The step would close the cap; make it narrower, or the top thicker.";
                    checker.report("hold.stop.width", message.to_owned());
                }
                if stop.height.as_mm() >= skirt {
                    let skirt = checker.shown(skirt);
                    let message = format!("The step would be higher than the skirt ({skirt}).");
                    checker.report("hold.stop.height", message);
                }
            }
        }
        if let Some(vent) = self.vent {
            checker.length_at("vent", &limits::VENT, vent);
            if vent.as_mm() / 2.0 >= room {
                let message = format!(
                    "The vent would be as wide as the room inside ({}): make it smaller.",
                    checker.shown(2.0 * room)
                );
                checker.report("vent", message);
            }
        }
    }
}

impl Bead {
    fn check(self, wall: f64, skirt: f64, bore: f64, checker: &mut Checker) {
        let (proud, up) = (self.proud.as_mm(), self.up.as_mm());
        /// A bead stands on the wall; of a thinner one it would be more than a rib.
        const MOST_OF_WALL: f64 = 0.8;
        if proud > MOST_OF_WALL * wall {
            let (wall, most) = (checker.shown(wall), checker.at_most(MOST_OF_WALL * wall));
            let message = format!("On a wall of {wall} a bead of {most} is the most.");
            checker.report("hold.bead.proud", message);
        } else if proud >= bore / 2.0 {
            let message = "The bead would close half of the bore.".to_owned();
            checker.report("hold.bead.proud", message);
        }
        if up - proud < 0.0 || up + proud > skirt {
            let message = format!(
                "The bead must lie on the skirt: its middle {} to {} above the opening.",
                checker.shown(proud),
                checker.shown((skirt - proud).max(proud))
            );
            checker.report("hold.bead.up", message);
        }
    }
}
