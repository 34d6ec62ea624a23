//! Offsets: outlines drawn in or out by a distance.

use super::region::doubled_area;
use super::{GRID_PER_MM, GridPoint, Region, Tolerance};
use crate::halt::heed;
use i_overlay::i_float::int::angle::Angle;
use i_overlay::mesh::int::arc::ArcOptions;
use i_overlay::mesh::int::outline::offset::IntOutlineOffset;
use i_overlay::mesh::int::style::{IntLineJoin, IntOutlineStyle};
use i_overlay::mesh::math::MathMode;

/// What becomes of corners that open when a region is drawn in or out.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Join {
    /// Arcs about the corner.
    Round,
    /// Corners again; those sharper than [`SHARPEST_DEGREES`] are cut off.
    Sharp,
    /// Corners again, however sharp.
    Pointed,
    /// Cut off straight, from the end of one side to the beginning of the next.
    Bevel,
}

/// Sharper corners than this are cut off where corners stay corners: their points would reach further than four
/// times the distance (1 / sin(α/2), elementary geometry).
pub const SHARPEST_DEGREES: f64 = 28.955;

/// A wedge more slender than this is as good as a stroke.
const SLENDEREST_DEGREES: f64 = 3.0;

fn mitred(sharpest: f64) -> IntLineJoin {
    let least = Angle::from_radians(sharpest.to_radians());
    least.map_or(IntLineJoin::Bevel, IntLineJoin::Miter)
}

impl Region {
    /// The region grown by `distance` mm, or drawn in where it is negative.
    ///
    /// Growing gives every point within the distance, drawing in every point at least that far
    /// from the outside (Minkowski sum with, or erosion by, a disc): corners that open become arcs,
    /// flattened at the tolerance, corners that close stay sharp. Parts thinner than twice the
    /// distance vanish when drawn in.
    pub fn offset(&self, distance: f64, tolerance: Tolerance) -> Region {
        self.offset_joined(distance, Join::Round, tolerance)
    }

    /// The same with corners of a kind where they open.
    pub fn offset_joined(&self, distance: f64, join: Join, tolerance: Tolerance) -> Region {
        let steps = (distance * GRID_PER_MM).round() as i32;
        if steps == 0 || self.is_empty() {
            return self.clone();
        }
        heed();
        // The sagitta of a chord over the angle a is r (1 − cos(a/2)); elementary geometry.
        let cosine = (1.0 - tolerance.chord_mm() / distance.abs()).clamp(0.0, 1.0);
        let max_step = Angle::from_radians(2.0 * cosine.acos()).unwrap_or(ArcOptions::MAX_STEP);
        let arc = ArcOptions { max_step, ..ArcOptions::default() };
        let join = match join {
            Join::Round => IntLineJoin::Round(arc),
            Join::Sharp => mitred(SHARPEST_DEGREES),
            Join::Pointed => mitred(SLENDEREST_DEGREES),
            Join::Bevel => IntLineJoin::Bevel,
        };
        let style = IntOutlineStyle::new(steps).line_join(join).math(MathMode::Float);
        // Out of the coordinate range nothing can be offset; the layout has refused such pieces.
        let shapes = self.contours()[..]
            .outline_custom(&style, super::region::options())
            .unwrap_or_default();
        Region::from_contours(shapes.into_iter().flatten().collect())
    }

    /// The parts of the region that do not touch, each an outer contour with its holes.
    pub fn parts(&self) -> Vec<Region> {
        heed();
        use i_overlay::core::fill_rule::FillRule;
        use i_overlay::core::overlay::Overlay;
        use i_overlay::core::overlay_rule::OverlayRule;
        let shapes =
            Overlay::from_subj(self.contours()).overlay(OverlayRule::Subject, FillRule::EvenOdd);
        shapes.into_iter().map(Region::from_contours).collect()
    }

    /// Whether the region can be drawn in by a distance in mm without losing a part, a hole or a
    /// stroke; where it is negative, whether it can be grown without parts meeting or holes closing.
    ///
    /// As long as nothing is lost there are as many outer contours and as many holes as before; their
    /// numbers change when a stroke breaks in two, a part vanishes or two holes meet.
    pub fn can_be_inset(&self, distance: f64, tolerance: Tolerance) -> bool {
        self.has_as_many_contours_as(&self.offset(-distance, tolerance))
    }

    /// Whether another region has as many outer contours and as many holes. (Their sum says too little:
    /// two brackets that meet lose a part and gain a hole.)
    pub(crate) fn has_as_many_contours_as(&self, other: &Region) -> bool {
        let counts = |region: &Region| {
            let is_outer = |contour: &&Vec<GridPoint>| doubled_area(contour) > 0;
            let outer = region.contours().iter().filter(is_outer).count();
            (outer, region.contours().len() - outer)
        };
        counts(self) == counts(other)
    }

    /// Whether the region drawn in by a distance in mm, `level`, still reaches into the ends of all its strokes; where
    /// the distance is negative, whether the region grown by it leaves the bays it has.
    ///
    /// Brought back by the same distance a level comes to the region again, but for what was thinner (the opening of
    /// Serra 1982, with corners kept). Points that are lost are no ends: what nowhere is as wide as
    /// a third of the distance.
    pub(crate) fn keeps_its_ends(
        &self,
        level: &Region,
        distance: f64,
        tolerance: Tolerance,
    ) -> bool {
        const POINT_SHARE: f64 = 0.3;
        let back = level.offset_joined(distance, Join::Pointed, tolerance);
        let lost = match distance > 0.0 {
            true => self.difference(&back),
            false => back.difference(self),
        };
        let least = (POINT_SHARE * distance.abs()).max(tolerance.chord_mm());
        lost.is_empty() || lost.offset(-least, Tolerance::Draft).is_empty()
    }

    /// The largest distance up to `wanted` mm by which the region can be drawn in without losing a
    /// part, a hole or a stroke, found to about a fiftieth of `wanted`. A negative distance asks
    /// the same of growing: no parts may meet and no hole close.
    pub fn workable_inset(&self, wanted: f64, tolerance: Tolerance) -> f64 {
        let works = |distance: f64| self.can_be_inset(distance, tolerance);
        if works(wanted) {
            return wanted;
        }
        let (mut low, mut high) = (0.0, wanted);
        for _ in 0..6 {
            let middle = (low + high) / 2.0;
            if works(middle) { low = middle } else { high = middle }
        }
        low
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plane::{Rect, circle, rounded_rectangle};
    use std::f64::consts::PI;

    /// Two brackets that face each other, 1 mm apart at both ends: grown by more than half of that they
    /// meet, and are one ring, which has as many contours as they had.
    #[test]
    fn brackets_may_not_grow_into_a_ring() {
        let square = |side: f64| rounded_rectangle(Rect::centred(side, side), 0.0, Tolerance::Fine);
        let slit = rounded_rectangle(Rect::centred(1.0, 30.0), 0.0, Tolerance::Fine);
        let brackets = square(20.0).difference(&square(14.0)).difference(&slit);
        assert_eq!(brackets.contours().len(), 2);
        assert!(brackets.can_be_inset(-0.49, Tolerance::Fine));
        assert_eq!(brackets.offset(0.51, Tolerance::Fine).contours().len(), 2);
        assert!(!brackets.can_be_inset(-0.51, Tolerance::Fine));
        let most = brackets.workable_inset(-2.0, Tolerance::Fine);
        assert!((-0.5..-0.45).contains(&most), "{most}");
    }

    #[test]
    fn a_convex_region_grows_by_the_steiner_formula() {
        // A + P d + π d² (Steiner, for convex bodies).
        let region = rounded_rectangle(Rect::centred(20.0, 10.0), 0.0, Tolerance::Fine);
        for d in [0.3, 2.0] {
            let exact = 200.0 + 60.0 * d + PI * d * d;
            let found = region.offset(d, Tolerance::Fine).area();
            assert!((found - exact).abs() < 0.005 * 2.0 * PI * d, "{found} {exact}");
        }
        assert!((region.offset(-2.0, Tolerance::Fine).area() - 16.0 * 6.0).abs() < 1e-3);
        assert!(region.offset(-5.01, Tolerance::Fine).is_empty());
    }

    /// A rectangle grows by A + P d and what its four corners are: π d² in all where they are round, 4 d²
    /// sharp, 2 d² cut off (elementary geometry). An L has a corner that closes: there d² is covered twice.
    #[test]
    fn corners_open_as_they_are_asked_to() {
        let bar =
            |w, h| rounded_rectangle(Rect { x0: 0., y0: 0., x1: w, y1: h }, 0.0, Tolerance::Fine);
        let (rectangle, ell) = (bar(20., 10.), bar(20., 4.).union(&bar(4., 16.)));
        let d = 1.5;
        for (join, corner) in [(Join::Round, PI / 4.0), (Join::Sharp, 1.0), (Join::Bevel, 0.5)] {
            let grown = |region: &Region| region.offset_joined(d, join, Tolerance::Fine).area();
            let exact = 200.0 + 60.0 * d + 4.0 * corner * d * d;
            assert!((grown(&rectangle) - exact).abs() < 0.04, "{join:?}");
            let exact = 128.0 + 72.0 * d + (5.0 * corner - 1.0) * d * d;
            assert!((grown(&ell) - exact).abs() < 0.05, "{join:?}: {} {exact}", grown(&ell));
        }
    }

    #[test]
    fn holes_shrink_when_the_region_grows() {
        let ring = circle((0., 0.), 10., Tolerance::Fine).difference(&circle(
            (0., 0.),
            4.,
            Tolerance::Fine,
        ));
        let found = ring.offset(1.0, Tolerance::Fine).area();
        assert!((found - PI * (121.0 - 9.0)).abs() < 0.5, "{found}");
        assert_eq!(ring.offset(1.0, Tolerance::Fine).contours().len(), 2);
    }

    #[test]
    fn the_workable_inset_is_half_the_thinnest_stroke() {
        let bar =
            |w, h, x, y| rounded_rectangle(Rect::centred(w, h).moved(x, y), 0.0, Tolerance::Fine);
        // A dumb-bell: two blocks of 6 mm held by a neck of 1.4 mm.
        let region = bar(6., 6., -8., 0.).union(&bar(6., 6., 8., 0.)).union(&bar(12., 1.4, 0., 0.));
        let found = region.workable_inset(2.0, Tolerance::Fine);
        assert!((found - 0.7).abs() < 0.04, "{found}");
        assert_eq!(region.workable_inset(0.5, Tolerance::Fine), 0.5);
        assert_eq!(bar(6., 6., -8., 0.).union(&bar(6., 6., 8., 0.)).parts().len(), 2);
    }
}
