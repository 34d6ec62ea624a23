//! Starters, the shipped and the user's own.

use super::{Service, Trouble};
use crate::starters::{STARTERS, starter};
use kalotype_core::piece::Piece;

/// A starter in a list.
pub struct ListedStarter {
    /// Its id.
    pub id: String,
    /// What it is called.
    pub name: String,
    /// Whether it is one of the user's own.
    pub is_own: bool,
}

impl Service {
    /// All starters, the user's own first.
    ///
    /// # Errors
    /// What the store says.
    pub fn starters(&self) -> Result<Vec<ListedStarter>, Trouble> {
        let own = self.store().starters()?.into_iter().map(|starter| ListedStarter {
            id: starter.id,
            name: starter.piece.name,
            is_own: true,
        });
        let shipped = STARTERS.iter().map(|starter| ListedStarter {
            id: starter.id.to_owned(),
            name: starter.piece.name.clone(),
            is_own: false,
        });
        Ok(own.chain(shipped).collect())
    }

    /// The piece a starter makes.
    ///
    /// # Errors
    /// Where there is no such starter.
    pub fn starter(&self, id: &str) -> Result<Piece, Trouble> {
        match starter(id) {
            Some(shipped) => Ok(shipped.piece.clone()),
            None => Ok(self.store().starter(id)?.piece),
        }
    }
}
