//! What stands between the network and the handlers.

use super::access::Access;
use super::error::WebError;
use super::viewer::{new_cookie, person_of};
use actix_web::body::{EitherBody, MessageBody};
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::http::header::{self, HeaderName, HeaderValue};
use actix_web::middleware::Next;
use actix_web::{Error, ResponseError, web};

const POLICY: &str = "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data: blob:; \
                      font-src 'self'; connect-src 'self'; form-action 'self'; base-uri 'none'; \
                      frame-ancestors 'none'";

/// Puts the security headers on every answer, keeps answers of the API out of caches, and gives whoever
/// opens a page a word to be known by.
pub async fn headers(
    request: ServiceRequest,
    next: Next<impl MessageBody>,
) -> Result<ServiceResponse<impl MessageBody>, Error> {
    let is_new = person_of(request.request()).is_none();
    let is_api = request.path().starts_with("/api/");
    let mut response = next.call(request).await?;
    let headers = response.headers_mut();
    for (name, value) in [
        (header::CONTENT_SECURITY_POLICY, POLICY),
        (header::X_CONTENT_TYPE_OPTIONS, "nosniff"),
        (header::REFERRER_POLICY, "same-origin"),
        (HeaderName::from_static("cross-origin-opener-policy"), "same-origin"),
    ] {
        headers.insert(name, HeaderValue::from_static(value));
    }
    if is_api && !headers.contains_key(header::CACHE_CONTROL) {
        headers.insert(header::CACHE_CONTROL, HeaderValue::from_static("no-store"));
    }
    let is_page = headers
        .get(header::CONTENT_TYPE)
        .is_some_and(|kind| kind.as_bytes().starts_with(b"text/html"));
    if is_new
        && is_page
        && let Ok(cookie) = HeaderValue::from_str(&new_cookie())
    {
        headers.append(header::SET_COOKIE, cookie);
    }
    Ok(response)
}

/// Refuses changes that another site's page asks for, and requests that name a host nobody gave this
/// machine (a name made to point here).
///
/// Browsers send `Sec-Fetch-Site` or at least `Origin` with every such request and pages cannot
/// forge either; programs that send neither carry nobody's trust with them. The host is the one the
/// request itself names, whatever it says it was forwarded for.
pub async fn same_origin(
    request: ServiceRequest,
    next: Next<impl MessageBody>,
) -> Result<ServiceResponse<EitherBody<impl MessageBody>>, Error> {
    let text = |name: &str| request.headers().get(name).and_then(|value| value.to_str().ok());
    let own = request.uri().authority().map(|authority| authority.as_str().to_owned());
    let host = own.or_else(|| text("host").map(str::to_owned)).unwrap_or_default();
    let changes = !request.method().is_safe();
    let foreign_fetch =
        text("sec-fetch-site").is_some_and(|site| !["same-origin", "none"].contains(&site));
    let foreign_origin = text("origin").is_some_and(|origin| {
        origin.split_once("://").is_none_or(|(_, origin_host)| origin_host != host)
    });
    let listening = request.app_config().local_addr().ip();
    let access = request.app_data::<web::Data<Access>>();
    let foreign_host = !access.is_some_and(|access| access.is_known(&host, listening));
    if foreign_host || (changes && (foreign_fetch || foreign_origin)) {
        let refusal = WebError::Foreign.error_response();
        return Ok(request.into_response(refusal).map_into_right_body());
    }
    Ok(next.call(request).await?.map_into_left_body())
}
