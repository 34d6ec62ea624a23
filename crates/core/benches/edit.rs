//! One edit, from document to mesh bytes, and its stages apart.

use divan::{Bencher, black_box};
use kalotype_core::build::{evaluate, face_samples, layout, sections};
use kalotype_core::formats::stl;
use kalotype_core::lettering::{set, typeface};
use kalotype_core::piece::{Edit, ElementKind, Piece, apply};
use kalotype_core::plane::{Arrangement, Region, Tolerance};
use kalotype_core::solid;
use kalotype_core::units::Unit;
use serde_json::{Value, json};

fn main() {
    divan::main();
}

const FACES: [&str; 4] = ["nunito", "bebas-neue", "noto-serif", "pacifico"];

fn put(target: &str, field: &str, value: Value) -> Edit {
    Edit::Set { target: target.into(), field: field.into(), value }
}

/// A 70 × 25 × 2 mm fob with a hole and 10 raised letters.
fn fob(face: &str) -> Piece {
    let piece = Piece::new("Bench", Unit::Millimetre);
    let edits = [
        put("blank", "width", json!(70)),
        put("blank", "height", json!(25)),
        put("blank", "thickness", json!(2)),
        Edit::add(ElementKind::Hole),
        Edit::add(ElementKind::Lettering),
        put("lettering-1", "lines.0.words", json!("Sigrid Åse")),
        put("lettering-1", "face", json!(face)),
        put("lettering-1", "size.height", json!(8)),
    ];
    apply(&piece, &edits).unwrap().piece
}

/// A large plate with `letters` letters in lines of 50.
fn plate(letters: usize) -> Piece {
    let mut edits = vec![put("blank", "width", json!(300)), put("blank", "height", json!(300))];
    for line in 0..letters.div_ceil(50) {
        let id = format!("lettering-{}", line + 1);
        let words = "Sigrid Åse Ólafur Ğül Łucja ".repeat(2);
        let words: String =
            words.chars().filter(|c| *c != ' ').cycle().take(letters.min(50)).collect();
        edits.extend([
            Edit::add(ElementKind::Lettering),
            put(&id, "lines.0.words", json!(words)),
            put(&id, "size.height", json!(6)),
            put(&id, "place.up", json!({ "from": "top", "distance": 10.0 + 13.0 * line as f64 })),
        ]);
    }
    apply(&Piece::new("Bench", Unit::Millimetre), &edits).unwrap().piece
}

/// Changes a letter height a little each time, so that no cache answers.
fn touched(piece: &Piece, round: usize) -> Piece {
    let mut edits = Vec::new();
    for element in &piece.component().elements {
        if element.kind() == ElementKind::Lettering {
            let height = 6.0 + (round % 1000) as f64 * 0.001;
            edits.push(put(element.id(), "size.height", json!(height)));
        }
    }
    apply(piece, &edits).unwrap().piece
}

/// The whole way with every letter new.
#[divan::bench(args = FACES)]
fn whole_edit_all_letters_new(bencher: Bencher, face: &str) {
    let piece = fob(face);
    let mut round = 0;
    bencher
        .with_inputs(|| {
            round += 1;
            touched(&piece, round)
        })
        .bench_local_values(|piece| {
            let evaluation = evaluate(&piece, Tolerance::Normal);
            black_box(stl::write_binary(&evaluation.mesh, &piece.name))
        });
}

/// The whole way as when a width changes: the letters are known.
#[divan::bench(args = FACES)]
fn whole_edit_letters_known(bencher: Bencher, face: &str) {
    let piece = fob(face);
    bencher.bench(|| {
        let evaluation = evaluate(black_box(&piece), Tolerance::Normal);
        stl::write_binary(&evaluation.mesh, &piece.name)
    });
}

/// Growth with the number of letters.
#[divan::bench(args = [10, 100, 1000], sample_count = 20)]
fn whole_edit_by_letters(bencher: Bencher, letters: usize) {
    let piece = plate(letters);
    bencher.bench(|| {
        let evaluation = evaluate(black_box(&piece), Tolerance::Normal);
        stl::write_binary(&evaluation.mesh, &piece.name)
    });
}

/// The fob with letter edges rounded by 0.3 mm.
#[divan::bench(args = FACES)]
fn whole_edit_rounded_letters(bencher: Bencher, face: &str) {
    let piece = fob(face);
    let edge = put("lettering-1", "edge", json!({ "round": 0.3 }));
    let piece = apply(&piece, &[edge]).unwrap().piece;
    bencher.bench(|| {
        let evaluation = evaluate(black_box(&piece), Tolerance::Normal);
        stl::write_binary(&evaluation.mesh, &piece.name)
    });
}

/// A name of 12 letters, square and rounded by 0.3 mm.
#[divan::bench(args = [0.0, 0.3])]
fn whole_edit_twelve_letters(bencher: Bencher, round: f64) {
    let mut edits = vec![
        put("lettering-1", "lines.0.words", json!("Solveig Åsta")),
        put("lettering-1", "size", json!("clear-area")),
    ];
    if round > 0.0 {
        edits.push(put("lettering-1", "edge", json!({ "round": round })));
    }
    let piece = apply(&fob("nunito"), &edits).unwrap().piece;
    bencher.bench(|| evaluate(black_box(&piece), Tolerance::Normal));
}

/// 18 mm letters on a backing that follows them, with a loop.
#[divan::bench]
fn whole_edit_contour_tag(bencher: Bencher) {
    let contour = json!({ "contour": { "offset": 2.0, "crevices": 2.5, "gaps": 6.0 } });
    let edits = [
        put("blank", "outline", contour),
        Edit::add(ElementKind::Lettering),
        put("lettering-1", "lines.0.words", json!("Solveig")),
        put("lettering-1", "face", json!("pacifico")),
        put("lettering-1", "size", json!({ "height": 18.0 })),
        put("lettering-1", "relief", json!({ "raised": { "by": 5.0 } })),
        Edit::add(ElementKind::Loop),
    ];
    let piece = apply(&Piece::new("Bench", Unit::Millimetre), &edits).unwrap().piece;
    bencher.bench(|| evaluate(black_box(&piece), Tolerance::Normal));
}

/// The words of a fob in every typeface.
#[divan::bench]
fn chooser_of_typefaces(bencher: Bencher) {
    let piece = fob("nunito");
    bencher.bench(|| face_samples(black_box(&piece), "lettering-1"));
}

/// A 50 mm disc, 5 mm thick, with 2 mm chamfers and a centre hole with 1.5 mm chamfers.
#[divan::bench]
fn whole_edit_medallion_with_edges(bencher: Bencher) {
    let [two, less] = [2.0, 1.5].map(|size| json!({ "chamfer": size }));
    let edits = [
        put("blank", "width", json!(50)),
        put("blank", "height", json!(50)),
        put("blank", "thickness", json!(5)),
        put("blank", "outline", json!("ellipse")),
        put("blank", "edges", json!({ "top": two, "bottom": two })),
        Edit::add(ElementKind::Hole),
        put("hole-1", "place.across", json!({ "from": "centre", "distance": 0 })),
        put("hole-1", "edges", json!({ "top": less, "bottom": less })),
    ];
    let piece = apply(&Piece::new("Bench", Unit::Millimetre), &edits).unwrap().piece;
    bencher.bench(|| evaluate(black_box(&piece), Tolerance::Normal));
}

/// A 50 × 20 × 3 mm tag with a recessed field and a blended loop, rounded by 0.2 mm all over.
#[divan::bench]
fn whole_edit_tag_with_loop(bencher: Bencher) {
    let round = json!({ "round": 0.2 });
    let edits = [
        put("blank", "width", json!(50)),
        put("blank", "height", json!(20)),
        put("blank", "edges", json!({ "top": round, "bottom": round })),
        Edit::add(ElementKind::Recess),
        put("recess-1", "depth", json!({ "by": 1.0 })),
        put("recess-1", "edge", round),
        Edit::add(ElementKind::Loop),
    ];
    let piece = apply(&Piece::new("Bench", Unit::Millimetre), &edits).unwrap().piece;
    bencher.bench(|| evaluate(black_box(&piece), Tolerance::Normal));
}

#[divan::bench(args = FACES)]
fn stage_1_shaping_and_outlines(bencher: Bencher, face: &str) {
    let face = typeface(face).unwrap();
    let mut height = 8.0;
    bencher.bench_local(|| {
        height += 1e-6;
        set("Sigrid Åse", &face, height, Tolerance::Normal)
    });
}

#[divan::bench(args = FACES)]
fn stage_2_layout(bencher: Bencher, face: &str) {
    let piece = fob(face);
    bencher.bench(|| layout(black_box(&piece), Tolerance::Normal));
}

#[divan::bench(args = FACES)]
fn stage_3_regions_and_cells(bencher: Bencher, face: &str) {
    let sections = sections(&layout(&fob(face), Tolerance::Normal));
    let footprints: Vec<&Region> = sections.footprints.iter().collect();
    bencher.bench(|| Arrangement::of(black_box(&footprints)).unwrap());
}

#[divan::bench(args = FACES)]
fn stage_4_meshing_with_cells(bencher: Bencher, face: &str) {
    let sections = sections(&layout(&fob(face), Tolerance::Normal));
    bencher.bench(|| solid::mesh(black_box(&sections)).unwrap());
}

#[divan::bench(args = FACES)]
fn stage_5_encoding(bencher: Bencher, face: &str) {
    let evaluation = evaluate(&fob(face), Tolerance::Normal);
    bencher.bench(|| stl::write_binary(black_box(&evaluation.mesh), "bench"));
}
