//! Pictures of known shapes, traced.

use super::*;
use crate::plane::{Tolerance, signed_area};
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
    Picture { format: "PNG".into(), width, height, pixels, scale: None, remarks: Vec::new() }
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

/// A picture like weathered paint: many islands and openings of every size, joined by threads.
fn weathered(tones: &[[u8; 3]]) -> Picture {
    let mut picture = drawn(|_, _| false, BLACK, WHITE);
    // A value for every knot of a coarse lattice, from its place alone (a hash of Knuth, The Art of Computer
    // Programming 3, §6.4), and straight lines between them.
    let knot = |x: usize, y: usize| {
        let mixed = (x as u32 * 7919 + y as u32 * 104_729 + 17).wrapping_mul(2_654_435_761);
        f64::from((mixed ^ (mixed >> 15)).wrapping_mul(2_246_822_519) >> 8) / f64::from(1 << 24)
    };
    let at = |x: f64, y: f64| {
        let (i, k) = (x as usize, y as usize);
        let (s, t) = (x - i as f64, y - k as f64);
        let row = |k: usize| knot(i, k) * (1.0 - s) + knot(i + 1, k) * s;
        row(k) * (1.0 - t) + row(k + 1) * t
    };
    let width = picture.width;
    for (place, pixel) in picture.pixels.iter_mut().enumerate() {
        let (x, y) = ((place % width) as f64, (place / width) as f64);
        let value = 0.6 * at(x / 7.3, y / 7.3) + 0.4 * at(x / 3.1, y / 3.1);
        let tone = ((value * 1.4 - 0.2) * tones.len() as f64).clamp(0.0, tones.len() as f64 - 1.0);
        let [red, green, blue] = tones[tone as usize];
        *pixel = [red, green, blue, 255];
    }
    picture
}

#[test]
fn nothing_smaller_than_a_speck_is_left_in_any_colour() {
    let speck = 8.0;
    let least = PI / 4.0 * (speck * 0.1f64).powi(2);
    let small = |picture: &Picture, tones: Tones, division: Division| -> Vec<f64> {
        let smoothing = Smoothing { speck, ..PLAIN };
        let found = smoothed(&edges(picture, tones).unwrap(), smoothing).unwrap();
        let taken = take(&found, &Chosen { division, ..Chosen::all(0.1) }).unwrap();
        let whole = taken.shapes.iter().map(|shape| shape.region.area()).sum::<f64>();
        assert!(whole > 100.0, "{whole}");
        let mut all: Vec<f64> = Vec::new();
        for shape in &taken.shapes {
            all.extend(shape.region.contours().iter().map(|one| signed_area(one).abs()));
        }
        all.retain(|area| *area < least);
        all
    };
    let two = weathered(&[BLACK, WHITE]);
    for tones in [Tones::Dark(Some(0.5)), Tones::Light(Some(0.5))] {
        assert_eq!(small(&two, tones, Division::Together), Vec::<f64>::new(), "{tones:?}");
    }
    let three = weathered(&[[20, 60, 140], [222, 205, 160], [200, 40, 30]]);
    assert_eq!(small(&three, Tones::Colours(3), Division::ByLayer), Vec::<f64>::new());
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

/// A red disc and a blue one, as dark as the green they lie on: neither dark nor light, but apart from it. A
/// corner of another colour is not most of the border.
#[test]
fn what_stands_out_from_the_background_is_traced_whatever_its_colour() {
    let disc = |at: (f64, f64)| move |x: f64, y: f64| (x - at.0).hypot(y - at.1) < 60.0;
    const GREEN: [u8; 3] = [60, 150, 60];
    const RED: [u8; 3] = [200, 80, 80];
    let mut picture = drawn(disc((110.0, 150.0)), RED, GREEN);
    let blue = drawn(disc((290.0, 150.0)), [80, 90, 220], GREEN);
    for (own, other) in picture.pixels.iter_mut().zip(&blue.pixels).skip(200) {
        if other[..3] != GREEN[..] {
            *own = *other;
        }
    }
    for at in 0..5 {
        picture.pixels[at] = [255, 255, 255, 255];
    }
    let found = traced(&picture, Tones::Apart(Some(0.35)), Division::Together);
    let exact = 2.0 * PI * 36.0;
    let area = found.shapes[0].region.area();
    // Edges of mixed colours lie up to half a pixel aside: all round, that is.
    assert!((area - exact).abs() < 0.05 * 2.0 * 2.0 * PI * 6.0, "{area} is not {exact}");
    assert_eq!(found.shapes[0].region.contours().len(), 2, "the corner is a speck");
    // Cut out already: what is there is what is opaque.
    let mut cut = drawn(disc((200.0, 150.0)), RED, GREEN);
    for pixel in &mut cut.pixels {
        pixel[3] = if pixel[..3] == GREEN[..] { 0 } else { 255 };
    }
    let area = traced(&cut, Tones::Apart(None), Division::Together).shapes[0].region.area();
    assert!((area - PI * 36.0).abs() < 0.06 * 2.0 * PI * 6.0, "{area}");
}

/// What an SVG is drawn as encloses what its curves do; what is masked or faded can be traced as it looks.
#[test]
fn an_svg_that_is_drawn_and_traced_is_the_same_as_one_that_is_read() {
    let svg = |body: &str| {
        format!(
            "<svg xmlns='http://www.w3.org/2000/svg' width='40mm' height='30mm' viewBox='0 0 40 30'>{body}</svg>"
        )
    };
    let disc = "<circle cx='20' cy='15' r='10'/>";
    let hidden = "<mask id='m'><rect width='40' height='15' fill='white'/></mask>";
    let half = format!("{hidden}<g mask='url(#m)'>{disc}</g>");
    for (body, exact) in [(disc.to_owned(), PI * 100.0), (half, PI * 50.0)] {
        let picture = crate::formats::render_svg(svg(&body).as_bytes()).unwrap();
        assert_eq!((picture.width, picture.height), (2000, 1500));
        let found = smoothed(&edges(&picture, Tones::Dark(None)).unwrap(), PLAIN).unwrap();
        let taken = take(&found, &Chosen::all(0.02)).unwrap();
        let area = taken.shapes[0].region.area();
        assert!((area - exact).abs() < 0.02 * 63.0, "{area} is not {exact}");
    }
    // What would take too long is refused: filters by the hundred, masks within masks.
    let blurred = "<filter id='f'><feGaussianBlur stdDeviation='9'/></filter>".to_owned()
        + &"<g filter='url(#f)'><rect width='9' height='9'/></g>".repeat(40);
    let deep = format!("{}{disc}{}", "<g opacity='.9'>".repeat(12), "</g>".repeat(12));
    for body in [blurred, deep] {
        let refused = crate::formats::render_svg(svg(&body).as_bytes()).unwrap_err().to_string();
        assert!(refused.contains("60 groups"), "{refused}");
    }
}
