//! The page of pieces and what can be done with a piece as a whole.

use super::error::{WebError, as_page};
use super::pictures::svg_answer;
use super::studio::Studio;
use super::upload::take_in;
use crate::service::{ListedStarter, Viewer};
use actix_web::http::header;
use actix_web::{HttpResponse, Responder, get, post, web};
use askama::Template;
use kalotype_core::formats::MAX_MESH_BYTES;
use kalotype_core::piece::Piece;
use kalotype_core::units::Unit;
use kalotype_store::Listed;
use serde::{Deserialize, Serialize};
use std::time::{SystemTime, UNIX_EPOCH};

/// How many pieces a page of the list shows.
const ON_A_PAGE: i64 = 60;

#[derive(Template)]
#[template(path = "pieces.html")]
struct PiecesPage {
    pieces: Vec<Card>,
    starters: Vec<ListedStarter>,
    /// How many pieces there are in all.
    count: i64,
    /// Which page of them this is, from 1, and how many there are.
    page: i64,
    pages: i64,
}

struct Card {
    id: String,
    name: String,
    size: String,
    changed: String,
    /// Tells the pictures of different states apart.
    stamp: i64,
}

impl From<Listed> for Card {
    fn from(listed: Listed) -> Self {
        Card {
            id: listed.id,
            name: listed.name,
            size: listed.size.unwrap_or_default(),
            changed: ago(listed.changed_at),
            stamp: listed.changed_at,
        }
    }
}

/// How long ago a moment was, in words.
fn ago(at: i64) -> String {
    let now =
        SystemTime::now().duration_since(UNIX_EPOCH).map_or(0, |since| since.as_millis() as i64);
    let plural =
        |count: i64, unit: &str| format!("{count} {unit}{} ago", if count == 1 { "" } else { "s" });
    match (now - at).max(0) / 1000 {
        ..60 => "just now".to_owned(),
        seconds @ 60..3600 => plural(seconds / 60, "minute"),
        seconds @ 3600..86_400 => plural(seconds / 3600, "hour"),
        seconds => plural(seconds / 86_400, "day"),
    }
}

#[get("/")]
pub async fn home() -> impl Responder {
    HttpResponse::SeeOther().insert_header((header::LOCATION, "/pieces")).finish()
}

#[derive(Deserialize)]
struct Paged {
    #[serde(default = "first_page")]
    page: i64,
}

fn first_page() -> i64 {
    1
}

/// The page of pieces.
#[get("/pieces")]
pub async fn list(studio: web::Data<Studio>, paged: web::Query<Paged>) -> HttpResponse {
    let page = paged.page.clamp(1, i64::MAX / ON_A_PAGE);
    let listed = studio.shelf(move |service| {
        let (pieces, count) = service.list((page - 1) * ON_A_PAGE, ON_A_PAGE)?;
        Ok((pieces, count, service.starters()?))
    });
    let page = listed.await.map(|(listed, count, starters)| PiecesPage {
        pieces: listed.into_iter().map(Card::from).collect(),
        starters,
        count,
        page,
        pages: (count + ON_A_PAGE - 1) / ON_A_PAGE,
    });
    match page {
        Ok(page) => html(&page),
        Err(error) => as_page(&error),
    }
}

pub(super) fn html(page: &impl Template) -> HttpResponse {
    match page.render() {
        Ok(body) => HttpResponse::Ok()
            .insert_header((header::CONTENT_TYPE, "text/html; charset=utf-8"))
            .insert_header((header::CACHE_CONTROL, "no-store"))
            .body(body),
        Err(error) => as_page(&WebError::Internal(error.to_string())),
    }
}

/// What was made, by its id.
#[derive(Serialize)]
pub(super) struct Made {
    pub id: String,
}

#[derive(Deserialize)]
struct NewPiece {
    name: String,
    units: Unit,
}

/// Makes a new piece.
#[post("/api/pieces")]
pub async fn create(
    studio: web::Data<Studio>,
    viewer: Viewer,
    new: web::Json<NewPiece>,
) -> Result<impl Responder, WebError> {
    let piece = Piece::new(new.name.trim(), new.units);
    let id = studio.shelf(move |service| service.create(&piece, &viewer)).await?;
    Ok(HttpResponse::Created().json(Made { id }))
}

/// Makes a piece from a piece file, or from an archive of one with the mesh it is made of.
#[post("/api/pieces/import")]
pub async fn import(
    studio: web::Data<Studio>,
    viewer: Viewer,
    body: web::Payload,
) -> Result<impl Responder, WebError> {
    let file = take_in(&studio, body, MAX_MESH_BYTES, "file").await?;
    let id = studio
        .bench(move |service, _| {
            let piece = service.import(&file.bytes()?)?;
            service.create(&piece, &viewer)
        })
        .await?;
    Ok(HttpResponse::Created().json(Made { id }))
}

/// Makes a copy of a piece.
#[post("/api/pieces/{id}/duplicate")]
pub async fn duplicate(
    studio: web::Data<Studio>,
    viewer: Viewer,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    let id = studio.shelf(move |service| service.create(&service.copy_of(&id)?, &viewer)).await?;
    Ok(HttpResponse::Created().json(Made { id }))
}

#[derive(Deserialize)]
struct Rename {
    name: String,
}

/// Gives a piece another name, as an edit that can be taken back.
#[post("/api/pieces/{id}/rename")]
pub async fn rename(
    studio: web::Data<Studio>,
    viewer: Viewer,
    id: web::Path<String>,
    new: web::Json<Rename>,
) -> Result<impl Responder, WebError> {
    let name = new.into_inner().name.trim().to_owned();
    studio
        .shelf(move |service| {
            service.change(&id, &viewer, |piece| Piece { name, ..piece }).map(drop)
        })
        .await?;
    Ok(HttpResponse::NoContent().finish())
}

/// Deletes a piece; it can be restored.
#[post("/api/pieces/{id}/delete")]
pub async fn delete(
    studio: web::Data<Studio>,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    studio.shelf(move |service| Ok(service.store().delete(&id)?)).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// Brings a deleted piece back.
#[post("/api/pieces/{id}/restore")]
pub async fn restore(
    studio: web::Data<Studio>,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    studio.shelf(move |service| Ok(service.store().restore(&id)?)).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// The picture of a piece's face, from its real outlines.
#[get("/pieces/{id}/picture.svg")]
pub async fn picture(
    studio: web::Data<Studio>,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    let id = id.into_inner();
    let kept = {
        let id = id.clone();
        studio.shelf(move |service| Ok(service.store().picture(&id)?)).await?
    };
    let picture = match kept {
        Some(picture) => picture,
        None => studio.bench(move |service, halt| service.picture(&id, halt)).await?,
    };
    Ok(svg_answer(picture, "private, max-age=31536000, immutable"))
}
