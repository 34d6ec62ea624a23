//! What the piece page gets to know of a piece: its document, where everything lies, the facts,
//! the findings, and the mesh.

use crate::service::{FaceReport, Facts, Service, SwapsView, Worked, faces_of, facts_of, swaps_of};
use kalotype_core::bed::{asides, places};
use kalotype_core::emblems::{EmblemShape, emblem};
use kalotype_core::evaluate::{
    Bridge, Bridging, CameOut, Evaluation, Frame, Layout, Made, Measured, Placed, Prism, Round,
    Sliver, SlotCut, SocketCut, came_out, edge_lines, put_together,
};
use kalotype_core::filament::Tones;
use kalotype_core::halt::Halt;
use kalotype_core::piece::{
    Address, Beside, Blank, Bridges, Component, Element, ElementKind, Emblem, FaceName, Kind,
    Piece, Sides,
};
use kalotype_core::plane::{Rect, Tolerance, rounded_rectangle};
use kalotype_core::preflight::Finding;
use kalotype_core::solid::{Act, Cut, Measures, Mesh};
use kalotype_core::workshop::Workshop;
use kalotype_store::Head;
use serde::Serialize;
use std::collections::BTreeMap;
use std::sync::Arc;

#[derive(Serialize)]
struct View<'a> {
    revision: i32,
    can_undo: bool,
    can_redo: bool,
    /// Whether its newest state cannot be read, so that an earlier one is shown.
    unread: bool,
    piece: &'a Piece,
    added: Option<&'a Address>,
    /// How the piece's filaments are drawn, in their order.
    tones: Vec<Tones>,
    components: Vec<ComponentView<'a>>,
    facts: Facts,
    /// Changes of filament with one nozzle, where there are several colours.
    swaps: Option<SwapsView>,
    /// What speaks against keeping it so; all else preflight says by itself.
    findings: &'a [Finding],
    /// What may stand in braces in the names of its files.
    file_words: Vec<&'a str>,
}

/// A component, as it lies by itself.
#[derive(Serialize)]
struct ComponentView<'a> {
    component: &'a str,
    /// What it is called.
    called: &'a str,
    plate: PlateView,
    /// The mesh it is made of, where it is made of one.
    mesh: Option<MeshView>,
    /// How far the blank's foot is above the bed.
    lift: f64,
    clear: Option<Rect>,
    clear_back: Option<Rect>,
    /// Its faces, the main one first.
    faces: Vec<FaceView>,
    /// Those of them that are seen in a plan of their own.
    charts: Vec<ChartView>,
    elements: Vec<ElementView<'a>>,
    /// Its own figures.
    own_facts: Facts,
    /// How many of the bodies that follow are its own.
    bodies: usize,
    /// How far to the right it stands beside the others, as it is made.
    aside: f64,
    /// Where it lies on the bed, beside the others.
    bed: Pose,
    /// Where it stands when the piece is put together.
    pose: Pose,
    /// What is cut into it for others.
    slots: Vec<SlotView>,
    /// How deep and how high it is, seen from the right, where it is drawn out of a profile.
    side_box: Option<[f64; 2]>,
    /// How a profile it is drawn out of lies in it, from its left end.
    profile: Option<Pose>,
    /// How it goes together with what was measured, where something was.
    sliver: Option<SliverView>,
    /// What it looks like cut through its middle, where it has faces to all sides.
    side: Option<SideView>,
}

/// A component cut through its middle.
#[derive(Serialize)]
struct SideView {
    /// What every colour has of it, y downwards.
    bodies: Vec<SideBody>,
    bounds: Rect,
    /// Which of its axes runs to the right: x, or y where it is seen from the right.
    right: usize,
}

#[derive(Serialize)]
struct SideBody {
    filament: usize,
    path: String,
}

impl SideView {
    fn of(made: &Made) -> Option<Self> {
        let (cut, right) = match (&made.layout.profile, &made.layout.stack) {
            (Some(_), _) => (Cut::Across, 1),
            (_, Some(_)) => (Cut::Lengthwise, 0),
            _ => return None,
        };
        let bodies = made.bodies.iter().map(|body| SideBody {
            filament: body.filament,
            path: body.mesh.section(cut).svg_path(),
        });
        let Measures { low, high, .. } = made.measures;
        let bounds = Rect { x0: low[right], y0: low[2], x1: high[right], y1: high[2] };
        Some(SideView { bodies: bodies.collect(), bounds, right })
    }
}

/// A face by its name and by what people call it, and the fields it is as wide and as high as.
#[derive(Serialize)]
struct FaceView {
    name: FaceName,
    title: &'static str,
    sides: Sides,
}

/// A face that does not lie level with the sections of its body, as it is seen from there.
#[derive(Serialize)]
struct ChartView {
    name: FaceName,
    plate: PlateView,
    clear: Option<Rect>,
    /// How the chart lies in its component; heights count from behind it.
    lies: Pose,
    /// How it runs round, where it does.
    round: Option<RoundView>,
}

/// How a face runs round the upright axis.
#[derive(Serialize)]
struct RoundView {
    radius: f64,
    /// The height of the middle of its chart.
    middle: f64,
    thickness: f64,
    is_inside: bool,
}

impl RoundView {
    fn of(round: &Round) -> Self {
        let Round { radius, middle, thickness, is_inside, .. } = *round;
        RoundView { radius, middle, thickness, is_inside }
    }
}

/// How something made goes together with something measured.
#[derive(Serialize)]
struct SliverView {
    /// Half of the sections of both, y downwards.
    body: String,
    guest: String,
    bounds: Option<Rect>,
    measured: f64,
    across: f64,
}

impl SliverView {
    fn of(sliver: &Sliver) -> Self {
        SliverView {
            body: sliver.body.svg_path(),
            guest: sliver.guest.svg_path(),
            bounds: sliver.body.union(&sliver.guest).bounds(),
            measured: sliver.measured,
            across: sliver.across,
        }
    }
}

/// Where a component's own axes come to lie.
#[derive(Serialize)]
struct Pose {
    origin: [f64; 3],
    across: [f64; 3],
    up: [f64; 3],
    out: [f64; 3],
}

impl From<Frame> for Pose {
    fn from(frame: Frame) -> Self {
        let Frame { origin, across, up, out } = frame;
        Pose { origin, across, up, out }
    }
}

/// A slot in figures.
#[derive(Serialize)]
struct SlotView {
    joint: String,
    face: FaceName,
    /// Its mouth as it is seen from the face.
    path: String,
    frame: Rect,
    depth: f64,
    length: f64,
    width: f64,
    clearance: f64,
    lean: f64,
    /// What it is cut into, seen from the right at its middle: how far to the back and how high, y
    /// downwards; and the plate that stands in it.
    section: String,
    plate: String,
    /// What of that is shown, where it is not all of what it is cut into.
    bounds: Option<Rect>,
}

impl SlotView {
    fn of(slot: &SlotCut, piece: &Piece, made: &Made) -> Option<Self> {
        let joint = piece.joints.iter().find(|joint| joint.id == slot.joint)?;
        let face = made.layout.face(joint.slot.as_ref()?.face)?;
        let whole = &made.layout.profile.as_ref()?.outline;
        let across = slot.frame.origin;
        let from = [0, 1, 2].map(|i| across[i] - face.frame.point(0.0, 0.0, face.thickness)[i]);
        let along = |axis: [f64; 3]| (0..3).map(|i| from[i] * axis[i]).sum::<f64>();
        let (u, v) = (along(face.frame.across), along(face.frame.up));
        let mouth = slot.width / slot.lean.to_radians().cos();
        let rect = Rect::centred(slot.length.min(2.0 * face.rect.width()), mouth).moved(u, v);
        let path = rounded_rectangle(rect, 0.0, Tolerance::Normal).intersection(&face.outline);
        let rise = slot.width;
        let half = slot.clearance / 2.0;
        Some(SlotView {
            joint: slot.joint.clone(),
            face: face.name,
            frame: path.bounds().unwrap_or(rect),
            path: path.svg_path(),
            depth: slot.depth,
            length: slot.length,
            width: slot.width,
            clearance: slot.clearance,
            lean: slot.lean,
            section: whole.difference(&slot.section(-slot.depth, rise)).svg_path(),
            plate: slot.plate_section(half - slot.depth, 1.5 * slot.depth).svg_path(),
            bounds: None,
        })
    }
}

impl SlotView {
    /// A socket, whose sliver shows it across its middle: what it is cut into below, the plate in it.
    fn of_socket(socket: &SocketCut, made: &Made) -> Option<Self> {
        let face = made.layout.face(socket.face)?;
        let frame = socket.outline.bounds()?;
        let half = frame.width() / 2.0;
        let rect = |x0: f64, y0: f64, x1: f64, y1: f64| {
            rounded_rectangle(Rect { x0, y0, x1, y1 }, 0.0, Tolerance::Normal)
        };
        // No more of the material beside and below it than shows how it lies.
        let aside = half + socket.depth.max(3.0);
        let floor = (2.0 * socket.depth).min(face.thickness);
        let whole = rect(-aside, -floor, aside, 0.0);
        let plate = half - socket.clearance / 2.0;
        Some(SlotView {
            joint: socket.joint.clone(),
            face: face.name,
            frame,
            path: socket.outline.svg_path(),
            depth: socket.depth,
            length: frame.height(),
            width: frame.width(),
            clearance: socket.clearance,
            lean: 0.0,
            section: whole.difference(&rect(-half, -socket.depth, half, 1.0)).svg_path(),
            plate: rect(-plate, -socket.depth, plate, 0.0).svg_path(),
            bounds: Some(Rect { x0: -aside, x1: aside, y0: -floor, y1: 1.0 }),
        })
    }
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
    /// The ties in an outline that follows what is on it.
    ties: Option<BridgingView>,
    reduced_edge: Option<f64>,
    /// The filament of the plate, and those its two faces show.
    colour: usize,
    front: usize,
    back: usize,
}

/// Where the level of a face begins beside treated edges, as paths; empty where they are square.
#[derive(Default, Serialize)]
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
struct ElementView<'a> {
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
    /// How far it lies from everything it can be measured from, across and up, by the words of those.
    measured: MeasuredView,
    /// The figure that came out otherwise than it was typed, if one did.
    came_out: Option<CameOut>,
    /// Height of the capitals and part of the circle in degrees, for lettering.
    letter_height: f64,
    span: f64,
    /// The lines of a shape of the user's own that has some.
    lines: Option<LinesView>,
    /// Where it lies beside another one, where it is placed so.
    by: Option<BesideView>,
    /// The elements it could be placed by; for a halo those it could go round, for a pattern those it could fill.
    others: Vec<OtherView<'a>>,
    /// Whether its shape goes by numbers.
    has_numbers: bool,
    /// What holds its inside or its parts, where it asks for that.
    bridging: Option<BridgingView>,
}

/// The lines of a shape: how wide the thinnest is, in mm, and whether there is nothing else.
#[derive(Serialize)]
struct LinesView {
    width: f64,
    alone: bool,
}

impl LinesView {
    fn of(emblem: &Emblem, workshop: &Workshop<'_>) -> Option<Self> {
        let shape = workshop.shape(emblem.own_shape()?)?;
        let width = shape.thinnest_line(emblem.setting(), &emblem.stroke)?;
        Some(LinesView { width, alone: shape.is_lines_alone() })
    }
}

/// Distances along both axes, by what they are measured from: how far it is, and what that grows by to the
/// right or up.
#[derive(Serialize)]
struct MeasuredView {
    across: BTreeMap<&'static str, (f64, f64)>,
    up: BTreeMap<&'static str, (f64, f64)>,
}

impl MeasuredView {
    fn of([across, up]: [Vec<Measured>; 2]) -> Self {
        let by_word = |all: Vec<Measured>| {
            all.into_iter().map(|one| (one.from, (one.distance, one.way))).collect()
        };
        MeasuredView { across: by_word(across), up: by_word(up) }
    }
}

/// Another element that one can have to do with.
#[derive(Serialize)]
struct OtherView<'a> {
    id: &'a str,
    name: String,
}

/// What says where something lies that is placed by another element: for each axis the field, its length in mm,
/// and what that grows by to the right or up.
#[derive(Serialize)]
struct BesideView {
    across: (&'static str, f64, f64),
    up: (&'static str, f64, f64),
}

impl BesideView {
    fn of(by: &Beside) -> Self {
        let [across, up] = by.axes().map(|(field, length, way)| (field, length.as_mm(), way));
        BesideView { across, up }
    }
}

/// The bridges of an element, for the hand: where each lies, and in which letter.
#[derive(Serialize)]
struct BridgingView {
    bridges: Vec<BridgeView>,
    /// Bridges that are lower than what is cut, as they are drawn on its floor.
    low: String,
}

#[derive(Serialize)]
struct BridgeView {
    ends: [(f64, f64); 2],
    by_hand: Option<usize>,
    /// The letter it lies in; empty for a shape.
    letter: String,
}

impl BridgingView {
    fn of(bridging: &Bridging, is_low: bool) -> Self {
        let bridge = |one: &Bridge| BridgeView {
            ends: one.tie.ends,
            by_hand: one.by_hand,
            letter: bridging.letter_of(one),
        };
        BridgingView {
            bridges: bridging.bridges.iter().map(bridge).collect(),
            low: if is_low { bridging.region.svg_path() } else { String::new() },
        }
    }
}

/// What an element is called in a list; one that is a shape of the user's own by that.
fn called(element: &Element, workshop: &Workshop<'_>) -> String {
    let own = match &element.kind {
        Kind::Emblem(emblem) => emblem.own_shape().and_then(|id| workshop.shape(id)),
        _ => None,
    };
    own.map_or_else(|| element.name(), |shape| shape.name.clone())
}

/// Whether an emblem's shape goes by numbers.
fn goes_by_numbers(element: &Element) -> bool {
    let Kind::Emblem(one) = &element.kind else { return false };
    emblem(&one.shape).is_some_and(EmblemShape::has_numbers)
}

impl<'a> ElementView<'a> {
    fn of(
        component: &'a Component,
        placed: &Placed,
        layout: &Layout,
        workshop: &Workshop<'_>,
    ) -> Self {
        let blank = &layout.blank;
        let element = component.element(&placed.id);
        // A loop of its own colour has it only outside the plate.
        let path = match placed.kind {
            ElementKind::Loop => placed.region.difference(&blank.base).svg_path(),
            _ => placed.region.svg_path(),
        };
        ElementView {
            id: component.element_address(&placed.id),
            kind: placed.kind,
            name: element.map_or_else(String::new, |element| called(element, workshop)),
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
            measured: MeasuredView::of(layout.measured(placed)),
            came_out: element.and_then(|element| {
                came_out(element, placed, &component.element_address(&placed.id))
            }),
            letter_height: placed.drawn.letter_height,
            span: placed.drawn.span,
            by: element
                .and_then(Element::place)
                .and_then(|place| place.by.as_ref())
                .map(BesideView::of),
            others: element.map_or_else(Vec::new, |element| {
                let others = component.others_for(element).into_iter();
                others.map(|one| OtherView { id: &one.id, name: called(one, workshop) }).collect()
            }),
            has_numbers: element.is_some_and(goes_by_numbers),
            bridging: placed.bridging.as_deref().map(|bridging| {
                let height = element.and_then(Element::bridges).and_then(Bridges::height);
                let is_low = height.is_some_and(|height| height < placed.top - placed.bottom);
                BridgingView::of(bridging, is_low)
            }),
            lines: match element.map(|element| &element.kind) {
                Some(Kind::Emblem(emblem)) => LinesView::of(emblem, workshop),
                _ => None,
            },
        }
    }
}

/// The answer to every request that shows or changes a piece: the length of the JSON as u32, the
/// JSON padded with spaces to a multiple of four, then the number of bodies (u32), those of one component
/// after those of another, and for each its
/// filament, its counts of vertices and triangles (u32), positions (f32) and indices (u32); all
/// little-endian.
pub fn encode(service: &Service, head: &Head, worked: &Worked, added: Option<&Address>) -> Vec<u8> {
    let (piece, evaluation) = (&head.piece, &worked.evaluation);
    let poses = put_together(piece, evaluation);
    let all = piece.components.iter().zip(&evaluation.components);
    let beds = places(evaluation).into_iter().zip(asides(evaluation));
    let components = all.zip(poses.into_iter().zip(beds)).map(|(of, (pose, (bed, aside)))| {
        let (component, made) = of;
        ComponentView {
            aside,
            bed: bed.into(),
            pose: pose.into(),
            ..component_view(service, piece, component, made)
        }
    });
    let view = View {
        revision: head.revision,
        can_undo: head.can_undo,
        unread: head.shown != head.revision,
        can_redo: head.can_redo,
        piece,
        added,
        tones: piece.filaments.iter().map(|one| one.colour.tones()).collect(),
        components: components.collect(),
        facts: facts_of(piece, evaluation),
        swaps: swaps_of(piece, evaluation),
        findings: &worked.objections,
        file_words: piece.file_words().collect(),
    };
    let json = serde_json::to_vec(&view).expect("a view has only string keys");
    let bodies = evaluation.bodies().map(|body| (body.filament, &body.mesh));
    with_bodies(json, bodies.collect())
}

/// A component as it is shown, on the bed by itself.
fn component_view<'a>(
    service: &Service,
    piece: &Piece,
    component: &'a Component,
    made: &Arc<Made>,
) -> ComponentView<'a> {
    let layout = &made.layout;
    let workshop = service.workshop(layout.tolerance, Halt::default());
    let elements = layout.elements.iter();
    let alone = Evaluation { components: vec![Arc::clone(made)] };
    ComponentView {
        component: &component.id,
        called: component.called(),
        plate: whole_view(piece, component, layout, &workshop),
        mesh: MeshView::of(component, made, service),
        lift: made.lift,
        clear: layout.clear_of(FaceName::Front),
        clear_back: layout.clear_of(FaceName::Back),
        faces: faces_of_blank(component),
        charts: chart_views(piece, component, layout),
        elements: elements
            .map(|placed| ElementView::of(component, placed, layout, &workshop))
            .collect(),
        own_facts: facts_of(piece, &alone),
        bodies: made.bodies.len(),
        aside: 0.0,
        bed: Frame::LOOKING_UP.into(),
        pose: Frame::LOOKING_UP.into(),
        slots: {
            let slots = layout.slots.iter().filter_map(|slot| SlotView::of(slot, piece, made));
            let sockets = layout.sockets.iter();
            slots.chain(sockets.filter_map(|socket| SlotView::of_socket(socket, made))).collect()
        },
        side_box: side_box(layout),
        profile: layout.profile.as_ref().map(|profile| profile.frame().into()),
        sliver: layout.stack.as_ref().and_then(|stack| stack.joint.as_ref()).map(SliverView::of),
        side: SideView::of(made),
    }
}

/// A blank of an outline, as it is shown from the front.
fn plate_view(
    piece: &Piece,
    component: &Component,
    layout: &Layout,
    path: String,
    bounds: Rect,
) -> PlateView {
    let blank = &layout.blank;
    PlateView {
        path,
        edge_lines: EdgeLines::default(),
        frame: blank.rect,
        guide: blank.guide,
        bounds,
        thickness: blank.thickness,
        ties: blank.ties.as_deref().map(|ties| BridgingView::of(ties, false)),
        reduced_edge: blank.reduced_edge,
        colour: piece.filament_of(component, None),
        front: blank.face_colour(FaceName::Front),
        back: blank.face_colour(FaceName::Back),
    }
}

/// All of a blank, with its loops and what of a mesh reaches beyond the face.
fn whole_view(
    piece: &Piece,
    component: &Component,
    layout: &Layout,
    workshop: &Workshop<'_>,
) -> PlateView {
    let outline = layout.outline_seen();
    let seen = match &layout.stock {
        Some(stock) => outline.union(&stock.silhouette),
        None => outline.clone(),
    };
    let bounds = seen.bounds().unwrap_or(layout.blank.rect);
    let whole = plate_view(piece, component, layout, outline.svg_path(), bounds);
    match layout.has_charts() {
        true => whole,
        false => PlateView { edge_lines: EdgeLines::of(&layout.blank.prisms, workshop), ..whole },
    }
}

/// The faces that are seen in a plan of their own.
fn chart_views(piece: &Piece, component: &Component, layout: &Layout) -> Vec<ChartView> {
    let charts = layout.faces.iter().filter(|face| !face.in_sections).map(|face| ChartView {
        name: face.name,
        plate: PlateView {
            frame: face.rect,
            guide: face.guide,
            thickness: face.thickness,
            ..plate_view(piece, component, layout, face.outline.svg_path(), face.rect)
        },
        clear: face.clear,
        lies: face.frame.into(),
        round: face.round.as_ref().map(RoundView::of),
    });
    charts.collect()
}

/// How deep and how high what stands on the bed is.
fn side_box(layout: &Layout) -> Option<[f64; 2]> {
    let of_profile = layout.profile.as_ref().map(|profile| profile.size());
    let size = of_profile.or(layout.stack.as_ref().map(|stack| stack.size));
    size.map(|[_, deep, high]| [deep, high])
}

/// The faces of what a component starts from, as people call them.
fn faces_of_blank(component: &Component) -> Vec<FaceView> {
    let title = |face: FaceName| match (&component.blank, face) {
        (Blank::BentBar(_), FaceName::Front) => "leaning face",
        (Blank::BentBar(_), FaceName::Back) => "its back",
        (Blank::BentBar(_), FaceName::Top) => "base",
        (Blank::Cap(_), FaceName::Under) => "inside of the top",
        (Blank::Cap(_), FaceName::Around) => "skirt, all round",
        (Blank::Plug(_), FaceName::Under) => "end of the shank",
        (Blank::Plug(_), FaceName::Around) => "collar, all round",
        (Blank::Ring(_), FaceName::Around) => "outside, all round",
        (Blank::Ring(_), FaceName::Inside) => "inside, all round",
        (Blank::Box(_), FaceName::Inside) => "floor inside",
        (Blank::Box(_), FaceName::Under) => "underside",
        (_, other) => other.word(),
    };
    let face = |face: &FaceName| FaceView {
        name: *face,
        title: title(*face),
        sides: component.blank.sides_of(*face),
    };
    component.blank.faces().iter().map(face).collect()
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
