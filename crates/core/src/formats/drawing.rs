//! A piece as flat outlines, before they are written as SVG or DXF.

use crate::filament::Rgb;
use crate::plane::Region;

/// A piece as outlines for engravers and laser cutters: a layer for the outline that is cut, and one
/// for everything that is engraved or stands up equally far in the same colour. Lengths in mm, true to
/// size, as it is seen from the front.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Drawing {
    /// The layers, the one that is cut first.
    pub layers: Vec<DrawnLayer>,
}

/// A layer of a drawing.
#[derive(Debug, Clone, PartialEq)]
pub struct DrawnLayer {
    /// What it is: "cut", "raised 1.5 mm, Sail white", "back, recessed 1 mm".
    pub name: String,
    /// What is drawn.
    pub region: Region,
    /// Its colour.
    pub colour: Rgb,
}
