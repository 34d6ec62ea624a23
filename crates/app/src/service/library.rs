//! The library of a store: typefaces, meshes and shapes by their ids.

use super::Trouble;
use super::readers::Readers;
use kalotype_core::halt::Halt;
use kalotype_core::lettering::{FontError, Typeface, open_font};
use kalotype_core::library::Library;
use kalotype_core::shapes::Shape;
use kalotype_core::stock::Stock;
use kalotype_store::{OwnTypeface, Store};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

/// How many meshes are kept opened, the last asked for first: an edit of a piece asks for the same
/// again.
const MOST_OPENED: usize = 6;

/// The same of shapes.
const MOST_OPENED_SHAPES: usize = 64;

/// Typefaces, meshes and shapes that a store keeps. Opened once, and forgotten when they are taken away.
pub(super) struct StoreLibrary {
    store: Store,
    readers: Readers,
    opened: Mutex<Opened>,
}

#[derive(Default)]
struct Opened {
    typefaces: Vec<Arc<Typeface>>,
    meshes: Vec<Arc<Stock>>,
    shapes: Vec<Arc<Shape>>,
}

/// Opens a typeface that is kept.
fn open(kept: &OwnTypeface) -> Result<Typeface, FontError> {
    let font = open_font(&kept.font)?;
    font.typeface(kept.id.clone(), kept.name.clone(), kept.face_index, kept.weight)
}

impl StoreLibrary {
    /// Opens every typeface the store keeps. One that can no longer be opened is left out and logged.
    pub fn open(store: Store, readers: Readers) -> Result<Self, Trouble> {
        let mut opened = Opened::default();
        for kept in store.typefaces()? {
            match open(&kept) {
                Ok(typeface) => opened.typefaces.push(Arc::new(typeface)),
                Err(error) => tracing::warn!("typeface {} ({}): {error}", kept.id, kept.name),
            }
        }
        Ok(StoreLibrary { store, readers, opened: Mutex::new(opened) })
    }

    fn opened(&self) -> MutexGuard<'_, Opened> {
        self.opened.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Opens a typeface that is going to be kept.
    pub fn take_up(&self, kept: &OwnTypeface) -> Result<(), FontError> {
        let typeface = Arc::new(open(kept)?);
        let mut opened = self.opened();
        opened.typefaces.push(typeface);
        opened.typefaces.sort_by(|a, b| a.name.cmp(&b.name).then(a.id.cmp(&b.id)));
        Ok(())
    }

    /// Forgets what was opened under an id.
    pub fn forget(&self, id: &str) {
        let mut opened = self.opened();
        opened.typefaces.retain(|typeface| typeface.id != id);
        opened.meshes.retain(|stock| stock.id != id);
        opened.shapes.retain(|shape| shape.id != id);
    }

    fn fetched_shape(&self, id: &str) -> Option<Shape> {
        let kept = self
            .store
            .shape(id)
            .inspect_err(|error| tracing::error!("shape {id}: {error}"))
            .ok()??;
        Shape::open(&kept.document, &kept.name)
            .inspect_err(|error| tracing::warn!("shape {id}: {error}"))
            .ok()
    }

    fn fetched(&self, id: &str) -> Option<Stock> {
        let kept = self
            .store
            .mesh(id)
            .inspect_err(|error| tracing::error!("mesh {id}: {error}"))
            .ok()??;
        self.readers
            .stock(&kept.file, !kept.is_mended, &Halt::default())
            .map(|stock| Stock { id: kept.id, name: kept.name, ..stock })
            .inspect_err(|error| tracing::warn!("mesh {id}: {error}"))
            .ok()
    }
}

impl Library for StoreLibrary {
    fn typeface(&self, id: &str) -> Option<Arc<Typeface>> {
        self.opened().typefaces.iter().find(|typeface| typeface.id == id).cloned()
    }

    fn typefaces(&self) -> Vec<Arc<Typeface>> {
        self.opened().typefaces.clone()
    }

    fn mesh(&self, id: &str) -> Option<Arc<Stock>> {
        if let Some(stock) = asked_again(&mut self.opened().meshes, |stock| stock.id == id) {
            return Some(stock);
        }
        let stock = Arc::new(self.fetched(id)?);
        let mut opened = self.opened();
        opened.meshes.insert(0, Arc::clone(&stock));
        opened.meshes.truncate(MOST_OPENED);
        Some(stock)
    }

    fn shape(&self, id: &str) -> Option<Arc<Shape>> {
        if let Some(shape) = asked_again(&mut self.opened().shapes, |shape| shape.id == id) {
            return Some(shape);
        }
        let shape = Arc::new(self.fetched_shape(id)?);
        let mut opened = self.opened();
        opened.shapes.insert(0, Arc::clone(&shape));
        opened.shapes.truncate(MOST_OPENED_SHAPES);
        Some(shape)
    }
}

/// Something that was opened before; it is the last asked for now.
fn asked_again<T>(opened: &mut Vec<Arc<T>>, is_it: impl Fn(&T) -> bool) -> Option<Arc<T>> {
    let at = opened.iter().position(|one| is_it(one))?;
    let found = opened.remove(at);
    opened.insert(0, Arc::clone(&found));
    Some(found)
}
