//! Mesh files of others: looked into, measured and checked. Nothing is kept.

use super::answer::with_bodies;
use super::error::WebError;
use super::pieces::html;
use super::studio::Studio;
use actix_web::http::header;
use actix_web::{HttpResponse, Responder, get, post, web};
use askama::Template;
use kalotype_core::colour::{Tones, shipped_palette};
use kalotype_core::formats::{FoundMesh, MAX_MESH_BYTES, read_mesh};
use kalotype_core::solid::{Faults, Mesh};
use serde::Serialize;

#[derive(Template)]
#[template(path = "meshes.html")]
struct MeshesPage {}

/// The page that looks into mesh files.
#[get("/meshes")]
pub async fn meshes_page() -> HttpResponse {
    html(&MeshesPage {})
}

/// What is in a mesh file. Lengths are in mm where the file states a unit, else in its own figures.
#[derive(Serialize)]
pub struct MeshReport {
    /// What kind of file it is.
    format: &'static str,
    /// The unit it states.
    unit: Option<String>,
    /// What its figures probably are.
    likely_unit: &'static str,
    size: [f64; 3],
    triangles: usize,
    volume: f64,
    bodies: Vec<BodyReport>,
    faults: Faults,
    is_sound: bool,
    /// What is wrong with it, a sentence each.
    sentences: Vec<String>,
}

#[derive(Serialize)]
struct BodyReport {
    name: String,
    colour: Option<String>,
    triangles: usize,
    volume: f64,
}

/// What there is to say of a mesh file.
pub fn report_on(found: &FoundMesh) -> MeshReport {
    let faults = found.faults();
    let body = |body: &kalotype_core::formats::FoundBody| BodyReport {
        name: body.name.clone(),
        colour: body.colour.map(|colour| colour.to_string()),
        triangles: body.mesh.triangles.len(),
        volume: body.mesh.measures().volume,
    };
    let bodies: Vec<BodyReport> = found.bodies.iter().map(body).collect();
    MeshReport {
        format: found.format,
        unit: found.unit.clone(),
        likely_unit: found.likely_unit(),
        size: found.size(),
        triangles: bodies.iter().map(|body| body.triangles).sum(),
        volume: bodies.iter().map(|body| body.volume).sum(),
        bodies,
        faults,
        is_sound: faults.is_sound(),
        sentences: faults.sentences(),
    }
}

/// Looks into a mesh file: the report and the meshes in one.
#[post("/api/meshes/look")]
pub async fn look_into_mesh(
    studio: web::Data<Studio>,
    body: web::Payload,
) -> Result<impl Responder, WebError> {
    let bytes = match body.to_bytes_limited(MAX_MESH_BYTES).await {
        Ok(Ok(bytes)) => bytes,
        Ok(Err(error)) => {
            return Err(WebError::Bad(format!("The file did not arrive: {error}")));
        }
        Err(_) => {
            let most = MAX_MESH_BYTES >> 20;
            return Err(WebError::Bad(format!("A mesh file may have {most} MB at most.")));
        }
    };
    let encoded = studio
        .work(move |_| {
            #[derive(Serialize)]
            struct Answer {
                report: MeshReport,
                tones: Vec<Tones>,
            }
            let found = read_mesh(&bytes).map_err(|error| WebError::Bad(capitalised(&error)))?;
            let plain = shipped_palette().swap_remove(0).colour;
            let tones =
                found.bodies.iter().map(|body| body.colour.unwrap_or(plain).tones()).collect();
            let answer = Answer { report: report_on(&found), tones };
            let json = serde_json::to_vec(&answer).expect("a report has only string keys");
            let meshes: Vec<(usize, &Mesh)> =
                found.bodies.iter().map(|body| &body.mesh).enumerate().collect();
            Ok(with_bodies(json, meshes))
        })
        .await?;
    Ok(HttpResponse::Ok()
        .insert_header((header::CONTENT_TYPE, "application/octet-stream"))
        .insert_header((header::CACHE_CONTROL, "no-store"))
        .body(encoded))
}

/// An error as a sentence.
fn capitalised(error: &impl ToString) -> String {
    let text = error.to_string();
    let mut letters = text.chars();
    let first = letters.next().map(|letter| letter.to_uppercase().to_string()).unwrap_or_default();
    format!("{first}{}.", letters.as_str())
}
