//! The little arithmetic that length fields accept.
//!
//! ```text
//! sum      = product (("+" | "-") product)*
//! product  = factor (("*" | "/") factor)*
//! factor   = "-" factor | "(" sum ")" unit? | quantity
//! quantity = figure (figure "/" figure)? unit?      "1 1/2 in", "12 mm", "72"
//!          | figure "/" figure unit                 "3/8 in"
//! ```
//!
//! A figure without a unit is a plain number while it is multiplied or divided, and takes the
//! piece's unit where it meets a length or stands alone: in a metric piece "4in + 2" is 103.6 mm.
//! A comma is a decimal mark; nothing marks thousands.

use super::{Length, Unit};
use thiserror::Error;

/// Why a typed length is not one. The messages are written for the person who typed it.
#[derive(Debug, Clone, PartialEq, Error)]
pub enum LengthError {
    /// Nothing was typed.
    #[error("Type a length, for example 12 or 3/8 in.")]
    Empty,
    /// The same where a plain number belongs.
    #[error("Type a number, for example 4 or 1/2.")]
    NoNumber,
    /// Longer than any sum a person would type.
    #[error("That is too long for a length; {MAX_CHARS} characters are the most.")]
    TooLong,
    /// A character or word that has no meaning here.
    #[error("“{0}” is not a number or a unit. Units are mm, cm, in, ft (and ″ ′).")]
    Unknown(String),
    /// A figure such as "1,234.5" or "1.2.3".
    #[error("“{0}” is not one figure: use a single decimal point or comma.")]
    Figure(String),
    /// The text stops where a figure should follow.
    #[error("Something is missing after “{0}”.")]
    Unfinished(String),
    /// Two things stand side by side with no sign between them.
    #[error("“{0}” is not expected there: put + − × or ÷ before it.")]
    Unexpected(String),
    /// Brackets that do not pair.
    #[error("The brackets do not pair.")]
    Brackets,
    /// Division by nothing.
    #[error("That divides by zero.")]
    DivisionByZero,
    /// A length times a length, or a number divided by a length.
    #[error("That is not a length: it is {0}.")]
    Dimension(&'static str),
    /// Overflow.
    #[error("That number is too large.")]
    TooLarge,
}

const MAX_CHARS: usize = 80;

/// Reads a length as a person types it: "72", "3/8 in", "4in", "25.4/2", "1 1/2 in", "12 mm + 2".
///
/// `unit` is what a bare figure is measured in. The result is finite, of either
/// sign, and rounded to the nanometre.
///
/// # Errors
/// A [`LengthError`] whose message can be shown beside the field.
pub fn parse_length(text: &str, unit: Unit) -> Result<Length, LengthError> {
    let mm = evaluate(text, unit)?.into_mm(unit)?;
    if !mm.is_finite() || mm.abs() > 1e9 {
        return Err(LengthError::TooLarge);
    }
    // To the nanometre: 3 × 25.4 then is 76.2 and not a hair less.
    Ok(Length::mm((mm * 1e6).round() / 1e6))
}

/// Reads a plain number by the same rules; nothing where it is a length.
pub(super) fn parse_number(text: &str) -> Result<Option<f64>, LengthError> {
    let value = evaluate(text, Unit::Millimetre).map_err(|error| match error {
        LengthError::Empty => LengthError::NoNumber,
        error => error,
    })?;
    match value {
        Value::Mm(_) => Ok(None),
        Value::Number(number) if number.is_finite() && number.abs() <= 1e9 => Ok(Some(number)),
        Value::Number(_) => Err(LengthError::TooLarge),
    }
}

fn evaluate(text: &str, unit: Unit) -> Result<Value, LengthError> {
    if text.chars().count() > MAX_CHARS {
        return Err(LengthError::TooLong);
    }
    let tokens = tokens(text)?;
    if tokens.is_empty() {
        return Err(LengthError::Empty);
    }
    let mut parser = Parser { tokens: &tokens, at: 0, unit };
    let value = parser.sum()?;
    match parser.peek() {
        None => Ok(value),
        Some(Token::Sign(')')) => Err(LengthError::Brackets),
        Some(token) => Err(LengthError::Unexpected(token.text())),
    }
}

#[derive(Debug, Clone, PartialEq)]
enum Token {
    Figure(f64),
    Unit(&'static str, f64),
    Sign(char),
}

impl Token {
    fn text(&self) -> String {
        match self {
            Token::Figure(figure) => figure.to_string(),
            Token::Unit(sign, _) => (*sign).to_string(),
            Token::Sign(sign) => sign.to_string(),
        }
    }
}

fn tokens(text: &str) -> Result<Vec<Token>, LengthError> {
    let chars: Vec<char> = text.chars().collect();
    let mut tokens = Vec::new();
    let mut i = 0;
    while i < chars.len() {
        let c = chars[i];
        let run = |accept: fn(char) -> bool| -> String {
            chars[i..].iter().copied().take_while(|&c| accept(c)).collect()
        };
        if c.is_whitespace() {
            i += 1;
        } else if c.is_ascii_digit() || c == '.' || c == ',' {
            let word = run(|c| c.is_ascii_digit() || c == '.' || c == ',');
            i += word.chars().count();
            let marks = word.chars().filter(|c| !c.is_ascii_digit()).count();
            let figure = word.replace(',', ".").parse();
            match figure {
                Ok(figure) if marks <= 1 => tokens.push(Token::Figure(figure)),
                _ => return Err(LengthError::Figure(word)),
            }
        } else if c.is_alphabetic() {
            let word = run(char::is_alphabetic);
            i += word.chars().count();
            tokens.push(unit_token(&word).ok_or(LengthError::Unknown(word))?);
        } else {
            let token = match c {
                '"' | '″' | '”' => unit_token("in"),
                '\'' | '′' | '’' => unit_token("ft"),
                '+' | '(' | ')' | '*' | '/' | '-' => Some(Token::Sign(c)),
                '−' | '–' => Some(Token::Sign('-')),
                '×' | '·' => Some(Token::Sign('*')),
                '÷' => Some(Token::Sign('/')),
                _ => None,
            };
            tokens.push(token.ok_or_else(|| LengthError::Unknown(c.to_string()))?);
            i += 1;
        }
    }
    Ok(tokens)
}

fn unit_token(word: &str) -> Option<Token> {
    let (sign, mm) = match word.to_lowercase().as_str() {
        "mm" | "millimetre" | "millimetres" | "millimeter" | "millimeters" => ("mm", 1.0),
        "cm" | "centimetre" | "centimetres" | "centimeter" | "centimeters" => ("cm", 10.0),
        "in" | "inch" | "inches" => ("in", 25.4),
        "ft" | "foot" | "feet" => ("ft", 304.8),
        _ => return None,
    };
    Some(Token::Unit(sign, mm))
}

/// A number, or a length in mm.
#[derive(Clone, Copy)]
enum Value {
    Number(f64),
    Mm(f64),
}

impl Value {
    fn into_mm(self, unit: Unit) -> Result<f64, LengthError> {
        Ok(match self {
            Value::Number(n) => n * unit.in_mm(),
            Value::Mm(mm) => mm,
        })
    }

    fn map(self, f: impl Fn(f64) -> f64) -> Value {
        match self {
            Value::Number(n) => Value::Number(f(n)),
            Value::Mm(mm) => Value::Mm(f(mm)),
        }
    }

    fn times(self, other: Value) -> Result<Value, LengthError> {
        match (self, other) {
            (Value::Mm(_), Value::Mm(_)) => Err(LengthError::Dimension("an area")),
            (value, Value::Number(n)) | (Value::Number(n), value) => Ok(value.map(|v| v * n)),
        }
    }

    fn over(self, other: Value) -> Result<Value, LengthError> {
        let (Value::Number(divisor) | Value::Mm(divisor)) = other;
        if divisor == 0.0 {
            return Err(LengthError::DivisionByZero);
        }
        match (self, other) {
            (value, Value::Number(n)) => Ok(value.map(|v| v / n)),
            (Value::Mm(a), Value::Mm(b)) => Ok(Value::Number(a / b)),
            (Value::Number(_), Value::Mm(_)) => Err(LengthError::Dimension("one over a length")),
        }
    }
}

struct Parser<'a> {
    tokens: &'a [Token],
    at: usize,
    unit: Unit,
}

impl Parser<'_> {
    fn peek(&self) -> Option<&Token> {
        self.tokens.get(self.at)
    }

    fn peek_is(&self, ahead: usize, test: impl Fn(&Token) -> bool) -> bool {
        self.tokens.get(self.at + ahead).is_some_and(test)
    }

    fn accept(&mut self, sign: char) -> bool {
        let found = self.peek() == Some(&Token::Sign(sign));
        self.at += usize::from(found);
        found
    }

    fn sum(&mut self) -> Result<Value, LengthError> {
        let mut value = self.product()?;
        loop {
            let sign = if self.accept('+') {
                1.0
            } else if self.accept('-') {
                -1.0
            } else {
                return Ok(value);
            };
            let other = self.product()?;
            value = match (value, other) {
                (Value::Number(a), Value::Number(b)) => Value::Number(a + sign * b),
                (a, b) => Value::Mm(a.into_mm(self.unit)? + sign * b.into_mm(self.unit)?),
            };
        }
    }

    fn product(&mut self) -> Result<Value, LengthError> {
        let mut value = self.factor()?;
        loop {
            if self.accept('*') {
                value = value.times(self.factor()?)?;
            } else if self.accept('/') {
                value = value.over(self.factor()?)?;
            } else {
                return Ok(value);
            }
        }
    }

    fn factor(&mut self) -> Result<Value, LengthError> {
        if self.accept('-') {
            return Ok(self.factor()?.map(|v| -v));
        }
        if self.accept('(') {
            let value = self.sum()?;
            if !self.accept(')') {
                return Err(LengthError::Brackets);
            }
            return self.with_unit(value);
        }
        self.quantity()
    }

    fn quantity(&mut self) -> Result<Value, LengthError> {
        let Some(first) = self.figure() else {
            return Err(match self.peek() {
                Some(Token::Sign(')')) => LengthError::Brackets,
                Some(token) => LengthError::Unexpected(token.text()),
                None => LengthError::Unfinished(
                    self.at.checked_sub(1).map_or(String::new(), |i| self.tokens[i].text()),
                ),
            });
        };
        let is_figure = |token: &Token| matches!(token, Token::Figure(_));
        let is_over = |token: &Token| *token == Token::Sign('/');
        let is_unit = |token: &Token| matches!(token, Token::Unit(..));
        let mut figure = first;
        let mixed =
            self.peek_is(0, is_figure) && self.peek_is(1, is_over) && self.peek_is(2, is_figure);
        let fraction =
            self.peek_is(0, is_over) && self.peek_is(1, is_figure) && self.peek_is(2, is_unit);
        if mixed {
            let numerator = self.figure().unwrap_or_default();
            figure += numerator / self.denominator()?;
        } else if fraction {
            figure /= self.denominator()?;
        }
        self.with_unit(Value::Number(figure))
    }

    fn figure(&mut self) -> Option<f64> {
        let Some(Token::Figure(figure)) = self.peek() else {
            return None;
        };
        let figure = *figure;
        self.at += 1;
        Some(figure)
    }

    fn denominator(&mut self) -> Result<f64, LengthError> {
        self.accept('/');
        match self.figure() {
            Some(figure) if figure != 0.0 => Ok(figure),
            _ => Err(LengthError::DivisionByZero),
        }
    }

    fn with_unit(&mut self, value: Value) -> Result<Value, LengthError> {
        let Some(&Token::Unit(_, mm)) = self.peek() else {
            return Ok(value);
        };
        self.at += 1;
        value.times(Value::Mm(mm))
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn metric(text: &str) -> Result<f64, LengthError> {
        parse_length(text, Unit::Millimetre).map(Length::as_mm)
    }

    #[test]
    fn reads_what_people_type() {
        for (text, mm) in [
            ("72", 72.0),
            (" 72 mm ", 72.0),
            ("3/8 in", 9.525),
            ("3/8in", 9.525),
            ("3/8\"", 9.525),
            ("4in", 101.6),
            ("25.4/2", 12.7),
            ("1 1/2 in", 38.1),
            ("1 1/2", 1.5),
            ("12 mm + 2", 14.0),
            ("4in + 2", 103.6),
            ("2,5", 2.5),
            (".5", 0.5),
            ("2 × (3 + 4)", 14.0),
            ("(1 + 2) in", 76.2),
            ("-3", -3.0),
            ("10 - -2", 12.0),
            ("5 cm", 50.0),
            ("20 mm / 5 mm", 4.0),
        ] {
            let found = metric(text).unwrap_or_else(|error| panic!("{text}: {error}"));
            assert!((found - mm).abs() < 1e-12, "{text}: {found}");
        }
        assert_eq!(parse_length("1/2", Unit::Inch), Ok(Length::mm(12.7)));
        assert_eq!(parse_length("12.7 mm", Unit::Inch), Ok(Length::mm(12.7)));
    }

    #[test]
    fn says_what_is_wrong_with_the_rest() {
        for (text, error) in [
            ("", LengthError::Empty),
            ("   ", LengthError::Empty),
            ("wide", LengthError::Unknown("wide".into())),
            ("12 €", LengthError::Unknown("€".into())),
            ("NaN", LengthError::Unknown("NaN".into())),
            ("1.234,5", LengthError::Figure("1.234,5".into())),
            (".", LengthError::Figure(".".into())),
            ("12 +", LengthError::Unfinished("+".into())),
            ("12 13", LengthError::Unexpected("13".into())),
            ("mm", LengthError::Unexpected("mm".into())),
            ("(1 + 2", LengthError::Brackets),
            ("1)", LengthError::Brackets),
            ("3/0", LengthError::DivisionByZero),
            ("3/0 in", LengthError::DivisionByZero),
            ("2 mm * 2 mm", LengthError::Dimension("an area")),
            ("2 / (2 mm)", LengthError::Dimension("one over a length")),
            ("99999999999999999999", LengthError::TooLarge),
        ] {
            assert_eq!(metric(text), Err(error), "{text}");
        }
        assert_eq!(metric(&"1+".repeat(60)), Err(LengthError::TooLong));
    }

    proptest! {
        #[test]
        fn never_panics_and_is_always_finite(text in "[-+*/() 0-9.,a-z\"]{0,40}") {
            if let Ok(mm) = metric(&text) {
                prop_assert!(mm.is_finite());
            }
        }

        #[test]
        fn reads_back_what_it_writes(mm in -1e4..1e4f64) {
            for unit in [Unit::Millimetre, Unit::Inch] {
                let shown = super::super::format_length(Length::mm(mm), unit);
                let read = parse_length(&shown, Unit::Millimetre).unwrap().as_mm();
                prop_assert!((read - mm).abs() <= 0.0013, "{shown} read as {read}");
            }
        }
    }
}
