//! How far what is placed lies from everything it could be measured from: the other way round of what
//! [`Offset::resolve`](crate::piece::Offset) does.

use super::{FromFace, Layout, Placed};
use crate::piece::ElementKind;
use crate::plane::Rect;

/// How far something lies from a datum, along an axis of its face, as it is seen from there.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Measured {
    /// The word of the datum, as it stands in the file.
    pub from: &'static str,
    /// The distance in mm.
    pub distance: f64,
    /// What it grows by for every millimetre to the right or up: 1, or −1 from the far edge.
    pub way: f64,
}

impl Layout {
    /// How far an element lies from each datum, across and up. Holes and loops are measured to their
    /// centres, anything else to its nearer side or, from a centre, its own.
    pub fn measured(&self, placed: &Placed) -> [Vec<Measured>; 2] {
        let Some(face) = self.face(placed.face) else { return Default::default() };
        let by_guide =
            matches!(placed.kind, ElementKind::Lettering | ElementKind::Emblem | ElementKind::Code);
        let plate = if by_guide { face.guide } else { face.rect };
        let clear = face.clear.unwrap_or(plate);
        let FromFace(frame) = self.from_face(placed, placed.row);
        let to_centre = matches!(placed.kind, ElementKind::Loop | ElementKind::Hole);
        let along = |span: fn(Rect) -> (f64, f64), near: &'static str, far: &'static str| {
            let middle = |rect: Rect| (span(rect).0 + span(rect).1) / 2.0;
            let (low, high) = match to_centre {
                true => (middle(frame), middle(frame)),
                false => span(frame),
            };
            let measured = |from, distance, way| Measured { from, distance, way };
            vec![
                measured(near, low - span(plate).0, 1.0),
                measured(far, span(plate).1 - high, -1.0),
                measured("centre", middle(frame) - middle(plate), 1.0),
                measured("clear", middle(frame) - middle(clear), 1.0),
            ]
        };
        [
            along(|rect| (rect.x0, rect.x1), "left", "right"),
            along(|rect| (rect.y0, rect.y1), "bottom", "top"),
        ]
    }
}

#[cfg(test)]
mod tests {
    use crate::piece::{ElementKind, FaceName};
    use crate::plane::Tolerance;
    use crate::testing::{add, edited, fresh, placed, set};
    use serde_json::json;

    /// What is put at a distance from a datum lies just so far from it, whatever it is and from whichever
    /// face it is seen.
    #[test]
    fn what_is_put_somewhere_is_measured_there() {
        let kinds = [ElementKind::Lettering, ElementKind::Hole, ElementKind::Emblem];
        for (kind, face) in kinds
            .into_iter()
            .flat_map(|kind| [FaceName::Front, FaceName::Back].map(|face| (kind, face)))
        {
            let id = format!("{}-1", kind.word());
            // Something that makes the clear area lopsided.
            let piece = fresh(&[kind]);
            let piece = edited(&piece, &[add(ElementKind::Hole), set(&id, "face", json!(face))]);
            for (axis, from) in [
                ("across", "left"),
                ("across", "right"),
                ("across", "centre"),
                ("across", "clear"),
                ("up", "bottom"),
                ("up", "top"),
                ("up", "centre"),
                ("up", "clear"),
            ] {
                if kind == ElementKind::Hole && from == "clear" {
                    continue;
                }
                let place =
                    set(&id, &format!("place.{axis}"), json!({ "from": from, "distance": 3.25 }));
                let layout = placed(&edited(&piece, &[place]), Tolerance::Normal);
                let measured = layout.measured(layout.element(&id).unwrap());
                let along = &measured[usize::from(axis == "up")];
                let found = along.iter().find(|one| one.from == from).unwrap();
                assert!((found.distance - 3.25).abs() < 1e-4, "{kind:?} {face:?} {axis} {found:?}");
            }
        }
    }
}
