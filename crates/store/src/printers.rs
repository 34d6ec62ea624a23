//! The printers pieces are made on.

use crate::models::{PrinterRow, now};
use crate::schema::{pieces, printers};
use crate::{Store, StoreError, requests};
use diesel::prelude::*;
use diesel::sqlite::SqliteConnection;
use kalotype_core::piece::Printer;

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

    /// One of the printers at hand.
    ///
    /// # Errors
    /// [`StoreError::NotOnShelf`], or where the database fails.
    pub fn printer(&self, id: &str) -> Result<Printer, StoreError> {
        printer(&mut *self.connection()?, id)
    }

    /// Puts a new printer behind the others, and returns its id. A request that did already does not again: the id is that
    /// of the first.
    ///
    /// # Errors
    /// [`StoreError::PrintersFull`], or where the database fails.
    pub fn add_printer(
        &self,
        printer: &Printer,
        request: Option<&str>,
    ) -> Result<String, StoreError> {
        self.connection()?.immediate_transaction(|connection| {
            if let Some(made) = requests::made_by(connection, request)? {
                return Ok(made);
            }
            let count: i64 = printers::table.count().get_result(connection)?;
            if count >= MOST_PRINTERS {
                return Err(StoreError::PrintersFull(MOST_PRINTERS));
            }
            let row = PrinterRow {
                id: printer.id.clone(),
                document: document_of(printer),
                created_at: now(),
                following: None,
            };
            diesel::insert_into(printers::table).values(&row).execute(connection)?;
            requests::keep(connection, request, &printer.id, None)?;
            Ok(printer.id.clone())
        })
    }

    /// Changes a printer: `change` gets it as it stands and gives the new one. Where anything but its name is another then,
    /// the pieces made on it are to get its figures, in the name of `author`, until [`Store::all_followed`]. Returns
    /// the printer, and whether they are.
    ///
    /// # Errors
    /// [`StoreError::NotOnShelf`], what `change` returns, or where the database fails.
    pub fn change_printer<E: From<StoreError> + From<diesel::result::Error>>(
        &self,
        id: &str,
        author: &str,
        change: impl FnOnce(&Printer) -> Result<Printer, E>,
    ) -> Result<(Printer, bool), E> {
        self.connection()?.immediate_transaction(|connection| {
            let before = printer(connection, id)?;
            let changed = Printer { id: id.to_owned(), ..change(&before)? };
            let is_renamed_only = Printer { name: changed.name.clone(), ..before } == changed;
            let row = printers::table.find(id);
            let document = printers::document.eq(document_of(&changed));
            match is_renamed_only {
                true => diesel::update(row).set(document).execute(connection)?,
                false => diesel::update(row)
                    .set((document, printers::following.eq(author)))
                    .execute(connection)?,
            };
            Ok((changed, !is_renamed_only))
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
        let document = document_of(printer);
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
        Ok(pieces::table
            .filter(pieces::deleted_at.is_null().and(pieces::printer.eq(printer)))
            .order(pieces::id)
            .select(pieces::id)
            .load(&mut self.connection()?)?)
    }
}

fn document_of(printer: &Printer) -> String {
    serde_json::to_string(printer).expect("a printer has only string keys")
}

fn printer(connection: &mut SqliteConnection, id: &str) -> Result<Printer, StoreError> {
    let document: Option<String> =
        printers::table.find(id).select(printers::document).first(connection).optional()?;
    // One that can no longer be read is in no list either.
    let read = document.and_then(|document| serde_json::from_str(&document).ok());
    read.ok_or(StoreError::NotOnShelf)
}
