#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A length in millimetres.
#[derive(Debug, Clone, Copy, PartialEq, PartialOrd, Default, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(transparent)]
pub struct Length(f64);

impl Length {
    /// No length at all.
    pub const ZERO: Length = Length(0.0);

    /// A length of so many millimetres.
    pub const fn mm(millimetres: f64) -> Self {
        Length(millimetres)
    }

    /// A length of so many inches, on the millionth of a millimetre.
    pub fn inches(inches: f64) -> Self {
        Length((inches * Unit::Inch.in_mm() * 1e6).round() / 1e6)
    }

    /// The length as a number of millimetres.
    pub const fn as_mm(self) -> f64 {
        self.0
    }
}

/// The unit a piece is shown in; documents always hold millimetres.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
pub enum Unit {
    /// Millimetres.
    #[default]
    #[serde(rename = "mm")]
    Millimetre,
    /// Inches of exactly 25.4 mm.
    #[serde(rename = "in")]
    Inch,
}

impl Unit {
    /// Millimetres in one of this unit.
    /// The inch is exactly 25.4 mm (international yard and pound agreement, 1959).
    pub const fn in_mm(self) -> f64 {
        match self {
            Unit::Millimetre => 1.0,
            Unit::Inch => 25.4,
        }
    }

    /// A size that is customary in this unit: so many millimetres, or so many inches.
    pub fn pick(self, millimetres: f64, inches: f64) -> Length {
        match self {
            Unit::Millimetre => Length::mm(millimetres),
            Unit::Inch => Length::inches(inches),
        }
    }

    /// The unit's sign as it stands behind a figure.
    pub const fn sign(self) -> &'static str {
        match self {
            Unit::Millimetre => "mm",
            Unit::Inch => "in",
        }
    }
}
