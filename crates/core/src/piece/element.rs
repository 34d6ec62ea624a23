use super::check::Checker;
use super::{
    Across, AcrossClear, Blank, BothEdges, Depth, Edge, Emblem, FieldShape, Height, Hole,
    HolePlace, HoleShape, Lettering, LetteringPlace, Loop, LoopPlace, Offset, Outline, Piece,
    Recess, Relief, Repeat, Rim, Side, Up, UpClear,
};
use crate::lettering::{TYPEFACES, set};
use crate::plane::Tolerance;
use crate::units::Length;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// Anything added to a blank.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum Element {
    /// One line of words.
    Lettering(Lettering),
    /// A drawn shape.
    Emblem(Emblem),
    /// A raised band along the outline.
    Rim(Rim),
    /// A sunk field.
    Recess(Recess),
    /// A hole.
    Hole(Hole),
    /// A ring outside the outline.
    Loop(Loop),
}

/// The kinds of element there are.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Hash, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum ElementKind {
    /// One line of words.
    Lettering,
    /// A drawn shape.
    Emblem,
    /// A raised band along the outline.
    Rim,
    /// A sunk field.
    Recess,
    /// A hole.
    Hole,
    /// A ring outside the outline.
    Loop,
}

impl ElementKind {
    /// The kind as it stands in ids and in the piece file.
    pub fn word(self) -> &'static str {
        match self {
            ElementKind::Lettering => "lettering",
            ElementKind::Emblem => "emblem",
            ElementKind::Rim => "rim",
            ElementKind::Recess => "recess",
            ElementKind::Hole => "hole",
            ElementKind::Loop => "loop",
        }
    }

    /// A new element of this kind, placed and sized so that it suits the piece as it is.
    /// Sizes are customary ones (common practice, no source).
    pub(super) fn fresh(self, piece: &Piece, side: Side) -> Element {
        let id = fresh_id(piece, self);
        let component = piece.component();
        let half = component.shorter_side() / 2.0;
        let [_, _, thickness] = component.face_size();
        match self {
            ElementKind::Hole => Element::Hole(fresh_hole(id, piece, side)),
            ElementKind::Lettering => Element::Lettering(fresh_lettering(id, piece, side)),
            ElementKind::Emblem => {
                // The opening of a ring is what an emblem is put into; it then spans it.
                let opening = match component.outline() {
                    Some(Outline::Ring(ring)) => Some(ring.inside.as_mm().min(2.0 * half) * 1.04),
                    _ => None,
                };
                let room = crate::build::clear_area(piece, side);
                let in_clear = room.map_or(5.0, |room| room.height().min(room.width()) * 0.7);
                let width = opening.unwrap_or(in_clear).clamp(0.5, 480.0);
                Element::Emblem(Emblem {
                    id,
                    locked: false,
                    side,
                    shape: "star".to_owned(),
                    width: Length::mm(rounded(width)),
                    stretch: 1.0,
                    turn: 0.0,
                    mirrored: false,
                    relief: match opening {
                        Some(_) => Relief::Raised(Height::FromFoot(Length::mm(thickness))),
                        None => side.customary(1.0, thickness),
                    },
                    colour: None,
                    root: Length::ZERO,
                    edge: Edge::Square,
                    place: if opening.is_some() { in_the_middle() } else { in_clear_area() },
                    repeat: Repeat::Once,
                })
            }
            ElementKind::Rim => Element::Rim(Rim {
                id,
                locked: false,
                side,
                inset: Length::ZERO,
                width: Length::mm(rounded((half * 0.3).min(2.0))),
                relief: side.customary(1.0, thickness),
                colour: None,
                root: Length::ZERO,
                edge: Edge::Square,
            }),
            ElementKind::Recess => Element::Recess(Recess {
                id,
                locked: false,
                side,
                shape: FieldShape::Inset(Length::mm(rounded((half * 0.3).min(2.0)))),
                // Half of a plate; a mesh may be as tall as it likes.
                depth: match component.blank {
                    Blank::Plate(_) => Depth::Fraction(0.5),
                    Blank::Mesh(_) => Depth::By(Length::mm(1.0)),
                },
                floor: None,
                edge: Edge::Square,
                place: in_clear_area(),
                repeat: Repeat::Once,
            }),
            ElementKind::Loop => Element::Loop(Loop {
                id,
                locked: false,
                at: LoopPlace::Angle(180.0),
                inside: Length::mm(8.0),
                ribbon: None,
                wall: Length::mm(2.0),
                blend: Length::mm(3.0),
                own: None,
                colour: None,
            }),
        }
    }
}

fn fresh_hole(id: String, piece: &Piece, side: Side) -> Hole {
    // About 5 mm across and its centre about 5 mm from the end; the second goes to the other end.
    let is_left = |element: &Element| matches!(element, Element::Hole(hole) if hole.place.across.from == Across::Left);
    let taken = piece.component().elements.iter().any(is_left);
    let from = if taken { Across::Right } else { Across::Left };
    let diameter = (piece.component().shorter_side() * 0.4).min(5.0);
    Hole {
        id,
        locked: false,
        side,
        shape: HoleShape::Round,
        diameter: Length::mm(rounded(diameter)),
        turn: 0.0,
        depth: None,
        edges: BothEdges::default(),
        place: HolePlace {
            across: Offset { from, distance: Length::mm(rounded(diameter * 1.2)) },
            up: Offset { from: Up::Centre, distance: Length::ZERO },
        },
        repeat: Repeat::Once,
    }
}

fn fresh_lettering(id: String, piece: &Piece, side: Side) -> Lettering {
    let (face, words) = (&TYPEFACES[0], "NAME");
    let height = crate::build::clear_area(piece, side).map_or(5.0, |room| {
        let width = set(words, face, 10.0, Tolerance::Draft).advance / 10.0;
        (room.height() * 0.6).min(room.width() / width).clamp(0.5, 400.0)
    });
    let [_, _, thickness] = piece.component().face_size();
    let relief = side.customary(1.5, thickness);
    let lettering = Lettering::one_line(words, &face.id, Length::mm(rounded(height)));
    Lettering { id, side, relief, ..lettering }
}

fn in_the_middle() -> LetteringPlace {
    LetteringPlace {
        across: Offset { from: AcrossClear::Centre, distance: Length::ZERO },
        up: Offset { from: UpClear::Centre, distance: Length::ZERO },
    }
}

fn in_clear_area() -> LetteringPlace {
    LetteringPlace {
        across: Offset { from: AcrossClear::Clear, distance: Length::ZERO },
        up: Offset { from: UpClear::Clear, distance: Length::ZERO },
    }
}

/// A size a person would have typed: to a tenth of a millimetre, downwards.
fn rounded(mm: f64) -> f64 {
    ((mm * 10.0).floor() / 10.0).max(0.5)
}

/// "hole-2": the kind and the first number not taken.
pub(super) fn fresh_id(piece: &Piece, kind: ElementKind) -> String {
    (1..)
        .map(|number| format!("{}-{number}", kind.word()))
        .find(|id| piece.element(id).is_none())
        .unwrap_or_default()
}

/// The same done to whatever kind of element it is.
macro_rules! each {
    ($element:expr, $inner:ident => $does:expr) => {
        match $element {
            Element::Lettering($inner) => $does,
            Element::Emblem($inner) => $does,
            Element::Rim($inner) => $does,
            Element::Recess($inner) => $does,
            Element::Hole($inner) => $does,
            Element::Loop($inner) => $does,
        }
    };
}

impl Element {
    /// The element's id.
    pub fn id(&self) -> &str {
        each!(self, inner => &inner.id)
    }

    /// Which face it is on; loops stand beside both and count as front.
    pub fn side(&self) -> Side {
        match self {
            Element::Lettering(Lettering { side, .. })
            | Element::Emblem(Emblem { side, .. })
            | Element::Rim(Rim { side, .. })
            | Element::Recess(Recess { side, .. })
            | Element::Hole(Hole { side, .. }) => *side,
            Element::Loop(_) => Side::Front,
        }
    }

    /// How it meets its face, for what can do so in several ways.
    pub fn relief(&self) -> Option<Relief> {
        match self {
            Element::Lettering(Lettering { relief, .. })
            | Element::Emblem(Emblem { relief, .. })
            | Element::Rim(Rim { relief, .. }) => Some(*relief),
            Element::Recess(recess) => Some(Relief::Recessed(recess.depth)),
            Element::Hole(_) | Element::Loop(_) => None,
        }
    }

    /// The colour it has of its own, if any.
    pub fn colour(&self) -> Option<&str> {
        match self {
            Element::Lettering(Lettering { colour, .. })
            | Element::Emblem(Emblem { colour, .. })
            | Element::Rim(Rim { colour, .. })
            | Element::Loop(Loop { colour, .. }) => colour.as_deref(),
            Element::Recess(recess) => recess.floor.as_ref().map(|floor| floor.colour.as_str()),
            Element::Hole(_) => None,
        }
    }

    /// Gives it the colour of the plate.
    pub(super) fn lose_colour(&mut self) {
        match self {
            Element::Lettering(Lettering { colour, .. })
            | Element::Emblem(Emblem { colour, .. })
            | Element::Rim(Rim { colour, .. })
            | Element::Loop(Loop { colour, .. }) => *colour = None,
            Element::Recess(recess) => recess.floor = None,
            Element::Hole(_) => {}
        }
    }

    /// The colours it names, with the fields that name them.
    pub(super) fn colours(&self) -> Option<(&'static str, &str)> {
        let field = if matches!(self, Element::Recess(_)) { "floor.colour" } else { "colour" };
        self.colour().map(|colour| (field, colour))
    }

    /// How many letters it has to draw.
    pub(super) fn letters(&self) -> usize {
        match self {
            Element::Lettering(lettering) => {
                let letters: usize =
                    lettering.lines.iter().map(|line| line.words.chars().count()).sum();
                letters * lettering.repeat.count() as usize
            }
            _ => 0,
        }
    }

    pub(super) fn set_id(&mut self, id: String) {
        each!(self, inner => inner.id = id);
    }

    /// What kind of element it is.
    pub fn kind(&self) -> ElementKind {
        match self {
            Element::Lettering(_) => ElementKind::Lettering,
            Element::Emblem(_) => ElementKind::Emblem,
            Element::Rim(_) => ElementKind::Rim,
            Element::Recess(_) => ElementKind::Recess,
            Element::Hole(_) => ElementKind::Hole,
            Element::Loop(_) => ElementKind::Loop,
        }
    }

    /// Moves it aside a little, so that a copy does not hide what it was copied from.
    pub(super) fn nudge(&mut self, mm: f64) {
        let (distance, inwards) = match self {
            Element::Rim(Rim { inset, .. })
            | Element::Recess(Recess { shape: FieldShape::Inset(inset), .. }) => (inset, false),
            Element::Loop(Loop { at: LoopPlace::Angle(angle), .. }) => {
                *angle += 30.0;
                return;
            }
            Element::Lettering(Lettering { place, .. })
            | Element::Emblem(Emblem { place, .. })
            | Element::Recess(Recess { place, .. }) => {
                (&mut place.across.distance, place.across.from == AcrossClear::Right)
            }
            Element::Hole(Hole { place, .. })
            | Element::Loop(Loop { at: LoopPlace::Point(place), .. }) => {
                (&mut place.across.distance, place.across.from == Across::Right)
            }
        };
        *distance = Length::mm(distance.as_mm() + if inwards { -mm } else { mm });
    }

    pub(super) fn check(&self, checker: &mut Checker) {
        each!(self, inner => inner.check(checker));
    }
}
