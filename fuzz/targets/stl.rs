//! Whatever bytes an STL file has: it is read or refused, and what was read can be looked through.
#![no_main]

use kalotype_core::formats::stl;
use libfuzzer_sys::fuzz_target;

fuzz_target!(|bytes: &[u8]| {
    if let Ok(mesh) = stl::read(bytes) {
        let _ = (mesh.faults(), mesh.measures());
    }
});
