//! Plain figures as people type them: angles, shares and counts.

use super::parse::{LengthError, parse_number};
use thiserror::Error;

/// Why a typed figure is not one, beyond what a length could say of it.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum FigureError {
    /// Not readable as arithmetic.
    #[error(transparent)]
    Arithmetic(#[from] LengthError),
    /// A length where a plain figure belongs.
    #[error("That is a length; type {0}.")]
    Length(&'static str),
    /// Parts of something that comes in ones.
    #[error("It can only be whole: {0} or {1}.")]
    Whole(f64, f64),
}

/// Reads an angle in degrees: "45", "45°", "90/4", "-15 degrees".
///
/// # Errors
/// [`FigureError`], for the person at the field.
pub fn parse_angle(text: &str) -> Result<f64, FigureError> {
    const SIGNS: [&str; 5] = ["°", "º", "degrees", "degree", "deg"];
    let bare = text.trim();
    let lower = bare.to_lowercase();
    let sign = SIGNS.iter().find(|sign| lower.ends_with(*sign));
    // The signs have no letters whose small form is longer or shorter.
    let bare = sign.map_or(bare, |sign| &bare[..bare.len() - sign.len()]);
    figure(bare, "degrees, such as 45 or 45°")
}

/// Reads a share or another plain number: "0.5", "50 %", "1/2", "1 1/2".
///
/// # Errors
/// [`FigureError`], for the person at the field.
pub fn parse_share(text: &str) -> Result<f64, FigureError> {
    let bare = text.trim();
    let example = "a number, such as 0.5, 50 % or 1/2";
    match bare.strip_suffix('%') {
        Some(hundredths) => Ok(rounded(figure(hundredths, example)? / 100.0)),
        None => figure(bare, example),
    }
}

/// Reads a whole number: "4", "2 × 3".
///
/// # Errors
/// [`FigureError`], for the person at the field.
pub fn parse_count(text: &str) -> Result<f64, FigureError> {
    let number = figure(text, "a whole number, such as 4")?;
    if number.fract() == 0.0 {
        Ok(number)
    } else {
        Err(FigureError::Whole(number.floor(), number.ceil()))
    }
}

fn figure(text: &str, example: &'static str) -> Result<f64, FigureError> {
    match parse_number(text)? {
        Some(number) => Ok(rounded(number)),
        None => Err(FigureError::Length(example)),
    }
}

/// To a millionth, so that three thirds are one.
fn rounded(number: f64) -> f64 {
    (number * 1e6).round() / 1e6
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn angles_shares_and_counts_are_read_as_they_are_typed() {
        for (text, degrees) in [
            ("45", 45.0),
            ("45°", 45.0),
            (" 45 degrees", 45.0),
            ("-15 Deg", -15.0),
            ("90/4°", 22.5),
        ] {
            assert_eq!(parse_angle(text), Ok(degrees), "{text}");
        }
        for (text, share) in
            [("0.5", 0.5), ("0,5", 0.5), ("50 %", 0.5), ("50%", 0.5), ("1/2", 0.5), ("1 1/2", 1.5)]
        {
            assert_eq!(parse_share(text), Ok(share), "{text}");
        }
        assert_eq!(parse_count("2 × 3"), Ok(6.0));
        assert_eq!(parse_share("1/3 * 3"), Ok(1.0));
    }

    #[test]
    fn what_cannot_be_read_says_what_can() {
        let said = |error: Result<f64, FigureError>| error.unwrap_err().to_string();
        assert_eq!(said(parse_count("4.5")), "It can only be whole: 4 or 5.");
        assert_eq!(said(parse_angle("6 mm")), "That is a length; type degrees, such as 45 or 45°.");
        assert!(said(parse_share("6 mm")).contains("0.5, 50 % or 1/2"));
        assert!(said(parse_share("")).contains("Type a number"));
        for text in ["half", "°", "%", "45°°", "1e999", "9".repeat(400).as_str(), "(((", "1/0"] {
            for read in [parse_angle, parse_share, parse_count] {
                let error = read(text).unwrap_err().to_string();
                assert!(error.len() < 200 && !error.is_empty(), "{text}: {error}");
            }
        }
    }
}
