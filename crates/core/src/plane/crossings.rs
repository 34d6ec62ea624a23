//! How often outlines cross, counted before they are laid over each other.
//!
//! Laying outlines over each other takes time in proportion to their crossings, and a few thousand lines to
//! and fro can cross millions of times. What comes from outside is counted first.

use super::GridPoint;
use std::collections::HashMap;

/// Segments that were looked at together this often are too many, whether they cross or not.
const MOST_PAIRS: usize = 4_000_000;

/// How often the segments of closed contours cross each other, as far as `most`: more are not counted.
/// Segments that merely touch do not cross.
///
/// Every segment is entered in the cells of a coarse grid its box lies in; only segments of one cell are held
/// against each other.
pub(crate) fn crossings(contours: &[Vec<GridPoint>], most: usize) -> usize {
    let segments: Vec<[GridPoint; 2]> = contours
        .iter()
        .flat_map(|contour| {
            let next = contour.iter().cycle().skip(1);
            contour.iter().zip(next).map(|(a, b)| [*a, *b])
        })
        .filter(|[a, b]| a != b)
        .collect();
    let Some(cell) = cell_size(&segments) else { return 0 };
    let mut cells: HashMap<[i32; 2], Vec<u32>> = HashMap::new();
    let (mut found, mut pairs) = (0, 0);
    for (i, own) in segments.iter().enumerate() {
        let [low, high] =
            box_of(own).map(|corner| [corner.x.div_euclid(cell), corner.y.div_euclid(cell)]);
        for column in low[0]..=high[0] {
            for row in low[1]..=high[1] {
                let there = cells.entry([column, row]).or_default();
                pairs += there.len() + 1;
                if pairs > MOST_PAIRS {
                    return most;
                }
                for other in there.iter().map(|at| &segments[*at as usize]) {
                    // Counted in the cell of the lower left corner of what their boxes share, and nowhere else.
                    let [a, b] = [box_of(own)[0], box_of(other)[0]];
                    let corner = [a.x.max(b.x).div_euclid(cell), a.y.max(b.y).div_euclid(cell)];
                    if corner == [column, row] && cross(own, other) {
                        found += 1;
                        if found >= most {
                            return most;
                        }
                    }
                }
                there.push(i as u32);
            }
        }
    }
    found
}

/// The side of a cell: so large that the whole has about as many cells as there are segments.
fn cell_size(segments: &[[GridPoint; 2]]) -> Option<i32> {
    let mut corners = segments.iter().flatten();
    let first = corners.next()?;
    let (mut low, mut high) = (*first, *first);
    for point in corners {
        low = GridPoint::new(low.x.min(point.x), low.y.min(point.y));
        high = GridPoint::new(high.x.max(point.x), high.y.max(point.y));
    }
    let longer = (i64::from(high.x) - i64::from(low.x)).max(i64::from(high.y) - i64::from(low.y));
    let across = (segments.len() as f64).sqrt().ceil().max(1.0);
    Some((longer as f64 / across).ceil().max(1.0) as i32)
}

fn box_of([a, b]: &[GridPoint; 2]) -> [GridPoint; 2] {
    [GridPoint::new(a.x.min(b.x), a.y.min(b.y)), GridPoint::new(a.x.max(b.x), a.y.max(b.y))]
}

/// Whether the insides of two segments meet in one point.
fn cross([a, b]: &[GridPoint; 2], [c, d]: &[GridPoint; 2]) -> bool {
    let side = |p: &GridPoint, q: &GridPoint, r: &GridPoint| {
        let across = (i128::from(q.x) - i128::from(p.x)) * (i128::from(r.y) - i128::from(p.y))
            - (i128::from(q.y) - i128::from(p.y)) * (i128::from(r.x) - i128::from(p.x));
        across.signum()
    };
    side(a, b, c) * side(a, b, d) < 0 && side(c, d, a) * side(c, d, b) < 0
}

#[cfg(test)]
mod tests {
    use super::*;

    fn ring(points: &[(i32, i32)]) -> Vec<GridPoint> {
        points.iter().map(|(x, y)| GridPoint::new(*x, *y)).collect()
    }

    #[test]
    fn crossings_are_counted_once_and_touches_are_none() {
        let square = ring(&[(0, 0), (100, 0), (100, 100), (0, 100)]);
        let moved = ring(&[(50, 50), (150, 50), (150, 150), (50, 150)]);
        assert_eq!(crossings(std::slice::from_ref(&square), 10), 0);
        assert_eq!(crossings(&[square.clone(), moved], 10), 2);
        let beside = ring(&[(100, 0), (200, 0), (200, 100), (100, 100)]);
        assert_eq!(crossings(&[square, beside], 10), 0);
        // A five-pointed star in one stroke crosses itself five times.
        let star = ring(&[(0, 1000), (588, -809), (-951, 309), (951, 309), (-588, -809)]);
        assert_eq!(crossings(&[star], 100), 5);
        // n upright and n level bars: every edge of one crosses every edge of the other, 4 n².
        let bars: Vec<_> = (0..20)
            .flat_map(|i| {
                let at = i * 1000;
                [
                    ring(&[(at, -500), (at + 100, -500), (at + 100, 30_000), (at, 30_000)]),
                    ring(&[(-500, at), (-500, at + 100), (30_000, at + 100), (30_000, at)]),
                ]
            })
            .collect();
        assert_eq!(crossings(&bars, 100_000), 1600);
        assert_eq!(crossings(&bars, 700), 700);
    }
}
