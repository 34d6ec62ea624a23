//! Letters that run into each other although their typeface does not join them.

use super::words::{circle_of, lines_of, scaled};
use crate::lettering::{Circle, Line, Over, Style, letters_around, letters_of};
use crate::piece::{Course, Lettering, Piece, limit_of};
use crate::plane::{Region, Tolerance};
use crate::units::Length;
use crate::workshop::Workshop;

/// Less than this is a touch of curves that were flattened, in mm².
const NOTICEABLE_MM2: f64 = 0.01;

/// Spacing is looked for in so many steps to the height of a line.
const STEPS: f64 = 50.0;

/// The letters of lines, each by itself, to be set at any spacing.
pub(crate) struct LettersOfLines<'a> {
    lines: Vec<Line>,
    style: &'a Style,
    pitch: f64,
    course: LettersAlong,
    /// The line and the number of each letter that its typeface does not join to the next one.
    unjoined: Vec<(usize, usize)>,
}

/// What letters run along.
enum LettersAlong {
    Straight(Option<Over>),
    Around(Circle),
}

impl<'a> LettersOfLines<'a> {
    /// The letters at a height in mm; `way_round` is once round a face that runs round. Not of words along an outline.
    pub(crate) fn of(
        piece: &Piece,
        lettering: &'a Lettering,
        letter_height: f64,
        way_round: Option<f64>,
        workshop: &Workshop<'_>,
    ) -> Option<Self> {
        let Lettering { style, pitch, course, .. } = lettering;
        let lines = scaled(&lines_of(piece, lettering, workshop), letter_height);
        let course = match course {
            Course::Straight | Course::Below => LettersAlong::Straight(None),
            Course::Round(round) => LettersAlong::Straight(way_round.map(|way| Over {
                way: way * round.spread / 360.0,
                is_closed: round.spread >= 360.0,
            })),
            Course::Circle(course) => LettersAlong::Around(circle_of(course)),
            Course::Outline(_) => return None,
        };
        let unjoined = Vec::new();
        let mut letters = LettersOfLines { lines, style, pitch: *pitch, course, unjoined };
        letters.unjoined = {
            let plain = letters.plain();
            let lines = plain.iter().enumerate();
            let pairs =
                lines.flat_map(|(line, all)| (1..all.len()).map(move |next| (line, next - 1)));
            pairs.filter(|pair| shared(&plain, pair).is_none()).collect()
        };
        Some(letters)
    }

    /// The letters of every line where they stand to each other, with the weight that is added to them.
    fn at(&self, spacing: f64) -> Vec<Vec<Region>> {
        let style = Style { spacing, ..*self.style };
        let lines = match &self.course {
            LettersAlong::Straight(over) => self.straight(&style, *over),
            LettersAlong::Around(circle) => {
                letters_around(&self.lines, &style, circle, self.pitch, Tolerance::Draft)
            }
        };
        let heavier = style.heavier.as_mm();
        let heavy = |letter: Region| letter.offset(heavier, Tolerance::Draft);
        lines.into_iter().map(|line| line.into_iter().map(heavy).collect()).collect()
    }

    /// The same as the typeface has them, in straight lines, nothing added.
    fn plain(&self) -> Vec<Vec<Region>> {
        self.straight(&Style { spacing: 0.0, heavier: Length::ZERO, ..*self.style }, None)
    }

    /// How many letters run into the next one, as they are spaced now.
    pub(crate) fn meeting(&self) -> usize {
        let now = self.at(self.style.spacing);
        self.unjoined.iter().filter(|pair| shared(&now, pair).is_some()).count()
    }

    /// The least spacing, as a share of the height and no less than there is, at which no letters that their typeface does
    /// not join are nearer to each other than `gap` mm.
    pub(crate) fn apart(&self, gap: f64) -> Option<f64> {
        let is_clear = |steps: i32| {
            let mut lines = self.at(f64::from(steps) / STEPS);
            let grown = |letter: &mut Region| *letter = letter.offset(gap / 2.0, Tolerance::Draft);
            lines.iter_mut().flatten().for_each(grown);
            self.unjoined.iter().all(|pair| shared(&lines, pair).is_none())
        };
        let highest = limit_of("lettering", "style.spacing")?.high;
        let (mut below, mut enough) =
            ((self.style.spacing * STEPS).floor() as i32, (highest * STEPS) as i32);
        if !is_clear(enough) {
            return None;
        }
        while enough - below > 1 {
            let between = below + (enough - below) / 2;
            match is_clear(between) {
                true => enough = between,
                false => below = between,
            }
        }
        Some(f64::from(enough) / STEPS)
    }

    fn straight(&self, style: &Style, over: Option<Over>) -> Vec<Vec<Region>> {
        self.lines.iter().map(|line| letters_of(line, style, over, Tolerance::Draft)).collect()
    }
}

/// What a letter and the next one share; nothing where that is hardly anything.
fn shared(lines: &[Vec<Region>], (line, first): &(usize, usize)) -> Option<Region> {
    let [one, other] = [lines.get(*line)?.get(*first)?, lines.get(*line)?.get(first + 1)?];
    let near = one.bounds().zip(other.bounds()).is_some_and(|(a, b)| a.overlaps(&b));
    let both = near.then(|| one.intersection(other))?;
    (both.area() >= NOTICEABLE_MM2).then_some(both)
}
