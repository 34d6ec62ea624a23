//! OBJ with its material library, written.
//!
//! After the "Object Files (.obj)" and "Material Library File (.mtl)" appendices of the Advanced
//! Visualizer manual as commonly cited: `o` names an object, `v` gives a vertex, `f` a face by
//! vertex numbers that count through the file from 1; `mtllib` names the library, `usemtl` one of
//! its materials, `Kd` the diffuse colour, 0 to 1. The format has no unit; ours are millimetres,
//! which a comment says.

use super::Model;
use std::fmt::Write;

/// An OBJ file of an object for each part, in the materials of a library of this file name if there
/// is one.
pub fn write(model: &Model<'_>, library: Option<&str>) -> String {
    let mut text = String::from("# Kalotype, millimetres\n");
    if let Some(library) = library {
        let _ = writeln!(text, "mtllib {library}");
    }
    let mut first = 1;
    for part in &model.parts {
        let _ = writeln!(text, "o {}", word(part.name));
        if library.is_some() {
            let _ = writeln!(text, "usemtl {}", word(&part.filament.id));
        }
        for [x, y, z] in &part.mesh.vertices {
            let _ = writeln!(text, "v {x} {y} {z}");
        }
        for [a, b, c] in part.mesh.triangles.iter().map(|triangle| triangle.map(|i| i + first)) {
            let _ = writeln!(text, "f {a} {b} {c}");
        }
        first += part.mesh.vertices.len() as u32;
    }
    text
}

/// The material library: a material for each filament, called by its id.
pub fn write_materials(model: &Model<'_>) -> String {
    let mut text = String::from("# Kalotype\n");
    for filament in model.filaments() {
        let [red, green, blue] = filament.colour.0.map(|part| f64::from(part) / 255.0);
        let _ = writeln!(text, "newmtl {}\n# {}", word(&filament.id), line(&filament.name));
        let _ = writeln!(text, "Kd {red:.6} {green:.6} {blue:.6}\nd 1\nillum 1");
    }
    text
}

/// Text without line breaks and the like.
fn line(text: &str) -> String {
    text.chars().map(|c| if c.is_control() { ' ' } else { c }).collect()
}

/// Text as one word.
fn word(text: &str) -> String {
    line(text).trim().replace(char::is_whitespace, "_")
}
