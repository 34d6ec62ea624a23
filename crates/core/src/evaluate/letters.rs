//! Letters that run into each other although their typeface does not join them.

use super::words::{along_of, circle_of, lines_of, scaled};
use crate::lettering::{
    Along, Circle, Line, Over, Style, letters_along, letters_around, letters_of,
};
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
    course: LettersAlong<'a>,
    /// The line and the number of each letter that its typeface does not join to the next one.
    unjoined: Vec<(usize, usize)>,
    workshop: &'a Workshop<'a>,
}

/// What letters run along.
enum LettersAlong<'a> {
    Straight(Option<Over>),
    Around(Circle),
    Outline(Along<'a>),
}

impl<'a> LettersOfLines<'a> {
    /// The letters at a height in mm. `way_round` is once round a face that runs round, `outline` what words along an
    /// outline run along.
    pub(crate) fn of(
        piece: &Piece,
        lettering: &'a Lettering,
        letter_height: f64,
        way_round: Option<f64>,
        outline: Option<&'a Region>,
        workshop: &'a Workshop<'a>,
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
            Course::Outline(course) => LettersAlong::Outline(along_of(course, outline?)),
        };
        let unjoined = Vec::new();
        let mut letters =
            LettersOfLines { lines, style, pitch: *pitch, course, unjoined, workshop };
        letters.unjoined = {
            let plain = letters.plain();
            let lines = plain.iter().enumerate();
            let pairs =
                lines.flat_map(|(line, all)| (1..all.len()).map(move |next| (line, next - 1)));
            pairs.filter(|pair| shared(&plain, pair).is_none()).collect()
        };
        Some(letters)
    }

    /// The letters of every line where they stand to each other, with the weight that is added to them; nothing where
    /// the work was stopped.
    fn at(&self, spacing: f64) -> Option<Vec<Vec<Region>>> {
        let style = Style { spacing, ..*self.style };
        let lines = match &self.course {
            LettersAlong::Straight(over) => self.straight(&style, *over),
            LettersAlong::Around(circle) => {
                letters_around(&self.lines, &style, circle, self.pitch, Tolerance::Draft)
            }
            LettersAlong::Outline(along) => {
                letters_along(&self.lines, &style, along, self.pitch, Tolerance::Draft)
            }
        };
        let heavier = style.heavier.as_mm();
        let heavy = |letter: Region| {
            self.workshop.go_on().ok()?;
            Some(letter.offset(heavier, Tolerance::Draft))
        };
        lines.into_iter().map(|line| line.into_iter().map(heavy).collect()).collect()
    }

    /// How many letters lose strokes, or vanish, by the weight that is taken away from them.
    pub(crate) fn losing(&self) -> usize {
        let away = -self.style.heavier.as_mm();
        if away <= 0.0 {
            return 0;
        }
        // What is narrower than twice that is gone. Corners lose less: (1 − π/4) of the square of it each.
        let loses = |letter: &Region| {
            let stays = letter.offset(-away, Tolerance::Draft).offset(away, Tolerance::Draft);
            let gone = letter.difference(&stays);
            gone.parts().iter().any(|part| part.area() > 2.0 * away * away)
        };
        let letters = self.plain().into_iter().flatten();
        letters.filter(loses).count()
    }

    /// The same as the typeface has them, in straight lines, nothing added.
    fn plain(&self) -> Vec<Vec<Region>> {
        self.straight(&Style { spacing: 0.0, heavier: Length::ZERO, ..*self.style }, None)
    }

    /// How many letters run into the next one, as they are spaced now.
    pub(crate) fn meeting(&self) -> usize {
        let Some(now) = self.at(self.style.spacing) else { return 0 };
        self.unjoined.iter().filter(|pair| shared(&now, pair).is_some()).count()
    }

    /// The least spacing, as a share of the height and no less than there is, at which no letters that their typeface does
    /// not join are nearer to each other than `gap` mm.
    pub(crate) fn apart(&self, gap: f64) -> Option<f64> {
        let is_clear = |steps: i32| {
            let mut lines = self.at(f64::from(steps) / STEPS)?;
            for letter in lines.iter_mut().flatten() {
                self.workshop.go_on().ok()?;
                *letter = letter.offset(gap / 2.0, Tolerance::Draft);
            }
            Some(self.unjoined.iter().all(|pair| shared(&lines, pair).is_none()))
        };
        let highest = limit_of("lettering", "style.spacing")?.high;
        let (mut below, mut enough) =
            ((self.style.spacing * STEPS).floor() as i32, (highest * STEPS) as i32);
        if !is_clear(enough)? {
            return None;
        }
        while enough - below > 1 {
            let between = below + (enough - below) / 2;
            match is_clear(between)? {
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
