//! All emblems on one sheet of SVG, to be looked at:
//! `cargo run -p kalotype-core --example emblem_sheet > sheet.svg`.

use kalotype_core::emblems::{EMBLEMS, Setting};
use kalotype_core::plane::Tolerance;

fn main() {
    let rows = EMBLEMS.len().div_ceil(8);
    println!("<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 200 {}\">", 25 * rows);
    for (i, emblem) in EMBLEMS.iter().enumerate() {
        let setting = Setting { width: 18.0, stretch: 1.0, turn: 0.0, mirrored: false };
        let path = emblem.set(setting, Tolerance::Normal).svg_path();
        let (x, y) = (25 * (i % 8) + 12, 25 * (i / 8) + 12);
        println!("<path transform=\"translate({x} {y})\" fill-rule=\"evenodd\" d=\"{path}\"/>");
    }
    println!("</svg>");
}
