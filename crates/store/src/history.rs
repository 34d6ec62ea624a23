//! Going back and forth in a piece that several people work on.
//!
//! The rule: undo takes back the last step *you* made and did not take back yet, and leaves what others
//! did. It is a revision of its own, so the history only grows. Where somebody else has changed the same
//! thing since, it is refused. Redo brings again what you took back last, until you make another step.
//! What was made before authors were kept belongs to everybody.
//!
//! The history is looked through from its end, no further than needed: for somebody who works alone that is one
//! row, whatever was done before.

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

/// How many rows are read at once.
const AT_ONCE: i64 = 32;

/// What an author can do next with a piece.
pub(crate) fn of(
    connection: &mut SqliteConnection,
    id: &str,
    author: &str,
) -> Result<Steps, StoreError> {
    let mut found = Steps::default();
    // Steps that were taken back or brought again later than the row that is looked at: what was done with them last is
    // what they are now.
    let mut settled: HashSet<i32> = HashSet::new();
    let mut may_redo = true;
    let mut before = i32::MAX;
    loop {
        let rows: Vec<StepRow> = steps::table
            .filter(steps::piece_id.eq(id).and(steps::superseded_at.is_null()))
            .filter(steps::number.lt(before))
            .order(steps::number.desc())
            .limit(AT_ONCE)
            .select(StepRow::as_select())
            .load(connection)?;
        let Some(last) = rows.last() else { return Ok(found) };
        before = last.number;
        for row in rows {
            match (row.act.as_str(), row.step) {
                ("step", _) if is_own(connection, &row, author)? => {
                    // A step of one's own ends what could be brought again before it.
                    may_redo = false;
                    if !settled.contains(&row.number) && found.to_undo.is_none() {
                        found.to_undo = Some(row);
                    }
                }
                ("undo" | "redo", Some(step)) => {
                    let is_undo = row.act == "undo";
                    let is_sought = if is_undo { may_redo } else { found.to_undo.is_none() };
                    if !settled.insert(step) || !is_sought {
                        continue;
                    }
                    let Some(step) = own_step(connection, id, step, author)? else { continue };
                    if is_undo {
                        may_redo = false;
                        found.to_redo = Some(step);
                    } else {
                        found.to_undo = Some(step);
                    }
                }
                _ => {}
            }
            if found.to_undo.is_some() && !may_redo {
                return Ok(found);
            }
        }
    }
}

/// Whether a step is the author's to take back, and what it began from is still kept.
fn is_own(
    connection: &mut SqliteConnection,
    row: &StepRow,
    author: &str,
) -> Result<bool, StoreError> {
    if row.author != author && !row.author.is_empty() {
        return Ok(false);
    }
    let base = steps::table
        .find((&row.piece_id, row.base))
        .filter(steps::superseded_at.is_null())
        .select(steps::number);
    Ok(base.first::<i32>(connection).optional()?.is_some())
}

fn own_step(
    connection: &mut SqliteConnection,
    id: &str,
    number: i32,
    author: &str,
) -> Result<Option<StepRow>, StoreError> {
    let row: Option<StepRow> = steps::table
        .find((id, number))
        .filter(steps::superseded_at.is_null().and(steps::act.eq("step")))
        .select(StepRow::as_select())
        .first(connection)
        .optional()?;
    let Some(row) = row else { return Ok(None) };
    Ok(is_own(connection, &row, author)?.then_some(row))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::{Change, Store};
    use kalotype_core::piece::Piece;
    use kalotype_core::units::Unit;

    /// The rule as it is written: the history from its beginning, with a list of what is done and one of what was taken
    /// back. What somebody else brought again of what belongs to everybody is done, also for those who made a step since.
    fn by_the_rule(rows: &[StepRow], author: &str) -> [Option<i32>; 2] {
        let kept: HashSet<i32> = rows.iter().map(|row| row.number).collect();
        let (mut done, mut undone): (Vec<i32>, Vec<i32>) = (Vec::new(), Vec::new());
        let mut own: HashSet<i32> = HashSet::new();
        for row in rows {
            let is_own = row.author == author || row.author.is_empty();
            match (row.act.as_str(), row.step) {
                ("step", _) if is_own && kept.contains(&row.base) => {
                    own.insert(row.number);
                    undone.clear();
                    done.push(row.number);
                }
                ("undo" | "redo", Some(step)) if own.contains(&step) => {
                    done.retain(|one| *one != step);
                    undone.retain(|one| *one != step);
                    if row.act == "undo" { undone.push(step) } else { done.push(step) }
                }
                _ => {}
            }
        }
        [done.pop(), undone.pop()]
    }

    /// Three people, one of them nobody in particular, go forth and back in every order a simple generator of random figures
    /// gives: from its end the history says what it says from its beginning.
    #[test]
    fn the_history_from_its_end_is_the_history_from_its_beginning() {
        let folder = tempfile::tempdir().unwrap();
        let store = Store::open(&folder.path().join("test.db")).unwrap();
        let mut seed: u64 = 20_261_202;
        let mut random = |most: u64| {
            // Knuth's linear congruential generator (MMIX).
            seed = seed
                .wrapping_mul(6_364_136_223_846_793_005)
                .wrapping_add(1_442_695_040_888_963_407);
            (seed >> 33) % most
        };
        for round in 0..6 {
            let piece = Piece::new("0", Unit::Millimetre);
            let id = store.create(&piece, &Change::default()).unwrap();
            for step in 0..90 {
                let author = ["", "Åse", "Ğül"][random(if round == 0 { 2 } else { 3 }) as usize];
                let gesture = (random(4) == 0).then_some("a drag");
                let by = Change { author, gesture, ..Change::default() };
                // Refusals are part of it: nothing more to take back, or overtaken.
                match random(5) {
                    0 | 1 => {
                        let name = step.to_string();
                        let change =
                            |piece: &Piece| Ok::<_, StoreError>(Piece { name, ..piece.clone() });
                        drop(store.change(&id, &by, change));
                    }
                    2 | 3 => drop(store.undo(&id, &by)),
                    _ => drop(store.redo(&id, &by)),
                }
                let connection = &mut store.connection().unwrap();
                let rows: Vec<StepRow> = steps::table
                    .filter(steps::piece_id.eq(&id).and(steps::superseded_at.is_null()))
                    .order(steps::number)
                    .select(StepRow::as_select())
                    .load(connection)
                    .unwrap();
                for author in ["", "Åse", "Ğül"] {
                    let found = of(connection, &id, author).unwrap();
                    let numbers =
                        [found.to_undo, found.to_redo].map(|row| row.map(|row| row.number));
                    assert_eq!(numbers, by_the_rule(&rows, author), "{author} at {step}");
                }
            }
        }
    }
}
