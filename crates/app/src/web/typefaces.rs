//! The user's own typefaces: looked at, kept, shown and taken away; and the faces a lettering can
//! be set in.

use super::error::{WebError, as_page};
use super::pieces::html;
use super::studio::Studio;
use super::upload::take_in;
use crate::service::Viewer;
use actix_web::{HttpResponse, Responder, get, post, web};
use askama::Template;
use kalotype_core::lettering::{Group, MAX_FONT_BYTES, TYPEFACES};
use kalotype_core::piece::Address;
use serde::Deserialize;
use serde_json::json;

#[derive(Template)]
#[template(path = "typefaces.html")]
struct TypefacesPage {
    own: Vec<Card>,
    shipped: Vec<Card>,
    /// The largest font that is taken in, in MB.
    most_mb: usize,
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

/// The page of typefaces.
#[get("/typefaces")]
pub async fn typefaces_page(studio: web::Data<Studio>) -> HttpResponse {
    let own = studio.shelf(|service| Ok(service.store().listed_typefaces()?)).await;
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
                .map(|[id, name, licence]| Card { id, name, group: group_name(None), licence })
                .collect(),
            shipped: shipped.collect(),
            most_mb: MAX_FONT_BYTES >> 20,
        }),
        Err(error) => as_page(&error),
    }
}

/// What is in a font file: its faces and its licence. Nothing is kept.
#[post("/api/typefaces/look")]
pub async fn look_into_font(
    studio: web::Data<Studio>,
    viewer: Viewer,
    body: web::Payload,
) -> Result<impl Responder, WebError> {
    let file = take_in(&studio, &viewer, body, MAX_FONT_BYTES, "font").await?;
    let font =
        studio.heavy(&viewer, move |service, _| service.look_into_font(&file.bytes()?)).await?;
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
    viewer: Viewer,
    chosen: web::Query<Chosen>,
    body: web::Payload,
) -> Result<impl Responder, WebError> {
    let file = take_in(&studio, &viewer, body, MAX_FONT_BYTES, "font").await?;
    let by = viewer.clone().with_file(file.mark());
    let keep = studio.heavy(&viewer, move |service, _| {
        let face = (chosen.index, chosen.weight);
        service.keep_typeface(&file.bytes()?, &chosen.name, face, &by)
    });
    let kept = keep.await?;
    Ok(HttpResponse::Created().json(json!({ "id": kept.id, "name": kept.name })))
}

/// Takes a typeface away.
#[post("/api/typefaces/{id}/delete")]
pub async fn drop_typeface(
    studio: web::Data<Studio>,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    studio.shelf(move |service| service.drop_typeface(&id)).await?;
    Ok(HttpResponse::NoContent().finish())
}

#[derive(Deserialize)]
struct Of {
    /// The address of a lettering.
    target: Address,
}

/// The words of a lettering in every typeface there is.
#[get("/api/pieces/{id}/samples")]
pub async fn samples(
    studio: web::Data<Studio>,
    viewer: Viewer,
    id: web::Path<String>,
    of: web::Query<Of>,
) -> Result<impl Responder, WebError> {
    let at = format!("samples {id}");
    let look =
        studio.look(&viewer, &at, move |service, halt| service.samples(&id, &of.target, halt));
    let named: Vec<_> = look
        .await?
        .iter()
        .map(|sample| {
            let mut value = json!(sample);
            value["group"] = json!(group_name(sample.group));
            value
        })
        .collect();
    Ok(HttpResponse::Ok().json(named))
}
