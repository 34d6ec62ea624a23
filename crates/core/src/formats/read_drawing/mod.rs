//! Drawings of others, read: SVG and DXF, told apart by what is in them.
//!
//! What is found is told as it was drawn: areas and lines in the order they were painted, each in its
//! layer. What is made of it, and how large, is chosen by who reads it ([`crate::shapes::take`]).

mod budget;
mod dxf;
mod spline;
mod svg;
mod svg_lines;

use super::Picture;
use crate::filament::Rgb;
use kurbo::{Affine, BezPath};
use serde::{Deserialize, Serialize};
use std::borrow::Cow;
use std::collections::HashMap;
use thiserror::Error;

/// The largest drawing that is read, in bytes.
pub const MAX_DRAWING_BYTES: usize = 16 << 20;

/// The most points the lines of a drawing may have, everything that is used again counted again.
pub const MAX_DRAWING_POINTS: usize = 100_000;

/// The most layers a drawing may have.
pub const MAX_DRAWING_LAYERS: usize = 2_000;

/// A drawing, read. Lengths in its own figures, y up.
#[derive(Debug, Clone, Serialize, Deserialize)]
pub struct FoundDrawing {
    /// What kind of file it is: "SVG" or "DXF".
    pub format: Cow<'static, str>,
    /// Millimetres to one of its figures, where the file states a unit.
    pub stated: Option<f64>,
    /// Millimetres to one of its figures, as far as can be told.
    pub likely: f64,
    /// Whether what is painted later covers what lies below it.
    pub is_painted: bool,
    /// Its layers, in the order they first appear.
    pub layers: Vec<FoundLayer>,
    /// What was drawn, in the order it was.
    pub marks: Vec<Mark>,
    /// What is smaller than a disc this wide is no part of it and no opening in it, in its own figures: what
    /// is left between curves that were smoothed. 0 where everything counts.
    pub speck: f64,
    /// What areas are cut off at; [`Mark::clips`] says where.
    pub clips: Vec<BezPath>,
    /// What was left out or read otherwise than it was meant, a sentence each.
    pub remarks: Vec<String>,
}

/// A layer of a drawing.
#[derive(Debug, Clone, PartialEq, Eq, Hash, Serialize, Deserialize)]
pub struct FoundLayer {
    /// What it is called.
    pub name: String,
    /// The colour of what is in it, where it has one.
    pub colour: Option<Rgb>,
}

/// An area or a line of a drawing.
#[derive(Debug, Clone, Serialize, Deserialize)]
pub struct Mark {
    /// Its layer, an index.
    pub layer: usize,
    /// What it is.
    pub kind: MarkKind,
    /// Its curves, before they are placed.
    pub path: BezPath,
    /// How its curves and the width of its line are placed in the drawing.
    pub placing: Affine,
    /// What it is cut off at, one after another: indices.
    pub clips: Vec<usize>,
}

/// What a mark is.
#[derive(Debug, Clone, Serialize, Deserialize)]
pub enum MarkKind {
    /// What its curves enclose.
    Area {
        /// Whether the even-odd rule says what is inside, and not the non-zero one.
        even_odd: bool,
    },
    /// A line of a width; without one a mere outline.
    Line(Option<kurbo::Stroke>),
}

/// Why a drawing was refused.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum DrawingError {
    /// More than [`MAX_DRAWING_BYTES`].
    #[error("the file has {} MB; a drawing may have {} MB at most", .0 >> 20, MAX_DRAWING_BYTES >> 20)]
    TooLarge(usize),
    /// No drawing.
    #[error("this is no SVG and no DXF file")]
    Unknown,
    /// An SVG that was packed.
    #[error("this SVG is compressed (.svgz); unpack it first, or save it as plain SVG")]
    Packed,
    /// More than [`MAX_DRAWING_POINTS`].
    #[error(
        "the drawing has more than {MAX_DRAWING_POINTS} points, the most that are read. Simplify it \
         in the program it comes from"
    )]
    TooManyPoints,
    /// Parts that use each other over and over.
    #[error(
        "parts of the drawing are used again more than {0} times. Save it with these parts turned \
         into plain paths"
    )]
    UsedTooOften(usize),
    /// More than [`MAX_DRAWING_LAYERS`].
    #[error(
        "the drawing has more than {MAX_DRAWING_LAYERS} layers, the most that are told apart. Save it with fewer, or only those \
         that are wanted"
    )]
    TooManyLayers,
    /// Groups in groups in groups.
    #[error(
        "the drawing has groups in groups, more than {0} deep. Save it with its groups taken apart"
    )]
    TooDeep(usize),
    /// An SVG that is broken.
    #[error("this SVG cannot be read: {0}")]
    Svg(String),
    /// A DXF that is broken.
    #[error("this DXF cannot be read: {0}")]
    Dxf(String),
    /// Nothing of what is read, and in sentences what was left out.
    #[error("there is nothing drawn in the file that can be used{0}")]
    Empty(String),
}

/// Reads a drawing of either kind. Nothing is fetched from anywhere, and nothing in it is run.
///
/// # Errors
/// [`DrawingError`] with what is wrong with it.
pub fn read_drawing(bytes: &[u8]) -> Result<FoundDrawing, DrawingError> {
    if bytes.len() > MAX_DRAWING_BYTES {
        return Err(DrawingError::TooLarge(bytes.len()));
    }
    if bytes.starts_with(&[0x1f, 0x8b]) {
        return Err(DrawingError::Packed);
    }
    let start = bytes.strip_prefix(b"\xef\xbb\xbf").unwrap_or(bytes).trim_ascii_start();
    let found = if start.starts_with(b"<") { svg::read(start)? } else { dxf::read(bytes)? };
    if found.marks.is_empty() {
        let remarks =
            found.remarks.iter().map(|sentence| format!(". {}", sentence.trim_end_matches('.')));
        return Err(DrawingError::Empty(remarks.collect()));
    }
    Ok(found)
}

/// Draws an SVG document as a picture, to be traced like one: what is blurred, masked or shaded in it then looks
/// as it does in a browser. Text is not drawn.
///
/// # Errors
/// [`DrawingError`] where it is none, cannot be read, or takes too much to be drawn.
pub fn render_svg(bytes: &[u8]) -> Result<Picture, DrawingError> {
    if bytes.len() > MAX_DRAWING_BYTES {
        return Err(DrawingError::TooLarge(bytes.len()));
    }
    svg::render(bytes.trim_ascii_start())
}

/// A drawing while it is read: layers are told apart, and points are counted.
struct Reading {
    found: FoundDrawing,
    places: HashMap<FoundLayer, usize>,
    points: usize,
}

impl Reading {
    fn new(format: &'static str, is_painted: bool) -> Self {
        let found = FoundDrawing {
            format: format.into(),
            stated: None,
            likely: 1.0,
            is_painted,
            layers: Vec::new(),
            marks: Vec::new(),
            speck: 0.0,
            clips: Vec::new(),
            remarks: Vec::new(),
        };
        Reading { found, places: HashMap::new(), points: 0 }
    }

    /// The layer of a name and colour.
    fn layer(&mut self, layer: FoundLayer) -> Result<usize, DrawingError> {
        if let Some(known) = self.places.get(&layer) {
            return Ok(*known);
        }
        let place = self.found.layers.len();
        if place == MAX_DRAWING_LAYERS {
            return Err(DrawingError::TooManyLayers);
        }
        self.places.insert(layer.clone(), place);
        self.found.layers.push(layer);
        Ok(place)
    }

    /// Counts the points of a path; more than there may be are refused.
    fn count(&mut self, path: &BezPath) -> Result<(), DrawingError> {
        self.points += path.elements().len();
        if self.points > MAX_DRAWING_POINTS { Err(DrawingError::TooManyPoints) } else { Ok(()) }
    }

    /// Takes a mark up.
    fn put(&mut self, mark: Mark) -> Result<(), DrawingError> {
        self.count(&mark.path)?;
        let is_there = mark.path.is_finite() && mark.placing.is_finite();
        if !is_there {
            self.remark("What lies beyond all measure was left out.".to_owned());
        } else if mark.path.elements().len() > 1 {
            self.found.marks.push(mark);
        }
        Ok(())
    }

    fn remark(&mut self, sentence: String) {
        if !self.found.remarks.contains(&sentence) {
            self.found.remarks.push(sentence);
        }
    }
}

/// So many of a thing in words: "1 text was", "3 texts were".
fn were(count: usize, noun: &str) -> String {
    match (count, noun.strip_suffix('y')) {
        (1, _) => format!("1 {noun} was"),
        (_, Some(stem)) => format!("{count} {stem}ies were"),
        (_, None) => format!("{count} {noun}s were"),
    }
}

#[cfg(test)]
mod tests;
