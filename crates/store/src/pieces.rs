//! What can be done with pieces.

use crate::models::{PieceRow, RevisionRow};
use crate::schema::{pieces, revisions};
use crate::{Head, Listed, Store, StoreError};
use diesel::prelude::*;
use diesel::sqlite::SqliteConnection;
use kalotype_core::piece::{self, Piece};
use std::time::{SystemTime, UNIX_EPOCH};

/// Milliseconds since 1970.
pub(crate) fn now() -> i64 {
    SystemTime::now().duration_since(UNIX_EPOCH).map_or(0, |since| since.as_millis() as i64)
}

impl Store {
    /// Keeps a new piece and returns its id, which cannot be guessed.
    ///
    /// # Errors
    /// Where the piece could not be read back or the database fails.
    pub fn create(&self, piece: &Piece) -> Result<String, StoreError> {
        piece::read(piece::write(piece).as_bytes())?;
        let id = uuid::Uuid::new_v4().simple().to_string();
        let at = now();
        let row =
            PieceRow { id: id.clone(), head: 1, created_at: at, changed_at: at, deleted_at: None };
        self.connection()?.immediate_transaction(|connection| {
            diesel::insert_into(pieces::table).values(&row).execute(connection)?;
            insert_revision(connection, &id, 1, piece, None)?;
            Ok::<_, StoreError>(())
        })?;
        Ok(id)
    }

    /// All pieces that are not deleted, the last changed first.
    ///
    /// # Errors
    /// Where the database fails.
    pub fn list(&self) -> Result<Vec<Listed>, StoreError> {
        let rows: Vec<(PieceRow, String)> = pieces::table
            .inner_join(
                revisions::table
                    .on(revisions::piece_id.eq(pieces::id).and(revisions::number.eq(pieces::head))),
            )
            .filter(pieces::deleted_at.is_null())
            .order((pieces::changed_at.desc(), pieces::created_at.desc(), pieces::id))
            .select((PieceRow::as_select(), revisions::document))
            .load(&mut self.connection()?)?;
        rows.into_iter()
            .map(|(row, document)| {
                let piece = piece::read(document.as_bytes())?;
                Ok(Listed { id: row.id, piece, revision: row.head, changed_at: row.changed_at })
            })
            .collect()
    }

    /// A piece as it stands.
    ///
    /// # Errors
    /// [`StoreError::NoSuchPiece`], or where the database fails.
    pub fn head(&self, id: &str) -> Result<Head, StoreError> {
        self.connection()?.transaction(|connection| head(connection, id))
    }

    /// Changes a piece: `change` gets the document as it stands and gives the new one.
    ///
    /// The new document becomes a revision of its own and what could have been redone is gone.
    /// Changes that carry the same `gesture` one after the other share a revision. All of it is
    /// one transaction that begins with the right to write, so no change is built on a document
    /// that another has replaced meanwhile.
    ///
    /// # Errors
    /// What `change` returns, or a [`StoreError`] made into it.
    pub fn change<E: From<StoreError> + From<diesel::result::Error>>(
        &self,
        id: &str,
        gesture: Option<&str>,
        change: impl FnOnce(&Piece) -> Result<Piece, E>,
    ) -> Result<Head, E> {
        self.connection()?.immediate_transaction(|connection| {
            let before = head(connection, id)?;
            let piece = change(&before.piece)?;
            if piece == before.piece {
                return Ok(before);
            }
            let current: Option<String> = revisions::table
                .find((id, before.revision))
                .select(revisions::gesture)
                .first(connection)
                .map_err(StoreError::from)?;
            let continues = gesture.is_some() && gesture == current.as_deref() && before.can_undo;
            diesel::delete(
                revisions::table
                    .filter(revisions::piece_id.eq(id))
                    .filter(revisions::number.gt(before.revision)),
            )
            .execute(connection)?;
            let number = if continues {
                diesel::update(revisions::table.find((id, before.revision)))
                    .set(revisions::document.eq(piece::write(&piece)))
                    .execute(connection)?;
                before.revision
            } else {
                insert_revision(connection, id, before.revision + 1, &piece, gesture)?;
                before.revision + 1
            };
            set_head(connection, id, number)?;
            let can_undo = number > 1;
            Ok(Head { id: id.to_owned(), piece, revision: number, can_undo, can_redo: false })
        })
    }

    /// Goes back to the state before the last change.
    ///
    /// # Errors
    /// [`StoreError::EndOfHistory`] at the beginning.
    pub fn undo(&self, id: &str) -> Result<Head, StoreError> {
        self.step(id, -1)
    }

    /// Goes forward again after [`Store::undo`].
    ///
    /// # Errors
    /// [`StoreError::EndOfHistory`] at the end.
    pub fn redo(&self, id: &str) -> Result<Head, StoreError> {
        self.step(id, 1)
    }

    fn step(&self, id: &str, by: i32) -> Result<Head, StoreError> {
        self.connection()?.immediate_transaction(|connection| {
            let before = head(connection, id)?;
            match by {
                ..0 if !before.can_undo => return Err(StoreError::EndOfHistory("undo")),
                0.. if !before.can_redo => return Err(StoreError::EndOfHistory("redo")),
                _ => set_head(connection, id, before.revision + by)?,
            }
            // A gesture that is undone is over: typing on after it begins a new one.
            diesel::update(revisions::table.find((id, before.revision + by)))
                .set(revisions::gesture.eq(None::<String>))
                .execute(connection)?;
            head(connection, id)
        })
    }

    /// Deletes a piece; [`Store::restore`] brings it back with its history.
    ///
    /// # Errors
    /// [`StoreError::NoSuchPiece`], or where the database fails.
    pub fn delete(&self, id: &str) -> Result<(), StoreError> {
        self.set_deleted(id, Some(now()))
    }

    /// Brings a deleted piece back.
    ///
    /// # Errors
    /// [`StoreError::NoSuchPiece`], or where the database fails.
    pub fn restore(&self, id: &str) -> Result<(), StoreError> {
        self.set_deleted(id, None)
    }

    fn set_deleted(&self, id: &str, at: Option<i64>) -> Result<(), StoreError> {
        let changed = diesel::update(pieces::table.find(id))
            .set(pieces::deleted_at.eq(at))
            .execute(&mut self.connection()?)?;
        if changed == 1 { Ok(()) } else { Err(StoreError::NoSuchPiece) }
    }
}

fn head(connection: &mut SqliteConnection, id: &str) -> Result<Head, StoreError> {
    let row: PieceRow = pieces::table
        .find(id)
        .filter(pieces::deleted_at.is_null())
        .select(PieceRow::as_select())
        .first(connection)
        .optional()?
        .ok_or(StoreError::NoSuchPiece)?;
    let revision: RevisionRow =
        revisions::table.find((id, row.head)).select(RevisionRow::as_select()).first(connection)?;
    let last: Option<i32> = revisions::table
        .filter(revisions::piece_id.eq(id))
        .select(diesel::dsl::max(revisions::number))
        .first(connection)?;
    Ok(Head {
        id: row.id,
        piece: piece::read(revision.document.as_bytes())?,
        revision: row.head,
        can_undo: row.head > 1,
        can_redo: last.is_some_and(|last| last > row.head),
    })
}

fn insert_revision(
    connection: &mut SqliteConnection,
    id: &str,
    number: i32,
    piece: &Piece,
    gesture: Option<&str>,
) -> QueryResult<()> {
    let row = RevisionRow {
        piece_id: id.to_owned(),
        number,
        document: piece::write(piece),
        gesture: gesture.map(str::to_owned),
    };
    diesel::insert_into(revisions::table).values(&row).execute(connection)?;
    Ok(())
}

fn set_head(connection: &mut SqliteConnection, id: &str, number: i32) -> QueryResult<()> {
    diesel::update(pieces::table.find(id))
        .set((pieces::head.eq(number), pieces::changed_at.eq(now())))
        .execute(connection)?;
    Ok(())
}
