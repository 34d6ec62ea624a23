//! Preflight, beside the picture: a fob of twelve letters, a medallion of forty with treated edges, each with another
//! name every time; and one that has something to mend.

#[path = "../tests/common/mod.rs"]
mod common;

use common::{add, address, edited, set, with_workshop};
use divan::{Bencher, black_box};
use kalotype_core::evaluate::evaluate;
use kalotype_core::piece::{Edit, ElementKind, Kind, Piece};
use kalotype_core::plane::Tolerance;
use kalotype_core::preflight::run;
use kalotype_core::units::Unit;
use serde_json::json;

fn main() {
    divan::main();
}

fn fob(heavier: f64) -> Piece {
    edited(
        &Piece::new("Bench", Unit::Millimetre),
        &[
            set("blank", "width", 120.0),
            add(ElementKind::Hole),
            add(ElementKind::Rim),
            add(ElementKind::Lettering),
            set("lettering-1", "lines.0.words", "SOLVEIG ÅSHI"),
            set("lettering-1", "size", json!({ "height": 9.0 })),
            set("lettering-1", "style.heavier", heavier),
        ],
    )
}

fn medallion() -> Piece {
    let words = |id: &str, words: &str, way: &str| {
        vec![
            add(ElementKind::Lettering),
            set(id, "lines.0.words", words),
            set(id, "edge", json!({ "round": 0.3 })),
            Edit::Turn { target: address(id), field: "course".to_owned(), into: way.to_owned() },
        ]
    };
    let disc = vec![
        set("blank", "width", 90.0),
        set("blank", "height", 90.0),
        set("blank", "outline", "ellipse"),
        add(ElementKind::Rim),
        set("rim-1", "edge", json!({ "round": 0.4 })),
    ];
    let all = [
        disc,
        words("lettering-1", "SKERRY POINT FERRY COOP", "clockwise"),
        words("lettering-2", "QUAY TWO NORTH 17", "upright"),
    ];
    edited(&Piece::new("Bench", Unit::Millimetre), &all.concat())
}

/// Preflight of a piece with another name every time; the piece itself is worked out before.
fn looked_through(bencher: Bencher, piece: &Piece) {
    let mut round = 0;
    with_workshop(Tolerance::Normal, |workshop| {
        bencher
            .with_inputs(|| {
                round += 1;
                let mut piece = piece.clone();
                for element in &mut piece.components[0].elements {
                    if let Kind::Lettering(words) = &mut element.kind {
                        let said: String = words.lines[0].words.chars().rev().skip(2).collect();
                        words.lines[0].words =
                            format!("{}{:02}", said.chars().rev().collect::<String>(), round % 100);
                    }
                }
                let evaluation = evaluate(&piece, workshop).unwrap();
                (piece, evaluation)
            })
            .bench_local_values(|(piece, evaluation)| {
                black_box(run(&piece, &evaluation, workshop).unwrap().len())
            });
    });
}

#[divan::bench]
fn fob_of_twelve_letters(bencher: Bencher) {
    looked_through(bencher, &fob(0.0));
}

#[divan::bench]
fn fob_with_thin_strokes(bencher: Bencher) {
    looked_through(bencher, &fob(-0.8));
}

#[divan::bench]
fn medallion_of_forty_letters(bencher: Bencher) {
    looked_through(bencher, &medallion());
}
