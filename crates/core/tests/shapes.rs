//! Shapes of one's own as emblems, outlines and fields of pieces.

mod common;

use common::{add, address, cache, edited, fresh, put_shape, set, worked_with};
use kalotype_core::edit::apply;
use kalotype_core::emblems::Setting;
use kalotype_core::library::{Shelf, Shipped};
use kalotype_core::piece::{Component, Edit, ElementKind, FaceName, Piece, Stroke};
use kalotype_core::plane::Tolerance;
use kalotype_core::preflight::Weight;
use kalotype_core::units::Unit;
use kalotype_core::workshop::Workshop;
use std::f64::consts::PI;

const ALL: [Tolerance; 3] = [Tolerance::Draft, Tolerance::Normal, Tolerance::Fine];

/// A washer of 40 mm with an opening of 20 mm, and a bar of 60 × 10 mm.
fn shelf() -> (Shelf, String, String) {
    let mut shelf = Shelf::default();
    let mut kept = |body: &str| put_shape(&mut shelf, body, None).0;
    let washer = kept(
        "<path fill-rule='evenodd' d='M30 50a20 20 0 1 0 40 0a20 20 0 1 0 -40 0\
         M40 50a10 10 0 1 0 20 0a10 10 0 1 0 -20 0'/>",
    );
    let bar = kept("<rect x='20' y='40' width='60' height='10'/>");
    (shelf, washer, bar)
}

/// A piece after edits with a shelf at hand.
fn on(shelf: &Shelf, piece: &Piece, edits: &[Edit]) -> Piece {
    let cache = cache();
    let workshop = Workshop::new(shelf, &cache, Tolerance::Draft);
    apply(piece, edits, &workshop).unwrap().piece
}

fn turned(target: &str, field: &str, into: &str) -> Edit {
    Edit::Turn { target: address(target), field: field.to_owned(), into: into.to_owned() }
}

/// What chords take of a circle of this radius and height at most: its sagitta along its whole way.
fn chords(tolerance: Tolerance, radius: f64, height: f64) -> f64 {
    tolerance.chord_mm() * 2.0 * PI * radius * height
}

#[test]
fn a_plate_of_a_shape_has_its_volume_with_words_upon_and_a_hole_through_it() {
    let (shelf, washer, _) = shelf();
    let plain = Piece::new("Washer", Unit::Millimetre);
    let piece = on(&shelf, &plain, &[turned("blank", "outline", &washer)]);
    let plate = piece.first().plate().unwrap();
    // The width stays, the height follows.
    assert_eq!((plate.width.as_mm(), plate.height.as_mm()), (72.0, 72.0));
    for tolerance in ALL {
        let found = worked_with(&shelf, &piece, tolerance);
        let exact = PI * (36.0 * 36.0 - 18.0 * 18.0) * 3.0;
        let within = chords(tolerance, 54.0, 3.0);
        assert!((found.measures.volume - exact).abs() < within, "{}", found.measures.volume);
        assert!(found.mesh.faults().is_sound());
        // An emblem on its band, across its edge, and in another order: the same.
        let hole = add(ElementKind::Hole);
        let emblem = add(ElementKind::Emblem);
        let there = on(&shelf, &piece, &[emblem.clone(), hole.clone()]);
        let back = on(&shelf, &piece, &[hole, emblem]);
        let volumes =
            [there, back].map(|piece| worked_with(&shelf, &piece, tolerance).measures.volume);
        assert!((volumes[0] - volumes[1]).abs() < 1e-6, "{volumes:?}");
    }
}

#[test]
fn emblems_and_fields_of_a_shape_add_and_cut_what_they_enclose() {
    let (shelf, washer, bar) = shelf();
    let wide = |target: &str| [set(target, "width", 60.0), set(target, "height", 60.0)];
    let base = on(&shelf, &Piece::new("Washer", Unit::Millimetre), &wide("blank"));
    let blank = worked_with(&shelf, &base, Tolerance::Fine).measures.volume;
    let emblem = fresh(&[ElementKind::Emblem]).first().elements[0].id.clone();
    let on_plate = on(
        &shelf,
        &base,
        &[
            add(ElementKind::Emblem),
            set(&emblem, "shape", washer.as_str()),
            set(&emblem, "width", 30.0),
            set(&emblem, "turn", 33.0),
            set(&emblem, "place.across", serde_json::json!({ "from": "centre", "distance": 0.0 })),
            set(&emblem, "place.up", serde_json::json!({ "from": "centre", "distance": 0.0 })),
        ],
    );
    for tolerance in ALL {
        let raised = worked_with(&shelf, &on_plate, tolerance);
        let exact = PI * (15.0 * 15.0 - 7.5 * 7.5);
        let found = raised.measures.volume - blank;
        assert!(
            (found - exact).abs() < chords(tolerance, 22.5, 1.0) + 0.5,
            "{found} is not {exact}"
        );
    }
    // A field of the bar's shape, 40 mm wide: its height in proportion, sunk by 1 mm.
    let field = fresh(&[ElementKind::Recess]).first().elements[0].id.clone();
    let sunk = on(
        &shelf,
        &base,
        &[
            add(ElementKind::Recess),
            turned(&field, "shape", "own"),
            set(&field, "shape.own.width", 40.0),
            turned(&field, "shape.own.outline", &bar),
            set(&field, "depth", serde_json::json!({ "by": 1.0 })),
        ],
    );
    let found = blank - worked_with(&shelf, &sunk, Tolerance::Fine).measures.volume;
    assert!((found - 40.0 * 6.67).abs() < 0.01, "{found}");
}

#[test]
fn what_is_not_at_hand_is_said_and_the_rest_is_made() {
    let (shelf, washer, _) = shelf();
    let plain = fresh(&[ElementKind::Emblem]);
    let id = plain.first().elements[0].id.clone();
    let emblem = edited(&plain, &[set(&id, "shape", washer.as_str())]);
    let missing = worked_with(&Shipped, &emblem, Tolerance::Normal);
    let said: Vec<_> =
        missing.findings.iter().filter(|finding| finding.code == "shape-missing").collect();
    assert_eq!(said.len(), 1);
    assert_eq!(said[0].weight, Weight::Must);
    assert!(missing.mesh.faults().is_sound());
    let mended = edited(&emblem, &said[0].remedies[0].edits);
    let found = worked_with(&Shipped, &mended, Tolerance::Normal).findings.len();
    assert_eq!(found, 0, "the remedy leaves nothing to say");

    let plate = on(&shelf, &plain, &[turned("blank", "outline", &washer)]);
    let missing = worked_with(&Shipped, &plate, Tolerance::Normal);
    assert!(missing.stop.is_some());
    assert_eq!(missing.findings[0].code, "shape-missing");
    // With the shelf at hand it is whole again, in the same cache or another.
    assert!(worked_with(&shelf, &plate, Tolerance::Normal).stop.is_none());
}

#[test]
fn a_shape_of_any_size_and_turn_is_made_or_refused_in_words() {
    let (shelf, washer, bar) = shelf();
    let plain = fresh(&[ElementKind::Emblem]);
    let id = plain.first().elements[0].id.clone();
    for shape in [&washer, &bar] {
        for (width, stretch) in [(0.5, 0.1), (0.5, 10.0), (480.0, 0.1), (480.0, 10.0)] {
            let edits = [
                set(&id, "shape", shape.as_str()),
                set(&id, "width", width),
                set(&id, "stretch", stretch),
                set(&id, "turn", 45.0),
            ];
            let made = worked_with(&shelf, &edited(&plain, &edits), Tolerance::Draft);
            assert!(made.stop.is_some() || made.mesh.faults().is_sound(), "{width} {stretch}");
        }
    }
    let shape = kalotype_core::library::Library::shape(&shelf, &bar).unwrap();
    let setting = Setting { width: 480.0, stretch: 10.0, turn: 90.0, mirrored: true };
    let bounds = shape.set(setting, &Stroke::default(), Tolerance::Draft).bounds().unwrap();
    assert!((bounds.width() - 800.0).abs() < 0.01 && (bounds.height() - 480.0).abs() < 0.01);
}

/// The bar, drawn 60 × 10 mm, put with its middle at a point of either side, and on a ring standing on the bed.
#[test]
fn a_shape_is_put_where_it_was_drawn_as_large_as_it_was() {
    let (shelf, _, bar) = shelf();
    for face in [FaceName::Front, FaceName::Back] {
        let put = Edit::AddShape {
            component: Component::FIRST.to_owned(),
            face,
            shape: bar.clone(),
            at: [-3.0, 4.5],
        };
        let piece = on(&shelf, &Piece::new("Berth 7", Unit::Millimetre), &[put.clone(), put]);
        let made = worked_with(&shelf, &piece, Tolerance::Normal);
        // On the back it is seen with left and right exchanged; in the plan it is mirrored.
        let across = if face == FaceName::Front { -3.0 } else { 3.0 };
        assert_eq!(made.layout.elements.len(), 2);
        for placed in &made.layout.elements {
            let (x, y) = placed.frame.centre();
            assert!((x - across).abs() < 1e-3 && (y - 4.5).abs() < 1e-3, "{x} {y}");
            assert!((placed.frame.width() - 60.0).abs() < 1e-3);
        }
    }
    let gone = Edit::AddShape {
        component: Component::FIRST.to_owned(),
        face: FaceName::Front,
        shape: "shape-0".to_owned(),
        at: [0.0; 2],
    };
    let cache = cache();
    let refused = apply(
        &Piece::new("Berth 7", Unit::Millimetre),
        &[gone],
        &Workshop::new(&shelf, &cache, Tolerance::Draft),
    );
    assert!(refused.err().unwrap().to_string().contains("not at hand"));
}
