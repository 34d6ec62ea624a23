//! One face of the plate, and placing things on it.
//!
//! Everything is placed as it is seen from its face. What is on the back is placed on the mirrored
//! plate, face up, and turned over with it afterwards.

use super::clear::{Round, clear_area};
use super::loops::{PlacedLoop, place_loop, with_loop};
use super::outline::outline;
use super::reach::within_reach;
use super::words::own_words;
use super::{Drawn, Placed, Prism};
use crate::emblems::{EMBLEMS, Setting, emblem};
use crate::piece::{
    BothEdges, Corner, Edge, Element, ElementKind, Emblem, FieldShape, Height, Hole, HoleShape,
    Lettering, LetteringPlace, Loop, Outline, Piece, Recess, Relief, Repeat, Rim, Side, Span,
};
use crate::plane::{Rect, Region, Tolerance, circle, largest_inner_rect, rounded_rectangle};
use crate::solid::{Act, Colour};
use crate::units::Length;

/// What elements are placed on: a face of the plate, and what those before them made of it.
pub(super) struct Ground<'a> {
    piece: &'a Piece,
    side: Side,
    tolerance: Tolerance,
    /// The plate's extent.
    pub rect: Rect,
    /// What lettering and emblems are placed on: the plate, or for a contour blank, which follows
    /// them, the size that was given.
    pub guide: Rect,
    thickness: f64,
    edges: BothEdges,
    /// The clear area as it is seen from this face.
    pub clear: Option<Rect>,
    /// The plate's own outline as it is seen from this face.
    pub base: Region,
    /// Sunk fields with the heights of their floors.
    fields: Vec<(Region, f64)>,
    /// Height of the rim above the face.
    rim: Option<f64>,
}

impl<'a> Ground<'a> {
    /// A face of a plate whose outline seen from the front is `base`, nothing placed on it yet.
    pub fn new(piece: &'a Piece, side: Side, base: &Region, tolerance: Tolerance) -> Self {
        let component = piece.component();
        let [width, height, thickness] = component.face_size();
        let edges = component.plate().map(|plate| plate.edges).unwrap_or_default();
        let BothEdges { top, bottom } = edges;
        let rim = component.elements.iter().find_map(|element| match element {
            Element::Rim(Rim { side: its, relief: Relief::Raised(height), .. }) if *its == side => {
                match height {
                    Height::By(height) => Some(height.as_mm()),
                    Height::Fraction(share) => Some(share * thickness),
                    Height::FromFoot(height) => Some(height.as_mm() - thickness),
                    Height::LevelWithRim | Height::LevelWithFace => None,
                }
            }
            _ => None,
        });
        let guide = Rect::centred(width, height);
        let base = if side == Side::Front { base.clone() } else { base.mirrored(true) };
        let guide = match (side, component.mesh()) {
            (Side::Back, Some(_)) => base.bounds().unwrap_or(guide),
            _ => guide,
        };
        let rect = match component.outline() {
            Some(Outline::Contour(_)) => base.bounds().unwrap_or(guide),
            _ => guide,
        };
        let mut ground = Ground {
            piece,
            side,
            tolerance,
            rect,
            guide,
            thickness,
            edges: match side {
                Side::Front => edges,
                Side::Back => BothEdges { top: bottom, bottom: top },
            },
            clear: None,
            base,
            fields: Vec::new(),
            rim,
        };
        ground.clear = ground.find_clear_area();
        ground
    }

    /// An element in its place. A field changes the ground for what comes after it.
    pub fn place(&mut self, element: &Element) -> Placed {
        let placed = match element {
            Element::Lettering(Lettering { relief, edge, .. })
            | Element::Emblem(Emblem { relief, edge, .. }) => {
                self.in_relief(element, *relief, *edge)
            }
            Element::Hole(hole) => self.hole(hole),
            Element::Rim(rim) => self.rim(rim),
            Element::Recess(recess) => self.recess(recess),
            Element::Loop(ring) => self.ring(ring).0,
        };
        match self.side {
            Side::Front => placed,
            Side::Back => placed.turned_over(self.thickness),
        }
    }

    /// Where a box on a plate comes to lie: the vector that moves it there.
    fn offset_of(&self, own: Rect, plate: Rect, place: &LetteringPlace) -> (f64, f64) {
        let (plate_across, plate_up) = spans(plate);
        let (clear_across, clear_up) = spans(self.clear.unwrap_or(plate));
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
        colour: Option<&str>,
        prisms: Vec<Prism>,
    ) -> Placed {
        let colour = self.piece.filament_of(colour) as Colour;
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
        let (bottom, top) =
            if prisms.is_empty() { (self.thickness, self.thickness) } else { (bottom, top) };
        // A cut is open above, but shown up to what it starts from.
        let top = match (act, prisms.first()) {
            (Act::Cuts, Some(below)) => below.top,
            _ => top,
        };
        let mut reduced_edge: Option<f64> = None;
        let prisms = prisms
            .into_iter()
            .flat_map(|prism| {
                let (parts, reduced) = within_reach(prism.in_colour(colour), self.tolerance);
                reduced_edge = reduced_edge.into_iter().chain(reduced).reduce(f64::min);
                parts
            })
            .collect();
        Placed {
            id: id.to_owned(),
            kind,
            side: self.side,
            through: act == Act::Cuts && bottom <= 0.0,
            ground: if act == Act::Cuts { top } else { bottom },
            region,
            frame,
            act,
            bottom,
            top,
            prisms,
            reduced_edge,
            drawn: Drawn::default(),
            root,
            colour,
        }
    }

    /// The prisms of something in relief that stands on, or is sunk into, the ground.
    fn relief(&self, region: &Region, ground: f64, relief: Relief, edge: Edge) -> Vec<Prism> {
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
            Relief::Raised(Height::Fraction(share)) => raised(ground + share * self.thickness),
            Relief::Raised(Height::LevelWithRim) => {
                raised(self.thickness + self.rim.unwrap_or(1.0))
            }
            Relief::Raised(Height::LevelWithFace) => raised(self.thickness),
            Relief::Recessed(depth) => {
                let floor = depth.floor(ground).clamp(0.0, ground);
                open_cut(region, floor, ground, BothEdges { top: edge, bottom: Edge::Square })
            }
            Relief::Flush(depth) => {
                let floor = (ground - depth.as_mm()).max(0.0);
                vec![Prism::square(Act::Paints, region.clone(), floor, ground)]
            }
            Relief::Through => {
                open_cut(region, 0.0, self.thickness, BothEdges { top: edge, bottom: edge })
            }
        }
    }

    /// The outline of lettering or an emblem in its place, the box it is placed by, and what was
    /// drawn; `None` for any other element.
    pub fn figure(&self, element: &Element) -> Option<(Region, Rect, Drawn)> {
        let (region, own, place, repeat, drawn) = match element {
            Element::Lettering(lettering) => {
                let room = self.clear.unwrap_or(self.guide);
                let room = (room.width(), room.height());
                let words = own_words(self.piece, lettering, room, self.tolerance);
                let drawn = Drawn {
                    glyphs: words.set.glyphs,
                    missing: words.set.missing,
                    letter_height: words.letter_height,
                    span: words.set.span,
                };
                (words.set.region, words.frame, &lettering.place, lettering.repeat, drawn)
            }
            Element::Emblem(element) => {
                let shape = emblem(&element.shape).unwrap_or(&EMBLEMS[0]);
                let setting = Setting {
                    width: element.width.as_mm(),
                    stretch: element.stretch,
                    turn: element.turn,
                    mirrored: element.mirrored,
                };
                let region = shape.set(setting, self.tolerance);
                let own = region.bounds().unwrap_or(Rect::centred(0.0, 0.0));
                (region, own, &element.place, element.repeat, Drawn::default())
            }
            _ => return None,
        };
        let (dx, dy) = self.offset_of(own, self.guide, place);
        Some((repeated(region.moved(dx, dy), repeat), own.moved(dx, dy), drawn))
    }

    fn in_relief(&self, element: &Element, relief: Relief, edge: Edge) -> Placed {
        let nothing = || (Region::default(), Rect::centred(0.0, 0.0), Drawn::default());
        let (region, frame, drawn) = self.figure(element).unwrap_or_else(nothing);
        let ground = self.height_at(frame.centre());
        let root = match element {
            Element::Lettering(Lettering { root, .. }) | Element::Emblem(Emblem { root, .. }) => {
                *root
            }
            _ => Length::ZERO,
        };
        let mut prisms = self.relief(&region, ground, relief, edge);
        prisms.extend(rooted(&prisms, ground, root));
        let (id, kind, colour) = (element.id(), element.kind(), element.colour());
        let placed = self.placed(id, kind, region, frame, colour, prisms);
        Placed { drawn, ..placed }
    }

    fn rim(&self, rim: &Rim) -> Placed {
        let (inset, width) = (rim.inset.as_mm(), rim.width.as_mm());
        let outer = self.base.offset(-inset, self.tolerance);
        let region = outer.difference(&self.base.offset(-inset - width, self.tolerance));
        let frame = region.bounds().unwrap_or(Rect::centred(0.0, 0.0));
        let mut prisms = self.relief(&region, self.thickness, rim.relief, rim.edge);
        prisms.extend(rooted(&prisms, self.thickness, rim.root));
        self.placed(&rim.id, ElementKind::Rim, region, frame, rim.colour.as_deref(), prisms)
    }

    fn recess(&mut self, recess: &Recess) -> Placed {
        let (region, frame, ground) = match &recess.shape {
            FieldShape::Inset(inset) => {
                let region = self.base.offset(-inset.as_mm(), self.tolerance);
                let frame = region.bounds().unwrap_or(Rect::centred(0.0, 0.0));
                (region, frame, self.thickness)
            }
            FieldShape::Own(own) => {
                let size = (own.width.as_mm(), own.height.as_mm());
                let shape = outline(&own.outline, size, self.tolerance).turned(own.turn);
                let box_ = shape.bounds().unwrap_or(Rect::centred(size.0, size.1));
                let (dx, dy) = self.offset_of(box_, self.rect, &recess.place);
                let frame = box_.moved(dx, dy);
                let region = repeated(shape.moved(dx, dy), recess.repeat);
                (region, frame, self.height_at(frame.centre()))
            }
        };
        let floor = recess.depth.floor(ground).clamp(0.0, ground);
        let edges = BothEdges { top: recess.edge, bottom: Edge::Square };
        let mut prisms = open_cut(&region, floor, ground, edges);
        if let Some(inlay) = &recess.floor {
            let foot = (floor - inlay.depth.as_mm()).max(0.0);
            if foot < floor {
                prisms.push(Prism::square(Act::Paints, region.clone(), foot, floor));
            }
        }
        self.fields.push((region.clone(), floor));
        let colour = recess.floor.as_ref().map(|inlay| inlay.colour.as_str());
        self.placed(&recess.id, ElementKind::Recess, region, frame, colour, prisms)
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
        self.placed(&hole.id, ElementKind::Hole, region, frame, None, prisms)
    }

    /// A loop, and where it stands. As thick as the plate it becomes part of it, and only its hole
    /// is a prism of its own.
    pub fn ring(&self, ring: &Loop) -> (Placed, PlacedLoop) {
        let stand = place_loop(ring, &self.base, self.tolerance);
        let (width, height) = stand.size;
        let size = if ring.ribbon.is_some() { width.max(height) } else { width };
        let frame = Rect::centred(size, size).moved(stand.centre.0, stand.centre.1);
        let mut prisms = Vec::new();
        let (height, edges) = match ring.own {
            None => {
                if ring.colour.is_some() {
                    let beside = stand.region.difference(&self.base);
                    prisms.push(Prism::square(Act::Paints, beside, 0.0, self.thickness));
                }
                (self.thickness, self.edges)
            }
            Some(own) => {
                let edges = own.edges;
                // Where it meets the plate its own edges are buried in it.
                let root = edges.top.size().max(edges.bottom.size()) + 0.1;
                let joined = with_loop(&self.base, &stand.region, 0.0, self.tolerance);
                let rooted = stand.region.offset(root, self.tolerance).intersection(&joined);
                let body = Prism {
                    top_edge: edges.top,
                    bottom_edge: edges.bottom,
                    ..Prism::square(Act::Adds, rooted, 0.0, own.thickness.as_mm())
                };
                prisms.push(body);
                (own.thickness.as_mm(), edges)
            }
        };
        prisms.extend(open_cut(&stand.hole, 0.0, height, edges));
        let region = stand.region.difference(&stand.hole);
        let colour = ring.colour.as_deref();
        let element = self.placed(&ring.id, ElementKind::Loop, region, frame, colour, prisms);
        let own = Placed { act: Act::Adds, through: false, root: 0.0, ..element };
        let placed = Placed { bottom: 0.0, top: height, ..own };
        (placed, stand)
    }

    /// The clear area as it is seen from this face: of a rectangular plate with rounded corners
    /// exactly, of any other outline on a lattice. A contour blank has the size that was given.
    fn find_clear_area(&self) -> Option<Rect> {
        let component = self.piece.component();
        if matches!(component.outline(), Some(Outline::Contour(_))) {
            return Some(self.guide);
        }
        let margin = component.margin.as_mm();
        // A rim narrows the face; what is left inside it has the margin.
        let rim = component.elements.iter().fold(0.0, |inner: f64, element| match element {
            Element::Rim(rim) if rim.side == self.side => {
                inner.max(rim.inset.as_mm() + rim.width.as_mm())
            }
            _ => inner,
        });
        let holes: Vec<(Placed, &Hole)> = component
            .elements
            .iter()
            .filter_map(|element| match element {
                Element::Hole(hole) if hole.side == self.side => Some((self.hole(hole), hole)),
                Element::Hole(hole) if hole.depth.is_none() => {
                    Some((self.hole(hole).turned_over(self.thickness), hole))
                }
                _ => None,
            })
            .collect();
        let corner_radius = match component.outline() {
            Some(Outline::Rectangle(corners)) => {
                let most = component.shorter_side() / 2.0;
                let radius = |corner: Corner| {
                    matches!(corner, Corner::Round(_) | Corner::Square)
                        .then(|| corner.size().min(most))
                };
                let all = corners.named().map(|(_, corner)| radius(corner));
                all.into_iter().reduce(|a, b| Some(a?.max(b?))).flatten()
            }
            _ => None,
        };
        let is_round = |(_, hole): &(Placed, &Hole)| {
            hole.shape == HoleShape::Round && hole.repeat == Repeat::Once
        };
        let countersink = |hole: &Hole| {
            if hole.side == self.side { hole.edges.top.size() } else { hole.edges.bottom.size() }
        };
        match corner_radius {
            Some(radius) if holes.iter().all(is_round) => {
                let rounds: Vec<Round> = holes
                    .iter()
                    .map(|(placed, hole)| Round {
                        centre: placed.frame.centre(),
                        radius: placed.frame.width() / 2.0 + countersink(hole),
                    })
                    .collect();
                let inner = self.rect.grown(-rim);
                clear_area(inner, (radius - rim).max(0.0), &rounds, margin)
            }
            _ => {
                let inner = self.base.offset(-rim - margin, Tolerance::Draft);
                let holes = holes.iter().fold(Region::default(), |all, (placed, hole)| {
                    let room = margin + countersink(hole);
                    all.union(&placed.region.offset(room, Tolerance::Draft))
                });
                largest_inner_rect(&inner.difference(&holes))
            }
        }
    }
}

fn spans(rect: Rect) -> (Span, Span) {
    (Span { low: rect.x0, high: rect.x1 }, Span { low: rect.y0, high: rect.y1 })
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

/// What roots something that stands up in what it stands on.
fn rooted(prisms: &[Prism], ground: f64, root: Length) -> Option<Prism> {
    let stands = prisms.first().filter(|prism| prism.act == Act::Adds && root > Length::ZERO)?;
    let foot = (ground - root.as_mm()).max(0.0);
    (foot < stands.bottom)
        .then(|| Prism::square(Act::Paints, stands.outline.clone(), foot, stands.bottom))
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
