//! Which meshes and shapes are needed: by pieces as they stand, by what they were and can become again with undo, by what was
//! deleted and can be brought back, and by starters. Nothing that somebody can return to is taken away.

use crate::schema::{piece_uses, pieces, revisions, starters};
use crate::{Store, StoreError};
use diesel::prelude::*;
use diesel::sqlite::SqliteConnection;
use kalotype_core::piece::{OWN_SHAPE, OWN_STOCK};
use std::collections::{BTreeSet, HashMap};

/// How many pieces and starters need a thing.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub(crate) struct Needed {
    /// Those there are: as they stand, or as they were.
    pub there: usize,
    /// Those that were deleted and can be brought back.
    pub deleted: usize,
}

impl Needed {
    pub fn count(self) -> usize {
        self.there + self.deleted
    }
}

/// The meshes and shapes a document names. It is not read as a piece: one that can no longer be read needs them too
/// once it can.
pub(crate) fn named_in(document: &str) -> BTreeSet<&str> {
    let quoted = document.split('"').filter(|text| {
        let is_id = |rest: &str| {
            !rest.is_empty()
                && rest.bytes().all(|byte| byte.is_ascii_alphanumeric() || byte == b'-')
        };
        [OWN_STOCK, OWN_SHAPE].iter().any(|kind| text.strip_prefix(kind).is_some_and(is_id))
    });
    quoted.collect()
}

/// Remembers what a revision of a piece needs.
pub(crate) fn keep(
    connection: &mut SqliteConnection,
    piece: &str,
    document: &str,
) -> Result<(), StoreError> {
    for thing in named_in(document) {
        let row = (piece_uses::piece_id.eq(piece), piece_uses::thing.eq(thing));
        diesel::insert_or_ignore_into(piece_uses::table).values(row).execute(connection)?;
    }
    Ok(())
}

/// How much every mesh and shape is needed.
pub(crate) fn all(
    connection: &mut SqliteConnection,
) -> Result<HashMap<String, Needed>, StoreError> {
    let of_pieces: Vec<(String, Option<i64>)> = piece_uses::table
        .inner_join(pieces::table.on(pieces::id.eq(piece_uses::piece_id)))
        .select((piece_uses::thing, pieces::deleted_at))
        .load(connection)?;
    let of_starters: Vec<(String, Option<i64>)> =
        starters::table.select((starters::document, starters::deleted_at)).load(connection)?;
    let of_starters = of_starters.iter().flat_map(|(document, deleted)| {
        named_in(document).into_iter().map(|thing| (thing.to_owned(), *deleted))
    });
    let mut needed: HashMap<String, Needed> = HashMap::new();
    for (thing, deleted) in of_pieces.into_iter().chain(of_starters) {
        let own = needed.entry(thing).or_default();
        match deleted {
            None => own.there += 1,
            Some(_) => own.deleted += 1,
        }
    }
    Ok(needed)
}

/// How much one of them is needed.
pub(crate) fn of(connection: &mut SqliteConnection, thing: &str) -> Result<Needed, StoreError> {
    Ok(all(connection)?.remove(thing).unwrap_or_default())
}

impl Store {
    /// Looks through the revisions of pieces that came from before this was remembered.
    pub(crate) fn learn_uses(&self) -> Result<(), StoreError> {
        let connection = &mut self.connection()?;
        let unknown: Vec<String> = pieces::table
            .filter(pieces::uses_known.eq(false))
            .select(pieces::id)
            .load(connection)?;
        for some in unknown.chunks(100) {
            connection.immediate_transaction::<_, StoreError, _>(|connection| {
                for id in some {
                    let documents: Vec<String> = revisions::table
                        .filter(revisions::piece_id.eq(id))
                        .select(revisions::document)
                        .load(connection)?;
                    for document in &documents {
                        keep(connection, id, document)?;
                    }
                }
                diesel::update(pieces::table.filter(pieces::id.eq_any(some)))
                    .set(pieces::uses_known.eq(true))
                    .execute(connection)?;
                Ok(())
            })?;
        }
        Ok(())
    }
}
