//! Elements that have to do with each other: placed one by another, and in a row together.
//!
//! What is placed by another element follows its box. What it hangs from in the end is put in its place with all
//! that follows it, so that a row of them is centred as a whole; for that the followers count as large as they were
//! asked for, since what gives way does so only when it is put.

use super::bridges::Bridging;
use super::ground::{Figure, Ground};
use super::kinds;
use crate::piece::{Element, Kind, LetteringPlace, Repeat};
use crate::plane::Rect;
use std::cell::RefCell;
use std::collections::HashMap;
use std::rc::Rc;
use std::sync::Arc;

/// The box something is placed by, and the box of all that is drawn of it; in mm.
#[derive(Debug, Clone, Copy, PartialEq)]
pub(super) struct Boxes {
    pub frame: Rect,
    pub ink: Rect,
}

impl Boxes {
    pub fn moved(self, (dx, dy): (f64, f64)) -> Self {
        Boxes { frame: self.frame.moved(dx, dy), ink: self.ink.moved(dx, dy) }
    }

    fn hull(self, other: Self) -> Self {
        Boxes { frame: self.frame.hull(&other.frame), ink: self.ink.hull(&other.ink) }
    }
}

/// A box with the copies of a row. Copies that lie about the middle of the face go with no other element.
fn in_row(rect: Rect, repeat: Repeat) -> Rect {
    let Repeat::Row(row) = repeat else { return rect };
    let steps = f64::from(row.count.max(1) - 1);
    rect.hull(&rect.moved(steps * row.across.as_mm(), steps * row.up.as_mm()))
}

/// What was found out about the elements of a ground, each once.
#[derive(Default)]
pub(super) struct Known {
    figures: RefCell<HashMap<String, Option<Rc<Figure>>>>,
    asked: Rc<RefCell<HashMap<String, Option<Boxes>>>>,
    bridging: RefCell<HashMap<String, Option<Arc<Bridging>>>>,
    /// Whose boxes are being looked for: what is placed by itself has none.
    sought: RefCell<Vec<String>>,
}

impl Known {
    /// The bridges of an element, where it is known whether it has any.
    pub fn bridging(&self, id: &str) -> Option<Option<Arc<Bridging>>> {
        self.bridging.borrow().get(id).cloned()
    }

    pub fn keep_bridging(&self, id: &str, found: Option<Arc<Bridging>>) {
        self.bridging.borrow_mut().insert(id.to_owned(), found);
    }

    /// For a ground of another size, on which everything is asked for as large.
    pub fn for_another_size(&self) -> Self {
        Known { asked: Rc::clone(&self.asked), ..Known::default() }
    }
}

impl Ground<'_> {
    /// The elements of this face.
    pub fn on_face(&self) -> impl Iterator<Item = &Element> {
        self.component.elements.iter().filter(|element| element.face == self.face.name)
    }

    /// The outline of a figure in its place.
    pub fn figure_of(&self, element: &Element) -> Option<Rc<Figure>> {
        if let Some(figure) = self.known.figures.borrow().get(&element.id) {
            return figure.clone();
        }
        let figure = kinds::work(&element.kind).figure(element, self).map(Rc::new);
        self.known.figures.borrow_mut().insert(element.id.clone(), figure.clone());
        figure
    }

    /// The boxes of an element as large as it was asked for, before it has a place.
    pub fn asked_of(&self, element: &Element) -> Option<Boxes> {
        if let Some(boxes) = self.known.asked.borrow().get(&element.id) {
            return *boxes;
        }
        let boxes = kinds::work(&element.kind).asked(self);
        self.known.asked.borrow_mut().insert(element.id.clone(), boxes);
        boxes
    }

    /// The box of an element of this face that others are placed by.
    fn box_of(&self, id: &str) -> Option<Rect> {
        let element = self.on_face().find(|element| element.id == id)?;
        if self.known.sought.borrow().iter().any(|one| one == id) {
            return None;
        }
        self.known.sought.borrow_mut().push(id.to_owned());
        let frame = match &element.kind {
            Kind::Hole(hole) => Some(hole.drilled(element, self).frame),
            _ => match self.figure_of(element) {
                Some(figure) => Some(figure.frame),
                None => self.asked_of(element).zip(element.place()).map(|(own, place)| {
                    let (dx, dy) = self.put(&element.id, own, self.face.rect, place);
                    own.frame.moved(dx, dy)
                }),
            },
        };
        self.known.sought.borrow_mut().pop();
        frame.map(|frame| in_row(frame, element.repeat()))
    }

    /// How far the halos round an element reach beyond it, in mm.
    pub fn halo_round(&self, id: &str) -> f64 {
        let halos = self.on_face().filter_map(|element| match &element.kind {
            Kind::Halo(halo) if halo.round.has(id) => Some(halo.reach()),
            _ => None,
        });
        halos.fold(0.0, f64::max)
    }

    /// The boxes of an element that is somewhere with all that is placed by it, halos counted in the ink.
    pub fn row_of(&self, id: &str, own: Boxes) -> Boxes {
        let ink = own.ink.grown(self.halo_round(id));
        let repeat = self.component.element(id).map_or(Repeat::Once, |one| one.repeat());
        // Copies of it follow wherever it is put; what is placed by it lies beside all of them.
        let leads = in_row(own.frame, repeat);
        let mut all = Boxes { ink, ..own };
        for follower in self.on_face().filter(|element| element.placed_by() == Some(id)) {
            let Some(by) = follower.place().and_then(|place| place.by.as_ref()) else { continue };
            // A circle is refused in the document; here it only must not be followed.
            if follower.id == id || self.known.sought.borrow().len() > self.component.elements.len()
            {
                continue;
            }
            let Some(asked) = self.asked_of(follower) else { continue };
            let copies = in_row(asked.frame, follower.repeat());
            self.known.sought.borrow_mut().push(String::new());
            let theirs = self.row_of(&follower.id, asked.moved(by.offset(copies, leads)));
            self.known.sought.borrow_mut().pop();
            all = all.hull(theirs);
        }
        all
    }

    /// The box that was put in its place, where an element's own is here.
    pub fn row_at(&self, head: &Element, frame: Rect) -> Rect {
        match head.place() {
            Some(place) => self.put_together(&head.id, Boxes { frame, ink: frame }, place).frame,
            None => frame,
        }
    }

    /// What of an element is put in its place: itself, or with all that is placed by it.
    pub fn put_together(&self, id: &str, own: Boxes, place: &LetteringPlace) -> Boxes {
        match place.alone || place.by.is_some() {
            true => Boxes { ink: own.ink.grown(self.halo_round(id)), ..own },
            false => self.row_of(id, own),
        }
    }

    /// Where an element of these boxes comes to lie on a plate: the vector that moves it there.
    pub fn put(&self, id: &str, own: Boxes, plate: Rect, place: &LetteringPlace) -> (f64, f64) {
        let by = place.by.as_ref();
        match by.and_then(|by| Some((by, self.box_of(&by.element)?))) {
            Some((by, other)) => {
                let repeat = self.component.element(id).map_or(Repeat::Once, |one| one.repeat());
                by.offset(in_row(own.frame, repeat), other)
            }
            None => self.offset_of(self.put_together(id, own, place).frame, plate, place),
        }
    }
}
