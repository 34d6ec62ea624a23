//! Starters, the shipped and the user's own, and the short form of a piece.

use super::error::{WebError, as_page};
use super::pictures::svg_answer;
use super::pieces::html;
use super::studio::Studio;
use crate::service::Viewer;
use actix_web::{HttpResponse, Responder, get, post, web};
use askama::Template;
use kalotype_core::emblems::EMBLEMS;
use kalotype_core::export::picture_of;
use kalotype_core::piece::{FieldKind, FormField, Fronted};
use kalotype_core::plane::Tolerance;
use serde::Deserialize;
use serde_json::json;

/// The picture of a starter, from its real outlines.
#[get("/starters/{id}/picture.svg")]
pub async fn starter_picture(
    studio: web::Data<Studio>,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    let draw = studio.bench(move |service, halt| {
        let piece = service.starter(&id)?;
        let worked = service.work_out(&piece, Tolerance::Draft, halt)?;
        Ok(picture_of(&piece, &worked.evaluation.components[0].layout))
    });
    Ok(svg_answer(draw.await?, "private, max-age=3600"))
}

/// Makes a piece from a starter.
#[post("/api/starters/{id}/pieces")]
pub async fn use_starter(
    studio: web::Data<Studio>,
    viewer: Viewer,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    let made = studio.shelf(move |service| service.create(&service.starter(&id)?, &viewer)).await?;
    Ok(HttpResponse::Created().json(json!({ "id": made })))
}

/// Takes one of the user's own starters away.
#[post("/api/starters/{id}/delete")]
pub async fn drop_starter(
    studio: web::Data<Studio>,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    studio.shelf(move |service| Ok(service.store().drop_starter(&id)?)).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// The fields a short form of a piece could ask for, and those it does.
#[get("/api/pieces/{id}/fields")]
pub async fn form_fields(
    studio: web::Data<Studio>,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    let (candidates, chosen) = studio.shelf(move |service| service.form_fields(&id)).await?;
    Ok(HttpResponse::Ok().json(json!({ "candidates": candidates, "chosen": chosen })))
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Keep {
    fronted: Vec<Fronted>,
}

/// Keeps a piece as a starter that asks for the given fields. The piece itself then asks for them
/// too.
#[post("/api/pieces/{id}/starter")]
pub async fn keep_as_starter(
    studio: web::Data<Studio>,
    viewer: Viewer,
    id: web::Path<String>,
    keep: web::Json<Keep>,
) -> Result<impl Responder, WebError> {
    let Keep { fronted } = keep.into_inner();
    let made = studio.shelf(move |service| service.keep_as_starter(&id, &viewer, fronted)).await?;
    Ok(HttpResponse::Created().json(json!({ "id": made })))
}

#[derive(Template)]
#[template(path = "form.html")]
struct FormPage {
    id: String,
    name: String,
    fields: Vec<FormField>,
    typefaces: Vec<(String, String)>,
    emblems: Vec<(String, String)>,
    /// Whether it is offered in a format that has colours, too.
    is_coloured: bool,
}

/// The short form of a piece.
#[get("/pieces/{id}/form")]
pub async fn form_page(
    studio: web::Data<Studio>,
    viewer: Viewer,
    id: web::Path<String>,
) -> HttpResponse {
    match studio.shelf(move |service| service.head(&id, &viewer)).await {
        Ok(head) => html(&FormPage {
            is_coloured: head.piece.filaments.len() > 1,
            fields: head.piece.form(),
            id: head.id,
            name: head.piece.name,
            typefaces: studio.service().typeface_names(),
            emblems: EMBLEMS.iter().map(|e| (e.id.to_owned(), e.name.to_owned())).collect(),
        }),
        Err(error) => as_page(&error),
    }
}
