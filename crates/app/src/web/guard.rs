//! What stands between the network and the handlers.

use super::error::WebError;
use actix_web::body::MessageBody;
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::http::header::{self, HeaderName, HeaderValue};
use actix_web::middleware::Next;

const POLICY: &str = "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data: blob:; \
                      font-src 'self'; connect-src 'self'; form-action 'self'; base-uri 'none'; \
                      frame-ancestors 'none'";

/// Puts the security headers on every answer.
pub async fn headers(
    request: ServiceRequest,
    next: Next<impl MessageBody>,
) -> Result<ServiceResponse<impl MessageBody>, actix_web::Error> {
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
    Ok(response)
}

/// Refuses changes that another site's page asks for, and, on a loopback address, requests that
/// name another host (a name made to point here).
///
/// Browsers send `Sec-Fetch-Site` or at least `Origin` with every such request and pages cannot
/// forge either; programs that send neither carry nobody's trust with them.
pub async fn same_origin(
    request: ServiceRequest,
    next: Next<impl MessageBody>,
) -> Result<ServiceResponse<impl MessageBody>, actix_web::Error> {
    let host = request.connection_info().host().to_owned();
    let text = |name: &str| request.headers().get(name).and_then(|value| value.to_str().ok());
    let changes = !request.method().is_safe();
    let foreign_fetch =
        text("sec-fetch-site").is_some_and(|site| !["same-origin", "none"].contains(&site));
    let foreign_origin = text("origin").is_some_and(|origin| {
        origin.split_once("://").is_none_or(|(_, origin_host)| origin_host != host)
    });
    let is_loopback = request.app_config().local_addr().ip().is_loopback();
    let name = host.rsplit_once(':').map_or(host.as_str(), |(name, _)| name);
    let foreign_host = is_loopback && !["localhost", "127.0.0.1", "[::1]"].contains(&name);
    if foreign_host || (changes && (foreign_fetch || foreign_origin)) {
        return Err(WebError::Foreign.into());
    }
    next.call(request).await
}
