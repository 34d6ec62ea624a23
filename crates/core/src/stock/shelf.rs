//! Stock at hand, by id.

use super::{FlatFace, flat_faces};
use crate::formats::FoundMesh;
use crate::solid::{Faults, KernelSolid, Mesh};
use sha2::{Digest, Sha256};
use std::collections::HashMap;
use std::sync::{Arc, LazyLock, Mutex, MutexGuard, PoisonError, RwLock};
use thiserror::Error;

/// What the ids of stock begin with.
pub const OWN_STOCK: &str = "mesh-";

/// The most triangles stock may have: beyond it every edit would take too long.
pub const MAX_STOCK_TRIANGLES: usize = 200_000;

/// A mesh that pieces can be made of: one sound solid.
#[derive(Debug, Clone, PartialEq)]
pub struct Stock {
    /// Its id, made of the content of its file.
    pub id: String,
    /// What its file was called.
    pub name: String,
    /// Millimetres to one of its figures: 1 where the file stated a unit, else what is likely.
    pub scale: f64,
    /// Its closed mesh, in its own figures.
    pub mesh: Mesh,
    /// Its flat faces, the largest first.
    pub faces: Vec<FlatFace>,
    /// Whether its surface had to be mended.
    pub was_mended: bool,
}

/// Why a mesh cannot be worked on.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum StockError {
    /// The surface has gaps.
    #[error(
        "the surface has gaps ({0} open edges), so there is no inside and outside to add to or cut \
         from. Close it in the program it comes from"
    )]
    Open(usize),
    /// Not closed in a way that could be mended.
    #[error("its surface is so tangled that no solid could be made of it: {0}")]
    Tangled(String),
    /// More than [`MAX_STOCK_TRIANGLES`].
    #[error(
        "it has {0} triangles; a mesh to work on may have {MAX_STOCK_TRIANGLES} at most. Thin it \
         out in the program it comes from"
    )]
    TooMany(usize),
    /// Nothing to put anything on.
    #[error("it has no flat face to put lettering or holes on")]
    NoFlatFace,
}

/// The id of the stock made of a file: the first half of the SHA-256 of its bytes.
pub fn stock_id(file: &[u8]) -> String {
    use std::fmt::Write;
    let digest = Sha256::digest(file);
    digest[..16].iter().fold(OWN_STOCK.to_owned(), |mut id, byte| {
        let _ = write!(id, "{byte:02x}");
        id
    })
}

impl Stock {
    /// Makes stock of a mesh file. Its bodies become one solid. A surface that crosses itself or is
    /// turned inside out is mended; one with gaps is refused.
    ///
    /// # Errors
    /// [`StockError`] with what is wrong and what to do about it.
    pub fn of(id: String, name: String, found: &FoundMesh) -> Result<Self, StockError> {
        Self::made(id, name, found, false)
    }

    /// The same of a file that was found to need no mending before, which is quicker.
    ///
    /// # Errors
    /// [`StockError`], as [`Stock::of`].
    pub fn of_sound(id: String, name: String, found: &FoundMesh) -> Result<Self, StockError> {
        Self::made(id, name, found, true)
    }

    fn made(
        id: String,
        name: String,
        found: &FoundMesh,
        known_sound: bool,
    ) -> Result<Self, StockError> {
        let mut all = Mesh::default();
        found.bodies.iter().for_each(|body| all.append(&body.mesh));
        if all.triangles.len() > MAX_STOCK_TRIANGLES {
            return Err(StockError::TooMany(all.triangles.len()));
        }
        let mesh = all.welded();
        let faults = mesh.faults();
        let sound = KernelSolid::of(&mesh)
            .filter(|solid| faults.is_sound() && (known_sound || !solid.crosses_itself()));
        let was_mended = sound.is_none();
        let mesh = match sound {
            Some(_) => mesh,
            None => KernelSolid::mended(&mesh).ok_or_else(|| refusal(faults))?.surface(),
        };
        let faces = flat_faces(&mesh);
        if faces.is_empty() {
            return Err(StockError::NoFlatFace);
        }
        let scale = found.likely_scale();
        Ok(Stock { id, name, scale, mesh, faces, was_mended })
    }
}

fn refusal(faults: Faults) -> StockError {
    match faults.open_edges {
        0 => StockError::Tangled(faults.sentences().join(" ")),
        open => StockError::Open(open),
    }
}

/// Where stock comes from that is not on the shelf.
type Source = Box<dyn Fn(&str) -> Option<Stock> + Send + Sync>;

#[derive(Default)]
struct Shelf {
    /// What was put there.
    put: HashMap<String, Arc<Stock>>,
    /// What was fetched lately, the last one first.
    fetched: Vec<Arc<Stock>>,
}

static SHELF: LazyLock<Mutex<Shelf>> = LazyLock::new(Mutex::default);
static SOURCE: RwLock<Option<Source>> = RwLock::new(None);

fn shelf() -> MutexGuard<'static, Shelf> {
    SHELF.lock().unwrap_or_else(PoisonError::into_inner)
}

/// Puts stock on the shelf, in the place of what has the same id.
pub fn shelve(stock: Stock) {
    shelf().put.insert(stock.id.clone(), Arc::new(stock));
}

/// Takes stock from the shelf; pieces made of it can no longer be built, unless the source has it.
pub fn unshelve(id: &str) {
    let mut shelf = shelf();
    shelf.put.remove(id);
    shelf.fetched.retain(|stock| stock.id != id);
    drop(shelf);
    super::level::forget(id);
}

/// Says where stock is to be fetched from when it is asked for and not on the shelf.
pub fn fetch_from(source: impl Fn(&str) -> Option<Stock> + Send + Sync + 'static) {
    *SOURCE.write().unwrap_or_else(PoisonError::into_inner) = Some(Box::new(source));
}

/// The stock of this id: from the shelf, or fetched.
pub fn on_shelf(id: &str) -> Option<Arc<Stock>> {
    const MOST_FETCHED: usize = 6;
    {
        let shelf = shelf();
        let fetched = || shelf.fetched.iter().find(|stock| stock.id == id);
        if let Some(stock) = shelf.put.get(id).or_else(fetched) {
            return Some(Arc::clone(stock));
        }
    }
    let source = SOURCE.read().unwrap_or_else(PoisonError::into_inner);
    let stock = Arc::new(source.as_ref()?(id)?);
    let mut shelf = shelf();
    shelf.fetched.insert(0, Arc::clone(&stock));
    shelf.fetched.truncate(MOST_FETCHED);
    Some(stock)
}
