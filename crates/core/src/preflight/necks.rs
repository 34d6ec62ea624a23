//! Openwork that hangs together by little: necks, gaps that hardly miss, and too few places it is held at.

use super::{Finding, Job, Remedy, Weight, rounded_up};
use crate::cache::{Kept, Stage};
use crate::edit::apply;
use crate::evaluate::{Layout, Placed, layout};
use crate::piece::{Edit, Element, Kind, Outline, Piece};
use crate::plane::{Neck, Rect, Region, Side, Tolerance};
use crate::solid::Act;

/// A neck should be so many lines wide (common practice, no source).
const LINES: f64 = 2.0;

/// Openwork is held at so many places, so that it can neither swing nor tip (three points hold a body in its
/// plane).
const PLACES: usize = 3;

/// What is held by this share of how far it reaches needs no more places (ours).
const HELD_BY: f64 = 0.15;

/// What is larger is no openwork that preflight takes apart, in points.
const MOST_POINTS: usize = 30_000;

impl Kept for Vec<Neck> {
    fn bytes(&self) -> usize {
        48 * self.len()
    }
}

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let is_drawn = matches!(job.component.outline(), Some(Outline::Drawn(_) | Outline::Contour(_)));
    let stands = job.pairs().any(|(element, _)| element.stands_on_the_bed());
    if !(stands || is_drawn) {
        return Vec::new();
    }
    let whole = on_the_bed(job.component.elements.as_slice(), job.layout);
    if whole.vertex_count() > MOST_POINTS {
        return Vec::new();
    }
    let line = job.piece.printer.line.as_mm();
    let limit = LINES * line;
    let necks = necks_of(job, &whole, limit);
    // What mends the thinnest mends those beside it: what is offered is tried once, and offered for all.
    let thinnest = necks.iter().min_by(|a, b| a.width.total_cmp(&b.width));
    let remedies = thinnest.map_or_else(Vec::new, |neck| {
        grown_together(job, &culprits(job, neck.place), limit - neck.width, limit)
    });
    let mut findings: Vec<Finding> = necks
        .iter()
        .map(|neck| {
            let mut finding = thin_neck(job, &whole, neck, line);
            finding.remedies = remedies.clone();
            finding
        })
        .collect();
    findings.extend(gaps(job, &whole, limit));
    findings.extend(held_at_few(job));
    findings
}

/// A neck that is said.
fn thin_neck(job: &Job<'_>, whole: &Region, neck: &Neck, line: f64) -> Finding {
    let lost = neck.width < line;
    let weight = if lost { Weight::Must } else { Weight::Should };
    let why = match lost {
        true => format!("a line is {} wide, so it will not be there", job.shown(line)),
        false => format!("two lines, {}, would hold", job.shown(LINES * line)),
    };
    let message = format!("A part hangs by a neck of only {}: {why}.", job.shown(neck.width));
    let shape = whole.narrow_in(neck.place, LINES * line, Side::Inside, Tolerance::Draft);
    at_culprit(job, "thin-neck", weight, message, neck.place).spots([job.spot_of_blank(shape)])
}

/// A finding at a place, of the openwork that is there or else of the blank.
fn at_culprit(
    job: &Job<'_>,
    code: &'static str,
    weight: Weight,
    message: String,
    place: Rect,
) -> Finding {
    let finding = match culprits(job, place).first() {
        Some((_, placed)) => job.finding(code, weight, &placed.id, message),
        None => job.of_blank(code, weight, message),
    };
    finding.at(place)
}

fn necks_of(job: &Job<'_>, whole: &Region, limit: f64) -> std::sync::Arc<Vec<Neck>> {
    let cache = &job.workshop.cache;
    let key = cache.key(Stage::Necks, (whole, limit.to_bits()));
    cache.kept(key, || whole.necks(limit, Tolerance::Draft))
}

/// What lies on the bed: the plate less what is cut through it, and what stands beside it.
fn on_the_bed(elements: &[Element], layout: &Layout) -> Region {
    let placed = || elements.iter().zip(&layout.elements);
    let standing = placed().filter(|(element, _)| element.stands_on_the_bed());
    let cut = placed().filter(|(_, placed)| placed.through && placed.act == Act::Cuts);
    let all = |some: Vec<&Placed>| {
        some.into_iter().fold(Region::default(), |all, one| all.union(&one.region))
    };
    let standing = all(standing.map(|(_, placed)| placed).collect());
    let cut = all(cut.map(|(_, placed)| placed).collect());
    layout.blank.outline.union(&standing).difference(&cut)
}

/// The openwork at a place, what is drawn last first.
fn culprits<'a>(job: &'a Job<'_>, place: Rect) -> Vec<(&'a Element, &'a Placed)> {
    let there = crate::plane::rounded_rectangle(place, 0.0, Tolerance::Draft);
    let mut all: Vec<_> = job
        .pairs()
        .filter(|(element, placed)| {
            element.stands_on_the_bed() && !placed.region.intersection(&there).is_empty()
        })
        .collect();
    all.reverse();
    all
}

/// What thickens one of the elements until what hangs by too little is held, where that works: it is tried
/// before it is offered.
fn grown_together(
    job: &Job<'_>,
    at: &[(&Element, &Placed)],
    missing: f64,
    limit: f64,
) -> Vec<Remedy> {
    const TRIED: usize = 3;
    let Some(before) = state(job.piece, job, limit) else { return Vec::new() };
    let mends = |(element, placed): &(&Element, &Placed)| {
        [1.0, 2.0, 4.0].into_iter().find_map(|share| {
            let by = rounded_up(missing * share);
            let (label, edit) = thicker(job, element, placed, by)?;
            let edits = vec![edit];
            let tried = apply(job.piece, &edits, job.workshop).ok()?;
            let after = state(&tried.piece, job, limit)?;
            let is_better = after.0 <= before.0 && after.1 <= before.1 && after != before;
            is_better.then_some(Remedy { label, edits })
        })
    };
    at.iter().take(TRIED).filter_map(mends).collect()
}

/// How many parts lie on the bed, and how many necks they have.
fn state(piece: &Piece, job: &Job<'_>, limit: f64) -> Option<(usize, usize)> {
    let component = piece.component(&job.component.id)?;
    let layout = layout(piece, component, &job.workshop.at(Tolerance::Draft)).ok()?;
    let whole = on_the_bed(&component.elements, &layout);
    Some((whole.clumps().len(), necks_of(job, &whole, limit).len()))
}

/// The edit that makes an element thicker by so many mm on either side, and what it does.
fn thicker(job: &Job<'_>, element: &Element, placed: &Placed, by: f64) -> Option<(String, Edit)> {
    let up = rounded_up;
    match &element.kind {
        Kind::Emblem(emblem) => {
            let shape = emblem.own_shape().and_then(|id| job.workshop.shape(id));
            let line =
                shape.and_then(|shape| shape.thinnest_line(emblem.setting(), &emblem.stroke));
            match line {
                Some(width) => {
                    let wide = up(width + by);
                    let label =
                        format!("Make the lines of “{}” {} wide", element.name(), job.shown(wide));
                    Some((label, job.set(&placed.id, "stroke.width", wide)))
                }
                None => {
                    let wide = up(emblem.width.as_mm() + 2.0 * by);
                    let label = format!("Make the {} {} wide", element.name(), job.shown(wide));
                    Some((label, job.set(&placed.id, "width", wide)))
                }
            }
        }
        Kind::Lettering(lettering) => {
            let heavier = up(lettering.style.heavier.as_mm() + by);
            let label = format!("Make the letters heavier, by {} in all", job.shown(heavier));
            Some((label, job.set(&placed.id, "style.heavier", heavier)))
        }
        _ => None,
    }
}

/// Parts that hardly miss each other. (That they fall out is said of the whole piece.)
fn gaps(job: &Job<'_>, whole: &Region, limit: f64) -> Vec<Finding> {
    /// Gaps wider than this are meant, in mm.
    const HARDLY_MM: f64 = 1.0;
    const MOST: usize = 4;
    let mut parts = whole.clumps();
    if parts.len() < 2 {
        return Vec::new();
    }
    parts.sort_by(|a, b| b.area().total_cmp(&a.area()));
    let main = parts.remove(0);
    let gap = |part: &Region| {
        let meets = |by: f64| {
            let grown = part.offset(by, Tolerance::Draft).intersection(&main);
            grown.bounds()
        };
        let mut place = meets(HARDLY_MM)?;
        let (mut low, mut high) = (0.0, HARDLY_MM);
        for _ in 0..5 {
            let middle = (low + high) / 2.0;
            match meets(middle) {
                Some(there) => (high, place) = (middle, there),
                None => low = middle,
            }
        }
        Some((high, place.grown(high)))
    };
    let found = parts.iter().take(MOST).filter_map(gap);
    let found: Vec<(f64, Rect)> = found.collect();
    let widest = found.iter().max_by(|a, b| a.0.total_cmp(&b.0));
    let remedies = widest.map_or_else(Vec::new, |(gap, place)| {
        grown_together(job, &culprits(job, *place), gap + limit, limit)
    });
    let said = found.into_iter().map(|(gap, place)| {
        let message = format!(
            "A part misses the rest by {} here. Bring it nearer, or make it thicker.",
            job.shown(gap)
        );
        let shape = whole.narrow_in(place, gap + 0.01, Side::Outside, Tolerance::Draft);
        let finding = at_culprit(job, "hardly-touches", Weight::Must, message, place);
        let mut finding = finding.spots([job.spot_of_blank(shape)]);
        finding.remedies = remedies.clone();
        finding
    });
    said.collect()
}

/// What spans the opening of a ring and is held by it at one or two places.
fn held_at_few(job: &Job<'_>) -> Vec<Finding> {
    let Some(Outline::Ring(_)) = job.component.outline() else { return Vec::new() };
    let standing = job.pairs().filter(|(element, _)| element.stands_on_the_bed());
    let openwork = standing.fold(Region::default(), |all, (_, placed)| all.union(&placed.region));
    let base = &job.layout.blank.base;
    const TOUCH_MM: f64 = 0.02;
    const SPECK_MM2: f64 = 1.0;
    let spans = openwork.difference(base).intersection(&base.without_openings()).clumps();
    let extent =
        |region: &Region| region.bounds().map_or(0.0, |all| all.width().hypot(all.height()));
    // Whether what is held by bridges is strong enough is said by how they bend.
    let is_bridged = |placed: &Placed| {
        placed.bridging.as_ref().is_some_and(|bridging| !bridging.bridges.is_empty())
    };
    if job.pairs().any(|(one, placed)| one.stands_on_the_bed() && is_bridged(placed)) {
        return Vec::new();
    }
    let held = |part: &Region| {
        let touches = part.offset(TOUCH_MM, Tolerance::Draft).intersection(base).clumps();
        let wide: f64 = touches.iter().map(extent).sum();
        (1..PLACES).contains(&touches.len()) && wide < HELD_BY * extent(part)
    };
    let swings: Vec<Region> =
        spans.into_iter().filter(|part| part.area() > SPECK_MM2 && held(part)).collect();
    let Some(bounds) = swings.first().and_then(Region::bounds) else { return Vec::new() };
    let message = match swings.len() {
        1 => "A part of what spans the opening is held at one or two places only".to_owned(),
        more => {
            format!("{more} parts of what spans the opening are held at one or two places only")
        }
    };
    let message = format!("{message}; at three they could neither swing nor tip.");
    let finding = at_culprit(job, "held-at-few", Weight::Should, message, bounds);
    vec![finding.spots(swings.into_iter().map(|part| job.spot_of_blank(part)))]
}
