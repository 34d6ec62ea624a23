//! Whose outline a point of a section lies on.

use crate::evaluate::{Along, Made, Placed, Slice};
use crate::piece::{Component, Element, ElementKind};
use crate::plane::{Rect, Region};
use crate::solid::{Act, Colour};

/// What owns a part of an outline: an element that was put there, or the blank.
#[derive(Clone, Copy)]
pub(super) enum Owner<'a> {
    Element(&'a Element, &'a Placed),
    Blank,
}

impl Owner<'_> {
    pub fn id(&self) -> Option<&str> {
        match self {
            Owner::Element(_, placed) => Some(&placed.id),
            Owner::Blank => None,
        }
    }

    pub fn kind(&self) -> Option<ElementKind> {
        match self {
            Owner::Element(_, placed) => Some(placed.kind),
            Owner::Blank => None,
        }
    }

    /// Whether it is an element that adds another colour.
    pub fn is_of_another(&self, colour: Colour) -> bool {
        matches!(self, Owner::Element(_, placed) if placed.act != Act::Cuts && placed.colour != colour)
    }

    /// Whether it stands on the bed beside or through the blank.
    pub fn stands_on_the_bed(&self) -> bool {
        matches!(self, Owner::Element(element, _) if element.stands_on_the_bed())
    }

    /// The height of its letters in mm, for lettering.
    pub fn letter_height(&self) -> f64 {
        match self {
            Owner::Element(_, placed) => placed.drawn.letter_height,
            Owner::Blank => 0.0,
        }
    }

    /// Whether it takes material away where it ends.
    pub fn cuts(&self) -> bool {
        matches!(self, Owner::Element(_, placed) if placed.act == Act::Cuts)
    }
}

/// How near an outline a point lies that is on it, in mm: what offsetting and cutting a mesh stray by.
const ON_IT_MM: f64 = 0.02;

/// The outlines that make up a slice.
pub(super) struct Owners<'a> {
    outlines: Vec<(Owner<'a>, &'a Region, Rect)>,
}

impl<'a> Owners<'a> {
    /// Those of a slice, what was carried out last first.
    pub fn of(component: &'a Component, made: &'a Made, slice: &'a Slice) -> Self {
        let element =
            |placed: &Placed| component.elements.iter().find(|element| element.id == placed.id);
        let mut outlines: Vec<_> = made
            .present(slice)
            .filter_map(|(placed, prism)| {
                let owner = Owner::Element(element(placed)?, placed);
                Some((owner, &prism.outline, prism.outline.bounds()?))
            })
            .collect();
        let loops = made.joined(slice).filter_map(|placed| {
            let joined = &placed.joins.as_ref()?.region;
            Some((Owner::Element(element(placed)?, placed), joined, joined.bounds()?))
        });
        let base = match slice.along {
            Along::Sections if made.layout.stack.is_none() => Some(&made.layout.blank.base),
            Along::Face(name) => made.layout.face(name).map(|face| &face.outline),
            _ => None,
        };
        let base = base.and_then(|base| Some((Owner::Blank, base, base.bounds()?)));
        let mut all: Vec<_> = base.into_iter().chain(loops).collect();
        all.append(&mut outlines);
        all.reverse();
        Owners { outlines: all }
    }

    /// Whose outline a point lies on; the blank's where it is nobody else's.
    pub fn at(&self, point: (f64, f64)) -> Owner<'a> {
        let here = Rect { x0: point.0, y0: point.1, x1: point.0, y1: point.1 };
        let is_on = |(_, outline, bounds): &&(Owner<'a>, &Region, Rect)| {
            bounds.grown(ON_IT_MM).contains(&here) && outline.distance_to_outline(point) < ON_IT_MM
        };
        self.outlines.iter().find(is_on).map_or(Owner::Blank, |(owner, ..)| *owner)
    }
}
