//! Grips: what the outside of something round is like, all of it or a band.

use super::check::Checker;
use super::limits;
use crate::units::Length;
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// What the outside of something round is like, so that fingers hold it.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum Grip {
    /// Round and smooth.
    #[default]
    Plain,
    /// Upright ribs.
    Ribs(GripPattern),
    /// Flat sides, 3 to 24.
    Facets(u32),
    /// Grooves that cross each other.
    Knurl(GripPattern),
}

/// A pattern round something.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct GripPattern {
    /// How often it is there all the way round, 6 to 120.
    pub count: u32,
    /// How far it stands out of the wall, 0.2 to 5 mm.
    pub depth: Length,
}

/// The part of an upright outside that a grip is kept to; the rest is round and smooth.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct GripBand {
    /// How high its foot lies above the foot of that outside, 0 to 250 mm.
    pub up: Length,
    /// How high it is, 0.5 to 250 mm.
    pub height: Length,
}

impl GripBand {
    /// Its foot and its head above the foot of the outside, in mm; no higher than that is.
    pub fn reach(self, whole: f64) -> [f64; 2] {
        let foot = self.up.as_mm().min(whole);
        [foot, (foot + self.height.as_mm()).min(whole)]
    }

    /// The larger of the two plain parts beside it, in mm above the foot of the outside.
    pub fn beside(self, whole: f64) -> [f64; 2] {
        let [foot, head] = self.reach(whole);
        if foot > whole - head { [0.0, foot] } else { [head, whole] }
    }
}

/// Checks the band of an outside that is so high, in mm.
pub(super) fn check_band(band: Option<GripBand>, whole: f64, checker: &mut Checker) {
    let Some(band) = band else { return };
    checker.length_at("grip_band.up", &limits::BAND_UP, band.up);
    checker.length_at("grip_band.height", &limits::BAND_HEIGHT, band.height);
    /// What must stay plain beside a band.
    const LEAST_PLAIN_MM: f64 = 0.5;
    let most = whole - band.up.as_mm();
    if band.height.as_mm() > most {
        let message = format!(
            "The band would end above the outside, which is {} high: {} is the most from there.",
            checker.shown(whole),
            checker.at_most(most)
        );
        checker.report("grip_band.height", message);
    } else if band.beside(whole)[1] - band.beside(whole)[0] < LEAST_PLAIN_MM {
        let message = "Such a band leaves nothing plain beside it. Make it lower, or let the grip go all the \
                       way up."
            .to_owned();
        checker.report("grip_band.height", message);
    }
}

impl Grip {
    /// How far it stands out of a round outside of a radius, in mm.
    pub fn stands_out(self, radius: f64) -> f64 {
        match self {
            Grip::Plain => 0.0,
            Grip::Ribs(pattern) | Grip::Knurl(pattern) => pattern.depth.as_mm(),
            Grip::Facets(count) => {
                radius / (std::f64::consts::PI / f64::from(count)).cos() - radius
            }
        }
    }

    /// The pattern a person who has not chosen one gets.
    pub(crate) const CUSTOMARY: GripPattern = GripPattern { count: 30, depth: Length::mm(1.0) };

    pub(super) fn check(self, radius: f64, checker: &mut Checker) {
        match self {
            Grip::Plain => {}
            Grip::Facets(count) => checker.count_at("grip.facets", &limits::FACETS, count),
            Grip::Ribs(pattern) => pattern.check("grip.ribs", radius, checker),
            Grip::Knurl(pattern) => pattern.check("grip.knurl", radius, checker),
        }
    }
}

impl GripPattern {
    fn check(self, field: &str, radius: f64, checker: &mut Checker) {
        checker.count_at(&format!("{field}.count"), &limits::GRIP_COUNT, self.count);
        checker.length_at(&format!("{field}.depth"), &limits::GRIP_DEPTH, self.depth);
        /// A pattern finer than this runs together when it is printed (common practice, no source).
        const LEAST_PITCH_MM: f64 = 1.0;
        let most = (std::f64::consts::TAU * radius / LEAST_PITCH_MM).floor();
        if f64::from(self.count) > most && most >= limits::GRIP_COUNT.low {
            let message = format!(
                "So many would stand closer than {}: round this {most} are the most.",
                checker.shown(LEAST_PITCH_MM)
            );
            checker.report(&format!("{field}.count"), message);
        }
    }
}
