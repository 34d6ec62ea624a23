//! The application in the browser: a page of pieces, a page for each piece, and the small
//! requests that page makes.
//!
//! Handlers are grouped by resource and stay thin: they read the request, have the
//! [service](crate::service) do the work off the async workers ([`Studio`]), and answer.

mod access;
mod answer;
mod assets;
mod error;
mod exports;
mod figures;
mod filaments;
mod guard;
mod guide;
mod line;
mod meshes;
mod panes;
mod pictures;
mod piece_page;
mod pieces;
mod place;
mod printers;
mod shapes;
mod starters;
mod studio;
mod typefaces;
mod upload;
mod viewer;
mod words;

#[cfg(test)]
mod tests;

pub use access::Access;

use crate::service::Service;
use actix_web::middleware::{Compress, from_fn};
use actix_web::{App, HttpServer, web};
use anyhow::Context;
use std::net::IpAddr;
use std::time::Duration;
use studio::Studio;

/// Serves until the process is told to stop.
///
/// # Errors
/// Where the address cannot be listened on.
pub fn serve(service: Service, address: IpAddr, port: u16, access: Access) -> anyhow::Result<()> {
    let studio = Studio::new(service);
    actix_web::rt::System::new().block_on(async move {
        actix_web::rt::spawn(clean_up(studio.clone()));
        let server = HttpServer::new(move || {
            App::new()
                .app_data(web::Data::new(access.clone()))
                .wrap(Compress::default())
                .wrap(from_fn(line::ends_with_its_line))
                .wrap(from_fn(access::gate))
                .wrap(from_fn(guard::same_origin))
                .wrap(from_fn(words::in_time))
                .wrap(from_fn(words::in_words))
                .wrap(from_fn(guard::headers))
                .configure(|config| routes(config, &studio))
        })
        .on_connect(line::remember)
        .workers(2)
        // An answer is sent at once: its last packet does not wait for the first to be acknowledged.
        .tcp_nodelay(true)
        .shutdown_timeout(2)
        .bind((address, port))
        .with_context(|| format!("cannot listen on {address}, port {port}"))?;
        for bound in server.addrs() {
            println!("Kalotype is at http://{bound}/  (Ctrl+C stops it)");
        }
        server.run().await.context("the server failed")
    })
}

/// Clears away what was deleted long ago, again and again: a server may run for months.
async fn clean_up(studio: Studio) {
    const EVERY: Duration = Duration::from_secs(3600);
    loop {
        tokio::time::sleep(EVERY).await;
        if let Err(error) = studio.shelf(|service| Ok(service.store().clean_up()?)).await {
            tracing::warn!("cleaning up failed: {error}");
        }
    }
}

/// What is answered, and with what limits on what is asked.
fn routes(config: &mut web::ServiceConfig, studio: &Studio) {
    config
        .app_data(web::Data::new(studio.clone()))
        .app_data(web::JsonConfig::default().limit(words::MOST_JSON).error_handler(words::bad_json))
        .app_data(web::QueryConfig::default().error_handler(words::bad_query))
        .app_data(web::PathConfig::default().error_handler(words::bad_path))
        .app_data(web::FormConfig::default().limit(64 << 10))
        .app_data(web::PayloadConfig::new(2 << 20))
        .service(assets::asset)
        .service(access::enter)
        .service(access::leave_page)
        .service(access::leave)
        .service(pieces::home)
        .service(pieces::list)
        .service(pieces::create)
        .service(pieces::import)
        .service(pieces::duplicate)
        .service(pieces::rename)
        .service(pieces::put)
        .service(pieces::picture)
        // Before pages of pieces, whose ids could be called so.
        .service(exports::export_together)
        .service(piece_page::show_page)
        .service(piece_page::show_piece)
        .service(piece_page::change_piece)
        .service(piece_page::look_through)
        .service(piece_page::mending)
        .service(piece_page::printed)
        .service(piece_page::step_back)
        .service(piece_page::step_forward)
        .service(guide::guide)
        .service(guide::guide_picture)
        .service(exports::export_list)
        .service(exports::export_download)
        .service(place::place)
        .service(figures::read_figure)
        .service(filaments::filaments_page)
        .service(filaments::list_filaments)
        .service(filaments::add_filament)
        .service(filaments::change_filament)
        .service(filaments::drop_filament)
        .service(printers::printers_page)
        .service(printers::list_printers)
        .service(printers::add_printer)
        .service(printers::change_printer)
        .service(printers::drop_printer)
        .service(printers::make_gauge)
        .service(printers::read_gauge)
        .service(starters::starter_picture)
        .service(starters::use_starter)
        .service(starters::drop_starter)
        .service(starters::restore_starter)
        .service(starters::rename_starter)
        .service(starters::form_fields)
        .service(starters::keep_as_starter)
        .service(starters::form_page)
        .service(typefaces::typefaces_page)
        .service(typefaces::look_into_font)
        .service(typefaces::keep_typeface)
        .service(typefaces::drop_typeface)
        .service(typefaces::samples)
        .service(shapes::shapes_page)
        .service(shapes::keep_drawing)
        .service(shapes::draw_page)
        .service(shapes::look_at_drawn)
        .service(shapes::drawn_document)
        .service(shapes::look_into_drawing)
        .service(shapes::drawn_picture)
        .service(shapes::keep_shapes)
        .service(shapes::source_of)
        .service(shapes::piece_of_shapes)
        .service(shapes::rename_shape)
        .service(shapes::drop_shape)
        .service(meshes::meshes_page)
        .service(meshes::look_into_mesh)
        .service(meshes::keep_mesh)
        .service(meshes::look_into_kept)
        .service(meshes::piece_of_mesh)
        .service(meshes::drop_mesh)
        .service(pictures::sample)
        .service(pictures::emblem_picture)
        .default_service(web::to(error::not_found));
}
