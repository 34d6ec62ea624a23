//! Halos: what goes round other elements at a distance.

use super::check::Checker;
use super::element::{FOLLOWS_OTHERS, Fields};
use super::{Edge, LetteringPlace, Relief, Repeat, limits};
use crate::units::Length;
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// An area round lettering, emblems and codes: raised, sunk or level with the face. What it goes round stands on
/// it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Halo {
    /// What it goes round.
    pub round: RoundWhat,
    /// How far it reaches beyond that, 0 to 100 mm.
    pub distance: Length,
    /// What becomes of corners that point outwards.
    pub corners: HaloCorners,
    /// Crevices no wider than this are closed, 0 to 50 mm.
    pub crevices: Length,
    /// Openings smaller than a disc this far across are filled, 0 to 200 mm.
    pub gaps: Length,
    /// How many steps lie one upon another, 1 to 8; each is as high, or as deep, as the relief says.
    pub steps: u32,
    /// How much further every lower step reaches, and how much less every deeper one, 0.1 to 20 mm.
    pub widen: Length,
    /// How it meets the face: raised, recessed or flush.
    pub relief: Relief,
    /// Its colour, the id of one of the piece's filaments; nothing for that of the plate.
    pub colour: Option<String>,
    /// How deep it is rooted in what it stands on, if it stands up in a colour of its own, 0 to 100 mm; of something
    /// sunk, how deep its floor has that colour, where 0 is 0.6 mm.
    pub root: Length,
    /// How its edges are finished.
    pub edge: Edge,
}

/// What a halo goes round.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum RoundWhat {
    /// All lettering, emblems and codes of its face.
    All,
    /// Those of these ids.
    These(Vec<String>),
}

/// What becomes of corners that point outwards.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "lowercase")]
pub enum HaloCorners {
    /// They are rounded about themselves.
    Round,
    /// They stay corners; those sharper than 29° are cut off.
    Sharp,
    /// They are cut off straight.
    Bevelled,
}

impl RoundWhat {
    /// Whether an element is among what it goes round, if it is on the same face and can be.
    pub fn has(&self, id: &str) -> bool {
        match self {
            RoundWhat::All => true,
            RoundWhat::These(ids) => ids.iter().any(|one| one == id),
        }
    }
}

impl Halo {
    /// How far its lowest step reaches, in mm.
    pub fn reach(&self) -> f64 {
        let lower = match self.relief {
            Relief::Raised(_) | Relief::Recessed(_) => f64::from(self.steps.max(1) - 1),
            Relief::Flush(_) | Relief::Through => 0.0,
        };
        self.distance.as_mm() + lower * self.widen.as_mm()
    }
}

impl Fields for Halo {
    fn check(&self, checker: &mut Checker) {
        checker.length(&limits::HALO_DISTANCE, self.distance);
        checker.length(&limits::HALO_CREVICES, self.crevices);
        checker.length(&limits::HALO_GAPS, self.gaps);
        checker.count(&limits::HALO_STEPS, self.steps);
        checker.length(&limits::HALO_WIDEN, self.widen);
        if self.relief == Relief::Through {
            let message = "A halo cannot be cut through: what it goes round would fall out.";
            checker.report("relief", message.to_owned());
        }
        self.relief.check(checker);
        checker.length(&limits::ROOT, self.root);
        self.edge.check("edge", checker);
    }

    fn relief(&self) -> Option<Relief> {
        Some(self.relief)
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
        Some(self.root)
    }

    fn repeat(&self) -> Repeat {
        Repeat::Once
    }

    fn carries(&self, _: bool) -> bool {
        false
    }

    fn nudge(&mut self, mm: f64) {
        self.distance = Length::mm(self.distance.as_mm() + mm);
    }

    fn shift(&mut self, _: f64, _: f64) -> Result<(), &'static str> {
        Err(FOLLOWS_OTHERS)
    }

    fn name(&self) -> String {
        "Halo".to_owned()
    }

    fn main_fields(&self) -> Vec<(&'static str, &'static str)> {
        vec![("distance", "Halo reaches")]
    }
}
