//! What a person typed into a field becomes the figure the field holds.
//!
//! Which kind of figure it is says the table of limits. A share of something that has a length may be
//! typed as a length too: letters of 6 mm in a lettering of 12 mm are half as large.

use super::{Unapplied, laid_out};
use crate::piece::{Address, EditError, Kind, LetterSize, Measure, Piece, limit_of};
use crate::units::{FigureError, parse_angle, parse_count, parse_length, parse_share};
use crate::workshop::Workshop;
use serde_json::Value;

/// The figure of a field as it stands in the file: in mm, degrees or as a plain number.
pub(super) fn figure(
    piece: &Piece,
    target: &Address,
    field: &str,
    text: &str,
    workshop: &Workshop<'_>,
) -> Result<Value, Unapplied> {
    let refuse =
        |message: String| EditError { target: target.clone(), field: field.to_owned(), message };
    let refused = |error: FigureError| Unapplied::from(refuse(error.to_string()));
    let measure = piece.kind_word(target).and_then(|of| limit_of(of, field));
    match measure.map_or(Measure::Length, |limit| limit.measure) {
        Measure::Length => {
            if let Some(along) = along_the_way(piece, target, field, text, workshop)? {
                return Ok(along.into());
            }
            let length = parse_length(text, piece.units);
            Ok(length.map_err(|error| refuse(error.to_string()))?.as_mm().into())
        }
        Measure::Angle => Ok(parse_angle(text).map_err(refused)?.into()),
        Measure::Count => Ok((parse_count(text).map_err(refused)? as i64).into()),
        Measure::Number => match parse_share(text) {
            Err(FigureError::Length(example)) => {
                let length = parse_length(text, piece.units);
                let length = length.map_err(|error| refuse(error.to_string()))?.as_mm();
                match whole(piece, target, field, workshop)? {
                    Some(whole) if whole > 0.0 => Ok(((length / whole * 1e6).round() / 1e6).into()),
                    _ => Err(refused(FigureError::Length(example))),
                }
            }
            share => Ok(share.map_err(refused)?.into()),
        },
    }
}

/// What an angle comes to along the arc, in mm, where something on a round face is placed by one.
fn along_the_way(
    piece: &Piece,
    target: &Address,
    field: &str,
    text: &str,
    workshop: &Workshop<'_>,
) -> Result<Option<f64>, Unapplied> {
    if field != "place.across.distance" || !text.contains('°') {
        return Ok(None);
    }
    let (Some(element), Ok(angle)) = (piece.element(target), parse_angle(text)) else {
        return Ok(None);
    };
    let layout = laid_out(piece, target, workshop)?;
    let round = layout.face(element.face).and_then(|face| face.round.as_ref());
    let along = round.map(|round| angle / 360.0 * round.way_round());
    Ok(along.map(|mm| (mm * 1e4).round() / 1e4))
}

/// The length in mm that a field holds a share of, if it is a length.
fn whole(
    piece: &Piece,
    target: &Address,
    field: &str,
    workshop: &Workshop<'_>,
) -> Result<Option<f64>, Unapplied> {
    let Some(element) = piece.element(target) else { return Ok(None) };
    let names: Vec<&str> = field.split('.').collect();
    match (names.as_slice(), &element.kind) {
        (["lines", _, "scale"], Kind::Lettering(lettering)) => Ok(match lettering.size {
            LetterSize::Height(height) => Some(height.as_mm()),
            LetterSize::Box(_) | LetterSize::ClearArea => None,
        }),
        ([.., "fraction"], _) => {
            let layout = laid_out(piece, target, workshop)?;
            let face = layout.face(element.face).map(|face| face.thickness);
            Ok(Some(face.unwrap_or(layout.blank.thickness)))
        }
        _ => Ok(None),
    }
}
