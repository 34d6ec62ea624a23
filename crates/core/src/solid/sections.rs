//! A component as a stack of slabs.

use crate::plane::{Line, Region};

/// What a layer does to what lies below it in the order of work.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Act {
    /// Material is added.
    Adds,
    /// Material is taken away.
    Cuts,
    /// What is there takes another colour; nothing is added.
    Paints,
}

/// A colour, as an index into the filaments of the piece.
pub type Colour = u8;

/// One element's part in a slab.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Layer {
    /// Whether it adds or cuts.
    pub act: Act,
    /// The colour of what it adds or paints.
    pub colour: Colour,
    /// Its region at the foot of the slab, an index into [`Sections::footprints`].
    pub foot: usize,
    /// Its region at the head of the slab; the same as `foot` unless an edge profile tapers there.
    pub head: usize,
    /// What its slope follows, where foot and head differ.
    pub taper: Option<Taper>,
}

/// How the height of a slope follows from a distance: between foot and head it changes evenly with the
/// distance from an outline.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Taper {
    /// The outline distances are from, an index into [`Sections::footprints`].
    pub outline: usize,
    /// The distance at the foot of the slab, in mm.
    pub foot: f64,
    /// The distance at its head, in mm.
    pub head: f64,
}

impl Layer {
    /// A layer with upright walls.
    pub fn upright(act: Act, colour: Colour, footprint: usize) -> Self {
        Layer { act, colour, foot: footprint, head: footprint, taper: None }
    }
}

/// What is solid between two neighbouring heights.
#[derive(Debug, Clone, PartialEq)]
pub struct Slab {
    /// Lower height in mm.
    pub bottom: f64,
    /// Upper height in mm, above `bottom`.
    pub top: f64,
    /// The elements present here, in the order of work: each adds to, or cuts from, what those
    /// before it left.
    pub layers: Vec<Layer>,
}

/// A component as a stack of slabs, lowest first; the top of one is the bottom of the next.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Sections {
    /// The regions the layers refer to.
    pub footprints: Vec<Region>,
    /// Where the flanks of slopes meet.
    pub ridges: Vec<Line>,
    /// The slabs.
    pub slabs: Vec<Slab>,
}

impl Sections {
    /// The colours of what is added or painted, lowest first.
    pub fn colours(&self) -> Vec<Colour> {
        let layers = self.slabs.iter().flat_map(|slab| &slab.layers);
        let mut colours: Vec<Colour> =
            layers.filter(|layer| layer.act != Act::Cuts).map(|layer| layer.colour).collect();
        colours.sort_unstable();
        colours.dedup();
        colours
    }

    /// All heights in mm, lowest first: one more than there are slabs.
    pub fn heights(&self) -> Vec<f64> {
        let first = self.slabs.first().map(|slab| slab.bottom);
        first.into_iter().chain(self.slabs.iter().map(|slab| slab.top)).collect()
    }
}
