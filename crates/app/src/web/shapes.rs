//! Shapes of the user's own: drawings looked at before anything is kept, shapes kept, and pieces made of
//! them.

use super::error::{WebError, as_page};
use super::pieces::{Made, html};
use super::studio::Studio;
use super::upload::take_in;
use crate::service::{DrawingChoice, Drawn, MadeAs, Trouble, Viewer};
use actix_web::http::header;
use actix_web::{HttpResponse, Responder, get, post, web};
use askama::Template;
use kalotype_core::emblems::EMBLEMS;
use kalotype_core::formats::{MAX_DRAWING_BYTES, MAX_PICTURE_BYTES};
use kalotype_core::shapes::drawn::MAX_DRAWN_BYTES;
use kalotype_core::units::Unit;
use kalotype_store::ListedShape;
use serde::Deserialize;
use serde_json::{Value, json};

/// The largest file that is taken in, in bytes; of drawings less is read.
const MOST_BYTES: usize =
    if MAX_DRAWING_BYTES > MAX_PICTURE_BYTES { MAX_DRAWING_BYTES } else { MAX_PICTURE_BYTES };

#[derive(Template)]
#[template(path = "shapes.html")]
struct ShapesPage {
    own: Vec<ListedShape>,
    /// Ids and names.
    shipped: Vec<(&'static str, &'static str)>,
    /// The largest file that is taken in, in MB.
    most_mb: usize,
}

/// The page of shapes.
#[get("/shapes")]
pub async fn shapes_page(studio: web::Data<Studio>) -> HttpResponse {
    match studio.shelf(|service| service.shapes()).await {
        Ok(own) => html(&ShapesPage {
            own,
            shipped: EMBLEMS.iter().map(|emblem| (emblem.id, emblem.name)).collect(),
            most_mb: MOST_BYTES >> 20,
        }),
        Err(error) => as_page(&error),
    }
}

#[derive(Deserialize)]
struct Named {
    name: String,
}

/// Takes a drawing or a picture in, to be looked at. One nothing is made of goes after a day.
#[post("/api/drawings")]
pub async fn keep_drawing(
    studio: web::Data<Studio>,
    viewer: Viewer,
    named: web::Query<Named>,
    body: web::Payload,
) -> Result<impl Responder, WebError> {
    let file = take_in(&studio, &viewer, body, MOST_BYTES, "drawing").await?;
    let keep = studio.heavy(&viewer, move |service, halt| {
        service.keep_drawing(&named.name, &file.bytes()?, &halt)
    });
    Ok(HttpResponse::Created().json(Made { id: keep.await? }))
}

/// What is in a drawing, and the shapes it would make. Nothing is kept.
#[get("/api/drawings/{id}/look")]
pub async fn look_into_drawing(
    studio: web::Data<Studio>,
    viewer: Viewer,
    id: web::Path<String>,
    choice: web::Query<DrawingChoice>,
) -> Result<impl Responder, WebError> {
    let at = format!("drawing {id}");
    let look = studio.look_into(&viewer, &at, move |service, halt| {
        let report = service.drawn(&id, &halt)?.report(&choice, &halt)?;
        serde_json::to_vec(&report).map_err(|error| Trouble::Bad(error.to_string()))
    });
    let report = look.await?;
    Ok(HttpResponse::Ok().insert_header((header::CONTENT_TYPE, "application/json")).body(report))
}

/// The shapes a drawing would make that is only just drawn. Nothing of it is kept.
#[post("/api/drawings/look")]
pub async fn look_at_drawn(
    studio: web::Data<Studio>,
    viewer: Viewer,
    choice: web::Query<DrawingChoice>,
    body: web::Payload,
) -> Result<impl Responder, WebError> {
    let file = take_in(&studio, &viewer, body, MAX_DRAWN_BYTES, "drawing").await?;
    let look =
        studio.bench(move |_, halt| Drawn::on_the_board(&file.bytes()?)?.report(&choice, &halt));
    Ok(HttpResponse::Ok().json(look.await?))
}

/// The document of a drawing that was made here.
#[get("/api/drawings/{id}/drawn")]
pub async fn drawn_document(
    studio: web::Data<Studio>,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    let document = studio.shelf(move |service| service.drawn_document(&id)).await?;
    Ok(HttpResponse::Ok().insert_header((header::CONTENT_TYPE, "application/json")).body(document))
}

#[derive(Template)]
#[template(path = "draw.html")]
struct DrawPage;

/// The page a shape is drawn on.
#[get("/shapes/draw")]
pub async fn draw_page() -> HttpResponse {
    html(&DrawPage)
}

/// A picture as it was read, to be shown below what is traced of it.
#[get("/api/drawings/{id}/picture.png")]
pub async fn drawn_picture(
    studio: web::Data<Studio>,
    viewer: Viewer,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    let draw = studio.heavy(&viewer, move |service, halt| service.drawn_picture(&id, &halt));
    let png = draw.await?;
    Ok(HttpResponse::Ok()
        .insert_header((header::CONTENT_TYPE, "image/png"))
        .insert_header((header::CACHE_CONTROL, "private, max-age=86400"))
        .body(png))
}

/// Keeps the shapes a drawing makes.
#[post("/api/drawings/{id}/shapes")]
pub async fn keep_shapes(
    studio: web::Data<Studio>,
    viewer: Viewer,
    id: web::Path<String>,
    named: web::Query<Named>,
    choice: web::Query<DrawingChoice>,
) -> Result<impl Responder, WebError> {
    let keep = studio
        .heavy(&viewer, move |service, halt| service.keep_shapes(&id, &named.name, &choice, &halt));
    let kept: Vec<_> =
        keep.await?.into_iter().map(|(id, name)| json!({ "id": id, "name": name })).collect();
    Ok(HttpResponse::Created().json(kept))
}

/// What a shape was made of, to be read again otherwise.
#[get("/api/shapes/{id}/source")]
pub async fn source_of(
    studio: web::Data<Studio>,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    let source = studio.shelf(move |service| service.source_of(&id)).await?;
    let missing = || Trouble::Bad("What this shape was made of is not kept.".to_owned());
    let (drawing, name, choice) = source.ok_or_else(missing)?;
    let choice: Value = serde_json::from_str(&choice).unwrap_or_default();
    Ok(HttpResponse::Ok().json(json!({ "drawing": drawing, "name": name, "choice": choice })))
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
