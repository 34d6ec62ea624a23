//! The contour blank: an outline that follows the letters and emblems on it.

use super::bridges::{Bridging, held_together};
use crate::lettering::Seat;
use crate::piece::{BridgeCount, Bridges, Contour};
use crate::plane::{Region, Tolerance};
use kurbo::Affine;
use std::f64::consts::PI;

/// The outline around figures: grown, its crevices closed and its small gaps filled.
///
/// A crevice is closed where a disc of its width does not fit in (closing, mathematical
/// morphology); a gap is filled where its area is less than that of a disc of the given width.
pub(crate) fn contour(figures: &Region, contour: &Contour, tolerance: Tolerance) -> Region {
    let grown = figures.offset(contour.offset.as_mm(), tolerance);
    closed(grown, contour.crevices.as_mm(), contour.gaps.as_mm(), tolerance)
}

/// The ties that hold together what lies apart in an outline round figures, where they are asked for: those put by
/// hand, and upright ones before others.
pub(super) fn ties(outline: &Region, figures: &Region, contour: &Contour) -> Option<Bridging> {
    let bridges = Bridges {
        width: contour.ties?,
        each: BridgeCount::One,
        by_hand: contour.by_hand.clone(),
        ..Bridges::default()
    };
    let bounds = figures.bounds()?;
    let whole = Seat {
        line: 0,
        letter: 0,
        is: None,
        stand: Affine::translate((bounds.x0, bounds.y0)),
        wide: bounds.width(),
        tall: bounds.height(),
    };
    Some(held_together(outline, &bridges, whole))
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
    use crate::piece::BridgeByHand;
    use crate::plane::{Rect, circle, rounded_rectangle};
    use crate::units::Length;

    fn around(figures: &Region, offset: f64, crevices: f64, gaps: f64) -> Region {
        let [offset, crevices, gaps] = [offset, crevices, gaps].map(Length::mm);
        let asked = Contour { offset, crevices, gaps, ties: None, by_hand: Vec::new() };
        contour(figures, &asked, Tolerance::Fine)
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
        let ties = Some(Length::mm(2.0));
        let asked = Contour { offset, crevices, gaps, ties, by_hand: Vec::new() };
        let by_hand = BridgeByHand {
            line: 0,
            letter: 0,
            is: String::new(),
            across: 0.25,
            up: 23.0 / 29.0,
            turn: 90.0,
        };
        for tolerance in [Tolerance::Draft, Tolerance::Normal, Tolerance::Fine] {
            let apart = contour(&letter, &asked, tolerance);
            let tied = |asked: &Contour| {
                let found = super::ties(&apart, &letter, asked).expect("ties were asked for");
                (apart.union(&found.strips), found)
            };
            let (alone, _) = tied(&asked);
            assert_eq!((apart.parts().len(), alone.parts().len()), (2, 1));
            // Both ends are straight for 4 mm.
            assert!((alone.area() - apart.area() - 2.0 * 3.0).abs() < 1e-3, "{tolerance:?}");
            // One put by hand a millimetre to the left of the middle is enough, and one beside both is idle.
            let (moved, found) = tied(&Contour { by_hand: vec![by_hand.clone()], ..asked.clone() });
            assert_eq!((moved.parts().len(), found.bridges.len()), (1, 1));
            assert!((found.bridges[0].tie.ends[0].0 + 1.0).abs() < 1e-6);
            let beside = BridgeByHand { across: 5.0, ..by_hand.clone() };
            let (_, found) = tied(&Contour { by_hand: vec![beside], ..asked.clone() });
            assert_eq!((found.bridges.len(), &found.idle[..]), (1, &[0][..]));
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
