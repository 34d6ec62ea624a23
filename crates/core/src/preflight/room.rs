//! Ways to give figures room on their face: fitted into the clear area, elsewhere, in two lines, narrower, on a smaller
//! circle or a larger plate. Whether they do is tried before they are offered.

use super::{Figure, Finding, Job, Remedy, free, rounded_down};
use crate::evaluate::height_to_fit;
use crate::piece::{Course, Lettering, Outline, TextLine, limit_of};
use crate::plane::Rect;
use serde_json::json;

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
pub(super) fn with_room(
    job: &Job<'_>,
    mut finding: Finding,
    figure: Figure<'_>,
    ink: Rect,
) -> Finding {
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
pub(super) fn smaller_circle(job: &Job<'_>, figure: Figure<'_>) -> Option<Remedy> {
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
pub(super) fn larger_plate(job: &Job<'_>, ink: Rect, rect: Rect) -> Option<Remedy> {
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
