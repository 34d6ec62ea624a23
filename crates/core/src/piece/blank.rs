//! Blanks: what components start from.

use super::check::Checker;
use super::{
    BentBar, Block, BoxBlank, Cap, FaceName, Fits, Grip, GripBand, Lying, MeshBlank, Plate, Plug,
    RingBlank, Tent,
};
use crate::units::Unit;
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// The fields of a blank that one of its faces is as wide and as high as.
pub type Sides = [Option<&'static str>; 2];

/// The solid a component starts from.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum Blank {
    /// A flat plate.
    Plate(Plate),
    /// A block that stands on the bed.
    Block(Block),
    /// A flat bar bent once.
    BentBar(BentBar),
    /// A folded card or a wedge.
    Tent(Tent),
    /// A cap over a pipe.
    Cap(Cap),
    /// A plug into a bore.
    Plug(Plug),
    /// A ring round a finger or a pipe.
    Ring(RingBlank),
    /// A box that is open above.
    Box(BoxBlank),
    /// A mesh of another program.
    Mesh(MeshBlank),
}

/// The blanks that can be made from nothing.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum BlankKind {
    /// A flat plate.
    #[default]
    Plate,
    /// A block that stands on the bed.
    Block,
    /// A flat bar bent once.
    BentBar,
    /// A folded card or a wedge.
    Tent,
    /// A cap over a pipe.
    Cap,
    /// A plug into a bore.
    Plug,
    /// A ring round a finger or a pipe.
    Ring,
    /// A box that is open above.
    Box,
}

impl BlankKind {
    /// All of them, in the order they are offered.
    pub const ALL: [BlankKind; 8] = [
        BlankKind::Plate,
        BlankKind::Block,
        BlankKind::BentBar,
        BlankKind::Tent,
        BlankKind::Cap,
        BlankKind::Plug,
        BlankKind::Ring,
        BlankKind::Box,
    ];

    /// How one with nothing on it is best printed: a cap with its opening up, a plug on its collar.
    pub fn lies(self) -> Lying {
        match self {
            BlankKind::Cap | BlankKind::Plug => Lying::OnTop,
            _ => Lying::AsMade,
        }
    }

    /// One of customary sizes.
    pub fn customary(self, units: Unit) -> Blank {
        match self {
            BlankKind::Plate => Blank::Plate(Plate::customary(units)),
            BlankKind::Block => Blank::Block(Block::customary(units)),
            BlankKind::BentBar => Blank::BentBar(BentBar::customary(units)),
            BlankKind::Tent => Blank::Tent(Tent::customary(units)),
            BlankKind::Cap => Blank::Cap(Cap::customary(units)),
            BlankKind::Plug => Blank::Plug(Plug::customary(units)),
            BlankKind::Ring => Blank::Ring(RingBlank::customary(units)),
            BlankKind::Box => Blank::Box(BoxBlank::customary(units)),
        }
    }
}

impl Blank {
    /// Its kind as it stands in the file: "plate", "bent-bar".
    pub fn word(&self) -> &'static str {
        match self {
            Blank::Plate(_) => "plate",
            Blank::Block(_) => "block",
            Blank::BentBar(_) => "bent-bar",
            Blank::Tent(_) => "tent",
            Blank::Cap(_) => "cap",
            Blank::Plug(_) => "plug",
            Blank::Ring(_) => "ring",
            Blank::Box(_) => "box",
            Blank::Mesh(_) => "mesh",
        }
    }

    /// What it is called in a sentence.
    pub fn noun(&self) -> &'static str {
        match self {
            Blank::BentBar(_) => "bar",
            other => other.word(),
        }
    }

    /// What it is called by itself.
    pub fn title(&self) -> &'static str {
        match self {
            Blank::Plate(_) => "Plate",
            Blank::Block(_) => "Block",
            Blank::BentBar(_) => "Bent bar",
            Blank::Tent(_) => "Tent",
            Blank::Cap(_) => "Cap",
            Blank::Plug(_) => "Plug",
            Blank::Ring(_) => "Ring",
            Blank::Box(_) => "Box",
            Blank::Mesh(_) => "Mesh",
        }
    }

    /// Its faces, the main one first.
    pub fn faces(&self) -> &'static [FaceName] {
        match self {
            Blank::Plate(_) | Blank::Mesh(_) => &[FaceName::Front, FaceName::Back],
            Blank::Block(_) => Block::FACES,
            Blank::BentBar(_) => BentBar::FACES,
            Blank::Tent(_) => Tent::FACES,
            Blank::Cap(cap) => with_grip(Cap::FACES, cap.grip, cap.grip_band),
            Blank::Plug(plug) => with_grip(Plug::FACES, plug.grip, plug.grip_band),
            Blank::Ring(_) => RingBlank::FACES,
            Blank::Box(_) => BoxBlank::FACES,
        }
    }

    /// The fields that a face is as wide and as high as, as it is seen, or that it grows with by as much; nothing
    /// for a side that follows from others.
    pub fn sides_of(&self, face: FaceName) -> Sides {
        match self {
            Blank::Plate(plate) => plate.sides(),
            Blank::Block(_) => Block::sides_of(face),
            Blank::BentBar(_) => BentBar::sides_of(face),
            Blank::Tent(_) => Tent::sides_of(face),
            Blank::Cap(_) => Cap::sides_of(face),
            Blank::Plug(_) => Plug::sides_of(face),
            Blank::Ring(_) => RingBlank::SIDES,
            Blank::Box(_) => BoxBlank::sides_of(face),
            Blank::Mesh(_) => [None, None],
        }
    }

    /// That it does not have a face, and which it has.
    pub(super) fn no_such_face(&self, face: FaceName) -> String {
        if face == FaceName::Around && matches!(self, Blank::Cap(_) | Blank::Plug(_)) {
            let message =
                "Things go round a plain outside only: keep the grip to a band below them.";
            return message.to_owned();
        }
        let has: Vec<&str> = self.faces().iter().map(|face| face.word()).collect();
        format!("A {} has no {}; its faces are {}.", self.noun(), face.word(), has.join(", "))
    }

    /// How much material a slot can go into, in mm: the height of a block, the thickness of all else that
    /// is massive; 0 where none can.
    pub(crate) fn room_for_slot(&self) -> f64 {
        match self {
            Blank::Plate(plate) => plate.thickness.as_mm(),
            Blank::Block(block) => block.height.as_mm(),
            Blank::BentBar(bar) => bar.thickness.as_mm(),
            Blank::Tent(tent) => tent.thickness.unwrap_or(tent.front).as_mm(),
            Blank::Cap(_) | Blank::Plug(_) | Blank::Ring(_) | Blank::Box(_) | Blank::Mesh(_) => 0.0,
        }
    }

    /// Its colour, the id of one of the piece's filaments.
    pub fn colour(&self) -> &str {
        match self {
            Blank::Plate(plate) => &plate.colour,
            Blank::Block(block) => &block.colour,
            Blank::BentBar(bar) => &bar.colour,
            Blank::Tent(tent) => &tent.colour,
            Blank::Cap(cap) => &cap.colour,
            Blank::Plug(plug) => &plug.colour,
            Blank::Ring(ring) => &ring.colour,
            Blank::Box(inner) => &inner.colour,
            Blank::Mesh(mesh) => &mesh.colour,
        }
    }

    /// The same, to be changed.
    pub(crate) fn colour_mut(&mut self) -> &mut String {
        match self {
            Blank::Plate(plate) => &mut plate.colour,
            Blank::Block(block) => &mut block.colour,
            Blank::BentBar(bar) => &mut bar.colour,
            Blank::Tent(tent) => &mut tent.colour,
            Blank::Cap(cap) => &mut cap.colour,
            Blank::Plug(plug) => &mut plug.colour,
            Blank::Ring(ring) => &mut ring.colour,
            Blank::Box(inner) => &mut inner.colour,
            Blank::Mesh(mesh) => &mut mesh.colour,
        }
    }

    /// The colours it names, with the fields that name them.
    pub(crate) fn colours(&self) -> Vec<(String, &str)> {
        match self {
            Blank::Plate(plate) => plate.colours(),
            other => vec![("colour".to_owned(), other.colour())],
        }
    }

    /// Its main sizes, for a short form: fields and what they are called.
    pub(crate) fn main_fields(&self) -> &'static [(&'static str, &'static str)] {
        match self {
            Blank::Plate(_) => {
                &[("width", "Width"), ("height", "Height"), ("thickness", "Thickness")]
            }
            Blank::Block(_) => &[("width", "Width"), ("depth", "Depth"), ("height", "Height")],
            Blank::BentBar(_) => &[("length", "Length"), ("base", "Base"), ("upright", "Upright")],
            Blank::Tent(_) => &[("length", "Length"), ("front", "Front leg"), ("back", "Back leg")],
            Blank::Cap(_) => &[("over", "The pipe across"), ("skirt", "Skirt"), ("wall", "Wall")],
            Blank::Plug(_) => {
                &[("into", "The bore across"), ("shank", "Shank"), ("collar", "Collar")]
            }
            Blank::Ring(_) => {
                &[("over", "Finger or pipe across"), ("height", "Width"), ("wall", "Thickness")]
            }
            Blank::Box(_) => {
                &[("width", "Width inside"), ("depth", "Depth inside"), ("height", "Height inside")]
            }
            Blank::Mesh(_) => &[],
        }
    }

    /// Reports what it cannot be at all.
    pub(super) fn check(&self, fits: &Fits, checker: &mut Checker) {
        match self {
            Blank::Plate(plate) => plate.check(checker),
            Blank::Block(block) => block.check(checker),
            Blank::BentBar(bar) => bar.check(checker),
            Blank::Tent(tent) => tent.check(checker),
            Blank::Cap(cap) => cap.check(fits, checker),
            Blank::Plug(plug) => plug.check(fits, checker),
            Blank::Ring(ring) => ring.check(checker),
            Blank::Box(inner) => inner.check(checker),
            Blank::Mesh(mesh) => mesh.check(checker),
        }
    }
}

/// The faces of something round: where a grip goes all the way up, the last, its outside, has no room.
fn with_grip(
    faces: &'static [FaceName],
    grip: Grip,
    band: Option<GripBand>,
) -> &'static [FaceName] {
    if grip == Grip::Plain || band.is_some() { faces } else { &faces[..faces.len() - 1] }
}
