//! The filaments at hand.

use crate::models::FilamentRow;
use crate::schema::filaments;
use crate::{Store, StoreError, requests};
use diesel::prelude::*;
use kalotype_core::filament::{Filament, Rgb, shipped_palette};

/// A palette longer than this could not be looked through.
const MOST_FILAMENTS: i64 = 200;

impl Store {
    /// The filaments at hand, in their order.
    ///
    /// # Errors
    /// Where the database fails.
    pub fn filaments(&self) -> Result<Vec<Filament>, StoreError> {
        let rows: Vec<FilamentRow> = filaments::table
            .order((filaments::place, filaments::id))
            .select(FilamentRow::as_select())
            .load(&mut self.connection()?)?;
        Ok(rows.into_iter().map(Filament::from).collect())
    }

    /// Puts a new filament behind the others, and returns its id. A request that did already does not again: the id is
    /// that of the first.
    ///
    /// # Errors
    /// [`StoreError::PaletteFull`], or where the database fails.
    pub fn add_filament(
        &self,
        filament: &Filament,
        request: Option<&str>,
    ) -> Result<String, StoreError> {
        self.connection()?.immediate_transaction(|connection| {
            if let Some(made) = requests::made_by(connection, request)? {
                return Ok(made);
            }
            let count: i64 = filaments::table.count().get_result(connection)?;
            if count >= MOST_FILAMENTS {
                return Err(StoreError::PaletteFull(MOST_FILAMENTS));
            }
            let last: Option<i64> =
                filaments::table.select(diesel::dsl::max(filaments::place)).first(connection)?;
            let row = FilamentRow::of(filament, last.unwrap_or(0) + 1);
            diesel::insert_into(filaments::table).values(&row).execute(connection)?;
            requests::keep(connection, request, &filament.id, None)?;
            Ok(filament.id.clone())
        })
    }

    /// Changes a filament: `change` gets it as it stands and gives the new one.
    ///
    /// # Errors
    /// [`StoreError::NotOnShelf`], what `change` returns, or where the database fails.
    pub fn change_filament<E: From<StoreError> + From<diesel::result::Error>>(
        &self,
        id: &str,
        change: impl FnOnce(&Filament) -> Result<Filament, E>,
    ) -> Result<Filament, E> {
        self.connection()?.immediate_transaction(|connection| {
            let row: FilamentRow = filaments::table
                .find(id)
                .select(FilamentRow::as_select())
                .first(connection)
                .optional()?
                .ok_or(StoreError::NotOnShelf)?;
            let place = row.place;
            let filament = Filament { id: id.to_owned(), ..change(&row.into())? };
            let row = FilamentRow::of(&filament, place);
            diesel::replace_into(filaments::table).values(&row).execute(connection)?;
            Ok(filament)
        })
    }

    /// Takes a filament away. Pieces keep their own copies. The last one stays.
    ///
    /// # Errors
    /// [`StoreError::NotOnShelf`], [`StoreError::LastFilament`], or where the database fails.
    pub fn drop_filament(&self, id: &str) -> Result<(), StoreError> {
        self.connection()?.immediate_transaction(|connection| {
            let count: i64 = filaments::table.count().get_result(connection)?;
            if diesel::delete(filaments::table.find(id)).execute(connection)? == 0 {
                return Err(StoreError::NotOnShelf);
            }
            if count == 1 { Err(StoreError::LastFilament) } else { Ok(()) }
        })
    }

    /// Puts the shipped palette into a store that has none.
    pub(crate) fn begin_palette(&self) -> Result<(), StoreError> {
        if self.filaments()?.is_empty() {
            for filament in shipped_palette() {
                self.add_filament(&filament, None)?;
            }
        }
        Ok(())
    }
}

impl FilamentRow {
    fn of(filament: &Filament, place: i64) -> Self {
        let Filament { id, name, colour, material, density, spool_price, spool_mass } = filament;
        FilamentRow {
            id: id.clone(),
            place,
            name: name.clone(),
            colour: colour.to_string(),
            material: material.clone(),
            density: *density,
            spool_price: *spool_price,
            spool_mass: *spool_mass,
        }
    }
}

impl From<FilamentRow> for Filament {
    fn from(row: FilamentRow) -> Self {
        Filament {
            id: row.id,
            name: row.name,
            // Only colours that were read are ever written.
            colour: Rgb::try_from(row.colour).unwrap_or(Rgb([128; 3])),
            material: row.material,
            density: row.density,
            spool_price: row.spool_price,
            spool_mass: row.spool_mass,
        }
    }
}
