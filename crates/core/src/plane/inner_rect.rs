use super::{Rect, Region};

/// Lines of the lattice along each axis.
const LINES: usize = 81;

/// The largest upright rectangle inside a region of any shape, or `None` where there is hardly any.
///
/// The region is sampled on a lattice that is as symmetric as its box; the largest full rectangle
/// of the lattice (by the histogram method, row by row) is then drawn in until it lies inside the
/// region for good. It falls short of the true largest by at most a lattice step on each side.
pub fn largest_inner_rect(region: &Region) -> Option<Rect> {
    let frame = region.bounds()?;
    let (dx, dy) = (frame.width() / (LINES - 1) as f64, frame.height() / (LINES - 1) as f64);
    let inside = sample(region, frame, dx, dy);
    // How many full cells lie below each cell's top, this one included.
    let mut heights = [0usize; LINES - 1];
    let mut best: Option<(f64, Rect)> = None;
    for row in 0..LINES - 1 {
        for (column, height) in heights.iter_mut().enumerate() {
            let full = [(row, column), (row, column + 1), (row + 1, column), (row + 1, column + 1)]
                .into_iter()
                .all(|(r, c)| inside[r][c]);
            *height = if full { *height + 1 } else { 0 };
        }
        for left in 0..heights.len() {
            let mut lowest = usize::MAX;
            for (right, height) in heights.iter().enumerate().skip(left) {
                lowest = lowest.min(*height);
                if lowest == 0 {
                    break;
                }
                let (width, height) = ((right + 1 - left) as f64 * dx, lowest as f64 * dy);
                if best.is_none_or(|(area, _)| width * height > area + 1e-9) {
                    let x0 = frame.x0 + left as f64 * dx;
                    let y1 = frame.y0 + (row + 1) as f64 * dy;
                    let rect = Rect { x0, y0: y1 - height, x1: x0 + width, y1 };
                    best = Some((width * height, rect));
                }
            }
        }
    }
    let mut rect = best?.1;
    // What bulges in between two lines of the lattice.
    for _ in 0..16 {
        let deepest = deepest_intrusion(region, rect);
        if deepest <= 1e-6 {
            return Some(rect);
        }
        rect = rect.grown(-deepest - 1e-6);
        if rect.width() <= 0.0 || rect.height() <= 0.0 {
            return None;
        }
    }
    Some(rect)
}

/// Which points of the lattice lie inside, row by row from the bottom.
fn sample(region: &Region, frame: Rect, dx: f64, dy: f64) -> Vec<[bool; LINES]> {
    let edges: Vec<_> = region.edges().collect();
    (0..LINES)
        .map(|row| {
            // The outermost lines are taken a hair inside, where the answer is not a matter of chance.
            let y = (frame.y0 + row as f64 * dy).clamp(frame.y0 + 1e-4, frame.y1 - 1e-4);
            let mut cuts: Vec<f64> = edges
                .iter()
                .filter(|((_, ay), (_, by))| (*ay > y) != (*by > y))
                .map(|((ax, ay), (bx, by))| ax + (y - ay) / (by - ay) * (bx - ax))
                .collect();
            cuts.sort_by(f64::total_cmp);
            std::array::from_fn(|column| {
                let x = (frame.x0 + column as f64 * dx).clamp(frame.x0 + 1e-4, frame.x1 - 1e-4);
                cuts.partition_point(|cut| *cut < x) % 2 == 1
            })
        })
        .collect()
}

/// How far the outline reaches into a rectangle at most.
fn deepest_intrusion(region: &Region, rect: Rect) -> f64 {
    let depth =
        |(x, y): (f64, f64)| (x - rect.x0).min(rect.x1 - x).min(y - rect.y0).min(rect.y1 - y);
    region.edges().map(|(a, _)| depth(a)).fold(0.0, f64::max)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plane::{Tolerance, circle};

    #[test]
    fn in_a_circle_it_is_nearly_the_inscribed_square() {
        let found = largest_inner_rect(&circle((3., -2.), 20., Tolerance::Fine)).unwrap();
        // The largest rectangle in a circle is the square with the side r√2 (closed form).
        let area = found.width() * found.height();
        assert!(area > 0.93 * 800.0 && area < 800.5, "{found:?}");
        let (x, y) = found.centre();
        assert!((x - 3.0).abs() < 0.3 && (y + 2.0).abs() < 0.3);
    }

    #[test]
    fn beside_a_hole_it_takes_the_larger_side() {
        let region = circle((0., 0.), 20., Tolerance::Fine).difference(&circle(
            (0., 12.),
            3.,
            Tolerance::Fine,
        ));
        let found = largest_inner_rect(&region).unwrap();
        assert!(found.y1 < 9.01 && found.width() * found.height() > 500.0, "{found:?}");
        assert!(largest_inner_rect(&Region::default()).is_none());
    }
}
