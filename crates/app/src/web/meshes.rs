//! Mesh files of others: looked into, measured, checked, and kept as blanks for pieces.

use super::answer::with_bodies;
use super::error::{WebError, as_page};
use super::pieces::{Made, html};
use super::studio::Studio;
use actix_web::http::header;
use actix_web::{HttpResponse, Responder, get, post, web};
use askama::Template;
use kalotype_core::colour::{Tones, shipped_palette};
use kalotype_core::formats::{FoundMesh, MAX_MESH_BYTES, read_mesh};
use kalotype_core::piece::{Blank, MeshBlank, Piece, WorkedFace, apply};
use kalotype_core::solid::{Faults, Mesh};
use kalotype_core::stock::{self, Stock, StockError, stock_id};
use kalotype_core::units::Unit;
use kalotype_store::{KeptMesh, ListedMesh, Store, StoreError};
use serde::{Deserialize, Serialize};
use serde_json::json;

#[derive(Template)]
#[template(path = "meshes.html")]
struct MeshesPage {
    kept: Vec<ListedMesh>,
}

/// The page of mesh files.
#[get("/meshes")]
pub async fn meshes_page(studio: web::Data<Studio>) -> HttpResponse {
    match studio.work(|store| Ok(store.meshes()?)).await {
        Ok(kept) => html(&MeshesPage { kept }),
        Err(error) => as_page(&error),
    }
}

/// Lets pieces be built of the meshes the store keeps.
pub fn fetch_from(store: &Store) {
    let store = store.clone();
    stock::fetch_from(move |id| {
        let kept =
            store.mesh(id).inspect_err(|error| tracing::error!("mesh {id}: {error}")).ok()??;
        let found = read_mesh(&kept.file).map_err(|error| error.to_string());
        let make = if kept.is_mended { Stock::of } else { Stock::of_sound };
        found
            .and_then(|found| make(kept.id, kept.name, &found).map_err(|error| error.to_string()))
            .inspect_err(|error| tracing::warn!("mesh {id}: {error}"))
            .ok()
    });
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
    /// Whether and how a piece can be made of it.
    blank: BlankReport,
}

#[derive(Serialize)]
struct BodyReport {
    name: String,
    colour: Option<String>,
    triangles: usize,
    volume: f64,
}

/// What a mesh is as a blank.
#[derive(Serialize)]
struct BlankReport {
    /// Why no piece can be made of it.
    refusal: Option<String>,
    /// Whether its surface has to be mended first.
    is_mended: bool,
    /// Millimetres to one of its figures, as far as can be told.
    scale: f64,
    /// Its flat faces, the largest first.
    faces: Vec<FaceReport>,
}

/// A flat face of a mesh, in its own figures.
#[derive(Serialize)]
pub struct FaceReport {
    facing: &'static str,
    size: [f64; 2],
    area: f64,
    normal: [f64; 3],
    level: f64,
}

/// The flat faces of stock.
pub fn faces_of(stock: &Stock) -> Vec<FaceReport> {
    let face = |face: &stock::FlatFace| FaceReport {
        facing: face.facing(),
        size: face.size(&stock.mesh),
        area: face.area,
        normal: face.normal,
        level: face.level,
    };
    stock.faces.iter().map(face).collect()
}

/// What there is to say of a mesh file, and of the stock it makes.
pub fn report_on(found: &FoundMesh, stock: &Result<Stock, StockError>) -> MeshReport {
    let faults = found.faults();
    let body = |body: &kalotype_core::formats::FoundBody| BodyReport {
        name: body.name.clone(),
        colour: body.colour.map(|colour| colour.to_string()),
        triangles: body.mesh.triangles.len(),
        volume: body.mesh.measures().volume,
    };
    let bodies: Vec<BodyReport> = found.bodies.iter().map(body).collect();
    let refusal = stock.as_ref().err().map(|error| format!("No piece can be made of it: {error}."));
    let stock = stock.as_ref().ok();
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
        blank: BlankReport {
            refusal,
            is_mended: stock.is_some_and(|stock| stock.was_mended),
            scale: found.likely_scale(),
            faces: stock.map(faces_of).unwrap_or_default(),
        },
    }
}

/// The stock a mesh file makes.
///
/// # Errors
/// [`WebError::Bad`] with why it cannot be read or worked on.
pub fn stock_of(name: String, file: &[u8]) -> Result<Stock, WebError> {
    let found = read_mesh(file).map_err(|error| WebError::Bad(capitalised(&error)))?;
    let refuse = |error| WebError::Bad(format!("No piece can be made of this mesh: {error}."));
    Stock::of(stock_id(file), name, &found).map_err(refuse)
}

/// Reads the body of a request as a mesh file.
pub(super) async fn file_of(body: web::Payload) -> Result<web::Bytes, WebError> {
    match body.to_bytes_limited(MAX_MESH_BYTES).await {
        Ok(Ok(bytes)) => Ok(bytes),
        Ok(Err(error)) => Err(WebError::Bad(format!("The file did not arrive: {error}"))),
        Err(_) => {
            let most = MAX_MESH_BYTES >> 20;
            Err(WebError::Bad(format!("A mesh file may have {most} MB at most.")))
        }
    }
}

/// The report on a mesh file and its meshes in one.
fn looked_into(file: &[u8]) -> Result<Vec<u8>, WebError> {
    #[derive(Serialize)]
    struct Answer {
        report: MeshReport,
        tones: Vec<Tones>,
    }
    let found = read_mesh(file).map_err(|error| WebError::Bad(capitalised(&error)))?;
    let plain = shipped_palette().swap_remove(0).colour;
    let tones = found.bodies.iter().map(|body| body.colour.unwrap_or(plain).tones()).collect();
    let stock = Stock::of(stock_id(file), String::new(), &found);
    let answer = Answer { report: report_on(&found, &stock), tones };
    let json = serde_json::to_vec(&answer).expect("a report has only string keys");
    let meshes: Vec<(usize, &Mesh)> =
        found.bodies.iter().map(|body| &body.mesh).enumerate().collect();
    Ok(with_bodies(json, meshes))
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
    body: web::Payload,
) -> Result<impl Responder, WebError> {
    let file = file_of(body).await?;
    Ok(encoded(studio.work(move |_| looked_into(&file)).await?))
}

/// The same for a mesh that is kept.
#[get("/api/meshes/{id}")]
pub async fn look_into_kept(
    studio: web::Data<Studio>,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    let look = move |store: &Store| looked_into(&kept(store, &id)?.file);
    Ok(encoded(studio.work(look).await?))
}

fn kept(store: &Store, id: &str) -> Result<KeptMesh, WebError> {
    Ok(store.mesh(id)?.ok_or(StoreError::NotOnShelf)?)
}

#[derive(Deserialize)]
struct Named {
    name: String,
}

/// Keeps a mesh file, so that pieces can be made of it.
#[post("/api/meshes")]
pub async fn keep_mesh(
    studio: web::Data<Studio>,
    named: web::Query<Named>,
    body: web::Payload,
) -> Result<impl Responder, WebError> {
    let file = file_of(body).await?;
    let id = studio.work(move |store| keep(store, &named.name, &file)).await?;
    Ok(HttpResponse::Created().json(Made { id }))
}

/// Keeps a mesh file under its name and returns its id.
///
/// # Errors
/// Where no piece can be made of it, or the store fails.
pub fn keep(store: &Store, name: &str, file: &[u8]) -> Result<String, WebError> {
    let name: String = name.trim().chars().take(120).collect();
    let stock = stock_of(name, file)?;
    let kept = KeptMesh {
        id: stock.id.clone(),
        name: stock.name.clone(),
        file: file.to_vec(),
        triangles: stock.mesh.triangles.len() as u32,
        is_mended: stock.was_mended,
    };
    store.keep_mesh(&kept)?;
    Ok(kept.id)
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
    id: web::Path<String>,
    new: web::Json<NewPiece>,
) -> Result<impl Responder, WebError> {
    let id = studio
        .work(move |store| {
            let name = kept(store, &id)?.name;
            let stock = stock::on_shelf(&id).ok_or(StoreError::NotOnShelf)?;
            let piece = piece_of(&stock, &name, new.face, new.scale)?;
            let piece = Piece { name: new.name.trim().to_owned(), units: new.units, ..piece };
            apply(&piece, &[])?;
            Ok(store.create(&piece)?)
        })
        .await?;
    Ok(HttpResponse::Created().json(Made { id }))
}

/// A piece of one of the flat faces of stock, the largest being 0.
///
/// # Errors
/// [`WebError::Bad`] where there is no such face, or the mesh cannot stand on a bed at this scale.
pub fn piece_of(stock: &Stock, file: &str, face: usize, scale: f64) -> Result<Piece, WebError> {
    let count = stock.faces.len();
    let chosen = stock.faces.get(face).ok_or_else(|| {
        WebError::Bad(format!("There is no flat face {}; the mesh has {count}.", face + 1))
    })?;
    let mut piece = Piece::new("Mesh", Unit::Millimetre);
    let blank = MeshBlank {
        mesh: stock.id.clone(),
        file: file.to_owned(),
        scale,
        face: WorkedFace { normal: chosen.normal, level: chosen.level },
        turn: 0.0,
        colour: piece.filaments[0].id.clone(),
    };
    if stock::level(&blank).is_none() {
        return Err(WebError::Bad(format!(
            "At this scale the mesh is less than 1 mm across or more than {} mm. Choose the unit it \
             was drawn in.",
            stock::MAX_EXTENT_MM
        )));
    }
    piece.components[0].blank = Blank::Mesh(blank);
    Ok(piece)
}

/// Takes a mesh away that no piece is made of.
#[post("/api/meshes/{id}/delete")]
pub async fn drop_mesh(
    studio: web::Data<Studio>,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    studio
        .work(move |store| {
            store.drop_mesh(&id)?;
            stock::unshelve(&id);
            Ok(())
        })
        .await?;
    Ok(HttpResponse::Ok().json(json!({})))
}

/// An error as a sentence.
fn capitalised(error: &impl ToString) -> String {
    let text = error.to_string();
    let mut letters = text.chars();
    let first = letters.next().map(|letter| letter.to_uppercase().to_string()).unwrap_or_default();
    format!("{first}{}.", letters.as_str())
}
