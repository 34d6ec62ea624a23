//! Ids made of content: the same content has the same id, wherever it is.

use sha2::{Digest, Sha256};
use std::fmt::Write;

/// A word and the first half of the SHA-256 of some content, in hexadecimal.
pub fn content_id(word: &str, content: &[u8]) -> String {
    let digest = Sha256::digest(content);
    digest[..16].iter().fold(word.to_owned(), |mut id, byte| {
        let _ = write!(id, "{byte:02x}");
        id
    })
}
