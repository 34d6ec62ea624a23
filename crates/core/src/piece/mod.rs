//! The document: one thing to make.
//!
//! A [`Piece`] holds sizes and relations, never coordinates: an element hangs from an edge, from
//! the centre or in the clear area, so that a changed size carries it along. Pieces are stored as
//! versioned JSON ([`read()`], [`write()`]) whose description is generated from these types
//! ([`format_description`]), and changed by small [`Edit`]s.

mod check;
mod describe;
mod edge;
mod edit;
mod element;
mod emblem;
mod form;
mod hole;
mod inlay;
mod input;
mod layering;
mod lettering;
mod outline;
mod place;
mod plate;
mod read;
mod recess;
mod relief;
mod repeat;
mod rim;
mod ring_loop;
mod side;
mod upgrade;

pub(crate) use check::Checker;
pub use check::Problem;
pub use describe::format_description;
pub use edge::{BothEdges, Edge};
pub use edit::{Applied, Edit, EditError, apply};
pub use element::{Element, ElementKind};
pub use emblem::Emblem;
pub use form::{FieldKind, FormField};
pub use hole::{Hole, HoleShape};
pub use inlay::Inlay;
pub use input::{Fronted, Input};
pub use layering::Layering;
pub use lettering::{CircleCourse, Course, LetterBox, LetterSize, Lettering, SitsBy, TextLine};
pub use outline::{Contour, Corner, Corners, Outline, Polygon, Ring, Scallop, Star, Tag};
pub(crate) use place::Span;
pub use place::{
    Across, AcrossClear, Datum, FromDatum, HolePlace, LetteringPlace, Offset, Up, UpClear,
};
pub use plate::{Faces, Plate};
pub use read::{MAX_FILE_BYTES, ReadError, read, write};
pub use recess::{FieldShape, OwnShape, Recess};
pub use relief::{Depth, Height, Relief};
pub use repeat::{Repeat, Row};
pub use rim::Rim;
pub use ring_loop::{Loop, LoopPlace, OwnThickness};
pub use side::Side;

use crate::colour::{Filament, shipped_palette};
use crate::units::{Length, Unit};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// The version of the piece format this program writes.
///
/// 1: a rectangular plate, lettering, round holes. 2: outlines, edges, rims, recesses, loops,
/// emblems, shaped and blind holes. 3: elements on the back, locks, reliefs by share and flush,
/// grooves, recesses with a shape of their own, loops at a point, with a thickness of their own and
/// for ribbons; lettering in lines, along circles, in boxes and in styles; inputs. 4: filaments, a
/// colour for everything that adds, roots, faces and floors of another colour.
pub const FORMAT_VERSION: u32 = 4;

/// The pattern of file names a new piece has.
pub const PLAIN_FILE_NAME: &str = "{piece}";

/// The most filaments a piece can have.
const MOST_FILAMENTS: usize = 16;

/// One thing to make.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Piece {
    /// Version of this format: 4. Files of earlier versions are brought up to it when they are read.
    pub kalotype: u32,
    /// What the piece is called; file names follow from it.
    pub name: String,
    /// The unit sizes are shown in. The file itself always holds millimetres.
    pub units: Unit,
    /// Texts that lettering takes the place of `{name}` from, at most 20.
    pub inputs: Vec<Input>,
    /// The fields a short form asks for, in order, at most 20.
    pub fronted: Vec<Fronted>,
    /// The filaments its colours name, 1 to 16.
    pub filaments: Vec<Filament>,
    /// The pattern its files are named by, at most 120 characters: `{piece}`, `{colour}`, `{part}`,
    /// `{date}`, `{initials}` or the name of an input stand for what they say.
    pub file_name: String,
    /// How it is going to be sliced.
    pub layers: Layering,
    /// The separately printed solids of the piece: one in this version.
    pub components: Vec<Component>,
}

/// One separately printed solid.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Component {
    /// What the component starts from.
    pub blank: Blank,
    /// The land kept free along the edge and around holes when the clear area is found.
    pub margin: Length,
    /// What is added to the blank, in the order of work. Holes are drilled last, wherever they
    /// stand in the list.
    pub elements: Vec<Element>,
}

/// The solid a component starts from.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum Blank {
    /// A flat plate.
    Plate(Plate),
}

impl Piece {
    /// A new piece: a customary key fob plate with nothing on it yet.
    pub fn new(name: &str, units: Unit) -> Self {
        Piece {
            kalotype: FORMAT_VERSION,
            name: name.to_owned(),
            units,
            inputs: Vec::new(),
            fronted: Vec::new(),
            filaments: vec![shipped_palette().remove(0)],
            file_name: PLAIN_FILE_NAME.to_owned(),
            layers: Layering::default(),
            components: vec![Component {
                blank: Blank::Plate(Plate::default()),
                margin: Length::mm(2.0),
                elements: Vec::new(),
            }],
        }
    }

    /// The component; a piece has exactly one in this version.
    ///
    /// # Panics
    /// When the piece has none, which [`read()`] and [`apply`] refuse.
    pub fn component(&self) -> &Component {
        &self.components[0]
    }

    /// Which of the filaments a colour is: that of the plate where none is named.
    pub fn filament_of(&self, colour: Option<&str>) -> usize {
        let wanted = colour.unwrap_or(&self.component().plate().colour);
        self.filaments.iter().position(|filament| filament.id == wanted).unwrap_or(0)
    }

    /// The element of this id.
    pub fn element(&self, id: &str) -> Option<&Element> {
        self.component().elements.iter().find(|element| element.id() == id)
    }
}

impl Component {
    /// The plate the component is made of.
    pub fn plate(&self) -> &Plate {
        let Blank::Plate(plate) = &self.blank;
        plate
    }
}
