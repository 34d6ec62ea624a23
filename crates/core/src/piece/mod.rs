//! The document: one thing to make.
//!
//! A [`Piece`] holds sizes and relations, never coordinates: an element hangs from an edge, from
//! the centre or in the clear area, so that a changed size carries it along. Pieces are stored as
//! versioned JSON ([`read()`], [`write()`]) whose description is generated from these types, and changed
//! by small [`Edit`]s.

mod address;
mod bent_bar;
mod blank;
mod block;
mod box_blank;
mod bridges;
mod cap;
mod check;
mod code;
mod component;
#[cfg(test)]
mod describe;
mod edge;
mod edit;
mod element;
mod emblem;
mod face_name;
mod field;
mod file_name;
mod fit;
mod form;
mod grip;
mod grows;
mod halo;
mod hole;
mod inlay;
mod input;
mod joint;
mod layering;
mod lettering;
mod limits;
mod lying;
mod mesh_blank;
mod nominal;
mod outline;
mod pattern;
mod place;
mod plate;
mod plug;
mod printer;
mod read;
mod recess;
mod relations;
mod relief;
mod repeat;
mod rim;
mod ring_blank;
mod ring_loop;
mod set_aside;
mod stroke;
mod tent;
mod upgrade;
mod wording;

pub use address::{Address, NoAddress};
pub use bent_bar::{BentBar, Legs};
pub use blank::{Blank, BlankKind, Sides};
pub use block::Block;
pub use box_blank::BoxBlank;
pub use bridges::{BridgeByHand, BridgeCount, BridgeRun, Bridges};
pub use cap::{Bead, Cap, Hold, Stop};
pub use check::{MOST_COMPONENTS, Problem};
pub use code::{Code, Level, Symbol};
pub use component::Component;
pub use edge::{BothEdges, Edge};
pub use edit::{Axis, BridgeAct, Edit, EditError, Remedy, Side};
pub use element::{Element, ElementKind, Kind};
pub use emblem::{Emblem, OWN_SHAPE};
pub use face_name::FaceName;
pub(crate) use field::gone;
pub use file_name::{FILE_WORDS, FRESH_FILE_NAME};
pub use fit::{Fit, Fits};
pub use form::{FieldKind, FormField};
pub use grip::{Grip, GripBand, GripPattern};
pub use grows::{Grows, Growth};
pub use halo::{Halo, HaloCorners, RoundWhat};
pub use hole::{Hole, HoleShape};
pub use inlay::Inlay;
pub use input::{Counts, Fronted, Input};
pub use joint::{Joint, Slot, Socket};
pub use layering::Layering;
pub use lettering::{
    CircleCourse, Course, Gives, LetterBox, LetterSize, Lettering, OutlineCourse, RoundCourse,
    SitsBy, TextLine,
};
pub use limits::{LIMITS, Limit, Measure, limit_of};
pub use lying::Lying;
pub use mesh_blank::{MeshBlank, OWN_STOCK, WorkedFace};
pub use nominal::{COPPER_TUBES, Nominal, STEEL_PIPES};
pub use outline::{
    Contour, Corner, Corners, DrawnOutline, Outline, Polygon, PolygonSize, Ring, Scallop, Star, Tag,
};
pub use pattern::{Fills, Motif, Pattern};
pub(crate) use place::Span;
pub use place::{
    Across, AcrossClear, Beside, BesideSide, Datum, FromDatum, HolePlace, InLine, LetteringPlace,
    Offset, Up, UpClear,
};
pub use plate::{Faces, Plate};
pub use plug::Plug;
pub use printer::{FitSource, Printer};
pub use read::{MAX_FILE_BYTES, ReadError, read, write};
pub use recess::{FieldShape, OwnShape, Recess};
pub use relief::{Depth, Height, Relief};
pub use repeat::{Repeat, Row};
pub use rim::Rim;
pub use ring_blank::RingBlank;
pub use ring_loop::{Loop, LoopPlace, OwnThickness};
pub use set_aside::{MOST_SET_ASIDE, SetAside};
pub use stroke::{Stroke, StrokeEnds, StrokeSection};
pub use tent::Tent;
pub use wording::misfit_in_words;

use crate::filament::{Filament, shipped_palette};
use crate::units::Unit;
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// The version of the piece format this program writes.
///
/// 1: a rectangular plate, lettering, round holes. 2: outlines, edges, rims, recesses, loops,
/// emblems, shaped and blind holes. 3: elements on the back, locks, reliefs by share and flush,
/// grooves, recesses with a shape of their own, loops at a point, with a thickness of their own and
/// for ribbons; lettering in lines, along circles, in boxes and in styles; inputs. 4: filaments, a
/// colour for everything that adds, roots, faces and floors of another colour. 5: meshes of other
/// programs as blanks. 6: components with ids and names, several of them; what every element has
/// beside its kind, faces by name, typefaces called so. 7: blocks, bent bars and tents with faces that
/// look to all sides, joints and fits. 8: caps, plugs, rings and boxes with round faces, and the printer
/// the piece is made on. 9: the side a component lies on. 10: shapes of one's own. 11: places by other
/// elements, plates that grow, halos, patterns, codes, emblems by numbers, texts that count. 12: findings set
/// aside, and what the printer can bridge. 13: bridges, and ties between the parts of a contour.
pub const FORMAT_VERSION: u32 = 14;

/// One thing to make.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Piece {
    /// Version of this format. Files of earlier versions are brought up to it when they are read.
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
    /// The pattern its files are named by, at most 120 characters: `{piece}`, `{words}`, `{colour}`,
    /// `{part}`, `{date}`, `{initials}` or the name of an input stand for what they say.
    pub file_name: String,
    /// How it is going to be sliced.
    pub layers: Layering,
    /// The printer it is made on, and what fits come to there.
    pub printer: Printer,
    /// The separately printed solids of the piece, 1 to 8.
    pub components: Vec<Component>,
    /// What two components share, at most 16.
    pub joints: Vec<Joint>,
    /// Findings of preflight that are left as they are, and why, at most 100.
    pub set_aside: Vec<SetAside>,
}

impl Piece {
    /// Gives it a printer. It gets the layers of another one; layers that were given to the piece itself stay
    /// where its own printer is only brought up to date.
    pub fn give_printer(&mut self, printer: Printer) {
        let own = (self.layers.height, self.layers.first);
        let follows = own == (self.printer.layer, self.printer.first_layer);
        if follows || self.printer.id != printer.id {
            (self.layers.height, self.layers.first) = (printer.layer, printer.first_layer);
        }
        self.printer = printer;
    }

    /// A new piece: a customary key fob plate with nothing on it yet.
    pub fn new(name: &str, units: Unit) -> Self {
        Piece::of(BlankKind::Plate, name, units)
    }

    /// A new piece that starts from a blank of customary sizes with nothing on it yet.
    pub fn of(kind: BlankKind, name: &str, units: Unit) -> Self {
        let component = Component::customary(Component::FIRST, kind, units);
        Piece {
            kalotype: FORMAT_VERSION,
            name: name.to_owned(),
            units,
            inputs: Vec::new(),
            fronted: Vec::new(),
            filaments: vec![shipped_palette().remove(0)],
            file_name: FRESH_FILE_NAME.to_owned(),
            layers: Layering::default(),
            printer: Printer::default(),
            components: vec![component],
            joints: Vec::new(),
            set_aside: Vec::new(),
        }
    }

    /// The component of this id.
    pub fn component(&self, id: &str) -> Option<&Component> {
        self.components.iter().find(|component| component.id == id)
    }

    /// The component that is shown where one has to be chosen.
    ///
    /// # Panics
    /// When the piece has none, which [`read()`] and [`crate::edit::apply`] refuse.
    pub fn first(&self) -> &Component {
        &self.components[0]
    }

    /// Which of the filaments a colour of a component is: that of its blank where none is named.
    pub fn filament_of(&self, component: &Component, colour: Option<&str>) -> usize {
        let wanted = colour.unwrap_or(component.blank.colour());
        self.filaments.iter().position(|filament| filament.id == wanted).unwrap_or(0)
    }
}
