//! What can be done with pieces.

use crate::list::{longest_side, plain};
use crate::models::{Act, PieceRow, RevisionRow, StepRow, now};
use crate::schema::{pieces, revisions, starters, steps};
use crate::{Change, Head, Store, StoreError, history, requests, uses};
use diesel::prelude::*;
use diesel::sqlite::SqliteConnection;
use kalotype_core::edit::carry_over;
use kalotype_core::piece::{self, MAX_FILE_BYTES, Piece, ReadError};

/// How many steps of a piece are kept; the oldest go first.
pub const MOST_REVISIONS: i64 = 2000;

/// How long a revision is kept that another of the same gesture took the place of, in milliseconds, and how many of
/// them: somebody may be about to change what they saw then.
const SUPERSEDED_STAYS: i64 = 3600 * 1000;
const MOST_SUPERSEDED: i32 = 500;

/// How long a deleted piece can be brought back, in milliseconds: 90 days.
const DELETED_STAYS: i64 = 90 * 24 * 3600 * 1000;

/// A document that can be read back.
pub(crate) fn readable(piece: &Piece) -> Result<String, StoreError> {
    let document = piece::write(piece);
    if document.len() > MAX_FILE_BYTES {
        return Err(ReadError::TooLarge(document.len()).into());
    }
    Ok(document)
}

impl Store {
    /// Keeps a new piece, with its size in words where that is known, and returns its id, which cannot be
    /// guessed. A request that made a piece already makes no other: the id of the first is returned.
    ///
    /// # Errors
    /// Where the piece could not be read back or the database fails.
    pub fn create(&self, piece: &Piece, by: &Change<'_>) -> Result<String, StoreError> {
        let document = readable(piece)?;
        piece::read(document.as_bytes())?;
        let id = uuid::Uuid::new_v4().simple().to_string();
        let at = now();
        let row = PieceRow {
            id: id.clone(),
            head: 1,
            created_at: at,
            changed_at: at,
            deleted_at: None,
            name: piece.name.clone(),
            size: by.size.clone(),
            drawer: None,
            uses_known: true,
            plain: Some(plain(&piece.name)),
            longest: by.size.as_deref().and_then(longest_side),
            printer: Some(piece.printer.id.clone()),
        };
        self.connection()?.immediate_transaction(|connection| {
            if let Some(made) = requests::made_by(connection, by.request)? {
                return Ok(made);
            }
            diesel::insert_into(pieces::table).values(&row).execute(connection)?;
            let step = StepRow::new(&id, 1, by.author, Act::Made, None, 0, None);
            insert_revision(connection, step, document)?;
            requests::keep(connection, by.request, &id, by.added.as_ref())?;
            Ok(id)
        })
    }

    /// A piece as it stands, and what of its history this author can go back and forth in.
    ///
    /// # Errors
    /// [`StoreError::NoSuchPiece`], or where the database fails.
    pub fn head(&self, id: &str, author: &str) -> Result<Head, StoreError> {
        self.connection()?.transaction(|connection| head(connection, id, author))
    }

    /// A revision of a piece, if it is still kept and can be read.
    ///
    /// # Errors
    /// Where the database fails.
    pub fn revision(&self, id: &str, number: i32) -> Result<Option<Piece>, StoreError> {
        readable_document_of(&mut *self.connection()?, id, number)
    }

    /// Changes a piece: `change` gets the document as it stands and gives the new one.
    ///
    /// The new document becomes a revision of its own; revisions never change. Changes of one author
    /// that carry the same gesture one after the other are one step, of which only the last is kept for good.
    /// All of it is one transaction that begins with the right to write, so no change is built on a
    /// document that another has replaced meanwhile. A request that was carried out already is not
    /// carried out again.
    ///
    /// # Errors
    /// What `change` returns, or a [`StoreError`] made into it.
    pub fn change<E: From<StoreError> + From<diesel::result::Error>>(
        &self,
        id: &str,
        by: &Change<'_>,
        change: impl FnOnce(&Piece) -> Result<Piece, E>,
    ) -> Result<Head, E> {
        self.connection()?.immediate_transaction(|connection| change_in(connection, id, by, change))
    }

    /// Changes several pieces in the same way, many in one transaction: what each of them came to, in their order. One that
    /// cannot be changed keeps no other from it.
    ///
    /// # Errors
    /// Where the database fails.
    pub fn change_several<E: From<StoreError> + From<diesel::result::Error>>(
        &self,
        ids: &[String],
        by: &Change<'_>,
        mut change: impl FnMut(&Piece) -> Result<Piece, E>,
    ) -> Result<Vec<Result<Head, E>>, E> {
        /// So many hold others up for no longer than a fraction of a second.
        const AT_ONCE: usize = 40;
        let mut all = Vec::with_capacity(ids.len());
        for some in ids.chunks(AT_ONCE) {
            self.connection()?.immediate_transaction::<_, E, _>(|connection| {
                for id in some {
                    // One that is refused leaves nothing behind.
                    let one = connection
                        .transaction(|connection| change_in(connection, id, by, &mut change));
                    all.push(one);
                }
                Ok(())
            })?;
        }
        Ok(all)
    }

    /// Takes the author's last step back: what others did meanwhile stays.
    ///
    /// # Errors
    /// [`StoreError::EndOfHistory`] where there is none, [`StoreError::Overtaken`] where somebody else
    /// changed the same thing.
    pub fn undo(&self, id: &str, by: &Change<'_>) -> Result<Head, StoreError> {
        self.go(id, by, Act::Undo)
    }

    /// Brings the step again that the author took back last.
    ///
    /// # Errors
    /// As [`Store::undo`].
    pub fn redo(&self, id: &str, by: &Change<'_>) -> Result<Head, StoreError> {
        self.go(id, by, Act::Redo)
    }

    fn go(&self, id: &str, by: &Change<'_>, act: Act) -> Result<Head, StoreError> {
        self.connection()?.immediate_transaction(|connection| {
            let before = head(connection, id, by.author)?;
            if is_answered(connection, id, by)? {
                return Ok(before);
            }
            let steps = history::of(connection, id, by.author)?;
            let (step, word) = match act {
                Act::Undo => (steps.to_undo, "undo"),
                _ => (steps.to_redo, "redo"),
            };
            let step = step.ok_or(StoreError::EndOfHistory(word))?;
            let end = || StoreError::EndOfHistory(word);
            let began = readable_document_of(connection, id, step.base)?.ok_or_else(end)?;
            let led_to = readable_document_of(connection, id, step.number)?.ok_or_else(end)?;
            let (from, to) = if act == Act::Undo { (led_to, began) } else { (began, led_to) };
            let piece = carry_over(&from, &to, &before.piece)
                .map_err(|error| StoreError::Overtaken(error.to_string()))?;
            requests::keep(connection, by.request, id, by.added.as_ref())?;
            let number = before.revision + 1;
            let row =
                StepRow::new(id, number, by.author, act, Some(step.number), before.revision, None);
            insert_revision(connection, row, readable(&piece)?)?;
            moved_on(connection, id, number, &piece, by.size.as_deref())?;
            head(connection, id, by.author)
        })
    }

    /// Keeps what a list shows of a piece at a revision: its size in words and its picture as SVG. For
    /// another revision than the last nothing is kept.
    ///
    /// # Errors
    /// Where the database fails.
    pub fn keep_look(
        &self,
        id: &str,
        revision: i32,
        size: &str,
        picture: &str,
    ) -> Result<(), StoreError> {
        diesel::update(pieces::table.find(id).filter(pieces::head.eq(revision)))
            .set((
                pieces::size.eq(size),
                pieces::longest.eq(longest_side(size)),
                pieces::picture.eq(picture),
                pieces::pictured.eq(revision),
            ))
            .execute(&mut self.connection()?)?;
        Ok(())
    }

    /// The picture that is kept of a piece as it stands.
    ///
    /// # Errors
    /// Where the database fails.
    pub fn picture(&self, id: &str) -> Result<Option<String>, StoreError> {
        let found: Option<Option<String>> = pieces::table
            .find(id)
            .filter(pieces::deleted_at.is_null())
            .filter(pieces::pictured.eq(pieces::head.nullable()))
            .select(pieces::picture)
            .first(&mut self.connection()?)
            .optional()?;
        Ok(found.flatten())
    }

    /// Forgets what was deleted long ago, and requests nobody will send again; to be done now and then.
    ///
    /// # Errors
    /// Where the database fails.
    pub fn clean_up(&self) -> Result<(), StoreError> {
        let connection = &mut self.connection()?;
        diesel::delete(pieces::table.filter(pieces::deleted_at.lt(now() - DELETED_STAYS)))
            .execute(connection)?;
        diesel::delete(starters::table.filter(starters::deleted_at.lt(now() - DELETED_STAYS)))
            .execute(connection)?;
        requests::forget_old(connection)
    }
}

/// [`Store::change`] within a transaction.
pub(crate) fn change_in<E: From<StoreError> + From<diesel::result::Error>>(
    connection: &mut SqliteConnection,
    id: &str,
    by: &Change<'_>,
    change: impl FnOnce(&Piece) -> Result<Piece, E>,
) -> Result<Head, E> {
    let before = head(connection, id, by.author)?;
    if is_answered(connection, id, by)? {
        return Ok(before);
    }
    let piece = change(&before.piece)?;
    requests::keep(connection, by.request, id, by.added.as_ref())?;
    if piece == before.piece {
        return Ok(before);
    }
    let document = readable(&piece)?;
    let last: StepRow = steps::table
        .find((id, before.shown))
        .select(StepRow::as_select())
        .first(connection)
        .map_err(StoreError::from)?;
    let continues = by.gesture.is_some()
        && before.shown == before.revision
        && last.gesture.as_deref() == by.gesture
        && last.author == by.author
        && last.act == Act::Step.word();
    let base = if continues { last.base } else { before.shown };
    let number = before.revision + 1;
    let step = StepRow::new(id, number, by.author, Act::Step, None, base, by.gesture);
    insert_revision(connection, step, document)?;
    if continues {
        diesel::update(steps::table.find((id, before.revision)))
            .set(steps::superseded_at.eq(now()))
            .execute(connection)
            .map_err(StoreError::from)?;
    }
    moved_on(connection, id, number, &piece, by.size.as_deref())?;
    Ok(head(connection, id, by.author)?)
}

fn is_answered(
    connection: &mut SqliteConnection,
    id: &str,
    by: &Change<'_>,
) -> Result<bool, StoreError> {
    let Some(request) = by.request else { return Ok(false) };
    Ok(requests::answered(connection, id, request)?.is_some())
}

fn head(connection: &mut SqliteConnection, id: &str, author: &str) -> Result<Head, StoreError> {
    let row: PieceRow = pieces::table
        .find(id)
        .filter(pieces::deleted_at.is_null())
        .select(PieceRow::as_select())
        .first(connection)
        .optional()?
        .ok_or(StoreError::NoSuchPiece)?;
    let (shown, piece) = last_good(connection, id, row.head)?;
    let steps = history::of(connection, id, author)?;
    Ok(Head {
        id: row.id,
        piece,
        revision: row.head,
        shown,
        can_undo: steps.to_undo.is_some(),
        can_redo: steps.to_redo.is_some(),
    })
}

fn document_of(
    connection: &mut SqliteConnection,
    id: &str,
    number: i32,
) -> Result<Option<Piece>, StoreError> {
    let row: Option<RevisionRow> = revisions::table
        .find((id, number))
        .select(RevisionRow::as_select())
        .first(connection)
        .optional()?;
    Ok(row.map(|row| piece::read(row.document.as_bytes())).transpose()?)
}

/// The same where it can be read; where not, it is as if it were not there.
fn readable_document_of(
    connection: &mut SqliteConnection,
    id: &str,
    number: i32,
) -> Result<Option<Piece>, StoreError> {
    match document_of(connection, id, number) {
        Err(StoreError::Document(_)) => Ok(None),
        other => other,
    }
}

/// A piece as it stands, or the last before that that can be read, with the number of its revision.
pub(crate) fn last_good(
    connection: &mut SqliteConnection,
    id: &str,
    head: i32,
) -> Result<(i32, Piece), StoreError> {
    let newest = match document_of(connection, id, head) {
        Ok(Some(piece)) => return Ok((head, piece)),
        Ok(None) => StoreError::NoSuchPiece,
        Err(error @ StoreError::Document(_)) => error,
        Err(other) => return Err(other),
    };
    let earlier: Vec<i32> = revisions::table
        .filter(revisions::piece_id.eq(id).and(revisions::number.lt(head)))
        .order(revisions::number.desc())
        .select(revisions::number)
        .load(connection)?;
    for number in earlier {
        if let Some(piece) = readable_document_of(connection, id, number)? {
            return Ok((number, piece));
        }
    }
    Err(newest)
}

fn insert_revision(
    connection: &mut SqliteConnection,
    step: StepRow,
    document: String,
) -> Result<(), StoreError> {
    uses::keep(connection, &step.piece_id, &document)?;
    let row = RevisionRow { piece_id: step.piece_id.clone(), number: step.number, document };
    diesel::insert_into(revisions::table).values(&row).execute(connection)?;
    diesel::insert_into(steps::table).values(&step).execute(connection)?;
    Ok(())
}

/// A piece stands at another revision.
fn moved_on(
    connection: &mut SqliteConnection,
    id: &str,
    number: i32,
    piece: &Piece,
    size: Option<&str>,
) -> Result<(), StoreError> {
    diesel::update(pieces::table.find(id))
        .set((
            pieces::head.eq(number),
            pieces::changed_at.eq(now()),
            pieces::name.eq(&piece.name),
            pieces::plain.eq(plain(&piece.name)),
            pieces::size.eq(size),
            pieces::longest.eq(size.and_then(longest_side)),
            pieces::printer.eq(&piece.printer.id),
        ))
        .execute(connection)?;
    forget_revisions(connection, id, number)
}

/// Forgets what of a piece is beyond what is kept: the oldest steps, and what others of the same gesture took the place of
/// a while ago.
fn forget_revisions(
    connection: &mut SqliteConnection,
    id: &str,
    head: i32,
) -> Result<(), StoreError> {
    let oldest: Option<i32> = steps::table
        .filter(steps::piece_id.eq(id).and(steps::superseded_at.is_null()))
        .order(steps::number.desc())
        .offset(MOST_REVISIONS)
        .select(steps::number)
        .first(connection)
        .optional()?;
    let is_old = steps::number
        .le(head - MOST_SUPERSEDED)
        .or(steps::superseded_at.assume_not_null().lt(now() - SUPERSEDED_STAYS));
    let gone: Vec<i32> = steps::table
        .filter(steps::piece_id.eq(id).and(steps::superseded_at.is_not_null()).and(is_old))
        .select(steps::number)
        .load(connection)?;
    let of_piece = revisions::piece_id.eq(id);
    if let Some(oldest) = oldest {
        let old = revisions::table.filter(of_piece.and(revisions::number.le(oldest)));
        diesel::delete(old).execute(connection)?;
    }
    if !gone.is_empty() {
        let superseded = revisions::table.filter(of_piece.and(revisions::number.eq_any(gone)));
        diesel::delete(superseded).execute(connection)?;
    }
    Ok(())
}
