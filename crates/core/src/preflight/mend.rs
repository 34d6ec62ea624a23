//! Everything that can be mended, mended.

use super::{Finding, Weight, run};
use crate::edit::{Unapplied, apply};
use crate::evaluate::evaluate;
use crate::piece::{Edit, Piece};
use crate::workshop::Workshop;

/// A piece with everything mended that can be.
#[derive(Debug, Clone)]
pub struct Mended {
    /// The piece.
    pub piece: Piece,
    /// The edits that brought it there, in order.
    pub edits: Vec<Edit>,
    /// What each step did, as it was offered.
    pub steps: Vec<String>,
    /// What is still found.
    pub findings: Vec<Finding>,
}

/// More steps are not taken.
const MOST_STEPS: usize = 20;

/// Takes the first remedy of the weightiest finding that has one, again and again until none has. What is set aside
/// stays, and so does what is merely good to know: nobody asked to have it changed.
///
/// # Errors
/// [`Unapplied`] where the work was stopped.
pub fn mend(piece: &Piece, workshop: &Workshop<'_>) -> Result<Mended, Unapplied> {
    let found = |piece: &Piece| -> Result<Vec<Finding>, Unapplied> {
        let evaluation = evaluate(piece, workshop)?;
        Ok(run(piece, &evaluation, workshop)?)
    };
    let findings = found(piece)?;
    let mut mended =
        Mended { piece: piece.clone(), edits: Vec::new(), steps: Vec::new(), findings };
    while mended.steps.len() < MOST_STEPS {
        let wanted = mended.findings.iter().filter(|finding| finding.weight != Weight::Note);
        let first = wanted.filter_map(|finding| finding.remedies.first()).next();
        let Some(remedy) = first.cloned() else { break };
        mended.piece = apply(&mended.piece, &remedy.edits, workshop)?.piece;
        mended.edits.extend(remedy.edits);
        mended.steps.push(remedy.label);
        mended.findings = found(&mended.piece)?;
    }
    Ok(mended)
}
