//! `facts`: prints sizes, mass and findings of a piece file as JSON.

use super::{Checked, FactsArguments, NOT_BUILDABLE, look_through, print_json};
use crate::service::{facts_of, swaps_of};
use kalotype_core::evaluate::Evaluation;
use kalotype_core::piece::Piece;
use serde_json::Value;
use std::process::ExitCode;

/// Prints the facts of a piece file as JSON.
pub(super) fn run(arguments: &FactsArguments) -> anyhow::Result<ExitCode> {
    let tolerance = arguments.tolerance.into();
    let Checked { piece, worked, findings } =
        look_through(&arguments.piece, &arguments.meshes, tolerance)?;
    let evaluation = &worked.evaluation;
    let mut facts = serde_json::to_value(facts_of(&piece, evaluation))?;
    facts["components"] = components_of(&piece, evaluation)?.into();
    facts["name"] = piece.name.as_str().into();
    facts["findings"] = serde_json::to_value(&findings)?;
    facts["swaps"] = serde_json::to_value(swaps_of(&piece, evaluation))?;
    print_json(&facts)?;
    Ok(if evaluation.is_built() { ExitCode::SUCCESS } else { NOT_BUILDABLE.into() })
}

/// The figures of every component by itself.
fn components_of(piece: &Piece, evaluation: &Evaluation) -> serde_json::Result<Vec<Value>> {
    let all = piece.components.iter().zip(&evaluation.components);
    let figures = all.map(|(component, made)| {
        let alone = Evaluation { components: vec![made.clone()] };
        let mut facts = serde_json::to_value(facts_of(piece, &alone))?;
        facts["id"] = component.id.as_str().into();
        facts["name"] = component.called().into();
        facts["blank"] = component.blank.word().into();
        facts["lies"] = component.lies.word().into();
        Ok(facts)
    });
    figures.collect()
}
