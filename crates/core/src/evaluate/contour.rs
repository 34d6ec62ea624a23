//! The contour blank: an outline that follows the letters and emblems on it.

use crate::piece::Contour;
use crate::plane::{Held, Lay, Region, Room, Tie, Tolerance, Wish, strips, ties};
use std::f64::consts::{FRAC_PI_2, PI};

/// The outline around figures: grown, its crevices closed and its small gaps filled.
///
/// A crevice is closed where a disc of its width does not fit in (closing, mathematical
/// morphology); a gap is filled where its area is less than that of a disc of the given width. What still lies apart
/// is tied where that is asked for.
pub(crate) fn contour(figures: &Region, contour: &Contour, tolerance: Tolerance) -> Region {
    let grown = figures.offset(contour.offset.as_mm(), tolerance);
    let outline = closed(grown, contour.crevices.as_mm(), contour.gaps.as_mm(), tolerance);
    match contour.ties {
        Some(width) => tied(outline, width.as_mm()),
        None => outline,
    }
}

/// A region whose parts are held together by ties of a width in mm, upright ones before others.
fn tied(outline: Region, width: f64) -> Region {
    let wish = Wish {
        width,
        held: Held::Once,
        lever: f64::INFINITY,
        in_line: false,
        lay: &|at| Lay { origin: at, along: FRAC_PI_2, row: 0 },
    };
    let found = ties(&outline, Room::Anywhere, &wish).into_iter().map(|laid| laid.tie);
    let found: Vec<Tie> = found.collect();
    if found.is_empty() { outline } else { outline.union(&strips(&found)) }
}

/// A region with its crevices closed and its gaps filled, as [`contour()`] has them; both given in mm.
pub(super) fn closed(region: Region, crevices: f64, gaps: f64, tolerance: Tolerance) -> Region {
    let half = crevices / 2.0;
    let closed = region.offset(half, tolerance).offset(-half, tolerance);
    closed.without_small_holes(PI * gaps * gaps / 4.0)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plane::{Rect, circle, rounded_rectangle};
    use crate::units::Length;

    fn around(figures: &Region, offset: f64, crevices: f64, gaps: f64) -> Region {
        let [offset, crevices, gaps] = [offset, crevices, gaps].map(Length::mm);
        contour(figures, &Contour { offset, crevices, gaps, ties: None }, Tolerance::Fine)
    }

    #[test]
    fn a_bar_grows_by_the_steiner_formula_and_crevices_close() {
        let bar =
            |x: f64| rounded_rectangle(Rect::centred(4., 20.).moved(x, 0.), 0., Tolerance::Fine);
        // A + P d + π d² (Steiner, for convex bodies).
        let exact = 80.0 + 48.0 * 2.0 + PI * 4.0;
        assert!((around(&bar(0.), 2.0, 0.0, 0.0).area() - exact).abs() < 0.1);
        // Two bars 7 mm apart: grown by 2 mm they leave a crevice of 3 mm.
        let two = bar(-5.5).union(&bar(5.5));
        assert_eq!(around(&two, 2.0, 2.5, 0.0).parts().len(), 2);
        assert_eq!(around(&two, 2.0, 3.5, 0.0).parts().len(), 1);
    }

    /// A stem and its dot, 3 mm apart when grown: tied they are one, by a strip of its width times the way.
    #[test]
    fn what_lies_apart_is_tied() {
        let block = |tall: f64, y: f64| {
            rounded_rectangle(Rect::centred(4., tall).moved(0., y), 0., Tolerance::Fine)
        };
        let letter = block(20., 0.).union(&block(4., 19.));
        let [offset, crevices, gaps] = [2.0, 0.0, 0.0].map(Length::mm);
        let apart = Contour { offset, crevices, gaps, ties: None };
        let tied = Contour { ties: Some(Length::mm(2.0)), ..apart };
        for tolerance in [Tolerance::Draft, Tolerance::Normal, Tolerance::Fine] {
            let [apart, tied] = [apart, tied].map(|asked| contour(&letter, &asked, tolerance));
            assert_eq!((apart.parts().len(), tied.parts().len()), (2, 1));
            // Both ends are straight for 4 mm.
            assert!((tied.area() - apart.area() - 2.0 * 3.0).abs() < 1e-3, "{tolerance:?}");
        }
    }

    #[test]
    fn small_gaps_are_filled_and_large_ones_left() {
        let disc = circle((0., 0.), 12., Tolerance::Fine);
        let ring = disc.difference(&circle((0., 0.), 5., Tolerance::Fine));
        // Grown by 2 mm its opening is 6 mm across.
        assert_eq!(around(&ring, 2.0, 0.0, 5.8).contours().len(), 2);
        assert_eq!(around(&ring, 2.0, 0.0, 6.2).contours().len(), 1);
    }
}
