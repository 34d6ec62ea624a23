//! The printers at hand: shown, changed, measured on a gauge.

use super::error::{WebError, as_page};
use super::pieces::{Made, html};
use super::studio::Studio;
use crate::service::{FieldChange, Viewer};
use actix_web::{HttpResponse, Responder, get, post, web};
use askama::Template;
use kalotype_core::gauge::{CLEARANCES, GaugeJoint, Went};
use kalotype_core::piece::Printer;
use serde::Deserialize;

#[derive(Template)]
#[template(path = "printers.html")]
struct PrintersPage {
    /// The printers as JSON, for the script.
    printers: String,
    /// The clearances of a gauge with their places.
    clearances: Vec<(usize, String)>,
    joints: Vec<(&'static str, &'static str)>,
}

/// The page of printers.
#[get("/printers")]
pub async fn printers_page(studio: web::Data<Studio>) -> HttpResponse {
    let word = |joint| match joint {
        GaugeJoint::Slot => "slot",
        GaugeJoint::Bore => "bore",
        GaugeJoint::Cap => "cap",
    };
    match studio.shelf(|service| service.printers()).await {
        Ok(printers) => html(&PrintersPage {
            printers: serde_json::to_string(&printers).unwrap_or_default(),
            clearances: CLEARANCES.iter().map(|mm| format!("{mm:.2}")).enumerate().collect(),
            joints: GaugeJoint::ALL.map(|joint| (word(joint), joint.title())).to_vec(),
        }),
        Err(error) => as_page(&error),
    }
}

/// The printers, the one that comes with this program first.
#[get("/api/printers")]
pub async fn list_printers(studio: web::Data<Studio>) -> Result<impl Responder, WebError> {
    Ok(HttpResponse::Ok().json(studio.shelf(|service| service.printers()).await?))
}

/// Keeps a new printer; the same request keeps one.
#[post("/api/printers")]
pub async fn add_printer(
    studio: web::Data<Studio>,
    viewer: Viewer,
    printer: web::Json<Printer>,
) -> Result<impl Responder, WebError> {
    let printer = printer.into_inner();
    let kept = studio.shelf(move |service| service.add_printer(printer, &viewer)).await?;
    Ok(HttpResponse::Created().json(kept))
}

/// Changes a field of a printer. The pieces that are made on it follow.
#[post("/api/printers/{id}")]
pub async fn change_printer(
    studio: web::Data<Studio>,
    viewer: Viewer,
    id: web::Path<String>,
    change: web::Json<FieldChange>,
) -> Result<impl Responder, WebError> {
    let kept = studio.shelf(move |service| service.change_printer(&id, &change, &viewer)).await?;
    Ok(HttpResponse::Ok().json(kept))
}

/// Takes a printer away; pieces keep their copies.
#[post("/api/printers/{id}/delete")]
pub async fn drop_printer(
    studio: web::Data<Studio>,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    studio.shelf(move |service| Ok(service.store().drop_printer(&id)?)).await?;
    Ok(HttpResponse::NoContent().finish())
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct WantedGauge {
    joint: GaugeJoint,
}

/// Makes a gauge for a printer.
#[post("/api/printers/{id}/gauge")]
pub async fn make_gauge(
    studio: web::Data<Studio>,
    viewer: Viewer,
    id: web::Path<String>,
    wanted: web::Json<WantedGauge>,
) -> Result<impl Responder, WebError> {
    let joint = wanted.joint;
    let id = studio
        .shelf(move |service| service.create(&service.gauge_for(&id, joint)?, &viewer))
        .await?;
    Ok(HttpResponse::Created().json(Made { id }))
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Reading {
    /// How each opening went, tightest first.
    went: Vec<Went>,
}

/// Takes over what was read off a gauge.
#[post("/api/printers/{id}/reading")]
pub async fn read_gauge(
    studio: web::Data<Studio>,
    viewer: Viewer,
    id: web::Path<String>,
    reading: web::Json<Reading>,
) -> Result<impl Responder, WebError> {
    let went = reading.into_inner().went;
    let kept = studio.shelf(move |service| service.measured(&id, &went, &viewer)).await?;
    Ok(HttpResponse::Ok().json(kept))
}
