//! Strokes against closed forms: how wide, how high, and what they look like cut across, whatever else is
//! there.

mod common;

use common::{add, address, cache, fresh, put_shape, set, worked_with};
use kalotype_core::edit::apply;
use kalotype_core::library::Shelf;
use kalotype_core::piece::{Edit, ElementKind, Piece};
use kalotype_core::plane::Tolerance;
use kalotype_core::shapes::LineUse;
use kalotype_core::workshop::Workshop;
use serde_json::json;
use std::f64::consts::PI;

const ALL: [Tolerance; 3] = [Tolerance::Draft, Tolerance::Normal, Tolerance::Fine];

/// A circle of 20 mm radius, and a line of 40 mm, both 2 mm wide with round ends, and one without a pen.
fn shelf() -> (Shelf, [String; 3]) {
    let mut shelf = Shelf::default();
    let mut kept = |body: &str| put_shape(&mut shelf, body, Some(LineUse::Lines)).0;
    let pen = "fill='none' stroke='#000' stroke-width='2' stroke-linecap='round' \
               stroke-linejoin='round'";
    let ids = [
        format!("<circle cx='50' cy='50' r='20' {pen}/>"),
        format!("<path d='M30 50H70' {pen}/>"),
        "<rect x='20' y='40' width='60' height='10'/>".to_owned(),
    ]
    .map(|body| kept(&body));
    (shelf, ids)
}

fn on(shelf: &Shelf, piece: &Piece, edits: &[Edit]) -> Piece {
    let cache = cache();
    apply(piece, edits, &Workshop::new(shelf, &cache, Tolerance::Draft)).unwrap().piece
}

/// A plate of 60 × 60 × 3 mm with square edges.
fn plate() -> Piece {
    let square = json!({ "top": "square", "bottom": "square" });
    let edits =
        [set("blank", "width", 60.0), set("blank", "height", 60.0), set("blank", "edges", square)];
    common::edited(&fresh(&[]), &edits)
}

/// The edits that put an emblem of a shape into the middle, so wide and with fields.
fn emblem(shape: &str, width: f64, fields: &[(&str, serde_json::Value)]) -> Vec<Edit> {
    let id = fresh(&[ElementKind::Emblem]).first().elements[0].id.clone();
    let centre = json!({ "from": "centre", "distance": 0.0 });
    let place = json!({ "across": centre, "up": centre });
    let mut edits = vec![
        add(ElementKind::Emblem),
        set(&id, "shape", shape),
        set(&id, "width", width),
        set(&id, "place", place),
    ];
    edits.extend(fields.iter().map(|(field, value)| set(&id, field, value.clone())));
    edits
}

fn raised(by: f64, section: serde_json::Value) -> Vec<(&'static str, serde_json::Value)> {
    vec![("relief", json!({ "raised": { "by": by } })), ("stroke.section", section)]
}

/// What an element adds to a plate, against what it should at every tolerance.
#[track_caller]
fn adds(shelf: &Shelf, base: &Piece, edits: &[Edit], exact: f64, long: f64) {
    let piece = on(shelf, base, edits);
    for tolerance in ALL {
        let before = worked_with(shelf, base, tolerance).measures.volume;
        let made = worked_with(shelf, &piece, tolerance);
        assert!(made.mesh.faults().is_sound());
        let found = made.measures.volume - before;
        // Chords take of both sides and of the top, all along; the ridge is cut off by under a thousandth.
        let within = 3.0 * tolerance.chord_mm() * long + 2e-3 * exact;
        assert!((found - exact).abs() < within, "{found} is not {exact} at {tolerance:?}");
    }
}

/// Pappus: the area of the section times the way of its middle. Half an ellipse has π/2 · b · h, a trapezium
/// half the sum of its sides times its height.
#[test]
fn a_ring_of_a_stroke_has_the_volume_of_its_section_run_round() {
    let (shelf, [ring, ..]) = shelf();
    let round = 2.0 * PI * 20.0;
    let base = plate();
    for (width, height) in [(2.0, 1.0), (2.0, 2.5), (1.0, 0.4), (6.0, 1.0)] {
        let mut fields = raised(height, json!("round"));
        fields.push(("stroke.width", json!(width)));
        let half_ellipse = PI / 2.0 * (width / 2.0) * height;
        adds(&shelf, &base, &emblem(&ring, 42.0, &fields), round * half_ellipse, round);
        for top in [0.0, 0.5] {
            let mut fields = raised(height, json!({ "tapered": top }));
            fields.push(("stroke.width", json!(width)));
            let trapezium = (width + top) / 2.0 * height;
            adds(&shelf, &base, &emblem(&ring, 42.0, &fields), round * trapezium, round);
        }
        let mut fields = raised(height, json!("flat"));
        fields.push(("stroke.width", json!(width)));
        adds(&shelf, &base, &emblem(&ring, 42.0, &fields), round * width * height, round);
    }
    // Without a width of its own it grows with the shape: half as large, half as wide.
    let fields = raised(1.0, json!("flat"));
    adds(&shelf, &base, &emblem(&ring, 21.0, &fields), round / 2.0, round / 2.0);
}

/// A straight stroke over its whole length `l` with round ends: at the inset `i` its area is
/// `(l − 2b)(2b − 2i) + π (b − i)²`, and half an ellipse is drawn in by `b (1 − √(1 − u²))`, which makes
/// `h ((l − 2b) b π/2 + ⅔ π b²)`. With square ends the last term is `⅔ · 4 b²`.
#[test]
fn ends_are_rounded_with_the_section_and_square_where_that_is_asked_for() {
    let (shelf, [_, line, _]) = shelf();
    for (ends, at_ends) in [("drawn", PI), ("round", PI), ("square", 4.0)] {
        let mut fields = raised(1.5, json!("round"));
        fields.push(("stroke.ends", json!(ends)));
        let exact = 1.5 * (40.0 * PI / 2.0 + 2.0 / 3.0 * at_ends);
        adds(&shelf, &plate(), &emblem(&line, 42.0, &fields), exact, 42.0);
        fields[1] = ("stroke.section", json!("flat"));
        let exact = 1.5 * (40.0 * 2.0 + at_ends);
        adds(&shelf, &plate(), &emblem(&line, 42.0, &fields), exact, 42.0);
    }
}

/// Above, below and across: a field sunk under half of it, a hole through it, a bar over it, from behind too.
#[test]
fn a_stroke_is_the_same_among_other_elements_and_from_either_side() {
    let (shelf, [ring, _, bar]) = shelf();
    let round = 2.0 * PI * 20.0;
    let section = PI / 2.0;
    // A field 1 mm deep over all of it: it stands on its floor as it did on the plate.
    let field = fresh(&[ElementKind::Recess]).first().elements[0].id.clone();
    let sunk = on(
        &shelf,
        &plate(),
        &[
            add(ElementKind::Recess),
            set(&field, "shape", json!({ "inset": 1.0 })),
            set(&field, "depth", json!({ "by": 1.0 })),
        ],
    );
    let half_round = raised(1.0, json!("round"));
    adds(&shelf, &sunk, &emblem(&ring, 42.0, &half_round), round * section, round);
    // From behind.
    let mut behind = half_round.clone();
    behind.push(("face", json!("back")));
    adds(&shelf, &plate(), &emblem(&ring, 42.0, &behind), round * section, round);
    // From the bed: what is in the plate of 3 mm adds nothing. Above, an ellipse's cap is left:
    // ∫ 2b √(1 − (z/h)²) dz from t to h = b h (π/2 − asin(t/h) − (t/h) √(1 − (t/h)²)).
    let mut standing = half_round.clone();
    standing[0] = ("relief", json!({ "raised": { "from-foot": 4.0 } }));
    standing.push(("stroke.width", json!(4.0)));
    let share: f64 = 3.0 / 4.0;
    let cap = 2.0 * 4.0 * (PI / 2.0 - share.asin() - share * (1.0 - share * share).sqrt());
    adds(&shelf, &plate(), &emblem(&ring, 42.0, &standing), round * cap, round);
    // A bar of 10 mm across it, as high: of the ring what lies within |y| < 5 is in it, which is the
    // integral of 4 r asin(5/r) times its height at r over its width.
    let hidden: f64 = (0..2000)
        .map(|i| 19.0 + (f64::from(i) + 0.5) / 1000.0)
        .map(|r| 4.0 * r * (5.0 / r).asin() * (1.0 - (r - 20.0) * (r - 20.0)).sqrt() / 1000.0)
        .sum();
    let exact = round * section + 600.0 - hidden;
    let plate = common::edited(&plate(), &[set("blank", "width", 80.0)]);
    let both = |first: (&str, f64, &str), second: (&str, f64, &str)| {
        let of =
            |(shape, wide, form): (&str, f64, &str)| emblem(shape, wide, &raised(1.0, json!(form)));
        let renamed = |edit: Edit| match edit {
            Edit::Set { field, value, .. } => {
                Edit::Set { target: address("emblem-2"), field, value }
            }
            other => other,
        };
        let mut edits = of(first);
        edits.extend(of(second).into_iter().map(renamed));
        edits
    };
    let (stroke, bar) = ((ring.as_str(), 42.0, "round"), (bar.as_str(), 60.0, "flat"));
    adds(&shelf, &plate, &both(stroke, bar), exact, round);
    adds(&shelf, &plate, &both(bar, stroke), exact, round);
}

/// The same twice is the same once, and at the limits it is made, or what stands against it is said.
#[test]
fn strokes_at_their_limits_are_sound() {
    let (shelf, [ring, line, _]) = shelf();
    for (shape, wide) in [(&ring, 42.0), (&line, 42.0), (&line, 0.5), (&ring, 480.0)] {
        for width in [0.2, 3.0, 50.0] {
            for section in [json!("round"), json!({ "tapered": 0.0 }), json!({ "tapered": 50.0 })] {
                for height in [0.05, 20.0] {
                    let mut fields = raised(height, section.clone());
                    fields.push(("stroke.width", json!(width)));
                    let piece = on(&shelf, &plate(), &emblem(shape, wide, &fields));
                    let made = worked_with(&shelf, &piece, Tolerance::Normal);
                    let sound = made.stop.is_none() && made.mesh.faults().is_sound();
                    assert!(sound, "{wide} {width} {section} {height}");
                }
            }
        }
    }
}

/// Nine hundred short lines, 0.66 mm apart, this way and that: 50 mm wide all lie over all,
/// which is more than can be laid over each other. That is said, and they stay as they were drawn.
#[test]
fn lines_too_wide_to_be_worked_out_stay_as_they_were_drawn() {
    let mut shelf = Shelf::default();
    let lines: String = (0..900)
        .map(|i| {
            format!(
                "M{:.2} {:.2}l.2 {}",
                40.0 + 0.66 * f64::from(i % 30),
                40.0 + 0.66 * f64::from(i / 30),
                if i % 2 == 0 { 0.2 } else { -0.2 }
            )
        })
        .collect();
    let body = format!("<path d=\"{lines}\" fill=\"none\" stroke=\"#000\" stroke-width=\".2\"/>");
    let (id, wide) = put_shape(&mut shelf, &body, Some(LineUse::Lines));
    let made = |fields: &[(&str, serde_json::Value)]| {
        let mut all = raised(1.0, json!("flat"));
        all.extend(fields.iter().cloned());
        worked_with(&shelf, &on(&shelf, &plate(), &emblem(&id, wide, &all)), Tolerance::Draft)
    };
    let drawn = made(&[]);
    let tangled = made(&[("stroke.width", json!(50.0))]);
    assert!((tangled.measures.volume - drawn.measures.volume).abs() < 1e-6);
    let said = tangled.findings.iter().find(|one| one.code == "lines-as-drawn").unwrap();
    assert!(said.instead && said.field == "stroke.width");
    assert!(drawn.findings.iter().all(|one| one.code != "lines-as-drawn"));
    // A little wider is no trouble: 0.4 mm wide they are 900 rectangles of 0.2 √2 × 0.4 mm (their ends are flat).
    let wider = made(&[("stroke.width", json!(0.4))]);
    let plain = worked_with(&shelf, &plate(), Tolerance::Draft).measures.volume;
    assert!(
        (wider.measures.volume - plain - 900.0 * 0.08 * 2f64.sqrt()).abs() < 1e-2,
        "{}",
        wider.measures.volume
    );
}
