use super::clear::{Round, clear_area};
use super::{Edges, Prism};
use crate::lettering::{TYPEFACES, set, typeface};
use crate::piece::{Element, ElementKind, Hole, Lettering, Piece, Plate, Relief, Span};
use crate::plane::{Rect, Region, Tolerance, circle, rounded_rectangle};
use crate::solid::Act;

/// A component with everything in its place. Coordinates in mm from the centre of the plate's
/// foot.
#[derive(Debug, Clone)]
pub struct Layout {
    /// The plate.
    pub plate: PlacedPlate,
    /// The clear area of the face, if there is any.
    pub clear: Option<Rect>,
    /// The elements, in the order of the document.
    pub elements: Vec<Placed>,
}

/// A plate in its place.
#[derive(Debug, Clone)]
pub struct PlacedPlate {
    /// Its extent.
    pub rect: Rect,
    /// Height of its face in mm.
    pub thickness: f64,
    /// The corner radius used, which is the one asked for or the largest there is room for.
    pub corner_radius: f64,
    /// Its outline.
    pub outline: Region,
}

/// An element in its place.
#[derive(Debug, Clone)]
pub struct Placed {
    /// The element's id.
    pub id: String,
    /// What it is.
    pub kind: ElementKind,
    /// Its full outline, not cut off where it runs over the edge.
    pub region: Region,
    /// The box it is placed by: a hole's square, or the width of the letters drawn by the height
    /// of the capitals. Lettering with nothing to draw has a box without width.
    pub frame: Rect,
    /// Whether it adds or cuts.
    pub act: Act,
    /// Lower height in mm.
    pub bottom: f64,
    /// Upper height in mm. A cut is open above, but shown up to the face.
    pub top: f64,
    /// What was drawn, for lettering.
    pub drawn: Drawn,
}

/// What became of the words of a lettering.
#[derive(Debug, Clone, Default, PartialEq, Eq)]
pub struct Drawn {
    /// Letters drawn.
    pub glyphs: usize,
    /// Characters the face lacks.
    pub missing: Vec<char>,
}

/// Places every element of a piece. What is too large is placed as asked and left to preflight;
/// only a corner radius is reduced to what there is room for.
pub fn layout(piece: &Piece, tolerance: Tolerance) -> Layout {
    let component = piece.component();
    let plate = place_plate(component.plate(), tolerance);
    let frames: Vec<Rect> = component
        .elements
        .iter()
        .filter_map(|element| match element {
            Element::Hole(hole) => Some(hole_frame(hole, &plate)),
            Element::Lettering(_) => None,
        })
        .collect();
    let rounds: Vec<Round> = frames
        .iter()
        .map(|frame| Round { centre: frame.centre(), radius: frame.width() / 2.0 })
        .collect();
    let clear = clear_area(plate.rect, plate.corner_radius, &rounds, component.margin.as_mm());

    let elements = component
        .elements
        .iter()
        .map(|element| match element {
            Element::Hole(hole) => place_hole(hole, &plate, tolerance),
            Element::Lettering(lettering) => {
                place_lettering(lettering, &plate, clear.unwrap_or(plate.rect), tolerance)
            }
        })
        .collect();
    Layout { plate, clear, elements }
}

fn place_plate(plate: &Plate, tolerance: Tolerance) -> PlacedPlate {
    let rect = Rect::centred(plate.width.as_mm(), plate.height.as_mm());
    let corner_radius = plate.corner_radius.as_mm().min(plate.largest_radius());
    let outline = rounded_rectangle(rect, corner_radius, tolerance);
    PlacedPlate { rect, thickness: plate.thickness.as_mm(), corner_radius, outline }
}

fn spans(rect: Rect) -> (Span, Span) {
    (Span { low: rect.x0, high: rect.x1 }, Span { low: rect.y0, high: rect.y1 })
}

fn hole_frame(hole: &Hole, plate: &PlacedPlate) -> Rect {
    let (across, up) = spans(plate.rect);
    let x = hole.place.across.resolve(0.0, across, across);
    let y = hole.place.up.resolve(0.0, up, up);
    let diameter = hole.diameter.as_mm();
    Rect::centred(diameter, diameter).moved(x, y)
}

fn place_hole(hole: &Hole, plate: &PlacedPlate, tolerance: Tolerance) -> Placed {
    let frame = hole_frame(hole, plate);
    Placed {
        id: hole.id.clone(),
        kind: ElementKind::Hole,
        region: circle(frame.centre(), frame.width() / 2.0, tolerance),
        frame,
        act: Act::Cuts,
        bottom: 0.0,
        top: plate.thickness,
        drawn: Drawn::default(),
    }
}

fn place_lettering(
    lettering: &Lettering,
    plate: &PlacedPlate,
    clear: Rect,
    tolerance: Tolerance,
) -> Placed {
    let face = typeface(&lettering.face).unwrap_or(&TYPEFACES[0]);
    let height = lettering.letter_height.as_mm();
    let words = set(&lettering.words, face, height, tolerance);
    let own = words.placing_box(height).unwrap_or(Rect { x0: 0.0, y0: 0.0, x1: 0.0, y1: height });
    let (plate_across, plate_up) = spans(plate.rect);
    let (clear_across, clear_up) = spans(clear);
    let dx = lettering.place.across.resolve(own.width(), plate_across, clear_across) - own.x0;
    let dy = lettering.place.up.resolve(own.height(), plate_up, clear_up) - own.y0;

    let face_height = plate.thickness;
    let (act, bottom, top) = match lettering.relief {
        Relief::Raised(height) => (Act::Adds, face_height, face_height + height.as_mm()),
        Relief::Recessed(depth) => (Act::Cuts, (face_height - depth.as_mm()).max(0.0), face_height),
        Relief::Through => (Act::Cuts, 0.0, face_height),
    };
    Placed {
        id: lettering.id.clone(),
        kind: ElementKind::Lettering,
        region: words.region.moved(dx, dy),
        frame: own.moved(dx, dy),
        act,
        bottom,
        top,
        drawn: Drawn { glyphs: words.glyphs, missing: words.missing },
    }
}

impl Layout {
    /// The prisms of the component in the order of work: the plate, then the elements as they
    /// stand in the document, and last the holes, which are drilled through whatever is there.
    pub fn prisms(&self) -> Vec<Prism<'_>> {
        let plate = Prism {
            act: Act::Adds,
            outline: &self.plate.outline,
            bottom: 0.0,
            top: self.plate.thickness,
            edges: Edges::default(),
        };
        let is_hole = |placed: &&Placed| placed.kind == ElementKind::Hole;
        let work = self.elements.iter().filter(|placed| !is_hole(placed));
        let drilled = self.elements.iter().filter(is_hole);
        let elements = work.chain(drilled).map(|placed| Prism {
            act: placed.act,
            outline: &placed.region,
            bottom: placed.bottom,
            top: if placed.act == Act::Cuts { f64::INFINITY } else { placed.top },
            edges: Edges::default(),
        });
        std::iter::once(plate).chain(elements).collect()
    }

    /// The placed element of this id.
    pub fn element(&self, id: &str) -> Option<&Placed> {
        self.elements.iter().find(|placed| placed.id == id)
    }
}
