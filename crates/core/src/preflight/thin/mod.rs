//! What is too thin to be printed, and what is so narrow that it closes: strokes, walls, rims, loops and gaps of
//! every distinct section.

mod owners;
mod remedies;

use super::spot::{MOST_SPOTS, Spot};
use super::{Figures, Finding, Job, Source, Weight};
use crate::cache::{Kept, Stage};
use crate::evaluate::{Along, Slice};
use crate::piece::{ElementKind, Kind, Outline, Pattern, Relief};
use crate::plane::{Rect, Region, Side, Thin, Tolerance, rounded_rectangle};
use crate::solid::Colour;
use owners::{Owner, Owners};
use std::sync::Arc;

/// What holds should be so many lines wide (common practice, no source).
const LINES: f64 = 2.0;

/// A stroke that is thinner for less than so many of its limits is a joint of two strokes (ours).
const LEAST_LENGTH: f64 = 2.0;

/// Larger sections are not taken apart, in points.
const MOST_POINTS: usize = 60_000;

/// More slices of one component are not looked at.
const MOST_SLICES: usize = 40;

/// Less than this is rounding, in mm.
const HAIR_MM: f64 = 0.005;

/// What is thin over less than this is a notch in an outline, in mm.
const NOTCH_MM: f64 = 0.1;

impl Kept for Vec<Thin> {
    fn bytes(&self) -> usize {
        96 * self.len()
    }
}

/// Letters that run together over this share of their height, or a counter that closes over this share of its own
/// size, can no longer be told apart (ours).
const CLOSED: f64 = 0.5;

/// Between different things a gap that closes over less than so many of its limits is a touch (ours).
const LEAST_GAP: f64 = 4.0;

/// A thin or narrow place with those whose outlines it lies between.
struct Place<'a> {
    owners: [Owner<'a>; 2],
    thin: Thin,
    side: Side,
    along: Along,
    /// The larger side of the opening it lies in, where it lies in one, in mm.
    opening: Option<f64>,
    /// Where to see it, and all others between these.
    seen: Vec<Seen>,
}

/// Where a thin place was seen.
struct Seen {
    /// In which slice.
    slice: usize,
    /// In what of it: all that is solid, or what is of a colour.
    ink: Option<Colour>,
    side: Side,
    ends: [(f64, f64); 2],
    place: Rect,
}

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let slices = job.slices();
    let is_too_large = |slice: &Slice| slice.solid.vertex_count() > MOST_POINTS;
    let is_beyond =
        job.has_too_many_slices() || slices.len() > MOST_SLICES || slices.iter().any(is_too_large);
    let mut all: Vec<(Judged, Place<'_>)> = Vec::new();
    for (number, slice) in slices.iter().enumerate().take(MOST_SLICES) {
        if is_too_large(slice) {
            continue;
        }
        let owners = Owners::of(job.component, job.made, slice);
        for (side, thin, ink) in thin_of(job, slice) {
            let ends = thin.ends.map(|end| owners.at(end));
            let seen = Seen { slice: number, ink, side, ends: thin.ends, place: thin.place };
            // Between two strokes of another colour lies a gap, whatever fills it.
            let is_between = ink.is_some_and(|ink| ends.iter().all(|end| end.is_of_another(ink)));
            let side = if is_between { Side::Outside } else { side };
            let opening = match side {
                Side::Inside => None,
                Side::Outside => opening_of(&slice.solid, thin.place),
            };
            let seen = vec![seen];
            let mut place = Place { owners: ends, thin, side, along: slice.along, opening, seen };
            let Some(judged) = judged(job, &place) else { continue };
            let same = |(other, known): &&mut (Judged, Place<'_>)| {
                other.code == judged.code && is_same(&known.owners, &place.owners)
            };
            match all.iter_mut().find(same) {
                Some(known) if place.thin.width < known.1.thin.width => {
                    place.seen.append(&mut known.1.seen);
                    *known = (judged, place);
                }
                Some(known) => known.1.seen.append(&mut place.seen),
                None => all.push((judged, place)),
            }
        }
    }
    let mut findings: Vec<Finding> =
        all.iter().map(|(judged, place)| said(job, judged, place)).collect();
    if is_beyond {
        let message = "There is so much on it, at so many heights, that preflight has not looked everywhere for \
                       strokes, walls and gaps that are too thin.";
        findings.push(job.of_blank("not-looked-at", Weight::Note, message.to_owned()));
    }
    findings
}

fn is_same(a: &[Owner<'_>; 2], b: &[Owner<'_>; 2]) -> bool {
    let ids = |owners: &[Owner<'_>; 2]| owners.map(|owner| owner.id().map(str::to_owned));
    let ([a, b], [c, d]) = (ids(a), ids(b));
    (a == c && b == d) || (a == d && b == c)
}

/// The thin places of a slice, of all that is solid and of each colour, and the narrow ones between.
fn thin_of(job: &Job<'_>, slice: &Slice) -> Vec<(Side, Thin, Option<Colour>)> {
    let printer = &job.piece.printer;
    let (line, gap) = (printer.line.as_mm(), printer.gap.as_mm());
    let found = |region: &Region, limit: f64, side: Side| -> Arc<Vec<Thin>> {
        let cache = &job.workshop.cache;
        let key = cache.key(Stage::Thin, (region, limit.to_bits(), side));
        cache.kept(key, || region.thin_places(limit, side))
    };
    let mut all = Vec::new();
    // What is small in itself has no sides that lie opposite.
    all.extend(small(&slice.solid, line, gap).into_iter().map(|(side, thin)| (side, thin, None)));
    let mut take = |region: &Region, limit: f64, side: Side, ink: Option<Colour>| {
        all.extend(found(region, limit, side).iter().cloned().map(|thin| (side, thin, ink)));
    };
    // What is narrower than a line within what is narrower than two is a place of its own.
    take(&slice.solid, LINES * line, Side::Inside, None);
    take(&slice.solid, line, Side::Inside, None);
    if slice.along != Along::Profile {
        take(&slice.solid, gap, Side::Outside, None);
        for (colour, ink) in &slice.inks {
            take(ink, line, Side::Inside, Some(*colour));
        }
    }
    all
}

/// Parts that are narrower than a line as a whole, and openings that are narrower than a gap.
fn small(region: &Region, line: f64, gap: f64) -> Vec<(Side, Thin)> {
    let of = |limit: f64, side: Side| {
        let contours = region.extents(side);
        contours.into_iter().filter_map(move |ends| {
            let [(ax, ay), (bx, by)] = ends.narrow;
            let width = (ax - bx).hypot(ay - by);
            (width < limit).then(|| {
                let length = ends.bounds.width().max(ends.bounds.height());
                let place = ends.bounds;
                (side, Thin { width, ends: ends.narrow, length, place, is_point: false })
            })
        })
    };
    of(line, Side::Inside).chain(of(gap, Side::Outside)).collect()
}

/// The larger side of the opening of a region a place lies in, in mm.
fn opening_of(region: &Region, place: Rect) -> Option<f64> {
    let openings = region.extents(Side::Outside);
    let around = openings.iter().filter(|one| one.bounds.grown(HAIR_MM).contains(&place));
    around.map(|one| one.bounds.width().max(one.bounds.height())).reduce(f64::min)
}

/// What a place comes to.
struct Judged {
    code: &'static str,
    weight: Weight,
    message: String,
    /// What it should be, in mm.
    wanted: f64,
    /// Whose field would change it.
    target: Option<String>,
    field: &'static str,
}

/// Whether a place is worth a word, and which.
fn judged(job: &Job<'_>, place: &Place<'_>) -> Option<Judged> {
    let [a, b] = &place.owners;
    let is_code = |owner: &Owner<'_>| owner.kind() == Some(ElementKind::Code);
    // A code has a module, and a finding of its own.
    if is_code(a) || is_code(b) || place.thin.is_point || place.thin.length < NOTCH_MM {
        return None;
    }
    if let (Owner::Element(element, _), true) = (a, a.id() == b.id())
        && let Kind::Pattern(pattern) = &element.kind
        && !is_of_motif(job, pattern, place.side)
    {
        return None;
    }
    match place.side {
        Side::Inside => too_thin(job, place),
        Side::Outside => too_narrow(job, place),
    }
}

/// Whether a pattern is too fine by its own figures; slivers of motifs that are cut at an edge are not told of.
fn is_of_motif(job: &Job<'_>, pattern: &Pattern, side: Side) -> bool {
    let [pitch, line] = [pattern.pitch, pattern.line].map(|length| length.as_mm());
    let cuts = !matches!(pattern.relief, Relief::Raised(_) | Relief::Flush(_));
    let [between, motif] = [line, pitch - line];
    let (own, limit) = match side {
        Side::Inside => (if cuts { between } else { motif }, job.piece.printer.line),
        Side::Outside => (if cuts { motif } else { between }, job.piece.printer.gap),
    };
    own < limit.as_mm() - HAIR_MM
}

fn too_thin(job: &Job<'_>, place: &Place<'_>) -> Option<Judged> {
    let line = job.piece.printer.line.as_mm();
    if place.thin.width >= LINES * line - HAIR_MM {
        return None;
    }
    let is_lost = place.thin.width < line - HAIR_MM;
    let [a, b] = &place.owners;
    match a.id().is_some() && a.id() == b.id() {
        true => thin_within(job, place, is_lost),
        false => thin_between(job, place, is_lost),
    }
}

/// A place within one element: a loop, a rim, a stroke, or what stays standing between two strokes.
fn thin_within(job: &Job<'_>, place: &Place<'_>, is_lost: bool) -> Option<Judged> {
    let line = job.piece.printer.line.as_mm();
    let [owner, _] = &place.owners;
    let kind = owner.kind()?;
    let weight = if is_lost { Weight::Must } else { Weight::Should };
    let target = owner.id().map(str::to_owned);
    let judged = |code, message: String, wanted, field| {
        Some(Judged { code, weight, message, wanted, target, field })
    };
    let is_ring = kind == ElementKind::Loop || (kind == ElementKind::Rim && !owner.cuts());
    if is_ring {
        let (code, field) = match kind {
            ElementKind::Loop => ("thin-loop", "wall"),
            _ => ("thin-rim", "width"),
        };
        let message = match is_lost {
            true => "is thinner than a line of the printer: it will not be there.",
            false => "is so thin that it breaks off easily.",
        };
        return judged(code, format!("The {} {message}", kind.word()), LINES * line, field);
    }
    // Letters that are cut run together as raised ones do.
    let least = match kind {
        ElementKind::Lettering if owner.cuts() => CLOSED * owner.letter_height(),
        _ => 0.0,
    };
    if !is_lost || place.thin.length < least.max(LEAST_LENGTH * line) {
        return None;
    }
    let (code, message, field) = match (owner.cuts(), kind) {
        (true, _) => (
            "thin-wall",
            format!(
                "What stays standing within the {} is too thin to print in places.",
                kind.word()
            ),
            "",
        ),
        (false, ElementKind::Lettering) => (
            "thin-stroke",
            "Some strokes of these letters are too thin to print: they will be missing.".to_owned(),
            "style.heavier",
        ),
        (false, _) => (
            "thin-stroke",
            format!("Some of the {} is too thin to print: it will be missing.", kind.word()),
            if kind == ElementKind::Emblem { "width" } else { "" },
        ),
    };
    judged(code, message, line, field)
}

/// A place between two elements, an element and the blank, or of the blank alone.
fn thin_between(job: &Job<'_>, place: &Place<'_>, is_lost: bool) -> Option<Judged> {
    let line = job.piece.printer.line.as_mm();
    let [a, b] = &place.owners;
    let is_of_blank = a.id().is_none() && b.id().is_none();
    let message = match (is_of_blank, is_lost) {
        (true, _) if place.thin.length < LEAST_LENGTH * line => return None,
        (true, true) => format!("The {} is thinner than a line of the printer here.", job.blank()),
        (true, false) => format!("The {} is so thin here that it breaks easily.", job.blank()),
        (false, _) if !(a.cuts() || b.cuts()) => return None,
        (false, true) => format!(
            "The wall between {} is too thin to print: they run together.",
            between(job, place)
        ),
        (false, false) => {
            format!("The wall between {} is so thin that it breaks easily.", between(job, place))
        }
    };
    Some(Judged {
        code: "thin-wall",
        weight: if is_lost { Weight::Must } else { Weight::Should },
        message,
        wanted: LINES * line,
        target: a.id().or(b.id()).map(str::to_owned),
        field: "",
    })
}

fn too_narrow(job: &Job<'_>, place: &Place<'_>) -> Option<Judged> {
    let Thin { width, length, .. } = place.thin;
    let gap = job.piece.printer.gap.as_mm();
    let [a, b] = &place.owners;
    let is_own = a.id().is_some() && a.id() == b.id();
    let is_letters = a.kind() == Some(ElementKind::Lettering) && !a.cuts();
    let least = match (is_own, is_letters, place.opening) {
        (true, true, None) => CLOSED * a.letter_height(),
        (true, true, Some(opening)) => CLOSED * opening.min(a.letter_height()),
        (true, _, Some(opening)) => (CLOSED * opening).min(LEAST_LENGTH * gap),
        (true, ..) => LEAST_LENGTH * gap,
        (false, ..) => LEAST_GAP * gap,
    };
    // Where outlines run along each other they are one. Openwork is meant to touch.
    let touches = [a, b].into_iter().all(Owner::stands_on_the_bed);
    if width >= gap - HAIR_MM || width < HAIR_MM || length < least || touches {
        return None;
    }
    let target = a.id().or(b.id()).map(str::to_owned);
    let noun = a.kind().or(b.kind()).map_or(job.blank(), ElementKind::word);
    let (code, message, field) = match is_own {
        true if a.cuts() && a.kind() == Some(ElementKind::Hole) => {
            ("narrow-gap", "The hole is so small that it closes.".to_owned(), "diameter")
        }
        true if a.cuts() => (
            "narrow-gap",
            format!("The strokes of the {noun} are cut so narrow that they close in places."),
            if a.kind() == Some(ElementKind::Lettering) { "style.heavier" } else { "" },
        ),
        true if a.kind() == Some(ElementKind::Lettering) => (
            "narrow-gap",
            "Some letters, or the white within them, are so near together that they close."
                .to_owned(),
            "style.spacing",
        ),
        true => (
            "narrow-gap",
            format!("Some openings of the {noun} are so narrow that they close."),
            "",
        ),
        false if target.is_none() => match job.component.outline() {
            Some(Outline::Contour(_)) => (
                "crevice",
                "The outline has a crevice in which dirt gathers, if it does not close.".to_owned(),
                "outline.contour.crevices",
            ),
            _ => ("narrow-gap", "The outline is so narrow here that it closes.".to_owned(), ""),
        },
        false => {
            let between = between(job, place);
            ("narrow-gap", format!("The gap between {between} is so narrow that it closes."), "")
        }
    };
    let weight = if code == "crevice" { Weight::Should } else { Weight::Must };
    Some(Judged { code, weight, message, wanted: gap, target, field })
}

/// "the hole and the edge", "two holes".
fn between(job: &Job<'_>, place: &Place<'_>) -> String {
    let [a, b] = &place.owners;
    let called = |owner: &Owner<'_>| match owner {
        Owner::Element(element, placed) => match placed.kind {
            ElementKind::Lettering => format!("the letters “{}”", element.name()),
            kind => format!("the {}", kind.word()),
        },
        Owner::Blank => format!("the edge of the {}", job.face()),
    };
    let [one, other] = match (a, b) {
        (Owner::Blank, Owner::Element(..)) => [called(b), called(a)],
        _ => [called(a), called(b)],
    };
    match one == other {
        true => format!("one {} and another", one.trim_start_matches("the ")),
        false => format!("{one} and {other}"),
    }
}

fn said(job: &Job<'_>, judged: &Judged, place: &Place<'_>) -> Finding {
    let message = match places(&place.seen) {
        1 => judged.message.clone(),
        many => format!("{} It is so at {many} places.", judged.message),
    };
    let finding = match &judged.target {
        Some(id) => job.finding(judged.code, judged.weight, id, message),
        None => job.of_blank(judged.code, judged.weight, message),
    };
    let mut finding = finding.field(judged.field).measured(Figures {
        measured: (place.thin.width * 1000.0).round() / 1000.0,
        limit: judged.wanted,
        source: Source::Printer,
    });
    if place.along != Along::Profile {
        finding.place = Some(place.thin.place);
    }
    finding = finding.spots(spots(job, &place.seen, judged.wanted));
    finding.remedies = remedies::of(job, judged.wanted, place);
    finding
}

/// How many places there are: what lies over each other in several slices, or is narrower than several limits, is one.
fn places(seen: &[Seen]) -> usize {
    let is_first =
        |i: &usize| !seen[..*i].iter().any(|other| other.place.overlaps(&seen[*i].place));
    let told = seen.len().min(MOST_SPOTS);
    (0..told).filter(is_first).count() + seen.len() - told
}

/// Places in their own shapes, those of the worst first; what hangs together is one.
fn spots(job: &Job<'_>, seen: &[Seen], wanted: f64) -> Vec<Spot> {
    let mut left: Vec<&Seen> = seen.iter().collect();
    let mut all = Vec::new();
    while let Some(first) = left.first().copied() {
        let is_beside =
            |one: &&Seen| (one.slice, one.ink, one.side) == (first.slice, first.ink, first.side);
        let (own, rest): (Vec<&Seen>, Vec<&Seen>) = left.into_iter().partition(is_beside);
        left = rest;
        let slice = &job.slices()[first.slice];
        let ink = |colour| slice.inks.iter().find(|(other, _)| *other == colour);
        let region = first.ink.and_then(ink).map_or(&slice.solid, |(_, region)| region);
        let places: Vec<Rect> = own.iter().map(|one| one.place).collect();
        let narrow = job.narrow(region, &places, wanted, first.side);
        let mut is_told = vec![false; narrow.len()];
        for one in own {
            let near = one.place.grown(HAIR_MM);
            let there = (0..narrow.len())
                .filter(|i| narrow[*i].bounds().is_some_and(|bounds| bounds.overlaps(&near)));
            let there: Vec<usize> = there.collect();
            // What is narrow by less than can be told apart is the box it lies in.
            if there.is_empty() {
                let shape = rounded_rectangle(near, 0.0, Tolerance::Draft);
                all.push(Spot::in_slice(slice, shape).between(one.ends));
            }
            for i in there {
                if !std::mem::replace(&mut is_told[i], true) {
                    all.push(Spot::in_slice(slice, narrow[i].clone()).between(one.ends));
                }
            }
            if all.len() >= MOST_SPOTS {
                return all;
            }
        }
    }
    all
}
