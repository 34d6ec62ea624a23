//! Regions of the plane on the grid, and what is done with them.

use super::{GRID_PER_MM, GridPoint, Rect, Tolerance, from_grid, to_grid};
use crate::halt::heed;
use i_overlay::core::fill_rule::FillRule;
use i_overlay::core::overlay::{IntOverlayOptions, Overlay};
use i_overlay::core::overlay_rule::OverlayRule;
use i_overlay::core::solver::Solver;
use i_overlay::i_float::int::point::IntPoint;
use kurbo::{BezPath, PathEl, Point};

/// A part of the plane: outlines with holes, on the grid.
///
/// Outer contours run counter-clockwise, holes clockwise; contours do not cross. What a contour
/// encloses counts by the even-odd rule, which for such contours is the same as non-zero.
#[derive(Debug, Clone, Default, PartialEq, Eq, Hash)]
pub struct Region {
    contours: Vec<Vec<GridPoint>>,
}

/// Contours of less than this are specks that rounding left, smaller than anything can print; in mm².
pub(crate) const SPECK_MM2: f64 = 1e-4;

pub(super) fn options() -> IntOverlayOptions<u64> {
    const SPECK: u64 = (SPECK_MM2 * GRID_PER_MM * GRID_PER_MM) as u64;
    IntOverlayOptions { min_output_area: SPECK, ..IntOverlayOptions::default() }
}

/// A path of straight lines from point to point and back to the first.
pub(crate) fn closed_line(points: impl Iterator<Item = Point>) -> BezPath {
    let mut path = BezPath::new();
    for (i, point) in points.enumerate() {
        if i == 0 { path.move_to(point) } else { path.line_to(point) }
    }
    path.close_path();
    path
}

/// The runs of a path as contours on the grid. Coordinates in mm; open runs are closed.
pub(crate) fn flattened(path: &BezPath, tolerance: Tolerance) -> Vec<Vec<GridPoint>> {
    let mut contours: Vec<Vec<GridPoint>> = Vec::new();
    kurbo::flatten(path.iter(), tolerance.chord_mm(), |element| match element {
        PathEl::MoveTo(p) => contours.push(vec![IntPoint::new(to_grid(p.x), to_grid(p.y))]),
        PathEl::LineTo(p) => {
            if let Some(contour) = contours.last_mut() {
                contour.push(IntPoint::new(to_grid(p.x), to_grid(p.y)));
            }
        }
        _ => {}
    });
    contours
}

/// Twice the signed area of a contour in squares of the grid, positive where it turns
/// counter-clockwise (shoelace formula).
pub(super) fn doubled_area(contour: &[GridPoint]) -> i128 {
    let edges = contour.iter().zip(contour.iter().cycle().skip(1));
    let across = |(a, b): (&GridPoint, &GridPoint)| {
        i128::from(a.x) * i128::from(b.y) - i128::from(b.x) * i128::from(a.y)
    };
    edges.map(across).sum()
}

/// The signed area of a contour in mm², positive where it turns counter-clockwise: of an outer contour and
/// not of an opening.
pub(crate) fn signed_area(contour: &[GridPoint]) -> f64 {
    doubled_area(contour) as f64 / (2.0 * GRID_PER_MM * GRID_PER_MM)
}

impl Region {
    /// A region of contours that are known to be simple, disjoint and rightly turned.
    pub(crate) fn from_contours(contours: Vec<Vec<GridPoint>>) -> Self {
        Region { contours }
    }

    /// Flattens a path of closed curves and resolves every overlap by the non-zero rule.
    ///
    /// Coordinates in mm. Open subpaths are closed. Faces with overlapping or wrongly turned
    /// contours, doubled points and loops without area come out as a clean region.
    pub fn from_path(path: &BezPath, tolerance: Tolerance) -> Self {
        Self::resolve(&flattened(path, tolerance))
    }

    /// The non-zero union of arbitrary contours.
    pub fn resolve(contours: &[Vec<GridPoint>]) -> Self {
        heed();
        let shapes = Overlay::from_subj_custom(contours, options(), Solver::default())
            .overlay(OverlayRule::Subject, FillRule::NonZero);
        Region { contours: shapes.into_iter().flatten().collect() }
    }

    /// What arbitrary contours run round an odd number of times.
    pub(crate) fn resolve_even_odd(contours: &[Vec<GridPoint>]) -> Self {
        heed();
        let shapes = Overlay::from_subj_custom(contours, options(), Solver::default())
            .overlay(OverlayRule::Subject, FillRule::EvenOdd);
        Region { contours: shapes.into_iter().flatten().collect() }
    }

    /// The non-zero union, however small its contours are.
    pub(crate) fn resolve_all(contours: &[Vec<GridPoint>]) -> Self {
        heed();
        let shapes = Overlay::from_subj(contours).overlay(OverlayRule::Subject, FillRule::NonZero);
        Region { contours: shapes.into_iter().flatten().collect() }
    }

    fn overlay(&self, other: &Region, rule: OverlayRule) -> Region {
        heed();
        let (own, others) = (&self.contours[..], &other.contours[..]);
        let shapes = Overlay::from_subj_and_clip_custom(own, others, options(), Solver::default())
            .overlay(rule, FillRule::EvenOdd);
        Region { contours: shapes.into_iter().flatten().collect() }
    }

    /// What lies in either.
    pub fn union(&self, other: &Region) -> Region {
        self.overlay(other, OverlayRule::Union)
    }

    /// What lies in this one and not in the other.
    pub fn difference(&self, other: &Region) -> Region {
        self.overlay(other, OverlayRule::Difference)
    }

    /// What lies in both.
    pub fn intersection(&self, other: &Region) -> Region {
        self.overlay(other, OverlayRule::Intersect)
    }

    /// The contours, each a closed ring without its first vertex repeated.
    pub fn contours(&self) -> &[Vec<GridPoint>] {
        &self.contours
    }

    /// Whether nothing is left.
    pub fn is_empty(&self) -> bool {
        self.contours.is_empty()
    }

    /// Vertices of all contours.
    pub fn vertex_count(&self) -> usize {
        self.contours.iter().map(Vec::len).sum()
    }

    /// Area in mm²; holes count against it (shoelace formula).
    pub fn area(&self) -> f64 {
        let doubled: i128 = self.contours.iter().map(|contour| doubled_area(contour)).sum();
        doubled as f64 / (2.0 * GRID_PER_MM * GRID_PER_MM)
    }

    /// The smallest upright rectangle around it, or `None` where it is empty.
    pub fn bounds(&self) -> Option<Rect> {
        let mut points = self.contours.iter().flatten();
        let first = points.next()?;
        let (mut low, mut high) = (*first, *first);
        for p in points {
            low = IntPoint::new(low.x.min(p.x), low.y.min(p.y));
            high = IntPoint::new(high.x.max(p.x), high.y.max(p.y));
        }
        Some(Rect {
            x0: from_grid(low.x),
            y0: from_grid(low.y),
            x1: from_grid(high.x),
            y1: from_grid(high.y),
        })
    }

    /// Whether all its edges run across or up.
    pub fn is_axis_parallel(&self) -> bool {
        self.contours.iter().all(|contour| {
            let next = contour.iter().cycle().skip(1);
            contour.iter().zip(next).all(|(a, b)| a.x == b.x || a.y == b.y)
        })
    }

    /// Whether it is one upright rectangle.
    pub fn is_box(&self) -> bool {
        let [contour] = self.contours() else { return false };
        let area = self.bounds().map_or(0.0, |bounds| bounds.width() * bounds.height());
        contour.len() == 4 && (self.area() - area).abs() < 1e-9 * area
    }

    /// Moved by a vector in mm, rounded to the grid as a whole so that the shape is unchanged.
    pub fn moved(mut self, dx: f64, dy: f64) -> Region {
        let (dx, dy) = (to_grid(dx), to_grid(dy));
        for point in self.contours.iter_mut().flatten() {
            point.x += dx;
            point.y += dy;
        }
        self
    }

    /// Without the holes smaller than an area in mm².
    pub fn without_small_holes(mut self, area: f64) -> Region {
        self.contours.retain(|contour| {
            let signed = doubled_area(contour) as f64 / (2.0 * GRID_PER_MM * GRID_PER_MM);
            signed > 0.0 || -signed >= area
        });
        self
    }

    /// Without any holes.
    pub fn without_openings(&self) -> Region {
        self.clone().without_small_holes(f64::INFINITY)
    }

    /// Turned about the origin, counter-clockwise, in degrees.
    pub fn turned(self, degrees: f64) -> Region {
        if degrees == 0.0 {
            return self;
        }
        let (sine, cosine) = degrees.to_radians().sin_cos();
        let turn = |p: &GridPoint| {
            let (x, y) = (from_grid(p.x), from_grid(p.y));
            IntPoint::new(to_grid(x * cosine - y * sine), to_grid(x * sine + y * cosine))
        };
        let contours: Vec<Vec<GridPoint>> =
            self.contours.iter().map(|contour| contour.iter().map(turn).collect()).collect();
        Region::resolve(&contours)
    }

    /// Mirrored across the upright line through the origin, or across the level one.
    pub fn mirrored(&self, across: bool) -> Region {
        let flip = |p: &GridPoint| {
            if across { IntPoint::new(-p.x, p.y) } else { IntPoint::new(p.x, -p.y) }
        };
        // Read backwards, so that outer contours still turn counter-clockwise.
        let contours = self.contours.iter().map(|contour| contour.iter().rev().map(flip).collect());
        Region { contours: contours.collect() }
    }

    /// Its outer contours, each with the holes that follow it: parts that lie apart, in the order the
    /// contours have.
    pub(crate) fn clumps(&self) -> Vec<Region> {
        let mut clumps: Vec<Region> = Vec::new();
        for contour in &self.contours {
            match clumps.last_mut() {
                Some(last) if doubled_area(contour) < 0 => last.contours.push(contour.clone()),
                _ => clumps.push(Region { contours: vec![contour.clone()] }),
            }
        }
        clumps
    }

    /// The same with the low corner of its box at the origin, and where that was.
    pub(crate) fn at_origin(mut self) -> (Region, GridPoint) {
        let points = || self.contours.iter().flatten();
        let x = points().map(|point| point.x).min().unwrap_or(0);
        let y = points().map(|point| point.y).min().unwrap_or(0);
        for point in self.contours.iter_mut().flatten() {
            *point = GridPoint::new(point.x - x, point.y - y);
        }
        (self, GridPoint::new(x, y))
    }

    /// Several regions side by side; those that overlap are united.
    ///
    /// Regions crowded on one spot are united two by two: what comes to lie inside leaves before it
    /// meets the others, or nine hundred letters on one spot would cross some hundred thousand times.
    pub fn gather(parts: Vec<Region>) -> Region {
        match Crowd::of(&parts) {
            Crowd::Apart => {
                Region { contours: parts.into_iter().flat_map(|part| part.contours).collect() }
            }
            Crowd::Neighbours => {
                let contours: Vec<_> = parts.into_iter().flat_map(|part| part.contours).collect();
                Region::resolve(&contours)
            }
            Crowd::Heap => Region::united(parts),
        }
    }

    fn united(mut parts: Vec<Region>) -> Region {
        if parts.len() <= 1 {
            return parts.pop().unwrap_or_default();
        }
        let later = parts.split_off(parts.len() / 2);
        Region::united(parts).union(&Region::united(later))
    }

    /// The region as a path of straight lines, in mm.
    pub fn path(&self) -> BezPath {
        let mut path = BezPath::new();
        for contour in &self.contours {
            let points = contour.iter().map(|at| Point::new(from_grid(at.x), from_grid(at.y)));
            path.extend(closed_line(points));
        }
        path
    }

    /// The region as the data of an SVG path, y downwards as SVG has it, in mm with four decimals.
    pub fn svg_path(&self) -> String {
        use std::fmt::Write;
        let mut data = String::with_capacity(self.vertex_count() * 14);
        for contour in &self.contours {
            for (i, point) in contour.iter().enumerate() {
                let letter = if i == 0 { 'M' } else { 'L' };
                let (x, y) = (from_grid(point.x), -from_grid(point.y));
                let (x, y) = ((x * 1e4).round() / 1e4, (y * 1e4).round() / 1e4);
                let _ = write!(data, "{letter}{} {}", x + 0.0, y + 0.0);
            }
            data.push('Z');
        }
        data
    }
}

/// How regions lie to each other, by their boxes.
enum Crowd {
    /// No two boxes meet.
    Apart,
    /// Boxes meet those beside them, as letters of a line do.
    Neighbours,
    /// Many boxes lie on each other.
    Heap,
}

impl Crowd {
    fn of(parts: &[Region]) -> Crowd {
        /// Boxes that one box meets in a crowd of neighbours, on average: two lines of letters that
        /// touch have six.
        const NEIGHBOURS: usize = 8;
        let mut boxes: Vec<Rect> = parts.iter().filter_map(Region::bounds).collect();
        boxes.sort_by(|a, b| a.x0.total_cmp(&b.x0));
        let meeting = boxes.iter().enumerate().flat_map(|(i, a)| {
            let later = boxes[i + 1..].iter().take_while(|b| b.x0 <= a.x1);
            later.filter(|b| b.y0 <= a.y1 && a.y0 <= b.y1)
        });
        match meeting.take(NEIGHBOURS * parts.len() + 1).count() {
            0 => Crowd::Apart,
            pairs if pairs <= NEIGHBOURS * parts.len() => Crowd::Neighbours,
            _ => Crowd::Heap,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plane::{circle, rounded_rectangle};

    fn square(side: f64) -> Region {
        rounded_rectangle(Rect::centred(side, side), 0.0, Tolerance::Normal)
    }

    #[test]
    fn booleans_keep_their_areas() {
        let plate = square(20.0);
        let hole = circle((10.0, 0.0), 3.0, Tolerance::Fine);
        let inside = plate.intersection(&hole);
        assert!((inside.area() - hole.area() / 2.0).abs() < 1e-3);
        assert!((plate.difference(&hole).area() + inside.area() - 400.0).abs() < 1e-3);
        let union = plate.union(&hole);
        assert!((union.area() - 400.0 - hole.area() + inside.area()).abs() < 1e-3);
        assert!(plate.difference(&square(21.0)).is_empty());
    }

    #[test]
    fn overlapping_contours_of_either_turn_become_one_region() {
        let area = |svg: &str| {
            let path = BezPath::from_svg(svg).unwrap();
            Region::from_path(&path, Tolerance::Normal).area()
        };
        // Two squares of 100 mm² that share 25 mm², a loop without area, an open last side.
        assert_eq!(area("M0 0H10V10H0Z M5 5H15V15H5Z M2 2H2V2Z"), 175.0);
        assert_eq!(area("M0 0V10H10V0Z M5 5V15H15V5"), 175.0);
        // Turning the other way, the second takes the overlap out, as a counter does.
        assert_eq!(area("M0 0H10V10H0Z M5 5V15H15V5Z"), 150.0);
    }

    /// Beams through one point, and blocks thrown about beside them.
    fn heap() -> Vec<Region> {
        let beams = (0..60).map(|i| {
            let beam = Rect::centred(12.0 + f64::from(i % 7), 0.35);
            rounded_rectangle(beam, 0.0, Tolerance::Normal).turned(f64::from(i) * 73.0)
        });
        let blocks = (0..60).map(|i| {
            let (x, y) = (f64::from(i * 37 % 61) / 9.0, f64::from(i * 53 % 67) / 9.0);
            square(2.0).turned(f64::from(i) * 11.0).moved(x, y)
        });
        beams.chain(blocks).collect()
    }

    #[test]
    fn a_heap_is_what_one_union_of_all_is() {
        let contours: Vec<_> = heap().into_iter().flat_map(|part| part.contours).collect();
        let at_once = Region::resolve(&contours);
        let mut backwards = heap();
        backwards.reverse();
        for gathered in [Region::gather(heap()), Region::gather(backwards)] {
            let apart = gathered.difference(&at_once).union(&at_once.difference(&gathered));
            // Crossings are rounded to the grid at each step, along some 700 mm of outlines.
            assert!(apart.area() < 1e-3, "{} mm² differ", apart.area());
            assert!((gathered.area() - at_once.area()).abs() < 1e-3);
        }
    }
}
