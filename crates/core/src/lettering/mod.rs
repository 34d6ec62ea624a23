//! Lettering: words and typefaces become outlines.
//!
//! A line is shaped (which glyphs, where), lines are set straight, along a circle or to fill a box,
//! and their letters united. Typefaces come from the catalogue of shipped ones, or are opened from
//! the user's own files.

mod catalogue;
mod effort;
mod font;
mod own;
mod setting;
mod shape;
mod style;
mod typeface;

pub use catalogue::{TYPEFACES, shipped, typeface_for};
pub use own::{FaceFound, FontError, MAX_FONT_BYTES, OWN_FACE, OpenedFont, open_font};
pub use setting::{
    Along, Circle, Line, Over, Seat, SetWords, baselines, each_around, each_line, extents,
    fitting_ratio, letters_along, letters_around, letters_of, set, set_along, set_around,
    set_lines,
};
pub use style::{Align, CircleSide, Reading, Style};
pub use typeface::{Group, Typeface};
