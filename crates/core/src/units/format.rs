use super::{Length, Unit};

/// Writes a length with its unit, without needless zeros: "72 mm", "0.375 in".
///
/// Millimetres are rounded to a thousandth, inches to a ten-thousandth (about 2.5 µm).
pub fn format_length(length: Length, unit: Unit) -> String {
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

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn figures_carry_a_unit_and_no_needless_zeros() {
        let shown = |mm, unit| format_length(Length::mm(mm), unit);
        assert_eq!(shown(72.0, Unit::Millimetre), "72 mm");
        assert_eq!(shown(1.25, Unit::Millimetre), "1.25 mm");
        assert_eq!(shown(9.525, Unit::Inch), "0.375 in");
        assert_eq!(shown(-0.0001, Unit::Millimetre), "0 mm");
        assert_eq!(shown(100.0, Unit::Millimetre), "100 mm");
    }
}
