//! Local thickness: where an outline, or what lies between outlines, is narrower than something.
//!
//! At every point of an outline there is a largest disc that touches it there from within and holds no other
//! part of the outline (the medial disc of Blum 1967, found point by point as by Ma, Bae and Choi 2012). Its
//! diameter is how thick the region is there. Where the disc touches both sides squarely it lies in a stroke or a
//! wall; in a corner the places it touches are seen at an angle, and nothing is thin but the corner itself.

use super::region::doubled_area;
use super::{GridPoint, Rect, Region, Side, Tolerance, from_grid, rounded_rectangle};
use crate::halt::{heed, heed_at};
use rustc_hash::FxHashMap;

/// A place that is narrower than was asked for.
#[derive(Debug, Clone, PartialEq)]
pub struct Thin {
    /// How wide it is at its narrowest, in mm.
    pub width: f64,
    /// The two points of the outline that are so near to each other there.
    pub ends: [(f64, f64); 2],
    /// How far it goes on, in mm: from end to end of where it is narrower.
    pub length: f64,
    /// All of it.
    pub place: Rect,
    /// Whether it runs out into a point, which is lost and not a stroke.
    pub is_point: bool,
}

/// Two sides that lie at more than this to each other are a corner, in degrees (ours).
const LEAST_OPPOSITE: f64 = 150.0;

/// Corners sharper than this run out into points: what a disc leaves out of them is longer than one and a half of
/// its diameters (1 / sin(α/2) − 1 radii; elementary geometry).
const POINT_DEGREES: f64 = super::SHARPEST_DEGREES;

/// Where the width is on the whole so much more than at the narrowest, as a share of the limit, the sides are those
/// of a wedge (ours): from nothing to the limit a wedge has half of it on the whole, a gap between two arcs a third.
const WEDGE: f64 = 0.42;

/// How far from the corners of an outline it is looked at, in mm.
const BESIDE_CORNER_MM: f64 = 0.01;

type At = (f64, f64);

/// A corner of an outline that is sharper than 28.955°, where a disc leaves out more than one and a half of its
/// diameters.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Point {
    /// Where it is.
    pub at: (f64, f64),
    /// How sharp it is, in degrees.
    pub degrees: f64,
    /// How long the shorter of its two sides is, in mm.
    pub side: f64,
}

impl Point {
    /// How much of it is lost where a line so wide is laid into it, in mm: from its tip to where the line ends,
    /// r / sin(α/2) − r (elementary geometry), and no more than its sides are long.
    pub fn lost(&self, line: f64) -> f64 {
        let r = line / 2.0;
        let sine = (self.degrees.to_radians() / 2.0).sin();
        (r / sine.max(1e-6) - r).min(self.side)
    }
}

/// An edge of the outline: where it begins, its direction, its length, and which way it looks.
struct Wall {
    from: At,
    along: At,
    length: f64,
    normal: At,
}

/// A point of the outline with the disc that touches it there.
struct Sample {
    middle: At,
    width: f64,
    ends: [At; 2],
}

impl Region {
    /// Where the region is narrower than `limit` mm, or (outside) what lies between its outlines; the narrowest
    /// first. Points that are near each other make one place.
    pub fn thin_places(&self, limit: f64, side: Side) -> Vec<Thin> {
        let walls = walls_of(self, side);
        let near = Near::of(&walls, limit);
        let samples: Vec<Sample> =
            walls.iter().flat_map(|wall| near.samples_on(wall, limit)).collect();
        heed();
        let points = points_of(self, side);
        let mut all = gathered(&samples, &points, limit);
        all.sort_by(|a, b| a.width.total_cmp(&b.width));
        all
    }
}

/// A corner that a disc leaves out is less than this share of its diameter squared: (1 − π/4)/4 of a square one
/// (elementary geometry), with room for sharper ones.
const CORNER: f64 = 0.08;

/// So much more than half of the limit is laid, so that what is just as wide is uncovered.
const UNCOVERED_MM: f64 = 0.002;

impl Region {
    /// What of the region is narrower than `limit` mm, or (outside) of what lies between its outlines: what a disc of
    /// that diameter leaves uncovered wherever it is laid (opening and closing; Serra 1982). Corners alone are left
    /// out; empty where nothing is narrower.
    pub fn narrow(&self, limit: f64, side: Side, tolerance: Tolerance) -> Region {
        let radius = limit / 2.0 + UNCOVERED_MM;
        let narrow = match side {
            Side::Inside => {
                self.difference(&self.offset(-radius, tolerance).offset(radius, tolerance))
            }
            Side::Outside => {
                self.offset(radius, tolerance).offset(-radius, tolerance).difference(self)
            }
        };
        without_corners(&narrow, limit)
    }

    /// The same of what reaches into a box.
    pub fn narrow_in(&self, place: Rect, limit: f64, side: Side, tolerance: Tolerance) -> Region {
        let boxed = |by: f64| rounded_rectangle(place.grown(by), 0.0, Tolerance::Draft);
        // With what lies around, so that nothing is narrow only because it is cut off there, and the slivers that
        // cutting leaves lie well apart.
        let around = boxed(6.0 * limit);
        let there = match side {
            Side::Inside => self.intersection(&around),
            Side::Outside => around.difference(self),
        };
        let near = place.grown(0.01);
        let narrow = there.narrow(limit, Side::Inside, tolerance).clumps().into_iter();
        let reaches_in = |part: &Region| part.bounds().is_some_and(|bounds| bounds.overlaps(&near));
        Region::gather(narrow.filter(reaches_in).collect())
    }
}

/// Without the parts that are no more than what a disc of that diameter leaves out of corners.
pub(crate) fn without_corners(narrow: &Region, limit: f64) -> Region {
    let least = CORNER * limit * limit;
    let worth = narrow.clumps().into_iter().filter(|part| part.area() > least);
    Region::gather(worth.collect())
}

impl Region {
    /// The corners that run out into points.
    pub fn sharp_points(&self) -> Vec<Point> {
        points_of(self, Side::Inside)
    }
}

/// The box round a contour, and how wide it is along its narrower side.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Extent {
    /// The box.
    pub bounds: Rect,
    /// The two points of the contour that are furthest apart along the narrower side.
    pub narrow: [(f64, f64); 2],
}

impl Region {
    /// The extents of its parts (inside) or of its openings (outside), in mm.
    pub fn extents(&self, side: Side) -> Vec<Extent> {
        let extent = |contour: &Vec<GridPoint>| {
            let points = contour.iter().map(|p| (from_grid(p.x), from_grid(p.y)));
            let ends = |along: fn(&At) -> f64| -> Option<[At; 2]> {
                let low = points.clone().min_by(|a, b| along(a).total_cmp(&along(b)))?;
                let high = points.clone().max_by(|a, b| along(a).total_cmp(&along(b)))?;
                Some([low, high])
            };
            let [left, right] = ends(|point| point.0)?;
            let [bottom, top] = ends(|point| point.1)?;
            let bounds = Rect { x0: left.0, y0: bottom.1, x1: right.0, y1: top.1 };
            let is_upright = bounds.width() <= bounds.height();
            let narrow = if is_upright { [left, right] } else { [bottom, top] };
            Some(Extent { bounds, narrow })
        };
        let is_part = side == Side::Inside;
        let of_side = |contour: &&Vec<GridPoint>| (doubled_area(contour) > 0) == is_part;
        self.contours().iter().filter(of_side).filter_map(extent).collect()
    }
}

fn walls_of(region: &Region, side: Side) -> Vec<Wall> {
    let wall = |((ax, ay), (bx, by)): (At, At)| {
        let (ex, ey) = (bx - ax, by - ay);
        let length = ex.hypot(ey);
        let along = (ex / length, ey / length);
        // The region lies on the left.
        let normal = match side {
            Side::Inside => (-along.1, along.0),
            Side::Outside => (along.1, -along.0),
        };
        Wall { from: (ax, ay), along, length, normal }
    };
    region.edges().filter(|(a, b)| a != b).map(wall).collect()
}

/// The walls near each square of a lattice.
struct Near<'a> {
    walls: &'a [Wall],
    pitch: f64,
    squares: FxHashMap<(i32, i32), Vec<u32>>,
}

impl<'a> Near<'a> {
    fn of(walls: &'a [Wall], limit: f64) -> Self {
        let pitch = limit.max(0.2);
        let mut squares: FxHashMap<(i32, i32), Vec<u32>> = FxHashMap::default();
        for (number, wall) in walls.iter().enumerate() {
            heed_at(number);
            // Step by step along the wall, so that a long one is not in every square of its box.
            let steps = (wall.length / pitch).ceil().max(1.0) as usize;
            let mut last = Vec::new();
            for step in 0..=steps {
                let at = wall.at(wall.length * step as f64 / steps as f64);
                let (column, row) = square(at, pitch);
                let around: Vec<_> =
                    (-1..=1).flat_map(|x| (-1..=1).map(move |y| (column + x, row + y))).collect();
                for place in around.iter().filter(|place| !last.contains(*place)) {
                    squares.entry(*place).or_default().push(number as u32);
                }
                last = around;
            }
        }
        for numbers in squares.values_mut() {
            numbers.sort_unstable();
            numbers.dedup();
        }
        Near { walls, pitch, squares }
    }

    /// Points along a wall, with their discs where those are smaller than the limit and touch opposite sides.
    fn samples_on(&self, wall: &'a Wall, limit: f64) -> impl Iterator<Item = Sample> {
        /// So many points for the width that is asked for.
        const POINTS: f64 = 4.0;
        /// A wall as long as the largest face, with room.
        const MOST: f64 = 20_000.0;
        heed();
        let count = (wall.length * POINTS / limit).ceil().clamp(1.0, MOST) as usize;
        // As near to both ends as can be told from them: where arcs are nearest to each other there often is a corner
        // of theirs.
        let aside = (0.05 * wall.length).min(BESIDE_CORNER_MM);
        (0..=count).filter_map(move |i| {
            let along = wall.length * i as f64 / count as f64;
            self.disc_at(wall.at(along.clamp(aside, wall.length - aside)), wall, limit)
        })
    }

    /// The largest disc that touches the outline at a point of a wall from the side it looks to.
    fn disc_at(&self, at: At, own: &Wall, limit: f64) -> Option<Sample> {
        let mut radius = limit / 2.0;
        let mut touches = None;
        for number in self.squares.get(&square(at, self.pitch))? {
            let other = &self.walls[*number as usize];
            if std::ptr::eq(other, own) {
                continue;
            }
            if let Some((r, touch)) = other.touched_by(at, own.normal)
                && r < radius
            {
                (radius, touches) = (r, Some(touch));
            }
        }
        let touch = touches?;
        let middle = (at.0 + radius * own.normal.0, at.1 + radius * own.normal.1);
        // Seen from the middle the two places lie at this angle.
        let cosine = if radius > 0.0 {
            let towards = ((touch.0 - middle.0) / radius, (touch.1 - middle.1) / radius);
            -(towards.0 * own.normal.0 + towards.1 * own.normal.1)
        } else {
            -1.0
        };
        let is_opposite = cosine <= LEAST_OPPOSITE.to_radians().cos();
        is_opposite.then_some(Sample { middle, width: 2.0 * radius, ends: [at, touch] })
    }
}

impl Wall {
    fn at(&self, along: f64) -> At {
        (self.from.0 + along * self.along.0, self.from.1 + along * self.along.1)
    }

    /// The radius of the disc that touches a point squarely from the side `normal` leads to, and this wall; and
    /// where it touches this. `None` where there is no such disc.
    ///
    /// The middle is p + r n; its distance from the line of the wall, h + r n·m, is r for r = h / (1 − n·m),
    /// with h the distance of p from the line and m the way the wall looks. The disc through a point q is that
    /// of r = |d|² / 2 n·d, with d = q − p (elementary geometry).
    fn touched_by(&self, p: At, normal: At) -> Option<(f64, At)> {
        let from = (p.0 - self.from.0, p.1 - self.from.1);
        let height = from.0 * self.normal.0 + from.1 * self.normal.1;
        let facing = normal.0 * self.normal.0 + normal.1 * self.normal.1;
        if height > 0.0 && facing < 1.0 - 1e-12 {
            let radius = height / (1.0 - facing);
            let middle = (from.0 + radius * normal.0, from.1 + radius * normal.1);
            let along = middle.0 * self.along.0 + middle.1 * self.along.1;
            if (0.0..=self.length).contains(&along) {
                return Some((radius, self.at(along)));
            }
        }
        let ends = [self.from, self.at(self.length)];
        let through = ends.into_iter().filter_map(|q| {
            let d = (q.0 - p.0, q.1 - p.1);
            let ahead = d.0 * normal.0 + d.1 * normal.1;
            // A point beside this one on the same wall is none that it faces.
            (ahead > 1e-9).then(|| ((d.0 * d.0 + d.1 * d.1) / (2.0 * ahead), q))
        });
        through.min_by(|a, b| a.0.total_cmp(&b.0))
    }
}

fn square((x, y): At, pitch: f64) -> (i32, i32) {
    ((x / pitch).floor() as i32, (y / pitch).floor() as i32)
}

/// The corners of the outline that run out into points on that side.
fn points_of(region: &Region, side: Side) -> Vec<Point> {
    let mut points = Vec::new();
    for contour in region.contours() {
        let count = contour.len();
        for i in 0..count {
            let [before, here, after] =
                [contour[(i + count - 1) % count], contour[i], contour[(i + 1) % count]];
            let difference = |from: GridPoint, to: GridPoint| {
                (f64::from(to.x) - f64::from(from.x), f64::from(to.y) - f64::from(from.y))
            };
            let (a, b) = (difference(before, here), difference(here, after));
            let (cross, dot) = (a.0 * b.1 - a.1 * b.0, a.0 * b.0 + a.1 * b.1);
            let turn = match side {
                Side::Inside => cross.atan2(dot),
                Side::Outside => (-cross).atan2(dot),
            };
            let degrees = 180.0 - turn.to_degrees();
            if degrees < POINT_DEGREES {
                let at = (from_grid(here.x), from_grid(here.y));
                let side = a.0.hypot(a.1).min(b.0.hypot(b.1)) / super::GRID_PER_MM;
                points.push(Point { at, degrees, side });
            }
        }
    }
    points
}

/// Samples whose discs lie beside each other make one place.
fn gathered(samples: &[Sample], points: &[Point], limit: f64) -> Vec<Thin> {
    let pitch = 0.75 * limit;
    let mut squares: FxHashMap<(i32, i32), Vec<u32>> = FxHashMap::default();
    for (number, sample) in samples.iter().enumerate() {
        squares.entry(square(sample.middle, pitch)).or_default().push(number as u32);
    }
    let mut is_taken = vec![false; samples.len()];
    let mut all = Vec::new();
    for first in 0..samples.len() {
        if std::mem::replace(&mut is_taken[first], true) {
            continue;
        }
        heed();
        let (mut group, mut next) = (Vec::new(), vec![first]);
        while let Some(number) = next.pop() {
            group.push(number);
            let (column, row) = square(samples[number].middle, pitch);
            for place in (-1..=1).flat_map(|x| (-1..=1).map(move |y| (column + x, row + y))) {
                for other in squares.get(&place).into_iter().flatten().map(|one| *one as usize) {
                    let [a, b] = [samples[number].middle, samples[other].middle];
                    if !is_taken[other] && (a.0 - b.0).hypot(a.1 - b.1) <= pitch {
                        is_taken[other] = true;
                        next.push(other);
                    }
                }
            }
        }
        all.extend(of_group(&group, samples, points, limit));
    }
    all
}

fn of_group(group: &[usize], samples: &[Sample], points: &[Point], limit: f64) -> Option<Thin> {
    let own = || group.iter().map(|number| &samples[*number]);
    let narrowest = own().min_by(|a, b| a.width.total_cmp(&b.width))?;
    let place = own().fold(None, |all: Option<Rect>, sample| {
        let [(ax, ay), (bx, by)] = sample.ends;
        let here = Rect { x0: ax.min(bx), y0: ay.min(by), x1: ax.max(bx), y1: ay.max(by) };
        Some(all.map_or(here, |all| all.hull(&here)))
    })?;
    // From end to end: how far apart the two discs furthest from each other are, found in two steps.
    let furthest = |from: At| {
        let away = |sample: &&Sample| (sample.middle.0 - from.0).hypot(sample.middle.1 - from.1);
        own().max_by(|a, b| away(a).total_cmp(&away(b))).map_or(from, |sample| sample.middle)
    };
    let one = furthest(narrowest.middle);
    let other = furthest(one);
    let length = (one.0 - other.0).hypot(one.1 - other.1) + narrowest.width;
    let is_at = |point: &Point| {
        own().any(|sample| {
            (sample.middle.0 - point.at.0).hypot(sample.middle.1 - point.at.1) < limit
        })
    };
    // Sides that run towards each other, one wedge however blunt its end.
    let mean = own().map(|sample| sample.width).sum::<f64>() / group.len() as f64;
    let is_wedge = mean - narrowest.width > WEDGE * limit;
    let is_point = is_wedge || points.iter().any(is_at);
    Some(Thin { width: narrowest.width, ends: narrowest.ends, length, place, is_point })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plane::circle;

    const ALL: [Tolerance; 3] = [Tolerance::Draft, Tolerance::Normal, Tolerance::Fine];

    fn bar(width: f64, height: f64) -> Region {
        rounded_rectangle(Rect::centred(width, height), 0.0, Tolerance::Fine)
    }

    fn polygon(points: &[At]) -> Region {
        let to_grid =
            |(x, y): &At| GridPoint::new(super::super::to_grid(*x), super::super::to_grid(*y));
        Region::resolve(&[points.iter().map(to_grid).collect()])
    }

    fn inside(region: &Region, limit: f64) -> Vec<Thin> {
        region.thin_places(limit, Side::Inside)
    }

    /// Two discs and a bar between them: the bar is thin along 14 mm less what lies in the discs.
    #[test]
    fn the_bar_of_a_dumb_bell_is_as_thin_as_it_is() {
        for tolerance in ALL {
            for width in [0.1, 0.3, 0.44] {
                let disc = |x: f64| circle((x, 0.0), 5.0, tolerance);
                let bell = disc(-7.0).union(&disc(7.0)).union(&bar(14.0, width));
                let [thin] = &inside(&bell, 0.45)[..] else { panic!("{width} {tolerance:?}") };
                assert!((thin.width - width).abs() < 1e-3, "{} {width}", thin.width);
                assert!((thin.length - 4.0).abs() < 0.5 && !thin.is_point, "{}", thin.length);
                assert!(thin.place.x0 > -2.3 && thin.place.x1 < 2.3, "{:?}", thin.place);
            }
        }
        let stout = circle((0.0, 0.0), 5.0, Tolerance::Fine).union(&bar(14.0, 0.46));
        assert!(inside(&stout, 0.45).is_empty());
    }

    /// A hole of radius r, its middle e beside that of a disc of radius R, leaves R − r − e.
    #[test]
    fn a_ring_off_its_centre_is_thinnest_on_one_side() {
        for tolerance in ALL {
            let hole = circle((1.6, 0.0), 3.0, tolerance);
            let ring = circle((0.0, 0.0), 5.0, tolerance).difference(&hole);
            let [thin] = &inside(&ring, 0.8)[..] else { panic!("{tolerance:?}") };
            let stray = 2.0 * tolerance.chord_mm() + 1e-3;
            assert!((thin.width - 0.4).abs() < stray, "{} {tolerance:?}", thin.width);
            assert!((thin.ends[0].1.abs() < 0.3) && thin.ends[0].0 > 4.5, "{:?}", thin.ends);
            assert!(inside(&ring, 0.38).is_empty());
        }
    }

    /// The teeth of a comb and the gaps between them.
    #[test]
    fn a_comb_has_thin_teeth_and_narrow_gaps() {
        let teeth = (0..6).fold(bar(12.0, 2.0), |comb, i| {
            comb.union(&bar(0.3, 6.0).moved(f64::from(i) - 2.5, 3.0))
        });
        let thin = inside(&teeth, 0.45);
        assert_eq!(thin.len(), 6);
        assert!(thin.iter().all(|one| (one.width - 0.3).abs() < 1e-4 && one.length > 4.0));
        let gaps = teeth.thin_places(0.75, Side::Outside);
        assert_eq!(gaps.len(), 5);
        assert!(gaps.iter().all(|one| (one.width - 0.7).abs() < 1e-4), "{gaps:?}");
        assert!(teeth.thin_places(0.65, Side::Outside).is_empty());
    }

    /// A wedge of 10° is narrower than a line for line / (2 tan 5°) from its point, and that is a point; one of
    /// 40° is a corner.
    #[test]
    fn a_wedge_runs_out_into_a_point() {
        let wedge = |degrees: f64| {
            let half = 20.0 * (degrees.to_radians() / 2.0).tan();
            polygon(&[(0.0, 0.0), (20.0, -half), (20.0, half)])
        };
        let [thin] = &inside(&wedge(10.0), 0.45)[..] else { panic!() };
        let exact = 0.45 / (2.0 * 5.0f64.to_radians().tan());
        assert!(thin.is_point && (thin.place.x1 - exact).abs() < 0.15, "{thin:?} {exact}");
        assert!(inside(&wedge(40.0), 0.45).is_empty());
    }

    /// Of a dumb-bell the bar is uncovered but for what of it the disc reaches from either end; what a corner loses
    /// is not told.
    #[test]
    fn what_is_narrow_has_its_own_shape() {
        for tolerance in ALL {
            let disc = |x: f64| circle((x, 0.0), 5.0, tolerance);
            let bell = disc(-7.0).union(&disc(7.0)).union(&bar(14.0, 0.3));
            let [thin] = &inside(&bell, 0.45)[..] else { panic!("{tolerance:?}") };
            let narrow = bell.narrow_in(thin.place, 0.45, Side::Inside, tolerance);
            assert_eq!(narrow.clumps().len(), 1);
            let area = narrow.area();
            assert!((0.3 * 3.6..0.3 * 4.1).contains(&area), "{area} {tolerance:?}");
            // Two bars 0.3 apart: what lies between them, from end to end.
            let pair = bar(10.0, 2.0).moved(0.0, 1.15).union(&bar(10.0, 2.0).moved(0.0, -1.15));
            let between = pair.narrow_in(Rect::centred(10.0, 0.3), 0.45, Side::Outside, tolerance);
            assert!((between.area() - 3.0).abs() < 0.1, "{} {tolerance:?}", between.area());
            let corners =
                bar(3.0, 3.0).narrow_in(Rect::centred(3.0, 3.0), 0.9, Side::Inside, tolerance);
            assert!(corners.is_empty(), "{tolerance:?}");
        }
    }

    /// Corners, arcs and rounded boxes are no thin places, wherever they lie and at whatever tolerance.
    #[test]
    fn what_is_thick_has_no_thin_places() {
        for tolerance in ALL {
            for region in [
                bar(20.0, 10.0),
                circle((0.0, 0.0), 0.5, tolerance),
                rounded_rectangle(Rect::centred(20.0, 10.0), 3.0, tolerance),
                bar(20.0, 20.0).difference(&circle((3.0, 1.0), 4.0, tolerance)).turned(17.0),
            ] {
                assert_eq!(inside(&region, 0.9), [], "{tolerance:?}");
                assert_eq!(region.thin_places(0.9, Side::Outside), [], "{tolerance:?}");
            }
        }
    }
}
