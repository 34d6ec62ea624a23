use super::check::Checker;
use super::{Edge, LetteringPlace, Relief, Repeat, Side};
use crate::emblems::emblem;
use crate::units::Length;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// A drawn shape.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Emblem {
    /// Unique among the elements.
    pub id: String,
    /// Whether it is kept from being moved or taken away by hand.
    pub locked: bool,
    /// Which face it is on.
    pub side: Side,
    /// The name of a shipped shape.
    pub shape: String,
    /// Across the shape before it is turned, 0.5 to 480 mm.
    pub width: Length,
    /// Stretched in height: 1 keeps the proportions, 0.1 to 10.
    pub stretch: f64,
    /// Turn in degrees, counter-clockwise.
    pub turn: f64,
    /// Whether left and right are exchanged.
    pub mirrored: bool,
    /// How it meets the face.
    pub relief: Relief,
    /// Its colour, the id of one of the piece's filaments; nothing for that of the plate.
    pub colour: Option<String>,
    /// How deep it is rooted in what it stands on, if it stands up in a colour of its own, 0 to 100 mm.
    pub root: Length,
    /// How its edge is finished: the upper one where it stands up, the one at the face where it
    /// is sunk.
    pub edge: Edge,
    /// Where it sits.
    pub place: LetteringPlace,
    /// How often it is there.
    pub repeat: Repeat,
}

impl Emblem {
    pub(super) fn check(&self, checker: &mut Checker) {
        if emblem(&self.shape).is_none() {
            checker.report("shape", format!("There is no emblem “{}”.", self.shape));
        }
        checker.range("width", "The emblem’s width", self.width, 0.5..=480.0);
        checker.share("stretch", "The stretch", self.stretch, 0.1..=10.0);
        checker.angle("turn", self.turn);
        self.relief.check(checker);
        checker.range("root", "The depth of the root", self.root, 0.0..=100.0);
        self.edge.check("edge", checker);
        self.repeat.check(checker);
        checker.place("The emblem’s distance", self.place.across.distance, self.place.up.distance);
    }
}
