//! Taking a piece away: files for printers and engravers, pictures, and changes of filament.

use super::error::WebError;
use super::studio::Studio;
use crate::service::{Asked, Exported, ListedExport, Viewer};
use actix_web::body::SizedStream;
use actix_web::http::header::{
    self, Charset, ContentDisposition, DispositionParam, DispositionType, ExtendedValue,
};
use actix_web::{HttpResponse, Responder, get, web};
use futures_util::{Stream, stream};
use kalotype_core::export::{Division, Format};
use kalotype_core::plane::Tolerance;
use serde::Deserialize;
use serde_json::json;
use std::fs::File;
use std::io::Read;

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

impl Options {
    fn asked(self) -> (Tolerance, Asked) {
        let Options { tolerance, format, colours, each, copies } = self;
        (tolerance, Asked { format, division: colours, each, copies })
    }
}

fn one() -> u32 {
    1
}

/// What an export would consist of: names, triangles, and sizes in bytes where they are known before it is written.
#[get("/api/pieces/{id}/export")]
pub async fn export_list(
    studio: web::Data<Studio>,
    viewer: Viewer,
    id: web::Path<String>,
    options: web::Query<Options>,
) -> Result<impl Responder, WebError> {
    let (tolerance, asked) = options.into_inner().asked();
    let work = studio
        .heavy(&viewer, move |service, halt| service.listed_export(&id, tolerance, asked, halt));
    let ListedExport { files, copies, archive } = work.await?;
    let files: Vec<_> = files
        .iter()
        .map(|file| json!({ "name": file.name, "bytes": file.bytes, "triangles": file.triangles }))
        .collect();
    Ok(HttpResponse::Ok().json(json!({ "files": files, "copies": copies, "archive": archive })))
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
    Ok(download(work.await?))
}

/// The export itself: one file, or several in an archive.
#[get("/pieces/{id}/export")]
pub async fn export_download(
    studio: web::Data<Studio>,
    viewer: Viewer,
    id: web::Path<String>,
    options: web::Query<Options>,
) -> Result<impl Responder, WebError> {
    let (tolerance, asked) = options.into_inner().asked();
    let work =
        studio.heavy(&viewer, move |service, halt| service.exported(&id, tolerance, asked, halt));
    Ok(download(work.await?))
}

fn download(exported: Exported) -> HttpResponse {
    let name = match &exported {
        Exported::File(file) => &file.name,
        Exported::Archive { name, .. } => name,
    };
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
    let kind = Format::media_type(name.rsplit('.').next().unwrap_or_default());
    let mut answer = HttpResponse::Ok();
    answer
        .insert_header((header::CONTENT_TYPE, kind))
        .insert_header((header::CACHE_CONTROL, "no-store"))
        .insert_header(disposition);
    match exported {
        Exported::File(file) => answer.body(file.bytes),
        Exported::Archive { file, size, .. } => answer.body(SizedStream::new(size, parts_of(file))),
    }
}

/// A file as it is sent: read bit by bit, off the threads that serve.
fn parts_of(file: File) -> impl Stream<Item = std::io::Result<web::Bytes>> {
    const PART: usize = 256 << 10;
    stream::try_unfold(file, |mut file| async move {
        let read = web::block(move || {
            let mut part = vec![0; PART];
            let length = file.read(&mut part)?;
            part.truncate(length);
            Ok::<_, std::io::Error>((file, part))
        });
        let (file, part) = read.await.map_err(std::io::Error::other)??;
        Ok((!part.is_empty()).then(|| (web::Bytes::from(part), file)))
    })
}
