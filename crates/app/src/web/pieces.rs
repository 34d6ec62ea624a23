//! The page of pieces and what can be done with a piece as a whole.

use super::access::Access;
use super::error::{WebError, as_page};
use super::pictures::svg_answer;
use super::studio::Studio;
use super::upload::take_in;
use crate::service::{ListedStarter, Viewer};
use actix_web::http::header;
use actix_web::{HttpResponse, Responder, get, post, web};
use askama::Template;
use kalotype_core::formats::MAX_MESH_BYTES;
use kalotype_core::piece::{BlankKind, Piece};
use kalotype_core::units::Unit;
use kalotype_store::{Listed, Move, Order, Place, PutAside, Sought};
use serde::{Deserialize, Serialize};
use std::time::{SystemTime, UNIX_EPOCH};

/// How many pieces a page of the list shows.
const ON_A_PAGE: usize = 60;

#[derive(Template)]
#[template(path = "pieces.html")]
struct PiecesPage {
    pieces: Vec<Card>,
    starters: Vec<ListedStarter>,
    /// How many pieces are listed in all.
    count: usize,
    /// Which page of them this is, from 1, and how many there are.
    page: usize,
    pages: usize,
    asked: Asked,
    /// The drawers with how many are in each, and how many are deleted.
    drawers: Vec<(String, i64)>,
    deleted: i64,
    /// What could not be read any more and was put aside.
    aside: PutAside,
    /// Whether a pass-phrase was asked for.
    is_locked: bool,
}

impl PiecesPage {
    /// Whether nothing was ever made here.
    fn is_new(&self) -> bool {
        let is_plain = self.asked.find.is_empty() && self.asked.place() == Place::AtHand;
        is_plain && self.count == 0 && self.drawers.is_empty() && self.deleted == 0
    }

    /// The address of another page of this list.
    fn page_at(&self, page: usize) -> String {
        Asked { page: page as i64, ..self.asked.clone() }.address()
    }

    /// The address of a drawer, or of what is at hand where it has no name.
    fn drawer_at(&self, drawer: &str) -> String {
        let order = self.asked.order;
        Asked { drawer: drawer.to_owned(), order, ..Asked::default() }.address()
    }

    /// The address of what was deleted.
    fn deleted_at(&self) -> String {
        Asked { deleted: true, order: self.asked.order, ..Asked::default() }.address()
    }

    /// The address of the same list with everything in it.
    fn everything_at(&self) -> String {
        Asked { page: 1, find: String::new(), ..self.asked.clone() }.address()
    }
}

struct Card {
    id: String,
    name: String,
    size: String,
    changed: String,
    /// Tells the pictures of different states apart.
    stamp: i64,
    drawer: String,
}

impl From<Listed> for Card {
    fn from(listed: Listed) -> Self {
        let changed = match listed.deleted_at {
            Some(at) => format!("deleted {}", ago(at)),
            None => ago(listed.changed_at),
        };
        Card {
            id: listed.id,
            name: listed.name,
            size: listed.size.unwrap_or_default(),
            changed,
            stamp: listed.changed_at,
            drawer: listed.drawer.unwrap_or_default(),
        }
    }
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

/// What the address of the list asks for.
#[derive(Debug, Clone, Deserialize, Serialize)]
#[serde(default)]
struct Asked {
    /// Which page, from 1.
    #[serde(skip_serializing_if = "is_first")]
    page: i64,
    /// Words that are in the names.
    #[serde(skip_serializing_if = "String::is_empty")]
    find: String,
    /// The drawer that is open; none where it is empty.
    #[serde(skip_serializing_if = "String::is_empty")]
    drawer: String,
    /// Whether what was deleted is looked at.
    #[serde(skip_serializing_if = "std::ops::Not::not")]
    deleted: bool,
    /// In which order.
    order: InOrder,
}

fn is_first(page: &i64) -> bool {
    *page == 1
}

impl Default for Asked {
    fn default() -> Self {
        let (find, drawer) = Default::default();
        Asked { page: 1, find, drawer, deleted: false, order: InOrder::Date }
    }
}

#[derive(Debug, Clone, Copy, PartialEq, Eq, Deserialize, Serialize)]
#[serde(rename_all = "lowercase")]
enum InOrder {
    Date,
    Name,
    Size,
}

impl Asked {
    fn place(&self) -> Place {
        match (self.deleted, self.drawer.is_empty()) {
            (true, _) => Place::Deleted,
            (false, false) => Place::Drawer(self.drawer.clone()),
            (false, true) => Place::AtHand,
        }
    }

    fn sought(&self) -> Sought {
        let order = match self.order {
            InOrder::Date => Order::Changed,
            InOrder::Name => Order::Name,
            InOrder::Size => Order::Size,
        };
        // What is looked for is no longer than a name.
        let words = self.find.chars().take(120).collect();
        Sought { words, place: self.place(), order }
    }

    fn address(&self) -> String {
        format!("/pieces?{}", serde_urlencoded::to_string(self).unwrap_or_default())
    }
}

/// The page of pieces.
#[get("/pieces")]
pub async fn list(
    studio: web::Data<Studio>,
    access: web::Data<Access>,
    asked: web::Query<Asked>,
) -> HttpResponse {
    let asked = asked.into_inner();
    let page = asked.page.clamp(1, i64::from(u32::MAX)) as usize;
    let sought = asked.sought();
    let listed = studio.shelf(move |service| {
        let (pieces, count) = service.list(&sought, (page - 1) * ON_A_PAGE, ON_A_PAGE)?;
        let store = service.store();
        Ok((pieces, count, service.starters()?, store.drawers()?, store.put_aside()?))
    });
    let page =
        listed.await.map(|(listed, count, starters, (drawers, deleted), aside)| PiecesPage {
            pieces: listed.into_iter().map(Card::from).collect(),
            starters,
            count,
            page,
            pages: count.div_ceil(ON_A_PAGE),
            asked,
            drawers,
            deleted,
            aside,
            is_locked: access.asks(),
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
    /// What it starts from; without it a plate.
    #[serde(default)]
    blank: BlankKind,
}

/// Makes a new piece.
#[post("/api/pieces")]
pub async fn create(
    studio: web::Data<Studio>,
    viewer: Viewer,
    new: web::Json<NewPiece>,
) -> Result<impl Responder, WebError> {
    let piece = Piece::of(new.blank, new.name.trim(), new.units);
    let id = studio.shelf(move |service| service.create(&piece, &viewer)).await?;
    Ok(HttpResponse::Created().json(Made { id }))
}

/// Makes a piece from a piece file, or from an archive of one with the mesh it is made of.
#[post("/api/pieces/import")]
pub async fn import(
    studio: web::Data<Studio>,
    viewer: Viewer,
    body: web::Payload,
) -> Result<impl Responder, WebError> {
    let file = take_in(&studio, &viewer, body, MAX_MESH_BYTES, "file").await?;
    let by = viewer.clone().with_file(file.mark());
    let made = studio.heavy(&viewer, move |service, halt| {
        let piece = service.import(&file.bytes()?, &halt)?;
        service.create(&piece, &by)
    });
    let id = made.await?;
    Ok(HttpResponse::Created().json(Made { id }))
}

/// Makes a copy of a piece.
#[post("/api/pieces/{id}/duplicate")]
pub async fn duplicate(
    studio: web::Data<Studio>,
    viewer: Viewer,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    let id = studio.shelf(move |service| service.create(&service.copy_of(&id)?, &viewer)).await?;
    Ok(HttpResponse::Created().json(Made { id }))
}

#[derive(Deserialize)]
struct Rename {
    name: String,
}

/// Gives a piece another name, as an edit that can be taken back.
#[post("/api/pieces/{id}/rename")]
pub async fn rename(
    studio: web::Data<Studio>,
    viewer: Viewer,
    id: web::Path<String>,
    new: web::Json<Rename>,
) -> Result<impl Responder, WebError> {
    let name = new.into_inner().name.trim().to_owned();
    studio
        .shelf(move |service| {
            service.change(&id, &viewer, |piece| Piece { name, ..piece }).map(drop)
        })
        .await?;
    Ok(HttpResponse::NoContent().finish())
}

#[derive(Deserialize)]
#[serde(rename_all = "lowercase")]
enum Put {
    /// Deletes them.
    Delete,
    /// Brings them back.
    Restore,
    /// Into a drawer, or at hand again.
    Keep(Option<String>),
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Several {
    pieces: Vec<String>,
    put: Put,
}

/// Deletes several pieces, brings them back, or keeps them apart: all of them or none.
#[post("/api/pieces/several")]
pub async fn put(
    studio: web::Data<Studio>,
    several: web::Json<Several>,
) -> Result<impl Responder, WebError> {
    let Several { pieces, put } = several.into_inner();
    let to = match put {
        Put::Delete => Move::Delete,
        Put::Restore => Move::Restore,
        Put::Keep(drawer) => Move::Keep(drawer.map(|name| name.trim().to_owned())),
    };
    studio.shelf(move |service| service.put(&pieces, &to)).await?;
    Ok(HttpResponse::NoContent().finish())
}

/// The picture of a piece's face, from its real outlines.
#[get("/pieces/{id}/picture.svg")]
pub async fn picture(
    studio: web::Data<Studio>,
    viewer: Viewer,
    id: web::Path<String>,
) -> Result<impl Responder, WebError> {
    let id = id.into_inner();
    let kept = {
        let id = id.clone();
        studio.shelf(move |service| Ok(service.store().picture(&id)?)).await?
    };
    let picture = match kept {
        Some(picture) => picture,
        None => studio.heavy(&viewer, move |service, halt| service.picture(&id, halt)).await?,
    };
    Ok(svg_answer(picture, "private, max-age=31536000, immutable"))
}
