//! Taking a piece away: files for printers and engravers, pictures, and changes of filament.

use super::error::WebError;
use super::studio::Studio;
use crate::service::{Asked, Exported, Viewer};
use actix_web::http::header::{
    self, Charset, ContentDisposition, DispositionParam, DispositionType, ExtendedValue,
};
use actix_web::{HttpResponse, Responder, get, web};
use kalotype_core::export::{Division, Format, OutFile};
use kalotype_core::formats::archive;
use kalotype_core::plane::Tolerance;
use serde::Deserialize;
use serde_json::json;

#[derive(Deserialize, Clone, Copy)]
struct Options {
    #[serde(default)]
    tolerance: Tolerance,
    #[serde(default)]
    format: Format,
    #[serde(default)]
    colours: Division,
    /// Whether every component gets a file of its own.
    #[serde(default)]
    each: bool,
    /// How many copies, where its texts count.
    #[serde(default = "one")]
    copies: u32,
}

fn one() -> u32 {
    1
}

/// The files of an export.
async fn exported(
    studio: &Studio,
    viewer: &Viewer,
    id: String,
    Options { tolerance, format, colours, each, copies }: Options,
) -> Result<Exported, WebError> {
    let asked = Asked { format, division: colours, each, copies };
    let work =
        studio.heavy(viewer, move |service, halt| service.exported(&id, tolerance, asked, halt));
    work.await
}

/// What an export would consist of: names, sizes in bytes and triangles.
#[get("/api/pieces/{id}/export")]
pub async fn export_list(
    studio: web::Data<Studio>,
    viewer: Viewer,
    id: web::Path<String>,
    options: web::Query<Options>,
) -> Result<impl Responder, WebError> {
    let exported = exported(&studio, &viewer, id.into_inner(), options.into_inner()).await?;
    let files: Vec<_> = exported
        .files
        .iter()
        .map(|file| {
            json!({ "name": file.name, "bytes": file.bytes.len(), "triangles": file.triangles })
        })
        .collect();
    Ok(HttpResponse::Ok().json(json!({ "files": files, "archive": exported.archive })))
}

#[derive(Deserialize)]
struct Together {
    /// The ids, joined by commas.
    pieces: String,
    #[serde(default)]
    format: Format,
    #[serde(default)]
    colours: Division,
}

/// Several pieces in one archive.
#[get("/pieces/export")]
pub async fn export_together(
    studio: web::Data<Studio>,
    viewer: Viewer,
    wanted: web::Query<Together>,
) -> Result<impl Responder, WebError> {
    let Together { pieces, format, colours } = wanted.into_inner();
    let ids: Vec<String> = pieces.split(',').map(str::to_owned).collect();
    let work = studio.heavy(&viewer, move |service, halt| {
        service.exported_together(&ids, format, colours, halt)
    });
    let Exported { files, archive: name } = work.await?;
    let parts = files.iter().map(|file| (file.name.as_str(), &file.bytes[..]));
    Ok(download(&name.unwrap_or_default(), Format::media_type("zip"), archive(parts)))
}

/// The export itself: one file, or several in an archive.
#[get("/pieces/{id}/export")]
pub async fn export_download(
    studio: web::Data<Studio>,
    viewer: Viewer,
    id: web::Path<String>,
    options: web::Query<Options>,
) -> Result<impl Responder, WebError> {
    let Exported { mut files, archive: packed } =
        exported(&studio, &viewer, id.into_inner(), options.into_inner()).await?;
    let file = match packed {
        None => files.swap_remove(0),
        Some(name) => {
            let parts = files.iter().map(|file| (file.name.as_str(), &file.bytes[..]));
            OutFile { name, bytes: archive(parts), triangles: None }
        }
    };
    let ending = file.name.rsplit('.').next().unwrap_or_default();
    let kind = Format::media_type(ending);
    Ok(download(&file.name, kind, file.bytes))
}

fn download(name: &str, kind: &str, bytes: Vec<u8>) -> HttpResponse {
    let plain: String = name.chars().map(|c| if c.is_ascii() { c } else { '_' }).collect();
    let disposition = ContentDisposition {
        disposition: DispositionType::Attachment,
        parameters: vec![
            DispositionParam::Filename(plain),
            DispositionParam::FilenameExt(ExtendedValue {
                charset: Charset::Ext("UTF-8".to_owned()),
                language_tag: None,
                value: name.as_bytes().to_vec(),
            }),
        ],
    };
    HttpResponse::Ok()
        .insert_header((header::CONTENT_TYPE, kind))
        .insert_header((header::CACHE_CONTROL, "no-store"))
        .insert_header(disposition)
        .body(bytes)
}
