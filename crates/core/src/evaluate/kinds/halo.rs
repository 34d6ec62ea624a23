//! Halos: borders that follow figures at a distance.

use super::super::contour::closed;
use super::super::ground::{Figure, Ground};
use super::super::prism::Order;
use super::super::relations::Boxes;
use super::super::relief::{Floor, TopForm};
use super::Work;
use crate::evaluate::{Drawn, Placed, Prism};
use crate::piece::{Edge, Element, Halo, HaloCorners, Height, Relief, RoundWhat};
use crate::plane::{Join, Rect, Region};
use crate::units::Length;

impl Work for Halo {
    /// What it goes round stands on it, or on the floor of what is sunk.
    fn place(&self, head: &Element, ground: &mut Ground<'_>) -> Placed {
        let round = self.goes_round(ground);
        let points = self.work_round(&round);
        if points > MOST_POINTS {
            let nothing = Rect::centred(0.0, 0.0);
            let drawn = Drawn { too_many: points, ..Drawn::default() };
            let placed = ground.placed(head, Region::default(), nothing, Vec::new());
            return Placed { drawn, ..placed };
        }
        let steps = self.steps_on(&round, ground);
        let widest = steps.first().map(|step| step.region.clone()).unwrap_or_default();
        let frame = widest.bounds().unwrap_or(Rect::centred(0.0, 0.0));
        let mut prisms = Vec::new();
        let mut laid = Vec::new();
        for step in steps {
            let (of_step, heights) = self.step_on(&step, ground);
            prisms.extend(of_step);
            laid.extend(heights);
        }
        // The narrowest comes last, so that it is what is met there.
        laid.into_iter().for_each(|(region, height)| ground.lay(region, height));
        prisms.iter_mut().for_each(|prism| prism.order = Order::Beneath);
        ground.placed(head, widest, frame, prisms)
    }

    fn figure(&self, _: &Element, ground: &Ground<'_>) -> Option<Figure> {
        let round = self.goes_round(ground);
        if self.work_round(&round) > MOST_POINTS {
            return None;
        }
        let region = self.region(&round, self.reach(), ground);
        let frame = region.bounds()?;
        Some(Figure { region, frame, drawn: Drawn::default(), field: None, seats: Vec::new() })
    }

    fn asked(&self, _: &Ground<'_>) -> Option<Boxes> {
        None
    }
}

/// The most points a halo goes round, as [`Halo::work_round`] counts them: so many take about two seconds to work
/// out for the page.
const MOST_POINTS: usize = 200_000;

/// One step of a halo.
struct Step {
    region: Region,
    /// How many heights of a step its top, or its floor, is away from what lies below.
    times: u32,
}

impl Halo {
    /// What it goes round.
    fn goes_round(&self, ground: &Ground<'_>) -> Region {
        let figures = ground
            .on_face()
            .filter(|element| element.is_figure() && self.round.has(&element.id))
            .filter_map(|element| Some(ground.figure_of(element)?.takes().clone()));
        Region::gather(figures.collect())
    }

    /// How much work it is: the points it goes round in all its steps, more the further it reaches, since what is
    /// grown far crosses many others.
    fn work_round(&self, round: &Region) -> usize {
        /// Reaching so far once more counts for as much again, in mm.
        const FURTHER_MM: f64 = 3.0;
        let reach = self.reach() + self.crevices.as_mm() / 2.0;
        let points = round.vertex_count() as f64 * f64::from(self.steps.max(1));
        (points * (1.0 + reach / FURTHER_MM)) as usize
    }

    /// Everything within a distance of what it goes round, in mm, crevices closed and openings filled.
    fn region(&self, round: &Region, distance: f64, ground: &Ground<'_>) -> Region {
        let tolerance = ground.workshop.tolerance;
        let join = match self.corners {
            HaloCorners::Round => Join::Round,
            HaloCorners::Sharp => Join::Sharp,
            HaloCorners::Bevelled => Join::Bevel,
        };
        let grown = match join {
            Join::Round => ground.workshop.cache.offset(round, distance, tolerance),
            Join::Sharp | Join::Pointed | Join::Bevel => {
                round.offset_joined(distance, join, tolerance)
            }
        };
        closed(grown, self.crevices.as_mm(), self.gaps.as_mm(), tolerance)
    }

    /// Its steps, the widest first.
    fn steps_on(&self, round: &Region, ground: &Ground<'_>) -> Vec<Step> {
        let count = match self.relief {
            Relief::Raised(Height::By(_) | Height::Fraction(_)) | Relief::Recessed(_) => self.steps,
            // What has one height, or none, has one step.
            Relief::Raised(_) | Relief::Flush(_) | Relief::Through => 1,
        };
        let step = |further: u32| {
            let distance = self.distance.as_mm() + f64::from(further) * self.widen.as_mm();
            Step { region: self.region(round, distance, ground), times: count - further }
        };
        (0..count.max(1)).rev().map(step).filter(|step| !step.region.is_empty()).collect()
    }

    /// The prisms of a step, and what height the ground has on its parts then.
    fn step_on(&self, step: &Step, ground: &Ground<'_>) -> (Vec<Prism>, Vec<(Region, f64)>) {
        let times = f64::from(step.times);
        let raised = |height: Height, top: &dyn Fn(f64) -> f64| {
            let form = TopForm::Edge(self.edge);
            let relief = Relief::Raised(height);
            let prisms = ground.relief(&step.region, relief, form, self.root);
            let parts = ground.parts(&step.region).into_iter();
            (prisms, parts.map(|(part, below)| (part, top(below).max(below))).collect())
        };
        let thickness = ground.face.thickness;
        match self.relief {
            Relief::Raised(Height::By(height)) => {
                let height = Length::mm(height.as_mm() * times);
                raised(Height::By(height), &|below| below + height.as_mm())
            }
            Relief::Raised(Height::Fraction(share)) => {
                let share = share * times;
                raised(Height::Fraction(share), &|below| below + share * thickness)
            }
            Relief::Raised(height @ Height::FromFoot(top)) => raised(height, &|_| top.as_mm()),
            Relief::Raised(height @ Height::LevelWithRim) => {
                let top = thickness + ground.rim.unwrap_or(1.0);
                raised(height, &|_| top)
            }
            Relief::Raised(height @ Height::LevelWithFace) => raised(height, &|_| thickness),
            Relief::Recessed(depth) => {
                let floors = ground.parts(&step.region).into_iter().map(|(region, from)| {
                    let deep = (from - depth.floor(from)) * times;
                    let floor = (from - deep).clamp(0.0, from);
                    (Floor { region, ground: from, height: floor }, floor)
                });
                let mut prisms = Vec::new();
                let mut laid = Vec::new();
                for (cut, height) in floors {
                    laid.push((cut.region.clone(), height));
                    prisms.extend(cut.cut(self.edge));
                }
                (prisms, laid)
            }
            Relief::Flush(_) | Relief::Through => {
                let form = TopForm::Edge(Edge::Square);
                (ground.relief(&step.region, self.relief, form, self.root), Vec::new())
            }
        }
    }

    /// One step of 0.8 mm all round everything, in the colour of the blank.
    pub(super) fn fresh(ground: &Ground<'_>) -> Self {
        Halo {
            round: RoundWhat::All,
            distance: ground.customary(1.2, 1.0 / 16.0),
            corners: HaloCorners::Round,
            crevices: ground.customary(0.8, 1.0 / 32.0),
            gaps: Length::ZERO,
            steps: 1,
            widen: ground.customary(0.8, 1.0 / 32.0),
            relief: ground.customary_relief(ground.customary(0.8, 1.0 / 32.0)),
            colour: None,
            root: Length::ZERO,
            edge: Edge::Square,
        }
    }
}
