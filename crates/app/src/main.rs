//! Kalotype: models small personalised solids and writes printable meshes.
//!
//! [`cli`] is the command line, [`web`] the application in the browser; both do their work through
//! `kalotype-core`, and the pages keep what is made in `kalotype-store`.

mod cli;
mod demo;
mod starters;
mod web;

use clap::Parser;
use std::process::ExitCode;

fn main() -> ExitCode {
    tracing_subscriber::fmt()
        .with_env_filter(
            tracing_subscriber::EnvFilter::try_from_env("KALOTYPE_LOG")
                .unwrap_or_else(|_| "info,actix_server=warn".into()),
        )
        .with_writer(std::io::stderr)
        .without_time()
        .with_target(false)
        .init();
    match cli::run(cli::Arguments::parse()) {
        Ok(code) => code,
        Err(error) => {
            eprintln!("kalotype: {error:#}");
            ExitCode::FAILURE
        }
    }
}
