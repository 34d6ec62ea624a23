//! Styles, scripts and fonts, embedded in the binary.

use actix_web::http::header::{self, CacheControl, CacheDirective};
use actix_web::{HttpResponse, get, web};
use rust_embed::RustEmbed;

#[derive(RustEmbed)]
#[folder = "assets"]
struct Assets;

/// One asset. Addresses carry the hash of the content, so they may be kept for good.
#[get("/assets/{path:.*}")]
pub async fn asset(path: web::Path<String>) -> HttpResponse {
    let Some(file) = Assets::get(&path) else {
        return HttpResponse::NotFound().finish();
    };
    HttpResponse::Ok()
        .insert_header((header::CONTENT_TYPE, file.metadata.mimetype()))
        .insert_header(CacheControl(vec![
            CacheDirective::Public,
            CacheDirective::MaxAge(31_536_000),
            CacheDirective::Extension("immutable".into(), None),
        ]))
        .body(file.data.into_owned())
}

/// The address of an asset, with the hash of its content.
pub fn address(path: &str) -> String {
    let hash = Assets::get(path).map(|file| file.metadata.sha256_hash());
    let short: String = hash.iter().flatten().take(6).map(|byte| format!("{byte:02x}")).collect();
    format!("/assets/{path}?v={short}")
}
