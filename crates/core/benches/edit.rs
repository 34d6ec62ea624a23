//! One edit, from document to mesh bytes, and its stages apart.

#[path = "../tests/common/mod.rs"]
mod common;

use common::{add, address, edited, set as put, with_workshop};
use divan::{Bencher, black_box};
use kalotype_core::evaluate::{evaluate, layout, samples, sections};
use kalotype_core::filament::shipped_palette;
use kalotype_core::formats::stl;
use kalotype_core::halt::Halt;
use kalotype_core::lettering::{set, shipped};
use kalotype_core::piece::{Blank, Edit, ElementKind, Kind, Piece};
use kalotype_core::plane::{Arrangement, Region, Tolerance};
use kalotype_core::solid::{self, Sections};
use kalotype_core::units::{Length, Unit};
use serde_json::json;

fn main() {
    divan::main();
}

const FACES: [&str; 4] = ["nunito", "bebas-neue", "noto-serif", "pacifico"];

/// A 70 × 25 × 2 mm fob with a hole and 10 raised letters.
fn fob(face: &str) -> Piece {
    let edits = [
        put("blank", "width", json!(70)),
        put("blank", "height", json!(25)),
        put("blank", "thickness", json!(2)),
        add(ElementKind::Hole),
        add(ElementKind::Lettering),
        put("lettering-1", "lines.0.words", json!("Sigrid Åse")),
        put("lettering-1", "typeface", json!(face)),
        put("lettering-1", "size.height", json!(8)),
    ];
    edited(&Piece::new("Bench", Unit::Millimetre), &edits)
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
            add(ElementKind::Lettering),
            put(&id, "lines.0.words", json!(words)),
            put(&id, "size.height", json!(6)),
            put(&id, "place.up", json!({ "from": "top", "distance": 10.0 + 13.0 * line as f64 })),
        ]);
    }
    edited(&Piece::new("Bench", Unit::Millimetre), &edits)
}

/// Changes a letter height a little each time, so that no letter is known.
fn touched(piece: &Piece, round: usize) -> Piece {
    let mut piece = piece.clone();
    for element in &mut piece.components[0].elements {
        if let Kind::Lettering(lettering) = &mut element.kind {
            let height = 6.0 + (round % 1000) as f64 * 0.001;
            lettering.size = kalotype_core::piece::LetterSize::Height(Length::mm(height));
        }
    }
    piece
}

/// Makes the plate a hair thicker each time: an edit that leaves the letters as they are.
fn thickened(piece: &Piece, round: usize) -> Piece {
    let mut piece = piece.clone();
    if let Blank::Plate(plate) = &mut piece.components[0].blank {
        plate.thickness = Length::mm(plate.thickness.as_mm() + (round % 1000) as f64 * 0.001);
    }
    piece
}

/// One edit after another, from the document to the bytes of the mesh.
fn edits(bencher: Bencher, piece: &Piece, edit: fn(&Piece, usize) -> Piece) {
    let mut round = 0;
    with_workshop(Tolerance::Normal, |workshop| {
        bencher
            .with_inputs(|| {
                round += 1;
                edit(piece, round)
            })
            .bench_local_values(|piece| {
                let found = evaluate(&piece, workshop).unwrap();
                black_box(stl::write_binary(&found.components[0].mesh, &piece.name))
            });
    });
}

/// The whole way with every letter new.
#[divan::bench(args = FACES)]
fn whole_edit_all_letters_new(bencher: Bencher, face: &str) {
    edits(bencher, &fob(face), touched);
}

/// The whole way with the letters known.
#[divan::bench(args = FACES)]
fn whole_edit_letters_known(bencher: Bencher, face: &str) {
    edits(bencher, &fob(face), thickened);
}

/// Growth with the number of letters.
#[divan::bench(args = [10, 100, 1000], sample_count = 20)]
fn whole_edit_by_letters(bencher: Bencher, letters: usize) {
    edits(bencher, &plate(letters), thickened);
}

/// The fob with letter edges rounded by 0.3 mm, the letters known and new.
/// Four lines of ten letters in so many colours, that of the plate among them.
#[divan::bench(args = [1, 2, 3, 4])]
fn whole_edit_by_colours(bencher: Bencher, colours: usize) {
    let mut piece = plate(0);
    for line in 0..4 {
        let id = format!("lettering-{}", line + 1);
        let mut edits = vec![
            add(ElementKind::Lettering),
            put(&id, "lines.0.words", json!("SigridÅseG")),
            put(&id, "size.height", json!(6)),
            put(&id, "place.up", json!({ "from": "top", "distance": 10.0 + 13.0 * line as f64 })),
        ];
        if line % colours > 0 {
            edits.push(Edit::Colour {
                target: address(&id),
                field: "colour".to_owned(),
                filament: Some(shipped_palette()[line % colours].clone()),
            });
        }
        piece = edited(&piece, &edits);
    }
    edits(bencher, &piece, thickened);
}

#[divan::bench(args = FACES)]
fn whole_edit_rounded_letters(bencher: Bencher, face: &str) {
    let edge = put("lettering-1", "edge", json!({ "round": 0.3 }));
    edits(bencher, &edited(&fob(face), &[edge]), thickened);
}

#[divan::bench(args = FACES)]
fn whole_edit_rounded_letters_new(bencher: Bencher, face: &str) {
    let edge = put("lettering-1", "edge", json!({ "round": 0.3 }));
    edits(bencher, &edited(&fob(face), &[edge]), touched);
}

/// A name of 12 letters, square and rounded by 0.3 mm.
#[divan::bench(args = [0.0, 0.3])]
fn whole_edit_twelve_letters(bencher: Bencher, round: f64) {
    let mut changes = vec![
        put("lettering-1", "lines.0.words", json!("Solveig Åsta")),
        put("lettering-1", "size", json!("clear-area")),
    ];
    if round > 0.0 {
        changes.push(put("lettering-1", "edge", json!({ "round": round })));
    }
    edits(bencher, &edited(&fob("nunito"), &changes), thickened);
}

/// 18 mm letters on a backing that follows them, with a loop.
#[divan::bench]
fn whole_edit_contour_tag(bencher: Bencher) {
    let contour = json!({ "contour": { "offset": 2.0, "crevices": 2.5, "gaps": 6.0 } });
    let changes = [
        put("blank", "outline", contour),
        add(ElementKind::Lettering),
        put("lettering-1", "lines.0.words", json!("Solveig")),
        put("lettering-1", "typeface", json!("pacifico")),
        put("lettering-1", "size", json!({ "height": 18.0 })),
        put("lettering-1", "relief", json!({ "raised": { "by": 5.0 } })),
        add(ElementKind::Loop),
    ];
    let piece = edited(&Piece::new("Bench", Unit::Millimetre), &changes);
    edits(bencher, &piece, thickened);
}

/// The words of a fob in every typeface.
#[divan::bench]
fn chooser_of_typefaces(bencher: Bencher) {
    let piece = fob("nunito");
    let target = address("lettering-1");
    bencher.bench(|| {
        with_workshop(Tolerance::Draft, |workshop| samples(black_box(&piece), &target, workshop))
    });
}

/// A 50 mm disc, 5 mm thick, with 2 mm chamfers and a centre hole with 1.5 mm chamfers.
#[divan::bench]
fn whole_edit_medallion_with_edges(bencher: Bencher) {
    let [two, less] = [2.0, 1.5].map(|size| json!({ "chamfer": size }));
    let changes = [
        put("blank", "width", json!(50)),
        put("blank", "height", json!(50)),
        put("blank", "thickness", json!(5)),
        put("blank", "outline", json!("ellipse")),
        put("blank", "edges", json!({ "top": two, "bottom": two })),
        add(ElementKind::Hole),
        put("hole-1", "place.across", json!({ "from": "centre", "distance": 0 })),
        put("hole-1", "edges", json!({ "top": less, "bottom": less })),
    ];
    let piece = edited(&Piece::new("Bench", Unit::Millimetre), &changes);
    edits(bencher, &piece, thickened);
}

/// A 50 × 20 × 3 mm tag with a recessed field and a blended loop, rounded by 0.2 mm all over.
#[divan::bench]
fn whole_edit_tag_with_loop(bencher: Bencher) {
    let round = json!({ "round": 0.2 });
    let changes = [
        put("blank", "width", json!(50)),
        put("blank", "height", json!(20)),
        put("blank", "edges", json!({ "top": round, "bottom": round })),
        add(ElementKind::Recess),
        put("recess-1", "depth", json!({ "by": 1.0 })),
        put("recess-1", "edge", round),
        add(ElementKind::Loop),
    ];
    let piece = edited(&Piece::new("Bench", Unit::Millimetre), &changes);
    edits(bencher, &piece, thickened);
}

fn sections_of(piece: &Piece) -> Sections {
    with_workshop(Tolerance::Normal, |workshop| {
        sections(&layout(piece, piece.first(), workshop).unwrap(), workshop)
    })
}

#[divan::bench(args = FACES)]
fn stage_1_shaping_and_outlines(bencher: Bencher, face: &str) {
    let face = shipped(face).unwrap();
    let mut height = 8.0;
    let cache = common::cache();
    bencher.bench_local(|| {
        height += 1e-6;
        set("Sigrid Åse", &face, height, Tolerance::Normal, &cache)
    });
}

#[divan::bench(args = FACES)]
fn stage_2_layout(bencher: Bencher, face: &str) {
    let piece = fob(face);
    with_workshop(Tolerance::Normal, |workshop| {
        bencher.bench(|| layout(black_box(&piece), piece.first(), workshop));
    });
}

#[divan::bench(args = FACES)]
fn stage_3_regions_and_cells(bencher: Bencher, face: &str) {
    let sections = sections_of(&fob(face));
    let footprints: Vec<&Region> = sections.footprints.iter().collect();
    bencher.bench(|| Arrangement::of(black_box(&footprints), &sections.ridges).unwrap());
}

#[divan::bench(args = FACES)]
fn stage_4_meshing_with_cells(bencher: Bencher, face: &str) {
    let sections = sections_of(&fob(face));
    bencher.bench(|| solid::mesh(black_box(&sections), &Halt::default()).unwrap());
}

#[divan::bench(args = FACES)]
fn stage_5_encoding(bencher: Bencher, face: &str) {
    let made = common::worked(&fob(face), Tolerance::Normal);
    bencher.bench(|| stl::write_binary(black_box(&made.mesh), "bench"));
}
