//! The outline of a blank.

use crate::emblems::HEART;
use crate::piece::{Corner, Corners, Outline, Polygon, Star};
use crate::plane::{
    GridPoint, Rect, Region, Tolerance, circle, closed_line, ellipse, quarter_arc,
    rounded_rectangle, to_grid,
};
use crate::workshop::Workshop;
use kurbo::{Affine, BezPath};
use std::f64::consts::{FRAC_PI_2, TAU};

/// The walls of a ring on both sides of its opening come to at least so much together, in mm.
pub(crate) const RING_WALLS_MM: f64 = 0.2;

/// An outline of an overall size in mm, its box centred on the origin.
///
/// What there is no room for is reduced: corners to half the shorter side, roundings to what
/// leaves the shape, an opening to the shorter side. A shape of one's own that is not at hand is nothing.
pub(super) fn outline(outline: &Outline, size: (f64, f64), workshop: &Workshop<'_>) -> Region {
    outlined(outline, size, workshop).0
}

/// A figure of an outline that is smaller than it was typed, for want of room.
#[derive(Debug, Clone, PartialEq)]
pub(crate) struct Reduced {
    /// Its field within the outline: "star.rounding".
    pub field: String,
    /// What was typed, in mm.
    pub asked: f64,
    /// What it came to, in mm.
    pub used: f64,
}

/// What of the figures of an outline of an overall size in mm there was no room for.
pub(crate) fn reduced(
    outline: &Outline,
    (width, height): (f64, f64),
    workshop: &Workshop<'_>,
) -> Vec<Reduced> {
    /// Less than this share nobody sees; roundings are found to about as much.
    const NOTICEABLE: f64 = 0.02;
    let shorter = width.min(height);
    let mut figures: Vec<(String, f64, f64)> = match outline {
        Outline::Rectangle(corners) => {
            let treated = corners.named().into_iter().filter(|(_, corner)| corner.size() > 0.0);
            let of = |(name, corner): (&str, Corner)| {
                (format!("rectangle.{name}.{}", corner.word()), corner.size(), shorter / 2.0)
            };
            treated.map(of).collect()
        }
        Outline::Tag(tag) => vec![("tag.point".to_owned(), tag.point.as_mm(), width)],
        Outline::Scallop(scallop) => {
            vec![("scallop.depth".to_owned(), scallop.depth.as_mm(), shorter / 4.0)]
        }
        Outline::Ring(ring) => {
            vec![("ring.inside".to_owned(), ring.inside.as_mm(), shorter - RING_WALLS_MM)]
        }
        _ => Vec::new(),
    };
    let rounding = match outline {
        Outline::Rectangle(corners) => Some(("rectangle", corners.rounding)),
        Outline::Polygon(polygon) => Some(("polygon", polygon.rounding)),
        Outline::Star(star) => Some(("star", star.rounding)),
        Outline::Tag(tag) => Some(("tag", tag.rounding)),
        _ => None,
    };
    if let Some((kind, asked)) = rounding.filter(|(_, asked)| asked.as_mm() > 0.0) {
        let (_, used) = outlined(outline, (width, height), workshop);
        figures.push((format!("{kind}.rounding"), asked.as_mm(), used));
    }
    let is_less = |(_, asked, most): &(String, f64, f64)| *most < asked * (1.0 - NOTICEABLE);
    figures
        .into_iter()
        .filter(is_less)
        .map(|(field, asked, used)| Reduced { field, asked, used })
        .collect()
}

/// An outline and the radius its corners were rounded by, in mm.
fn outlined(
    outline: &Outline,
    (width, height): (f64, f64),
    workshop: &Workshop<'_>,
) -> (Region, f64) {
    let tolerance = workshop.tolerance;
    let shorter = width.min(height);
    let rect = Rect::centred(width, height);
    let stretched =
        |points: Vec<(f64, f64)>| fitted(&polygon_path(&points), width, height, tolerance);
    let fitting = |path: &BezPath| {
        let path = path.clone();
        move |width: f64, height: f64| fitted(&path, width, height, tolerance)
    };
    let region = match outline {
        Outline::Rectangle(corners) => {
            let sharp = |width: f64, height: f64| {
                let rect = Rect::centred(width, height);
                rectangle(rect, corners, width.min(height) / 2.0, tolerance)
            };
            let rounding = corners.rounding.as_mm();
            return rounded_to_size(sharp, rounding, (width, height), tolerance);
        }
        Outline::Ellipse => ellipse((0.0, 0.0), (width / 2.0, height / 2.0), tolerance),
        Outline::Stadium => rounded_rectangle(rect, shorter / 2.0, tolerance),
        Outline::Polygon(Polygon { sides, turn, rounding, regular: Some(size) }) => {
            let radius = size.circumradius(*sides);
            return regular_polygon((*sides, *turn), radius, rounding.as_mm(), tolerance);
        }
        Outline::Polygon(Polygon { sides, turn, rounding, regular: None }) => {
            let path = polygon_path(&star_points(*sides, 1.0, 1.0, *turn));
            return rounded_to_size(fitting(&path), rounding.as_mm(), (width, height), tolerance);
        }
        Outline::Star(Star { points, inner, turn, rounding }) => {
            let path = polygon_path(&star_points(2 * points, 1.0, *inner, *turn));
            return rounded_to_size(fitting(&path), rounding.as_mm(), (width, height), tolerance);
        }
        Outline::Heart => drawn(HEART, width, height, tolerance),
        Outline::Shield => {
            drawn("M0 0H100V46C100 76 76 92 50 104C24 92 0 76 0 46Z", width, height, tolerance)
        }
        Outline::Arch => arch(rect, tolerance),
        Outline::Tag(tag) => {
            let point = tag.point.as_mm().min(width);
            let shoulder = rect.x0 + point;
            let corners = [
                (rect.x1, rect.y1),
                (shoulder, rect.y1),
                (rect.x0, 0.0),
                (shoulder, rect.y0),
                (rect.x1, rect.y0),
            ];
            let path = polygon_path(&corners);
            let rounding = tag.rounding.as_mm();
            return rounded_to_size(fitting(&path), rounding, (width, height), tolerance);
        }
        Outline::Scallop(scallop) => {
            let depth = scallop.depth.as_mm().min(shorter / 4.0);
            let whole = (width / 2.0, height / 2.0);
            stretched(scalloped(whole, scallop.waves, depth, tolerance))
        }
        Outline::Drawn(drawn) => {
            let shape = workshop.shape(&drawn.shape);
            shape.map(|shape| shape.stretched((width, height), tolerance)).unwrap_or_default()
        }
        // A field has nothing to follow; a plate's contour is found elsewhere.
        Outline::Contour(_) => rounded_rectangle(rect, 0.0, tolerance),
        Outline::Ring(ring) => {
            let whole = ellipse((0.0, 0.0), (width / 2.0, height / 2.0), tolerance);
            let inside = ring.inside.as_mm().min(shorter - RING_WALLS_MM);
            whole.difference(&circle((0.0, 0.0), inside / 2.0, tolerance))
        }
    };
    (region, 0.0)
}

/// A regular polygon whose corners lie on a circle of a radius in mm about the origin; rounding takes its corners and leaves
/// its flats where they are, so that tiles of it meet. With it the radius that was used.
fn regular_polygon(
    (sides, turn): (u32, f64),
    radius: f64,
    rounding: f64,
    tolerance: Tolerance,
) -> (Region, f64) {
    let points = star_points(sides, radius, radius, turn);
    let sharp = Region::from_path(&polygon_path(&points), tolerance);
    let to_a_flat = radius * (std::f64::consts::PI / f64::from(sides.max(3))).cos();
    // A hair of each flat stays.
    let rounding = rounding.min(0.999 * to_a_flat);
    let whole = match rounding > 0.0 {
        true => sharp.offset(-rounding, tolerance).offset(rounding, tolerance),
        false => sharp,
    };
    let (x, y) = whole.bounds().map_or((0.0, 0.0), |bounds| bounds.centre());
    (whole.moved(-x, -y), rounding)
}

/// An ellipse whose edge swells and sinks in waves of equal length along it.
fn scalloped(
    (rx, ry): (f64, f64),
    waves: u32,
    depth: f64,
    tolerance: Tolerance,
) -> Vec<(f64, f64)> {
    const FINE: usize = 2048;
    let on_ellipse = |turn: f64| {
        let (sine, cosine) = (turn * TAU + FRAC_PI_2).sin_cos();
        (rx * cosine, ry * sine)
    };
    // Lengths along the ellipse have no closed form; a fine polygon measures them.
    let mut lengths = vec![0.0];
    for i in 0..FINE {
        let [(ax, ay), (bx, by)] = [i, i + 1].map(|i| on_ellipse(i as f64 / FINE as f64));
        lengths.push(lengths[i] + (bx - ax).hypot(by - ay));
    }
    let whole = lengths[FINE];
    let steps = waves as usize * 4 * quarter_arc(whole / f64::from(waves) / 4.0, tolerance).count();
    (0..steps)
        .map(|i| {
            let along = i as f64 / steps as f64;
            let at = lengths.partition_point(|length| *length < along * whole);
            let (x, y) = on_ellipse(at as f64 / FINE as f64);
            let (nx, ny) = (x / (rx * rx), y / (ry * ry));
            let inwards =
                depth * (1.0 - (f64::from(waves) * along * TAU / 2.0).cos().abs()) / nx.hypot(ny);
            (x - inwards * nx, y - inwards * ny)
        })
        .collect()
}

/// A rectangle with its corners treated, none by more than `most` mm.
fn rectangle(rect: Rect, corners: &Corners, most: f64, tolerance: Tolerance) -> Region {
    // Counter-clockwise from the top right: the corner, the way it is come to and left by.
    let order = [
        ((rect.x1, rect.y1), (0.0, 1.0), corners.top_right),
        ((rect.x0, rect.y1), (-1.0, 0.0), corners.top_left),
        ((rect.x0, rect.y0), (0.0, -1.0), corners.bottom_left),
        ((rect.x1, rect.y0), (1.0, 0.0), corners.bottom_right),
    ];
    let mut points: Vec<GridPoint> = Vec::new();
    for ((x, y), (ix, iy), corner) in order {
        let size = corner.size().min(most);
        let (ox, oy) = (-iy, ix);
        let mut push = |along_in: f64, along_out: f64| {
            let point = GridPoint::new(
                to_grid(x + size * (ix * along_in + ox * along_out)),
                to_grid(y + size * (iy * along_in + oy * along_out)),
            );
            if points.last() != Some(&point) {
                points.push(point);
            }
        };
        match corner {
            _ if size == 0.0 => push(0.0, 0.0),
            Corner::Square => push(0.0, 0.0),
            Corner::Chamfer(_) => {
                push(-1.0, 0.0);
                push(0.0, 1.0);
            }
            Corner::Round(_) => {
                quarter_arc(size, tolerance).for_each(|(c, s)| push(s - 1.0, 1.0 - c));
            }
            Corner::Scoop(_) => quarter_arc(size, tolerance).for_each(|(c, s)| push(-c, s)),
        }
    }
    if points.first() == points.last() {
        points.pop();
    }
    Region::resolve(&[points])
}

fn arch(rect: Rect, tolerance: Tolerance) -> Region {
    let (rx, ry) = (rect.width() / 2.0, (rect.width() / 2.0).min(rect.height()));
    let spring = rect.y1 - ry;
    let quarter: Vec<(f64, f64)> = quarter_arc(rx.max(ry), tolerance).collect();
    let right = quarter.iter().map(|&(c, s)| (rx * c, spring + ry * s));
    let left = quarter.iter().map(|&(c, s)| (-rx * s, spring + ry * c));
    let points: Vec<_> =
        right.chain(left).chain([(rect.x0, rect.y0), (rect.x1, rect.y0)]).collect();
    Region::from_path(&polygon_path(&points), tolerance)
}

/// Points alternating between two radii about the origin; at no turn the first points up.
fn star_points(count: u32, outer: f64, inner: f64, turn: f64) -> Vec<(f64, f64)> {
    (0..count)
        .map(|i| {
            let radius = if i % 2 == 0 || inner == outer { outer } else { inner };
            let angle = f64::from(i) / f64::from(count) * TAU + FRAC_PI_2 + turn.to_radians();
            (radius * angle.cos(), radius * angle.sin())
        })
        .collect()
}

fn polygon_path(points: &[(f64, f64)]) -> BezPath {
    closed_line(points.iter().map(|&at| at.into()))
}

fn drawn(svg: &str, width: f64, height: f64, tolerance: Tolerance) -> Region {
    let path = Affine::FLIP_Y * BezPath::from_svg(svg).unwrap_or_default();
    fitted(&path, width, height, tolerance)
}

/// A path stretched to a size, its box centred on the origin.
fn fitted(path: &BezPath, width: f64, height: f64, tolerance: Tolerance) -> Region {
    let frame = kurbo::Shape::bounding_box(path);
    let placing = Affine::scale_non_uniform(width / frame.width(), height / frame.height())
        * Affine::translate(-frame.center().to_vec2());
    Region::from_path(&(placing * path.clone()), tolerance)
}

/// A shape rounded so that the rounded one has the overall size: what the corners lose, the sharp shape is
/// made larger by. `sharp` gives it at a size in mm. With it the radius that was used.
fn rounded_to_size(
    sharp: impl Fn(f64, f64) -> Region,
    radius: f64,
    (width, height): (f64, f64),
    tolerance: Tolerance,
) -> (Region, f64) {
    const ROUNDS: usize = 6;
    let (mut w, mut h) = (width, height);
    let (mut region, mut used) = (Region::default(), 0.0);
    for _ in 0..ROUNDS {
        (region, used) = rounded(sharp(w, h), radius, tolerance);
        let Some(got) = region.bounds().filter(|_| radius > 0.0) else { return (region, used) };
        let (short, low) = (width - got.width(), height - got.height());
        if short.abs().max(low.abs()) < 2e-3 {
            break;
        }
        (w, h) = (w + short, h + low);
    }
    let (x, y) = region.bounds().map_or((0.0, 0.0), |bounds| bounds.centre());
    (region.moved(-x, -y), used)
}

/// Corners rounded by an opening and valleys by a closing (mathematical morphology), by as much of
/// the radius as leaves the shape in one piece; with that radius.
fn rounded(region: Region, radius: f64, tolerance: Tolerance) -> (Region, f64) {
    if radius <= 0.0 {
        return (region, 0.0);
    }
    let radius = region.workable_inset(radius, tolerance);
    let opened = region.offset(-radius, tolerance).offset(radius, tolerance);
    (opened.offset(radius, tolerance).offset(-radius, tolerance), radius)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::piece::{Ring, Scallop, Tag};
    use crate::units::Length;
    use std::f64::consts::PI;

    const MM: fn(f64) -> Length = Length::mm;

    fn at(tolerance: Tolerance, wanted: &Outline, size: (f64, f64)) -> Region {
        crate::testing::with_workshop(tolerance, |workshop| outline(wanted, size, workshop))
    }

    fn area(width: f64, height: f64, outline_: Outline) -> f64 {
        let region = at(Tolerance::Fine, &outline_, (width, height));
        let bounds = region.bounds().unwrap();
        assert!((bounds.width() - width).abs() < 0.02, "{bounds:?}");
        assert!((bounds.height() - height).abs() < 0.02, "{bounds:?}");
        region.area()
    }

    /// Closed forms, each within what flattening at 0.005 mm takes along the outline.
    #[test]
    fn outlines_have_their_closed_form_areas() {
        let close = |found: f64, exact: f64, perimeter: f64| {
            assert!((found - exact).abs() < 0.005 * perimeter + 1e-3, "{found} is not {exact}");
        };
        let (w, h) = (72.0, 24.0);
        let corner = |corner| Outline::Rectangle(Corners::all(corner));
        close(area(w, h, corner(Corner::Square)), w * h, 0.0);
        close(area(w, h, corner(Corner::Chamfer(MM(7.0)))), w * h - 2.0 * 49.0, 0.0);
        // A chamfer of 7 whose ends are rounded by 2: each of eight corners of 135° loses what lies between
        // its sides and the arc, r² (tan(φ) − φ) with φ = π/8.
        let eased = Corners { rounding: MM(2.0), ..Corners::all(Corner::Chamfer(MM(7.0))) };
        let lost = 8.0 * 4.0 * ((PI / 8.0).tan() - PI / 8.0);
        close(area(w, h, Outline::Rectangle(eased)), w * h - 2.0 * 49.0 - lost, 13.0);
        close(area(w, h, corner(Corner::Round(MM(5.0)))), w * h - (4.0 - PI) * 25.0, 32.0);
        close(area(w, h, corner(Corner::Scoop(MM(5.0)))), w * h - PI * 25.0, 32.0);
        close(area(w, h, Outline::Ellipse), PI * w * h / 4.0, 160.0);
        close(area(50.0, 50.0, Outline::Ellipse), PI * 625.0, 157.0);
        close(area(w, h, Outline::Stadium), (w - h) * h + PI * h * h / 4.0, 76.0);
        close(area(w, 60.0, Outline::Arch), w * 24.0 + PI * 36.0 * 36.0 / 2.0, 113.0);
        close(
            area(w, h, Outline::Ring(Ring { inside: MM(10.0) })),
            PI * w * h / 4.0 - PI * 25.0,
            190.0,
        );
        let tag = Tag { point: MM(12.0), rounding: MM(0.0) };
        close(area(w, h, Outline::Tag(tag)), 60.0 * h + 12.0 * h / 2.0, 0.0);
        // A regular hexagon 150 mm across corners, point up: 3√3/2 · R², 129.9 mm across flats.
        let hexagon = Polygon { sides: 6, turn: 0.0, rounding: MM(0.0), regular: None };
        let flats = 150.0 * 3f64.sqrt() / 2.0;
        close(area(flats, 150.0, Outline::Polygon(hexagon)), 1.5 * 3f64.sqrt() * 75.0 * 75.0, 0.0);
        // Rounding the corners of an n-gon by r takes (n tan(π/n) − π) r² off.
        let round = Polygon { sides: 6, turn: 0.0, rounding: MM(10.0), regular: None };
        // Its sharp hexagon is regular when the two rounded tips have lost 2 r (2/√3 − 1).
        let tall = 150.0 - 20.0 * (2.0 / 3f64.sqrt() - 1.0);
        let lost = (6.0 * (PI / 6.0).tan() - PI) * 100.0;
        let exact = 1.5 * 3f64.sqrt() * 75.0 * 75.0 - lost;
        close(area(flats, tall, Outline::Polygon(round)), exact, 450.0);
        let scallop = Scallop { waves: 12, depth: MM(2.0) };
        let waved = area(60.0, 60.0, Outline::Scallop(scallop));
        assert!(waved < PI * 900.0 && waved > PI * 28.0 * 28.0);
    }

    #[test]
    fn what_there_is_no_room_for_is_reduced() {
        let draft = |wanted: Outline| at(Tolerance::Draft, &wanted, (72.0, 24.0));
        let corner = |size| draft(Outline::Rectangle(Corners::all(Corner::Round(MM(size)))));
        assert_eq!(corner(200.0), corner(12.0));
        let star = Star { points: 5, inner: 0.4, turn: 0.0, rounding: MM(100.0) };
        assert_eq!(draft(Outline::Star(star)).contours().len(), 1);
        let ring = Ring { inside: MM(400.0) };
        assert!(!draft(Outline::Ring(ring)).is_empty());
    }
}
