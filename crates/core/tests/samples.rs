//! Every demo piece and every starter keeps the solid it has: sizes, volumes and triangles at all three
//! tolerances, and what preflight says. Where one changes, the snapshot shows which and by how much.

mod common;

use common::{cache, edited, worked_with};
use kalotype_core::formats::read_mesh;
use kalotype_core::library::Shelf;
use kalotype_core::piece::{self, Edit, Piece};
use kalotype_core::plane::Tolerance;
use kalotype_core::preflight::{Weight, mend};
use kalotype_core::shapes::Shape;
use kalotype_core::stock::{Stock, stock_id};
use kalotype_core::workshop::Workshop;
use std::fmt::Write;
use std::path::Path;

/// The piece files of a folder beside the crates, by name.
fn piece_files(folder: &str) -> Vec<(String, Vec<u8>)> {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../..").join(folder);
    let entries = std::fs::read_dir(folder).unwrap().map(|entry| entry.unwrap().path());
    let mut files: Vec<(String, Vec<u8>)> = entries
        .filter(|path| path.to_string_lossy().ends_with(".kalotype.json"))
        .map(|path| {
            let name = path.file_name().unwrap().to_string_lossy().into_owned();
            (name, std::fs::read(&path).unwrap())
        })
        .collect();
    files.sort();
    files
}

fn told(folder: &str, shelf: &Shelf) -> String {
    let mut text = String::new();
    for (name, file) in piece_files(folder) {
        let piece = piece::read(&file).unwrap();
        let _ = writeln!(text, "{name}");
        for tolerance in [Tolerance::Draft, Tolerance::Normal, Tolerance::Fine] {
            let found = worked_with(shelf, &piece, tolerance);
            let measures = &found.measures;
            let size = [0, 1, 2].map(|axis| measures.high[axis] - measures.low[axis]);
            let [width, height, thickness] = size;
            let triangles = found.mesh.triangles.len();
            let _ = writeln!(
                text,
                "  {tolerance:?}: {width:.4} × {height:.4} × {thickness:.4} mm, {:.4} mm³, \
                 {triangles} triangles, parts {}, partings {}",
                measures.volume, found.parts, found.partings.count
            );
            for body in &found.bodies {
                let filament = &piece.filaments[body.filament].id;
                let triangles = body.mesh.triangles.len();
                let _ = writeln!(text, "    {filament}: {:.4} mm³, {triangles}", body.volume);
            }
            for finding in &found.findings {
                let _ = writeln!(
                    text,
                    "    {} {:?}: {}",
                    finding.code, finding.weight, finding.message
                );
            }
        }
    }
    text
}

#[test]
fn demo_pieces_keep_their_solids() {
    let hull = include_bytes!("../../../demo/ferry-hull.stl");
    let found = read_mesh(hull).unwrap();
    let mut shelf = Shelf::default();
    shelf.put_mesh(Stock::of(stock_id(hull), "ferry-hull.stl".into(), &found).unwrap());
    for shape in [
        include_bytes!("../../../demo/skerry-light-blue.shape.json").as_slice(),
        include_bytes!("../../../demo/skerry-light-red.shape.json"),
        include_bytes!("../../../demo/ornament-scrolls.shape.json"),
        include_bytes!("../../../demo/ornament-inner.shape.json"),
        include_bytes!("../../../demo/heart.shape.json"),
    ] {
        shelf.put_shape(Shape::open(shape, "Shape").unwrap());
    }
    insta::assert_snapshot!(told("demo", &shelf));
}

#[test]
fn starters_keep_their_solids() {
    insta::assert_snapshot!(told("starters", &Shelf::default()));
}

/// What a starter asks for that is words, set to a name one after the other: its first line, or an input. A letter
/// or a quay is not a name.
fn named(piece: &Piece, name: &str) -> Vec<(String, Piece)> {
    let words = piece.fronted.iter().filter_map(|asked| {
        let (target, field) = (&asked.target, asked.field.as_str());
        let mut value = piece.value(target, field)?;
        match field {
            _ if ["Initial", "Quay"].contains(&asked.label.as_str()) => return None,
            "lines" => value[0]["words"] = name.into(),
            field if field.starts_with("inputs.") => value = name.into(),
            _ => return None,
        }
        Some((asked.label.clone(), edited(piece, &[Edit::set(target, field, value)])))
    });
    words.collect()
}

/// Names of people are short and long: whatever must be mended of one is mended by what is offered, in one go.
#[test]
fn starters_take_names_of_two_nine_and_sixteen_letters() {
    let shelf = Shelf::default();
    let mut left = Vec::new();
    for (file, document) in piece_files("starters") {
        let piece = piece::read(&document).unwrap();
        for name in ["Bø", "Åse Łucja", "Maximiliane Öğüt"] {
            for (field, made) in named(&piece, name) {
                let cache = cache();
                let workshop = Workshop::new(&shelf, &cache, Tolerance::Normal);
                let mended = mend(&made, &workshop).unwrap();
                let still = mended.findings.iter().filter(|one| one.weight != Weight::Note);
                left.extend(still.map(|one| format!("{file}, {field}, {name}: {}", one.message)));
                if !mended.steps.is_empty() {
                    println!("{file}, {field}, {name}: {:?}", mended.steps);
                }
            }
        }
    }
    assert_eq!(left, Vec::<String>::new());
}
