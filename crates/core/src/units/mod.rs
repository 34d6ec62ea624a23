//! Lengths: a typed millimetre, the parsing of what people type, and the writing of figures.

mod format;
mod length;
mod parse;

pub use format::format_length;
pub use length::{Length, Unit};
pub use parse::{LengthError, parse_length};
