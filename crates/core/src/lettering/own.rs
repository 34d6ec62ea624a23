//! The user's own typefaces: font files are opened and checked.

use super::Typeface;
use super::font::{Bytes, Face};
use super::typeface::OwnFont;
use crate::halt::guarded;
use serde::Serialize;
use sha2::{Digest, Sha256};
use thiserror::Error;
use ttf_parser::{Tag, name_id};

/// What the ids of the user's own typefaces begin with.
pub const OWN_FACE: &str = "own-";

/// The largest font file that is opened, and the largest a compressed one may become: faces for Chinese,
/// Japanese and Korean have 10 to 25 MB (common practice, no source).
pub const MAX_FONT_BYTES: usize = 40 << 20;

/// Curves and lines of one letter beyond which a face is a picture rather than a typeface; the most
/// intricate shipped one has under 300.
pub(super) const MOST_SEGMENTS: usize = 4000;

/// Letters and figures a face must at least have.
const LEAST_LETTERS: usize = 10;

/// Why a font was refused.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum FontError {
    /// Larger than [`MAX_FONT_BYTES`].
    #[error("The file has {0} MB; a font may have {max} MB at most.", max = MAX_FONT_BYTES >> 20)]
    TooLarge(usize),
    /// Not a font, or damaged.
    #[error("This is not a font that can be read: {0}. TTF, OTF, WOFF, WOFF2 and collections can.")]
    NotAFont(String),
    /// A compressed font that would grow too large.
    #[error("Unpacked, the font would have {0} MB; {max} MB are the most.", max = MAX_FONT_BYTES >> 20)]
    Unpacked(u32),
    /// A collection with fewer faces.
    #[error("There is no face {0} in the file.")]
    NoSuchFace(u32),
    /// Bitmaps or colour pictures only, symbols only, or a part of a font.
    #[error(
        "The font has outlines for only {0} of the letters and figures. Bitmap and colour fonts and \
         parts of fonts cannot be used."
    )]
    NoLetters(usize),
    /// Far too many points.
    #[error(
        "The letter {letter} has more than {MOST_SEGMENTS} curves and lines, the most that are drawn. It is drawn \
         too finely to be cut or printed."
    )]
    TooDetailed {
        /// Which letter.
        letter: char,
    },
}

/// A font file that was opened: its faces and what it says of itself.
#[derive(Debug, Clone, PartialEq)]
pub struct OpenedFont {
    /// The font as TrueType or OpenType, whatever it came as.
    pub bytes: std::sync::Arc<Vec<u8>>,
    /// Its faces; more than one for a collection.
    pub faces: Vec<FaceFound>,
    /// The licence, its address and the copyright as the font states them; empty where it states
    /// none.
    pub licence: String,
}

/// A face of a font file.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct FaceFound {
    /// Its place in the file.
    pub index: u32,
    /// Family and style as the font states them.
    pub name: String,
    /// The least, the usual and the greatest weight of a variable font.
    pub weights: Option<[f32; 3]>,
}

/// Opens a font file: TTF, OTF, WOFF, WOFF2, or a collection of the first two.
///
/// # Errors
/// [`FontError`] with the reason. Nothing in a font makes this panic or run for long.
pub fn open_font(bytes: &[u8]) -> Result<OpenedFont, FontError> {
    if bytes.len() > MAX_FONT_BYTES {
        return Err(FontError::TooLarge(bytes.len() >> 20));
    }
    let bytes = Bytes::new(unpacked(bytes)?);
    let count = ttf_parser::fonts_in_collection(&bytes).unwrap_or(1);
    let mut faces = Vec::new();
    let mut licence = String::new();
    let mut refused = None;
    for index in 0..count.min(64) {
        // The libraries are not proof against every damaged table either.
        let looked = guarded(|| face_found(&bytes, index));
        let damaged = || Err(FontError::NotAFont("its tables are damaged".to_owned()));
        match looked.unwrap_or_else(damaged) {
            Ok((found, stated)) => {
                faces.push(found);
                if licence.is_empty() {
                    licence = stated;
                }
            }
            Err(error) => refused = refused.or(Some(error)),
        }
    }
    match refused {
        Some(error) if faces.is_empty() => Err(error),
        _ => Ok(OpenedFont { bytes, faces, licence }),
    }
}

impl OpenedFont {
    /// One of its faces as a font file of its own, without what else is in a collection.
    ///
    /// # Errors
    /// [`FontError::NoSuchFace`].
    pub fn alone(&self, index: u32) -> Result<Vec<u8>, FontError> {
        if ttf_parser::fonts_in_collection(&self.bytes).is_none() && index == 0 {
            return Ok(self.bytes.to_vec());
        }
        let face = ttf_parser::RawFace::parse(&self.bytes, index)
            .map_err(|_| FontError::NoSuchFace(index))?;
        let tables: Vec<(Tag, &[u8])> = face
            .table_records
            .into_iter()
            .filter_map(|record| Some((record.tag, face.table(record.tag)?)))
            .collect();
        Ok(font_file(&tables))
    }

    /// One of its faces as a typeface, a variable one at a weight.
    ///
    /// # Errors
    /// [`FontError::NoSuchFace`].
    pub fn typeface(
        &self,
        id: String,
        name: String,
        index: u32,
        weight: Option<f32>,
    ) -> Result<Typeface, FontError> {
        if !self.faces.iter().any(|face| face.index == index) {
            return Err(FontError::NoSuchFace(index));
        }
        let font = OwnFont::try_new(Bytes::clone(&self.bytes), |bytes| {
            Face::own(bytes, index, weight).ok_or(FontError::NoSuchFace(index))
        })?;
        let mut content = Sha256::new_with_prefix(&*self.bytes);
        content.update(index.to_be_bytes());
        content.update(weight.unwrap_or(f32::NAN).to_be_bytes());
        let content = content.finalize().into();
        Ok(Typeface::own(id, name, self.licence.clone(), font, content))
    }
}

/// A font file of these tables (OpenType specification 1.9, "Organization of an OpenType font"). Its
/// checksums are left out; nothing here reads them.
pub(super) fn font_file(tables: &[(Tag, &[u8])]) -> Vec<u8> {
    let has_cubic = tables.iter().any(|(tag, _)| tag.to_bytes().starts_with(b"CFF"));
    let mut file: Vec<u8> = if has_cubic { b"OTTO".to_vec() } else { vec![0, 1, 0, 0] };
    let count = tables.len() as u16;
    let entry = count.max(1).ilog2() as u16;
    let range = 16 << entry;
    for figure in [count, range, entry, 16 * count - range] {
        file.extend(figure.to_be_bytes());
    }
    let mut at = file.len() + 16 * tables.len();
    for (tag, content) in tables {
        file.extend(tag.to_bytes());
        for figure in [0, at as u32, content.len() as u32] {
            file.extend(figure.to_be_bytes());
        }
        at += content.len().next_multiple_of(4);
    }
    for (_, content) in tables {
        file.extend(*content);
        file.resize(file.len().next_multiple_of(4), 0);
    }
    file
}

fn unpacked(bytes: &[u8]) -> Result<Vec<u8>, FontError> {
    let broken = |what: &str| FontError::NotAFont(what.to_owned());
    let unpack = match bytes.get(..4) {
        None => return Err(broken("it is empty")),
        Some(b"wOFF") => wuff::decompress_woff1,
        Some(b"wOF2") => wuff::decompress_woff2,
        Some(_) => return Ok(bytes.to_vec()),
    };
    // Both headers state the unpacked size at the same place (WOFF and WOFF2, W3C, section 4).
    let size = bytes.get(16..20).ok_or_else(|| broken("its header is cut off"))?;
    let size = u32::from_be_bytes([size[0], size[1], size[2], size[3]]);
    let size = if bytes.starts_with(b"wOFF") { size.max(tables_claim(bytes)) } else { size };
    if size as usize > MAX_FONT_BYTES {
        return Err(FontError::Unpacked(size >> 20));
    }
    // The decoder is not proof against every broken file; whatever it trips over is a broken file.
    let result = guarded(|| unpack(bytes));
    match result {
        Some(Ok(font)) if font.len() <= MAX_FONT_BYTES => Ok(font),
        Some(Ok(font)) => Err(FontError::Unpacked((font.len() >> 20) as u32)),
        _ => Err(broken("its compressed data are damaged")),
    }
}

/// How many bytes the tables of a WOFF are said to have together, each in an entry of 20 bytes after a header of 44
/// (WOFF, W3C, section 5). What unpacks them makes room for as much.
fn tables_claim(bytes: &[u8]) -> u32 {
    let entries = bytes.get(44..).unwrap_or_default().chunks_exact(20);
    let count =
        bytes.get(12..14).map_or(0, |two| usize::from(u16::from_be_bytes([two[0], two[1]])));
    let claims = entries.take(count).map(|e| u32::from_be_bytes([e[12], e[13], e[14], e[15]]));
    claims.fold(0, u32::saturating_add)
}

fn face_found(bytes: &Bytes, index: u32) -> Result<(FaceFound, String), FontError> {
    let face = ttf_parser::Face::parse(bytes, index)
        .map_err(|error| FontError::NotAFont(error.to_string()))?;
    Face::own(bytes, index, None)
        .ok_or_else(|| FontError::NotAFont("tables are missing".to_owned()))?;
    let mut drawn = 0;
    for letter in ('0'..='9').chain('A'..='Z').chain('a'..='z') {
        let Some(glyph) = face.glyph_index(letter) else { continue };
        match super::typeface::outline_of(&face, glyph) {
            Some(outline) => drawn += usize::from(!outline.elements().is_empty()),
            None => return Err(FontError::TooDetailed { letter }),
        }
    }
    if drawn < LEAST_LETTERS {
        return Err(FontError::NoLetters(drawn));
    }
    let stated = |ids: &[u16]| {
        let found = ids.iter().find_map(|id| {
            face.names().into_iter().filter(|name| name.name_id == *id).find_map(|n| n.to_string())
        });
        found.map(|text| text.trim().chars().take(20_000).collect::<String>()).unwrap_or_default()
    };
    let family = stated(&[name_id::TYPOGRAPHIC_FAMILY, name_id::FAMILY]);
    let style = stated(&[name_id::TYPOGRAPHIC_SUBFAMILY, name_id::SUBFAMILY]);
    let name = format!("{family} {style}").trim().chars().take(80).collect::<String>();
    let name = if name.is_empty() { "Unnamed font".to_owned() } else { name };
    let parts = [name_id::COPYRIGHT_NOTICE, name_id::LICENSE, name_id::LICENSE_URL];
    let licence: Vec<String> =
        parts.iter().map(|id| stated(&[*id])).filter(|text| !text.is_empty()).collect();
    let weights = face
        .variation_axes()
        .into_iter()
        .find(|axis| axis.tag == Tag::from_bytes(b"wght"))
        .map(|axis| [axis.min_value, axis.def_value, axis.max_value]);
    Ok((FaceFound { index, name, weights }, licence.join("\n\n")))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::lettering::{TYPEFACES, set};
    use crate::plane::Tolerance;
    use crate::testing::cache;
    use std::sync::Arc;

    const SLAB: &[u8] = include_bytes!("../../typefaces/zilla-slab/ZillaSlab_700Bold.ttf");

    #[test]
    fn a_font_file_becomes_the_typeface_it_is() {
        let font = open_font(SLAB).unwrap();
        assert_eq!(font.faces.len(), 1);
        assert!(font.faces[0].name.starts_with("Zilla Slab"), "{}", font.faces[0].name);
        assert!(font.licence.contains("Open Font License"), "{}", font.licence);
        let own = font.typeface("own-zilla".into(), "Mine".into(), 0, None).unwrap();
        let (own, shipped) = (Arc::new(own), &TYPEFACES[7]);
        let cache = cache();
        let area = |face| set("Łucja", face, 10.0, Tolerance::Normal, &cache).region.area();
        assert_eq!(area(&own), area(shipped));
        assert_eq!(
            font.typeface("x".into(), "x".into(), 3, None).err(),
            Some(FontError::NoSuchFace(3))
        );
    }

    /// A face of a collection is kept without the others, and is the same face.
    #[test]
    fn the_face_of_a_collection_stands_alone() {
        const OTHER: &[u8] = include_bytes!("../../typefaces/bebas-neue/BebasNeue_400Regular.ttf");
        // A collection is a list of where its fonts begin; their tables are found from the start of the file.
        let mut collection = b"ttcf\0\x01\0\0\0\0\0\x02".to_vec();
        let starts = [20, 20 + SLAB.len().next_multiple_of(4)];
        starts.iter().for_each(|start| collection.extend((*start as u32).to_be_bytes()));
        for (font, start) in [SLAB, OTHER].into_iter().zip(starts) {
            let mut font = font.to_vec();
            for table in 0..usize::from(u16::from_be_bytes([font[4], font[5]])) {
                let offset = &mut font[12 + 16 * table + 8..][..4];
                let moved = u32::from_be_bytes(offset.try_into().unwrap()) + start as u32;
                offset.copy_from_slice(&moved.to_be_bytes());
            }
            font.resize(font.len().next_multiple_of(4), 0);
            collection.extend(font);
        }
        let font = open_font(&collection).unwrap();
        assert_eq!(font.faces.len(), 2);
        let cache = cache();
        for (index, whole) in [(0, SLAB), (1, OTHER)] {
            let alone = font.alone(index).unwrap();
            assert!(alone.len() <= whole.len() + 64, "{} of {}", alone.len(), collection.len());
            let [alone, whole] = [&alone[..], whole].map(|bytes| {
                let font = open_font(bytes).unwrap();
                (
                    font.faces.clone(),
                    Arc::new(font.typeface("x".into(), "x".into(), 0, None).unwrap()),
                )
            });
            assert_eq!(alone.0, whole.0);
            let area = |face| set("Łucja AV", face, 10.0, Tolerance::Normal, &cache).region.area();
            assert_eq!(area(&alone.1), area(&whole.1));
        }
        assert_eq!(font.alone(2), Err(FontError::NoSuchFace(2)));
    }

    #[test]
    fn what_is_no_font_is_refused_with_the_reason() {
        let refused = |bytes: &[u8]| open_font(bytes).unwrap_err().to_string();
        assert!(refused(b"").contains("empty"));
        assert!(refused(b"<svg xmlns=...>").contains("not a font"));
        assert!(
            refused(&SLAB[..200]).contains("not a font")
                || refused(&SLAB[..200]).contains("only 0")
        );
        assert!(refused(b"wOF2").contains("cut off"));
        assert!(refused(&[b"wOF2".as_slice(), &[9; 60]].concat()).contains("MB"));
        // A table that is said to have 600 MB, in a file of 64 bytes.
        let mut claims = [b"wOFF".as_slice(), &[0; 60]].concat();
        (claims[13], claims[56]) = (1, 0x24);
        assert_eq!(open_font(&claims), Err(FontError::Unpacked(576)));
        let mut small = [b"wOF2".as_slice(), &[0; 60]].concat();
        small[19] = 200;
        assert!(refused(&small).contains("damaged"));
        assert_eq!(open_font(&vec![0; MAX_FONT_BYTES + 1]), Err(FontError::TooLarge(40)));
    }

    /// Damage anywhere is an error or a face that can be set, never a panic.
    #[test]
    fn damaged_fonts_never_panic() {
        let mut seed = 20_261_125_u32;
        let mut random = || {
            seed = seed.wrapping_mul(1_664_525).wrapping_add(1_013_904_223);
            (seed >> 8) as usize
        };
        for _ in 0..150 {
            let mut bytes = SLAB.to_vec();
            for _ in 0..1 + random() % 40 {
                let at = random() % bytes.len();
                bytes[at] = random() as u8;
            }
            if random() % 4 == 0 {
                bytes.truncate(random() % bytes.len());
            }
            let Ok(font) = open_font(&bytes) else { continue };
            let typeface = font.typeface("own-x".into(), "x".into(), 0, None).unwrap();
            set("Åß {Ωg", &Arc::new(typeface), 10.0, Tolerance::Draft, &cache());
        }
    }
}
