//! The ground elements are placed on: a face, and what those before them made of it.
//!
//! Everything here is as it is seen from the face.

use super::clear::{Round, clear_area};
use super::reach::within_reach;
use super::{Body, Drawn, Face, Placed, Prism};
use crate::piece::{
    BothEdges, Component, Corner, Edge, Element, FaceName, Height, Hole, HoleShape, Kind,
    LetteringPlace, Outline, Piece, Relief, Repeat, Rim, Span,
};
use crate::plane::{Rect, Region, Tolerance, largest_inner_rect};
use crate::solid::{Act, Colour};
use crate::units::Length;
use crate::workshop::Workshop;

/// The outline of lettering or an emblem in its place, before it is raised or sunk.
pub(super) struct Figure {
    /// Its outline with its copies.
    pub region: Region,
    /// The box it is placed by.
    pub frame: Rect,
    /// What was drawn, for lettering.
    pub drawn: Drawn,
}

/// A face with what was placed on it so far.
pub(super) struct Ground<'a> {
    pub piece: &'a Piece,
    pub component: &'a Component,
    pub workshop: &'a Workshop<'a>,
    pub face: Face,
    /// The smaller side of the body, in mm.
    shorter_side: f64,
    /// Sunk fields with the heights of their floors.
    fields: Vec<(Region, f64)>,
    /// Height of the rim above the face.
    rim: Option<f64>,
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
        let shorter_side = body.shorter_side();
        let fields = Vec::new();
        let mut ground = Ground { piece, component, workshop, face, shorter_side, fields, rim };
        ground.face.clear = ground.find_clear_area(body);
        ground
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
        self.workshop.cache.offset(&self.face.outline, -mm, self.workshop.tolerance)
    }

    /// The height of the ground at a point of the face: the face, or the floor of a field.
    pub fn height_at(&self, point: (f64, f64)) -> f64 {
        let field = self.fields.iter().rev().find(|(region, _)| region.contains(point));
        field.map_or(self.face.thickness, |(_, floor)| *floor)
    }

    /// Sinks the ground within a region to a floor, for what comes after.
    pub fn sink(&mut self, region: Region, floor: f64) {
        self.fields.push((region, floor));
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
        let act = prisms.first().map_or(Act::Adds, |prism| prism.act);
        // What is inlaid below or beside it does not count.
        let (bottom, top) = prisms
            .iter()
            .filter(|prism| prism.act == act)
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
            region,
            frame,
            act,
            bottom,
            top,
            prisms,
            reduced_edge,
            joins: None,
            drawn: Drawn::default(),
            root,
            colour,
        }
    }

    /// A figure in relief.
    pub fn in_relief(
        &self,
        head: &Element,
        figure: Option<Figure>,
        relief: Relief,
        edge: Edge,
        root: Length,
    ) -> Placed {
        let nothing = || Figure {
            region: Region::default(),
            frame: Rect::centred(0.0, 0.0),
            drawn: Drawn::default(),
        };
        let Figure { region, frame, drawn } = figure.unwrap_or_else(nothing);
        let height = self.height_at(frame.centre());
        let mut prisms = self.relief(&region, height, relief, edge);
        prisms.extend(rooted(&prisms, height, root));
        Placed { drawn, ..self.placed(head, region, frame, prisms) }
    }

    /// The prisms of something in relief that stands on, or is sunk into, the ground.
    pub fn relief(&self, region: &Region, ground: f64, relief: Relief, edge: Edge) -> Vec<Prism> {
        let thickness = self.face.thickness;
        let raised = |top: f64| {
            let prism = Prism::square(Act::Adds, region.clone(), ground, top);
            if top > ground { vec![Prism { top_edge: edge, ..prism }] } else { Vec::new() }
        };
        match relief {
            Relief::Raised(Height::By(height)) => raised(ground + height.as_mm()),
            Relief::Raised(Height::FromFoot(height)) => {
                let prism = Prism::square(Act::Adds, region.clone(), 0.0, height.as_mm());
                vec![Prism { top_edge: edge, ..prism }]
            }
            Relief::Raised(Height::Fraction(share)) => raised(ground + share * thickness),
            Relief::Raised(Height::LevelWithRim) => raised(thickness + self.rim.unwrap_or(1.0)),
            Relief::Raised(Height::LevelWithFace) => raised(thickness),
            Relief::Recessed(depth) => {
                let floor = depth.floor(ground).clamp(0.0, ground);
                open_cut(region, floor, ground, BothEdges { top: edge, bottom: Edge::Square })
            }
            Relief::Flush(depth) => {
                let floor = (ground - depth.as_mm()).max(0.0);
                vec![Prism::square(Act::Paints, region.clone(), floor, ground)]
            }
            Relief::Through => {
                open_cut(region, 0.0, thickness, BothEdges { top: edge, bottom: edge })
            }
        }
    }

    /// The clear area: of a rectangular plate with rounded corners exactly, of any other outline on a
    /// lattice. A contour blank has the size that was given.
    fn find_clear_area(&self, body: &Body) -> Option<Rect> {
        let component = self.component;
        if matches!(component.outline(), Some(Outline::Contour(_))) {
            return Some(self.face.guide);
        }
        let margin = component.margin.as_mm();
        // A rim narrows the face; what is left inside it has the margin.
        let rim = component.elements.iter().fold(0.0, |inner: f64, element| match &element.kind {
            Kind::Rim(rim) if element.face == self.face.name => {
                inner.max(rim.inset.as_mm() + rim.width.as_mm())
            }
            _ => inner,
        });
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
            _ => None,
        };
        let is_round = |seen: &SeenHole<'_>| {
            seen.hole.shape == HoleShape::Round && seen.hole.repeat == Repeat::Once
        };
        match corner_radius {
            Some(radius) if holes.iter().all(is_round) => {
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
            _ => {
                let cache = self.workshop.cache;
                let inner = cache.offset(&self.face.outline, -rim - margin, Tolerance::Draft);
                let holes = holes.iter().fold(Region::default(), |all, seen| {
                    let room = margin + seen.countersink;
                    all.union(&seen.region.offset(room, Tolerance::Draft))
                });
                largest_inner_rect(&inner.difference(&holes))
            }
        }
    }

    /// A hole that opens into this face, drilled from here or from the other side.
    fn seen_hole<'b>(&self, element: &'b Element) -> Option<SeenHole<'b>> {
        let Kind::Hole(hole) = &element.kind else { return None };
        let is_here = element.face == self.face.name;
        if !is_here && hole.depth.is_some() {
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

/// A hole as it is seen from a face.
struct SeenHole<'a> {
    hole: &'a Hole,
    region: Region,
    frame: Rect,
    /// How much wider it is at this face.
    countersink: f64,
}

pub(super) fn spans(rect: Rect) -> (Span, Span) {
    (Span { low: rect.x0, high: rect.x1 }, Span { low: rect.y0, high: rect.y1 })
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

/// What roots something that stands up in what it stands on.
pub(super) fn rooted(prisms: &[Prism], ground: f64, root: Length) -> Option<Prism> {
    let stands = prisms.first().filter(|prism| prism.act == Act::Adds && root > Length::ZERO)?;
    let foot = (ground - root.as_mm()).max(0.0);
    (foot < stands.bottom)
        .then(|| Prism::square(Act::Paints, stands.outline.clone(), foot, stands.bottom))
}

/// A cut from a floor to the face, its edge at the face widened, and straight on above it through
/// whatever stands there.
pub(super) fn open_cut(region: &Region, floor: f64, face: f64, edges: BothEdges) -> Vec<Prism> {
    let below = Prism {
        top_edge: edges.top,
        bottom_edge: if floor > 0.0 { Edge::Square } else { edges.bottom },
        ..Prism::square(Act::Cuts, region.clone(), floor, face)
    };
    vec![below, Prism::square(Act::Cuts, region.clone(), face, f64::INFINITY)]
}
