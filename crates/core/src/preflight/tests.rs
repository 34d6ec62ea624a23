//! What preflight finds, and what it leaves alone.

use crate::evaluate::{Stop, evaluate};
use crate::library::Shipped;
use crate::piece::{Address, Edit, ElementKind, FaceName, Piece};
use crate::plane::Tolerance;
use crate::preflight::{Finding, Weight, run};
use crate::solid::{Mesh, MeshError};
use crate::testing::{add, address, edited, fresh, set, worked};
use crate::workshop::Workshop;
use serde_json::json;

/// A fob with a hole at its left end and a name that gives way to nothing, changed by these edits.
fn fob(edits: &[Edit]) -> Piece {
    let plain = fresh(&[ElementKind::Hole, ElementKind::Lettering]);
    edited(&edited(&plain, &[set("lettering-1", "gives", json!("nothing"))]), edits)
}

fn findings(piece: &Piece) -> Vec<Finding> {
    worked(piece, Tolerance::Draft).findings
}

fn codes(piece: &Piece) -> Vec<(&'static str, Weight)> {
    findings(piece).into_iter().map(|finding| (finding.code, finding.weight)).collect()
}

#[test]
fn what_is_added_to_a_new_piece_needs_no_mending() {
    assert_eq!(codes(&fob(&[])), []);
    let tiny = [set("blank", "width", json!(12)), set("blank", "height", json!(6))];
    let small = edited(&fresh(&[]), &tiny);
    let small = edited(&small, &[ElementKind::Hole, ElementKind::Lettering].map(add));
    // Letters of 1 mm and less are too fine for any line.
    let is_fine = |code: &str| ["thin-stroke", "narrow-gap"].contains(&code);
    let rest = codes(&small).into_iter().filter(|(code, _)| !is_fine(code));
    assert!(rest.clone().all(|(_, weight)| weight == Weight::Should), "{:?}", codes(&small));
}

#[test]
fn every_mistake_is_found_at_its_field() {
    use Weight::{Must, Should, Stop};
    let depth = |mm: f64| set("lettering-1", "relief", json!({ "recessed": { "by": mm } }));
    let left = |mm: f64| set("hole-1", "place.across", json!({ "from": "left", "distance": mm }));
    for (edits, code, weight, field) in [
        (vec![set("lettering-1", "lines.0.words", json!("  "))], "no-words", Must, "lines"),
        (
            vec![
                set("lettering-1", "lines.0.words", json!("Жук")),
                set("lettering-1", "typeface", json!("anton")),
            ],
            "letters-missing",
            Must,
            "lines",
        ),
        (
            vec![set("lettering-1", "lines.0.words", json!("SOLVEIG ÅSHILD"))],
            "over-edge",
            Must,
            "size.height",
        ),
        (
            vec![left(36.0), set("lettering-1", "place.across.from", json!("centre"))],
            "hole-meets-letters",
            Must,
            "",
        ),
        (vec![left(3.0)], "hole-near-edge", Should, "place.across.distance"),
        (vec![left(1.0)], "hole-near-edge", Must, "place.across.distance"),
        (vec![left(-40.0)], "hole-near-edge", Must, "place.across.distance"),
        (vec![set("hole-1", "diameter", json!(24))], "hole-too-large", Must, "diameter"),
        (vec![depth(3.0)], "too-deep", Must, "relief.recessed.by"),
        (vec![depth(2.8)], "thin-floor", Must, "relief.recessed.by"),
        (
            vec![set("blank", "outline.rectangle.top_left", json!({ "round": 13 }))],
            "corner-size",
            Should,
            "outline.rectangle.top_left.round",
        ),
        (vec![set("lettering-1", "size.height", json!(3))], "letters-small", Should, "size.height"),
        (
            vec![
                set("lettering-1", "lines.0.words", json!("NOA")),
                set("lettering-1", "relief", json!("through")),
            ],
            "loose-parts",
            Must,
            "",
        ),
        (
            vec![add(ElementKind::Rim), set("rim-1", "inset", json!(12))],
            "rim-vanishes",
            Must,
            "inset",
        ),
        (
            vec![add(ElementKind::Rim), set("rim-1", "width", json!(12))],
            "rim-vanishes",
            Should,
            "width",
        ),
        (
            vec![add(ElementKind::Recess), set("recess-1", "shape", json!({ "inset": 12.0 }))],
            "recess-vanishes",
            Must,
            "shape.inset",
        ),
        (vec![set("hole-1", "diameter", json!(300)), left(36.0)], "nothing-left", Stop, ""),
        (
            vec![set("lettering-1", "lines.0.words", json!("X".repeat(500)))],
            "out-of-reach",
            Stop,
            "lines",
        ),
    ] {
        let findings = findings(&fob(&edits));
        let found = findings.iter().find(|finding| finding.code == code);
        let found = found.unwrap_or_else(|| panic!("no {code} in {findings:?}"));
        assert_eq!((found.weight, found.field.as_str()), (weight, field), "{code}");
    }
}

#[test]
fn remedies_mend_what_they_are_offered_for() {
    let left = |mm: f64| set("hole-1", "place.across", json!({ "from": "left", "distance": mm }));
    let low = set("hole-1", "place.up", json!({ "from": "bottom", "distance": 1.0 }));
    let mut mended = 0;
    for edits in [
        vec![
            set("lettering-1", "lines.0.words", json!("Жук")),
            set("lettering-1", "typeface", json!("anton")),
        ],
        vec![set("lettering-1", "lines.0.words", json!("SOLVEIG ÅSHILD"))],
        vec![set("lettering-1", "place.across", json!({ "from": "left", "distance": 4.0 }))],
        vec![left(1.0)],
        vec![left(-40.0), low.clone()],
        vec![left(2.0), low, set("blank", "outline", json!("stadium"))],
        vec![set("lettering-1", "relief", json!({ "recessed": { "by": 5.0 } }))],
        vec![set("blank", "outline.rectangle.top_left", json!({ "round": 13 }))],
        vec![set("lettering-1", "size.height", json!(3))],
    ] {
        let piece = fob(&edits);
        let before = findings(&piece);
        let remedy = before[0].remedies.first().unwrap_or_else(|| panic!("{before:?}"));
        let after = codes(&edited(&piece, &remedy.edits));
        assert!(after.iter().all(|(code, _)| *code != before[0].code), "{before:?} then {after:?}");
        mended += 1;
    }
    assert_eq!(mended, 9);
}

#[test]
fn a_value_that_cannot_be_carried_out_is_refused_only_where_it_was_typed() {
    let deep = set("lettering-1", "relief", json!({ "recessed": { "by": 5.0 } }));
    let finding = findings(&fob(&[deep])).swap_remove(0);
    let refuses = |target: &str, field: &str| finding.refuses(&address(target), field);
    assert!(refuses("lettering-1", "relief.recessed.by") && refuses("lettering-1", "relief"));
    assert!(!refuses("lettering-1", "size") && !refuses("blank", "relief"));

    // Where the largest that works is used instead, nothing is refused, and it is said.
    let round = set("blank", "outline.rectangle.top_left", json!({ "round": 13 }));
    let finding = findings(&fob(&[round])).swap_remove(0);
    assert!(finding.instead && finding.message.contains("12 mm at most"), "{finding:?}");
    assert!(!finding.refuses(&address("blank"), "outline"));
}

#[test]
fn a_ring_opening_that_cannot_be_is_said_and_mended() {
    let ring = |inside: f64| {
        let shape = json!({ "ring": { "inside": inside } });
        edited(&fresh(&[]), &[set("blank", "outline", shape)])
    };
    // The plate is 24 mm high.
    assert_eq!(codes(&ring(20.0)), []);
    let piece = ring(40.0);
    let found = findings(&piece).into_iter().find(|one| one.code == "ring-opening").unwrap();
    assert_eq!((found.weight, found.field.as_str()), (Weight::Should, "outline.ring.inside"));
    let mended = edited(&piece, &found.remedies[0].edits);
    assert!(findings(&mended).iter().all(|one| one.code != "ring-opening"));
}

#[test]
fn a_stop_names_what_caused_it() {
    let said = |piece: &Piece| findings(piece).into_iter().next().unwrap();
    // Copies in a row that leave the room there is, each of them 4 mm long.
    let row = json!({ "row": { "count": 100, "across": 9.0, "up": 0.0 } });
    let copies = said(&fob(&[set("lettering-1", "repeat", row)]));
    assert_eq!((copies.code, copies.field.as_str()), ("out-of-reach", "repeat"));
    assert!(copies.message.contains("copies"), "{}", copies.message);
    // A recess cut right through says nothing of a hole that is not there.
    let mut piece = fresh(&[ElementKind::Rim]);
    let all = [set("rim-1", "width", json!(100.0)), set("rim-1", "relief", json!("through"))];
    piece = edited(&piece, &all);
    let nothing = said(&piece);
    assert_eq!(nothing.code, "nothing-left");
    assert!(!nothing.message.contains("hole"), "{}", nothing.message);
}

/// Nothing is known that cannot be built; should it happen, the piece says so and where, and no file is
/// written.
#[test]
fn what_cannot_be_built_stops_and_is_not_written() {
    let piece = fob(&[]);
    let cache = crate::testing::cache();
    let workshop = Workshop::new(&Shipped, &cache, Tolerance::Draft);
    let mut evaluation = evaluate(&piece, &workshop).unwrap();
    assert!(evaluation.is_built());
    let mut made = (*evaluation.components[0]).clone();
    (made.mesh, made.bodies) = (Mesh::default(), Vec::new());
    made.stop = Some(Stop::NotBuildable(MeshError::Tangled));
    evaluation.components[0] = made.into();
    let found = run(&piece, &evaluation, &workshop).unwrap();
    let [found] = &found[..] else { panic!("{found:?}") };
    assert_eq!((found.code, found.weight), ("not-buildable", Weight::Stop));
    assert_eq!(found.target, Address::Piece);
    assert!(found.message.contains("meets so closely"), "{}", found.message);
    assert!(!evaluation.is_built());
}

/// What a person would see only on the printed piece: letters on the rim, a plate that hangs over the bed,
/// another face than the one that was chosen; each with what was measured and a way out.
#[test]
fn what_shows_only_when_it_is_printed_is_said_before() {
    let found = |piece: &Piece, code: &str| {
        let found = findings(piece).into_iter().find(|finding| finding.code == code);
        found.unwrap_or_else(|| panic!("{code} among {:?}", codes(piece)))
    };
    let rim = [
        add(ElementKind::Rim),
        set("lettering-1", "place.up", json!({ "from": "bottom", "distance": 0.5 })),
    ];
    let rim = found(&fob(&rim), "onto-rim");
    assert_eq!((rim.weight, rim.field.as_str()), (Weight::Should, "size.height"));
    assert!(rim.message.contains("runs onto the rim") && rim.place.is_some());

    let component = crate::piece::Component::FIRST.to_owned();
    let on_back = [
        Edit::Add { component, kind: ElementKind::Lettering, face: FaceName::Back },
        set("lettering-2", "relief", json!({ "raised": { "by": 0.8 } })),
    ];
    let hangs = found(&fob(&on_back), "stands-on-relief");
    assert!(hangs.message.contains("hangs 0.8 mm above the bed"), "{}", hangs.message);
    let sunk = set("lettering-2", "relief", json!({ "recessed": { "by": 0.8 } }));
    let sunk = edited(&fob(&on_back), &[sunk]);
    assert!(codes(&sunk).iter().all(|(code, _)| *code != "stands-on-relief"), "{:?}", codes(&sunk));

    let gone = fob(&[set("lettering-1", "typeface", json!("own-gone"))]);
    let finding = found(&gone, "typeface-missing");
    assert_eq!((finding.weight, finding.field.as_str()), (Weight::Must, "typeface"));
    let mended = edited(&gone, &finding.remedies[0].edits);
    assert_eq!(codes(&mended), []);
}
