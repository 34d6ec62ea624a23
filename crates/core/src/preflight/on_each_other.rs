//! Figures that lie on each other, and elements that are there twice.

use super::{Finding, Job, Remedy, SMALLEST_LETTERS_MM, Weight, free, rounded_down, rounded_up};
use crate::evaluate::{Placed, WayOnFace};
use crate::lettering::Reading;
use crate::piece::{Course, Edit, Element, Kind, LetterSize, Repeat};
use crate::plane::Rect;
use crate::solid::Act;
use serde_json::json;

/// Less than this, or than this share of the smaller, is a touch, in mm².
const NOTICEABLE_MM2: f64 = 0.05;
const NOTICEABLE: f64 = 0.01;

/// What has this share of it on another lies within it.
const WITHIN: f64 = 0.98;

/// What differs less in height is level, in mm.
const LEVEL_MM: f64 = 0.05;

/// Between two that share the clear area, as a share of its height (ours).
const GAP_SHARE: f64 = 0.12;

/// More pairs whose boxes meet are not looked at.
const MOST_PAIRS: usize = 2_000;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let all: Vec<(&Element, &Placed)> = job.pairs().collect();
    let pairs = (0..all.len()).flat_map(|i| (i + 1..all.len()).map(move |j| (i, j)));
    let pairs = pairs.map(|(i, j)| (all[i], all[j])).filter(|(one, other)| {
        one.1.face == other.1.face && one.1.frame.overlaps(&other.1.frame.grown(1.0))
    });
    let mut findings = Vec::new();
    for (one, other) in pairs.take(MOST_PAIRS) {
        if is_twice(one.0, other.0) {
            findings.push(twice(job, other));
        } else if one.0.is_figure() && other.0.is_figure() {
            findings.extend(overlapping(job, one, other));
        }
    }
    findings
}

/// Whether two elements of one face are the same in everything but their ids.
fn is_twice(one: &Element, other: &Element) -> bool {
    one.kind == other.kind
}

fn twice(job: &Job<'_>, (element, placed): (&Element, &Placed)) -> Finding {
    let what = placed.kind.word();
    let message = format!("The {what} “{}” is there twice, one on the other.", element.name());
    let edit = Edit::Remove { target: job.address(&placed.id) };
    job.finding("same-twice", Weight::Should, &placed.id, message)
        .at(placed.frame)
        .remedy("Take one of them away", vec![edit])
}

fn overlapping(
    job: &Job<'_>,
    one: (&Element, &Placed),
    other: (&Element, &Placed),
) -> Option<Finding> {
    let ((first, below), (second, above)) = (one, other);
    // Openwork is meant to join.
    if first.stands_on_the_bed() && second.stands_on_the_bed() {
        return None;
    }
    let [a, b] = [below.region.bounds()?, above.region.bounds()?];
    if !a.overlaps(&b) {
        return None;
    }
    let shared = below.region.intersection(&above.region);
    let [small, area] = [below.region.area().min(above.region.area()), shared.area()];
    if area < NOTICEABLE_MM2 || area < NOTICEABLE * small {
        return None;
    }
    // Words on an emblem that is lower, or sunk into one, are meant.
    let is_within = area >= WITHIN * above.region.area();
    let shows = above.act != below.act
        || above.colour != below.colour
        || above.act == Act::Adds && above.top > below.top + LEVEL_MM;
    if is_within && shows {
        return None;
    }
    let called = |(element, placed): (&Element, &Placed)| {
        format!("the {} “{}”", placed.kind.word(), element.name())
    };
    let [low, high] = [called(one), called(other)];
    let message = format!("{} and {low} lie on each other.", capital(&high));
    let place = shared.bounds().unwrap_or(b);
    let finding = job.finding("on-each-other", Weight::Must, &above.id, message).at(place);
    let mut finding = finding.spots([job.spot(above, shared)]);
    finding.remedies = apart(job, one, other, place);
    // Where the shortest ways are taken, there may be room elsewhere.
    let elsewhere = free::moved_there(job, other.0, other.1);
    let elsewhere = elsewhere.or_else(|| free::moved_there(job, one.0, one.1));
    let second = finding.remedies.len().min(2);
    finding.remedies.splice(second..second, elsewhere);
    finding.remedies.extend(one_below_the_other(job, one, other));
    finding.remedies.extend(smaller_on_circle(job, one.1, other.1));
    let turned = [other, one].into_iter().filter_map(|of| to_the_other_side(job, of));
    finding.remedies.extend(turned);
    Some(finding)
}

/// Words that lie on each other, each in a half of the clear area: what was there first above.
fn one_below_the_other(
    job: &Job<'_>,
    one: (&Element, &Placed),
    other: (&Element, &Placed),
) -> Option<Remedy> {
    let clear = job.layout.clear_of(one.1.face)?;
    let gap = GAP_SHARE * clear.height();
    let half = (clear.height() - gap) / 2.0;
    let up_by = (half + gap) / 2.0;
    let mut edits = Vec::new();
    for ((element, placed), up) in [(one, up_by), (other, -up_by)] {
        let Kind::Lettering(lettering) = &element.kind else { return None };
        let is_plain = lettering.course == Course::Straight && lettering.turn == 0.0;
        if element.locked || !is_plain || lettering.repeat != Repeat::Once {
            return None;
        }
        let id = &placed.id;
        edits.extend([
            job.set(id, "size", json!({ "box": { "width": clear.width(), "height": half } })),
            job.place(id, "across", "clear", 0.0),
            job.place(id, "up", "clear", up),
        ]);
    }
    Some(Remedy { label: "Set them one below the other".to_owned(), edits })
}

/// Words that share the way round a circle, the longer of them smaller.
fn smaller_on_circle(job: &Job<'_>, one: &Placed, other: &Placed) -> Vec<Remedy> {
    /// Between two of them, and what smaller letters of a run are, as a share (ours).
    const GAP_DEGREES: f64 = 6.0;
    const SMALLER: [f64; 2] = [1.0, 0.9];
    let both = [one, other].map(|placed| {
        let found = job.lettering().find(|(_, other)| other.id == placed.id);
        found.filter(|(lettering, _)| matches!(lettering.course, Course::Circle(_)))
    });
    let [Some(one), Some(other)] = both else { return Vec::new() };
    let (long, short) =
        if one.1.drawn.span >= other.1.drawn.span { (one, other) } else { (other, one) };
    let LetterSize::Height(height) = long.0.size else { return Vec::new() };
    let left = 360.0 - short.1.drawn.span - 2.0 * GAP_DEGREES;
    let ratio = (left / long.1.drawn.span.max(1.0)).min(0.95);
    let heights = SMALLER.map(|more| rounded_down(height.as_mm() * ratio * more));
    let way = |tall: f64| Remedy {
        label: format!(
            "Make the letters of “{}” {}",
            job.piece.filled_in(&long.0.words()),
            job.shown(tall)
        ),
        edits: vec![job.letters(&long.1.id, tall)],
    };
    heights.into_iter().filter(|tall| *tall >= SMALLEST_LETTERS_MM).map(way).collect()
}

/// Words along a circle, on the other side of it and read from there: over it becomes under it.
fn to_the_other_side(job: &Job<'_>, (element, placed): (&Element, &Placed)) -> Option<Remedy> {
    let Kind::Lettering(lettering) = &element.kind else { return None };
    let Course::Circle(circle) = lettering.course else { return None };
    let reading = match circle.reading {
        Reading::Clockwise => Reading::Upright,
        Reading::Upright => Reading::Clockwise,
    };
    let middle = if circle.middle > 0.0 { circle.middle - 180.0 } else { circle.middle + 180.0 };
    let edits = vec![
        job.set(&placed.id, "course.circle.middle", middle),
        job.set(&placed.id, "course.circle.reading", json!(reading)),
    ];
    let label = format!("Put “{}” on the other side of the circle", element.name());
    (!element.locked).then_some(Remedy { label, edits })
}

/// With its first letter large.
pub(super) fn capital(text: &str) -> String {
    let mut letters = text.chars();
    letters.next().map_or_else(String::new, |first| first.to_uppercase().chain(letters).collect())
}

/// The ways to move one of the two off the other, the shortest first.
fn apart(
    job: &Job<'_>,
    one: (&Element, &Placed),
    other: (&Element, &Placed),
    shared: Rect,
) -> Vec<Remedy> {
    /// What is left between them, in mm.
    const BETWEEN_MM: f64 = 1.0;
    let mut ways: Vec<(f64, Remedy)> = Vec::new();
    for ((element, placed), rest) in [(other, one.1), (one, other.1)] {
        let [Some(own), Some(rest)] = [placed.region.bounds(), rest.region.bounds()] else {
            continue;
        };
        if element.locked || element.place().is_none() {
            continue;
        }
        let moves = [
            (0.0, rest.y1 - own.y0 + BETWEEN_MM),
            (0.0, rest.y0 - own.y1 - BETWEEN_MM),
            (rest.x1 - own.x0 + BETWEEN_MM, 0.0),
            (rest.x0 - own.x1 - BETWEEN_MM, 0.0),
        ];
        for (dx, dy) in moves {
            let up = |mm: f64| rounded_up(mm.abs()) * mm.signum() + 0.0;
            let (dx, dy) = (up(dx), up(dy));
            let by = dx.hypot(dy);
            let way = match job.layout.way_on_face(placed, (dx, dy)) {
                WayOnFace { up, .. } if up > 0.0 => "up",
                WayOnFace { up, .. } if up < 0.0 => "down",
                WayOnFace { across, .. } if across > 0.0 => "to the right",
                _ => "to the left",
            };
            let label = format!(
                "Move the {} “{}” {} {way}",
                placed.kind.word(),
                element.name(),
                job.shown(by)
            );
            ways.push((by, Remedy { label, edits: vec![job.shift(placed, dx, dy)] }));
        }
    }
    ways.sort_by(|a, b| a.0.total_cmp(&b.0));
    let far = 4.0 * (shared.width() + shared.height()) + 100.0;
    ways.into_iter().filter(|(by, _)| *by < far).map(|(_, remedy)| remedy).collect()
}
