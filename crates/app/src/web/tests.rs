//! The requests of the page as they are made, without a network between.

use super::access::{self, Access};
use super::{guard, routes, words};
use crate::service::{Readers, Service};
use crate::web::studio::{BENCHES_OF_A_CORE, Studio};
use actix_web::App;
use actix_web::body::MessageBody;
use actix_web::dev::ServiceResponse;
use actix_web::http::header::{self, HeaderName};
use actix_web::middleware::from_fn;
use actix_web::test::{TestRequest, call_service, init_service, read_body};
use actix_web::web;
use kalotype_core::halt::Halt;
use kalotype_store::Store;
use serde_json::{Value, json};
use std::time::Duration;
use tempfile::TempDir;

const ASE: &str = "0b2f6e3f0f9c4a66a3c1d1a6a3e5b001";
const GUL: &str = "0b2f6e3f0f9c4a66a3c1d1a6a3e5b002";

/// An application over a database of its own.
macro_rules! application {
    ($folder:expr) => {
        application!($folder, Access::default())
    };
    ($folder:expr, $access:expr) => {{
        let studio = studio(&$folder);
        application!(of studio, $access)
    }};
    (of $studio:ident, $access:expr) => {{
        let app = App::new()
            .app_data(web::Data::new($access))
            .wrap(from_fn(access::gate))
            .wrap(from_fn(guard::same_origin))
            .wrap(from_fn(words::in_time))
            .wrap(from_fn(words::in_words))
            .wrap(from_fn(guard::headers))
            .configure(|config| routes(config, &$studio));
        init_service(app).await
    }};
}

fn studio(folder: &TempDir) -> Studio {
    let store = Store::open(&folder.path().join("test.db")).unwrap();
    Studio::new(Service::new(store, Readers::Here).unwrap())
}

/// A request of somebody, with the word of the request.
fn asks(person: &str, word: &str, path: &str) -> TestRequest {
    TestRequest::post()
        .uri(path)
        .insert_header((header::HOST, "localhost:7230"))
        .insert_header((header::COOKIE, format!("kalotype-person={person}")))
        .insert_header((HeaderName::from_static("kalotype-request"), word))
}

/// A page or an answer somebody new looks at.
fn opens(path: &str) -> TestRequest {
    TestRequest::get().uri(path).insert_header((header::HOST, "localhost"))
}

/// The JSON an answer begins with, or all of it where it is nothing but JSON.
async fn told(response: ServiceResponse<impl MessageBody>) -> (u16, Value) {
    let status = response.status().as_u16();
    let body = read_body(response).await;
    let is_encoded = !matches!(body.first(), Some(b'{' | b'[')) && body.len() > 4;
    let json = if is_encoded {
        let length = u32::from_le_bytes(body[..4].try_into().unwrap()) as usize;
        &body[4..4 + length]
    } else {
        &body[..]
    };
    (status, serde_json::from_slice(json).unwrap_or_default())
}

macro_rules! ask {
    ($app:expr, $request:expr) => {
        told(call_service($app, $request.to_request()).await).await
    };
}

/// Makes a piece and answers the address of its requests.
macro_rules! new_piece {
    ($app:expr) => {{
        let new = json!({ "name": "Berth 7", "units": "mm" });
        let (status, made) = ask!($app, asks(ASE, &uuid::Uuid::new_v4().to_string(), "/api/pieces").set_json(new));
        assert_eq!(status, 201);
        format!("/api/pieces/{}", made["id"].as_str().unwrap())
    }};
}

fn set(field: &str, value: impl Into<Value>) -> Value {
    json!({ "set": { "target": "component-1/blank", "field": field, "value": value.into() } })
}

fn blank(view: &Value) -> &Value {
    &view["piece"]["components"][0]["blank"]["plate"]
}

#[actix_web::test]
async fn a_request_whose_answer_was_lost_is_carried_out_once() {
    let folder = tempfile::tempdir().unwrap();
    let app = &application!(folder);
    let path = new_piece!(app);
    let add = json!({ "edits": [{ "add": { "component": "component-1", "kind": "hole" } }], "revision": 1 });
    let mut answers = Vec::new();
    for _ in 0..2 {
        let edits = asks(ASE, "w-1", &format!("{path}/edits")).set_json(&add);
        let (status, view) = ask!(app, edits);
        assert_eq!(status, 200, "{view}");
        assert_eq!(view["components"][0]["elements"].as_array().unwrap().len(), 1);
        answers.push((view["revision"].clone(), view["added"].clone()));
    }
    assert_eq!(answers[0], answers[1]);
    assert_eq!(answers[0].1, "component-1/hole-1");
    for _ in 0..2 {
        let (status, view) = ask!(app, asks(ASE, "w-2", &format!("{path}/undo")));
        assert_eq!((status, view["components"][0]["elements"].as_array().unwrap().len()), (200, 0));
    }
}

/// A piece that was made, and whose answer was lost, is not made twice; nor is a copy or one from a starter.
#[actix_web::test]
async fn a_request_that_makes_a_piece_makes_one() {
    let folder = tempfile::tempdir().unwrap();
    let app = &application!(folder);
    let made = |word: &'static str, path: &str| {
        asks(ASE, word, path).set_json(json!({ "name": "Berth 7", "units": "mm" }))
    };
    let mut ids = Vec::new();
    for word in ["n-1", "n-1", "n-2"] {
        let (status, answer) = ask!(app, made(word, "/api/pieces"));
        assert_eq!(status, 201);
        ids.push(answer["id"].as_str().unwrap().to_owned());
    }
    assert!(ids[0] == ids[1] && ids[1] != ids[2]);
    let copy = format!("/api/pieces/{}/duplicate", ids[0]);
    let (_, first) = ask!(app, asks(ASE, "d-1", &copy));
    let (_, again) = ask!(app, asks(ASE, "d-1", &copy));
    assert_eq!(first["id"], again["id"]);
    assert_ne!(first["id"], json!(ids[0]));
    // A word too long to be kept is said, and nothing is made.
    let long = "w".repeat(65);
    let new = json!({ "name": "Berth 8", "units": "mm" });
    let (status, refusal) = ask!(app, asks(ASE, &long, "/api/pieces").set_json(&new));
    assert_eq!(status, 422, "{refusal}");
    assert!(refusal["message"].as_str().unwrap().contains("at most 64 bytes"), "{refusal}");
}

/// The same request makes one starter, one filament, one printer; the same word with something else to say, at another
/// address or of somebody else is another request.
#[actix_web::test]
async fn a_request_makes_one_of_whatever_it_makes() {
    let folder = tempfile::tempdir().unwrap();
    let app = &application!(folder);
    let path = new_piece!(app);
    let starter = json!({ "name": "Tag", "fronted": [
        { "target": "component-1/blank", "field": "width", "label": "How wide" }] });
    let (_, shipped) = ask!(app, opens("/api/printers"));
    let printer = |name: &str| {
        let mut printer = shipped[0].clone();
        printer["name"] = json!(name);
        printer
    };
    let filament = |name: &str| {
        json!({ "id": "", "name": name, "colour": "#8a8f98", "material": "PLA", "density": 1.24,
                "spool_price": 25, "spool_mass": 1000 })
    };
    let starters = format!("{path}/starter");
    for (address, one, other) in [
        (
            starters.as_str(),
            starter.clone(),
            json!({ "name": "Other", "fronted": starter["fronted"] }),
        ),
        ("/api/filaments", filament("Grey"), filament("Slate")),
        ("/api/printers", printer("Quay"), printer("Mole")),
    ] {
        let mut ids = Vec::new();
        for (person, said) in [(ASE, &one), (ASE, &one), (ASE, &other), (GUL, &one)] {
            let (status, made) = ask!(app, asks(person, "same-word", address).set_json(said));
            assert_eq!(status, 201, "{address}: {made}");
            ids.push(made["id"].as_str().unwrap().to_owned());
        }
        assert_eq!(ids[0], ids[1], "{address}");
        assert!(ids[1] != ids[2] && ids[2] != ids[3] && ids[1] != ids[3], "{address}");
    }
    let (_, printers) = ask!(app, opens("/api/printers"));
    assert_eq!(printers.as_array().unwrap().len(), 4);
}

/// Two people change two fields of a printer and of a filament, each from what they saw: both are kept. The same field of both is
/// said to the second, and so is one that is gone.
#[actix_web::test]
async fn fields_of_a_printer_and_of_a_filament_are_changed_one_by_one() {
    let folder = tempfile::tempdir().unwrap();
    let app = &application!(folder);
    let (_, shipped) = ask!(app, opens("/api/printers"));
    let (_, printer) = ask!(app, asks(ASE, "", "/api/printers").set_json(&shipped[0]));
    let (_, filaments) = ask!(app, opens("/api/filaments"));
    for (kind, row, one, other) in [
        ("printers", printer, ("bed.0", json!(180)), ("name", json!("Quay"))),
        ("filaments", filaments[0].clone(), ("density", json!(1.3)), ("name", json!("Gull"))),
    ] {
        let address = format!("/api/{kind}/{}", row["id"].as_str().unwrap());
        let seen = |field: &str| row.pointer(&format!("/{}", field.replace('.', "/"))).cloned();
        let change = |(field, value): &(&str, Value)| {
            let body = json!({ "field": field, "seen": seen(field), "value": value });
            asks(GUL, "", &address).set_json(body)
        };
        assert_eq!(ask!(app, change(&one)).0, 200);
        assert_eq!(ask!(app, change(&other)).0, 200);
        let (_, rows) = ask!(app, opens(&format!("/api/{kind}")));
        let rows = rows.as_array().unwrap();
        let kept = rows.iter().find(|kept| kept["id"] == row["id"]).unwrap();
        for (field, value) in [&one, &other] {
            let slot = kept.pointer(&format!("/{}", field.replace('.', "/"))).unwrap();
            let is_it = slot == value || slot.as_f64().is_some_and(|it| value.as_f64() == Some(it));
            assert!(is_it, "{kind} {field}: {slot}");
        }
        let (status, said) = ask!(app, change(&("name", json!("Tern"))));
        assert_eq!(status, 409, "{said}");
        assert!(said["message"].as_str().unwrap().contains("“name”"), "{said}");
        let (status, said) = ask!(app, change(&(one.0, json!("wide"))));
        assert_eq!(status, 409, "{said}");
        let late = json!({ "field": "name", "seen": "x", "value": "y" });
        let (status, _) = ask!(app, asks(ASE, "", &format!("/api/{kind}/none")).set_json(late));
        assert_eq!(status, 404);
    }
}

/// What does not fit is said in words of the application and not of the library that reads.
#[actix_web::test]
async fn what_a_request_lacks_is_said_in_words() {
    let folder = tempfile::tempdir().unwrap();
    let app = &application!(folder);
    for (address, body, word) in [
        ("/api/pieces", json!({ "units": "mm" }), "“name” is missing"),
        ("/api/pieces", json!({ "name": "x", "units": "ell" }), "“ell” is none of the choices"),
        ("/api/pieces", json!({ "name": 7, "units": "mm" }), "“7” stands where text belongs"),
        (
            "/api/pieces/several",
            json!({ "pieces": [], "put": "delete", "x": 1 }),
            "There is no “x”",
        ),
    ] {
        let (status, said) = ask!(app, asks(ASE, "", address).set_json(body));
        let said = said["message"].as_str().unwrap();
        assert!(status == 422 && said.contains(word), "{status} {said}");
        assert!(!["expected", "`", "invalid"].iter().any(|word| said.contains(word)), "{said}");
    }
}

#[actix_web::test]
async fn two_people_at_one_piece_keep_what_the_other_did() {
    let folder = tempfile::tempdir().unwrap();
    let app = &application!(folder);
    let path = new_piece!(app);
    let edits = format!("{path}/edits");
    let change = |person, word, edit: Value, revision: i32| {
        asks(person, word, &edits).set_json(json!({ "edits": [edit], "revision": revision }))
    };
    // Both begin from the first revision.
    assert_eq!(ask!(app, change(ASE, "a1", set("width", 80.0), 1)).0, 200);
    let (status, view) = ask!(app, change(GUL, "g1", set("height", 30.0), 1));
    assert_eq!(status, 200, "{view}");
    assert_eq!((&blank(&view)["width"], &blank(&view)["height"]), (&json!(80.0), &json!(30.0)));
    // What somebody has not seen yet is not written over.
    let (status, refusal) = ask!(app, change(GUL, "g2", set("width", 60.0), 1));
    assert_eq!(status, 409, "{refusal}");
    assert!(refusal["message"].as_str().unwrap().contains("width"), "{refusal}");
    // Each takes back what is theirs.
    let (status, view) = ask!(app, asks(ASE, "a2", &format!("{path}/undo")));
    assert_eq!(status, 200);
    assert_eq!((&blank(&view)["width"], &blank(&view)["height"]), (&json!(72.0), &json!(30.0)));
    assert_eq!((&view["can_undo"], &view["can_redo"]), (&json!(false), &json!(true)));
}

/// What a person lays by hand is laid once though the answer was lost, is taken back in one step, and is not written
/// over by somebody who has not seen it.
#[actix_web::test]
async fn bridges_are_laid_once_and_on_what_is_seen() {
    let folder = tempfile::tempdir().unwrap();
    let app = &application!(folder);
    let path = new_piece!(app);
    let target = "component-1/lettering-1";
    let set = |field, value| json!({ "set": { "target": target, "field": field, "value": value } });
    let begun = [
        json!({ "add": { "component": "component-1", "kind": "lettering" } }),
        set("lines.0.words", "NO"),
        set("relief", "through"),
        json!({ "turn": { "target": target, "field": "bridges", "into": "held" } }),
    ];
    let change = |person, word, edits: &[Value], revision: &Value| {
        let body = json!({ "edits": edits, "revision": revision });
        asks(person, word, &format!("{path}/edits")).set_json(body)
    };
    let act = |act| [json!({ "bridge": { "target": target, "act": act } })];
    let bridges = |view: &Value| {
        let all = view["components"][0]["elements"][0]["bridging"]["bridges"].as_array().cloned();
        let all = all.unwrap_or_default().into_iter();
        all.map(|one| (one["letter"].clone(), one["by_hand"].clone())).collect::<Vec<_>>()
    };
    let (status, view) = ask!(app, change(ASE, "b0", &begun, &json!(1)));
    let seen = view["revision"].clone();
    assert_eq!((status, bridges(&view)), (200, vec![(json!("O"), Value::Null)]), "{view}");
    for _ in 0..2 {
        let lay = act(json!({ "lay": {} }));
        let (status, view) = ask!(app, change(ASE, "b1", &lay, &seen));
        let hands = &view["piece"]["components"][0]["elements"][0]["kind"]["lettering"]["bridges"];
        assert_eq!((status, hands["by_hand"].as_array().unwrap().len()), (200, 1), "{view}");
    }
    let keep = act(json!({ "keep": { "bridge": 0 } }));
    let (status, refusal) = ask!(app, change(GUL, "b2", &keep, &seen));
    assert_eq!(status, 409, "{refusal}");
    let (status, view) = ask!(app, asks(ASE, "b3", &format!("{path}/undo")));
    assert_eq!((status, bridges(&view)), (200, vec![(json!("O"), Value::Null)]), "{view}");
    // What is not there, and what nobody can do.
    let gone = act(json!({ "take": { "bridge": 7 } }));
    let (status, refusal) = ask!(app, change(ASE, "b4", &gone, &view["revision"]));
    assert_eq!((status, &refusal["field"]), (422, &json!("bridges.by_hand")), "{refusal}");
    let nothing = act(json!({ "burn": { "bridge": 0 } }));
    let (status, refusal) = ask!(app, change(ASE, "b5", &nothing, &view["revision"]));
    assert_eq!(status, 422, "{refusal}");
    assert!(refusal["message"].as_str().unwrap().contains("bridge.act"), "{refusal}");
}

#[actix_web::test]
async fn what_does_not_fit_is_refused_where_it_is() {
    let folder = tempfile::tempdir().unwrap();
    let app = &application!(folder);
    let path = new_piece!(app);
    let edits = format!("{path}/edits");
    let refused = [
        (set("width", -1.0), 422, "component-1/blank", "width"),
        (set("width", 1e300), 422, "component-1/blank", "width"),
        (set("weight", 1.0), 422, "component-1/blank", "weight"),
        (json!({ "remove": { "target": "component-1/hole-9" } }), 422, "component-1/hole-9", ""),
        (json!({ "add": { "component": "lid", "kind": "hole" } }), 422, "lid", ""),
    ];
    for (number, (edit, code, target, field)) in refused.into_iter().enumerate() {
        let body = json!({ "edits": [set("thickness", 4.0), edit], "revision": 1 });
        let (status, said) = ask!(app, asks(ASE, &format!("r{number}"), &edits).set_json(body));
        assert_eq!(
            (status, &said["target"], &said["field"]),
            (code, &json!(target), &json!(field)),
            "{said}"
        );
    }
    for (body, where_) in [
        ("", ""),
        ("{", ""),
        ("[]", ""),
        (r#"{"edits":[{"paint":{}}]}"#, "paint"),
        (r#"{"edits":[{"remove":{"target":"a/b/c"}}]}"#, "remove.target: "),
        (r#"{"edits":[{"move":{"target":"component-1","by":1,"by":-1}}]}"#, "move.by: "),
        (r#"{"edits":[{"add-shape":["component-1","front","s",[0,0]]}]}"#, "add-shape: "),
        (
            r#"{"edits":[{"add-shape":{"component":"a","shape":"s","at":[0,null]}}]}"#,
            "add-shape.at[1]: ",
        ),
    ] {
        let request = asks(ASE, "bad", &edits)
            .insert_header((header::CONTENT_TYPE, "application/json"))
            .set_payload(body);
        let (status, said) = ask!(app, request);
        assert_eq!(status, 422, "{body}: {said}");
        let message = said["message"].as_str().unwrap();
        assert!(!message.is_empty() && message.contains(where_), "{body}: {message}");
    }
    let (status, _) =
        ask!(app, asks(ASE, "x", "/api/pieces/nothing/edits").set_json(json!({ "edits": [] })));
    assert_eq!(status, 404);
    let (_, view) = ask!(app, asks(ASE, "y", &format!("{path}/undo")));
    assert!(view["message"].is_string(), "nothing was done of any of them: {view}");
}

#[actix_web::test]
async fn refusals_have_the_headers_of_any_answer_and_strangers_change_nothing() {
    let folder = tempfile::tempdir().unwrap();
    let app = &application!(folder);
    let path = new_piece!(app);
    let foreign = [
        (header::ORIGIN, "http://elsewhere.example"),
        (HeaderName::from_static("sec-fetch-site"), "cross-site"),
        (HeaderName::from_static("sec-fetch-site"), "same-site"),
    ];
    for (name, value) in foreign {
        let request = asks(ASE, "f", &format!("{path}/undo")).insert_header((name, value));
        let response = call_service(app, request.to_request()).await;
        assert_eq!(response.status(), 403, "{value}");
        assert!(response.headers().contains_key(header::CONTENT_SECURITY_POLICY));
    }
    let page = call_service(app, opens(&path.replace("/api", "")).to_request()).await;
    let cookie = page.headers().get(header::SET_COOKIE).unwrap().to_str().unwrap();
    assert!(cookie.starts_with("kalotype-person=") && cookie.contains("HttpOnly"), "{cookie}");
    let view = call_service(app, opens(&path).to_request()).await;
    assert_eq!(view.headers().get(header::CACHE_CONTROL).unwrap(), "no-store");
    assert!(!view.headers().contains_key(header::SET_COOKIE));
}

#[actix_web::test]
async fn a_long_list_has_pages_and_every_piece_is_on_one() {
    let folder = tempfile::tempdir().unwrap();
    let app = &application!(folder);
    for _ in 0..61 {
        let _ = new_piece!(app);
    }
    let mut found = Vec::new();
    for (page, count) in [("", 60), ("?page=2", 1), ("?page=3", 0), ("?page=-7", 60)] {
        let request = opens(&format!("/pieces{page}"));
        let body = read_body(call_service(app, request.to_request()).await).await;
        let text = String::from_utf8_lossy(&body).into_owned();
        let ids = text.split("data-piece=\"").skip(1).map(|rest| rest[..36].to_owned());
        let ids: Vec<String> = ids.collect();
        assert_eq!(ids.len(), count, "{page}");
        assert_eq!(text.matches("72 × 24 × 3 mm").count(), count, "all have their size");
        if page.is_empty() || page == "?page=2" {
            found.extend(ids);
        }
    }
    found.sort();
    found.dedup();
    assert_eq!(found.len(), 61);
}

#[actix_web::test]
async fn several_pieces_go_together_or_not_at_all() {
    let folder = tempfile::tempdir().unwrap();
    let app = &application!(folder);
    let id = |address: String| address.trim_start_matches("/api/pieces/").to_owned();
    let (first, second) = (id(new_piece!(app)), id(new_piece!(app)));
    let ask = async |body: Value| {
        let request = asks(ASE, "w", "/api/pieces/several").set_json(body).to_request();
        call_service(app, request).await.status().as_u16()
    };
    let shown = async |query: &str| {
        let request = opens(&format!("/pieces{query}")).to_request();
        let response = call_service(app, request).await;
        assert_eq!(response.status(), 200, "{query}");
        let body = read_body(response).await;
        String::from_utf8_lossy(&body).matches("data-piece=\"").count()
    };
    let both = || json!([first, second]);
    for (body, status) in [
        (json!({ "pieces": [first, "none"], "put": "delete" }), 404),
        (json!({ "pieces": [], "put": "delete" }), 422),
        (json!({ "pieces": vec![first.clone(); 61], "put": "delete" }), 422),
        (json!({ "pieces": [first], "put": { "keep": "  " } }), 422),
        (json!({ "pieces": [first], "put": { "keep": "x".repeat(61) } }), 422),
        (json!({ "pieces": [first], "put": "burn" }), 422),
    ] {
        assert_eq!(ask(body.clone()).await, status, "{body}");
    }
    assert_eq!(shown("").await, 2, "nothing was moved");
    assert_eq!(ask(json!({ "pieces": both(), "put": { "keep": "East & <west>" } })).await, 204);
    assert_eq!((shown("").await, shown("?drawer=East+%26+%3Cwest%3E").await), (0, 2));
    assert_eq!(ask(json!({ "pieces": both(), "put": "delete" })).await, 204);
    assert_eq!((shown("?find=tag").await, shown("?deleted=true").await), (0, 2));
    assert_eq!(ask(json!({ "pieces": both(), "put": "restore" })).await, 204);
    assert_eq!(ask(json!({ "pieces": both(), "put": { "keep": null } })).await, 204);
    assert_eq!(shown("?order=size&page=1").await, 2);
    assert_eq!(shown("?find=%25&order=name&page=99999999999").await, 0);

    // Files of one name are told apart; a piece that is not there is said.
    let pieces = format!("{first},{second}");
    let request = opens(&format!("/pieces/export?format=stl&pieces={pieces}")).to_request();
    let zip = read_body(call_service(app, request).await).await;
    let files = kalotype_core::formats::open_archive(&zip, 1 << 24).unwrap();
    assert_eq!(files.len(), 2);
    assert!(files[1].0.ends_with("-2.stl"), "{}", files[1].0);
    let request = opens(&format!("/pieces/export?format=stl&pieces={first},none")).to_request();
    assert_eq!(call_service(app, request).await.status(), 404);
}

#[actix_web::test]
async fn behind_a_pass_phrase_nothing_is_seen_or_changed() {
    let folder = tempfile::tempdir().unwrap();
    let access = Access::new(&["shop.local".into()], Some("two quays, one tide".into())).unwrap();
    let app = &application!(folder, access);
    let from = |request: TestRequest| request.insert_header((header::HOST, "shop.local:7230"));
    let phrase = |words: &str| {
        let form = [("phrase", words)];
        from(TestRequest::post().uri("/enter")).set_form(form)
    };

    let page = call_service(app, from(TestRequest::get().uri("/pieces")).to_request()).await;
    assert_eq!(page.status(), 401);
    assert!(page.headers().contains_key(header::CONTENT_SECURITY_POLICY));
    let text = String::from_utf8(read_body(page).await.to_vec()).unwrap();
    assert!(text.contains("Pass-phrase") && !text.contains("data-piece"));
    let (status, said) = ask!(app, from(TestRequest::get().uri("/api/filaments")));
    assert_eq!((status, said["message"].is_string()), (401, true));
    let (status, _) = ask!(app, from(TestRequest::post().uri("/api/pieces")).set_json(json!({})));
    assert_eq!(status, 401);
    let style = call_service(app, from(TestRequest::get().uri("/assets/app.css")).to_request());
    assert_eq!(style.await.status(), 200);

    let wrong = call_service(app, phrase("two quays, one tied").to_request()).await;
    assert_eq!(wrong.status(), 401);
    assert!(
        !wrong.headers().contains_key(header::SET_COOKIE)
            || !wrong
                .headers()
                .get_all(header::SET_COOKIE)
                .any(|one| one.to_str().unwrap().contains("pass"))
    );
    let right = call_service(app, phrase("two quays, one tide").to_request()).await;
    assert_eq!(right.status(), 303);
    let mut cookies = right.headers().get_all(header::SET_COOKIE);
    let cookie = cookies.find_map(|one| one.to_str().ok()?.strip_prefix("kalotype-pass="));
    let pass = cookie.unwrap().split(';').next().unwrap().to_owned();
    for (pass, status) in [(pass.as_str(), 200), (&pass[1..], 401), ("", 401)] {
        let cookie = (header::COOKIE, format!("kalotype-pass={pass}"));
        let request = from(TestRequest::get().uri("/pieces")).insert_header(cookie);
        assert_eq!(call_service(app, request.to_request()).await.status(), status, "{pass}");
    }

    // A name nobody gave this machine is a stranger, whatever it says it was forwarded for.
    for header in ["x-forwarded-host", "forwarded"] {
        let request = TestRequest::get()
            .uri("/enter")
            .insert_header((header::HOST, "rebound.example"))
            .insert_header((HeaderName::from_static(header), "host=shop.local"));
        assert_eq!(call_service(app, request.to_request()).await.status(), 403);
    }
}

/// A drawing of a square of 20 mm with a hole of 10 mm in it.
const WASHER: &str = "<svg xmlns='http://www.w3.org/2000/svg' width='40mm' height='40mm' viewBox='0 0 40 40'>\
    <path fill-rule='evenodd' d='M10 10h20v20h-20zM15 15h10v10h-10z'/></svg>";

/// Files of others may take long to read: that waits for no bench, as it holds none that edits are worked out at.
#[actix_web::test]
async fn files_of_others_are_not_read_where_edits_are_worked_out() {
    let folder = tempfile::tempdir().unwrap();
    let studio = studio(&folder);
    let app = &application!(of studio, Access::default());
    let until = Halt::default();
    let cores = std::thread::available_parallelism().map_or(2, usize::from);
    let held = (0..BENCHES_OF_A_CORE * cores).map(|_| {
        let until = until.clone();
        studio.bench(move |_, _| {
            while !until.is_stopped() {
                std::thread::sleep(Duration::from_millis(1));
            }
            Ok(())
        })
    });
    let held = futures_util::future::join_all(held);
    let reading = async {
        let taken = asks(ASE, "d-1", "/api/drawings?name=washer.svg").set_payload(WASHER);
        let (status, drawing) = ask!(app, taken);
        assert_eq!(status, 201, "{drawing}");
        let id = drawing["id"].as_str().unwrap();
        for what in ["look", "picture.png"] {
            let asked = opens(&format!("/api/drawings/{id}/{what}")).to_request();
            assert_eq!(call_service(app, asked).await.status(), 200, "{what}");
        }
        let hull = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/ferry-hull.stl");
        let mesh = std::fs::read(hull).unwrap();
        let looked = asks(ASE, "m-1", "/api/meshes/look").set_payload(mesh.clone());
        assert_eq!(call_service(app, looked.to_request()).await.status(), 200);
        let keep = asks(ASE, "m-2", "/api/meshes?name=hull.stl").set_payload(mesh);
        let (status, kept) = ask!(app, keep);
        assert_eq!(status, 201, "{kept}");
        let path = format!("/api/meshes/{}/pieces", kept["id"].as_str().unwrap());
        let new = json!({ "name": "Skiff", "units": "mm", "scale": 1.0, "face": 0 });
        let (status, made) = ask!(app, asks(ASE, "m-3", &path).set_json(new));
        assert_eq!(status, 201, "{made}");
        until.stop();
    };
    let (held, ()) = tokio::join!(held, reading);
    assert!(held.iter().all(Result::is_ok));
}

/// A drawing is looked at as it is chosen, kept once however often it is asked for, and a piece made of it
/// once; a shape in use stays.
#[actix_web::test]
async fn shapes_are_kept_once_made_pieces_of_once_and_stay_while_they_are_in_use() {
    let folder = tempfile::tempdir().unwrap();
    let app = &application!(folder);
    let taken = asks(ASE, "d-1", "/api/drawings?name=washer.svg").set_payload(WASHER);
    let (status, drawing) = ask!(app, taken);
    assert_eq!(status, 201, "{drawing}");
    let id = drawing["id"].as_str().unwrap().to_owned();
    let look = format!("/api/drawings/{id}/look");
    let (status, report) = ask!(app, opens(&look));
    assert_eq!((status, report["size"].clone()), (200, json!([20.0, 20.0])));
    assert!((report["shapes"][0]["area"].as_f64().unwrap() - 300.0).abs() < 1e-6);
    let (_, wider) = ask!(app, opens(&format!("{look}?width=60")));
    assert_eq!(wider["size"], json!([60.0, 60.0]));
    for wrong in ["width=0", "width=1e9", "join=-1", "layers=x", "scale=0", "line_width=1e5"] {
        let (status, said) = ask!(app, opens(&format!("{look}?{wrong}")));
        assert_eq!(status, 422, "{wrong}: {said}");
    }
    let (_, none) = ask!(app, opens(&format!("{look}?layers=7")));
    assert!(none["refusal"].as_str().unwrap().contains("layer"), "{none}");
    let (status, _) = ask!(app, opens("/api/drawings/drawing-0/look"));
    assert_eq!(status, 404);
    // An SVG is drawn as a picture where it is to be traced.
    let picture = opens(&format!("/api/drawings/{id}/picture.png"));
    let drawn = read_body(call_service(app, picture.to_request()).await).await;
    assert!(drawn.starts_with(b"\x89PNG"));

    let mut ids = Vec::new();
    for _ in 0..2 {
        let keep = asks(ASE, "k-1", &format!("/api/drawings/{id}/shapes?name=Washer"));
        let kept = call_service(app, keep.to_request()).await;
        assert_eq!(kept.status(), 201);
        let kept: Value = serde_json::from_slice(&read_body(kept).await).unwrap();
        ids.push(kept[0]["id"].as_str().unwrap().to_owned());
    }
    assert_eq!(ids[0], ids[1]);
    let mut pieces = Vec::new();
    for _ in 0..2 {
        let new =
            json!({ "name": "Washer", "units": "mm", "shapes": [ids[0]], "made_as": "plate" });
        let (status, made) = ask!(app, asks(ASE, "p-1", "/api/shapes/pieces").set_json(new));
        assert_eq!(status, 201, "{made}");
        pieces.push(made["id"].as_str().unwrap().to_owned());
    }
    assert_eq!(pieces[0], pieces[1]);
    let (_, view) = ask!(app, opens(&format!("/api/pieces/{}", pieces[0])));
    let volume = view["facts"]["volume_mm3"].as_f64().unwrap();
    assert!((volume - 900.0).abs() < 1e-6, "{volume}");
    let drop = format!("/api/shapes/{}/delete", ids[0]);
    let (status, said) = ask!(app, asks(ASE, "x-1", &drop));
    assert_eq!(status, 409, "{said}");
    let (status, source) = ask!(app, opens(&format!("/api/shapes/{}/source", ids[0])));
    assert_eq!((status, source["drawing"].as_str()), (200, Some(id.as_str())));
    let put = json!({ "pieces": [pieces[0]], "put": "delete" });
    let (status, _) = ask!(app, asks(ASE, "x-2", "/api/pieces/several").set_json(put));
    assert_eq!(status, 204);
    // It can be brought back, and the shape with it.
    let (status, said) = ask!(app, asks(ASE, "x-3", &drop));
    assert_eq!(status, 409, "{said}");
    let put = json!({ "pieces": [pieces[0]], "put": "restore" });
    let (status, _) = ask!(app, asks(ASE, "x-4", "/api/pieces/several").set_json(put));
    assert_eq!(status, 204);
    let (_, view) = ask!(app, opens(&format!("/api/pieces/{}", pieces[0])));
    assert_eq!(view["facts"]["volume_mm3"].as_f64(), Some(volume));
}

/// What is no drawing is refused and nothing of it kept.
#[actix_web::test]
async fn drawings_that_lie_are_refused_and_not_kept() {
    let folder = tempfile::tempdir().unwrap();
    let app = &application!(folder);
    let lies: [(&str, &[u8]); 4] = [
        ("no SVG", b"<html/>"),
        ("cannot be read", b"<svg xmlns='http://www.w3.org/2000/svg'>"),
        ("no SVG and no DXF", b"dear cooperative"),
        ("cannot be read", b"\x89PNG\r\n\x1a\n\0\0\0\rIHDR\xff\xff\xff\xff\xff\xff\xff\xff"),
    ];
    for (said, file) in lies {
        let (status, told) =
            ask!(app, asks(ASE, "w", "/api/drawings?name=lies").set_payload(file.to_vec()));
        assert_eq!(status, 422, "{told}");
        assert!(told["message"].as_str().unwrap().contains(said), "{told}");
    }
}

/// Whoever refuses a request of the interface, it is JSON with words for a person.
#[actix_web::test]
async fn every_refusal_is_json_in_words() {
    let folder = tempfile::tempdir().unwrap();
    let app = &application!(folder);
    let path = new_piece!(app);
    let json = |body: &str| {
        asks(ASE, "w", "/api/pieces")
            .insert_header((header::CONTENT_TYPE, "application/json"))
            .set_payload(body.to_owned())
    };
    let cases = [
        (opens("/api/nothing"), 404, "nothing at this address"),
        (opens(&format!("{path}/export?format=clay")), 422, "behind the question mark"),
        (asks(ASE, "v", "/api/pieces"), 422, "as JSON"),
        (json("{"), 422, "ends too early"),
        (json("{]"), 422, "is no JSON"),
        (json(r#"{"name":1,"units":"mm"}"#), 422, "“1” stands where text belongs"),
        (json(&format!("{{\"name\":\"{}\"}}", "x".repeat(300_000))), 422, "256 kB"),
    ];
    for (request, code, words) in cases {
        let (status, said) = ask!(app, request);
        assert_eq!(status, code, "{said}");
        let message = said["message"].as_str().unwrap();
        assert!(message.contains(words) && !message.contains("eserialize"), "{message}");
    }
}

/// Somebody drags a width from 80 to 90; who saw it at 80 does not set it to 60 over that.
#[actix_web::test]
async fn what_was_seen_in_the_middle_of_a_drag_is_held_against_what_came_of_it() {
    let folder = tempfile::tempdir().unwrap();
    let app = &application!(folder);
    let path = new_piece!(app);
    let edits = format!("{path}/edits");
    let change =
        |person, word: &str, field, value: f64, gesture: Option<&str>, revision: &Value| {
            let edits_of = [set(field, value)];
            let body = json!({ "edits": edits_of, "gesture": gesture, "revision": revision });
            asks(person, word, &edits).set_json(body)
        };
    let (_, view) = ask!(app, change(ASE, "a1", "width", 80.0, Some("drag"), &json!(1)));
    let seen = view["revision"].clone();
    let (_, view) = ask!(app, change(ASE, "a2", "width", 90.0, Some("drag"), &seen));
    assert_eq!(blank(&view)["width"], json!(90.0));
    let (status, said) = ask!(app, change(GUL, "g1", "width", 60.0, None, &seen));
    assert_eq!(status, 409, "{said}");
    // Another field is not in the way, and a revision there is not is none.
    let (status, view) = ask!(app, change(GUL, "g2", "height", 30.0, None, &seen));
    assert_eq!((status, &blank(&view)["width"]), (200, &json!(90.0)), "{view}");
    for nonsense in [-1, 0, 99] {
        let refused = change(GUL, &format!("n{nonsense}"), "width", 60.0, None, &json!(nonsense));
        let (status, said) = ask!(app, refused);
        assert_eq!(status, 422, "{said}");
    }
}

/// A word that was used for one piece is another request at another piece, and of somebody else.
#[actix_web::test]
async fn a_word_is_known_again_where_it_was_used() {
    let folder = tempfile::tempdir().unwrap();
    let app = &application!(folder);
    let new = json!({ "name": "Fob", "units": "mm" });
    let mut paths = Vec::new();
    for (person, word) in [(ASE, "same"), (GUL, "same"), (ASE, "same")] {
        let (_, made) = ask!(app, asks(person, word, "/api/pieces").set_json(&new));
        paths.push(format!("/api/pieces/{}", made["id"].as_str().unwrap()));
    }
    assert_ne!(paths[0], paths[1]);
    assert_eq!(paths[0], paths[2], "the same request makes one piece");
    for path in &paths[..2] {
        let body = json!({ "edits": [set("width", 77.0)], "gesture": null, "revision": 1 });
        let edits = format!("{path}/edits");
        for _ in 0..2 {
            let (status, view) = ask!(app, asks(ASE, "edit", &edits).set_json(&body));
            assert_eq!((status, &blank(&view)["width"]), (200, &json!(77.0)), "{view}");
            assert_eq!(view["revision"], json!(2));
        }
    }
}
