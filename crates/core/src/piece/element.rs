use super::check::Checker;
use super::{
    Across, AcrossClear, Hole, HolePlace, Lettering, LetteringPlace, Offset, Piece, Relief, Up,
    UpClear,
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
    /// A round hole.
    Hole(Hole),
}

/// The kinds of element there are.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum ElementKind {
    /// One line of words.
    Lettering,
    /// A round hole.
    Hole,
}

impl ElementKind {
    /// The kind as it stands in ids and in the piece file.
    pub fn word(self) -> &'static str {
        match self {
            ElementKind::Lettering => "lettering",
            ElementKind::Hole => "hole",
        }
    }

    /// A new element of this kind, placed and sized so that it suits the piece as it is.
    pub(super) fn fresh(self, piece: &Piece) -> Element {
        let id = fresh_id(piece, self);
        let centred = Offset { from: Up::Centre, distance: Length::ZERO };
        match self {
            ElementKind::Hole => {
                // About 5 mm from the end, 5 mm across (common practice, no source); the second
                // hole goes to the other end.
                let is_left = |element: &Element| matches!(element, Element::Hole(hole) if hole.place.across.from == Across::Left);
                let taken = piece.component().elements.iter().any(is_left);
                let from = if taken { Across::Right } else { Across::Left };
                let plate = piece.component().plate();
                let diameter = (plate.largest_radius() * 0.8).min(5.0);
                let across = Offset { from, distance: Length::mm(rounded(diameter * 1.2)) };
                let place = HolePlace { across, up: centred };
                Element::Hole(Hole { id, diameter: Length::mm(rounded(diameter)), place })
            }
            ElementKind::Lettering => {
                let face = &TYPEFACES[0];
                let words = "NAME";
                let room = crate::build::clear_area(piece);
                let height = room.map_or(5.0, |room| {
                    let width = set(words, face, 10.0, Tolerance::Draft).advance / 10.0;
                    (room.height() * 0.6).min(room.width() / width).clamp(0.5, 400.0)
                });
                let place = LetteringPlace {
                    across: Offset { from: AcrossClear::Clear, distance: Length::ZERO },
                    up: Offset { from: UpClear::Centre, distance: Length::ZERO },
                };
                Element::Lettering(Lettering {
                    id,
                    words: words.to_owned(),
                    face: face.id.to_owned(),
                    letter_height: Length::mm(rounded(height)),
                    relief: Relief::Raised(Length::mm(1.5)),
                    place,
                })
            }
        }
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

impl Element {
    /// The element's id.
    pub fn id(&self) -> &str {
        match self {
            Element::Lettering(lettering) => &lettering.id,
            Element::Hole(hole) => &hole.id,
        }
    }

    /// How many letters it has to draw.
    pub(super) fn letters(&self) -> usize {
        match self {
            Element::Lettering(lettering) => lettering.words.chars().count(),
            Element::Hole(_) => 0,
        }
    }

    pub(super) fn set_id(&mut self, id: String) {
        match self {
            Element::Lettering(lettering) => lettering.id = id,
            Element::Hole(hole) => hole.id = id,
        }
    }

    /// What kind of element it is.
    pub fn kind(&self) -> ElementKind {
        match self {
            Element::Lettering(_) => ElementKind::Lettering,
            Element::Hole(_) => ElementKind::Hole,
        }
    }

    /// Moves it aside a little, so that a copy does not hide what it was copied from.
    pub(super) fn nudge(&mut self, mm: f64) {
        let (across, inwards) = match self {
            Element::Lettering(lettering) => {
                let across = &mut lettering.place.across;
                (&mut across.distance, across.from == AcrossClear::Right)
            }
            Element::Hole(hole) => {
                let across = &mut hole.place.across;
                (&mut across.distance, across.from == Across::Right)
            }
        };
        *across = Length::mm(across.as_mm() + if inwards { -mm } else { mm });
    }

    pub(super) fn check(&self, checker: &mut Checker) {
        match self {
            Element::Lettering(lettering) => lettering.check(checker),
            Element::Hole(hole) => hole.check(checker),
        }
    }
}
