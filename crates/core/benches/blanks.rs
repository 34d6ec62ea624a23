//! Pieces made of meshes: taking a mesh up, standing it, and one edit on it.

#[path = "../tests/common/mod.rs"]
mod common;

use common::{add, cache, set as put};
use divan::{Bencher, black_box};
use kalotype_core::edit::apply;
use kalotype_core::evaluate::evaluate;
use kalotype_core::formats::{FoundMesh, read_mesh, stl};
use kalotype_core::library::{Library, Shelf};
use kalotype_core::piece::{Blank, ElementKind, MeshBlank, Piece, WorkedFace};
use kalotype_core::plane::Tolerance;
use kalotype_core::solid::Mesh;
use kalotype_core::stock::{Stock, level, stock_id};
use kalotype_core::units::Unit;
use kalotype_core::workshop::Workshop;
use serde_json::json;

fn main() {
    divan::main();
}

/// The demo's hull, slabs whose underside is waved in so many steps each way, and a disc.
const BLANKS: [usize; 4] = [0, 70, 222, DISC];

/// What stands for a disc 1.3 mm thick whose faces are fans of 1 225 slivers.
const DISC: usize = 1225;

/// A slab of 80 × 60 mm with a flat top and a waved underside: about 2 `steps`² triangles.
fn slab(steps: usize) -> Mesh {
    let mut mesh = Mesh::default();
    let share = |i: usize| i as f64 / steps as f64;
    let at = |i: usize, j: usize| (i * (steps + 1) + j) as u32;
    for i in 0..=steps {
        for j in 0..=steps {
            let (x, y) = (share(i), share(j));
            let wave = (x * 21.0).sin() * (y * 17.0).cos();
            mesh.vertices.push([x * 80.0, y * 60.0, 2.0 + wave]);
        }
    }
    for i in 0..steps {
        for j in 0..steps {
            let (a, b) = (at(i, j), at(i, j + 1));
            let (c, d) = (at(i + 1, j), at(i + 1, j + 1));
            mesh.triangles.extend([[a, b, d], [a, d, c]]);
        }
    }
    // The top is a fan from its middle, the walls stand on the rim.
    let rim: Vec<u32> = (0..steps)
        .map(|i| at(i, 0))
        .chain((0..steps).map(|j| at(steps, j)))
        .chain((0..steps).map(|i| at(steps - i, steps)))
        .chain((0..steps).map(|j| at(0, steps - j)))
        .collect();
    let first = mesh.vertices.len() as u32;
    for below in &rim {
        let [x, y, _] = mesh.vertices[*below as usize];
        mesh.vertices.push([x, y, 12.0]);
    }
    let middle = mesh.vertices.len() as u32;
    mesh.vertices.push([40.0, 30.0, 12.0]);
    for i in 0..rim.len() {
        let next = (i + 1) % rim.len();
        let (a, b) = (rim[i], rim[next]);
        let (c, d) = (first + i as u32, first + next as u32);
        mesh.triangles.extend([[a, b, d], [a, d, c], [c, d, middle]]);
    }
    mesh
}

fn disc(sides: usize) -> Mesh {
    let mut mesh = Mesh { vertices: vec![[0.0; 3], [0.0, 0.0, 1.3]], triangles: Vec::new() };
    for side in 0..sides as u32 {
        let (sine, cosine) = (std::f64::consts::TAU * f64::from(side) / sides as f64).sin_cos();
        mesh.vertices.extend([0.0, 1.3].map(|z| [30.0 * cosine, 30.0 * sine, z]));
        let (low, next) = (2 + 2 * side, 2 + 2 * ((side + 1) % sides as u32));
        mesh.triangles.extend([[0, next, low], [1, low + 1, next + 1]]);
        mesh.triangles.extend([[low, next, next + 1], [low, next + 1, low + 1]]);
    }
    mesh
}

fn file(steps: usize) -> Vec<u8> {
    match steps {
        0 => include_bytes!("../../../demo/ferry-hull.stl").to_vec(),
        DISC => stl::write_binary(&disc(DISC), "disc"),
        steps => stl::write_binary(&slab(steps), "slab"),
    }
}

fn found(steps: usize) -> (String, FoundMesh) {
    let file = file(steps);
    (stock_id(&file), read_mesh(&file).unwrap())
}

/// Ten raised letters and a hole on the top.
fn piece(steps: usize) -> (Piece, Shelf) {
    let (id, found) = found(steps);
    let stock = Stock::of(id, "blank.stl".into(), &found).unwrap();
    let top = stock.faces.iter().find(|face| face.facing() == "top").unwrap();
    let mut piece = Piece::new("Bench", Unit::Millimetre);
    piece.components[0].blank = Blank::Mesh(MeshBlank {
        mesh: stock.id.clone(),
        file: stock.name.clone(),
        scale: 1.0,
        face: WorkedFace { normal: top.normal, level: top.level },
        turn: 0.0,
        colour: piece.filaments[0].id.clone(),
    });
    let mut shelf = Shelf::default();
    shelf.put_mesh(stock);
    let edits = [
        add(ElementKind::Hole),
        add(ElementKind::Lettering),
        put("lettering-1", "lines.0.words", json!("Sigrid Åse")),
        put("lettering-1", "size", json!({ "height": 6 })),
    ];
    let cache = cache();
    let workshop = Workshop::new(&shelf, &cache, Tolerance::Normal);
    (apply(&piece, &edits, &workshop).unwrap().piece, shelf)
}

#[divan::bench(args = BLANKS)]
fn taking_up_a_mesh(bencher: Bencher, steps: usize) {
    let (id, found) = found(steps);
    bencher.bench(|| Stock::of(id.clone(), String::new(), black_box(&found)).unwrap());
}

#[divan::bench(args = BLANKS)]
fn standing_a_mesh(bencher: Bencher, steps: usize) {
    let (piece, shelf) = piece(steps);
    let mut blank = piece.first().mesh().unwrap().clone();
    let stock = shelf.mesh(&blank.mesh).unwrap();
    bencher.bench_local(|| {
        blank.turn += 1e-3;
        level(&stock, &blank).unwrap()
    });
}

#[divan::bench(args = BLANKS)]
fn edit(bencher: Bencher, steps: usize) {
    let (piece, shelf) = piece(steps);
    let cache = cache();
    let workshop = Workshop::new(&shelf, &cache, Tolerance::Normal);
    let mut height = 6.0;
    bencher.bench_local(|| {
        height += 1e-4;
        let taller = put("lettering-1", "size.height", json!(height));
        let piece = apply(&piece, &[taller], &workshop).unwrap().piece;
        let found = evaluate(&piece, &workshop).unwrap();
        stl::write_binary(&found.components[0].mesh, "bench")
    });
}
