//! Whatever text an OBJ file has: it is read or refused, and what was read can be looked through.
#![no_main]

use kalotype_core::formats::obj;
use libfuzzer_sys::fuzz_target;

fuzz_target!(|bytes: &[u8]| {
    if let Ok(found) = obj::read(bytes) {
        let _ = (found.faults(), found.size(), found.likely_unit());
    }
});
