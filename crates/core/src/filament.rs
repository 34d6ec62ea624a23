//! Filaments: what things are printed in, and the colours they are drawn in.

#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};
use std::fmt;

/// A colour as screens show it: red, green and blue, written `#2f5d83`.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(try_from = "String", into = "String")]
pub struct Rgb(pub [u8; 3]);

/// A named filament on a spool.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Filament {
    /// What a piece calls it by; unique in the piece.
    pub id: String,
    /// What people call it, at most 60 characters.
    pub name: String,
    /// Its colour, as `#` and six hexadecimal figures.
    #[cfg_attr(test, schemars(with = "String"))]
    pub colour: Rgb,
    /// What it is made of, at most 30 characters.
    pub material: String,
    /// Its density in g/cm³, 0.2 to 20.
    pub density: f64,
    /// What a spool costs, in whatever currency the user reckons, 0 to 1 000 000.
    pub spool_price: f64,
    /// The mass of the filament on a full spool in g, 1 to 100 000.
    pub spool_mass: f64,
}

impl Filament {
    /// The mass of a volume in mm³, printed solid, in g.
    pub fn mass_of(&self, volume: f64) -> f64 {
        volume * self.density * 1e-3
    }

    /// What a mass in g costs: mass × price of the spool ÷ mass of the spool (common practice, no
    /// source).
    pub fn cost_of(&self, mass: f64) -> f64 {
        mass * self.spool_price / self.spool_mass
    }

    /// Everything that keeps it from being a filament, as field and message.
    pub fn problems(&self) -> Vec<(&'static str, String)> {
        const LONGEST_ID: usize = 60;
        let is_text = |text: &str, most: usize| {
            let length = text.chars().take(most + 1).count();
            !text.trim().is_empty() && length <= most && !text.chars().any(char::is_control)
        };
        let mut found = Vec::new();
        let texts = [
            ("id", "an id", &self.id, LONGEST_ID),
            ("name", "a name", &self.name, 60),
            ("material", "a material", &self.material, 30),
        ];
        for (field, what, text, most) in texts {
            if !is_text(text, most) {
                found.push((
                    field,
                    format!("A filament needs {what} of at most {most} characters."),
                ));
            }
        }
        let figures = [
            ("density", "The density", self.density, 0.2..=20.0),
            ("spool_price", "The price of a spool", self.spool_price, 0.0..=1e6),
            ("spool_mass", "The mass of a spool", self.spool_mass, 1.0..=1e5),
        ];
        for (field, what, value, range) in figures {
            if !range.contains(&value) {
                let (low, high) = (range.start(), range.end());
                found.push((field, format!("{what} can be {low} to {high}, not {value}.")));
            }
        }
        found
    }
}

impl Rgb {
    /// Part of this colour, the rest of another: `share` 0 is this one, 1 the other.
    pub fn mixed(self, other: Rgb, share: f64) -> Rgb {
        let mix = |i: usize| {
            let (own, its) = (f64::from(self.0[i]), f64::from(other.0[i]));
            (own + (its - own) * share).round() as u8
        };
        Rgb([mix(0), mix(1), mix(2)])
    }
}

/// The tones one colour is drawn in, so that what stands up and what is sunk can be told apart in
/// a piece of one colour.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
pub struct Tones {
    /// The colour itself.
    pub flat: Rgb,
    /// What stands up from a ground of the same colour.
    pub raised: Rgb,
    /// What is sunk into it.
    pub sunk: Rgb,
    /// Its outlines.
    pub line: Rgb,
}

impl Rgb {
    /// The tones it is drawn in.
    pub fn tones(self) -> Tones {
        const WHITE: Rgb = Rgb([255; 3]);
        const INK: Rgb = Rgb([0x1c, 0x24, 0x30]);
        let raised =
            if self.luma() > 0.6 { self.mixed(INK, 0.16) } else { self.mixed(WHITE, 0.52) };
        Tones {
            flat: self,
            raised,
            sunk: self.mixed(INK, if self.luma() > 0.6 { 0.34 } else { 0.6 }),
            line: self.mixed(INK, if self.luma() > 0.2 { 0.45 } else { 0.0 }),
        }
    }

    /// How light it looks, 0 to 1 (the weights of ITU-R BT.601, on the encoded values).
    pub(crate) fn luma(self) -> f64 {
        let [red, green, blue] = self.0.map(|part| f64::from(part) / 255.0);
        0.299 * red + 0.587 * green + 0.114 * blue
    }
}

impl fmt::Display for Rgb {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let [red, green, blue] = self.0;
        write!(f, "#{red:02x}{green:02x}{blue:02x}")
    }
}

impl From<Rgb> for String {
    fn from(colour: Rgb) -> String {
        colour.to_string()
    }
}

impl TryFrom<String> for Rgb {
    type Error = String;

    fn try_from(text: String) -> Result<Self, String> {
        let figures = text.strip_prefix('#').filter(|figures| figures.len() == 6);
        let part = |i: usize| {
            figures
                .and_then(|all| all.get(i..i + 2))
                .filter(|pair| pair.bytes().all(|b| b.is_ascii_hexdigit()))
                .and_then(|pair| u8::from_str_radix(pair, 16).ok())
        };
        match (part(0), part(2), part(4)) {
            (Some(red), Some(green), Some(blue)) => Ok(Rgb([red, green, blue])),
            _ => Err(format!("“{text}” is no colour; write it as #2f5d83")),
        }
    }
}

/// The filaments a new shelf starts with. Densities are typical of the materials (common practice,
/// no source); names and prices are invented.
pub fn shipped_palette() -> Vec<Filament> {
    const PALETTE: [(&str, &str, u32, &str, f64, f64); 12] = [
        ("harbour", "Harbour blue", 0x2f5d83, "PLA", 1.24, 24.0),
        ("sail", "Sail white", 0xf2efe6, "PLA", 1.24, 24.0),
        ("tar", "Tar black", 0x23262b, "PLA", 1.24, 24.0),
        ("lifebuoy", "Lifebuoy orange", 0xe2682b, "PLA", 1.24, 26.0),
        ("ensign", "Ensign red", 0xb33a3a, "PLA", 1.24, 24.0),
        ("lantern", "Lantern yellow", 0xe9bc3f, "PLA", 1.24, 26.0),
        ("kelp", "Kelp green", 0x4e6b3a, "PLA", 1.24, 24.0),
        ("fog", "Fog grey", 0xa7adb2, "PLA", 1.24, 22.0),
        ("rope", "Rope brown", 0x9c7a4d, "PLA", 1.24, 29.0),
        ("heather", "Heather violet", 0x7d5a8c, "PLA", 1.24, 26.0),
        ("deck", "Deck grey", 0x5f6b73, "PETG", 1.27, 28.0),
        ("signal", "Signal glow", 0xcfe3b4, "PLA", 1.24, 35.0),
    ];
    let filament =
        |(id, name, colour, material, density, spool_price): (&str, &str, u32, _, _, _)| {
            let [_, red, green, blue] = colour.to_be_bytes();
            Filament {
                id: id.to_owned(),
                name: name.to_owned(),
                colour: Rgb([red, green, blue]),
                material: str::to_owned(material),
                density,
                spool_price,
                spool_mass: 1000.0,
            }
        };
    PALETTE.into_iter().map(filament).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn colours_are_read_as_they_are_written() {
        for filament in shipped_palette() {
            assert_eq!(Rgb::try_from(filament.colour.to_string()), Ok(filament.colour));
            assert!(filament.problems().is_empty(), "{filament:?}");
        }
        for text in ["2f5d83", "#2f5d8", "#2f5d8g", "#+f5d83", "#åå5d", "red"] {
            assert!(Rgb::try_from(text.to_owned()).is_err(), "{text}");
        }
    }

    /// "A 1 kg spool at 35: a 4 g fob costs 0.14" (common practice, no source).
    #[test]
    fn a_fob_of_four_grams_costs_what_the_trade_says() {
        let spool = Filament { spool_price: 35.0, ..shipped_palette().remove(0) };
        assert!((spool.cost_of(4.0) - 0.14).abs() < 1e-12);
        assert!((spool.mass_of(1000.0) - 1.24).abs() < 1e-12);
        let broken = Filament { name: " ".into(), density: f64::NAN, spool_mass: 0.0, ..spool };
        let fields: Vec<&str> = broken.problems().into_iter().map(|(field, _)| field).collect();
        assert_eq!(fields, ["name", "density", "spool_mass"]);
    }
}
