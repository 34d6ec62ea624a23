//! Whatever font is brought along: it is opened or refused, and words are set in what was opened.
#![no_main]

mod quiet;

use kalotype_core::cache::Cache;
use kalotype_core::lettering::{open_font, set};
use kalotype_core::plane::Tolerance;
use libfuzzer_sys::fuzz_target;
use std::sync::Arc;

fuzz_target!(init: quiet::libraries(), |bytes: &[u8]| {
    let Ok(font) = open_font(bytes) else { return };
    for face in &font.faces {
        let weight = face.weights.map(|[_, _, heaviest]| heaviest);
        let typeface = font.typeface("own-x".into(), "x".into(), face.index, weight);
        let typeface = Arc::new(typeface.expect("a face that was found"));
        set("Åß {Ωg AV", &typeface, 10.0, Tolerance::Draft, &Cache::new(1 << 20));
    }
});
