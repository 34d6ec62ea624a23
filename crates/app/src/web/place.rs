//! What a page is told while it waits for something heavy.

use super::studio::Studio;
use crate::service::Viewer;
use actix_web::http::header;
use actix_web::{HttpResponse, Responder, get, web};
use serde_json::json;

/// How much other work comes before what the page waits for; null where it waits for nothing heavy.
#[get("/api/place")]
pub async fn place(studio: web::Data<Studio>, viewer: Viewer) -> impl Responder {
    HttpResponse::Ok()
        .insert_header((header::CACHE_CONTROL, "no-store"))
        .json(json!({ "before": studio.before(&viewer) }))
}
