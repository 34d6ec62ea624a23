//! Preflight as a whole: every mistake by itself raises its own finding and no other, what is offered mends it, and
//! good pieces are left in peace.

mod common;

use common::{add, cache, edited, fresh, put_shape, set};
use kalotype_core::evaluate::evaluate;
use kalotype_core::halt::Halt;
use kalotype_core::lettering::Typeface;
use kalotype_core::library::{Library, Shelf, Shipped};
use kalotype_core::piece::{Address, Bridges, Edit, ElementKind, FaceName, Piece, SetAside};
use kalotype_core::plane::Tolerance;
use kalotype_core::preflight::{self, Finding, Weight};
use kalotype_core::shapes::Shape;
use kalotype_core::stock::Stock;
use kalotype_core::workshop::Workshop;
use proptest::prelude::*;
use serde_json::{Value, json};
use std::sync::Arc;
use std::sync::atomic::{AtomicUsize, Ordering};

const ALL_TOLERANCES: [Tolerance; 3] = [Tolerance::Draft, Tolerance::Normal, Tolerance::Fine];

/// What preflight says, with remedies that were tried.
fn said(piece: &Piece, tolerance: Tolerance) -> Vec<Finding> {
    let cache = cache();
    let workshop = Workshop::new(&Shipped, &cache, tolerance);
    let evaluation = evaluate(piece, &workshop).unwrap();
    preflight::run(piece, &evaluation, &workshop).unwrap()
}

fn codes(findings: &[Finding]) -> Vec<&'static str> {
    let mut codes: Vec<&str> = findings.iter().map(|one| one.code).collect();
    codes.dedup();
    codes
}

fn blank(field: &str, value: impl Into<Value>) -> Edit {
    set("blank", field, value)
}

fn at(element: &str, across: f64, up: f64) -> Vec<Edit> {
    let from = |mm: f64| json!({ "from": "centre", "distance": mm });
    vec![set(element, "place.across", from(across)), set(element, "place.up", from(up))]
}

/// A plate of 80 × 40 × 3 mm with a name of 10 mm that is good, changed by these edits.
fn plate(edits: &[Vec<Edit>]) -> Piece {
    let good = [
        vec![blank("width", 80.0), blank("height", 40.0), add(ElementKind::Lettering)],
        vec![
            set("lettering-1", "lines.0.words", "ÆGIR"),
            set("lettering-1", "size", json!({ "height": 10.0 })),
            set("lettering-1", "gives", "nothing"),
        ],
        at("lettering-1", 0.0, 0.0),
    ];
    edited(&fresh(&[]), &[good.concat(), edits.concat()].concat())
}

fn add_on_back(kind: ElementKind) -> Edit {
    Edit::Add { component: "component-1".to_owned(), kind, face: FaceName::Back }
}

fn square(side: f64) -> Value {
    let corners = ["top_left", "top_right", "bottom_right", "bottom_left"];
    let corners: Value =
        corners.into_iter().map(|name| (name.to_owned(), json!("square"))).collect();
    json!({ "own": { "width": side, "height": side, "outline": { "rectangle": corners }, "turn": 0.0 } })
}

fn hole(id: &str, across: f64, up: f64, diameter: f64) -> Vec<Edit> {
    let mut edits = vec![add(ElementKind::Hole), set(id, "diameter", diameter)];
    edits.extend(at(id, across, up));
    edits
}

fn rim(width: f64, height: f64) -> Vec<Edit> {
    vec![
        add(ElementKind::Rim),
        set("rim-1", "inset", 2.0),
        set("rim-1", "width", width),
        set("rim-1", "relief", json!({ "raised": { "by": height } })),
    ]
}

fn emblem(shape: &str, width: f64, across: f64, up: f64) -> Vec<Edit> {
    let mut edits = vec![
        add(ElementKind::Emblem),
        set("emblem-1", "shape", shape),
        set("emblem-1", "width", width),
    ];
    edits.extend(at("emblem-1", across, up));
    edits
}

/// A mistake: what it is called, the edits that make it, what is found, how weighty, and whether something is
/// offered that mends it.
type Mistake = (&'static str, Vec<Vec<Edit>>, &'static str, Weight, bool);

fn mistakes() -> Vec<Mistake> {
    use Weight::{Must, Note, Should};
    let lettering = |field: &str, value: Value| vec![set("lettering-1", field, value)];
    let second = |words: &str, across: f64, up: f64| {
        let mut edits = vec![
            add(ElementKind::Lettering),
            set("lettering-2", "lines.0.words", words),
            set("lettering-2", "size", json!({ "height": 6.0 })),
            set("lettering-2", "gives", "nothing"),
        ];
        edits.extend(at("lettering-2", across, up));
        edits
    };
    let cut = || {
        vec![
            set("lettering-1", "lines.0.words", "NO"),
            set("lettering-1", "relief", "through"),
            set("lettering-1", "bridges", json!(Bridges::default())),
        ]
    };
    let name_up = || at("lettering-1", 0.0, 8.0);
    vec![
        (
            "strokes thinner than a line",
            vec![lettering("style.heavier", json!(-0.75))],
            "thin-stroke",
            Must,
            true,
        ),
        (
            "letters set so near that they run together",
            vec![
                lettering("style.spacing", json!(-0.155)),
                lettering("lines.0.words", json!("HIHIH")),
            ],
            "narrow-gap",
            Must,
            true,
        ),
        (
            "a wall between two holes",
            vec![hole("hole-1", -30.0, -12.0, 5.0), hole("hole-2", -24.6, -12.0, 5.0)],
            "thin-wall",
            Must,
            true,
        ),
        (
            "a weak wall between two holes",
            vec![hole("hole-1", -30.0, -12.0, 5.0), hole("hole-2", -24.3, -12.0, 5.0)],
            "thin-wall",
            Should,
            true,
        ),
        ("a rim thinner than a line", vec![rim(0.3, 1.0)], "thin-rim", Must, true),
        ("a rim of a single line", vec![rim(0.6, 1.0)], "thin-rim", Should, true),
        (
            "a loop thinner than a line",
            vec![vec![
                add(ElementKind::Loop),
                set("loop-1", "wall", 0.4),
                set("loop-1", "inside", 8.0),
            ]],
            "thin-loop",
            Must,
            true,
        ),
        (
            "a hole that closes",
            vec![hole("hole-1", -30.0, -12.0, 0.55), lettering_printer_gap()],
            "narrow-gap",
            Must,
            true,
        ),
        (
            "a relief of one layer",
            vec![lettering("relief", json!({ "raised": { "by": 0.2 } }))],
            "thin-relief",
            Should,
            true,
        ),
        (
            "a recess of one layer",
            vec![lettering("relief", json!({ "recessed": { "by": 0.2 } }))],
            "thin-relief",
            Should,
            true,
        ),
        (
            "a height of three layers and a half",
            vec![lettering("relief", json!({ "raised": { "by": 0.7 } }))],
            "part-layers",
            Note,
            true,
        ),
        ("words on words", vec![second("QUAY", 0.0, -3.0)], "on-each-other", Must, true),
        (
            "an emblem across the name",
            vec![emblem("heart", 8.0, 10.0, 0.0)],
            "on-each-other",
            Must,
            true,
        ),
        (
            "the same twice",
            vec![
                vec![Edit::Duplicate { target: common::address("lettering-1") }],
                at("lettering-2", 0.0, 0.0),
            ],
            "same-twice",
            Should,
            true,
        ),
        (
            "a recess where a hole is",
            vec![
                hole("hole-1", -25.0, -10.0, 12.0),
                name_up(),
                vec![
                    add(ElementKind::Recess),
                    set(
                        "recess-1",
                        "shape",
                        json!({ "own": { "width": 4.0, "height": 4.0, "outline": "ellipse", "turn": 0.0 } }),
                    ),
                ],
                at("recess-1", -25.0, -10.0),
            ],
            "changes-nothing",
            Should,
            true,
        ),
        ("words near the edge", vec![at("lettering-1", 0.0, 14.6)], "near-edge", Should, true),
        (
            "a span over a hollow",
            vec![
                vec![
                    blank("height", 80.0),
                    set("lettering-1", "relief", json!({ "recessed": { "by": 1.0 } })),
                ],
                at("lettering-1", 0.0, 30.0),
                vec![
                    add(ElementKind::Recess),
                    set("recess-1", "shape", square(30.0)),
                    set("recess-1", "depth", json!({ "by": 1.0 })),
                    add_on_back(ElementKind::Recess),
                    set("recess-2", "shape", square(30.0)),
                    set("recess-2", "depth", json!({ "by": 1.0 })),
                ],
                at("recess-1", 0.0, -5.0),
                at("recess-2", 0.0, -5.0),
            ],
            "long-span",
            Should,
            false,
        ),
        (
            "a star with needles",
            vec![
                name_up(),
                emblem("star-by-numbers", 14.0, 20.0, -9.0),
                vec![set("emblem-1", "points", 12), set("emblem-1", "depth", 0.8)],
            ],
            "sharp-point",
            Note,
            false,
        ),
        (
            "larger than the bed",
            vec![vec![blank("width", 320.0), blank("height", 100.0)]],
            "larger-than-bed",
            Should,
            true,
        ),
        (
            "letters so heavy that they are blots",
            vec![
                lettering("lines.0.words", json!("ABBA")),
                lettering("style.spacing", json!(0.6)),
                lettering("style.heavier", json!(1.3)),
            ],
            "filled-letters",
            Should,
            true,
        ),
        (
            "a chamfer larger than the strokes",
            vec![lettering("edge", json!({ "chamfer": 1.4 }))],
            "edge-reduced",
            Should,
            true,
        ),
        (
            "rounds larger than the plate is thick",
            vec![vec![
                blank("edges.top", json!({ "round": 2.5 })),
                blank("edges.bottom", json!({ "chamfer": 1.0 })),
            ]],
            "edge-reduced",
            Should,
            true,
        ),
        (
            "a rim that has no room any more",
            vec![rim(2.0, 1.0), vec![set("rim-1", "inset", 18.0), blank("height", 30.0)]],
            "rim-vanishes",
            Must,
            true,
        ),
        (
            "a hole larger than what is left of the plate",
            vec![
                hole("hole-1", -25.0, 0.0, 20.0),
                vec![blank("height", 20.0), blank("width", 100.0)],
                at("lettering-1", 14.0, 0.0),
            ],
            "hole-too-large",
            Must,
            true,
        ),
        (
            "long and flat",
            vec![vec![blank("width", 200.0), blank("height", 20.0)]],
            "may-lift",
            Note,
            false,
        ),
        (
            "letters of 3 mm",
            vec![
                lettering("size", json!({ "height": 3.5 })),
                lettering("style.spacing", json!(0.1)),
            ],
            "letters-small",
            Should,
            true,
        ),
        (
            "a hole at the edge",
            vec![hole("hole-1", -36.9, 0.0, 5.0)],
            "hole-near-edge",
            Should,
            true,
        ),
        (
            "a hole in the name",
            vec![hole("hole-1", 0.0, 0.0, 5.0)],
            "hole-meets-letters",
            Must,
            true,
        ),
        ("words over the edge", vec![at("lettering-1", 27.0, 0.0)], "over-edge", Must, true),
        (
            "a counter that falls out",
            vec![lettering("lines.0.words", json!("NO")), lettering("relief", json!("through"))],
            "loose-parts",
            Must,
            true,
        ),
        (
            "bridges thinner than a line",
            vec![cut(), lettering("bridges.width", json!(0.4))],
            "thin-bridge",
            Must,
            true,
        ),
        (
            "bridges thinner than two lines",
            vec![cut(), lettering("bridges.width", json!(0.7))],
            "thin-bridge",
            Should,
            true,
        ),
        (
            "bridges wider than letters",
            vec![cut(), lettering("bridges.width", json!(12.0))],
            "wide-bridge",
            Should,
            true,
        ),
        (
            "bridges of one layer",
            vec![cut(), lettering("bridges.height", json!(0.2))],
            "low-bridge",
            Should,
            true,
        ),
        (
            "a large counter on one bridge",
            vec![
                cut(),
                lettering("lines.0.words", json!("O")),
                lettering("size", json!({ "height": 30.0 })),
                lettering("bridges.each", json!("one")),
            ],
            "weak-bridge",
            Should,
            true,
        ),
        (
            "a bridge whose letter is gone",
            vec![
                cut(),
                lettering(
                    "bridges.by_hand",
                    json!([{ "line": 0, "letter": 2, "is": "Q", "across": 0.5, "up": 0.0, "turn": 90.0 }]),
                ),
            ],
            "idle-bridge",
            Note,
            true,
        ),
        (
            "sunk through both faces",
            vec![
                lettering("relief", json!({ "recessed": { "by": 1.4 } })),
                vec![
                    Edit::Add {
                        component: "component-1".to_owned(),
                        kind: ElementKind::Lettering,
                        face: FaceName::Back,
                    },
                    set("lettering-2", "lines.0.words", "ÆGIR"),
                    set("lettering-2", "size", json!({ "height": 10.0 })),
                    set("lettering-2", "relief", json!({ "recessed": { "by": 1.4 } })),
                ],
                at("lettering-2", 0.0, 0.0),
            ],
            "back-to-back",
            Must,
            true,
        ),
        (
            "blind holes that meet",
            vec![
                hole("hole-1", -25.0, -12.0, 8.0),
                vec![set("hole-1", "depth", 1.8), add_on_back(ElementKind::Hole)],
                vec![set("hole-2", "diameter", 5.0), set("hole-2", "depth", 1.5)],
                at("hole-2", 25.0, -12.0),
            ],
            "back-to-back",
            Must,
            true,
        ),
        (
            "a blind hole with hardly any floor",
            vec![hole("hole-1", -30.0, -12.0, 5.0), vec![set("hole-1", "depth", 2.8)]],
            "thin-floor",
            Must,
            true,
        ),
        (
            "lines set into each other",
            vec![
                lettering("lines", json!([line("ÆGIR"), line("BERTH")])),
                lettering("pitch", json!(0.7)),
            ],
            "lines-meet",
            Must,
            true,
        ),
        (
            "an inlay in the colour of its plate",
            vec![lettering("relief", json!({ "flush": 0.6 }))],
            "unseen",
            Should,
            true,
        ),
        (
            "words the plate would stand on",
            vec![
                vec![
                    add_on_back(ElementKind::Lettering),
                    set("lettering-2", "lines.0.words", "BERTH"),
                    set("lettering-2", "size", json!({ "height": 8.0 })),
                    set("lettering-2", "relief", json!({ "raised": { "by": 0.8 } })),
                ],
                at("lettering-2", 0.0, 0.0),
            ],
            "stands-on-relief",
            Should,
            true,
        ),
        (
            "fitted letters that come out too small",
            vec![
                lettering("lines.0.words", json!("HARBOUR")),
                lettering("size", json!({ "box": { "width": 24.0, "height": 20.0 } })),
            ],
            "letters-small",
            Should,
            true,
        ),
        (
            "letters beyond all reach",
            vec![lettering("size", json!({ "height": 300.0 }))],
            "out-of-reach",
            Weight::Stop,
            true,
        ),
        (
            "a circle of words beyond the sides",
            vec![
                lettering("lines.0.words", json!("SKERRY POINT")),
                lettering("size", json!({ "height": 6.0 })),
                lettering("course", circle(24.0)),
            ],
            "over-edge",
            Must,
            true,
        ),
        (
            "sunk too deep",
            vec![lettering("relief", json!({ "recessed": { "by": 2.8 } }))],
            "thin-floor",
            Must,
            true,
        ),
    ]
}

/// A line of words in the typeface of its lettering.
fn line(words: &str) -> Value {
    json!({ "words": words, "typeface": null, "scale": 1.0 })
}

/// Words over and round a circle of a radius.
fn circle(radius: f64) -> Value {
    json!({ "circle": { "radius": radius, "reading": "clockwise", "side": "inside", "middle": 90.0, "spread": null } })
}

/// A printer whose narrowest gap is wider than customary.
fn lettering_printer_gap() -> Vec<Edit> {
    vec![Edit::set(&Address::Piece, "printer.gap", json!(0.6))]
}

#[test]
fn the_piece_the_mistakes_are_made_on_is_good() {
    for tolerance in ALL_TOLERANCES {
        assert_eq!(codes(&said(&plate(&[]), tolerance)), Vec::<&str>::new(), "{tolerance:?}");
    }
}

#[test]
fn every_mistake_raises_its_finding_and_only_it() {
    let mut wrong = Vec::new();
    for (name, edits, code, weight, _) in mistakes() {
        let piece = plate(&edits);
        for tolerance in ALL_TOLERANCES {
            let found = said(&piece, tolerance);
            let is_it = codes(&found) == [code] && found.iter().all(|one| one.weight == weight);
            if !is_it {
                let told: Vec<_> = found.iter().map(|one| (one.code, one.weight)).collect();
                wrong.push(format!("{name} at {tolerance:?}: {told:?}"));
            }
        }
    }
    assert!(wrong.is_empty(), "{wrong:#?}");
}

#[test]
fn what_is_offered_mends_and_leaves_nothing() {
    let mut wrong = Vec::new();
    let (mut offered, mut all) = (0, 0);
    for (name, edits, code, _, is_mended) in mistakes() {
        let piece = plate(&edits);
        let found = said(&piece, Tolerance::Normal);
        let ways: Vec<_> = found.iter().flat_map(|one| &one.remedies).collect();
        if ways.is_empty() == is_mended {
            wrong.push(format!("{name}: {} ways", ways.len()));
        }
        all += 1;
        offered += usize::from(!ways.is_empty());
        for way in ways {
            let after = said(&edited(&piece, &way.edits), Tolerance::Normal);
            let left: Vec<_> = after.iter().filter(|one| one.weight < Weight::Note).collect();
            if !left.is_empty() || after.iter().any(|one| one.code == code) {
                wrong.push(format!("{name}, {}: {left:?}", way.label));
            }
        }
    }
    assert!(wrong.is_empty(), "{wrong:#?}");
    assert!(offered * 10 >= all * 7, "{offered} of {all}");
}

/// "Mend all that can be" takes several mistakes away in one go, and says how.
#[test]
fn several_mistakes_are_mended_in_one_go() {
    let piece = plate(&[
        rim(0.3, 1.0),
        vec![set("lettering-1", "relief", json!({ "raised": { "by": 0.2 } }))],
        hole("hole-1", -30.0, -12.0, 5.0),
        hole("hole-2", -24.6, -12.0, 5.0),
    ]);
    let cache = cache();
    let workshop = Workshop::new(&Shipped, &cache, Tolerance::Normal);
    let mended = preflight::mend(&piece, &workshop).unwrap();
    assert_eq!(mended.steps.len(), 3, "{:?}", mended.steps);
    assert_eq!(mended.findings, [], "{:?}", mended.steps);
    // The same edits in one go are the same piece.
    assert_eq!(edited(&piece, &mended.edits), mended.piece);
    // What is good already stays as it is.
    assert!(preflight::mend(&mended.piece, &workshop).unwrap().steps.is_empty());
}

/// A shelf that has the work stopped when it is asked for a shape so many times.
struct StopsAt<'a> {
    shelf: &'a Shelf,
    left: AtomicUsize,
    halt: Halt,
}

impl Library for StopsAt<'_> {
    fn typeface(&self, id: &str) -> Option<Arc<Typeface>> {
        self.shelf.typeface(id)
    }

    fn typefaces(&self) -> Vec<Arc<Typeface>> {
        self.shelf.typefaces()
    }

    fn mesh(&self, id: &str) -> Option<Arc<Stock>> {
        self.shelf.mesh(id)
    }

    fn shape(&self, id: &str) -> Option<Arc<Shape>> {
        if self.left.fetch_sub(1, Ordering::Relaxed) == 1 {
            self.halt.stop();
        }
        self.shelf.shape(id)
    }
}

/// Wherever mending is stopped, it says so, or it was done already: it never answers with half of it as if that were all.
#[test]
fn mending_that_is_stopped_never_answers_as_if_it_were_done() {
    let mut shelf = Shelf::default();
    let (shape, _) = put_shape(&mut shelf, "<rect width='40' height='20'/>", None);
    let piece = plate(&[
        rim(0.3, 1.0),
        vec![
            set("lettering-1", "relief", json!({ "raised": { "by": 0.2 } })),
            add(ElementKind::Emblem),
            set("emblem-1", "shape", shape),
        ],
        hole("hole-1", -30.0, -12.0, 5.0),
        hole("hole-2", -24.6, -12.0, 5.0),
    ]);
    let stopped_at = |asked: usize| {
        let halt = Halt::default();
        let library = StopsAt { shelf: &shelf, left: AtomicUsize::new(asked), halt: halt.clone() };
        let cache = cache();
        let workshop = Workshop::new(&library, &cache, Tolerance::Draft).until(halt);
        let mended = preflight::mend(&piece, &workshop);
        (mended, asked.wrapping_sub(library.left.load(Ordering::Relaxed)))
    };
    let (whole, asked) = stopped_at(usize::MAX);
    let whole = whole.unwrap();
    assert!(whole.steps.len() > 1 && asked > 20, "{:?}, {asked}", whole.steps);
    let mut stopped = 0;
    for at in (1..=asked).step_by(asked.div_ceil(40)) {
        match stopped_at(at).0 {
            Err(_) => stopped += 1,
            Ok(mended) => {
                assert_eq!(mended.steps, whole.steps, "stopped at {at} of {asked}");
                assert_eq!(mended.findings, whole.findings, "stopped at {at} of {asked}");
            }
        }
    }
    assert!(stopped > 20, "{stopped}");
}

/// A plate full of mistakes has no endless list, and what falls out is said beside what runs over the edge.
#[test]
fn the_list_of_findings_ends() {
    let holes = (0..64).map(|i| {
        let (x, y) = (f64::from(i % 8) * 4.0 - 34.0, f64::from(i / 8) * 4.0 - 16.0);
        hole(&format!("hole-{}", i + 1), x, y, 3.5)
    });
    let full = plate(&holes.collect::<Vec<_>>());
    let found = said(&full, Tolerance::Draft);
    let last = found.last().unwrap();
    assert_eq!((found.len(), last.code, last.weight), (61, "more-findings", Weight::Note));
    let through =
        [set("lettering-1", "lines.0.words", "OOOOOO"), set("lettering-1", "relief", "through")];
    let falls = plate(&[through.to_vec(), at("lettering-1", 20.0, 0.0)]);
    let found = codes(&said(&falls, Tolerance::Draft));
    assert!(found.contains(&"loose-parts") && found.contains(&"over-edge"), "{found:?}");
}

/// A finding that is set aside stays in the file with its reason, comes last, and is mended by nobody.
#[test]
fn what_is_set_aside_is_kept_with_its_reason() {
    let mut piece = plate(&[rim(0.3, 1.0)]);
    let found = said(&piece, Tolerance::Normal).remove(0);
    let reason = "It is milled off again.".to_owned();
    piece.set_aside.push(SetAside { code: found.code.to_owned(), target: found.target, reason });
    let piece = kalotype_core::piece::read(kalotype_core::piece::write(&piece).as_bytes()).unwrap();
    let aside = said(&piece, Tolerance::Normal).remove(0);
    assert_eq!(aside.set_aside.as_deref(), Some("It is milled off again."));
    assert!(aside.remedies.is_empty());
    let cache = cache();
    let workshop = Workshop::new(&Shipped, &cache, Tolerance::Normal);
    assert!(preflight::mend(&piece, &workshop).unwrap().edits.is_empty());
    let nothing = SetAside { reason: " ".to_owned(), ..piece.set_aside[0].clone() };
    let mut wrong = piece.clone();
    wrong.set_aside = vec![nothing];
    assert_eq!(wrong.problems()[0].field, "set_aside.0.reason");
}

/// Another printer works every finding out again: what is thin for a wide line is none for a fine one.
#[test]
fn findings_follow_the_printer() {
    let piece = plate(&[rim(0.5, 1.0)]);
    let line = |mm: f64| Edit::set(&Address::Piece, "printer.line", json!(mm));
    let weight = |piece: &Piece| said(piece, Tolerance::Normal).first().map(|one| one.weight);
    assert_eq!(weight(&piece), Some(Weight::Should));
    assert_eq!(weight(&edited(&piece, &[line(0.6)])), Some(Weight::Must));
    assert_eq!(weight(&edited(&piece, &[line(0.25)])), None);
}

proptest! {
    #![proptest_config(common::cases(40))]

    /// Whatever is wrong with a piece: what is offered never leaves more that must be mended, nothing that must
    /// be mended is new, and in the end nothing is offered any more.
    #[test]
    fn no_remedy_makes_it_worse(
        words in "[A-ZÅØa-z]{1,7}",
        height in 2.5..14.0f64,
        heavier in -0.8..0.6f64,
        spacing in -0.12..0.3f64,
        across in -30.0..30.0f64,
        up in -18.0..18.0f64,
        relief in prop_oneof![
            Just(json!({ "raised": { "by": 0.3 } })),
            Just(json!({ "recessed": { "by": 1.0 } })),
            Just(json!("through")),
        ],
        first in (-38.0..38.0f64, -18.0..18.0f64, 2.0..9.0f64),
        second in (-38.0..38.0f64, -18.0..18.0f64, 2.0..9.0f64),
        rim_width in 0.2..2.0f64,
        below in proptest::option::of(("[A-Zgj]{1,6}", 0.5..2.0f64)),
        depth in proptest::option::of(0.3..3.5f64),
        back in proptest::option::of(0.4..2.5f64),
    ) {
        let mut lines = vec![line(&words)];
        let pitch = below.as_ref().map_or(1.6, |(_, pitch)| *pitch);
        lines.extend(below.iter().map(|(words, _)| line(words)));
        let on_back = back.map_or(Vec::new(), |deep| {
            vec![
                add_on_back(ElementKind::Emblem),
                set("emblem-1", "width", 9.0),
                set("emblem-1", "relief", json!({ "recessed": { "by": deep } })),
            ]
        });
        let piece = plate(&[
            vec![
                set("lettering-1", "lines", json!(lines)),
                set("lettering-1", "pitch", pitch),
                set("lettering-1", "size", json!({ "height": height })),
                set("lettering-1", "style.heavier", heavier),
                set("lettering-1", "style.spacing", spacing),
                set("lettering-1", "relief", relief),
            ],
            at("lettering-1", across, up),
            hole("hole-1", first.0, first.1, first.2),
            hole("hole-2", second.0, second.1, second.2),
            vec![set("hole-2", "depth", depth)],
            rim(rim_width, 1.0),
            on_back,
        ]);
        let musts = |findings: &[Finding]| findings.iter().filter(|one| one.weight <= Weight::Must).count();
        let before = said(&piece, Tolerance::Draft);
        for finding in &before {
            for remedy in &finding.remedies {
                let after = said(&edited(&piece, &remedy.edits), Tolerance::Draft);
                prop_assert!(musts(&after) <= musts(&before), "{}: {:?}", remedy.label, codes(&after));
                for one in after.iter().filter(|one| one.weight <= Weight::Must) {
                    let is_known = before.iter().any(|b| b.code == one.code && b.target == one.target);
                    prop_assert!(is_known, "{} brings {}", remedy.label, one.code);
                }
            }
        }
    }
}

/// Words far too long for a small plate: fitted in they could not be read, so they get two lines, narrower letters or
/// a wider plate, and each of these leaves nothing to mend.
#[test]
fn long_words_are_given_room() {
    let long = |words: &str, height: f64| {
        let edits = vec![
            blank("width", 40.0),
            blank("height", 24.0),
            set("lettering-1", "lines.0.words", words),
            set("lettering-1", "size", json!({ "height": height })),
        ];
        plate(&[edits])
    };
    let ways = |piece: &Piece| -> Vec<(String, Vec<Edit>)> {
        let found = said(piece, Tolerance::Normal);
        let over = found.iter().find(|one| one.code == "over-edge").expect("words over the edge");
        over.remedies.iter().map(|way| (way.label.clone(), way.edits.clone())).collect()
    };
    let piece = long("HARBOUR OFFICE", 6.0);
    let offered = ways(&piece);
    let labels: Vec<&str> = offered.iter().map(|(label, _)| label.as_str()).collect();
    assert!(labels[0].starts_with("Set it in two lines, letters "), "{labels:?}");
    assert!(labels.iter().any(|label| label.starts_with("Make the plate ")), "{labels:?}");
    for (label, edits) in offered.iter().filter(|(label, _)| !label.starts_with("Fit it in")) {
        let after = edited(&piece, edits);
        assert_eq!(codes(&said(&after, Tolerance::Normal)), Vec::<&str>::new(), "{label}");
    }
    // One word has no second line, but a wider plate or narrower letters.
    let one = ways(&long("HARBOURMASTER", 6.0));
    let labels: Vec<&str> = one.iter().map(|(label, _)| label.as_str()).collect();
    assert!(!labels.iter().any(|label| label.contains("two lines")), "{labels:?}");
    assert!(labels[0].starts_with("Make "), "{labels:?}");
    // Large words that are fitted in well are fitted in.
    let large = ways(&long("QUAY", 14.0));
    assert!(large[0].0.starts_with("Fit it in, letters "), "{large:?}");
}
