//! Lettering: words, their size, and the way they run.

use super::check::Checker;
use super::element::FOLLOWS_OUTLINE;
use super::element::Fields;
use super::{Bridges, Edge, Fills, LetteringPlace, Relief, Repeat, limits};
use crate::lettering::{Align, CircleSide, Reading, Style};
use crate::units::Length;
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// Words, in one or several lines.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Lettering {
    /// What it says, 1 to 12 lines.
    pub lines: Vec<TextLine>,
    /// The id of a typeface: a shipped one, or one of the user's own.
    pub typeface: String,
    /// How large it is.
    pub size: LetterSize,
    /// What gives first where straight words of a letter height would leave the clear area.
    pub gives: Gives,
    /// How the letters are drawn.
    pub style: Style,
    /// Where lines of different length meet.
    pub align: Align,
    /// From line to line, in heights of the lower line, 0.5 to 5.
    pub pitch: f64,
    /// What is put in the middle of its place.
    pub sits_by: SitsBy,
    /// What the words run along.
    pub course: Course,
    /// Turn in degrees about the middle of its box, counter-clockwise.
    pub turn: f64,
    /// Whether left and right are exchanged, as a stamp or the inside of a window has it.
    pub mirrored: bool,
    /// How it meets the face.
    pub relief: Relief,
    /// Its colour, the id of one of the piece's filaments; nothing for that of the plate.
    pub colour: Option<String>,
    /// How deep it is rooted in what it stands on, if it stands up in a colour of its own, 0 to 100 mm; of something
    /// sunk, how deep its floor has that colour, where 0 is 0.6 mm.
    pub root: Length,
    /// How the edges of the letters are finished: the upper ones where they stand up, those at the
    /// face where they are sunk.
    pub edge: Edge,
    /// What holds its inside where it is cut through, and its parts where it stands on the bed; nothing for none.
    pub bridges: Option<Bridges>,
    /// Where it sits.
    pub place: LetteringPlace,
    /// How often it is there.
    pub repeat: Repeat,
}

/// A line of words.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct TextLine {
    /// What it says, at most 1000 characters. `{name}` stands for the piece's input of that name.
    pub words: String,
    /// A typeface of its own; nothing for that of the lettering.
    pub typeface: Option<String>,
    /// Its letter height in proportion to that of the lettering, 0.1 to 10.
    pub scale: f64,
}

/// How large letters are.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum LetterSize {
    /// By the height of the capitals, 0.5 to 400 mm.
    Height(Length),
    /// As large as a box lets them be, width or height, whichever binds first. Along a circle the
    /// height of the box is the height of the capitals.
    Box(LetterBox),
    /// As large as the clear area lets them be.
    ClearArea,
}

/// What gives first where words would leave the clear area.
#[derive(Debug, Clone, Copy, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum Gives {
    /// Nothing: they leave it.
    #[default]
    Nothing,
    /// Their size.
    Size,
    /// The width of their letters, down to this share of it, 0.3 to 1; then their size.
    Width(f64),
    /// A single line becomes two where they come out larger so; then their size.
    Line,
}

/// A box to be filled.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct LetterBox {
    /// From left to right, 1 to 500 mm.
    pub width: Length,
    /// From bottom to top, 0.5 to 400 mm.
    pub height: Length,
}

/// What of the words is put in the middle of their place, up and down.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "kebab-case")]
pub enum SitsBy {
    /// The capitals, from the foot of the last line to the top of the first, so that words with and
    /// without descenders stand on one line.
    #[default]
    Capitals,
    /// All that is drawn.
    Ink,
}

/// What words run along.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum Course {
    /// Straight lines.
    #[default]
    Straight,
    /// Downwards, every letter upright below the one before.
    Below,
    /// A circle, which is what the place is of.
    Circle(CircleCourse),
    /// The way round of a face that runs round; on a flat face straight lines.
    Round(RoundCourse),
    /// The outline of the face, a recess or a halo, within it or outside it; it has no place of its own then.
    Outline(OutlineCourse),
}

/// An outline that words run along.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct OutlineCourse {
    /// Whose outline.
    pub of: Fills,
    /// From the outline to the first line, −100 to 250 mm; what is negative lies outside it.
    pub distance: Length,
    /// Which way the words run: clockwise with their feet to the middle, or upright with their heads.
    pub reading: Reading,
    /// Where the middle of the words stands, seen from the middle of the outline, in degrees: 0 is right, 90 up.
    pub middle: f64,
    /// The part of the way the words are spread over, 5° to 360°; nothing for the room the letters take.
    pub spread: Option<f64>,
}

/// Lines that are spread round, each by the room between its letters.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct RoundCourse {
    /// The part of the way they take up, 5° to 360°; all of it leaves the last letter as far from the
    /// first as from the one before.
    pub spread: f64,
}

/// A circle that words run along.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct CircleCourse {
    /// Its radius, 0.5 to 500 mm.
    pub radius: Length,
    /// Which way the words run.
    pub reading: Reading,
    /// On which side of the circle the first line stands.
    pub side: CircleSide,
    /// Where the middle of the words stands, in degrees: 0 is right, 90 up, 180 left.
    pub middle: f64,
    /// The part of the circle the words are spread over, 5° to 360°; nothing for the room the
    /// letters take.
    pub spread: Option<f64>,
}

/// The most lines one lettering has.
const MOST_LINES: usize = 12;

/// The most characters one line has.
const MOST_CHARACTERS: usize = 1000;

impl Lettering {
    /// One line of a letter height, in the customary style.
    pub fn one_line(words: &str, typeface: &str, letter_height: Length) -> Self {
        Lettering {
            lines: vec![TextLine::new(words)],
            typeface: typeface.to_owned(),
            size: LetterSize::Height(letter_height),
            gives: Gives::Nothing,
            style: Style::default(),
            align: Align::Centre,
            pitch: 1.6,
            sits_by: SitsBy::Capitals,
            course: Course::Straight,
            turn: 0.0,
            mirrored: false,
            relief: Relief::raised(1.5),
            colour: None,
            root: Length::ZERO,
            edge: Edge::Square,
            bridges: None,
            place: LetteringPlace::in_clear_area(),
            repeat: Repeat::Once,
        }
    }

    /// What it says, the lines in one.
    pub fn words(&self) -> String {
        let lines: Vec<&str> = self.lines.iter().map(|line| line.words.as_str()).collect();
        lines.join(" ")
    }
}

impl Fields for Lettering {
    fn check(&self, checker: &mut Checker) {
        let count = self.lines.len();
        if count == 0 || count > MOST_LINES {
            let message = format!("There are {count} lines; there can be 1 to {MOST_LINES}.");
            checker.report("lines", message);
        }
        for (i, line) in self.lines.iter().take(MOST_LINES).enumerate() {
            let count = line.words.chars().count();
            if count > MOST_CHARACTERS {
                let message = format!(
                    "That is {count} characters; {MOST_CHARACTERS} are the most for one line."
                );
                checker.report(&format!("lines.{i}.words"), message);
            }
            checker.number_at(&format!("lines.{i}.scale"), &limits::LINE_SCALE, line.scale);
            if let Some(typeface) = &line.typeface {
                checker.typeface(&format!("lines.{i}.typeface"), typeface);
            }
        }
        checker.typeface("typeface", &self.typeface);
        match self.size {
            LetterSize::Height(height) => checker.length(&limits::LETTER_HEIGHT, height),
            LetterSize::Box(LetterBox { width, height }) => {
                checker.length(&limits::BOX_WIDTH, width);
                checker.length(&limits::BOX_HEIGHT, height);
            }
            LetterSize::ClearArea => {}
        }
        if let Gives::Width(least) = self.gives {
            checker.number(&limits::GIVES_WIDTH, least);
        }
        checker.number(&limits::SPACING, self.style.spacing);
        checker.length(&limits::HEAVIER, self.style.heavier);
        checker.number(&limits::SLANT, self.style.slant);
        checker.number(&limits::STRETCH, self.style.stretch);
        checker.number(&limits::PITCH, self.pitch);
        if let Course::Outline(course) = &self.course {
            checker.length(&limits::OUTLINE_DISTANCE, course.distance);
            checker.number(&limits::OUTLINE_MIDDLE, course.middle);
            if let Some(spread) = course.spread {
                checker.number(&limits::OUTLINE_SPREAD, spread);
            }
        }
        if let Course::Round(round) = self.course {
            checker.number(&limits::ROUND_SPREAD, round.spread);
        }
        if let Course::Circle(circle) = self.course {
            checker.length(&limits::CIRCLE_RADIUS, circle.radius);
            checker.number(&limits::CIRCLE_MIDDLE, circle.middle);
            if let Some(spread) = circle.spread {
                checker.number(&limits::CIRCLE_SPREAD, spread);
            }
        }
        checker.angle("turn", self.turn);
        self.relief.check(checker);
        checker.length(&limits::ROOT, self.root);
        self.edge.check("edge", checker);
        self.repeat.check(checker);
        if let Some(bridges) = &self.bridges {
            bridges.check(checker);
        }
        checker.lettering_place(&self.place);
    }

    fn relief(&self) -> Option<Relief> {
        Some(self.relief)
    }

    fn place(&self) -> Option<&LetteringPlace> {
        (!matches!(self.course, Course::Outline(_))).then_some(&self.place)
    }

    fn place_mut(&mut self) -> Option<&mut LetteringPlace> {
        (!matches!(self.course, Course::Outline(_))).then_some(&mut self.place)
    }

    fn colour(&self) -> Option<(&'static str, Option<&str>)> {
        Some(("colour", self.colour.as_deref()))
    }

    fn lose_colour(&mut self) {
        self.colour = None;
    }

    fn root(&self) -> Option<Length> {
        Some(self.root)
    }

    fn repeat(&self) -> Repeat {
        self.repeat
    }

    fn carries(&self, _: bool) -> bool {
        self.place().is_some()
    }

    fn nudge(&mut self, mm: f64) {
        match &mut self.course {
            Course::Outline(course) => course.distance = Length::mm(course.distance.as_mm() + mm),
            _ => self.place.shift(mm, 0.0),
        }
    }

    fn shift(&mut self, across: f64, up: f64) -> Result<(), &'static str> {
        if matches!(self.course, Course::Outline(_)) {
            return Err(FOLLOWS_OUTLINE);
        }
        self.place.shift(across, up);
        Ok(())
    }

    fn name(&self) -> String {
        let lines: Vec<&str> = self.lines.iter().map(|line| line.words.trim()).collect();
        let words = lines.join(" ").trim().to_owned();
        if words.is_empty() { "Lettering".to_owned() } else { words }
    }

    fn main_fields(&self) -> Vec<(&'static str, &'static str)> {
        let mut fields = vec![("lines", "Words"), ("typeface", "Typeface")];
        match self.size {
            LetterSize::Height(_) => fields.push(("size.height", "Letters tall")),
            LetterSize::Box(_) => {
                fields.extend([("size.box.width", "Box wide"), ("size.box.height", "Box high")]);
            }
            LetterSize::ClearArea => {}
        }
        fields
    }
}

impl TextLine {
    /// A line in the typeface and size of its lettering.
    pub fn new(words: &str) -> Self {
        TextLine { words: words.to_owned(), typeface: None, scale: 1.0 }
    }
}
