//! Roofs: an outline drawn in (or grown) step by step, and the lines where its flanks meet.
//!
//! Over the band that a treated edge takes up, the height at a point depends on its distance from the
//! outline alone. What is nearer to one edge of the outline than to any other is a flank, plane in
//! section; what is nearest to a corner that opens is part of a cone. Where flanks meet run the ridges:
//! the Voronoi diagram of the outline's edges (`boostvoronoi`). [`Roof`] has the outline at every
//! distance asked for and all ridges between, their vertices shared, so that a subdivision that contains
//! both is plane in every cell whatever else crosses it.

mod skeleton;
mod trace;

pub use skeleton::Skeleton;

use super::{GridPoint, Line, Region};

/// The side of an outline that is worked on.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash)]
pub enum Side {
    /// The region is drawn in.
    Inside,
    /// The region is grown.
    Outside,
}

/// An outline at several distances, and where its flanks meet.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Roof {
    /// The region at each distance, in the order they were asked for.
    pub levels: Vec<Region>,
    /// The ridges between the outline and the furthest level.
    pub ridges: Vec<Line>,
}

impl Roof {
    /// The same moved by whole steps of the grid.
    pub fn moved(&self, by: GridPoint) -> Roof {
        let moved = |p: &GridPoint| GridPoint::new(p.x + by.x, p.y + by.y);
        let level = |region: &Region| {
            let contours = region.contours().iter();
            Region::from_contours(contours.map(|one| one.iter().map(moved).collect()).collect())
        };
        Roof {
            levels: self.levels.iter().map(level).collect(),
            ridges: self.ridges.iter().map(|line| [moved(&line[0]), moved(&line[1])]).collect(),
        }
    }

    /// The roofs of parts that lie apart as one.
    pub fn gather(parts: impl IntoIterator<Item = Roof>) -> Roof {
        let mut parts = parts.into_iter();
        let Some(Roof { levels, mut ridges }) = parts.next() else { return Roof::default() };
        let mut levels: Vec<Vec<Vec<GridPoint>>> =
            levels.into_iter().map(|level| level.contours().to_vec()).collect();
        for part in parts {
            for (level, own) in levels.iter_mut().zip(part.levels) {
                level.extend_from_slice(own.contours());
            }
            ridges.extend(part.ridges);
        }
        Roof { levels: levels.into_iter().map(Region::from_contours).collect(), ridges }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plane::{GRID_PER_MM, Rect, Tolerance, circle, from_grid, rounded_rectangle};
    use proptest::prelude::*;
    use std::f64::consts::PI;

    fn steps(mm: &[f64]) -> Vec<f64> {
        mm.iter().map(|d| d * GRID_PER_MM).collect()
    }

    fn roof(region: &Region, side: Side, mm: &[f64]) -> Roof {
        let most = mm.iter().copied().fold(0.0, f64::max) * GRID_PER_MM;
        let skeleton = Skeleton::of(region, side, most).unwrap();
        skeleton.roof(&steps(mm), Tolerance::Fine).unwrap()
    }

    #[test]
    fn a_rectangle_drawn_in_is_a_rectangle_and_its_ridges_run_along_the_bisectors() {
        let plate = rounded_rectangle(Rect::centred(20., 10.), 0.0, Tolerance::Fine);
        let found = roof(&plate, Side::Inside, &[1.0, 2.5]);
        assert_eq!(found.levels[0].area(), 18.0 * 8.0);
        assert_eq!(found.levels[1].area(), 15.0 * 5.0);
        for [a, b] in &found.ridges {
            assert_eq!((b.x - a.x).abs(), (b.y - a.y).abs(), "{a} {b}");
        }
        // From every corner to the first level and on to the second.
        assert_eq!(found.ridges.len(), 8);
    }

    #[test]
    fn past_its_middle_nothing_is_left_and_the_ridges_meet() {
        let plate = rounded_rectangle(Rect::centred(20., 10.), 0.0, Tolerance::Fine);
        let found = roof(&plate, Side::Inside, &[5.5]);
        assert!(found.levels[0].is_empty());
        // Four bisectors and the ridge between the two points where they meet in pairs.
        assert_eq!(found.ridges.len(), 5);
        let length = |[a, b]: &Line| from_grid(b.x - a.x).hypot(from_grid(b.y - a.y));
        let all: f64 = found.ridges.iter().map(length).sum();
        assert!((all - 4.0 * 5.0 * 2f64.sqrt() - 10.0).abs() < 1e-6, "{all}");
    }

    #[test]
    fn grown_it_follows_the_steiner_formula_and_holes_close() {
        // A + P d + π d² (Steiner, for convex bodies).
        let plate = rounded_rectangle(Rect::centred(20., 10.), 0.0, Tolerance::Fine);
        let found = roof(&plate, Side::Outside, &[2.0]);
        let exact = 200.0 + 60.0 * 2.0 + PI * 4.0;
        assert!((found.levels[0].area() - exact).abs() < 0.1, "{}", found.levels[0].area());
        let ring = plate.difference(&circle((0., 0.), 4., Tolerance::Fine));
        let found = roof(&ring, Side::Outside, &[1.0]);
        let exact = 200.0 + 60.0 + PI - PI * 9.0;
        assert!((found.levels[0].area() - exact).abs() < 0.2, "{}", found.levels[0].area());
    }

    /// A spike so thin that its sides are one line, near enough: half a circle leads round its tip.
    #[test]
    fn a_spike_without_width_has_a_round_end() {
        for width in [1, 2, 9, 300] {
            let at =
                |x: f64, y: f64| GridPoint::new(super::super::to_grid(x), super::super::to_grid(y));
            let tip = at(20.0, 5.0);
            let [upper, lower] =
                [at(10.0, 5.0), GridPoint::new(at(10.0, 5.0).x, at(0.0, 5.0).y - width)];
            let contour =
                vec![at(0.0, 0.0), at(10.0, 0.0), lower, tip, upper, at(10.0, 10.0), at(0.0, 10.0)];
            let spiked = Region::from_contours(vec![contour]);
            let found = roof(&spiked, Side::Outside, &[0.005, 1.0]);
            // The square's own growth and a strip of 9 mm beyond it with half a disc at its end.
            let exact = 100.0 + 40.0 + PI + 9.0 * 2.0 + PI / 2.0;
            let area = found.levels[1].area();
            assert!((area - exact).abs() < 0.1, "{width}: {area} {exact}");
        }
    }

    #[test]
    fn an_outline_that_meets_itself_beside_a_corner_has_none() {
        let at =
            |x: f64, y: f64| GridPoint::new(super::super::to_grid(x), super::super::to_grid(y));
        // A triangle hangs from the middle of a square's lower edge by its tip.
        let square = vec![at(0.0, 0.0), at(10.0, 0.0), at(10.0, 10.0), at(0.0, 10.0)];
        let hanging = |x: f64| vec![at(x, 0.0), at(x - 1.0, -3.0), at(x + 1.0, -3.0)];
        for side in [Side::Inside, Side::Outside] {
            let touching = Region::from_contours(vec![square.clone(), hanging(5.0)]);
            assert!(Skeleton::of(&touching, side, 65536.0).is_none());
            // By a corner of the square it may.
            let cornered = Region::from_contours(vec![square.clone(), hanging(10.0)]);
            let found = Skeleton::of(&cornered, side, 65536.0).unwrap();
            assert!(found.roof(&[6554.0], Tolerance::Fine).is_some());
        }
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(96))]
        #[test]
        fn every_level_is_what_the_overlay_makes_of_it(
            circles in prop::collection::vec((-9.0..9f64, -9.0..9f64, 0.4..6f64), 1..5),
            rects in prop::collection::vec((-9.0..9f64, -9.0..9f64, 0.5..8f64, 0.5..8f64), 1..4),
            distance in 0.05..2.5f64,
            grows in any::<bool>(),
        ) {
            let mut region = Region::default();
            for (i, &(x, y, r)) in circles.iter().enumerate() {
                let disc = circle((x, y), r, Tolerance::Draft);
                region = if i % 3 == 2 { region.difference(&disc) } else { region.union(&disc) };
            }
            for &(x, y, w, h) in &rects {
                let rect = Rect::centred(w, h).moved(x, y);
                region = region.union(&rounded_rectangle(rect, 0.0, Tolerance::Draft));
            }
            let side = if grows { Side::Outside } else { Side::Inside };
            let found = roof(&region, side, &[distance / 2.0, distance]);
            for (level, d) in found.levels.iter().zip([distance / 2.0, distance]) {
                let by = if grows { d } else { -d };
                let other = region.offset(by, Tolerance::Fine);
                let apart = level.difference(&other).area() + other.difference(level).area();
                // Both follow arcs to 5 µm on either side, along at most this length.
                prop_assert!(apart < 0.006 * 300.0, "{} {}", apart, d);
            }
            // No ridge leaves the band.
            for [a, b] in &found.ridges {
                let middle = (from_grid(a.x) / 2.0 + from_grid(b.x) / 2.0,
                    from_grid(a.y) / 2.0 + from_grid(b.y) / 2.0);
                let depth = region.depth_of(middle) * if grows { -1.0 } else { 1.0 };
                prop_assert!((-0.01..distance + 0.01).contains(&depth), "{} {}", depth, distance);
            }
        }
    }
}
