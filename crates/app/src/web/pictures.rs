//! Pictures of what can be chosen: typefaces and emblems.

use super::error::WebError;
use super::studio::Studio;
use crate::service::{Service, Trouble};
use actix_web::http::header;
use actix_web::{HttpResponse, Responder, get, web};
use kalotype_core::cache::Cache;
use kalotype_core::emblems::{Setting, emblem};
use kalotype_core::lettering::set;
use kalotype_core::plane::Tolerance;
use kalotype_core::shapes::{Shape, is_own};
use serde::Deserialize;

/// An SVG, to be kept by the browser as the cache rule says.
pub(super) fn svg_answer(svg: String, cache: &'static str) -> HttpResponse {
    HttpResponse::Ok()
        .insert_header((header::CONTENT_TYPE, "image/svg+xml"))
        .insert_header((header::CACHE_CONTROL, cache))
        .body(svg)
}

#[derive(Deserialize)]
struct Sample {
    words: String,
}

/// Some words in a face, capitals 10 units high, as an SVG to be tinted by whoever shows it.
#[get("/typefaces/{id}/sample.svg")]
pub async fn sample(
    studio: web::Data<Studio>,
    id: web::Path<String>,
    sample: web::Query<Sample>,
) -> Result<impl Responder, WebError> {
    let svg = studio
        .bench(move |service, halt| {
            let typeface = service.workshop(Tolerance::Draft, halt).typeface(&id);
            let typeface =
                typeface.ok_or_else(|| Trouble::Bad(format!("There is no typeface “{id}”.")))?;
            let words: String = sample.words.chars().take(24).collect();
            let set = set(&words, &typeface, 10.0, Tolerance::Draft, &Cache::new(1 << 20));
            let width = set.region.bounds().map_or(1.0, |b| b.x1).max(1.0);
            let path = set.region.svg_path();
            Ok(format!(
                "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 -14 {:.2} 19\" \
                 preserveAspectRatio=\"xMinYMid meet\"><path d=\"{path}\"/></svg>",
                width + 0.5
            ))
        })
        .await?;
    Ok(svg_answer(svg, "private, max-age=86400"))
}

/// Of the 30 units of a picture so many are for the shape, and so wide are most of them.
const ROOM: f64 = 26.0;
const USUAL: f64 = 20.0;

/// A shape of the user's own as large as there is room for, its middle on the origin.
fn own_picture(shape: &Shape) -> String {
    let (width, height) = shape.size();
    let scale = ROOM / width.max(height);
    shape.stretched((width * scale, height * scale), Tolerance::Draft).svg_path()
}

/// A shipped emblem or a shape of the user's own in a square of 30 units, as an SVG to be tinted by whoever shows it.
#[get("/emblems/{id}/picture.svg")]
pub async fn emblem_picture(
    studio: web::Data<Studio>,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    let missing = || Trouble::Bad(format!("There is no emblem “{id}”."));
    let path = if is_own(&id) {
        let id = id.clone();
        let draw = move |service: &Service, halt| {
            let shape = service.workshop(Tolerance::Draft, halt).shape(&id);
            Ok(shape.map(|shape| own_picture(&shape)))
        };
        studio.bench(draw).await?.ok_or_else(missing)?
    } else {
        let shape = emblem(&id).ok_or_else(missing)?;
        let set = |width: f64| {
            let setting = Setting { width, stretch: 1.0, turn: 0.0, mirrored: false };
            shape.set(setting, Tolerance::Draft)
        };
        let tall = set(USUAL).bounds().map_or(USUAL, |bounds| bounds.height());
        set(USUAL * (ROOM / tall).min(1.0)).svg_path()
    };
    let svg = format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"-15 -15 30 30\">\
         <path fill-rule=\"evenodd\" d=\"{path}\"/></svg>"
    );
    Ok(svg_answer(svg, "private, max-age=86400"))
}
