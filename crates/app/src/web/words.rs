//! Every refusal of the requests pages make is JSON in the words of the application, whoever refused.
//!
//! Handlers refuse in that form themselves. What never reaches one (a query that cannot be read, an address there is
//! not, a method it does not have) the libraries below answer in their own way, and that is put into words here.

use super::error::WebError;
use super::viewer::{Content, REQUEST};
use crate::service::Trouble;
use actix_web::body::{EitherBody, MessageBody};
use actix_web::dev::{Payload, ServiceRequest, ServiceResponse};
use actix_web::error::{
    InternalError, JsonPayloadError, PathError, PayloadError, QueryPayloadError,
};
use actix_web::http::header::{self, HeaderValue};
use actix_web::http::{Method, StatusCode};
use actix_web::middleware::Next;
use actix_web::web::Bytes;
use actix_web::{Error, HttpMessage, HttpRequest, HttpResponse, ResponseError};
use futures_util::{Stream, StreamExt, stream};
use kalotype_core::content::content_id;
use kalotype_core::piece::misfit_in_words;
use serde_json::error::Category;
use serde_json::json;
use std::time::Duration;
use tokio::time::sleep;

/// The most bytes of what is no file.
pub const MOST_JSON: usize = 256 << 10;

/// The parts of a body.
type Parts = std::pin::Pin<Box<dyn Stream<Item = Result<Bytes, PayloadError>>>>;

/// How long what is no file may take to arrive.
const LONGEST: Duration = Duration::from_secs(20);

/// Puts refusals of requests of the interface into words.
pub async fn in_words(
    request: ServiceRequest,
    next: Next<impl MessageBody>,
) -> Result<ServiceResponse<EitherBody<impl MessageBody>>, Error> {
    if !request.path().starts_with("/api/") {
        return Ok(next.call(request).await?.map_into_left_body());
    }
    let is_head = request.method() == Method::HEAD;
    let answer = next.call(request).await?;
    let status = answer.status();
    let is_json = answer
        .headers()
        .get(header::CONTENT_TYPE)
        .is_some_and(|kind| kind.as_bytes().starts_with(b"application/json"));
    if status.is_success() || status.is_redirection() || is_json {
        return Ok(answer.map_into_left_body());
    }
    let message = match status {
        StatusCode::NOT_FOUND => "There is nothing at this address.",
        StatusCode::METHOD_NOT_ALLOWED => "This address does not answer requests of this method.",
        StatusCode::PAYLOAD_TOO_LARGE => "The request is larger than is read.",
        StatusCode::UNSUPPORTED_MEDIA_TYPE => "The request has to be sent as JSON.",
        status if status.is_server_error() => "Something failed here; it was written to the log.",
        _ => "The request could not be read.",
    };
    let said = json!({ "target": "", "field": "", "message": message });
    let mut refusal = HttpResponse::build(status);
    let refusal = if is_head {
        refusal
            .insert_header((header::CONTENT_TYPE, HeaderValue::from_static("application/json")))
            .finish()
    } else {
        refusal.json(said)
    };
    let (request, _) = answer.into_parts();
    Ok(ServiceResponse::new(request, refusal).map_into_right_body())
}

/// What bodies of requests are sent as files, whatever kind they say they are.
fn is_file(path: &str) -> bool {
    ["/import", "/look"].iter().any(|end| path.ends_with(end))
        || ["/api/drawings", "/api/meshes", "/api/typefaces"].contains(&path)
}

/// Ends requests of which the rest does not come, and marks those that can be sent again by what they say. Files have longer,
/// and are marked when they have arrived ([`take_in`](super::upload::take_in)).
pub async fn in_time(
    mut request: ServiceRequest,
    next: Next<impl MessageBody>,
) -> Result<ServiceResponse<impl MessageBody>, Error> {
    let kind = request.headers().get(header::CONTENT_TYPE);
    let is_form = kind.is_some_and(|kind| {
        let kind = kind.as_bytes();
        kind.starts_with(b"application/json") || kind.starts_with(b"application/x-www-form")
    });
    if is_form && !is_file(request.path()) {
        let mut payload = Box::pin(request.take_payload().take_until(sleep(LONGEST)));
        if request.headers().contains_key(REQUEST) {
            let mut body = Vec::new();
            let mut end = None;
            while let (None, true) = (&end, body.len() <= MOST_JSON) {
                match payload.next().await {
                    Some(Ok(part)) => body.extend_from_slice(&part),
                    Some(Err(error)) => end = Some(Err(error)),
                    None => break,
                }
            }
            request.extensions_mut().insert(Content(content_id("", &body)));
            // What is too long or does not arrive whole is refused where it is read.
            let whole = stream::iter([Ok(Bytes::from(body))].into_iter().chain(end));
            request.set_payload(Payload::from(Box::pin(whole.chain(payload)) as Parts));
        } else {
            request.set_payload(Payload::from(payload as Parts));
        }
    }
    next.call(request).await
}

fn refused(message: String) -> Error {
    let response = WebError::from(Trouble::Bad(message.clone())).error_response();
    InternalError::from_response(message, response).into()
}

/// JSON that does not read.
pub fn bad_json(error: JsonPayloadError, _: &HttpRequest) -> Error {
    let message = match error {
        JsonPayloadError::OverflowKnownLength { limit, .. }
        | JsonPayloadError::Overflow { limit } => {
            format!("The request has more than {} kB, the most that are read.", limit >> 10)
        }
        JsonPayloadError::ContentType => {
            "The request has to be sent as JSON (content type application/json).".to_owned()
        }
        JsonPayloadError::Deserialize(error) => {
            let (line, column) = (error.line(), error.column());
            let what = match error.classify() {
                // What is wrong with which part of it; types that are ours say so in words of their own.
                Category::Data => {
                    let said = error.to_string();
                    let end = said.rfind(" at line ").unwrap_or(said.len());
                    let said = misfit_in_words(&said[..end]).unwrap_or_else(|| {
                        format!("It asks for what there is not: {}.", &said[..end])
                    });
                    return refused(format!("The request cannot be carried out. {said}"));
                }
                Category::Eof => "ends too early",
                _ => "is no JSON",
            };
            format!("The request {what}, at line {line}, character {column}.")
        }
        _ => "The request did not arrive whole.".to_owned(),
    };
    refused(message)
}

/// An address whose query does not read.
pub fn bad_query(error: QueryPayloadError, request: &HttpRequest) -> Error {
    tracing::debug!("{}: {error}", request.path());
    refused("What is asked for behind the question mark of the address cannot be read.".to_owned())
}

/// An address a part of which does not read.
pub fn bad_path(error: PathError, request: &HttpRequest) -> Error {
    tracing::debug!("{}: {error}", request.path());
    refused("This address cannot be read.".to_owned())
}
