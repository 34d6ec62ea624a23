//! A component as a stack of slabs.

use crate::plane::{Cover, Region};

/// What a layer does to what lies below it in the order of work.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Act {
    /// Material is added.
    Adds,
    /// Material is taken away.
    Cuts,
}

/// One element's part in a slab.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Layer {
    /// Whether it adds or cuts.
    pub act: Act,
    /// Its region at the foot of the slab, an index into [`Sections::footprints`].
    pub foot: usize,
    /// Its region at the head of the slab; the same as `foot` unless an edge profile tapers there.
    pub head: usize,
}

impl Layer {
    /// A layer with upright walls.
    pub fn upright(act: Act, footprint: usize) -> Self {
        Layer { act, foot: footprint, head: footprint }
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
    /// The slabs.
    pub slabs: Vec<Slab>,
}

impl Sections {
    /// All heights in mm, lowest first: one more than there are slabs.
    pub fn heights(&self) -> Vec<f64> {
        let first = self.slabs.first().map(|slab| slab.bottom);
        first.into_iter().chain(self.slabs.iter().map(|slab| slab.top)).collect()
    }
}

impl Slab {
    /// Whether a place is solid at the foot and at the head, given which footprints cover it.
    pub(super) fn is_solid(&self, cover: Cover) -> (bool, bool) {
        let mut solid = (false, false);
        for layer in &self.layers {
            let adds = layer.act == Act::Adds;
            if cover.has(layer.foot) {
                solid.0 = adds;
            }
            if cover.has(layer.head) {
                solid.1 = adds;
            }
        }
        solid
    }
}
