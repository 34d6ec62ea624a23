//! What is typed into fields that belong to no piece: read by the core, as the fields of a piece are.

use super::error::WebError;
use crate::service::Trouble;
use actix_web::{HttpResponse, Responder, post, web};
use kalotype_core::units::{Unit, parse_angle, parse_length};
use serde::Deserialize;
use serde_json::json;

/// Longer texts are no figures.
const LONGEST: usize = 200;

/// What a figure measures.
#[derive(Deserialize, Clone, Copy)]
#[serde(rename_all = "lowercase")]
enum Measure {
    Length,
    Angle,
}

/// A figure as it was typed.
#[derive(Deserialize)]
pub struct Typed {
    text: String,
    measure: Measure,
}

/// The figure: a length in mm, bare figures being mm, or an angle in degrees.
#[post("/api/figures")]
pub async fn read_figure(typed: web::Json<Typed>) -> Result<impl Responder, WebError> {
    let Typed { text, measure } = typed.into_inner();
    let bad = |message: String| WebError::from(Trouble::Bad(message));
    if text.len() > LONGEST {
        return Err(bad("That is too long for a figure.".to_owned()));
    }
    let value = match measure {
        Measure::Length => parse_length(&text, Unit::Millimetre)
            .map(|length| length.as_mm())
            .map_err(|error| bad(error.to_string()))?,
        Measure::Angle => parse_angle(&text).map_err(|error| bad(error.to_string()))?,
    };
    Ok(HttpResponse::Ok().json(json!({ "value": value })))
}
