//! Colours and files: what splitting by colour costs, and writing and reading meshes.

#[path = "../tests/common/mod.rs"]
mod common;

use common::{add, address, edited, evaluated, set as put, with_workshop, worked};
use divan::counter::BytesCount;
use divan::{Bencher, black_box};
use kalotype_core::colour::plan_swaps;
use kalotype_core::evaluate::evaluate;
use kalotype_core::export::{Division, Format, Wanted, export};
use kalotype_core::filament::shipped_palette;
use kalotype_core::formats::{read_mesh, stl};
use kalotype_core::piece::{Blank, Edit, ElementKind, Piece};
use kalotype_core::plane::Tolerance;
use kalotype_core::solid::Mesh;
use kalotype_core::units::{Length, Unit};
use serde_json::json;

fn main() {
    divan::main();
}

/// A 50 mm medallion with words above and below on a circle and a star, rounded by 0.3 mm, of so
/// many colours.
fn medallion(colours: usize) -> Piece {
    let mut edits = vec![
        put("blank", "width", json!(50)),
        put("blank", "height", json!(50)),
        put("blank", "thickness", json!(5)),
        put("blank", "outline", json!("ellipse")),
        put("blank", "edges", json!({ "top": { "chamfer": 2.0 }, "bottom": { "chamfer": 2.0 } })),
        add(ElementKind::Emblem),
        put("emblem-1", "width", json!(14)),
    ];
    let centre = json!({ "across": { "from": "centre", "distance": 0.0 },
        "up": { "from": "centre", "distance": 0.0 } });
    for (id, words, middle, reading) in
        [("lettering-1", "TIDE WATCH", 90, "clockwise"), ("lettering-2", "QUAY 2", -90, "upright")]
    {
        let circle = json!({ "circle": { "radius": 15.0, "reading": reading, "side": "outside",
            "middle": middle, "spread": null } });
        edits.extend([
            add(ElementKind::Lettering),
            put(id, "lines.0.words", json!(words)),
            put(id, "size", json!({ "height": 6.0 })),
            put(id, "course", circle),
            put(id, "place", centre.clone()),
            put(id, "edge", json!({ "round": 0.3 })),
        ]);
    }
    let colour = |target: &str, filament: usize| Edit::Colour {
        target: address(target),
        field: "colour".into(),
        filament: Some(shipped_palette().remove(filament)),
    };
    if colours > 1 {
        edits.extend([colour("lettering-1", 1), colour("lettering-2", 1)]);
    }
    if colours > 2 {
        edits.push(colour("emblem-1", 2));
    }
    edited(&Piece::new("Bench", Unit::Millimetre), &edits)
}

/// One edit after another of the plate, by the number of colours.
#[divan::bench(args = [1, 2, 3])]
fn edit_by_colours(bencher: Bencher, colours: usize) {
    let mut piece = medallion(colours);
    with_workshop(Tolerance::Normal, |workshop| {
        bencher.bench_local(|| {
            if let Blank::Plate(plate) = &mut piece.components[0].blank {
                plate.thickness = Length::mm(plate.thickness.as_mm() + 0.001);
            }
            evaluate(black_box(&piece), workshop).unwrap()
        });
    });
}

#[divan::bench]
fn changes_of_filament(bencher: Bencher) {
    let piece = medallion(3);
    let found = evaluated(&piece, Tolerance::Normal);
    bencher.bench(|| plan_swaps(black_box(&found), piece.layers));
}

/// The medallion of three colours as every kind of file; the evaluation does not count.
#[divan::bench(args = ["stl", "3mf", "obj", "svg", "dxf", "plan-png", "solid-png"])]
fn export_of_three_colours(bencher: Bencher, format: &str) {
    let piece = medallion(3);
    let found = evaluated(&piece, Tolerance::Normal);
    let (_, format) = Format::ALL.into_iter().find(|(word, _)| *word == format).unwrap();
    let wanted = Wanted { format, division: Division::Split, ..Wanted::default() };
    bencher.bench(|| export(black_box(&piece), black_box(&found), wanted));
}

/// A closed mesh of a hundred thousand triangles: the medallion again and again, side by side.
fn hundred_thousand() -> Mesh {
    let one = worked(&medallion(1), Tolerance::Fine).mesh.clone();
    let mut mesh = Mesh::default();
    let mut copies = 0.0;
    while mesh.triangles.len() < 100_000 {
        let first = mesh.vertices.len() as u32;
        mesh.vertices.extend(one.vertices.iter().map(|[x, y, z]| [x + 60.0 * copies, *y, *z]));
        mesh.triangles.extend(one.triangles.iter().map(|t| t.map(|i| i + first)));
        copies += 1.0;
    }
    mesh.triangles.truncate(100_000);
    mesh
}

#[divan::bench]
fn write_stl_of_100_000_triangles(bencher: Bencher) {
    let mesh = hundred_thousand();
    let bytes = stl::write_binary(&mesh, "bench").len();
    bencher.counter(BytesCount::new(bytes)).bench(|| stl::write_binary(black_box(&mesh), "bench"));
}

/// Read, welded and looked through for faults.
#[divan::bench]
fn read_and_check_stl_of_100_000_triangles(bencher: Bencher) {
    let bytes = stl::write_binary(&hundred_thousand(), "bench");
    bencher.bench(|| read_mesh(black_box(&bytes)).unwrap());
}
