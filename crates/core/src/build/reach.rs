//! Edges as large as they can be carried out.

use super::Prism;
use crate::piece::Edge;
use crate::plane::{Region, Tolerance};
use crate::solid::Act;
use crate::units::Length;

/// A prism whose edges are as large as they can be carried out: no higher than the prism and no
/// deeper than half its thinnest stroke. Parts that can take less get less, each on its own. Also
/// the smallest size that came of it, where any was reduced.
pub(super) fn within_reach(prism: Prism, tolerance: Tolerance) -> (Vec<Prism>, Option<f64>) {
    let asked = prism.top_edge.size().max(prism.bottom_edge.size());
    if asked == 0.0 || prism.outline.is_empty() {
        return (vec![prism], None);
    }
    let height = prism.top - prism.bottom;
    let both = prism.top_edge.size() + prism.bottom_edge.size();
    // A hair of upright wall stays, so that no face is left without a wall beside it.
    let by_height = if both > height { asked * height / both } else { asked };
    let sign = if prism.act == Act::Adds { 1.0 } else { -1.0 };
    let whole = prism.outline.workable_inset(sign * by_height, tolerance).abs();
    if whole == by_height {
        let reduced = (by_height < asked).then_some(by_height);
        return (vec![resized(prism, by_height)], reduced);
    }
    let mut able = Vec::new();
    let mut others = Vec::new();
    let mut least = by_height;
    for part in prism.outline.parts() {
        let reach = part.workable_inset(sign * by_height, tolerance).abs();
        let reach = if sign < 0.0 { reach.min(whole) } else { reach };
        if reach == by_height {
            able.push(part);
        } else {
            let reach = reach * 0.96;
            least = least.min(reach);
            others.push(resized(Prism { outline: part, ..prism.clone() }, reach));
        }
    }
    if !able.is_empty() {
        others.push(resized(Prism { outline: Region::gather(able), ..prism }, by_height));
    }
    (others, Some(least))
}

/// The prism with its edges no larger than a size.
fn resized(prism: Prism, most: f64) -> Prism {
    let limit = |edge: Edge| match edge {
        _ if most < 0.005 => Edge::Square,
        Edge::Square => Edge::Square,
        Edge::Chamfer(size) => Edge::Chamfer(Length::mm(size.as_mm().min(most))),
        Edge::Round(size) => Edge::Round(Length::mm(size.as_mm().min(most))),
    };
    Prism { top_edge: limit(prism.top_edge), bottom_edge: limit(prism.bottom_edge), ..prism }
}
