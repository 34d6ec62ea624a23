//! The printers pieces are made on.

use crate::models::{PrinterRow, now};
use crate::schema::{pieces, printers, revisions};
use crate::{Store, StoreError};
use diesel::prelude::*;
use kalotype_core::piece::{self, Printer};

/// More printers than this could not be looked through.
const MOST_PRINTERS: i64 = 50;

impl Store {
    /// The printers at hand, the first that was kept first. One that can no longer be read is left out.
    ///
    /// # Errors
    /// Where the database fails.
    pub fn printers(&self) -> Result<Vec<Printer>, StoreError> {
        let documents: Vec<String> = printers::table
            .order((printers::created_at, printers::id))
            .select(printers::document)
            .load(&mut self.connection()?)?;
        Ok(documents.iter().filter_map(|one| serde_json::from_str(one).ok()).collect())
    }

    /// Keeps a printer: changes the one of the same id, or puts it behind the others. Until
    /// [`Store::all_followed`] the pieces made on it are still to get its figures, in the name of `author`.
    ///
    /// # Errors
    /// [`StoreError::PrintersFull`], or where the database fails.
    pub fn keep_printer(&self, printer: &Printer, author: &str) -> Result<(), StoreError> {
        let document = serde_json::to_string(printer).expect("a printer has only string keys");
        self.connection()?.immediate_transaction(|connection| {
            let changed = diesel::update(printers::table.find(&printer.id))
                .set((printers::document.eq(&document), printers::following.eq(author)))
                .execute(connection)?;
            if changed > 0 {
                return Ok(());
            }
            let count: i64 = printers::table.count().get_result(connection)?;
            if count >= MOST_PRINTERS {
                return Err(StoreError::PrintersFull(MOST_PRINTERS));
            }
            let following = Some(author.to_owned());
            let id = printer.id.clone();
            let row = PrinterRow { id, document, created_at: now(), following };
            diesel::insert_into(printers::table).values(&row).execute(connection)?;
            Ok(())
        })
    }

    /// The printers whose figures not all pieces made on them have got yet, with those who gave them.
    ///
    /// # Errors
    /// Where the database fails.
    pub fn followed(&self) -> Result<Vec<(Printer, String)>, StoreError> {
        let rows: Vec<(String, Option<String>)> = printers::table
            .filter(printers::following.is_not_null())
            .select((printers::document, printers::following))
            .load(&mut self.connection()?)?;
        let read = |(document, author): (String, Option<String>)| {
            Some((serde_json::from_str(&document).ok()?, author?))
        };
        Ok(rows.into_iter().filter_map(read).collect())
    }

    /// Notes that all pieces made on a printer have these figures of it.
    ///
    /// # Errors
    /// Where the database fails.
    pub fn all_followed(&self, printer: &Printer) -> Result<(), StoreError> {
        let document = serde_json::to_string(printer).expect("a printer has only string keys");
        // Unless it was given others meanwhile.
        diesel::update(printers::table.find(&printer.id))
            .filter(printers::document.eq(document))
            .set(printers::following.eq(None::<String>))
            .execute(&mut self.connection()?)?;
        Ok(())
    }

    /// Takes a printer away. Pieces keep their own copies.
    ///
    /// # Errors
    /// [`StoreError::NotOnShelf`], or where the database fails.
    pub fn drop_printer(&self, id: &str) -> Result<(), StoreError> {
        let gone = diesel::delete(printers::table.find(id)).execute(&mut self.connection()?)?;
        if gone == 0 { Err(StoreError::NotOnShelf) } else { Ok(()) }
    }

    /// The ids of the pieces that are made on a printer, as they stand.
    ///
    /// # Errors
    /// Where the database fails.
    pub fn made_on(&self, printer: &str) -> Result<Vec<String>, StoreError> {
        let rows: Vec<(String, String)> = pieces::table
            .inner_join(
                revisions::table
                    .on(revisions::piece_id.eq(pieces::id).and(revisions::number.eq(pieces::head))),
            )
            .filter(pieces::deleted_at.is_null())
            .filter(revisions::document.like(format!("%\"{printer}\"%")))
            .select((pieces::id, revisions::document))
            .load(&mut self.connection()?)?;
        let is_made_on = |document: &str| {
            piece::read(document.as_bytes()).is_ok_and(|piece| piece.printer.id == printer)
        };
        let made = rows.into_iter().filter(|(_, document)| is_made_on(document));
        Ok(made.map(|(id, _)| id).collect())
    }
}
