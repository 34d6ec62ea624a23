//! The same piece is the same bytes: whatever was worked out before with the same cache, in whatever
//! order, from however many threads.

mod common;

use kalotype_core::cache::Cache;
use kalotype_core::evaluate::evaluate;
use kalotype_core::export::{Division, Format, Wanted, export};
use kalotype_core::halt::Halt;
use kalotype_core::library::Shipped;
use kalotype_core::piece::{self, Piece};
use kalotype_core::plane::Tolerance;
use kalotype_core::preflight;
use kalotype_core::workshop::Workshop;
use std::path::{Path, PathBuf};

/// The starters: lettering, emblems, rims, recesses, colours and contour blanks.
fn starters() -> Vec<Piece> {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../starters");
    let mut files: Vec<PathBuf> =
        std::fs::read_dir(folder).unwrap().map(|entry| entry.unwrap().path()).collect();
    files.sort();
    files.iter().map(|file| piece::read(&std::fs::read(file).unwrap()).unwrap()).collect()
}

/// Everything that comes out of a piece, as bytes.
fn bytes_of(piece: &Piece, cache: &Cache) -> Vec<u8> {
    let workshop = Workshop::new(&Shipped, cache, Tolerance::Draft);
    let evaluation = evaluate(piece, &workshop).unwrap();
    let mut bytes =
        format!("{:?}", preflight::run(piece, &evaluation, &workshop).unwrap()).into_bytes();
    for (format, division) in [
        (Format::ThreeMf, Division::Split),
        (Format::Stl, Division::Together),
        (Format::Svg, Division::Together),
    ] {
        for file in export(piece, &evaluation, Wanted { format, division, ..Wanted::default() }) {
            bytes.extend(file.bytes);
        }
    }
    bytes
}

#[test]
fn what_was_worked_out_before_changes_nothing() {
    let pieces = starters();
    let fresh = |piece: &Piece| bytes_of(piece, &common::cache());
    let alone: Vec<Vec<u8>> = pieces.iter().map(fresh).collect();
    // One cache with room for all, and one that is forever full.
    for room in [64 << 20, 256 << 10] {
        let shared = Cache::new(room);
        std::thread::scope(|scope| {
            for thread in 0..3 {
                let (shared, pieces, alone) = (&shared, &pieces, &alone);
                scope.spawn(move || {
                    for step in 0..2 * pieces.len() {
                        // Each thread goes its own way through them, and comes by each twice.
                        let at = (step * (2 * thread + 1) + 5 * thread) % pieces.len();
                        let again = bytes_of(&pieces[at], shared);
                        assert!(again == alone[at], "{} in thread {thread}", pieces[at].name);
                    }
                });
            }
        });
    }
}

/// Wherever work is stopped, what it leaves in the cache is what others would have made: with the same cache, beside it
/// and afterwards, a piece comes to the same bytes.
#[test]
fn work_that_was_stopped_leaves_nothing_behind() {
    let pieces: Vec<Piece> = starters().into_iter().step_by(7).collect();
    for piece in &pieces {
        let start = std::time::Instant::now();
        let alone = bytes_of(piece, &common::cache());
        let whole = start.elapsed();
        let shared = common::cache();
        let mut stopped = 0;
        for stop in 0..12 {
            let halt = Halt::default();
            std::thread::scope(|scope| {
                let work = scope.spawn(|| {
                    let workshop =
                        Workshop::new(&Shipped, &shared, Tolerance::Draft).until(halt.clone());
                    let evaluation = evaluate(piece, &workshop)?;
                    preflight::run(piece, &evaluation, &workshop)
                });
                let beside = (stop % 4 == 3).then(|| scope.spawn(|| bytes_of(piece, &shared)));
                std::thread::sleep(whole.mul_f64(f64::from(stop) / 30.0));
                halt.stop();
                stopped += usize::from(work.join().unwrap().is_err());
                let beside = beside.map(|work| work.join().unwrap());
                assert!(beside.is_none_or(|bytes| bytes == alone), "beside {}", piece.name);
            });
        }
        assert!(stopped > 0, "{} was never stopped", piece.name);
        assert!(bytes_of(piece, &shared) == alone, "after {}", piece.name);
    }
}

/// What is kept between two evaluations is kept by whoever asks, never behind their back.
#[test]
fn the_core_has_no_state_of_its_own() {
    let mut folders = vec![Path::new(env!("CARGO_MANIFEST_DIR")).join("src")];
    let mut seen = 0;
    while let Some(folder) = folders.pop() {
        for entry in std::fs::read_dir(folder).unwrap() {
            let path = entry.unwrap().path();
            if path.is_dir() {
                folders.push(path);
                continue;
            }
            seen += 1;
            let text = std::fs::read_to_string(&path).unwrap();
            for (number, line) in text.lines().enumerate() {
                let keeps = ["Mutex<", "RwLock<", "Cell<", "Atomic", "Cache"]
                    .iter()
                    .any(|word| line.contains(word));
                // What stops work is no state of it: it changes whether something comes out, and never what.
                let is_switch = path.ends_with("src/halt.rs");
                let is_static = line.trim_start().trim_start_matches("pub ").starts_with("static ");
                let at = format!("{}:{}", path.display(), number + 1);
                assert!(is_switch || !(is_static && keeps), "{at} keeps state in a static");
                let in_thread = line.contains("thread_local!") && !is_switch;
                assert!(!in_thread, "{at} keeps state in its thread");
            }
        }
    }
    assert!(seen > 80, "{seen} files were looked through");
}
