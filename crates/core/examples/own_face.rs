//! Sets words in a font file and prints what came of it as JSON, for comparison with other
//! libraries: `cargo run -p kalotype-core --example own_face -- FILE WEIGHT LETTER_HEIGHT_MM WORDS`.

use kalotype_core::cache::Cache;
use kalotype_core::lettering::{open_font, set};
use kalotype_core::plane::Tolerance;
use serde_json::json;
use std::sync::Arc;

fn main() {
    let arguments: Vec<String> = std::env::args().skip(1).collect();
    let [file, weight, height, words] = arguments.as_slice() else {
        eprintln!("usage: own_face FILE WEIGHT LETTER_HEIGHT_MM WORDS");
        std::process::exit(2);
    };
    let bytes = std::fs::read(file).expect("a font file");
    let font = open_font(&bytes).expect("a font");
    let weight: f32 = weight.parse().expect("a weight");
    let height: f64 = height.parse().expect("a letter height in mm");
    let weight = font.faces[0].weights.map(|_| weight);
    let face = font.typeface("own".into(), "own".into(), 0, weight).expect("its first face");
    let cap_height = face.cap_height();
    let found = set(words, &Arc::new(face), height, Tolerance::Fine, &Cache::new(1 << 20));
    println!(
        "{}",
        json!({
            "advance_mm": found.advance,
            "bounds_mm": found.region.bounds(),
            "cap_height_units": cap_height.height,
            "faces": font.faces,
            "licence": font.licence,
        })
    );
}
