//! SVG: drawings for engravers and laser cutters.

use super::{Drawing, xml_text};
use crate::plane::Rect;
use std::fmt::Write;

/// A drawing as SVG, true to size: a millimetre of the piece is a millimetre on the sheet. Each layer
/// is a group named by `id` and, as engraving programs read it, `data-name`; outlines only.
pub fn drawing(drawing: &Drawing) -> String {
    const MARGIN: f64 = 1.0;
    let boxes = drawing.layers.iter().filter_map(|layer| layer.region.bounds());
    let bounds = boxes.reduce(|a, b| a.hull(&b)).unwrap_or(Rect::centred(0.0, 0.0)).grown(MARGIN);
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
