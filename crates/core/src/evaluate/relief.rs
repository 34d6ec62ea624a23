//! Reliefs: what something raised, sunk, inlaid or cut through comes to as prisms.
//!
//! Every part of a figure starts from the ground that lies below that part: letters that reach across
//! the edge of a recess stand on its floor inside and on the face outside.

use super::ground::{Figure, Ground};
use super::prism::{Crest, Order};
use super::{Drawn, Placed, Prism};
use crate::piece::{BothEdges, Bridges, Depth, Edge, Element, Height, Relief};
use crate::plane::{Rect, Region};
use crate::solid::Act;
use crate::units::Length;
use std::rc::Rc;

/// What the top of something raised looks like.
#[derive(Debug, Clone, Copy)]
pub(super) enum TopForm {
    /// Level, its edge finished.
    Edge(Edge),
    /// A section all along.
    Crest(Crest),
}

impl TopForm {
    /// The edge of what is not raised, or does not stand alone.
    fn edge(self) -> Edge {
        match self {
            TopForm::Edge(edge) => edge,
            TopForm::Crest(_) => Edge::Square,
        }
    }

    fn on(self, prism: Prism) -> Prism {
        match self {
            TopForm::Edge(edge) => Prism { top_edge: edge, ..prism },
            TopForm::Crest(crest) => {
                Prism { crest: Some(crest.over(prism.top - prism.bottom)), ..prism }
            }
        }
    }
}

impl Ground<'_> {
    /// A figure in relief.
    pub fn in_relief(
        &self,
        head: &Element,
        figure: Option<Rc<Figure>>,
        relief: Relief,
        top: TopForm,
        root: Length,
    ) -> Placed {
        let (region, frame, drawn) = match figure {
            Some(figure) => (figure.region.clone(), figure.frame, figure.drawn.clone()),
            None => (Region::default(), Rect::centred(0.0, 0.0), Drawn::default()),
        };
        let bridging = self.bridging(head);
        let (region, prisms) = match &bridging {
            None => {
                let prisms = self.relief(&region, relief, top, root);
                (region, prisms)
            }
            Some(bridging) if relief == Relief::Through => {
                let height = head.bridges().and_then(Bridges::height).unwrap_or(f64::INFINITY);
                // By the strips themselves: cut to the outline first, rounding would leave a hair between.
                let open = region.difference(&bridging.strips);
                let prisms = bridged_cut(&region, &open, self.face.thickness, height, top.edge());
                (open, prisms)
            }
            Some(bridging) => {
                let mut prisms = self.relief(&region, relief, top, root);
                let tall = prisms.first().map_or(0.0, |prism| prism.top);
                let height = head.bridges().and_then(Bridges::height).unwrap_or(tall).min(tall);
                let held = bridging.strips.clone();
                prisms.push(Prism::square(Act::Adds, held, 0.0, height));
                (region.union(&bridging.strips), prisms)
            }
        };
        Placed { drawn, bridging, ..self.placed(head, region, frame, prisms) }
    }

    /// The prisms of a region in relief, and what roots them in what they stand on.
    pub fn relief(
        &self,
        region: &Region,
        relief: Relief,
        form: TopForm,
        root: Length,
    ) -> Vec<Prism> {
        let thickness = self.face.thickness;
        let parts = || self.parts(region);
        match relief {
            Relief::Raised(Height::By(height)) => {
                self.raised(parts(), |ground| ground + height.as_mm(), form, root)
            }
            Relief::Raised(Height::Fraction(share)) => {
                self.raised(parts(), |ground| ground + share * thickness, form, root)
            }
            Relief::Raised(Height::FromFoot(height)) => {
                let prism = Prism::square(Act::Adds, region.clone(), 0.0, height.as_mm());
                vec![form.on(prism)]
            }
            Relief::Raised(Height::LevelWithRim) => {
                let top = thickness + self.rim.unwrap_or(1.0);
                self.raised(parts(), |_| top, form, root)
            }
            Relief::Raised(Height::LevelWithFace) => {
                self.raised(parts(), |_| thickness, form, root)
            }
            Relief::Recessed(depth) => self.sunk(region, depth, form.edge()),
            Relief::Flush(depth) => {
                let paint = |(part, ground): (Region, f64)| {
                    let floor = (ground - depth.as_mm()).max(0.0);
                    Prism::square(Act::Paints, part, floor, ground)
                };
                parts().into_iter().map(paint).collect()
            }
            Relief::Through => {
                let edge = form.edge();
                through_cut(region, thickness, BothEdges { top: edge, bottom: edge })
            }
        }
    }

    /// Cuts that are open towards the face, each part as deep as is asked from its own ground.
    fn sunk(&self, region: &Region, depth: Depth, edge: Edge) -> Vec<Prism> {
        let floors = self.floors(region, depth).into_iter();
        floors.flat_map(|floor| floor.cut(edge)).collect()
    }

    /// The floors of something sunk into the face: each part as deep as is asked from its own ground.
    pub fn floors(&self, region: &Region, depth: Depth) -> Vec<Floor> {
        let floor = |(region, ground): (Region, f64)| {
            let height = depth.floor(ground).clamp(0.0, ground);
            Floor { region, ground, height }
        };
        self.parts(region).into_iter().map(floor).collect()
    }

    /// What stands on the parts of a figure, up to a height that follows from the ground.
    fn raised(
        &self,
        mut parts: Vec<(Region, f64)>,
        top_over: impl Fn(f64) -> f64,
        form: TopForm,
        root: Length,
    ) -> Vec<Prism> {
        let edge = form.edge();
        parts.retain(|(_, ground)| top_over(*ground) > *ground);
        let tops: Vec<f64> = parts.iter().map(|(_, ground)| top_over(*ground)).collect();
        let is_even = tops.iter().all(|top| *top == tops[0]);
        let stump = |(part, ground): &(Region, f64), top: f64| {
            Prism::square(Act::Adds, part.clone(), *ground, top)
        };
        let mut prisms: Vec<Prism> = Vec::new();
        if is_even && parts.len() > 1 {
            // One top over all of it, so that no edge runs along the steps of the ground below.
            let step = parts.iter().map(|(_, ground)| *ground).fold(0.0, f64::max);
            let uneven = parts.iter().filter(|(_, ground)| *ground < step);
            let all = parts.iter().fold(Region::default(), |all, (part, _)| all.union(part));
            let over = Prism::square(Act::Adds, all, step, tops[0]);
            prisms.push(form.on(over));
            prisms.extend(uneven.map(|part| stump(part, step)));
        } else {
            for (i, part) in parts.iter().enumerate() {
                let mut stands = form.on(stump(part, tops[i]));
                // Where a higher part stands beside it, it goes on below that, and has no edge there.
                let higher = parts.iter().zip(&tops).filter(|(_, top)| **top > tops[i]);
                let beside =
                    higher.fold(Region::default(), |all, ((other, _), _)| all.union(other));
                if edge.size() > 0.0 && !beside.is_empty() {
                    let near = part.0.offset(edge.size(), self.workshop.tolerance);
                    stands.outline = part.0.union(&near.intersection(&beside));
                }
                prisms.push(stands);
            }
        }
        if root > Length::ZERO {
            prisms.extend(parts.into_iter().filter_map(|(part, ground)| {
                let foot = (ground - root.as_mm()).max(0.0);
                (foot < ground).then(|| Prism::square(Act::Paints, part, foot, ground))
            }));
        }
        prisms
    }
}

/// The floor of something sunk into the ground; heights in mm.
pub(super) struct Floor {
    pub region: Region,
    /// What it is sunk from.
    pub ground: f64,
    pub height: f64,
}

impl Floor {
    /// The cut down to it.
    pub fn cut(&self, edge: Edge) -> Vec<Prism> {
        let edges = BothEdges { top: edge, bottom: Edge::Square };
        open_cut(&self.region, self.height, self.ground, edges)
    }
}

/// A cut from a floor to the face, its edge at the face widened, and straight on above it through
/// whatever stands there.
pub(super) fn open_cut(region: &Region, floor: f64, face: f64, edges: BothEdges) -> Vec<Prism> {
    let below = Prism {
        top_edge: edges.top,
        bottom_edge: edges.bottom,
        ..Prism::square(Act::Cuts, region.clone(), floor, face)
    };
    vec![below, Prism::square(Act::Cuts, region.clone(), face, f64::INFINITY)]
}

/// A cut through the body that leaves its bridges: all of it above their height, what lies open between them below.
fn bridged_cut(region: &Region, open: &Region, face: f64, height: f64, edge: Edge) -> Vec<Prism> {
    let edges = BothEdges { top: edge, bottom: edge };
    if height >= face {
        return through_cut(open, face, edges);
    }
    let top_alone = BothEdges { top: edge, bottom: Edge::Square };
    let mut cut = open_cut(region, height, face, top_alone);
    let below = Prism::square(Act::Cuts, open.clone(), 0.0, height);
    cut.push(Prism { bottom_edge: edge, ..below });
    cut.push(Prism::square(Act::Cuts, open.clone(), f64::NEG_INFINITY, 0.0));
    cut.into_iter().map(|prism| Prism { order: Order::Last, ..prism }).collect()
}

/// A cut through the body, its edges at both faces widened, and straight on through whatever stands on
/// them, after all of it.
pub(super) fn through_cut(region: &Region, face: f64, edges: BothEdges) -> Vec<Prism> {
    let mut cut = open_cut(region, 0.0, face, edges);
    cut.push(Prism::square(Act::Cuts, region.clone(), f64::NEG_INFINITY, 0.0));
    cut.into_iter().map(|prism| Prism { order: Order::Last, ..prism }).collect()
}
