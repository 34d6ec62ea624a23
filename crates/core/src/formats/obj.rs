//! OBJ with its material library, written, and OBJ read.
//!
//! After the "Object Files (.obj)" and "Material Library File (.mtl)" appendices of the Advanced
//! Visualizer manual as commonly cited: `o` names an object, `v` gives a vertex, `f` a face by
//! vertex numbers that count through the file from 1; `mtllib` names the library, `usemtl` one of
//! its materials, `Kd` the diffuse colour, 0 to 1. The format has no unit; ours are millimetres,
//! which a comment says.

use super::{FoundBody, FoundMesh, MAX_TRIANGLES, MeshFileError, Model, quoted};
use crate::solid::Mesh;
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
        let _ = writeln!(text, "o {}", word(&part.name));
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

/// Whether this is text with a vertex in it, as no STL file has.
pub(super) fn looks_like(bytes: &[u8]) -> bool {
    const LOOK: usize = 64 << 10;
    let start = &bytes[..bytes.len().min(LOOK)];
    let is_text = start.iter().all(|byte| *byte != 0);
    let is_vertex = |line: &[u8]| line.trim_ascii_start().starts_with(b"v ");
    is_text && start.split(|byte| *byte == b'\n').any(is_vertex)
}

/// The most vertices a file may have to be read.
const MAX_VERTICES: usize = 3 * MAX_TRIANGLES;

/// Reads an OBJ file: an object or group becomes a body. Faces of more than three corners are cut
/// into triangles from their first corner; everything but vertices and faces is left out. Materials
/// lie in another file and are not read.
///
/// Our own, since the library at hand (tobj 4.0) panics on some broken files.
///
/// # Errors
/// [`MeshFileError`] for what is no OBJ, is too large or holds figures that are no numbers.
pub fn read(bytes: &[u8]) -> Result<FoundMesh, MeshFileError> {
    let text = String::from_utf8_lossy(bytes);
    let mut vertices: Vec<[f64; 3]> = Vec::new();
    let mut bodies: Vec<(String, Vec<[u32; 3]>)> = vec![(String::new(), Vec::new())];
    let mut triangles = 0;
    for (number, line) in text.lines().enumerate() {
        let at = |message: String| MeshFileError::Obj(format!("line {}: {message}", number + 1));
        let mut words = line.split_whitespace();
        match words.next() {
            Some("v") => {
                let mut vertex = [0.0; 3];
                for slot in &mut vertex {
                    let missing = || at("a vertex has three figures".to_owned());
                    let word = words.next().ok_or_else(missing)?;
                    let figure = word.parse().ok().filter(|figure: &f64| figure.is_finite());
                    *slot = figure.ok_or_else(|| at(format!("{} is no number", quoted(word))))?;
                }
                if vertices.len() == MAX_VERTICES {
                    return Err(MeshFileError::TooMany);
                }
                vertices.push(vertex);
            }
            Some("f") => {
                let corners: Vec<u32> = words
                    .map(|word| {
                        let known = corner(word, vertices.len());
                        known.ok_or_else(|| {
                            at(format!("{} names no vertex before it", quoted(word)))
                        })
                    })
                    .collect::<Result<_, _>>()?;
                let [first, rest @ ..] = &corners[..] else { continue };
                triangles += rest.len().saturating_sub(1);
                if triangles > MAX_TRIANGLES {
                    return Err(MeshFileError::TooMany);
                }
                if let Some((_, faces)) = bodies.last_mut() {
                    faces.extend(rest.windows(2).map(|pair| [*first, pair[0], pair[1]]));
                }
            }
            Some("o" | "g") => {
                let name = words.collect::<Vec<_>>().join(" ");
                match bodies.last_mut() {
                    // A group right after its object, or the first one, has nothing before it.
                    Some((last, faces)) if faces.is_empty() => {
                        if last.is_empty() {
                            *last = name;
                        }
                    }
                    _ => bodies.push((name, Vec::new())),
                }
            }
            _ => {}
        }
    }
    let body = |(name, triangles): (String, Vec<[u32; 3]>)| {
        let mut mesh = part_of(&vertices, triangles);
        mesh = mesh.welded();
        FoundBody { name, colour: None, mesh }
    };
    let bodies = bodies.into_iter().filter(|(_, faces)| !faces.is_empty()).map(body).collect();
    Ok(FoundMesh { format: "OBJ".into(), unit: None, bodies, remarks: Vec::new() })
}

/// The vertex a corner of a face names, from 0: "7", "7/1", "7//2" or "7/1/2", counted from 1, or
/// backwards from the last one before the face where it is negative.
fn corner(word: &str, vertices: usize) -> Option<u32> {
    let number: i64 = word.split('/').next()?.parse().ok()?;
    let index = if number < 0 { vertices as i64 + number } else { number - 1 };
    (0..vertices as i64).contains(&index).then_some(index as u32)
}

/// The mesh of some triangles with only the vertices they use, in time that grows with them alone.
fn part_of(vertices: &[[f64; 3]], triangles: Vec<[u32; 3]>) -> Mesh {
    let mut used: Vec<u32> = triangles.iter().flatten().copied().collect();
    used.sort_unstable();
    used.dedup();
    let place = |corner: u32| used.partition_point(|known| *known < corner) as u32;
    let triangles = triangles.iter().map(|triangle| triangle.map(place)).collect();
    Mesh { vertices: used.iter().map(|i| vertices[*i as usize]).collect(), triangles }
}

#[cfg(test)]
mod tests {
    use crate::formats::read_mesh;

    /// A box of six faces of four corners, the last three counted backwards.
    const BOX: &str = "# a box\no box\nv 0 0 0\nv 2 0 0\nv 2 3 0\nv 0 3 0\nv 0 0 4\nv 2 0 4\nv 2 3 4\nv 0 3 4\n\
                       vn 0 0 1\nf 4 3 2 1\nf 5//1 6//1 7//1 8//1\nf 1/1 2/2 6/3 5/4\nf -7 -6 -2 -3\n\
                       f -6 -5 -1 -2\nf -5 -8 -4 -1\n";

    #[test]
    fn faces_of_any_kind_are_read_as_the_closed_box_they_are() {
        let found = read_mesh(BOX.as_bytes()).unwrap();
        assert_eq!(
            (&*found.format, found.bodies.len(), &found.bodies[0].name[..]),
            ("OBJ", 1, "box")
        );
        assert!(found.faults().is_sound(), "{:?}", found.faults());
        assert!((found.bodies[0].mesh.measures().volume - 24.0).abs() < 1e-12);
        assert_eq!(found.likely_unit(), "in");
        let two = format!("{BOX}o other\n{}", BOX.split_once("vn").unwrap().1);
        assert_eq!(read_mesh(two.as_bytes()).unwrap().bodies.len(), 2);
    }

    #[test]
    fn what_is_wrong_is_said_with_its_line() {
        for (broken, words) in [
            (BOX.replace("v 2 3 0", "v 2 NaN 0"), "line 5: “NaN” is no number"),
            (BOX.replace("v 2 3 0", "v 2"), "line 5: a vertex has three figures"),
            (BOX.replace("f 4 3", "f 9 3"), "line 12: “9” names no vertex"),
            (BOX.replace("f 4 3", "f 0 3"), "line 12: “0” names no vertex"),
            (BOX.replace("f -7", "f -70"), "line 15: “-70” names no vertex"),
            (BOX.replace("f 4 3", &format!("f {} 3", "4".repeat(1 << 20))), "44…” names no vertex"),
            (BOX.replace("v 2 3 0", &format!("v 2 {} 0", "ß".repeat(1 << 20))), "ß…” is no number"),
            ("v 0 0 0\n".to_owned(), "no triangle"),
        ] {
            let said = read_mesh(broken.as_bytes()).unwrap_err().to_string();
            assert!(said.contains(words) && said.len() < 300, "{said}: {words}");
        }
    }
}
