//! The words of a lettering in every typeface there is, to choose from.

use super::layout;
use super::words::{Room, own_words};
use crate::halt::Halted;
use crate::lettering::{Group, TYPEFACES, Typeface};
use crate::piece::{Address, Course, Kind, LetterSize, Lettering, Piece};
use crate::plane::{Rect, Region, Tolerance};
use crate::units::Length;
use crate::workshop::Workshop;
use serde::Serialize;
use std::sync::Arc;

/// The width of one line of a 0.4 mm nozzle: thinner strokes do not print (common practice, no
/// source).
const LINE_WIDTH_MM: f64 = 0.4;

/// Words in a typeface.
#[derive(Debug, Clone, Serialize)]
pub struct Sample {
    /// The typeface's id.
    pub id: String,
    /// Its name.
    pub name: String,
    /// How it looks and prints; nothing for one of the user's own.
    pub group: Option<Group>,
    /// The words as the data of an SVG path, in mm, y downwards.
    pub path: String,
    /// The box around them as an SVG view box.
    pub view_box: [f64; 4],
    /// Whether strokes are thinner than a nozzle's line at this size.
    pub thin: bool,
    /// Characters it lacks.
    pub missing: Vec<char>,
}

/// A lettering's words in every typeface, as large as they are or as they would come out in their
/// box. Lines with a typeface of their own keep it. Empty for an element that is no lettering.
///
/// # Errors
/// [`Halted`] where the work was stopped.
pub fn samples(
    piece: &Piece,
    target: &Address,
    workshop: &Workshop<'_>,
) -> Result<Vec<Sample>, Halted> {
    workshop.over(|| in_every_typeface(piece, target, &workshop.at(Tolerance::Draft)))?
}

fn in_every_typeface(
    piece: &Piece,
    target: &Address,
    workshop: &Workshop<'_>,
) -> Result<Vec<Sample>, Halted> {
    let component = target.component().and_then(|id| piece.component(id));
    let (Some(component), Some(element)) = (component, piece.element(target)) else {
        return Ok(Vec::new());
    };
    let Kind::Lettering(lettering) = &element.kind else { return Ok(Vec::new()) };
    let layout = layout(piece, component, workshop)?;
    let clear = layout.clear_of(element.face).unwrap_or(layout.blank.guide);
    let room = Room { clear: (clear.width(), clear.height()), way_round: None };
    // Along a circle the letters are what matters, not the circle.
    let mut straight = Lettering { course: Course::Straight, ..lettering.clone() };
    if lettering.course != Course::Straight {
        let height = layout.element(&element.id).map_or(5.0, |one| one.drawn.letter_height);
        straight.size = LetterSize::Height(Length::mm(height.max(0.5)));
    }
    if piece.filled_in(&lettering.words()).trim().is_empty() {
        straight.lines[0].words = "Name".to_owned();
    }
    let own = workshop.own_typefaces();
    let mut found = Vec::with_capacity(own.len() + TYPEFACES.len());
    for typeface in own.iter().chain(TYPEFACES.iter()) {
        workshop.go_on()?;
        found.push(sample(piece, &straight, typeface, room, workshop));
    }
    Ok(found)
}

fn sample(
    piece: &Piece,
    lettering: &Lettering,
    typeface: &Arc<Typeface>,
    room: Room,
    workshop: &Workshop<'_>,
) -> Sample {
    let in_it = Lettering { typeface: typeface.id.to_string(), ..lettering.clone() };
    let set = own_words(piece, &in_it, room, workshop);
    let frame = set.region.bounds().unwrap_or(Rect::centred(1.0, 1.0));
    Sample {
        id: typeface.id.to_string(),
        name: typeface.name.to_string(),
        group: typeface.group,
        path: set.region.svg_path(),
        view_box: [frame.x0, -frame.y1, frame.width().max(0.1), frame.height().max(0.1)],
        thin: has_thin_strokes(&set.region),
        missing: set.missing.clone(),
    }
}

/// Whether strokes are thinner than a nozzle's line: what a disc as wide as the line cannot be swept
/// over (opening, mathematical morphology), apart from what every corner loses.
fn has_thin_strokes(region: &Region) -> bool {
    const MORE_THAN_A_CORNER_MM2: f64 = LINE_WIDTH_MM * LINE_WIDTH_MM / 2.0;
    let half = LINE_WIDTH_MM / 2.0;
    let swept = region.offset(-half, Tolerance::Draft).offset(half, Tolerance::Draft);
    let left = region.difference(&swept);
    left.parts().iter().any(|part| part.area() > MORE_THAN_A_CORNER_MM2)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::piece::ElementKind;
    use crate::testing::{address, edited, fresh, set, with_workshop};
    use serde_json::json;

    #[test]
    fn typefaces_that_will_not_print_or_lack_a_letter_are_marked() {
        let piece = fresh(&[ElementKind::Lettering]);
        let edits = [
            set("lettering-1", "lines.0.words", json!("Łucja Ж")),
            set("lettering-1", "size", json!({ "height": 3.5 })),
        ];
        let piece = edited(&piece, &edits);
        let samples = |target: &str| {
            let target = address(target);
            with_workshop(Tolerance::Draft, |workshop| samples(&piece, &target, workshop)).unwrap()
        };
        let found = samples("lettering-1");
        assert_eq!(found.len(), TYPEFACES.len());
        let of = |id: &str| found.iter().find(|sample| sample.id == id).unwrap();
        assert!(!of("nunito").thin && of("noto-serif").missing.is_empty());
        assert_eq!(of("anton").missing, ['Ж']);
        // Joined handwriting 3.5 mm tall has strokes under 0.4 mm.
        assert!(of("pacifico").thin);
        assert!(found.iter().all(|sample| !sample.path.is_empty()));
        assert!(samples("hole-9").is_empty());
    }
}
