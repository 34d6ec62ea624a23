//! Walls and floors of the finished solid of which hardly anything is left, whatever took the rest: a chamfer outside and a
//! corner inside, fields sunk from both sides, a rebate in a thin wall.

use super::depth::Sunk;
use super::edges::smaller_edges;
use super::layers::LEAST_LAYERS;
use super::spot::Spot;
use super::{Figures, Finding, Job, Source, Weight, rounded_down};
use crate::evaluate::{Along, Face, Placed};
use crate::piece::{Address, Edit, Element, Kind};
use crate::plane::{Rect, Tolerance, rounded_rectangle};
use crate::solid::ThinWall;

/// Meshes of more triangles are not looked at.
const MOST_TRIANGLES: usize = 200_000;

/// What lies nearer to a face or a floor than this lies on it, in mm.
const HAIR_MM: f64 = 0.01;

/// What upright is to a direction, as a cosine: steeper is a floor.
const LEVEL: f64 = 0.7;

/// What is found in sections is told there; what is left of plates without any treated edge, and nothing let into them, is
/// found in their sections.
pub(super) fn check(job: &Job<'_>) -> Vec<Finding> {
    let layout = job.layout;
    let is_plain = !layout.has_charts()
        && layout.sockets.is_empty()
        && layout.blank.prisms.iter().all(|prism| !prism.is_treated());
    let mesh = &job.made.mesh;
    if is_plain || layout.stock.is_some() {
        return Vec::new();
    }
    if mesh.triangles.len() > MOST_TRIANGLES {
        return vec![not_looked_at(job)];
    }
    let line = job.piece.printer.line.as_mm();
    let layers = LEAST_LAYERS * job.piece.layers.height.as_mm();
    let lies = job.made.lies;
    let is_level = move |way: [f64; 3]| lies.turned(way)[2].abs() > LEVEL;
    let limit = |way: [f64; 3]| if is_level(way) { layers } else { line };
    let figures = Figured::all(job);
    let counts =
        |point: [f64; 3], way: [f64; 3]| !figures.iter().any(|figure| figure.has(point, way));
    let found = mesh.thinnest_wall(line.max(layers), limit, counts);
    let Some(thin) = found.place else {
        return if found.is_whole { Vec::new() } else { vec![not_looked_at(job)] };
    };
    let [from, to] = thin.ends;
    let is_floor = is_level([0, 1, 2].map(|i| (to[i] - from[i]) / thin.width));
    vec![said(job, thin, if is_floor { ("floor", layers) } else { ("wall", line) })]
}

/// Where the strokes of a figure are, which are looked at in their sections: its box on its face, from its floor to its top.
struct Figured<'a> {
    face: Option<&'a Face>,
    lift: f64,
    bounds: Rect,
    bottom: f64,
    top: f64,
    /// What lies on its floor may be off it by so much: round faces are made of chords.
    hair: f64,
}

impl<'a> Figured<'a> {
    fn all(job: &Job<'a>) -> Vec<Self> {
        let layout = job.layout;
        let figures = job.pairs().filter(|(element, placed)| {
            let is_drawn = matches!(element.kind, Kind::Pattern(_) | Kind::Halo(_) | Kind::Rim(_));
            (element.is_figure() || is_drawn) && !placed.prisms.is_empty()
        });
        let of = |(_, placed): (&Element, &Placed)| {
            let face = layout.face(placed.face).filter(|face| !face.in_sections);
            let (low, high) = placed
                .prisms
                .iter()
                .fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), prism| {
                    (low.min(prism.bottom), high.max(prism.top))
                });
            let bounds = placed.region.bounds()?.grown(0.5);
            let is_round = face.is_some_and(|face| face.round.is_some());
            let hair = HAIR_MM + if is_round { layout.tolerance.chord_mm() } else { 0.0 };
            Some(Figured { face, lift: job.made.lift, bounds, bottom: low, top: high, hair })
        };
        figures.filter_map(of).collect()
    }

    /// Whether a point of the finished solid, from which something lies in a direction, lies on its strokes. What lies below
    /// their floor is no stroke; what lies beside them there is.
    fn has(&self, point: [f64; 3], way: [f64; 3]) -> bool {
        let [x, y, z] = [point[0], point[1], point[2] - self.lift];
        let dot = |a: [f64; 3], b: [f64; 3]| (0..3).map(|i| a[i] * b[i]).sum::<f64>();
        let ((u, v, height), out) = match self.face {
            None => ((x, y, z), [0.0, 0.0, 1.0]),
            Some(Face { round: Some(round), .. }) => {
                let far = x.hypot(y).max(1e-9);
                (round.unwound([x, y, z]), [x / far, y / far, 0.0])
            }
            Some(Face { frame, .. }) => {
                let from = [0, 1, 2].map(|i| [x, y, z][i] - frame.origin[i]);
                ((dot(from, frame.across), dot(from, frame.up), dot(from, frame.out)), frame.out)
            }
        };
        let below = if dot(way, out).abs() < 0.5 { -self.hair } else { self.hair };
        let Rect { x0, y0, x1, y1 } = self.bounds;
        // Words that run round go on behind the end of their chart.
        let is_across = match self.face.and_then(|face| face.round.as_ref()) {
            Some(round) => {
                let turn = ((x0 - u) / round.way_round()).ceil() * round.way_round();
                u + turn <= x1
            }
            None => (x0..=x1).contains(&u),
        };
        is_across
            && (y0..=y1).contains(&v)
            && self.bottom + below < height
            && height < self.top + self.hair
    }
}

/// That nobody looked how thin some of it is.
fn not_looked_at(job: &Job<'_>) -> Finding {
    let message = format!(
        "The surface of the {} is so fine that its walls and floors were not all measured. Look at them in the solid.",
        job.blank()
    );
    job.of_blank("walls-not-measured", Weight::Note, message)
}

fn said(job: &Job<'_>, thin: ThinWall, (what, limit): (&str, f64)) -> Finding {
    let message = format!(
        "Only {} of {what} is left in one place of the {}: it will not hold, or not be there.",
        job.shown(thin.width),
        job.blank()
    );
    let figures = Figures { measured: thin.width, limit, source: Source::Printer };
    let finding = job.of_blank("thin-left", Weight::Must, message).measured(figures);
    let mut finding = match job.layout.profile.is_some() {
        true => finding,
        false => finding.spots([spot(job, thin)]),
    };
    let missing = limit - thin.width;
    for (label, edits) in ways(job, missing) {
        finding = finding.remedy(label, edits);
    }
    finding
}

/// A square of a millimetre round the place, from the one end to the other.
fn spot(job: &Job<'_>, thin: ThinWall) -> Spot {
    let [[ax, ay, az], [bx, by, bz]] = thin.ends;
    let middle = Rect::centred(1.0, 1.0).moved((ax + bx) / 2.0, (ay + by) / 2.0);
    let shape = rounded_rectangle(middle, 0.0, Tolerance::Draft);
    let lift = job.made.lift;
    let (bottom, top) = (az.min(bz) - lift, az.max(bz) - lift);
    Spot { seen: Along::Sections, shape, bottom, top, ends: None }
}

/// What may leave more: smaller edges of the blank, and less deep fields; whether they do is tried.
fn ways(job: &Job<'_>, missing: f64) -> Vec<(String, Vec<Edit>)> {
    /// An edge of 45° takes this times as much along its face as square to it.
    const ACROSS_AN_EDGE: f64 = 1.5;
    let mut ways =
        smaller_edges(job, &job.component.blank_address(), ACROSS_AN_EDGE * missing + 0.1);
    for (element, placed) in job.pairs() {
        let target: Address = job.address(&placed.id);
        ways.extend(smaller_edges(job, &target, ACROSS_AN_EDGE * missing + 0.1));
        let Some(sunk) = Sunk::of(element) else { continue };
        let deep = rounded_down(placed.ground - sunk.depth.floor(placed.ground) - missing - 0.05);
        if deep > 0.0 {
            let label = format!("Make the {} {} deep", placed.kind.word(), job.shown(deep));
            ways.push((label, vec![sunk.made(job, &placed.id, deep)]));
        }
    }
    ways
}
