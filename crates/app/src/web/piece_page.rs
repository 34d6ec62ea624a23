//! The page of one piece and the requests it makes.

use super::answer::encode;
use super::error::{WebError, as_page};
use super::pieces::html;
use super::studio::Studio;
use actix_web::http::header;
use actix_web::{HttpResponse, Responder, get, post, web};
use askama::Template;
use kalotype_core::build::{Evaluation, evaluate};
use kalotype_core::emblems::EMBLEMS;
use kalotype_core::lettering::{TYPEFACES, own_typefaces};
use kalotype_core::piece::{Applied, Edit, EditError, Piece, apply};
use kalotype_core::plane::Tolerance;
use kalotype_core::preflight::Weight;
use kalotype_store::{Head, Store, StoreError};
use serde::Deserialize;
use serde_json::json;
use std::collections::BTreeMap;

#[derive(Template)]
#[template(path = "piece.html")]
struct PiecePage {
    id: String,
    name: String,
    faces: Vec<Choice>,
    /// The same as JSON, for the script: names by id.
    face_names: String,
    emblems: Vec<Choice>,
    emblem_names: String,
}

/// Something that is chosen by its picture.
struct Choice {
    id: String,
    name: String,
}

impl Choice {
    fn of(id: &str, name: &str) -> Self {
        Choice { id: id.to_owned(), name: name.to_owned() }
    }
}

fn names(choices: &[Choice]) -> String {
    json!(choices.iter().map(|one| (&one.id, &one.name)).collect::<BTreeMap<_, _>>()).to_string()
}

/// The page.
#[get("/pieces/{id}")]
pub async fn show_page(studio: web::Data<Studio>, id: web::Path<String>) -> HttpResponse {
    match studio.work(move |store| Ok(store.head(&id)?)).await {
        Ok(head) => {
            let faces: Vec<Choice> = own_typefaces()
                .iter()
                .chain(TYPEFACES.iter())
                .map(|t| Choice::of(&t.id, &t.name))
                .collect();
            let emblems: Vec<Choice> = EMBLEMS.iter().map(|e| Choice::of(e.id, e.name)).collect();
            html(&PiecePage {
                id: head.id,
                name: head.piece.name,
                face_names: names(&faces),
                faces,
                emblem_names: names(&emblems),
                emblems,
            })
        }
        Err(error) => as_page(&error),
    }
}

/// The tolerance shown on the page; a file is built at the one chosen for it.
const SHOWN: Tolerance = Tolerance::Normal;

fn answer(encoded: Vec<u8>) -> HttpResponse {
    HttpResponse::Ok()
        .insert_header((header::CONTENT_TYPE, "application/octet-stream"))
        .insert_header((header::CACHE_CONTROL, "no-store"))
        .body(encoded)
}

/// The piece as it stands.
#[get("/api/pieces/{id}")]
pub async fn show_piece(
    studio: web::Data<Studio>,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    shown(&studio, move |store| store.head(&id)).await
}

/// One step back.
#[post("/api/pieces/{id}/undo")]
pub async fn step_back(
    studio: web::Data<Studio>,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    shown(&studio, move |store| store.undo(&id)).await
}

/// One step forward again.
#[post("/api/pieces/{id}/redo")]
pub async fn step_forward(
    studio: web::Data<Studio>,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    shown(&studio, move |store| store.redo(&id)).await
}

async fn shown(
    studio: &Studio,
    step: impl FnOnce(&Store) -> Result<Head, StoreError> + Send + 'static,
) -> Result<HttpResponse, WebError> {
    let encoded = studio
        .work(move |store| {
            let head = step(store)?;
            Ok(encode(&head, &evaluate(&head.piece, SHOWN), None))
        })
        .await?;
    Ok(answer(encoded))
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Change {
    edits: Vec<Edit>,
    /// Edits of one drag or one burst of typing share this word and are undone together.
    gesture: Option<String>,
}

/// Changes the piece. An edit whose own field cannot be carried out is refused and said there.
#[post("/api/pieces/{id}/edits")]
pub async fn change_piece(
    studio: web::Data<Studio>,
    id: web::Path<String>,
    change: web::Json<Change>,
) -> Result<impl Responder, WebError> {
    const MOST_EDITS: usize = 200;
    if change.edits.len() > MOST_EDITS {
        return Err(WebError::Bad(format!("At most {MOST_EDITS} edits can be made at once.")));
    }
    let encoded = studio
        .work(move |store| {
            let gesture = change.gesture.as_deref().filter(|gesture| gesture.len() <= 64);
            // The geometry is worked out before the right to write is taken; should another change
            // come between, it is worked out again on what that left.
            loop {
                let before = store.head(&id)?.piece;
                let (applied, evaluation) = carry_out(&before, &change.edits)?;
                let written = store.change::<WebError>(&id, gesture, |now| {
                    if *now == before {
                        Ok(applied.piece.clone())
                    } else {
                        Err(StoreError::Conflict.into())
                    }
                });
                match written {
                    Ok(head) => return Ok(encode(&head, &evaluation, applied.added.as_deref())),
                    Err(WebError::Store(StoreError::Conflict)) => {}
                    Err(error) => return Err(error),
                }
            }
        })
        .await?;
    Ok(answer(encoded))
}

fn carry_out(piece: &Piece, edits: &[Edit]) -> Result<(Applied, Evaluation), EditError> {
    let applied = apply(piece, edits)?;
    let evaluation = evaluate(&applied.piece, SHOWN);
    let edited = || {
        edits.iter().filter_map(|one| match one {
            Edit::Set { target, field, .. } | Edit::Type { target, field, .. } => {
                Some((target.as_str(), field.as_str()))
            }
            _ => None,
        })
    };
    let refused = evaluation.findings.iter().find(|finding| {
        finding.weight == Weight::Stop
            || edited().any(|(target, field)| finding.refuses(target, field))
    });
    match refused {
        None => Ok((applied, evaluation)),
        Some(finding) => {
            let (target, field) = edited().next_back().unwrap_or((&finding.target, &finding.field));
            Err(EditError {
                target: target.to_owned(),
                field: field.to_owned(),
                message: finding.message.clone(),
            })
        }
    }
}
