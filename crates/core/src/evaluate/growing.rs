//! Plates that grow with what stands on them.
//!
//! A plate is as small as it can be so that everything on it lies where it should: what hangs in the clear area
//! within that, anything else within the outline drawn in by the margin. Whether a size is enough is asked for one
//! size after another ([`least_step`]); what stands on it is measured once, as large as it was asked for, since
//! words give way only where even the largest plate has no room for them.

use super::body::of_outline;
use super::ground::Ground;
use super::relations::{Boxes, Known};
use crate::halt::Halted;
use crate::piece::{
    AcrossClear, Component, Element, FaceName, Grows, Growth, Outline, Piece, Plate, UpClear,
};
use crate::plane::{Rect, Region, Tolerance, rounded_rectangle};
use crate::units::Length;
use crate::workshop::Workshop;
use std::borrow::Cow;

/// What a plate grows by where it has no steps, in mm.
const FINEST_MM: f64 = 0.01;

/// Rounding leaves no word outside by more, in mm.
const HAIR_MM: f64 = 1e-6;

/// A plate as large as what stands on it asks for.
///
/// # Errors
/// [`Halted`] where the work was stopped.
pub(super) fn grown<'a>(
    piece: &Piece,
    component: &Component,
    plate: &'a Plate,
    workshop: &Workshop<'_>,
) -> Result<Cow<'a, Plate>, Halted> {
    if !plate.grows.any() || matches!(plate.outline, Outline::Contour(_)) {
        return Ok(Cow::Borrowed(plate));
    }
    let workshop = &workshop.at(Tolerance::Draft);
    let growing = Growing::new(piece, component, plate, workshop);
    let (width, height) = growing.size()?;
    let [width, height] = [width, height].map(Length::mm);
    Ok(Cow::Owned(Plate { width, height, grows: Grows::default(), ..plate.clone() }))
}

struct Growing<'a> {
    piece: &'a Piece,
    component: &'a Component,
    plate: &'a Plate,
    workshop: &'a Workshop<'a>,
    /// The faces something stands on.
    faces: Vec<FaceName>,
    /// What is known of it, face by face.
    known: Vec<Known>,
}

/// The sizes one side can have: the least, and so many steps of so much.
#[derive(Clone, Copy)]
struct Sizes {
    least: f64,
    step: f64,
    steps: u32,
}

impl Sizes {
    fn of(least: Length, growth: Option<Growth>) -> Self {
        let least = least.as_mm();
        let Some(growth) = growth else { return Sizes { least, step: 0.0, steps: 0 } };
        let step = if growth.step > Length::ZERO { growth.step.as_mm() } else { FINEST_MM };
        let steps = ((growth.most.as_mm() - least).max(0.0) / step + 1e-9).floor();
        Sizes { least, step, steps: steps as u32 }
    }

    fn at(self, step: u32) -> f64 {
        ((self.least + f64::from(step.min(self.steps)) * self.step) * 1e6).round() / 1e6
    }

    /// A size that lies a share of the way from the least to the most.
    fn share(self, part: u32, of: u32) -> u32 {
        (u64::from(self.steps) * u64::from(part)).div_ceil(u64::from(of)) as u32
    }
}

impl<'a> Growing<'a> {
    fn new(
        piece: &'a Piece,
        component: &'a Component,
        plate: &'a Plate,
        workshop: &'a Workshop<'a>,
    ) -> Self {
        let is_used = |face: &FaceName| component.elements.iter().any(|one| one.face == *face);
        let faces: Vec<FaceName> =
            [FaceName::Front, FaceName::Back].into_iter().filter(is_used).collect();
        let known = faces.iter().map(|_| Known::default()).collect();
        Growing { piece, component, plate, workshop, faces, known }
    }

    /// Width and height in mm.
    fn size(&self) -> Result<(f64, f64), Halted> {
        const PARTS: u32 = 1000;
        let Grows { width, height } = self.plate.grows;
        let across = Sizes::of(self.plate.width, width);
        let up = Sizes::of(self.plate.height, height);
        let fits = |w: u32, h: u32| self.has_room(across.at(w), up.at(h));
        // Both together first: of an ellipse neither has an answer without the other.
        let (mut w, mut h) = (0, 0);
        if across.steps > 0 && up.steps > 0 {
            let part =
                least_step(PARTS, |part| fits(across.share(part, PARTS), up.share(part, PARTS)))?;
            (w, h) = (across.share(part, PARTS), up.share(part, PARTS));
            h = least_step(h, |h| fits(w, h))?;
            w = least_step(w, |w| fits(w, h))?;
        } else if across.steps > 0 {
            w = least_step(across.steps, |w| fits(w, h))?;
        } else if up.steps > 0 {
            h = least_step(up.steps, |h| fits(w, h))?;
        }
        Ok((across.at(w), up.at(h)))
    }

    /// Whether everything lies where it should on a plate of this size.
    fn has_room(&self, width: f64, height: f64) -> Result<bool, Halted> {
        self.workshop.go_on()?;
        let body = of_outline(self.plate, (width, height), self.workshop);
        for (face, known) in self.faces.iter().zip(&self.known) {
            let mut ground = Ground::new(self.piece, self.component, &body, *face, self.workshop);
            ground.known = known.for_another_size();
            let room = Room::of(&ground);
            let roots = ground.on_face().filter(|element| element.is_figure());
            for element in roots.filter(|element| element.placed_by().is_none()) {
                if !room.holds(&ground, element) {
                    return Ok(false);
                }
            }
        }
        Ok(true)
    }
}

/// The room of a face for what stands on it.
struct Room {
    clear: Option<Rect>,
    /// The face's box drawn in by rims and the margin.
    inner: Rect,
    /// The same of its outline, where that is no upright box with treated corners.
    outline: Option<Region>,
}

impl Room {
    fn of(ground: &Ground<'_>) -> Self {
        let (rim, margin) = ground.rim_and_margin();
        let is_box = matches!(ground.component.outline(), Some(Outline::Rectangle(_)));
        let drawn_in = || ground.face.outline.offset(-rim - margin, Tolerance::Draft);
        Room {
            clear: ground.face.clear,
            inner: ground.face.rect.grown(-rim - margin),
            outline: (!is_box).then(drawn_in),
        }
    }

    /// Whether an element with all that is placed by it lies within.
    fn holds(&self, ground: &Ground<'_>, element: &Element) -> bool {
        let Some(place) = element.place() else { return true };
        let Some(own) = ground.asked_of(element) else { return true };
        let offset = ground.put(&element.id, own, ground.face.guide, place);
        let placed: Boxes = ground.row_of(&element.id, own.moved(offset));
        let ink = placed.ink.grown(-HAIR_MM);
        let in_clear = place.across.from == AcrossClear::Clear || place.up.from == UpClear::Clear;
        match (&self.outline, in_clear) {
            (_, true) => self.clear.is_some_and(|clear| clear.contains(&ink)),
            (None, false) => self.inner.contains(&ink),
            (Some(outline), false) => {
                let sheet = rounded_rectangle(ink, 0.0, Tolerance::Draft);
                self.inner.contains(&ink) && sheet.difference(outline).is_empty()
            }
        }
    }
}

/// The least step from 0 to the most that is enough, a larger one being enough where a smaller one is; the most
/// where none is.
fn least_step(most: u32, is_enough: impl Fn(u32) -> Result<bool, Halted>) -> Result<u32, Halted> {
    if is_enough(0)? {
        return Ok(0);
    }
    if !is_enough(most)? {
        return Ok(most);
    }
    let (mut short, mut enough) = (0, most);
    while enough - short > 1 {
        let middle = short + (enough - short) / 2;
        if is_enough(middle)? { enough = middle } else { short = middle }
    }
    Ok(enough)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_least_that_is_enough_is_found_or_the_most() {
        for wanted in [0, 1, 7, 999, 1000] {
            assert_eq!(least_step(1000, |step| Ok(step >= wanted)).unwrap(), wanted);
        }
        assert_eq!(least_step(1000, |_| Ok(false)).unwrap(), 1000);
        assert_eq!(least_step(0, |_| Ok(false)).unwrap(), 0);
    }

    #[test]
    fn sizes_go_in_steps_and_not_beyond_the_most() {
        let growth = Growth { most: Length::mm(81.0), step: Length::mm(5.0) };
        let sizes = Sizes::of(Length::mm(60.0), Some(growth));
        assert_eq!((sizes.steps, sizes.at(0), sizes.at(4), sizes.at(9)), (4, 60.0, 80.0, 80.0));
        let fine = Sizes::of(Length::mm(60.0), Some(Growth { step: Length::ZERO, ..growth }));
        assert_eq!((fine.steps, fine.at(2100), fine.at(1)), (2100, 81.0, 60.01));
        assert_eq!(Sizes::of(Length::mm(60.0), None).at(5), 60.0);
    }
}
