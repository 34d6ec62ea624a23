//! Lengths: a typed millimetre, the parsing of what people type, and the writing of figures.

mod figure;
mod format;
mod length;
mod parse;

pub use figure::{FigureError, parse_angle, parse_count, parse_share};
pub use format::format_length;
pub use length::{Length, Unit};
pub use parse::{LengthError, parse_length};
