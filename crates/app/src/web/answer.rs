//! What the piece page gets to know of a piece: its document, where everything lies, the facts,
//! the findings, and the mesh.

use super::meshes::{FaceReport, faces_of};
use kalotype_core::build::{Body, Evaluation, Placed, PlacedPlate};
use kalotype_core::colour::{SwapPlan, Tones, explain, plan_swaps};
use kalotype_core::piece::{ElementKind, Piece, Side};
use kalotype_core::plane::Rect;
use kalotype_core::preflight::Finding;
use kalotype_core::solid::{Act, Mesh};
use kalotype_core::stock;
use kalotype_store::Head;
use serde::Serialize;

/// Figures of a piece.
#[derive(Serialize)]
pub struct Facts {
    /// Width, height and overall thickness in mm.
    pub size_mm: [f64; 3],
    /// Volume in mm³.
    pub volume_mm3: f64,
    /// Surface in mm².
    pub area_mm2: f64,
    /// Mass in g if it is printed solid.
    pub mass_g: f64,
    /// What that much filament costs, in the currency of the prices of the spools.
    pub cost: f64,
    /// Centre of mass in mm, from the centre of the plate's foot, for even density.
    pub centre_of_mass_mm: [f64; 3],
    /// Triangles of the mesh.
    pub triangles: usize,
    /// Loose parts.
    pub parts: usize,
    /// What prints in each colour.
    pub bodies: Vec<BodyFacts>,
}

/// Figures of all that prints in one colour.
#[derive(Serialize)]
pub struct BodyFacts {
    /// Which of the filaments of the piece.
    pub filament: usize,
    /// Its name.
    pub name: String,
    /// Volume in mm³.
    pub volume_mm3: f64,
    /// Mass in g if it is printed solid.
    pub mass_g: f64,
    /// What that much filament costs.
    pub cost: f64,
}

/// The figures of an evaluated piece.
pub fn facts_of(piece: &Piece, evaluation: &Evaluation) -> Facts {
    let measures = &evaluation.measures;
    let size = |axis: usize| measures.high[axis] - measures.low[axis];
    let body = |body: &Body| {
        let filament = &piece.filaments[body.filament];
        let mass = filament.mass_of(body.volume);
        BodyFacts {
            filament: body.filament,
            name: filament.name.clone(),
            volume_mm3: body.volume,
            mass_g: mass,
            cost: filament.cost_of(mass),
        }
    };
    let bodies: Vec<BodyFacts> = evaluation.bodies.iter().map(body).collect();
    Facts {
        size_mm: [size(0), size(1), size(2)],
        volume_mm3: measures.volume,
        area_mm2: measures.area,
        mass_g: bodies.iter().map(|body| body.mass_g).sum(),
        cost: bodies.iter().map(|body| body.cost).sum(),
        centre_of_mass_mm: measures.centre_of_mass,
        triangles: evaluation.mesh.triangles.len(),
        parts: evaluation.parts,
        bodies,
    }
}

/// Changes of filament with one nozzle.
#[derive(Serialize)]
pub struct SwapsView {
    #[serde(flatten)]
    plan: SwapPlan,
    /// Why layers have more than one colour, in the order of the conflicts.
    reasons: Vec<String>,
}

/// The changes of a piece of several colours.
pub fn swaps_of(piece: &Piece, evaluation: &Evaluation) -> Option<SwapsView> {
    if evaluation.bodies.len() < 2 {
        return None;
    }
    let plan = plan_swaps(evaluation, piece.layers);
    let reasons = plan.conflicts.iter().map(|one| explain(piece, evaluation, one)).collect();
    Some(SwapsView { plan, reasons })
}

#[derive(Serialize)]
struct View<'a> {
    revision: i32,
    can_undo: bool,
    can_redo: bool,
    piece: &'a Piece,
    added: Option<&'a str>,
    /// How the piece's filaments are drawn, in their order.
    tones: Vec<Tones>,
    plate: PlateView,
    /// The mesh it is made of, where it is made of one.
    mesh: Option<MeshView>,
    /// How far the plate's foot is above the bed.
    lift: f64,
    clear: Option<Rect>,
    clear_back: Option<Rect>,
    elements: Vec<ElementView<'a>>,
    facts: Facts,
    /// Changes of filament with one nozzle, where there are several colours.
    swaps: Option<SwapsView>,
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
    /// The filament of the plate, and those its two faces show.
    colour: usize,
    front: usize,
    back: usize,
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
    fn of(piece: &Piece, evaluation: &Evaluation) -> Option<Self> {
        let (blank, levelled) = (piece.component().mesh()?, evaluation.layout.stock.as_ref()?);
        let stock = stock::on_shelf(&blank.mesh)?;
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

impl<'a> ElementView<'a> {
    fn of(placed: &'a Placed, plate: &PlacedPlate) -> Self {
        // A loop of its own colour has it only outside the plate.
        let path = match placed.kind {
            ElementKind::Loop => placed.region.difference(&plate.base).svg_path(),
            _ => placed.region.svg_path(),
        };
        ElementView {
            id: &placed.id,
            kind: placed.kind,
            side: placed.side,
            path,
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
pub fn encode(head: &Head, evaluation: &Evaluation, added: Option<&str>) -> Vec<u8> {
    let plate = &evaluation.layout.plate;
    let outline = evaluation.layout.outline_seen();
    let seen = match &evaluation.layout.stock {
        Some(stock) => outline.union(&stock.silhouette),
        None => outline.clone(),
    };
    let view = View {
        revision: head.revision,
        can_undo: head.can_undo,
        can_redo: head.can_redo,
        piece: &head.piece,
        added,
        tones: head.piece.filaments.iter().map(|one| one.colour.tones()).collect(),
        plate: PlateView {
            path: outline.svg_path(),
            frame: plate.rect,
            guide: plate.guide,
            bounds: seen.bounds().unwrap_or(plate.rect),
            thickness: plate.thickness,
            reduced_edge: plate.reduced_edge,
            colour: head.piece.filament_of(None),
            front: plate.face_colour(Side::Front),
            back: plate.face_colour(Side::Back),
        },
        mesh: MeshView::of(&head.piece, evaluation),
        lift: evaluation.lift,
        clear: evaluation.layout.clear,
        clear_back: evaluation.layout.clear_back,
        elements: evaluation
            .layout
            .elements
            .iter()
            .map(|placed| ElementView::of(placed, plate))
            .collect(),
        facts: facts_of(&head.piece, evaluation),
        swaps: swaps_of(&head.piece, evaluation),
        findings: &evaluation.findings,
    };
    let json = serde_json::to_vec(&view).expect("a view has only string keys");
    let bodies = evaluation.bodies.iter().map(|body| (body.filament, &body.mesh));
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
