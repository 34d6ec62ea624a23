//! SVG: the picture of a piece's face, to scale.

use crate::build::{Layout, Placed};
use crate::piece::{ElementKind, Side};
use crate::plane::{Rect, Region};
use crate::solid::Act;
use std::fmt::Write;

/// The face of a piece as a small picture for lists: the plate, what stands up lighter, what is
/// cut darker, holes empty. Everything outside the plate's own outline is shown as it will print.
pub fn picture(layout: &Layout) -> String {
    let outline = layout.outline_seen();
    let shown = |placed: &&Placed| placed.side == Side::Front || placed.through;
    let raised = layout.elements.iter().filter(|placed| placed.act == Act::Adds && shown(placed));
    let frame = outline.bounds().unwrap_or(layout.plate.rect);
    let bounds = raised
        .filter_map(|placed| placed.region.bounds())
        .fold(frame, |all, b| Rect {
            x0: all.x0.min(b.x0),
            y0: all.y0.min(b.y0),
            x1: all.x1.max(b.x1),
            y1: all.y1.max(b.y1),
        })
        .grown(1.0);
    let mut svg = format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"{} {} {} {}\">",
        bounds.x0,
        -bounds.y1,
        bounds.width(),
        bounds.height()
    );
    let is_hole = |placed: &&Placed| placed.kind == ElementKind::Hole;
    let through = |placed: &&Placed| is_hole(placed) && placed.through;
    let holes = layout.elements.iter().filter(through).map(|placed| placed.region.clone());
    let holes = Region::gather(holes.collect());
    let mut draw = |region: &Region, fill: &str| {
        let path = region.difference(&holes).svg_path();
        let _ = write!(
            svg,
            "<path fill=\"{fill}\" stroke=\"#2F5D83\" stroke-width=\"0.15\" fill-rule=\"evenodd\" \
             d=\"{path}\"/>"
        );
    };
    draw(&outline, "#2F5D83");
    let drawn = layout
        .elements
        .iter()
        .filter(|placed| placed.kind != ElementKind::Loop && !through(placed) && shown(placed));
    for placed in drawn {
        match placed.act {
            Act::Adds => draw(&placed.region, "#9CC0DC"),
            Act::Cuts if !placed.through => {
                draw(&placed.region.intersection(&outline), "#1D3E59");
            }
            Act::Cuts => draw(&placed.region.intersection(&outline), "#F7F4EC"),
        }
    }
    svg.push_str("</svg>\n");
    svg
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::build::layout;
    use crate::piece::{Edit, Piece, apply};
    use crate::plane::Tolerance;
    use crate::units::Unit;

    #[test]
    fn the_picture_shows_every_part_within_its_frame() {
        let piece = Piece::new("Berth 7", Unit::Millimetre);
        let add = [ElementKind::Hole, ElementKind::Lettering].map(Edit::add);
        let piece = apply(&piece, &add).unwrap().piece;
        let svg = picture(&layout(&piece, Tolerance::Draft));
        assert!(svg.contains("viewBox=\"-37 -13 74 26\""), "{}", &svg[..120]);
        assert_eq!(svg.matches("<path").count(), 2);
    }
}
