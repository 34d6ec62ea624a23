//! Starters, the shipped and the user's own, and the short form of a piece.

use super::error::{WebError, as_page};
use super::pictures::{picture_of, svg_answer};
use super::pieces::html;
use super::studio::Studio;
use crate::starters::{STARTERS, starter};
use actix_web::{HttpResponse, Responder, get, post, web};
use askama::Template;
use kalotype_core::emblems::EMBLEMS;
use kalotype_core::lettering::{TYPEFACES, own_typefaces};
use kalotype_core::piece::{FieldKind, FormField, Fronted, Piece, apply};
use kalotype_core::plane::Tolerance;
use kalotype_store::Store;
use serde::Deserialize;
use serde_json::json;

/// A starter as the page of pieces shows it.
pub(super) struct StarterCard {
    pub id: String,
    pub name: String,
    pub is_own: bool,
}

/// All starters, the user's own first.
pub(super) fn all(store: &Store) -> Result<Vec<StarterCard>, WebError> {
    let own = store.starters()?.into_iter().map(|starter| StarterCard {
        id: starter.id,
        name: starter.piece.name,
        is_own: true,
    });
    let shipped = STARTERS.iter().map(|starter| StarterCard {
        id: starter.id.to_owned(),
        name: starter.piece.name.clone(),
        is_own: false,
    });
    Ok(own.chain(shipped).collect())
}

fn piece_of(store: &Store, id: &str) -> Result<Piece, WebError> {
    match starter(id) {
        Some(shipped) => Ok(shipped.piece.clone()),
        None => Ok(store.starter(id)?.piece),
    }
}

/// The picture of a starter, from its real outlines.
#[get("/starters/{id}/picture.svg")]
pub async fn starter_picture(
    studio: web::Data<Studio>,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    let picture =
        studio.work(move |store| Ok(picture_of(&piece_of(store, &id)?, Tolerance::Draft))).await?;
    Ok(svg_answer(picture, "private, max-age=3600"))
}

/// Makes a piece from a starter.
#[post("/api/starters/{id}/pieces")]
pub async fn use_starter(
    studio: web::Data<Studio>,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    let made = studio.work(move |store| Ok(store.create(&piece_of(store, &id)?)?)).await?;
    Ok(HttpResponse::Created().json(json!({ "id": made })))
}

/// Takes one of the user's own starters away.
#[post("/api/starters/{id}/delete")]
pub async fn drop_starter(
    studio: web::Data<Studio>,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    studio.work(move |store| Ok(store.drop_starter(&id)?)).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// The fields a short form of a piece could ask for, and those it does.
#[get("/api/pieces/{id}/fields")]
pub async fn form_fields(
    studio: web::Data<Studio>,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    let piece = studio.work(move |store| Ok(store.head(&id)?.piece)).await?;
    let fields = json!({ "candidates": piece.form_candidates(), "chosen": piece.form() });
    Ok(HttpResponse::Ok().json(fields))
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
    id: web::Path<String>,
    keep: web::Json<Keep>,
) -> Result<impl Responder, WebError> {
    let made = studio
        .work(move |store| {
            let Keep { fronted } = keep.into_inner();
            if fronted.is_empty() {
                let message = "Choose at least one field the starter asks for.".to_owned();
                return Err(WebError::Bad(message));
            }
            let change = |piece: &Piece| {
                let piece = Piece { fronted, ..piece.clone() };
                Ok::<_, WebError>(apply(&piece, &[])?.piece)
            };
            let head = store.change(&id, None, change)?;
            Ok(store.keep_starter(&head.piece)?)
        })
        .await?;
    Ok(HttpResponse::Created().json(json!({ "id": made })))
}

#[derive(Template)]
#[template(path = "form.html")]
struct FormPage {
    id: String,
    name: String,
    fields: Vec<FormField>,
    faces: Vec<(String, String)>,
    emblems: Vec<(String, String)>,
    /// Whether it is offered in a format that has colours, too.
    is_coloured: bool,
}

/// The short form of a piece.
#[get("/pieces/{id}/form")]
pub async fn form_page(studio: web::Data<Studio>, id: web::Path<String>) -> HttpResponse {
    match studio.work(move |store| Ok(store.head(&id)?)).await {
        Ok(head) => {
            let own = own_typefaces();
            let faces = own.iter().chain(TYPEFACES.iter());
            html(&FormPage {
                is_coloured: head.piece.filaments.len() > 1,
                fields: head.piece.form(),
                id: head.id,
                name: head.piece.name,
                faces: faces.map(|face| (face.id.to_string(), face.name.to_string())).collect(),
                emblems: EMBLEMS.iter().map(|e| (e.id.to_owned(), e.name.to_owned())).collect(),
            })
        }
        Err(error) => as_page(&error),
    }
}
