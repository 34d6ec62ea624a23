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
mod mesh_blank;
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
pub use mesh_blank::{MeshBlank, WorkedFace};
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
use crate::stock;
use crate::units::{Length, Unit};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// The version of the piece format this program writes.
///
/// 1: a rectangular plate, lettering, round holes. 2: outlines, edges, rims, recesses, loops,
/// emblems, shaped and blind holes. 3: elements on the back, locks, reliefs by share and flush,
/// grooves, recesses with a shape of their own, loops at a point, with a thickness of their own and
/// for ribbons; lettering in lines, along circles, in boxes and in styles; inputs. 4: filaments, a
/// colour for everything that adds, roots, faces and floors of another colour. 5: meshes of other
/// programs as blanks.
pub const FORMAT_VERSION: u32 = 5;

/// The pattern of file names a new piece has.
pub const PLAIN_FILE_NAME: &str = "{piece}";

/// The most filaments a piece can have.
const MOST_FILAMENTS: usize = 16;

/// One thing to make.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Piece {
    /// Version of this format: 5. Files of earlier versions are brought up to it when they are read.
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
    /// A mesh of another program.
    Mesh(MeshBlank),
}

impl Blank {
    /// What it is called: "plate" or "mesh", as it stands in the file.
    pub fn word(&self) -> &'static str {
        match self {
            Blank::Plate(_) => "plate",
            Blank::Mesh(_) => "mesh",
        }
    }

    /// Its colour, the id of one of the piece's filaments.
    pub fn colour(&self) -> &str {
        match self {
            Blank::Plate(plate) => &plate.colour,
            Blank::Mesh(mesh) => &mesh.colour,
        }
    }

    /// The colours it names, with the fields that name them.
    fn colours(&self) -> Vec<(String, &str)> {
        match self {
            Blank::Plate(plate) => plate.colours(),
            Blank::Mesh(mesh) => vec![("colour".to_owned(), mesh.colour.as_str())],
        }
    }
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
        let wanted = colour.unwrap_or(self.component().blank.colour());
        self.filaments.iter().position(|filament| filament.id == wanted).unwrap_or(0)
    }

    /// The element of this id.
    pub fn element(&self, id: &str) -> Option<&Element> {
        self.component().elements.iter().find(|element| element.id() == id)
    }
}

impl Component {
    /// The plate the component is made of, where it is made of one.
    pub fn plate(&self) -> Option<&Plate> {
        match &self.blank {
            Blank::Plate(plate) => Some(plate),
            Blank::Mesh(_) => None,
        }
    }

    /// The mesh the component is made of, where it is made of one.
    pub fn mesh(&self) -> Option<&MeshBlank> {
        match &self.blank {
            Blank::Plate(_) => None,
            Blank::Mesh(mesh) => Some(mesh),
        }
    }

    /// Width and height of the face that is worked on, and its height above the bed, in mm. For a
    /// mesh that is not at hand those of a stand-in.
    pub fn face_size(&self) -> [f64; 3] {
        match &self.blank {
            Blank::Plate(plate) => [plate.width, plate.height, plate.thickness].map(Length::as_mm),
            Blank::Mesh(mesh) => match stock::level(mesh) {
                Some(stock) => [stock.rect.width(), stock.rect.height(), stock.thickness],
                None => Plate::STAND_IN,
            },
        }
    }

    /// The smaller of the worked face's width and height, in mm.
    pub fn shorter_side(&self) -> f64 {
        let [width, height, _] = self.face_size();
        width.min(height)
    }

    /// Its outline, where it has one of its own.
    pub fn outline(&self) -> Option<&Outline> {
        self.plate().map(|plate| &plate.outline)
    }
}
