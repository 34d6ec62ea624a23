//! How long a piece takes at a tolerance: `cargo run --release --example time_piece -- PIECE_FILE [draft|normal|fine] [ROUNDS]`.

#[path = "../tests/common/mod.rs"]
mod common;

use common::cache;
use kalotype_core::evaluate::evaluate;
use kalotype_core::library::Shipped;
use kalotype_core::piece::read;
use kalotype_core::plane::Tolerance;
use kalotype_core::workshop::Workshop;
use std::time::Instant;

fn main() {
    let arguments: Vec<String> = std::env::args().skip(1).collect();
    let tolerance = match arguments.get(1).map(String::as_str) {
        Some("draft") => Tolerance::Draft,
        Some("fine") => Tolerance::Fine,
        _ => Tolerance::Normal,
    };
    let rounds = arguments.get(2).and_then(|word| word.parse().ok()).unwrap_or(1);
    let piece = read(&std::fs::read(&arguments[0]).expect("a file")).expect("a piece");
    for _ in 0..rounds {
        let cache = cache();
        let workshop = Workshop::new(&Shipped, &cache, tolerance);
        let from = Instant::now();
        let made = evaluate(&piece, &workshop).expect("not stopped");
        let triangles: usize = made.components.iter().map(|one| one.mesh.triangles.len()).sum();
        println!("{:>9.1?}  {triangles} triangles", from.elapsed());
    }
}
