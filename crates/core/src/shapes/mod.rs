//! Shapes of one's own: outlines that were drawn here, read from a drawing or traced from a picture, as an emblem, a blank or a field is
//! made of them.
//!
//! A shape is a document by itself ([`ShapeDocument`]), and its id is made of its content: pieces and
//! starters name it by that id, share it, and what they look like can never change behind their backs.
//! Curves stay curves in it, so that it can be made larger and is followed as closely as a piece wants.
//!
//! Like stock it is looked up in a [library](crate::library), since a piece file holds only its id.

mod document;
pub mod drawn;
mod join;
mod laid;
mod path_text;
mod take;
pub mod trace;

pub use document::{
    MAX_SHAPE_BYTES, MAX_SHAPE_POINTS, MOST_CHORDS, MOST_CROSSINGS, Part, PartAct, Rule,
    SHAPE_ENDING, SHAPE_VERSION, ShapeDocument, ShapeError,
};
pub use take::{Chosen, Division, LineUse, NotTaken, Taken, TakenShape, take};

use laid::{Laid, check_parts, check_work, region_of};

use crate::emblems::Setting;
use crate::piece::{OWN_SHAPE, Stroke};
use crate::plane::{GridPoint, Rect, Region, Tolerance};
use kurbo::Affine;

/// A shape, opened.
#[derive(Debug, Clone, PartialEq)]
pub struct Shape {
    /// Its id: [`OWN_SHAPE`] and the first half of the SHA-256 of its document, in hexadecimal.
    pub id: String,
    /// What people call it.
    pub name: String,
    /// The box it is placed and sized by, in mm. Several shapes of one picture share it, so that they stay
    /// where they are to each other.
    pub frame: Rect,
    /// The box of what is really there, within the frame.
    pub extent: Rect,
    parts: Vec<Laid>,
}

impl Shape {
    /// Opens a shape's document.
    ///
    /// # Errors
    /// [`ShapeError`] with what is wrong with it.
    pub fn open(document: &[u8], name: &str) -> Result<Self, ShapeError> {
        let document = ShapeDocument::read(document)?;
        let parts = document.parsed()?;
        check_parts(&parts)?;
        let [x0, y0, x1, y1] = document.frame;
        let found = region_of(&parts, Affine::IDENTITY, &Stroke::default(), Tolerance::Fine);
        Ok(Shape {
            id: document.id(),
            name: name.to_owned(),
            frame: Rect { x0, y0, x1, y1 },
            extent: found.bounds().ok_or(ShapeError::Empty)?,
            parts,
        })
    }

    /// Whether it fills its frame, as what is no layer of a picture does.
    pub fn fills_its_frame(&self) -> bool {
        const ROUNDING: f64 = 2e-3;
        let [a, b] = [self.frame, self.extent];
        let gaps = [a.x0 - b.x0, a.y0 - b.y0, a.x1 - b.x1, a.y1 - b.y1];
        gaps.iter().all(|gap| gap.abs() < ROUNDING)
    }

    /// The shape as a region in mm, the centre of its frame on the origin, its lines as a stroke has it.
    pub fn set(&self, setting: Setting, stroke: &Stroke, tolerance: Tolerance) -> Region {
        region_of(&self.parts, setting.placing(self.frame), stroke, tolerance)
    }

    /// Whether its lines can be as a stroke asks: as wide as that they must not cross each other more often than
    /// can be laid over each other. What they were drawn with was looked at when the shape was opened.
    pub fn can_be_drawn_out(&self, setting: Setting, stroke: &Stroke) -> bool {
        if stroke.width.is_none() {
            return true;
        }
        let placing = setting.placing(self.frame);
        let outlines: Vec<_> =
            self.parts.iter().map(|part| part.outline(placing, stroke).1).collect();
        check_work(outlines.iter()).is_ok()
    }

    /// How wide its thinnest line is where it is set, in mm; nothing for a shape without lines.
    pub fn thinnest_line(&self, setting: Setting, stroke: &Stroke) -> Option<f64> {
        let scale = setting.placing(self.frame).determinant().abs().sqrt();
        let pens = self.parts.iter().filter_map(|part| part.pen);
        pens.map(|pen| pen.for_stroke(stroke, scale).width).reduce(f64::min)
    }

    /// Whether it has lines and no areas.
    pub fn is_lines_alone(&self) -> bool {
        self.parts.iter().all(|part| part.pen.is_some())
    }

    /// The shape stretched to a size in mm, the box of what is there centred on the origin.
    pub fn stretched(&self, (width, height): (f64, f64), tolerance: Tolerance) -> Region {
        let (x, y) = self.extent.centre();
        let placing =
            Affine::scale_non_uniform(width / self.extent.width(), height / self.extent.height())
                * Affine::translate((-x, -y));
        region_of(&self.parts, placing, &Stroke::default(), tolerance)
    }

    /// Width and height of what is there, in mm.
    pub fn size(&self) -> (f64, f64) {
        (self.extent.width(), self.extent.height())
    }

    /// How many points its curves have.
    pub fn points(&self) -> usize {
        self.parts.iter().map(|part| part.path.elements().len()).sum()
    }
}

/// Whether an id is that of a shape of one's own.
pub fn is_own(id: &str) -> bool {
    id.starts_with(OWN_SHAPE)
}

/// What contours enclose by a rule.
fn by_rule(contours: Vec<Vec<GridPoint>>, rule: Rule) -> Region {
    match rule {
        Rule::NonZero => Region::resolve(&contours),
        Rule::EvenOdd => Region::resolve_even_odd(&contours),
        Rule::Nested => {
            let each = contours.into_iter().map(|contour| Region::resolve(&[contour]));
            let all: Vec<Vec<GridPoint>> =
                each.flat_map(|region| region.contours().to_vec()).collect();
            Region::resolve_even_odd(&all)
        }
    }
}

#[cfg(test)]
mod tests;
