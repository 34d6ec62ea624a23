//! Kalotype: models small personalised solids and writes printable meshes.
//!
//! [`service`] is what can be done with it, over `kalotype-core` and `kalotype-store`; [`web`] is the
//! application in the browser, [`cli`] the command line and [`demo`] what there is to look at.

mod cli;
mod demo;
mod service;
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
