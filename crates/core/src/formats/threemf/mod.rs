//! 3MF, written and read, after the 3MF Core Specification 1.3 (3MF Consortium).

mod read;
mod write;

pub use read::read;
pub use write::write;
