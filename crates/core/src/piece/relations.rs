//! What elements of a component have to do with each other: one is placed by another, a halo goes round some, a
//! pattern fills one.

use super::check::{Checker, cut};
use super::{Component, Course, Element, FaceName, Fills, Kind, Lettering, Outline, RoundWhat};
use std::collections::HashSet;

/// The most elements that are placed one by another.
const LONGEST_CHAIN: usize = 50;

impl Component {
    /// Whether its outline follows what is on its front.
    fn follows_front(&self) -> bool {
        matches!(self.outline(), Some(Outline::Contour(_)))
    }

    /// Whether a halo goes round an element.
    fn goes_round(&self, halo: &str, id: &str) -> bool {
        match self.element(halo).map(|element| &element.kind) {
            Some(Kind::Halo(halo)) => halo.round.has(id),
            _ => false,
        }
    }

    /// Whether an element of this id can be what another one on a face is placed by.
    fn can_place(&self, id: &str, face: FaceName) -> bool {
        let other = self.element(id).filter(|other| other.face == face);
        other.is_some_and(|other| other.kind.fields().carries(self.follows_front()))
    }

    /// Whether an element's place by another one has come to nothing: that is gone, is elsewhere, or is placed by
    /// it in turn.
    pub(crate) fn is_let_go(&self, element: &Element) -> bool {
        element.placed_by().is_some_and(|by| !self.can_place(by, element.face))
    }

    /// The elements from one that is placed by another up to the one that is placed by none; nothing where
    /// they go round in a circle.
    fn chain_of<'a>(&'a self, element: &'a Element) -> Option<Vec<&'a Element>> {
        let mut chain = vec![element];
        let mut seen = HashSet::from([element.id.as_str()]);
        while let Some(by) = chain.last().and_then(|one| one.placed_by()) {
            if !seen.insert(by) {
                return None;
            }
            match self.element(by) {
                Some(next) => chain.push(next),
                None => break,
            }
        }
        Some(chain)
    }

    /// The elements that are placed by one, one by another.
    fn followers_of<'a>(&'a self, id: &'a str) -> HashSet<&'a str> {
        let mut found = HashSet::from([id]);
        loop {
            let before = found.len();
            for element in &self.elements {
                if element.placed_by().is_some_and(|by| found.contains(by)) {
                    found.insert(&element.id);
                }
            }
            if found.len() == before {
                return found;
            }
        }
    }

    /// The elements an element could be placed by: of its face, and not placed by it themselves. For a halo those it
    /// could go round, for a pattern those it could fill.
    pub fn others_for(&self, element: &Element) -> Vec<&Element> {
        let on_face = |other: &&Element| other.face == element.face && other.id != element.id;
        let others = self.elements.iter().filter(on_face);
        match &element.kind {
            Kind::Halo(_) => others.filter(|other| other.is_figure()).collect(),
            // Also what words could run along.
            Kind::Lettering(Lettering { course: Course::Outline(_), .. }) => others
                .filter(|other| match &other.kind {
                    Kind::Recess(_) => true,
                    Kind::Halo(halo) => !halo.round.has(&element.id),
                    _ => false,
                })
                .collect(),
            Kind::Pattern(_) => others
                .filter(|other| matches!(other.kind, Kind::Recess(_) | Kind::Halo(_)))
                .collect(),
            _ if element.place().is_none() => Vec::new(),
            _ => {
                let followers = self.followers_of(&element.id);
                others
                    .filter(|other| !followers.contains(other.id.as_str()))
                    .filter(|other| self.can_place(&other.id, element.face))
                    .collect()
            }
        }
    }

    pub(super) fn check_relations(&self, path: &str, checker: &mut Checker) {
        for (j, element) in self.elements.iter().enumerate() {
            let at = format!("{path}elements[{j}].kind.{}.", element.tag().word());
            checker.at(self.element_address(&element.id), at);
            self.check_place(element, checker);
            let has_outline =
                |other: &Element| matches!(other.kind, Kind::Recess(_) | Kind::Halo(_));
            let missing = |id: &str, among: &dyn Fn(&Element) -> bool| {
                !self.element(id).is_some_and(|other| other.face == element.face && among(other))
            };
            match &element.kind {
                Kind::Halo(halo) => {
                    let RoundWhat::These(ids) = &halo.round else { continue };
                    if let Some(id) = ids.iter().find(|id| missing(id, &Element::is_figure)) {
                        let message = format!(
                            "“{}” is no lettering, emblem or code of this face for a halo to go round.",
                            cut(id)
                        );
                        checker.report("round", message);
                    }
                }
                Kind::Pattern(pattern) => {
                    let Fills::Element(id) = &pattern.fills else { continue };
                    if missing(id, &has_outline) {
                        let message = format!(
                            "“{}” is no recess or halo of this face for a pattern to fill.",
                            cut(id)
                        );
                        checker.report("fills", message);
                    }
                }
                Kind::Lettering(lettering) => {
                    let Course::Outline(course) = &lettering.course else { continue };
                    let message = match &course.of {
                        Fills::Element(id) if missing(id, &has_outline) => {
                            format!("“{}” is no recess or halo of this face for words to run along.", cut(id))
                        }
                        Fills::Face if self.follows_front() && element.face == FaceName::Front => {
                            "A contour follows its words; they cannot run along it. Let them run along a circle."
                                .to_owned()
                        }
                        Fills::Element(id) if self.goes_round(id, &element.id) => {
                            "The halo goes round these words; they cannot run along it. Let it go round others."
                                .to_owned()
                        }
                        _ => continue,
                    };
                    checker.report("course", message);
                }
                _ => {}
            }
        }
    }

    fn check_place(&self, element: &Element, checker: &mut Checker) {
        let Some(by) = element.placed_by() else { return };
        let own = element.name();
        let Some(chain) = self.chain_of(element) else {
            let other = self.element(by).map_or_else(|| by.to_owned(), Element::name);
            let message = match by == element.id {
                true => format!("“{}” cannot be placed by itself.", cut(&own)),
                false => format!(
                    "“{}” cannot be placed by “{}”, which is placed by it in turn.",
                    cut(&own),
                    cut(&other)
                ),
            };
            checker.report("place.by", message);
            return;
        };
        if chain.len() > LONGEST_CHAIN {
            let message =
                format!("{LONGEST_CHAIN} elements are the most that are placed one by another.");
            checker.report("place.by", message);
        } else if !self.can_place(by, element.face) {
            let message =
                format!("On this face is no “{}” that something could be placed by.", cut(by));
            checker.report("place.by", message);
        }
    }
}
