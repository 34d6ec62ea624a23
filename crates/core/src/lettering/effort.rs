//! How much work it is to draw a glyph, counted before it is drawn.
//!
//! Glyphs are made of other glyphs, and outlines call subroutines that call others: a font of two kilobytes may
//! hold a letter that is never drawn to its end. What draws glyphs cannot be told to stop, so the same steps are
//! gone through here first, without drawing, and counted. Formats: OpenType specification 1.9 ("glyf", "gvar", "CFF",
//! "CFF2"); Adobe Technical Notes 5176 (the Compact Font Format) and 5177 (Type 2 charstrings).

use ttf_parser::{Face, GlyphId, Tag};

/// The most points, operands, operators and parts of a glyph. Letters of shipped faces take under 2 000; the most
/// that can be printed of one takes under 30 000.
const MOST_STEPS: usize = 60_000;

/// How deep parts of a glyph lie in parts before they are left out, and subroutines in subroutines.
const DEEPEST_PART: usize = 32;
const DEEPEST_CALL: usize = 10;

/// The most operands there are room for, with those that vary.
const MOST_OPERANDS: usize = 513;

/// Whether a glyph can be drawn in a bounded number of steps.
pub(super) fn is_bounded(face: &Face<'_>, glyph: GlyphId) -> bool {
    let mut steps = Steps { left: MOST_STEPS };
    let raw = face.raw_face();
    let table = |tag: &[u8; 4]| raw.table(Tag::from_bytes(tag));
    let counted = if let Some(glyf) = table(b"glyf") {
        let parts = Parts {
            glyf,
            loca: table(b"loca").unwrap_or_default(),
            gvar: table(b"gvar").unwrap_or_default(),
            has_long_places: face.tables().head.index_to_location_format
                == ttf_parser::head::IndexToLocationFormat::Long,
        };
        parts.count(glyph.0, 0, &mut steps)
    } else if let Some(cff) = table(b"CFF ") {
        count_charstring(Charstrings::of_first(cff), glyph, &mut steps)
    } else if let Some(cff) = table(b"CFF2") {
        count_charstring(Charstrings::of_second(cff), glyph, &mut steps)
    } else {
        Ok(())
    };
    counted.is_ok()
}

/// More steps than there may be.
struct TooMuch;

struct Steps {
    left: usize,
}

impl Steps {
    fn take(&mut self, count: usize) -> Result<(), TooMuch> {
        self.left = self.left.checked_sub(count).ok_or(TooMuch)?;
        Ok(())
    }
}

/// Figures read one after another, the larger half of each first.
#[derive(Clone, Copy)]
struct Bytes<'a>(&'a [u8]);

impl<'a> Bytes<'a> {
    fn from(data: &'a [u8], start: usize) -> Option<Self> {
        data.get(start..).map(Bytes)
    }

    fn take(&mut self, count: usize) -> Option<&'a [u8]> {
        let (head, tail) = self.0.split_at_checked(count)?;
        self.0 = tail;
        Some(head)
    }

    /// A whole number of up to four bytes.
    fn number(&mut self, bytes: usize) -> Option<usize> {
        Some(self.take(bytes)?.iter().fold(0, |number, byte| number << 8 | usize::from(*byte)))
    }

    /// A whole number of two bytes with a sign.
    fn signed(&mut self) -> Option<i16> {
        Some(i16::from_be_bytes(self.take(2)?.try_into().ok()?))
    }
}

/// Glyphs of quadratic curves, which may be made of others.
struct Parts<'a> {
    glyf: &'a [u8],
    loca: &'a [u8],
    gvar: &'a [u8],
    has_long_places: bool,
}

impl Parts<'_> {
    fn count(&self, glyph: u16, depth: usize, steps: &mut Steps) -> Result<(), TooMuch> {
        steps.take(1 + self.variation_bytes(glyph).unwrap_or(0))?;
        if depth >= DEEPEST_PART {
            return Ok(());
        }
        let Some(mut data) = self.data(glyph).map(Bytes) else { return Ok(()) };
        let Some(contours) = data.signed() else { return Ok(()) };
        data.take(8);
        match usize::try_from(contours) {
            Ok(contours) => {
                let ends = contours.checked_sub(1).and_then(|last| {
                    data.take(2 * last)?;
                    data.number(2)
                });
                steps.take(contours + ends.map_or(0, |last| last + 1))
            }
            Err(_) => {
                while let Some((part, is_last)) = next_part(&mut data) {
                    self.count(part, depth + 1, steps)?;
                    if is_last {
                        break;
                    }
                }
                Ok(())
            }
        }
    }

    fn data(&self, glyph: u16) -> Option<&[u8]> {
        let (width, unit) = if self.has_long_places { (4, 1) } else { (2, 2) };
        let mut places = Bytes::from(self.loca, usize::from(glyph) * width)?;
        let (start, end) = (places.number(width)? * unit, places.number(width)? * unit);
        self.glyf.get(start..end)
    }

    /// How many bytes say how a glyph varies.
    fn variation_bytes(&self, glyph: u16) -> Option<usize> {
        let mut head = Bytes::from(self.gvar, 14)?;
        let width = if head.number(2)? & 1 == 1 { 4 } else { 2 };
        let mut places = Bytes::from(self.gvar, 20 + usize::from(glyph) * width)?;
        let unit = if width == 4 { 1 } else { 2 };
        let (start, end) = (places.number(width)?, places.number(width)?);
        Some(end.saturating_sub(start) * unit)
    }
}

/// The next part a glyph is made of, and whether it is the last one.
fn next_part(data: &mut Bytes<'_>) -> Option<(u16, bool)> {
    const WORDS: usize = 0x0001;
    const ONE_SCALE: usize = 0x0008;
    const MORE: usize = 0x0020;
    const TWO_SCALES: usize = 0x0040;
    const MATRIX: usize = 0x0080;
    let flags = data.number(2)?;
    let part = data.number(2)? as u16;
    let placing = if flags & WORDS != 0 { 4 } else { 2 };
    let scaling = match flags {
        _ if flags & MATRIX != 0 => 8,
        _ if flags & TWO_SCALES != 0 => 4,
        _ if flags & ONE_SCALE != 0 => 2,
        _ => 0,
    };
    // What is cut off is drawn as far as it goes.
    let _ = data.take(placing + scaling);
    Some((part, flags & MORE == 0))
}

/// A list of pieces of data, each at its place.
#[derive(Clone, Copy, Default)]
struct Index<'a> {
    count: usize,
    width: usize,
    places: &'a [u8],
    data: &'a [u8],
}

impl<'a> Index<'a> {
    /// Reads one; its count has so many bytes.
    fn read(from: &mut Bytes<'a>, count_bytes: usize) -> Option<Self> {
        let count = from.number(count_bytes)?;
        if count == 0 {
            return Some(Index::default());
        }
        let width = from.number(1)?;
        if !(1..=4).contains(&width) {
            return None;
        }
        let places = from.take(count.checked_add(1)?.checked_mul(width)?)?;
        let index = Index { count, width, places, data: from.0 };
        from.take(index.place(count)?)?;
        Some(index)
    }

    /// Where a piece begins, from the start of the data.
    fn place(&self, item: usize) -> Option<usize> {
        Bytes::from(self.places, item.checked_mul(self.width)?)?.number(self.width)?.checked_sub(1)
    }

    fn get(&self, item: usize) -> Option<&'a [u8]> {
        if item >= self.count {
            return None;
        }
        self.data.get(self.place(item)?..self.place(item + 1)?)
    }

    /// The subroutine a call of this operand means (technical note 5177, section 4.7).
    fn called(&self, operand: f32) -> Option<&'a [u8]> {
        let bias = match self.count {
            0..1240 => 107,
            1240..33900 => 1131,
            _ => 32768,
        };
        usize::try_from(operand as i32 + bias).ok().and_then(|item| self.get(item))
    }
}

/// What the entries of a dictionary state (technical note 5176, section 4): operators with the whole numbers before
/// them.
fn entries(data: &[u8]) -> Vec<(usize, Vec<i64>)> {
    const REAL: u8 = 30;
    let mut found = Vec::new();
    let mut operands = Vec::new();
    let mut bytes = Bytes(data);
    while let Some(first) = bytes.number(1) {
        let first = first as u8;
        match first {
            12 => {
                let second = bytes.number(1).unwrap_or(0);
                found.push((1200 + second, std::mem::take(&mut operands)));
            }
            0..=27 => found.push((usize::from(first), std::mem::take(&mut operands))),
            28 => operands.extend(bytes.signed().map(i64::from)),
            29 => operands.extend(bytes.number(4).map(|number| i64::from(number as u32 as i32))),
            // A figure in halves of bytes, of which one of fifteen is the last.
            REAL => {
                while bytes.number(1).is_some_and(|pair| pair & 15 != 15 && pair >> 4 != 15) {}
                operands.push(-1);
            }
            32..=246 => operands.push(i64::from(first) - 139),
            247..=254 => operands.extend(bytes.number(1).map(|second| short(first, second))),
            _ => {}
        }
    }
    found
}

/// A whole number in two bytes, the first of them 247 to 254.
fn short(first: u8, second: usize) -> i64 {
    let (first, second) = (i64::from(first), second as i64);
    if first < 251 {
        (first - 247) * 256 + second + 108
    } else {
        -(first - 251) * 256 - second - 108
    }
}

fn stated(entries: &[(usize, Vec<i64>)], operator: usize) -> Option<&[i64]> {
    entries.iter().rev().find(|(of, _)| *of == operator).map(|(_, operands)| operands.as_slice())
}

fn stated_place(entries: &[(usize, Vec<i64>)], operator: usize) -> Option<usize> {
    usize::try_from(*stated(entries, operator)?.last()?).ok()
}

/// The outlines of a font in the Compact Font Format, and what they call.
struct Charstrings<'a> {
    table: &'a [u8],
    is_second: bool,
    all: Index<'a>,
    global: Index<'a>,
    /// Its dictionaries, each of which has subroutines of its own.
    dictionaries: Vec<Vec<(usize, Vec<i64>)>>,
    /// Where it stands which glyph goes by which of them.
    choice: Option<usize>,
    /// Where it stands what the glyphs are called.
    charset: usize,
    /// By how many figures one of each group varies.
    regions: Vec<usize>,
}

const CHARSET: usize = 15;
const CHARSTRINGS: usize = 17;
const PRIVATE: usize = 18;
const LOCAL: usize = 19;
const VARIATIONS: usize = 24;
const DICTIONARIES: usize = 1236;
const CHOICE: usize = 1237;

impl<'a> Charstrings<'a> {
    /// Those of the first version.
    fn of_first(table: &'a [u8]) -> Option<Self> {
        let mut bytes = Bytes::from(table, usize::from(*table.get(2)?))?;
        Index::read(&mut bytes, 2)?;
        let top = entries(Index::read(&mut bytes, 2)?.get(0)?);
        Index::read(&mut bytes, 2)?;
        let global = Index::read(&mut bytes, 2)?;
        Charstrings::of(table, top, global, false)
    }

    /// Those of the second version.
    fn of_second(table: &'a [u8]) -> Option<Self> {
        let mut head = Bytes::from(table, 2)?;
        let (start, length) = (head.number(1)?, head.number(2)?);
        let top = entries(table.get(start..start.checked_add(length)?)?);
        let global = Index::read(&mut Bytes::from(table, start + length)?, 4)?;
        let regions = stated_place(&top, VARIATIONS)
            .and_then(|place| region_counts(Bytes::from(table, place + 2)?.0))
            .unwrap_or_default();
        Some(Charstrings { regions, ..Charstrings::of(table, top, global, true)? })
    }

    fn of(
        table: &'a [u8],
        top: Vec<(usize, Vec<i64>)>,
        global: Index<'a>,
        is_second: bool,
    ) -> Option<Self> {
        let width = if is_second { 4 } else { 2 };
        let index_at = |place| Index::read(&mut Bytes::from(table, place)?, width);
        let all = index_at(stated_place(&top, CHARSTRINGS)?)?;
        let choice = stated_place(&top, CHOICE);
        let charset = stated_place(&top, CHARSET).unwrap_or(0);
        let dictionaries = match stated_place(&top, DICTIONARIES).and_then(index_at) {
            Some(index) => {
                (0..index.count.min(256)).filter_map(|i| index.get(i)).map(entries).collect()
            }
            None => vec![top],
        };
        let regions = Vec::new();
        Some(Charstrings { table, is_second, all, global, dictionaries, choice, charset, regions })
    }

    /// The subroutines of a glyph's own dictionary.
    fn local(&self, glyph: u16) -> Option<Index<'a>> {
        let chosen = self.choice.map_or(Some(0), |place| self.chosen(place, glyph))?;
        let [.., size, start] = stated(self.dictionaries.get(chosen)?, PRIVATE)? else {
            return None;
        };
        let (size, start) = (usize::try_from(*size).ok()?, usize::try_from(*start).ok()?);
        let private = entries(self.table.get(start..start.checked_add(size)?)?);
        let place = start.checked_add(stated_place(&private, LOCAL)?)?;
        Index::read(&mut Bytes::from(self.table, place)?, if self.is_second { 4 } else { 2 })
    }

    /// Which dictionary a glyph goes by.
    fn chosen(&self, place: usize, glyph: u16) -> Option<usize> {
        let mut bytes = Bytes::from(self.table, place)?;
        match bytes.number(1)? {
            0 => Bytes::from(bytes.0, usize::from(glyph))?.number(1),
            3 => {
                let ranges = bytes.number(2)?;
                let mut chosen = None;
                for _ in 0..ranges {
                    if bytes.number(2)? > usize::from(glyph) {
                        break;
                    }
                    chosen = bytes.number(1);
                }
                chosen
            }
            _ => None,
        }
    }

    /// The glyph of a place in the standard encoding, of which accented letters may be made (technical note 5176,
    /// appendices A and C).
    fn by_code(&self, code: f32) -> Option<usize> {
        let name = standard_name(code as usize)?;
        if self.charset == 0 {
            return Some(name);
        }
        let mut bytes = Bytes::from(self.table, self.charset)?;
        let format = bytes.number(1)?;
        let mut glyph = 1;
        while glyph < self.all.count {
            let first = bytes.number(2)?;
            let more = match format {
                0 => 0,
                1 => bytes.number(1)?,
                2 => bytes.number(2)?,
                _ => return None,
            };
            if (first..=first + more).contains(&name) {
                return Some(glyph + name - first);
            }
            glyph += more + 1;
        }
        None
    }
}

/// By how many figures one of each group varies: what an item variation store says.
fn region_counts(store: &[u8]) -> Option<Vec<usize>> {
    let count = Bytes::from(store, 6)?.number(2)?;
    let mut places = Bytes::from(store, 8)?;
    (0..count)
        .map(|_| {
            let place = places.number(4)?;
            Bytes::from(store, place.checked_add(4)?)?.number(2)
        })
        .collect()
}

/// The number of the name a place in the standard encoding has (technical note 5176, appendix A).
fn standard_name(code: usize) -> Option<usize> {
    const RUNS: [(usize, usize, usize); 14] = [
        (32, 126, 1),
        (161, 175, 96),
        (177, 180, 111),
        (182, 189, 115),
        (191, 191, 123),
        (193, 200, 124),
        (202, 203, 132),
        (205, 208, 134),
        (225, 225, 138),
        (227, 227, 139),
        (232, 235, 140),
        (241, 241, 144),
        (245, 245, 145),
        (248, 251, 146),
    ];
    let run = RUNS.iter().find(|(first, last, _)| (*first..=*last).contains(&code))?;
    Some(run.2 + code - run.0)
}

/// Goes through the outline of a glyph; one that is not there or damaged takes no steps.
fn count_charstring(
    font: Option<Charstrings<'_>>,
    glyph: GlyphId,
    steps: &mut Steps,
) -> Result<(), TooMuch> {
    let Some(font) = font else { return Ok(()) };
    let Some(code) = font.all.get(usize::from(glyph.0)) else { return Ok(()) };
    let varies_by = font.regions.first().copied().unwrap_or(0);
    let mut run = Run { font: &font, glyph: glyph.0, operands: Vec::new(), stems: 0, varies_by };
    run.go(code, 0, steps).map(|_| ())
}

/// How a subroutine ended.
#[derive(PartialEq, Eq)]
enum End {
    /// What called it goes on.
    Returned,
    /// The glyph is drawn, or damaged here: nothing more is drawn of it.
    Done,
}

/// An outline while it is gone through.
struct Run<'a> {
    font: &'a Charstrings<'a>,
    glyph: u16,
    operands: Vec<f32>,
    stems: usize,
    varies_by: usize,
}

impl Run<'_> {
    fn go(&mut self, code: &[u8], depth: usize, steps: &mut Steps) -> Result<End, TooMuch> {
        if depth > DEEPEST_CALL {
            return Ok(End::Done);
        }
        let mut bytes = Bytes(code);
        while let Some(operator) = bytes.number(1) {
            steps.take(1)?;
            let operand = match operator as u8 {
                28 => bytes.signed().map(f32::from),
                operator @ 32..=246 => Some(f32::from(operator) - 139.0),
                operator @ 247..=254 => {
                    bytes.number(1).map(|second| short(operator, second) as f32)
                }
                255 => bytes.number(4).map(|fixed| fixed as u32 as i32 as f32 / 65536.0),
                operator => {
                    if self.operator(operator, &mut bytes, depth, steps)? == End::Done {
                        return Ok(End::Done);
                    }
                    if operator == 11 && !self.font.is_second {
                        return Ok(End::Returned);
                    }
                    continue;
                }
            };
            match operand {
                Some(operand) if self.operands.len() < MOST_OPERANDS => self.operands.push(operand),
                _ => return Ok(End::Done),
            }
        }
        Ok(End::Returned)
    }

    fn operator(
        &mut self,
        operator: u8,
        bytes: &mut Bytes<'_>,
        depth: usize,
        steps: &mut Steps,
    ) -> Result<End, TooMuch> {
        match operator {
            // Stems, which masks have a bit for each of.
            1 | 3 | 18 | 23 => self.stems += self.operands.len() / 2,
            19 | 20 => {
                self.stems += self.operands.len() / 2;
                if bytes.take(self.stems.div_ceil(8)).is_none() {
                    return Ok(End::Done);
                }
            }
            10 | 29 => {
                let Some(called) = self.operands.pop() else { return Ok(End::Done) };
                // A figure that is worked out first calls what cannot be told from here.
                if called.is_nan() {
                    return Err(TooMuch);
                }
                let index = if operator == 10 {
                    self.font.local(self.glyph)
                } else {
                    Some(self.font.global)
                };
                return match index.and_then(|index| index.called(called)) {
                    Some(code) => self.go(code, depth + 1, steps),
                    None => Ok(End::Done),
                };
            }
            11 => return Ok(End::Returned),
            12 => {
                bytes.take(1);
            }
            14 => return self.end(depth, steps),
            15 if self.font.is_second => {
                let group = self.operands.pop().unwrap_or(0.0) as usize;
                self.varies_by = self.font.regions.get(group).copied().unwrap_or(0);
            }
            16 if self.font.is_second => return Ok(self.blend()),
            _ => {}
        }
        self.operands.clear();
        Ok(End::Returned)
    }

    /// Leaves the figures of a variation, of which it is not known here what they come to.
    fn blend(&mut self) -> End {
        let count = self.operands.pop().unwrap_or(0.0) as usize;
        let taken = count.saturating_mul(self.varies_by + 1);
        let Some(left) = self.operands.len().checked_sub(taken) else { return End::Done };
        self.operands.truncate(left);
        self.operands.resize(left + count, f32::NAN);
        End::Returned
    }

    /// The end of a glyph, which may be a letter and an accent.
    fn end(&mut self, depth: usize, steps: &mut Steps) -> Result<End, TooMuch> {
        if self.operands.len() >= 4 {
            let parts = [self.operands.pop(), self.operands.pop()];
            self.operands.clear();
            for part in parts.into_iter().flatten().rev() {
                let code = self.font.by_code(part).and_then(|glyph| self.font.all.get(glyph));
                if let Some(code) = code {
                    self.go(code, depth + 1, steps)?;
                }
            }
        }
        Ok(End::Done)
    }
}

#[cfg(test)]
mod tests {
    use super::super::own::font_file;
    use super::super::{TYPEFACES, open_font, set};
    use super::*;
    use crate::plane::Tolerance;
    use crate::testing::cache;
    use std::collections::HashMap;
    use std::sync::Arc;

    const SLAB: &[u8] = include_bytes!("../../typefaces/zilla-slab/ZillaSlab_700Bold.ttf");

    #[test]
    fn every_glyph_of_every_shipped_face_is_drawn() {
        for typeface in TYPEFACES.iter() {
            let face = typeface.face();
            for glyph in 0..face.number_of_glyphs() {
                assert!(is_bounded(face, GlyphId(glyph)), "{} {glyph}", typeface.id);
            }
        }
    }

    /// The tables of a shipped face, to be changed.
    fn tables() -> HashMap<[u8; 4], Vec<u8>> {
        let raw = ttf_parser::RawFace::parse(SLAB, 0).unwrap();
        let records = raw.table_records.into_iter();
        records.map(|of| (of.tag.to_bytes(), raw.table(of.tag).unwrap().to_vec())).collect()
    }

    fn glyph_of(letter: char) -> usize {
        let face = ttf_parser::Face::parse(SLAB, 0).unwrap();
        usize::from(face.glyph_index(letter).unwrap().0)
    }

    /// A face whose é never ends: it is left out and told, and the other letters are set.
    fn assert_one_letter_is_left_out(tables: &HashMap<[u8; 4], Vec<u8>>) {
        let mut tables: Vec<(Tag, &[u8])> =
            tables.iter().map(|(tag, table)| (Tag::from_bytes(tag), table.as_slice())).collect();
        tables.sort_by_key(|(tag, _)| *tag);
        let font = open_font(&font_file(&tables)).unwrap();
        let face = Arc::new(font.typeface("own-x".into(), "x".into(), 0, None).unwrap());
        let cache = cache();
        let (whole, plain) = (
            set("Hébé", &face, 10.0, Tolerance::Draft, &cache),
            set("Hb", &face, 10.0, Tolerance::Draft, &cache),
        );
        assert_eq!(whole.missing, ['é']);
        assert!((whole.region.area() - plain.region.area()).abs() < 1e-6);
        assert!(plain.region.area() > 10.0 && !face.has('é') && face.has('b'));
    }

    #[test]
    fn parts_of_parts_of_parts_end() {
        let mut tables = tables();
        let face = ttf_parser::Face::parse(SLAB, 0).unwrap();
        let count = usize::from(face.number_of_glyphs());
        let parts = Parts {
            glyf: &tables[b"glyf"],
            loca: &tables[b"loca"],
            gvar: &[],
            has_long_places: tables[b"head"][51] == 1,
        };
        let mut glyphs: Vec<Vec<u8>> =
            (0..count).map(|glyph| parts.data(glyph as u16).unwrap_or_default().to_vec()).collect();
        // Sixty parts in each of thirty glyphs; the last has nothing in it.
        let chain: Vec<usize> = [glyph_of('é')].into_iter().chain(count - 30..count).collect();
        for pair in chain.windows(2) {
            let mut data = vec![0xff, 0xff, 0, 0, 0, 0, 0, 0, 0, 0];
            for part in 0..60 {
                data.extend([0, if part < 59 { 0x22 } else { 2 }]);
                data.extend((pair[1] as u16).to_be_bytes());
                data.extend([0, 0]);
            }
            glyphs[pair[0]] = data;
        }
        glyphs[count - 1].clear();
        let (mut glyf, mut loca) = (Vec::new(), vec![0; 4]);
        for glyph in &glyphs {
            glyf.extend(glyph);
            loca.extend((glyf.len() as u32).to_be_bytes());
        }
        tables.insert(*b"glyf", glyf);
        tables.insert(*b"loca", loca);
        tables.get_mut(b"head").unwrap()[51] = 1;
        assert_one_letter_is_left_out(&tables);
    }

    /// An index of the first version of the format, its places of four bytes.
    fn index(items: &[Vec<u8>]) -> Vec<u8> {
        let mut bytes = (items.len() as u16).to_be_bytes().to_vec();
        if items.is_empty() {
            return bytes;
        }
        bytes.push(4);
        let mut place = 1u32;
        bytes.extend(place.to_be_bytes());
        for item in items {
            place += item.len() as u32;
            bytes.extend(place.to_be_bytes());
        }
        items.iter().for_each(|item| bytes.extend(item));
        bytes
    }

    #[test]
    fn subroutines_of_subroutines_of_subroutines_end() {
        const RETURN: u8 = 11;
        const CALL: u8 = 29;
        let mut tables = tables();
        let count = usize::from(ttf_parser::Face::parse(SLAB, 0).unwrap().number_of_glyphs());
        // 100 100 rmoveto 200 hlineto 200 vlineto -200 hlineto endchar
        let square =
            vec![28, 0, 100, 28, 0, 100, 21, 28, 0, 200, 6, 28, 0, 200, 7, 28, 0xff, 0x38, 6, 14];
        let mut charstrings = vec![square; count];
        // Thirty calls in each of nine subroutines, of which none draws anything.
        let calls = |of: u8| [of + 32, CALL].repeat(30);
        charstrings[glyph_of('é')] = [calls(0), vec![14]].concat();
        let mut global: Vec<Vec<u8>> =
            (1..10).map(|next| [calls(next), vec![RETURN]].concat()).collect();
        global.push(vec![RETURN]);
        let head = [vec![1, 0, 4, 4], index(&[b"X".to_vec()])].concat();
        let tail = [index(&[]), index(&global)].concat();
        // One entry of five bytes and its operator, in an index of eleven bytes around it.
        let place = (head.len() + 11 + 6 + tail.len()) as u32;
        let top = [&[29], place.to_be_bytes().as_slice(), &[17]].concat();
        let cff = [head, index(&[top]), tail, index(&charstrings)].concat();
        ["glyf", "loca", "gvar"].iter().for_each(|tag| {
            tables.remove(<&[u8; 4]>::try_from(tag.as_bytes()).unwrap());
        });
        tables.insert(*b"CFF ", cff);
        assert_one_letter_is_left_out(&tables);
    }
}
