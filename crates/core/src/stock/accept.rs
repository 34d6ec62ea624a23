//! Mesh files accepted as stock: closed, mended where they must be, with their flat faces found.

use super::{FlatFace, evened, flat_faces};
use crate::content::content_id;
use crate::formats::FoundMesh;
use crate::piece::OWN_STOCK;
use crate::solid::{Faults, KernelSolid, Mesh};
use serde::{Deserialize, Serialize};
use thiserror::Error;

/// The most triangles stock may have: beyond it every edit would take too long.
pub const MAX_STOCK_TRIANGLES: usize = 200_000;

/// A mesh that pieces can be made of: one sound solid.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct Stock {
    /// Its id, made of the content of its file.
    pub id: String,
    /// What its file was called.
    pub name: String,
    /// Millimetres to one of its figures: 1 where the file stated a unit, else what is likely.
    pub scale: f64,
    /// Its closed mesh, in its own figures.
    pub mesh: Mesh,
    /// Its flat faces: those that look up, then the others, the largest first.
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
    content_id(OWN_STOCK, file)
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
            None => KernelSolid::joined(&mesh)
                .or_else(|| KernelSolid::mended(&mesh))
                .ok_or_else(|| refusal(faults))?
                .surface(),
        };
        let faces = flat_faces(&mesh);
        if faces.is_empty() {
            return Err(StockError::NoFlatFace);
        }
        let (mesh, faces) = match evened(&mesh, &faces) {
            Some(evened) => {
                let faces = flat_faces(&evened);
                (evened, faces)
            }
            None => (mesh, faces),
        };
        let scale = found.likely_scale();
        Ok(Stock { id, name, scale, mesh, faces, was_mended })
    }
}

fn refusal(faults: Faults) -> StockError {
    match faults.open_edges {
        0 if faults.is_sound() => StockError::Tangled("its faces cross each other".to_owned()),
        0 => StockError::Tangled(faults.sentences().join(" ")),
        open => StockError::Open(open),
    }
}
