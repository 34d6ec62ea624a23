//! How long random pieces take, one after the other on one core: half of them, the slowest of a hundred, and the slowest
//! of all by name, which are written to a folder so that they can be looked at (`time_piece`).
//! `cargo run --release -p kalotype-core --example random_pieces -- [HOW_MANY] [SEED] [FOLDER]`.

#[path = "../tests/common/mod.rs"]
mod common;
#[path = "../tests/common/random.rs"]
mod random;

use common::cache;
use kalotype_core::evaluate::evaluate;
use kalotype_core::halt::Halt;
use kalotype_core::library::Shipped;
use kalotype_core::piece::write;
use kalotype_core::workshop::Workshop;
use proptest::strategy::{Strategy, ValueTree};
use proptest::test_runner::{Config, RngAlgorithm, TestRng, TestRunner};
use std::path::PathBuf;
use std::time::{Duration, Instant};

/// Longer than this is given up.
const LONGEST: Duration = Duration::from_secs(60);

fn main() {
    let mut arguments = std::env::args().skip(1);
    let mut number =
        |otherwise: u64| arguments.next().and_then(|word| word.parse().ok()).unwrap_or(otherwise);
    let (count, seed) = (number(1_000), number(1));
    let folder = arguments.next().map(PathBuf::from);
    let mut bytes = [0; 32];
    bytes[..8].copy_from_slice(&seed.to_le_bytes());
    let rng = TestRng::from_seed(RngAlgorithm::ChaCha, &bytes);
    let mut runner = TestRunner::new_with_rng(Config::default(), rng);
    let any = (random::any_piece(), random::any_tolerance());
    let mut took = Vec::new();
    for at in 0..count {
        let (piece, tolerance) = any.new_tree(&mut runner).expect("a piece").current();
        let cache = cache();
        let halt = Halt::default();
        let workshop = Workshop::new(&Shipped, &cache, tolerance).until(halt.clone());
        let (sender, done) = std::sync::mpsc::channel::<()>();
        let from = Instant::now();
        let made = std::thread::scope(|scope| {
            let halt = halt.clone();
            scope.spawn(move || {
                if done.recv_timeout(LONGEST).is_err() {
                    halt.stop();
                }
            });
            let made = evaluate(&piece, &workshop);
            let _ = sender.send(());
            made
        });
        let time = from.elapsed();
        let triangles: usize = made
            .iter()
            .flat_map(|made| &made.components)
            .map(|made| made.mesh.triangles.len())
            .sum();
        let refused = made.as_ref().is_ok_and(|made| !made.is_built());
        took.push((time, at, triangles, refused, made.is_err(), tolerance, piece));
    }
    took.sort_by_key(|one| std::cmp::Reverse(one.0));
    let all: Duration = took.iter().map(|one| one.0).sum();
    let part = |share: usize| took[took.len() * share / 1000].0;
    println!(
        "{count} pieces in {:.1} s; half below {:.1?}, of a hundred one above {:.1?}, of a thousand one above {:.1?}; {} over a second, {} not built",
        all.as_secs_f64(),
        part(500),
        part(10),
        part(1),
        took.iter().filter(|one| one.0 > Duration::from_secs(1)).count(),
        took.iter().filter(|one| one.3).count(),
    );
    for (time, at, triangles, refused, stopped, tolerance, piece) in took.iter().take(12) {
        let kinds: Vec<_> = piece.components[0].elements.iter().map(|one| one.tag()).collect();
        println!(
            "{time:>9.1?}  piece {at}, {tolerance:?}, {triangles} triangles, refused {refused}, given up {stopped}: {kinds:?}"
        );
        if let Some(folder) = &folder {
            let _ = std::fs::write(folder.join(format!("{at}.kalotype.json")), write(piece));
        }
    }
}
