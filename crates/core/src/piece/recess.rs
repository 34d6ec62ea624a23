//! Recesses: fields sunk into a face.

use super::check::Checker;
use super::element::{FOLLOWS_OUTLINE, Fields};
use super::{Depth, Edge, Fit, Fits, Inlay, LetteringPlace, Outline, Relief, Repeat, limits};
use crate::units::Length;
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A sunk field. What is raised within it stands on its floor.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Recess {
    /// Its shape.
    pub shape: FieldShape,
    /// How deep it is.
    pub depth: Depth,
    /// Another colour for its floor.
    pub floor: Option<Inlay>,
    /// How the edge at the face is finished.
    pub edge: Edge,
    /// Where it sits, if it has a shape of its own.
    pub place: LetteringPlace,
    /// How often it is there.
    pub repeat: Repeat,
}

/// The shape of a sunk field.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum FieldShape {
    /// The outline of the plate, this far in from its edge, 0 to 250 mm.
    Inset(Length),
    /// A shape of its own.
    Own(OwnShape),
}

/// A shape given by its outline and overall size.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct OwnShape {
    /// From left to right before it is turned, 0.5 to 500 mm.
    pub width: Length,
    /// From bottom to top before it is turned, 0.5 to 500 mm.
    pub height: Length,
    /// Its outline.
    pub outline: Outline,
    /// Turn in degrees, counter-clockwise.
    pub turn: f64,
    /// How much room what was measured has in it, where its sizes are those of a thing that goes in;
    /// nothing where they are its own.
    #[serde(default)]
    pub fit: Option<Fit>,
}

impl OwnShape {
    /// Its width and height in mm, with the room of its fit.
    pub fn size(&self, fits: &Fits) -> (f64, f64) {
        let room = self.fit.map_or(0.0, |fit| fits.clearance(fit));
        (self.width.as_mm() + room, self.height.as_mm() + room)
    }
}

impl Recess {
    /// The id of its shape, if that is one of one's own.
    pub fn own_shape(&self) -> Option<&str> {
        match &self.shape {
            FieldShape::Own(own) => own.outline.own_shape(),
            FieldShape::Inset(_) => None,
        }
    }
}

impl Fields for Recess {
    fn check(&self, checker: &mut Checker) {
        match &self.shape {
            FieldShape::Inset(inset) => checker.length(&limits::FIELD_INSET, *inset),
            FieldShape::Own(own) => {
                checker.length(&limits::FIELD_WIDTH, own.width);
                checker.length(&limits::FIELD_HEIGHT, own.height);
                checker.angle("shape.own.turn", own.turn);
                if let Some(fit) = own.fit {
                    fit.check("shape.own.fit", checker);
                }
                own.outline.check("shape.own.outline", checker);
                if matches!(own.outline, Outline::Contour(_)) {
                    let message = "A field cannot be a contour; only the plate can.".to_owned();
                    checker.report("shape.own.outline", message);
                }
            }
        }
        self.depth.check("depth", checker);
        self.floor.iter().for_each(|inlay| inlay.check("floor", checker));
        self.edge.check("edge", checker);
        self.repeat.check(checker);
        checker.lettering_place(&self.place);
    }

    fn relief(&self) -> Option<Relief> {
        Some(Relief::Recessed(self.depth))
    }

    fn place(&self) -> Option<&LetteringPlace> {
        match self.shape {
            FieldShape::Inset(_) => None,
            FieldShape::Own(_) => Some(&self.place),
        }
    }

    fn place_mut(&mut self) -> Option<&mut LetteringPlace> {
        match self.shape {
            FieldShape::Inset(_) => None,
            FieldShape::Own(_) => Some(&mut self.place),
        }
    }

    fn colour(&self) -> Option<(&'static str, Option<&str>)> {
        Some(("floor.colour", self.floor.as_ref().map(|floor| floor.colour.as_str())))
    }

    fn lose_colour(&mut self) {
        self.floor = None;
    }

    fn root(&self) -> Option<Length> {
        None
    }

    fn repeat(&self) -> Repeat {
        self.repeat
    }

    fn carries(&self, follows: bool) -> bool {
        !follows && self.place().is_some()
    }

    fn nudge(&mut self, mm: f64) {
        match &mut self.shape {
            FieldShape::Inset(inset) => *inset = Length::mm(inset.as_mm() + mm),
            FieldShape::Own(_) => self.place.shift(mm, 0.0),
        }
    }

    fn shift(&mut self, across: f64, up: f64) -> Result<(), &'static str> {
        match self.shape {
            FieldShape::Inset(_) => Err(FOLLOWS_OUTLINE),
            FieldShape::Own(_) => {
                self.place.shift(across, up);
                Ok(())
            }
        }
    }

    fn name(&self) -> String {
        "Recess".to_owned()
    }

    fn main_fields(&self) -> Vec<(&'static str, &'static str)> {
        Vec::new()
    }
}
