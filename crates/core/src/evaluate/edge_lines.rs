//! The lines a drawing shows along treated edges: where the slope ends and the level of the face begins.

use super::Prism;
use crate::piece::FaceName;
use crate::plane::Region;
use crate::solid::Act;
use crate::workshop::Workshop;

/// What is level on a face of prisms that are treated there, as it is seen from the front: raised things
/// drawn in by the size of their edge, mouths of cuts widened by it. Empty where every edge is square.
pub fn edge_lines(prisms: &[Prism], face: FaceName, workshop: &Workshop<'_>) -> Region {
    let lines = prisms.iter().filter_map(|prism| {
        let size = match face {
            FaceName::Back => prism.bottom_edge.size(),
            _ => prism.top_edge.size(),
        };
        let inwards = match prism.act {
            Act::Adds => -size,
            Act::Cuts => size,
            Act::Paints => 0.0,
        };
        let offset = || workshop.cache.offset(&prism.outline, inwards, workshop.tolerance);
        (inwards != 0.0 && !prism.outline.is_empty()).then(offset)
    });
    Region::from_contours(lines.flat_map(|region| region.contours().to_vec()).collect())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::piece::{Component, Edit, ElementKind, Piece};
    use crate::plane::Tolerance;
    use crate::testing::{add, edited, set, with_workshop, worked};
    use crate::units::Unit;
    use serde_json::json;

    /// The box around the lines of a piece's blank and its elements on a face.
    fn widths(edits: &[Edit], face: FaceName) -> Vec<f64> {
        let mut all = vec![set("blank", "width", json!(40.0)), set("blank", "height", json!(20.0))];
        all.extend_from_slice(edits);
        let piece = edited(&Piece::new("Tide watch", Unit::Millimetre), &all);
        assert_eq!(piece.components[0].id, Component::FIRST);
        let worked = worked(&piece, Tolerance::Normal);
        let layout = &worked.layout;
        let prisms = std::iter::once(&layout.blank.prisms)
            .chain(layout.elements.iter().map(|placed| &placed.prisms));
        with_workshop(Tolerance::Normal, |workshop| {
            let lines = prisms.map(|prisms| edge_lines(prisms, face, workshop));
            lines.map(|lines| lines.bounds().map_or(0.0, |frame| frame.width())).collect()
        })
    }

    #[test]
    fn a_chamfered_plate_is_drawn_in_and_the_mouth_of_a_hole_widened_on_their_own_faces() {
        let edits = [
            set("blank", "edges.top", json!({ "chamfer": 1.5 })),
            add(ElementKind::Hole),
            set("hole-1", "diameter", json!(5.0)),
            set("hole-1", "edges.bottom", json!({ "round": 0.5 })),
        ];
        let near = |found: Vec<f64>, expected: [f64; 2]| {
            assert_eq!(found.len(), 2);
            for (found, expected) in found.iter().zip(expected) {
                assert!((found - expected).abs() < 0.03, "{found} for {expected}");
            }
        };
        near(widths(&edits, FaceName::Front), [37.0, 0.0]);
        near(widths(&edits, FaceName::Back), [0.0, 6.0]);
    }
}
