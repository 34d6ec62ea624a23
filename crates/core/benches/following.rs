//! Things that follow: chains on plates that grow, halos, patterns and codes.

#[path = "../tests/common/mod.rs"]
mod common;

use common::{add, edited, set, with_workshop};
use divan::{Bencher, black_box};
use kalotype_core::evaluate::evaluate;
use kalotype_core::piece::{Edit, ElementKind, Kind, Piece};
use kalotype_core::plane::Tolerance;
use kalotype_core::units::Unit;
use serde_json::json;

fn main() {
    divan::main();
}

const NAMES: [&str; 7] = ["Åse", "Łucja", "Zoë Ferry", "Ólafur", "Ğül Ørn", "Marit", "Solveig B"];

/// A name with nine emblems in a row after it, on a plate as long as they are.
fn chain() -> Piece {
    let mut edits = vec![
        set("blank", "grows.width", json!({ "most": 300.0, "step": 0.0 })),
        add(ElementKind::Lettering),
        set("lettering-1", "size", json!({ "height": 8.0 })),
        set("lettering-1", "place.across", json!({ "from": "clear", "distance": 0.0 })),
    ];
    for i in 1..10 {
        let id = format!("emblem-{i}");
        let before = if i == 1 { "lettering-1".to_owned() } else { format!("emblem-{}", i - 1) };
        edits.extend([
            add(ElementKind::Emblem),
            set(&id, "width", 6.0),
            set(
                &id,
                "place.by",
                json!({
                    "element": before, "side": "right", "gap": 1.5, "in_line": "middle", "shift": 0.0,
                }),
            ),
        ]);
    }
    edited(&Piece::new("Bench", Unit::Millimetre), &edits)
}

fn renamed(piece: &Piece, round: usize) -> Piece {
    let mut piece = piece.clone();
    if let Kind::Lettering(words) = &mut piece.components[0].elements[0].kind {
        words.lines[0].words = format!("{} {}", NAMES[round % NAMES.len()], round % 100);
    }
    piece
}

fn edits(bencher: Bencher, piece: &Piece, edit: fn(&Piece, usize) -> Piece) {
    let mut round = 0;
    with_workshop(Tolerance::Normal, |workshop| {
        bencher
            .with_inputs(|| {
                round += 1;
                edit(piece, round)
            })
            .bench_local_values(|piece| black_box(evaluate(&piece, workshop).unwrap()));
    });
}

#[divan::bench]
fn another_name_in_a_chain_of_ten_on_a_growing_plate(bencher: Bencher) {
    edits(bencher, &chain(), renamed);
}

#[divan::bench]
fn another_name_with_a_halo(bencher: Bencher) {
    let piece = edited(
        &Piece::new("Bench", Unit::Millimetre),
        &[add(ElementKind::Lettering), add(ElementKind::Halo)],
    );
    edits(bencher, &piece, renamed);
}

/// A honeycomb of some four hundred cells, moved by a hair each time.
#[divan::bench(args = ["recessed", "through"])]
fn a_honeycomb_of_400_cells(bencher: Bencher, relief: &str) {
    let relief =
        if relief == "through" { json!("through") } else { json!({ "recessed": { "by": 1.0 } }) };
    let piece = edited(
        &Piece::new("Bench", Unit::Millimetre),
        &[
            set("blank", "width", 104.0),
            set("blank", "height", 88.0),
            add(ElementKind::Pattern),
            set("pattern-1", "pitch", 5.0),
            set("pattern-1", "relief", relief),
        ],
    );
    let turned = |piece: &Piece, round: usize| {
        let mut piece = piece.clone();
        if let Kind::Pattern(pattern) = &mut piece.components[0].elements[0].kind {
            pattern.turn = (round % 1000) as f64 * 0.01;
        }
        piece
    };
    edits(bencher, &piece, turned);
}

/// A QR code of 29 modules that says something else each time.
#[divan::bench]
fn another_code(bencher: Bencher) {
    let all: [Edit; 2] = [add(ElementKind::Code), set("code-1", "module", 0.6)];
    let piece = edited(&Piece::new("Bench", Unit::Millimetre), &all);
    let says = |piece: &Piece, round: usize| {
        let mut piece = piece.clone();
        if let Kind::Code(code) = &mut piece.components[0].elements[0].kind {
            code.words = format!("https://skerry.example/berth/{round}");
        }
        piece
    };
    edits(bencher, &piece, says);
}
