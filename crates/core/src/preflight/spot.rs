//! Where a finding is: shapes of its own, each seen from somewhere and between two heights.

use super::Job;
use crate::cache::Stage;
use crate::evaluate::{Along, Placed, Slice};
use crate::piece::FaceName;
use crate::plane::{Rect, Region, Side, Tolerance, rounded_rectangle};
use serde::{Serialize, Serializer};

/// More spots of one finding are not told.
pub(super) const MOST_SPOTS: usize = 100;

/// More points of the spots of one finding are not told.
const MOST_POINTS: usize = 8_000;

/// A place a finding speaks of. Lengths in mm.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Spot {
    /// From where it is seen.
    pub seen: Along,
    /// What is concerned, in its own shape; as an SVG path, y downwards, where it is written.
    #[serde(rename = "path", serialize_with = "as_path")]
    pub shape: Region,
    /// From which height; of a profile, how far from its left end.
    pub bottom: f64,
    /// Up to which.
    pub top: f64,
    /// The two points of an outline that are too near to each other, where that is what was measured.
    pub ends: Option<[(f64, f64); 2]>,
}

fn as_path<S: Serializer>(shape: &Region, to: S) -> Result<S::Ok, S::Error> {
    to.serialize_str(&shape.svg_path())
}

impl Spot {
    /// A shape in a slice.
    pub(super) fn in_slice(slice: &Slice, shape: Region) -> Self {
        Spot { seen: slice.along, shape, bottom: slice.bottom, top: slice.top, ends: None }
    }

    /// The same with the two points that were measured between.
    pub(super) fn between(mut self, ends: [(f64, f64); 2]) -> Self {
        self.ends = Some(ends);
        self
    }

    /// The box round it, unless it is seen in a profile.
    pub(super) fn place(&self) -> Option<Rect> {
        (self.seen != Along::Profile).then(|| self.shape.bounds()).flatten()
    }
}

/// No more spots, and no more points of them, than are told; what has more by itself is the box round it.
pub(super) fn bounded(spots: Vec<Spot>) -> Vec<Spot> {
    let mut points = 0;
    let boxed = |spot: Spot| match spot.shape.bounds() {
        Some(bounds) if spot.shape.vertex_count() > MOST_POINTS => {
            Spot { shape: rounded_rectangle(bounds, 0.0, Tolerance::Draft), ..spot }
        }
        _ => spot,
    };
    let is_within = |spot: &Spot| {
        points += spot.shape.vertex_count();
        points <= MOST_POINTS
    };
    spots.into_iter().map(boxed).take(MOST_SPOTS).take_while(is_within).collect()
}

/// Spots of one shape that lie on each other are one, from the foot of the lowest to the top of the highest.
pub(super) fn stacked(spots: impl Iterator<Item = Spot>) -> Vec<Spot> {
    const NEAR_MM: f64 = 0.01;
    let is_near = |a: f64, b: f64| (a - b).abs() < NEAR_MM;
    let is_over = |one: &Spot, other: &Spot| {
        let [Some(a), Some(b)] = [one.shape.bounds(), other.shape.bounds()] else { return false };
        let is_alike = is_near(a.x0, b.x0)
            && is_near(a.x1, b.x1)
            && is_near(a.y0, b.y0)
            && is_near(a.y1, b.y1)
            && (one.shape.area() - other.shape.area()).abs() < NEAR_MM * one.shape.area();
        let touches = is_near(one.top, other.bottom) || is_near(other.top, one.bottom);
        one.seen == other.seen && is_alike && touches
    };
    let mut all: Vec<Spot> = Vec::new();
    for spot in spots {
        match all.iter_mut().find(|known| is_over(known, &spot)) {
            Some(known) => {
                known.bottom = known.bottom.min(spot.bottom);
                known.top = known.top.max(spot.top);
            }
            None => all.push(spot),
        }
    }
    all
}

/// Of so few places in one region each is looked at by itself, of more the whole region at once.
const FEW: usize = 2;

impl Job<'_> {
    /// What of a region is narrower than `limit` mm, or (outside) of what lies between its outlines, at some places or
    /// somewhere else, in parts that hang together.
    pub(super) fn narrow(
        &self,
        region: &Region,
        places: &[Rect],
        limit: f64,
        side: Side,
    ) -> Vec<Region> {
        let tolerance = self.layout.tolerance;
        if places.len() <= FEW {
            let each = places.iter().map(|place| region.narrow_in(*place, limit, side, tolerance));
            return each.fold(Region::default(), |all, one| all.union(&one)).clumps();
        }
        // Several findings ask for the same.
        let cache = &self.workshop.cache;
        let key = cache.key(Stage::Narrow, (region, limit.to_bits(), side, tolerance));
        cache.kept(key, || region.narrow(limit, side, tolerance)).clumps()
    }

    /// From where what lies on a face is seen.
    pub(super) fn seen(&self, face: FaceName) -> Along {
        match self.layout.face(face) {
            Some(own) if !own.in_sections => Along::Face(face),
            _ => Along::Sections,
        }
    }

    /// A shape on an element, as high as that is.
    pub(super) fn spot(&self, placed: &Placed, shape: Region) -> Spot {
        let seen = self.seen(placed.face);
        Spot { seen, shape, bottom: placed.bottom, top: placed.top, ends: None }
    }

    /// A shape of the blank, from its foot to its face.
    pub(super) fn spot_of_blank(&self, shape: Region) -> Spot {
        let top = self.layout.blank.thickness;
        Spot { seen: Along::Sections, shape, bottom: 0.0, top, ends: None }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plane::circle;

    fn spot(shape: Region, bottom: f64, top: f64) -> Spot {
        Spot { seen: Along::Sections, shape, bottom, top, ends: None }
    }

    fn disc(x: f64) -> Region {
        circle((x, 0.0), 2.0, Tolerance::Fine)
    }

    #[test]
    fn what_goes_on_through_several_slices_is_one_place() {
        let all = [(0.0, 0.0, 1.0), (9.0, 0.0, 1.0), (0.0, 1.0, 2.0), (0.0, 5.0, 6.0)];
        let spots = all.map(|(x, bottom, top)| spot(disc(x), bottom, top));
        let found: Vec<_> =
            stacked(spots.into_iter()).iter().map(|spot| (spot.bottom, spot.top)).collect();
        assert_eq!(found, [(0.0, 2.0), (0.0, 1.0), (5.0, 6.0)]);
    }

    #[test]
    fn what_is_told_has_an_end() {
        let many = (0..300).map(|i| spot(disc(5.0 * f64::from(i)), 0.0, 1.0)).collect();
        let told = bounded(many);
        let points: usize = told.iter().map(|spot| spot.shape.vertex_count()).sum();
        assert!(told.len() == MOST_SPOTS || points + disc(0.0).vertex_count() > MOST_POINTS);
        let crowd = Region::gather((0..300).map(|i| disc(5.0 * f64::from(i))).collect());
        assert!(crowd.vertex_count() > MOST_POINTS);
        let [one] = &bounded(vec![spot(crowd.clone(), 0.0, 1.0)])[..] else { panic!() };
        assert_eq!((one.shape.bounds(), one.shape.vertex_count()), (crowd.bounds(), 4));
    }
}
