use super::check::Checker;
use super::{Depth, Edge, Inlay, LetteringPlace, Outline, Repeat, Side};
use crate::units::Length;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A sunk field. What is raised within it stands on its floor.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Recess {
    /// Unique among the elements.
    pub id: String,
    /// Whether it is kept from being moved or taken away by hand.
    pub locked: bool,
    /// Which face it is sunk into.
    pub side: Side,
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
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum FieldShape {
    /// The outline of the plate, this far in from its edge, 0 to 250 mm.
    Inset(Length),
    /// A shape of its own.
    Own(OwnShape),
}

/// A shape given by its outline and overall size.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
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
}

impl Recess {
    pub(super) fn check(&self, checker: &mut Checker) {
        match &self.shape {
            FieldShape::Inset(inset) => {
                let what = "The field’s distance from the edge";
                checker.range("shape.inset", what, *inset, 0.0..=250.0);
            }
            FieldShape::Own(own) => {
                checker.range("shape.own.width", "The field’s width", own.width, 0.5..=500.0);
                checker.range("shape.own.height", "The field’s height", own.height, 0.5..=500.0);
                checker.angle("shape.own.turn", own.turn);
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
        checker.place("The field’s distance", self.place.across.distance, self.place.up.distance);
    }
}
