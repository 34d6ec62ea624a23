//! What of a drawing is there once it is printed.
//!
//! A line of plastic has a width. What is narrower than it is not drawn: of a shape all is left that such a line,
//! laid anywhere within it, covers (opening by a disc; Serra 1982, as [`Region::necks`]). And what lies nearer together than a gap
//! stays open runs together (closing). Of something cut it is the other way round: its walls are what is drawn.

use crate::cache::Cache;
use crate::evaluate::{Along, Evaluation, Made, Placed, Slice};
use crate::halt::Halted;
use crate::piece::{Address, Component, ElementKind, FaceName, Piece};
use crate::plane::{Region, Tolerance, without_corners};
use crate::solid::Act;
use crate::workshop::Workshop;
use std::collections::BTreeMap;

/// What is printed otherwise than it is drawn, seen from a face.
#[derive(Debug, Clone)]
pub struct Printed {
    /// The element; the component for what comes of several, or of the blank.
    pub target: Address,
    /// The face it is seen on.
    pub face: FaceName,
    /// What is drawn and not printed.
    pub lost: Region,
    /// What is printed and not drawn.
    pub closed: Region,
}

/// What is nowhere as wide as this share of a line is a sliver that rounding leaves (ours).
const SLIVER_SHARE: f64 = 1.0 / 20.0;

/// Larger elements and slices are not looked at, in points.
const MOST_POINTS: usize = 40_000;

/// More slices are not looked at.
const MOST_SLICES: usize = 40;

/// What every element loses or closes when it is printed, and what comes of several besides: walls and gaps between
/// them, strokes of one colour in another; corners that are rounded are not told of those. Those that do neither are
/// left out.
///
/// # Errors
/// [`Halted`] where the work was stopped.
pub fn printed(
    piece: &Piece,
    evaluation: &Evaluation,
    workshop: &Workshop<'_>,
) -> Result<Vec<Printed>, Halted> {
    workshop.over(|| of_all(piece, evaluation, workshop))?
}

fn of_all(
    piece: &Piece,
    evaluation: &Evaluation,
    workshop: &Workshop<'_>,
) -> Result<Vec<Printed>, Halted> {
    let mut all = Vec::new();
    for (component, made) in piece.components.iter().zip(&evaluation.components) {
        let mut own = Vec::new();
        for placed in &made.layout.elements {
            workshop.go_on()?;
            let is_drawn = !matches!(placed.kind, ElementKind::Loop | ElementKind::Recess);
            if !is_drawn || placed.region.vertex_count() > MOST_POINTS {
                continue;
            }
            let press = Press::of(piece, made.layout.tolerance, workshop.cache);
            let (lost, closed) = press.of_element(placed);
            if lost.is_empty() && closed.is_empty() {
                continue;
            }
            let target = component.element_address(&placed.id);
            own.push(Printed { target, face: placed.face, lost, closed });
        }
        let together = of_several(piece, component, made, &own, workshop)?;
        all.extend(own);
        all.extend(together);
    }
    Ok(all)
}

/// What lays lines of plastic, and what they leave.
struct Press<'a> {
    /// How wide a line is, and how wide a gap that stays open, in mm.
    line: f64,
    gap: f64,
    tolerance: Tolerance,
    cache: &'a Cache,
}

impl<'a> Press<'a> {
    fn of(piece: &Piece, tolerance: Tolerance, cache: &'a Cache) -> Self {
        let [line, gap] = [piece.printer.line, piece.printer.gap].map(|length| length.as_mm());
        Press { line, gap, tolerance, cache }
    }

    /// What is lost of a shape no line fits into, and what closes of the rest.
    fn pressed(&self, drawn: &Region, narrowest: f64, nearest: f64) -> (Region, Region) {
        let offset = |region: &Region, by: f64| self.cache.offset(region, by, self.tolerance);
        let opened = offset(&offset(drawn, -narrowest / 2.0), narrowest / 2.0);
        let closed = offset(&offset(&opened, nearest / 2.0), -nearest / 2.0);
        (drawn.difference(&opened), closed.difference(&opened).difference(drawn))
    }

    fn of_element(&self, placed: &Placed) -> (Region, Region) {
        let (narrowest, nearest) = match placed.act {
            Act::Cuts => (self.gap, self.line),
            _ => (self.line, self.gap),
        };
        let (lost, closed) = self.pressed(&placed.region, narrowest, nearest);
        (worth(&lost, self.line), worth(&closed, self.line))
    }

    /// What is lost of a slice, of all that is solid and of each colour, and what closes.
    fn of_slice(&self, slice: &Slice) -> (Region, Region) {
        let (lost, closed) = self.pressed(&slice.solid, self.line, self.gap);
        let of_inks = slice.inks.iter().map(|(_, ink)| self.pressed(ink, self.line, self.gap).0);
        (of_inks.fold(lost, |all, one| all.union(&one)), closed)
    }
}

/// Without slivers, by the width of a line in mm.
fn worth(region: &Region, line: f64) -> Region {
    let half = SLIVER_SHARE * line / 2.0;
    let is_wide = |part: &Region| !part.offset(-half, Tolerance::Fine).is_empty();
    let parts = region.clumps().into_iter().filter(is_wide);
    Region::gather(parts.collect())
}

/// What is lost or closes between elements, and of the blank, on each of its faces.
fn of_several(
    piece: &Piece,
    component: &Component,
    made: &Made,
    own: &[Printed],
    workshop: &Workshop<'_>,
) -> Result<Vec<Printed>, Halted> {
    let press = Press::of(piece, made.layout.tolerance, workshop.cache);
    let slices = made.slices().unwrap_or_default();
    let mut faces: BTreeMap<&'static str, Printed> = BTreeMap::new();
    for slice in slices.iter().take(MOST_SLICES) {
        workshop.go_on()?;
        // What is seen from its own faces alone has no plan of its sections.
        let has_plan = match slice.along {
            Along::Sections => !made.layout.has_charts(),
            Along::Profile => false,
            Along::Face(_) => true,
        };
        if !has_plan || slice.solid.vertex_count() > MOST_POINTS {
            continue;
        }
        let (lost, closed) = press.of_slice(slice);
        let lost = without_corners(&lost, press.line);
        let closed = without_corners(&closed, press.gap);
        for (is_lost, parts) in [(true, lost.clumps()), (false, closed.clumps())] {
            let mut seen: BTreeMap<&'static str, (FaceName, Vec<Region>)> = BTreeMap::new();
            for part in parts {
                for face in faces_of(made, slice, &part) {
                    let on_it = seen.entry(face.word()).or_insert_with(|| (face, Vec::new()));
                    on_it.1.push(part.clone());
                }
            }
            for (word, (face, parts)) in seen {
                let (target, nothing) = (component.address(), Region::default());
                let empty = || Printed { target, face, lost: nothing.clone(), closed: nothing };
                let printed = faces.entry(word).or_insert_with(empty);
                let all = if is_lost { &mut printed.lost } else { &mut printed.closed };
                *all = all.union(&Region::gather(parts));
            }
        }
    }
    let beyond_own = |mut printed: Printed| {
        let here = own.iter().filter(|one| one.face == printed.face);
        let (lost, closed) =
            here.fold(Default::default(), |(lost, closed): (Region, Region), one| {
                (lost.union(&one.lost), closed.union(&one.closed))
            });
        // What an element loses is said of it, and so is what closes in it: of what is cut the one is the other.
        let known = lost.union(&closed);
        printed.lost = worth(&printed.lost.difference(&known), press.line);
        printed.closed = worth(&printed.closed.difference(&known), press.line);
        (!(printed.lost.is_empty() && printed.closed.is_empty())).then_some(printed)
    };
    Ok(faces.into_values().filter_map(beyond_own).collect())
}

/// The faces a part of a slice is to be seen on: those of the elements that are there, or else all it runs through.
fn faces_of(made: &Made, slice: &Slice, part: &Region) -> Vec<FaceName> {
    if let Along::Face(name) = slice.along {
        return vec![name];
    }
    let Some(bounds) = part.bounds() else { return Vec::new() };
    let is_there = |outline: &Region| {
        let near = outline.bounds().is_some_and(|all| all.overlaps(&bounds.grown(NEAR_MM)));
        near && part.edges().any(|(vertex, _)| outline.distance_to_outline(vertex) < NEAR_MM)
    };
    let present = made.present(slice).filter(|(_, prism)| is_there(&prism.outline));
    let present: Vec<&Placed> = present.map(|(placed, _)| placed).collect();
    let both = vec![FaceName::Front, FaceName::Back];
    match present.iter().all(|placed| placed.through) {
        true => both,
        false => both
            .into_iter()
            .filter(|face| present.iter().any(|placed| placed.face == *face && !placed.through))
            .collect(),
    }
}

/// Whose outline a part lies on is near it, in mm.
const NEAR_MM: f64 = 0.02;
