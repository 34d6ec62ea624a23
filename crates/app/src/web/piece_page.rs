//! The page of one piece and the requests it makes.

use super::answer::encode;
use super::error::{WebError, as_page};
use super::panes::{Choice, Pane};
use super::pieces::html;
use super::studio::Studio;
use crate::service::{Service, Trouble, Viewer};
use actix_web::http::header;
use actix_web::{HttpResponse, Responder, get, post, web};
use askama::Template;
use kalotype_core::emblems::EMBLEMS;
use kalotype_core::halt::Halt;
use kalotype_core::piece::{Edit, LIMITS};
use kalotype_store::Head;
use serde::{Deserialize, Serialize};
use serde_json::json;
use std::collections::BTreeMap;
use std::sync::Arc;

#[derive(Template)]
#[template(path = "piece.html")]
struct PiecePage {
    id: String,
    name: String,
    typefaces: Vec<Choice>,
    /// The same as JSON, for the script: names by id.
    typeface_names: String,
    emblems: Vec<Choice>,
    /// The user's own shapes.
    shapes: Vec<Choice>,
    emblem_names: String,
    /// The mesh files that are kept.
    meshes: Vec<Choice>,
    /// What figures can be, as JSON for the script.
    limits: String,
}

/// The panes in which something is chosen.
impl PiecePage {
    fn plate(&self) -> Pane<'_> {
        Pane::Plate { shapes: &self.shapes }
    }

    fn recess(&self) -> Pane<'_> {
        Pane::Recess { shapes: &self.shapes }
    }

    fn emblem(&self) -> Pane<'_> {
        Pane::Emblem { shapes: &self.shapes, emblems: &self.emblems }
    }

    fn pattern(&self) -> Pane<'_> {
        Pane::Pattern { shapes: &self.shapes, emblems: &self.emblems }
    }

    fn lettering(&self) -> Pane<'_> {
        Pane::Lettering { typefaces: &self.typefaces }
    }
}

fn names<'a>(choices: impl Iterator<Item = &'a Choice>) -> String {
    json!(choices.map(|one| (&one.id, &one.name)).collect::<BTreeMap<_, _>>()).to_string()
}

/// The page.
#[get("/pieces/{id}")]
pub async fn show_page(
    studio: web::Data<Studio>,
    viewer: Viewer,
    id: web::Path<String>,
) -> HttpResponse {
    let read = move |service: &Service| {
        let store = service.store();
        Ok((service.head(&id, &viewer)?, store.meshes()?, store.shape_names()?))
    };
    match studio.shelf(read).await {
        Ok((head, meshes, shapes)) => {
            let typefaces: Vec<Choice> = studio
                .service()
                .typeface_names()
                .iter()
                .map(|(id, name)| Choice::of(id, name))
                .collect();
            let emblems: Vec<Choice> = EMBLEMS.iter().map(|e| Choice::of(e.id, e.name)).collect();
            let shapes: Vec<Choice> =
                shapes.iter().map(|(id, name)| Choice::of(id, name)).collect();
            html(&PiecePage {
                id: head.id,
                name: head.piece.name,
                typeface_names: names(typefaces.iter()),
                typefaces,
                emblem_names: names(emblems.iter().chain(&shapes)),
                shapes,
                meshes: meshes.iter().map(|mesh| Choice::of(&mesh.id, &mesh.name)).collect(),
                emblems,
                limits: json!(LIMITS).to_string(),
            })
        }
        Err(error) => as_page(&error),
    }
}

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
    viewer: Viewer,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    let head = head_of(&studio, &viewer, &id).await?;
    let look = move |service: &Service, halt| {
        let worked = service.shown(&head.piece, halt)?;
        Ok(encode(service, &head, &worked, None))
    };
    Ok(answer(studio.look(&viewer, &id, look).await?))
}

/// What preflight says of the piece as it stands.
#[get("/api/pieces/{id}/findings")]
pub async fn look_through(
    studio: web::Data<Studio>,
    viewer: Viewer,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    looked(&studio, &viewer, &id, "findings", Service::look_through).await
}

/// How everything that can be mended would be mended. Nothing is changed by asking.
#[get("/api/pieces/{id}/mending")]
pub async fn mending(
    studio: web::Data<Studio>,
    viewer: Viewer,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    let head = head_of(&studio, &viewer, &id).await?;
    let work = move |service: &Service, halt| service.mending(&head, halt);
    Ok(web::Json(studio.heavy(&viewer, work).await?))
}

/// What of the piece would be there if it were printed: its lines laid, what is too narrow closed.
#[get("/api/pieces/{id}/printed")]
pub async fn printed(
    studio: web::Data<Studio>,
    viewer: Viewer,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    looked(&studio, &viewer, &id, "printed", Service::printed).await
}

/// A look at a piece as it stands; the same look of the same person that is still under way is stopped.
async fn looked<T: Serialize + Send + 'static>(
    studio: &Studio,
    viewer: &Viewer,
    id: &str,
    what: &str,
    look: fn(&Service, &Head, Halt) -> Result<T, Trouble>,
) -> Result<web::Json<T>, WebError> {
    let head = head_of(studio, viewer, id).await?;
    let work = move |service: &Service, halt| look(service, &head, halt);
    Ok(web::Json(studio.look(viewer, &format!("{id}/{what}"), work).await?))
}

async fn head_of(studio: &Studio, viewer: &Viewer, id: &str) -> Result<Head, WebError> {
    let (id, viewer) = (id.to_owned(), viewer.clone());
    studio.shelf(move |service| service.head(&id, &viewer)).await
}

/// One step back.
#[post("/api/pieces/{id}/undo")]
pub async fn step_back(
    studio: web::Data<Studio>,
    viewer: Viewer,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    stepped(&studio, viewer, id.into_inner(), Service::undo).await
}

/// One step forward again.
#[post("/api/pieces/{id}/redo")]
pub async fn step_forward(
    studio: web::Data<Studio>,
    viewer: Viewer,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    stepped(&studio, viewer, id.into_inner(), Service::redo).await
}

async fn stepped(
    studio: &Studio,
    viewer: Viewer,
    id: String,
    step: fn(&Service, &str, &Viewer) -> Result<Head, Trouble>,
) -> Result<HttpResponse, WebError> {
    let _turn = studio.turn(&id).await?;
    let head = studio.shelf(move |service| step(service, &id, &viewer)).await?;
    shown(studio, head).await
}

/// A piece that was just changed or looked up, worked out.
async fn shown(studio: &Studio, head: Head) -> Result<HttpResponse, WebError> {
    let encoded = studio
        .bench(move |service, halt| {
            let worked = service.shown(&head.piece, halt)?;
            Ok(encode(service, &head, &worked, None))
        })
        .await?;
    Ok(answer(encoded))
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Changes {
    edits: Vec<Edit>,
    /// Edits of one drag or one burst of typing share this word and are taken back together.
    gesture: Option<String>,
    /// The revision they were made on.
    revision: Option<i32>,
}

/// Changes the piece. An edit whose own field cannot be carried out is refused and said there. The same
/// request sent again is answered and not carried out again.
#[post("/api/pieces/{id}/edits")]
pub async fn change_piece(
    studio: web::Data<Studio>,
    viewer: Viewer,
    id: web::Path<String>,
    changes: web::Json<Changes>,
) -> Result<impl Responder, WebError> {
    let (id, viewer, changes) =
        (Arc::new(id.into_inner()), Arc::new(viewer), Arc::new(changes.into_inner()));
    let _turn = studio.turn(&id).await?;
    // The geometry is worked out before the right to write is taken; should another change come
    // between, it is worked out again on what that left.
    loop {
        let before = {
            let (id, viewer, changes) = (id.clone(), viewer.clone(), changes.clone());
            let look = move |service: &Service| {
                if let Some(added) = service.answered(&id, &viewer)? {
                    return Ok(Err((service.head(&id, &viewer)?, added)));
                }
                service.before_edits(&id, &viewer, changes.revision, &changes.edits).map(Ok)
            };
            studio.shelf(look).await?
        };
        let before = match before {
            Ok(before) => before,
            Err((head, added)) => {
                let again = move |service: &Service, halt| {
                    let worked = service.shown(&head.piece, halt)?;
                    Ok(encode(service, &head, &worked, added.as_ref()))
                };
                return Ok(answer(studio.bench(again).await?));
            }
        };
        let done = {
            let changes = changes.clone();
            studio
                .bench(move |service, halt| service.carry_out(before, &changes.edits, halt))
                .await?
        };
        let kept = {
            let (id, viewer, changes) = (id.clone(), viewer.clone(), changes.clone());
            let keep = move |service: &Service| {
                let gesture = changes.gesture.as_deref();
                let Some(head) = service.keep_edits(&id, &viewer, gesture, &done)? else {
                    return Ok(None);
                };
                let (worked, added) = done.into_parts();
                Ok(Some(encode(service, &head, &worked, added.as_ref())))
            };
            studio.shelf(keep).await?
        };
        if let Some(encoded) = kept {
            return Ok(answer(encoded));
        }
    }
}
