//! `swaps`: prints the changes of filament for a printer with one nozzle.

use super::{NOT_BUILDABLE, SwapsArguments, print, work_out};
use kalotype_core::colour::{pause_lines, plan_swaps, swap_sheet};
use kalotype_core::plane::Tolerance;
use std::process::ExitCode;

/// Prints the changes of filament of a piece with one nozzle.
pub(super) fn run(arguments: &SwapsArguments) -> anyhow::Result<ExitCode> {
    let (piece, worked) = work_out(&arguments.piece, &arguments.meshes, Tolerance::Normal)?;
    let evaluation = worked.evaluation;
    if !evaluation.is_built() {
        return Ok(NOT_BUILDABLE.into());
    }
    let plan = plan_swaps(&evaluation, piece.layers);
    print(&swap_sheet(&piece, &evaluation, &plan))?;
    if let Some(pause) = arguments.pause {
        print(&format!("\n{}", pause_lines(&piece, &plan, pause.into())))?;
    }
    Ok(ExitCode::SUCCESS)
}
