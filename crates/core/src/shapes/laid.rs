//! The parts of a shape as they are laid upon each other.

use super::document::{PartAct, Rule, ShapeError};
use super::{MOST_CHORDS, MOST_CROSSINGS, by_rule};
use crate::piece::{Stroke, StrokeEnds};
use crate::plane::{Region, Tolerance, chords_at_most, crossings, flattened};
use kurbo::{Affine, BezPath, Cap, Join, StrokeOpts};
use serde::{Deserialize, Serialize};
use std::borrow::Cow;

/// How near the outline of a line is to the true one, in mm: well within the finest tolerance.
const WITHIN_MM: f64 = 0.002;

/// A part with its path read.
#[derive(Debug, Clone, PartialEq)]
pub(super) struct Laid {
    pub act: PartAct,
    pub rule: Rule,
    pub path: BezPath,
    /// What draws along the path; nothing for what it encloses.
    pub pen: Option<Pen>,
}

/// What a line is drawn with.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
pub struct Pen {
    /// How wide it is, in mm.
    pub width: f64,
    /// What open lines end in, and what their corners are like.
    pub ends: PenEnds,
}

/// What open lines end in.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum PenEnds {
    /// Half a disc; corners are round.
    Round,
    /// Half a square; corners are sharp.
    Square,
    /// At their end; corners are sharp.
    Flat,
}

impl Pen {
    /// The pen of a line of a drawing, where it draws as one of these does.
    pub(super) fn of(stroke: &kurbo::Stroke) -> Option<Pen> {
        let ends = match (stroke.start_cap, stroke.join) {
            (Cap::Round, Join::Round) => PenEnds::Round,
            (Cap::Square, Join::Miter) => PenEnds::Square,
            (Cap::Butt, Join::Miter) => PenEnds::Flat,
            _ => return None,
        };
        let same = stroke.start_cap == stroke.end_cap && stroke.dash_pattern.is_empty();
        let usual = ends == PenEnds::Round || stroke.miter_limit == MITER;
        (same && usual).then_some(Pen { width: stroke.width, ends })
    }

    /// The pen of a stroke.
    pub fn for_stroke(self, stroke: &Stroke, scale: f64) -> kurbo::Stroke {
        let width = stroke.width.map_or(self.width * scale, |width| width.as_mm());
        let ends = match stroke.ends {
            StrokeEnds::Drawn => self.ends,
            StrokeEnds::Round => PenEnds::Round,
            StrokeEnds::Square => PenEnds::Square,
        };
        Pen { width, ends }.stroke()
    }

    /// The stroke it draws.
    pub fn stroke(self) -> kurbo::Stroke {
        let (cap, join) = match self.ends {
            PenEnds::Round => (Cap::Round, Join::Round),
            PenEnds::Square => (Cap::Square, Join::Miter),
            PenEnds::Flat => (Cap::Butt, Join::Miter),
        };
        kurbo::Stroke::new(self.width).with_caps(cap).with_join(join).with_miter_limit(MITER)
    }
}

/// How far sharp corners reach, as SVG has it where nothing is said (SVG 2, `stroke-miterlimit`).
const MITER: f64 = 4.0;

impl Laid {
    /// An area.
    pub fn area(act: PartAct, rule: Rule, path: BezPath) -> Self {
        Laid { act, rule, path, pen: None }
    }

    /// The curve round it when it is placed, and what counts as inside. A line is as wide as a stroke says;
    /// where that says nothing it grows as the square root of what its area grows by.
    pub fn outline(&self, placing: Affine, stroke: &Stroke) -> (Rule, BezPath) {
        let path = placing * &self.path;
        match self.pen {
            None => (self.rule, path),
            Some(pen) => {
                let scale = placing.determinant().abs().sqrt();
                let pen = pen.for_stroke(stroke, scale);
                let outline = kurbo::stroke(path.iter(), &pen, &StrokeOpts::default(), WITHIN_MM);
                (Rule::NonZero, outline)
            }
        }
    }

    /// The curve round it as it was drawn.
    pub fn as_drawn(&self) -> Cow<'_, BezPath> {
        match self.pen {
            None => Cow::Borrowed(&self.path),
            Some(_) => Cow::Owned(self.outline(Affine::IDENTITY, &Stroke::default()).1),
        }
    }
}

/// Refuses parts that take too long to follow, or whose outlines cross each other too often to be laid over
/// each other.
pub(super) fn check_parts(parts: &[Laid]) -> Result<(), ShapeError> {
    let outlines: Vec<Cow<'_, BezPath>> = parts.iter().map(Laid::as_drawn).collect();
    check_work(outlines.iter().map(AsRef::as_ref))
}

/// The same of curves.
pub(super) fn check_work<'a>(
    paths: impl Iterator<Item = &'a BezPath> + Clone,
) -> Result<(), ShapeError> {
    let chords: f64 = paths.clone().map(|path| chords_at_most(path, Tolerance::Fine)).sum();
    // What is no figure is too much as well.
    if chords.is_nan() || chords > MOST_CHORDS as f64 {
        return Err(ShapeError::TooLong);
    }
    let contours: Vec<_> = paths.flat_map(|path| flattened(path, Tolerance::Fine)).collect();
    match crossings(&contours, MOST_CROSSINGS) {
        MOST_CROSSINGS.. => Err(ShapeError::Tangled),
        _ => Ok(()),
    }
}

/// Parts laid upon each other in their order. Neighbours that do the same are laid together at once.
pub(super) fn region_of(
    parts: &[Laid],
    placing: Affine,
    stroke: &Stroke,
    tolerance: Tolerance,
) -> Region {
    let mut region = Region::default();
    for run in parts.chunk_by(|a, b| a.act == b.act) {
        // Each part by its own rule first: turned against each other they must not cancel.
        let each = run.iter().map(|part| {
            let (rule, outline) = part.outline(placing, stroke);
            by_rule(flattened(&outline, tolerance), rule)
        });
        let together = Region::gather(each.collect());
        region = match (run[0].act, region.is_empty()) {
            (PartAct::Cuts, _) => region.difference(&together),
            (_, true) => together,
            (_, false) => region.union(&together),
        };
    }
    region
}
