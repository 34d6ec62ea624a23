//! Setting: shaped lines become outlines, straight, along a circle or along an outline.

use super::shape::{Cluster, Placed, Shaped, shape};
use super::{Align, CircleSide, Reading, Style, Typeface};
use crate::cache::{Cache, Stage};
use crate::plane::{Rect, Region, Tolerance, from_grid};
use kurbo::{Affine, Point, Shape};
use std::borrow::Cow;
use std::f64::consts::FRAC_PI_2;
use std::sync::Arc;

/// One line to be set.
#[derive(Clone)]
pub struct Line {
    /// What it says. Tabs and line breaks count as spaces.
    pub words: String,
    /// Its face.
    pub typeface: Arc<Typeface>,
    /// Height of its capitals in mm.
    pub height: f64,
}

/// Words as outlines.
#[derive(Debug, Clone, Default)]
pub struct SetWords {
    /// All letters, united, in mm.
    pub region: Region,
    /// The box the words are placed by: as wide as what is drawn, from the line the last capitals
    /// stand on to the top of the first, so that words with and without descenders stand on one
    /// line. For words along a circle, the box of the circle. `None` where nothing is drawn.
    pub frame: Option<Rect>,
    /// How far the pen moves in mm, along the longest line.
    pub advance: f64,
    /// Letters drawn.
    pub glyphs: usize,
    /// Characters the faces lack, each once, in order. They are left out.
    pub missing: Vec<char>,
    /// What part of the circle the longest line takes up, in degrees; 0 for straight lines.
    pub span: f64,
    /// Where each letter stands.
    pub seats: Vec<Seat>,
}

/// Where a letter stands, or a shape lies: what is put on it goes with it.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Seat {
    /// Which line of the words, from 0; of a shape 0.
    pub line: u32,
    /// Which letter of it from left to right, from 0; of a shape 0.
    pub letter: u32,
    /// The character it is, the first of several; nothing for a shape.
    pub is: Option<char>,
    /// From its own coordinates in mm, the pen at the origin and capitals standing on y = 0, to where it lies:
    /// a turn, a move, and for what is mirrored a reflection.
    pub stand: Affine,
    /// How far the pen moves in mm; of a shape its width.
    pub wide: f64,
    /// Height of the capitals in mm; of a shape its height.
    pub tall: f64,
}

impl Seat {
    /// The same moved, turned or mirrored by something after it.
    pub fn then(self, by: Affine) -> Self {
        Seat { stand: by * self.stand, ..self }
    }

    /// The point at shares of its width and height, in mm.
    pub fn point(&self, across: f64, up: f64) -> (f64, f64) {
        let point = self.stand * Point::new(across * self.wide, up * self.tall);
        (point.x, point.y)
    }

    /// The direction that runs at an angle from its own across, in radians; in degrees counter-clockwise.
    pub fn direction(&self, degrees: f64) -> f64 {
        let (sine, cosine) = degrees.to_radians().sin_cos();
        let [a, b, c, d, ..] = self.stand.as_coeffs();
        (b * cosine + d * sine).atan2(a * cosine + c * sine)
    }

    /// The shares of its width and height at which a point lies: what [`Seat::point`] takes.
    pub fn shares(&self, (x, y): (f64, f64)) -> (f64, f64) {
        let own = self.stand.inverse() * Point::new(x, y);
        let share = |own: f64, whole: f64| if whole > 0.0 { own / whole } else { 0.0 };
        (share(own.x, self.wide), share(own.y, self.tall))
    }

    /// The angle of a direction from its own across, in degrees counter-clockwise: what [`Seat::direction`] takes.
    pub fn turn_of(&self, direction: f64) -> f64 {
        let [a, b, c, d, ..] = self.stand.as_coeffs();
        let (sine, cosine) = direction.sin_cos();
        let area = a * d - b * c;
        ((a * sine - b * cosine) / area).atan2((d * cosine - c * sine) / area).to_degrees()
    }

    /// How far a point lies outside its box, marks and descenders counted in, in mm.
    pub fn distance_to(&self, (x, y): (f64, f64)) -> f64 {
        let own = self.stand.inverse() * Point::new(x, y);
        let beyond = |at: f64, low: f64, high: f64| (low - at).max(at - high).max(0.0);
        let across = beyond(own.x, 0.0, self.wide);
        across.hypot(beyond(own.y, -0.5 * self.tall, 1.6 * self.tall))
    }
}

/// A circle words run along.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Circle {
    /// Its radius in mm.
    pub radius: f64,
    /// Which way the words run.
    pub reading: Reading,
    /// On which side of it the first line stands.
    pub side: CircleSide,
    /// Where the middle of the words stands, in degrees counter-clockwise from the right.
    pub middle: f64,
    /// The part of the circle the words are spread over, in degrees; as the font has it otherwise.
    pub spread: Option<f64>,
}

/// A way that letters are spread over.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Over {
    /// How long it is, in mm.
    pub way: f64,
    /// Whether it ends where it begins: then the last letter keeps its distance from the first as well.
    pub is_closed: bool,
}

impl Over {
    /// What the gaps between so many letters are widened by, in mm, so that a line of a length takes up
    /// the way; negative where it is too long. `spacing` is what stands between any two letters by itself: where the
    /// way is closed, between the last and the first as well.
    fn more(self, natural: f64, letters: usize, spacing: f64) -> f64 {
        let (gaps, natural) = match self.is_closed {
            true => (letters, natural + spacing),
            false => (letters.saturating_sub(1), natural),
        };
        if gaps == 0 { 0.0 } else { (self.way - natural) / gaps as f64 }
    }
}

/// Sets one line as its font has it, the pen starting at the origin and capitals standing on y = 0.
/// `letter_height` is the height of capitals in mm.
pub fn set(
    words: &str,
    typeface: &Arc<Typeface>,
    letter_height: f64,
    tolerance: Tolerance,
    cache: &Cache,
) -> SetWords {
    let line =
        Line { words: words.to_owned(), typeface: Arc::clone(typeface), height: letter_height };
    set_line(&line, &Style::default(), None, tolerance, cache)
}

/// One line, the pen starting at the origin; spread over a way, that way is its frame.
fn set_line(
    line: &Line,
    style: &Style,
    over: Option<Over>,
    tolerance: Tolerance,
    cache: &Cache,
) -> SetWords {
    let face = &*line.typeface;
    let shaped = shaped(line, style);
    let scale = Scale::of(line, style);
    let foot = face.cap_height().foot;
    let advance = shaped.advance * scale.across;
    let letters = shaped.clusters.len();
    let more = over.map_or(0.0, |over| over.more(advance, letters, style.spacing * line.height));
    let parts: Vec<Region> = shaped
        .clusters
        .iter()
        .enumerate()
        .flat_map(|(i, cluster)| cluster.glyphs.iter().map(move |glyph| (i, glyph)))
        .map(|(i, placed)| {
            let region = glyph_region(face, placed.glyph, &scale, tolerance, cache);
            let (x, y) = scale.point(placed.x, placed.y - foot);
            (*region).clone().moved(x + more * i as f64, y)
        })
        .filter(|region| !region.is_empty())
        .collect();
    let glyphs = parts.len();
    let seats = seats(&shaped, line, &scale, |cluster, i| {
        Affine::translate((cluster.start * scale.across + more * i as f64, 0.0))
    });
    let region = Region::gather(parts).offset(style.heavier.as_mm(), tolerance);
    let frame = region.bounds().map(|ink| match over {
        Some(_) => {
            let length = advance + more * letters.saturating_sub(1) as f64;
            Rect { x0: 0.0, x1: length, y0: 0.0, y1: line.height }
        }
        None => Rect { y0: 0.0, y1: line.height, ..ink },
    });
    SetWords { region, frame, advance, glyphs, missing: shaped.missing, span: 0.0, seats }
}

/// Sets lines one below the other. The distance from line to line is `pitch` times the height of
/// the lower one; the last stands on y = 0. Each can be spread over a way.
pub fn set_lines(
    lines: &[Line],
    style: &Style,
    (align, pitch): (Align, f64),
    over: Option<Over>,
    tolerance: Tolerance,
    cache: &Cache,
) -> SetWords {
    let mut all = SetWords::default();
    let mut parts = Vec::with_capacity(lines.len());
    let each = each_line(lines, style, align, over, tolerance, cache);
    for (i, (set, baseline)) in each.into_iter().zip(baselines(lines, pitch)).enumerate() {
        all.count(&set);
        let Some(frame) = set.frame else { continue };
        all.take_seats(set.seats, i, Affine::translate((0.0, baseline)));
        let frame = frame.moved(0.0, baseline);
        all.frame = Some(all.frame.map_or(frame, |whole| whole.hull(&frame)));
        parts.push(set.region.moved(0.0, baseline));
    }
    all.region = Region::gather(parts);
    all.missing = each_once(all.missing);
    all
}

/// Sets lines each by itself, standing on y = 0 and aligned about x = 0.
pub fn each_line(
    lines: &[Line],
    style: &Style,
    align: Align,
    over: Option<Over>,
    tolerance: Tolerance,
    cache: &Cache,
) -> Vec<SetWords> {
    let aligned = |line: &Line| {
        let mut set = set_line(line, style, over, tolerance, cache);
        let Some(frame) = set.frame else { return set };
        let dx = match align {
            Align::Left => -frame.x0,
            Align::Centre => -(frame.x0 + frame.x1) / 2.0,
            Align::Right => -frame.x1,
        };
        let by = Affine::translate((dx, 0.0));
        set.seats = set.seats.into_iter().map(|seat| seat.then(by)).collect();
        SetWords { region: set.region.moved(dx, 0.0), frame: Some(frame.moved(dx, 0.0)), ..set }
    };
    lines.iter().map(aligned).collect()
}

/// The heights lines stand at, `pitch` times the height of the lower one from one to the next; the last at 0.
pub fn baselines(lines: &[Line], pitch: f64) -> Vec<f64> {
    let mut baseline = lines.iter().skip(1).map(|line| pitch * line.height).sum();
    let mut all = Vec::with_capacity(lines.len());
    for (i, line) in lines.iter().enumerate() {
        if i > 0 {
            baseline -= pitch * line.height;
        }
        all.push(baseline);
    }
    all
}

/// Sets lines along a circle about the origin: every letter upright to its radius, its advance
/// measured along the line its capitals stand on. Further lines follow inwards when the words run
/// clockwise, outwards when they run upright.
pub fn set_around(
    lines: &[Line],
    style: &Style,
    circle: &Circle,
    pitch: f64,
    tolerance: Tolerance,
) -> SetWords {
    let mut all = SetWords::default();
    let mut parts = Vec::new();
    for (i, set) in each_around(lines, style, circle, pitch, tolerance).into_iter().enumerate() {
        all.count(&set);
        all.take_seats(set.seats, i, Affine::IDENTITY);
        parts.push(set.region);
    }
    all.region = Region::gather(parts).offset(style.heavier.as_mm(), tolerance);
    let size = 2.0 * circle.radius;
    all.frame = (!all.region.is_empty()).then(|| Rect::centred(size, size));
    all.missing = each_once(all.missing);
    all
}

/// Sets lines along a circle each by itself, without the weight that is added to them.
pub fn each_around(
    lines: &[Line],
    style: &Style,
    circle: &Circle,
    pitch: f64,
    tolerance: Tolerance,
) -> Vec<SetWords> {
    let feet = radii(lines, circle, pitch);
    let on = |(line, radius): (&Line, f64)| set_on_circle(line, style, circle, radius, tolerance);
    lines.iter().zip(feet).map(on).collect()
}

/// The letters of lines along a circle, each by itself where it stands, without the weight that is added to them.
pub fn letters_around(
    lines: &[Line],
    style: &Style,
    circle: &Circle,
    pitch: f64,
    tolerance: Tolerance,
) -> Vec<Vec<Region>> {
    let of_line = |(line, radius): (&Line, f64)| {
        let (shaped, scale) = (shaped(line, style), Scale::of(line, style));
        let on = OnCircle::of(&shaped, &scale, (line, style), circle, radius);
        each_stood(&shaped, line, &scale, tolerance, |cluster, i| on.stand(cluster, i))
    };
    lines.iter().zip(radii(lines, circle, pitch)).map(of_line).collect()
}

/// The letters of a straight line, each by itself where it stands, without the weight that is added to them.
pub fn letters_of(
    line: &Line,
    style: &Style,
    over: Option<Over>,
    tolerance: Tolerance,
) -> Vec<Region> {
    let (shaped, scale) = (shaped(line, style), Scale::of(line, style));
    let (advance, letters) = (shaped.advance * scale.across, shaped.clusters.len());
    let more = over.map_or(0.0, |over| over.more(advance, letters, style.spacing * line.height));
    each_stood(&shaped, line, &scale, tolerance, |_, i| Affine::translate((more * i as f64, 0.0)))
}

/// The letters of a line that stand each by itself.
fn each_stood(
    shaped: &Shaped,
    line: &Line,
    scale: &Scale,
    tolerance: Tolerance,
    stand: impl Fn(&Cluster, usize) -> Affine,
) -> Vec<Region> {
    let clusters = shaped.clusters.iter().enumerate();
    let letter = |(i, cluster): (usize, &Cluster)| {
        Region::gather(stood(cluster, stand(cluster, i), &line.typeface, scale, tolerance))
    };
    clusters.map(letter).collect()
}

/// The radii of the circles the capitals of lines stand on.
fn radii(lines: &[Line], circle: &Circle, pitch: f64) -> Vec<f64> {
    // Clockwise, a letter's up leads away from the centre.
    let up = if circle.reading == Reading::Clockwise { 1.0 } else { -1.0 };
    let first = lines.first().map_or(0.0, |line| line.height);
    let foot_radius = match (circle.reading, circle.side) {
        (Reading::Clockwise, CircleSide::Outside) | (Reading::Upright, CircleSide::Inside) => {
            circle.radius
        }
        (Reading::Clockwise, CircleSide::Inside) => circle.radius - first,
        (Reading::Upright, CircleSide::Outside) => circle.radius + first,
    };
    let mut beyond = 0.0;
    let mut all = Vec::with_capacity(lines.len());
    for (i, line) in lines.iter().enumerate() {
        if i > 0 {
            beyond += pitch * line.height;
        }
        const LEAST_RADIUS_MM: f64 = 0.1;
        all.push((foot_radius - up * beyond).max(LEAST_RADIUS_MM));
    }
    all
}

/// An outline words run along.
#[derive(Debug, Clone, Copy)]
pub struct Along<'a> {
    /// The outline; of several parts, and of openings, the largest part's outside counts.
    pub outline: &'a Region,
    /// From it to the first line, in mm; negative outside it.
    pub distance: f64,
    /// Which way the words run.
    pub reading: Reading,
    /// Where the middle of the words stands, seen from the middle of the outline, in degrees.
    pub middle: f64,
    /// The part of the way the words are spread over, in degrees; as the font has it otherwise.
    pub spread: Option<f64>,
}

/// Sets lines along an outline drawn in: every letter stands on the way with the middle of its advance, and lies as
/// the chord under it does, so that it turns gently where the way has a corner. Further lines follow towards
/// the reader's feet, as along a circle.
pub fn set_along(
    lines: &[Line],
    style: &Style,
    along: &Along<'_>,
    pitch: f64,
    tolerance: Tolerance,
) -> SetWords {
    let mut all = SetWords::default();
    let mut parts = Vec::new();
    let mut bounds: Option<Rect> = None;
    for (i, (line, way)) in lines.iter().zip(ways(lines, along, pitch, tolerance)).enumerate() {
        let Some(way) = way else { continue };
        let set = set_on_way(line, style, along, &way, tolerance);
        all.count(&set);
        bounds = bounds.or(set.frame);
        all.take_seats(set.seats, i, Affine::IDENTITY);
        parts.push(set.region);
    }
    all.region = Region::gather(parts).offset(style.heavier.as_mm(), tolerance);
    all.frame = bounds.filter(|_| !all.region.is_empty());
    all.missing = each_once(all.missing);
    all
}

/// The letters of lines along an outline, each by itself where it stands, without the weight that is added to them.
pub fn letters_along(
    lines: &[Line],
    style: &Style,
    along: &Along<'_>,
    pitch: f64,
    tolerance: Tolerance,
) -> Vec<Vec<Region>> {
    let of_line = |(line, way): (&Line, Option<Way>)| {
        let Some(way) = way else { return Vec::new() };
        let (shaped, scale) = (shaped(line, style), Scale::of(line, style));
        let on = OnWay::of(&shaped, &scale, (line, style), along, &way);
        each_stood(&shaped, line, &scale, tolerance, |cluster, i| on.stand(cluster, i))
    };
    lines.iter().zip(ways(lines, along, pitch, tolerance)).map(of_line).collect()
}

/// The ways the capitals of lines stand on; nothing for a line for which nothing is left of the outline.
fn ways(lines: &[Line], along: &Along<'_>, pitch: f64, tolerance: Tolerance) -> Vec<Option<Way>> {
    let clockwise = along.reading == Reading::Clockwise;
    let first = lines.first().map_or(0.0, |line| line.height);
    // Letters keep their distance with the side that looks to the outline: within it their heads where they run
    // clockwise, outside it their feet.
    let is_outside = along.distance < 0.0;
    let foot = match (clockwise, is_outside) {
        (true, false) => along.distance + first,
        (false, true) => along.distance - first,
        _ => along.distance,
    };
    let mut beyond = 0.0;
    let way = |(i, line): (usize, &Line)| {
        if i > 0 {
            beyond += pitch * line.height;
        }
        let inset = if clockwise { foot + beyond } else { foot - beyond };
        Way::of(&along.outline.offset(-inset, tolerance))
    };
    lines.iter().enumerate().map(way).collect()
}

/// A closed way, counter-clockwise, by the points of its chords and how far along it each lies.
struct Way {
    points: Vec<Point>,
    at: Vec<f64>,
    whole: f64,
    bounds: Rect,
}

impl Way {
    /// The outside of the largest part of a region.
    fn of(region: &Region) -> Option<Self> {
        let filled = region.without_openings();
        let largest = filled.clumps().into_iter().max_by(|a, b| a.area().total_cmp(&b.area()))?;
        let bounds = largest.bounds()?;
        let contour = largest.contours().first()?;
        let mut points: Vec<Point> =
            contour.iter().map(|p| Point::new(from_grid(p.x), from_grid(p.y))).collect();
        points.push(*points.first()?);
        let mut whole = 0.0;
        let mut at = vec![0.0];
        for pair in points.windows(2) {
            whole += pair[0].distance(pair[1]);
            at.push(whole);
        }
        (whole > 0.0).then_some(Way { points, at, whole, bounds })
    }

    /// The point so far along it; beyond its end it goes round once more.
    fn point(&self, along: f64) -> Point {
        let along = along.rem_euclid(self.whole);
        let next = self.at.partition_point(|at| *at <= along).clamp(1, self.points.len() - 1);
        let (from, to) = (self.points[next - 1], self.points[next]);
        let length = (self.at[next] - self.at[next - 1]).max(1e-12);
        from.lerp(to, (along - self.at[next - 1]) / length)
    }

    /// How far along it a ray from the middle of its box leaves it for the last time.
    fn towards(&self, degrees: f64) -> f64 {
        let (x, y) = self.bounds.centre();
        let (sine, cosine) = degrees.to_radians().sin_cos();
        // How far a point lies along the ray, and to the left of it.
        let seen = |p: Point| {
            let (dx, dy) = (p.x - x, p.y - y);
            (dx * cosine + dy * sine, dy * cosine - dx * sine)
        };
        let mut found = (f64::NEG_INFINITY, 0.0);
        for (i, pair) in self.points.windows(2).enumerate() {
            let ((u, v), (to_u, to_v)) = (seen(pair[0]), seen(pair[1]));
            if (v <= 0.0) == (to_v <= 0.0) {
                continue;
            }
            let share = v / (v - to_v);
            let out = u + (to_u - u) * share;
            if out > found.0 {
                found = (out, self.at[i] + share * (self.at[i + 1] - self.at[i]));
            }
        }
        found.1
    }
}

/// The outlines of the letters of a cluster, its pen's way through `stand`.
fn stood(
    cluster: &Cluster,
    stand: Affine,
    face: &Typeface,
    scale: &Scale,
    tolerance: Tolerance,
) -> Vec<Region> {
    let foot = face.cap_height().foot;
    let of = |placed: &Placed| {
        let (x, y) = scale.point(placed.x, placed.y - foot);
        let path = stand * Affine::translate((x, y)) * scale.affine() * face.outline(placed.glyph);
        Region::from_path(&path, tolerance)
    };
    cluster.glyphs.iter().map(of).filter(|region| !region.is_empty()).collect()
}

/// One line whose capitals stand on a way.
fn set_on_way(
    line: &Line,
    style: &Style,
    along: &Along<'_>,
    way: &Way,
    tolerance: Tolerance,
) -> SetWords {
    let shaped = shaped(line, style);
    let scale = Scale::of(line, style);
    let on = OnWay::of(&shaped, &scale, (line, style), along, way);
    let (parts, seats) = all_stood(&shaped, line, &scale, tolerance, |one, i| on.stand(one, i));
    SetWords {
        glyphs: parts.len(),
        region: Region::gather(parts),
        frame: Some(way.bounds),
        advance: shaped.advance * scale.across,
        missing: shaped.missing,
        seats,
        span: on.length / way.whole * 360.0,
    }
}

/// How the letters of a line stand on a way.
struct OnWay<'a> {
    way: &'a Way,
    /// How far along it the middle of the line stands.
    middle: f64,
    /// 1 where the line runs as its way does, −1 where it runs against it.
    forward: f64,
    across: f64,
    /// What the gaps between letters are widened by, in mm.
    more: f64,
    /// How long the line is, in mm.
    length: f64,
    /// The least of the way a letter is turned by, to either side, in mm.
    least: f64,
}

impl<'a> OnWay<'a> {
    fn of(
        shaped: &Shaped,
        scale: &Scale,
        (line, style): (&Line, &Style),
        along: &Along<'_>,
        way: &'a Way,
    ) -> Self {
        let natural = shaped.advance * scale.across;
        let letters = shaped.clusters.len();
        let more = along.spread.map_or(0.0, |degrees| {
            let part = degrees.min(360.0) / 360.0 * way.whole;
            let over = Over { way: part, is_closed: degrees >= 360.0 };
            over.more(natural, letters, style.spacing * line.height)
        });
        OnWay {
            way,
            middle: way.towards(along.middle),
            forward: if along.reading == Reading::Clockwise { -1.0 } else { 1.0 },
            across: scale.across,
            more,
            length: natural + more * letters.saturating_sub(1) as f64,
            least: line.height / 20.0,
        }
    }

    /// The way of the pen of a cluster.
    fn stand(&self, cluster: &Cluster, i: usize) -> Affine {
        let at = |pen: f64| self.way.point(self.middle + self.forward * (pen - self.length / 2.0));
        let (start, advance) = (cluster.start * self.across, cluster.advance * self.across);
        let centre = start + advance / 2.0;
        let pen = centre + self.more * i as f64;
        let half = (advance / 2.0).max(self.least);
        let chord = at(pen + half) - at(pen - half);
        Affine::translate(at(pen).to_vec2())
            * Affine::rotate(chord.y.atan2(chord.x))
            * Affine::translate((-centre, 0.0))
    }
}

/// How the letters of a line stand on a circle.
struct OnCircle {
    radius: f64,
    /// Where the middle of the line stands, in radians.
    middle: f64,
    clockwise: bool,
    across: f64,
    /// What the gaps between letters are widened by, in mm.
    more: f64,
    /// How long the line is, in mm.
    length: f64,
}

impl OnCircle {
    fn of(
        shaped: &Shaped,
        scale: &Scale,
        (line, style): (&Line, &Style),
        circle: &Circle,
        radius: f64,
    ) -> Self {
        let natural = shaped.advance * scale.across;
        let letters = shaped.clusters.len();
        let more = circle.spread.map_or(0.0, |degrees| {
            let way = degrees.min(360.0).to_radians() * radius;
            let over = Over { way, is_closed: degrees >= 360.0 };
            over.more(natural, letters, style.spacing * line.height)
        });
        OnCircle {
            radius,
            middle: circle.middle.to_radians(),
            clockwise: circle.reading == Reading::Clockwise,
            across: scale.across,
            more,
            length: natural + more * letters.saturating_sub(1) as f64,
        }
    }

    /// The way of the pen of a cluster.
    fn stand(&self, cluster: &Cluster, i: usize) -> Affine {
        let centre = (cluster.start + cluster.advance / 2.0) * self.across;
        let along = (centre + self.more * i as f64 - self.length / 2.0) / self.radius;
        let at = self.middle + if self.clockwise { -along } else { along };
        let turn = if self.clockwise { at - FRAC_PI_2 } else { at + FRAC_PI_2 };
        Affine::translate((self.radius * at.cos(), self.radius * at.sin()))
            * Affine::rotate(turn)
            * Affine::translate((-centre, 0.0))
    }
}

/// One line whose capitals stand on a circle of a radius in mm.
fn set_on_circle(
    line: &Line,
    style: &Style,
    circle: &Circle,
    radius: f64,
    tolerance: Tolerance,
) -> SetWords {
    let shaped = shaped(line, style);
    let scale = Scale::of(line, style);
    let on = OnCircle::of(&shaped, &scale, (line, style), circle, radius);
    let (parts, seats) = all_stood(&shaped, line, &scale, tolerance, |one, i| on.stand(one, i));
    SetWords {
        glyphs: parts.len(),
        region: Region::gather(parts),
        frame: None,
        advance: shaped.advance * scale.across,
        missing: shaped.missing,
        seats,
        span: (on.length / radius).to_degrees(),
    }
}

/// The outlines of the letters of a line that each stand by themselves, and where they do.
fn all_stood(
    shaped: &Shaped,
    line: &Line,
    scale: &Scale,
    tolerance: Tolerance,
    stand: impl Fn(&Cluster, usize) -> Affine,
) -> (Vec<Region>, Vec<Seat>) {
    let clusters = shaped.clusters.iter().enumerate();
    let parts = clusters
        .flat_map(|(i, one)| stood(one, stand(one, i), &line.typeface, scale, tolerance))
        .collect();
    let seats = seats(shaped, line, scale, |cluster, i| {
        stand(cluster, i) * Affine::translate((cluster.start * scale.across, 0.0))
    });
    (parts, seats)
}

/// Where the letters of a line stand, by where the pen of each does.
fn seats(
    shaped: &Shaped,
    line: &Line,
    scale: &Scale,
    stand: impl Fn(&Cluster, usize) -> Affine,
) -> Vec<Seat> {
    let of = |(i, cluster): (usize, &Cluster)| Seat {
        line: 0,
        letter: i as u32,
        is: Some(cluster.is),
        stand: stand(cluster, i),
        wide: cluster.advance * scale.across,
        tall: line.height,
    };
    shaped.clusters.iter().enumerate().map(of).collect()
}

impl SetWords {
    /// Takes over what a line counts: its letters, what was missing, and how long it is if none was longer.
    fn count(&mut self, line: &SetWords) {
        self.glyphs += line.glyphs;
        self.missing.extend(&line.missing);
        self.advance = self.advance.max(line.advance);
        self.span = self.span.max(line.span);
    }

    /// Takes over where the letters of a line stand.
    fn take_seats(&mut self, seats: Vec<Seat>, line: usize, by: Affine) {
        let of_line = seats.into_iter().map(|seat| Seat { line: line as u32, ..seat.then(by) });
        self.seats.extend(of_line);
    }
}

/// The letter height at which lines fill a box without leaving it, width or height, whichever binds
/// first; `None` where nothing is drawn or the box has no room for the weight added.
///
/// `lines` have their heights in proportion, the first line's to be multiplied by the result.
pub fn fitting_ratio(
    lines: &[Line],
    style: &Style,
    align: Align,
    pitch: f64,
    (width, height): (f64, f64),
) -> Option<f64> {
    // Ink grows with the letters, the weight added does not.
    let ink = ink_of_lines(lines, style, align, pitch)?;
    let room = |length: f64| length - 2.0 * style.heavier.as_mm();
    let ratio = (room(width) / ink.width()).min(room(height) / ink.height());
    (ratio > 0.0).then_some(ratio)
}

/// How far lines set one below the other reach, without drawing them, the last standing on y = 0: the box they are
/// placed by, as wide as the letters and as high as the capitals, and the box of what is drawn. In mm; `None` where
/// nothing is drawn.
pub fn extents(lines: &[Line], style: &Style, align: Align, pitch: f64) -> Option<(Rect, Rect)> {
    let mut ink = ink_of_lines(lines, style, align, pitch)?;
    let below: f64 = lines.iter().skip(1).map(|line| pitch * line.height).sum();
    ink = ink.moved(0.0, below).grown(style.heavier.as_mm());
    // Lines without ink have no capitals either.
    let mut baseline = below;
    let mut frame: Option<Rect> = None;
    for (i, line) in lines.iter().enumerate() {
        if i > 0 {
            baseline -= pitch * line.height;
        }
        if ink_of(line, style).is_some() {
            let own = Rect { x0: ink.x0, x1: ink.x1, y0: baseline, y1: baseline + line.height };
            frame = Some(frame.map_or(own, |frame| frame.hull(&own)));
        }
    }
    Some((frame?, ink))
}

/// The extent of what is drawn by lines set one below the other, without the weight added: of the curves
/// themselves, which flattened ones never leave.
fn ink_of_lines(lines: &[Line], style: &Style, align: Align, pitch: f64) -> Option<Rect> {
    let mut baseline = 0.0;
    let mut whole: Option<Rect> = None;
    for (i, line) in lines.iter().enumerate() {
        if i > 0 {
            baseline -= pitch * line.height;
        }
        let Some(ink) = ink_of(line, style) else { continue };
        let dx = match align {
            Align::Left => -ink.x0,
            Align::Centre => -(ink.x0 + ink.x1) / 2.0,
            Align::Right => -ink.x1,
        };
        let ink = ink.moved(dx, baseline);
        whole = Some(whole.map_or(ink, |whole| whole.hull(&ink)));
    }
    whole
}

fn ink_of(line: &Line, style: &Style) -> Option<Rect> {
    let face = &*line.typeface;
    let scale = Scale::of(line, style);
    let foot = face.cap_height().foot;
    let shaped = shaped(line, style);
    let glyphs = shaped.clusters.iter().flat_map(|cluster| &cluster.glyphs);
    let inks = glyphs.filter_map(|placed| {
        let path = scale.affine() * face.outline(placed.glyph);
        let ink = (!path.is_empty()).then(|| path.bounding_box())?;
        let (x, y) = scale.point(placed.x, placed.y - foot);
        Some(Rect { x0: ink.x0, y0: ink.y0, x1: ink.x1, y1: ink.y1 }.moved(x, y))
    });
    inks.reduce(|whole, ink| whole.hull(&ink))
}

fn each_once(mut characters: Vec<char>) -> Vec<char> {
    let mut seen = std::collections::HashSet::new();
    characters.retain(|character| seen.insert(*character));
    characters
}

fn shaped(line: &Line, style: &Style) -> Shaped {
    let words: String = line.words.chars().map(|c| if c.is_control() { ' ' } else { c }).collect();
    let words: Cow<'_, str> =
        if style.capitals { Cow::Owned(words.to_uppercase()) } else { Cow::Owned(words) };
    let spacing = style.spacing * line.typeface.cap_height().height / style.stretch;
    shape(&words, &line.typeface, spacing)
}

/// From font units to mm.
#[derive(Clone, Copy, PartialEq)]
struct Scale {
    across: f64,
    up: f64,
    /// How far a slant carries a point to the right for every mm it is up.
    lean: f64,
}

impl Scale {
    fn of(line: &Line, style: &Style) -> Self {
        let up = line.height / line.typeface.cap_height().height;
        Scale { across: up * style.stretch, up, lean: style.slant.to_radians().tan() }
    }

    fn point(&self, x: f64, y: f64) -> (f64, f64) {
        (x * self.across + y * self.up * self.lean, y * self.up)
    }

    fn affine(&self) -> Affine {
        Affine::new([self.across, 0.0, self.up * self.lean, self.up, 0.0, 0.0])
    }
}

/// The outline of a glyph, flattened and resolved; a name that grows by a letter needs only that letter.
fn glyph_region(
    typeface: &Typeface,
    glyph: u16,
    scale: &Scale,
    tolerance: Tolerance,
    cache: &Cache,
) -> Arc<Region> {
    let figures = [scale.across, scale.up, scale.lean].map(f64::to_bits);
    let key = cache.key(Stage::Glyph, (typeface.content(), glyph, figures, tolerance));
    cache.kept(key, || {
        let path = scale.affine() * typeface.outline(glyph);
        Region::from_path(&path, tolerance)
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::lettering::shipped as typeface;
    use crate::testing::cache;
    use crate::units::Length;

    fn line(words: &str, face: &str, height: f64) -> Line {
        Line { words: words.to_owned(), typeface: typeface(face).unwrap(), height }
    }

    fn bounds(words: &str, face: &str, height: f64) -> Rect {
        set(words, &typeface(face).unwrap(), height, Tolerance::Fine, &cache())
            .region
            .bounds()
            .unwrap()
    }

    #[test]
    fn a_flat_capital_is_as_tall_as_asked() {
        for face in ["bebas-neue", "montserrat", "press-start-2p", "zilla-slab"] {
            let h = bounds("H", face, 10.0);
            assert!((h.height() - 10.0).abs() < 1e-3 && h.y0.abs() < 1e-3, "{face}: {h:?}");
        }
    }

    #[test]
    fn pairs_are_kerned_and_missing_letters_are_named_once_in_reading_order() {
        let baloo = typeface("baloo-2").unwrap();
        let advance = |words| set(words, &baloo, 10.0, Tolerance::Draft, &cache()).advance;
        assert!(advance("AV") < advance("A") + advance("V") - 0.1);
        let lacking = set("Ωmega ש and Ω", &baloo, 10.0, Tolerance::Draft, &cache());
        assert_eq!(lacking.missing, ['Ω', 'ש']);
        assert!(lacking.glyphs > 5);
    }

    #[test]
    fn script_letters_that_overlap_are_united() {
        let pacifico = typeface("pacifico").unwrap();
        let whole = set("Solveig", &pacifico, 10.0, Tolerance::Normal, &cache()).region;
        let solveig = line("Solveig", "pacifico", 10.0);
        let scale = Scale::of(&solveig, &Style::default());
        let apart =
            |glyph| glyph_region(&pacifico, glyph, &scale, Tolerance::Normal, &cache()).area();
        let clusters = shaped(&solveig, &Style::default()).clusters;
        let sum: f64 =
            clusters.iter().flat_map(|one| &one.glyphs).map(|one| apart(one.glyph)).sum();
        assert!(whole.area() < sum - 0.1, "{} of {sum}", whole.area());
        assert!(whole.parts().len() < 7);
    }

    #[test]
    fn nothing_to_draw_is_no_error() {
        for words in ["", "   ", "\t\n", "🚢"] {
            let found = set(words, &typeface("nunito").unwrap(), 10.0, Tolerance::Normal, &cache());
            assert!(found.region.is_empty() && found.frame.is_none(), "{words:?}");
            let lines = [line(words, "nunito", 5.0)];
            let style = Style::default();
            let ratio = fitting_ratio(&lines, &style, Align::Left, 1.6, (9., 9.));
            assert_eq!(ratio, None);
        }
    }

    #[test]
    fn lines_stand_a_pitch_apart_and_meet_where_they_are_aligned() {
        let lines = [line("SKERRY", "bebas-neue", 10.0), line("II", "bebas-neue", 5.0)];
        for (align, side) in [(Align::Left, 0.0), (Align::Centre, 0.5), (Align::Right, 1.0)] {
            let set =
                set_lines(&lines, &Style::default(), (align, 1.6), None, Tolerance::Fine, &cache());
            let frame = set.frame.unwrap();
            // The foot of the first line is 1.6 × 5 mm above that of the second.
            assert!((frame.y1 - 18.0).abs() < 1e-9 && frame.y0 == 0.0);
            let (upper, lower): (Vec<Region>, Vec<Region>) =
                set.region.parts().into_iter().partition(|p| p.bounds().unwrap().y0 > 6.0);
            let [upper, lower] = [upper, lower].map(|p| Region::gather(p).bounds().unwrap());
            let at = |r: Rect| r.x0 + side * r.width();
            assert!((at(upper) - at(lower)).abs() < 1e-3, "{align:?}");
            assert!((lower.height() - 5.0).abs() < 0.2);
        }
    }

    #[test]
    fn styles_do_what_they_say() {
        let style = |style: Style| {
            let set =
                set_line(&line("hi", "nunito", 10.0), &style, None, Tolerance::Fine, &cache());
            (set.region.bounds().unwrap(), set.region.area(), set.advance)
        };
        let plain = style(Style::default());
        let wide = style(Style { stretch: 1.5, ..Style::default() });
        assert!((wide.1 - 1.5 * plain.1).abs() < 0.01 * plain.1);
        assert!((wide.0.height() - plain.0.height()).abs() < 1e-3);
        // A shear keeps areas (its determinant is 1) and moves the top to the right.
        let slanted = style(Style { slant: 15.0, ..Style::default() });
        assert!((slanted.1 - plain.1).abs() < 0.01 * plain.1);
        assert!(slanted.0.width() > plain.0.width() + 1.0);
        let heavy = style(Style { heavier: Length::mm(0.4), ..Style::default() });
        assert!((heavy.0.height() - plain.0.height() - 0.8).abs() < 0.01);
        let spaced = style(Style { spacing: 0.2, ..Style::default() });
        assert!((spaced.2 - plain.2 - 2.0).abs() < 1e-9);
        let capitals = style(Style { capitals: true, ..Style::default() });
        assert!(capitals.0.height() < 10.6 && capitals.1 > plain.1);
    }

    /// Along a circle the advance is arc length on the line the capitals stand on, and each letter
    /// is upright to its radius.
    #[test]
    fn along_a_circle_the_advance_is_arc_length_and_letters_are_upright() {
        let words = "HHHHHHH";
        let lines = [line(words, "bebas-neue", 4.0)];
        // Room between them, so that no two meet where their heads draw together.
        let spaced = Style { spacing: 0.3, ..Style::default() };
        for (reading, side, foot, middle) in [
            (Reading::Clockwise, CircleSide::Outside, 20.0, 90.0),
            (Reading::Clockwise, CircleSide::Inside, 16.0, 30.0),
            (Reading::Upright, CircleSide::Outside, 24.0, 270.0),
            (Reading::Upright, CircleSide::Inside, 20.0, 200.0),
        ] {
            let circle = Circle { radius: 20.0, reading, side, middle, spread: None };
            let set = set_around(&lines, &spaced, &circle, 1.6, Tolerance::Fine);
            let plain = set_lines(
                &lines,
                &Style::default(),
                (Align::Left, 1.6),
                None,
                Tolerance::Fine,
                &cache(),
            );
            let gap = 0.3 * 4.0;
            let step = f64::to_degrees((plain.advance / 7.0 + gap) / foot);
            assert!((set.span - 7.0 * step + f64::to_degrees(gap / foot)).abs() < 1e-6);
            let mut parts = set.region.parts();
            assert_eq!(parts.len(), 7);
            let angle = |part: &Region| {
                // The H is symmetrical: the middle of its points lies on its radius.
                let (x, y) = part.edges().fold((0.0, 0.0), |(x, y), (p, _)| (x + p.0, y + p.1));
                (y.atan2(x).to_degrees() - middle + 540.0).rem_euclid(360.0) - 180.0
            };
            parts.sort_by(|a, b| angle(a).total_cmp(&angle(b)));
            for (i, part) in parts.iter().enumerate() {
                assert!((angle(part) - (i as f64 - 3.0) * step).abs() < 0.3, "{reading:?} {i}");
                let radii: Vec<f64> = part.edges().map(|(p, _)| p.0.hypot(p.1)).collect();
                let [near, far] = if reading == Reading::Clockwise {
                    [foot, foot + 4.0]
                } else {
                    [foot - 4.0, foot]
                };
                // The feet of an H are flat and stand on the circle by their middle.
                let least = radii.iter().copied().fold(f64::INFINITY, f64::min);
                let most = radii.iter().copied().fold(0.0, f64::max);
                assert!(least > near - 0.15 && most < far + 0.15, "{least} {most}");
            }
        }
    }

    #[test]
    fn words_spread_around_a_whole_ring_keep_equal_gaps() {
        let circle = Circle {
            radius: 20.0,
            reading: Reading::Clockwise,
            side: CircleSide::Outside,
            middle: 90.0,
            spread: Some(360.0),
        };
        let lines = [line("HHHHHH", "bebas-neue", 4.0)];
        for spacing in [0.0, 0.3, -0.2] {
            let style = Style { spacing, ..Style::default() };
            let ring = set_around(&lines, &style, &circle, 1.6, Tolerance::Fine).region;
            // Turned by a sixth it covers itself.
            let turned = ring.clone().turned(60.0);
            assert!(ring.difference(&turned).area() < 0.02 * ring.area(), "{spacing}");
        }
    }
}
