//! What the piece page gets to know of a piece: its document, where everything lies, the facts,
//! the findings, and the mesh.

use kalotype_core::build::{Evaluation, Placed};
use kalotype_core::piece::{ElementKind, Piece, Side};
use kalotype_core::plane::Rect;
use kalotype_core::preflight::Finding;
use kalotype_core::solid::{Act, Mesh};
use kalotype_store::Head;
use serde::Serialize;

/// Density of PLA in g/mm³: 1.24 g/cm³ (common practice, no source).
const PLA_G_PER_MM3: f64 = 1.24e-3;

/// Figures of a piece.
#[derive(Serialize)]
pub struct Facts {
    /// Width, height and overall thickness in mm.
    pub size_mm: [f64; 3],
    /// Volume in mm³.
    pub volume_mm3: f64,
    /// Surface in mm².
    pub area_mm2: f64,
    /// Mass in g if it is printed solid in PLA.
    pub mass_g: f64,
    /// Centre of mass in mm, from the centre of the plate's foot.
    pub centre_of_mass_mm: [f64; 3],
    /// Triangles of the mesh.
    pub triangles: usize,
    /// Separate bodies.
    pub bodies: usize,
}

/// The figures of an evaluated piece.
pub fn facts_of(evaluation: &Evaluation) -> Facts {
    let measures = &evaluation.measures;
    let size = |axis: usize| measures.high[axis] - measures.low[axis];
    Facts {
        size_mm: [size(0), size(1), size(2)],
        volume_mm3: measures.volume,
        area_mm2: measures.area,
        mass_g: measures.volume * PLA_G_PER_MM3,
        centre_of_mass_mm: measures.centre_of_mass,
        triangles: evaluation.mesh.triangles.len(),
        bodies: evaluation.bodies,
    }
}

#[derive(Serialize)]
struct View<'a> {
    revision: i32,
    can_undo: bool,
    can_redo: bool,
    piece: &'a Piece,
    added: Option<&'a str>,
    plate: PlateView,
    /// How far the plate's foot is above the bed.
    lift: f64,
    clear: Option<Rect>,
    clear_back: Option<Rect>,
    elements: Vec<ElementView<'a>>,
    facts: Facts,
    findings: &'a [Finding],
}

#[derive(Serialize)]
struct PlateView {
    path: String,
    /// Its extent without loops.
    frame: Rect,
    /// What lettering and emblems are placed on.
    guide: Rect,
    /// Its extent with them.
    bounds: Rect,
    thickness: f64,
    reduced_edge: Option<f64>,
}

/// An element in its place; lengths in mm, the path with y downwards.
#[derive(Serialize)]
struct ElementView<'a> {
    id: &'a str,
    kind: ElementKind,
    side: Side,
    path: String,
    frame: Rect,
    adds: bool,
    through: bool,
    ground: f64,
    bottom: f64,
    top: f64,
    /// The smallest size its edges had to be reduced to, if any had.
    reduced_edge: Option<f64>,
    /// Height of the capitals and part of the circle in degrees, for lettering.
    letter_height: f64,
    span: f64,
}

impl<'a> ElementView<'a> {
    fn of(placed: &'a Placed) -> Self {
        ElementView {
            id: &placed.id,
            kind: placed.kind,
            side: placed.side,
            path: placed.region.svg_path(),
            frame: placed.frame,
            adds: placed.act == Act::Adds,
            through: placed.through,
            ground: placed.ground,
            bottom: placed.bottom,
            top: placed.top,
            reduced_edge: placed.reduced_edge,
            letter_height: placed.drawn.letter_height,
            span: placed.drawn.span,
        }
    }
}

/// The answer to every request that shows or changes a piece: the length of the JSON as u32, the
/// JSON padded with spaces to a multiple of four, then the mesh as counts of vertices and triangles
/// (u32), positions (f32) and indices (u32); all little-endian.
pub fn encode(head: &Head, evaluation: &Evaluation, added: Option<&str>) -> Vec<u8> {
    let plate = &evaluation.layout.plate;
    let outline = evaluation.layout.outline_seen();
    let view = View {
        revision: head.revision,
        can_undo: head.can_undo,
        can_redo: head.can_redo,
        piece: &head.piece,
        added,
        plate: PlateView {
            path: outline.svg_path(),
            frame: plate.rect,
            guide: plate.guide,
            bounds: outline.bounds().unwrap_or(plate.rect),
            thickness: plate.thickness,
            reduced_edge: plate.reduced_edge,
        },
        lift: evaluation.lift,
        clear: evaluation.layout.clear,
        clear_back: evaluation.layout.clear_back,
        elements: evaluation.layout.elements.iter().map(ElementView::of).collect(),
        facts: facts_of(evaluation),
        findings: &evaluation.findings,
    };
    let mut json = serde_json::to_vec(&view).expect("a view has only string keys");
    json.resize(json.len().next_multiple_of(4), b' ');
    let Mesh { vertices, triangles } = &evaluation.mesh;
    let mut bytes = Vec::with_capacity(12 + json.len() + 12 * (vertices.len() + triangles.len()));
    bytes.extend((json.len() as u32).to_le_bytes());
    bytes.extend(json);
    bytes.extend((vertices.len() as u32).to_le_bytes());
    bytes.extend((triangles.len() as u32).to_le_bytes());
    bytes.extend(vertices.iter().flatten().flat_map(|v| (*v as f32).to_le_bytes()));
    bytes.extend(triangles.iter().flatten().flat_map(|i| i.to_le_bytes()));
    bytes
}
