//! Figures that came out otherwise than they were typed, because of a rule that gives way where there is no room.

use super::Placed;
use crate::piece::{Address, Edit, Element, Gives, Kind, LetterSize};
use serde::Serialize;

/// A figure that came out otherwise.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct CameOut {
    /// The field that holds what was typed.
    pub field: &'static str,
    /// What came of it, in mm.
    pub mm: f64,
    /// What makes it come out just as it was typed, where something does.
    pub exactly: Option<Edit>,
}

/// Less than this nobody measures, in mm.
const NOTICEABLE_MM: f64 = 0.005;

/// The figures of an element that came out otherwise than they were typed.
pub fn came_out(element: &Element, placed: &Placed, address: &Address) -> Option<CameOut> {
    let (field, asked, mm, exactly) = match &element.kind {
        Kind::Lettering(words) if placed.drawn.glyphs > 0 => {
            let LetterSize::Height(asked) = words.size else { return None };
            let gives = words.gives != Gives::Nothing;
            let exactly = gives.then(|| Edit::set(address, "gives", "nothing"));
            ("size.height", asked, placed.drawn.letter_height, exactly)
        }
        Kind::Pattern(pattern) => ("pitch", pattern.pitch, placed.drawn.pitch?, None),
        _ => return None,
    };
    ((mm - asked.as_mm()).abs() >= NOTICEABLE_MM).then_some(CameOut { field, mm, exactly })
}
