use super::Prism;
use super::clear::{Round, clear_area};
use super::outline::{outline, place_loop};
use crate::emblems::{EMBLEMS, Setting, emblem};
use crate::lettering::{TYPEFACES, set, typeface};
use crate::piece::{
    BothEdges, Corner, Edge, Element, ElementKind, Emblem, Hole, HoleShape, Lettering,
    LetteringPlace, Loop, Outline, Piece, Recess, Relief, Repeat, Rim, Span,
};
use crate::plane::{Rect, Region, Tolerance, circle, largest_inner_rect, rounded_rectangle};
use crate::solid::Act;
use crate::units::Length;

/// A component with everything in its place. Coordinates in mm from the centre of the plate's
/// foot.
#[derive(Debug, Clone)]
pub struct Layout {
    /// How closely curves are followed.
    pub tolerance: Tolerance,
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
    /// Its extent without loops.
    pub rect: Rect,
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

/// An element in its place.
#[derive(Debug, Clone)]
pub struct Placed {
    /// The element's id.
    pub id: String,
    /// What it is.
    pub kind: ElementKind,
    /// Its full outline, not cut off where it runs over the edge.
    pub region: Region,
    /// The box it is placed by: the width of the letters drawn by the height of the capitals, or
    /// the box around the outline. Lettering with nothing to draw has a box without width.
    pub frame: Rect,
    /// Whether it adds or cuts.
    pub act: Act,
    /// Lower height in mm.
    pub bottom: f64,
    /// Upper height in mm. A cut is open above, but shown up to the face.
    pub top: f64,
    /// What it adds and takes away, in order.
    pub prisms: Vec<Prism>,
    /// The smallest size its edges had to be reduced to, if any had.
    pub reduced_edge: Option<f64>,
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
/// only corners, roundings and edges are reduced to what there is room for.
pub fn layout(piece: &Piece, tolerance: Tolerance) -> Layout {
    let component = piece.component();
    let plate = component.plate();
    let base = outline(plate, tolerance);
    let rect = Rect::centred(plate.width.as_mm(), plate.height.as_mm());
    let mut ground = Ground {
        tolerance,
        rect,
        thickness: plate.thickness.as_mm(),
        edges: plate.edges,
        clear: None,
        whole: base.clone(),
        base,
        fields: Vec::new(),
        rim: component.elements.iter().find_map(|element| match element {
            Element::Rim(rim) => Some(rim.height.as_mm()),
            _ => None,
        }),
    };
    ground.clear = find_clear_area(piece, &ground);

    let mut elements = Vec::with_capacity(component.elements.len());
    for element in &component.elements {
        let placed = match element {
            Element::Hole(hole) => ground.hole(hole),
            Element::Lettering(lettering) => ground.lettering(lettering),
            Element::Emblem(emblem) => ground.emblem(emblem),
            Element::Rim(rim) => ground.rim(rim),
            Element::Recess(recess) => ground.recess(recess),
            Element::Loop(ring) => ground.ring(ring),
        };
        elements.push(placed);
    }

    // A rim on the very edge takes the place of the plate's own upper edge, which would otherwise
    // leave a groove below it.
    let under_rim = component.elements.iter().any(|element| {
        matches!(element, Element::Rim(rim) if rim.inset.as_mm() < plate.edges.top.size())
    });
    let whole = Prism {
        bottom_edge: plate.edges.bottom,
        top_edge: if under_rim { Edge::Square } else { plate.edges.top },
        ..Prism::square(Act::Adds, ground.whole.clone(), 0.0, ground.thickness)
    };
    let (prisms, reduced_edge) = within_reach(whole, tolerance);
    let placed_plate = PlacedPlate {
        rect,
        thickness: ground.thickness,
        base: ground.base,
        outline: ground.whole,
        prisms,
        reduced_edge,
    };
    Layout { tolerance, plate: placed_plate, clear: ground.clear, elements }
}

/// What elements are placed on: the plate, and what those before them made of it.
struct Ground {
    tolerance: Tolerance,
    rect: Rect,
    thickness: f64,
    edges: BothEdges,
    clear: Option<Rect>,
    /// The plate's own outline.
    base: Region,
    /// The same with the loops so far.
    whole: Region,
    /// Sunk fields with the heights of their floors.
    fields: Vec<(Region, f64)>,
    /// Height of the rim above the face.
    rim: Option<f64>,
}

fn spans(rect: Rect) -> (Span, Span) {
    (Span { low: rect.x0, high: rect.x1 }, Span { low: rect.y0, high: rect.y1 })
}

impl Ground {
    /// Where a box comes to lie: the vector that moves it there.
    fn offset_of(&self, own: Rect, place: &LetteringPlace) -> (f64, f64) {
        let (plate_across, plate_up) = spans(self.rect);
        let (clear_across, clear_up) = spans(self.clear.unwrap_or(self.rect));
        let dx = place.across.resolve(own.width(), plate_across, clear_across) - own.x0;
        let dy = place.up.resolve(own.height(), plate_up, clear_up) - own.y0;
        (dx, dy)
    }

    /// The height of the ground at a point of the face: the face, or the floor of a field.
    fn height_at(&self, point: (f64, f64)) -> f64 {
        let field = self.fields.iter().rev().find(|(region, _)| region.contains(point));
        field.map_or(self.thickness, |(_, floor)| *floor)
    }

    /// A placed element from what every kind has.
    fn placed(
        &self,
        id: &str,
        kind: ElementKind,
        region: Region,
        frame: Rect,
        prisms: Vec<Prism>,
    ) -> Placed {
        let act = prisms.first().map_or(Act::Adds, |prism| prism.act);
        let bottom = prisms.iter().map(|prism| prism.bottom).fold(f64::INFINITY, f64::min);
        let top = prisms.iter().map(|prism| prism.top).fold(0.0, f64::max);
        let (bottom, top) =
            if prisms.is_empty() { (self.thickness, self.thickness) } else { (bottom, top) };
        let mut reduced_edge: Option<f64> = None;
        let prisms = prisms
            .into_iter()
            .flat_map(|prism| {
                let (parts, reduced) = within_reach(prism, self.tolerance);
                reduced_edge = reduced_edge.into_iter().chain(reduced).reduce(f64::min);
                parts
            })
            .collect();
        let top = if act == Act::Cuts { self.thickness } else { top };
        Placed {
            id: id.to_owned(),
            kind,
            region,
            frame,
            act,
            bottom,
            top,
            prisms,
            reduced_edge,
            drawn: Drawn::default(),
        }
    }

    /// The prisms of something in relief.
    fn relief(&self, region: &Region, frame: Rect, relief: Relief, edge: Edge) -> Vec<Prism> {
        let face = self.thickness;
        match relief {
            Relief::Raised(height) => {
                let ground = self.height_at(frame.centre());
                let prism =
                    Prism::square(Act::Adds, region.clone(), ground, ground + height.as_mm());
                vec![Prism { top_edge: edge, ..prism }]
            }
            Relief::LevelWithRim => {
                let ground = self.height_at(frame.centre());
                let top = face + self.rim.unwrap_or(1.0);
                let prism = Prism::square(Act::Adds, region.clone(), ground, top);
                vec![Prism { top_edge: edge, ..prism }]
            }
            Relief::Recessed(depth) => {
                let ground = self.height_at(frame.centre());
                let floor = (ground - depth.as_mm()).max(0.0);
                open_cut(region, floor, ground, BothEdges { top: edge, bottom: Edge::Square })
            }
            Relief::Through => open_cut(region, 0.0, face, BothEdges { top: edge, bottom: edge }),
        }
    }

    fn lettering(&self, lettering: &Lettering) -> Placed {
        let face = typeface(&lettering.face).unwrap_or(&TYPEFACES[0]);
        let height = lettering.letter_height.as_mm();
        let words = set(&lettering.words, face, height, self.tolerance);
        let own =
            words.placing_box(height).unwrap_or(Rect { x0: 0.0, y0: 0.0, x1: 0.0, y1: height });
        let (dx, dy) = self.offset_of(own, &lettering.place);
        let (region, frame) = (words.region.moved(dx, dy), own.moved(dx, dy));
        let prisms = self.relief(&region, frame, lettering.relief, lettering.edge);
        let placed = self.placed(&lettering.id, ElementKind::Lettering, region, frame, prisms);
        Placed { drawn: Drawn { glyphs: words.glyphs, missing: words.missing }, ..placed }
    }

    fn emblem(&self, element: &Emblem) -> Placed {
        let shape = emblem(&element.shape).unwrap_or(&EMBLEMS[0]);
        let setting = Setting {
            width: element.width.as_mm(),
            stretch: element.stretch,
            turn: element.turn,
            mirrored: element.mirrored,
        };
        let region = shape.set(setting, self.tolerance);
        let own = region.bounds().unwrap_or(Rect::centred(0.0, 0.0));
        let (dx, dy) = self.offset_of(own, &element.place);
        let (region, frame) = (repeated(region.moved(dx, dy), element.repeat), own.moved(dx, dy));
        let prisms = self.relief(&region, frame, element.relief, element.edge);
        self.placed(&element.id, ElementKind::Emblem, region, frame, prisms)
    }

    fn rim(&self, rim: &Rim) -> Placed {
        let (inset, width) = (rim.inset.as_mm(), rim.width.as_mm());
        let outer = self.base.offset(-inset, self.tolerance);
        let region = outer.difference(&self.base.offset(-inset - width, self.tolerance));
        let frame = region.bounds().unwrap_or(Rect::centred(0.0, 0.0));
        let prism = Prism::square(
            Act::Adds,
            region.clone(),
            self.thickness,
            self.thickness + rim.height.as_mm(),
        );
        let prisms = vec![Prism { top_edge: rim.edge, ..prism }];
        self.placed(&rim.id, ElementKind::Rim, region, frame, prisms)
    }

    fn recess(&mut self, recess: &Recess) -> Placed {
        let region = self.base.offset(-recess.inset.as_mm(), self.tolerance);
        let frame = region.bounds().unwrap_or(Rect::centred(0.0, 0.0));
        let floor = recess.depth.floor(self.thickness).clamp(0.0, self.thickness);
        let edges = BothEdges { top: recess.edge, bottom: Edge::Square };
        let prisms = open_cut(&region, floor, self.thickness, edges);
        self.fields.push((region.clone(), floor));
        self.placed(&recess.id, ElementKind::Recess, region, frame, prisms)
    }

    fn hole(&self, hole: &Hole) -> Placed {
        let (across, up) = spans(self.rect);
        let x = hole.place.across.resolve(0.0, across, across);
        let y = hole.place.up.resolve(0.0, up, up);
        let region = hole_region(hole, (x, y), self.tolerance);
        let diameter = hole.diameter.as_mm();
        let frame = region.bounds().unwrap_or(Rect::centred(diameter, diameter).moved(x, y));
        // The box stands about the point the hole is placed by.
        let (half_width, half_height) =
            ((x - frame.x0).max(frame.x1 - x), (y - frame.y0).max(frame.y1 - y));
        let frame = Rect::centred(2.0 * half_width, 2.0 * half_height).moved(x, y);
        let floor = hole.depth.map_or(0.0, |depth| (self.thickness - depth.as_mm()).max(0.0));
        let region = repeated(region, hole.repeat);
        let prisms = open_cut(&region, floor, self.thickness, hole.edges);
        self.placed(&hole.id, ElementKind::Hole, region, frame, prisms)
    }

    /// A loop becomes part of the plate; only its hole is a prism of its own.
    fn ring(&mut self, ring: &Loop) -> Placed {
        let placed = place_loop(ring, &self.base, self.tolerance);
        // The closing fills the hair-thin slits that flattening leaves where arcs run together.
        const SLIT_MM: f64 = 0.03;
        let blend = ring.blend.as_mm();
        let joined = self.whole.union(&placed.region).without_small_holes(blend * blend);
        self.whole = joined.offset(SLIT_MM, self.tolerance).offset(-SLIT_MM, self.tolerance);
        let region = placed.region.difference(&placed.hole);
        let size = ring.inside.as_mm() + 2.0 * ring.wall.as_mm();
        let frame = Rect::centred(size, size).moved(placed.centre.0, placed.centre.1);
        let prisms = open_cut(&placed.hole, 0.0, self.thickness, self.edges);
        let element = self.placed(&ring.id, ElementKind::Loop, region, frame, prisms);
        Placed { act: Act::Adds, ..element }
    }
}

/// A region with its copies.
fn repeated(region: Region, repeat: Repeat) -> Region {
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

/// A cut from a floor to the face, its edge at the face widened, and straight on above it through
/// whatever stands there.
fn open_cut(region: &Region, floor: f64, face: f64, edges: BothEdges) -> Vec<Prism> {
    let below = Prism {
        top_edge: edges.top,
        bottom_edge: if floor > 0.0 { Edge::Square } else { edges.bottom },
        ..Prism::square(Act::Cuts, region.clone(), floor, face)
    };
    vec![below, Prism::square(Act::Cuts, region.clone(), face, f64::INFINITY)]
}

fn hole_region(hole: &Hole, centre: (f64, f64), tolerance: Tolerance) -> Region {
    let diameter = hole.diameter.as_mm();
    let radius = diameter / 2.0;
    let upright = match hole.shape {
        HoleShape::Round => return circle(centre, radius, tolerance),
        HoleShape::Slot(length) => rounded_rectangle(
            Rect::centred(length.as_mm().max(diameter), diameter),
            radius,
            tolerance,
        ),
        HoleShape::Square => rounded_rectangle(Rect::centred(diameter, diameter), 0.0, tolerance),
        HoleShape::Hexagon => {
            let across_corners = diameter / (std::f64::consts::PI / 6.0).cos();
            let shape = emblem("hexagon").unwrap_or(&EMBLEMS[0]);
            let setting =
                Setting { width: across_corners, stretch: 1.0, turn: 0.0, mirrored: false };
            shape.set(setting, tolerance)
        }
        HoleShape::KeyHole => {
            let (half, top) = (radius / 2.0, radius + diameter);
            let slot = Rect { x0: -half, y0: 0.0, x1: half, y1: top };
            circle((0.0, 0.0), radius, tolerance).union(&rounded_rectangle(slot, half, tolerance))
        }
    };
    upright.turned(hole.turn).moved(centre.0, centre.1)
}

/// A prism whose edges are as large as they can be carried out: no higher than the prism and no
/// deeper than half its thinnest stroke. Parts that can take less get less, each on its own. Also
/// the smallest size that came of it, where any was reduced.
fn within_reach(prism: Prism, tolerance: Tolerance) -> (Vec<Prism>, Option<f64>) {
    let asked = prism.top_edge.size().max(prism.bottom_edge.size());
    if asked == 0.0 || prism.outline.is_empty() {
        return (vec![prism], None);
    }
    let height = prism.top - prism.bottom;
    let both = prism.top_edge.size() + prism.bottom_edge.size();
    // A hair of upright wall stays, so that no face is left without a wall beside it.
    let by_height = if both > height { asked * height / both } else { asked };
    let sign = if prism.act == Act::Adds { 1.0 } else { -1.0 };
    let whole = prism.outline.workable_inset(sign * by_height, tolerance).abs();
    if whole == by_height {
        let reduced = (by_height < asked).then_some(by_height);
        return (vec![resized(prism, by_height)], reduced);
    }
    let mut able = Vec::new();
    let mut others = Vec::new();
    let mut least = by_height;
    for part in prism.outline.parts() {
        let reach = part.workable_inset(sign * by_height, tolerance).abs();
        let reach = if sign < 0.0 { reach.min(whole) } else { reach };
        if reach == by_height {
            able.push(part);
        } else {
            let reach = reach * 0.96;
            least = least.min(reach);
            others.push(resized(Prism { outline: part, ..prism.clone() }, reach));
        }
    }
    if !able.is_empty() {
        others.push(resized(Prism { outline: Region::gather(able), ..prism }, by_height));
    }
    (others, Some(least))
}

/// The prism with its edges no larger than a size.
fn resized(prism: Prism, most: f64) -> Prism {
    let limit = |edge: Edge| match edge {
        _ if most < 0.005 => Edge::Square,
        Edge::Square => Edge::Square,
        Edge::Chamfer(size) => Edge::Chamfer(Length::mm(size.as_mm().min(most))),
        Edge::Round(size) => Edge::Round(Length::mm(size.as_mm().min(most))),
    };
    Prism { top_edge: limit(prism.top_edge), bottom_edge: limit(prism.bottom_edge), ..prism }
}

/// The clear area: of a rectangular plate with rounded corners exactly, of any other outline on a
/// lattice.
fn find_clear_area(piece: &Piece, ground: &Ground) -> Option<Rect> {
    let component = piece.component();
    let margin = component.margin.as_mm();
    // A rim narrows the face; what is left inside it has the margin.
    let rim = component.elements.iter().fold(0.0, |inner: f64, element| match element {
        Element::Rim(rim) => inner.max(rim.inset.as_mm() + rim.width.as_mm()),
        _ => inner,
    });
    let holes: Vec<(Placed, &Hole)> = component
        .elements
        .iter()
        .filter_map(|element| match element {
            Element::Hole(hole) => Some((ground.hole(hole), hole)),
            _ => None,
        })
        .collect();
    let corner_radius = match &component.plate().outline {
        Outline::Rectangle(corners) => {
            let most = component.plate().shorter_side() / 2.0;
            let radius = |corner: Corner| {
                matches!(corner, Corner::Round(_) | Corner::Square).then(|| corner.size().min(most))
            };
            let all = corners.named().map(|(_, corner)| radius(corner));
            all.into_iter().reduce(|a, b| Some(a?.max(b?))).flatten()
        }
        _ => None,
    };
    let is_round =
        |(_, hole): &(Placed, &Hole)| hole.shape == HoleShape::Round && hole.repeat == Repeat::Once;
    match corner_radius {
        Some(radius) if holes.iter().all(is_round) => {
            let rounds: Vec<Round> = holes
                .iter()
                .map(|(placed, hole)| Round {
                    centre: placed.frame.centre(),
                    radius: placed.frame.width() / 2.0 + hole.edges.top.size(),
                })
                .collect();
            let inner = ground.rect.grown(-rim);
            clear_area(inner, (radius - rim).max(0.0), &rounds, margin)
        }
        _ => {
            let inner = ground.base.offset(-rim - margin, Tolerance::Draft);
            let holes = holes.iter().fold(Region::default(), |all, (placed, hole)| {
                let room = margin + hole.edges.top.size();
                all.union(&placed.region.offset(room, Tolerance::Draft))
            });
            largest_inner_rect(&inner.difference(&holes))
        }
    }
}

impl Layout {
    /// The prisms of the component in the order of work: the plate, then the elements as they
    /// stand in the document, and last what is drilled: holes, through whatever is there.
    pub fn prisms(&self) -> impl Iterator<Item = &Prism> {
        let is_drilled =
            |placed: &&Placed| matches!(placed.kind, ElementKind::Hole | ElementKind::Loop);
        let work = self.elements.iter().filter(move |placed| !is_drilled(placed));
        let drilled = self.elements.iter().filter(is_drilled);
        self.plate.prisms.iter().chain(work.chain(drilled).flat_map(|placed| &placed.prisms))
    }

    /// The outline as it is seen from the face: with the loops, and with their holes open.
    pub fn outline_seen(&self) -> Region {
        let loops = self.elements.iter().filter(|placed| placed.kind == ElementKind::Loop);
        let holes = loops.filter_map(|placed| placed.prisms.first());
        holes.fold(self.plate.outline.clone(), |outline, hole| outline.difference(&hole.outline))
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

    /// The placed element of this id.
    pub fn element(&self, id: &str) -> Option<&Placed> {
        self.elements.iter().find(|placed| placed.id == id)
    }
}
