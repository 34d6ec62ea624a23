//! The filaments at hand: shown, changed, added and taken away.

use super::error::{WebError, as_page};
use super::pieces::html;
use super::studio::Studio;
use crate::service::{FieldChange, Trouble, Viewer};
use actix_web::{HttpResponse, Responder, get, post, web};
use askama::Template;
use kalotype_core::filament::Filament;

#[derive(Template)]
#[template(path = "filaments.html")]
struct FilamentsPage {
    /// The filaments as JSON, for the script.
    filaments: String,
}

/// The page of filaments.
#[get("/filaments")]
pub async fn filaments_page(studio: web::Data<Studio>) -> HttpResponse {
    match studio.shelf(|service| Ok(service.store().filaments()?)).await {
        Ok(filaments) => html(&FilamentsPage {
            filaments: serde_json::to_string(&filaments).unwrap_or_default(),
        }),
        Err(error) => as_page(&error),
    }
}

/// The filaments, in their order.
#[get("/api/filaments")]
pub async fn list_filaments(studio: web::Data<Studio>) -> Result<impl Responder, WebError> {
    let filaments = studio.shelf(|service| Ok(service.store().filaments()?)).await?;
    Ok(HttpResponse::Ok().json(filaments))
}

/// Keeps a new filament; the same request keeps one.
#[post("/api/filaments")]
pub async fn add_filament(
    studio: web::Data<Studio>,
    viewer: Viewer,
    filament: web::Json<Filament>,
) -> Result<impl Responder, WebError> {
    let id = format!("own-{}", uuid::Uuid::new_v4().simple());
    let filament = checked(Filament { id, ..filament.into_inner() })?;
    let kept = studio
        .shelf(move |service| {
            let id = service.store().add_filament(&filament, viewer.request.as_deref())?;
            Ok(Filament { id, ..filament })
        })
        .await?;
    Ok(HttpResponse::Created().json(kept))
}

/// Changes a field of a filament; pieces keep their copies.
#[post("/api/filaments/{id}")]
pub async fn change_filament(
    studio: web::Data<Studio>,
    id: web::Path<String>,
    change: web::Json<FieldChange>,
) -> Result<impl Responder, WebError> {
    let kept = studio
        .shelf(move |service| {
            service
                .store()
                .change_filament(&id, |filament| checked(change.made_in::<Filament>(filament)?))
        })
        .await?;
    Ok(HttpResponse::Ok().json(kept))
}

fn checked(filament: Filament) -> Result<Filament, Trouble> {
    match filament.problems().into_iter().next() {
        Some((_, message)) => Err(Trouble::Bad(message)),
        None => Ok(filament),
    }
}

/// Takes a filament away; pieces keep their copies.
#[post("/api/filaments/{id}/delete")]
pub async fn drop_filament(
    studio: web::Data<Studio>,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    studio.shelf(move |service| Ok(service.store().drop_filament(&id)?)).await?;
    Ok(HttpResponse::NoContent().finish())
}
