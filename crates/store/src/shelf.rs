//! The user's own typefaces and starters.

use crate::models::{StarterRow, TypefaceRow, now};
use crate::pieces::{change_in, readable};
use crate::schema::{starters, typefaces};
use crate::{Change, Store, StoreError, requests};
use diesel::prelude::*;
use diesel::sqlite::SqliteConnection;
use kalotype_core::piece::{self, Piece};

/// One of the user's own typefaces.
#[derive(Debug, Clone, PartialEq)]
pub struct OwnTypeface {
    /// Its id, as it stands in piece files.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// The font as TrueType or OpenType.
    pub font: Vec<u8>,
    /// The place of the face in it.
    pub face_index: u32,
    /// The weight of a variable font.
    pub weight: Option<f32>,
    /// What the font states of its licence.
    pub licence: String,
}

/// One of the user's own starters.
#[derive(Debug, Clone, PartialEq)]
pub struct OwnStarter {
    /// Its id.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// The piece it makes.
    pub piece: Piece,
}

/// All fonts together; beyond it the shelf would weigh on the memory of the program.
const MOST_FONT_BYTES: i64 = 128 << 20;

impl Store {
    /// Keeps a typeface, and returns its id. A request that did already does not again: the id is that of the first.
    ///
    /// # Errors
    /// [`StoreError::ShelfFull`], or where the database fails.
    pub fn keep_typeface(
        &self,
        typeface: &OwnTypeface,
        request: Option<&str>,
    ) -> Result<String, StoreError> {
        let row = TypefaceRow {
            id: typeface.id.clone(),
            name: typeface.name.clone(),
            font: typeface.font.clone(),
            face_index: typeface.face_index as i32,
            weight: typeface.weight,
            licence: typeface.licence.clone(),
            created_at: now(),
        };
        self.connection()?.immediate_transaction(|connection| {
            use diesel::dsl::sql;
            use diesel::sql_types::BigInt;
            if let Some(made) = requests::made_by(connection, request)? {
                return Ok(made);
            }
            let kept: i64 = typefaces::table
                .select(sql::<BigInt>("coalesce(sum(length(font)), 0)"))
                .first(connection)?;
            if kept + row.font.len() as i64 > MOST_FONT_BYTES {
                return Err(StoreError::ShelfFull(MOST_FONT_BYTES >> 20));
            }
            diesel::insert_into(typefaces::table).values(&row).execute(connection)?;
            requests::keep(connection, request, &row.id, None)?;
            Ok(row.id)
        })
    }

    /// All typefaces kept, by name.
    ///
    /// # Errors
    /// Where the database fails.
    pub fn typefaces(&self) -> Result<Vec<OwnTypeface>, StoreError> {
        let rows: Vec<TypefaceRow> = typefaces::table
            .order((typefaces::name, typefaces::id))
            .select(TypefaceRow::as_select())
            .load(&mut self.connection()?)?;
        Ok(rows
            .into_iter()
            .map(|row| OwnTypeface {
                id: row.id,
                name: row.name,
                font: row.font,
                face_index: row.face_index as u32,
                weight: row.weight,
                licence: row.licence,
            })
            .collect())
    }

    /// Ids, names and licences of the typefaces kept, by name, without their fonts.
    ///
    /// # Errors
    /// Where the database fails.
    pub fn listed_typefaces(&self) -> Result<Vec<[String; 3]>, StoreError> {
        let rows: Vec<(String, String, String)> = typefaces::table
            .order((typefaces::name, typefaces::id))
            .select((typefaces::id, typefaces::name, typefaces::licence))
            .load(&mut self.connection()?)?;
        Ok(rows.into_iter().map(|(id, name, licence)| [id, name, licence]).collect())
    }

    /// Takes a typeface away. Pieces set in it keep its id and say that it is missing.
    ///
    /// # Errors
    /// [`StoreError::NotOnShelf`], or where the database fails.
    pub fn drop_typeface(&self, id: &str) -> Result<(), StoreError> {
        let gone = diesel::delete(typefaces::table.find(id)).execute(&mut self.connection()?)?;
        if gone == 1 { Ok(()) } else { Err(StoreError::NotOnShelf) }
    }

    /// Changes a piece and keeps it as a starter under a name, both or neither, and returns the starter's id: a new one, or
    /// that of the starter whose place it takes. A name that is taken gets a number. A request that did already
    /// does not again.
    ///
    /// # Errors
    /// [`StoreError::NotOnShelf`] where the starter is gone whose place it was to take, and as [`Store::change`].
    pub fn keep_as_starter<E: From<StoreError> + From<diesel::result::Error>>(
        &self,
        id: &str,
        by: &Change<'_>,
        change: impl FnOnce(&Piece) -> Result<Piece, E>,
        (name, instead_of): (&str, Option<&str>),
    ) -> Result<String, E> {
        self.connection()?.immediate_transaction(|connection| {
            if let Some(made) = requests::made_by(connection, by.request)? {
                return Ok(made);
            }
            // The request is remembered for the starter.
            let by_itself = Change { request: None, ..by.clone() };
            let head = change_in(connection, id, &by_itself, change)?;
            let made = match instead_of {
                Some(starter) => {
                    change_starter(connection, starter, &head.piece, name)?;
                    starter.to_owned()
                }
                None => keep_starter(connection, &head.piece, name)?,
            };
            requests::keep(connection, by.request, &made, None)?;
            Ok(made)
        })
    }

    /// Keeps a piece as a starter under a name and returns the starter's id. A name that is taken gets a
    /// number.
    ///
    /// # Errors
    /// Where the piece could not be read back or the database fails.
    pub fn keep_starter(&self, piece: &Piece, name: &str) -> Result<String, StoreError> {
        self.connection()?.immediate_transaction(|connection| keep_starter(connection, piece, name))
    }

    /// Puts a piece in the place of what a starter made, under a name; its id stays.
    ///
    /// # Errors
    /// [`StoreError::NotOnShelf`], or as [`Store::keep_starter`].
    pub fn change_starter(&self, id: &str, piece: &Piece, name: &str) -> Result<(), StoreError> {
        self.connection()?
            .immediate_transaction(|connection| change_starter(connection, id, piece, name))
    }

    /// Gives a starter another name; one that is taken gets a number.
    ///
    /// # Errors
    /// [`StoreError::NotOnShelf`], or where the database fails.
    pub fn rename_starter(&self, id: &str, name: &str) -> Result<(), StoreError> {
        self.connection()?.immediate_transaction(|connection| rename(connection, id, name))
    }

    /// All starters kept, the last kept first.
    ///
    /// # Errors
    /// Where the database fails.
    pub fn starters(&self) -> Result<Vec<OwnStarter>, StoreError> {
        let rows: Vec<StarterRow> = starters::table
            .filter(starters::deleted_at.is_null())
            .order((starters::created_at.desc(), starters::id))
            .select(StarterRow::as_select())
            .load(&mut self.connection()?)?;
        // One that can no longer be read does not keep the others from being shown.
        Ok(rows.into_iter().filter_map(|row| own_starter(row).ok()).collect())
    }

    /// One starter.
    ///
    /// # Errors
    /// [`StoreError::NotOnShelf`], or where the database fails.
    pub fn starter(&self, id: &str) -> Result<OwnStarter, StoreError> {
        let row: StarterRow = starters::table
            .find(id)
            .filter(starters::deleted_at.is_null())
            .select(StarterRow::as_select())
            .first(&mut self.connection()?)
            .optional()?
            .ok_or(StoreError::NotOnShelf)?;
        own_starter(row)
    }

    /// Takes a starter away; pieces made from it stay. [`Store::restore_starter`] brings it back, for 90
    /// days.
    ///
    /// # Errors
    /// [`StoreError::NotOnShelf`], or where the database fails.
    pub fn drop_starter(&self, id: &str) -> Result<(), StoreError> {
        let gone = diesel::update(starters::table.find(id).filter(starters::deleted_at.is_null()))
            .set(starters::deleted_at.eq(Some(now())))
            .execute(&mut self.connection()?)?;
        if gone == 1 { Ok(()) } else { Err(StoreError::NotOnShelf) }
    }

    /// Brings a starter back. If its name was taken meanwhile it gets a number.
    ///
    /// # Errors
    /// [`StoreError::NotOnShelf`], or where the database fails.
    pub fn restore_starter(&self, id: &str) -> Result<(), StoreError> {
        self.connection()?.immediate_transaction(|connection| {
            let name: Option<String> =
                starters::table.find(id).select(starters::name).first(connection).optional()?;
            let name = free_name(connection, &name.ok_or(StoreError::NotOnShelf)?, id)?;
            diesel::update(starters::table.find(id))
                .set((starters::deleted_at.eq(None::<i64>), starters::name.eq(name)))
                .execute(connection)?;
            Ok(())
        })
    }
}

fn keep_starter(
    connection: &mut SqliteConnection,
    piece: &Piece,
    name: &str,
) -> Result<String, StoreError> {
    let document = readable(piece)?;
    let id = uuid::Uuid::new_v4().simple().to_string();
    let name = free_name(connection, name, &id)?;
    let row = StarterRow { id: id.clone(), document, created_at: now(), name, deleted_at: None };
    diesel::insert_into(starters::table).values(&row).execute(connection)?;
    Ok(id)
}

fn change_starter(
    connection: &mut SqliteConnection,
    id: &str,
    piece: &Piece,
    name: &str,
) -> Result<(), StoreError> {
    let document = readable(piece)?;
    rename(connection, id, name)?;
    diesel::update(starters::table.find(id))
        .set(starters::document.eq(document))
        .execute(connection)?;
    Ok(())
}

fn own_starter(row: StarterRow) -> Result<OwnStarter, StoreError> {
    Ok(OwnStarter { piece: piece::read(row.document.as_bytes())?, id: row.id, name: row.name })
}

/// Names a starter that is not deleted.
fn rename(connection: &mut SqliteConnection, id: &str, name: &str) -> Result<(), StoreError> {
    let name = free_name(connection, name, id)?;
    let starter = starters::table.find(id).filter(starters::deleted_at.is_null());
    let changed = diesel::update(starter).set(starters::name.eq(name)).execute(connection)?;
    if changed == 1 { Ok(()) } else { Err(StoreError::NotOnShelf) }
}

/// A name no other starter has: itself, or with the first number that is free.
fn free_name(
    connection: &mut SqliteConnection,
    name: &str,
    id: &str,
) -> Result<String, StoreError> {
    let taken: Vec<String> = starters::table
        .filter(starters::deleted_at.is_null())
        .filter(starters::id.ne(id))
        .select(starters::name)
        .load(connection)?;
    let is_free = |name: &String| !taken.contains(name);
    let numbered = (2..).map(|number| format!("{name} {number}"));
    let mut names = std::iter::once(name.to_owned()).chain(numbered);
    Ok(names.find(is_free).unwrap_or_default())
}
