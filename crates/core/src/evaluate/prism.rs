//! Prisms: what every element comes to, whatever it is.

use crate::piece::{Edge, StrokeSection};
use crate::plane::{Region, Tolerance};
use crate::solid::{Act, Colour};

/// Material added or taken away between two heights.
#[derive(Debug, Clone, PartialEq)]
pub struct Prism {
    /// Whether it adds or cuts.
    pub act: Act,
    /// The colour of what it adds or paints, an index into the filaments of the piece.
    pub colour: Colour,
    /// Its outline between its edges.
    pub outline: Region,
    /// Lower height in mm; infinitely low for a cut that is open below.
    pub bottom: f64,
    /// Upper height in mm; infinite for a cut that is open above.
    pub top: f64,
    /// How the edge between the walls and the lower face is finished.
    pub bottom_edge: Edge,
    /// How the edge between the walls and the upper face is finished.
    pub top_edge: Edge,
    /// What it looks like cut across, where its top is no level face.
    pub crest: Option<Crest>,
    /// How far the outline is drawn in at its lower face, less and less towards the upper one, in mm.
    pub taper: f64,
    /// When it is carried out.
    pub order: Order,
}

/// The upper part of a prism that grows narrower upwards until next to nothing is left of it: the section of a
/// stroke.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Crest {
    section: StrokeSection,
    /// Half the width of the stroke, in mm.
    half: f64,
    /// How high it is, in mm.
    height: f64,
    /// The most the outline is drawn in, in mm: on the ridge a hair stays level.
    most: f64,
    /// Whether its ridge is at the lower face of the prism, as what stands on an underside has it.
    is_below: bool,
}

impl Crest {
    /// The crest of a stroke as wide as that, in mm; it has no height yet.
    pub fn new(section: StrokeSection, width: f64) -> Self {
        let half = width / 2.0;
        let most = match section {
            StrokeSection::Flat => 0.0,
            StrokeSection::Round => half,
            StrokeSection::Tapered(top) => (half - top.as_mm() / 2.0).max(0.0),
        };
        Crest { section, half, height: 0.0, most, is_below: false }
    }

    /// The same of a height in mm.
    pub fn over(self, height: f64) -> Self {
        Crest { height, ..self }
    }

    /// How far it draws the outline in at its ridge, in mm.
    pub fn most(self) -> f64 {
        self.most
    }

    /// The same that draws the outline in by no more than that.
    pub fn up_to(self, most: f64) -> Self {
        Crest { most, ..self }
    }

    /// The same turned over.
    pub fn turned_over(self) -> Self {
        Crest { is_below: !self.is_below, ..self }
    }

    /// How far it draws the outline in, at distances from its ridge, as [`profile`] has it. Half an ellipse is
    /// drawn in by `b (1 − √(1 − (z/h)²))` at the height `z` (equation of the ellipse); its chords stray no
    /// further than those of a circle about it.
    fn profile(&self, tolerance: Tolerance) -> Vec<(f64, f64)> {
        let mut points = vec![(0.0, self.most)];
        if self.section == StrokeSection::Round {
            let round = crate::plane::quarter_arc(self.half.max(self.height), tolerance);
            let points_of = round.map(|(c, s)| (self.height * (1.0 - c), self.half * (1.0 - s)));
            points.extend(points_of.filter(|(at, inset)| *at > 0.0 && *inset < self.most));
        } else {
            // Where the ridge cannot be as sharp, the slope is still the same and ends in an upright hair.
            let asked = Crest::new(self.section, 2.0 * self.half).most.max(self.most);
            if asked > 0.0 {
                points.push((self.height * (1.0 - self.most / asked), self.most));
                points.push((self.height, 0.0));
            }
        }
        points
    }
}

/// When a prism is carried out, whatever the order of the document.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord)]
pub enum Order {
    /// Before everything that stands on the face: fields are sunk first, so that what lies in them does
    /// not depend on which came first.
    First,
    /// After the fields: halos, so that what they go round stands on them.
    Beneath,
    /// In the order of the document.
    InTurn,
    /// After everything else: holes and what is cut through go through whatever is there.
    Last,
}

impl Order {
    /// All of them, in their order.
    pub const ALL: [Order; 4] = [Order::First, Order::Beneath, Order::InTurn, Order::Last];
}

/// How far an edge profile draws the outline in, at distances from its face; both in mm, the face
/// first. Between the points the profile is straight.
///
/// A round is a quarter circle cut into chords: at the distance `r (1 − cos a)` it is drawn in by
/// `r (1 − sin a)`, and a chord over the angle `a` strays by `r (1 − cos(a/2))` (elementary
/// geometry).
fn profile(edge: Edge, tolerance: Tolerance) -> Vec<(f64, f64)> {
    match edge {
        Edge::Square => Vec::new(),
        Edge::Chamfer(size) => vec![(0.0, size.as_mm()), (size.as_mm(), 0.0)],
        Edge::Round(radius) => {
            let r = radius.as_mm();
            crate::plane::quarter_arc(r, tolerance)
                .map(|(c, s)| (r * (1.0 - c), r * (1.0 - s)))
                .collect()
        }
    }
}

/// The inset of a profile at a distance from its face.
fn inset(profile: &[(f64, f64)], distance: f64) -> f64 {
    let Some(after) = profile.iter().position(|(at, _)| *at >= distance) else { return 0.0 };
    let (at, here) = profile[after];
    let Some(before) = after.checked_sub(1) else { return here };
    let (from, there) = profile[before];
    there + (here - there) * (distance - from) / (at - from)
}

impl Prism {
    /// A prism with square edges, of the first colour.
    pub fn square(act: Act, outline: Region, bottom: f64, top: f64) -> Self {
        let (bottom_edge, top_edge) = (Edge::Square, Edge::Square);
        let order = Order::InTurn;
        Prism {
            act,
            colour: 0,
            outline,
            bottom,
            top,
            bottom_edge,
            top_edge,
            crest: None,
            taper: 0.0,
            order,
        }
    }

    /// Whether its walls are anything but upright up to level faces.
    pub fn is_treated(&self) -> bool {
        self.top_edge.size() + self.bottom_edge.size() > 0.0 || self.crest.is_some()
    }

    /// The same in a colour.
    pub fn in_colour(self, colour: Colour) -> Self {
        Prism { colour, ..self }
    }

    /// Its profiles, the heights of its faces with them.
    pub(super) fn profiles(&self, tolerance: Tolerance) -> Profiles {
        let end = |is_below: bool, edge: Edge| match &self.crest {
            Some(crest) if crest.is_below == is_below => crest.profile(tolerance),
            _ => profile(edge, tolerance),
        };
        Profiles {
            bottom: (self.bottom, end(true, self.bottom_edge)),
            top: (self.top, end(false, self.top_edge)),
            taper: self.taper,
        }
    }
}

/// The edge profiles of a prism, worked out.
pub(super) struct Profiles {
    bottom: (f64, Vec<(f64, f64)>),
    top: (f64, Vec<(f64, f64)>),
    taper: f64,
}

impl Profiles {
    /// The heights at which the prism starts, ends or changes slope, in mm.
    pub fn breaks(&self) -> impl Iterator<Item = f64> + '_ {
        let (bottom, top) = (self.bottom.0, self.top.0);
        let rising = self.bottom.1.iter().map(move |(distance, _)| bottom + distance);
        let falling = self.top.1.iter().map(move |(distance, _)| top - distance);
        [bottom, top].into_iter().chain(rising).chain(falling).filter(|height| height.is_finite())
    }

    /// How far the outline is drawn in at a height, in mm. (A cut is widened by as much.)
    pub fn inset_at(&self, height: f64) -> f64 {
        let low = inset(&self.bottom.1, height - self.bottom.0);
        let high =
            if self.top.0.is_finite() { inset(&self.top.1, self.top.0 - height) } else { 0.0 };
        let tapered = match self.taper {
            0.0 => 0.0,
            taper => taper * (self.top.0 - height) / (self.top.0 - self.bottom.0),
        };
        low.max(high) + tapered
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::units::Length;

    #[test]
    fn profiles_are_true_to_the_quarter_circle_and_the_slope() {
        let chamfer = profile(Edge::Chamfer(Length::mm(0.6)), Tolerance::Normal);
        assert!((inset(&chamfer, 0.0) - 0.6).abs() < 1e-12);
        assert!((inset(&chamfer, 0.2) - 0.4).abs() < 1e-12);
        assert_eq!(inset(&chamfer, 0.7), 0.0);
        let round = profile(Edge::Round(Length::mm(2.0)), Tolerance::Fine);
        for distance in [0.0, 0.1, 0.5, 1.0, 1.9, 2.0] {
            // r − √(r² − (r − d)²) from the outline (circle equation).
            let exact = 2.0 - (4.0f64 - (2.0 - distance) * (2.0 - distance)).sqrt();
            assert!((inset(&round, distance) - exact).abs() < 0.02, "{distance}");
        }
    }
}
