//! The filaments at hand: shown, changed, added and taken away.

use super::error::{WebError, as_page};
use super::pieces::html;
use super::studio::Studio;
use crate::service::Trouble;
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

/// Keeps a filament; one without an id is a new one.
#[post("/api/filaments")]
pub async fn keep_filament(
    studio: web::Data<Studio>,
    filament: web::Json<Filament>,
) -> Result<impl Responder, WebError> {
    let mut filament = filament.into_inner();
    if filament.id.is_empty() {
        filament.id = format!("own-{}", uuid::Uuid::new_v4().simple());
    }
    if let Some((_, message)) = filament.problems().into_iter().next() {
        return Err(Trouble::Bad(message).into());
    }
    let kept = filament.clone();
    studio.shelf(move |service| Ok(service.store().keep_filament(&kept)?)).await?;
    Ok(HttpResponse::Ok().json(filament))
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
