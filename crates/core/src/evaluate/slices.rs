//! The distinct sections of a component: what is solid where, seen square on.
//!
//! A component made in sections has one slice between any two heights at which something begins or ends, whatever
//! its edges do there: every outline is taken whole, as it is where it is widest or, for a cut, narrowest. What
//! lies on a face of its own has slices along that face. Of a mesh blank the finished mesh is cut.

use super::{Made, Prism};
use crate::piece::{ElementKind, FaceName};
use crate::plane::{Region, from_grid, to_grid};
use crate::solid::{Act, Colour};
use serde::{Serialize, Serializer};

/// What a slice lies square to.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Along {
    /// The heights of the sections a component is made of, seen from the front.
    Sections,
    /// The profile it is drawn out of, from end to end, seen from the right.
    Profile,
    /// A face that is seen from itself; heights count from behind it.
    Face(FaceName),
}

impl Serialize for Along {
    /// The word of the face, `sections` or `profile`.
    fn serialize<S: Serializer>(&self, to: S) -> Result<S::Ok, S::Error> {
        match self {
            Along::Sections => to.serialize_str("sections"),
            Along::Profile => to.serialize_str("profile"),
            Along::Face(name) => name.serialize(to),
        }
    }
}

/// What is solid between two heights, and of which colour.
#[derive(Debug, Clone, PartialEq)]
pub struct Slice {
    /// What it lies square to.
    pub along: Along,
    /// From which height, in mm.
    pub bottom: f64,
    /// Up to which, in mm.
    pub top: f64,
    /// All that is solid.
    pub solid: Region,
    /// What of it has which colour, where there are several.
    pub inks: Vec<(Colour, Region)>,
}

/// Thinner slices are none, in mm.
const LEAST_MM: f64 = 0.02;

/// A mesh blank is cut at so many heights besides those of its elements.
const CUTS_OF_A_MESH: usize = 8;

/// A component that asks for more work than this is not taken apart: points of its outlines, each as often as there
/// are heights.
const MOST_WORK: usize = 3_000_000;

impl Made {
    /// Its distinct slices, the lowest first; none where there is no solid. `None` where it has so many outlines at so
    /// many heights that it is not taken apart.
    pub fn slices(&self) -> Option<Vec<Slice>> {
        let layout = &self.layout;
        if self.stop.is_some() {
            return Some(Vec::new());
        }
        if self.work_of_slices() > MOST_WORK {
            return None;
        }
        if layout.stock.is_some() {
            return Some(self.slices_of_mesh());
        }
        let along = if layout.profile.is_some() { Along::Profile } else { Along::Sections };
        let body: Vec<&Prism> = layout.prisms().collect();
        let mut all = stacked(along, &body);
        for face in layout.faces.iter().filter(|face| !face.in_sections) {
            let on_it = layout.in_order(|placed| placed.face == face.name);
            let on_it: Vec<&Prism> = on_it.map(|(_, prism)| prism).collect();
            if on_it.is_empty() {
                continue;
            }
            let room = face.round.as_ref().map_or(&face.outline, |round| &round.room);
            let ground = Prism::square(Act::Adds, room.clone(), 0.0, face.thickness);
            let ground = ground.in_colour(layout.blank.face_colour(face.name) as Colour);
            let prisms: Vec<&Prism> = std::iter::once(&ground).chain(on_it).collect();
            all.extend(stacked(Along::Face(face.name), &prisms));
        }
        Some(all)
    }

    /// How much work it is to take it apart.
    fn work_of_slices(&self) -> usize {
        let layout = &self.layout;
        let all: Vec<&Prism> = layout
            .prisms()
            .chain(layout.elements.iter().flat_map(|placed| &placed.prisms))
            .collect();
        let (low, high) = extent(&all);
        if low >= high {
            return 0;
        }
        let mut heights = breaks(&all, [low, high]);
        tidy(&mut heights);
        // Every outline costs something, however few points it has.
        const OF_AN_OUTLINE: usize = 20;
        let points: usize =
            all.iter().map(|prism| prism.outline.vertex_count() + OF_AN_OUTLINE).sum();
        points * heights.len()
    }

    /// Whether the component would be another one without an element; of what the kernel works it is taken to be.
    pub fn is_changed_by(&self, id: &str) -> bool {
        let layout = &self.layout;
        let Some(own) = layout.element(id) else { return true };
        if layout.stock.is_some() || !layout.is_on_sections(own) {
            return true;
        }
        // What does not come near it stays as it is.
        let Some(around) = own.region.bounds() else { return false };
        let is_near =
            |prism: &&Prism| prism.outline.bounds().is_some_and(|bounds| bounds.overlaps(&around));
        let all: Vec<&Prism> = layout.prisms().filter(is_near).collect();
        let (low, high) = extent(&all);
        if low >= high {
            return false;
        }
        let is_own = |prism: &Prism| own.prisms.iter().any(|one| std::ptr::eq(one, prism));
        let mut heights = breaks(&all, [low, high]);
        tidy(&mut heights);
        heights.windows(2).any(|pair| {
            let middle = (pair[0] + pair[1]) / 2.0;
            let present: Vec<&Prism> = all
                .iter()
                .copied()
                .filter(|prism| prism.bottom < middle && middle < prism.top)
                .collect();
            if !present.iter().any(|prism| is_own(prism)) {
                return false;
            }
            let without: Vec<&Prism> =
                present.iter().copied().filter(|prism| !is_own(prism)).collect();
            differs(&filled(&present), &filled(&without))
        })
    }

    /// The finished mesh cut in the middle of everything that is worked on it, and here and there besides.
    fn slices_of_mesh(&self) -> Vec<Slice> {
        let low = -self.lift;
        let top = low + self.measures.high[2] - self.measures.low[2];
        let work: Vec<&Prism> = self.layout.work().collect();
        let mut heights = breaks(&work, [low, top]);
        heights.extend(
            (0..=CUTS_OF_A_MESH).map(|i| low + (top - low) * i as f64 / CUTS_OF_A_MESH as f64),
        );
        heights.retain(|height| (low..=top).contains(height));
        tidy(&mut heights);
        let cut = |pair: &[f64]| {
            let middle = (pair[0] + pair[1]) / 2.0 + self.lift;
            let inks = match &self.bodies[..] {
                [_] => Vec::new(),
                several => several
                    .iter()
                    .map(|body| (body.filament as Colour, body.mesh.level(middle)))
                    .collect(),
            };
            let solid = self.mesh.level(middle);
            Slice { along: Along::Sections, bottom: pair[0], top: pair[1], solid, inks }
        };
        distinct(heights.windows(2).map(cut).collect())
    }

    /// The prisms that reach through a slice with the elements they belong to.
    pub fn present<'a>(
        &'a self,
        slice: &'a Slice,
    ) -> impl Iterator<Item = (&'a super::Placed, &'a Prism)> {
        let layout = &self.layout;
        let middle = (slice.bottom + slice.top) / 2.0;
        let is_along = move |placed: &super::Placed| match slice.along {
            Along::Sections => {
                layout.is_on_sections(placed) && layout.profile.is_none() && layout.stack.is_none()
            }
            Along::Profile => false,
            Along::Face(name) => placed.face == name,
        };
        layout
            .in_order(is_along)
            .filter(move |(_, prism)| prism.bottom < middle && middle < prism.top)
    }

    /// What becomes part of the blank's own outline and reaches through a slice.
    pub fn joined<'a>(&'a self, slice: &Slice) -> impl Iterator<Item = &'a super::Placed> {
        let is_here = slice.along == Along::Sections;
        self.layout
            .elements
            .iter()
            .filter(move |placed| is_here && placed.kind == ElementKind::Loop)
    }
}

/// From where to where anything is added, in mm.
fn extent(prisms: &[&Prism]) -> (f64, f64) {
    let added = prisms.iter().filter(|prism| prism.act == Act::Adds);
    added.fold((f64::INFINITY, f64::NEG_INFINITY), |(low, high), prism| {
        (low.min(prism.bottom), high.max(prism.top))
    })
}

/// Whether what is solid, or has a colour, differs by more than rounding.
fn differs(one: &Filled, other: &Filled) -> bool {
    const ROUNDING_MM2: f64 = 1e-3;
    let apart =
        |a: &Region, b: &Region| a.difference(b).area() + b.difference(a).area() > ROUNDING_MM2;
    let of = |(solid, inks): &Filled, colour: Colour| {
        let own = inks.iter().find(|(other, _)| *other == colour);
        own.map(|(_, region)| region.clone()).or_else(|| inks.is_empty().then(|| solid.clone()))
    };
    apart(&one.0, &other.0)
        || one
            .1
            .iter()
            .any(|(colour, region)| of(other, *colour).is_none_or(|before| apart(region, &before)))
}

/// All that is solid, and what of it has which colour where there are several.
type Filled = (Region, Vec<(Colour, Region)>);

/// The heights at which any of some prisms begins or ends; what is open ends where everything does.
fn breaks(prisms: &[&Prism], [low, high]: [f64; 2]) -> Vec<f64> {
    let ends = prisms.iter().flat_map(|prism| [prism.bottom, prism.top]);
    ends.map(|height| height.clamp(low, high)).collect()
}

/// In order, each once.
fn tidy(heights: &mut Vec<f64>) {
    heights.sort_by(f64::total_cmp);
    heights.dedup_by(|b, a| (*b - *a).abs() < LEAST_MM);
}

/// The slices of prisms, in the order of work.
fn stacked(along: Along, prisms: &[&Prism]) -> Vec<Slice> {
    let (low, high) = extent(prisms);
    if low >= high {
        return Vec::new();
    }
    let mut heights = breaks(prisms, [low, high]);
    tidy(&mut heights);
    let slice = |pair: &[f64]| {
        let middle = (pair[0] + pair[1]) / 2.0;
        let present = prisms.iter().filter(|prism| prism.bottom < middle && middle < prism.top);
        let (solid, inks) = filled(&present.copied().collect::<Vec<_>>());
        Slice { along, bottom: pair[0], top: pair[1], solid, inks }
    };
    distinct(heights.windows(2).map(slice).collect())
}

/// What prisms of one height leave, and of which colour.
fn filled(prisms: &[&Prism]) -> Filled {
    let solid = prisms.iter().fold(Region::default(), |solid, prism| match prism.act {
        Act::Adds => solid.union(&prism.outline),
        Act::Cuts => solid.difference(&prism.outline),
        Act::Paints => solid,
    });
    let added = prisms.iter().filter(|prism| prism.act != Act::Cuts);
    let mut colours: Vec<Colour> = added.map(|prism| prism.colour).collect();
    colours.sort_unstable();
    colours.dedup();
    if colours.len() < 2 {
        return (solid, Vec::new());
    }
    let of_colour = |colour: Colour| {
        let own = prisms.iter().fold(Region::default(), |own, prism| match prism.act {
            Act::Cuts => own.difference(&prism.outline),
            _ if prism.colour == colour => own.union(&prism.outline),
            _ => own.difference(&prism.outline),
        });
        (colour, own.intersection(&solid))
    };
    (solid.clone(), colours.into_iter().map(of_colour).collect())
}

/// Neighbours that are the same become one.
fn distinct(slices: Vec<Slice>) -> Vec<Slice> {
    let mut all: Vec<Slice> = Vec::new();
    for slice in slices.into_iter().filter(|slice| !slice.solid.is_empty()) {
        match all.last_mut() {
            Some(last)
                if last.solid == slice.solid
                    && last.inks == slice.inks
                    && to_grid(last.top) == to_grid(slice.bottom) =>
            {
                last.top = slice.top;
            }
            _ => all.push(slice),
        }
    }
    all
}

impl Slice {
    /// How thick it is, in mm.
    pub fn height(&self) -> f64 {
        from_grid(to_grid(self.top) - to_grid(self.bottom))
    }
}
