//! Pieces and their revisions, own typefaces, shapes and starters, the filaments and printers at hand and
//! the mesh files pieces are made of, in SQLite.
//!
//! A piece is a row in [`schema::pieces`] and a history of documents in [`schema::revisions`], which
//! only grows: the last one is shown, a change, and also a step taken back, puts another behind it
//! ([`schema::steps`] says who made it, when, and what it did). Nothing is kept in memory, so undo
//! survives a reload and a killed server. Every change is one transaction in WAL mode. The 2000 newest
//! steps of a piece are kept, and deleted pieces for 90 days; so is what any of them needs (`uses`).

mod aside;
mod error;
mod history;
mod list;
mod meshes;
mod models;
mod palette;
mod pieces;
mod printers;
mod requests;
pub mod schema;
mod shapes;
mod shelf;
mod uses;

pub use aside::PutAside;
pub use error::StoreError;
pub use list::{LONGEST_DRAWER, Move, Order, Place, Sought};
pub use meshes::{KeptMesh, ListedMesh};
pub use models::{Change, Head, Listed};
pub use pieces::MOST_REVISIONS;
pub use shapes::{KeptDrawing, KeptShape, ListedShape, Source};
pub use shelf::{OwnStarter, OwnTypeface};

/// What the database itself reports.
pub use diesel::result::Error as DatabaseError;

use diesel::RunQueryDsl;
use diesel::connection::{Connection, SimpleConnection};
use diesel::migration::{Migration, MigrationSource, MigrationVersion};
use diesel::r2d2::{ConnectionManager, CustomizeConnection, Pool, PooledConnection};
use diesel::sqlite::{Sqlite, SqliteConnection};
use diesel_migrations::{EmbeddedMigrations, MigrationHarness, embed_migrations};
use std::path::Path;

const MIGRATIONS: EmbeddedMigrations = embed_migrations!("migrations");

/// The database. Cheap to clone; all clones share one pool of connections.
#[derive(Clone)]
pub struct Store {
    pool: Pool<ConnectionManager<SqliteConnection>>,
}

#[derive(Debug)]
struct Pragmas;

/// FULL with WAL syncs every commit: what was acknowledged survives a power cut.
const PRAGMAS: &str = "PRAGMA busy_timeout = 5000; PRAGMA journal_mode = WAL; \
                       PRAGMA synchronous = FULL; PRAGMA foreign_keys = ON;";

impl CustomizeConnection<SqliteConnection, diesel::r2d2::Error> for Pragmas {
    fn on_acquire(&self, connection: &mut SqliteConnection) -> Result<(), diesel::r2d2::Error> {
        connection.batch_execute(PRAGMAS).map_err(diesel::r2d2::Error::QueryError)
    }
}

/// Lets only its owner read the database; the files SQLite keeps beside it are as it is. One that is another's stays
/// as it is.
fn keep_to_owner(path: &Path) {
    use std::os::unix::fs::{OpenOptionsExt, PermissionsExt};
    let made = std::fs::File::options().write(true).create_new(true).mode(0o600).open(path);
    if made.is_ok() {
        return;
    }
    // What cannot be opened at all is said when it is tried out.
    for ending in ["", "-wal", "-shm"] {
        let mut file = path.as_os_str().to_owned();
        file.push(ending);
        if let Ok(about) = std::fs::metadata(&file)
            && about.is_file()
        {
            let mut permissions = about.permissions();
            permissions.set_mode(permissions.mode() & !0o077);
            let _ = std::fs::set_permissions(&file, permissions);
        }
    }
}

/// Tries a file once by itself: the pool would try again and again before it says what is wrong.
fn try_out(path: &Path) -> Result<(), StoreError> {
    let unusable = |error: &dyn std::fmt::Display| {
        let said = error.to_string();
        StoreError::Unusable(match said.as_str() {
            said if said.contains("not a database") => "it is not a database".to_owned(),
            said if said.contains("malformed") => "it is damaged".to_owned(),
            said if said.contains("readonly") => "it cannot be written to".to_owned(),
            said if said.contains("full") => "there is no room left on the disk".to_owned(),
            said if said.contains("unable to open") => {
                "it cannot be opened; may the folder be written to?".to_owned()
            }
            said => said.to_owned(),
        })
    };
    let mut connection =
        SqliteConnection::establish(&path.to_string_lossy()).map_err(|error| unusable(&error))?;
    // Reads the schema and takes hold of the file as if to write, without changing what is in it.
    let probe = "BEGIN IMMEDIATE; ROLLBACK;";
    let tried = connection.batch_execute(PRAGMAS).and_then(|()| connection.batch_execute(probe));
    tried.map_err(|error| unusable(&error))?;
    let names = diesel::sql_query("SELECT name FROM sqlite_master").execute(&mut connection);
    names.map_err(|error| unusable(&error))?;
    Ok(())
}

impl Store {
    /// Opens the database file, makes it where there is none, and brings it up to date.
    ///
    /// # Errors
    /// Where the file cannot be opened, is no database, or comes from a newer program.
    pub fn open(path: &Path) -> Result<Self, StoreError> {
        keep_to_owner(path);
        try_out(path)?;
        let manager = ConnectionManager::new(path.to_string_lossy());
        let pool = Pool::builder()
            .max_size(4)
            .min_idle(Some(0))
            .connection_timeout(std::time::Duration::from_secs(10))
            .connection_customizer(Box::new(Pragmas))
            .build(manager)
            .map_err(|error| StoreError::Unavailable(error.to_string()))?;
        let store = Store { pool };
        let mut connection = store.connection()?;
        let failed = |error: Box<dyn std::error::Error + Send + Sync>| {
            StoreError::Migration(error.to_string())
        };
        let known = MigrationSource::<Sqlite>::migrations(&MIGRATIONS).map_err(failed)?;
        let applied = connection.applied_migrations().map_err(failed)?;
        let is_known = |version: &MigrationVersion<'_>| {
            known.iter().any(|one| one.name().version() == *version)
        };
        if !applied.iter().all(is_known) {
            return Err(StoreError::Newer);
        }
        if applied.len() < known.len() {
            aside::put_aside(&mut connection)?;
        }
        connection.run_pending_migrations(MIGRATIONS).map_err(failed)?;
        drop(connection);
        store.begin_palette()?;
        store.clean_up()?;
        store.learn_uses()?;
        store.learn_listed()?;
        Ok(store)
    }

    fn connection(
        &self,
    ) -> Result<PooledConnection<ConnectionManager<SqliteConnection>>, StoreError> {
        self.pool.get().map_err(|error| StoreError::Unavailable(error.to_string()))
    }
}
