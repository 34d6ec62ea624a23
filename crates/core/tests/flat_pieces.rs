//! Pieces of the trade, made as they are made at the bench, against closed forms. Their sizes are
//! common practice, no source.

mod common;

use common::{Worked, add, address, edited, set, worked};
use kalotype_core::piece::{Address, Component, Edit, ElementKind, FaceName, Piece};
use kalotype_core::plane::Tolerance;
use kalotype_core::preflight::{Finding, Weight};
use kalotype_core::units::Unit;
use serde_json::{Value, json};
use std::f64::consts::PI;

fn plate(width: f64, height: f64, thickness: f64) -> Vec<Edit> {
    vec![
        set("blank", "width", json!(width)),
        set("blank", "height", json!(height)),
        set("blank", "thickness", json!(thickness)),
    ]
}

fn made(edits: Vec<Edit>) -> Worked {
    let piece = edited(&Piece::new("Test", Unit::Millimetre), &edits);
    let found = worked(&piece, Tolerance::Fine);
    assert!(found.mesh.faults().is_sound(), "{:?}", found.mesh.faults());
    assert_eq!(found.parts, 1);
    found
}

fn close(found: f64, exact: f64, relative: f64) {
    assert!((found - exact).abs() <= relative * exact, "{found} is not {exact}");
}

/// π h/3 (R² + R r + r²): a cone frustum.
fn frustum(big: f64, small: f64, height: f64) -> f64 {
    PI * height / 3.0 * (big * big + big * small + small * small)
}

#[test]
fn a_fob_with_a_cut_end_a_rim_and_a_hole() {
    // 72 × 24 × 2: one end cut by 7 mm, the other rounded by 5 mm; a 2 mm rim 1 mm proud with a
    // 0.6 mm chamfer; a 5 mm hole 5 mm from the end.
    let mut edits = plate(72.0, 24.0, 2.0);
    let corners = json!({ "rectangle": {
        "top_left": { "chamfer": 7.0 }, "bottom_left": { "chamfer": 7.0 },
        "top_right": { "round": 5.0 }, "bottom_right": { "round": 5.0 } } });
    edits.extend([
        set("blank", "outline", corners),
        add(ElementKind::Rim),
        set("rim-1", "edge", json!({ "chamfer": 0.6 })),
        add(ElementKind::Hole),
        set("hole-1", "place.across", json!({ "from": "left", "distance": 5.0 })),
    ]);
    let found = made(edits);
    let outline = 72.0 * 24.0 - 49.0 - (4.0 - PI) * 25.0 / 2.0;
    // Drawn in by d: straight sides shrink, the cut corners' sides too, the round ends' radius.
    let inset = |d: f64| {
        let (w, h) = (72.0 - 2.0 * d, 24.0 - 2.0 * d);
        // The cut stays at 45°, d away: its legs shrink by (2 − √2) d.
        let leg = 7.0 - (2.0 - 2f64.sqrt()) * d;
        w * h - leg * leg - (4.0 - PI) * (5.0 - d) * (5.0 - d) / 2.0
    };
    // The chamfer draws the rim's outer side in and its inner side out, linearly: by Simpson's rule
    // (exact for the quadratics of an offset).
    let rim = |d: f64| inset(d) - inset(2.0 - d);
    let chamfered = 0.6 / 6.0 * (rim(0.0) + 4.0 * rim(0.3) + rim(0.6));
    let exact = 2.0 * outline + 0.4 * rim(0.0) + chamfered - 2.0 * PI * 6.25;
    // The hole passes under the rim at its own end, where it takes a little of it.
    let volume = found.measures.volume;
    assert!(volume < exact && volume > exact - 3.0, "{volume} is not just under {exact}");
    assert_eq!(found.measures.high[2], 3.0);
}

#[test]
fn a_tag_with_a_field_and_a_blended_loop() {
    // 50 × 20 × 3 with a field 1 mm deep and an outside loop blended with 3 mm, rounded by 0.2 mm.
    let mut edits = plate(50.0, 20.0, 3.0);
    let round = json!({ "round": 0.2 });
    edits.extend([
        add(ElementKind::Recess),
        set("recess-1", "depth", json!({ "by": 1.0 })),
        add(ElementKind::Loop),
        set("blank", "edges", json!({ "top": round, "bottom": round })),
    ]);
    let found = made(edits.clone());
    assert!(found.findings.is_empty(), "{:?}", found.findings);
    let size = |axis: usize| found.measures.high[axis] - found.measures.low[axis];
    // The ring of 8 mm and 2 mm wall just clears the plate: it reaches 8 + 2 mm beyond the end.
    close(size(0), 60.0, 1e-3);
    close(size(1), 20.0, 1e-4);
    edits.push(set("blank", "edges", json!({ "top": "square", "bottom": "square" })));
    let square = made(edits);
    // Rounding takes (1 − π/4) r² off for each mm of edge, above and below, round the outline and the
    // loop's hole of 8 mm; its chords, n over a quarter circle, take r²/2 (π/2 − n sin(π/2n)) more.
    let lost = square.measures.volume - found.measures.volume;
    let edges = square.layout.blank.outline.edges();
    let outline: f64 = edges.map(|((ax, ay), (bx, by))| (bx - ax).hypot(by - ay)).sum();
    let chords = (PI / 4.0 / (1.0 - Tolerance::Fine.chord_mm() / 0.2).acos()).ceil();
    let within = 0.02 * (PI / 2.0 - chords * (PI / 2.0 / chords).sin());
    close(lost, 2.0 * (outline + 8.0 * PI) * ((1.0 - PI / 4.0) * 0.04 + within), 0.01);
}

#[test]
fn a_medallion_with_chamfers_and_a_chamfered_centre_hole() {
    // 50 mm across, 5 mm thick, 2 mm chamfers; a 5 mm hole with 1.5 mm chamfers.
    let mut edits = plate(50.0, 50.0, 5.0);
    let (two, one_and_a_half) = (json!({ "chamfer": 2.0 }), json!({ "chamfer": 1.5 }));
    edits.extend([
        set("blank", "outline", json!("ellipse")),
        set("blank", "edges", json!({ "top": two, "bottom": two })),
        add(ElementKind::Hole),
        set("hole-1", "place.across", json!({ "from": "centre", "distance": 0.0 })),
        set("hole-1", "edges", json!({ "top": one_and_a_half, "bottom": one_and_a_half })),
    ]);
    let found = made(edits);
    let disc = 2.0 * frustum(25.0, 23.0, 2.0) + PI * 625.0;
    let hole = 2.0 * frustum(4.0, 2.5, 1.5) + 2.0 * PI * 6.25;
    close(found.measures.volume, disc - hole, 1.5e-3);
}

/// A rounded disc by Pappus: the quarter circle that is taken off at the rim, turned about the axis.
#[test]
fn a_rounded_disc_loses_what_pappus_says() {
    let (radius, thickness, r) = (20.0, 4.0, 1.5);
    let mut edits = plate(2.0 * radius, 2.0 * radius, thickness);
    edits.extend([
        set("blank", "outline", json!("ellipse")),
        set("blank", "edges", json!({ "top": { "round": r }, "bottom": "square" })),
    ]);
    let found = made(edits);
    // Area of a square corner outside its inscribed quarter circle, and its centroid, which lies
    // (10 − 3π)/(12 − 3π) r from the corner's own sides (standard tables of centroids).
    let area = (1.0 - PI / 4.0) * r * r;
    let centroid = radius - r * (10.0 - 3.0 * PI) / (12.0 - 3.0 * PI);
    let exact = PI * radius * radius * thickness - area * 2.0 * PI * centroid;
    close(found.measures.volume, exact, 6e-4);
}

#[test]
fn a_hexagon_tile_with_a_ring_and_a_coaster_with_a_lip() {
    // 150 mm across corners, point down, 2 mm base; a ring 5 mm proud.
    let flats = 150.0 * 3f64.sqrt() / 2.0;
    let mut tile = plate(flats, 150.0, 2.0);
    tile.extend([
        set("blank", "outline", json!({ "polygon": { "sides": 6, "turn": 0.0, "rounding": 0.0 } })),
        add(ElementKind::Emblem),
        set("emblem-1", "shape", json!("ring")),
        set("emblem-1", "width", json!(125.0)),
        set("emblem-1", "relief", json!({ "raised": { "by": 5.0 } })),
    ]);
    let found = made(tile);
    // The ring emblem is 50 over 36 units: its band is 1 − 0.72² of the disc.
    let exact =
        1.5 * 3f64.sqrt() * 75.0 * 75.0 * 2.0 + 5.0 * PI * 62.5 * 62.5 * (1.0 - 0.72 * 0.72);
    close(found.measures.volume, exact, 1e-3);

    // A 4 in disc, 4 mm thick, with a lip 4 mm wide and 2 mm proud.
    let mut coaster = plate(101.6, 101.6, 4.0);
    coaster.extend([
        set("blank", "outline", json!("ellipse")),
        add(ElementKind::Rim),
        set("rim-1", "width", json!(4.0)),
        set("rim-1", "relief.raised.by", json!(2.0)),
    ]);
    let found = made(coaster);
    let exact = PI * 50.8 * 50.8 * 4.0 + 2.0 * PI * (50.8 * 50.8 - 46.8 * 46.8);
    close(found.measures.volume, exact, 1e-3);
}

#[test]
fn an_openwork_ornament_holds_together() {
    // An 85 mm ring with a bar, stars and hearts at two heights that overlap it, all on the bed.
    let at = |id: &str, across: f64, up: f64| {
        set(
            id,
            "place",
            json!({
            "across": { "from": "centre", "distance": across },
            "up": { "from": "centre", "distance": up } }),
        )
    };
    let mut edits = plate(85.0, 85.0, 3.0);
    edits.push(set("blank", "outline", json!({ "ring": { "inside": 73.0 } })));
    for (i, (shape, width, across, up)) in [
        ("square", 80.0, 0.0, 0.0),
        ("star", 30.0, 0.0, 28.0),
        ("heart", 30.0, 0.0, -28.0),
        ("star", 24.0, 28.0, 4.0),
    ]
    .into_iter()
    .enumerate()
    {
        let id = format!("emblem-{}", i + 1);
        edits.extend([
            add(ElementKind::Emblem),
            set(&id, "shape", json!(shape)),
            set(&id, "width", json!(width)),
            set(&id, "relief", json!({ "raised": { "from-foot": 3.0 + i as f64 % 2.0 } })),
            at(&id, across, up),
        ]);
    }
    edits.push(set("emblem-1", "stretch", json!(0.1)));
    let found = made(edits);
    assert_eq!(found.measures.high[2], 4.0);
    // Nothing hangs in the air: what is there at any height is there on the bed.
    let elements = &found.layout.elements;
    assert!(elements.iter().all(|placed| placed.bottom == 0.0));
    // The upper star hangs by the tip it reaches into the ring with, and that is said.
    let said: Vec<_> = found.findings.iter().map(|finding| finding.code).collect();
    assert_eq!(said, ["held-at-few"], "{:?}", found.findings);
    assert_eq!(found.findings[0].target, common::address("emblem-2"));
}

/// What misses the ring by a hair, and what hangs by less than a line, is said with what mends it; and what
/// mends it does.
#[test]
fn openwork_that_hardly_holds_is_grown_together() {
    let ring = || {
        let mut edits = plate(60.0, 60.0, 3.0);
        edits.push(set("blank", "outline", json!({ "ring": { "inside": 50.0 } })));
        edits
    };
    let standing = |id: &str, shape: &str, width: f64, stretch: f64| {
        let centre = json!({ "from": "centre", "distance": 0.0 });
        vec![
            add(ElementKind::Emblem),
            set(id, "shape", json!(shape)),
            set(id, "width", json!(width)),
            set(id, "stretch", json!(stretch)),
            set(id, "relief", json!({ "raised": { "from-foot": 3.0 } })),
            set(id, "place", json!({ "across": centre, "up": centre })),
        ]
    };
    let of = |edits: Vec<Edit>, code: &str| -> (usize, Vec<Finding>) {
        let piece = edited(&Piece::new("Test", Unit::Millimetre), &edits);
        let made = worked(&piece, Tolerance::Fine);
        let said = made.findings.iter().filter(|finding| finding.code == code);
        (made.parts, said.cloned().collect())
    };
    // A bar of 49.8 mm in an opening of 50: its corners reach furthest, √(24.9² + 2.49²) = 25.02, past the
    // ring by a hair: four necks of next to nothing. One of 49.4 mm misses it.
    let bar = |width: f64| [ring(), standing("emblem-1", "square", width, 0.1)].concat();
    let (parts, missed) = of(bar(49.4), "hardly-touches");
    assert_eq!((parts, missed.len()), (2, 1));
    // 25 − √(24.7² + 2.47²) = 0.177.
    assert!(missed[0].message.contains("0.1") || missed[0].message.contains("0.2"), "{missed:?}");
    let mended = [bar(49.4), missed[0].remedies[0].edits.clone()].concat();
    let found = made(mended);
    assert_eq!(found.parts, 1);
    assert!(
        found.findings.iter().all(|finding| finding.weight != Weight::Must),
        "{:?}",
        found.findings
    );
    let (parts, thin) = of(bar(49.8), "thin-neck");
    assert_eq!(parts, 1);
    assert!(!thin.is_empty() && thin[0].weight == Weight::Must, "{thin:?}");
    let found = made([bar(49.8), thin[0].remedies[0].edits.clone()].concat());
    assert!(
        found.findings.iter().all(|finding| finding.code != "thin-neck"),
        "{:?}",
        found.findings
    );
    // Held well, nothing is said.
    assert!(made(bar(54.0)).findings.is_empty());
}

#[test]
fn raised_figures_in_a_field_stand_on_its_floor_and_level_with_the_rim() {
    let mut edits = plate(60.0, 25.0, 4.0);
    edits.extend([
        add(ElementKind::Rim),
        add(ElementKind::Recess),
        add(ElementKind::Emblem),
        set("emblem-1", "relief", json!({ "raised": "level-with-rim" })),
    ]);
    let found = made(edits);
    let emblem = found.layout.element("emblem-1").unwrap();
    assert_eq!((emblem.bottom, emblem.top), (2.0, 5.0));
}

#[test]
fn copies_are_as_many_as_asked_and_a_hundred_on_one_spot_are_one() {
    let hole = |repeat: Value| {
        let mut edits = plate(100.0, 60.0, 2.0);
        edits.extend([
            add(ElementKind::Hole),
            set("hole-1", "place.across.distance", json!(20.0)),
            set("hole-1", "repeat", repeat),
        ]);
        let plain = 2.0 * (6000.0 - (4.0 - PI) * 9.0);
        ((plain - made(edits).measures.volume) / (2.0 * PI * 6.25)).round() as i32
    };
    assert_eq!(hole(json!("once")), 1);
    assert_eq!(hole(json!("mirrored-across")), 2);
    // On its own mirror line it meets itself.
    assert_eq!(hole(json!("mirrored-up")), 1);
    assert_eq!(hole(json!({ "around": 4 })), 3, "one of four falls outside above, one below");
    assert_eq!(hole(json!({ "row": { "count": 5, "across": 12.0, "up": 0.0 } })), 5);
    assert_eq!(hole(json!({ "row": { "count": 100, "across": 0.0, "up": 0.0 } })), 1);
}

#[test]
fn a_rim_on_the_edge_takes_the_place_of_the_plates_edge() {
    let mut edits = plate(40.0, 40.0, 3.0);
    edits.extend([
        set("blank", "outline", json!("ellipse")),
        add(ElementKind::Rim),
        set("blank", "edges", json!({ "top": { "round": 0.5 }, "bottom": "square" })),
    ]);
    let found = made(edits.clone());
    edits.push(set("blank", "edges", json!({ "top": "square", "bottom": "square" })));
    close(found.measures.volume, made(edits.clone()).measures.volume, 1e-9);
    edits.extend([
        set("rim-1", "inset", json!(1.0)),
        set("blank", "edges", json!({ "top": { "round": 0.5 }, "bottom": "square" })),
    ]);
    assert!(made(edits).measures.volume < found.measures.volume);
}

#[test]
fn edges_too_large_for_a_stroke_are_reduced_there_and_said() {
    let mut edits = plate(70.0, 25.0, 3.0);
    edits.extend([
        add(ElementKind::Lettering),
        set("lettering-1", "lines.0.words", json!("Sigrid")),
        set("lettering-1", "typeface", json!("pacifico")),
        set("lettering-1", "size.height", json!(8)),
        set("lettering-1", "edge", json!({ "round": 1.4 })),
    ]);
    let found = made(edits);
    let said = found.findings.iter().find(|finding| finding.code == "edge-reduced").unwrap();
    assert!(said.message.contains("the thinnest stroke"), "{}", said.message);
    // The letters still stand as high as they were asked to.
    assert_eq!(found.measures.high[2], 4.5);
}

fn add_back(kind: ElementKind) -> Edit {
    Edit::Add { component: Component::FIRST.into(), kind, face: FaceName::Back }
}

/// What is on the back is the mirror image of the same on the front, upside down.
#[test]
fn the_back_is_the_front_turned_over() {
    let words = |add: fn(ElementKind) -> Edit, relief: Value| {
        let mut edits = plate(70.0, 25.0, 3.0);
        edits.extend([
            add(ElementKind::Lettering),
            set("lettering-1", "lines.0.words", json!("Łucja R")),
            set("lettering-1", "relief", relief),
            set("lettering-1", "edge", json!({ "chamfer": 0.2 })),
            set("lettering-1", "place.across", json!({ "from": "left", "distance": 6.0 })),
        ]);
        made(edits)
    };
    for relief in [json!({ "recessed": { "by": 1.0 } }), json!({ "raised": { "by": 1.0 } })] {
        let (front, back) = (words(add, relief.clone()), words(add_back, relief));
        close(back.measures.volume, front.measures.volume, 1e-9);
        let [x, y, z] = front.measures.centre_of_mass;
        let [bx, by, bz] = back.measures.centre_of_mass;
        assert!((bx + x).abs() < 1e-6 && (by - y).abs() < 1e-6);
        assert!((bz - (front.measures.high[2] - z)).abs() < 1e-6);
        assert_eq!(back.measures.low[2], 0.0, "it rests on the bed");
        // Seen from behind it reads like the front: its frame starts 6 mm from that side's left.
        let frame = back.layout.element("lettering-1").unwrap().frame;
        assert!((35.0 - frame.x1 - 6.0).abs() < 1e-4);
    }
}

#[test]
fn what_is_sunk_into_both_faces_is_found_before_it_meets() {
    let back_to_back = |by: f64| {
        let mut edits = plate(70.0, 25.0, 3.0);
        edits.extend([
            add(ElementKind::Recess),
            add_back(ElementKind::Lettering),
            set("lettering-1", "relief", json!({ "recessed": { "by": by } })),
        ]);
        let piece = edited(&Piece::new("Test", Unit::Millimetre), &edits);
        let found = worked(&piece, Tolerance::Draft).findings;
        found.into_iter().find(|finding| finding.code == "back-to-back").map(|f| f.message)
    };
    assert_eq!(back_to_back(1.0), None);
    assert!(back_to_back(1.2).unwrap().contains("Only 0.3 mm"));
    assert!(back_to_back(1.5).unwrap().contains("nothing is left"));
}

/// A groove takes what a rim of the same size adds; a flush inlay fills what it lies in.
#[test]
fn grooves_shares_and_inlays_come_to_their_closed_forms() {
    let disc = |edits: Vec<Edit>| {
        let mut all = plate(60.0, 60.0, 4.0);
        all.push(set("blank", "outline", json!("ellipse")));
        all.extend(edits);
        made(all).measures.volume
    };
    let (plain, band) = (PI * 900.0 * 4.0, PI * (27.0 * 27.0 - 25.0 * 25.0));
    let rim = |relief: Value| {
        disc(vec![
            add(ElementKind::Rim),
            set("rim-1", "inset", json!(3.0)),
            set("rim-1", "relief", relief),
        ])
    };
    close(rim(json!({ "raised": { "by": 1.5 } })), plain + 1.5 * band, 5e-4);
    close(rim(json!({ "raised": { "fraction": 0.25 } })), plain + 1.0 * band, 5e-4);
    close(rim(json!({ "recessed": { "floor": 1.0 } })), plain - 3.0 * band, 5e-4);
    close(rim(json!({ "flush": 0.6 })), plain, 5e-4);
    // A square post in a field of its own shape, level with the face.
    let field = json!({ "own": { "width": 30.0, "height": 20.0, "turn": 90.0, "outline":
        { "rectangle": { "top_left": "square", "top_right": "square", "bottom_right": { "round": 5.0 }, "bottom_left": { "chamfer": 4.0 } } } } });
    let found = disc(vec![
        add(ElementKind::Recess),
        set("recess-1", "shape", field),
        set("recess-1", "depth", json!({ "by": 1.5 })),
        add(ElementKind::Emblem),
        set("emblem-1", "shape", json!("square")),
        set("emblem-1", "width", json!(10.0)),
        set("emblem-1", "relief", json!({ "raised": "level-with-face" })),
    ]);
    let area = 600.0 - 8.0 - (1.0 - PI / 4.0) * 25.0;
    close(found, plain - 1.5 * (area - 100.0), 5e-4);
}

#[test]
fn loops_of_their_own_thickness_and_for_ribbons() {
    let tag = |edits: Vec<Edit>| {
        let mut all = plate(50.0, 20.0, 3.0);
        all.extend([add(ElementKind::Loop), set("loop-1", "blend", json!(0.0))]);
        all.extend(edits);
        made(all)
    };
    let thick = tag(vec![]);
    let own = json!({ "thickness": 1.5, "edges": { "top": "square", "bottom": "square" } });
    let thin = tag(vec![set("loop-1", "own", own)]);
    // The ring's own area outside the plate, at half the thickness.
    let ring = thick.measures.volume - 3.0 * (1000.0 - (4.0 - PI) * 9.0);
    close(thick.measures.volume - thin.measures.volume, ring / 2.0, 2e-3);
    let raised = json!({ "thickness": 5.0, "edges": { "top": { "chamfer": 0.5 }, "bottom": { "round": 0.5 } } });
    assert_eq!(tag(vec![set("loop-1", "own", raised)]).measures.high[2], 5.0);
    // An opening of 20 × 8 mm and a wall of 2 mm all around, at the upper edge.
    let bar = tag(vec![
        set("loop-1", "at", json!({ "angle": 90.0 })),
        set("loop-1", "ribbon", json!(20.0)),
    ]);
    assert!((bar.measures.high[1] - 20.0).abs() < 0.02, "{:?}", bar.measures.high);
}

/// A rectangle whose corners are square.
fn square_corners() -> Value {
    json!({ "rectangle": {
        "top_left": "square", "top_right": "square",
        "bottom_right": "square", "bottom_left": "square" } })
}

/// A plate whose corners are square.
fn sharp(width: f64, height: f64, thickness: f64) -> Vec<Edit> {
    [plate(width, height, thickness), vec![set("blank", "outline", square_corners())]].concat()
}

/// Makes the first recess a rectangle of its own.
fn rectangular(width: f64, height: f64) -> Edit {
    let own = json!({
        "width": width, "height": height, "outline": square_corners(), "turn": 0.0 });
    set("recess-1", "shape", json!({ "own": own }))
}

/// What goes through goes through whatever stands on either face, in whichever order they were added.
#[test]
fn through_goes_through_what_is_raised_on_either_face() {
    let cut = |kind: &str| match kind {
        "hole" => (
            ElementKind::Hole,
            "hole-1",
            vec![
                set("hole-1", "diameter", json!(6.0)),
                set("hole-1", "place.across", json!({ "from": "centre", "distance": 0.0 })),
            ],
        ),
        "emblem" => (
            ElementKind::Emblem,
            "emblem-1",
            vec![
                set("emblem-1", "width", json!(12.0)),
                set("emblem-1", "relief", json!("through")),
            ],
        ),
        "lettering" => (
            ElementKind::Lettering,
            "lettering-1",
            vec![
                set("lettering-1", "lines.0.words", json!("IL")),
                set("lettering-1", "size", json!({ "height": 9.0 })),
                set("lettering-1", "relief", json!("through")),
            ],
        ),
        _ => (
            ElementKind::Rim,
            "rim-1",
            vec![
                set("rim-1", "inset", json!(15.0)),
                set("rim-1", "width", json!(2.0)),
                set("rim-1", "relief", json!("through")),
            ],
        ),
    };
    for kind in ["hole", "emblem", "lettering", "rim"] {
        for pads_first in [true, false] {
            // Two pads, 26 mm square, 1 mm proud in front and 2 mm behind, over all that is cut.
            let pad = |id: usize, height: f64| {
                let id = format!("emblem-{id}");
                vec![
                    set(&id, "shape", json!("square")),
                    set(&id, "width", json!(26.0)),
                    set(&id, "relief", json!({ "raised": { "by": height } })),
                    set(&id, "place.across", json!({ "from": "centre", "distance": 0.0 })),
                    set(&id, "place.up", json!({ "from": "centre", "distance": 0.0 })),
                ]
            };
            let (element, id, own) = cut(kind);
            let first = if kind == "emblem" && !pads_first { 2 } else { 1 };
            let id = if kind == "emblem" && pads_first { "emblem-3" } else { id };
            let own: Vec<Edit> = own.into_iter().map(|edit| renamed(edit, id)).collect();
            let mut pads = vec![add(ElementKind::Emblem)];
            pads.extend(pad(first, 1.0));
            pads.push(add_back(ElementKind::Emblem));
            pads.extend(pad(first + 1, 2.0));
            let cutting = [vec![add(element)], own].concat();
            let steps = if pads_first { [pads, cutting] } else { [cutting, pads] };
            let edits = [sharp(40.0, 40.0, 3.0), steps.concat()].concat();
            let piece = edited(&Piece::new("Test", Unit::Millimetre), &edits);
            let found = worked(&piece, Tolerance::Fine);
            assert!(found.mesh.faults().is_sound());
            let layout = &found.layout;
            let area = layout.element(id).unwrap().region.area();
            let all = if kind == "rim" { 26.0 * 26.0 } else { f64::INFINITY };
            assert!(area > 20.0 && area < all, "{kind} {area}");
            let exact = 1600.0 * 3.0 + 26.0 * 26.0 * 3.0 - 6.0 * area;
            close(found.measures.volume, exact, 1e-6);
            assert!(layout.element(id).unwrap().through);
        }
    }
}

/// The same edit of an element with another id.
fn renamed(edit: Edit, id: &str) -> Edit {
    match edit {
        Edit::Set { target: Address::Element(component, _), field, value } => {
            Edit::Set { target: Address::Element(component, id.into()), field, value }
        }
        edit => edit,
    }
}

/// A blind hole deeper than the plate ends in what is raised on the other face.
#[test]
fn a_hole_of_a_depth_is_that_deep_from_its_face() {
    let mut edits = sharp(40.0, 40.0, 3.0);
    edits.extend([
        add_back(ElementKind::Emblem),
        set("emblem-1", "shape", json!("square")),
        set("emblem-1", "width", json!(20.0)),
        set("emblem-1", "relief", json!({ "raised": { "by": 5.0 } })),
        add(ElementKind::Hole),
        set("hole-1", "shape", json!("square")),
        set("hole-1", "diameter", json!(6.0)),
        set("hole-1", "depth", json!(4.0)),
        set("hole-1", "place.across", json!({ "from": "centre", "distance": 0.0 })),
    ]);
    let found = made(edits);
    close(found.measures.volume, 4800.0 + 5.0 * 400.0 - 4.0 * 36.0, 1e-9);
}

/// Every part of a figure starts from the ground below that part, in whichever order they were added.
#[test]
fn ground_is_what_lies_below_each_part_of_the_thing_itself() {
    // A field 16 mm square and 2 mm deep in the middle of a plate of 4 mm.
    let field = || {
        vec![
            add(ElementKind::Recess),
            rectangular(16.0, 16.0),
            set("recess-1", "depth", json!({ "by": 2.0 })),
        ]
    };
    let round = |relief: Value| {
        vec![
            add(ElementKind::Lettering),
            set("lettering-1", "lines.0.words", json!("SKERRY POINT")),
            set("lettering-1", "size", json!({ "height": 4.0 })),
            set(
                "lettering-1",
                "course",
                json!({ "circle": {
                "radius": 14.0, "reading": "clockwise", "side": "outside", "middle": 90.0 } }),
            ),
            set("lettering-1", "relief", relief),
        ]
    };
    let straight = |relief: Value| {
        vec![
            add(ElementKind::Lettering),
            set("lettering-1", "lines.0.words", json!("LIGHTHOUSE")),
            set("lettering-1", "size", json!({ "height": 5.0 })),
            set("lettering-1", "relief", relief),
        ]
    };
    let copies = |relief: Value| {
        vec![
            add(ElementKind::Emblem),
            set("emblem-1", "shape", json!("square")),
            set("emblem-1", "width", json!(4.0)),
            set("emblem-1", "relief", relief),
            set("emblem-1", "repeat", json!({ "row": { "count": 3, "across": 9.0, "up": 0.0 } })),
        ]
    };
    type Figure<'a> = (&'a str, &'a dyn Fn(Value) -> Vec<Edit>);
    let figures: [Figure<'_>; 3] =
        [("lettering-1", &round), ("lettering-1", &straight), ("emblem-1", &copies)];
    let square = kalotype_core::plane::Rect::centred(16.0, 16.0);
    let square = kalotype_core::plane::rounded_rectangle(square, 0.0, Tolerance::Fine);
    let reliefs = [
        (json!({ "raised": { "by": 1.0 } }), 1.0, 1.0),
        (json!({ "recessed": { "by": 0.5 } }), -0.5, -0.5),
        (json!({ "raised": "level-with-face" }), 2.0, 0.0),
        (json!({ "raised": "level-with-rim" }), 3.0, 1.0),
    ];
    for (id, figure) in figures {
        for (relief, inside, outside) in &reliefs {
            let mut volumes = Vec::new();
            for field_first in [true, false] {
                let steps = match field_first {
                    true => [field(), figure(relief.clone())],
                    false => [figure(relief.clone()), field()],
                };
                let edits = [sharp(60.0, 60.0, 4.0), steps.concat()].concat();
                let piece = edited(&Piece::new("Test", Unit::Millimetre), &edits);
                let found = worked(&piece, Tolerance::Fine);
                assert!(found.mesh.faults().is_sound());
                let region = found.layout.element(id).unwrap().region.clone();
                let within = region.intersection(&square).area();
                let beside = region.difference(&square).area();
                let exact = 3600.0 * 4.0 - 256.0 * 2.0 + inside * within + outside * beside;
                let volume = found.measures.volume;
                assert!((volume - exact).abs() < 0.02, "{id} {relief}: {volume} {exact}");
                volumes.push(volume);
            }
            assert!((volumes[0] - volumes[1]).abs() < 1e-6, "{id} {relief}: {volumes:?}");
        }
    }
}

/// A step in the ground makes no groove in what stands across it.
#[test]
fn a_treated_edge_follows_the_step_of_the_ground() {
    // A bar 4 mm wide across a field 2 mm deep, level with the face's rim: its top is one, and its
    // chamfer runs round all of it. Frusta as in the prismatoid formula.
    let mut edits = sharp(60.0, 30.0, 4.0);
    edits.extend([
        add(ElementKind::Recess),
        set("recess-1", "shape", json!({ "inset": 10.0 })),
        set("recess-1", "depth", json!({ "by": 2.0 })),
        add(ElementKind::Emblem),
        set("emblem-1", "shape", json!("square")),
        set("emblem-1", "width", json!(20.0)),
        set("emblem-1", "relief", json!({ "raised": "level-with-rim" })),
        set("emblem-1", "edge", json!({ "chamfer": 0.5 })),
    ]);
    let found = made(edits);
    let (field, square) = (40.0 * 10.0, 400.0);
    let frustum = 0.5 / 6.0 * (400.0 + 4.0 * 19.5 * 19.5 + 19.0 * 19.0);
    let exact = 1800.0 * 4.0 - 2.0 * field + 2.0 * 20.0 * 10.0 + 0.5 * square + frustum;
    close(found.measures.volume, exact, 1e-6);
}

/// Flush inlays across edges and corners, on both faces: they change no shape.
fn inlaid() -> Vec<Edit> {
    let mut edits = Vec::new();
    for (i, (x, y)) in [(0.0, 0.0), (0.3, 17.0), (-9.0, 0.8)].into_iter().enumerate() {
        for (k, add) in [add, add_back].into_iter().enumerate() {
            let id = format!("emblem-{}", 2 * i + k + 1);
            edits.extend([
                add(ElementKind::Emblem),
                set(&id, "shape", json!(["star", "heart"][k])),
                set(&id, "width", json!(9.0)),
                set(&id, "relief", json!({ "flush": 1.2 })),
                set(&id, "place.across", json!({ "from": "left", "distance": x })),
                set(&id, "place.up", json!({ "from": "bottom", "distance": y })),
                Edit::Colour {
                    target: address(&id),
                    field: "colour".into(),
                    filament: kalotype_core::filament::shipped_palette().into_iter().nth(1 + k),
                },
            ]);
        }
    }
    edits
}

/// A chamfer takes what its frusta say (prismatoid formula), a round what its quarter circle does
/// (integral of the inset and its square), whatever lies across them, at every tolerance.
#[test]
fn edges_take_their_closed_forms_whatever_crosses_them() {
    let lost = |inset: f64, squared: f64| 2.0 * 80.0 * inset - 4.0 * squared;
    // Over a chamfer c the inset runs evenly from c to 0: ∫i = c²/2, ∫i² = c³/3.
    let chamfer = |c: f64| lost(c * c / 2.0, c * c * c / 3.0);
    // Over a round r it is r − √(r² − u²): ∫i = r²(1 − π/4), ∫i² = r³(5/3 − π/2).
    let round = |r: f64| lost(r * r * (1.0 - PI / 4.0), r * r * r * (5.0 / 3.0 - PI / 2.0));
    // A slot from behind across the left edge, 10 × 6 mm and 2 mm deep, takes what the chamfer left.
    let slot = vec![
        add_back(ElementKind::Recess),
        rectangular(10.0, 6.0),
        set("recess-1", "depth", json!({ "by": 2.0 })),
        set("recess-1", "place.across", json!({ "from": "left", "distance": 0.0 })),
        set("recess-1", "place.up", json!({ "from": "centre", "distance": 0.0 })),
    ];
    let of_slot = |c: f64| 6.0 * (10.0 * 2.0 - c * c / 2.0);
    for tolerance in [Tolerance::Draft, Tolerance::Normal, Tolerance::Fine] {
        // A chord over a quarter circle keeps off it by at most the tolerance, over its whole length.
        let strays = |r: f64| tolerance.chord_mm() * (PI * r / 2.0) * 160.0;
        for (top, bottom, exact, slack) in [
            (json!({ "chamfer": 1.0 }), 0.5, chamfer(1.0) + chamfer(0.5), 2e-3),
            (json!({ "chamfer": 2.9 }), 3.0, chamfer(2.9) + chamfer(3.0), 1e-2),
            (json!({ "round": 2.0 }), 1.5, round(2.0) + chamfer(1.5), strays(2.0)),
        ] {
            let whole = vec![
                set("blank", "edges.top", top.clone()),
                set("blank", "edges.bottom", json!({ "chamfer": bottom })),
            ];
            let plain = [sharp(40.0, 40.0, 6.0), whole].concat();
            for (extra, taken) in [
                (vec![], 0.0),
                (inlaid(), 0.0),
                ([inlaid(), slot.clone()].concat(), of_slot(bottom)),
                ([slot.clone(), inlaid()].concat(), of_slot(bottom)),
            ] {
                let edits = [plain.clone(), extra].concat();
                let piece = edited(&Piece::new("Test", Unit::Millimetre), &edits);
                let found = worked(&piece, tolerance);
                assert!(found.mesh.faults().is_sound());
                // The slot may end in the front's edge.
                if bottom == 3.0 && taken > 0.0 {
                    continue;
                }
                let off = found.measures.volume - (9600.0 - exact - taken);
                assert!(off.abs() < slack, "{top} {bottom} {tolerance:?} {taken}: {off}");
                assert_eq!(found.measures.high[2], 6.0);
            }
        }
    }
}

/// Any outline: between foot and head a treated edge is the outline drawn in, by the integer overlay's
/// offsets (`i_overlay`), in two hundred slices.
#[test]
fn edges_of_any_outline_are_its_offsets() {
    let outlines = [
        json!({ "star": { "points": 5, "inner": 0.5, "turn": 0.0, "rounding": 0.0 } }),
        json!({ "star": { "points": 7, "inner": 0.7, "turn": 10.0, "rounding": 1.0 } }),
        json!("heart"),
        json!("shield"),
        json!({ "ring": { "inside": 12.0 } }),
        json!({ "scallop": { "waves": 9, "depth": 1.5 } }),
    ];
    for outline in outlines {
        for extra in [vec![], inlaid()] {
            let size = |top: f64| {
                let mut edits = plate(44.0, 40.0, 6.0);
                edits.extend([
                    set("blank", "outline", outline.clone()),
                    set("blank", "edges.top", json!({ "chamfer": top })),
                    set("blank", "edges.bottom", json!({ "chamfer": 1.0 })),
                ]);
                edits.extend(extra.clone());
                let piece = edited(&Piece::new("Test", Unit::Millimetre), &edits);
                worked(&piece, Tolerance::Fine)
            };
            let found = size(2.0);
            assert!(found.mesh.faults().is_sound());
            // As large as it was carried out.
            let prism = &found.layout.blank.prisms[0];
            let (top, bottom) = (prism.top_edge.size(), prism.bottom_edge.size());
            let slices = 100;
            let under = |edge: f64| {
                let slice = |i: u32| {
                    let inset = edge * (f64::from(i) + 0.5) / f64::from(slices);
                    prism.outline.offset(-inset, Tolerance::Fine).area() * edge / f64::from(slices)
                };
                (0..slices).map(slice).sum::<f64>()
            };
            let exact = under(top) + under(bottom) + prism.outline.area() * (6.0 - top - bottom);
            let off = found.measures.volume - exact;
            assert!(off.abs() < 2e-4 * exact, "{outline} {top} {bottom}: {off} of {exact}");
            assert_eq!(found.measures.high[2], 6.0);
        }
    }
}

/// What the page shows can be exported finer: neither outlines nor heights run out.
#[test]
fn many_outlines_and_many_heights_are_built_at_every_tolerance() {
    // Forty holes with both edges rounded, four columns by ten: countersinks by Pappus, a quarter
    // circle's outside turned about the hole's axis: 2π (r²(1 − π/4)) times the way of its centroid.
    let (radius, edge) = (1.0, 0.8);
    let mut edits = sharp(80.0, 60.0, 4.0);
    for i in 0..40 {
        let id = format!("hole-{}", i + 1);
        let (x, y) = (10.0 + 20.0 * f64::from(i % 4), 3.0 + 6.0 * f64::from(i / 4));
        edits.extend([
            add(ElementKind::Hole),
            set(&id, "diameter", json!(2.0 * radius)),
            set(&id, "edges.top", json!({ "round": edge })),
            set(&id, "edges.bottom", json!({ "round": edge })),
            set(&id, "place.across", json!({ "from": "left", "distance": x })),
            set(&id, "place.up", json!({ "from": "bottom", "distance": y })),
        ]);
    }
    // ∫ π((r + i)² − r²) over the round, with ∫i = e²(1 − π/4) and ∫i² = e³(5/3 − π/2).
    let (first, second) = (edge * edge * (1.0 - PI / 4.0), edge.powi(3) * (5.0 / 3.0 - PI / 2.0));
    let countersink = PI * (2.0 * radius * first + second);
    let exact = 80.0 * 60.0 * 4.0 - 40.0 * (PI * radius * radius * 4.0 + 2.0 * countersink);
    let piece = edited(&Piece::new("Test", Unit::Millimetre), &edits);
    for tolerance in [Tolerance::Draft, Tolerance::Normal, Tolerance::Fine] {
        let found = worked(&piece, tolerance);
        assert!(found.stop.is_none() && found.mesh.faults().is_sound(), "{:?}", found.stop);
        let off = (found.measures.volume - exact).abs();
        assert!(off < 40.0 * tolerance.chord_mm() * 30.0, "{tolerance:?} {off}");
    }

    // Three big rounds, of different sizes so that no two have a height in common.
    let mut edits = sharp(80.0, 60.0, 40.0);
    edits.extend([
        set("blank", "edges.top", json!({ "round": 19.0 })),
        set("blank", "edges.bottom", json!({ "round": 17.0 })),
        add(ElementKind::Hole),
        set("hole-1", "diameter", json!(8.0)),
        set("hole-1", "edges.top", json!({ "round": 6.3 })),
        set("hole-1", "place.across", json!({ "from": "centre", "distance": 0.0 })),
    ]);
    let piece = edited(&Piece::new("Test", Unit::Millimetre), &edits);
    for tolerance in [Tolerance::Draft, Tolerance::Normal, Tolerance::Fine] {
        let found = worked(&piece, tolerance);
        assert!(found.stop.is_none() && found.mesh.faults().is_sound(), "{:?}", found.stop);
    }
}
