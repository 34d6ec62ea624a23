//! The guide: `docs/guide.md` as a page, with its pictures.

use super::error::not_found;
use super::pieces::html;
use actix_web::http::header;
use actix_web::{HttpRequest, HttpResponse, get, web};
use askama::Template;
use pulldown_cmark::{Event, Parser, Tag, html::push_html};
use rust_embed::RustEmbed;

#[derive(RustEmbed)]
#[folder = "../../docs"]
#[include = "guide.md"]
#[include = "screenshots/*.png"]
struct Docs;

#[derive(Template)]
#[template(path = "guide.html")]
struct GuidePage {
    text: String,
}

/// The guide.
#[get("/guide")]
pub async fn guide() -> HttpResponse {
    let source = Docs::get("guide.md").map(|file| file.data).unwrap_or_default();
    html(&GuidePage { text: in_html(&String::from_utf8_lossy(&source)) })
}

/// A picture in it.
#[get("/guide/screenshots/{name}")]
pub async fn guide_picture(request: HttpRequest, name: web::Path<String>) -> HttpResponse {
    match Docs::get(&format!("screenshots/{name}")) {
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
        let source = Docs::get("guide.md").unwrap().data;
        let source = String::from_utf8(source.into_owned()).unwrap();
        let mut shown = 0;
        for event in Parser::new(&source) {
            if let Event::Start(Tag::Image { dest_url, .. }) = event {
                assert!(Docs::get(&dest_url).is_some(), "{dest_url}");
                shown += 1;
            }
        }
        assert!(shown >= 5);
        assert!(!in_html(&source).contains("alt=\"\""));
    }
}
