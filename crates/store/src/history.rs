//! Going back and forth in a piece that several people work on.
//!
//! The rule: undo takes back the last step *you* made and did not take back yet, and leaves what others
//! did. It is a revision of its own, so the history only grows. Where somebody else has changed the same
//! thing since, it is refused. Redo brings again what you took back last, until you make another step.
//! What was made before authors were kept belongs to everybody.

use crate::StoreError;
use crate::models::StepRow;
use crate::schema::steps;
use diesel::prelude::*;
use diesel::sqlite::SqliteConnection;
use std::collections::HashSet;

/// What an author can do next.
#[derive(Debug, Default)]
pub(crate) struct Steps {
    /// The step that undo takes back.
    pub to_undo: Option<StepRow>,
    /// The step that redo brings again.
    pub to_redo: Option<StepRow>,
}

/// What an author can do next with a piece.
pub(crate) fn of(
    connection: &mut SqliteConnection,
    id: &str,
    author: &str,
) -> Result<Steps, StoreError> {
    let rows: Vec<StepRow> = steps::table
        .filter(steps::piece_id.eq(id).and(steps::superseded_at.is_null()))
        .order(steps::number)
        .select(StepRow::as_select())
        .load(connection)?;
    let kept: HashSet<i32> = rows.iter().map(|row| row.number).collect();
    let (mut done, mut undone): (Vec<StepRow>, Vec<StepRow>) = (Vec::new(), Vec::new());
    for row in rows {
        let is_own = row.author == author || row.author.is_empty();
        match (row.act.as_str(), row.step) {
            ("step", _) if is_own && kept.contains(&row.base) => {
                undone.clear();
                done.push(row);
            }
            ("undo", Some(step)) => pass(&mut done, &mut undone, step),
            ("redo", Some(step)) => pass(&mut undone, &mut done, step),
            _ => {}
        }
    }
    Ok(Steps { to_undo: done.pop(), to_redo: undone.pop() })
}

/// A step goes from one list to the end of the other.
fn pass(from: &mut Vec<StepRow>, to: &mut Vec<StepRow>, step: i32) {
    if let Some(at) = from.iter().position(|row| row.number == step) {
        let row = from.remove(at);
        to.push(row);
    }
}
