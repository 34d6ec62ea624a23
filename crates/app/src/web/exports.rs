//! Taking a piece away: files for printers and engravers, pictures, and changes of filament.

use super::error::WebError;
use super::studio::Studio;
use actix_web::http::header::{
    self, Charset, ContentDisposition, DispositionParam, DispositionType, ExtendedValue,
};
use actix_web::{HttpResponse, Responder, get, web};
use kalotype_core::build::evaluate;
use kalotype_core::colour::{Pause, pause_lines, plan_swaps, swap_sheet};
use kalotype_core::formats::{self, Division, Format, OutFile, Wanted, archive, export};
use kalotype_core::plane::Tolerance;
use kalotype_core::preflight::Weight;
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
}

/// The files of an export, and the name of the archive that holds them where there are several.
async fn exported(
    studio: &Studio,
    id: String,
    options: Options,
) -> Result<(Vec<OutFile>, Option<String>), WebError> {
    studio
        .work(move |store| {
            let piece = store.head(&id)?.piece;
            let evaluation = evaluate(&piece, options.tolerance);
            let stop = evaluation.findings.iter().find(|one| one.weight == Weight::Stop);
            if let Some(stop) = stop.filter(|_| options.format != Format::Piece) {
                return Err(WebError::Bad(stop.message.clone()));
            }
            let date = today();
            let wanted =
                Wanted { format: options.format, division: options.colours, date: Some(&date) };
            let mut files = export(&piece, &evaluation, wanted);
            // A piece made of a mesh is only whole with it.
            if let (Format::Piece, Some(blank)) = (options.format, piece.component().mesh())
                && let Some(mesh) = store.mesh(&blank.mesh)?
            {
                let name = mesh_file_name(&mesh.name);
                files.push(OutFile { name, bytes: mesh.file, triangles: None });
            }
            let name = (files.len() > 1).then(|| formats::archive_name(&piece, Some(&date)));
            Ok((files, name))
        })
        .await
}

/// The name a mesh file is exported under, safe on every system.
pub fn mesh_file_name(name: &str) -> String {
    let (stem, ending) = name.rsplit_once('.').unwrap_or((name, "stl"));
    format!("{}.{}", formats::file_name(stem), formats::file_name(ending))
}

/// Today's date on this machine, as 2026-11-25.
pub fn today() -> String {
    chrono::Local::now().date_naive().to_string()
}

/// What an export would consist of: names, sizes in bytes and triangles.
#[get("/api/pieces/{id}/export")]
pub async fn export_list(
    studio: web::Data<Studio>,
    id: web::Path<String>,
    options: web::Query<Options>,
) -> Result<impl Responder, WebError> {
    let (files, archive_name) = exported(&studio, id.into_inner(), options.into_inner()).await?;
    let files: Vec<_> = files
        .iter()
        .map(|file| {
            json!({ "name": file.name, "bytes": file.bytes.len(), "triangles": file.triangles })
        })
        .collect();
    Ok(HttpResponse::Ok().json(json!({ "files": files, "archive": archive_name })))
}

/// The export itself: one file, or several in an archive.
#[get("/pieces/{id}/export")]
pub async fn export_download(
    studio: web::Data<Studio>,
    id: web::Path<String>,
    options: web::Query<Options>,
) -> Result<impl Responder, WebError> {
    let (mut files, archive_name) =
        exported(&studio, id.into_inner(), options.into_inner()).await?;
    let file = match archive_name {
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

#[derive(Deserialize)]
struct SwapOptions {
    #[serde(default)]
    pause: Pause,
}

/// The changes of filament as texts: a sheet to print, and lines for the printer.
#[get("/api/pieces/{id}/swaps")]
pub async fn swap_texts(
    studio: web::Data<Studio>,
    id: web::Path<String>,
    options: web::Query<SwapOptions>,
) -> Result<impl Responder, WebError> {
    let texts = studio
        .work(move |store| {
            let piece = store.head(&id)?.piece;
            let evaluation = evaluate(&piece, Tolerance::Normal);
            let plan = plan_swaps(&evaluation, piece.layers);
            let sheet = swap_sheet(&piece, &evaluation, &plan);
            Ok(json!({ "sheet": sheet, "lines": pause_lines(&piece, &plan, options.pause) }))
        })
        .await?;
    Ok(HttpResponse::Ok().json(texts))
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
