//! The edges of a mask, by marching squares (the `contour` crate).

use super::TraceError;
use contour::ContourBuilder;
use kurbo::Point;

/// The most edges that are followed.
pub(super) const MOST_RINGS: usize = 20_000;

/// The most places between pixels an edge may run through, a tenth of those of the largest picture: what is
/// noisier would take memory by the hundred megabytes.
pub(super) const MOST_EDGE_CELLS: usize = 400_000;

/// Between how many fours of neighbouring pixels an edge runs.
fn edge_cells(values: &[f32], width: usize) -> usize {
    let rows = values.chunks_exact(width).zip(values.chunks_exact(width).skip(1));
    rows.map(|(above, below)| {
        let cells = above.windows(2).zip(below.windows(2));
        let is_mixed = |(a, b): &(&[f32], &[f32])| {
            let is_in = a[0] > 0.0;
            (a[1] > 0.0) != is_in || (b[0] > 0.0) != is_in || (b[1] > 0.0) != is_in
        };
        cells.filter(is_mixed).count()
    })
    .sum()
}

/// Closed lines around where values are above zero, between the middles of pixels and found on a straight
/// line between their values; pixel (0, 0) lies from 0 to 1. What is outside the picture is below.
pub(super) fn around(
    values: &[f32],
    width: usize,
    height: usize,
) -> Result<Vec<Vec<Point>>, TraceError> {
    // A border of one pixel just outside, so that what reaches the edge of the picture ends there.
    let (wide, high) = (width + 2, height + 2);
    let mut padded = vec![0.0f32; wide * high];
    for (row, line) in values.chunks_exact(width).enumerate() {
        let start = (row + 1) * wide;
        padded[start + 1..start + 1 + width].copy_from_slice(line);
        // As far below as its neighbour is above: the edge then runs along the picture's own.
        padded[start] = -line[0].abs();
        padded[start + 1 + width] = -line[width - 1].abs();
    }
    for column in 0..wide {
        padded[column] = -padded[wide + column].abs();
        padded[(high - 1) * wide + column] = -padded[(high - 2) * wide + column].abs();
    }
    // A value of just nothing would lie on neither side.
    padded.iter_mut().filter(|value| value.abs() < 1e-6).for_each(|value| *value = -1e-6);
    let edge = edge_cells(&padded, wide);
    if edge > MOST_EDGE_CELLS {
        return Err(TraceError::TooNoisy(edge));
    }
    let lines = ContourBuilder::new(wide, high, true)
        .lines(&padded, &[0.0])
        .map_err(|_| TraceError::Nothing)?;
    let Some(line) = lines.into_iter().next() else { return Ok(Vec::new()) };
    let rings = line.into_inner().0.0;
    if rings.len() > MOST_RINGS {
        return Err(TraceError::TooManyEdges(rings.len()));
    }
    let points = rings.into_iter().map(|ring| {
        let mut points: Vec<Point> = ring
            .0
            .iter()
            .map(|at| Point::new(f64::from(at.x) - 1.0, f64::from(at.y) - 1.0))
            .collect();
        points.dedup();
        if points.len() > 1 && points.first() == points.last() {
            points.pop();
        }
        points
    });
    Ok(points.filter(|points| points.len() > 2).collect())
}

/// The signed area a closed line runs round (shoelace formula).
pub(super) fn area(ring: &[Point]) -> f64 {
    let next = ring.iter().cycle().skip(1);
    ring.iter().zip(next).map(|(a, b)| a.x * b.y - b.x * a.y).sum::<f64>() / 2.0
}
