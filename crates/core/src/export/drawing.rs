//! A piece as outlines by colour and depth.

use super::naming::called;
use crate::bed::asides;
use crate::evaluate::{Evaluation, Layout, Made, Placed};
use crate::filament::Rgb;
use crate::formats::{Drawing, DrawnLayer};
use crate::piece::{Component, ElementKind, FaceName, Piece};
use crate::plane::Region;
use crate::solid::Act;
use crate::units::{Length, format_length};

/// Draws a piece as it is seen from the front, or where it stands on the bed from its main face; its
/// components lie side by side. What goes through becomes part of what is cut.
pub fn drawing_of(piece: &Piece, evaluation: &Evaluation) -> Drawing {
    let mut drawing = Drawing::default();
    let places = asides(evaluation);
    for ((component, made), place) in
        piece.components.iter().zip(&evaluation.components).zip(places)
    {
        for mut layer in layers_of(piece, component, made) {
            layer.region = layer.region.moved(place, 0.0);
            match drawing.layers.iter_mut().find(|known| known.name == layer.name) {
                Some(known) => known.region = known.region.union(&layer.region),
                None => drawing.layers.push(layer),
            }
        }
    }
    drawing
}

/// The layers of a component, the one that is cut first.
fn layers_of(piece: &Piece, component: &Component, made: &Made) -> Vec<DrawnLayer> {
    let layout = &made.layout;
    let outline = layout.outline_seen();
    let mut cut = outline.clone();
    let mut layers: Vec<DrawnLayer> = Vec::new();
    let is_drawn = |placed: &&Placed| {
        placed.kind != ElementKind::Loop
            && (layout.is_on_sections(placed) || layout.is_seen_on_main(placed))
    };
    for placed in layout.elements.iter().filter(is_drawn) {
        if placed.through {
            cut = cut.difference(&placed.region);
            continue;
        }
        let filament = &piece.filaments[usize::from(placed.colour)];
        let size = size_of(placed.top - placed.bottom, piece);
        let is_inlaid = placed.prisms.iter().all(|prism| prism.act == Act::Paints);
        let relief = match placed.act {
            Act::Cuts => "recessed",
            _ if is_inlaid => "flush",
            _ => "raised",
        };
        let what = format!("{relief} {size}");
        let name = layer_name(piece, (placed.face, layout), &what, usize::from(placed.colour));
        let region = match placed.act {
            Act::Cuts => placed.region.intersection(&outline),
            _ => placed.region.clone(),
        };
        lay(&mut layers, name, &region, filament.colour);
    }
    let blank = piece.filament_of(component, None);
    for opening in layout.openings() {
        let is_drawn = layout.opens_on_main(&opening)
            || layout.face(opening.face).is_some_and(|face| face.in_sections);
        match opening.through {
            _ if !is_drawn => {}
            true => cut = cut.difference(&opening.region),
            false => {
                let what = format!("recessed {}", size_of(opening.depth, piece));
                let name = layer_name(piece, (opening.face, layout), &what, blank);
                lay(&mut layers, name, &opening.region, piece.filaments[blank].colour);
            }
        }
    }
    let blank = &piece.filaments[blank];
    layers.insert(0, DrawnLayer { name: "cut".to_owned(), region: cut, colour: blank.colour });
    layers.retain(|layer| !layer.region.is_empty());
    layers
}

/// "back, recessed 1 mm, Harbour blue".
fn layer_name(
    piece: &Piece,
    (face, layout): (FaceName, &Layout),
    what: &str,
    filament: usize,
) -> String {
    let is_behind = layout.face(face).is_some_and(|face| face.is_turned_over());
    let face = if is_behind { "back, " } else { "" };
    format!("{face}{what}, {}", called(piece, filament))
}

fn size_of(mm: f64, piece: &Piece) -> String {
    format_length(Length::mm(mm), piece.units)
}

/// Puts a region into the layer of this name.
fn lay(layers: &mut Vec<DrawnLayer>, name: String, region: &Region, colour: Rgb) {
    match layers.iter_mut().find(|layer| layer.name == name) {
        Some(layer) => layer.region = layer.region.union(region),
        None => layers.push(DrawnLayer { name, region: region.clone(), colour }),
    }
}
