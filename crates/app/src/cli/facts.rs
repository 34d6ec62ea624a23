use super::{FactsArguments, NOT_BUILDABLE, print_json, work_out};
use crate::service::{facts_of, swaps_of};
use std::process::ExitCode;

/// Prints the facts of a piece file as JSON.
pub(super) fn run(arguments: &FactsArguments) -> anyhow::Result<ExitCode> {
    let tolerance = arguments.tolerance.into();
    let (piece, worked) = work_out(&arguments.piece, &arguments.meshes, tolerance)?;
    let evaluation = &worked.evaluation;
    let mut facts = serde_json::to_value(facts_of(&piece, evaluation))?;
    facts["name"] = piece.name.as_str().into();
    facts["findings"] = serde_json::to_value(&worked.findings)?;
    facts["swaps"] = serde_json::to_value(swaps_of(&piece, evaluation))?;
    print_json(&facts)?;
    Ok(if evaluation.is_built() { ExitCode::SUCCESS } else { NOT_BUILDABLE.into() })
}
