use super::Prism;
use super::contour::contour;
use super::ground::Ground;
use super::loops::with_loop;
use super::outline::outline;
use super::reach::within_reach;
use crate::piece::{Blank, Edge, Element, ElementKind, Outline, Piece, Plate, Relief, Side};
use crate::plane::{Rect, Region, Tolerance, rounded_rectangle};
use crate::solid::{Act, Colour};
use crate::stock::{self, Levelled};
use std::sync::Arc;

/// A component with everything in its place. Coordinates in mm from the centre of the plate's
/// foot; what is raised on the back has negative heights.
#[derive(Debug, Clone)]
pub struct Layout {
    /// How closely curves are followed.
    pub tolerance: Tolerance,
    /// The plate, or what a mesh has in its place: the worked face down to the bed.
    pub plate: PlacedPlate,
    /// The mesh it is made of, where it is made of one.
    pub stock: Option<Arc<Levelled>>,
    /// The clear area of the front, if there is any.
    pub clear: Option<Rect>,
    /// The clear area of the back, if anything is there and there is any; as it is seen from the
    /// front.
    pub clear_back: Option<Rect>,
    /// The elements, in the order of the document.
    pub elements: Vec<Placed>,
}

/// A plate in its place.
#[derive(Debug, Clone)]
pub struct PlacedPlate {
    /// Its extent without loops.
    pub rect: Rect,
    /// What lettering and emblems are placed on: the same, or for a contour blank the size that was
    /// given.
    pub guide: Rect,
    /// Height of its face in mm.
    pub thickness: f64,
    /// Its outline without loops.
    pub base: Region,
    /// Its outline with the loops blended in, and without their holes.
    pub outline: Region,
    /// The plate itself, in one or several prisms.
    pub prisms: Vec<Prism>,
    /// The smallest size its edges had to be reduced to, if any had.
    pub reduced_edge: Option<f64>,
}

/// An element in its place, as it is seen from the front.
#[derive(Debug, Clone)]
pub struct Placed {
    /// The element's id.
    pub id: String,
    /// What it is.
    pub kind: ElementKind,
    /// Which face it is on.
    pub side: Side,
    /// Its full outline, not cut off where it runs over the edge.
    pub region: Region,
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
    /// The smallest size its edges had to be reduced to, if any had.
    pub reduced_edge: Option<f64>,
    /// What was drawn, for lettering.
    pub drawn: Drawn,
}

/// What became of the words of a lettering.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Drawn {
    /// Letters drawn.
    pub glyphs: usize,
    /// Characters the face lacks.
    pub missing: Vec<char>,
    /// Height of the capitals of a line of size 1, in mm.
    pub letter_height: f64,
    /// What part of its circle the longest line takes up, in degrees; 0 for straight lines.
    pub span: f64,
}

/// Places every element of a piece. What is too large is placed as asked and left to preflight;
/// only corners, roundings and edges are reduced to what there is room for.
pub fn layout(piece: &Piece, tolerance: Tolerance) -> Layout {
    let component = piece.component();
    let stock = component.mesh().and_then(stock::level);
    let base = base_of(piece, tolerance);
    let mut front = Ground::new(piece, Side::Front, &base, tolerance);
    let has_back = component.elements.iter().any(|element| element.side() == Side::Back);
    let on_back = stock.as_ref().map_or(&base, |stock| &stock.foot);
    let mut back = has_back.then(|| Ground::new(piece, Side::Back, on_back, tolerance));

    let mut whole = base.clone();
    let mut elements = Vec::with_capacity(component.elements.len());
    for element in &component.elements {
        let ground = match (element.side(), &mut back) {
            (Side::Back, Some(back)) => back,
            _ => &mut front,
        };
        if let Element::Loop(ring) = element {
            let (placed, stand) = ground.ring(ring);
            if ring.own.is_none() {
                whole = with_loop(&whole, &stand.region, ring.blend.as_mm(), tolerance);
            }
            elements.push(placed);
        } else {
            elements.push(ground.place(element));
        }
    }

    let [_, _, thickness] = component.face_size();
    let (edges, faces) = match &component.blank {
        Blank::Plate(plate) => (plate.edges, plate.faces.clone()),
        Blank::Mesh(_) => Default::default(),
    };
    let edge = |own: Edge, side: Side| {
        if is_under_rim(piece, side, own.size()) { Edge::Square } else { own }
    };
    let body = Prism {
        bottom_edge: edge(edges.bottom, Side::Back),
        top_edge: edge(edges.top, Side::Front),
        ..Prism::square(Act::Adds, whole.clone(), 0.0, thickness)
    };
    let colour = |name: Option<&str>| piece.filament_of(name) as Colour;
    let faces = [
        faces.top.as_ref().map(|inlay| (inlay, thickness - inlay.depth.as_mm(), thickness)),
        faces.bottom.as_ref().map(|inlay| (inlay, 0.0, inlay.depth.as_mm())),
    ];
    let (prisms, reduced_edge) = within_reach(body.in_colour(colour(None)), tolerance);
    let inlaid = faces.into_iter().flatten().map(|(inlay, bottom, top)| {
        Prism::square(Act::Paints, whole.clone(), bottom.max(0.0), top.min(thickness))
            .in_colour(colour(Some(&inlay.colour)))
    });
    let prisms = prisms.into_iter().chain(inlaid).collect();
    let placed_plate = PlacedPlate {
        rect: front.rect,
        guide: front.guide,
        thickness,
        base,
        outline: whole,
        prisms,
        reduced_edge,
    };
    Layout {
        tolerance,
        plate: placed_plate,
        stock,
        clear: front.clear,
        clear_back: back.and_then(|back| back.clear).map(Rect::mirrored),
        elements,
    }
}

/// The clear area of one face of a piece in mm from its centre, as it is seen from that face, or
/// `None` where holes and margins leave none.
pub fn clear_area(piece: &Piece, side: Side) -> Option<Rect> {
    let stock = piece.component().mesh().and_then(stock::level);
    let base = match (side, stock) {
        (Side::Back, Some(stock)) => stock.foot.clone(),
        _ => base_of(piece, Tolerance::Draft),
    };
    Ground::new(piece, side, &base, Tolerance::Draft).clear
}

/// The outline of the plate without its loops: as it is given, or around what is on its front. A
/// contour blank with nothing on it yet is a rectangle of the size that was given. Of a mesh the
/// outline of the worked face.
fn base_of(piece: &Piece, tolerance: Tolerance) -> Region {
    let [width, height, _] = piece.component().face_size();
    let sheet = || rounded_rectangle(Rect::centred(width, height), 0.0, tolerance);
    let wanted = match &piece.component().blank {
        Blank::Mesh(mesh) => {
            return stock::level(mesh).map_or_else(sheet, |stock| stock.face.clone());
        }
        Blank::Plate(Plate { outline: Outline::Contour(wanted), .. }) => wanted,
        Blank::Plate(plate) => return outline(&plate.outline, (width, height), tolerance),
    };
    let sheet = sheet();
    let ground = Ground::new(piece, Side::Front, &sheet, tolerance);
    let on_front = piece.component().elements.iter().filter(|one| one.side() == Side::Front);
    let figures = on_front.filter_map(|element| Some(ground.figure(element)?.0)).collect();
    let found = contour(&Region::gather(figures), wanted, tolerance);
    if found.is_empty() { sheet } else { found }
}

/// Whether a rim on the very edge takes the place of the plate's own edge on a face, which would
/// otherwise leave a groove below it.
fn is_under_rim(piece: &Piece, side: Side, edge: f64) -> bool {
    piece.component().elements.iter().any(|element| match element {
        Element::Rim(rim) => {
            rim.side == side && matches!(rim.relief, Relief::Raised(_)) && rim.inset.as_mm() < edge
        }
        _ => false,
    })
}

impl PlacedPlate {
    /// The colour a face shows, an index into the filaments of the piece.
    pub fn face_colour(&self, side: Side) -> usize {
        let shows = |prism: &&Prism| match side {
            Side::Front => prism.top >= self.thickness,
            Side::Back => prism.bottom <= 0.0,
        };
        let shown = self.prisms.iter().rfind(shows);
        shown.map_or(0, |prism| usize::from(prism.colour))
    }
}

impl Placed {
    /// The same seen from the other side of a plate of this thickness: mirrored across the upright
    /// line, low and high exchanged.
    pub(super) fn turned_over(self, thickness: f64) -> Self {
        let over = |prism: Prism| Prism {
            outline: prism.outline.mirrored(true),
            bottom: thickness - prism.top,
            top: thickness - prism.bottom,
            bottom_edge: prism.top_edge,
            top_edge: prism.bottom_edge,
            ..prism
        };
        Placed {
            region: self.region.mirrored(true),
            frame: self.frame.mirrored(),
            bottom: thickness - self.top,
            top: thickness - self.bottom,
            prisms: self.prisms.into_iter().map(over).collect(),
            ..self
        }
    }
}

impl Layout {
    /// The prisms of the component in the order of work: the plate, then what is done to it.
    pub fn prisms(&self) -> impl Iterator<Item = &Prism> {
        self.plate.prisms.iter().chain(self.work())
    }

    /// The prisms of the elements as they stand in the document, and last what is drilled: holes,
    /// through whatever is there.
    pub fn work(&self) -> impl Iterator<Item = &Prism> {
        let of = |drilled: bool| {
            self.elements.iter().flat_map(move |placed| {
                placed.prisms.iter().filter(move |prism| {
                    let is_drilled = match placed.kind {
                        ElementKind::Hole => true,
                        ElementKind::Loop => prism.act == Act::Cuts,
                        _ => false,
                    };
                    is_drilled == drilled
                })
            })
        };
        of(false).chain(of(true))
    }

    /// The outline as it is seen from the face: with the loops, and with their holes open.
    pub fn outline_seen(&self) -> Region {
        let loops = self.elements.iter().filter(|placed| placed.kind == ElementKind::Loop);
        loops.fold(self.plate.outline.clone(), |mut outline, placed| {
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

    /// The clear area of a face, as it is seen from the front.
    pub fn clear_of(&self, side: Side) -> Option<Rect> {
        match side {
            Side::Front => self.clear,
            Side::Back => self.clear_back,
        }
    }

    /// Whether any edge is other than square.
    pub(super) fn has_treated_edges(&self) -> bool {
        self.prisms().any(|prism| prism.top_edge.size() + prism.bottom_edge.size() > 0.0)
    }

    /// Leaves every edge square.
    pub(super) fn leave_edges_square(&mut self) {
        let square = |prisms: &mut Vec<Prism>, reduced: &mut Option<f64>| {
            for prism in prisms {
                if prism.top_edge.size() + prism.bottom_edge.size() > 0.0 {
                    (prism.top_edge, prism.bottom_edge) = (Edge::Square, Edge::Square);
                    *reduced = Some(0.0);
                }
            }
        };
        square(&mut self.plate.prisms, &mut self.plate.reduced_edge);
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
        for (i, prism) in self.plate.prisms.iter_mut().chain(of_elements).enumerate() {
            let by = STEP_MM * (1 + i % DIFFERENT) as f64;
            prism.outline = prism.outline.offset(by, tolerance);
        }
    }

    /// The placed element of this id.
    pub fn element(&self, id: &str) -> Option<&Placed> {
        self.elements.iter().find(|placed| placed.id == id)
    }
}
