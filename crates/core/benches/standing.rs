//! One edit of what stands on the bed: a foot with its upright, letters on a bent bar and round a cap.

#[path = "../tests/common/mod.rs"]
mod common;

use common::with_workshop;
use divan::{Bencher, black_box};
use kalotype_core::evaluate::evaluate;
use kalotype_core::piece::{Blank, FaceName, Kind, LetterSize, Piece, read};
use kalotype_core::plane::Tolerance;
use kalotype_core::units::Length;

fn main() {
    divan::main();
}

const SIGN: &str = include_str!("../../../demo/desk-harbour-office.kalotype.json");
const PLATE: &str = include_str!("../../../demo/desk-tide-watch.kalotype.json");

/// One edit after another, each a little different from those before it.
fn edits(bencher: Bencher, file: &str, edit: fn(&mut Piece, f64)) {
    edits_of(bencher, read(file.as_bytes()).unwrap(), edit);
}

fn edits_of(bencher: Bencher, piece: Piece, edit: fn(&mut Piece, f64)) {
    let mut round = 0.0;
    with_workshop(Tolerance::Normal, |workshop| {
        bencher
            .with_inputs(|| {
                let mut piece = piece.clone();
                round = (round + 0.001) % 1.0;
                edit(&mut piece, round);
                piece
            })
            .bench_local_values(|piece| black_box(evaluate(&piece, workshop).unwrap()));
    });
}

fn letter(piece: &mut Piece, component: usize, height: f64) {
    let Kind::Lettering(lettering) = &mut piece.components[component].elements[0].kind else {
        panic!("lettering");
    };
    lettering.size = LetterSize::Height(Length::mm(height));
}

/// The upright gets thicker, and the slot in its foot with it: both are worked out.
#[divan::bench]
fn upright_and_foot(bencher: Bencher) {
    edits(bencher, SIGN, |piece, by| {
        let Blank::Plate(plate) = &mut piece.components[0].blank else { panic!("a plate") };
        plate.thickness = Length::mm(4.0 + by);
    });
}

/// The letters of the upright change: the foot is not worked out again.
#[divan::bench]
fn letters_of_the_upright(bencher: Bencher) {
    edits(bencher, SIGN, |piece, by| letter(piece, 0, 14.0 + by));
}

/// Thirteen letters sunk into the front of the foot, all new.
#[divan::bench]
fn letters_of_the_foot(bencher: Bencher) {
    edits(bencher, SIGN, |piece, by| letter(piece, 1, 6.5 + by));
}

/// Ten letters and a sign on the leaning face of a bent bar, in a second colour, all new.
#[divan::bench]
fn letters_on_a_bent_bar(bencher: Bencher) {
    edits(bencher, PLATE, |piece, by| letter(piece, 0, 12.0 + by));
}

const CAP: &str = include_str!("../../../starters/sounding-pipe-cap.kalotype.json");

/// The cap with words on one of its faces only.
fn cap_edits(bencher: Bencher, face: FaceName, words: &str) {
    let mut piece = read(CAP.as_bytes()).unwrap();
    let component = &mut piece.components[0];
    component.elements.retain(|element| element.face == face);
    component.elements.truncate(1);
    let Kind::Lettering(lettering) = &mut component.elements[0].kind else { panic!("lettering") };
    lettering.lines[0].words = words.to_owned();
    edits_of(bencher, piece, |piece, by| letter(piece, 0, 5.0 + by));
}

/// Twelve letters on the top of a cap, in a second colour, all new.
#[divan::bench]
fn letters_on_a_cap(bencher: Bencher) {
    cap_edits(bencher, FaceName::Top, "SKERRYPOINT7");
}

/// Twelve letters round its skirt, in a second colour, all new.
#[divan::bench]
fn letters_round_a_skirt(bencher: Bencher) {
    cap_edits(bencher, FaceName::Around, "SKERRYPOINT7");
}
