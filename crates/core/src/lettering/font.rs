//! A font as it is drawn and as it is shaped.

use std::ops::Deref;
use std::sync::Arc;
use ttf_parser::Tag;

/// The bytes of a font file, shared by what draws and what shapes.
pub(super) type Bytes = Arc<Vec<u8>>;

/// A parsed font. `ttf-parser` has its tables and draws its glyphs; `harfrust` shapes with it, for kerning
/// that follows the weight of a variable font.
pub(super) struct Face<'a> {
    parsed: ttf_parser::Face<'a>,
    shaping: harfrust::Font,
}

impl<'a> Face<'a> {
    /// A face of a file, the place in it counted from 0, and a variable one at a weight; `None` where one
    /// of the libraries cannot read it.
    ///
    /// `bytes` and `source` are the same file.
    fn parse(
        bytes: &'a [u8],
        source: harfrust::font::Source,
        index: u32,
        weight: Option<f32>,
    ) -> Option<Self> {
        let mut parsed = ttf_parser::Face::parse(bytes, index).ok()?;
        let mut shaping = harfrust::Font::new(source, index)?;
        if let Some(weight) = weight {
            parsed.set_variation(Tag::from_bytes(b"wght"), weight);
            let setting = (harfrust::Tag::new(b"wght"), weight);
            shaping = shaping.instance_builder().variations([setting]).build();
        }
        Some(Face { parsed, shaping })
    }

    /// One whose bytes are part of the program.
    pub fn shipped(bytes: &'static [u8]) -> Option<Face<'static>> {
        Face::parse(bytes, harfrust::font::Blob::Static(bytes).into(), 0, None)
    }

    /// One of bytes that were read.
    pub fn own(bytes: &'a Bytes, index: u32, weight: Option<f32>) -> Option<Self> {
        let shared = harfrust::font::Blob::Shared(Arc::clone(bytes) as _);
        Face::parse(bytes, shared.into(), index, weight)
    }

    /// What shapes lines of it.
    pub fn shaper(&self) -> harfrust::ShaperFont<'_, '_> {
        harfrust::ShaperFont::new(&self.shaping)
    }
}

impl<'a> Deref for Face<'a> {
    type Target = ttf_parser::Face<'a>;

    fn deref(&self) -> &Self::Target {
        &self.parsed
    }
}
