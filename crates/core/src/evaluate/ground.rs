//! The ground elements are placed on: a face, and what those before them made of it.
//!
//! Everything here is as it is seen from the face.

use super::clear::{Round, clear_area};
use super::openings::Cuts;
use super::reach::within_reach;
use super::relations::Known;
use super::{Body, Drawn, Face, Placed, Prism};
use crate::lettering::Seat;
use crate::piece::{
    Component, Corner, Course, Element, FaceName, Fills, Height, Hole, HoleShape, Kind,
    LetteringPlace, Outline, Piece, Relief, Repeat, Rim, Span,
};
use crate::plane::{Rect, Region, Tolerance, largest_inner_rect};
use crate::solid::{Act, Colour};
use crate::workshop::Workshop;
use kurbo::Affine;
use std::f64::consts::TAU;

/// The outline of lettering or an emblem in its place, before it is raised or sunk.
pub(super) struct Figure {
    /// Its outline with its copies.
    pub region: Region,
    /// The box it is placed by.
    pub frame: Rect,
    /// What was drawn, for lettering.
    pub drawn: Drawn,
    /// What it takes of its face, where that is more than is drawn: a code with the room that stays free.
    pub field: Option<Region>,
    /// Where each of its letters stands, or the shape lies, with the copies; nothing for what has no bridges.
    pub seats: Vec<Seat>,
}

impl Figure {
    /// What it takes of its face.
    pub fn takes(&self) -> &Region {
        self.field.as_ref().unwrap_or(&self.region)
    }
}

/// A face with what was placed on it so far.
pub(super) struct Ground<'a> {
    pub piece: &'a Piece,
    pub component: &'a Component,
    pub workshop: &'a Workshop<'a>,
    pub face: Face,
    /// The smaller side of the body, in mm.
    shorter_side: f64,
    /// Sunk fields and halos with the heights of their floors and tops.
    fields: Vec<(Region, f64)>,
    /// Height of the first raised rim above the face, in mm.
    pub rim: Option<f64>,
    /// What is cut into it for other components.
    cut: Region,
    /// What was found out about the elements on it.
    pub known: Known,
}

impl<'a> Ground<'a> {
    /// A face of a body, nothing placed on it yet.
    pub fn new(
        piece: &'a Piece,
        component: &'a Component,
        body: &Body,
        name: FaceName,
        workshop: &'a Workshop<'a>,
    ) -> Self {
        let face = body.face(name);
        let rim = component.elements.iter().find_map(|element| match &element.kind {
            Kind::Rim(Rim { relief: Relief::Raised(height), .. }) if element.face == name => {
                match height {
                    Height::By(height) => Some(height.as_mm()),
                    Height::Fraction(share) => Some(share * face.thickness),
                    Height::FromFoot(height) => Some(height.as_mm() - face.thickness),
                    Height::LevelWithRim | Height::LevelWithFace => None,
                }
            }
            _ => None,
        });
        let shorter_side = match body.has_charts() {
            true => face.rect.width().min(face.rect.height()),
            false => body.shorter_side(),
        };
        let fields = Vec::new();
        let (cut, known) = (Region::default(), Known::default());
        let mut ground =
            Ground { piece, component, workshop, face, shorter_side, fields, rim, cut, known };
        ground.face.clear = ground.find_clear_area(body);
        ground
    }

    /// Narrows the clear area by what is cut into the face for other components.
    pub fn keep_off(&mut self, cuts: &Cuts, body: &Body) {
        self.cut = cuts.taken_of(&self.face);
        if !self.cut.is_empty() {
            self.face.clear = self.find_clear_area(body);
        }
    }

    /// The smaller side of the body, in mm.
    pub fn shorter_side(&self) -> f64 {
        self.shorter_side
    }

    /// Where a box on a plate comes to lie: the vector that moves it there.
    pub fn offset_of(&self, own: Rect, plate: Rect, place: &LetteringPlace) -> (f64, f64) {
        let (plate_across, plate_up) = spans(plate);
        let (clear_across, clear_up) = spans(self.face.clear.unwrap_or(plate));
        let dx = place.across.resolve(own.width(), plate_across, clear_across) - own.x0;
        let dy = place.up.resolve(own.height(), plate_up, clear_up) - own.y0;
        (dx, dy)
    }

    /// The outline of the face drawn in by so many mm.
    pub fn drawn_in(&self, mm: f64) -> Region {
        let offset =
            |region: &Region| self.workshop.cache.offset(region, -mm, self.workshop.tolerance);
        match &self.face.round {
            // What runs round has no ends to draw in.
            Some(round) => offset(&round.room).intersection(&self.face.outline),
            None => offset(&self.face.outline),
        }
    }

    /// The parts of a region by the ground that lies below them: the face, or the floor of the field
    /// sunk there last. Slivers that flattening leaves along the edge of a field do not count.
    pub fn parts(&self, region: &Region) -> Vec<(Region, f64)> {
        const SLIVER: f64 = 1e-3;
        let whole = region.area();
        let mut rest = region.clone();
        let mut parts: Vec<(Region, f64)> = Vec::new();
        let bounds = region.bounds();
        for (field, floor) in self.fields.iter().rev() {
            let meets = |bounds: Rect| field.bounds().is_some_and(|field| field.overlaps(&bounds));
            if rest.is_empty() || !bounds.is_some_and(meets) {
                continue;
            }
            let within = rest.intersection(field);
            if within.area() < SLIVER * whole {
                continue;
            }
            rest = rest.difference(field);
            parts.push((within, *floor));
            if rest.area() < SLIVER * whole {
                rest = Region::default();
            }
        }
        match &mut parts[..] {
            [] => return vec![(rest, self.face.thickness)],
            // All of it, slivers too.
            [(only, _)] if rest.is_empty() => *only = region.clone(),
            _ if !rest.is_empty() => parts.push((rest, self.face.thickness)),
            _ => {}
        }
        parts
    }

    /// Gives the ground within a region another height, for what comes after.
    pub fn lay(&mut self, region: Region, height: f64) {
        self.fields.push((region, height));
    }

    /// A placed element from what every kind has.
    pub fn placed(
        &self,
        head: &Element,
        region: Region,
        frame: Rect,
        prisms: Vec<Prism>,
    ) -> Placed {
        let thickness = self.face.thickness;
        let colour = self.piece.filament_of(self.component, head.colour()) as Colour;
        let mut prisms = prisms;
        prisms.extend(coloured_floors(head, &prisms));
        let act = prisms.first().map_or(Act::Adds, |prism| prism.act);
        // What is inlaid below or beside it does not count.
        let (bottom, top) = prisms
            .iter()
            .filter(|prism| prism.act == act)
            .filter(|prism| prism.bottom.is_finite())
            .fold((f64::INFINITY, 0.0_f64), |(bottom, top), prism| {
                (bottom.min(prism.bottom), top.max(prism.top))
            });
        let root = match prisms.last() {
            Some(last) if act == Act::Adds && last.act == Act::Paints => last.top - last.bottom,
            _ => 0.0,
        };
        let act = if act == Act::Paints { Act::Adds } else { act };
        let (bottom, top) = if prisms.is_empty() { (thickness, thickness) } else { (bottom, top) };
        // A cut is open above, but shown up to what it starts from.
        let top = match (act, prisms.first()) {
            (Act::Cuts, Some(below)) => below.top,
            _ => top,
        };
        let mut reduced_edge: Option<f64> = None;
        let prisms = prisms
            .into_iter()
            .flat_map(|prism| {
                let (parts, reduced) = within_reach(prism.in_colour(colour), self.workshop);
                reduced_edge = reduced_edge.into_iter().chain(reduced).reduce(f64::min);
                parts
            })
            .collect();
        Placed {
            id: head.id.clone(),
            kind: head.tag(),
            face: self.face.name,
            through: act == Act::Cuts && bottom <= 0.0,
            ground: if act == Act::Cuts { top } else { bottom },
            row: self.row_at(head, frame),
            region,
            frame,
            act,
            bottom,
            top,
            prisms,
            reduced_edge,
            bridging: None,
            joins: None,
            drawn: Drawn::default(),
            root,
            colour,
        }
    }

    /// The clear area: of a rectangular plate with rounded corners exactly, of any other outline on a
    /// lattice. A contour blank has the size that was given.
    fn find_clear_area(&self, body: &Body) -> Option<Rect> {
        let component = self.component;
        if matches!(component.outline(), Some(Outline::Contour(_))) {
            return Some(self.face.guide);
        }
        let (rim, margin) = self.rim_and_margin();
        let holes: Vec<SeenHole<'_>> =
            component.elements.iter().filter_map(|element| self.seen_hole(element)).collect();
        let corner_radius = match component.outline() {
            Some(Outline::Rectangle(corners)) => {
                let most = body.shorter_side() / 2.0;
                let radius = |corner: Corner| {
                    matches!(corner, Corner::Round(_) | Corner::Square)
                        .then(|| corner.size().min(most))
                };
                let all = corners.named().map(|(_, corner)| radius(corner));
                all.into_iter().reduce(|a, b| Some(a?.max(b?))).flatten()
            }
            // A straight side of a profile.
            _ if !self.face.in_sections && self.face.outline.is_box() => Some(0.0),
            _ => None,
        };
        let is_round = |seen: &SeenHole<'_>| {
            seen.hole.shape == HoleShape::Round && seen.hole.repeat == Repeat::Once
        };
        match corner_radius {
            Some(radius) if holes.iter().all(is_round) && self.cut.is_empty() => {
                let rounds: Vec<Round> = holes
                    .iter()
                    .map(|seen| Round {
                        centre: seen.frame.centre(),
                        radius: seen.frame.width() / 2.0 + seen.countersink,
                    })
                    .collect();
                let inner = self.face.rect.grown(-rim);
                clear_area(inner, (radius - rim).max(0.0), &rounds, margin)
            }
            _ => largest_inner_rect(&self.clear_region(rim, margin, &holes)),
        }
    }

    /// All of the face that is clear, where it is neither a rectangle, whose clear area is a box by itself, nor runs
    /// round.
    pub fn clear_shape(&self) -> Option<Region> {
        let is_box = matches!(self.component.outline(), Some(Outline::Rectangle(_)))
            || self.face.outline.is_box();
        if is_box && self.cut.is_empty()
            || self.face.round.is_some()
            || matches!(self.component.outline(), Some(Outline::Contour(_)))
        {
            return None;
        }
        let (rim, margin) = self.rim_and_margin();
        let holes: Vec<SeenHole<'_>> =
            self.component.elements.iter().filter_map(|element| self.seen_hole(element)).collect();
        Some(self.clear_region(rim, margin, &holes))
    }

    /// What is left of the face inside its rims, free of margins and holes.
    fn clear_region(&self, rim: f64, margin: f64, holes: &[SeenHole<'_>]) -> Region {
        let inner = self.workshop.cache.offset(&self.face.outline, -rim - margin, Tolerance::Draft);
        let holes = holes.iter().fold(Region::default(), |all, seen| {
            let room = margin + seen.countersink;
            all.union(&seen.region.offset(room, Tolerance::Draft))
        });
        inner.difference(&holes).difference(&self.cut.offset(margin, Tolerance::Draft))
    }

    /// How wide rims are with what lies outside them, and how far things keep from that: rims narrow the
    /// face, and what a treated edge takes of it is no room either.
    pub fn rim_and_margin(&self) -> (f64, f64) {
        let component = self.component;
        let margin = component.margin.as_mm().max(self.face.edges.top.size());
        let rim = component.elements.iter().fold(0.0, |inner: f64, element| match &element.kind {
            Kind::Rim(rim) if element.face == self.face.name => {
                inner.max(rim.inset.as_mm() + rim.width.as_mm())
            }
            _ => inner,
        });
        (rim, margin)
    }

    /// The largest box of the face that nothing lies in, where words or emblems lie on it already and leave one
    /// that is worth while; a contour blank grows instead.
    pub fn free_box(&self) -> Option<Rect> {
        const LEAST_MM: f64 = 3.0;
        if matches!(self.component.outline(), Some(Outline::Contour(_))) {
            return None;
        }
        let taken = self.component.elements.iter().filter_map(|element| self.taken_by(element));
        let taken = taken.reduce(|all, one| all.union(&one))?;
        let (rim, margin) = self.rim_and_margin();
        let holes: Vec<SeenHole<'_>> =
            self.component.elements.iter().filter_map(|element| self.seen_hole(element)).collect();
        let clear = self.clear_region(rim, margin, &holes);
        let apart = margin.max(1.0);
        let free = clear.difference(&taken.offset(apart, Tolerance::Draft));
        largest_inner_rect(&free).filter(|room| room.width().min(room.height()) >= LEAST_MM)
    }

    /// What lies on this face that a pattern keeps clear of: figures, halos but the one it fills, rims, and holes that
    /// open into it.
    pub fn kept_clear(&self, but: Option<&str>) -> Vec<Region> {
        let on_face = self.on_face().filter_map(|element| match &element.kind {
            Kind::Halo(_) if but == Some(&element.id) => None,
            Kind::Halo(_) => Some(self.figure_of(element)?.region.clone()),
            Kind::Rim(rim) => {
                let outer = self.drawn_in(rim.inset.as_mm());
                let inner = self.drawn_in(rim.inset.as_mm() + rim.width.as_mm());
                Some(outer.difference(&inner))
            }
            _ => None,
        });
        // Words by their letters, so that a pattern goes between lines, but not into the letters.
        let figures = self.component.elements.iter().filter_map(|element| {
            let is_here = element.face == self.face.name;
            let shows_through = self.face.in_sections && element.relief() == Some(Relief::Through);
            let region = (element.is_figure() && (is_here || shows_through))
                .then(|| self.figure_of(element))??
                .takes()
                .without_openings();
            Some(if is_here { region } else { region.mirrored(true) })
        });
        let holes = self.component.elements.iter().filter_map(|element| self.seen_hole(element));
        let holes = holes.map(|seen| seen.region.offset(seen.countersink, Tolerance::Draft));
        on_face.chain(figures).chain(holes).collect()
    }

    /// The outline of the face, or of a recess or a halo on it.
    pub fn outline_of(&self, what: &Fills) -> Region {
        let Fills::Element(id) = what else { return self.face.outline.clone() };
        let Some(element) = self.on_face().find(|element| element.id == *id) else {
            return Region::default();
        };
        match &element.kind {
            Kind::Recess(recess) => recess.region(element, self).0,
            _ => self.figure_of(element).map(|halo| halo.region.clone()).unwrap_or_default(),
        }
    }

    /// What nothing else can be put on: words, emblems, codes and holes of this face.
    pub fn taken(&self) -> Region {
        let figures = self.component.elements.iter().filter_map(|element| self.taken_by(element));
        let holes = self.component.elements.iter().filter_map(|element| self.seen_hole(element));
        figures
            .chain(holes.map(|seen| seen.region))
            .fold(Region::default(), |all, one| all.union(&one))
    }

    /// What words or an emblem cover of this face, their boxes filled.
    fn taken_by(&self, element: &Element) -> Option<Region> {
        let relief = element.relief()?;
        let is_here = element.face == self.face.name;
        let shows_through = self.face.in_sections && relief == Relief::Through;
        if !element.is_figure() || !(is_here || shows_through) {
            return None;
        }
        let region = self.figure_of(element)?.takes().clone();
        let region = if is_here { region } else { region.mirrored(true) };
        // Between letters there is no room for others.
        let lines = region.clumps().iter().filter_map(Region::bounds).reduce(|a, b| a.hull(&b));
        let boxed = match &element.kind {
            Kind::Lettering(words) if words.course == Course::Straight && words.turn == 0.0 => {
                lines.map(|all| crate::plane::rounded_rectangle(all, 0.0, Tolerance::Draft))
            }
            _ => None,
        };
        Some(boxed.unwrap_or_else(|| region.without_openings()))
    }

    /// A hole that opens into this face, drilled from here or from the other side.
    pub fn seen_hole<'b>(&self, element: &'b Element) -> Option<SeenHole<'b>> {
        let Kind::Hole(hole) = &element.kind else { return None };
        let is_here = element.face == self.face.name;
        if !is_here && hole.depth.is_some() {
            return None;
        }
        // Only sections have another side that looks back through the same chart.
        if !is_here && !self.face.in_sections {
            return None;
        }
        let Placed { region, frame, .. } = hole.drilled(element, self);
        let (region, frame, edge) = if is_here {
            (region, frame, hole.edges.top)
        } else {
            (region.mirrored(true), frame.mirrored(), hole.edges.bottom)
        };
        Some(SeenHole { hole, region, frame, countersink: edge.size() })
    }
}

/// How deep the floor of something sunk has its colour where that is not said, in mm: two or three layers (common
/// practice, no source).
pub(crate) const FLOOR_COLOUR_MM: f64 = 0.6;

/// The colour of the floors of something sunk into a face, where it has one of its own.
fn coloured_floors(head: &Element, prisms: &[Prism]) -> Vec<Prism> {
    let is_sunk = matches!(head.relief(), Some(Relief::Recessed(_)));
    let root = head.kind.fields().root().map(|root| root.as_mm());
    let Some(root) = root.filter(|_| is_sunk && head.colour().is_some()) else { return Vec::new() };
    let deep = if root > 0.0 { root } else { FLOOR_COLOUR_MM };
    let floors = prisms.iter().filter(|prism| prism.act == Act::Cuts && prism.top.is_finite());
    let painted = floors.map(|cut| {
        let foot = (cut.bottom - deep).max(0.0);
        Prism {
            order: cut.order,
            ..Prism::square(Act::Paints, cut.outline.clone(), foot, cut.bottom)
        }
    });
    painted.filter(|floor| floor.bottom < floor.top).collect()
}

/// A hole as it is seen from a face.
pub(super) struct SeenHole<'a> {
    pub hole: &'a Hole,
    pub region: Region,
    frame: Rect,
    /// How much wider it is at this face.
    countersink: f64,
}

pub(super) fn spans(rect: Rect) -> (Span, Span) {
    (Span { low: rect.x0, high: rect.x1 }, Span { low: rect.y0, high: rect.y1 })
}

/// What lies on a region with its copies: seats that go with each of them.
pub(super) fn repeated_seats(seats: Vec<Seat>, repeat: Repeat) -> Vec<Seat> {
    let by: Vec<Affine> = match repeat {
        Repeat::Once => return seats,
        Repeat::Row(row) => (0..row.count)
            .map(|i| {
                let steps = f64::from(i);
                Affine::translate((steps * row.across.as_mm(), steps * row.up.as_mm()))
            })
            .collect(),
        Repeat::Around(count) => {
            (0..count).map(|i| Affine::rotate(TAU * f64::from(i) / f64::from(count))).collect()
        }
        Repeat::MirroredAcross => vec![Affine::IDENTITY, Affine::scale_non_uniform(-1.0, 1.0)],
        Repeat::MirroredUp => vec![Affine::IDENTITY, Affine::scale_non_uniform(1.0, -1.0)],
    };
    by.into_iter().flat_map(|by| seats.iter().map(move |seat| seat.then(by))).collect()
}

/// A region with its copies.
pub(super) fn repeated(region: Region, repeat: Repeat) -> Region {
    let copies: Vec<Region> = match repeat {
        Repeat::Once => return region,
        Repeat::Row(row) => (0..row.count)
            .map(|i| {
                let steps = f64::from(i);
                region.clone().moved(steps * row.across.as_mm(), steps * row.up.as_mm())
            })
            .collect(),
        Repeat::Around(count) => (0..count)
            .map(|i| region.clone().turned(360.0 * f64::from(i) / f64::from(count)))
            .collect(),
        Repeat::MirroredAcross => vec![region.mirrored(true), region],
        Repeat::MirroredUp => vec![region.mirrored(false), region],
    };
    Region::gather(copies)
}
