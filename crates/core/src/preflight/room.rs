//! Ways to give figures room on their face: fitted into the clear area, elsewhere, in two lines, narrower, on a smaller
//! circle or a larger plate. Whether they do is tried before they are offered.

use super::{Figure, Finding, Job, Remedy, SMALLEST_LETTERS_MM, free, rounded_down};
use crate::piece::{Course, Edit, Lettering, Outline, PolygonSize, TextLine, limit_of};
use crate::plane::Rect;
use serde_json::json;

/// Offers to bring a figure into the clear area, where that leaves it legible.
pub(super) fn with_fit(job: &Job<'_>, finding: Finding, figure: Figure<'_>, ink: Rect) -> Finding {
    let Some(clear) = job.layout.clear_of(figure.placed.face) else { return finding };
    let id = &figure.placed.id;
    if figure.is_repeated {
        return finding;
    }
    let fitted = match figure.lettering {
        Some(lettering) => job.fitted(lettering, figure.placed),
        None => {
            let ratio = (clear.width() / ink.width()).min(clear.height() / ink.height());
            Some(rounded_down(figure.size * ratio))
        }
    };
    let Some(fitted) = fitted else { return finding };
    let mut edits = job.place_in_clear(id).to_vec();
    if fitted >= figure.size {
        let mut finding = finding.remedy("Move it into the clear area", edits);
        let own = job.pairs().find(|(_, placed)| placed.id == *id);
        let there = own.and_then(|(element, placed)| free::moved_there(job, element, placed));
        finding.remedies.extend(there);
        return finding;
    }
    // A module of a code is small by nature, and has a finding of its own.
    let smallest = if figure.size_field == "module" { 0.2 } else { SMALLEST_LETTERS_MM };
    if fitted < smallest {
        return finding;
    }
    match figure.lettering {
        Some(_) => edits.push(job.letters(id, fitted)),
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
        two_lines(job, lettering, figure),
        narrower(job, lettering, figure, clear.width() / wide),
        wider_plate(job, figure, clear.width() - wide),
    ];
    more.into_iter().flatten().collect()
}

/// The words in two lines, broken where they are nearest to halves.
fn two_lines(job: &Job<'_>, lettering: &Lettering, figure: Figure<'_>) -> Option<Remedy> {
    let [line] = &lettering.lines[..] else { return None };
    let long = line.words.chars().count();
    let spaces = line.words.char_indices().filter(|(_, letter)| letter.is_whitespace());
    let (at, _) =
        spaces.min_by_key(|(at, _)| line.words[..*at].chars().count().abs_diff(long / 2))?;
    let halves = [line.words[..at].trim(), line.words[at..].trim()];
    let lines = halves.map(|words| TextLine { words: words.to_owned(), ..line.clone() });
    let broken = Lettering { lines: lines.to_vec(), ..lettering.clone() };
    let tall = job.fitted(&broken, figure.placed)?.min(figure.size);
    let id = &figure.placed.id;
    let set = [job.set(id, "lines", json!(lines)), job.letters(id, tall)];
    let edits = [set, job.place_in_clear(id)].concat();
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
    if missing >= 0.0 {
        return None;
    }
    let (mut edits, label) = plate_made(job, "width", -missing)?;
    edits.push(job.place(&figure.placed.id, "across", "clear", 0.0));
    Some(Remedy { label: format!("Make the plate {label}"), edits })
}

/// Whether the plate is as wide as it is high and is meant to: a circle, a regular star.
fn is_even(job: &Job<'_>) -> bool {
    let is_about_a_middle = matches!(
        job.component.outline(),
        Some(
            Outline::Ellipse
                | Outline::Scallop(_)
                | Outline::Ring(_)
                | Outline::Star(_)
                | Outline::Polygon(_)
        )
    );
    let plate = job.component.plate();
    let is_given_once = job.component.outline().is_some_and(Outline::is_given_by_one_figure);
    is_given_once || is_about_a_middle && plate.is_some_and(|plate| plate.width == plate.height)
}

/// The edits that make a side of the plate longer by so many mm, and what it is then; none where it goes by itself or
/// cannot be so long. A circle stays one.
fn plate_made(job: &Job<'_>, side: &str, by: f64) -> Option<(Vec<Edit>, String)> {
    let plate = job.component.plate().filter(|plate| !plate.grows.any())?;
    if matches!(job.component.outline(), Some(Outline::Contour(_))) {
        return None;
    }
    if job.component.outline().is_some_and(Outline::is_given_by_one_figure) {
        return polygon_made(job, by);
    }
    let (now, word) = match side {
        "width" => (plate.width, "wide"),
        _ => (plate.height, "high"),
    };
    let enough = (now.as_mm() + by).ceil();
    let can_be = limit_of("plate", side).is_some_and(|limit| enough <= limit.high);
    if is_even(job) {
        let both = ["width", "height"].map(|side| job.set_blank(side, enough));
        return can_be.then(|| (both.into(), format!("{} across", job.shown(enough))));
    }
    let label = format!("{} {word}", job.shown(enough));
    can_be.then(|| (vec![job.set_blank(side, enough)], label))
}

/// A regular polygon that reaches further by half of so many mm on every side.
fn polygon_made(job: &Job<'_>, by: f64) -> Option<(Vec<Edit>, String)> {
    let Some(Outline::Polygon(polygon)) = job.component.outline() else { return None };
    let size = polygon.regular?;
    let radius = size.circumradius(polygon.sides);
    let half_angle = std::f64::consts::PI / f64::from(polygon.sides);
    let larger = radius + by / 2.0 / half_angle.cos();
    let (word, now) = match size {
        PolygonSize::Flats(now) => ("flats", now),
        PolygonSize::Corners(now) => ("corners", now),
        PolygonSize::Side(now) => ("side", now),
    };
    let enough = (now.as_mm() * larger / radius).ceil();
    let field = format!("outline.polygon.regular.{word}");
    let can_be = limit_of("plate", &field).is_some_and(|limit| enough <= limit.high);
    let told = if word == "side" { "along a side" } else { "across" };
    can_be.then(|| (vec![job.set_blank(&field, enough)], format!("{} {told}", job.shown(enough))))
}

/// Words round a circle, made smaller with it so that they keep within the outline.
pub(super) fn smaller_circle(job: &Job<'_>, figure: Figure<'_>) -> Option<Remedy> {
    /// To the outline, in mm (common practice, no source).
    const LAND_MM: f64 = 1.0;
    let Course::Circle(circle) = figure.lettering?.course else { return None };
    let (x, y) = figure.placed.frame.centre();
    let reach = |((px, py), _): ((f64, f64), _)| (px - x).hypot(py - y);
    let needed = figure.placed.region.edges().map(reach).fold(0.0, f64::max);
    let (outline, _) = job.layout.room_for(figure.placed);
    let share = (outline.depth_of((x, y)) - LAND_MM) / needed;
    let [radius, tall] = [circle.radius.as_mm(), figure.size].map(|mm| rounded_down(mm * share));
    let id = &figure.placed.id;
    let edits = vec![job.set(id, "course.circle.radius", radius), job.letters(id, tall)];
    let label = format!("Make its radius {}, letters {}", job.shown(radius), job.shown(tall));
    let is_fit = share < 1.0 && tall >= SMALLEST_LETTERS_MM && !figure.is_repeated;
    is_fit.then_some(Remedy { label, edits })
}

/// A plate that reaches beyond what runs over its sides.
pub(super) fn larger_plate(job: &Job<'_>, ink: Rect, rect: Rect) -> Option<Remedy> {
    let margin = job.component.margin.as_mm().max(1.0);
    let sides = [
        ("width", (rect.x0 - ink.x0).max(ink.x1 - rect.x1)),
        ("height", (rect.y0 - ink.y0).max(ink.y1 - rect.y1)),
    ];
    let over: Vec<(&str, f64)> = sides.into_iter().filter(|(_, over)| *over > 0.0).collect();
    let over = match is_even(job) {
        true => over.into_iter().max_by(|a, b| a.1.total_cmp(&b.1)).into_iter().collect(),
        false => over,
    };
    let over = over.into_iter();
    // It grows about its middle.
    let made = over.map(|(side, over)| plate_made(job, side, 2.0 * (over + margin)));
    let (edits, said): (Vec<Vec<Edit>>, Vec<String>) =
        made.collect::<Option<Vec<_>>>()?.into_iter().unzip();
    let edits = edits.concat();
    let label = format!("Make the plate {}", said.join(" and "));
    (!edits.is_empty()).then_some(Remedy { label, edits })
}
