//! Lettering: words and a typeface become outlines.

mod catalogue;
mod shape;
mod typeface;

pub use catalogue::{TYPEFACES, typeface, typeface_for};
pub use shape::{SetWords, set};
pub use typeface::{Group, Typeface};
