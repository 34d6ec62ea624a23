//! What a request can end in instead of an answer.

use crate::service::Trouble;
use actix_web::http::{StatusCode, header};
use actix_web::{HttpRequest, HttpResponse, ResponseError};
use askama::Template;
use kalotype_store::StoreError;
use serde_json::json;
use thiserror::Error;

/// What a request can end in instead of an answer.
#[derive(Debug, Error)]
pub enum WebError {
    /// What the work ended in.
    #[error(transparent)]
    Trouble(#[from] Trouble),
    /// A request from another site.
    #[error("This request came from another site and was not carried out.")]
    Foreign,
    /// A browser that has not given the pass-phrase.
    #[error("This needs the pass-phrase. Open the page again and enter it.")]
    Locked,
    /// Too many wait already.
    #[error("There is more to do here than can be done at once. Try again in a moment.")]
    Busy,
    /// Heavy work that waited for its turn and did not get it; so many were still before it.
    #[error(
        "This takes its turn with other long work. Still before it: {0}. Try again in a minute."
    )]
    Queued(usize),
    /// Who asked has hung up.
    #[error("Nobody waits for this any more.")]
    Gone,
    /// The work took too long.
    #[error("This took too long and was stopped. Make the piece simpler and try again.")]
    TooLong,
    /// A fault of our own.
    #[error("something failed: {0}")]
    Internal(String),
}

impl WebError {
    /// What is said of it to a person: of faults of our own nothing that is only for the log.
    fn said(&self) -> String {
        match self {
            WebError::Trouble(Trouble::Store(
                StoreError::Database(_) | StoreError::Unavailable(_) | StoreError::Migration(_),
            )) => {
                "The pieces cannot be reached at the moment. What you see is not lost; try again."
                    .to_owned()
            }
            WebError::Trouble(Trouble::Store(StoreError::DiskFull)) => {
                "There is no room left on the disk, so this was not saved. What was saved before is \
                 safe; make room and try again."
                    .to_owned()
            }
            WebError::Internal(_) => "Something failed here; it was written to the log.".to_owned(),
            other => other.to_string(),
        }
    }
}

#[derive(Template)]
#[template(path = "error.html")]
struct ErrorPage<'a> {
    title: &'a str,
    message: &'a str,
}

impl ResponseError for WebError {
    fn status_code(&self) -> StatusCode {
        let trouble = match self {
            WebError::Foreign => return StatusCode::FORBIDDEN,
            WebError::Locked => return StatusCode::UNAUTHORIZED,
            WebError::Busy | WebError::Queued(_) | WebError::TooLong | WebError::Gone => {
                return StatusCode::SERVICE_UNAVAILABLE;
            }
            WebError::Internal(_) => return StatusCode::INTERNAL_SERVER_ERROR,
            WebError::Trouble(trouble) => trouble,
        };
        let store = match trouble {
            Trouble::Edit(_) | Trouble::Bad(_) => return StatusCode::UNPROCESSABLE_ENTITY,
            Trouble::Overtaken(_) => return StatusCode::CONFLICT,
            // A newer look of the same page took its place, or it was given up: nothing is wrong with it.
            Trouble::Halted(_) => return StatusCode::SERVICE_UNAVAILABLE,
            Trouble::Store(store) => store,
        };
        match store {
            StoreError::NoSuchPiece | StoreError::NotOnShelf => StatusCode::NOT_FOUND,
            StoreError::ShelfFull(_)
            | StoreError::PaletteFull(_)
            | StoreError::PrintersFull(_)
            | StoreError::LastFilament
            | StoreError::ShapesFull
            | StoreError::DrawingsFull(_)
            | StoreError::MeshesFull(_) => StatusCode::UNPROCESSABLE_ENTITY,
            StoreError::EndOfHistory(_)
            | StoreError::Conflict
            | StoreError::Overtaken(_)
            | StoreError::ShapeInUse(_)
            | StoreError::MeshInUse(_) => StatusCode::CONFLICT,
            StoreError::Unavailable(_) => StatusCode::SERVICE_UNAVAILABLE,
            StoreError::DiskFull => StatusCode::INSUFFICIENT_STORAGE,
            StoreError::Newer
            | StoreError::Unusable(_)
            | StoreError::Migration(_)
            | StoreError::Document(_)
            | StoreError::Database(_) => StatusCode::INTERNAL_SERVER_ERROR,
        }
    }

    fn error_response(&self) -> HttpResponse {
        let status = self.status_code();
        if status.is_server_error()
            && !matches!(self, WebError::Gone | WebError::Trouble(Trouble::Halted(_)))
        {
            tracing::error!("{self}");
        }
        let (target, field) = match self {
            WebError::Trouble(Trouble::Edit(error)) => (error.target.to_string(), &error.field[..]),
            _ => (String::new(), ""),
        };
        HttpResponse::build(status)
            .json(json!({ "target": target, "field": field, "message": self.said() }))
    }
}

/// The same as a page, for addresses a person opens.
pub fn page(status: StatusCode, title: &str, message: &str) -> HttpResponse {
    page_of(status, &ErrorPage { title, message })
}

/// A page that is not the one that was asked for.
pub fn page_of(status: StatusCode, page: &impl Template) -> HttpResponse {
    HttpResponse::build(status)
        .insert_header((header::CONTENT_TYPE, "text/html; charset=utf-8"))
        .body(page.render().unwrap_or_default())
}

/// An error of a page as a page.
pub fn as_page(error: &WebError) -> HttpResponse {
    let status = error.status_code();
    let title = if status == StatusCode::NOT_FOUND { "Not here" } else { "That did not work" };
    page(status, title, &error.said())
}

/// Answers for every address there is not.
pub async fn not_found(request: HttpRequest) -> HttpResponse {
    let message = format!("There is nothing at {}.", request.path());
    page(StatusCode::NOT_FOUND, "Not here", &message)
}
