//! Emblems: shapes on a face, shipped ones and those of one's own.

use super::check::{Checker, cut};
use super::element::Fields;
use super::{Bridges, Edge, LetteringPlace, Relief, Repeat, Stroke, limits};
use crate::emblems::{Numbers, Setting, emblem};
use crate::units::Length;
#[cfg(test)]
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// What the ids of shapes of one's own begin with.
pub const OWN_SHAPE: &str = "shape-";

/// Why an id is that of no shape of one's own, if it is not.
pub(super) fn own_shape_problem(id: &str) -> Option<String> {
    let is_id = id
        .strip_prefix(OWN_SHAPE)
        .is_some_and(|rest| rest.len() == 32 && rest.bytes().all(|byte| byte.is_ascii_hexdigit()));
    (!is_id).then(|| {
        format!(
            "“{}” is no id of a shape; they are {OWN_SHAPE} and 32 hexadecimal figures.",
            cut(id)
        )
    })
}

/// A drawn shape.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
#[cfg_attr(test, derive(JsonSchema))]
#[serde(deny_unknown_fields)]
pub struct Emblem {
    /// The name of a shipped shape, or the id of one of one's own: "shape-" and the first half of the
    /// SHA-256 of its document, in hexadecimal.
    pub shape: String,
    /// Across the shape before it is turned, 0.5 to 480 mm.
    pub width: Length,
    /// Stretched in height: 1 keeps the proportions, 0.1 to 10.
    pub stretch: f64,
    /// Turn in degrees, counter-clockwise.
    pub turn: f64,
    /// Whether left and right are exchanged.
    pub mirrored: bool,
    /// How many tips, teeth or crests a shape by numbers has, 3 to 60; other shapes do not read it.
    pub points: u32,
    /// How deep the valleys between them are, as a share of its radius, 0.05 to 0.95.
    pub depth: f64,
    /// How it meets the face.
    pub relief: Relief,
    /// Its colour, the id of one of the piece's filaments; nothing for that of the plate.
    pub colour: Option<String>,
    /// How deep it is rooted in what it stands on, if it stands up in a colour of its own, 0 to 100 mm; of something
    /// sunk, how deep its floor has that colour, where 0 is 0.6 mm.
    pub root: Length,
    /// How its edge is finished: the upper one where it stands up, the one at the face where it
    /// is sunk.
    pub edge: Edge,
    /// How its lines are drawn out, where its shape has lines.
    pub stroke: Stroke,
    /// What holds its inside where it is cut through, and its parts where it stands on the bed; nothing for none.
    pub bridges: Option<Bridges>,
    /// Where it sits.
    pub place: LetteringPlace,
    /// How often it is there.
    pub repeat: Repeat,
}

impl Emblem {
    /// How its shape is laid on the face.
    pub fn setting(&self) -> Setting {
        Setting {
            width: self.width.as_mm(),
            stretch: self.stretch,
            turn: self.turn,
            mirrored: self.mirrored,
        }
    }

    /// The numbers of its shape, if that goes by numbers.
    pub fn numbers(&self) -> Numbers {
        Numbers { points: self.points, depth: self.depth }
    }

    /// A plain one in the middle of the clear area, raised by 1 mm.
    pub fn plain(shape: &str, width: Length) -> Self {
        let Numbers { points, depth } = Numbers::default();
        Emblem {
            shape: shape.to_owned(),
            width,
            stretch: 1.0,
            turn: 0.0,
            mirrored: false,
            points,
            depth,
            relief: Relief::raised(1.0),
            colour: None,
            root: Length::ZERO,
            edge: Edge::Square,
            stroke: Stroke::default(),
            bridges: None,
            place: LetteringPlace::in_clear_area(),
            repeat: Repeat::Once,
        }
    }

    /// The id of its shape, if that is one of one's own.
    pub fn own_shape(&self) -> Option<&str> {
        Some(self.shape.as_str()).filter(|shape| shape.starts_with(OWN_SHAPE))
    }
}

impl Fields for Emblem {
    fn check(&self, checker: &mut Checker) {
        match self.own_shape() {
            Some(id) => {
                own_shape_problem(id)
                    .into_iter()
                    .for_each(|message| checker.report("shape", message));
            }
            None if emblem(&self.shape).is_none() => {
                checker.report("shape", format!("There is no emblem “{}”.", cut(&self.shape)));
            }
            None => {}
        }
        checker.length(&limits::EMBLEM_WIDTH, self.width);
        checker.number(&limits::EMBLEM_STRETCH, self.stretch);
        checker.count(&limits::EMBLEM_POINTS, self.points);
        checker.number(&limits::EMBLEM_DEPTH, self.depth);
        checker.angle("turn", self.turn);
        self.relief.check(checker);
        checker.length(&limits::ROOT, self.root);
        self.edge.check("edge", checker);
        self.stroke.check(checker);
        self.repeat.check(checker);
        if let Some(bridges) = &self.bridges {
            bridges.check(checker);
        }
        checker.lettering_place(&self.place);
    }

    fn relief(&self) -> Option<Relief> {
        Some(self.relief)
    }

    fn place(&self) -> Option<&LetteringPlace> {
        Some(&self.place)
    }

    fn place_mut(&mut self) -> Option<&mut LetteringPlace> {
        Some(&mut self.place)
    }

    fn colour(&self) -> Option<(&'static str, Option<&str>)> {
        Some(("colour", self.colour.as_deref()))
    }

    fn lose_colour(&mut self) {
        self.colour = None;
    }

    fn root(&self) -> Option<Length> {
        Some(self.root)
    }

    fn repeat(&self) -> Repeat {
        self.repeat
    }

    fn carries(&self, _: bool) -> bool {
        true
    }

    fn shift(&mut self, across: f64, up: f64) -> Result<(), &'static str> {
        self.place.shift(across, up);
        Ok(())
    }

    fn name(&self) -> String {
        match self.own_shape() {
            Some(_) => "own shape".to_owned(),
            None => self.shape.replace('-', " "),
        }
    }

    fn main_fields(&self) -> Vec<(&'static str, &'static str)> {
        vec![("shape", "Emblem"), ("width", "Emblem wide")]
    }
}
