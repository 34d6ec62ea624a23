//! Words that fit: what gives where they would leave the clear area.
//!
//! How far they reach is known without drawing them ([`extents`]), and everything about it grows in proportion to
//! the height of the letters, or to how wide they are, but for the weight that is added. So the largest that
//! fits is worked out from two sizes, not searched for, and is the same at every tolerance.

use super::ground::Ground;
use super::relations::Boxes;
use super::words::{lines_of, turned_box};
use crate::lettering::{Line, extents};
use crate::piece::{
    Course, Element, Gives, Kind, LetterSize, Lettering, LetteringPlace, Outline, Piece, SitsBy,
    TextLine,
};
use crate::plane::{Rect, Region, Tolerance, largest_inner_rect};
use crate::units::Length;
use crate::workshop::Workshop;
use std::borrow::Cow;

/// Letters are not made smaller than this, in mm: then they stay too large, and preflight says so.
const LEAST_MM: f64 = 0.5;

/// Breaks nearest to the middle of a line that are tried, and no more.
const MOST_BREAKS: usize = 24;

/// A share a hair below what just fits, so that rounding leaves nothing outside.
const HAIR: f64 = 1.0 - 1e-9;

/// The lettering as it comes out where it may not leave the clear area of its face.
pub(super) fn fitted<'a>(
    asked: &'a Lettering,
    head: &Element,
    ground: &Ground<'_>,
) -> Cow<'a, Lettering> {
    let LetterSize::Height(height) = asked.size else { return Cow::Borrowed(asked) };
    let is_straight = matches!(asked.course, Course::Straight | Course::Below);
    // A blank that follows its letters grows with them.
    let is_followed = matches!(ground.component.outline(), Some(Outline::Contour(_)));
    let is_free = asked.gives == Gives::Nothing || !is_straight || is_followed;
    let Some(clear) = ground.face.clear.filter(|_| !is_free) else {
        return Cow::Borrowed(asked);
    };
    let mut fit = Fit { ground, clear, whole: None, id: &head.id };
    match fit.floor_below(asked) {
        Some(floor) => fit.clear = floor,
        None if fit.share(asked).is_some_and(|share| share < 1.0) => {
            fit.whole = ground.clear_shape();
        }
        None => {}
    }
    let Some(share) = fit.share(asked).filter(|share| *share < 1.0) else {
        return Cow::Borrowed(asked);
    };
    let (lettering, share) = match asked.gives {
        Gives::Nothing | Gives::Size => (asked.clone(), share),
        Gives::Width(least) => fit.narrowed(asked, least),
        Gives::Line => {
            fit.broken(asked).filter(|(_, found)| *found > share).unwrap_or((asked.clone(), share))
        }
    };
    let share = if share < 1.0 { share * HAIR } else { share };
    let share = share.clamp((LEAST_MM / height.as_mm()).min(1.0), 1.0);
    let size = LetterSize::Height(Length::mm(height.as_mm() * share));
    Cow::Owned(Lettering { size, ..lettering })
}

struct Fit<'a, 'b> {
    ground: &'a Ground<'b>,
    clear: Rect,
    /// All of the face that is clear, where that is no box: words that leave the largest box in it can still have room.
    whole: Option<Region>,
    /// The id of the lettering.
    id: &'a str,
}

/// The boxes of straight words of a letter height, without drawing them; nothing of others, or where nothing is
/// drawn.
pub(super) fn measured(
    lettering: &Lettering,
    piece: &Piece,
    workshop: &Workshop<'_>,
) -> Option<Boxes> {
    let LetterSize::Height(height) = lettering.size else { return None };
    if !matches!(lettering.course, Course::Straight | Course::Below) {
        return None;
    }
    let lines: Vec<Line> = lines_of(piece, lettering, workshop)
        .into_iter()
        .map(|line| Line { height: line.height * height.as_mm(), ..line })
        .collect();
    let (frame, ink) = extents(&lines, &lettering.style, lettering.align, lettering.pitch)?;
    let frame = match lettering.sits_by {
        SitsBy::Capitals => frame,
        SitsBy::Ink => ink,
    };
    let middle = frame.centre();
    let [frame, ink] = [frame, ink].map(|of| turned_box(lettering, of, middle));
    Some(Boxes { frame, ink })
}

impl Fit<'_, '_> {
    /// How far the ink of a lettering lies within the clear area on its four sides, in mm, with all that is put in
    /// its place with it or by itself; nothing where nothing is drawn.
    fn spare(&self, lettering: &Lettering, by_itself: bool) -> Option<[f64; 4]> {
        let own = measured(lettering, self.ground.piece, self.ground.workshop)?;
        let alone = LetteringPlace { alone: true, ..lettering.place.clone() };
        let place = if by_itself { &alone } else { &lettering.place };
        let offset = self.ground.put(self.id, own, self.ground.face.guide, place);
        let ink = self.ground.put_together(self.id, own.moved(offset), place).ink;
        let clear = self.clear;
        let [left, right] = match &self.ground.face.round {
            // What runs round goes on behind the end of the chart; it must not meet itself.
            Some(round) => [(round.way_round() - ink.width()) / 2.0; 2],
            None => [ink.x0 - clear.x0, clear.x1 - ink.x1],
        };
        Some([left, right, ink.y0 - clear.y0, clear.y1 - ink.y1])
    }

    /// The largest share of its height, 1 at most, at which a lettering lies within the clear area; nothing where
    /// nothing is drawn. Where what is placed by it has no room in any case, it is fitted by itself.
    fn share(&self, lettering: &Lettering) -> Option<f64> {
        let together = self.share_of(lettering, false)?;
        match self.has_room(lettering, together, false) || lettering.place.alone {
            true => Some(together),
            false => self.share_of(lettering, true),
        }
    }

    fn at(&self, lettering: &Lettering, share: f64, by_itself: bool) -> Option<[f64; 4]> {
        let LetterSize::Height(height) = lettering.size else { return None };
        let size = LetterSize::Height(Length::mm(height.as_mm() * share));
        self.spare(&Lettering { size, ..lettering.clone() }, by_itself)
    }

    fn is_met(&self, lettering: &Lettering, share: f64, by_itself: bool) -> bool {
        let spare = self.at(lettering, share, by_itself);
        spare.is_some_and(|spare| spare.iter().all(|side| *side >= -1e-6))
    }

    /// Whether a lettering has room at a share of its height: in the box, or in all that is clear.
    fn has_room(&self, lettering: &Lettering, share: f64, by_itself: bool) -> bool {
        let ink = || self.ink(lettering, share, by_itself);
        self.is_met(lettering, share, by_itself)
            || self.whole.as_ref().is_some_and(|all| ink().is_some_and(|ink| all.holds_box(ink)))
    }

    fn share_of(&self, lettering: &Lettering, by_itself: bool) -> Option<f64> {
        let share = self.share_in_box(lettering, by_itself)?;
        if self.whole.is_none() || share >= 1.0 {
            return Some(share);
        }
        // Larger than the box has room for, as long as all of the shape has.
        let has_room = |share: f64| self.has_room(lettering, share, by_itself);
        if has_room(1.0) {
            return Some(1.0);
        }
        let (mut low, mut high) = (share, 1.0);
        for _ in 0..24 {
            let middle = (low + high) / 2.0;
            if has_room(middle) { low = middle } else { high = middle }
        }
        Some(low)
    }

    /// What of the clear area lies on the floor of the recess the words stand on, as far from its wall as they keep from the
    /// edge; nothing where they stand on none.
    fn floor_below(&self, lettering: &Lettering) -> Option<Rect> {
        const HARDLY: f64 = 0.01;
        let middle = self.ink(lettering, HARDLY, false)?.centre();
        let (_, margin) = self.ground.rim_and_margin();
        let floors = self.ground.on_face().filter_map(|element| {
            let Kind::Recess(recess) = &element.kind else { return None };
            // What hangs from something else may hang from these words.
            if element.placed_by().is_some() {
                return None;
            }
            let (region, _) = recess.region(element, self.ground);
            region.contains(middle).then(|| region.offset(-margin, Tolerance::Draft))
        });
        let floor = largest_inner_rect(&floors.last()?)?;
        let Rect { x0, y0, x1, y1 } = self.clear;
        let both = Rect {
            x0: floor.x0.max(x0),
            y0: floor.y0.max(y0),
            x1: floor.x1.min(x1),
            y1: floor.y1.min(y1),
        };
        (both.x0 < both.x1 && both.y0 < both.y1).then_some(both)
    }

    /// The box of what is drawn of a lettering at a share of its height, with all that is put in its place with it.
    fn ink(&self, lettering: &Lettering, share: f64, by_itself: bool) -> Option<Rect> {
        let [left, right, below, above] = self.at(lettering, share, by_itself)?;
        let Rect { x0, y0, x1, y1 } = self.clear;
        Some(Rect { x0: x0 + left, x1: x1 - right, y0: y0 + below, y1: y1 - above })
    }

    fn share_in_box(&self, lettering: &Lettering, by_itself: bool) -> Option<f64> {
        const LEAST: f64 = 0.01;
        let at = |share: f64| self.at(lettering, share, by_itself);
        let share = largest(at(1.0)?, at(0.5)?);
        let is_met = |share: f64| self.is_met(lettering, share, by_itself);
        // What stands round the words can begin to count as they grow smaller; then it goes by halves.
        if share >= 1.0 || is_met(share * HAIR) || !is_met(LEAST) {
            return Some(share);
        }
        let (mut low, mut high) = (LEAST, 1.0);
        for _ in 0..40 {
            let middle = (low + high) / 2.0;
            if is_met(middle) { low = middle } else { high = middle }
        }
        Some(low)
    }

    /// Narrower letters, down to a share of their width, and what of their height is left then.
    fn narrowed(&self, asked: &Lettering, least: f64) -> (Lettering, f64) {
        let at = |share: f64| {
            let mut narrower = asked.clone();
            narrower.style.stretch *= share;
            narrower
        };
        let share =
            self.spare(&at(1.0), false).zip(self.spare(&at(0.5), false)).map(|(whole, half)| {
                // Sides that do not give when letters are narrower are for the height to mend.
                let gives = |side: usize| (whole[side] - half[side]).abs() > 1e-9;
                let only = |of: [f64; 4]| {
                    [0, 1, 2, 3].map(|side| if gives(side) { of[side] } else { 0.0 })
                };
                largest(only(whole), only(half))
            });
        let narrower = at(share.unwrap_or(least).max(least) * HAIR);
        let left = self.share(&narrower).unwrap_or(1.0);
        (narrower, left)
    }

    /// A single line in two, broken where they come out largest, and what of their height is left then.
    fn broken(&self, asked: &Lettering) -> Option<(Lettering, f64)> {
        let [line] = &asked.lines[..] else { return None };
        let words = self.ground.piece.filled_in(&line.words);
        let words = words.trim();
        let middle = words.len() / 2;
        let mut breaks: Vec<usize> = words.match_indices(' ').map(|(at, _)| at).collect();
        breaks.sort_by_key(|at| at.abs_diff(middle));
        let broken = breaks.into_iter().take(MOST_BREAKS).filter_map(|at| {
            let (first, second) = words.split_at(at);
            let of = |words: &str| TextLine { words: words.trim().to_owned(), ..line.clone() };
            let two = Lettering { lines: vec![of(first), of(second)], ..asked.clone() };
            let share = self.share(&two)?;
            Some((two, share))
        });
        broken.max_by(|a, b| a.1.total_cmp(&b.1))
    }
}

/// The largest share, 1 at most, at which nothing is less than nothing, by what it is at the whole and at half:
/// everything is in proportion to the share, but for a constant. What no share mends is left as it is: words
/// placed beyond the clear area stay there, and preflight says so.
fn largest(whole: [f64; 4], half: [f64; 4]) -> f64 {
    let mut most: f64 = 1.0;
    for (whole, half) in whole.into_iter().zip(half) {
        let slope = 2.0 * (whole - half);
        let at_nothing = whole - slope;
        if whole < 0.0 && at_nothing >= 0.0 {
            most = most.min(at_nothing / -slope);
        }
    }
    most
}
