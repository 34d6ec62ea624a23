use actix_web::http::{StatusCode, header};
use actix_web::{HttpRequest, HttpResponse, ResponseError, error::InternalError};
use askama::Template;
use kalotype_core::piece::EditError;
use kalotype_store::StoreError;
use serde_json::json;
use thiserror::Error;

/// What a request can end in instead of an answer.
#[derive(Debug, Error)]
pub enum WebError {
    /// An edit that does not fit; said at its field.
    #[error(transparent)]
    Edit(#[from] EditError),
    /// Whatever the store says.
    #[error(transparent)]
    Store(#[from] StoreError),
    /// Something sent that cannot be used.
    #[error("{0}")]
    Bad(String),
    /// A request from another site.
    #[error("This request came from another site and was not carried out.")]
    Foreign,
    /// A fault of our own.
    #[error("Something failed here: {0}")]
    Internal(String),
}

impl From<kalotype_store::DatabaseError> for WebError {
    fn from(error: kalotype_store::DatabaseError) -> Self {
        WebError::Store(error.into())
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
        match self {
            WebError::Edit(_) | WebError::Bad(_) => StatusCode::UNPROCESSABLE_ENTITY,
            WebError::Foreign => StatusCode::FORBIDDEN,
            WebError::Store(StoreError::NoSuchPiece | StoreError::NotOnShelf) => {
                StatusCode::NOT_FOUND
            }
            WebError::Store(
                StoreError::ShelfFull(_)
                | StoreError::PaletteFull(_)
                | StoreError::LastFilament
                | StoreError::MeshesFull(_),
            ) => StatusCode::UNPROCESSABLE_ENTITY,
            WebError::Store(
                StoreError::EndOfHistory(_) | StoreError::Conflict | StoreError::MeshInUse(_),
            ) => StatusCode::CONFLICT,
            WebError::Store(StoreError::Unavailable(_)) => StatusCode::SERVICE_UNAVAILABLE,
            WebError::Store(_) | WebError::Internal(_) => StatusCode::INTERNAL_SERVER_ERROR,
        }
    }

    fn error_response(&self) -> HttpResponse {
        let status = self.status_code();
        if status.is_server_error() {
            tracing::error!("{self}");
        }
        let (target, field) = match self {
            WebError::Edit(error) => (error.target.as_str(), error.field.as_str()),
            _ => ("", ""),
        };
        HttpResponse::build(status)
            .json(json!({ "target": target, "field": field, "message": self.to_string() }))
    }
}

/// The same as a page, for addresses a person opens.
pub fn page(status: StatusCode, title: &str, message: &str) -> HttpResponse {
    let body = ErrorPage { title, message }.render().unwrap_or_else(|_| message.to_owned());
    HttpResponse::build(status)
        .insert_header((header::CONTENT_TYPE, "text/html; charset=utf-8"))
        .body(body)
}

/// An error of a page as a page.
pub fn as_page(error: &WebError) -> HttpResponse {
    let status = error.status_code();
    let title = if status == StatusCode::NOT_FOUND { "Not here" } else { "That did not work" };
    page(status, title, &error.to_string())
}

/// Answers for every address there is not.
pub async fn not_found(request: HttpRequest) -> HttpResponse {
    let message = format!("There is nothing at {}.", request.path());
    page(StatusCode::NOT_FOUND, "Not here", &message)
}

/// JSON that does not read, with what the reader says.
pub fn bad_json(error: actix_web::error::JsonPayloadError, _: &HttpRequest) -> actix_web::Error {
    let message = format!("The request could not be read: {error}");
    let response = WebError::Bad(message.clone()).error_response();
    InternalError::from_response(message, response).into()
}
