use super::Typeface;
use crate::plane::{Rect, Region, Tolerance};
use kurbo::Affine;
use rustybuzz::{Direction, UnicodeBuffer};
use std::collections::HashMap;
use std::sync::{Arc, LazyLock, Mutex, PoisonError};
use unicode_bidi::BidiInfo;

/// One line of words as outlines, the pen starting at the origin and capitals standing on y = 0.
#[derive(Debug, Clone, Default)]
pub struct SetWords {
    /// All letters, united, in mm.
    pub region: Region,
    /// How far the pen moves in mm.
    pub advance: f64,
    /// Letters drawn.
    pub glyphs: usize,
    /// Characters the face lacks, each once, in order. They are left out.
    pub missing: Vec<char>,
}

/// A glyph as the shaper placed it: pen position in font units.
struct Placed {
    glyph: u16,
    x: f64,
    y: f64,
}

/// Sets one line of words: direction, kerning, ligatures and marks as the font asks for them.
///
/// `letter_height` is the height of capitals in mm. Tabs and line breaks count as spaces. Lines
/// of mixed direction are ordered by the Unicode Bidirectional Algorithm (UAX #9).
pub fn set(words: &str, typeface: &Typeface, letter_height: f64, tolerance: Tolerance) -> SetWords {
    let words: String = words.chars().map(|c| if c.is_control() { ' ' } else { c }).collect();
    let cap_height = typeface.cap_height();
    let scale = letter_height / cap_height.height;
    let (glyphs, advance, missing) = shape(&words, typeface);
    let parts: Vec<Region> = glyphs
        .iter()
        .map(|placed| {
            let region = glyph_region(typeface, placed.glyph, scale, tolerance);
            let foot = placed.y - cap_height.foot;
            (*region).clone().moved(placed.x * scale, foot * scale)
        })
        .filter(|region| !region.is_empty())
        .collect();
    let glyphs = parts.len();
    SetWords { region: Region::gather(parts), advance: advance * scale, glyphs, missing }
}

impl SetWords {
    /// The box that lettering is placed by: as wide as what is drawn, as high as its capitals, so
    /// that words with and without descenders stand on one line.
    pub fn placing_box(&self, letter_height: f64) -> Option<Rect> {
        let ink = self.region.bounds()?;
        Some(Rect { x0: ink.x0, y0: 0.0, x1: ink.x1, y1: letter_height })
    }
}

fn shape(words: &str, typeface: &Typeface) -> (Vec<Placed>, f64, Vec<char>) {
    let face = typeface.face();
    let bidi = BidiInfo::new(words, None);
    let (mut glyphs, mut missing) = (Vec::new(), Vec::new());
    let (mut x, mut y) = (0.0, 0.0);
    for paragraph in &bidi.paragraphs {
        let (levels, runs) = bidi.visual_runs(paragraph, paragraph.range.clone());
        for run in runs {
            let right_to_left = levels[run.start].is_rtl();
            let mut buffer = UnicodeBuffer::new();
            let text = &words[run];
            buffer.push_str(text);
            buffer.guess_segment_properties();
            buffer.set_direction(if right_to_left {
                Direction::RightToLeft
            } else {
                Direction::LeftToRight
            });
            let shaped = rustybuzz::shape(face, &[], buffer);
            for (info, position) in shaped.glyph_infos().iter().zip(shaped.glyph_positions()) {
                if info.glyph_id == 0 {
                    let lacked = text[info.cluster as usize..].chars().next();
                    missing.extend(lacked.filter(|c| !missing.contains(c)));
                    continue;
                }
                glyphs.push(Placed {
                    glyph: info.glyph_id as u16,
                    x: x + f64::from(position.x_offset),
                    y: y + f64::from(position.y_offset),
                });
                x += f64::from(position.x_advance);
                y += f64::from(position.y_advance);
            }
        }
    }
    // In reading order, whatever the order of drawing was.
    missing.sort_by_key(|c| words.find(*c));
    (glyphs, x, missing)
}

type GlyphKey = (&'static str, u16, u64, Tolerance);

/// Glyphs already flattened and resolved; a name that grows by a letter needs only that letter.
static GLYPHS: LazyLock<Mutex<HashMap<GlyphKey, Arc<Region>>>> = LazyLock::new(Mutex::default);

fn glyph_region(typeface: &Typeface, glyph: u16, scale: f64, tolerance: Tolerance) -> Arc<Region> {
    const MOST_KEPT: usize = 4096;
    let key = (typeface.id, glyph, scale.to_bits(), tolerance);
    let lock = || GLYPHS.lock().unwrap_or_else(PoisonError::into_inner);
    if let Some(known) = lock().get(&key) {
        return Arc::clone(known);
    }
    let path = Affine::scale(scale) * typeface.outline(glyph);
    let region = Arc::new(Region::from_path(&path, tolerance));
    let mut kept = lock();
    if kept.len() >= MOST_KEPT {
        kept.clear();
    }
    kept.insert(key, Arc::clone(&region));
    region
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::lettering::typeface;

    fn bounds(words: &str, face: &str, height: f64) -> Rect {
        set(words, typeface(face).unwrap(), height, Tolerance::Fine).region.bounds().unwrap()
    }

    #[test]
    fn a_flat_capital_is_as_tall_as_asked() {
        for face in ["bebas-neue", "montserrat", "press-start-2p", "zilla-slab"] {
            let h = bounds("H", face, 10.0);
            assert!((h.height() - 10.0).abs() < 1e-3 && h.y0.abs() < 1e-3, "{face}: {h:?}");
        }
    }

    #[test]
    fn pairs_are_kerned_and_missing_letters_are_named_once_in_reading_order() {
        let baloo = typeface("baloo-2").unwrap();
        let advance = |words| set(words, baloo, 10.0, Tolerance::Draft).advance;
        assert!(advance("AV") < advance("A") + advance("V") - 0.1);
        let lacking = set("Ωmega ש and Ω", baloo, 10.0, Tolerance::Draft);
        assert_eq!(lacking.missing, ['Ω', 'ש']);
        assert!(lacking.glyphs > 5);
    }

    #[test]
    fn hebrew_runs_from_right_to_left_between_latin_words() {
        let rubik = typeface("rubik").unwrap();
        let (glyphs, ..) = shape("אב", rubik);
        let alef = rubik.face().glyph_index('א').unwrap().0;
        assert_eq!(glyphs.last().unwrap().glyph, alef);
        assert!(glyphs.last().unwrap().x > glyphs[0].x);
    }

    #[test]
    fn script_letters_that_overlap_are_united() {
        let pacifico = typeface("pacifico").unwrap();
        let line = set("Solveig", pacifico, 10.0, Tolerance::Normal);
        let (glyphs, ..) = shape("Solveig", pacifico);
        let scale = 10.0 / pacifico.cap_height().height;
        let apart = |glyph| glyph_region(pacifico, glyph, scale, Tolerance::Normal).area();
        let sum: f64 = glyphs.iter().map(|placed| apart(placed.glyph)).sum();
        let area = line.region.area();
        assert!(area < sum - 0.1, "{area} of {sum}");
    }

    #[test]
    fn nothing_to_draw_is_no_error() {
        for words in ["", "   ", "\t\n", "🚢"] {
            let line = set(words, typeface("nunito").unwrap(), 10.0, Tolerance::Normal);
            assert!(line.region.is_empty(), "{words:?}");
        }
    }
}
