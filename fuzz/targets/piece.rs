//! Whatever text a piece file has: it is read or refused, and what was read is built sound or not at all,
//! for a reason that is given.
#![no_main]

mod quiet;

use kalotype_core::cache::Cache;
use kalotype_core::evaluate::evaluate;
use kalotype_core::library::Shipped;
use kalotype_core::piece::{read, write};
use kalotype_core::plane::Tolerance;
use kalotype_core::preflight;
use kalotype_core::workshop::Workshop;
use libfuzzer_sys::fuzz_target;

fuzz_target!(init: quiet::libraries(), |bytes: &[u8]| {
    let Ok(piece) = read(bytes) else { return };
    assert_eq!(read(write(&piece).as_bytes()).as_ref(), Ok(&piece));
    let cache = Cache::new(4 << 20);
    let workshop = Workshop::new(&Shipped, &cache, Tolerance::Draft);
    let Ok(evaluation) = evaluate(&piece, &workshop) else { return };
    for made in &evaluation.components {
        assert!(made.stop.is_some() || made.mesh.faults().is_sound(), "{:?}", made.mesh.faults());
    }
    let findings = preflight::run(&piece, &evaluation, &workshop).expect("nobody stops it");
    assert!(evaluation.is_built() || !findings.is_empty());
});
