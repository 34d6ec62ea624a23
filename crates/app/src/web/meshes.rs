//! Mesh files of others: looked into, and kept as blanks for pieces.

use super::answer::with_bodies;
use super::error::{WebError, as_page};
use super::pieces::{Made, html};
use super::studio::Studio;
use super::upload::take_in;
use crate::service::{Looked, Service, Trouble, Viewer};
use actix_web::http::header;
use actix_web::{HttpResponse, Responder, get, post, web};
use askama::Template;
use kalotype_core::formats::MAX_MESH_BYTES;
use kalotype_core::halt::Halt;
use kalotype_core::units::Unit;
use kalotype_store::ListedMesh;
use serde::Deserialize;
use serde_json::json;

#[derive(Template)]
#[template(path = "meshes.html")]
struct MeshesPage {
    kept: Vec<ListedMesh>,
}

/// The page of mesh files.
#[get("/meshes")]
pub async fn meshes_page(studio: web::Data<Studio>) -> HttpResponse {
    match studio.shelf(|service| Ok(service.store().meshes()?)).await {
        Ok(kept) => html(&MeshesPage { kept }),
        Err(error) => as_page(&error),
    }
}

/// The report on a mesh file and its meshes in one.
fn looked_into(service: &Service, file: &[u8], halt: &Halt) -> Result<Vec<u8>, Trouble> {
    let Looked { report, tones, meshes } = service.look_into_mesh(file, halt)?;
    let json = json!({ "report": report, "tones": tones }).to_string().into_bytes();
    Ok(with_bodies(json, meshes.iter().enumerate().collect()))
}

fn encoded(bytes: Vec<u8>) -> HttpResponse {
    HttpResponse::Ok()
        .insert_header((header::CONTENT_TYPE, "application/octet-stream"))
        .insert_header((header::CACHE_CONTROL, "no-store"))
        .body(bytes)
}

/// Looks into a mesh file: the report and the meshes in one. Nothing is kept.
#[post("/api/meshes/look")]
pub async fn look_into_mesh(
    studio: web::Data<Studio>,
    viewer: Viewer,
    body: web::Payload,
) -> Result<impl Responder, WebError> {
    let file = take_in(&studio, &viewer, body, MAX_MESH_BYTES, "mesh file").await?;
    Ok(encoded(
        studio
            .heavy(&viewer, move |service, halt| looked_into(service, &file.bytes()?, &halt))
            .await?,
    ))
}

/// The same for a mesh that is kept.
#[get("/api/meshes/{id}")]
pub async fn look_into_kept(
    studio: web::Data<Studio>,
    viewer: Viewer,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    let look = studio.heavy(&viewer, move |service, halt| {
        looked_into(service, &service.kept_mesh(&id)?.file, &halt)
    });
    Ok(encoded(look.await?))
}

#[derive(Deserialize)]
struct Named {
    name: String,
}

/// Keeps a mesh file, so that pieces can be made of it.
#[post("/api/meshes")]
pub async fn keep_mesh(
    studio: web::Data<Studio>,
    viewer: Viewer,
    named: web::Query<Named>,
    body: web::Payload,
) -> Result<impl Responder, WebError> {
    let file = take_in(&studio, &viewer, body, MAX_MESH_BYTES, "mesh file").await?;
    let keep = studio
        .heavy(&viewer, move |service, halt| service.keep_mesh(&named.name, &file.bytes()?, &halt));
    let id = keep.await?;
    Ok(HttpResponse::Created().json(Made { id }))
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct NewPiece {
    name: String,
    units: Unit,
    /// Millimetres to one of the mesh's figures.
    scale: f64,
    /// Which of its flat faces, the largest being 0.
    face: usize,
}

/// Makes a piece of a mesh that is kept.
#[post("/api/meshes/{id}/pieces")]
pub async fn piece_of_mesh(
    studio: web::Data<Studio>,
    viewer: Viewer,
    id: web::Path<String>,
    new: web::Json<NewPiece>,
) -> Result<impl Responder, WebError> {
    let own = viewer.clone();
    let make = studio.heavy(&own, move |service, _| {
        service.piece_of_mesh(&id, &new.name, new.units, (new.face, new.scale), &viewer)
    });
    Ok(HttpResponse::Created().json(Made { id: make.await? }))
}

/// Takes a mesh away that no piece is made of.
#[post("/api/meshes/{id}/delete")]
pub async fn drop_mesh(
    studio: web::Data<Studio>,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    studio.shelf(move |service| service.drop_mesh(&id)).await?;
    Ok(HttpResponse::Ok().json(json!({})))
}
