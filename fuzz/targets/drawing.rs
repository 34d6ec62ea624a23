//! Whatever a drawing has in it: it is read or refused, and shapes are made of what was read.
#![no_main]

use kalotype_core::formats::{read_drawing, render_svg};
use kalotype_core::shapes::{Chosen, Division, LineUse, Shape, take};
use libfuzzer_sys::fuzz_target;

fuzz_target!(|bytes: &[u8]| {
    let Ok(found) = read_drawing(bytes) else { return };
    if found.format == "SVG" {
        // Drawn as a picture as well, or refused.
        let _ = render_svg(bytes);
    }
    for lines in [LineUse::Lines, LineUse::Outlines] {
        let chosen = Chosen {
            lines: Some(lines),
            division: Division::ByLayer,
            ..Chosen::all(found.likely)
        };
        for shape in take(&found, &chosen).iter().flat_map(|taken| &taken.shapes) {
            Shape::open(&shape.document.write(), "").expect("what was taken can be opened");
        }
    }
});
