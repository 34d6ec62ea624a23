//! Starters, the shipped and the user's own, and the short form of a piece.

use super::error::{WebError, as_page};
use super::pictures::svg_answer;
use super::pieces::html;
use super::studio::Studio;
use crate::service::{KeptStarter, Service, Viewer};
use actix_web::{HttpResponse, Responder, get, post, web};
use askama::Template;
use kalotype_core::emblems::EMBLEMS;
use kalotype_core::export::picture_of;
use kalotype_core::piece::{FieldKind, FormField};
use kalotype_core::plane::Tolerance;
use serde::Deserialize;
use serde_json::json;

/// The picture of a starter, from its real outlines.
#[get("/starters/{id}/picture.svg")]
pub async fn starter_picture(
    studio: web::Data<Studio>,
    viewer: Viewer,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    let draw = studio.heavy(&viewer, move |service, halt| {
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

/// Brings one back.
#[post("/api/starters/{id}/restore")]
pub async fn restore_starter(
    studio: web::Data<Studio>,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    studio.shelf(move |service| Ok(service.store().restore_starter(&id)?)).await?;
    Ok(HttpResponse::NoContent().finish())
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Rename {
    name: String,
}

/// Gives one another name.
#[post("/api/starters/{id}/rename")]
pub async fn rename_starter(
    studio: web::Data<Studio>,
    id: web::Path<String>,
    new: web::Json<Rename>,
) -> Result<impl Responder, WebError> {
    studio.shelf(move |service| service.rename_starter(&id, &new.name)).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// The fields a short form of a piece could ask for, those it does, and the starters whose place it could
/// take.
#[get("/api/pieces/{id}/fields")]
pub async fn form_fields(
    studio: web::Data<Studio>,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    let (candidates, chosen, own) = studio
        .shelf(move |service| {
            let (candidates, chosen) = service.form_fields(&id)?;
            let own = service.starters()?.into_iter().filter(|starter| starter.is_own);
            let own: Vec<_> =
                own.map(|starter| json!({ "id": starter.id, "name": starter.name })).collect();
            Ok((candidates, chosen, own))
        })
        .await?;
    let told = json!({ "candidates": candidates, "chosen": chosen, "own": own });
    Ok(HttpResponse::Ok().json(told))
}

/// Keeps a piece as a starter that asks for the given fields. The piece itself then asks for them
/// too.
#[post("/api/pieces/{id}/starter")]
pub async fn keep_as_starter(
    studio: web::Data<Studio>,
    viewer: Viewer,
    id: web::Path<String>,
    kept: web::Json<KeptStarter>,
) -> Result<impl Responder, WebError> {
    let kept = kept.into_inner();
    let made = studio.shelf(move |service| service.keep_as_starter(&id, &viewer, kept)).await?;
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
    let read =
        move |service: &Service| Ok((service.head(&id, &viewer)?, service.store().shape_names()?));
    match studio.shelf(read).await {
        Ok((head, shapes)) => html(&FormPage {
            is_coloured: head.piece.filaments.len() > 1,
            fields: head.piece.form(),
            id: head.id,
            name: head.piece.name,
            typefaces: studio.service().typeface_names(),
            emblems: EMBLEMS
                .iter()
                .map(|emblem| (emblem.id.to_owned(), emblem.name.to_owned()))
                .chain(shapes)
                .collect(),
        }),
        Err(error) => as_page(&error),
    }
}
