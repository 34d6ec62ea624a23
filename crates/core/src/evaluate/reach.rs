//! Edges as large as they can be carried out.

use super::Prism;
use super::prism::Crest;
use crate::cache::{Kept, Stage};
use crate::piece::Edge;
use crate::plane::{Region, Tolerance};
use crate::solid::Act;
use crate::units::Length;
use crate::workshop::Workshop;

/// Steps a reduced edge is found in. Parts of one step share their profile, and with it the heights
/// at which the solid changes slope; finer steps cost far more than they show.
const STEPS: u32 = 8;

/// The upright wall that stays between the edges at both ends of something, in mm.
const HAIR_MM: f64 = 0.01;

/// How many eighths of a distance the parts of an outline can be drawn in by.
struct Reach {
    /// All of it together.
    whole: u32,
    /// Its parts, where they differ from that.
    parts: Vec<(Region, u32)>,
}

impl Kept for Reach {
    fn bytes(&self) -> usize {
        self.parts.iter().map(|(part, _)| part.bytes() + 8).sum()
    }
}

/// A prism whose edges are as large as they can be carried out: no higher than the prism and no
/// deeper than half its thinnest stroke. Parts that can take less get less, in eighths of what was
/// asked. Also the smallest size that came of it, where any was reduced.
pub(super) fn within_reach(prism: Prism, workshop: &Workshop<'_>) -> (Vec<Prism>, Option<f64>) {
    if prism.crest.is_some() {
        return (crested(prism, workshop), None);
    }
    let asked = prism.top_edge.size().max(prism.bottom_edge.size());
    if asked == 0.0 || prism.outline.is_empty() {
        return (vec![prism], None);
    }
    let height = prism.top - prism.bottom;
    let both = prism.top_edge.size() + prism.bottom_edge.size();
    // Both edges share the height in proportion, and a hair of upright wall stays between them.
    let room = (height - HAIR_MM).max(0.0);
    let share = if both > room { room / both } else { 1.0 };
    let prism = Prism {
        top_edge: within(prism.top_edge, share * prism.top_edge.size()),
        bottom_edge: within(prism.bottom_edge, share * prism.bottom_edge.size()),
        ..prism
    };
    let by_height = share * asked;
    let is_cut = prism.act == Act::Cuts;
    let distance = if is_cut { -by_height } else { by_height };
    let read = (&prism.outline, distance.to_bits(), workshop.tolerance);
    let key = workshop.cache.key(Stage::Reach, read);
    let reach = workshop.cache.kept(key, || Reach::of(&prism.outline, distance, workshop));
    if reach.whole == STEPS {
        let reduced = (by_height < asked).then_some(by_height);
        return (vec![resized(prism, by_height)], reduced);
    }
    let mut by_steps: Vec<Vec<Region>> = vec![Vec::new(); STEPS as usize + 1];
    for (part, steps) in &reach.parts {
        // Cuts also meet their neighbours when they are widened.
        let steps = if is_cut { (*steps).min(reach.whole) } else { *steps };
        by_steps[steps as usize].push(part.clone());
    }
    let mut prisms = Vec::new();
    let mut least = by_height;
    for (steps, parts) in by_steps.into_iter().enumerate().filter(|(_, parts)| !parts.is_empty()) {
        // Just short of where a stroke would break.
        let short = if steps as u32 == STEPS { 1.0 } else { 0.96 };
        let reach = by_height * steps as f64 / f64::from(STEPS) * short;
        least = least.min(reach);
        prisms.push(resized(Prism { outline: Region::gather(parts), ..prism.clone() }, reach));
    }
    (prisms, Some(least))
}

/// Shares of what a crest asks for that are tried one after another: a ridge is never quite sharp, and where
/// lines were flattened they are a little narrower than they should be.
const SHARES: [f64; 7] = [0.97, 0.94, 0.9, 0.8, 0.65, 0.4, 0.2];

/// A prism whose crest comes to as sharp a ridge as its parts allow, each by itself.
fn crested(prism: Prism, workshop: &Workshop<'_>) -> Vec<Prism> {
    let Some(asked) = prism.crest.map(Crest::most) else { return vec![prism] };
    let mut by_share: Vec<Vec<Region>> = vec![Vec::new(); SHARES.len() + 1];
    for part in prism.outline.clumps() {
        let works =
            |share: &f64| workshop.cache.can_be_drawn_in(&part, share * asked, workshop.tolerance);
        let found = SHARES.iter().position(works).unwrap_or(SHARES.len());
        by_share[found].push(part);
    }
    let of_share = |(i, parts): (usize, Vec<Region>)| Prism {
        outline: Region::gather(parts),
        crest: SHARES.get(i).and_then(|share| prism.crest.map(|crest| crest.up_to(share * asked))),
        ..prism.clone()
    };
    by_share.into_iter().enumerate().filter(|(_, parts)| !parts.is_empty()).map(of_share).collect()
}

impl Reach {
    /// How far an outline can be drawn in (grown, where the distance is negative).
    fn of(outline: &Region, distance: f64, workshop: &Workshop<'_>) -> Self {
        let tolerance = workshop.tolerance;
        if distance > 0.0 {
            // What is drawn in meets nothing but itself.
            let parts = outline.clumps().into_iter().map(|part| {
                let able = |by: f64| workshop.cache.can_have_an_edge(&part, by, tolerance);
                let steps = steps_within(distance, able);
                (part, steps)
            });
            let parts: Vec<(Region, u32)> = parts.collect();
            let whole = parts.iter().map(|(_, steps)| *steps).min().unwrap_or(STEPS);
            return Reach { whole, parts };
        }
        let whole = steps_of(outline, distance, tolerance);
        if whole == STEPS {
            return Reach { whole, parts: Vec::new() };
        }
        let parts = outline.parts().into_iter().map(|part| {
            let steps = steps_of(&part, distance, tolerance);
            (part, steps)
        });
        Reach { whole, parts: parts.collect() }
    }
}

/// How many eighths of a distance a region can be drawn in by (grown by, where it is negative)
/// without losing a part, a hole, a stroke or the end of one.
fn steps_of(region: &Region, distance: f64, tolerance: Tolerance) -> u32 {
    steps_within(distance, |by| {
        let level = region.offset(-by, tolerance);
        region.has_as_many_contours_as(&level) && region.keeps_its_ends(&level, by, tolerance)
    })
}

/// How many eighths of a distance are possible.
fn steps_within(distance: f64, is_possible: impl Fn(f64) -> bool) -> u32 {
    let works = |steps: u32| is_possible(distance * f64::from(steps) / f64::from(STEPS));
    if works(STEPS) {
        return STEPS;
    }
    let (mut able, mut unable) = (0, STEPS);
    while unable - able > 1 {
        let middle = (able + unable) / 2;
        if works(middle) { able = middle } else { unable = middle }
    }
    able
}

/// The prism with its edges no larger than a size.
fn resized(prism: Prism, most: f64) -> Prism {
    Prism {
        top_edge: within(prism.top_edge, most),
        bottom_edge: within(prism.bottom_edge, most),
        ..prism
    }
}

/// An edge no larger than a size; one that nobody could see is left square.
fn within(edge: Edge, most: f64) -> Edge {
    match edge {
        _ if most < 0.005 => Edge::Square,
        Edge::Square => Edge::Square,
        Edge::Chamfer(size) => Edge::Chamfer(Length::mm(size.as_mm().min(most))),
        Edge::Round(size) => Edge::Round(Length::mm(size.as_mm().min(most))),
    }
}
