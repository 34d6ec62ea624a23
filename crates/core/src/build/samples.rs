//! The words of a lettering in every typeface there is, to choose from.

use super::words::own_words;
use super::{Layout, layout};
use crate::lettering::{Group, TYPEFACES, Typeface, own_typefaces};
use crate::piece::{Course, Element, LetterSize, Lettering, Piece};
use crate::plane::{Rect, Region, Tolerance};
use crate::units::Length;
use serde::Serialize;
use std::sync::Arc;

/// The width of one line of a 0.4 mm nozzle: thinner strokes do not print (common practice, no
/// source).
const LINE_WIDTH_MM: f64 = 0.4;

/// Words in a typeface.
#[derive(Debug, Clone, Serialize)]
pub struct FaceSample {
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
/// box. Lines with a face of their own keep it. Empty for an element that is no lettering.
pub fn face_samples(piece: &Piece, id: &str) -> Vec<FaceSample> {
    let Some(Element::Lettering(lettering)) = piece.element(id) else { return Vec::new() };
    let placed = layout(piece, Tolerance::Draft);
    let room = room_of(&placed, lettering);
    // Along a circle the letters are what matters, not the circle.
    let mut straight = Lettering { course: Course::Straight, ..lettering.clone() };
    if lettering.course != Course::Straight {
        let height = placed.element(id).map_or(5.0, |placed| placed.drawn.letter_height);
        straight.size = LetterSize::Height(Length::mm(height.max(0.5)));
    }
    if piece.filled_in(&lettering.words()).trim().is_empty() {
        straight.lines[0].words = "Name".to_owned();
    }
    let own = own_typefaces();
    let faces = own.iter().chain(TYPEFACES.iter());
    faces.map(|face| sample(piece, &straight, face, room)).collect()
}

fn room_of(placed: &Layout, lettering: &Lettering) -> (f64, f64) {
    let clear = placed.clear_of(lettering.side).unwrap_or(placed.plate.guide);
    (clear.width(), clear.height())
}

fn sample(
    piece: &Piece,
    lettering: &Lettering,
    face: &Arc<Typeface>,
    room: (f64, f64),
) -> FaceSample {
    let in_face = Lettering { face: face.id.to_string(), ..lettering.clone() };
    let set = own_words(piece, &in_face, room, Tolerance::Draft).set;
    let frame = set.region.bounds().unwrap_or(Rect::centred(1.0, 1.0));
    FaceSample {
        id: face.id.to_string(),
        name: face.name.to_string(),
        group: face.group,
        path: set.region.svg_path(),
        view_box: [frame.x0, -frame.y1, frame.width().max(0.1), frame.height().max(0.1)],
        thin: has_thin_strokes(&set.region),
        missing: set.missing,
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
    use crate::piece::{Edit, ElementKind, apply};
    use crate::units::Unit;
    use serde_json::json;

    #[test]
    fn faces_that_will_not_print_or_lack_a_letter_are_marked() {
        let piece = Piece::new("Fob", Unit::Millimetre);
        let set = |field: &str, value| Edit::Set {
            target: "lettering-1".into(),
            field: field.into(),
            value,
        };
        let edits = [
            Edit::add(ElementKind::Lettering),
            set("lines.0.words", json!("Łucja Ж")),
            set("size", json!({ "height": 3.5 })),
        ];
        let piece = apply(&piece, &edits).unwrap().piece;
        let samples = face_samples(&piece, "lettering-1");
        assert_eq!(samples.len(), TYPEFACES.len());
        let of = |id: &str| samples.iter().find(|sample| sample.id == id).unwrap();
        assert!(!of("nunito").thin && of("noto-serif").missing.is_empty());
        assert_eq!(of("anton").missing, ['Ж']);
        // Joined handwriting 3.5 mm tall has strokes under 0.4 mm.
        assert!(of("pacifico").thin);
        assert!(samples.iter().all(|sample| !sample.path.is_empty()));
        assert!(face_samples(&piece, "hole-9").is_empty());
    }
}
