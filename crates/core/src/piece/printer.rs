//! What a piece knows of the printer it is made on.
//!
//! A piece carries the whole profile, not its name alone: its file says what it was made with, and is
//! the same piece on another shelf. Where a shelf keeps the profile under the same id and it is measured
//! anew, the pieces that carry it are given the new figures there.

use super::check::{Checker, cut};
use super::{Fits, limits};
use crate::units::{Length, Unit};
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A printer with a nozzle and a material, and what fits on it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Printer {
    /// Unique on a shelf: 1 to 40 letters, figures, `-` and `_`.
    pub id: String,
    /// What people call it, at most 60 characters: "Quay North, grey".
    pub name: String,
    /// The width of its nozzle, 0.05 to 2 mm.
    pub nozzle: Length,
    /// How wide it draws a line, 0.05 to 3 mm.
    pub line: Length,
    /// How wide, how deep and how high it can print, 20 to 2000 mm each.
    pub bed: [Length; 3],
    /// How high its layers are, 0.02 to 2 mm.
    #[serde(default = "customary_layer")]
    pub layer: Length,
    /// How high the first of them is, 0.02 to 2 mm.
    #[serde(default = "customary_layer")]
    pub first_layer: Length,
    /// How much larger things get than drawn, in x and y, on either side, −1 to 1 mm. Fits alone follow it: what
    /// something goes into is drawn so much wider on either side, beyond what its fit says; outlines, holes and letters are
    /// drawn as they are.
    pub growth: Length,
    /// How much wider the first layer is pressed, on either side, 0 to 1 mm.
    pub spread: Length,
    /// The narrowest gap that stays open, 0.05 to 3 mm.
    #[serde(default = "customary_gap")]
    pub gap: Length,
    /// The steepest overhang it prints without help, in degrees from the upright, 0 to 89.
    #[serde(default = "customary_overhang")]
    pub overhang: f64,
    /// The longest span it bridges without help, 0 to 200 mm.
    #[serde(default = "customary_span")]
    pub span: Length,
    /// How many filaments it lays beside each other in one layer, 1 to 16; nothing where that is not known.
    #[serde(default)]
    pub filaments: Option<u32>,
    /// What its fits come to.
    pub fits: Fits,
    /// Where the fits come from.
    pub source: FitSource,
}

/// Where the fits of a printer come from.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum FitSource {
    /// They come with this program: common practice, no source.
    Shipped,
    /// Somebody typed them.
    Typed,
    /// They were read off a gauge on this day, as `2026-05-31`.
    Measured(String),
}

/// The longest name.
const LONGEST_NAME: usize = 60;

impl Printer {
    /// The id of the one that comes with this program.
    pub const SHIPPED_ID: &'static str = "shipped";

    /// The same with another growth. Fits that were measured stay what is drawn: the growth that is known
    /// now was in them.
    pub fn with_growth(mut self, growth: Length) -> Self {
        if let FitSource::Measured(_) = self.source {
            let less = 2.0 * (growth.as_mm() - self.growth.as_mm());
            let Fits { press, snug, sliding, loose } = &mut self.fits;
            for clearance in [press, snug, sliding, loose] {
                *clearance = to_a_nanometre(clearance.as_mm() - less);
            }
        }
        self.growth = growth;
        self
    }

    /// What its fits come to as they are drawn: wider by its growth on either side, so that what is printed
    /// comes to the fits themselves.
    pub fn drawn(&self) -> Fits {
        let more = 2.0 * self.growth.as_mm();
        let wider = |clearance: Length| to_a_nanometre(clearance.as_mm() + more);
        let Fits { press, snug, sliding, loose } = self.fits;
        Fits {
            press: wider(press),
            snug: wider(snug),
            sliding: wider(sliding),
            loose: wider(loose),
        }
    }
}

/// A sum without what adding left behind the last figure.
fn to_a_nanometre(mm: f64) -> Length {
    Length::mm((mm * 1e6).round() / 1e6)
}

/// 0.2 mm (common practice, no source).
fn customary_layer() -> Length {
    Length::mm(0.2)
}

/// 0.25 mm: half of a customary line and a little more (common practice, no source).
fn customary_gap() -> Length {
    Length::mm(0.25)
}

/// 45° (common practice, no source).
fn customary_overhang() -> f64 {
    45.0
}

/// 10 mm (common practice, no source).
fn customary_span() -> Length {
    Length::mm(10.0)
}

impl Default for Printer {
    /// A customary one: a nozzle of 0.4 mm, lines of 0.45 mm, a bed of 220 mm (common practice, no
    /// source).
    fn default() -> Self {
        Printer {
            id: Printer::SHIPPED_ID.to_owned(),
            name: "Any printer".to_owned(),
            nozzle: Length::mm(0.4),
            line: Length::mm(0.45),
            bed: [Length::mm(220.0), Length::mm(220.0), Length::mm(250.0)],
            layer: customary_layer(),
            first_layer: customary_layer(),
            growth: Length::ZERO,
            spread: Length::mm(0.1),
            gap: customary_gap(),
            overhang: customary_overhang(),
            span: customary_span(),
            filaments: None,
            fits: Fits::SHIPPED,
            source: FitSource::Shipped,
        }
    }
}

impl Printer {
    /// What keeps it from being one; nothing for a valid one.
    pub fn trouble(&self) -> Option<String> {
        let mut checker = Checker::new(Unit::Millimetre);
        self.check(&mut checker);
        checker.into_problems().into_iter().next().map(|problem| problem.message)
    }

    /// Reports what it cannot be, under `printer.` of a piece.
    pub(super) fn check(&self, checker: &mut Checker) {
        if !super::address::is_id(&self.id) {
            let message = format!("“{}” cannot be the id of a printer.", cut(&self.id));
            checker.report("printer.id", message);
        }
        let letters = self.name.chars().count();
        if self.name.trim().is_empty() || letters > LONGEST_NAME {
            let message = format!("A printer’s name can have 1 to {LONGEST_NAME} characters.");
            checker.report("printer.name", message);
        }
        checker.length(&limits::NOZZLE, self.nozzle);
        checker.length(&limits::LINE, self.line);
        for (i, side) in self.bed.into_iter().enumerate() {
            checker.length_at(&format!("printer.bed.{i}"), &limits::BED, side);
        }
        checker.length(&limits::PRINTER_LAYER, self.layer);
        checker.length(&limits::PRINTER_FIRST_LAYER, self.first_layer);
        checker.length(&limits::GROWTH, self.growth);
        checker.length(&limits::SPREAD, self.spread);
        checker.length(&limits::PRINTER_GAP, self.gap);
        checker.number(&limits::PRINTER_OVERHANG, self.overhang);
        checker.length(&limits::PRINTER_SPAN, self.span);
        if let Some(filaments) = self.filaments {
            checker.count(&limits::PRINTER_FILAMENTS, filaments);
        }
        let named = self.fits.named();
        for (class, clearance) in named {
            checker.length_at(&format!("printer.fits.{class}"), &limits::FIT, clearance);
        }
        for pair in named.windows(2) {
            let [(tight, less), (wide, more)] = [pair[0], pair[1]];
            if less > more {
                let message = format!("{tight} cannot have more room than {wide}.");
                checker.report(&format!("printer.fits.{wide}"), message);
            }
        }
        if let FitSource::Measured(day) = &self.source
            && !is_day(day)
        {
            let message = format!("“{}” is no day such as 2026-05-31.", cut(day));
            checker.report("printer.source.measured", message);
        }
    }
}

/// Whether a text is a day as `2026-05-31`; how many days its month has is not asked.
fn is_day(text: &str) -> bool {
    let parts: Vec<&str> = text.split('-').collect();
    let within = |part: &str, figures: usize, most: u32| {
        let is_figures = part.len() == figures && part.bytes().all(|byte| byte.is_ascii_digit());
        is_figures && part.parse().is_ok_and(|figure: u32| (1..=most).contains(&figure))
    };
    matches!(parts[..], [year, month, day]
        if within(year, 4, 9999) && within(month, 2, 12) && within(day, 2, 31))
}
