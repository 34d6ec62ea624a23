//! From a picture to outlines.
//!
//! The picture becomes one or several masks: what is dark, or what has which of a few colours
//! (`colours`). The edge of a mask is found by marching squares between the pixels (`rings`), and
//! its corners are kept while what lies between them is followed by smooth curves (`fit`). What comes
//! out is a drawing like any other, its figures the pixels of the picture, and shapes are
//! [taken](super::take()) of it.

mod colours;
mod fit;
mod rings;

use super::MAX_SHAPE_POINTS;
use crate::filament::Rgb;
use crate::formats::{FoundDrawing, FoundLayer, Mark, MarkKind, Picture};
use crate::halt::OverAll;
use kurbo::{Affine, BezPath, Point};
use serde::{Deserialize, Serialize};
use std::borrow::Cow;
use std::f64::consts::PI;
use std::panic::resume_unwind;
use thiserror::Error;

/// How many colours a picture is traced in at most.
pub const MOST_COLOURS: usize = 6;

/// What of a picture becomes an area.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Tones {
    /// What is darker than a share of white, 0 to 1; nothing for the share that parts the picture best.
    Dark(Option<f64>),
    /// What is lighter.
    Light(Option<f64>),
    /// What is further from the colour of the background than a share of what is furthest from it, 0 to 1;
    /// nothing for the share that parts the picture best. The background is what most of the border has.
    Apart(Option<f64>),
    /// An area of each of so many colours, 2 to [`MOST_COLOURS`].
    Colours(usize),
}

/// How masks become outlines. Lengths in pixels.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Smoothing {
    /// How far curves may stray from the edge they follow.
    pub distance: f64,
    /// What turns by more than this, in degrees, stays a corner.
    pub corner: f64,
    /// What is smaller than a disc this wide is left out, and such an opening closed.
    pub speck: f64,
}

/// The edges of the masks of a picture, before they are smoothed.
#[derive(Debug, Clone, PartialEq)]
pub struct Edges {
    /// The kind of picture they are of.
    format: Cow<'static, str>,
    /// Its width and height in pixels.
    pub size: (usize, usize),
    /// The share of white that parts dark from light, where that was asked for.
    pub threshold: Option<f64>,
    masks: Vec<Mask>,
    remarks: Vec<String>,
}

/// A mask's colour and its edges as closed lines, each point once.
#[derive(Debug, Clone, PartialEq)]
struct Mask {
    colour: Rgb,
    rings: Vec<Vec<Point>>,
}

/// Why nothing was traced.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum TraceError {
    /// All of the picture is on one side.
    #[error("nothing stands out in the picture: choose another threshold, or trace its colours")]
    Nothing,
    /// More edges than can be followed.
    #[error(
        "the picture has so many specks or is so noisy that {0} edges were found; {most} are the most. \
         Make it smaller or clearer, or choose another threshold",
        most = rings::MOST_RINGS
    )]
    TooManyEdges(usize),
    /// Edges nearly everywhere.
    #[error(
        "the picture is so noisy that edges run between {0} of its pixels; {most} are the most. Make it \
         smaller or clearer, or choose another threshold",
        most = rings::MOST_EDGE_CELLS
    )]
    TooNoisy(usize),
    /// More points than a shape may have.
    #[error(
        "the tracing has {0} points; {MAX_SHAPE_POINTS} are the most. Smooth it more, or leave out \
         larger specks"
    )]
    TooManyPoints(usize),
    /// A number of colours that cannot be.
    #[error("a picture is traced in 2 to {MOST_COLOURS} colours, not in {0}")]
    Colours(usize),
}

/// Finds the edges in a picture.
///
/// # Errors
/// [`TraceError`] where there are none, or too many.
pub fn edges(picture: &Picture, tones: Tones) -> Result<Edges, TraceError> {
    let (threshold, masks) = match tones {
        Tones::Dark(threshold) => toned(picture, &luminance(picture), threshold, -1.0)?,
        Tones::Light(threshold) => toned(picture, &luminance(picture), threshold, 1.0)?,
        Tones::Apart(threshold) => {
            toned(picture, &colours::from_background(picture), threshold, 1.0)?
        }
        Tones::Colours(count) => (None, coloured(picture, count)?),
    };
    if masks.iter().all(|mask| mask.rings.is_empty()) {
        return Err(TraceError::Nothing);
    }
    Ok(Edges {
        format: picture.format.clone(),
        size: (picture.width, picture.height),
        threshold,
        masks,
        remarks: picture.remarks.clone(),
    })
}

fn luminance(picture: &Picture) -> Vec<f32> {
    picture.pixels.iter().map(|pixel| colours::luminance(*pixel)).collect()
}

/// The mask of where a value of every pixel, 0 to 1, lies above a threshold; below it where `sign` is −1.
fn toned(
    picture: &Picture,
    values: &[f32],
    threshold: Option<f64>,
    sign: f32,
) -> Result<(Option<f64>, Vec<Mask>), TraceError> {
    let share = threshold.unwrap_or_else(|| colours::parting(values));
    let level = share as f32;
    let above: Vec<f32> = values.iter().map(|one| sign * (one - level)).collect();
    let rings = rings::around(&above, picture.width, picture.height)?;
    let dark = Rgb([0x22; 3]);
    Ok((Some(share), vec![Mask { colour: dark, rings }]))
}

/// A mask for each colour, what covers most of the border first. Each reaches a little below those after it
/// where they meet, so that no gap is left between them when they are smoothed.
fn coloured(picture: &Picture, count: usize) -> Result<Vec<Mask>, TraceError> {
    if !(2..=MOST_COLOURS).contains(&count) {
        return Err(TraceError::Colours(count));
    }
    let parted = colours::parted(picture, count);
    let mask = &|rank: usize| {
        let values = parted.mask(rank as u8, picture);
        let rings = rings::around(&values, picture.width, picture.height)?;
        Ok(Mask { colour: parted.colours[rank], rings })
    };
    let over = &OverAll::of_this_thread();
    // One beside the other: each goes over all of the picture, and none waits for another.
    std::thread::scope(|scope| {
        let made: Vec<_> = (0..parted.colours.len())
            .map(|rank| scope.spawn(move || over.over(|| mask(rank))))
            .collect();
        let joined = made.into_iter().map(|one| {
            let made = one.join().unwrap_or_else(|fault| resume_unwind(fault));
            // Stopped as this thread is, which leaves here.
            made.unwrap_or_else(|halted| resume_unwind(Box::new(halted)))
        });
        joined.collect()
    })
}

/// The edges smoothed, as a drawing whose figures are pixels.
///
/// # Errors
/// [`TraceError`] where too much or nothing is left.
pub fn smoothed(edges: &Edges, smoothing: Smoothing) -> Result<FoundDrawing, TraceError> {
    let speck = PI / 4.0 * smoothing.speck * smoothing.speck;
    let mut found = FoundDrawing {
        format: edges.format.clone(),
        stated: None,
        likely: 25.4 / 96.0,
        is_painted: true,
        layers: Vec::new(),
        marks: Vec::new(),
        speck: smoothing.speck,
        clips: Vec::new(),
        remarks: edges.remarks.clone(),
    };
    let mut points = 0;
    for mask in &edges.masks {
        let mut path = BezPath::new();
        let large = mask.rings.iter().filter(|ring| rings::area(ring).abs() >= speck.max(0.5));
        for ring in large {
            path.extend(fit::closed(ring, smoothing.distance, smoothing.corner));
        }
        points += path.elements().len();
        if points > MAX_SHAPE_POINTS {
            return Err(TraceError::TooManyPoints(points));
        }
        if path.elements().is_empty() {
            continue;
        }
        let layer = found.layers.len();
        let name = mask.colour.to_string();
        found.layers.push(FoundLayer { name, colour: Some(mask.colour) });
        found.marks.push(Mark {
            layer,
            kind: MarkKind::Area { even_odd: true },
            path,
            placing: Affine::FLIP_Y,
            clips: Vec::new(),
        });
    }
    if found.marks.is_empty() { Err(TraceError::Nothing) } else { Ok(found) }
}

/// Curves that keep within a distance of points in mm, open or closed, as the edges of pictures are followed.
pub(super) fn along(points: &[Point], distance: f64, is_closed: bool) -> BezPath {
    // A tenth of a millimetre is to a hand what a pixel is to a picture.
    const GRAIN_MM: f64 = 0.1;
    const CORNER: f64 = 60.0;
    let grains: Vec<Point> =
        points.iter().map(|point| (point.to_vec2() / GRAIN_MM).to_point()).collect();
    let path = match is_closed {
        true => fit::closed(&grains, distance / GRAIN_MM, CORNER),
        false => fit::open(&grains, distance / GRAIN_MM),
    };
    Affine::scale(GRAIN_MM) * path
}

#[cfg(test)]
mod tests;
