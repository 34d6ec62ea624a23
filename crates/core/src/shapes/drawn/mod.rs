//! Drawings made here: points with straight and curved runs between them, circles, scribbles.
//!
//! A drawing made here is a small JSON document ([`DrawnDocument`]) and is read like any other: it becomes
//! a [`FoundDrawing`] whose figures are millimetres, and shapes are [taken](super::take()) of it. What
//! closes, by itself or with its mirror image, is an area, and what lies in an area is a hole in it; what
//! has a width is a line.

mod circle;
mod curve;
mod scribble;

pub use circle::{Circle, through, touching};

use super::ShapeError;
use super::join::joined;
use super::laid::{Pen, PenEnds};
use crate::filament::Rgb;
use crate::formats::{FoundDrawing, FoundLayer, Mark, MarkKind};
use crate::plane::{Region, Tolerance, flattened};
use kurbo::{Affine, BezPath, PathEl, Point, Shape as _};
use serde::{Deserialize, Serialize};
use thiserror::Error;

/// The version of the documents that are written.
pub const DRAWN_VERSION: u32 = 1;

/// The largest document that is read, in bytes.
pub const MAX_DRAWN_BYTES: usize = 1 << 20;

/// The most figures and the most points all of them may have.
const MOST_FIGURES: usize = 200;
const MOST_POINTS: usize = 12_000;

/// The most closed lines, with their mirror images: each is held against all others.
const MOST_CLOSED: usize = 200;

/// How far from the middle a drawing may reach, in mm.
const REACH_MM: f64 = 500.0;

/// Ends nearer to each other than this meet, in mm: as near as a hand brings them.
const MEET_MM: f64 = 0.05;

/// A drawing made here. Lengths in mm, x to the right and y up, the middle at the origin.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct DrawnDocument {
    /// The version of the document, [`DRAWN_VERSION`].
    pub kalotype_drawing: u32,
    /// What is drawn once and is there several times.
    pub mirror: Mirror,
    /// What was drawn.
    pub figures: Vec<Figure>,
}

/// Where everything is mirrored.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Mirror {
    /// Nowhere.
    #[default]
    None,
    /// Left and right of the upright centre line.
    Across,
    /// Above and below the level centre line.
    Up,
    /// Both.
    Both,
}

impl Mirror {
    /// Everything that is there of what is drawn once.
    fn images(self) -> &'static [Affine] {
        const TURNED: Affine = Affine::scale(-1.0);
        match self {
            Mirror::None => &[Affine::IDENTITY],
            Mirror::Across => &[Affine::IDENTITY, Affine::FLIP_X],
            Mirror::Up => &[Affine::IDENTITY, Affine::FLIP_Y],
            Mirror::Both => &[Affine::IDENTITY, Affine::FLIP_X, Affine::FLIP_Y, TURNED],
        }
    }
}

/// Something that was drawn.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Figure {
    /// How wide its line is, 0.2 to 50 mm; nothing where it is the edge of an area.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub width: Option<f64>,
    /// Whether the ends of its line are square, and not round.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub square: bool,
    /// Its line.
    pub line: DrawnLine,
}

/// A line that was drawn.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum DrawnLine {
    /// From point to point.
    Run(Run),
    /// A circle through three points.
    Circle([[f64; 2]; 3]),
    /// The circle within three lines, each given by two of its points, that touches them all.
    Touching([[[f64; 2]; 2]; 3]),
    /// A quick line, as a hand draws it.
    Scribble(Scribble),
}

/// Points with straight and curved runs between them.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Run {
    /// Its points, in their order.
    pub points: Vec<DrawnPoint>,
    /// Whether the last is joined to the first.
    pub closed: bool,
}

/// A point of a run.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct DrawnPoint {
    /// Where it is.
    pub at: [f64; 2],
    /// How the line passes it.
    pub kind: PointKind,
}

/// How a line passes a point.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum PointKind {
    /// It turns there, rounded by a radius in mm where both sides are straight; 0 leaves it sharp.
    Corner(f64),
    /// It runs smoothly through it.
    Smooth,
    /// It is part of the circular arc from the point before to the point after it.
    Arc,
}

/// A quick line.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Scribble {
    /// Where the pen was, one after another.
    pub points: Vec<[f64; 2]>,
    /// How far the line may stray from that, 0 to 10 mm: the more, the smoother.
    pub smooth: f64,
    /// Whether its ends are joined.
    pub closed: bool,
}

/// Why a document is no drawing.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum DrawnError {
    /// More than [`MAX_DRAWN_BYTES`].
    #[error("the drawing has {} KB; {} KB are the most", .0 >> 10, MAX_DRAWN_BYTES >> 10)]
    TooLarge(usize),
    /// No document of this kind.
    #[error("this is no drawing made here: {0}")]
    Unreadable(String),
    /// A later version.
    #[error("the drawing is of version {0}; up to {DRAWN_VERSION} are read")]
    Later(u32),
    /// Too much of it.
    #[error("the drawing has more than {MOST_FIGURES} lines or {MOST_POINTS} points")]
    TooMuch,
    /// A figure that is none, or beyond what can be.
    #[error("line {line}: {what}")]
    Line {
        /// Which, from 1.
        line: usize,
        /// What is wrong.
        what: &'static str,
    },
    /// Lines that cross each other too often.
    #[error(transparent)]
    Shape(#[from] ShapeError),
    /// Nothing drawn yet.
    #[error("nothing is drawn yet")]
    Empty,
}

/// A drawing made here, read: what it is, and its lines one by one.
#[derive(Debug, Clone)]
pub struct ReadDrawn {
    /// The drawing, as any other is read.
    pub found: FoundDrawing,
    /// The line of each figure, once, as it was drawn.
    pub lines: Vec<BezPath>,
}

/// Whether a file begins like a drawing made here.
pub fn is_drawn(bytes: &[u8]) -> bool {
    const MARK: &[u8] = b"\"kalotype_drawing\"";
    bytes.starts_with(b"{") && bytes[..bytes.len().min(200)].windows(MARK.len()).any(|w| w == MARK)
}

/// Reads a drawing made here.
///
/// # Errors
/// [`DrawnError`] with what is wrong with it.
pub fn read_drawn(bytes: &[u8]) -> Result<ReadDrawn, DrawnError> {
    if bytes.len() > MAX_DRAWN_BYTES {
        return Err(DrawnError::TooLarge(bytes.len()));
    }
    let document: DrawnDocument =
        serde_json::from_slice(bytes).map_err(|error| DrawnError::Unreadable(error.to_string()))?;
    if document.kalotype_drawing > DRAWN_VERSION {
        return Err(DrawnError::Later(document.kalotype_drawing));
    }
    check(&document)?;
    let mut lines = Vec::new();
    for (i, figure) in document.figures.iter().enumerate() {
        let line = line_of(&figure.line).map_err(|what| DrawnError::Line { line: i + 1, what })?;
        lines.push(line);
    }
    Ok(ReadDrawn { found: found_of(&document, &lines)?, lines })
}

/// Refuses what is too much, or beyond what can be.
fn check(document: &DrawnDocument) -> Result<(), DrawnError> {
    let points_of = |figure: &Figure| -> Vec<[f64; 2]> {
        match &figure.line {
            DrawnLine::Run(run) => run.points.iter().map(|point| point.at).collect(),
            DrawnLine::Circle(points) => points.to_vec(),
            DrawnLine::Touching(lines) => lines.as_flattened().to_vec(),
            DrawnLine::Scribble(scribble) => scribble.points.clone(),
        }
    };
    let all: usize = document.figures.iter().map(|figure| points_of(figure).len()).sum();
    if document.figures.len() > MOST_FIGURES || all > MOST_POINTS {
        return Err(DrawnError::TooMuch);
    }
    for (i, figure) in document.figures.iter().enumerate() {
        let refuse = |what| Err(DrawnError::Line { line: i + 1, what });
        let is_within = |mm: &f64| mm.abs() <= REACH_MM;
        if !points_of(figure).iter().flatten().all(is_within) {
            return refuse("it reaches further than 500 mm from the middle");
        }
        if figure.width.is_some_and(|width| !(0.2..=50.0).contains(&width)) {
            return refuse("its width can be 0.2 to 50 mm");
        }
        match &figure.line {
            DrawnLine::Scribble(one) if !(0.0..=10.0).contains(&one.smooth) => {
                return refuse("it can be smoothed by 0 to 10 mm");
            }
            DrawnLine::Run(run) => {
                let is_bad = |point: &DrawnPoint| match point.kind {
                    PointKind::Corner(radius) => !(0.0..=250.0).contains(&radius),
                    PointKind::Smooth | PointKind::Arc => false,
                };
                if run.points.iter().any(is_bad) {
                    return refuse("a corner can be rounded by 0 to 250 mm");
                }
            }
            _ => {}
        }
    }
    Ok(())
}

/// The curve of a line.
fn line_of(line: &DrawnLine) -> Result<BezPath, &'static str> {
    let point = |at: [f64; 2]| Point::new(at[0], at[1]);
    match line {
        DrawnLine::Run(run) => Ok(curve::curve(run)),
        DrawnLine::Circle(points) => {
            let found = through(points.map(point));
            found.map(|circle| circle.path()).ok_or("its three points lie on one line")
        }
        DrawnLine::Touching(lines) => {
            let found = touching(lines.map(|ends| ends.map(point)));
            found.map(|circle| circle.path()).ok_or("its three lines enclose nothing")
        }
        DrawnLine::Scribble(scribble) => {
            let points: Vec<Point> = scribble.points.iter().map(|at| point(*at)).collect();
            scribble::curve(&points, scribble.smooth, scribble.closed)
        }
    }
}

/// The drawing that lines make with their mirror images.
fn found_of(document: &DrawnDocument, lines: &[BezPath]) -> Result<FoundDrawing, DrawnError> {
    let mut found = FoundDrawing {
        format: "drawn here".into(),
        stated: Some(1.0),
        likely: 1.0,
        is_painted: false,
        layers: vec![FoundLayer { name: "drawn".to_owned(), colour: None::<Rgb> }],
        marks: Vec::new(),
        speck: if document.figures.iter().any(is_scribble) { PINHOLE_MM } else { 0.0 },
        clips: Vec::new(),
        remarks: Vec::new(),
    };
    let images = document.mirror.images();
    let mut edges: Vec<BezPath> = Vec::new();
    for (figure, line) in document.figures.iter().zip(lines) {
        let drawn = line.elements().len() > 1;
        for image in images.iter().filter(|_| drawn) {
            let path = *image * line.clone();
            match figure.width {
                None => edges.push(path),
                Some(width) => {
                    let ends = if figure.square { PenEnds::Square } else { PenEnds::Round };
                    let pen = Pen { width, ends }.stroke();
                    found.marks.push(mark(MarkKind::Line(Some(pen)), path));
                }
            }
        }
    }
    // An image on the line it is mirrored at is the same once more, and joins nothing.
    let joined = joined(edges, MEET_MM);
    if joined.closed.len() > MOST_CLOSED {
        return Err(DrawnError::TooMuch);
    }
    super::check_work(joined.closed.iter())?;
    if !joined.closed.is_empty() {
        let kind = MarkKind::Area { even_odd: false };
        found.marks.push(mark(kind, nested(joined.closed)));
    }
    if !joined.open.is_empty() {
        let count = joined.open.len();
        let sentence = match count {
            1 => "1 line is open: tick Closed, join its ends, or say how wide it is.".to_owned(),
            _ => format!(
                "{count} lines are open: tick Closed, join their ends, or say how wide they are."
            ),
        };
        found.remarks.push(sentence);
    }
    if found.marks.is_empty() && found.remarks.is_empty() {
        return Err(DrawnError::Empty);
    }
    Ok(found)
}

/// Where a scribble crosses itself, openings and crumbs as small as this are nobody's wish, in mm.
const PINHOLE_MM: f64 = 0.3;

fn is_scribble(figure: &Figure) -> bool {
    matches!(figure.line, DrawnLine::Scribble(_))
}

fn mark(kind: MarkKind, path: BezPath) -> Mark {
    Mark { layer: 0, kind, path, placing: Affine::IDENTITY, clips: Vec::new() }
}

/// Closed lines in one, each turned so that one that lies within another is a hole in it, and those that lie
/// across each other are one.
fn nested(closed: Vec<BezPath>) -> BezPath {
    let regions: Vec<Region> =
        closed.iter().map(|path| Region::resolve(&flattened(path, Tolerance::Fine))).collect();
    let boxes: Vec<kurbo::Rect> = closed.iter().map(|path| path.bounding_box()).collect();
    let lies_in = |inner: usize, outer: usize| {
        inner != outer
            && boxes[outer].inflate(MEET_MM, MEET_MM).contains_rect(boxes[inner])
            && regions[outer].area() > regions[inner].area()
            && regions[inner].difference(&regions[outer]).area() < 1e-3
    };
    let mut all = BezPath::new();
    for (i, path) in closed.iter().enumerate() {
        let depth = (0..closed.len()).filter(|other| lies_in(i, *other)).count();
        let is_left = path.area() > 0.0;
        let wants_left = depth % 2 == 0;
        if is_left == wants_left {
            all.extend(path.iter());
        } else {
            all.extend(turned(path).iter());
        }
    }
    all
}

/// A closed line run through the other way.
fn turned(path: &BezPath) -> BezPath {
    let mut turned = path.reverse_subpaths();
    if turned.elements().last() != Some(&PathEl::ClosePath) {
        turned.close_path();
    }
    turned
}

#[cfg(test)]
mod tests;
