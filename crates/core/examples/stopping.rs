//! How soon heavy work ends after it was stopped: every piece is worked out at the finest tolerance, looked through and
//! mended, and stopped at many moments on the way.
//! `cargo run --release -p kalotype-core --example stopping -- [STOPS_PER_PIECE] [PIECE_FILE…]`.

#[path = "../tests/common/mod.rs"]
mod common;

use common::{add, address, cache, edited, set};
use kalotype_core::evaluate::evaluate;
use kalotype_core::formats::stl;
use kalotype_core::halt::Halt;
use kalotype_core::library::Shipped;
use kalotype_core::piece::{Bridges, Edit, ElementKind, Piece, read};
use kalotype_core::plane::Tolerance;
use kalotype_core::preflight::{mend, run};
use kalotype_core::units::Unit;
use kalotype_core::workshop::Workshop;
use serde_json::json;
use std::time::{Duration, Instant};

/// A plate with letterings of so many letters each, in rows from the top.
fn plate(letterings: usize, letters: usize, style: &[(&str, serde_json::Value)]) -> Piece {
    let words: String = "SIGRID ÅSE BØRGE ĞÜL ŁUCJA ".chars().cycle().take(letters).collect();
    let mut edits = vec![set("blank", "width", 300.0), set("blank", "height", 300.0)];
    for lettering in 0..letterings {
        let id = format!("lettering-{}", lettering + 1);
        edits.push(add(ElementKind::Lettering));
        let letters: Vec<char> = words.chars().collect();
        let lines = letters
            .chunks(38)
            .map(|line| json!({ "words": line.iter().collect::<String>().trim(), "scale": 1.0 }));
        edits.push(set(&id, "lines", lines.collect::<Vec<_>>()));
        let distance = 20.0 + 260.0 * lettering as f64 / letterings as f64;
        edits.push(set(&id, "size", json!({ "height": 5.0 })));
        edits.push(set(&id, "place.up", json!({ "from": "top", "distance": distance })));
        for (field, value) in style {
            edits.push(set(&id, field, value.clone()));
        }
    }
    edited(&Piece::new("Bench", Unit::Millimetre), &edits)
}

fn ring(round: f64) -> Piece {
    let mut edits = vec![
        set("blank", "width", 90.0),
        set("blank", "height", 90.0),
        set("blank", "outline", "ellipse"),
        add(ElementKind::Rim),
        set("rim-1", "edge", json!({ "round": 0.4 })),
    ];
    for (id, words, way) in [
        ("lettering-1", "SKERRY POINT FERRY COOP", "clockwise"),
        ("lettering-2", "QUAY TWO NORTH 17", "upright"),
    ] {
        edits.extend([
            add(ElementKind::Lettering),
            set(id, "lines.0.words", words),
            set(id, "edge", json!({ "round": round })),
            Edit::Turn { target: address(id), field: "course".to_owned(), into: way.to_owned() },
        ]);
    }
    edited(&Piece::new("Bench", Unit::Millimetre), &edits)
}

fn pieces() -> Vec<(String, Piece)> {
    let cut = [("relief", json!("through")), ("bridges", json!(Bridges::default()))];
    let round = [("edge", json!({ "round": 0.3 })), ("typeface", json!("pacifico"))];
    let all = [
        ("two cut letterings of 152 letters", plate(2, 152, &cut)),
        ("four cut letterings of 304 letters", plate(4, 304, &cut)),
        ("150 letters with rounds", plate(1, 152, &round)),
        ("1 000 letters", plate(7, 152, &[])),
        ("a medallion with rounds", ring(0.3)),
    ];
    all.map(|(name, piece)| (name.to_owned(), piece)).into()
}

/// Everything heavy that is done with a piece.
fn all_of_it(piece: &Piece, halt: &Halt) {
    let cache = cache();
    let workshop = Workshop::new(&Shipped, &cache, Tolerance::Fine).until(halt.clone());
    let Ok(evaluation) = evaluate(piece, &workshop) else { return };
    for made in &evaluation.components {
        if halt.is_stopped() {
            return;
        }
        std::hint::black_box(stl::write_binary(&made.mesh, "part"));
    }
    let _ = run(piece, &evaluation, &workshop);
    let _ = mend(piece, &workshop.at(Tolerance::Draft));
}

fn main() {
    let mut arguments = std::env::args().skip(1);
    let stops: u32 = arguments.next().map_or(8, |stops| stops.parse().expect("a number"));
    let files: Vec<(String, Piece)> = arguments
        .map(|file| (file.clone(), read(&std::fs::read(file).expect("a file")).expect("a piece")))
        .collect();
    let all = if files.is_empty() { pieces() } else { files };
    for (name, piece) in all {
        let start = Instant::now();
        all_of_it(&piece, &Halt::default());
        let whole = start.elapsed();
        let mut late: Vec<Duration> = (0..stops)
            .map(|stop| {
                let halt = Halt::default();
                let after = whole.mul_f64((f64::from(stop) + 0.5) / f64::from(stops));
                std::thread::scope(|scope| {
                    let work = scope.spawn(|| {
                        all_of_it(&piece, &halt);
                        Instant::now()
                    });
                    std::thread::sleep(after);
                    let stopped = Instant::now();
                    halt.stop();
                    work.join().expect("it works").saturating_duration_since(stopped)
                })
            })
            .collect();
        late.sort();
        let of = |share: f64| late[((late.len() - 1) as f64 * share) as usize].as_millis();
        let (median, last) = (of(0.5), of(1.0));
        println!(
            "{name}: all {} ms; stopped within {median} ms (median), {last} ms",
            whole.as_millis()
        );
    }
}
