//! Writing: a ZIP package (Open Packaging Conventions) of a list of content types, the relationships of
//! the package, and the model in XML. Part names, namespaces and the order of elements are those of
//! the specification; coordinates are written so that they read back exactly.

use super::super::{Model, archive, xml_text};
use super::CORE;
use std::fmt::Write as _;

const CONTENT_TYPES: &str = r#"<?xml version="1.0" encoding="UTF-8"?>
<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/><Default Extension="png" ContentType="image/png"/></Types>
"#;

const MODEL_RELATIONSHIP: &str = r#"<Relationship Target="/3D/3dmodel.model" Id="rel0" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/>"#;

const PICTURE_RELATIONSHIP: &str = r#"<Relationship Target="/Metadata/thumbnail.png" Id="rel1" Type="http://schemas.openxmlformats.org/package/2006/relationships/metadata/thumbnail"/>"#;

/// A 3MF package in millimetres: a mesh object for each part, in the colour of its filament as a
/// base material, and where several parts make up an object, an object of components that holds them.
/// Everything is moved so that it lies in the positive octant, where the specification wants it to
/// be built.
pub fn write(model: &Model<'_>) -> Vec<u8> {
    let picture_relationship = if model.picture.is_some() { PICTURE_RELATIONSHIP } else { "" };
    let relationships = format!(
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<Relationships \
         xmlns=\"http://schemas.openxmlformats.org/package/2006/relationships\">\
         {MODEL_RELATIONSHIP}{picture_relationship}</Relationships>\n"
    );
    let mut parts = vec![
        ("[Content_Types].xml", CONTENT_TYPES.as_bytes().to_vec()),
        ("_rels/.rels", relationships.into_bytes()),
        ("3D/3dmodel.model", model_part(model).into_bytes()),
    ];
    if let Some(picture) = &model.picture {
        parts.push(("Metadata/thumbnail.png", picture.clone()));
    }
    archive(parts.iter().map(|(name, bytes)| (*name, &bytes[..])))
}

fn model_part(model: &Model<'_>) -> String {
    const MATERIALS: usize = 1;
    const FIRST_OBJECT: usize = 2;
    let name = xml_text(model.name);
    let filaments = model.filaments();
    let size: usize =
        model.parts.iter().map(|part| part.mesh.vertices.len() + part.mesh.triangles.len()).sum();
    let mut xml = String::with_capacity(1000 + 64 * size);
    let _ = write!(
        xml,
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<model unit=\"millimeter\" xml:lang=\"en\" \
         xmlns=\"{CORE}\">\n<metadata name=\"Title\">{name}</metadata>\n<metadata \
         name=\"Application\">Kalotype</metadata>\n"
    );
    if let Some(date) = model.date {
        let _ = writeln!(xml, "<metadata name=\"CreationDate\">{}</metadata>", xml_text(date));
    }
    let _ = writeln!(xml, "<resources>\n<basematerials id=\"{MATERIALS}\">");
    for filament in &filaments {
        let (name, colour) = (xml_text(&filament.name), filament.colour.to_string().to_uppercase());
        let _ = writeln!(xml, "<base name=\"{name}\" displaycolor=\"{colour}FF\"/>");
    }
    xml.push_str("</basematerials>\n");
    for (i, part) in model.parts.iter().enumerate() {
        let material = filaments.iter().position(|known| known.id == part.filament.id).unwrap_or(0);
        let (id, name) = (FIRST_OBJECT + i, xml_text(&part.name));
        let _ = write!(
            xml,
            "<object id=\"{id}\" type=\"model\" name=\"{name}\" pid=\"{MATERIALS}\" \
             pindex=\"{material}\">\n<mesh>\n<vertices>\n"
        );
        // Exact in f32, which readers use, and half as long as in f64.
        for [x, y, z] in part.mesh.vertices.iter().map(|vertex| vertex.map(|mm| mm as f32)) {
            let _ = writeln!(xml, "<vertex x=\"{x}\" y=\"{y}\" z=\"{z}\"/>");
        }
        xml.push_str("</vertices>\n<triangles>\n");
        for [a, b, c] in &part.mesh.triangles {
            let _ = writeln!(xml, "<triangle v1=\"{a}\" v2=\"{b}\" v3=\"{c}\"/>");
        }
        xml.push_str("</triangles>\n</mesh>\n</object>\n");
    }
    let built = write_objects(&mut xml, model, FIRST_OBJECT);
    let [x, y, z] = model.low().map(|mm| -mm + 0.0);
    xml.push_str("</resources>\n<build>\n");
    for object in built {
        let _ = writeln!(
            xml,
            "<item objectid=\"{object}\" transform=\"1 0 0 0 1 0 0 0 1 {x} {y} {z}\"/>"
        );
    }
    xml.push_str("</build>\n</model>\n");
    xml
}

/// What the parts make up: an object of components where there are several. The ids of what is built.
fn write_objects(xml: &mut String, model: &Model<'_>, first: usize) -> Vec<usize> {
    let mut built = Vec::new();
    let (mut part, mut next) = (first, first + model.parts.len());
    for object in &model.objects {
        let parts = part..part + object.parts;
        part = parts.end;
        match object.parts {
            0 => {}
            1 => built.push(parts.start),
            _ => {
                let name = xml_text(&object.name);
                let _ = writeln!(
                    xml,
                    "<object id=\"{next}\" type=\"model\" name=\"{name}\">\n<components>"
                );
                for part in parts {
                    let _ = writeln!(xml, "<component objectid=\"{part}\"/>");
                }
                xml.push_str("</components>\n</object>\n");
                built.push(next);
                next += 1;
            }
        }
    }
    built
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::export::{Division, model_of};
    use crate::filament::shipped_palette;
    use crate::piece::{Edit, ElementKind, Piece};
    use crate::plane::Tolerance;
    use crate::testing::{address, edited, evaluated, fresh};
    use std::io::{Cursor, Read};

    #[test]
    fn the_package_holds_the_meshes_exactly() {
        let piece = fresh(&[ElementKind::Lettering]);
        let piece = Piece { name: "Ğül & <Łucja>\u{1}".into(), ..piece };
        let colour = Edit::Colour {
            target: address("lettering-1"),
            field: "colour".into(),
            filament: Some(shipped_palette().remove(1)),
        };
        let piece = edited(&piece, &[colour]);
        let found = evaluated(&piece, Tolerance::Normal);
        let model = Model { date: Some("2026-11-25"), ..model_of(&piece, &found, Division::Split) };
        let bytes = write(&model);
        assert_eq!(bytes, write(&model), "the same piece, the same bytes");
        let mut package = zip::ZipArchive::new(Cursor::new(bytes)).unwrap();
        let mut xml = String::new();
        package.by_name("3D/3dmodel.model").unwrap().read_to_string(&mut xml).unwrap();
        assert!(xml.contains("<metadata name=\"Title\">Ğül &amp; &lt;Łucja&gt;</metadata>"));
        assert!(xml.contains("<base name=\"Sail white\" displaycolor=\"#F2EFE6FF\"/>"));
        let number = |line: &str, name: &str| -> f32 {
            let (_, after) = line.split_once(&format!(" {name}=\"")).unwrap();
            after.split('"').next().unwrap().parse().unwrap()
        };
        let vertices: Vec<[f32; 3]> = xml
            .lines()
            .filter(|line| line.starts_with("<vertex "))
            .map(|line| ["x", "y", "z"].map(|axis| number(line, axis)))
            .collect();
        let bodies: Vec<_> = found.bodies().collect();
        let exact: Vec<_> = bodies
            .iter()
            .flat_map(|body| body.mesh.vertices.iter().map(|v| v.map(|mm| mm as f32)))
            .collect();
        assert_eq!((bodies.len(), vertices), (2, exact));
    }
}
