//! Sets words and prints what came of it as JSON, for comparison with other libraries:
//! `cargo run -p kalotype-core --example set_words -- FACE LETTER_HEIGHT_MM TOLERANCE WORDS`.

use kalotype_core::cache::Cache;
use kalotype_core::lettering::{set, shipped};
use kalotype_core::plane::Tolerance;
use serde_json::json;

fn main() {
    let arguments: Vec<String> = std::env::args().skip(1).collect();
    let [face, height, tolerance, words] = arguments.as_slice() else {
        eprintln!("usage: set_words FACE LETTER_HEIGHT_MM draft|normal|fine WORDS");
        std::process::exit(2);
    };
    let face = shipped(face).expect("a shipped typeface");
    let height: f64 = height.parse().expect("a letter height in mm");
    let tolerance: Tolerance = serde_json::from_value(json!(tolerance)).expect("a tolerance");
    let found = set(words, &face, height, tolerance, &Cache::new(1 << 20));
    let cap_height = face.cap_height();
    println!(
        "{}",
        json!({
            "advance_mm": found.advance,
            "area_mm2": found.region.area(),
            "bounds_mm": found.region.bounds(),
            "cap_height_units": cap_height.height,
            "cap_foot_units": cap_height.foot,
            "missing": found.missing,
        })
    );
}
