//! Who may ask at all, where the application can be reached from other machines.
//!
//! On a loopback address only this machine reaches it, and nothing is asked. Anywhere else a pass-phrase is
//! asked for once in every browser, unless whoever started it said that it is open; and a host must be
//! named by its number or by a name that was given at the start, so that no page of another site can have
//! its own name point here.

use super::error::{WebError, page_of};
use super::pieces::html;
use actix_web::body::{EitherBody, MessageBody};
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::http::{Method, StatusCode, header};
use actix_web::middleware::Next;
use actix_web::{Error, HttpRequest, HttpResponse, ResponseError, get, post, web};
use askama::Template;
use serde::Deserialize;
use std::collections::HashMap;
use std::net::IpAddr;
use std::sync::{Arc, Mutex, MutexGuard, PoisonError, RwLock};
use std::time::{Duration, Instant};
use tokio::sync::Mutex as Turn;
use tokio::time::sleep;

/// The cookie of a browser that knew the pass-phrase.
const COOKIE: &str = "kalotype-pass";

/// Wrong pass-phrases from one address in a while after which further ones are looked at slowly, one after the other.
/// Others are not slowed by it, and the right one is let in even then.
const TRIES: usize = 10;
const WHILE: Duration = Duration::from_secs(60);
const SLOWED: Duration = Duration::from_secs(2);

/// How many may wait to be looked at slowly from one address, and from how many addresses wrong ones are remembered.
const MOST_SLOWED: usize = 8;
const MOST_ADDRESSES: usize = 4096;

/// Who may ask.
#[derive(Clone, Default)]
pub struct Access {
    names: Arc<[String]>,
    lock: Option<Arc<Lock>>,
}

struct Lock {
    phrase: String,
    /// What the cookie says; made anew with every start, and when all browsers are sent out.
    pass: RwLock<String>,
    tries: Mutex<HashMap<IpAddr, Tries>>,
}

/// What was tried from one address.
#[derive(Default)]
struct Tries {
    wrong: Vec<Instant>,
    turn: Arc<Turn<()>>,
}

fn new_pass() -> String {
    format!("{}{}", uuid::Uuid::new_v4().simple(), uuid::Uuid::new_v4().simple())
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
            Arc::new(Lock { phrase, pass: RwLock::new(new_pass()), tries: Mutex::default() })
        });
        Ok(Access { names, lock })
    }

    /// Whether a pass-phrase is asked for.
    pub(super) fn asks(&self) -> bool {
        self.lock.is_some()
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
        let pass = self.pass();
        pairs.any(|pair| {
            pair.split_once('=').is_some_and(|(name, word)| name == COOKIE && same(word, &pass))
        })
    }

    fn pass(&self) -> String {
        self.pass.read().unwrap_or_else(PoisonError::into_inner).clone()
    }

    /// Sends every browser out that was let in.
    fn send_all_out(&self) {
        *self.pass.write().unwrap_or_else(PoisonError::into_inner) = new_pass();
    }

    /// Whether a pass-phrase that is tried from an address is right; nothing where too many wait there already.
    async fn is_right(&self, phrase: &str, from: IpAddr) -> Option<bool> {
        if let Some(turn) = self.slowed(from) {
            if Arc::strong_count(&turn) > MOST_SLOWED + 1 {
                return None;
            }
            let _turn = turn.lock_owned().await;
            sleep(SLOWED).await;
            return Some(self.looks_at(phrase, from));
        }
        Some(self.looks_at(phrase, from))
    }

    fn tries(&self) -> MutexGuard<'_, HashMap<IpAddr, Tries>> {
        self.tries.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Whose turn it is at an address from which too many were wrong of late.
    fn slowed(&self, from: IpAddr) -> Option<Arc<Turn<()>>> {
        let mut tries = self.tries();
        tries.values_mut().for_each(|own| own.wrong.retain(|when| when.elapsed() < WHILE));
        tries.retain(|_, own| !own.wrong.is_empty() || Arc::strong_count(&own.turn) > 1);
        let own = tries.get(&from)?;
        (own.wrong.len() >= TRIES).then(|| Arc::clone(&own.turn))
    }

    fn looks_at(&self, phrase: &str, from: IpAddr) -> bool {
        let is_right = same(phrase, &self.phrase);
        if !is_right {
            let mut tries = self.tries();
            // With that many, somebody has addresses to spare; those that are known stay slow.
            if tries.len() < MOST_ADDRESSES || tries.contains_key(&from) {
                let wrong = &mut tries.entry(from).or_default().wrong;
                wrong.push(Instant::now());
                tracing::warn!("a wrong pass-phrase from {from}, {} in a minute", wrong.len());
            }
        }
        is_right
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
pub async fn enter(
    access: web::Data<Access>,
    form: web::Form<Entering>,
    request: HttpRequest,
) -> HttpResponse {
    let home = || {
        let mut answer = HttpResponse::SeeOther();
        answer.insert_header((header::LOCATION, "/pieces"));
        answer
    };
    let Some(lock) = &access.lock else { return home().finish() };
    let from = request.peer_addr().map_or(IpAddr::from([0, 0, 0, 0]), |peer| peer.ip());
    match lock.is_right(&form.phrase, from).await {
        Some(true) => {
            let cookie = format!("{COOKIE}={}; Path=/; HttpOnly; SameSite=Lax", lock.pass());
            home().insert_header((header::SET_COOKIE, cookie)).finish()
        }
        Some(false) => enter_page(
            StatusCode::UNAUTHORIZED,
            "That is not it. Whoever started Kalotype here knows the pass-phrase.",
        ),
        None => enter_page(
            StatusCode::TOO_MANY_REQUESTS,
            "That was wrong too often from here. Wait a minute and try again.",
        ),
    }
}

#[derive(Template)]
#[template(path = "leave.html")]
struct LeavePage;

/// The page on which a browser is sent out again.
#[get("/leave")]
pub async fn leave_page() -> HttpResponse {
    html(&LeavePage)
}

/// Which browsers are to be asked for the pass-phrase again.
#[derive(Deserialize)]
pub struct Leaving {
    /// All of them, and not this one alone.
    #[serde(default)]
    all: bool,
}

/// Has this browser, or all of them, asked for the pass-phrase again.
#[post("/leave")]
pub async fn leave(access: web::Data<Access>, form: web::Form<Leaving>) -> HttpResponse {
    if let Some(lock) = access.lock.as_ref().filter(|_| form.all) {
        lock.send_all_out();
    }
    HttpResponse::SeeOther()
        .insert_header((header::LOCATION, "/pieces"))
        .insert_header((
            header::SET_COOKIE,
            format!("{COOKIE}=; Path=/; Max-Age=0; HttpOnly; SameSite=Lax"),
        ))
        .finish()
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

    /// Whoever guesses waits, and keeps nobody out: not at other addresses, and at their own only for a while.
    #[actix_web::test]
    async fn guessing_is_slow_and_the_right_one_always_enters() {
        let access = Access::new(&[], Some("tide watch 7".into())).unwrap();
        let lock = access.lock.unwrap();
        let [guesser, owner] = [1, 2].map(|last| IpAddr::from([192, 168, 4, last]));
        for _ in 0..TRIES {
            assert_eq!(lock.is_right("tide watch 8", guesser).await, Some(false));
        }
        let soon = std::time::Duration::from_millis(200);
        assert_eq!(
            tokio::time::timeout(soon, lock.is_right("tide watch 7", owner)).await,
            Ok(Some(true))
        );
        assert!(tokio::time::timeout(soon, lock.is_right("tide watch 8", guesser)).await.is_err());
        let many = (0..MOST_SLOWED + 4).map(|_| lock.is_right("tide watch 8", guesser));
        let many = futures_util::future::join_all(many);
        let refused = async {
            let late = tokio::time::timeout(soon, lock.is_right("tide watch 7", guesser)).await;
            assert_eq!(late, Ok(None), "too many wait there already");
        };
        let _ = tokio::time::timeout(soon, async { tokio::join!(many, refused) }).await;
        assert_eq!(lock.is_right("tide watch 7", guesser).await, Some(true));
        assert!(Access::new(&[], Some("short".into())).is_err());
    }

    #[test]
    fn all_browsers_are_sent_out_at_once() {
        let access = Access::new(&[], Some("tide watch 7".into())).unwrap();
        let lock = access.lock.unwrap();
        let request = |pass: &str| {
            actix_web::test::TestRequest::get()
                .insert_header((header::COOKIE, format!("{COOKIE}={pass}")))
                .to_srv_request()
        };
        let before = lock.pass();
        assert!(lock.is_open_to(&request(&before)));
        lock.send_all_out();
        assert!(!lock.is_open_to(&request(&before)) && lock.is_open_to(&request(&lock.pass())));
    }
}
