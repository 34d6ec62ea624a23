//! Motifs: one outline over and over, as far as there is room.
//!
//! Motifs lie on a lattice about the middle of what they fill, and none touches another. They are drawn all at once
//! and cut at the edge in one go. How many there are going to be is known before any is drawn ([`MOST_MOTIFS`]).

use crate::emblems::{EMBLEMS, Setting, emblem};
use crate::piece::{Motif, Pattern, Stroke};
use crate::plane::{Rect, Region, Tolerance, circle, closed_line, rounded_rectangle};
use crate::units::Length;
use crate::workshop::Workshop;
use kurbo::Point;
use std::f64::consts::TAU;

/// The most motifs a pattern has, whole or cut.
pub(crate) const MOST_MOTIFS: usize = 4000;

/// The most points they come to in all: so many take about a second to work out for the page.
const MOST_POINTS: usize = 120_000;

/// Waves are so long, in pitches, and swing by so much to either side of their middle.
const WAVE_LENGTH: f64 = 4.0;
const WAVE_SWING: f64 = 0.25;

/// One motif and the lattice it is repeated on, before that is turned.
pub(super) struct Tiling {
    /// The motif about the origin; of stripes and waves a whole one as long as what they fill is made when that is
    /// known.
    motif: Region,
    /// From one to the next in a row; nothing where a row is one stripe.
    along: Option<f64>,
    /// From row to row.
    across: f64,
    /// How far every other row is moved along.
    odd: f64,
    waves: bool,
    /// How thick a stripe is, in mm.
    thick: f64,
    turn: f64,
    pitch: f64,
}

/// What comes of filling a region.
pub(super) enum Filling {
    /// These.
    Motifs(Motifs),
    /// More than are drawn: so many.
    TooMany(usize),
}

/// Motifs that lie within a region, each in one or several parts.
pub(super) struct Motifs {
    each: Vec<Region>,
}

impl Motifs {
    /// All of them.
    pub fn region(&self) -> Region {
        let contours = self.each.iter().flat_map(|one| one.contours().to_vec());
        Region::from_contours(contours.collect())
    }

    /// Those that can be cut out of an outline so that all that is left of it holds together: where something
    /// would come loose, what is round it is not cut. An outline that falls into parts by itself is to lose no
    /// more.
    pub fn holding(mut self, outline: &Region, tolerance: Tolerance) -> Region {
        const HAIR_MM: f64 = 0.05;
        loop {
            let left = outline.difference(&self.region());
            let mut parts = left.clumps();
            parts.sort_by(|a, b| b.area().total_cmp(&a.area()));
            let loose: Vec<Region> =
                parts.into_iter().skip(outline.clumps().len().max(1)).collect();
            if loose.is_empty() || self.each.is_empty() {
                return self.region();
            }
            let near: Vec<Region> =
                loose.iter().map(|part| part.offset(HAIR_MM, tolerance)).collect();
            let before = self.each.len();
            self.each.retain(|motif| {
                let bounds = motif.bounds();
                !near.iter().any(|part| {
                    let meet = bounds.zip(part.bounds()).is_some_and(|(a, b)| a.overlaps(&b));
                    meet && !motif.intersection(part).is_empty()
                })
            });
            if self.each.len() == before {
                return self.region();
            }
        }
    }
}

impl Tiling {
    /// The motif of a pattern and its lattice.
    pub fn of(pattern: &Pattern, workshop: &Workshop<'_>) -> Self {
        let tolerance = workshop.tolerance;
        let (pitch, size) = (pattern.pitch.as_mm(), pattern.size().max(0.0));
        let row = 3f64.sqrt() / 2.0 * pitch;
        let plain = Tiling {
            motif: Region::default(),
            along: Some(pitch),
            across: pitch,
            odd: 0.0,
            waves: false,
            thick: size,
            turn: pattern.turn,
            pitch,
        };
        let set = |id: &str| {
            let setting = Setting { width: size, stretch: 1.0, turn: 0.0, mirrored: false };
            let drawn = |setting: Setting| match workshop.shape(id) {
                Some(shape) => shape.set(setting, &Stroke::default(), tolerance),
                None => emblem(id).unwrap_or(&EMBLEMS[0]).set(setting, tolerance),
            };
            let own = drawn(setting);
            // What is higher than wide is as high as another is wide.
            let Some(bounds) = own.bounds().filter(|bounds| bounds.height() > 0.0) else {
                return own;
            };
            let ratio = (size / bounds.height()).min(1.0);
            if ratio < 1.0 { drawn(Setting { width: size * ratio, ..setting }) } else { own }
        };
        match &pattern.motif {
            Motif::Hexagons => {
                Tiling { motif: hexagon(size), across: row, odd: pitch / 2.0, ..plain }
            }
            Motif::Dots => Tiling {
                motif: circle((0.0, 0.0), size / 2.0, tolerance),
                across: row,
                odd: pitch / 2.0,
                ..plain
            },
            Motif::Squares => Tiling {
                motif: rounded_rectangle(Rect::centred(size, size), 0.0, tolerance),
                ..plain
            },
            Motif::Scales => Tiling {
                motif: scale(pitch, pattern.line.as_mm(), tolerance),
                across: pitch / 2.0,
                odd: pitch / 2.0,
                ..plain
            },
            Motif::Stripes => Tiling { along: None, ..plain },
            Motif::Waves => {
                // Square to its middle line at its steepest a wave is thinner than upright.
                let steepest = TAU * WAVE_SWING / WAVE_LENGTH;
                let upright = pattern.line.as_mm() * (1.0 + steepest * steepest).sqrt();
                let thick = (pitch - upright).max(0.0);
                Tiling { along: None, waves: true, thick, ..plain }
            }
            Motif::Shape(id) => Tiling { motif: set(id), ..plain },
        }
    }

    /// The pitch it has, in mm.
    pub fn pitch(&self) -> f64 {
        self.pitch
    }

    /// The pattern that comes nearest to this one of those that close on a way round, in mm: pitch and turn are such that
    /// going once round leads from one place of the lattice to another.
    pub fn closing(&self, pattern: &Pattern, way: f64) -> Pattern {
        let (sine, cosine) = self.turn.to_radians().sin_cos();
        // Once round, as the lattice sees it.
        let (u, v) = (way * cosine, -way * sine);
        let along = match (self.waves, self.along) {
            (true, _) => Some(WAVE_LENGTH * self.pitch),
            (false, along) => along,
        };
        let nearest = (v / self.across).round();
        let place = |row: f64| {
            let odd = if row.rem_euclid(2.0) == 1.0 { self.odd } else { 0.0 };
            let across = row * self.across;
            match along {
                Some(along) => (((u - odd) / along).round() * along + odd, across),
                None => (u, across),
            }
        };
        let off = |(x, y): &(f64, f64)| (x - u).hypot(y - v);
        let places = [nearest - 1.0, nearest, nearest + 1.0].map(place);
        let some = places.into_iter().filter(|(x, y)| x.hypot(*y) > self.pitch / 2.0);
        let Some((x, y)) = some.min_by(|a, b| off(a).total_cmp(&off(b))) else {
            return pattern.clone();
        };
        let turn = if y == 0.0 && x > 0.0 { 0.0 } else { -y.atan2(x).to_degrees() };
        let pitch = self.pitch * way / x.hypot(y);
        Pattern { pitch: Length::mm(pitch), turn, ..pattern.clone() }
    }

    /// The motifs within a region, those at its edge cut, or left out where only whole ones are kept. What was cut and is
    /// nowhere as wide as the narrowest there can be, in mm, is left out too.
    pub fn fill(
        &self,
        room: &Region,
        (whole, narrowest): (bool, f64),
        workshop: &Workshop<'_>,
    ) -> Filling {
        let Some(bounds) = room.bounds() else {
            return Filling::Motifs(Motifs { each: Vec::new() });
        };
        let middle = bounds.centre();
        // How far the lattice has to go, whichever way it is turned.
        let reach = bounds.width().hypot(bounds.height()) / 2.0;
        let rows = (reach / self.across).ceil() + 1.0;
        let columns = self.along.map_or(0.0, |along| (reach / along).ceil() + 1.0);
        let points = match self.along {
            Some(_) => self.motif.vertex_count().max(1) as f64,
            None => self.stripe_points(reach) as f64,
        };
        // Of the square the lattice fills, what the box takes up.
        let share = bounds.width() * bounds.height() / (4.0 * reach * reach);
        let all = (2.0 * rows + 1.0) * (2.0 * columns + 1.0);
        let likely = if self.along.is_some() { all * share } else { all };
        if likely > MOST_MOTIFS as f64 || likely * points > MOST_POINTS as f64 {
            return Filling::TooMany(likely.ceil().min(1e9) as usize);
        }
        let (rows, columns) = (rows as i32, columns as i32);
        let (sine, cosine) = self.turn.to_radians().sin_cos();
        let motif = match self.along {
            Some(_) => self.motif.clone(),
            None => self.stripe(reach, workshop.tolerance),
        }
        .turned(self.turn);
        let Some(own) = motif.bounds() else { return Filling::Motifs(Motifs { each: Vec::new() }) };
        let mut sites = Vec::new();
        for row in -rows..=rows {
            for column in -columns..=columns {
                let odd = if row.rem_euclid(2) == 1 { self.odd } else { 0.0 };
                let (u, v) = (
                    f64::from(column) * self.along.unwrap_or(0.0) + odd,
                    f64::from(row) * self.across,
                );
                let at = (middle.0 + u * cosine - v * sine, middle.1 + u * sine + v * cosine);
                if own.moved(at.0, at.1).overlaps(&bounds) {
                    sites.push(at);
                }
            }
        }
        Filling::Motifs(kept(&motif, &sites, room, (whole && self.along.is_some(), narrowest)))
    }

    fn stripe_points(&self, reach: f64) -> usize {
        if self.waves { 2 * self.wave_steps(reach) + 2 } else { 4 }
    }

    /// Chords of a wave from end to end: 32 to a wave stray by a thousandth of the pitch.
    fn wave_steps(&self, reach: f64) -> usize {
        const TO_A_WAVE: f64 = 32.0;
        (2.0 * reach / (WAVE_LENGTH * self.pitch) * TO_A_WAVE).ceil() as usize + TO_A_WAVE as usize
    }

    /// A stripe about the origin that reaches so far to either side.
    fn stripe(&self, reach: f64, tolerance: Tolerance) -> Region {
        let half = self.thick / 2.0;
        let reach = reach + self.pitch;
        if !self.waves {
            return rounded_rectangle(Rect::centred(2.0 * reach, self.thick), 0.0, tolerance);
        }
        let steps = self.wave_steps(reach);
        let at = |i: usize| {
            let x = -reach + 2.0 * reach * i as f64 / steps as f64;
            (x, WAVE_SWING * self.pitch * (TAU * x / (WAVE_LENGTH * self.pitch)).sin())
        };
        let lower = (0..=steps).map(|i| (at(i).0, at(i).1 - half));
        let upper = (0..=steps).rev().map(|i| (at(i).0, at(i).1 + half));
        Region::from_path(&closed_line(lower.chain(upper).map(Point::from)), tolerance)
    }
}

/// A motif at every site as far as it lies in a region. Motifs do not touch each other, so what is cut belongs to
/// the site whose motif its middle lies in the box of, the nearest first.
fn kept(
    motif: &Region,
    sites: &[(f64, f64)],
    room: &Region,
    (whole, narrowest): (bool, f64),
) -> Motifs {
    /// A motif that has lost less than this share of itself is whole: rounding.
    const WHOLE: f64 = 1.0 - 1e-5;
    let at = |(x, y): (f64, f64)| motif.clone().moved(x, y);
    let all = Region::from_contours(
        sites.iter().flat_map(|site| at(*site).contours().to_vec()).collect(),
    );
    let cut = all.intersection(room);
    let Some(own) = motif.bounds() else { return Motifs { each: Vec::new() } };
    let mut parts: Vec<Vec<Region>> = vec![Vec::new(); sites.len()];
    for part in cut.clumps() {
        let Some(bounds) = part.bounds() else { continue };
        let is_cut = part.area() < WHOLE * motif.area();
        if is_cut && part.offset(-narrowest / 2.0, Tolerance::Draft).is_empty() {
            continue;
        }
        let holds = |site: &(f64, f64)| own.moved(site.0, site.1).grown(1e-3).contains(&bounds);
        let far = |site: &(f64, f64)| {
            let ((x, y), (a, b)) = (bounds.centre(), own.moved(site.0, site.1).centre());
            (x - a).hypot(y - b)
        };
        let of_it = sites.iter().enumerate().filter(|(_, site)| holds(site));
        let nearest = of_it.min_by(|(_, a), (_, b)| far(a).total_cmp(&far(b)));
        if let Some((i, _)) = nearest {
            parts[i].push(part);
        }
    }
    let area = motif.area();
    let each = parts.into_iter().filter(|parts| !parts.is_empty()).filter_map(|parts| {
        let left: f64 = parts.iter().map(Region::area).sum();
        let contours = parts.iter().flat_map(|part| part.contours().to_vec());
        (!whole || left >= WHOLE * area).then(|| Region::from_contours(contours.collect()))
    });
    Motifs { each: each.collect() }
}

/// A hexagon with two upright flats, so far apart.
fn hexagon(flats: f64) -> Region {
    let radius = flats / 3f64.sqrt();
    let corner = |i: i32| {
        let angle = TAU * (f64::from(i) / 6.0 + 1.0 / 12.0);
        Point::new(radius * angle.cos(), radius * angle.sin())
    };
    Region::from_path(&closed_line((0..6).map(corner)), Tolerance::Fine)
}

/// What is seen of a scale that two of the row above it cover: a disc as wide as the pitch without them, drawn in
/// by half the line. Scales fill the plane: each has the area p²/2.
fn scale(pitch: f64, line: f64, tolerance: Tolerance) -> Region {
    let radius = pitch / 2.0;
    let disc = |x: f64, y: f64| circle((x, y), radius, tolerance);
    let seen = disc(0.0, 0.0).difference(&disc(-radius, radius)).difference(&disc(radius, radius));
    seen.offset(-line / 2.0, tolerance)
}

#[cfg(test)]
mod tests {
    use super::*;

    fn pattern(motif: Motif, pitch: f64, line: f64) -> Pattern {
        Pattern {
            motif,
            pitch: Length::mm(pitch),
            line: Length::mm(line),
            turn: 0.0,
            fills: crate::piece::Fills::Face,
            inset: Length::ZERO,
            apart: Length::ZERO,
            whole: false,
            relief: crate::piece::Relief::recessed(1.0),
            colour: None,
            root: Length::ZERO,
        }
    }

    fn filled(pattern: &Pattern, room: &Region) -> Motifs {
        crate::testing::with_workshop(Tolerance::Fine, |workshop| {
            match Tiling::of(pattern, workshop).fill(room, (pattern.whole, 0.4), workshop) {
                Filling::Motifs(motifs) => motifs,
                Filling::TooMany(count) => panic!("{count}"),
            }
        })
    }

    /// The share of the plane each motif covers, by the area of one and of what it is repeated in: of hexagons
    /// ((p − l)/p)², of discs π/(2√3) times that, of squares that, of stripes (p − l)/p; waves are thinner by
    /// what they are steep by. A large room is covered by as much, but for its edge.
    #[test]
    fn motifs_cover_their_share() {
        let room = circle((3.0, -2.0), 60.0, Tolerance::Fine);
        let (p, l): (f64, f64) = (5.0, 1.2);
        let share = (p - l) / p;
        let steepest: f64 = TAU * WAVE_SWING / WAVE_LENGTH;
        let waves = (p - l * (1.0 + steepest * steepest).sqrt()) / p;
        let cases = [
            (Motif::Hexagons, share * share),
            (Motif::Dots, share * share * std::f64::consts::PI / (2.0 * 3f64.sqrt())),
            (Motif::Squares, share * share),
            (Motif::Stripes, share),
            (Motif::Waves, waves),
        ];
        for (motif, expected) in cases {
            for turn in [0.0, 17.0] {
                let pattern = Pattern { turn, ..pattern(motif.clone(), p, l) };
                let found = filled(&pattern, &room).region().area() / room.area();
                assert!(
                    (found / expected - 1.0).abs() < 0.01,
                    "{motif:?} {turn}: {found} {expected}"
                );
            }
        }
        // Scales without a line between them fill the plane.
        let found = filled(&pattern(Motif::Scales, p, 0.1), &room).region().area() / room.area();
        assert!(found > 0.9 && found < 0.97, "{found}");
    }

    /// Motifs keep the line between them: grown by half of it less a hair they do not meet.
    #[test]
    fn motifs_keep_the_line_between_them() {
        let room = rounded_rectangle(Rect::centred(60.0, 40.0), 0.0, Tolerance::Fine);
        let motifs = [
            Motif::Hexagons,
            Motif::Dots,
            Motif::Squares,
            Motif::Stripes,
            Motif::Waves,
            Motif::Scales,
            Motif::Shape("heart".to_owned()),
        ];
        for motif in motifs {
            let found = filled(&pattern(motif.clone(), 6.0, 1.0), &room).region();
            let parts = found.clumps().len();
            assert_eq!(found.offset(0.49, Tolerance::Fine).clumps().len(), parts, "{motif:?}");
        }
    }

    #[test]
    fn whole_motifs_are_whole_and_within() {
        let room = circle((0.0, 0.0), 20.0, Tolerance::Fine);
        for motif in [Motif::Hexagons, Motif::Dots, Motif::Shape("anchor".to_owned())] {
            let cut = pattern(motif.clone(), 5.0, 1.0);
            let whole = Pattern { whole: true, ..cut.clone() };
            let (cut, whole) = (filled(&cut, &room), filled(&whole, &room));
            assert!(whole.each.len() < cut.each.len() && whole.each.len() > 20, "{motif:?}");
            let one = whole.each[0].area();
            assert!(
                whole.each.iter().all(|each| (each.area() / one - 1.0).abs() < 1e-4),
                "{motif:?}"
            );
            assert!(whole.region().difference(&room).is_empty());
        }
    }

    /// Stripes across an island that hangs by nothing leave it out, and all is in one.
    #[test]
    fn what_is_cut_through_leaves_everything_in_one() {
        let outline = rounded_rectangle(Rect::centred(60.0, 30.0), 0.0, Tolerance::Fine);
        let room = rounded_rectangle(Rect::centred(54.0, 24.0), 0.0, Tolerance::Fine);
        // An island smaller than a stripe is thick.
        let island = circle((0.0, 0.0), 1.0, Tolerance::Fine);
        let room = room.difference(&island);
        let motifs = filled(&pattern(Motif::Stripes, 6.0, 1.0), &room);
        let all = motifs.each.len();
        assert_eq!(outline.difference(&motifs.region()).clumps().len(), 2);
        let held = motifs.holding(&outline, Tolerance::Fine);
        assert_eq!(outline.difference(&held).clumps().len(), 1);
        assert_eq!(held.clumps().len(), all - 1);
    }

    #[test]
    fn too_many_motifs_are_counted_and_not_drawn() {
        let room = rounded_rectangle(Rect::centred(400.0, 400.0), 0.0, Tolerance::Fine);
        let fine = pattern(Motif::Dots, 0.5, 0.1);
        crate::testing::with_workshop(Tolerance::Fine, |workshop| {
            match Tiling::of(&fine, workshop).fill(&room, (false, 0.4), workshop) {
                Filling::TooMany(count) => assert!(count > 700_000, "{count}"),
                Filling::Motifs(_) => panic!(),
            }
        });
    }
}
