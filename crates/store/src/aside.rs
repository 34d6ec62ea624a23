//! Documents that are no JSON any more: put aside before the database is brought up to date, so that one of them does not keep
//! all others from being opened, and kept as they were found.

use crate::schema::set_aside;
use crate::{Store, StoreError};
use diesel::connection::SimpleConnection;
use diesel::prelude::*;
use diesel::sql_types::{BigInt, Text};
use diesel::sqlite::SqliteConnection;

/// Also made by the migrations, for databases that have nothing to put aside.
const TABLE: &str = "CREATE TABLE IF NOT EXISTS set_aside (kind TEXT NOT NULL, id TEXT NOT NULL, \
     number INTEGER NOT NULL, document BLOB NOT NULL, is_lost BOOLEAN NOT NULL, \
     PRIMARY KEY (kind, id, number)) WITHOUT ROWID;";

/// What is no JSON: other than text, or not well formed.
const BROKEN: &str = "(typeof(document) <> 'text' OR NOT json_valid(document))";

#[derive(QueryableByName)]
struct Count {
    #[diesel(sql_type = BigInt)]
    count: i64,
}

fn count(connection: &mut SqliteConnection, query: &str) -> Result<i64, StoreError> {
    Ok(diesel::sql_query(query).get_result::<Count>(connection)?.count)
}

fn has_table(connection: &mut SqliteConnection, table: &str) -> Result<bool, StoreError> {
    let query = "SELECT count(*) AS count FROM sqlite_master WHERE type = 'table' AND name = ?";
    let found: Count = diesel::sql_query(query).bind::<Text, _>(table).get_result(connection)?;
    Ok(found.count > 0)
}

/// Puts aside what is no JSON any more, in a database of any age. A piece is then shown at its last revision that is left
/// before the one it stood at; one that has none left is lost, and its documents are kept.
pub(crate) fn put_aside(connection: &mut SqliteConnection) -> Result<(), StoreError> {
    if !has_table(connection, "revisions")? {
        return Ok(());
    }
    connection.immediate_transaction(|connection| {
        let broken = count(
            connection,
            &format!("SELECT count(*) AS count FROM revisions WHERE {BROKEN}"),
        )?;
        if broken > 0 {
            connection.batch_execute(&format!(
                "{TABLE}
                 INSERT OR REPLACE INTO set_aside SELECT 'revision', piece_id, number, document, 0
                     FROM revisions WHERE {BROKEN};
                 DELETE FROM revisions WHERE {BROKEN};
                 UPDATE set_aside SET is_lost = 1 WHERE kind = 'revision'
                     AND NOT EXISTS (SELECT 1 FROM revisions WHERE piece_id = set_aside.id);
                 DELETE FROM pieces WHERE id IN
                     (SELECT id FROM set_aside WHERE kind = 'revision' AND is_lost);
                 UPDATE pieces SET head = coalesce(
                     (SELECT max(number) FROM revisions WHERE piece_id = pieces.id AND number <= head),
                     (SELECT min(number) FROM revisions WHERE piece_id = pieces.id))
                     WHERE id IN (SELECT id FROM set_aside WHERE kind = 'revision');"
            ))?;
        }
        for table in ["starters", "printers"] {
            if !has_table(connection, table)? {
                continue;
            }
            let query = format!("SELECT count(*) AS count FROM {table} WHERE {BROKEN}");
            if count(connection, &query)? > 0 {
                let kind = table.trim_end_matches('s');
                connection.batch_execute(&format!(
                    "{TABLE}
                     INSERT OR REPLACE INTO set_aside SELECT '{kind}', id, 0, document, 1
                         FROM {table} WHERE {BROKEN};
                     DELETE FROM {table} WHERE {BROKEN};"
                ))?;
            }
        }
        Ok(())
    })
}

/// What was put aside.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct PutAside {
    /// Pieces, starters and printers of which nothing could be read any more.
    pub lost: usize,
    /// Single revisions of pieces that are otherwise there.
    pub revisions: usize,
}

impl Store {
    /// What was put aside because it could not be read any more.
    ///
    /// # Errors
    /// Where the database fails.
    pub fn put_aside(&self) -> Result<PutAside, StoreError> {
        let rows: Vec<(String, String, bool)> = set_aside::table
            .select((set_aside::kind, set_aside::id, set_aside::is_lost))
            .load(&mut self.connection()?)?;
        let mut lost: Vec<_> = rows.iter().filter(|(_, _, is_lost)| *is_lost).collect();
        lost.dedup();
        let revisions = rows.iter().filter(|(_, _, is_lost)| !is_lost).count();
        Ok(PutAside { lost: lost.len(), revisions })
    }
}
