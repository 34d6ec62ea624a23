use crate::piece::{Axis, Component, Edit, ElementKind, Kind, Piece, Side};
use crate::plane::Tolerance;
use crate::preflight::Weight;
use crate::testing::{add, address, edited, fresh, placed, set, try_edits, worked};
use crate::units::Length;
use serde_json::{Value, json};

fn typed(target: &str, field: &str, text: &str) -> Edit {
    Edit::Type { target: address(target), field: field.into(), text: text.into() }
}

fn fob() -> Piece {
    fresh(&[ElementKind::Hole, ElementKind::Lettering])
}

#[test]
fn a_typed_length_takes_the_pieces_unit_unless_it_names_its_own() {
    let edits = [
        typed("blank", "width", "3 in"),
        set("piece", "units", json!("in")),
        typed("blank", "height", "1"),
        typed("hole-1", "place.across.distance", "6 mm"),
    ];
    let piece = edited(&fob(), &edits);
    let plate = piece.first().plate().unwrap();
    assert_eq!((plate.width, plate.height), (Length::mm(76.2), Length::mm(25.4)));
    let Kind::Hole(hole) = &piece.element(&address("hole-1")).unwrap().kind else { panic!() };
    assert_eq!(hole.place.across.distance, Length::mm(6.0));
}

#[test]
fn a_refused_edit_names_its_field_and_changes_nothing() {
    let refused = |edit: Edit| {
        let error = try_edits(&fob(), &[set("piece", "name", json!("Other")), edit]).unwrap_err();
        format!("{}.{}: {}", error.target, error.field, error.message)
    };
    insta::assert_snapshot!(
        [
            refused(typed("blank", "width", "wide")),
            refused(typed("blank", "width", "10 m")),
            refused(typed("blank", "width", "10000")),
            refused(typed("hole-1", "diameter", "-5")),
            refused(set("hole-1", "diameter", json!("five"))),
            refused(set("hole-1", "glaze", json!(3))),
            refused(set("hole-9", "diameter", json!(3))),
            refused(set("lettering-1", "lines.0.words", json!("x".repeat(1001)))),
            refused(set("lettering-1", "relief", json!({"sunk": 1}))),
            refused(set("lettering-1", "place.across.from", json!("middle"))),
            refused(Edit::Remove { target: address("blank") }),
        ]
        .join("\n")
    );
}

#[test]
fn elements_come_and_go_under_ids_of_their_own() {
    let hole = || address("hole-1");
    let ids = |piece: &Piece| -> Vec<String> {
        piece.first().elements.iter().map(|element| element.id.clone()).collect()
    };
    let copied = edited(&fob(), &[Edit::Duplicate { target: hole() }]);
    assert_eq!(ids(&copied), ["hole-1", "hole-2", "lettering-1"]);

    let first = |by| ids(&edited(&fob(), &[Edit::Move { target: hole(), by }])).swap_remove(0);
    assert_eq!((first(1), first(-3), first(9)).0, "lettering-1");
    assert_eq!((first(-3).as_str(), first(9).as_str()), ("hole-1", "lettering-1"));

    let element = Box::new(fob().element(&hole()).unwrap().clone());
    let component = Component::FIRST.to_owned();
    let insert = Edit::Insert { component, element, filaments: Vec::new() };
    let pasted = edited(&fob(), &[insert]);
    assert_eq!(ids(&pasted), ["hole-1", "lettering-1", "hole-2"]);
    let removed = edited(&pasted, &[Edit::Remove { target: hole() }]);
    assert_eq!(ids(&removed), ["lettering-1", "hole-2"]);
}

/// What one edit would leave impossible is refused before the next is looked at.
#[test]
fn every_edit_is_checked_before_the_next_is_carried_out() {
    let sides = json!({ "polygon": { "sides": u32::MAX, "turn": 0.0, "rounding": 0.0 } });
    let refused = |edits: &[Edit]| try_edits(&fob(), edits).unwrap_err();
    let error = refused(&[set("blank", "outline", sides), add(ElementKind::Emblem)]);
    assert_eq!(error.field, "outline.polygon.sides");
    let error = refused(&[set("piece", "components", json!([])), add(ElementKind::Hole)]);
    assert!(error.message.contains("no “components” to set"), "{error}");
    let error = refused(&[set("component", "margin", json!(1e308)), add(ElementKind::Lettering)]);
    assert_eq!(error.field, "margin");
    for (target, field) in [("component", "elements"), ("hole-1", "id"), ("hole-1", "kind")] {
        assert_eq!(refused(&[set(target, field, json!([]))]).field, field);
    }
}

fn field(piece: &Piece, target: &str, name: &str) -> Value {
    piece.value(&address(target), name).unwrap()
}

fn turn(target: &str, field: &str, into: &str) -> Edit {
    Edit::Turn { target: address(target), field: field.into(), into: into.into() }
}

#[test]
fn another_kind_keeps_what_can_be_kept() {
    let raised = set("lettering-1", "relief", json!({ "raised": { "by": 1.2 } }));
    let turned = |edits: &[Edit], name: &str| {
        field(
            &edited(&fob(), &[std::slice::from_ref(&raised), edits].concat()),
            "lettering-1",
            name,
        )
    };
    let relief = |into: &str| turn("lettering-1", "relief", into);
    assert_eq!(turned(&[relief("recessed")], "relief"), json!({ "recessed": { "by": 1.2 } }));
    assert_eq!(turned(&[relief("flush")], "relief"), json!({ "flush": 0.6 }));
    let height = |into: &str| turn("lettering-1", "relief.raised", into);
    assert_eq!(turned(&[height("fraction")], "relief.raised"), json!({ "fraction": 0.4 }));
    assert_eq!(turned(&[height("from-foot")], "relief.raised"), json!({ "from-foot": 4.2 }));
    let there_and_back = [height("from-foot"), height("by")];
    assert_eq!(turned(&there_and_back, "relief.raised"), json!({ "by": 1.2 }));
    let depth = |into: &str| turn("lettering-1", "relief.recessed", into);
    let floor = [relief("recessed"), depth("floor")];
    assert_eq!(turned(&floor, "relief.recessed"), json!({ "floor": 1.8 }));

    let edges = [turn("blank", "edges.top", "round"), turn("blank", "edges.top", "chamfer")];
    assert_eq!(field(&edited(&fob(), &edges), "blank", "edges.top"), json!({ "chamfer": 0.6 }));
    let star = edited(&fob(), &[turn("blank", "outline", "star")]);
    assert_eq!(field(&star, "blank", "outline.star.rounding"), json!(1.0));
    let scooped = edited(&fob(), &[turn("blank", "outline.rectangle", "scoop")]);
    assert_eq!(field(&scooped, "blank", "outline.rectangle.top_left"), json!({ "scoop": 3.0 }));
    for (target, name, into) in [
        ("blank", "edges.top", "fluted"),
        ("lettering-1", "relief", "sunk"),
        ("lettering-1", "lines", "straight"),
        ("hole-9", "depth", "blind"),
        ("piece", "name", "round"),
    ] {
        assert!(try_edits(&fob(), &[turn(target, name, into)]).is_err(), "{name} {into}");
    }
}

/// Whatever a place is measured from, on either face, the element stays where it is.
#[test]
fn another_datum_leaves_it_where_it_is() {
    for face in ["front", "back"] {
        let on_it = set("lettering-1", "face", json!(face));
        let hole = set("hole-1", "face", json!(face));
        let piece = edited(&fob(), &[on_it, hole]);
        let frame =
            |piece: &Piece, id: &str| placed(piece, Tolerance::Draft).element(id).unwrap().frame;
        for id in ["lettering-1", "hole-1"] {
            for (axis, from) in
                [("across", "left"), ("across", "right"), ("up", "bottom"), ("up", "top")]
            {
                let hung = edited(&piece, &[turn(id, &format!("place.{axis}.from"), from)]);
                let (before, after) = (frame(&piece, id), frame(&hung, id));
                assert!((before.x0 - after.x0).abs() < 2e-3, "{face} {id} {from}");
                assert!((before.y0 - after.y0).abs() < 2e-3, "{face} {id} {from}");
            }
        }
    }
}

/// Boxes along an axis after an edit of all elements; the piece has three holes of 4, 6 and 8 mm.
#[test]
fn several_line_up_and_spread_whatever_they_are_measured_from() {
    let mut edits = vec![set("blank", "width", json!(120.0)), set("blank", "height", json!(60.0))];
    for (i, (across, from, distance)) in
        [(4.0, "left", 20.0), (6.0, "centre", 3.0), (8.0, "right", 15.0)].into_iter().enumerate()
    {
        let id = format!("hole-{}", i + 1);
        edits.extend([
            add(ElementKind::Hole),
            set(&id, "diameter", json!(across)),
            set(&id, "place.across", json!({ "from": from, "distance": distance })),
            set(&id, "place.up", json!({ "from": "bottom", "distance": 10.0 * (i + 1) as f64 })),
        ]);
    }
    let piece = edited(&fresh(&[]), &edits);
    let targets = || (1..=3).map(|i| address(&format!("hole-{i}"))).collect::<Vec<_>>();
    let spans = |piece: &Piece, axis: Axis| {
        let made = worked(piece, Tolerance::Draft);
        let frames = made.layout.elements.iter().map(|placed| placed.frame);
        let span = |f: crate::plane::Rect| match axis {
            Axis::Across => [f.x0, f.x1],
            Axis::Up => [f.y0, f.y1],
        };
        frames.map(span).map(|span| span.map(|v| (v * 1e4).round() / 1e4)).collect::<Vec<_>>()
    };
    // Centres at −40, 3 and 45; at −20, −10 and 0.
    assert_eq!(spans(&piece, Axis::Across), [[-42.0, -38.0], [0.0, 6.0], [41.0, 49.0]]);
    let align = |side| Edit::Align { targets: targets(), axis: Axis::Up, side };
    for (side, lined_up) in [
        (Side::Low, [[-22.0, -18.0], [-22.0, -16.0], [-22.0, -14.0]]),
        (Side::Middle, [[-11.0, -7.0], [-12.0, -6.0], [-13.0, -5.0]]),
        (Side::High, [[0.0, 4.0], [-2.0, 4.0], [-4.0, 4.0]]),
    ] {
        let aligned = edited(&piece, &[align(side)]);
        assert_eq!(spans(&aligned, Axis::Up), lined_up, "{side:?}");
        assert_eq!(spans(&aligned, Axis::Across), spans(&piece, Axis::Across));
    }
    // 91 mm over all, 18 of them holes: two gaps of 36.5.
    let spread = edited(&piece, &[Edit::Distribute { targets: targets(), axis: Axis::Across }]);
    assert_eq!(spans(&spread, Axis::Across), [[-42.0, -38.0], [-1.5, 4.5], [41.0, 49.0]]);
    // Named twice it is still one.
    let twice = [targets(), targets()].concat();
    let twice = Edit::Align { targets: twice, axis: Axis::Up, side: Side::High };
    assert_eq!(edited(&piece, &[twice]), edited(&piece, &[align(Side::High)]));
    // None, one and two have nothing between them; what has no place of its own says so.
    for few in 0..3 {
        let few = Edit::Distribute { targets: targets()[..few].to_vec(), axis: Axis::Across };
        assert_eq!(edited(&piece, &[few]), piece);
    }
    let rim = edited(&piece, &[add(ElementKind::Rim)]);
    let targets = [targets(), vec![address("rim-1")]].concat();
    let refused = try_edits(&rim, &[Edit::Align { targets, axis: Axis::Up, side: Side::Low }]);
    assert!(refused.unwrap_err().message.contains("follows the outline"));
}

#[test]
fn a_shift_moves_it_whatever_its_place_is_measured_from() {
    for from in ["left", "right", "centre"] {
        let hung = edited(&fob(), &[turn("hole-1", "place.across.from", from)]);
        let shift = Edit::Shift { target: address("hole-1"), across: 2.5, up: -1.0 };
        let centre = |piece: &Piece| placed(piece, Tolerance::Draft).elements[0].frame.centre();
        let ((x, y), (moved_x, moved_y)) = (centre(&hung), centre(&edited(&hung, &[shift])));
        assert!((moved_x - x - 2.5).abs() < 1e-4 && (moved_y - y + 1.0).abs() < 1e-4, "{from}");
    }
    let rim = fresh(&[ElementKind::Rim]);
    let shift = Edit::Shift { target: address("rim-1"), across: 1.0, up: 0.0 };
    assert!(try_edits(&rim, &[shift]).unwrap_err().message.contains("follows the outline"));
}

/// A piece in inches begins with inches, and so does what is put on it.
#[test]
fn inches_begin_with_inches() {
    let kinds = [ElementKind::Hole, ElementKind::Lettering, ElementKind::Loop];
    let piece = Piece::new("Berth 7", crate::units::Unit::Inch);
    let piece = edited(&piece, &kinds.map(add));
    for (target, field, inches) in [
        ("blank", "width", 3.0),
        ("blank", "height", 1.0),
        ("blank", "thickness", 0.125),
        ("hole-1", "diameter", 0.25),
        ("lettering-1", "relief.raised.by", 0.0625),
        ("loop-1", "inside", 0.3125),
    ] {
        let found = piece.value(&address(target), field).and_then(|value| value.as_f64());
        let off = found.unwrap() - inches * 25.4;
        assert!(off.abs() < 1e-9, "{target} {field}: {found:?}");
    }
}

/// What is typed into a field is read as what the field holds; shares of a length may be lengths.
#[test]
fn typed_figures_are_read_as_what_their_field_holds() {
    let star = [set(
        "blank",
        "outline",
        json!({ "star": { "points": 5, "inner": 0.5, "rounding": 0, "turn": 0 } }),
    )];
    let piece = edited(&fob(), &star);
    let size = set("lettering-1", "size", json!({ "height": 12.0 }));
    let thick = set("blank", "thickness", json!(4.0));
    let raised = set("lettering-1", "relief", json!({ "raised": { "fraction": 0.5 } }));
    let piece = edited(&piece, &[size, thick, raised]);
    for (target, field, text, value) in [
        ("hole-1", "turn", "45 degrees", 45.0),
        ("hole-1", "turn", "90/4°", 22.5),
        ("lettering-1", "style.slant", "−12", -12.0),
        ("lettering-1", "style.stretch", "80 %", 0.8),
        ("lettering-1", "lines.0.scale", "1/2", 0.5),
        ("lettering-1", "lines.0.scale", "6 mm", 0.5),
        ("lettering-1", "lines.0.scale", "1/4 in", 0.529167),
        ("lettering-1", "relief.raised.fraction", "1 mm", 0.25),
        ("blank", "outline.star.points", "2 * 3", 6.0),
        ("blank", "outline.star.inner", "40%", 0.4),
        ("blank", "width", "3 in", 76.2),
    ] {
        let after = edited(&piece, &[typed(target, field, text)]);
        let found = after.value(&address(target), field).and_then(|value| value.as_f64());
        assert_eq!(found, Some(value), "{field} {text}");
    }
    for (target, field, text, words) in [
        ("blank", "outline.star.points", "4.5", "whole: 4 or 5"),
        ("blank", "outline.star.inner", "3 mm", "0.5, 50 % or 1/2"),
        ("hole-1", "turn", "6 mm", "degrees, such as 45"),
        ("hole-1", "turn", "a bit", "not a number"),
        ("lettering-1", "style.stretch", "900 %", "0.3 to 3"),
        ("hole-1", "diameter", "45°", "not a number or a unit"),
    ] {
        let error = try_edits(&piece, &[typed(target, field, text)]).unwrap_err();
        assert_eq!(error.field, field);
        assert!(error.message.contains(words), "{field} {text}: {}", error.message);
    }
    // A value of another type, as a program may send it, is answered in words too.
    let error = try_edits(&piece, &[set("blank", "width", json!("6 mm"))]).unwrap_err();
    assert_eq!(error.message, "The plate’s width is a number of millimetres, such as 12.5.");
}

/// Words that are laid onto a circle have room there at once: inside the rim, letters as tall as the free
/// way allows, and the words under them take their half.
#[test]
fn words_onto_a_circle_have_room_at_once() {
    let disc = |size: f64, words: &str, rim: bool| {
        let mut edits = vec![
            set("blank", "width", json!(size)),
            set("blank", "height", json!(size)),
            set("blank", "outline", json!("ellipse")),
        ];
        edits.extend(rim.then(|| add(ElementKind::Rim)));
        edits.extend([
            add(ElementKind::Lettering),
            set("lettering-1", "lines.0.words", json!(words)),
            turn("lettering-1", "course", "clockwise"),
        ]);
        edited(&fresh(&[]), &edits)
    };
    for (size, words, rim) in [
        (50.0, "SKERRY POINT FERRY COOPERATIVE", true),
        (50.0, "Ana", true),
        (24.0, "Guđrún Ægisdóttir", false),
        (120.0, "Tide watch", true),
    ] {
        let over = disc(size, words, rim);
        let both = edited(
            &over,
            &[
                add(ElementKind::Lettering),
                set("lettering-2", "lines.0.words", json!("QUAY TWO 2026")),
                turn("lettering-2", "course", "upright"),
            ],
        );
        for piece in [&over, &both] {
            let made = worked(piece, Tolerance::Draft);
            // So many letters on so small a disc have strokes that are thinner than a line.
            let is_small =
                |code: &str| size < 100.0 && ["thin-stroke", "narrow-gap"].contains(&code);
            let troubles = made.findings.iter().filter(|one| one.weight < Weight::Should);
            let troubles = troubles.filter(|one| !is_small(one.code));
            assert_eq!(troubles.map(|one| (&one.message, size, words)).collect::<Vec<_>>(), []);
            let spans = made.layout.elements.iter().map(|placed| placed.drawn.span);
            assert!(spans.sum::<f64>() <= 360.0, "{size} {words}");
            let letters = made.layout.elements.iter().filter(|one| one.drawn.letter_height > 0.0);
            for letters in letters {
                // Within the margin of the rim, or of the edge.
                let bounds = letters.region.bounds().unwrap();
                let far = [bounds.x0, bounds.y0, bounds.x1, bounds.y1].map(f64::abs);
                let room = size / 2.0 - if rim { 2.0 } else { 0.0 };
                assert!(far.into_iter().fold(0.0, f64::max) < room, "{size} {words}");
            }
        }
    }
}
