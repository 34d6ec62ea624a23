//! Who asks: a word for the person, kept in a cookie, and the word of the request.

use super::error::WebError;
use crate::service::{LONGEST_WORD, Trouble, Viewer};
use actix_web::dev::Payload;
use actix_web::http::header;
use actix_web::{FromRequest, HttpMessage, HttpRequest};
use kalotype_core::content::content_id;
use std::future::{Ready, ready};

/// The cookie that holds the word for a person. It says nothing of who that is.
const COOKIE: &str = "kalotype-person";

/// The header that holds the word of a page: of one tab of a browser, as long as it is open.
const PAGE: &str = "kalotype-page";

/// The header that holds the word of a request.
pub(super) const REQUEST: &str = "kalotype-request";

/// What a request says, as a mark made of its content.
pub(super) struct Content(pub String);

/// The word for the person of a request, if it brings one.
pub(super) fn person_of(request: &HttpRequest) -> Option<String> {
    let cookies = request.headers().get_all(header::COOKIE);
    let pairs = cookies.filter_map(|value| value.to_str().ok()).flat_map(|text| text.split(';'));
    let named = pairs.filter_map(|pair| pair.trim().split_once('='));
    let mut words = named.filter(|(name, _)| *name == COOKIE).map(|(_, word)| word);
    words.find(|word| uuid::Uuid::try_parse(word).is_ok()).map(str::to_owned)
}

/// The cookie that gives somebody a word.
pub(super) fn new_cookie() -> String {
    const FIVE_YEARS: u32 = 5 * 365 * 24 * 3600;
    let word = uuid::Uuid::new_v4().simple();
    format!("{COOKIE}={word}; Path=/; Max-Age={FIVE_YEARS}; HttpOnly; SameSite=Lax")
}

impl FromRequest for Viewer {
    type Error = WebError;
    type Future = Ready<Result<Self, WebError>>;

    fn from_request(request: &HttpRequest, _: &mut Payload) -> Self::Future {
        let text = |name| request.headers().get(name).and_then(|value| value.to_str().ok());
        let word = text(REQUEST);
        let page = text(PAGE).filter(|word| word.len() <= LONGEST_WORD).unwrap_or_default();
        // One that could not be kept would be carried out twice.
        if word.is_some_and(|word| word.len() > LONGEST_WORD) {
            let message =
                format!("The word of a request ({REQUEST}) has at most {LONGEST_WORD} bytes.");
            return ready(Err(Trouble::Bad(message).into()));
        }
        let person = person_of(request).unwrap_or_default();
        // The same word of somebody else, at another address or with something else to say, is another request.
        let content = request.extensions().get::<Content>().map(|Content(mark)| mark.clone());
        let word = word.filter(|word| !word.is_empty()).map(|word| {
            let (address, content) = (request.uri().to_string(), content.unwrap_or_default());
            let said = [&person, word, &address, &content];
            content_id("", said.join("\n").as_bytes())
        });
        ready(Ok(Viewer { person, page: page.to_owned(), request: word }))
    }
}
