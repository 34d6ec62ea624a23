//! Who may ask at all, where the application can be reached from other machines.
//!
//! On a loopback address only this machine reaches it, and nothing is asked. Anywhere else a pass-phrase is
//! asked for once in every browser, unless whoever started it said that it is open; and a host must be
//! named by its number or by a name that was given at the start, so that no page of another site can have
//! its own name point here.

use super::error::{WebError, page_of};
use actix_web::body::{EitherBody, MessageBody};
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::http::{Method, StatusCode, header};
use actix_web::middleware::Next;
use actix_web::{Error, HttpResponse, ResponseError, post, web};
use askama::Template;
use serde::Deserialize;
use std::net::IpAddr;
use std::sync::{Arc, Mutex};
use std::time::{Duration, Instant};

/// The cookie of a browser that knew the pass-phrase.
const COOKIE: &str = "kalotype-pass";

/// Wrong pass-phrases that are answered in a while; further ones wait for it to pass.
const TRIES: usize = 10;
const WHILE: Duration = Duration::from_secs(60);

/// Who may ask.
#[derive(Clone, Default)]
pub struct Access {
    names: Arc<[String]>,
    lock: Option<Arc<Lock>>,
}

struct Lock {
    phrase: String,
    /// What the cookie says; made anew with every start.
    pass: String,
    wrong: Mutex<Vec<Instant>>,
}

/// Why nobody could be let in.
#[derive(Debug, PartialEq, Eq, thiserror::Error)]
#[error("A pass-phrase needs at least {SHORTEST} characters.")]
pub struct TooShort;

/// The fewest characters of a pass-phrase.
const SHORTEST: usize = 8;

impl Access {
    /// By any of these names, besides numbers, and with a pass-phrase if one is given.
    ///
    /// # Errors
    /// [`TooShort`] for a pass-phrase that is soon guessed.
    pub fn new(names: &[String], phrase: Option<String>) -> Result<Self, TooShort> {
        if phrase.as_ref().is_some_and(|phrase| phrase.chars().count() < SHORTEST) {
            return Err(TooShort);
        }
        let names = names.iter().map(|name| name.to_ascii_lowercase()).collect();
        let lock = phrase.map(|phrase| {
            let pass =
                format!("{}{}", uuid::Uuid::new_v4().simple(), uuid::Uuid::new_v4().simple());
            Arc::new(Lock { phrase, pass, wrong: Mutex::default() })
        });
        Ok(Access { names, lock })
    }

    /// Whether a request may name a host so: this machine by its own names; elsewhere any number, which
    /// no name can be made to be, and the names that were given.
    pub(super) fn is_known(&self, host: &str, listening: IpAddr) -> bool {
        let name = match host.rsplit_once(':') {
            Some((name, port)) if port.bytes().all(|byte| byte.is_ascii_digit()) => name,
            _ => host,
        };
        let number = name.trim_start_matches('[').trim_end_matches(']').parse::<IpAddr>();
        let is_name = |own: &String| *own == name.to_ascii_lowercase();
        match number {
            Ok(number) if listening.is_loopback() => number.is_loopback(),
            Ok(_) => true,
            Err(_) => name == "localhost" || self.names.iter().any(is_name),
        }
    }
}

impl Lock {
    fn is_open_to(&self, request: &ServiceRequest) -> bool {
        let cookies = request.headers().get_all(header::COOKIE);
        let texts = cookies.filter_map(|value| value.to_str().ok());
        let mut pairs = texts.flat_map(|text| text.split(';')).map(str::trim);
        pairs.any(|pair| {
            pair.split_once('=')
                .is_some_and(|(name, word)| name == COOKIE && same(word, &self.pass))
        })
    }

    /// Whether a pass-phrase is right; nothing where too many were wrong of late.
    fn tries(&self, phrase: &str) -> Option<bool> {
        let mut wrong = self.wrong.lock().unwrap_or_else(|poisoned| poisoned.into_inner());
        wrong.retain(|when| when.elapsed() < WHILE);
        if wrong.len() >= TRIES {
            return None;
        }
        let is_right = same(phrase, &self.phrase);
        if !is_right {
            wrong.push(Instant::now());
        }
        Some(is_right)
    }
}

/// Whether two texts are the same, in a time that does not tell where they differ.
fn same(one: &str, other: &str) -> bool {
    let (one, other) = (one.as_bytes(), other.as_bytes());
    let differ = one.iter().zip(other).fold(0, |differ, (a, b)| differ | (a ^ b));
    one.len() == other.len() && differ == 0
}

#[derive(Template)]
#[template(path = "enter.html")]
struct EnterPage<'a> {
    message: &'a str,
}

fn enter_page(status: StatusCode, message: &str) -> HttpResponse {
    page_of(status, &EnterPage { message })
}

/// Asks browsers that have not given the pass-phrase for it, and refuses everything else of theirs but
/// styles and fonts.
pub async fn gate(
    request: ServiceRequest,
    next: Next<impl MessageBody>,
) -> Result<ServiceResponse<EitherBody<impl MessageBody>>, Error> {
    let access = request.app_data::<web::Data<Access>>().cloned();
    let lock = access.as_ref().and_then(|access| access.lock.as_deref());
    let is_free = request.path() == "/enter" || request.path().starts_with("/assets/");
    if is_free || lock.is_none_or(|lock| lock.is_open_to(&request)) {
        return Ok(next.call(request).await?.map_into_left_body());
    }
    let is_page = request.method() == Method::GET && !request.path().starts_with("/api/");
    let refusal = if is_page {
        enter_page(StatusCode::UNAUTHORIZED, "")
    } else {
        WebError::Locked.error_response()
    };
    Ok(request.into_response(refusal).map_into_right_body())
}

/// What the form says.
#[derive(Deserialize)]
pub struct Entering {
    phrase: String,
}

/// Lets a browser in that knows the pass-phrase.
#[post("/enter")]
pub async fn enter(access: web::Data<Access>, form: web::Form<Entering>) -> HttpResponse {
    let home = || {
        let mut answer = HttpResponse::SeeOther();
        answer.insert_header((header::LOCATION, "/pieces"));
        answer
    };
    let Some(lock) = &access.lock else { return home().finish() };
    match lock.tries(&form.phrase) {
        Some(true) => {
            let cookie = format!("{COOKIE}={}; Path=/; HttpOnly; SameSite=Lax", lock.pass);
            home().insert_header((header::SET_COOKIE, cookie)).finish()
        }
        Some(false) => enter_page(
            StatusCode::UNAUTHORIZED,
            "That is not it. Whoever started Kalotype here knows the pass-phrase.",
        ),
        None => enter_page(
            StatusCode::TOO_MANY_REQUESTS,
            "That was wrong too often. Wait a minute and try again.",
        ),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn hosts_are_numbers_or_names_that_were_given() {
        let access = Access::new(&["Shop.local".into()], None).unwrap();
        let all: IpAddr = "0.0.0.0".parse().unwrap();
        let own: IpAddr = "127.0.0.2".parse().unwrap();
        for (host, everywhere, here) in [
            ("localhost:7230", true, true),
            ("127.0.0.1:7230", true, true),
            ("127.0.0.2", true, true),
            ("[::1]:7230", true, true),
            ("192.168.4.20:7230", true, false),
            ("shop.local:7230", true, true),
            ("SHOP.LOCAL", true, true),
            ("rebound.example:7230", false, false),
            ("127.0.0.1.rebound.example", false, false),
            ("", false, false),
        ] {
            assert_eq!(access.is_known(host, all), everywhere, "{host}");
            assert_eq!(access.is_known(host, own), here, "{host}");
        }
    }

    #[test]
    fn guessing_is_slow() {
        let access = Access::new(&[], Some("tide watch 7".into())).unwrap();
        let lock = access.lock.unwrap();
        for _ in 0..TRIES {
            assert_eq!(lock.tries("tide watch 8"), Some(false));
        }
        assert_eq!(lock.tries("tide watch 7"), None);
        assert!(Access::new(&[], Some("short".into())).is_err());
    }
}
