//! What may mend a place that is too thin or too narrow. Whether it does is tried before it is offered.

use super::owners::Owner;
use super::{Job, Place};
use crate::evaluate::Placed;
use crate::lettering::{Group, TYPEFACES};
use crate::piece::{Element, Emblem, Kind, LetterSize, Lettering, Remedy, limit_of};
use crate::plane::Side;
use crate::preflight::room::more_room;
use crate::preflight::rounded_up;
use serde_json::json;

/// What would have to be more times larger is so narrow that its width tells nothing any more.
const MOST_LARGER: f64 = 2.5;

/// Such is tried so many times as large.
const LARGER: [f64; 4] = [1.5, 2.5, 5.0, 10.0];

/// The ways to bring a place to what it should be, the mildest first.
pub(super) fn of(job: &Job<'_>, wanted: f64, place: &Place<'_>) -> Vec<Remedy> {
    let ways = Ways { job, place, wanted, missing: wanted - place.thin.width };
    let [a, b] = &place.owners;
    match (a, b) {
        (Owner::Element(element, placed), other) if a.id() == other.id() => {
            ways.within(element, placed)
        }
        _ => [(a, [0, 1]), (b, [1, 0])]
            .into_iter()
            .filter_map(|(owner, ends)| match owner {
                Owner::Element(element, placed) => Some(ways.apart(element, placed, ends)),
                Owner::Blank => None,
            })
            .flatten()
            .collect(),
    }
}

struct Ways<'a> {
    job: &'a Job<'a>,
    place: &'a Place<'a>,
    wanted: f64,
    missing: f64,
}

/// Up to the next twentieth of a millimetre, with a hair of room.
fn up(mm: f64) -> f64 {
    rounded_up(mm + 0.002)
}

impl Ways<'_> {
    /// Of a place within one element.
    fn within(&self, element: &Element, placed: &Placed) -> Vec<Remedy> {
        match &element.kind {
            Kind::Lettering(lettering) => self.of_letters(lettering, placed),
            Kind::Emblem(emblem) => self.of_emblem(emblem, placed),
            Kind::Rim(_) => vec![self.length(placed, "width", "Make the rim", up(self.wanted))],
            Kind::Loop(_) => vec![self.length(placed, "wall", "Make the loop", up(self.wanted))],
            Kind::Hole(hole) => {
                let wide = hole.diameter.as_mm() + self.missing;
                vec![self.length(placed, "diameter", "Make the hole", up(wide))]
            }
            Kind::Pattern(pattern) if self.place.side == Side::Inside => {
                let wide = pattern.line.as_mm().max(self.wanted);
                let pitch = pattern.pitch.as_mm() + self.missing.max(0.0);
                let label = format!("Leave {} between them", self.job.shown(up(wide)));
                vec![Remedy {
                    label,
                    edits: vec![
                        self.job.set(&placed.id, "line", json!(up(wide))),
                        self.job.set(&placed.id, "pitch", json!(up(pitch))),
                    ],
                }]
            }
            Kind::Pattern(pattern) => {
                let share = self.wanted / self.place.thin.width.max(0.05);
                let pitch = up(pattern.pitch.as_mm() * share.min(MOST_LARGER));
                vec![self.length(placed, "pitch", "Make the pitch", pitch)]
            }
            Kind::Halo(halo) => {
                let wide = up(halo.distance.as_mm() + self.missing);
                vec![self.length(placed, "distance", "Let the halo reach", wide)]
            }
            _ => Vec::new(),
        }
    }

    fn length(&self, placed: &Placed, field: &str, what: &str, mm: f64) -> Remedy {
        let label = match field {
            "width" | "wall" | "diameter" => format!("{what} {} wide", self.job.shown(mm)),
            _ => format!("{what} {}", self.job.shown(mm)),
        };
        Remedy { label, edits: vec![self.job.set(&placed.id, field, json!(mm))] }
    }

    fn of_letters(&self, lettering: &Lettering, placed: &Placed) -> Vec<Remedy> {
        let (job, id) = (self.job, &placed.id);
        // Weight is added on either side. It closes gaps and opens what is cut.
        let is_cut = placed.act == crate::solid::Act::Cuts;
        let way = if (self.place.side == Side::Inside) == is_cut { -1.0 } else { 1.0 };
        let limit = limit_of("lettering", "style.heavier");
        let weight = |times: f64| {
            // On either side of a stroke.
            let aside = (times * up(self.missing) * 100.0).round() / 200.0;
            let heavier =
                ((lettering.style.heavier.as_mm() + way * aside) * 1000.0).round() / 1000.0;
            let label = format!(
                "Make the strokes {} {}",
                job.shown(2.0 * aside),
                if way > 0.0 { "thicker" } else { "thinner" }
            );
            let can_be = limit.is_none_or(|limit| (limit.low..=limit.high).contains(&heavier));
            let edits = vec![job.set(id, "style.heavier", json!(heavier))];
            can_be.then_some(Remedy { label, edits })
        };
        let mut ways = Vec::new();
        if (self.place.side == Side::Outside) != is_cut {
            ways.extend(self.wider_apart(lettering, placed));
        }
        // Strokes that were lost altogether come back thin with a little weight; more mends them, too.
        ways.extend([1.0, 2.0, 3.5].into_iter().filter_map(weight));
        let heavier = lettering.style.heavier.as_mm();
        if heavier * way < 0.0 {
            let label = if way > 0.0 { "Take no weight away" } else { "Add no weight" };
            let edits = vec![job.set(id, "style.heavier", 0.0)];
            ways.push(Remedy { label: label.to_owned(), edits });
        }
        ways.extend(self.larger_letters(lettering, placed));
        ways.extend(self.more_room(lettering, placed));
        if self.place.side == Side::Inside && !is_cut {
            ways.extend(sturdier(job, lettering, placed));
        }
        ways
    }

    fn wider_apart(&self, lettering: &Lettering, placed: &Placed) -> Option<Remedy> {
        let height = placed.drawn.letter_height;
        let spacing = lettering.style.spacing + self.missing / height.max(0.1);
        let spacing = (spacing * 100.0).ceil() / 100.0;
        let edit = self.job.set(&placed.id, "style.spacing", json!(spacing));
        (spacing <= 1.0).then(|| Remedy {
            label: "Set the letters further apart".to_owned(),
            edits: vec![edit],
        })
    }

    /// What gives words room to be larger that are as large as there is room.
    fn more_room(&self, lettering: &Lettering, placed: &Placed) -> Vec<Remedy> {
        let figure = self.job.figures().find(|figure| figure.placed.id == placed.id);
        let fitted = !matches!(lettering.size, LetterSize::Height(_));
        let (Some(figure), Some(ink), true) = (figure, placed.region.bounds(), fitted) else {
            return Vec::new();
        };
        let larger = self.larger().into_iter();
        larger.flat_map(|ratio| more_room(self.job, figure, ink.width() * ratio * 1.02)).collect()
    }

    fn larger_letters(&self, lettering: &Lettering, placed: &Placed) -> Vec<Remedy> {
        let LetterSize::Height(height) = lettering.size else { return Vec::new() };
        let way = |ratio: f64| {
            let tall = (height.as_mm() * ratio * 1.02 * 10.0).ceil() / 10.0;
            let edit = self.job.letters(&placed.id, tall);
            let label = format!("Make the letters {}", self.job.shown(tall));
            Remedy { label, edits: vec![edit] }
        };
        self.larger().into_iter().map(way).collect()
    }

    /// How many times larger what is drawn in proportion would have to be; several, where that cannot be told.
    fn larger(&self) -> Vec<f64> {
        let ratio = self.wanted / self.place.thin.width.max(1e-3);
        if ratio <= MOST_LARGER { vec![ratio] } else { LARGER.to_vec() }
    }

    fn of_emblem(&self, emblem: &Emblem, placed: &Placed) -> Vec<Remedy> {
        let job = self.job;
        let shape = emblem.own_shape().and_then(|id| job.workshop.shape(id));
        let line = shape.and_then(|shape| shape.thinnest_line(emblem.setting(), &emblem.stroke));
        let mut ways = Vec::new();
        if let Some(line) = line.filter(|_| self.place.side == Side::Inside) {
            let wide = up(line + self.missing);
            ways.push(self.length(placed, "stroke.width", "Make its lines", wide));
        }
        let larger = self.larger().into_iter();
        let wide = larger.map(|ratio| (emblem.width.as_mm() * ratio * 1.02 * 10.0).ceil() / 10.0);
        let wide = wide.filter(|wide| *wide < job.shorter_side());
        ways.extend(wide.map(|wide| self.length(placed, "width", "Make it", wide)));
        ways
    }

    /// Of a place between an element and something else: it is moved away, or a hole is made smaller.
    /// `ends` are the own end of the place and the other.
    fn apart(&self, element: &Element, placed: &Placed, ends: [usize; 2]) -> Vec<Remedy> {
        let [own, other] = ends.map(|end| self.place.thin.ends[end]);
        let (dx, dy) = (own.0 - other.0, own.1 - other.1);
        let length = dx.hypot(dy);
        let mut ways = Vec::new();
        let can_move = element.place().is_some() || matches!(element.kind, Kind::Hole(_));
        if can_move && !element.locked && length > 1e-6 {
            let by = up(self.missing);
            let round = |mm: f64| (mm * 1000.0).round() / 1000.0;
            let edit = self.job.shift(placed, round(by * dx / length), round(by * dy / length));
            let label = format!("Move the {} by {}", placed.kind.word(), self.job.shown(by));
            ways.push(Remedy { label, edits: vec![edit] });
        }
        if let (Kind::Hole(hole), Side::Inside) = (&element.kind, self.place.side) {
            let wide = ((hole.diameter.as_mm() - 2.0 * self.missing) * 20.0).floor() / 20.0;
            if wide >= 1.0 {
                ways.push(self.length(placed, "diameter", "Make the hole", wide));
            }
        }
        if let Kind::Lettering(lettering) = &element.kind
            && let LetterSize::Height(height) = lettering.size
        {
            // What is near at one end may come near at the other.
            let smaller = [2.0, 4.0, 8.0].map(|times| height.as_mm() - times * up(self.missing));
            ways.extend(smaller.into_iter().filter(|tall| *tall >= 4.0).map(|tall| {
                let tall = (tall * 20.0).floor() / 20.0;
                let label = format!("Make the letters {}", self.job.shown(tall));
                Remedy { label, edits: vec![self.job.letters(&placed.id, tall)] }
            }));
        }
        ways
    }
}

/// Heavy typefaces that have all the letters.
fn sturdier(job: &Job<'_>, lettering: &Lettering, placed: &Placed) -> Vec<Remedy> {
    const OFFERED: usize = 2;
    let words = job.piece.filled_in(&lettering.words());
    let has_all =
        |c: char| move |typeface: &crate::lettering::Typeface| c.is_whitespace() || typeface.has(c);
    let others = TYPEFACES.iter().filter(|typeface| {
        typeface.group == Some(Group::Heavy)
            && typeface.id.as_ref() != lettering.typeface
            && words.chars().all(|c| has_all(c)(typeface))
    });
    let way = |typeface: &std::sync::Arc<crate::lettering::Typeface>| {
        let mut edits = vec![job.set(&placed.id, "typeface", typeface.id.as_ref())];
        let own = lettering.lines.iter().enumerate().filter(|(_, line)| line.typeface.is_some());
        edits.extend(own.map(|(i, _)| {
            job.set(&placed.id, &format!("lines.{i}.typeface"), serde_json::Value::Null)
        }));
        Remedy { label: format!("Set them in {}", typeface.name), edits }
    };
    others.take(OFFERED).map(way).collect()
}
