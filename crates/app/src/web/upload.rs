//! Files that are sent: taken in bit by bit, into a temporary file and not into memory, no more than a
//! few at once and of one person, none for longer than two minutes and none slower than it must be.

use super::error::WebError;
use super::studio::Studio;
use crate::service::{Trouble, Viewer};
use actix_web::web;
use futures_util::StreamExt;
use kalotype_core::content::Arriving;
use std::io::{Read, Seek, SeekFrom, Write};
use std::time::{Duration, Instant};
use tokio::time::timeout;

/// How long a file may take to arrive.
const LONGEST: Duration = Duration::from_secs(120);

/// How long nothing may arrive of it.
const LONGEST_PAUSE: Duration = Duration::from_secs(10);

/// How many bytes have to arrive in a second, after the first few: a quarter of what the slowest line carries that is
/// still in use (common practice, no source).
const LEAST_SPEED: f64 = 4096.0;
const FIRST: Duration = Duration::from_secs(5);

/// A file that has arrived.
pub struct Uploaded {
    file: std::fs::File,
    mark: String,
}

impl Uploaded {
    /// What is in it.
    ///
    /// # Errors
    /// Where it cannot be read back.
    pub fn bytes(mut self) -> Result<Vec<u8>, Trouble> {
        let mut bytes = Vec::new();
        let read =
            self.file.seek(SeekFrom::Start(0)).and_then(|_| self.file.read_to_end(&mut bytes));
        read.map_err(|error| Trouble::Bad(format!("The file could not be read back: {error}.")))?;
        Ok(bytes)
    }

    /// What it is known again by: made of its content.
    pub fn mark(&self) -> &str {
        &self.mark
    }
}

/// Takes a file in, of so many bytes at most. `what` names it: "mesh file", "font".
///
/// # Errors
/// Where it is too large, does not arrive, or too many files arrive at once.
pub async fn take_in(
    studio: &Studio,
    viewer: &Viewer,
    mut body: web::Payload,
    most: usize,
    what: &str,
) -> Result<Uploaded, WebError> {
    let bad = |message: String| WebError::from(Trouble::Bad(message));
    let _place = studio.upload(viewer).await?;
    let work = async {
        let kept = |error: std::io::Error| bad(format!("The file could not be taken in: {error}."));
        let mut file = tempfile::tempfile().map_err(kept)?;
        let mut size = 0;
        let mut content = Arriving::default();
        let since = Instant::now();
        loop {
            let next = timeout(LONGEST_PAUSE, body.next()).await;
            let Some(part) = next.map_err(|_| bad("The file stopped arriving.".to_owned()))? else {
                return Ok(Uploaded { file, mark: content.id("") });
            };
            let part = part.map_err(|_| bad("The file did not arrive whole.".to_owned()))?;
            size += part.len();
            if size > most {
                let most = most >> 20;
                return Err(bad(format!("A {what} may have {most} MB at most.")));
            }
            content.add(&part);
            file.write_all(&part).map_err(kept)?;
            let taken = since.elapsed().saturating_sub(FIRST).as_secs_f64();
            if (size as f64) < LEAST_SPEED * taken {
                return Err(bad("The file arrived too slowly.".to_owned()));
            }
        }
    };
    match timeout(LONGEST, work).await {
        Ok(taken) => taken,
        Err(_) => Err(bad("The file took longer than two minutes to arrive.".to_owned())),
    }
}
