//! Words of a piece, set as its lettering asks.

use crate::cache::{Kept, Stage};
use crate::lettering::{
    Align, Along, Circle, Line, Over, Seat, SetWords, Style, TYPEFACES, baselines, each_around,
    each_line, fitting_ratio, set_along, set_around, set_lines,
};
use crate::piece::{
    CircleCourse, Course, LetterBox, LetterSize, Lettering, OutlineCourse, Piece, SitsBy, TextLine,
};
use crate::plane::{Rect, Region, Tolerance};
use crate::units::Length;
use crate::workshop::Workshop;
use kurbo::Affine;
use std::collections::BTreeMap;
use std::sync::Arc;

/// Lettering before it is moved to its place.
pub(super) struct OwnWords {
    /// All letters, united.
    pub region: Region,
    /// The box it is placed by.
    pub frame: Rect,
    /// Letters drawn.
    pub glyphs: usize,
    /// Characters the typefaces lack.
    pub missing: Vec<char>,
    /// Height of the capitals of a line of size 1, in mm.
    pub letter_height: f64,
    /// What part of its circle the longest line takes up, in degrees.
    pub span: f64,
    /// Where each letter stands.
    pub seats: Vec<Seat>,
}

impl Kept for OwnWords {
    fn bytes(&self) -> usize {
        self.region.bytes() + 4 * self.missing.len() + 88 * self.seats.len() + 64
    }
}

impl OwnWords {
    fn of(set: SetWords, frame: Rect, letter_height: f64) -> Self {
        let SetWords { region, glyphs, missing, span, seats, .. } = set;
        OwnWords { region, frame, glyphs, missing, letter_height, span, seats }
    }
}

/// The room words have, in mm.
#[derive(Debug, Clone, Copy, Default)]
pub(super) struct Room {
    /// Width and height of the clear area.
    pub clear: (f64, f64),
    /// Once round, on a face that runs round.
    pub way_round: Option<f64>,
}

/// Sets the words of a lettering.
pub(super) fn own_words(
    piece: &Piece,
    lettering: &Lettering,
    room: Room,
    workshop: &Workshop<'_>,
) -> Arc<OwnWords> {
    let lines = lines_of(piece, lettering, workshop);
    let Lettering { size, style, align, pitch, sits_by, course, .. } = lettering;
    let Room { clear, way_round } = room;
    // Only what fills the clear area reads its size, and only what is spread round the way.
    let fills = (*size == LetterSize::ClearArea).then(|| [clear.0, clear.1].map(f64::to_bits));
    let way = match course {
        Course::Round(round) => way_round.map(|way| (way * round.spread / 360.0, round.spread)),
        _ => None,
    };
    let read = (fills, way.map(|(way, _)| way.to_bits()));
    let asked = serde_json::to_vec(&(size, style, align, pitch, sits_by, course));
    let asked = asked.expect("what lettering asks for has only string keys");
    let told: Vec<_> = lines
        .iter()
        .map(|line| (line.words.as_str(), line.typeface.content(), line.height.to_bits()))
        .collect();
    let key = workshop.cache.key(Stage::Words, (told, asked, read, workshop.tolerance));
    workshop.cache.kept(key, || match course {
        // Along an outline words are set by [`along_outline`]; a sample of them is straight.
        Course::Straight | Course::Below | Course::Round(_) | Course::Outline(_) => {
            let over = way.map(|(way, spread)| Over { way, is_closed: spread >= 360.0 });
            let words = straight(lettering, &lines, clear, over, workshop);
            let part = way.map_or(0.0, |(_, spread)| spread / 360.0);
            OwnWords { span: part * words.span, ..words }
        }
        Course::Circle(course) => {
            let letter_height = match size {
                LetterSize::Height(height) => height.as_mm(),
                LetterSize::Box(box_) => box_.height.as_mm(),
                // A fifth of the room leaves the middle of the circle free.
                LetterSize::ClearArea => clear.0.min(clear.1) / 5.0,
            };
            let circle = circle_of(course);
            let lines = scaled(&lines, letter_height);
            let set = set_around(&lines, style, &circle, *pitch, workshop.tolerance);
            let frame = Rect::centred(2.0 * circle.radius, 2.0 * circle.radius);
            OwnWords::of(set, frame, letter_height)
        }
    })
}

/// Sets the words of a lettering along an outline, where they come to lie.
pub(super) fn along_outline(
    piece: &Piece,
    lettering: &Lettering,
    course: &OutlineCourse,
    outline: &Region,
    workshop: &Workshop<'_>,
) -> Arc<OwnWords> {
    let lines = lines_of(piece, lettering, workshop);
    let Lettering { size, style, pitch, .. } = lettering;
    let letter_height = match size {
        LetterSize::Height(height) => height.as_mm(),
        LetterSize::Box(box_) => box_.height.as_mm(),
        // As along a circle.
        LetterSize::ClearArea => {
            outline.bounds().map_or(5.0, |bounds| bounds.width().min(bounds.height()) / 8.0)
        }
    };
    let asked = serde_json::to_vec(&(style, pitch, course)).expect("they have only string keys");
    let told: Vec<_> = lines
        .iter()
        .map(|line| (line.words.as_str(), line.typeface.content(), line.height.to_bits()))
        .collect();
    let read = ("along", told, asked, outline, letter_height.to_bits(), workshop.tolerance);
    let key = workshop.cache.key(Stage::Words, read);
    workshop.cache.kept(key, || {
        let along = along_of(course, outline);
        let set =
            set_along(&scaled(&lines, letter_height), style, &along, *pitch, workshop.tolerance);
        let frame = set.frame.or(outline.bounds()).unwrap_or(Rect::centred(0.0, 0.0));
        OwnWords::of(set, frame, letter_height)
    })
}

/// How words run along an outline.
pub(super) fn along_of<'a>(course: &OutlineCourse, outline: &'a Region) -> Along<'a> {
    Along {
        outline,
        distance: course.distance.as_mm(),
        reading: course.reading,
        middle: course.middle,
        spread: course.spread,
    }
}

/// The lines of a lettering, what stands in braces filled in, their heights in proportion.
pub(super) fn lines_of(piece: &Piece, lettering: &Lettering, workshop: &Workshop<'_>) -> Vec<Line> {
    let line = |line: &TextLine| {
        let id = line.typeface.as_deref().unwrap_or(&lettering.typeface);
        let typeface = workshop.typeface(id).unwrap_or_else(|| Arc::clone(&TYPEFACES[0]));
        Line { words: piece.filled_in(&line.words), typeface, height: line.scale }
    };
    let lines = lettering.lines.iter().map(line);
    match lettering.course {
        Course::Below => lines.flat_map(one_below_the_other).collect(),
        Course::Straight | Course::Circle(_) | Course::Round(_) | Course::Outline(_) => {
            lines.collect()
        }
    }
}

/// The letters of a line, each a line of its own, with the marks that belong to it.
fn one_below_the_other(line: Line) -> Vec<Line> {
    // The blocks of combining marks, what joins emoji, and what chooses between their forms (Unicode 16).
    let belongs = |c: char| {
        matches!(u32::from(c), 0x300..=0x36F | 0x1AB0..=0x1AFF | 0x1DC0..=0x1DFF | 0x20D0..=0x20FF
            | 0xFE00..=0xFE0F | 0xFE20..=0xFE2F | 0x200D)
    };
    let mut letters: Vec<String> = Vec::new();
    for c in line.words.trim().chars() {
        match letters.last_mut() {
            Some(letter) if belongs(c) || letter.ends_with('\u{200D}') => letter.push(c),
            _ => letters.push(c.to_string()),
        }
    }
    letters.into_iter().map(|words| Line { words, ..line.clone() }).collect()
}

/// What was set, mirrored and turned about the middle of its box; and the box round that as it is turned.
pub(super) fn laid(lettering: &Lettering, region: Region, frame: Rect) -> (Region, Rect) {
    if lettering.turn == 0.0 && !lettering.mirrored {
        return (region, frame);
    }
    let (x, y) = frame.centre();
    let mut region = region.moved(-x, -y);
    if lettering.mirrored {
        region = region.mirrored(true);
    }
    (region.turned(lettering.turn).moved(x, y), turned_box(lettering, frame, (x, y)))
}

/// What [`laid`] does to what lies in a box.
pub(super) fn laying(lettering: &Lettering, frame: Rect) -> Affine {
    let (x, y) = frame.centre();
    let across = if lettering.mirrored { -1.0 } else { 1.0 };
    Affine::translate((x, y))
        * Affine::rotate(lettering.turn.to_radians())
        * Affine::scale_non_uniform(across, 1.0)
        * Affine::translate((-x, -y))
}

/// The box round another when it is mirrored and turned about a point as a lettering asks.
pub(super) fn turned_box(lettering: &Lettering, of: Rect, (x, y): (f64, f64)) -> Rect {
    let (sine, cosine) = lettering.turn.to_radians().sin_cos();
    let across = if lettering.mirrored { -1.0 } else { 1.0 };
    let corners = [(of.x0, of.y0), (of.x1, of.y0), (of.x1, of.y1), (of.x0, of.y1)];
    let boxes = corners.map(|(cx, cy)| {
        let (dx, dy) = (across * (cx - x), cy - y);
        let (tx, ty) = (x + dx * cosine - dy * sine, y + dx * sine + dy * cosine);
        Rect { x0: tx, y0: ty, x1: tx, y1: ty }
    });
    boxes.into_iter().reduce(|all, one| all.hull(&one)).unwrap_or(of)
}

fn straight(
    lettering: &Lettering,
    lines: &[Line],
    clear: (f64, f64),
    over: Option<Over>,
    workshop: &Workshop<'_>,
) -> OwnWords {
    let Lettering { style, align, pitch, .. } = lettering;
    let (cache, tolerance) = (workshop.cache, workshop.tolerance);
    let set_at = |height: f64| {
        let meets = (*align, *pitch);
        let set = set_lines(&scaled(lines, height), style, meets, over, tolerance, cache);
        match over {
            // What part of the way the words would take by themselves, the way being 360°.
            Some(over) => SetWords { span: 360.0 * set.advance / over.way, ..set },
            None => set,
        }
    };
    let (width, height) = match lettering.size {
        LetterSize::Height(height) => {
            let letter_height = height.as_mm();
            let set = set_at(letter_height);
            let frame = match lettering.sits_by {
                SitsBy::Capitals => set.frame,
                SitsBy::Ink => set.region.bounds(),
            };
            let nothing = Rect { x0: 0.0, y0: 0.0, x1: 0.0, y1: letter_height };
            return OwnWords::of(set, frame.unwrap_or(nothing), letter_height);
        }
        LetterSize::Box(box_) => (box_.width.as_mm(), box_.height.as_mm()),
        LetterSize::ClearArea => clear,
    };
    let width = over.map_or(width, |over| over.way);
    const LARGEST_MM: f64 = 400.0;
    let letter_height =
        fitting_ratio(lines, style, *align, *pitch, (width, height)).unwrap_or(0.0).min(LARGEST_MM);
    let frame = Rect::centred(width, height);
    if letter_height <= 0.0 {
        return OwnWords::of(SetWords::default(), frame, 0.0);
    }
    let mut set = set_at(letter_height);
    if let Some(ink) = set.region.bounds() {
        let dx = match align {
            _ if over.is_some() => -set.frame.map_or(0.0, |frame| frame.centre().0),
            Align::Left => frame.x0 - ink.x0,
            Align::Centre => -ink.centre().0,
            Align::Right => frame.x1 - ink.x1,
        };
        let dy = -ink.centre().1;
        set.region = set.region.moved(dx, dy);
        set.seats = set.seats.iter().map(|seat| seat.then(Affine::translate((dx, dy)))).collect();
    }
    OwnWords::of(set, frame, letter_height)
}

/// Lines whose heights are in proportion, at a letter height.
pub(super) fn scaled(lines: &[Line], letter_height: f64) -> Vec<Line> {
    lines.iter().map(|line| Line { height: line.height * letter_height, ..line.clone() }).collect()
}

/// Each letter of a lettering by itself, without the weight that is added to it, and how often it is there; of a letter
/// height in mm.
pub(crate) fn letters_alone(
    piece: &Piece,
    lettering: &Lettering,
    letter_height: f64,
    workshop: &Workshop<'_>,
) -> Vec<(Region, usize)> {
    let of_line = |line: &TextLine| {
        let mut often: BTreeMap<char, usize> = BTreeMap::new();
        for letter in piece.filled_in(&line.words).chars().filter(|c| !c.is_whitespace()) {
            *often.entry(letter).or_default() += 1;
        }
        let alone = |(letter, times): (char, usize)| {
            let alone = Lettering {
                lines: vec![TextLine { words: letter.into(), scale: 1.0, ..line.clone() }],
                size: LetterSize::Height(Length::mm(letter_height * line.scale)),
                course: Course::Straight,
                style: Style { heavier: Length::ZERO, ..lettering.style },
                ..lettering.clone()
            };
            let words = own_words(piece, &alone, Room::default(), &workshop.at(Tolerance::Draft));
            (words.region.clone(), times)
        };
        often.into_iter().map(alone).collect::<Vec<_>>()
    };
    lettering.lines.iter().flat_map(of_line).collect()
}

/// The lines of a lettering, each by itself, to be set at any distance from one to the next.
pub(crate) struct LinesAlone<'a> {
    lines: Vec<Line>,
    style: &'a Style,
    way: Way,
}

/// What lines run along.
enum Way {
    /// Straight lines, which are the same at any distance.
    Straight(Vec<Region>),
    Around(Circle),
}

impl<'a> LinesAlone<'a> {
    /// The lines at a letter height in mm. Not of words round a face or along an outline, which those go with.
    pub(crate) fn of(
        piece: &Piece,
        lettering: &'a Lettering,
        letter_height: f64,
        workshop: &Workshop<'_>,
    ) -> Option<Self> {
        let Lettering { style, align, course, .. } = lettering;
        let lines = scaled(&lines_of(piece, lettering, workshop), letter_height);
        let way = match course {
            Course::Straight | Course::Below => {
                let set = each_line(&lines, style, *align, None, Tolerance::Draft, workshop.cache);
                Way::Straight(set.into_iter().map(|line| line.region).collect())
            }
            Course::Circle(course) => Way::Around(circle_of(course)),
            Course::Round(_) | Course::Outline(_) => return None,
        };
        Some(LinesAlone { lines, style, way })
    }

    /// Every line where it stands to the others, at so many times the height of a line from one to the next.
    pub(crate) fn at(&self, pitch: f64) -> Vec<Region> {
        match &self.way {
            Way::Straight(lines) => {
                let stood = lines.iter().zip(baselines(&self.lines, pitch));
                stood.map(|(line, up)| line.clone().moved(0.0, up)).collect()
            }
            Way::Around(circle) => {
                let set = each_around(&self.lines, self.style, circle, pitch, Tolerance::Draft);
                let heavier = self.style.heavier.as_mm();
                set.into_iter().map(|line| line.region.offset(heavier, Tolerance::Draft)).collect()
            }
        }
    }
}

pub(super) fn circle_of(course: &CircleCourse) -> Circle {
    Circle {
        radius: course.radius.as_mm(),
        reading: course.reading,
        side: course.side,
        middle: course.middle,
        spread: course.spread,
    }
}

/// The letter height at which words of a lettering would fill a box, whatever size they are given;
/// `None` along a circle or where nothing is drawn.
pub(crate) fn height_to_fit(
    piece: &Piece,
    lettering: &Lettering,
    room: Rect,
    workshop: &Workshop<'_>,
) -> Option<f64> {
    if lettering.course != Course::Straight || lettering.turn != 0.0 {
        return None;
    }
    let [width, height] = [room.width(), room.height()].map(Length::mm);
    let size = LetterSize::Box(LetterBox { width, height });
    let fitted = Lettering { size, ..lettering.clone() };
    let words = own_words(piece, &fitted, Room::default(), &workshop.at(Tolerance::Draft));
    (words.letter_height > 0.0).then_some(words.letter_height)
}
