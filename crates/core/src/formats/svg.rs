//! SVG: the picture of a piece's face, to scale, and drawings for engravers and laser cutters.

use super::{Drawing, xml_text};
use crate::build::{Layout, Placed};
use crate::piece::{ElementKind, Piece, Side};
use crate::plane::{Rect, Region};
use crate::solid::Act;
use std::fmt::Write;

/// A drawing as SVG, true to size: a millimetre of the piece is a millimetre on the sheet. Each layer
/// is a group named by `id` and, as engraving programs read it, `data-name`; outlines only.
pub fn drawing(drawing: &Drawing) -> String {
    const MARGIN: f64 = 1.0;
    let boxes = drawing.layers.iter().filter_map(|layer| layer.region.bounds());
    let bounds = boxes.reduce(around).unwrap_or(Rect::centred(0.0, 0.0)).grown(MARGIN);
    let (width, height) = (bounds.width(), bounds.height());
    let mut svg = format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{width}mm\" height=\"{height}mm\" \
         viewBox=\"{} {} {width} {height}\">\n",
        bounds.x0, -bounds.y1,
    );
    for (i, layer) in drawing.layers.iter().enumerate() {
        let (name, colour) = (xml_text(&layer.name), layer.colour);
        let _ = writeln!(
            svg,
            "<g id=\"layer-{}\" data-name=\"{name}\"><title>{name}</title><path fill=\"none\" \
             stroke=\"{colour}\" stroke-width=\"0.1\" d=\"{}\"/></g>",
            i + 1,
            layer.region.svg_path()
        );
    }
    svg.push_str("</svg>\n");
    svg
}

/// The smallest rectangle around two.
fn around(a: Rect, b: Rect) -> Rect {
    let (x0, y0) = (a.x0.min(b.x0), a.y0.min(b.y0));
    Rect { x0, y0, x1: a.x1.max(b.x1), y1: a.y1.max(b.y1) }
}

/// The face of a piece as a small picture for lists, in the colours of its filaments: what stands
/// up from its own colour lighter, what is cut darker, holes empty. Everything outside the plate's own
/// outline is shown as it will print.
pub fn picture(piece: &Piece, layout: &Layout) -> String {
    let outline = layout.outline_seen();
    let shown = |placed: &&Placed| placed.side == Side::Front || placed.through;
    let raised = layout.elements.iter().filter(|placed| placed.act == Act::Adds && shown(placed));
    let seen = layout.stock.as_ref().map_or(&outline, |stock| &stock.silhouette);
    let frame = seen.bounds().unwrap_or(layout.plate.rect);
    let bounds = raised.filter_map(|placed| placed.region.bounds()).fold(frame, around).grown(1.0);
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
    let plate = layout.plate.face_colour(Side::Front);
    let tones = |filament: usize| piece.filaments[filament].colour.tones();
    let line = tones(plate).line;
    let mut draw = |region: &Region, fill: &str| {
        let path = region.difference(&holes).svg_path();
        let _ = write!(
            svg,
            "<path fill=\"{fill}\" stroke=\"{line}\" stroke-width=\"0.15\" fill-rule=\"evenodd\" \
             d=\"{path}\"/>"
        );
    };
    if let Some(stock) = &layout.stock {
        draw(&stock.silhouette, &tones(plate).sunk.to_string());
    }
    draw(&outline, &tones(plate).flat.to_string());
    let drawn = layout
        .elements
        .iter()
        .filter(|placed| placed.kind != ElementKind::Loop && !through(placed) && shown(placed));
    for placed in drawn {
        let own = usize::from(placed.colour);
        match placed.act {
            Act::Cuts if placed.through => {
                draw(&placed.region.intersection(&outline), "#f7f4ec");
            }
            Act::Cuts => {
                let fill = if own == plate { tones(own).sunk } else { tones(own).flat };
                draw(&placed.region.intersection(&outline), &fill.to_string());
            }
            Act::Adds | Act::Paints => {
                let fill = if own == plate { tones(own).raised } else { tones(own).flat };
                draw(&placed.region, &fill.to_string());
            }
        }
    }
    let loops = layout.elements.iter().filter(|placed| placed.kind == ElementKind::Loop);
    for placed in loops.filter(|placed| usize::from(placed.colour) != plate) {
        let beside = placed.region.difference(&layout.plate.base);
        draw(&beside, &tones(usize::from(placed.colour)).flat.to_string());
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
        let svg = picture(&piece, &layout(&piece, Tolerance::Draft));
        assert!(svg.contains("viewBox=\"-37 -13 74 26\""), "{}", &svg[..120]);
        assert_eq!(svg.matches("<path").count(), 2);
    }
}
