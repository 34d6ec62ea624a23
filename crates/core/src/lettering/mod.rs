//! Lettering: words and typefaces become outlines.
//!
//! A line is shaped (which glyphs, where), lines are set straight, along a circle or to fill a box,
//! and their letters united. Typefaces come from the catalogue of shipped ones or from the shelf of
//! the user's own.

mod catalogue;
mod setting;
mod shape;
mod shelf;
mod style;
mod typeface;

pub use catalogue::{TYPEFACES, typeface, typeface_for};
pub use setting::{Circle, Line, SetWords, fitting_ratio, set, set_around, set_lines};
pub use shelf::{
    FaceFound, FontError, MAX_FONT_BYTES, OWN_FACE, OpenedFont, open_font, own_typefaces, shelve,
    unshelve,
};
pub use style::{Align, CircleSide, Reading, Style};
pub use typeface::{Group, Typeface};
