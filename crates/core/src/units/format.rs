//! Lengths and other figures as words.

use super::{Length, Unit};

/// The finest fraction of an inch that is written as one.
const FINEST: u64 = 64;

/// Writes a length with its unit, without needless zeros: "72 mm", "3/8 in", "0.3937 in".
///
/// Millimetres are rounded to a thousandth; inches are fractions where they are exact, else rounded to a
/// ten-thousandth (about 2.5 µm).
pub fn format_length(length: Length, unit: Unit) -> String {
    if let Some(fraction) = fraction(length, unit) {
        return format!("{fraction} {}", unit.sign());
    }
    let decimals = match unit {
        Unit::Millimetre => 3,
        Unit::Inch => 4,
    };
    let mut figure = format!("{:.decimals$}", length.as_mm() / unit.in_mm());
    if figure.contains('.') {
        figure.truncate(figure.trim_end_matches('0').trim_end_matches('.').len());
    }
    if figure == "-0" {
        figure.remove(0);
    }
    format!("{figure} {}", unit.sign())
}

/// Inches as a fraction where they are one and not whole: "1 1/2".
fn fraction(length: Length, unit: Unit) -> Option<String> {
    let inches = length.as_mm() / unit.in_mm();
    let exact = inches.abs() * FINEST as f64;
    let parts = exact.round() as u64;
    let (whole, mut over, mut under) = (parts / FINEST, parts % FINEST, FINEST);
    if unit != Unit::Inch || (exact - parts as f64).abs() > 1e-4 || over == 0 {
        return None;
    }
    while over % 2 == 0 {
        (over, under) = (over / 2, under / 2);
    }
    let sign = if inches < 0.0 { "-" } else { "" };
    Some(match whole {
        0 => format!("{sign}{over}/{under}"),
        whole => format!("{sign}{whole} {over}/{under}"),
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn figures_carry_a_unit_and_no_needless_zeros() {
        let shown = |mm, unit| format_length(Length::mm(mm), unit);
        assert_eq!(shown(72.0, Unit::Millimetre), "72 mm");
        assert_eq!(shown(1.25, Unit::Millimetre), "1.25 mm");
        assert_eq!(shown(9.525, Unit::Inch), "3/8 in");
        assert_eq!(shown(38.1, Unit::Inch), "1 1/2 in");
        assert_eq!(shown(-3.175, Unit::Inch), "-1/8 in");
        assert_eq!(shown(76.2, Unit::Inch), "3 in");
        assert_eq!(shown(10.0, Unit::Inch), "0.3937 in");
        assert_eq!(shown(-0.0001, Unit::Millimetre), "0 mm");
        assert_eq!(shown(100.0, Unit::Millimetre), "100 mm");
    }
}
