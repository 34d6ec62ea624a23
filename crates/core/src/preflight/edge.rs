//! Lettering, emblems and codes that run over the edge of the plate.

use super::{Figure, Finding, Job, Remedy, Weight, free, rounded_down};
use crate::evaluate::height_to_fit;
use crate::piece::{Course, FaceName, Kind, Lettering, Outline, Relief, TextLine, limit_of};
use crate::plane::Rect;
use serde_json::json;

/// Less than this is rounding.
const NOTICEABLE_MM2: f64 = 0.01;

pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let foot = job.layout.stock.as_ref().map(|stock| &stock.foot);
    let mut findings = halos(job);
    for figure in job.figures() {
        let Some(ink) = figure.placed.region.bounds() else { continue };
        // What stands on the bed beside the plate is meant to.
        if figure.relief.stands_on_the_bed() {
            continue;
        }
        if job.layout.clear_of(figure.placed.face).is_some_and(|clear| clear.contains(&ink)) {
            continue;
        }
        let (outline, rect) = job.layout.room_for(figure.placed);
        let beyond = match (figure.placed.face, foot) {
            (FaceName::Back, Some(foot)) => figure.placed.region.difference(foot),
            _ => figure.placed.region.difference(outline),
        };
        if beyond.area() < NOTICEABLE_MM2 {
            continue;
        }
        let noun = figure.noun;
        let overhang = [rect.x0 - ink.x0, rect.y0 - ink.y0, ink.x1 - rect.x1, ink.y1 - rect.y1]
            .into_iter()
            .fold(0.0, f64::max);
        let where_ = if overhang > 0.0 {
            format!("{} over the edge of the {}", job.shown(overhang), job.face())
        } else {
            format!("over the outline of the {}", job.face())
        };
        let message = format!("The {noun} runs {where_}. Make it smaller or move it in.");
        let finding = job
            .finding("over-edge", Weight::Must, &figure.placed.id, message)
            .field(figure.size_field)
            .spots([job.spot(figure.placed, beyond)]);
        let spans_opening = overhang <= 0.0 && matches!(figure.relief, Relief::Raised(_));
        findings.push(if spans_opening {
            let tall = json!({ "raised": { "from-foot": figure.placed.top } });
            let edits = vec![job.set(&figure.placed.id, "relief", tall)];
            finding.remedy("Stand it on the bed", edits)
        } else {
            let mut finding = with_room(job, with_fit(job, finding, figure, ink), figure, ink);
            let more = [smaller_circle(job, figure), larger_plate(job, ink, rect)];
            finding.remedies.extend(more.into_iter().flatten());
            finding
        });
    }
    findings
}

/// Halos reach over the edge with what they go round, or beyond it.
fn halos(job: &Job<'_>) -> Vec<Finding> {
    let halos = job.pairs().filter_map(|(element, placed)| {
        let Kind::Halo(halo) = &element.kind else { return None };
        if halo.relief.stands_on_the_bed() {
            return None;
        }
        let (outline, _) = job.layout.room_for(placed);
        let beyond = placed.region.difference(outline);
        if beyond.area() < NOTICEABLE_MM2 {
            return None;
        }
        let message = format!(
            "The halo reaches over the edge of the {}. Let it reach less far, or keep what it goes round further in.",
            job.face()
        );
        let finding = job.finding("over-edge", Weight::Must, &placed.id, message);
        Some(finding.field("distance").spots([job.spot(placed, beyond)]))
    });
    halos.collect()
}

/// Offers to bring a figure into the clear area, where that leaves it legible.
pub(super) fn with_fit(job: &Job<'_>, finding: Finding, figure: Figure<'_>, ink: Rect) -> Finding {
    const SMALLEST_MM: f64 = 2.0;
    let Some(clear) = job.layout.clear_of(figure.placed.face) else { return finding };
    let id = &figure.placed.id;
    if figure.is_repeated {
        return finding;
    }
    let fitted = match figure.lettering {
        Some(lettering) => height_to_fit(job.piece, lettering, clear, job.workshop),
        None => {
            let ratio = (clear.width() / ink.width()).min(clear.height() / ink.height());
            Some(figure.size * ratio)
        }
    };
    let Some(fitted) = fitted.map(rounded_down) else { return finding };
    let mut edits = vec![job.place(id, "across", "clear", 0.0), job.place(id, "up", "clear", 0.0)];
    if fitted >= figure.size {
        let mut finding = finding.remedy("Move it into the clear area", edits);
        let own = job.pairs().find(|(_, placed)| placed.id == *id);
        let there = own.and_then(|(element, placed)| free::moved_there(job, element, placed));
        finding.remedies.extend(there);
        return finding;
    }
    // A module of a code is small by nature, and has a finding of its own.
    let smallest = if figure.size_field == "module" { 0.2 } else { SMALLEST_MM };
    if fitted < smallest {
        return finding;
    }
    match figure.lettering {
        Some(_) => edits.push(job.set(id, "size", json!({ "height": fitted }))),
        None => edits.push(job.set(id, figure.size_field, fitted)),
    }
    let size = if figure.lettering.is_some() { "letters" } else { figure.size_field };
    finding.remedy(format!("Fit it in, {size} {}", job.shown(fitted)), edits)
}

/// Letters smaller than this are better given more room than fitted in, in mm (common practice, no source).
const LEGIBLE_MM: f64 = 4.0;

/// Letters are not set narrower than this share of their width (common practice, no source).
const NARROWEST: f64 = 0.6;

/// Offers what gives straight words more room: two lines, narrower letters, a wider plate; before fitting them in where
/// that would make them small, and else after it. What does not mend is not offered in the end.
fn with_room(job: &Job<'_>, mut finding: Finding, figure: Figure<'_>, ink: Rect) -> Finding {
    let Some(clear) = job.layout.clear_of(figure.placed.face) else { return finding };
    let share = (clear.width() / ink.width()).min(clear.height() / ink.height());
    if share >= 1.0 {
        return finding;
    }
    let more = more_room(job, figure, ink.width());
    match share * figure.size < LEGIBLE_MM {
        true => finding.remedies = more.into_iter().chain(finding.remedies).collect(),
        false => finding.remedies.extend(more),
    }
    finding
}

/// What gives straight words room that are, or would be, so wide: two lines, narrower letters, a wider plate.
pub(super) fn more_room(job: &Job<'_>, figure: Figure<'_>, wide: f64) -> Vec<Remedy> {
    let (Some(clear), Some(lettering)) =
        (job.layout.clear_of(figure.placed.face), figure.lettering)
    else {
        return Vec::new();
    };
    if figure.is_repeated || !matches!(lettering.course, Course::Straight) {
        return Vec::new();
    }
    let more = [
        two_lines(job, lettering, figure, clear),
        narrower(job, lettering, figure, clear.width() / wide),
        wider_plate(job, figure, clear.width() - wide),
    ];
    more.into_iter().flatten().collect()
}

/// The words in two lines, broken where they are nearest to halves.
fn two_lines(
    job: &Job<'_>,
    lettering: &Lettering,
    figure: Figure<'_>,
    clear: Rect,
) -> Option<Remedy> {
    let [line] = &lettering.lines[..] else { return None };
    let long = line.words.chars().count();
    let spaces = line.words.char_indices().filter(|(_, letter)| letter.is_whitespace());
    let (at, _) =
        spaces.min_by_key(|(at, _)| line.words[..*at].chars().count().abs_diff(long / 2))?;
    let halves = [line.words[..at].trim(), line.words[at..].trim()];
    let lines = halves.map(|words| TextLine { words: words.to_owned(), ..line.clone() });
    let broken = Lettering { lines: lines.to_vec(), ..lettering.clone() };
    let fitted = height_to_fit(job.piece, &broken, clear, job.workshop)?;
    let tall = rounded_down(fitted.min(figure.size));
    let id = &figure.placed.id;
    let edits = vec![
        job.set(id, "lines", json!(lines)),
        job.set(id, "size", json!({ "height": tall })),
        job.place(id, "across", "clear", 0.0),
        job.place(id, "up", "clear", 0.0),
    ];
    let label = format!("Set it in two lines, letters {}", job.shown(tall));
    (tall >= LEGIBLE_MM).then_some(Remedy { label, edits })
}

/// The letters narrower, by a share.
fn narrower(
    job: &Job<'_>,
    lettering: &Lettering,
    figure: Figure<'_>,
    share: f64,
) -> Option<Remedy> {
    // A hair more, for what weight and rounding take.
    let stretch = (lettering.style.stretch * share * 98.0).floor() / 100.0;
    let id = &figure.placed.id;
    let edits = vec![job.set(id, "style.stretch", stretch), job.place(id, "across", "clear", 0.0)];
    let label = format!("Make its letters narrower, {:.0} %", stretch * 100.0);
    (stretch >= NARROWEST).then_some(Remedy { label, edits })
}

/// A plate that is so much wider.
fn wider_plate(job: &Job<'_>, figure: Figure<'_>, missing: f64) -> Option<Remedy> {
    let plate = job.component.plate().filter(|plate| !plate.grows.any())?;
    let is_followed = matches!(job.component.outline(), Some(Outline::Contour(_)));
    let wide = (plate.width.as_mm() - missing).ceil();
    let is_wide = limit_of("plate", "width").is_some_and(|limit| wide <= limit.high);
    let id = &figure.placed.id;
    let edits = vec![job.set_blank("width", wide), job.place(id, "across", "clear", 0.0)];
    let label = format!("Make the plate {} wide", job.shown(wide));
    (missing < 0.0 && !is_followed && is_wide).then_some(Remedy { label, edits })
}

/// Words round a circle, made smaller with it so that they keep within the outline.
fn smaller_circle(job: &Job<'_>, figure: Figure<'_>) -> Option<Remedy> {
    /// To the outline, in mm (common practice, no source).
    const LAND_MM: f64 = 1.0;
    /// Smaller letters are not worth it, in mm.
    const SMALLEST_MM: f64 = 2.0;
    let Course::Circle(circle) = figure.lettering?.course else { return None };
    let (x, y) = figure.placed.frame.centre();
    let reach = |((px, py), _): ((f64, f64), _)| (px - x).hypot(py - y);
    let needed = figure.placed.region.edges().map(reach).fold(0.0, f64::max);
    let (outline, _) = job.layout.room_for(figure.placed);
    let share = (outline.depth_of((x, y)) - LAND_MM) / needed;
    let [radius, tall] = [circle.radius.as_mm(), figure.size].map(|mm| rounded_down(mm * share));
    let id = &figure.placed.id;
    let edits = vec![
        job.set(id, "course.circle.radius", radius),
        job.set(id, "size", json!({ "height": tall })),
    ];
    let label = format!("Make its radius {}, letters {}", job.shown(radius), job.shown(tall));
    (share < 1.0 && tall >= SMALLEST_MM && !figure.is_repeated).then_some(Remedy { label, edits })
}

/// A plate that reaches beyond what runs over its sides.
fn larger_plate(job: &Job<'_>, ink: Rect, rect: Rect) -> Option<Remedy> {
    let plate = job.component.plate().filter(|plate| !plate.grows.any())?;
    if matches!(job.component.outline(), Some(Outline::Contour(_))) {
        return None;
    }
    let margin = job.component.margin.as_mm().max(1.0);
    // It grows about its middle.
    let sides = [
        ("width", plate.width, (rect.x0 - ink.x0).max(ink.x1 - rect.x1)),
        ("height", plate.height, (rect.y0 - ink.y0).max(ink.y1 - rect.y1)),
    ];
    let mut edits = Vec::new();
    let mut said = Vec::new();
    for (side, now, over) in sides.into_iter().filter(|(.., over)| *over > 0.0) {
        let enough = (now.as_mm() + 2.0 * (over + margin)).ceil();
        if limit_of("plate", side).is_none_or(|limit| enough > limit.high) {
            return None;
        }
        edits.push(job.set_blank(side, enough));
        let word = if side == "width" { "wide" } else { "high" };
        said.push(format!("{} {word}", job.shown(enough)));
    }
    let label = format!("Make the plate {}", said.join(" and "));
    (!edits.is_empty()).then_some(Remedy { label, edits })
}
