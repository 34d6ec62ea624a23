//! DXF, written.
//!
//! Closed polylines (LWPOLYLINE), a layer for each layer of the drawing, in millimetres
//! (`$INSUNITS` 4), after the DXF Reference for release 2004, the first with true colours.

use super::Drawing;
use crate::plane::from_grid;
use ::dxf::entities::{Entity, EntityType, LwPolyline};
use ::dxf::enums::{AcadVersion, Units};
use ::dxf::tables::Layer;
use ::dxf::{Color, Drawing as DxfDrawing, LwPolylineVertex};
use std::time::UNIX_EPOCH;

/// A DXF file as text. Names of layers keep letters, figures, spaces and a few signs, which is what
/// the reference allows.
pub fn write(drawing: &Drawing) -> Vec<u8> {
    let mut file = DxfDrawing::new();
    file.header.version = AcadVersion::R2004;
    file.header.default_drawing_units = Units::Millimeters;
    // The core knows no clock and no chance: the same piece gives the same file.
    file.header.creation_date = UNIX_EPOCH.into();
    file.header.creation_date_universal = UNIX_EPOCH.into();
    file.header.update_date = UNIX_EPOCH.into();
    file.header.update_date_universal = UNIX_EPOCH.into();
    file.header.fingerprint_guid = Default::default();
    file.header.version_guid = Default::default();
    for (i, layer) in drawing.layers.iter().enumerate() {
        let name = layer_name(&layer.name);
        file.add_layer(Layer {
            name: name.clone(),
            color: Color::from_index(1 + i as u8 % 7),
            ..Layer::default()
        });
        let [red, green, blue] = layer.colour.0.map(i32::from);
        for contour in layer.region.contours() {
            let corner = |p: &crate::plane::GridPoint| LwPolylineVertex {
                x: from_grid(p.x),
                y: from_grid(p.y),
                ..LwPolylineVertex::default()
            };
            let vertices = contour.iter().map(corner).collect();
            let mut line = LwPolyline { vertices, ..LwPolyline::default() };
            line.set_is_closed(true);
            let mut entity = Entity::new(EntityType::LwPolyline(line));
            entity.common.layer.clone_from(&name);
            entity.common.color_24_bit = red << 16 | green << 8 | blue;
            file.add_entity(entity);
        }
    }
    let mut bytes = Vec::new();
    file.save(&mut bytes).expect("writing to memory does not fail");
    bytes
}

/// A name as the reference allows it for a layer.
fn layer_name(name: &str) -> String {
    let allowed = |c: char| if c.is_alphanumeric() || " .-_".contains(c) { c } else { '-' };
    name.replace(", ", " - ").chars().map(allowed).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::export::drawing_of;
    use crate::piece::ElementKind::{Hole, Lettering, Rim};
    use crate::plane::Tolerance;
    use crate::testing::{evaluated, fresh};

    #[test]
    fn the_layers_are_read_back_with_their_areas() {
        let piece = fresh(&[Hole, Lettering, Rim]);
        let drawing = drawing_of(&piece, &evaluated(&piece, Tolerance::Normal));
        let bytes = write(&drawing);
        assert_eq!(bytes, write(&drawing), "the same piece, the same bytes");
        let read = DxfDrawing::load(&mut &bytes[..]).unwrap();
        assert_eq!(read.header.default_drawing_units, Units::Millimeters);
        for layer in &drawing.layers {
            let doubled: f64 = read
                .entities()
                .filter(|entity| entity.common.layer == layer_name(&layer.name))
                .map(|entity| match &entity.specific {
                    EntityType::LwPolyline(line) => {
                        let next = line.vertices.iter().cycle().skip(1);
                        line.vertices
                            .iter()
                            .zip(next)
                            .map(|(a, b)| a.x * b.y - b.x * a.y)
                            .sum::<f64>()
                    }
                    other => panic!("{other:?}"),
                })
                .sum();
            assert!((doubled / 2.0 - layer.region.area()).abs() < 1e-6, "{}", layer.name);
        }
        assert_eq!(drawing.layers.len(), 3);
    }
}
