//! Components: the separately printed solids of a piece.

use super::{Address, Blank, BlankKind, Element, Lying, MeshBlank, Outline, Plate};
use crate::units::{Length, Unit};
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// One separately printed solid.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Component {
    /// Unique in the piece: 1 to 40 letters, figures, `-` and `_`.
    pub id: String,
    /// What people call it, at most 60 characters; files of one of several components are named
    /// after it.
    pub name: String,
    /// What the component starts from.
    pub blank: Blank,
    /// The land kept free along the edge and around holes when the clear area is found.
    pub margin: Length,
    /// Which side of it lies on the bed when it is printed.
    pub lies: Lying,
    /// What is added to the blank, in the order of work. Holes are drilled last, wherever they
    /// stand in the list.
    pub elements: Vec<Element>,
}

impl Component {
    /// The id the first component has.
    pub const FIRST: &'static str = "component-1";

    /// A component with nothing on it.
    pub fn new(id: &str, name: &str, blank: Blank) -> Self {
        Component {
            id: id.to_owned(),
            name: name.to_owned(),
            blank,
            margin: Length::mm(2.0),
            lies: Lying::AsMade,
            elements: Vec::new(),
        }
    }

    /// One of customary sizes with nothing on it.
    pub fn customary(id: &str, kind: BlankKind, units: Unit) -> Self {
        let margin = units.pick(2.0, 1.0 / 16.0);
        Component { margin, lies: kind.lies(), ..Component::new(id, "", kind.customary(units)) }
    }

    /// What it is called: by its name, or for want of one by what it starts from.
    pub fn called(&self) -> &str {
        if self.name.trim().is_empty() { self.blank.title() } else { &self.name }
    }

    /// The plate it is made of, where it is made of one.
    pub fn plate(&self) -> Option<&Plate> {
        match &self.blank {
            Blank::Plate(plate) => Some(plate),
            _ => None,
        }
    }

    /// The mesh it is made of, where it is made of one.
    pub fn mesh(&self) -> Option<&MeshBlank> {
        match &self.blank {
            Blank::Mesh(mesh) => Some(mesh),
            _ => None,
        }
    }

    /// Whether it is a box.
    pub fn is_box(&self) -> bool {
        matches!(self.blank, Blank::Box(_))
    }

    /// Its outline, where it has one of its own.
    pub fn outline(&self) -> Option<&Outline> {
        self.plate().map(|plate| &plate.outline)
    }

    /// The ids of the shapes of one's own that are in it, each as often as it is used.
    pub fn own_shapes(&self) -> impl Iterator<Item = &str> {
        let outline = self.outline().and_then(Outline::own_shape);
        outline.into_iter().chain(self.elements.iter().filter_map(Element::own_shape))
    }

    /// The element of this id.
    pub fn element(&self, id: &str) -> Option<&Element> {
        self.elements.iter().find(|element| element.id == id)
    }

    /// Its address.
    pub fn address(&self) -> Address {
        Address::Component(self.id.clone())
    }

    /// The address of its blank.
    pub fn blank_address(&self) -> Address {
        Address::Blank(self.id.clone())
    }

    /// The address of one of its elements.
    pub fn element_address(&self, element: &str) -> Address {
        Address::element(&self.id, element)
    }
}
