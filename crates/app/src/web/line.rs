//! Who hangs up stops what was asked: nobody reads the answer.
//!
//! A browser that is closed, or a page that is left, closes its connection in good order, and nothing is sent on it
//! that would fail. So it is looked at whether it is still open while something is looked up or worked out. What
//! changes something is carried out to its end: what was typed last, before the page was left, is kept.

use super::error::WebError;
use actix_web::Error;
use actix_web::body::MessageBody;
use actix_web::dev::{Extensions, ServiceRequest, ServiceResponse};
use actix_web::middleware::Next;
use futures_util::future::{Either, select};
use std::any::Any;
use std::io::ErrorKind;
use std::net::TcpStream;
use std::os::fd::AsFd;
use std::pin::pin;
use std::sync::Arc;
use std::time::Duration;
use tokio::time::sleep;

/// How often is looked whether a connection is still open.
const PAUSE: Duration = Duration::from_millis(200);

/// The connection a request came on.
#[derive(Clone)]
struct Line(Arc<TcpStream>);

/// Remembers a connection, so that it can be looked at.
pub fn remember(connection: &dyn Any, data: &mut Extensions) {
    let stream = connection.downcast_ref::<actix_web::rt::net::TcpStream>();
    // Without one more handle to it, it is not looked at.
    let own = stream.and_then(|stream| stream.as_fd().try_clone_to_owned().ok());
    if let Some(own) = own {
        data.insert(Line(Arc::new(TcpStream::from(own))));
    }
}

impl Line {
    /// Whether the other side has closed it. What it has sent stays to be read.
    fn is_closed(&self) -> bool {
        match self.0.peek(&mut [0]) {
            Ok(count) => count == 0,
            Err(error) => !matches!(error.kind(), ErrorKind::WouldBlock | ErrorKind::Interrupted),
        }
    }

    async fn closed(self) {
        loop {
            sleep(PAUSE).await;
            if self.is_closed() {
                return;
            }
        }
    }
}

/// Stops what is looked up or worked out for a connection that is closed.
pub async fn ends_with_its_line(
    request: ServiceRequest,
    next: Next<impl MessageBody>,
) -> Result<ServiceResponse<impl MessageBody>, Error> {
    let changes = !request.method().is_safe() && !request.path().ends_with("/look");
    let line = request.request().conn_data::<Line>().filter(|_| !changes).cloned();
    let Some(line) = line else { return next.call(request).await };
    match select(pin!(next.call(request)), pin!(line.closed())).await {
        Either::Left((answer, _)) => answer,
        Either::Right(_) => Err(WebError::Gone.into()),
    }
}
