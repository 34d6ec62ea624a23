//! Pictures of known shapes, traced.

use super::*;
use crate::plane::Tolerance;
use crate::shapes::{Chosen, Division, Shape, Taken, take};

/// A picture of 400 × 300 pixels in which every pixel is as dark as a shape covers it, by 16 × 16 samples.
fn drawn(inside: impl Fn(f64, f64) -> bool, ink: [u8; 3], paper: [u8; 3]) -> Picture {
    const FINER: usize = 8;
    let (width, height) = (400, 300);
    let mut pixels = Vec::with_capacity(width * height);
    for row in 0..height {
        for column in 0..width {
            let mut covered = 0;
            for i in 0..FINER * FINER {
                let x = column as f64 + ((i % FINER) as f64 + 0.5) / FINER as f64;
                let y = row as f64 + ((i / FINER) as f64 + 0.5) / FINER as f64;
                covered += usize::from(inside(x, y));
            }
            let share = covered as f64 / (FINER * FINER) as f64;
            let mixed = |part: usize| {
                (f64::from(ink[part]) * share + f64::from(paper[part]) * (1.0 - share)).round()
                    as u8
            };
            pixels.push([mixed(0), mixed(1), mixed(2), 255]);
        }
    }
    Picture { format: "PNG", width, height, pixels, remarks: Vec::new() }
}

const PLAIN: Smoothing = Smoothing { distance: 0.8, corner: 45.0, speck: 3.0 };

/// What is traced at a scale of 0.1 mm to a pixel.
fn traced(picture: &Picture, tones: Tones, division: Division) -> Taken {
    let found = smoothed(&edges(picture, tones).unwrap(), PLAIN).unwrap();
    take(&found, &Chosen { division, ..Chosen::all(0.1) }).unwrap()
}

const BLACK: [u8; 3] = [0, 0, 0];
const WHITE: [u8; 3] = [255, 255, 255];

#[test]
fn a_disc_and_a_square_have_their_areas_and_few_points() {
    let disc = drawn(|x, y| (x - 200.0).hypot(y - 150.0) < 100.0, BLACK, WHITE);
    let found = traced(&disc, Tones::Dark(None), Division::Together);
    let shape = Shape::open(&found.shapes[0].document.write(), "").unwrap();
    let region = shape.stretched(shape.size(), Tolerance::Fine);
    let exact = PI * 100.0;
    // A tenth of a pixel along the way round.
    assert!((region.area() - exact).abs() < 0.01 * 2.0 * PI * 10.0 * 1.5, "{}", region.area());
    // A curve may stray as far as smoothing says.
    assert!((shape.size().0 - 20.0).abs() < 0.08, "{:?}", shape.size());
    assert!(shape.points() < 16, "{}", shape.points());

    let square = drawn(|x, y| (x - 200.0).abs() < 90.0 && (y - 150.0).abs() < 60.0, BLACK, WHITE);
    let found = traced(&square, Tones::Dark(None), Division::Together);
    let shape = Shape::open(&found.shapes[0].document.write(), "").unwrap();
    assert!((found.shapes[0].region.area() - 18.0 * 12.0).abs() < 0.3, "{:?}", shape.size());
    assert!((shape.size().0 - 18.0).abs() < 0.02 && (shape.size().1 - 12.0).abs() < 0.02);
    assert!(shape.points() < 16, "corners are kept, sides are straight: {}", shape.points());
}

#[test]
fn light_is_dark_the_other_way_round_and_specks_and_openings_of_their_size_go() {
    let ring = |x: f64, y: f64| {
        let from = (x - 150.0).hypot(y - 150.0);
        (40.0..100.0).contains(&from) || (x - 320.0).hypot(y - 60.0) < 1.2
    };
    let dark = traced(&drawn(ring, BLACK, WHITE), Tones::Dark(None), Division::Together);
    let light = traced(&drawn(ring, WHITE, BLACK), Tones::Light(None), Division::Together);
    let exact = PI * (100.0 - 16.0);
    for found in [&dark, &light] {
        assert!((found.shapes[0].region.area() - exact).abs() < 1.5);
        assert_eq!(found.shapes[0].region.contours().len(), 2, "the speck is gone");
    }
    let whole = smoothed(
        &edges(&drawn(ring, BLACK, WHITE), Tones::Dark(Some(0.5))).unwrap(),
        Smoothing { speck: 81.0, ..PLAIN },
    );
    assert_eq!(
        take(&whole.unwrap(), &Chosen::all(0.1)).unwrap().shapes[0].region.contours().len(),
        1
    );
}

#[test]
fn colours_meet_without_gaps_and_lie_in_their_places() {
    // A red sail on a blue hull on sand.
    let sand = [222, 205, 160];
    let mut picture = drawn(
        |x, y| (60.0..340.0).contains(&x) && (200.0..260.0).contains(&y),
        [20, 60, 140],
        sand,
    );
    let sail = drawn(
        |x, y| (100.0..220.0).contains(&x) && y < 200.0 && y > 320.0 - x,
        [200, 40, 30],
        sand,
    );
    for (one, other) in picture.pixels.iter_mut().zip(&sail.pixels) {
        if one[..3] == sand {
            *one = *other;
        }
    }
    let found = traced(&picture, Tones::Colours(3), Division::ByLayer);
    assert_eq!(found.shapes.len(), 3);
    let areas: Vec<f64> = found.shapes.iter().map(|shape| shape.region.area()).collect();
    let (hull, triangle) = (28.0 * 6.0, 0.5 * 10.0 * 10.0);
    let red = found
        .shapes
        .iter()
        .position(|shape| shape.colour.unwrap().0[0] > 180 && shape.colour.unwrap().0[2] < 90);
    let blue = found.shapes.iter().position(|shape| shape.colour.unwrap().0[0] < 100);
    assert!((areas[blue.unwrap()] - hull).abs() < 2.0, "{areas:?}");
    assert!((areas[red.unwrap()] - triangle).abs() < 1.0, "{areas:?}");
    // Together they are the picture, and no two of them share anything.
    assert!((areas.iter().sum::<f64>() - 40.0 * 30.0).abs() < 0.5, "{areas:?}");
    for i in 0..3 {
        for k in i + 1..3 {
            let shared = found.shapes[i].region.intersection(&found.shapes[k].region).area();
            assert!(shared < 0.05, "{shared}");
        }
    }
}

#[test]
fn what_cannot_be_traced_is_said() {
    let blank = drawn(|_, _| false, BLACK, WHITE);
    assert_eq!(edges(&blank, Tones::Dark(Some(0.5))), Err(TraceError::Nothing));
    assert_eq!(edges(&blank, Tones::Colours(9)), Err(TraceError::Colours(9)));
    // A picture of one colour is a plate of that colour.
    assert!(edges(&blank, Tones::Colours(2)).is_ok());
    // Salt and pepper: more edges than anybody can want.
    let salt = |width: usize, height: usize| Picture {
        width,
        height,
        pixels: (0..(width * height) as u32)
            .map(|i| {
                let is_dark = i.wrapping_mul(2_654_435_761) >> 31 == 0;
                if is_dark { [0, 0, 0, 255] } else { [255; 4] }
            })
            .collect(),
        ..blank.clone()
    };
    let noise = salt(400, 300);
    let said = edges(&noise, Tones::Dark(Some(0.5)))
        .and_then(|edges| smoothed(&edges, Smoothing { distance: 0.0, ..PLAIN }));
    assert!(
        matches!(said, Err(TraceError::TooManyPoints(_) | TraceError::TooManyEdges(_))),
        "{said:?}"
    );
    let large = edges(&salt(1200, 1000), Tones::Dark(Some(0.5)));
    assert!(matches!(large, Err(TraceError::TooNoisy(_))), "{large:?}");
}
