//! Lines drawn here, in closed form.

use super::*;
use crate::shapes::{Chosen, Shape, Taken, take};
use std::f64::consts::PI;

fn corner(x: f64, y: f64, radius: f64) -> DrawnPoint {
    DrawnPoint { at: [x, y], kind: PointKind::Corner(radius) }
}

fn run(points: Vec<DrawnPoint>, closed: bool) -> Figure {
    figure(DrawnLine::Run(Run { points, closed }))
}

fn figure(line: DrawnLine) -> Figure {
    Figure { width: None, square: false, line }
}

fn taken(mirror: Mirror, figures: Vec<Figure>) -> Taken {
    let document = DrawnDocument { kalotype_drawing: 1, mirror, figures };
    let bytes = serde_json::to_vec(&document).unwrap();
    assert!(is_drawn(&bytes));
    let read = read_drawn(&bytes).unwrap();
    take(&read.found, &Chosen::all(1.0)).unwrap()
}

/// The area at the finest tolerance, and the size.
fn measured(taken: &Taken) -> (f64, (f64, f64)) {
    let shape = Shape::open(&taken.shapes[0].document.write(), "").unwrap();
    (shape.stretched(shape.size(), Tolerance::Fine).area(), shape.size())
}

#[track_caller]
fn has_area(taken: &Taken, exact: f64, around: f64) {
    let (found, _) = measured(taken);
    assert!((found - exact).abs() < 0.006 * around + 1e-3, "{found} is not {exact}");
}

fn square(half: f64, radius: f64) -> Figure {
    let corners = [(half, half), (-half, half), (-half, -half), (half, -half)];
    run(corners.map(|(x, y)| corner(x, y, radius)).to_vec(), true)
}

/// A square loses (4 − π) r² by its roundings; no more than half of a side is taken.
#[test]
fn corners_are_rounded_by_their_radius_as_far_as_there_is_room() {
    has_area(&taken(Mirror::None, vec![square(10.0, 0.0)]), 400.0, 0.0);
    has_area(&taken(Mirror::None, vec![square(10.0, 3.0)]), 400.0 - (4.0 - PI) * 9.0, 30.0);
    has_area(&taken(Mirror::None, vec![square(10.0, 200.0)]), PI * 100.0, 63.0);
    // One corner alone, seen from either side round.
    let mut one = vec![corner(0.0, 0.0, 4.0), corner(20.0, 0.0, 0.0), corner(0.0, 15.0, 0.0)];
    // A corner of 90° loses r² (1 − π/4).
    let exact = 150.0 - 16.0 * (1.0 - PI / 4.0);
    has_area(&taken(Mirror::None, vec![run(one.clone(), true)]), exact, 10.0);
    one.reverse();
    has_area(&taken(Mirror::None, vec![run(one, true)]), exact, 10.0);
}

#[test]
fn arcs_go_over_their_point_and_circles_through_three_or_within_three_lines() {
    // Half a disc of 10 mm: its straight side and the arc over its top, begun anywhere.
    let points = [
        corner(-10.0, 0.0, 0.0),
        corner(10.0, 0.0, 0.0),
        DrawnPoint { at: [0.0, 10.0], kind: PointKind::Arc },
    ];
    for start in 0..3 {
        let mut points = points.to_vec();
        points.rotate_left(start);
        has_area(&taken(Mirror::None, vec![run(points.clone(), true)]), PI * 50.0, 32.0);
        points.reverse();
        has_area(&taken(Mirror::None, vec![run(points, true)]), PI * 50.0, 32.0);
    }
    // More than half: over (0, 15) from (±6, −1)… the circle through them has the radius that
    // (6² + 16²) / (2 · 16) says.
    let bow = vec![
        corner(-6.0, -1.0, 0.0),
        DrawnPoint { at: [0.0, 15.0], kind: PointKind::Arc },
        corner(6.0, -1.0, 0.0),
    ];
    let radius = (36.0 + 256.0) / 32.0;
    // The disc less the segment below the chord: r² (φ − sin φ cos φ) with sin φ = 6/r.
    let phi = (6.0f64 / radius).asin();
    let exact = radius * radius * (PI - phi + phi.sin() * phi.cos());
    has_area(&taken(Mirror::None, vec![run(bow, true)]), exact, 60.0);

    let circle = DrawnLine::Circle([[5.0, 0.0], [0.0, 5.0], [-3.0, 4.0]]);
    has_area(&taken(Mirror::None, vec![figure(circle)]), PI * 25.0, 32.0);
    // The circle in a right triangle of 3, 4 and 5 has the radius 1.
    let lines = [[[0.0, 0.0], [30.0, 0.0]], [[0.0, 5.0], [0.0, 9.0]], [[30.0, 0.0], [15.0, 20.0]]];
    let inner = taken(Mirror::None, vec![figure(DrawnLine::Touching(lines))]);
    has_area(&inner, PI * 100.0, 63.0);
    // Between two sides 8 mm apart, whichever come first, it is 4 mm in radius and touches the third from the side they lie on.
    let rails = [[[0.0, 0.0], [30.0, 0.0]], [[4.0, 8.0], [30.0, 8.0]], [[0.0, 2.0], [0.0, 6.0]]];
    for order in [[0, 1, 2], [1, 2, 0], [2, 1, 0]] {
        let lines = order.map(|i: usize| rails[i].map(|[x, y]: [f64; 2]| Point::new(x, y)));
        let Circle { centre, radius } = touching(lines).unwrap();
        assert!((radius - 4.0).abs() < 1e-9 && centre.distance(Point::new(4.0, 4.0)) < 1e-9);
    }
    let level = Point::new(0.0, 0.0);
    assert_eq!(through([level, Point::new(5.0, 0.0), Point::new(9.0, 0.0)]), None);
    assert_eq!(touching([[level, Point::new(1.0, 0.0)]; 3]), None);
}

/// Half a heart, its ends on the centre line, closes with its image and is as wide as twice the half.
#[test]
fn half_a_shape_closes_with_its_mirror_image() {
    let half = vec![
        corner(0.0, 10.0, 0.0),
        DrawnPoint { at: [8.0, 14.0], kind: PointKind::Smooth },
        DrawnPoint { at: [14.0, 6.0], kind: PointKind::Smooth },
        corner(0.0, -14.0, 0.0),
    ];
    let heart = taken(Mirror::Across, vec![run(half, false)]);
    let (area, (width, height)) = measured(&heart);
    assert_eq!(heart.shapes[0].region.contours().len(), 1);
    assert!(width > 28.0 && width < 30.0 && height > 28.0 && height < 29.5, "{width} × {height}");
    // The same by its points alone is less, by its box more.
    assert!(area > 2.0 * 182.0 && area < width * height, "{area}");
    // A quarter of a square of 20 mm, mirrored both ways.
    let quarter = vec![corner(0.0, 10.0, 0.0), corner(10.0, 10.0, 0.0), corner(10.0, 0.0, 0.0)];
    has_area(&taken(Mirror::Both, vec![run(quarter, false)]), 400.0, 0.0);
}

#[test]
fn what_lies_within_is_a_hole_and_what_lies_across_is_one_with_it() {
    let inner = square(4.0, 0.0);
    let dot = figure(DrawnLine::Circle([[1.0, 0.0], [0.0, 1.0], [-1.0, 0.0]]));
    let exact = 400.0 - 64.0 + PI;
    for order in [[0, 1, 2], [2, 1, 0], [1, 2, 0]] {
        let all = [square(10.0, 0.0), inner.clone(), dot.clone()];
        let figures = order.map(|i| all[i].clone()).to_vec();
        has_area(&taken(Mirror::None, figures), exact, 7.0);
    }
    let across = run(
        vec![
            corner(5.0, -2.0, 0.0),
            corner(25.0, -2.0, 0.0),
            corner(25.0, 2.0, 0.0),
            corner(5.0, 2.0, 0.0),
        ],
        true,
    );
    has_area(&taken(Mirror::None, vec![square(10.0, 0.0), across]), 400.0 + 15.0 * 4.0, 0.0);
    // A line of 2 mm upon it, out to the right: round ends.
    let line = Figure {
        width: Some(2.0),
        ..run(vec![corner(0.0, 0.0, 0.0), corner(30.0, 0.0, 0.0)], false)
    };
    has_area(
        &taken(Mirror::None, vec![square(10.0, 0.0), line]),
        400.0 + 20.0 * 2.0 + PI / 2.0,
        10.0,
    );
}

/// A circle drawn by a trembling hand is smooth, and as large as it was meant.
#[test]
fn scribbles_are_smoothed() {
    let points: Vec<[f64; 2]> = (0..300)
        .map(|i| {
            let angle = f64::from(i) / 300.0 * 2.0 * PI;
            let from = 20.0 + 0.15 * (f64::from(i) * 2.399).sin();
            [from * angle.cos(), from * angle.sin()]
        })
        .collect();
    let scribble = Scribble { points, smooth: 0.4, closed: true };
    let found = taken(Mirror::None, vec![figure(DrawnLine::Scribble(scribble))]);
    // A sixteenth of a millimetre all the way round, of the four tenths it may stray.
    has_area(&found, PI * 400.0, 126.0 * 10.0);
    let shape = Shape::open(&found.shapes[0].document.write(), "").unwrap();
    assert!(shape.points() < 30, "{}", shape.points());
}

#[test]
fn what_is_no_line_is_said() {
    let said = |figures: Vec<Figure>| {
        let document = DrawnDocument { kalotype_drawing: 1, mirror: Mirror::None, figures };
        read_drawn(&serde_json::to_vec(&document).unwrap()).unwrap_err().to_string()
    };
    assert_eq!(said(Vec::new()), "nothing is drawn yet");
    let dot = Scribble { points: vec![[1.0, 1.0]; 9], smooth: 1.0, closed: false };
    assert_eq!(
        said(vec![figure(DrawnLine::Scribble(dot))]),
        "line 1: a scribble of one point is no line"
    );
    let flat = DrawnLine::Circle([[0.0, 0.0], [1.0, 1.0], [2.0, 2.0]]);
    assert!(said(vec![square(5.0, 0.0), figure(flat)]).starts_with("line 2: its three points"));
    assert!(
        said(vec![run(vec![corner(0.0, 0.0, 0.0), corner(900.0, 0.0, 0.0)], false)])
            .contains("500 mm")
    );
    assert!(said(vec![Figure { width: Some(99.0), ..square(5.0, 0.0) }]).contains("width"));
    assert!(said(vec![square(5.0, 0.0); 300]).contains("more than"));
    let tangle = (0..9000u32)
        .map(|i| [7919, 104_729].map(|p: u32| f64::from(i.wrapping_mul(p) % 997) / 10.0));
    let tangle = Scribble { points: tangle.collect(), smooth: 0.0, closed: true };
    assert!(said(vec![figure(DrawnLine::Scribble(tangle))]).contains("cross each other"));
    let open = DrawnDocument {
        kalotype_drawing: 1,
        mirror: Mirror::None,
        figures: vec![run(vec![corner(0.0, 0.0, 0.0), corner(9.0, 0.0, 0.0)], false)],
    };
    let read = read_drawn(&serde_json::to_vec(&open).unwrap()).unwrap();
    assert!(read.found.remarks[0].contains("is open"));
    assert!(!is_drawn(b"{\"kalotype\": 10}") && !is_drawn(b"<svg/>"));
    assert!(matches!(read_drawn(b"{\"kalotype_drawing\": 1}"), Err(DrawnError::Unreadable(_))));
}
