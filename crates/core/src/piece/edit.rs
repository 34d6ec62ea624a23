//! Small changes to a piece, as what a person wants. How they are carried out is for
//! [`crate::edit`] to know.

use super::{Address, BlankKind, BridgeByHand, Component, Element, ElementKind, FaceName};
use crate::filament::Filament;
use crate::json::{Misfit, Node};
use serde::{Deserialize, Deserializer, Serialize, Serializer, de};
use serde_json::Value;

/// A change to a piece. Fields are the names in the piece file, joined by dots
/// ("place.across.distance"); those of an element's kind stand beside those every element has.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[serde(remote = "Self", rename_all = "kebab-case", deny_unknown_fields)]
pub enum Edit {
    /// Puts a value into a field.
    Set {
        /// Whose field.
        target: Address,
        /// Which field.
        field: String,
        /// The new value as it would stand in the file.
        value: Value,
    },
    /// Puts what a person typed into the field of a figure: "3/8 in", "25.4/2", "45°", "50 %".
    Type {
        /// Whose field.
        target: Address,
        /// Which field.
        field: String,
        /// The text, in the piece's units where it names none.
        text: String,
    },
    /// Gives something of one kind another, and keeps of it what can be kept: a relief its height, an
    /// edge its size, a datum its place.
    Turn {
        /// Whose field.
        target: Address,
        /// Which field.
        field: String,
        /// The word of the kind it becomes, as it stands in the file.
        into: String,
    },
    /// Moves an element on its face, whatever its place is measured from.
    Shift {
        /// The element.
        target: Address,
        /// To the right as it is seen from its face, in mm.
        across: f64,
        /// Upwards, in mm.
        up: f64,
    },
    /// Moves elements along an axis so that they line up: by their low sides, their middles or their
    /// high sides, with that of all of them together.
    Align {
        /// The elements, of one component.
        targets: Vec<Address>,
        /// Along which axis they move.
        axis: Axis,
        /// What of them lines up.
        side: Side,
    },
    /// Moves elements along an axis so that the gaps between them are equal; the outermost stay.
    Distribute {
        /// The elements, of one component.
        targets: Vec<Address>,
        /// Along which axis they move.
        axis: Axis,
    },
    /// Adds a new element that suits the component.
    Add {
        /// The id of the component.
        component: String,
        /// What to add.
        kind: ElementKind,
        /// On which face.
        #[serde(default)]
        face: FaceName,
    },
    /// Adds an emblem of a shape of one's own that suits the component, as large as the shape is.
    AddShape {
        /// The id of the component.
        component: String,
        /// On which face.
        #[serde(default)]
        face: FaceName,
        /// The id of the shape.
        shape: String,
        /// Where the middle of its frame comes to lie, in mm, as it is seen from the face.
        at: [f64; 2],
    },
    /// Adds a given element, under a new id where its own is taken.
    Insert {
        /// The id of the component.
        component: String,
        /// What to add.
        element: Box<Element>,
        /// The filaments its colours may name, for an element of another piece.
        #[serde(default)]
        filaments: Vec<Filament>,
    },
    /// Adds a given component behind the others, under a new id and a name of its own; it is joined to
    /// nothing.
    InsertComponent {
        /// What to add.
        component: Box<Component>,
        /// The filaments its colours may name, for a component of another piece.
        #[serde(default)]
        filaments: Vec<Filament>,
    },
    /// Gives something a colour, and drops the filaments that nothing names any more.
    Colour {
        /// What: a blank or an element.
        target: Address,
        /// The field that names the colour: "colour", or that of an inlay, which is made if there is
        /// none, such as "floor.colour".
        field: String,
        /// The filament; nothing for the colour of the blank, or for no inlay.
        filament: Option<Filament>,
    },
    /// Adds a component of customary sizes.
    AddComponent {
        /// What it starts from.
        blank: BlankKind,
    },
    /// Adds a component made of a mesh that is kept, its largest flat face up.
    AddMesh {
        /// The id of the mesh.
        mesh: String,
        /// What its file was called.
        file: String,
    },
    /// Cuts a slot for a plate into another component, or a socket for it to lie in.
    Join {
        /// The id of the component it is cut into.
        into: String,
        /// The id of the plate that goes in.
        part: String,
        /// Whether it is a socket; a box takes nothing else.
        #[serde(default)]
        socket: bool,
    },
    /// Lays, moves or takes away a bridge of an element by hand, or a tie of an outline that has them.
    Bridge {
        /// The element, or the blank with that outline.
        target: Address,
        /// What is done.
        act: BridgeAct,
    },
    /// Adds a copy of an element, a little aside, or of a component.
    Duplicate {
        /// The element or component.
        target: Address,
    },
    /// Moves an element in the order of work, or a component among the others, as far as the list goes.
    Move {
        /// The element or component.
        target: Address,
        /// Places earlier (negative) or later.
        by: i32,
    },
    /// Takes an element away, or a component with what joins it to others.
    Remove {
        /// The element or component.
        target: Address,
    },
}

/// What is done to a bridge by hand. Points are in mm, directions in degrees counter-clockwise from across, both as
/// they are seen from the face.
#[derive(Debug, Clone, Copy, PartialEq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum BridgeAct {
    /// One more is laid, the way bridges run here.
    Lay {
        /// A point it goes through; nothing for the foot of the first letter.
        at: Option<[f64; 2]>,
    },
    /// One of those there are is from now on put by hand where it is, and with it the others that hold the same.
    Keep {
        /// Its number among all, from 0.
        bridge: usize,
    },
    /// One that was put by hand is laid somewhere else.
    Move {
        /// Its number among those put by hand, from 0.
        by_hand: usize,
        /// A point it goes through.
        at: [f64; 2],
        /// The direction it runs in.
        along: f64,
    },
    /// One of those there are is taken away; the others that hold the same are kept where they are.
    Take {
        /// Its number among all, from 0.
        bridge: usize,
    },
}

/// An axis of a face.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Axis {
    /// To the right.
    Across,
    /// Upwards.
    Up,
}

/// A part of the box of an element, along an axis.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Side {
    /// Its left or lower side.
    Low,
    /// Its middle.
    Middle,
    /// Its right or upper side.
    High,
}

/// Edits that cure something, to be offered as a button.
#[derive(Debug, Clone, PartialEq, Serialize)]
pub struct Remedy {
    /// What they do, as the words on a button.
    pub label: String,
    /// The edits.
    pub edits: Vec<Edit>,
}

impl Serialize for Edit {
    fn serialize<S: Serializer>(&self, into: S) -> Result<S::Ok, S::Error> {
        Edit::serialize(self, into)
    }
}

/// Wherever it comes from, it is read by the one way of [`crate::json`].
impl<'de> Deserialize<'de> for Edit {
    fn deserialize<D: Deserializer<'de>>(source: D) -> Result<Self, D::Error> {
        edit_of(Node::deserialize(source)?).map_err(de::Error::custom)
    }
}

/// No crate that reads edits has to be given the code for it once more.
#[inline(never)]
fn edit_of(node: Node) -> Result<Edit, Misfit> {
    Edit::deserialize(node)
}

impl Edit {
    /// Puts a value into a field.
    pub fn set(target: &Address, field: &str, value: impl Into<Value>) -> Self {
        Edit::Set { target: target.clone(), field: field.to_owned(), value: value.into() }
    }

    /// The field it gives a value of a person's own choice, if that is what it does.
    pub fn field(&self) -> Option<(&Address, &str)> {
        match self {
            Edit::Set { target, field, .. }
            | Edit::Type { target, field, .. }
            | Edit::Turn { target, field, .. } => Some((target, field)),
            Edit::Bridge { target, .. } => Some((target, BridgeByHand::field_of(target))),
            _ => None,
        }
    }

    /// Adds a new element to the front of a component.
    pub fn add(component: &str, kind: ElementKind) -> Self {
        Edit::Add { component: component.to_owned(), kind, face: FaceName::Front }
    }
}

/// Why an edit was refused; the piece is as it was.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error, Serialize)]
#[error("{message}")]
pub struct EditError {
    /// What it concerns.
    pub target: Address,
    /// Which field; empty where the whole target is meant.
    pub field: String,
    /// What is wrong and how to mend it, for the person at the field.
    pub message: String,
}
