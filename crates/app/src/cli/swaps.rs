use super::{NOT_BUILDABLE, SwapsArguments, print, read_piece};
use kalotype_core::build::evaluate;
use kalotype_core::colour::{pause_lines, plan_swaps, swap_sheet};
use kalotype_core::plane::Tolerance;
use std::process::ExitCode;

/// Prints the changes of filament of a piece with one nozzle.
pub(super) fn run(arguments: &SwapsArguments) -> anyhow::Result<ExitCode> {
    let piece = read_piece(&arguments.piece, &arguments.meshes)?;
    let evaluation = evaluate(&piece, Tolerance::Normal);
    if evaluation.mesh.triangles.is_empty() {
        return Ok(NOT_BUILDABLE.into());
    }
    let plan = plan_swaps(&evaluation, piece.layers);
    print(&swap_sheet(&piece, &evaluation, &plan))?;
    if let Some(pause) = arguments.pause {
        print(&format!("\n{}", pause_lines(&piece, &plan, pause.into())))?;
    }
    Ok(ExitCode::SUCCESS)
}
