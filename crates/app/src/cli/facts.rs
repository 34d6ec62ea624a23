use super::{FactsArguments, NOT_BUILDABLE, print_json, read_piece};
use crate::web::{facts_of, swaps_of};
use kalotype_core::build::evaluate;
use std::process::ExitCode;

/// Prints the facts of a piece file as JSON.
pub(super) fn run(arguments: &FactsArguments) -> anyhow::Result<ExitCode> {
    let piece = read_piece(&arguments.piece, &arguments.meshes)?;
    let evaluation = evaluate(&piece, arguments.tolerance.into());
    let mut facts = serde_json::to_value(facts_of(&piece, &evaluation))?;
    facts["name"] = piece.name.as_str().into();
    facts["findings"] = serde_json::to_value(&evaluation.findings)?;
    facts["swaps"] = serde_json::to_value(swaps_of(&piece, &evaluation))?;
    print_json(&facts)?;
    let stopped = evaluation.mesh.triangles.is_empty();
    Ok(if stopped { NOT_BUILDABLE.into() } else { ExitCode::SUCCESS })
}
