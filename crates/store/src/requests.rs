//! Requests that were carried out: sent again, one is answered again and not carried out twice, whatever it made.

use crate::models::{RequestRow, now};
use crate::schema::requests;
use crate::{Store, StoreError};
use diesel::prelude::*;
use diesel::sqlite::SqliteConnection;
use kalotype_core::piece::Address;

/// How long a request is known again, in milliseconds: a day.
const REQUEST_STAYS: i64 = 24 * 3600 * 1000;

/// The id of what a request made, if it was carried out already.
pub(crate) fn made_by(
    connection: &mut SqliteConnection,
    request: Option<&str>,
) -> Result<Option<String>, StoreError> {
    let Some(request) = request else { return Ok(None) };
    Ok(requests::table.find(request).select(requests::made).first(connection).optional()?)
}

/// Whether a request on something was carried out already, and the address of what it added.
pub(crate) fn answered(
    connection: &mut SqliteConnection,
    made: &str,
    request: &str,
) -> Result<Option<Option<Address>>, StoreError> {
    let row: Option<RequestRow> = requests::table
        .find(request)
        .filter(requests::made.eq(made))
        .select(RequestRow::as_select())
        .first(connection)
        .optional()?;
    Ok(row.map(|row| row.added.and_then(|added| Address::try_from(added).ok())))
}

/// Remembers what a request made or changed; in the transaction that does it.
pub(crate) fn keep(
    connection: &mut SqliteConnection,
    request: Option<&str>,
    made: &str,
    added: Option<&Address>,
) -> Result<(), StoreError> {
    let Some(request) = request else { return Ok(()) };
    let row = RequestRow {
        id: request.to_owned(),
        made: made.to_owned(),
        added: added.map(ToString::to_string),
        created_at: now(),
    };
    diesel::insert_or_ignore_into(requests::table).values(&row).execute(connection)?;
    Ok(())
}

/// Forgets those nobody will send again.
pub(crate) fn forget_old(connection: &mut SqliteConnection) -> Result<(), StoreError> {
    diesel::delete(requests::table.filter(requests::created_at.lt(now() - REQUEST_STAYS)))
        .execute(connection)?;
    Ok(())
}

impl Store {
    /// Whether a request on a piece was carried out already, and the address of what it added.
    ///
    /// # Errors
    /// Where the database fails.
    pub fn answered(&self, id: &str, request: &str) -> Result<Option<Option<Address>>, StoreError> {
        answered(&mut *self.connection()?, id, request)
    }
}
