//! STL, binary and ASCII, written and read.
//!
//! Layout after "StereoLithography Interface Specification", 3D Systems, 1989, as commonly cited:
//! a binary file has a header of 80 bytes, a count of triangles as u32, and 50 bytes for each
//! triangle: normal and three corners as f32, then a u16 of attributes; all little-endian.

use super::{MAX_TRIANGLES, shortened};
use crate::solid::{Mesh, cross, minus};
use std::fmt::Write;
use thiserror::Error;

const HEADER: usize = 80;
const RECORD: usize = 50;

/// Why an STL file was refused.
#[derive(Debug, Clone, PartialEq, Eq, Error)]
pub enum StlError {
    /// Neither a binary nor an ASCII STL.
    #[error("this is not an STL file")]
    NotStl,
    /// The count in the header and the length of the file do not agree.
    #[error(
        "the file says it has {stated} triangles, which takes {needed} bytes, but it has {found}"
    )]
    Length {
        /// Triangles stated.
        stated: usize,
        /// Bytes those take.
        needed: usize,
        /// Bytes there are.
        found: usize,
    },
    /// More than [`MAX_TRIANGLES`].
    #[error("the file has {0} triangles; {MAX_TRIANGLES} are the most that are read")]
    TooMany(usize),
    /// A coordinate that is not a number or infinite.
    #[error("triangle {0} has a coordinate that is not a number")]
    NotFinite(usize),
    /// A word of an ASCII file that does not belong there.
    #[error("line {line}: expected {expected}, found “{found}”")]
    Syntax {
        /// Line, from 1.
        line: usize,
        /// What should stand there.
        expected: &'static str,
        /// What does.
        found: String,
    },
}

/// How many bytes a binary STL of so many triangles has.
pub fn size_of(triangles: usize) -> usize {
    HEADER + 4 + RECORD * triangles
}

/// A binary STL. `name` is put into the header, which never begins with "solid".
pub fn write_binary(mesh: &Mesh, name: &str) -> Vec<u8> {
    let mut bytes = Vec::with_capacity(size_of(mesh.triangles.len()));
    let title = format!("binary STL, mm, Kalotype: {name}");
    bytes.extend(title.bytes().map(|b| if b.is_ascii_graphic() { b } else { b' ' }).take(HEADER));
    bytes.resize(HEADER, b' ');
    bytes.extend((mesh.triangles.len() as u32).to_le_bytes());
    for &triangle in &mesh.triangles {
        let corners = mesh.corners(triangle);
        let mut record = [0u8; RECORD];
        let floats = [normal(corners)].into_iter().chain(corners).flatten();
        for (slot, value) in record.chunks_exact_mut(4).zip(floats) {
            slot.copy_from_slice(&(value as f32).to_le_bytes());
        }
        bytes.extend(record);
    }
    bytes
}

/// An ASCII STL. `name` is the name of the solid, on one line.
pub fn write_ascii(mesh: &Mesh, name: &str) -> String {
    let name: String = name.chars().map(|c| if c.is_control() { ' ' } else { c }).collect();
    let mut text = format!("solid {name}\n");
    for &triangle in &mesh.triangles {
        let corners = mesh.corners(triangle);
        let [x, y, z] = normal(corners).map(|v| v as f32);
        let _ = write!(text, "facet normal {x} {y} {z}\n outer loop\n");
        for corner in corners {
            let [x, y, z] = corner.map(|v| v as f32);
            let _ = writeln!(text, "  vertex {x} {y} {z}");
        }
        text.push_str(" endloop\nendfacet\n");
    }
    let _ = writeln!(text, "endsolid {name}");
    text
}

/// The unit normal of a triangle; zero for one without area.
fn normal([a, b, c]: [[f64; 3]; 3]) -> [f64; 3] {
    let n = cross(minus(b, a), minus(c, a));
    let length = (n[0] * n[0] + n[1] * n[1] + n[2] * n[2]).sqrt();
    if length > 0.0 { n.map(|v| v / length + 0.0) } else { [0.0; 3] }
}

/// A solid of an STL file.
#[derive(Debug, Clone, PartialEq)]
pub struct StlSolid {
    /// What a text file calls it.
    pub name: String,
    /// Its mesh.
    pub mesh: Mesh,
}

/// Reads an STL of either kind as one mesh, whatever solids it has, and welds corners that coincide.
///
/// # Errors
/// As [`read_solids`].
pub fn read(bytes: &[u8]) -> Result<Mesh, StlError> {
    let solids = read_solids(bytes)?.into_iter().map(|solid| solid.mesh);
    let all = solids.reduce(|mut all, mesh| {
        all.append(&mesh);
        all
    });
    Ok(all.unwrap_or_default())
}

/// Reads the solids of an STL of either kind and welds the corners of each that coincide; a binary file has one, a text
/// file as many as it names. Normals are taken from the corners, not from the file. Some binary files begin with "solid",
/// so the length decides.
///
/// # Errors
/// [`StlError`] for what is not an STL, lies about its length, is too large or holds NaN.
pub fn read_solids(bytes: &[u8]) -> Result<Vec<StlSolid>, StlError> {
    let stated = bytes
        .get(HEADER..HEADER + 4)
        .map(|count| u32::from_le_bytes([count[0], count[1], count[2], count[3]]) as usize);
    let needed = stated.map(|count| HEADER + 4 + RECORD * count);
    let is_text = bytes.trim_ascii_start().starts_with(b"solid");
    match (stated, needed) {
        (Some(stated), Some(needed)) if needed == bytes.len() => {
            let mesh = read_binary(bytes, stated)?;
            Ok(vec![StlSolid { name: String::new(), mesh }])
        }
        _ if is_text => read_ascii(bytes),
        (Some(stated), Some(needed)) => {
            Err(StlError::Length { stated, needed, found: bytes.len() })
        }
        _ => Err(StlError::NotStl),
    }
}

fn read_binary(bytes: &[u8], count: usize) -> Result<Mesh, StlError> {
    if count > MAX_TRIANGLES {
        return Err(StlError::TooMany(count));
    }
    let mut triangles = Vec::with_capacity(count);
    for (i, record) in bytes[HEADER + 4..].chunks_exact(RECORD).enumerate() {
        let float = |at: usize| {
            f32::from_le_bytes([record[at], record[at + 1], record[at + 2], record[at + 3]])
        };
        let corner = |k: usize| [12 * k, 12 * k + 4, 12 * k + 8].map(float);
        let triangle = [1, 2, 3].map(corner);
        if triangle.iter().flatten().any(|v| !v.is_finite()) {
            return Err(StlError::NotFinite(i + 1));
        }
        triangles.push(triangle);
    }
    Ok(Mesh::weld(&triangles))
}

fn read_ascii(bytes: &[u8]) -> Result<Vec<StlSolid>, StlError> {
    let text = String::from_utf8_lossy(bytes);
    let mut words = Words::new(&text);
    let mut solids: Vec<StlSolid> = Vec::new();
    let mut count = 0;
    loop {
        match words.next() {
            (_, "solid") => {}
            (_, Words::END) if !solids.is_empty() => return Ok(solids),
            (line, other) => return Err(syntax(line, "solid", other)),
        }
        let name = words.rest_of_line().to_owned();
        let triangles = read_facets(&mut words, &mut count)?;
        // Its name once more.
        words.rest_of_line();
        solids.push(StlSolid { name, mesh: Mesh::weld(&triangles) });
    }
}

/// The facets of a solid, to its end; `count` counts those of the whole file.
fn read_facets(words: &mut Words<'_>, count: &mut usize) -> Result<Vec<[[f32; 3]; 3]>, StlError> {
    let mut triangles = Vec::new();
    loop {
        match words.next() {
            (_, "endsolid") => return Ok(triangles),
            (_, "facet") => {}
            (line, other) => return Err(syntax(line, "facet or endsolid", other)),
        }
        if *count == MAX_TRIANGLES {
            return Err(StlError::TooMany(MAX_TRIANGLES + 1));
        }
        *count += 1;
        words.keyword("normal")?;
        words.vector()?;
        words.keyword("outer")?;
        words.keyword("loop")?;
        let mut triangle = [[0f32; 3]; 3];
        for corner in &mut triangle {
            words.keyword("vertex")?;
            *corner = words.vector()?;
            if corner.iter().any(|v| !v.is_finite()) {
                return Err(StlError::NotFinite(*count));
            }
        }
        words.keyword("endloop")?;
        words.keyword("endfacet")?;
        triangles.push(triangle);
    }
}

/// The words of an ASCII file, with the line they stand on.
struct Words<'a> {
    lines: std::iter::Enumerate<std::str::Lines<'a>>,
    line: usize,
    /// What is left of that line.
    rest: &'a str,
}

impl<'a> Words<'a> {
    /// Instead of a word where there is none any more.
    const END: &'static str = "the end of the file";

    fn new(text: &'a str) -> Self {
        Words { lines: text.lines().enumerate(), line: 1, rest: "" }
    }

    fn next(&mut self) -> (usize, &'a str) {
        loop {
            let rest = self.rest.trim_start();
            if !rest.is_empty() {
                let (word, behind) =
                    rest.split_at(rest.find(char::is_whitespace).unwrap_or(rest.len()));
                self.rest = behind;
                return (self.line, word);
            }
            let Some((i, line)) = self.lines.next() else {
                return (self.line, Words::END);
            };
            self.line = i + 1;
            self.rest = line;
        }
    }

    fn rest_of_line(&mut self) -> &'a str {
        std::mem::take(&mut self.rest).trim()
    }

    fn keyword(&mut self, expected: &'static str) -> Result<(), StlError> {
        match self.next() {
            (_, word) if word == expected => Ok(()),
            (line, word) => Err(syntax(line, expected, word)),
        }
    }

    fn vector(&mut self) -> Result<[f32; 3], StlError> {
        let mut vector = [0.0; 3];
        for value in &mut vector {
            let (line, word) = self.next();
            *value = word.parse().map_err(|_| syntax(line, "a number", word))?;
        }
        Ok(vector)
    }
}

fn syntax(line: usize, expected: &'static str, found: &str) -> StlError {
    StlError::Syntax { line, expected, found: shortened(found, 60) }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn tetrahedron() -> Mesh {
        Mesh {
            vertices: vec![[0.5, -2., 0.], [7., 2.25, 0.], [1., 6., 0.], [1., 2., 5.]],
            triangles: vec![[0, 2, 1], [0, 1, 3], [0, 3, 2], [1, 2, 3]],
        }
    }

    #[test]
    fn a_binary_file_is_laid_out_byte_by_byte_as_the_format_says() {
        let bytes = write_binary(&tetrahedron(), "solid nåme\n");
        assert_eq!(bytes.len(), 80 + 4 + 50 * 4);
        assert!(!bytes.starts_with(b"solid") && bytes[..80].is_ascii());
        assert_eq!(bytes[80..84], 4u32.to_le_bytes());
        let first = &bytes[84..134];
        let floats: Vec<f32> =
            first[..48].chunks(4).map(|b| f32::from_le_bytes(b.try_into().unwrap())).collect();
        assert_eq!(floats, [0., 0., -1., 0.5, -2., 0., 1., 6., 0., 7., 2.25, 0.]);
        assert_eq!(first[48..], [0, 0]);
    }

    #[test]
    fn both_kinds_read_back_as_the_same_mesh() {
        let mesh = tetrahedron();
        for bytes in [write_binary(&mesh, "a"), write_ascii(&mesh, "a\nb").into_bytes()] {
            let found = read(&bytes).unwrap();
            assert_eq!(found.triangles.len(), 4);
            assert_eq!(found.measures().volume, mesh.measures().volume);
            assert!(found.faults().is_sound());
        }
        // A binary file whose header begins with "solid" is still binary.
        let mut bytes = write_binary(&mesh, "a");
        bytes[..5].copy_from_slice(b"solid");
        assert_eq!(read(&bytes).unwrap().triangles.len(), 4);
    }

    /// A text file of two tetrahedra, one above the other, and an empty solid between: both are read, under their names.
    #[test]
    fn a_text_file_has_all_its_solids() {
        let one = tetrahedron();
        let mut other = one.clone();
        other.vertices.iter_mut().for_each(|vertex| vertex[2] += 20.0);
        let empty = "solid\nendsolid\n";
        let text = [&write_ascii(&one, "Bow line"), empty, &write_ascii(&other, "Stern")].concat();
        let found = read_solids(text.as_bytes()).unwrap();
        let named: Vec<(&str, usize)> =
            found.iter().map(|solid| (solid.name.as_str(), solid.mesh.triangles.len())).collect();
        assert_eq!(named, [("Bow line", 4), ("", 0), ("Stern", 4)]);
        let all = read(text.as_bytes()).unwrap();
        assert!((all.volume() - 2.0 * one.volume()).abs() < 1e-9 && all.faults().is_sound());
        let bodies = crate::formats::read_mesh(text.as_bytes()).unwrap().bodies;
        assert_eq!(
            bodies.iter().map(|body| body.name.as_str()).collect::<Vec<_>>(),
            ["Bow line", "Stern"]
        );
        // What comes behind and is none of it is said with its line.
        let more = format!("{text}facet");
        assert!(matches!(read(more.as_bytes()), Err(StlError::Syntax { expected: "solid", .. })));
    }

    #[test]
    fn stl_io_reads_what_we_write() {
        let mesh = tetrahedron();
        for bytes in [write_binary(&mesh, "a"), write_ascii(&mesh, "a").into_bytes()] {
            let found = stl_io::read_stl(&mut std::io::Cursor::new(bytes)).unwrap();
            assert_eq!((found.faces.len(), found.vertices.len()), (4, 4));
            found.validate().unwrap();
        }
    }

    #[test]
    fn bad_files_are_refused_with_what_is_wrong() {
        let good = write_binary(&tetrahedron(), "a");
        let ascii = write_ascii(&tetrahedron(), "a");
        let mut lying = good.clone();
        lying[80..84].copy_from_slice(&u32::MAX.to_le_bytes());
        let mut nan = good.clone();
        nan[84 + 12..84 + 16].copy_from_slice(&f32::NAN.to_le_bytes());
        let mut huge = good[..84].to_vec();
        huge[80..84].copy_from_slice(&3_000_000u32.to_le_bytes());
        huge.resize(84 + 50 * 3_000_000, 0);
        let said = |bytes: &[u8]| read(bytes).unwrap_err().to_string();
        insta::assert_snapshot!(
            [
                said(b""),
                said(b"PNG"),
                said(&good[..good.len() - 1]),
                said(&lying),
                said(&nan),
                said(&huge),
                said(ascii.replace("7 2.25 0", "7 x 0").as_bytes()),
                said(ascii.replace("7 2.25 0", "7 inf 0").as_bytes()),
                said(ascii.replacen("endloop", "", 1).as_bytes()),
                said(&ascii.as_bytes()[..ascii.len() - 12]),
                said(b"solid"),
            ]
            .join("\n")
        );
    }

    proptest! {
        #[test]
        fn reading_never_panics(mut bytes in prop::collection::vec(any::<u8>(), 0..400), text in any::<bool>()) {
            if text {
                bytes.splice(0..0, *b"solid x\nfacet normal 0 0 1 ");
            }
            let _ = read(&bytes);
        }
    }
}
