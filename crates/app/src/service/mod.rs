//! What can be done with Kalotype, whoever asks: the pages, the command line and the demo.
//!
//! A [`Service`] holds what work needs: the store, the library that looks typefaces, meshes and shapes up in it,
//! and the cache that everybody shares. Its methods block and know no web; each says which of two kinds
//! of work it is: looking things up and keeping them (`pieces`, `shelves`), or working something out
//! ([`Service::workshop`]), which can be stopped.

mod drawings;
mod error;
mod exports;
mod facts;
mod field_change;
mod library;
mod meshes;
mod pieces;
mod printers;
mod readers;
mod shapes;
mod starters;
mod typefaces;

pub use drawings::{DrawingChoice, Drawn, ToneChoice};
pub use error::Trouble;
pub use exports::{
    Asked, Exported, ListedExport, check_copies, export, mesh_file_name, shape_file_name,
};
pub use facts::{Facts, SwapsView, facts_of, swaps_of};
pub use field_change::FieldChange;
pub use meshes::{
    FaceReport, Looked, faces_of, given_size_words, piece_of, report_on, size_words, stock_of,
};
pub use pieces::{KeptStarter, LONGEST_WORD, Viewer, Worked};
pub use readers::{ReadMesh, Readers, Reading, read_here};
pub use shapes::MadeAs;
pub use starters::ListedStarter;

use drawings::OpenedDrawings;
use kalotype_core::cache::Cache;
use kalotype_core::halt::Halt;
use kalotype_core::library::Shelf;
use kalotype_core::plane::Tolerance;
use kalotype_core::workshop::Workshop;
use kalotype_store::Store;
use library::StoreLibrary;
use std::sync::Arc;

/// What is kept of work done lately, in bytes.
const CACHE_BYTES: usize = 48 << 20;

/// The store, and what pieces in it are worked out with. Cheap to clone.
#[derive(Clone)]
pub struct Service {
    store: Store,
    library: Arc<StoreLibrary>,
    cache: Arc<Cache>,
    drawings: Arc<OpenedDrawings>,
    readers: Readers,
}

impl Service {
    /// A service over a store, and how files of others are read in it.
    ///
    /// # Errors
    /// Where the typefaces kept cannot be read from the store.
    pub fn new(store: Store, readers: Readers) -> Result<Self, Trouble> {
        let library = StoreLibrary::open(store.clone(), readers.clone())?;
        Ok(Service {
            store,
            library: Arc::new(library),
            cache: Arc::new(Cache::new(CACHE_BYTES)),
            drawings: Arc::default(),
            readers,
        })
    }

    /// What a piece is worked out with, until the work is stopped.
    pub fn workshop(&self, tolerance: Tolerance, halt: Halt) -> Workshop<'_> {
        Workshop::new(&*self.library, &self.cache, tolerance).until(halt)
    }

    /// The store itself.
    pub fn store(&self) -> &Store {
        &self.store
    }
}

/// A workshop without a store: for piece files and what lies beside them.
pub struct Bench {
    /// The typefaces, meshes and shapes at hand.
    pub shelf: Shelf,
    cache: Cache,
}

impl Bench {
    /// Nothing at hand yet.
    pub fn new() -> Self {
        Bench { shelf: Shelf::default(), cache: Cache::new(CACHE_BYTES) }
    }

    /// What a piece is worked out with; nobody stops it.
    pub fn workshop(&self, tolerance: Tolerance) -> Workshop<'_> {
        Workshop::new(&self.shelf, &self.cache, tolerance)
    }
}
