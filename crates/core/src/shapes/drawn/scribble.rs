//! A quick line as a hand draws it, made smooth.

use crate::shapes::trace::along;
use kurbo::{BezPath, Point};

/// The smooth line of a scribble; of one point there is none.
pub(super) fn curve(points: &[Point], smooth: f64, closed: bool) -> Result<BezPath, &'static str> {
    const APART: f64 = 1e-4;
    let mut kept: Vec<Point> = Vec::new();
    for point in points {
        if kept.last().is_none_or(|last| last.distance(*point) > APART) {
            kept.push(*point);
        }
    }
    if closed && kept.len() > 2 && kept[0].distance(kept[kept.len() - 1]) <= APART {
        kept.pop();
    }
    match kept.len() {
        0 | 1 => Err("a scribble of one point is no line"),
        2 if closed => Err("a closed line needs three points"),
        _ => Ok(along(&kept, smooth, closed)),
    }
}
