//! `gauge`: writes the piece that a printer's fits are measured on.

use super::{GaugeArguments, build};
use crate::service::{Asked, Bench, Worked, export};
use anyhow::Context;
use kalotype_core::evaluate::evaluate;
use kalotype_core::export::{Division, Format};
use kalotype_core::gauge::gauge;
use kalotype_core::piece::Printer;
use kalotype_core::plane::Tolerance;
use std::process::ExitCode;

/// Writes a gauge, to be printed and read off.
pub(super) fn run(arguments: &GaugeArguments) -> anyhow::Result<ExitCode> {
    let ending = arguments.output.extension().and_then(|ending| ending.to_str());
    let format = match ending {
        Some("json") => Some(Format::Piece),
        ending => ending.and_then(Format::by_ending),
    };
    let format = format.with_context(|| {
        format!(
            "{}: the name must end in .3mf, .stl, .obj or .json to say what is written",
            arguments.output.display()
        )
    })?;
    let piece = gauge(arguments.joint.into(), &Printer::default());
    let bench = Bench::new();
    let evaluation = evaluate(&piece, &bench.workshop(Tolerance::Normal))?;
    let worked = Worked { evaluation, objections: Vec::new() };
    let asked = Asked { format, division: Division::Together, each: false, copies: 1 };
    let files = export(&piece, &worked, asked).context("the gauge could not be built")?;
    for (path, bytes, _) in build::placed(files, &arguments.output)? {
        build::write_whole(&path, &bytes)?;
        eprintln!("{}: {} bytes", path.display(), bytes.len());
    }
    Ok(ExitCode::SUCCESS)
}
