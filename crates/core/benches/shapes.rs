//! Shapes of one's own: tracing, smoothing again, and a piece with a traced logo on it.

use divan::{Bencher, black_box};
use kalotype_core::cache::Cache;
use kalotype_core::edit::apply;
use kalotype_core::evaluate::evaluate;
use kalotype_core::formats::{Picture, read_drawing};
use kalotype_core::library::Shelf;
use kalotype_core::piece::{Address, Component, Edit, ElementKind, Piece};
use kalotype_core::plane::Tolerance;
use kalotype_core::shapes::trace::{Smoothing, Tones, edges, smoothed};
use kalotype_core::shapes::{Chosen, Shape, take};
use kalotype_core::units::Unit;
use kalotype_core::workshop::Workshop;

fn main() {
    divan::main();
}

const SIDE: usize = 2000;
const SMOOTHING: Smoothing = Smoothing { distance: 0.8, corner: 45.0, speck: 4.0 };

/// A picture of 2 000 × 2 000 pixels: a ring, a flower of forty petals and a band of waves, in three colours
/// with blurred edges.
fn picture() -> Picture {
    let mut pixels = Vec::with_capacity(SIDE * SIDE);
    let mix = |share: f64, ink: [u8; 3], paper: [u8; 3]| -> [u8; 3] {
        let share = share.clamp(0.0, 1.0);
        [0, 1, 2].map(|i| (f64::from(ink[i]) * share + f64::from(paper[i]) * (1.0 - share)) as u8)
    };
    for row in 0..SIDE {
        for column in 0..SIDE {
            let (x, y) = (column as f64 - 1000.0, row as f64 - 1000.0);
            let (from, angle) = (x.hypot(y), y.atan2(x));
            let ring = 60.0 - (from - 850.0).abs();
            let flower = 480.0 + 130.0 * (20.0 * angle).cos() - from;
            let waves = 22.0 - (y - 700.0 - 40.0 * (x / 40.0).sin()).abs();
            let mut colour = mix(ring + 0.5, [31, 78, 121], [244, 239, 224]);
            colour = mix(flower + 0.5, [200, 69, 43], colour);
            colour = mix(waves + 0.5, [31, 78, 121], colour);
            pixels.push([colour[0], colour[1], colour[2], 255]);
        }
    }
    Picture {
        format: "PNG".into(),
        width: SIDE,
        height: SIDE,
        pixels,
        scale: None,
        remarks: Vec::new(),
    }
}

/// From pixels to shapes.
#[divan::bench(args = ["dark", "three colours"])]
fn tracing(bencher: Bencher, what: &str) {
    let picture = picture();
    let tones = if what == "dark" { Tones::Dark(None) } else { Tones::Colours(3) };
    bencher.bench(|| {
        let found = smoothed(&edges(black_box(&picture), tones).unwrap(), SMOOTHING).unwrap();
        take(&found, &Chosen::all(0.03)).unwrap()
    });
}

/// The same edges, smoothed otherwise.
#[divan::bench(args = ["dark", "three colours"])]
fn smoothing_again(bencher: Bencher, what: &str) {
    let tones = if what == "dark" { Tones::Dark(None) } else { Tones::Colours(3) };
    let found = edges(&picture(), tones).unwrap();
    bencher.bench(|| {
        let found = smoothed(black_box(&found), Smoothing { distance: 1.3, ..SMOOTHING }).unwrap();
        take(&found, &Chosen::all(0.03)).unwrap()
    });
}

/// A piece with a logo of about 2 000 points, and what is changed on it.
fn with_logo() -> (Shelf, Piece) {
    let mut path = String::from("M");
    for i in 0..2000 {
        let angle = f64::from(i) / 2000.0 * std::f64::consts::TAU;
        let from = 20.0 + 3.0 * (31.0 * angle).sin() + 1.5 * (83.0 * angle).cos();
        path.push_str(&format!(
            "{:.4} {:.4} ",
            30.0 + from * angle.cos(),
            30.0 + from * angle.sin()
        ));
    }
    let svg = format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"60mm\" height=\"60mm\" viewBox=\"0 0 60 60\">\
         <path d=\"{path}Z\"/></svg>"
    );
    let taken = take(&read_drawing(svg.as_bytes()).unwrap(), &Chosen::all(25.4 / 96.0)).unwrap();
    let shape = Shape::open(&taken.shapes[0].document.write(), "Logo").unwrap();
    let id = shape.id.clone();
    let mut shelf = Shelf::default();
    shelf.put_shape(shape);
    let address = |element: &str| Address::element(Component::FIRST, element);
    let cache = Cache::new(16 << 20);
    let workshop = Workshop::new(&shelf, &cache, Tolerance::Normal);
    let blank = Address::Blank(Component::FIRST.to_owned());
    let edits = [
        Edit::set(&blank, "height", 60.0),
        Edit::add(Component::FIRST, ElementKind::Emblem),
        Edit::set(&address("emblem-1"), "shape", id),
        Edit::set(&address("emblem-1"), "width", 46.0),
    ];
    let piece = apply(&Piece::new("Bench", Unit::Millimetre), &edits, &workshop).unwrap().piece;
    (shelf, piece)
}

/// An edit of the logo itself: it is set anew every time.
#[divan::bench]
fn edit_with_a_logo_of_2000_points(bencher: Bencher) {
    let (shelf, piece) = with_logo();
    let cache = Cache::new(16 << 20);
    let mut width = 40.0;
    bencher.bench_local(|| {
        width = if width > 46.0 { 40.0 } else { width + 0.001 };
        let workshop = Workshop::new(&shelf, &cache, Tolerance::Normal);
        let address = Address::element(Component::FIRST, "emblem-1");
        let edited = apply(&piece, &[Edit::set(&address, "width", width)], &workshop).unwrap();
        black_box(evaluate(&edited.piece, &workshop).unwrap());
    });
}
