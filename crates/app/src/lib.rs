//! Kalotype: models small personalised solids and writes printable meshes.
//!
//! `service` is what can be done with it, over `kalotype-core` and `kalotype-store`; `web` is the
//! application in the browser, `cli` the command line and `demo` what there is to look at.
//!
//! The program itself only calls [`run`]: a library can be compiled beside the core, a program only after it.

mod cli;
mod demo;
mod service;
mod starters;
mod web;

use clap::Parser;
use std::process::ExitCode;
use tracing_subscriber::filter::Targets;
use tracing_subscriber::layer::SubscriberExt;
use tracing_subscriber::util::SubscriberInitExt;

/// What the program does: reads its arguments, does what they ask, and says on standard error what went wrong.
pub fn run() -> ExitCode {
    write_log();
    match cli::run(cli::Arguments::parse()) {
        Ok(code) => code,
        Err(error) => {
            eprintln!("kalotype: {error:#}");
            ExitCode::FAILURE
        }
    }
}

/// What is logged: `KALOTYPE_LOG` holds levels by module, such as `info,kalotype=debug`.
const USUAL_LOG: &str = "info,actix_server=warn";

/// Writes the log to standard error.
fn write_log() {
    let wanted = std::env::var("KALOTYPE_LOG").unwrap_or_default();
    let usual = || USUAL_LOG.parse::<Targets>().unwrap_or_default();
    let levels: Option<Targets> = wanted.parse().ok().filter(|_| !wanted.is_empty());
    let lines = tracing_subscriber::fmt::layer()
        .with_writer(std::io::stderr)
        .without_time()
        .with_target(false);
    tracing_subscriber::registry().with(lines).with(levels.unwrap_or_else(usual)).init();
}
