//! Loops: rings that stand outside the outline.

use super::super::ground::Ground;
use super::super::relations::Boxes;
use super::super::relief::through_cut;
use super::{Figure, Work};
use crate::evaluate::{Joined, Placed, Prism};
use crate::piece::{Element, Kind, Loop, LoopPlace, Span};
use crate::plane::{Rect, Region, Tolerance, rounded_rectangle};
use crate::solid::Act;

impl Work for Loop {
    /// As thick as the plate it becomes part of it, and only its hole is a prism of its own.
    fn place(&self, head: &Element, ground: &mut Ground<'_>) -> Placed {
        let (tolerance, thickness) = (ground.workshop.tolerance, ground.face.thickness);
        let outline = &ground.face.outline;
        let stand = place_loop(self, outline, tolerance);
        let (width, height) = stand.size;
        let size = if self.ribbon.is_some() { width.max(height) } else { width };
        let frame = Rect::centred(size, size).moved(stand.centre.0, stand.centre.1);
        let mut prisms = Vec::new();
        let (height, edges) = match self.own {
            None => {
                if self.colour.is_some() {
                    let beside = stand.region.difference(outline);
                    prisms.push(Prism::square(Act::Paints, beside, 0.0, thickness));
                }
                (thickness, ground.face.edges)
            }
            Some(own) => {
                let edges = own.edges;
                // Where it meets the plate its own edges are buried in it.
                let root = edges.top.size().max(edges.bottom.size()) + 0.1;
                let joined = with_loop(outline, &stand.region, 0.0, tolerance);
                let rooted = stand.region.offset(root, tolerance).intersection(&joined);
                let body = Prism {
                    top_edge: edges.top,
                    bottom_edge: edges.bottom,
                    ..Prism::square(Act::Adds, rooted, 0.0, own.thickness.as_mm())
                };
                prisms.push(body);
                (own.thickness.as_mm(), edges)
            }
        };
        prisms.extend(through_cut(&stand.hole, height, edges));
        let joins = self
            .own
            .is_none()
            .then(|| Joined { region: stand.region.clone(), blend: self.blend.as_mm() });
        let region = stand.region.difference(&stand.hole);
        let placed = ground.placed(head, region, frame, prisms);
        Placed {
            act: Act::Adds,
            through: false,
            root: 0.0,
            bottom: 0.0,
            top: height,
            joins,
            ..placed
        }
    }

    fn figure(&self, _: &Element, _: &Ground<'_>) -> Option<Figure> {
        None
    }

    fn asked(&self, _: &Ground<'_>) -> Option<Boxes> {
        None
    }
}

impl Loop {
    /// 8 mm inside with 2 mm of wall, at the left end, or where no other loop is yet.
    pub(super) fn fresh(ground: &Ground<'_>) -> Self {
        let has = |angle: f64| {
            let apart = |other: f64| ((other - angle).rem_euclid(360.0) - 180.0).abs();
            ground.component.elements.iter().any(|element| match &element.kind {
                Kind::Loop(Loop { at: LoopPlace::Angle(other), .. }) => apart(*other) > 150.0,
                _ => false,
            })
        };
        let free =
            [180.0, 0.0, 90.0, -90.0, 135.0, 45.0, -135.0, -45.0].into_iter().find(|at| !has(*at));
        Loop {
            at: LoopPlace::Angle(free.unwrap_or(180.0)),
            inside: ground.customary(8.0, 5.0 / 16.0),
            ribbon: None,
            wall: ground.customary(2.0, 3.0 / 32.0),
            blend: ground.customary(3.0, 1.0 / 8.0),
            own: None,
            colour: None,
        }
    }
}

/// A loop in its place.
struct PlacedLoop {
    /// Centre of its hole in mm.
    centre: (f64, f64),
    /// What it adds to the outline: ring without its hole, and the blend.
    region: Region,
    /// Its hole.
    hole: Region,
    /// Overall size along the outline and square to it, before it is turned, in mm.
    size: (f64, f64),
}

/// Puts a loop at an outline: so far out that its hole just clears the plate. Where nothing of the plate lies on its
/// way, as in the mouth of a C, it stands at the edge that is nearest to where the way leads.
fn place_loop(ring: &Loop, outline: &Region, tolerance: Tolerance) -> PlacedLoop {
    let (inner, wall) = (ring.inside.as_mm() / 2.0, ring.wall.as_mm());
    let stretch = ring.ribbon.map_or(0.0, |length| (length.as_mm() / 2.0 - inner).max(0.0));
    // A loop stands outside, also of a ring whose opening would have room for it.
    let filled = outline.without_openings();
    let far = outline.bounds().map_or(0.0, |b| b.width().hypot(b.height())) + inner + stretch;
    let (foot, way) = stand(ring.at, &filled);
    let led = |foot, way| led_out(foot, way, (inner, stretch, far), &filled);
    let (centre, (nx, ny)) = led(foot, way).map(|centre| (centre, way)).unwrap_or_else(|| {
        let beyond = (foot.0 + far * way.0, foot.1 + far * way.1);
        let (foot, way) = filled.outward_at(beyond).unwrap_or((foot, way));
        (led(foot, way).unwrap_or(foot), way)
    });
    let turn = ny.atan2(nx).to_degrees() - 90.0;
    let rounded = |radius: f64| {
        let frame = Rect::centred(2.0 * (stretch + radius), 2.0 * radius);
        rounded_rectangle(frame, radius, tolerance).turned(turn).moved(centre.0, centre.1)
    };
    let disc = rounded(inner + wall);
    let blend = ring.blend.as_mm();
    let region = if blend > 0.0 {
        let about = |side: f64| {
            let frame = Rect::centred(side, side).moved(centre.0, centre.1);
            rounded_rectangle(frame, 0.0, tolerance)
        };
        // A closing fills every crevice of the outline; only those beside the loop are wanted. What it makes of a place
        // depends on what lies within twice its radius.
        let reach = 2.0 * (inner + stretch + wall + blend);
        let joined = outline.intersection(&about(reach + 4.0 * blend + 1.0)).union(&disc);
        let closed = joined.offset(blend, tolerance).offset(-blend, tolerance);
        // Flattening leaves slivers along the outline; a blend is a good part of a square radius.
        let fillets = closed.difference(&joined).intersection(&about(reach)).parts();
        let real = fillets.into_iter().filter(|part| part.area() > 0.01 * blend * blend);
        real.fold(disc, |whole, part| whole.union(&part))
    } else {
        disc
    };
    let radius = inner + wall;
    PlacedLoop {
        centre,
        region,
        hole: rounded(inner),
        size: (2.0 * (stretch + radius), 2.0 * radius),
    }
}

/// Where an opening, of a radius and a stretch in mm, just clears an outline, led in from so far out on a way from a foot;
/// nothing where the outline never comes near that way.
fn led_out(
    foot: (f64, f64),
    (nx, ny): (f64, f64),
    (inner, stretch, far): (f64, f64, f64),
    filled: &Region,
) -> Option<(f64, f64)> {
    let at = |distance: f64| (foot.0 + distance * nx, foot.1 + distance * ny);
    // The opening is everything within its radius of a stretch along the outline.
    let clearance = |distance: f64| {
        let (x, y) = at(distance);
        let along = |share: f64| (x - share * stretch * ny, y + share * stretch * nx);
        let samples: &[f64] = if stretch > 0.0 { &[-1.0, -0.5, 0.0, 0.5, 1.0] } else { &[0.0] };
        let outside = samples.iter().map(|share| -filled.depth_of(along(*share)));
        let least = outside.fold(f64::INFINITY, f64::min);
        if stretch == 0.0 {
            return least;
        }
        let corners = filled.edges().map(|((px, py), _)| {
            let (dx, dy) = (px - x, py - y);
            let across = (dx * nx + dy * ny).abs();
            let beyond = ((dy * nx - dx * ny).abs() - stretch).max(0.0);
            across.hypot(beyond)
        });
        corners.fold(least, f64::min)
    };
    // From outside inwards, so that what comes first stops it, whatever lies further in.
    const MOST_STEPS: f64 = 500.0;
    let step = inner.max(far / MOST_STEPS);
    let steps = (far / step).ceil() as usize;
    let ways = (0..=steps).rev().map(|i| i as f64 * step);
    let mut near = ways.into_iter().find(|distance| clearance(*distance) < inner)?;
    let mut clear = near + step;
    for _ in 0..48 {
        let middle = (near + clear) / 2.0;
        if clearance(middle) >= inner { clear = middle } else { near = middle }
    }
    Some(at(clear))
}

/// An outline with a loop joined to it.
pub(in crate::evaluate) fn with_loop(
    whole: &Region,
    ring: &Region,
    blend: f64,
    tolerance: Tolerance,
) -> Region {
    // The closing fills the hair-thin slits that flattening leaves where arcs run together.
    const SLIT_MM: f64 = 0.03;
    let joined = whole.union(ring).without_small_holes(blend * blend);
    joined.offset(SLIT_MM, tolerance).offset(-SLIT_MM, tolerance)
}

/// The point a loop is led out from, and the direction it is led in.
fn stand(at: LoopPlace, outline: &Region) -> ((f64, f64), (f64, f64)) {
    match at {
        LoopPlace::Angle(angle) => {
            let (sine, cosine) = angle.to_radians().sin_cos();
            ((0.0, 0.0), (cosine, sine))
        }
        LoopPlace::Point(place) => {
            let bounds = outline.bounds().unwrap_or(Rect::centred(0.0, 0.0));
            let across = Span { low: bounds.x0, high: bounds.x1 };
            let up = Span { low: bounds.y0, high: bounds.y1 };
            let x = place.across.resolve(0.0, across, across);
            let y = place.up.resolve(0.0, up, up);
            outline.outward_at((x, y)).unwrap_or(((0.0, 0.0), (-1.0, 0.0)))
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::evaluate::outline::outline;
    use crate::piece::{Across, HolePlace, Offset, Outline, Ring, Star, Up};
    use crate::testing::with_workshop;
    use crate::units::Length;

    const MM: fn(f64) -> Length = Length::mm;

    fn ring(at: LoopPlace, ribbon: Option<f64>) -> Loop {
        Loop {
            at,
            inside: MM(8.0),
            ribbon: ribbon.map(Length::mm),
            wall: MM(2.0),
            blend: MM(3.0),
            own: None,
            colour: None,
        }
    }

    fn point(x: f64, y: f64) -> LoopPlace {
        LoopPlace::Point(HolePlace {
            across: Offset { from: Across::Centre, distance: MM(x) },
            up: Offset { from: Up::Centre, distance: MM(y) },
        })
    }

    #[test]
    fn a_loop_stands_clear_of_the_plate_and_holds_to_it() {
        let star = Star { points: 5, inner: 0.5, turn: 0.0, rounding: MM(1.0) };
        let ring_shaped = Outline::Ring(Ring { inside: MM(30.0) });
        for shape in [Outline::Stadium, Outline::Ellipse, Outline::Star(star), ring_shaped] {
            let plate = with_workshop(Tolerance::Normal, |workshop| {
                outline(&shape, (72.0, 48.0), workshop)
            });
            let places = [180.0, 90.0, 0.0, 37.0, -160.0].map(LoopPlace::Angle);
            for at in places.into_iter().chain([point(-20.0, 20.0), point(3.0, -40.0)]) {
                for ribbon in [None, Some(20.0)] {
                    let ring = ring(at, ribbon);
                    let placed = place_loop(&ring, &plate, Tolerance::Normal);
                    assert!(placed.hole.intersection(&plate).area() < 0.02, "{at:?} {ribbon:?}");
                    let whole = plate.union(&placed.region).difference(&placed.hole);
                    assert_eq!(whole.parts().len(), 1, "{at:?} {ribbon:?}");
                    // The blend fills what a sharp joint leaves open, and just what closing all of the outline would fill
                    // there.
                    let blend = ring.blend.as_mm();
                    let sharp = Loop { blend: MM(0.0), ..ring };
                    let sharp = place_loop(&sharp, &plate, Tolerance::Normal);
                    assert!(placed.region.area() > sharp.region.area());
                    let joined = plate.union(&sharp.region);
                    let closed = joined.offset(blend, Tolerance::Normal);
                    let closed = closed.offset(-blend, Tolerance::Normal).difference(&joined);
                    let filled = placed.region.difference(&joined);
                    assert!(filled.difference(&closed).area() < 1e-3, "{at:?} {ribbon:?}");
                    let beside = sharp.region.offset(blend, Tolerance::Normal);
                    let missed = closed.intersection(&beside).difference(&filled).parts();
                    let largest = missed.iter().map(Region::area).fold(0.0, f64::max);
                    assert!(largest <= 0.01 * blend * blend, "{at:?} {ribbon:?}: {largest}");
                }
            }
        }
    }

    #[test]
    fn a_loop_at_a_point_stands_square_to_the_nearest_edge() {
        let plate = with_workshop(Tolerance::Fine, |workshop| {
            outline(&Outline::Stadium, (72.0, 24.0), workshop)
        });
        // Above the straight side, 20 mm left of the middle: half the opening beyond the edge.
        let placed = place_loop(&ring(point(-20.0, 40.0), None), &plate, Tolerance::Fine);
        assert!((placed.centre.0 + 20.0).abs() < 0.01 && (placed.centre.1 - 16.0).abs() < 0.01);
        // A ribbon of 20 × 8 mm: a slot with half-round ends.
        let ribbon = place_loop(&ring(point(0.0, 40.0), Some(20.0)), &plate, Tolerance::Fine);
        let bounds = ribbon.hole.bounds().unwrap();
        assert!((bounds.width() - 20.0).abs() < 1e-3 && (bounds.height() - 8.0).abs() < 1e-3);
        assert!((bounds.y0 - 12.0).abs() < 0.01);
    }
}
