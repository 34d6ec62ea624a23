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

/// The longest name of a starter, in characters.
const LONGEST_NAME: usize = 80;

/// A name a starter can have.
pub(super) fn starter_name(name: &str) -> Result<String, Trouble> {
    let name = name.trim();
    if name.is_empty() || name.chars().count() > LONGEST_NAME {
        let message = format!("Give the starter a name of 1 to {LONGEST_NAME} letters.");
        return Err(Trouble::Bad(message));
    }
    Ok(name.to_owned())
}

impl Service {
    /// Gives one of the user's own starters another name.
    ///
    /// # Errors
    /// A name it cannot have, or what the store says.
    pub fn rename_starter(&self, id: &str, name: &str) -> Result<(), Trouble> {
        Ok(self.store().rename_starter(id, &starter_name(name)?)?)
    }

    /// All starters, the user's own first.
    ///
    /// # Errors
    /// What the store says.
    pub fn starters(&self) -> Result<Vec<ListedStarter>, Trouble> {
        let own = self.store().starters()?.into_iter().map(|starter| ListedStarter {
            id: starter.id,
            name: starter.name,
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
