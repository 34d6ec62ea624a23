//! Why the store refuses something.

use kalotype_core::piece::ReadError;
use thiserror::Error;

/// Why the store could not do what was asked. Nothing was changed.
#[derive(Debug, Error)]
pub enum StoreError {
    /// No such piece, or it was deleted.
    #[error("there is no such piece; it may have been deleted")]
    NoSuchPiece,
    /// There is nothing to undo or redo.
    #[error("there is nothing more to {0}")]
    EndOfHistory(&'static str),
    /// A step cannot be taken back or brought again, since the same thing was changed since.
    #[error("{0}, so this step cannot be taken back or brought again by itself")]
    Overtaken(String),
    /// The database comes from a newer program.
    #[error("it was written by a newer version of Kalotype; use that one")]
    Newer,
    /// The piece was changed elsewhere since it was read.
    #[error("the piece was changed elsewhere meanwhile")]
    Conflict,
    /// The file cannot be used as a database, and why.
    #[error("{0}")]
    Unusable(String),
    /// The database cannot be opened or is busy.
    #[error("the database cannot be used: {0}")]
    Unavailable(String),
    /// The database could not be brought up to date.
    #[error("the database could not be brought up to date: {0}")]
    Migration(String),
    /// A stored document that this program cannot read.
    #[error("a stored piece cannot be read: {0}")]
    Document(#[from] ReadError),
    /// No such typeface, starter, filament or mesh.
    #[error("it is not there any more")]
    NotOnShelf,
    /// The fonts kept would be too large together, in MB.
    #[error("the typefaces kept may have {0} MB together; take one away first")]
    ShelfFull(i64),
    /// More filaments than a palette holds.
    #[error("a palette holds {0} filaments at most; take one away first")]
    PaletteFull(i64),
    /// More printers than a shelf holds.
    #[error("there can be {0} printers at most; take one away first")]
    PrintersFull(i64),
    /// The mesh files kept would be too large together, in MB.
    #[error("the mesh files kept may have {0} MB together; take one away first")]
    MeshesFull(i64),
    /// The shapes kept would be too many or too large together.
    #[error("there is room for 2000 shapes of 64 MB together; take one away first")]
    ShapesFull,
    /// The drawings kept would be too large together, in MB.
    #[error("the drawings shapes are made of may have {0} MB together; take a shape away first")]
    DrawingsFull(i64),
    /// So many pieces or starters use a shape that was to be taken away.
    #[error(
        "pieces or starters use this shape, or can again by undo or brought back ({0} of them). It can go \
         when they are gone for good"
    )]
    ShapeInUse(usize),
    /// So many pieces or starters are made of a mesh that was to be taken away.
    #[error(
        "pieces or starters are made of this mesh, or can be again by undo or brought back ({0} of them). It can go \
         when they are gone for good"
    )]
    MeshInUse(usize),
    /// The last filament cannot be taken away.
    #[error("the last filament stays: a piece needs one to print in")]
    LastFilament,
    /// There is no room on the disk for what was to be saved.
    #[error("there is no room left on the disk")]
    DiskFull,
    /// Anything else the database says.
    #[error("the database failed: {0}")]
    Database(diesel::result::Error),
}

impl From<diesel::result::Error> for StoreError {
    fn from(error: diesel::result::Error) -> Self {
        use diesel::result::Error::DatabaseError;
        match &error {
            // SQLITE_FULL has no kind of its own; its text is fixed (sqlite.org/rescode.html#full).
            DatabaseError(_, said) if said.message() == "database or disk is full" => {
                StoreError::DiskFull
            }
            // Somebody else has held it for longer than is waited for (sqlite.org/rescode.html#busy).
            DatabaseError(_, said) if said.message().starts_with("database is locked") => {
                StoreError::Unavailable(said.message().to_owned())
            }
            _ => StoreError::Database(error),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use diesel::connection::SimpleConnection;
    use diesel::{Connection, SqliteConnection};

    /// A database that may not grow says the same as one on a full disk.
    #[test]
    fn a_full_disk_is_told_from_other_failures() {
        let mut database = SqliteConnection::establish(":memory:").unwrap();
        database.batch_execute("CREATE TABLE t (x); PRAGMA max_page_count = 4;").unwrap();
        let full = database.batch_execute("INSERT INTO t VALUES (zeroblob(100000))").unwrap_err();
        assert!(matches!(StoreError::from(full), StoreError::DiskFull));
        let other = database.batch_execute("INSERT INTO nothing VALUES (1)").unwrap_err();
        assert!(matches!(StoreError::from(other), StoreError::Database(_)));
    }
}
