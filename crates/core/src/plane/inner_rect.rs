//! The largest upright box within a region.

use super::distance::within_square;
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
    let crossed = crossings(region, frame, dx, dy);
    // How many full cells lie below each cell's top, this one included.
    let mut heights = [0usize; LINES - 1];
    let mut best: Option<(f64, Rect)> = None;
    for (row, crossed) in crossed.iter().enumerate() {
        for (column, height) in heights.iter_mut().enumerate() {
            let full = [(row, column), (row, column + 1), (row + 1, column), (row + 1, column + 1)]
                .into_iter()
                .all(|(r, c)| inside[r][c]);
            let full = full && !crossed[column].is_cut_through();
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

/// The box round what of the outline lies within a cell of the lattice, in shares of the cell.
#[derive(Debug, Clone, Copy)]
struct Crossing {
    low: [f64; 2],
    high: [f64; 2],
}

impl Crossing {
    const NONE: Crossing = Crossing { low: [f64::INFINITY; 2], high: [f64::NEG_INFINITY; 2] };

    fn take(&mut self, point: [f64; 2]) {
        for (axis, at) in point.into_iter().enumerate() {
            self.low[axis] = self.low[axis].min(at);
            self.high[axis] = self.high[axis].max(at);
        }
    }

    /// Whether something passes through a cell whose corners all lie inside, such as a slot narrower than the lattice
    /// is fine: more than a bulge that comes in by a little over one side and goes out there again.
    fn is_cut_through(&self) -> bool {
        const LITTLE: f64 = 0.25;
        const HAIR: f64 = 1e-3;
        let Crossing { low, high } = *self;
        if low[0] > high[0] {
            return false;
        }
        // Along one side, and not from end to end of it.
        let is_bulge = |axis: usize| {
            let is_near = high[axis] < LITTLE || low[axis] > 1.0 - LITTLE;
            is_near && (low[1 - axis] > 2.0 * HAIR || high[1 - axis] < 1.0 - 2.0 * HAIR)
        };
        !(is_bulge(0) || is_bulge(1))
    }
}

/// What of the outline lies within each cell of the lattice; what runs along its lines does not count.
fn crossings(region: &Region, frame: Rect, dx: f64, dy: f64) -> Vec<[Crossing; LINES - 1]> {
    const HAIR: f64 = 1e-3;
    let mut found = vec![[Crossing::NONE; LINES - 1]; LINES - 1];
    let cell = |at: f64| (at.floor().max(0.0) as usize).min(LINES - 2);
    for ((ax, ay), (bx, by)) in region.edges() {
        let [a, b] = [(ax, ay), (bx, by)].map(|(x, y)| ((x - frame.x0) / dx, (y - frame.y0) / dy));
        let (first_row, last_row) = (cell(a.1.min(b.1)), cell(a.1.max(b.1)));
        let (first, last) = (cell(a.0.min(b.0)), cell(a.0.max(b.0)));
        for (row, cells) in found.iter_mut().enumerate().take(last_row + 1).skip(first_row) {
            for (column, crossing) in cells.iter_mut().enumerate().take(last + 1).skip(first) {
                let here = |(x, y): (f64, f64)| [x - column as f64, y - row as f64];
                let ends = within_square(here(a), here(b), HAIR);
                ends.into_iter().flatten().for_each(|end| crossing.take(end));
            }
        }
    }
    found
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

    /// A slot far narrower than the lattice, upright, level or slanting, wherever it lies: the box is beside it, and
    /// no less than the half that is left.
    #[test]
    fn a_slot_between_two_lines_of_the_lattice_is_not_run_across() {
        let plate =
            crate::plane::rounded_rectangle(Rect::centred(80.0, 40.0), 0.0, Tolerance::Fine);
        for (wide, turn) in [(0.05, 0.0), (0.4, 0.0), (0.05, 90.0), (0.3, 3.0), (0.3, 45.0)] {
            for at in [0.1, 0.37, 0.5, 0.93, 1.0] {
                let slot = Rect::centred(wide, 38.0).moved(at, 0.0);
                let slot = crate::plane::rounded_rectangle(slot, 0.0, Tolerance::Fine).turned(turn);
                let found = largest_inner_rect(&plate.difference(&slot)).unwrap();
                let inside = crate::plane::rounded_rectangle(found, 0.0, Tolerance::Fine);
                assert!(inside.intersection(&slot).area() < 1e-3, "{wide} {turn} {at} {found:?}");
                assert!(found.width() * found.height() > 700.0, "{wide} {turn} {at} {found:?}");
            }
        }
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
