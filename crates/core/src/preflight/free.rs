//! Where on a face there is room for something that lies where it cannot stay.

use super::{Job, Remedy};
use crate::evaluate::Placed;
use crate::piece::{Element, Kind};
use crate::plane::{Rect, Region, Tolerance, circle};
use std::borrow::Cow;

/// What is left between things, in mm (common practice, no source).
const LAND_MM: f64 = 1.0;

/// More places are not tried, and at no more the figure itself is looked at.
const MOST_PLACES: usize = 4_000;
const MOST_LOOKS: usize = 300;

/// What is in the way of something else on its face: figures there, what goes through it, and what is cut into it for
/// another component.
fn in_the_way<'a>(job: &'a Job<'_>, of: &'a Placed) -> impl Iterator<Item = Cow<'a, Region>> {
    let openings = job.layout.openings().into_iter().filter(move |opening| {
        opening.face == of.face || opening.through && job.layout.is_on_sections(of)
    });
    let openings = openings.map(|opening| Cow::Owned(opening.region));
    let things = job.pairs().filter_map(move |(element, placed)| {
        let is_here = placed.face == of.face
            || placed.through && job.layout.is_on_sections(placed) && job.layout.is_on_sections(of);
        let is_thing = element.is_figure() || matches!(element.kind, Kind::Hole(_));
        (placed.id != of.id && is_here && is_thing).then_some(Cow::Borrowed(&placed.region))
    });
    things.chain(openings)
}

/// Whether nothing else would lie nearer than a land to something round, so far from its middle to its edge in mm.
pub(super) fn is_free(job: &Job<'_>, placed: &Placed, at: (f64, f64), radius: f64) -> bool {
    let round = circle(at, radius + LAND_MM, Tolerance::Draft);
    let is_near = |thing: &Cow<'_, Region>| {
        thing.bounds().zip(round.bounds()).is_some_and(|(thing, round)| thing.overlaps(&round))
    };
    in_the_way(job, placed).filter(is_near).all(|thing| thing.intersection(&round).is_empty())
}

/// The nearest centre of something round, so far from its middle to its edge in mm, that is within its face and clear
/// of everything else by a land.
pub(super) fn for_round(job: &Job<'_>, placed: &Placed, radius: f64) -> Option<(f64, f64)> {
    let (outline, _) = job.layout.room_for(placed);
    for_round_in(job, placed, radius, outline)
}

/// The same within a part of its face.
pub(super) fn for_round_in(
    job: &Job<'_>,
    placed: &Placed,
    radius: f64,
    part: &Region,
) -> Option<(f64, f64)> {
    let apart = radius + LAND_MM + 0.02;
    let room = part.offset(-apart, Tolerance::Draft);
    let room = in_the_way(job, placed)
        .fold(room, |room, thing| room.difference(&thing.offset(apart, Tolerance::Draft)));
    room.nearest_on_outline(placed.frame.centre())
}

/// Moves a figure to the nearest place in the clear area where nothing else lies.
pub(super) fn moved_there(job: &Job<'_>, element: &Element, placed: &Placed) -> Option<Remedy> {
    if element.locked || element.place().is_none() {
        return None;
    }
    let ink = placed.region.bounds()?;
    let clear = job.layout.clear_of(placed.face)?;
    let things: Vec<Thing> =
        in_the_way(job, placed).filter_map(|thing| Thing::of(&thing)).collect();
    let (outline, _) = job.layout.room_for(placed);
    let within = outline.offset(-job.component.margin.as_mm(), Tolerance::Draft);
    let (figure, round) =
        (Thing::of(&placed.region)?, Thing::of(&placed.region.offset(LAND_MM, Tolerance::Draft))?);
    // The figure itself is moved, and not the box round it, as far as that is not clear of everything.
    let mut looks = 0;
    let mut is_free = |(dx, dy): (f64, f64)| {
        let at = ink.moved(dx, dy);
        let near = at.grown(LAND_MM);
        let meets: Vec<_> = things.iter().filter(|thing| thing.bounds.overlaps(&near)).collect();
        let is_within = clear.contains(&at);
        if looks == MOST_LOOKS {
            return false;
        }
        looks += usize::from(!(meets.is_empty() && is_within));
        (is_within || figure.moved(dx, dy).all(|(part, _)| part.difference(&within).is_empty()))
            && meets.iter().all(|thing| !thing.meets(round.moved(dx, dy)))
    };
    let room = within.bounds().map_or(clear, |room| room.hull(&clear));
    let (dx, dy) = places(ink, [clear, room], &things).into_iter().find(|way| is_free(*way))?;
    let label =
        format!("Move the {} “{}” to where there is room", placed.kind.word(), element.name());
    Some(Remedy { label, edits: vec![job.shift(placed, dx, dy)] })
}

/// Something that lies apart in parts, as words do in letters: two of them are held against each other part by part, and
/// the first that meet decide.
struct Thing {
    parts: Vec<(Region, Rect)>,
    bounds: Rect,
}

impl Thing {
    fn of(region: &Region) -> Option<Self> {
        let parts = region.clumps().into_iter().filter_map(|part| {
            let bounds = part.bounds()?;
            Some((part, bounds))
        });
        Some(Thing { parts: parts.collect(), bounds: region.bounds()? })
    }

    /// Its parts moved by a way in mm, one after the other.
    fn moved(&self, dx: f64, dy: f64) -> impl Iterator<Item = (Region, Rect)> {
        let moved = move |(part, bounds): &(Region, Rect)| {
            (part.clone().moved(dx, dy), bounds.moved(dx, dy))
        };
        self.parts.iter().map(moved)
    }

    /// Whether other parts meet it.
    fn meets(&self, mut others: impl Iterator<Item = (Region, Rect)>) -> bool {
        others.any(|(other, bounds)| {
            let near = self.parts.iter().filter(|(_, own)| own.overlaps(&bounds));
            bounds.overlaps(&self.bounds)
                && near.into_iter().any(|(part, _)| !part.intersection(&other).is_empty())
        })
    }
}

/// The ways to places where a box is within a room and next to the sides of the clear area, its middle or other things,
/// or on a lattice; the shortest first.
fn places(ink: Rect, [clear, room]: [Rect; 2], things: &[Thing]) -> Vec<(f64, f64)> {
    /// The lattice has so many steps.
    const STEPS: i32 = 16;
    let along =
        |[low, high]: [f64; 2], [clear, room]: [[f64; 2]; 2], others: Vec<[f64; 2]>| -> Vec<f64> {
            let most = [room[0] - low, room[1] - high];
            let beside =
                others.iter().flat_map(|[from, to]| [from - LAND_MM - high, to + LAND_MM - low]);
            let ends = [clear[0] - low, clear[1] - high];
            let middle = (ends[0] + ends[1]) / 2.0;
            let step = |i: i32| most[0] + (most[1] - most[0]) * f64::from(i) / f64::from(STEPS);
            let ways = [0.0, ends[0], ends[1], middle].into_iter().chain(beside);
            let ways = ways.chain((0..=STEPS).map(step));
            // A hair of the land is given up for figures somebody would type.
            let ways = ways.map(|mm| (mm * 100.0).round() / 100.0);
            ways.filter(|mm| *mm >= most[0] - 0.01 && *mm <= most[1] + 0.01).collect()
        };
    let boxes = |of: fn(&Rect) -> [f64; 2]| things.iter().map(|thing| of(&thing.bounds)).collect();
    let [across, up] = [|of: &Rect| [of.x0, of.x1], |of: &Rect| [of.y0, of.y1]];
    let rights = along(across(&ink), [across(&clear), across(&room)], boxes(across));
    let ups = along(up(&ink), [up(&clear), up(&room)], boxes(up));
    let mut all: Vec<(f64, f64)> =
        rights.iter().flat_map(|dx| ups.iter().map(move |dy| (*dx, *dy))).collect();
    all.sort_by(|a, b| a.0.hypot(a.1).total_cmp(&b.0.hypot(b.1)));
    all.truncate(MOST_PLACES);
    all
}
