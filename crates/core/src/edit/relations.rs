//! What elements have to do with each other, kept true while a piece is changed: what is placed by something that
//! goes away stays where it is, and a halo or a pattern no longer names it.

use super::Unapplied;
use crate::evaluate::{FromFace, Layout, Placed, layout};
use crate::piece::{
    Address, Beside, BesideSide, Component, Element, Fills, Kind, Piece, RoundWhat,
};
use crate::plane::Tolerance;
use crate::units::Length;
use crate::workshop::Workshop;

/// Whether anything in a piece has to do with anything else in it.
pub(super) fn has_any(piece: &Piece) -> bool {
    let names_others = |element: &Element| match &element.kind {
        Kind::Halo(halo) => halo.round != RoundWhat::All,
        Kind::Pattern(pattern) => pattern.fills != Fills::Face,
        _ => element.placed_by().is_some(),
    };
    piece.components.iter().flat_map(|component| &component.elements).any(names_others)
}

/// Mends what an edit left hanging: where it was before says the piece as it was.
pub(super) fn let_go(
    before: &Piece,
    after: &mut Piece,
    workshop: &Workshop<'_>,
) -> Result<(), Unapplied> {
    for i in 0..after.components.len() {
        let component = &after.components[i];
        // A place that is given by the edit itself is for the check to refuse.
        let had = |element: &Element| {
            let was = before.component(&component.id)?.element(&element.id)?.placed_by()?;
            (Some(was) == element.placed_by()).then_some(())
        };
        let hanging: Vec<String> = component
            .elements
            .iter()
            .filter(|element| component.is_let_go(element) && had(element).is_some())
            .map(|element| element.id.clone())
            .collect();
        if !hanging.is_empty() {
            let was = before.component(&component.id);
            let layout = match was {
                Some(was) => Some(layout(before, was, &workshop.at(Tolerance::Draft))?),
                None => None,
            };
            for id in hanging {
                let placed = layout.as_ref().and_then(|layout| layout.element(&id));
                let at = layout.as_ref().zip(placed);
                stay(&mut after.components[i], &id, at);
            }
        }
        forget_names(&mut after.components[i]);
    }
    Ok(())
}

/// An element that was placed by another one is placed by itself, where it was.
fn stay(component: &mut Component, id: &str, was: Option<(&Layout, &Placed)>) {
    let leads = component.elements.iter().any(|element| element.placed_by() == Some(id));
    let Some(element) = component.elements.iter_mut().find(|element| element.id == id) else {
        return;
    };
    let Some(place) = element.kind.fields_mut().place_mut() else { return };
    place.by = None;
    // What follows it did not count before, and would move it.
    place.alone |= leads;
    let Some((layout, placed)) = was else { return };
    let [across, up] = layout.measured(placed);
    let word = |datum: serde_json::Result<serde_json::Value>| datum.unwrap_or_default();
    let (from_across, from_up) =
        (word(serde_json::to_value(place.across.from)), word(serde_json::to_value(place.up.from)));
    let tidy = |mm: f64| Length::mm((mm * 1e6).round() / 1e6 + 0.0);
    if let Some(found) = across.iter().find(|one| from_across == one.from) {
        place.across.distance = tidy(found.distance);
    }
    if let Some(found) = up.iter().find(|one| from_up == one.from) {
        place.up.distance = tidy(found.distance);
    }
}

/// Halos go round, and patterns fill, what is still there.
fn forget_names(component: &mut Component) {
    let known: Vec<(String, crate::piece::FaceName, bool, bool)> = component
        .elements
        .iter()
        .map(|element| {
            let can_be_filled = matches!(element.kind, Kind::Recess(_) | Kind::Halo(_));
            (element.id.clone(), element.face, element.is_figure(), can_be_filled)
        })
        .collect();
    for element in &mut component.elements {
        let face = element.face;
        match &mut element.kind {
            Kind::Halo(halo) => {
                if let RoundWhat::These(ids) = &mut halo.round {
                    ids.retain(|id| known.iter().any(|one| one.0 == *id && one.1 == face && one.2));
                }
            }
            Kind::Pattern(pattern) => {
                if let Fills::Element(id) = &pattern.fills
                    && !known.iter().any(|one| one.0 == *id && one.1 == face && one.3)
                {
                    pattern.fills = Fills::Face;
                }
            }
            _ => {}
        }
    }
}

/// A given element that is placed by one its new component does not have is placed by itself.
pub(super) fn alone_in(component: &Component, element: &mut Element) {
    if component.is_let_go(element)
        && let Some(place) = element.kind.fields_mut().place_mut()
    {
        place.by = None;
    }
}

/// The place by another element that is nearest to where an element lies now, both as they are seen from their
/// face. What is near keeps its distance.
pub(super) fn nearest_beside(
    element: &str,
    FromFace(own): FromFace,
    FromFace(other): FromFace,
) -> Beside {
    /// What lies further away comes nearer: it is to belong to the other.
    const FURTHEST_MM: f64 = 10.0;
    const CUSTOMARY_MM: f64 = 2.0;
    let gaps = [
        (BesideSide::Right, own.x0 - other.x1),
        (BesideSide::Left, other.x0 - own.x1),
        (BesideSide::Above, own.y0 - other.y1),
        (BesideSide::Below, other.y0 - own.y1),
    ];
    // Of two that lie across each other, the side it reaches out of most.
    let furthest = gaps.into_iter().max_by(|a, b| a.1.total_cmp(&b.1));
    let (side, gap) = furthest.unwrap_or((BesideSide::Right, CUSTOMARY_MM));
    let gap = (gap * 10.0).round() / 10.0;
    let gap = if (0.0..=FURTHEST_MM).contains(&gap) { gap } else { CUSTOMARY_MM };
    Beside::new(element, side, Length::mm(gap))
}

/// How many elements an element is placed by, one by another.
pub(super) fn depth_of(piece: &Piece, target: &Address) -> usize {
    let Ok(component) = piece.component_of(target) else { return 0 };
    let mut depth = 0;
    let mut at = piece.element(target);
    while let Some(by) = at.and_then(Element::placed_by) {
        depth += 1;
        at = component.element(by);
        if depth > component.elements.len() {
            break;
        }
    }
    depth
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::piece::ElementKind;
    use crate::plane::Rect;
    use crate::testing::{add, edited, fresh, placed, set};
    use serde_json::json;

    fn name_with_star() -> Piece {
        let piece = fresh(&[ElementKind::Lettering, ElementKind::Emblem]);
        let by = json!({
            "element": "lettering-1", "side": "right", "gap": 2.0, "in_line": "middle", "shift": 0.0,
        });
        edited(&piece, &[set("emblem-1", "width", json!(6.0)), set("emblem-1", "place.by", by)])
    }

    fn middle(piece: &Piece, id: &str) -> (f64, f64) {
        placed(piece, Tolerance::Draft).element(id).unwrap().frame.centre()
    }

    /// What another is placed by goes away: it stays where it was, whatever it is measured from.
    #[test]
    fn what_is_placed_by_something_that_goes_stays() {
        for from in ["left", "right", "centre", "clear"] {
            let piece =
                edited(&name_with_star(), &[set("emblem-1", "place.across.from", json!(from))]);
            let before = middle(&piece, "emblem-1");
            let words = Address::element(Component::FIRST, "lettering-1");
            let removed = edited(&piece, &[crate::piece::Edit::Remove { target: words.clone() }]);
            let Kind::Emblem(star) = &removed.first().elements[0].kind else { panic!() };
            assert_eq!(star.place.by, None);
            let after = middle(&removed, "emblem-1");
            assert!(
                (after.0 - before.0).hypot(after.1 - before.1) < 1e-3,
                "{from}: {before:?} {after:?}"
            );
            let turned = edited(&piece, &[set("lettering-1", "face", json!("back"))]);
            let after = middle(&turned, "emblem-1");
            assert!(
                (after.0 - before.0).hypot(after.1 - before.1) < 1e-3,
                "{from}: {before:?} {after:?}"
            );
        }
    }

    #[test]
    fn halos_and_patterns_forget_what_is_gone() {
        let piece = edited(
            &name_with_star(),
            &[
                add(ElementKind::Halo),
                set("halo-1", "round", json!({ "these": ["lettering-1", "emblem-1"] })),
                add(ElementKind::Pattern),
                set("pattern-1", "fills", json!({ "element": "halo-1" })),
            ],
        );
        let remove = |id: &str| crate::piece::Edit::Remove {
            target: Address::element(Component::FIRST, id),
        };
        let one = edited(&piece, &[remove("lettering-1")]);
        let Kind::Halo(halo) = &one.first().element("halo-1").unwrap().kind else { panic!() };
        assert_eq!(halo.round, RoundWhat::These(vec!["emblem-1".to_owned()]));
        let none = edited(&piece, &[remove("halo-1")]);
        let Kind::Pattern(pattern) = &none.first().element("pattern-1").unwrap().kind else {
            panic!()
        };
        assert_eq!(pattern.fills, Fills::Face);
    }

    #[test]
    fn what_becomes_placed_by_another_keeps_to_its_side() {
        let other = Rect::centred(20.0, 6.0);
        let beside = |x: f64, y: f64| {
            let by =
                nearest_beside("a", FromFace(Rect::centred(4.0, 4.0).moved(x, y)), FromFace(other));
            (by.side, by.gap.as_mm())
        };
        assert_eq!(beside(14.0, 1.0), (BesideSide::Right, 2.0));
        assert_eq!(beside(-30.0, 0.0), (BesideSide::Left, 2.0));
        assert_eq!(beside(2.0, 9.0), (BesideSide::Above, 4.0));
        assert_eq!(beside(-8.0, -5.5), (BesideSide::Below, 0.5));
    }
}
