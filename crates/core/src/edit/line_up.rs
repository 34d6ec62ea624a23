//! Several elements are lined up, or spread with equal gaps, as they are seen from the face the first of them is on.

use super::{Unapplied, laid_out, placed_at, relations};
use crate::evaluate::{FromFace, Placed};
use crate::piece::{Address, Axis, EditError, Piece, Side};
use crate::workshop::Workshop;

/// An element and what its box takes up along an axis, in mm, as all of them are seen together.
struct Boxed {
    target: Address,
    low: f64,
    high: f64,
    /// How far it is to be shifted on its own face for every millimetre it is to go: 1, or −1 where that looks the
    /// other way.
    way: f64,
}

impl Boxed {
    fn middle(&self) -> f64 {
        (self.low + self.high) / 2.0
    }

    fn at(&self, side: Side) -> f64 {
        match side {
            Side::Low => self.low,
            Side::Middle => self.middle(),
            Side::High => self.high,
        }
    }
}

/// Lines elements up by a side of all of them together.
pub(super) fn align(
    piece: &mut Piece,
    targets: &[Address],
    axis: Axis,
    side: Side,
    workshop: &Workshop<'_>,
) -> Result<(), Unapplied> {
    let Some(looker) = targets.first() else { return Ok(()) };
    let boxes = boxes(piece, targets, looker, axis, workshop)?;
    let low = boxes.iter().map(|one| one.low).fold(f64::INFINITY, f64::min);
    let high = boxes.iter().map(|one| one.high).fold(f64::NEG_INFINITY, f64::max);
    let whole = Boxed { target: Address::Piece, low, high, way: 1.0 };
    let goals =
        boxes.iter().map(|one| (one.target.clone(), one.low + whole.at(side) - one.at(side)));
    bring(piece, goals.collect(), looker, boxes, axis, workshop)
}

/// Spreads elements so that the gaps between their boxes are equal; negative where they overlap.
pub(super) fn distribute(
    piece: &mut Piece,
    targets: &[Address],
    axis: Axis,
    workshop: &Workshop<'_>,
) -> Result<(), Unapplied> {
    let Some(looker) = targets.first() else { return Ok(()) };
    let mut boxes = boxes(piece, targets, looker, axis, workshop)?;
    boxes.sort_by(|a, b| a.middle().total_cmp(&b.middle()));
    let ([first, .., last], [_, between @ .., _]) = (&boxes[..], &boxes[..]) else { return Ok(()) };
    let sizes: f64 = boxes.iter().map(|one| one.high - one.low).sum();
    let gap = (last.high - first.low - sizes) / (boxes.len() - 1) as f64;
    let mut at = first.high + gap;
    let mut goals = vec![(first.target.clone(), first.low), (last.target.clone(), last.low)];
    for one in between {
        goals.push((one.target.clone(), at));
        at += one.high - one.low + gap;
    }
    bring(piece, goals, looker, boxes, axis, workshop)
}

/// Brings elements to where the low sides of their boxes are to be. Where some are placed by others, those come
/// first, and where the rest is then is looked at anew.
fn bring(
    piece: &mut Piece,
    mut goals: Vec<(Address, f64)>,
    looker: &Address,
    boxes: Vec<Boxed>,
    axis: Axis,
    workshop: &Workshop<'_>,
) -> Result<(), Unapplied> {
    let follows = goals.iter().any(|(target, _)| relations::depth_of(piece, target) > 0);
    goals.sort_by_key(|(target, _)| relations::depth_of(piece, target));
    for (target, goal) in goals {
        let now = match follows {
            true => self::boxes(piece, std::slice::from_ref(&target), looker, axis, workshop)?,
            false => Vec::new(),
        };
        let mut known = now.iter().chain(&boxes);
        let Some(one) = known.find(|one| one.target == target) else { continue };
        shift(piece, &target, axis, one.way * (goal - one.low))?;
    }
    Ok(())
}

/// The boxes of elements as they are seen from the face one of them is on.
fn boxes(
    piece: &Piece,
    targets: &[Address],
    looker: &Address,
    axis: Axis,
    workshop: &Workshop<'_>,
) -> Result<Vec<Boxed>, Unapplied> {
    let layout = laid_out(piece, looker, workshop)?;
    let from = placed_at(&layout, looker)?;
    let mut targets = targets.to_vec();
    targets.sort_by_key(Address::to_string);
    targets.dedup();
    let boxed = |target: &Address| {
        if target.component() != looker.component() {
            let message = "Only elements of one component can be lined up.".to_owned();
            return Err(EditError { target: target.clone(), field: String::new(), message }.into());
        }
        let placed = placed_at(&layout, target)?;
        let FromFace(frame) = layout.from_face(&from, placed.frame);
        let one_mm = |placed: &Placed| layout.way_on_face(placed, (1.0, 1.0));
        let (own, seen) = (one_mm(&placed), one_mm(&from));
        let (low, high, way) = match axis {
            Axis::Across => (frame.x0, frame.x1, own.across * seen.across),
            Axis::Up => (frame.y0, frame.y1, own.up * seen.up),
        };
        Ok(Boxed { target: target.clone(), low, high, way })
    };
    targets.iter().map(boxed).collect()
}

/// Moves an element along an axis, on a millionth of a millimetre.
pub(super) fn shift(
    piece: &mut Piece,
    target: &Address,
    axis: Axis,
    by: f64,
) -> Result<(), EditError> {
    let by = (by * 1e6).round() / 1e6;
    let (across, up) = if axis == Axis::Across { (by, 0.0) } else { (0.0, by) };
    move_by(piece, target, across, up)
}

/// Moves an element on its face, in mm.
pub(super) fn move_by(
    piece: &mut Piece,
    target: &Address,
    across: f64,
    up: f64,
) -> Result<(), EditError> {
    let refuse = |reason: &str| EditError {
        target: target.clone(),
        field: "place".to_owned(),
        message: reason.to_owned(),
    };
    piece.element_mut(target)?.kind.fields_mut().shift(across, up).map_err(refuse)
}
