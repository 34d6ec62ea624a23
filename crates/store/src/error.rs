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
    /// The mesh files kept would be too large together, in MB.
    #[error("the mesh files kept may have {0} MB together; take one away first")]
    MeshesFull(i64),
    /// So many pieces or starters are made of a mesh that was to be taken away.
    #[error("pieces or starters are made of this mesh ({0} of them); delete those first")]
    MeshInUse(usize),
    /// The last filament cannot be taken away.
    #[error("the last filament stays: a piece needs one to print in")]
    LastFilament,
    /// Anything else the database says.
    #[error("the database failed: {0}")]
    Database(#[from] diesel::result::Error),
}
