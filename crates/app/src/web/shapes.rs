//! Shapes of the user's own: looked at before they are kept, kept, and made pieces of.

use super::error::{WebError, as_page};
use super::pieces::{Made, html};
use super::studio::Studio;
use super::upload::take_in;
use crate::service::{DrawingChoice, MadeAs, Viewer, look_into_drawing as look_into};
use actix_web::{HttpResponse, Responder, get, post, web};
use askama::Template;
use kalotype_core::emblems::EMBLEMS;
use kalotype_core::formats::MAX_DRAWING_BYTES;
use kalotype_core::units::Unit;
use kalotype_store::ListedShape;
use serde::Deserialize;
use serde_json::json;

#[derive(Template)]
#[template(path = "shapes.html")]
struct ShapesPage {
    own: Vec<ListedShape>,
    /// Ids and names.
    shipped: Vec<(&'static str, &'static str)>,
    /// The largest drawing that is taken in, in MB.
    most_mb: usize,
}

/// The page of shapes.
#[get("/shapes")]
pub async fn shapes_page(studio: web::Data<Studio>) -> HttpResponse {
    match studio.shelf(|service| service.shapes()).await {
        Ok(own) => html(&ShapesPage {
            own,
            shipped: EMBLEMS.iter().map(|emblem| (emblem.id, emblem.name)).collect(),
            most_mb: MAX_DRAWING_BYTES >> 20,
        }),
        Err(error) => as_page(&error),
    }
}

/// Looks into a drawing: what is in it, and the shapes it would make. Nothing is kept.
#[post("/api/shapes/look")]
pub async fn look_into_drawing(
    studio: web::Data<Studio>,
    wanted: web::Query<DrawingChoice>,
    body: web::Payload,
) -> Result<impl Responder, WebError> {
    let file = take_in(&studio, body, MAX_DRAWING_BYTES, "drawing").await?;
    let look = studio.bench(move |_, _| look_into(&file.bytes()?, &wanted));
    Ok(HttpResponse::Ok().json(look.await?))
}

#[derive(Deserialize)]
struct Named {
    name: String,
}

/// Keeps the shapes a drawing makes.
#[post("/api/shapes")]
pub async fn keep_shapes(
    studio: web::Data<Studio>,
    named: web::Query<Named>,
    wanted: web::Query<DrawingChoice>,
    body: web::Payload,
) -> Result<impl Responder, WebError> {
    let file = take_in(&studio, body, MAX_DRAWING_BYTES, "drawing").await?;
    let keep =
        studio.bench(move |service, _| service.keep_shapes(&file.bytes()?, &named.name, &wanted));
    let kept: Vec<_> =
        keep.await?.into_iter().map(|(id, name)| json!({ "id": id, "name": name })).collect();
    Ok(HttpResponse::Created().json(kept))
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct NewPiece {
    name: String,
    units: Unit,
    /// The ids of the shapes.
    shapes: Vec<String>,
    /// What they are in it.
    made_as: MadeAs,
}

/// Makes a piece of shapes that are kept.
#[post("/api/shapes/pieces")]
pub async fn piece_of_shapes(
    studio: web::Data<Studio>,
    viewer: Viewer,
    new: web::Json<NewPiece>,
) -> Result<impl Responder, WebError> {
    let make = studio.bench(move |service, _| {
        service.piece_of_shapes(&new.name, new.units, &new.shapes, new.made_as, &viewer)
    });
    Ok(HttpResponse::Created().json(Made { id: make.await? }))
}

/// Gives a shape another name.
#[post("/api/shapes/{id}/name")]
pub async fn rename_shape(
    studio: web::Data<Studio>,
    id: web::Path<String>,
    named: web::Json<Named>,
) -> Result<impl Responder, WebError> {
    studio.shelf(move |service| service.rename_shape(&id, &named.name)).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// Takes a shape away that no piece uses.
#[post("/api/shapes/{id}/delete")]
pub async fn drop_shape(
    studio: web::Data<Studio>,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    studio.shelf(move |service| service.drop_shape(&id)).await?;
    Ok(HttpResponse::NoContent().finish())
}
