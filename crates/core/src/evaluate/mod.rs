//! From a document to solids.
//!
//! [`evaluate()`] takes every component the whole way: its blank becomes a [`Body`] with [`Face`]s,
//! [`layout()`] places every element on its face and says what it is, and one of two makers makes of
//! that the meshes (`maker`). An evaluation is a function of the piece and the
//! [`Workshop`] alone; what is the same as before is not worked out again.

mod around;
mod body;
mod bridges;
mod came_out;
mod clear;
mod contour;
mod edge_lines;
mod face;
mod fits;
mod ground;
mod growing;
mod kinds;
mod layout;
mod letters;
mod maker;
mod measured;
mod motifs;
mod openings;
mod outline;
mod prism;
mod profile;
mod reach;
mod relations;
mod relief;
mod round;
mod samples;
mod sections;
mod seen;
mod slices;
mod slots;
mod sockets;
mod stack;
mod tools;
mod words;
mod worked;

pub use body::Body;
pub use bridges::{Bridge, Bridging, lever_of};
pub use came_out::{CameOut, came_out};
pub use edge_lines::edge_lines;
pub use face::{Face, Frame};
pub use layout::{Drawn, Joined, Layout, Placed, PlacedBlank, layout};
pub use measured::Measured;
pub use openings::Opening;
pub use prism::{Order, Prism};
pub use profile::Profile;
pub use round::Round;
pub use samples::{Sample, samples};
pub use seen::{FromFace, WayOnFace};
pub use slices::{Along, Slice};
pub use slots::{SlotCut, put_together};
pub use sockets::SocketCut;
pub use stack::{Sliver, Stack};

pub(crate) use contour::contour;
pub(crate) use ground::FLOOR_COLOUR_MM;
pub(crate) use kinds::drawn_out;
pub(crate) use letters::LettersOfLines;
pub(crate) use motifs::MOST_MOTIFS;
pub(crate) use outline::{RING_WALLS_MM, reduced};
pub(crate) use words::{LinesAlone, height_to_fit, letters_alone};

use crate::cache::{Kept, Stage};
use crate::halt::Halted;
use crate::piece::{Component, ElementKind, FaceName, Kind, Lying, Outline, Piece};
use crate::plane::{MAX_COORDINATE_MM, Rect, Tolerance};
use crate::solid::{Colour, Measures, Mesh, MeshError, Meshed, Partings, Sections};
use crate::workshop::Workshop;
use ground::Ground;
use std::sync::Arc;

/// All of a component that prints in one colour.
#[derive(Debug, Clone)]
pub struct ColourBody {
    /// Which of the filaments of the piece.
    pub filament: usize,
    /// Its closed mesh.
    pub mesh: Mesh,
    /// Its volume in mm³.
    pub volume: f64,
}

/// A piece worked out.
#[derive(Debug, Clone)]
pub struct Evaluation {
    /// Its components, in the order of the document.
    pub components: Vec<Arc<Made>>,
}

/// A component worked out.
#[derive(Debug, Clone)]
pub struct Made {
    /// The component's id.
    pub id: String,
    /// Every element in its place.
    pub layout: Layout,
    /// How far the blank's foot is above the bed in mm: what is raised on the back stands on it.
    /// Negative where the foot of a mesh was cut away.
    pub lift: f64,
    /// Which side of it lies on the bed when it is printed.
    pub lies: Lying,
    /// The solid, resting on the bed; empty where there is none.
    pub mesh: Mesh,
    /// The solid's measures.
    pub measures: Measures,
    /// What prints in each colour. Together they are the solid, and they do not overlap.
    pub bodies: Vec<ColourBody>,
    /// How many loose parts the solid falls into.
    pub parts: usize,
    /// Where parts touched along a mere edge and were parted.
    pub partings: Partings,
    /// Why there is no solid.
    pub stop: Option<Stop>,
}

/// Why there is no solid of a component.
#[derive(Debug, Clone, PartialEq)]
pub enum Stop {
    /// An element reaches further than coordinates go.
    OutOfReach {
        /// The element's id.
        element: String,
    },
    /// The mesh it is made of is not at hand.
    MeshMissing,
    /// The mesh it is made of cannot stand on a bed at its scale.
    MeshOutOfScale,
    /// The shape its outline is is not at hand.
    ShapeMissing,
    /// What is cut out covers all of it.
    NothingLeft,
    /// The outlines are beyond what can be resolved.
    NotBuildable(MeshError),
}

impl Kept for Made {
    fn bytes(&self) -> usize {
        let prisms = self.layout.prisms().map(|prism| prism.outline.bytes()).sum::<usize>();
        let regions =
            self.layout.elements.iter().map(|placed| placed.region.bytes()).sum::<usize>();
        let bodies = self.bodies.iter().map(|body| body.mesh.bytes()).sum::<usize>();
        self.mesh.bytes() + bodies + prisms + regions
    }
}

impl Evaluation {
    /// A component, by its id.
    pub fn component(&self, id: &str) -> Option<&Made> {
        self.components.iter().map(|made| &**made).find(|made| made.id == id)
    }

    /// What prints in each colour, of all components.
    pub fn bodies(&self) -> impl Iterator<Item = &ColourBody> {
        self.components.iter().flat_map(|made| &made.bodies)
    }

    /// Whether there is a solid of every component.
    pub fn is_built(&self) -> bool {
        self.components.iter().all(|made| made.stop.is_none())
    }
}

/// Works a piece out. What cannot be built is said in [`Made::stop`].
///
/// # Errors
/// [`Halted`] where the work was stopped.
pub fn evaluate(piece: &Piece, workshop: &Workshop<'_>) -> Result<Evaluation, Halted> {
    let made = piece.components.iter().map(|component| {
        workshop.go_on()?;
        let key = workshop.cache.key(Stage::Component, reads(piece, component, workshop));
        workshop.cache.kept_if(key, || make(piece, component, workshop))
    });
    let components = workshop.over(|| made.collect::<Result<_, _>>())??;
    Ok(Evaluation { components })
}

/// Everything working a component out reads.
fn reads(
    piece: &Piece,
    component: &Component,
    workshop: &Workshop<'_>,
) -> impl std::hash::Hash + use<> {
    let filaments: Vec<&str> = piece.filaments.iter().map(|one| one.id.as_str()).collect();
    let document = serde_json::to_vec(&(component, &piece.inputs, filaments));
    let document = document.expect("a piece has only string keys");
    // What lettering names is at hand or not, and of the same name may be another. What stands on a part that goes
    // in can be what it grows by.
    let typefaces: Vec<Option<[u8; 32]>> = std::iter::once(component)
        .chain(piece.joints_into(&component.id).map(|(_, part)| part))
        .flat_map(|component| &component.elements)
        .filter_map(|element| match &element.kind {
            Kind::Lettering(lettering) => Some(lettering),
            _ => None,
        })
        .flat_map(|lettering| {
            let of_lines = lettering.lines.iter().filter_map(|line| line.typeface.as_deref());
            of_lines.chain([lettering.typeface.as_str()])
        })
        .map(|id| workshop.typeface(id).map(|typeface| typeface.content()))
        .collect();
    let has_shapes: Vec<bool> = piece
        .components
        .iter()
        .flat_map(Component::own_shapes)
        .map(|id| workshop.shape(id).is_some())
        .collect();
    let has_mesh = component.mesh().map(|mesh| workshop.mesh(&mesh.mesh).is_some());
    // A slot follows the plate that goes in, a socket its outline, which may follow what is on it.
    let joined: Vec<_> = piece
        .joints_into(&component.id)
        .map(|(joint, part)| {
            let plate = part.plate();
            // An outline that stands by itself follows nothing that lies on it.
            let blank =
                plate.map(|plate| (plate.width, plate.height, plate.thickness, &plate.outline));
            let follows = plate.is_some_and(|plate| {
                plate.grows.any() || matches!(plate.outline, Outline::Contour(_))
            });
            (joint, blank, follows.then_some(part))
        })
        .collect();
    let joined = serde_json::to_vec(&joined).expect("joints have only string keys");
    // What is narrower than a line of the printer is not drawn of a pattern.
    let printer = (piece.printer.drawn(), piece.printer.line);
    let printer = serde_json::to_vec(&printer).expect("printers have only string keys");
    (document, typefaces, has_mesh, has_shapes, joined, printer, workshop.tolerance)
}

fn make(piece: &Piece, component: &Component, workshop: &Workshop<'_>) -> Result<Made, Halted> {
    let mut layout = layout(piece, component, workshop)?;
    let blank = piece.filament_of(component, None) as Colour;
    let (Meshed { mut mesh, mut bodies, partings, .. }, stop) =
        match hindrance(component, &layout, workshop) {
            Some(stop) => (Meshed::default(), Some(stop)),
            None => match maker::meshed(&mut layout, blank, workshop) {
                Ok(meshed) if meshed.mesh.triangles.is_empty() => (meshed, Some(Stop::NothingLeft)),
                Ok(meshed) => (meshed, None),
                Err(MeshError::Halted(halted)) => return Err(halted),
                Err(error) => (Meshed::default(), Some(Stop::NotBuildable(error))),
            },
        };
    // The parts of a mesh of one's own are left as they are.
    let mut parts = mesh.parts();
    if layout.stock.is_none() && parts > 1 {
        let dust = mesh.drop_dust();
        if !dust.is_empty() {
            bodies.iter_mut().for_each(|(_, body)| body.drop_dust_in(&dust));
            bodies.retain(|(_, body)| !body.triangles.is_empty());
            parts = mesh.parts();
        }
    }
    // What is raised on the back reaches below the blank's foot, and of a mesh the foot may be cut
    // away; the component rests on the bed.
    let lift = 0.0 - mesh.lowest();
    mesh.lift(lift);
    let measures = mesh.measures();
    // A mesh that falls into parts of its own is meant to.
    let own = layout.stock.as_ref().map_or(1, |stock| stock.parts);
    let parts = (parts + 1).saturating_sub(own.max(1));
    let bodies = bodies
        .into_iter()
        .map(|(colour, mut mesh)| {
            mesh.lift(lift);
            let volume = mesh.volume();
            ColourBody { filament: usize::from(colour), mesh, volume }
        })
        .collect();
    let (id, lies) = (component.id.clone(), component.lies);
    Ok(Made { id, layout, lift, lies, mesh, measures, bodies, parts, partings, stop })
}

/// What keeps a component from being made at all.
fn hindrance(component: &Component, layout: &Layout, workshop: &Workshop<'_>) -> Option<Stop> {
    let is_beyond = |placed: &&Placed| {
        // What runs round comes back.
        let is_round = layout.face(placed.face).is_some_and(|face| face.round.is_some());
        let across = MAX_COORDINATE_MM * if is_round { 8.0 } else { 1.0 };
        let limit = Rect::centred(2.0 * across, 2.0 * MAX_COORDINATE_MM);
        placed.region.bounds().is_some_and(|bounds| !limit.contains(&bounds))
    };
    if let Some(placed) = layout.elements.iter().find(is_beyond) {
        return Some(Stop::OutOfReach { element: placed.id.clone() });
    }
    let drawn = component.outline().and_then(Outline::own_shape);
    if drawn.is_some_and(|id| workshop.shape(id).is_none()) {
        return Some(Stop::ShapeMissing);
    }
    match (component.mesh(), &layout.stock) {
        (Some(mesh), None) if workshop.mesh(&mesh.mesh).is_none() => Some(Stop::MeshMissing),
        (Some(_), None) => Some(Stop::MeshOutOfScale),
        _ => None,
    }
}

/// What is solid between which heights, of a component that is made in sections.
pub fn sections(layout: &Layout, workshop: &Workshop<'_>) -> Sections {
    sections::sections(layout, workshop.cache)
}

/// Width and height of the face of a component that is worked on, and its height above the bed, in mm.
/// For a mesh that is not at hand those of a stand-in.
///
/// # Errors
/// [`Halted`] where the work was stopped.
pub fn size(
    piece: &Piece,
    component: &Component,
    workshop: &Workshop<'_>,
) -> Result<[f64; 3], Halted> {
    Ok(Body::of(piece, component, workshop)?.size())
}

/// A new element of a kind that suits a face of a component as it is.
///
/// # Errors
/// [`Halted`] where the work was stopped.
pub(crate) fn fresh(
    kind: ElementKind,
    piece: &Piece,
    component: &Component,
    face: FaceName,
    workshop: &Workshop<'_>,
) -> Result<Kind, Halted> {
    let workshop = &workshop.at(Tolerance::Draft);
    let body = Body::of(piece, component, workshop)?;
    let ground = Ground::new(piece, component, &body, face, workshop);
    let free = ground.free_box();
    Ok(kinds::fresh(kind, &ground, free))
}
