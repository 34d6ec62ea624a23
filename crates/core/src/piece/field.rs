//! Fields of a piece by their names: read and written one at a time, in the part they belong to.
//!
//! A field is set in the JSON of its own part, so that every field the format has can be set and none
//! it does not have; the rest of the piece is not touched. Fields of an element's kind stand beside
//! those every element has. What a piece consists of (its components, their elements, the ids) is no
//! field: there are other edits for it.

use super::{Address, Component, EditError, Element, Piece, wording};
use crate::json::{Misfit, Node};
use serde::Serialize;
use serde::de::DeserializeOwned;
use serde_json::Value;

/// What cannot be set, by the part it is in.
const FIXED_OF_PIECE: [&str; 2] = ["kalotype", "components"];
const FIXED_OF_COMPONENT: [&str; 3] = ["id", "blank", "elements"];
const FIXED_OF_ELEMENT: [&str; 2] = ["id", "kind"];

/// The fields every element has, which stand beside its kind.
const OF_EVERY_ELEMENT: [&str; 2] = ["locked", "face"];

fn first_name(field: &str) -> &str {
    field.split('.').next().unwrap_or_default()
}

/// Where a field stands in the JSON of its part.
fn pointer(field: &str) -> String {
    field.split('.').fold(String::new(), |path, name| path + "/" + name)
}

/// Where a field of an element stands in the JSON of it.
fn pointer_in(element: &Element, field: &str) -> String {
    if OF_EVERY_ELEMENT.contains(&first_name(field)) {
        return pointer(field);
    }
    format!("/kind/{}{}", element.tag().word(), pointer(field))
}

impl Piece {
    /// The component of an id.
    ///
    /// # Errors
    /// Where there is none.
    pub fn component_of(&self, target: &Address) -> Result<&Component, EditError> {
        let component = target.component().and_then(|id| self.component(id));
        component.ok_or_else(|| gone(target))
    }

    /// The same to be changed.
    pub(crate) fn component_mut(&mut self, target: &Address) -> Result<&mut Component, EditError> {
        let wanted = target.component().unwrap_or_default();
        let found = self.components.iter_mut().find(|component| component.id == wanted);
        found.ok_or_else(|| gone(target))
    }

    /// The element at an address.
    pub fn element(&self, target: &Address) -> Option<&Element> {
        let Address::Element(component, element) = target else { return None };
        self.component(component)?.element(element)
    }

    /// The same to be changed.
    pub(crate) fn element_mut(&mut self, target: &Address) -> Result<&mut Element, EditError> {
        let Address::Element(_, id) = target else { return Err(gone(target)) };
        let elements = &mut self.component_mut(target)?.elements;
        elements.iter_mut().find(|element| element.id == *id).ok_or_else(|| gone(target))
    }

    /// What kind of thing is at an address: "piece", "component", or the kind of the blank or the
    /// element.
    pub(crate) fn kind_word(&self, target: &Address) -> Option<&'static str> {
        match target {
            Address::Piece => Some("piece"),
            Address::Component(_) => Some("component"),
            Address::Blank(id) => Some(self.component(id)?.blank.word()),
            Address::Element(..) => Some(self.element(target)?.tag().word()),
        }
    }

    /// A field as it stands in the file, if there is such a field.
    pub fn value(&self, target: &Address, field: &str) -> Option<Value> {
        let (json, pointer) = match target {
            Address::Piece => (serde_json::to_value(self), pointer(field)),
            Address::Component(id) => (serde_json::to_value(self.component(id)?), pointer(field)),
            Address::Blank(id) => {
                let blank = &self.component(id)?.blank;
                let pointer = format!("/{}{}", blank.word(), pointer(field));
                (serde_json::to_value(blank), pointer)
            }
            Address::Element(..) => {
                let element = self.element(target)?;
                (serde_json::to_value(element), pointer_in(element, field))
            }
        };
        json.ok()?.pointer(&pointer).cloned()
    }

    /// Puts a value into a field.
    ///
    /// # Errors
    /// Where there is no such field, or it cannot hold such a value. The piece is then as it was.
    pub(crate) fn set_value(
        &mut self,
        target: &Address,
        field: &str,
        value: Value,
    ) -> Result<(), EditError> {
        let fixed: &[&str] = match target {
            Address::Piece => &FIXED_OF_PIECE,
            Address::Component(_) => &FIXED_OF_COMPONENT,
            Address::Blank(_) => &[],
            Address::Element(..) => &FIXED_OF_ELEMENT,
        };
        if fixed.contains(&first_name(field)) {
            return Err(no_field(target, field));
        }
        let of = self.kind_word(target).unwrap_or_default();
        let place = At { target, field, of };
        match target {
            Address::Piece => {
                // Its components are not looked at, and come back as they are.
                let components = std::mem::take(&mut self.components);
                let set = place.set(self, &pointer(field), value);
                self.components = components;
                set
            }
            Address::Component(_) => {
                let component = self.component_mut(target)?;
                let elements = std::mem::take(&mut component.elements);
                let set = place.set(component, &pointer(field), value);
                component.elements = elements;
                set
            }
            Address::Blank(_) => {
                let blank = &mut self.component_mut(target)?.blank;
                let pointer = format!("/{}{}", blank.word(), pointer(field));
                place.set(blank, &pointer, value)
            }
            Address::Element(..) => {
                let element = self.element_mut(target)?;
                let pointer = pointer_in(element, field);
                place.set(element, &pointer, value)
            }
        }
    }
}

/// A field of something, for what is said of it.
struct At<'a> {
    target: &'a Address,
    field: &'a str,
    /// What kind of thing it belongs to.
    of: &'a str,
}

impl At<'_> {
    fn set<T: Serialize + DeserializeOwned>(
        &self,
        part: &mut T,
        pointer: &str,
        value: Value,
    ) -> Result<(), EditError> {
        let refuse = |message| EditError {
            target: self.target.clone(),
            field: self.field.to_owned(),
            message,
        };
        let mut json = serde_json::to_value(&*part).map_err(|error| refuse(error.to_string()))?;
        let slot = json.pointer_mut(pointer).ok_or_else(|| no_field(self.target, self.field))?;
        *slot = value;
        let said = |misfit: Misfit| refuse(wording::said(misfit.message(), self.of, self.field));
        *part = Node::from(json).read().map_err(said)?;
        Ok(())
    }
}

fn no_field(target: &Address, field: &str) -> EditError {
    let message = format!("“{target}” has no “{field}” to set.");
    EditError { target: target.clone(), field: field.to_owned(), message }
}

/// What is said of an address where nothing is.
pub(crate) fn gone(target: &Address) -> EditError {
    let message = format!("There is no “{target}” in this piece any more.");
    EditError { target: target.clone(), field: String::new(), message }
}
