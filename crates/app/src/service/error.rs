//! What work of the service can end in instead of its result.

use kalotype_core::edit::Unapplied;
use kalotype_core::halt::Halted;
use kalotype_core::piece::EditError;
use kalotype_store::{DatabaseError, StoreError};
use thiserror::Error;

/// What a piece of work can end in instead of its result.
#[derive(Debug, Error)]
pub enum Trouble {
    /// An edit that does not fit; said at its field.
    #[error(transparent)]
    Edit(#[from] EditError),
    /// Whatever the store says.
    #[error(transparent)]
    Store(#[from] StoreError),
    /// Something given that cannot be used.
    #[error("{0}")]
    Bad(String),
    /// Somebody else changed the same thing since it was seen.
    #[error(
        "{0} was changed meanwhile, by somebody else or on another page. Look at it and try again."
    )]
    Overtaken(String),
    /// The work was stopped.
    #[error(transparent)]
    Halted(#[from] Halted),
}

impl From<Unapplied> for Trouble {
    fn from(unapplied: Unapplied) -> Self {
        match unapplied {
            Unapplied::Refused(error) => Trouble::Edit(error),
            Unapplied::Halted(halted) => Trouble::Halted(halted),
        }
    }
}

impl From<DatabaseError> for Trouble {
    fn from(error: DatabaseError) -> Self {
        Trouble::Store(error.into())
    }
}

impl Trouble {
    /// What is wrong with something given, as a sentence.
    pub(super) fn bad(error: impl ToString) -> Self {
        Trouble::Bad(sentence(error))
    }
}

/// An error as a sentence: with a capital at its beginning and a full stop at its end.
pub(super) fn sentence(error: impl ToString) -> String {
    let text = error.to_string();
    let mut letters = text.chars();
    let first = letters.next().map(|letter| letter.to_uppercase().to_string()).unwrap_or_default();
    let end = if text.ends_with('.') { "" } else { "." };
    format!("{first}{}{end}", letters.as_str())
}
