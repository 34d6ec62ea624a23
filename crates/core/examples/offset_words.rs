//! Offsets lettering and prints areas and outlines as JSON, for comparison with other libraries:
//! `cargo run -p kalotype-core --example offset_words -- FACE LETTER_HEIGHT_MM DISTANCE_MM WORDS`.

use kalotype_core::cache::Cache;
use kalotype_core::lettering::{set, shipped};
use kalotype_core::plane::{Tolerance, from_grid};
use serde_json::json;

fn main() {
    let arguments: Vec<String> = std::env::args().skip(1).collect();
    let [face, height, distance, words] = arguments.as_slice() else {
        eprintln!("usage: offset_words FACE LETTER_HEIGHT_MM DISTANCE_MM WORDS");
        std::process::exit(2);
    };
    let face = shipped(face).expect("a shipped typeface");
    let height: f64 = height.parse().expect("a letter height in mm");
    let distance: f64 = distance.parse().expect("a distance in mm");
    let region = set(words, &face, height, Tolerance::Fine, &Cache::new(1 << 20)).region;
    let contours: Vec<Vec<[f64; 2]>> = region
        .contours()
        .iter()
        .map(|contour| contour.iter().map(|p| [from_grid(p.x), from_grid(p.y)]).collect())
        .collect();
    let offset = region.offset(distance, Tolerance::Fine);
    println!(
        "{}",
        json!({
            "contours_mm": contours,
            "area_mm2": region.area(),
            "offset_area_mm2": offset.area(),
            "offset_contours": offset.contours().len(),
        })
    );
}
