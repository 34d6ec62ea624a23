use crate::build::Layout;
use crate::colour::Rgb;
use crate::piece::{ElementKind, Piece, Side};
use crate::plane::Region;
use crate::solid::Act;
use crate::units::{Length, format_length};

/// A piece as outlines for engravers and laser cutters: a layer for the outline that is cut, and one
/// for everything that is engraved or stands up equally far in the same colour. Lengths in mm, true to
/// size, as it is seen from the front.
#[derive(Debug, Clone, Default, PartialEq)]
pub struct Drawing {
    /// The layers, the one that is cut first.
    pub layers: Vec<DrawnLayer>,
}

/// A layer of a drawing.
#[derive(Debug, Clone, PartialEq)]
pub struct DrawnLayer {
    /// What it is: "cut", "raised 1.5 mm, Sail white", "back, recessed 1 mm".
    pub name: String,
    /// What is drawn.
    pub region: Region,
    /// Its colour.
    pub colour: Rgb,
}

impl Drawing {
    /// Draws a piece. What goes through becomes part of what is cut.
    pub fn of(piece: &Piece, layout: &Layout) -> Self {
        let through = |kind: ElementKind, is_through: bool| match kind {
            ElementKind::Loop => false,
            _ => is_through,
        };
        let outline = layout.outline_seen();
        let mut cut = outline.clone();
        let mut layers: Vec<DrawnLayer> = Vec::new();
        for placed in layout.elements.iter().filter(|placed| placed.kind != ElementKind::Loop) {
            if through(placed.kind, placed.through) {
                cut = cut.difference(&placed.region);
                continue;
            }
            let filament = &piece.filaments[usize::from(placed.colour)];
            let size = format_length(Length::mm(placed.top - placed.bottom), piece.units);
            let is_inlaid = placed.prisms.iter().all(|prism| prism.act == Act::Paints);
            let relief = match placed.act {
                Act::Cuts => "recessed",
                _ if is_inlaid => "flush",
                _ => "raised",
            };
            let side = if placed.side == Side::Back { "back, " } else { "" };
            let name = format!("{side}{relief} {size}, {}", filament.name);
            let region = match placed.act {
                Act::Cuts => placed.region.intersection(&outline),
                _ => placed.region.clone(),
            };
            match layers.iter_mut().find(|layer| layer.name == name) {
                Some(layer) => layer.region = layer.region.union(&region),
                None => layers.push(DrawnLayer { name, region, colour: filament.colour }),
            }
        }
        let plate = &piece.filaments[piece.filament_of(None)];
        let first = DrawnLayer { name: "cut".to_owned(), region: cut, colour: plate.colour };
        layers.insert(0, first);
        layers.retain(|layer| !layer.region.is_empty());
        Drawing { layers }
    }
}
