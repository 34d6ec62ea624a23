//! 3MF, written.
//!
//! After the 3MF Core Specification 1.3 (3MF Consortium): a ZIP package (Open Packaging Conventions)
//! of a list of content types, the relationships of the package, and the model in XML. Part names,
//! namespaces and the order of elements are those of the specification; coordinates are written so
//! that they read back exactly.

use crate::solid::Mesh;
use std::fmt::Write as _;
use std::io::{Cursor, Write as _};
use zip::write::SimpleFileOptions;
use zip::{CompressionMethod, ZipWriter};

/// Namespace of the core specification.
const CORE: &str = "http://schemas.microsoft.com/3dmanufacturing/core/2015/02";

const CONTENT_TYPES: &str = r#"<?xml version="1.0" encoding="UTF-8"?>
<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="model" ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>
"#;

const RELATIONSHIPS: &str = r#"<?xml version="1.0" encoding="UTF-8"?>
<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships"><Relationship Target="/3D/3dmodel.model" Id="rel0" Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>
"#;

/// A 3MF package of one object in millimetres. `name` is the title of the package and the name of
/// the object; the object is moved so that it lies in the positive octant, where the specification
/// wants it to be built.
pub fn write(mesh: &Mesh, name: &str) -> Vec<u8> {
    let parts = [
        ("[Content_Types].xml", CONTENT_TYPES.to_owned()),
        ("_rels/.rels", RELATIONSHIPS.to_owned()),
        ("3D/3dmodel.model", model(mesh, name)),
    ];
    // The time in the package is always the same, so that the same piece gives the same bytes.
    let options = SimpleFileOptions::default()
        .compression_method(CompressionMethod::Deflated)
        .last_modified_time(zip::DateTime::default());
    let mut package = ZipWriter::new(Cursor::new(Vec::new()));
    for (part, text) in parts {
        package.start_file(part, options).expect("writing to memory does not fail");
        package.write_all(text.as_bytes()).expect("writing to memory does not fail");
    }
    package.finish().expect("writing to memory does not fail").into_inner()
}

fn model(mesh: &Mesh, name: &str) -> String {
    let name = escaped(name);
    let mut xml = String::with_capacity(64 * (mesh.vertices.len() + mesh.triangles.len()));
    let _ = write!(
        xml,
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<model unit=\"millimeter\" xml:lang=\"en\" \
         xmlns=\"{CORE}\">\n<metadata name=\"Title\">{name}</metadata>\n<metadata \
         name=\"Application\">Kalotype</metadata>\n<resources>\n<object id=\"1\" type=\"model\" \
         name=\"{name}\">\n<mesh>\n<vertices>\n"
    );
    for [x, y, z] in &mesh.vertices {
        let _ = writeln!(xml, "<vertex x=\"{x}\" y=\"{y}\" z=\"{z}\"/>");
    }
    xml.push_str("</vertices>\n<triangles>\n");
    for [a, b, c] in &mesh.triangles {
        let _ = writeln!(xml, "<triangle v1=\"{a}\" v2=\"{b}\" v3=\"{c}\"/>");
    }
    let low = mesh.measures().low.map(|mm| -mm + 0.0);
    let _ = write!(
        xml,
        "</triangles>\n</mesh>\n</object>\n</resources>\n<build>\n<item objectid=\"1\" transform=\"1 0 \
         0 0 1 0 0 0 1 {} {} {}\"/>\n</build>\n</model>\n",
        low[0], low[1], low[2]
    );
    xml
}

/// Text as it may stand in XML: markup escaped, characters XML 1.0 does not have left out.
fn escaped(text: &str) -> String {
    let mut safe = String::with_capacity(text.len());
    for character in text.chars() {
        match character {
            '&' => safe.push_str("&amp;"),
            '<' => safe.push_str("&lt;"),
            '>' => safe.push_str("&gt;"),
            '"' => safe.push_str("&quot;"),
            '\t' | '\n' | '\r' => safe.push(' '),
            '\u{0}'..='\u{1f}' | '\u{fffe}' | '\u{ffff}' => {}
            other => safe.push(other),
        }
    }
    safe
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::build::evaluate;
    use crate::piece::{Edit, ElementKind, Piece, apply};
    use crate::plane::Tolerance;
    use crate::units::Unit;
    use std::io::Read;

    #[test]
    fn the_package_holds_the_mesh_exactly() {
        let piece = Piece::new("Ğül & <Łucja>\u{1}", Unit::Millimetre);
        let piece = apply(&piece, &[Edit::add(ElementKind::Lettering)]).unwrap().piece;
        let mesh = evaluate(&piece, Tolerance::Normal).mesh;
        let bytes = write(&mesh, &piece.name);
        assert_eq!(bytes, write(&mesh, &piece.name), "the same piece, the same bytes");
        let mut package = zip::ZipArchive::new(Cursor::new(bytes)).unwrap();
        let mut xml = String::new();
        package.by_name("3D/3dmodel.model").unwrap().read_to_string(&mut xml).unwrap();
        assert!(xml.contains("<metadata name=\"Title\">Ğül &amp; &lt;Łucja&gt;</metadata>"));
        let number = |line: &str, name: &str| -> f64 {
            let (_, after) = line.split_once(&format!(" {name}=\"")).unwrap();
            after.split('"').next().unwrap().parse().unwrap()
        };
        let vertices: Vec<[f64; 3]> = xml
            .lines()
            .filter(|line| line.starts_with("<vertex "))
            .map(|line| ["x", "y", "z"].map(|axis| number(line, axis)))
            .collect();
        assert_eq!(vertices, mesh.vertices);
        assert_eq!(xml.matches("<triangle ").count(), mesh.triangles.len());
    }
}
