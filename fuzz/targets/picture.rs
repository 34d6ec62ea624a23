//! Whatever a picture has in it: it is read or refused, and traced or refused.
#![no_main]

use kalotype_core::formats::read_picture;
use kalotype_core::shapes::trace::{Smoothing, Tones, edges, smoothed};
use libfuzzer_sys::fuzz_target;

fuzz_target!(|bytes: &[u8]| {
    let Ok(picture) = read_picture(bytes) else { return };
    for tones in [Tones::Dark(None), Tones::Colours(3)] {
        if let Ok(edges) = edges(&picture, tones) {
            let _ = smoothed(&edges, Smoothing { distance: 0.8, corner: 45.0, speck: 2.0 });
        }
    }
});
