//! The page of pieces and what can be done with a piece as a whole.

use super::error::{WebError, as_page};
use super::pictures::{picture_of, svg_answer};
use super::starters::{self, StarterCard};
use super::{meshes, studio::Studio};
use actix_web::http::header;
use actix_web::{HttpResponse, Responder, get, post, web};
use askama::Template;
use kalotype_core::build::layout;
use kalotype_core::formats::{MAX_MESH_BYTES, open_archive};
use kalotype_core::piece::{self, Edit, Outline, Piece, apply};
use kalotype_core::plane::Tolerance;
use kalotype_core::stock::{self, stock_id};
use kalotype_core::units::{Length, Unit, format_length};
use kalotype_store::{Listed, Store};
use serde::{Deserialize, Serialize};
use serde_json::json;
use std::time::{SystemTime, UNIX_EPOCH};

#[derive(Template)]
#[template(path = "pieces.html")]
struct PiecesPage {
    pieces: Vec<Card>,
    starters: Vec<StarterCard>,
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
        let (piece, units) = (&listed.piece, listed.piece.units);
        let component = piece.component();
        let figure =
            |length| format_length(length, units).replace(units.sign(), "").trim().to_owned();
        // A contour blank is as large as what is on it.
        let [width, height, thickness] = match (component.outline(), component.mesh()) {
            (Some(Outline::Contour(_)), _) => {
                let plate = layout(piece, Tolerance::Draft).plate;
                rounded([plate.rect.width(), plate.rect.height(), plate.thickness])
            }
            // All of a mesh, not just the face that is worked on.
            (_, Some(mesh)) => {
                let stock = stock::level(mesh);
                rounded(stock.map_or(component.face_size(), |stock| stock.extent))
            }
            _ => component.face_size().map(Length::mm),
        };
        let [width, height] = [width, height].map(figure);
        Card {
            id: listed.id,
            name: piece.name.clone(),
            size: format!("{width} × {height} × {}", format_length(thickness, units)),
            changed: ago(listed.changed_at),
            stamp: listed.changed_at,
        }
    }
}

fn rounded(size: [f64; 3]) -> [Length; 3] {
    size.map(|mm| Length::mm((mm * 10.0).round() / 10.0))
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

/// The page of pieces.
#[get("/pieces")]
pub async fn list(studio: web::Data<Studio>) -> HttpResponse {
    let listed = studio.work(|store| Ok((store.list()?, starters::all(store)?))).await;
    let page = listed.map(|(listed, starters)| PiecesPage {
        pieces: listed.into_iter().map(Card::from).collect(),
        starters,
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
    new: web::Json<NewPiece>,
) -> Result<impl Responder, WebError> {
    let piece = Piece::new(new.name.trim(), new.units);
    keep(&studio, move |_| Ok(piece)).await
}

/// Makes a piece from a piece file, or from an archive of one with the mesh it is made of.
#[post("/api/pieces/import")]
pub async fn import(
    studio: web::Data<Studio>,
    body: web::Payload,
) -> Result<impl Responder, WebError> {
    let file = meshes::file_of(body).await?;
    keep(&studio, move |store| imported(store, &file)).await
}

fn imported(store: &Store, file: &[u8]) -> Result<Piece, WebError> {
    let files = match file.starts_with(b"PK") {
        true => open_archive(file, MAX_MESH_BYTES).map_err(WebError::Bad)?,
        false => vec![("piece.json".to_owned(), file.to_vec())],
    };
    let is_piece = |(name, _): &&(String, Vec<u8>)| name.ends_with(".json");
    let Some((_, document)) = files.iter().find(is_piece) else {
        return Err(WebError::Bad(
            "There is no piece file (.kalotype.json) in the archive.".into(),
        ));
    };
    let piece = piece::read(document)
        .map_err(|error| WebError::Bad(format!("The file was not taken: {error}")))?;
    let mesh = piece.component().mesh();
    if let Some(mesh) = mesh.filter(|mesh| stock::on_shelf(&mesh.mesh).is_none()) {
        let Some((_, file)) = files.iter().find(|(_, file)| stock_id(file) == mesh.mesh) else {
            return Err(WebError::Bad(format!(
                "The mesh “{}” the piece is made of is neither here nor in the file. Open the \
                 archive the piece was exported as, or read the mesh first on the page of mesh files.",
                mesh.file
            )));
        };
        meshes::keep(store, &mesh.file, file)?;
    }
    Ok(piece)
}

/// Makes a copy of a piece.
#[post("/api/pieces/{id}/duplicate")]
pub async fn duplicate(
    studio: web::Data<Studio>,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    keep(&studio, move |store| {
        let piece = store.head(&id)?.piece;
        let name: String = piece.name.chars().take(112).collect();
        Ok(Piece { name: format!("{name}, copy"), ..piece })
    })
    .await
}

async fn keep(
    studio: &Studio,
    piece: impl FnOnce(&Store) -> Result<Piece, WebError> + Send + 'static,
) -> Result<HttpResponse, WebError> {
    let id = studio
        .work(|store| {
            let piece = piece(store)?;
            // A name that cannot be is said as an edit of it would be.
            apply(&piece, &[])?;
            Ok(store.create(&piece)?)
        })
        .await?;
    Ok(HttpResponse::Created().json(Made { id }))
}

#[derive(Deserialize)]
struct Rename {
    name: String,
}

/// Gives a piece another name, as an edit that can be undone.
#[post("/api/pieces/{id}/rename")]
pub async fn rename(
    studio: web::Data<Studio>,
    id: web::Path<String>,
    new: web::Json<Rename>,
) -> Result<impl Responder, WebError> {
    studio
        .work(move |store| {
            let edit = Edit::Set {
                target: "piece".to_owned(),
                field: "name".to_owned(),
                value: json!(new.name.trim()),
            };
            let change = |piece: &Piece| Ok::<_, WebError>(apply(piece, &[edit])?.piece);
            store.change(&id, None, change)
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
    studio.work(move |store| Ok(store.delete(&id)?)).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// Brings a deleted piece back.
#[post("/api/pieces/{id}/restore")]
pub async fn restore(
    studio: web::Data<Studio>,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    studio.work(move |store| Ok(store.restore(&id)?)).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// The picture of a piece's face, from its real outlines.
#[get("/pieces/{id}/picture.svg")]
pub async fn picture(
    studio: web::Data<Studio>,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    let picture = studio
        .work(move |store| Ok(picture_of(&store.head(&id)?.piece, Tolerance::Normal)))
        .await?;
    Ok(svg_answer(picture, "private, max-age=31536000, immutable"))
}
