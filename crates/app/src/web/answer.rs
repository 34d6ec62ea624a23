//! What the piece page gets to know of a piece: its document, where everything lies, the facts,
//! the findings, and the mesh.

use crate::service::{FaceReport, Facts, Service, SwapsView, Worked, faces_of, facts_of, swaps_of};
use kalotype_core::evaluate::{Made, Placed, PlacedBlank, Prism, edge_lines};
use kalotype_core::filament::Tones;
use kalotype_core::halt::Halt;
use kalotype_core::piece::{Address, Component, Element, ElementKind, FaceName, Piece};
use kalotype_core::plane::{Rect, Tolerance};
use kalotype_core::preflight::Finding;
use kalotype_core::solid::{Act, Mesh};
use kalotype_core::workshop::Workshop;
use kalotype_store::Head;
use serde::Serialize;

#[derive(Serialize)]
struct View<'a> {
    revision: i32,
    can_undo: bool,
    can_redo: bool,
    piece: &'a Piece,
    /// The component that is shown.
    component: &'a str,
    added: Option<&'a Address>,
    /// How the piece's filaments are drawn, in their order.
    tones: Vec<Tones>,
    plate: PlateView,
    /// The mesh it is made of, where it is made of one.
    mesh: Option<MeshView>,
    /// How far the plate's foot is above the bed.
    lift: f64,
    clear: Option<Rect>,
    clear_back: Option<Rect>,
    elements: Vec<ElementView>,
    facts: Facts,
    /// Changes of filament with one nozzle, where there are several colours.
    swaps: Option<SwapsView>,
    findings: &'a [Finding],
    /// What may stand in braces in the names of its files.
    file_words: Vec<&'a str>,
}

#[derive(Serialize)]
struct PlateView {
    path: String,
    edge_lines: EdgeLines,
    /// Its extent without loops.
    frame: Rect,
    /// What lettering and emblems are placed on.
    guide: Rect,
    /// Its extent with them.
    bounds: Rect,
    thickness: f64,
    reduced_edge: Option<f64>,
    /// The filament of the plate, and those its two faces show.
    colour: usize,
    front: usize,
    back: usize,
}

/// Where the level of a face begins beside treated edges, as paths; empty where they are square.
#[derive(Serialize)]
struct EdgeLines {
    front: String,
    back: String,
}

impl EdgeLines {
    fn of(prisms: &[Prism], workshop: &Workshop<'_>) -> Self {
        let on = |face| edge_lines(prisms, face, workshop).svg_path();
        EdgeLines { front: on(FaceName::Front), back: on(FaceName::Back) }
    }
}

/// A mesh a piece is made of, as it lies.
#[derive(Serialize)]
struct MeshView {
    /// The outline of all of it, and that of what lies on the bed.
    silhouette: String,
    foot: String,
    foot_frame: Option<Rect>,
    /// Height of its highest point.
    top: f64,
    /// Its extent.
    extent: [f64; 3],
    /// Its flat faces in its own figures, and which of them is worked on.
    faces: Vec<FaceReport>,
    face: usize,
}

impl MeshView {
    fn of(component: &Component, made: &Made, service: &Service) -> Option<Self> {
        let (blank, levelled) = (component.mesh()?, made.layout.stock.as_ref()?);
        let stock = service.workshop(Tolerance::Normal, Halt::default()).mesh(&blank.mesh)?;
        Some(MeshView {
            silhouette: levelled.silhouette.svg_path(),
            foot: levelled.foot.svg_path(),
            foot_frame: levelled.foot.bounds(),
            top: levelled.top,
            extent: levelled.extent,
            faces: faces_of(&stock),
            face: stock.nearest_face(blank.face),
        })
    }
}

/// An element in its place; lengths in mm, the path with y downwards.
#[derive(Serialize)]
struct ElementView {
    /// Its address.
    id: Address,
    kind: ElementKind,
    /// What it is called in a list.
    name: String,
    face: FaceName,
    path: String,
    edge_lines: EdgeLines,
    frame: Rect,
    adds: bool,
    through: bool,
    ground: f64,
    bottom: f64,
    top: f64,
    /// How deep it is rooted in what it stands on.
    root: f64,
    /// Its filament, or that of its floor.
    colour: usize,
    /// The smallest size its edges had to be reduced to, if any had.
    reduced_edge: Option<f64>,
    /// Height of the capitals and part of the circle in degrees, for lettering.
    letter_height: f64,
    span: f64,
}

impl ElementView {
    fn of(
        component: &Component,
        placed: &Placed,
        blank: &PlacedBlank,
        workshop: &Workshop<'_>,
    ) -> Self {
        // A loop of its own colour has it only outside the plate.
        let path = match placed.kind {
            ElementKind::Loop => placed.region.difference(&blank.base).svg_path(),
            _ => placed.region.svg_path(),
        };
        ElementView {
            id: component.element_address(&placed.id),
            kind: placed.kind,
            name: component.element(&placed.id).map_or_else(String::new, Element::name),
            face: placed.face,
            path,
            edge_lines: EdgeLines::of(&placed.prisms, workshop),
            frame: placed.frame,
            adds: placed.act == Act::Adds,
            through: placed.through,
            ground: placed.ground,
            bottom: placed.bottom,
            top: placed.top,
            root: placed.root,
            colour: usize::from(placed.colour),
            reduced_edge: placed.reduced_edge,
            letter_height: placed.drawn.letter_height,
            span: placed.drawn.span,
        }
    }
}

/// The answer to every request that shows or changes a piece: the length of the JSON as u32, the
/// JSON padded with spaces to a multiple of four, then the number of bodies (u32) and for each its
/// filament, its counts of vertices and triangles (u32), positions (f32) and indices (u32); all
/// little-endian.
pub fn encode(service: &Service, head: &Head, worked: &Worked, added: Option<&Address>) -> Vec<u8> {
    let (piece, evaluation) = (&head.piece, &worked.evaluation);
    let (component, made) = (piece.first(), &evaluation.components[0]);
    let blank = &made.layout.blank;
    let workshop = service.workshop(made.layout.tolerance, Halt::default());
    let outline = made.layout.outline_seen();
    let seen = match &made.layout.stock {
        Some(stock) => outline.union(&stock.silhouette),
        None => outline.clone(),
    };
    let view = View {
        revision: head.revision,
        can_undo: head.can_undo,
        can_redo: head.can_redo,
        piece,
        component: &component.id,
        added,
        tones: piece.filaments.iter().map(|one| one.colour.tones()).collect(),
        plate: PlateView {
            path: outline.svg_path(),
            edge_lines: EdgeLines::of(&blank.prisms, &workshop),
            frame: blank.rect,
            guide: blank.guide,
            bounds: seen.bounds().unwrap_or(blank.rect),
            thickness: blank.thickness,
            reduced_edge: blank.reduced_edge,
            colour: piece.filament_of(component, None),
            front: blank.face_colour(FaceName::Front),
            back: blank.face_colour(FaceName::Back),
        },
        mesh: MeshView::of(component, made, service),
        lift: made.lift,
        clear: made.layout.clear_of(FaceName::Front),
        clear_back: made.layout.clear_of(FaceName::Back),
        elements: made
            .layout
            .elements
            .iter()
            .map(|placed| ElementView::of(component, placed, blank, &workshop))
            .collect(),
        facts: facts_of(piece, evaluation),
        swaps: swaps_of(piece, evaluation),
        findings: &worked.findings,
        file_words: piece.file_words().collect(),
    };
    let json = serde_json::to_vec(&view).expect("a view has only string keys");
    let bodies = made.bodies.iter().map(|body| (body.filament, &body.mesh));
    with_bodies(json, bodies.collect())
}

/// JSON and the meshes of bodies in one, as [`encode`] has it.
pub fn with_bodies(mut json: Vec<u8>, bodies: Vec<(usize, &Mesh)>) -> Vec<u8> {
    json.resize(json.len().next_multiple_of(4), b' ');
    let of_body =
        |(_, mesh): &(usize, &Mesh)| 12 * (1 + mesh.vertices.len() + mesh.triangles.len());
    let size = 8 + json.len() + bodies.iter().map(of_body).sum::<usize>();
    let mut bytes = Vec::with_capacity(size);
    bytes.extend((json.len() as u32).to_le_bytes());
    bytes.extend(json);
    bytes.extend((bodies.len() as u32).to_le_bytes());
    for (filament, mesh) in bodies {
        for count in [filament, mesh.vertices.len(), mesh.triangles.len()] {
            bytes.extend((count as u32).to_le_bytes());
        }
        bytes.extend(mesh.vertices.iter().flatten().flat_map(|v| (*v as f32).to_le_bytes()));
        bytes.extend(mesh.triangles.iter().flatten().flat_map(|i| i.to_le_bytes()));
    }
    bytes
}
