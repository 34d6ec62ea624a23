//! What shapes enclose, in closed form and at all three tolerances.

use super::*;
use crate::formats::read_drawing;
use std::f64::consts::PI;

const ALL: [Tolerance; 3] = [Tolerance::Draft, Tolerance::Normal, Tolerance::Fine];

/// The shapes of an SVG whose body is given, 100 × 100 mm to 100 × 100 units.
fn taken(body: &str, choose: impl FnOnce(&mut Chosen)) -> Taken {
    let svg = format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"100mm\" height=\"100mm\" \
         viewBox=\"0 0 100 100\">{body}</svg>"
    );
    let found = read_drawing(svg.as_bytes()).unwrap();
    let mut chosen = Chosen::all(found.stated.unwrap());
    choose(&mut chosen);
    take(&found, &chosen).unwrap()
}

fn opened(taken: &TakenShape) -> Shape {
    Shape::open(&taken.document.write(), "Shape").unwrap()
}

/// That a shape set at its own size has an area at every tolerance, within what its chords take along a
/// perimeter.
fn has_area(shape: &Shape, exact: f64, perimeter: f64) {
    for tolerance in ALL {
        let width = shape.frame.width();
        let setting = Setting { width, stretch: 1.0, turn: 0.0, mirrored: false };
        let found = shape.set(setting, &Stroke::default(), tolerance).area();
        let within = tolerance.chord_mm() * perimeter + 2e-3;
        assert!((found - exact).abs() < within, "{found} is not {exact} at {tolerance:?}");
    }
}

#[test]
fn areas_lie_upon_each_other_as_they_were_painted() {
    let disc = "<circle cx='50' cy='50' r='20' fill='#111111'/>";
    let white = "<rect x='45' y='45' width='10' height='10' fill='#ffffff'/>";
    let dot = "<circle cx='50' cy='50' r='2' fill='#111111'/>";
    // All colours together leave no hole; the dark one alone has the square in it, and the dot in that.
    let whole = taken(&[disc, white, dot].concat(), |_| {});
    has_area(&opened(&whole.shapes[0]), PI * 400.0, 126.0);
    let dark = taken(&[disc, white, dot].concat(), |chosen| chosen.layers = Some(vec![0]));
    has_area(&opened(&dark.shapes[0]), PI * 400.0 - 100.0 + PI * 4.0, 180.0);
    // In another order the square lies below and cuts nothing.
    let below = taken(&[white, disc].concat(), |chosen| chosen.layers = Some(vec![1]));
    has_area(&opened(&below.shapes[0]), PI * 400.0, 126.0);
}

#[test]
fn layers_of_one_drawing_share_their_frame_and_stay_where_they_are_to_each_other() {
    let body = "<rect x='10' y='20' width='60' height='30' fill='#aa0000'/>\
                <rect x='60' y='60' width='20' height='10' fill='#0000aa'/>";
    let both = taken(body, |chosen| chosen.division = Division::ByLayer);
    assert_eq!(both.shapes.len(), 2);
    let shapes: Vec<Shape> = both.shapes.iter().map(opened).collect();
    assert_eq!(shapes[0].frame, shapes[1].frame);
    assert!(!shapes[0].fills_its_frame());
    // Twice as wide, mirrored and turned: the middles of the two are as far apart as in the drawing,
    // hypot(30, 30), times two.
    let setting =
        Setting { width: 2.0 * shapes[0].frame.width(), stretch: 1.0, turn: 30.0, mirrored: true };
    let middles: Vec<(f64, f64)> = shapes
        .iter()
        .map(|shape| {
            shape.set(setting, &Stroke::default(), Tolerance::Fine).bounds().unwrap().centre()
        })
        .collect();
    let apart = (middles[0].0 - middles[1].0).hypot(middles[0].1 - middles[1].1);
    assert!((apart - 2.0 * 30f64.hypot(30.0)).abs() < 1e-3, "{apart}");
}

#[test]
fn lines_are_as_wide_as_they_were_drawn_or_the_edge_of_an_area() {
    let ring = "<circle cx='50' cy='50' r='20' fill='none' stroke='#000000' stroke-width='3'/>";
    let line = taken(ring, |chosen| chosen.lines = Some(LineUse::Lines));
    has_area(&opened(&line.shapes[0]), PI * (21.5 * 21.5 - 18.5 * 18.5), 252.0);
    let area = taken(ring, |chosen| chosen.lines = Some(LineUse::Outlines));
    has_area(&opened(&area.shapes[0]), PI * 400.0, 126.0);
    // Round ends are half a disc each.
    let capped = "<path d='M20 50H80' stroke='#000' stroke-width='8' stroke-linecap='round'/>";
    let line = taken(capped, |_| {});
    has_area(&opened(&line.shapes[0]), 60.0 * 8.0 + PI * 16.0, 145.0);
}

#[test]
fn a_shape_within_another_is_a_hole_and_the_same_again_is_an_island() {
    let rings = "<g fill='none' stroke='#000'><circle cx='50' cy='50' r='30'/>\
                 <path d='M30 30H70V70H30Z'/><circle cx='50' cy='50' r='10'/></g>";
    let nested = taken(rings, |chosen| chosen.lines = Some(LineUse::Outlines));
    has_area(&opened(&nested.shapes[0]), PI * 900.0 - 1600.0 + PI * 100.0, 420.0);
}

#[test]
fn an_outline_that_crosses_itself_is_mended_and_that_is_said() {
    // A five-pointed star in one stroke: its middle counts as inside.
    let star: Vec<String> = (0..5)
        .map(|i| {
            let angle = f64::from(i * 2) / 5.0 * 2.0 * PI - PI / 2.0;
            format!("{:.6},{:.6}", 50.0 + 40.0 * angle.cos(), 50.0 + 40.0 * angle.sin())
        })
        .collect();
    let body = format!("<polygon points='{}' fill='none' stroke='#000'/>", star.join(" "));
    let found = taken(&body, |chosen| chosen.lines = Some(LineUse::Outlines));
    assert!(found.remarks.iter().any(|one| one.contains("crosses itself")), "{:?}", found.remarks);
    // Five-pointed star {5/2}: ten triangles over the radii R and r = R·sin 18°/sin 126°.
    let inner = 40.0 * (PI / 10.0).sin() / (PI * 0.7).sin();
    has_area(&opened(&found.shapes[0]), 5.0 * 40.0 * inner * (PI / 5.0).sin(), 0.0);
}

#[test]
fn the_same_drawing_elsewhere_is_the_same_shape_and_another_is_not() {
    let at = |x: u32| {
        let body = format!("<path d='M{x} 20h30v10h-30z'/>");
        taken(&body, |_| {}).shapes.remove(0).document.id()
    };
    assert_eq!(at(5), at(40));
    let other = taken("<path d='M5 20h30v11h-30z'/>", |_| {}).shapes.remove(0).document.id();
    assert_ne!(at(5), other);
}

#[test]
fn documents_that_are_no_shape_are_refused_in_words() {
    let read = |text: &str| Shape::open(text.as_bytes(), "").unwrap_err().to_string();
    let with = |frame: &str, path: &str| {
        let part = format!("{{\"act\":\"adds\",\"rule\":\"non-zero\",\"path\":\"{path}\"}}");
        format!("{{\"kalotype_shape\":1,\"frame\":{frame},\"parts\":[{part}]}}")
    };
    let square = "M0 0L10 0L10 10L0 10Z";
    let pen = |width: &str| {
        let pen = format!("\"pen\":{{\"width\":{width},\"ends\":\"round\"}},\"path\"");
        with("[0,0,10,10]", square).replace("\"path\"", &pen).replace(":1,", ":2,")
    };
    assert!(Shape::open(pen("2").as_bytes(), "").is_ok());
    assert!(Shape::open(with("[0,0,10,10]", square).as_bytes(), "").is_ok());
    for (text, said) in [
        ("[]".to_owned(), "this is no shape"),
        (with("[0,0,10,10]", "M0 0L"), "path cannot be read"),
        (with("[0,0,10,10]", "M0 0L10 0Z"), "encloses nothing"),
        (with("[0,0,0,10]", square), "must be larger"),
        (with("[0,0,1,900]", square), "times as long as wide"),
        (with("[0,0,10,10]", "M0 0L1e9 0L0 10Z"), "reaches further"),
        (with("[0,0,1e9,1e9]", square), "reaches further"),
        (with("[0,0,10,10]", square).replace(":1,", ":3,"), "of version 3"),
        (pen("0"), "mm wide"),
        (pen("1e9"), "mm wide"),
        (pen("\"thick\""), "this is no shape"),
    ] {
        assert!(read(&text).contains(said), "{text}: {}", read(&text));
    }
    let many = format!("M0 0{}Z", "L1 1L2 0".repeat(MAX_SHAPE_POINTS / 2));
    assert!(read(&with("[0,0,10,10]", &many)).contains("points"));
}

/// Lines to and fro that would take minutes to lay over each other are refused in no time, however they come.
#[test]
fn outlines_that_cross_too_often_are_refused_before_they_are_laid_over_each_other() {
    let tangle: String = (0..9000u32)
        .map(|i| {
            let [x, y] = [7919, 104_729].map(|prime: u32| i.wrapping_mul(prime) % 997);
            format!("{} {} ", x as f64 / 10.0, y as f64 / 10.0)
        })
        .collect();
    let svg = |body: &str| {
        format!(
            "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"100mm\" viewBox=\"0 0 100 100\">{body}</svg>"
        )
    };
    let paths = [
        format!("<path d='M{tangle}Z'/>"),
        format!("<path fill='none' stroke='#000' d='M{tangle}Z'/>"),
        format!(
            "<clipPath id='c'><path d='M{tangle}Z'/></clipPath><rect width='90' height='90' clip-path='url(#c)'/>"
        ),
    ];
    for body in paths {
        let found = read_drawing(svg(&body).as_bytes()).unwrap();
        assert_eq!(
            take(&found, &Chosen::all(1.0)).unwrap_err(),
            NotTaken::Shape(ShapeError::Tangled)
        );
    }
    let document = ShapeDocument {
        kalotype_shape: 1,
        frame: [0.0, 0.0, 100.0, 100.0],
        parts: vec![Part {
            act: PartAct::Adds,
            rule: Rule::NonZero,
            path: format!("M{tangle}Z"),
            pen: None,
        }],
    };
    assert_eq!(Shape::open(&document.write(), ""), Err(ShapeError::Tangled));
}

/// The plan of a harbour counts from far away: a square with a hole stays one, a hundred kilometres off.
#[test]
fn a_drawing_far_from_its_origin_is_the_same_shape() {
    let body = "<path d='M20 20h30v10h-30zM25 22v6h6v-6z'/>";
    let near = taken(body, |_| {});
    let far = taken(&format!("<g transform='translate(0 1e5)'>{body}</g>"), |_| {});
    has_area(&opened(&far.shapes[0]), 300.0 - 36.0, 0.0);
    assert!((near.centre.1 - far.centre.1 - 1e5).abs() < 0.02, "{:?}", far.centre);
}

#[test]
fn curves_without_measure_are_refused_before_they_are_followed() {
    let svg = |body: &str| {
        format!(
            "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"100mm\" viewBox=\"0 0 100 100\">{body}</svg>"
        )
    };
    let dxf = |x: &str| {
        format!(
            "0\nSECTION\n2\nENTITIES\n0\nCIRCLE\n10\n{x}\n20\n0\n40\n{x}\n0\nCIRCLE\n10\n0\n20\n0\n40\n5\n\
             0\nENDSEC\n0\nEOF\n"
        )
    };
    let waves: String =
        (0..9000).map(|i| format!("q20 {} 40 0q-20 -900 -40 0 ", 900 + i % 90)).collect();
    for (text, said) in [
        (svg("<path d='M0 0Q1e30 1e30 9 0Z'/>"), "reaches further"),
        (
            svg("<path d='M0 0C9e37 1e30 9e37 -9e37 9 0Z' fill='none' stroke='#000'/>"),
            "reaches further",
        ),
        (dxf("1e17"), "reaches further"),
        (dxf("1e300"), "reaches further"),
        (svg(&format!("<path d='M0 0{waves}Z'/>")), "takes more than"),
    ] {
        for lines in [LineUse::Lines, LineUse::Outlines] {
            let found = read_drawing(text.as_bytes()).unwrap();
            let refused = take(&found, &Chosen { lines: Some(lines), ..Chosen::all(1.0) });
            let refused = refused.unwrap_err().to_string();
            assert!(refused.contains(said), "{}: {refused}", &text[..text.len().min(200)]);
        }
    }
}
