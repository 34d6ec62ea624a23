//! Elements by height: the interface every element answers to, whatever it is.

use crate::plane::Region;
use crate::solid::Act;
use std::borrow::Cow;

/// How the edge between a wall and a level face is finished.
///
/// A profile says how far the outline is drawn in at a distance from that face. Only the square
/// edge exists so far; chamfers and rounds answer the same two questions.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub enum EdgeProfile {
    /// The wall meets the face at a right angle.
    #[default]
    Square,
}

impl EdgeProfile {
    /// How far from its face the profile reaches along the wall, in mm.
    pub fn reach(self) -> f64 {
        match self {
            EdgeProfile::Square => 0.0,
        }
    }

    /// How far the outline is drawn in at `depth` mm from the face, in mm.
    pub fn inset(self, _depth: f64) -> f64 {
        match self {
            EdgeProfile::Square => 0.0,
        }
    }
}

/// The profiles at both ends of a prism.
#[derive(Debug, Clone, Copy, PartialEq, Default)]
pub struct Edges {
    /// Where the walls meet the lower face.
    pub bottom: EdgeProfile,
    /// Where the walls meet the upper face.
    pub top: EdgeProfile,
}

/// Material added or taken away between two heights.
#[derive(Debug, Clone, PartialEq)]
pub struct Prism<'a> {
    /// Whether it adds or cuts.
    pub act: Act,
    /// Its full outline.
    pub outline: &'a Region,
    /// Lower height in mm.
    pub bottom: f64,
    /// Upper height in mm; infinite for a cut that is open above.
    pub top: f64,
    /// How its edges are finished.
    pub edges: Edges,
}

impl Prism<'_> {
    /// The heights at which it starts, ends or changes slope, in mm.
    pub fn breaks(&self) -> impl Iterator<Item = f64> {
        let Edges { bottom, top } = self.edges;
        let all = [self.bottom, self.bottom + bottom.reach(), self.top - top.reach(), self.top];
        all.into_iter().filter(|height| height.is_finite())
    }

    /// Whether it is there all the way between two heights.
    pub fn spans(&self, low: f64, high: f64) -> bool {
        self.bottom <= low && high <= self.top
    }

    /// Its region at a height within its span: the outline, drawn in as its edges ask.
    pub fn region_at(&self, height: f64) -> Cow<'_, Region> {
        let inset = self
            .edges
            .bottom
            .inset(height - self.bottom)
            .max(self.edges.top.inset(self.top - height));
        debug_assert_eq!(inset, 0.0, "square edges draw nothing in");
        Cow::Borrowed(self.outline)
    }
}
