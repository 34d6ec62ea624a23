//! The user's own typefaces: looked at, kept, shown and taken away; and the faces a lettering can
//! be set in.

use super::error::{WebError, as_page};
use super::pieces::html;
use super::studio::Studio;
use actix_web::{HttpResponse, Responder, get, post, web};
use askama::Template;
use kalotype_core::build::face_samples;
use kalotype_core::lettering::{
    self, Group, MAX_FONT_BYTES, OWN_FACE, OpenedFont, TYPEFACES, open_font,
};
use kalotype_store::{OwnTypeface, Store};
use serde::Deserialize;
use serde_json::json;

#[derive(Template)]
#[template(path = "typefaces.html")]
struct TypefacesPage {
    own: Vec<Card>,
    shipped: Vec<Card>,
}

struct Card {
    id: String,
    name: String,
    group: &'static str,
    licence: String,
}

/// What a group of typefaces is called on a page.
fn group_name(group: Option<Group>) -> &'static str {
    match group {
        Some(Group::Heavy) => "heavy",
        Some(Group::Narrow) => "narrow",
        Some(Group::Slab) => "slab serif",
        Some(Group::Serif) => "serif",
        Some(Group::Script) => "script",
        Some(Group::Stencil) => "stencil",
        Some(Group::Display) => "for show",
        None => "your own",
    }
}

/// Puts every typeface the store keeps on the shelf. One that can no longer be opened is left out
/// and logged.
pub fn shelve_all(store: &Store) -> anyhow::Result<()> {
    for kept in store.typefaces()? {
        if let Err(error) = shelve(&kept) {
            tracing::warn!("typeface {} ({}): {error}", kept.id, kept.name);
        }
    }
    Ok(())
}

fn shelve(kept: &OwnTypeface) -> Result<(), lettering::FontError> {
    let opened = open_font(&kept.font)?;
    let typeface =
        opened.typeface(kept.id.clone(), kept.name.clone(), kept.face_index, kept.weight)?;
    lettering::shelve(typeface);
    Ok(())
}

/// The page of typefaces.
#[get("/typefaces")]
pub async fn typefaces_page(studio: web::Data<Studio>) -> HttpResponse {
    let own = studio.work(|store| Ok(store.typefaces()?)).await;
    let shipped = TYPEFACES.iter().map(|typeface| Card {
        id: typeface.id.to_string(),
        name: typeface.name.to_string(),
        group: group_name(typeface.group),
        licence: typeface.licence.to_string(),
    });
    match own {
        Ok(own) => html(&TypefacesPage {
            own: own
                .into_iter()
                .map(|kept| Card {
                    id: kept.id,
                    name: kept.name,
                    group: group_name(None),
                    licence: kept.licence,
                })
                .collect(),
            shipped: shipped.collect(),
        }),
        Err(error) => as_page(&error),
    }
}

/// Reads the body of a request as a font file.
async fn font_of(body: web::Payload) -> Result<Vec<u8>, WebError> {
    let too_large =
        || WebError::Bad("The file is larger than 8 MB, the most a font may have.".to_owned());
    match body.to_bytes_limited(MAX_FONT_BYTES).await {
        Ok(Ok(bytes)) => Ok(bytes.to_vec()),
        Ok(Err(error)) => Err(WebError::Bad(format!("The file did not arrive: {error}"))),
        Err(_) => Err(too_large()),
    }
}

fn opened(bytes: &[u8]) -> Result<OpenedFont, WebError> {
    open_font(bytes).map_err(|error| WebError::Bad(error.to_string()))
}

/// What is in a font file: its faces and its licence. Nothing is kept.
#[post("/api/typefaces/look")]
pub async fn look_into_font(
    studio: web::Data<Studio>,
    body: web::Payload,
) -> Result<impl Responder, WebError> {
    let bytes = font_of(body).await?;
    let font = studio.work(move |_| opened(&bytes)).await?;
    Ok(HttpResponse::Ok().json(json!({ "faces": font.faces, "licence": font.licence })))
}

#[derive(Deserialize)]
struct Chosen {
    index: u32,
    weight: Option<f32>,
    name: String,
}

/// Keeps a face of a font file.
#[post("/api/typefaces")]
pub async fn keep_typeface(
    studio: web::Data<Studio>,
    chosen: web::Query<Chosen>,
    body: web::Payload,
) -> Result<impl Responder, WebError> {
    let bytes = font_of(body).await?;
    let kept = studio
        .work(move |store| {
            let font = opened(&bytes)?;
            let name: String = chosen.name.trim().chars().take(80).collect();
            if name.is_empty() {
                return Err(WebError::Bad("Give the typeface a name.".to_owned()));
            }
            let kept = OwnTypeface {
                id: format!("{OWN_FACE}{}", uuid::Uuid::new_v4().simple()),
                name,
                font: font.bytes,
                face_index: chosen.index,
                weight: chosen.weight,
                licence: font.licence,
            };
            shelve(&kept).map_err(|error| WebError::Bad(error.to_string()))?;
            store.keep_typeface(&kept).inspect_err(|_| lettering::unshelve(&kept.id))?;
            Ok(kept)
        })
        .await?;
    Ok(HttpResponse::Created().json(json!({ "id": kept.id, "name": kept.name })))
}

/// Takes a typeface away.
#[post("/api/typefaces/{id}/delete")]
pub async fn drop_typeface(
    studio: web::Data<Studio>,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    studio
        .work(move |store| {
            store.drop_typeface(&id)?;
            lettering::unshelve(&id);
            Ok(())
        })
        .await?;
    Ok(HttpResponse::NoContent().finish())
}

/// The words of a lettering in every face there is.
#[get("/api/pieces/{id}/faces/{element}")]
pub async fn faces_for(
    studio: web::Data<Studio>,
    path: web::Path<(String, String)>,
) -> Result<impl Responder, WebError> {
    let (id, element) = path.into_inner();
    let samples =
        studio.work(move |store| Ok(face_samples(&store.head(&id)?.piece, &element))).await?;
    let named: Vec<_> = samples
        .iter()
        .map(|sample| {
            let mut value = json!(sample);
            value["group"] = json!(group_name(sample.group));
            value
        })
        .collect();
    Ok(HttpResponse::Ok().json(named))
}
