//! Necks: where an outline is so thin that a part of it hangs by little.

use super::{Rect, Region, Tolerance, from_grid};
use crate::halt::heed;
use std::cell::RefCell;
use std::collections::HashMap;
use std::rc::Rc;

/// Where a part hangs on the rest of an outline.
#[derive(Debug, Clone, PartialEq)]
pub struct Neck {
    /// How thin it is at its thinnest, in mm, to a thirty-second of what was asked for.
    pub width: f64,
    /// Where that is.
    pub place: Rect,
}

/// Steps the width of a neck is found in.
const STEPS: usize = 32;

/// What is left of a part must have this area to be one, in mm²: less is a corner of a stroke.
const LEAST_PART_MM2: f64 = 0.2;

/// More are not looked for.
const MOST: usize = 12;

impl Region {
    /// The necks of the outline that are thinner than `limit` mm.
    ///
    /// What is drawn in by half of that falls apart where it was thinner; a part that stays by itself hangs
    /// by a neck, and how far it can be drawn in before it is alone is half of how thin the neck is (the
    /// opening of mathematical morphology; Serra 1982). Strokes thinner than the limit all along
    /// vanish and are no necks, unless something hangs by them.
    pub fn necks(&self, limit: f64, tolerance: Tolerance) -> Vec<Neck> {
        let furthest = limit / 2.0;
        let cores = self.offset(-furthest, tolerance).clumps();
        if cores.len() < 2 {
            return Vec::new();
        }
        let points: Vec<Option<(f64, f64)>> = cores.iter().map(point_of).collect();
        let mut found: Vec<Neck> = Vec::new();
        for whole in &self.clumps() {
            heed();
            let Some(bounds) = whole.bounds() else { continue };
            let is_in = |at: &(f64, f64)| {
                let there = Rect { x0: at.0, y0: at.1, x1: at.0, y1: at.1 };
                bounds.contains(&there) && whole.contains(*at)
            };
            let mut own: Vec<&Region> = cores
                .iter()
                .zip(&points)
                .filter(|(_, at)| at.as_ref().is_some_and(is_in))
                .map(|(core, _)| core)
                .collect();
            own.sort_by(|a, b| b.area().total_cmp(&a.area()));
            let Some((main, others)) = own.split_first() else { continue };
            let Some(main) = point_of(main) else { continue };
            let step = furthest / STEPS as f64;
            let drawn_in = DrawnIn { whole, step, tolerance, left: RefCell::default() };
            for core in others.iter().filter(|core| core.area() > LEAST_PART_MM2) {
                if found.len() == MOST {
                    return found;
                }
                let neck = drawn_in.neck(main, core);
                let is_known =
                    |neck: &Neck| found.iter().any(|other| meet(other.place, neck.place));
                found.extend(neck.filter(|neck| !is_known(neck)));
            }
        }
        found
    }
}

/// An outline drawn in step by step, each step once, however many parts are looked for.
struct DrawnIn<'a> {
    whole: &'a Region,
    /// How far a step is, in mm.
    step: f64,
    tolerance: Tolerance,
    left: RefCell<HashMap<usize, Rc<Vec<Region>>>>,
}

impl DrawnIn<'_> {
    /// What is left after so many steps.
    fn after(&self, steps: usize) -> Rc<Vec<Region>> {
        if let Some(left) = self.left.borrow().get(&steps) {
            return Rc::clone(left);
        }
        let left = match steps {
            0 => vec![self.whole.clone()],
            _ => self.whole.offset(-self.step * steps as f64, self.tolerance).clumps(),
        };
        Rc::clone(self.left.borrow_mut().entry(steps).or_insert_with(|| Rc::new(left)))
    }

    /// Whether two points lie in one part of what is left after so many steps.
    fn holds(&self, steps: usize, main: (f64, f64), core: (f64, f64)) -> bool {
        self.after(steps).iter().any(|one| one.contains(main) && one.contains(core))
    }

    /// The neck a part hangs by on the main one, each given by a point of what is left in the end.
    fn neck(&self, main: (f64, f64), core: &Region) -> Option<Neck> {
        let at = point_of(core)?;
        let (mut hangs, mut alone) = (0, STEPS);
        while alone - hangs > 1 {
            let middle = (hangs + alone) / 2;
            if self.holds(middle, main, at) { hangs = middle } else { alone = middle }
        }
        let place = self.place(hangs, at).or_else(|| core.bounds())?;
        Some(Neck { width: (hangs + alone) as f64 * self.step, place })
    }

    /// Where a part came off in the step after: what was lost between it and the rest.
    fn place(&self, steps: usize, core: (f64, f64)) -> Option<Rect> {
        let before = self.after(steps);
        let joined = before.iter().find(|one| one.contains(core))?;
        let after = self.after(steps + 1);
        let (own, rest): (Vec<Region>, Vec<Region>) =
            after.iter().cloned().partition(|one| one.contains(core));
        const HAIR: f64 = 0.01;
        let grown =
            |parts: Vec<Region>| Region::gather(parts).offset(self.step + HAIR, self.tolerance);
        let (own, rest) = (grown(own), grown(rest));
        let lost = joined.difference(&own).difference(&rest).clumps();
        let reaches = |sliver: &Region, side: &Region| {
            !sliver.offset(2.0 * HAIR, self.tolerance).intersection(side).is_empty()
        };
        let between = lost.into_iter().filter(|one| reaches(one, &own) && reaches(one, &rest));
        let between: Vec<Region> = between.collect();
        // Where both meet at once they overlap as they grow.
        let place =
            if between.is_empty() { own.intersection(&rest) } else { Region::gather(between) };
        Some(place.bounds()?.grown(self.step * STEPS as f64))
    }
}

fn point_of(region: &Region) -> Option<(f64, f64)> {
    let point = region.contours().first()?.first()?;
    Some((from_grid(point.x), from_grid(point.y)))
}

fn meet(a: Rect, b: Rect) -> bool {
    a.x0 < b.x1 && b.x0 < a.x1 && a.y0 < b.y1 && b.y0 < a.y1
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plane::{circle, rounded_rectangle};

    const ALL: [Tolerance; 3] = [Tolerance::Draft, Tolerance::Normal, Tolerance::Fine];

    fn bar(width: f64, height: f64) -> Region {
        rounded_rectangle(Rect::centred(width, height), 0.0, Tolerance::Fine)
    }

    /// A dumb-bell: two discs of 5 mm radius, 14 mm apart, and a bar between them.
    fn dumb_bell(neck: f64) -> Region {
        let disc = |x: f64| circle((x, 0.0), 5.0, Tolerance::Fine);
        disc(-7.0).union(&disc(7.0)).union(&bar(14.0, neck))
    }

    #[test]
    fn a_dumb_bell_hangs_together_by_its_bar() {
        for tolerance in ALL {
            for width in [0.3, 0.5, 0.8] {
                let [neck] = &dumb_bell(width).necks(1.0, tolerance)[..] else {
                    panic!("{width} at {tolerance:?}")
                };
                assert!((neck.width - width).abs() < 1.0 / 32.0 + 0.01, "{} {width}", neck.width);
                let (x, y) = neck.place.centre();
                assert!(x.abs() < 0.5 && y.abs() < 0.1, "{:?}", neck.place);
            }
            assert!(dumb_bell(1.1).necks(1.0, tolerance).is_empty());
        }
    }

    /// Two discs of 5 mm radius whose middles are d apart share a chord of 2 √(25 − d²/4), and that is the
    /// thinnest place; a third one that touches nothing is no neck.
    #[test]
    fn discs_that_lie_across_each_other_hang_by_their_chord() {
        let disc = |x: f64| circle((x, 0.0), 5.0, Tolerance::Fine);
        for apart in [9.9, 9.85] {
            let chord = 2.0 * (25.0 - apart * apart / 4.0f64).sqrt();
            let chain = disc(0.0).union(&disc(apart)).union(&disc(30.0));
            let [neck] = &chain.necks(2.4, Tolerance::Fine)[..] else { panic!("{apart}") };
            assert!((neck.width - chord).abs() < 2.4 / 32.0 + 0.08, "{} {chord}", neck.width);
            assert!((neck.place.centre().0 - apart / 2.0).abs() < 0.1, "{:?}", neck.place);
        }
    }

    /// Thin all along is no neck, and neither is a thin wall beside a hole or a sharp corner.
    #[test]
    fn nothing_hangs_by_a_thin_stroke_or_wall() {
        let frame = bar(20.0, 20.0).difference(&bar(19.0, 19.0));
        assert!(frame.necks(1.2, Tolerance::Normal).is_empty());
        let wall = bar(20.0, 20.0).difference(&circle((7.7, 0.0), 2.0, Tolerance::Fine));
        assert!(wall.necks(1.0, Tolerance::Normal).is_empty());
        let wedge =
            circle((0.0, 0.0), 9.0, Tolerance::Fine).difference(&bar(30.0, 0.4).moved(9.0, 0.0));
        assert!(wedge.necks(1.0, Tolerance::Normal).is_empty());
    }
}
