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

impl Grip {
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
