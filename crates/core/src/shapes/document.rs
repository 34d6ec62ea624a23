//! A shape as it is kept: a small JSON document.

use super::laid::{Laid, Pen};
use super::path_text::{closed_text, open_text, parsed};
use crate::content::content_id;
use crate::piece::OWN_SHAPE;
use kurbo::BezPath;
use serde::{Deserialize, Serialize};
use thiserror::Error;

/// The version of the documents that are written.
pub const SHAPE_VERSION: u32 = 2;

/// The version of those without lines: what can be read by more is written so, and keeps its id.
const WITHOUT_LINES: u32 = 1;

/// What the files of shapes end in.
pub const SHAPE_ENDING: &str = ".shape.json";

/// The largest document that is read, in bytes.
pub const MAX_SHAPE_BYTES: usize = 2 << 20;

/// The most points the curves of a shape may have: beyond it every edit would take too long.
pub const MAX_SHAPE_POINTS: usize = 20_000;

/// The most crossings the outlines of a shape may have, with themselves and each other.
pub const MOST_CROSSINGS: usize = 10_000;

/// The most chords the curves of a shape may be followed by at the finest tolerance. A point has about six
/// at the size of a piece; large curves have more.
pub const MOST_CHORDS: usize = 400_000;

/// The furthest a shape may reach from its origin, in mm, and the least its frame may measure.
pub(super) const REACH_MM: f64 = 4000.0;
const LEAST_MM: f64 = 1e-3;

/// How many times longer than wide a frame may be, or wider than long.
const MOST_LONGER: f64 = 200.0;

/// A shape as it is kept. Lengths in mm, x to the right and y up.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct ShapeDocument {
    /// The version of the document, [`SHAPE_VERSION`].
    pub kalotype_shape: u32,
    /// The box it is placed and sized by: left, bottom, right, top.
    pub frame: [f64; 4],
    /// What is laid upon each other, in this order.
    pub parts: Vec<Part>,
}

/// A path of a shape that adds to what lies below it or cuts from it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Part {
    /// Whether it adds or cuts.
    pub act: PartAct,
    /// What counts as inside.
    pub rule: Rule,
    /// Curves in the syntax of SVG's path data, closed unless a pen draws along them.
    pub path: String,
    /// What draws along the curves; nothing for what they enclose.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub pen: Option<Pen>,
}

/// What a part does to those before it.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum PartAct {
    /// What it encloses is there.
    Adds,
    /// What it encloses is taken away.
    Cuts,
}

/// What counts as inside of closed curves.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Rule {
    /// What the curves run round other than zero times altogether (SVG's `nonzero`).
    NonZero,
    /// What the curves run round an odd number of times (SVG's `evenodd`).
    EvenOdd,
    /// Every curve is a shape by itself, and one that lies in another is a hole in it.
    Nested,
}

/// Why a document is no shape.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum ShapeError {
    /// More than [`MAX_SHAPE_BYTES`].
    #[error("the shape has {} KB; {} KB are the most", .0 >> 10, MAX_SHAPE_BYTES >> 10)]
    TooLarge(usize),
    /// No JSON of this kind.
    #[error("this is no shape: {0}")]
    Unreadable(String),
    /// A later version.
    #[error("the shape is of version {0}; up to {SHAPE_VERSION} are read")]
    Later(u32),
    /// More than [`MAX_SHAPE_POINTS`].
    #[error(
        "the shape has {0} points; {MAX_SHAPE_POINTS} are the most. Simplify it where it comes from"
    )]
    TooManyPoints(usize),
    /// A frame that cannot be.
    #[error(
        "the shape is {0} × {1} mm; it must be larger than that, or less than {MOST_LONGER} times \
         as long as wide"
    )]
    Frame(String, String),
    /// A line of no width, or wider than anything.
    #[error("a line of the shape must be {0} mm wide")]
    Pen(String),
    /// Coordinates beyond any piece.
    #[error("the shape reaches further than {REACH_MM} mm; make it smaller")]
    OutOfReach,
    /// Curves that need more than [`MOST_CHORDS`].
    #[error(
        "the curves of the shape are so long and so many that following them takes more than {MOST_CHORDS} \
         steps. Make it smaller, or simplify it where it comes from"
    )]
    TooLong,
    /// Outlines that cross more than [`MOST_CROSSINGS`] times.
    #[error(
        "the outlines of the shape cross each other more than {MOST_CROSSINGS} times, so it would take too \
         long to work with. Unite them, or simplify them, where it comes from"
    )]
    Tangled,
    /// Nothing is left of it.
    #[error("the shape encloses nothing")]
    Empty,
}

impl ShapeDocument {
    /// A document of paths in mm. Coordinates are rounded to a tenth of a thousandth of a millimetre.
    pub(super) fn of(frame: [f64; 4], parts: &[Laid]) -> Self {
        let part = |laid: &Laid| Part {
            act: laid.act,
            rule: laid.rule,
            path: if laid.pen.is_some() { open_text(&laid.path) } else { closed_text(&laid.path) },
            pen: laid.pen,
        };
        let has_lines = parts.iter().any(|part| part.pen.is_some());
        ShapeDocument {
            kalotype_shape: if has_lines { SHAPE_VERSION } else { WITHOUT_LINES },
            frame: frame.map(|side| (side * 1e4).round() / 1e4 + 0.0),
            parts: parts.iter().map(part).collect(),
        }
    }

    /// Reads a document.
    ///
    /// # Errors
    /// [`ShapeError`] with what is wrong with it.
    pub fn read(bytes: &[u8]) -> Result<Self, ShapeError> {
        if bytes.len() > MAX_SHAPE_BYTES {
            return Err(ShapeError::TooLarge(bytes.len()));
        }
        let document: ShapeDocument = serde_json::from_slice(bytes)
            .map_err(|error| ShapeError::Unreadable(error.to_string()))?;
        if document.kalotype_shape > SHAPE_VERSION {
            return Err(ShapeError::Later(document.kalotype_shape));
        }
        let [x0, y0, x1, y1] = document.frame;
        let (width, height) = (x1 - x0, y1 - y0);
        if !document.frame.iter().all(|side| side.abs() <= REACH_MM) {
            return Err(ShapeError::OutOfReach);
        }
        if width.min(height) < LEAST_MM || width.max(height) > MOST_LONGER * width.min(height) {
            let [width, height] = [width, height].map(|side| format!("{side:.3}"));
            return Err(ShapeError::Frame(width, height));
        }
        Ok(document)
    }

    /// The document as it is kept, always the same for the same content.
    pub fn write(&self) -> Vec<u8> {
        serde_json::to_vec(self).expect("a shape has only string keys")
    }

    /// The id of the shape: [`OWN_SHAPE`] and the first half of the SHA-256 of what is kept.
    pub fn id(&self) -> String {
        content_id(OWN_SHAPE, &self.write())
    }

    /// Its parts with their paths read.
    ///
    /// # Errors
    /// [`ShapeError`] where one cannot be read, has too many points or reaches too far.
    pub(super) fn parsed(&self) -> Result<Vec<Laid>, ShapeError> {
        let mut room = MAX_SHAPE_POINTS;
        let mut all = Vec::with_capacity(self.parts.len());
        for part in &self.parts {
            let path = parsed(&part.path).map_err(ShapeError::Unreadable)?;
            let points = path.elements().len();
            let left = room.checked_sub(points);
            room = left.ok_or(ShapeError::TooManyPoints(MAX_SHAPE_POINTS - room + points))?;
            check_reach(&path, REACH_MM)?;
            if part.pen.is_some_and(|pen| !(LEAST_MM..=REACH_MM).contains(&pen.width)) {
                return Err(ShapeError::Pen(format!("{LEAST_MM} to {REACH_MM}")));
            }
            all.push(Laid { act: part.act, rule: part.rule, path, pen: part.pen });
        }
        Ok(all)
    }
}

/// Refuses a path whose points, those beside its curves among them, lie further from the origin than `reach`
/// mm along an axis.
pub(super) fn check_reach(path: &BezPath, reach: f64) -> Result<(), ShapeError> {
    let corners = path.control_box();
    let sides = [corners.x0, corners.y0, corners.x1, corners.y1];
    match path.is_finite() && sides.iter().all(|side| side.abs() <= reach) {
        true => Ok(()),
        false => Err(ShapeError::OutOfReach),
    }
}
