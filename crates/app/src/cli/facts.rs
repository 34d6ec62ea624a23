use super::{FactsArguments, NOT_BUILDABLE, read_piece};
use crate::web::facts_of;
use kalotype_core::build::evaluate;
use std::io::{ErrorKind, Write};
use std::process::ExitCode;

/// Prints the facts of a piece file as JSON.
pub(super) fn run(arguments: &FactsArguments) -> anyhow::Result<ExitCode> {
    let piece = read_piece(&arguments.piece)?;
    let evaluation = evaluate(&piece, arguments.tolerance.into());
    let mut facts = serde_json::to_value(facts_of(&evaluation))?;
    facts["name"] = piece.name.into();
    facts["findings"] = serde_json::to_value(&evaluation.findings)?;
    // A reader that has seen enough and closed the pipe is no fault.
    match writeln!(std::io::stdout(), "{}", serde_json::to_string_pretty(&facts)?) {
        Err(error) if error.kind() != ErrorKind::BrokenPipe => return Err(error.into()),
        _ => {}
    }
    let stopped = evaluation.mesh.triangles.is_empty();
    Ok(if stopped { NOT_BUILDABLE.into() } else { ExitCode::SUCCESS })
}
