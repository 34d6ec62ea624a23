//! Shaping: which glyphs a line of words takes, and where the font puts them.

use super::Typeface;
use crate::halt::guarded;
use harfrust::{Buffer, Direction, Feature, GlyphInfo, ShapeOptions, Tag};
use unicode_bidi::BidiInfo;

/// A glyph as the font places it, in font units from the start of its line.
pub(super) struct Placed {
    pub glyph: u16,
    pub x: f64,
    pub y: f64,
}

/// What belongs together: a letter with its marks, or a ligature. In font units.
pub(super) struct Cluster {
    /// Where the pen stands before it.
    pub start: f64,
    /// How far it moves the pen.
    pub advance: f64,
    /// The first character of it.
    pub is: char,
    pub glyphs: Vec<Placed>,
}

/// A shaped line.
pub(super) struct Shaped {
    /// From left to right.
    pub clusters: Vec<Cluster>,
    /// How far the pen moves in all, in font units.
    pub advance: f64,
    /// Characters the face lacks, each once, in reading order. They are left out.
    pub missing: Vec<char>,
}

/// Shapes one line: direction, kerning, ligatures and marks as the font asks for them, and room
/// added between letters in font units. Where room is added no ligatures are formed, which it would
/// tear apart. Lines of mixed direction are ordered by the Unicode Bidirectional Algorithm (UAX
/// #9).
pub(super) fn shape(words: &str, typeface: &Typeface, spacing: f64) -> Shaped {
    let font = typeface.face().shaper();
    let features = if spacing == 0.0 {
        Vec::new()
    } else {
        [b"liga", b"clig"].map(|tag| Feature::new(Tag::new(tag), 0, ..)).to_vec()
    };
    let bidi = BidiInfo::new(words, None);
    let mut clusters: Vec<Cluster> = Vec::new();
    let mut missing = Vec::new();
    let (mut x, mut y) = (0.0, 0.0);
    for paragraph in &bidi.paragraphs {
        let (levels, runs) = bidi.visual_runs(paragraph, paragraph.range.clone());
        for run in runs {
            let right_to_left = levels[run.start].is_rtl();
            let mut buffer = Buffer::new();
            let text = &words[run];
            buffer.push_str(text);
            buffer.guess_segment_properties();
            buffer.set_direction(if right_to_left {
                Direction::RightToLeft
            } else {
                Direction::LeftToRight
            });
            // A damaged font of one's own must not take the program down: it sets nothing then.
            let shaped = guarded(|| {
                let options = ShapeOptions::new().features(&features);
                harfrust::shape(&font, &mut buffer, options).ok().map(|()| buffer)
            });
            let Some(Some(shaped)) = shaped else {
                missing.extend(text.chars().filter(|c| !c.is_whitespace()));
                continue;
            };
            let mut last = None;
            for (info, position) in shaped.glyph_infos().iter().zip(shaped.glyph_positions()) {
                if info.glyph_id == 0 || !typeface.can_draw(info.glyph_id as u16) {
                    missing.extend(lacked(typeface, text, info.cluster, shaped.glyph_infos()));
                    continue;
                }
                if last != Some(info.cluster) {
                    last = Some(info.cluster);
                    if !clusters.is_empty() {
                        x += spacing;
                    }
                    let is = text[info.cluster as usize..].chars().next().unwrap_or(' ');
                    clusters.push(Cluster { start: x, advance: 0.0, is, glyphs: Vec::new() });
                }
                let Some(cluster) = clusters.last_mut() else { continue };
                cluster.glyphs.push(Placed {
                    glyph: info.glyph_id as u16,
                    x: x + f64::from(position.x_offset),
                    y: y + f64::from(position.y_offset),
                });
                cluster.advance += f64::from(position.x_advance);
                x += f64::from(position.x_advance);
                y += f64::from(position.y_advance);
            }
        }
    }
    // In reading order, whatever the order of drawing was.
    missing.sort_by_key(|c| words.find(*c));
    missing.dedup();
    Shaped { clusters, advance: x, missing }
}

/// Which characters of a cluster, given by where it starts, a face lacks: of a letter with marks those
/// marks, or the first where the font has them all and still sets nothing.
fn lacked(typeface: &Typeface, text: &str, start: u32, infos: &[GlyphInfo]) -> Vec<char> {
    let after = infos.iter().map(|info| info.cluster).filter(|cluster| *cluster > start).min();
    let end = after.map_or(text.len(), |after| after as usize);
    let cluster = &text[start as usize..end];
    let lacked: Vec<char> = cluster.chars().filter(|c| !typeface.has(*c)).collect();
    if lacked.is_empty() { cluster.chars().take(1).collect() } else { lacked }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::lettering::shipped;

    #[test]
    fn hebrew_runs_from_right_to_left_between_latin_words() {
        let rubik = shipped("rubik").unwrap();
        let shaped = shape("אב", &rubik, 0.0);
        let alef = rubik.face().glyph_index('א').unwrap().0;
        let last = &shaped.clusters.last().unwrap().glyphs[0];
        assert_eq!(last.glyph, alef);
        assert!(last.x > shaped.clusters[0].glyphs[0].x);
    }

    #[test]
    fn room_between_letters_is_added_once_less_than_there_are_letters() {
        let rubik = shipped("rubik").unwrap();
        let (plain, wide) = (shape("ŁÓDŹ", &rubik, 0.0), shape("ŁÓDŹ", &rubik, 100.0));
        assert_eq!(plain.clusters.len(), 4);
        assert_eq!(wide.advance - plain.advance, 300.0);
    }

    #[test]
    fn what_a_face_lacks_is_named_mark_by_mark() {
        let bebas = shipped("bebas-neue").unwrap();
        assert!(bebas.has('q') && !bebas.has('\u{0489}') && !bebas.has('\u{FFFF}'));
        // A Q with a combining sign: the face has the Q.
        assert_eq!(shape("Q\u{0489}X", &bebas, 0.0).missing, ['\u{0489}']);
        assert_eq!(shape("A\u{FFFF}", &bebas, 0.0).missing, ['\u{FFFF}']);
    }
}
