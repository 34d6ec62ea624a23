//! A component with everything in its place.

use super::ground::Ground;
use super::kinds::{self, with_loop};
use super::openings::Cuts;
use super::prism::Order;
use super::reach::within_reach;
use super::{Body, Bridging, Face, Prism, Profile, SlotCut, SocketCut, Stack};
use crate::halt::Halted;
use crate::piece::{Blank, Component, Edge, Element, ElementKind, FaceName, Kind, Piece, Relief};
use crate::plane::{Rect, Region, Tolerance};
use crate::solid::{Act, Colour};
use crate::stock::Levelled;
use crate::workshop::Workshop;
use std::sync::Arc;

/// A component with everything in its place. Coordinates in mm from the centre of the blank's
/// foot; what is raised on the back has negative heights.
#[derive(Debug, Clone)]
pub struct Layout {
    /// How closely curves are followed.
    pub tolerance: Tolerance,
    /// The blank: the plate, or what a mesh has in its place, the worked face down to the bed.
    pub blank: PlacedBlank,
    /// The mesh it is made of, where it is made of one.
    pub stock: Option<Arc<Levelled>>,
    /// The profile it is drawn out of, where it is. Its blank's outline is then that of the main face, and
    /// its prisms are those of the profile, from end to end.
    pub profile: Option<Arc<Profile>>,
    /// The stack it is, where it is one. Its blank's outline is then that of the main face.
    pub stack: Option<Arc<Stack>>,
    /// The faces that are worked on, each as it is seen from there, the main one first.
    pub faces: Vec<Face>,
    /// What is cut into it for other components that stand in it.
    pub slots: Vec<SlotCut>,
    /// What is cut into it for other components that lie in it.
    pub sockets: Vec<SocketCut>,
    /// The elements, in the order of the document.
    pub elements: Vec<Placed>,
}

/// A blank in its place.
#[derive(Debug, Clone)]
pub struct PlacedBlank {
    /// Its extent without loops.
    pub rect: Rect,
    /// What lettering and emblems are placed on: the same, or for a contour blank the size that was
    /// given.
    pub guide: Rect,
    /// Height of its front in mm.
    pub thickness: f64,
    /// Its outline without loops.
    pub base: Region,
    /// The ties in it, where it follows what is on it and is tied.
    pub ties: Option<Arc<Bridging>>,
    /// Its outline with the loops blended in, and without their holes.
    pub outline: Region,
    /// The blank itself, in one or several prisms.
    pub prisms: Vec<Prism>,
    /// The smallest size its edges had to be reduced to, if any had.
    pub reduced_edge: Option<f64>,
}

/// An element in its place, as it is seen from the front of the sections its body is made of, or from its
/// own face where that lies elsewhere: what it is, said once for everybody who draws,
/// checks or tells of it.
#[derive(Debug, Clone)]
pub struct Placed {
    /// The element's id.
    pub id: String,
    /// What it is.
    pub kind: ElementKind,
    /// Which face it is on.
    pub face: FaceName,
    /// Its full outline, not cut off where it runs over the edge.
    pub region: Region,
    /// The box that is put in its place: its own, or with all that is placed by it.
    pub row: Rect,
    /// The box it is placed by: the width of the letters drawn by the height of the capitals, or
    /// the box around the outline. Lettering with nothing to draw has a box without width.
    pub frame: Rect,
    /// Whether it adds or cuts.
    pub act: Act,
    /// Whether it is a cut from face to face.
    pub through: bool,
    /// How much material there is where it starts, in mm: up to the face it is on, or to the floor
    /// of the field it lies in.
    pub ground: f64,
    /// Lower height in mm.
    pub bottom: f64,
    /// How deep it is rooted in what it stands on, in mm.
    pub root: f64,
    /// Its colour, or that of its floor, an index into the filaments of the piece.
    pub colour: Colour,
    /// Upper height in mm. A cut is open towards its face, but shown up to where it starts.
    pub top: f64,
    /// What it adds and takes away, in order.
    pub prisms: Vec<Prism>,
    /// What holds its inside, or its parts, where it asks for that.
    pub bridging: Option<Arc<Bridging>>,
    /// What becomes part of the blank's own outline.
    pub joins: Option<Joined>,
    /// The smallest size its edges had to be reduced to, if any had.
    pub reduced_edge: Option<f64>,
    /// What was drawn, for lettering.
    pub drawn: Drawn,
}

/// What an element makes part of the outline of the blank.
#[derive(Debug, Clone)]
pub struct Joined {
    /// What is joined.
    pub region: Region,
    /// The radius of the corners between, in mm.
    pub blend: f64,
}

/// What became of the words of a lettering.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Drawn {
    /// Letters drawn.
    pub glyphs: usize,
    /// Characters the typeface lacks.
    pub missing: Vec<char>,
    /// Height of the capitals of a line of size 1, in mm.
    pub letter_height: f64,
    /// What part of its circle the longest line takes up, in degrees; 0 for straight lines.
    pub span: f64,
    /// What words along an outline run along.
    pub along: Option<Arc<Region>>,
    /// The pitch a pattern came to that closes round its face, in mm.
    pub pitch: Option<f64>,
    /// How many motifs a pattern would have, or points a halo would go round, where that is more than are drawn.
    pub too_many: usize,
}

/// Places every element of a component. What is too large is placed as asked and left to preflight;
/// only corners, roundings and edges are reduced to what there is room for.
///
/// # Errors
/// [`Halted`] where the work was stopped.
pub fn layout(
    piece: &Piece,
    component: &Component,
    workshop: &Workshop<'_>,
) -> Result<Layout, Halted> {
    let body = Body::of(piece, component, workshop)?;
    let names = component.blank.faces();
    let is_used = |name: &FaceName| {
        let has = |element: &Element| element.face == *name;
        let joins = || piece.joints_into(&component.id).any(|(joint, _)| joint.face() == *name);
        *name == names[0] || body.has_charts() || component.elements.iter().any(has) || joins()
    };
    let mut grounds: Vec<Ground<'_>> = names
        .iter()
        .filter(|name| is_used(name))
        .map(|name| Ground::new(piece, component, &body, *name, workshop))
        .collect();

    let cuts = match piece.joints_into(&component.id).next() {
        None => Cuts::default(),
        Some(_) => {
            let faces: Vec<Face> = grounds.iter().map(|ground| ground.face.clone()).collect();
            let cuts = Cuts::into(piece, component, &faces, workshop)?;
            grounds.iter_mut().for_each(|ground| ground.keep_off(&cuts, &body));
            cuts
        }
    };

    let (elements, whole) = all_placed(component, &body.outline, &mut grounds, workshop)?;

    let front = &grounds[0].face;
    let (prisms, reduced_edge) = match (&body.profile, &body.stack) {
        (Some(profile), _) => drawn_out(piece, component, profile, workshop),
        (_, Some(stack)) => stacked(piece, component, stack, workshop),
        _ => blank_prisms(piece, component, front, &whole, workshop),
    };
    let blank = PlacedBlank {
        rect: front.rect,
        guide: front.guide,
        thickness: front.thickness,
        base: body.outline,
        ties: body.ties,
        outline: whole,
        prisms,
        reduced_edge,
    };
    let faces: Vec<Face> = grounds.into_iter().map(|ground| ground.face).collect();
    let Cuts { slots, mut sockets } = cuts;
    // What lies level with the sections becomes part of them.
    for socket in &mut sockets {
        let Some(face) = faces.iter().find(|face| face.name == socket.face) else { continue };
        if face.in_sections {
            let prisms = std::mem::take(&mut socket.prisms);
            socket.prisms = prisms.into_iter().map(|prism| face.prism_in_body(prism)).collect();
        }
    }
    let tolerance = workshop.tolerance;
    let Body { stock, profile, stack, .. } = body;
    Ok(Layout { tolerance, blank, stock, profile, stack, faces, slots, sockets, elements })
}

/// Every element in its place, and the outline with what becomes part of it. What changes the ground comes before
/// what stands on it.
fn all_placed(
    component: &Component,
    outline: &Region,
    grounds: &mut [Ground<'_>],
    workshop: &Workshop<'_>,
) -> Result<(Vec<Placed>, Region), Halted> {
    let mut whole = outline.clone();
    let mut elements: Vec<Option<Placed>> = vec![None; component.elements.len()];
    // Fields come first, and halos on them: what lies in one stands on its floor, whichever was there before.
    for order in Order::ALL {
        for (element, placed) in component.elements.iter().zip(&mut elements) {
            if kinds::order_of(&element.kind) != order {
                continue;
            }
            workshop.go_on()?;
            let on_it = grounds.iter_mut().find(|ground| ground.face.name == element.face);
            let Some(ground) = on_it else { continue };
            let here = kinds::work(&element.kind).place(element, ground);
            if let Some(joined) = &here.joins {
                whole = with_loop(&whole, &joined.region, joined.blend, workshop.tolerance);
            }
            *placed = Some(ground.face.in_body(here));
        }
    }
    Ok((elements.into_iter().flatten().collect(), whole))
}

/// The prisms of a stack, and the smallest size its edges had to be reduced to.
fn stacked(
    piece: &Piece,
    component: &Component,
    stack: &Stack,
    workshop: &Workshop<'_>,
) -> (Vec<Prism>, Option<f64>) {
    let colour = piece.filament_of(component, None) as Colour;
    let mut least: Option<f64> = None;
    let mut prisms = Vec::new();
    for prism in &stack.prisms {
        let (parts, reduced) = within_reach(prism.clone().in_colour(colour), workshop);
        prisms.extend(parts);
        least = least.into_iter().chain(reduced).reduce(f64::min);
    }
    (prisms, least)
}

/// The prism of a profile from end to end, and the smallest size its edges had to be reduced to.
fn drawn_out(
    piece: &Piece,
    component: &Component,
    profile: &Profile,
    workshop: &Workshop<'_>,
) -> (Vec<Prism>, Option<f64>) {
    let whole = Prism {
        bottom_edge: profile.ends,
        top_edge: profile.ends,
        ..Prism::square(Act::Adds, profile.outline.clone(), 0.0, profile.length)
    };
    let colour = piece.filament_of(component, None) as Colour;
    within_reach(whole.in_colour(colour), workshop)
}

/// The blank itself as prisms, the colours of its faces among them, and the smallest size its edges had
/// to be reduced to.
fn blank_prisms(
    piece: &Piece,
    component: &Component,
    front: &Face,
    whole: &Region,
    workshop: &Workshop<'_>,
) -> (Vec<Prism>, Option<f64>) {
    let thickness = front.thickness;
    let inlays = match &component.blank {
        Blank::Plate(plate) => plate.faces.clone(),
        _ => Default::default(),
    };
    let edge = |own: Edge, face: FaceName| {
        if is_under_rim(component, face, own.size()) { Edge::Square } else { own }
    };
    let colour = |name: Option<&str>| piece.filament_of(component, name) as Colour;
    let body = Prism {
        bottom_edge: edge(front.edges.bottom, FaceName::Back),
        top_edge: edge(front.edges.top, FaceName::Front),
        ..Prism::square(Act::Adds, whole.clone(), 0.0, thickness)
    };
    let (prisms, reduced_edge) = within_reach(body.in_colour(colour(None)), workshop);
    let inlays = [
        inlays.top.as_ref().map(|inlay| (inlay, thickness - inlay.depth.as_mm(), thickness)),
        inlays.bottom.as_ref().map(|inlay| (inlay, 0.0, inlay.depth.as_mm())),
    ];
    let inlaid = inlays.into_iter().flatten().map(|(inlay, bottom, top)| {
        Prism::square(Act::Paints, whole.clone(), bottom.max(0.0), top.min(thickness))
            .in_colour(colour(Some(&inlay.colour)))
    });
    (prisms.into_iter().chain(inlaid).collect(), reduced_edge)
}

/// Whether a rim on the very edge takes the place of the blank's own edge on a face, which would
/// otherwise leave a groove below it.
fn is_under_rim(component: &Component, face: FaceName, edge: f64) -> bool {
    component.elements.iter().any(|element| match &element.kind {
        Kind::Rim(rim) => {
            let is_raised = matches!(rim.relief, Relief::Raised(_));
            element.face == face && is_raised && rim.inset.as_mm() < edge
        }
        _ => false,
    })
}

impl PlacedBlank {
    /// The colour a face shows, an index into the filaments of the piece.
    pub fn face_colour(&self, face: FaceName) -> usize {
        let shows = |prism: &&Prism| match face {
            FaceName::Back => prism.bottom <= 0.0,
            _ => prism.top >= self.thickness,
        };
        let shown = self.prisms.iter().rfind(shows).or(self.prisms.first());
        shown.map_or(0, |prism| usize::from(prism.colour))
    }
}

impl Layout {
    /// The prisms of its sections in the order of work: the blank, then what is done to it.
    pub fn prisms(&self) -> impl Iterator<Item = &Prism> {
        let sunk = self
            .sockets
            .iter()
            .filter(|socket| self.face(socket.face).is_some_and(|face| face.in_sections));
        let sockets = sunk.flat_map(|socket| &socket.prisms);
        self.blank.prisms.iter().chain(self.work()).chain(sockets)
    }

    /// The prisms of the elements on its sections in the order of work: fields, what stands in the order
    /// of the document, and last what goes through whatever is there.
    pub fn work(&self) -> impl Iterator<Item = &Prism> {
        let on_sections = |placed: &&Placed| self.is_on_sections(placed);
        self.in_order(move |placed| on_sections(&placed)).map(|(_, prism)| prism)
    }

    /// The prisms of some elements with the elements they belong to, in the order of work.
    pub(super) fn in_order<'a>(
        &'a self,
        of: impl Fn(&Placed) -> bool + Copy + 'a,
    ) -> impl Iterator<Item = (&'a Placed, &'a Prism)> {
        let in_order = move |order: Order| {
            let elements = self.elements.iter().filter(move |placed| of(placed));
            let all = elements.flat_map(|placed| placed.prisms.iter().map(move |p| (placed, p)));
            all.filter(move |(_, prism)| prism.order == order)
        };
        Order::ALL.into_iter().flat_map(in_order)
    }

    /// Whether an element becomes part of the sections its body is made of.
    pub fn is_on_sections(&self, placed: &Placed) -> bool {
        self.face(placed.face).is_none_or(|face| face.in_sections)
    }

    /// What an element must keep within: its face, or the sections with their loops, as it is seen itself.
    pub fn room_for(&self, placed: &Placed) -> (&Region, Rect) {
        match self.face(placed.face) {
            Some(Face { round: Some(round), rect, .. }) => (&round.room, *rect),
            Some(face) if !face.in_sections => (&face.outline, face.rect),
            _ => (&self.blank.outline, self.blank.rect),
        }
    }

    /// Whether an element is on the underside of sections, so that it is seen through them from the front.
    pub fn is_seen_through(&self, placed: &Placed) -> bool {
        self.face(placed.face).is_some_and(Face::is_turned_over)
    }

    /// Whether an element is seen on the main face: on it, or through it from the other side of sections.
    pub fn is_seen_on_main(&self, placed: &Placed) -> bool {
        let is_on_it = self.faces.first().is_none_or(|main| main.name == placed.face);
        is_on_it || (placed.through && self.is_on_sections(placed))
    }

    /// Whether its faces are charts to all sides, which the kernel works.
    pub fn has_charts(&self) -> bool {
        self.profile.is_some() || self.stack.is_some()
    }

    /// A face that is worked on.
    pub fn face(&self, name: FaceName) -> Option<&Face> {
        self.faces.iter().find(|face| face.name == name)
    }

    /// The outline as it is seen from the front: with the loops, and with their holes open.
    pub fn outline_seen(&self) -> Region {
        let loops = self.elements.iter().filter(|placed| placed.kind == ElementKind::Loop);
        loops.fold(self.blank.outline.clone(), |mut outline, placed| {
            for prism in &placed.prisms {
                outline = match prism.act {
                    Act::Adds => outline.union(&prism.outline),
                    Act::Cuts => outline.difference(&prism.outline),
                    Act::Paints => outline,
                };
            }
            outline
        })
    }

    /// The clear area of a face; of the underside of sections as it is seen from the front.
    pub fn clear_of(&self, face: FaceName) -> Option<Rect> {
        self.face(face)?.clear_from_front()
    }

    /// Whether any edge is other than square.
    pub(super) fn has_treated_edges(&self) -> bool {
        self.prisms().any(Prism::is_treated)
    }

    /// Leaves every edge square.
    pub(super) fn leave_edges_square(&mut self) {
        let square = |prisms: &mut Vec<Prism>, reduced: &mut Option<f64>| {
            for prism in prisms {
                if prism.is_treated() {
                    (prism.top_edge, prism.bottom_edge) = (Edge::Square, Edge::Square);
                    prism.crest = None;
                    *reduced = Some(0.0);
                }
            }
        };
        square(&mut self.blank.prisms, &mut self.blank.reduced_edge);
        for placed in &mut self.elements {
            square(&mut placed.prisms, &mut placed.reduced_edge);
        }
    }

    /// Grows every outline by some thousandths of a millimetre, neighbours in the order of work by
    /// different ones, so that none runs along another within a hair.
    pub(super) fn draw_outlines_apart(&mut self) {
        const STEP_MM: f64 = 0.002;
        const DIFFERENT: usize = 7;
        let tolerance = self.tolerance;
        let of_elements = self.elements.iter_mut().flat_map(|placed| &mut placed.prisms);
        for (i, prism) in self.blank.prisms.iter_mut().chain(of_elements).enumerate() {
            let by = STEP_MM * (1 + i % DIFFERENT) as f64;
            prism.outline = prism.outline.offset(by, tolerance);
        }
    }

    /// The placed element of this id.
    pub fn element(&self, id: &str) -> Option<&Placed> {
        self.elements.iter().find(|placed| placed.id == id)
    }
}
