//! Bridges: what holds the inside of something cut through, and what stands on the bed without touching the rest.
//!
//! They are laid where everything else has its place: what other elements cut away holds nothing, and what earlier
//! ones hold already needs nothing more.

use super::ground::{Figure, Ground};
use crate::cache::{Kept, Stage};
use crate::lettering::Seat;
use crate::piece::{BridgeByHand, BridgeCount, BridgeRun, Bridges, Element, Height, Relief};
use crate::plane::{Held, Lay, Rect, Region, Room, Tie, Wish, strips, tie_at, ties};
use std::f64::consts::FRAC_PI_2;
use std::rc::Rc;
use std::sync::Arc;

/// The bridges of an element in its place, as it is seen from the front of sections, or from its own face.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Bridging {
    /// Those there are, those put by hand first.
    pub bridges: Vec<Bridge>,
    /// The strips, rooted in what they join.
    pub strips: Region,
    /// What they take of what is cut, or add to what stands.
    pub region: Region,
    /// Where its letters stand, or its shape lies.
    pub seats: Vec<Seat>,
    /// How hard the most slender of them is strained when a finger presses on what it holds; more than 1 breaks it.
    pub strain: f64,
    /// Which of those put by hand lie nowhere: their letter is not there, or no way from solid to solid.
    pub idle: Vec<usize>,
}

/// One bridge.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Bridge {
    /// The strip.
    pub tie: Tie,
    /// Which of those put by hand it is.
    pub by_hand: Option<usize>,
    /// Those of one number hold the same; those put by hand have none.
    pub holds: Option<usize>,
}

impl Kept for Bridging {
    fn bytes(&self) -> usize {
        self.region.bytes() + self.strips.bytes() + 64 * self.bridges.len() + 88 * self.seats.len()
    }
}

/// What a finger presses with, in N, and the stress a printed bridge stands, in N/mm²: half the strength of the
/// plastic, for layers (both common practice, no source).
const PRESSED_N: f64 = 5.0;
const STANDS_N_PER_MM2: f64 = 25.0;

/// How far from its root a bridge of a width and a height in mm can be pressed before it breaks, in mm: a
/// cantilever of rectangular section, σ = 6 F l / (b h²) (elementary theory of bending).
pub fn lever_of(width: f64, height: f64) -> f64 {
    STANDS_N_PER_MM2 * width * height * height / (6.0 * PRESSED_N)
}

impl Bridging {
    /// A bridge through a point in mm, in a direction in radians, as one that is put by hand: it goes with the seat
    /// that the point lies in, or is nearest to. Nothing where there is none.
    pub(crate) fn by_hand(&self, at: (f64, f64), direction: f64) -> Option<BridgeByHand> {
        let seat = nearest(&self.seats, at)?;
        let (across, up) = seat.shares(at);
        let (line, letter, is) = (seat.line, seat.letter, word_of(seat));
        let turn = seat.turn_of(direction);
        Some(BridgeByHand { line, letter, is, across, up, turn }.settled())
    }

    /// The letter that one of its bridges lies in; empty for a shape.
    pub fn letter_of(&self, bridge: &Bridge) -> String {
        nearest(&self.seats, bridge.tie.middle()).map(word_of).unwrap_or_default()
    }

    /// The foot of the first letter in its middle.
    pub(crate) fn first_foot(&self) -> Option<(f64, f64)> {
        self.seats.first().map(|seat| seat.point(0.5, 0.0))
    }

    /// As it is seen through the sections from the front, or from there as it is seen on its face.
    pub(crate) fn mirrored(&self) -> Self {
        let flip = |(x, y): (f64, f64)| (-x, y);
        let bridge = |bridge: &Bridge| {
            let [a, b] = bridge.tie.ends;
            Bridge { tie: Tie { ends: [flip(a), flip(b)], ..bridge.tie }, ..*bridge }
        };
        let by = kurbo::Affine::scale_non_uniform(-1.0, 1.0);
        Bridging {
            bridges: self.bridges.iter().map(bridge).collect(),
            strips: self.strips.mirrored(true),
            region: self.region.mirrored(true),
            seats: self.seats.iter().map(|seat| seat.then(by)).collect(),
            strain: self.strain,
            idle: self.idle.clone(),
        }
    }
}

/// What an element's bridges join, and where they can lie.
struct Span {
    solid: Region,
    room: SpanRoom,
    /// How thick what is joined is, in mm.
    height: f64,
}

enum SpanRoom {
    Within(Region),
    Off(Region),
}

impl SpanRoom {
    fn room(&self) -> Room<'_> {
        match self {
            SpanRoom::Within(region) => Room::Within(region),
            SpanRoom::Off(region) if region.is_empty() => Room::Anywhere,
            SpanRoom::Off(region) => Room::Off(region),
        }
    }

    fn region(&self) -> &Region {
        let (SpanRoom::Within(region) | SpanRoom::Off(region)) = self;
        region
    }

    /// As much of ties as lies where it can.
    fn cut(&self, ties: &Region) -> Region {
        match self {
            SpanRoom::Within(region) => ties.intersection(region),
            SpanRoom::Off(region) if region.is_empty() => ties.clone(),
            SpanRoom::Off(region) => ties.difference(region),
        }
    }
}

impl Ground<'_> {
    /// The bridges of an element that is cut through or stands on the bed, if it asks for any.
    pub fn bridging(&self, element: &Element) -> Option<Arc<Bridging>> {
        let bridges = element.bridges()?;
        if let Some(known) = self.known.bridging(&element.id) {
            return known;
        }
        let found = self.figure_of(element).and_then(|figure| {
            let span = self.span(element, &figure)?;
            let asked = serde_json::to_vec(bridges).expect("bridges have only string keys");
            let seats: Vec<_> = figure.seats.iter().map(seat_bits).collect();
            let is_within = matches!(span.room, SpanRoom::Within(_));
            let read = (asked, seats, is_within, span.height.to_bits());
            let key = self.workshop.cache.key(Stage::Ties, (&span.solid, span.room.region(), read));
            Some(
                self.workshop
                    .cache
                    .kept(key, || laid(bridges, &figure.seats, &figure.seats, &span)),
            )
        });
        self.known.keep_bridging(&element.id, found.clone());
        found
    }

    /// What there is to join, and where.
    fn span(&self, element: &Element, figure: &Figure) -> Option<Span> {
        let relief = element.relief()?;
        let cuts = self.cuts_but(element);
        match relief {
            Relief::Through => {
                let sheet = self.face.outline.difference(&cuts);
                let solid = sheet.difference(&figure.region);
                let room = SpanRoom::Within(figure.region.difference(&cuts));
                Some(Span { solid, room, height: self.face.thickness })
            }
            relief if relief.stands_on_the_bed() => {
                let standing = self.on_face().filter(|one| {
                    one.is_figure() && one.relief().is_some_and(Relief::stands_on_the_bed)
                });
                let standing = standing.filter_map(|one| {
                    let figure = self.figure_of(one)?;
                    let held = (one.id != element.id && self.is_before(one, element))
                        .then(|| self.bridging(one))
                        .flatten();
                    Some(match held {
                        Some(held) => figure.region.union(&held.strips),
                        None => figure.region.clone(),
                    })
                });
                let all = standing.fold(self.face.outline.clone(), |all, one| all.union(&one));
                let height = match relief {
                    Relief::Raised(Height::FromFoot(height)) => height.as_mm(),
                    _ => self.face.thickness,
                };
                Some(Span { solid: all.difference(&cuts), room: SpanRoom::Off(cuts), height })
            }
            _ => None,
        }
    }

    /// What other elements cut through this face; those before it less what their bridges hold.
    fn cuts_but(&self, element: &Element) -> Region {
        let holes = self.component.elements.iter().filter_map(|one| self.seen_hole(one));
        let holes = holes.filter(|seen| seen.hole.depth.is_none()).map(|seen| seen.region);
        let figures = self.component.elements.iter().filter_map(|one| {
            let is_here = one.face == self.face.name;
            let is_cut = one.is_figure() && one.relief() == Some(Relief::Through);
            if one.id == element.id || !is_cut || !(is_here || self.face.in_sections) {
                return None;
            }
            let figure: Rc<Figure> = self.figure_of(one)?;
            let held = (is_here && self.is_before(one, element)).then(|| self.bridging(one));
            let region = match held.flatten() {
                Some(held) => figure.region.difference(&held.strips),
                None => figure.region.clone(),
            };
            Some(if is_here { region } else { region.mirrored(true) })
        });
        holes.chain(figures).fold(Region::default(), |all, one| all.union(&one))
    }

    /// Whether an element comes before another in the list.
    fn is_before(&self, one: &Element, other: &Element) -> bool {
        let at =
            |element: &Element| self.component.elements.iter().position(|e| e.id == element.id);
        at(one) < at(other)
    }
}

/// The seat a point lies in, or is nearest to.
fn nearest(seats: &[Seat], at: (f64, f64)) -> Option<&Seat> {
    seats.iter().min_by(|a, b| a.distance_to(at).total_cmp(&b.distance_to(at)))
}

/// The character a seat is, as it stands in the file.
fn word_of(seat: &Seat) -> String {
    seat.is.map(String::from).unwrap_or_default()
}

fn seat_bits(seat: &Seat) -> ([u64; 6], [u64; 2], u32, u32, Option<char>) {
    let stand = seat.stand.as_coeffs().map(f64::to_bits);
    (stand, [seat.wide, seat.tall].map(f64::to_bits), seat.line, seat.letter, seat.is)
}

/// What holds the parts of a region together wherever there is room: what is put by hand goes with one seat, and the
/// rest lies as each part does. Nothing that is so held is asked whether it breaks.
pub(super) fn held_together(region: &Region, bridges: &Bridges, whole: Seat) -> Bridging {
    let span = Span {
        solid: region.clone(),
        room: SpanRoom::Off(Region::default()),
        height: f64::INFINITY,
    };
    laid(bridges, &[whole], &[], &span)
}

/// Lays bridges: first those put by hand, which go with seats, then what is needed beside them, each seen from the
/// nearest of those it is to be seen from.
fn laid(bridges: &Bridges, seats: &[Seat], seen_from: &[Seat], span: &Span) -> Bridging {
    let width = bridges.width.as_mm();
    let mut solid = span.solid.clone();
    let mut found: Vec<Bridge> = Vec::new();
    let mut idle = Vec::new();
    for (i, hand) in bridges.by_hand.iter().enumerate() {
        let is_its = |seat: &&Seat| {
            let is = word_of(seat);
            (seat.line, seat.letter, is.as_str()) == (hand.line, hand.letter, hand.is.as_str())
        };
        let laid = seats.iter().filter(is_its).filter_map(|seat| {
            let at = seat.point(hand.across, hand.up);
            tie_at(&span.solid, span.room.room(), at, seat.direction(hand.turn), width)
        });
        let laid: Vec<Bridge> =
            laid.map(|tie| Bridge { tie, by_hand: Some(i), holds: None }).collect();
        if laid.is_empty() {
            idle.push(i);
        }
        found.extend(laid);
    }
    if !found.is_empty() {
        let by_hand: Vec<Tie> = found.iter().map(|bridge| bridge.tie).collect();
        solid = solid.union(&strips(&by_hand));
    }
    let lay = |at: (f64, f64)| lay_of(seen_from, bridges.run, at);
    let height = bridges.height().map_or(span.height, |height| height.min(span.height));
    let wish = Wish {
        width,
        held: match bridges.each {
            BridgeCount::AsNeeded => Held::AsNeeded,
            BridgeCount::One => Held::Once,
            BridgeCount::Two => Held::Twice,
        },
        lever: lever_of(width, height),
        in_line: bridges.in_line && bridges.run != BridgeRun::Upright,
        lay: &lay,
    };
    let more = ties(&solid, span.room.room(), &wish);
    found.extend(more.into_iter().map(|laid| Bridge {
        tie: laid.tie,
        by_hand: None,
        holds: Some(laid.holds),
    }));
    let all: Vec<Tie> = found.iter().map(|bridge| bridge.tie).collect();
    let strips = strips(&all);
    let region = span.room.cut(&strips);
    let strain = strain(&span.solid, &all, lever_of(width, height));
    let seats = seats.to_vec();
    Bridging { bridges: found, strips, region, seats, strain, idle }
}

/// How hard ties are strained by a finger on the middle of what they hold, the hardest first; 1 is what they stand.
///
/// A part held by one tie is a cantilever as long as from its middle to the far end of the tie. One held by several
/// is a beam built in at both ends and pressed in its middle, M = F l / 8 (elementary theory of bending): as if its
/// lever were an eighth of its length.
fn strain(solid: &Region, ties: &[Tie], lever: f64) -> f64 {
    let mut parts: Vec<Region> = if ties.is_empty() { Vec::new() } else { solid.clumps() };
    parts.sort_by(|a, b| b.area().total_cmp(&a.area()));
    let distance = |(ax, ay): (f64, f64), (bx, by): (f64, f64)| (bx - ax).hypot(by - ay);
    let mut most: f64 = 0.0;
    for part in parts.iter().skip(1) {
        let Some(bounds) = part.bounds() else { continue };
        // The ends that lie beyond the part.
        let far: Vec<(f64, f64)> = ties
            .iter()
            .filter_map(|tie| {
                let is_in = |end: &(f64, f64)| {
                    let at = Rect { x0: end.0, y0: end.1, x1: end.0, y1: end.1 };
                    bounds.overlaps(&at) && part.contains(*end)
                };
                match [is_in(&tie.ends[0]), is_in(&tie.ends[1])] {
                    [true, false] => Some(tie.ends[1]),
                    [false, true] => Some(tie.ends[0]),
                    _ => None,
                }
            })
            .collect();
        let own = match &far[..] {
            [] => 0.0,
            [end] => distance(*end, bounds.centre()),
            ends => {
                let pairs = ends.iter().flat_map(|a| ends.iter().map(|b| distance(*a, *b)));
                pairs.fold(0.0, f64::max) / 8.0
            }
        };
        most = most.max(own / lever);
    }
    most
}

/// How a part lies: as the letter it is in or nearest to.
fn lay_of(seats: &[Seat], run: BridgeRun, at: (f64, f64)) -> Lay {
    match nearest(seats, at) {
        Some(seat) => Lay {
            origin: seat.point(0.0, 0.0),
            along: seat.direction(run.degrees()),
            row: seat.line as usize,
        },
        None => Lay { origin: at, along: FRAC_PI_2, row: 0 },
    }
}
