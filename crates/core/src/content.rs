//! Ids made of content: the same content has the same id, wherever it is.

use sha2::{Digest, Sha256};
use std::fmt::Write;

/// A word and the first half of the SHA-256 of some content, in hexadecimal.
pub fn content_id(word: &str, content: &[u8]) -> String {
    let mut arriving = Arriving::default();
    arriving.add(content);
    arriving.id(word)
}

/// Content that arrives bit by bit.
#[derive(Debug, Default)]
pub struct Arriving(Sha256);

impl Arriving {
    /// The next part of it.
    pub fn add(&mut self, part: &[u8]) {
        self.0.update(part);
    }

    /// The id of all of it, as [`content_id`] makes it.
    pub fn id(self, word: &str) -> String {
        self.0.finalize()[..16].iter().fold(word.to_owned(), |mut id, byte| {
            let _ = write!(id, "{byte:02x}");
            id
        })
    }
}
