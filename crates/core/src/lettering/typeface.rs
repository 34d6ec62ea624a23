//! A typeface, shipped or the user's own, and the outlines of its glyphs.

use super::effort::is_bounded;
use super::font::{Bytes, Face};
use super::own::MOST_SEGMENTS;
use crate::halt::guarded;
use kurbo::{BezPath, PathEl};
use serde::Serialize;
use sha2::{Digest, Sha256};
use std::borrow::Cow;
use std::sync::OnceLock;
use ttf_parser::{GlyphId, OutlineBuilder};

/// How a typeface looks and prints.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize)]
#[serde(rename_all = "lowercase")]
pub enum Group {
    /// Thick strokes, round or plain; prints at small sizes.
    Heavy,
    /// Tall and narrow; long names on short plates.
    Narrow,
    /// Square serifs.
    Slab,
    /// Bracketed serifs.
    Serif,
    /// Joined handwriting.
    Script,
    /// No closed counters to lose when cut through.
    Stencil,
    /// Every letter of one width, or drawn for show.
    Display,
}

/// A typeface: a shipped one, or one of the user's own.
pub struct Typeface {
    /// The name used in piece files; never changes.
    pub id: Cow<'static, str>,
    /// The name shown.
    pub name: Cow<'static, str>,
    /// How it looks and prints; nothing for one of the user's own.
    pub group: Option<Group>,
    /// The licence it comes with, in full, or what the font says of it.
    pub licence: Cow<'static, str>,
    font: Font,
    /// A hash of what it draws: of the font file, the face in it and its weight.
    content: [u8; 32],
}

/// The parsed font, with the bytes it refers to.
enum Font {
    Shipped { bytes: &'static [u8], face: OnceLock<Box<Face<'static>>> },
    Own(OwnFont),
}

self_cell::self_cell!(
    pub(super) struct OwnFont {
        owner: Bytes,
        #[covariant]
        dependent: Face,
    }
);

/// Where capitals stand, in font units.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct CapHeight {
    /// The line capitals stand on; nearly always 0.
    pub foot: f64,
    /// From there to the top of a capital.
    pub height: f64,
}

impl Typeface {
    /// A shipped typeface; its file is parsed when it is first used.
    pub(super) fn shipped(
        id: &'static str,
        name: &'static str,
        group: Group,
        bytes: &'static [u8],
        licence: &'static str,
    ) -> Self {
        Typeface {
            id: id.into(),
            name: name.into(),
            group: Some(group),
            licence: licence.into(),
            font: Font::Shipped { bytes, face: OnceLock::new() },
            // A shipped file never changes under its name.
            content: Sha256::digest(id).into(),
        }
    }

    /// One of the user's own.
    pub(super) fn own(
        id: String,
        name: String,
        licence: String,
        font: OwnFont,
        content: [u8; 32],
    ) -> Self {
        Typeface {
            id: id.into(),
            name: name.into(),
            group: None,
            licence: licence.into(),
            font: Font::Own(font),
            content,
        }
    }

    /// The parsed font.
    ///
    /// # Panics
    /// Never for the shipped files, all of which a test parses.
    pub(super) fn face(&self) -> &Face<'_> {
        match &self.font {
            Font::Shipped { bytes, face } => face
                .get_or_init(|| Box::new(Face::shipped(bytes).expect("a shipped typeface parses"))),
            Font::Own(own) => own.borrow_dependent(),
        }
    }

    /// A hash of what it draws, whatever it is called.
    pub(crate) fn content(&self) -> [u8; 32] {
        self.content
    }

    /// Whether the face has a glyph for a character, other than the one for what it lacks, and one that can be
    /// drawn.
    pub fn has(&self, character: char) -> bool {
        let glyph = self.face().glyph_index(character);
        glyph.is_some_and(|glyph| glyph.0 != 0 && self.can_draw(glyph.0))
    }

    /// Whether a glyph is not too much to be drawn. All those of shipped faces can be.
    pub(super) fn can_draw(&self, glyph: u16) -> bool {
        match &self.font {
            Font::Shipped { .. } => true,
            Font::Own(_) => outline_of(self.face(), GlyphId(glyph)).is_some(),
        }
    }

    /// The outline of a glyph in font units, y up; empty for one that is too much to be drawn.
    pub fn outline(&self, glyph: u16) -> BezPath {
        outline_of(self.face(), GlyphId(glyph)).unwrap_or_default()
    }

    /// The height of capitals as the H measures, which is what people put a rule to; without a usable H
    /// as the font states it (OS/2 `sCapHeight`).
    pub fn cap_height(&self) -> CapHeight {
        let face = self.face();
        let em = f64::from(face.units_per_em());
        let drawn = face.glyph_index('H').filter(|h| is_bounded(face, *h));
        let measured = drawn.and_then(|h| face.glyph_bounding_box(h)).map(|b| CapHeight {
            foot: b.y_min.into(),
            height: f64::from(b.y_max) - f64::from(b.y_min),
        });
        let stated = face.capital_height().filter(|&height| height > 0).map(f64::from);
        let stated = CapHeight { foot: 0.0, height: stated.unwrap_or(0.7 * em) };
        measured.filter(|h| (0.1 * em..2.0 * em).contains(&h.height)).unwrap_or(stated)
    }
}

/// The outline of a glyph in font units, y up; empty where it has none, or where its tables are damaged
/// so that the library trips over them. `None` where it is too much to be drawn.
pub(super) fn outline_of(face: &ttf_parser::Face<'_>, glyph: GlyphId) -> Option<BezPath> {
    if !is_bounded(face, glyph) {
        return None;
    }
    let draw = || {
        let mut pen = Pen::default();
        face.outline_glyph(glyph, &mut pen);
        pen.path
    };
    let path = guarded(draw).unwrap_or_default();
    let is_drawn = |element: &&PathEl| !matches!(element, PathEl::ClosePath);
    (path.elements().iter().filter(is_drawn).count() <= MOST_SEGMENTS).then_some(path)
}

/// Draws a path. A contour that begins without a first point, as in a damaged font, begins where it first
/// goes to.
#[derive(Default)]
struct Pen {
    path: BezPath,
    is_down: bool,
}

impl Pen {
    fn put_down(&mut self, x: f32, y: f32) {
        if !std::mem::replace(&mut self.is_down, true) {
            self.path.move_to((f64::from(x), f64::from(y)));
        }
    }
}

impl OutlineBuilder for Pen {
    fn move_to(&mut self, x: f32, y: f32) {
        self.is_down = false;
        self.put_down(x, y);
    }
    fn line_to(&mut self, x: f32, y: f32) {
        self.put_down(x, y);
        self.path.line_to((f64::from(x), f64::from(y)));
    }
    fn quad_to(&mut self, x1: f32, y1: f32, x: f32, y: f32) {
        self.put_down(x1, y1);
        self.path.quad_to((f64::from(x1), f64::from(y1)), (f64::from(x), f64::from(y)));
    }
    fn curve_to(&mut self, x1: f32, y1: f32, x2: f32, y2: f32, x: f32, y: f32) {
        self.put_down(x1, y1);
        self.path.curve_to(
            (f64::from(x1), f64::from(y1)),
            (f64::from(x2), f64::from(y2)),
            (f64::from(x), f64::from(y)),
        );
    }
    fn close(&mut self) {
        if std::mem::replace(&mut self.is_down, false) {
            self.path.close_path();
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// What a damaged font has a pen do: go on without a beginning, close twice, close nothing.
    #[test]
    fn a_contour_without_a_beginning_begins_where_it_first_goes() {
        let mut pen = Pen::default();
        pen.close();
        pen.line_to(1.0, 2.0);
        pen.quad_to(2.0, 2.0, 3.0, 4.0);
        pen.close();
        pen.close();
        pen.curve_to(5.0, 5.0, 6.0, 6.0, 7.0, 5.0);
        assert_eq!(pen.path.to_svg(), "M1,2 L1,2 Q2,2 3,4 Z M5,5 C5,5 6,6 7,5");
    }
}
