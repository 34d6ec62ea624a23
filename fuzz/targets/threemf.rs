//! Whatever a 3MF package has in it: it is read or refused. What is no archive is put into one as its
//! model, so that the reader of the model sees it.
#![no_main]

use kalotype_core::formats::{archive, threemf};
use libfuzzer_sys::fuzz_target;

fuzz_target!(|bytes: &[u8]| {
    let found = if bytes.starts_with(b"PK") {
        threemf::read(bytes)
    } else {
        threemf::read(&archive([("3D/3dmodel.model", bytes)].into_iter()))
    };
    if let Ok(found) = found {
        let _ = (found.faults(), found.size(), found.likely_unit());
    }
});
