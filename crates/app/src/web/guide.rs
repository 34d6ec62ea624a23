//! The guide: `docs/guide.md` as a page, with its pictures.

use super::error::not_found;
use super::pieces::html;
use actix_web::http::header;
use actix_web::{HttpRequest, HttpResponse, get, web};
use askama::Template;
use pulldown_cmark::{Event, Parser, Tag, html::push_html};
use rust_embed::RustEmbed;

/// Its text.
const GUIDE: &str = include_str!("../../../../docs/guide.md");

/// The pictures in it.
#[derive(RustEmbed)]
#[folder = "../../docs/screenshots"]
struct Pictures;

#[derive(Template)]
#[template(path = "guide.html")]
struct GuidePage {
    text: String,
}

/// The guide.
#[get("/guide")]
pub async fn guide() -> HttpResponse {
    html(&GuidePage { text: in_html(GUIDE) })
}

/// A picture in it.
#[get("/guide/screenshots/{name}")]
pub async fn guide_picture(request: HttpRequest, name: web::Path<String>) -> HttpResponse {
    match Pictures::get(&name) {
        Some(file) => HttpResponse::Ok()
            .insert_header((header::CONTENT_TYPE, "image/png"))
            .insert_header((header::CACHE_CONTROL, "private, max-age=3600"))
            .body(file.data.into_owned()),
        None => not_found(request).await,
    }
}

/// Markdown as HTML; pictures load as they come into view, from where they are served.
fn in_html(source: &str) -> String {
    let events = Parser::new(source).map(|event| match event {
        Event::Start(Tag::Image { link_type, dest_url, title, id }) => {
            let dest_url = format!("/guide/{dest_url}").into();
            Event::Start(Tag::Image { link_type, dest_url, title, id })
        }
        event => event,
    });
    let mut text = String::new();
    push_html(&mut text, events);
    text.replace("<img ", "<img loading=\"lazy\" ")
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Whoever renames a picture is told that the guide shows it.
    #[test]
    fn every_picture_of_the_guide_is_there_and_has_words() {
        let mut shown = 0;
        for event in Parser::new(GUIDE) {
            if let Event::Start(Tag::Image { dest_url, .. }) = event {
                let name = dest_url.trim_start_matches("screenshots/");
                assert!(Pictures::get(name).is_some(), "{dest_url}");
                shown += 1;
            }
        }
        assert!(shown >= 5);
        assert!(!in_html(GUIDE).contains("alt=\"\""));
    }
}
