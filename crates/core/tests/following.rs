//! Things that follow: places by other elements, plates that grow, halos, patterns and codes.

mod common;

use common::{add, address, close, edited, fresh, set, try_edits, worked};
use kalotype_core::piece::{Edit, ElementKind, Kind, Piece};
use kalotype_core::plane::{Rect, Region, Tolerance};
use kalotype_core::preflight::Weight;
use kalotype_core::units::Unit;
use proptest::prelude::*;
use serde_json::{Value, json};
use std::f64::consts::PI;

const ALL_TOLERANCES: [Tolerance; 3] = [Tolerance::Draft, Tolerance::Normal, Tolerance::Fine];

fn blank_plate(width: f64, height: f64, thickness: f64) -> Piece {
    let square = json!({
        "rectangle": {
            "top_left": "square", "top_right": "square", "bottom_right": "square",
            "bottom_left": "square", "rounding": 0.0,
        }
    });
    edited(
        &Piece::new("Berth 7", Unit::Millimetre),
        &[
            set("blank", "width", width),
            set("blank", "height", height),
            set("blank", "thickness", thickness),
            set("blank", "outline", square),
        ],
    )
}

fn by(element: &str, side: &str, gap: f64, in_line: &str, shift: f64) -> Value {
    json!({ "element": element, "side": side, "gap": gap, "in_line": in_line, "shift": shift })
}

fn frame(piece: &Piece, id: &str) -> Rect {
    worked(piece, Tolerance::Draft).layout.element(id).unwrap().frame
}

fn region(piece: &Piece, id: &str, tolerance: Tolerance) -> Region {
    worked(piece, tolerance).layout.element(id).unwrap().region.clone()
}

/// A square emblem of a size, its middle at a distance from that of the plate.
fn square(id: &str, size: f64, at: (f64, f64), height: f64) -> Vec<Edit> {
    let centre = |mm: f64| json!({ "from": "centre", "distance": mm });
    vec![
        add(ElementKind::Emblem),
        set(id, "shape", "square"),
        set(id, "width", size),
        set(id, "relief", json!({ "raised": { "by": height } })),
        set(id, "place.across", centre(at.0)),
        set(id, "place.up", centre(at.1)),
    ]
}

/// Emblem, name, emblem: whatever the name, they keep their distance from it, and all of it is centred; by hand.
#[test]
fn a_row_is_centred_as_a_whole_and_follows_its_name() {
    let row = edited(
        &blank_plate(120.0, 30.0, 3.0),
        &[
            add(ElementKind::Lettering),
            set("lettering-1", "size", json!({ "height": 8.0 })),
            add(ElementKind::Emblem),
            set("emblem-1", "width", 10.0),
            set("emblem-1", "place.by", by("lettering-1", "left", 2.0, "middle", 0.0)),
            add(ElementKind::Emblem),
            set("emblem-2", "width", 6.0),
            set("emblem-2", "place.by", by("lettering-1", "right", 3.0, "low", 0.5)),
            add(ElementKind::Emblem),
            set("emblem-3", "width", 4.0),
            set("emblem-3", "place.by", by("emblem-2", "right", 1.0, "middle", 0.0)),
        ],
    );
    for words in ["Å", "SOLVEIG", "Łucja Ωmega"] {
        let piece = edited(&row, &[set("lettering-1", "lines.0.words", words)]);
        let [name, left, right, last] =
            ["lettering-1", "emblem-1", "emblem-2", "emblem-3"].map(|id| frame(&piece, id));
        assert!((name.x0 - left.x1 - 2.0).abs() < 1e-3, "{words}");
        assert!((right.x0 - name.x1 - 3.0).abs() < 1e-3 && (right.y0 - name.y0 - 0.5).abs() < 1e-3);
        assert!((last.x0 - right.x1 - 1.0).abs() < 1e-3);
        assert!((last.centre().1 - right.centre().1).abs() < 1e-3);
        assert!((left.centre().1 - name.centre().1).abs() < 1e-3);
        assert!((left.x0 + last.x1).abs() < 2e-2, "{words}: {left:?} {last:?}");
        // Alone, the name is in the middle and the rest hangs on it.
        let alone = edited(&piece, &[set("lettering-1", "place.alone", true)]);
        assert!(frame(&alone, "lettering-1").centre().0.abs() < 1e-3);
        assert!(
            (frame(&alone, "emblem-2").x0 - frame(&alone, "lettering-1").x1 - 3.0).abs() < 1e-3
        );
    }
    // In another order of the list nothing moves.
    let moved = edited(&row, &[Edit::Move { target: address("emblem-3"), by: -3 }]);
    assert_eq!(moved.first().elements[0].id, "emblem-3");
    assert_eq!(frame(&moved, "emblem-3"), frame(&row, "emblem-3"));
    // On the back it is the same from there.
    let ids = ["lettering-1", "emblem-1", "emblem-2", "emblem-3"];
    let all: Vec<Value> = ids.iter().map(|_| json!("back")).collect();
    let mut json = serde_json::to_value(&row).unwrap();
    for (i, face) in all.into_iter().enumerate() {
        json["components"][0]["elements"][i]["face"] = face;
    }
    let turned: Piece = serde_json::from_value(json).unwrap();
    assert!(turned.problems().is_empty());
    for id in ids {
        let (back, front) = (frame(&turned, id).mirrored(), frame(&row, id));
        assert!((back.x0 - front.x0).abs() < 1e-3 && (back.y1 - front.y1).abs() < 1e-3, "{id}");
    }
}

/// Holes and recesses can be what others are placed by; copies in a row count as one.
#[test]
fn other_things_can_lead_too() {
    let piece = edited(
        &blank_plate(120.0, 30.0, 3.0),
        &[
            add(ElementKind::Hole),
            set("hole-1", "place.across", json!({ "from": "left", "distance": 10.0 })),
            set("hole-1", "repeat", json!({ "row": { "count": 3, "across": 8.0, "up": 0.0 } })),
            add(ElementKind::Emblem),
            set("emblem-1", "place.by", by("hole-1", "right", 2.0, "middle", 0.0)),
        ],
    );
    let hole = frame(&piece, "hole-1");
    assert!((frame(&piece, "emblem-1").x0 - (hole.x1 + 16.0 + 2.0)).abs() < 1e-3);
}

#[test]
fn circles_and_strangers_are_refused_in_words() {
    let piece = edited(
        &blank_plate(120.0, 30.0, 3.0),
        &[
            add(ElementKind::Lettering),
            add(ElementKind::Emblem),
            add(ElementKind::Emblem),
            add(ElementKind::Rim),
            set("emblem-1", "place.by", by("lettering-1", "right", 2.0, "middle", 0.0)),
            set("emblem-2", "place.by", by("emblem-1", "right", 2.0, "middle", 0.0)),
        ],
    );
    let refused = |target: &str, of: &str| {
        let edit = set(target, "place.by", by(of, "left", 1.0, "middle", 0.0));
        let error = try_edits(&piece, &[edit]).unwrap_err();
        assert_eq!(error.field, "place.by");
        error.message
    };
    assert_eq!(
        refused("lettering-1", "emblem-2"),
        "“NAME” cannot be placed by “star”, which is placed by it in turn."
    );
    assert_eq!(refused("emblem-1", "emblem-1"), "“star” cannot be placed by itself.");
    assert!(refused("emblem-1", "rim-1").contains("On this face is no “rim-1”"));
    assert!(refused("emblem-1", "gone-1").contains("On this face is no “gone-1”"));
}

/// Words of a row give way so that all of it lies within the clear area; by how much follows from their box.
#[test]
fn a_row_fits_with_its_followers() {
    let piece = edited(
        &Piece::new("Berth 7", Unit::Millimetre),
        &[
            add(ElementKind::Lettering),
            set("lettering-1", "lines.0.words", "FRIÐRIKA ÞORSTEINSDÓTTIR"),
            set("lettering-1", "size", json!({ "height": 9.0 })),
            add(ElementKind::Emblem),
            set("emblem-1", "width", 8.0),
            set("emblem-1", "place.by", by("lettering-1", "right", 2.0, "middle", 0.0)),
        ],
    );
    let made = worked(&piece, Tolerance::Normal);
    let clear = made.layout.faces[0].clear.unwrap();
    let (name, star) = (made.layout.element("lettering-1").unwrap(), frame(&piece, "emblem-1"));
    let ink = name.region.bounds().unwrap();
    assert!(name.drawn.letter_height < 9.0);
    assert!((ink.x0 - clear.x0).abs() < 0.02 && (star.x1 - clear.x1).abs() < 0.02);
    // What fills the clear area leaves them room, too.
    let filling = edited(&piece, &[set("lettering-1", "size", json!("clear-area"))]);
    let (ink, star) = (
        region(&filling, "lettering-1", Tolerance::Normal).bounds().unwrap(),
        frame(&filling, "emblem-1"),
    );
    assert!(ink.x0 > clear.x0 - 0.05 && star.x1 < clear.x1 + 0.05, "{ink:?} {star:?} {clear:?}");
}

fn grows(most: f64, step: f64) -> Value {
    json!({ "most": most, "step": step })
}

/// A plate as long as its name: margins on both sides, the hole at its distance from its edge; by hand. A least,
/// a most and steps are kept to.
#[test]
fn a_plate_grows_with_its_name() {
    let base = edited(
        &blank_plate(40.0, 20.0, 3.0),
        &[
            set("blank", "grows.width", grows(200.0, 0.0)),
            add(ElementKind::Hole),
            set("hole-1", "diameter", 5.0),
            set("hole-1", "place.across", json!({ "from": "left", "distance": 6.0 })),
            add(ElementKind::Lettering),
            set("lettering-1", "size", json!({ "height": 8.0 })),
            set("lettering-1", "place.across", json!({ "from": "clear", "distance": 0.0 })),
        ],
    );
    for words in ["FRIÐRIKA ÞORSTEINSDÓTTIR", "SKERRY POINT FERRY"] {
        let piece = edited(&base, &[set("lettering-1", "lines.0.words", words)]);
        for tolerance in ALL_TOLERANCES {
            let made = worked(&piece, tolerance);
            let (plate, name) =
                (made.layout.blank.rect, made.layout.element("lettering-1").unwrap());
            let ink = name.region.bounds().unwrap();
            assert_eq!(name.drawn.letter_height, 8.0);
            // Hole to 8.5 mm from the left, 2 mm margin beside it; 2 mm margin on the right.
            assert!((ink.x0 - (plate.x0 + 10.5)).abs() < 0.03, "{tolerance:?} {ink:?} {plate:?}");
            assert!((plate.x1 - ink.x1 - 2.0).abs() < 0.03, "{tolerance:?} {ink:?} {plate:?}");
            let hole = made.layout.element("hole-1").unwrap().frame.centre().0;
            assert!((hole - plate.x0 - 6.0).abs() < 1e-3);
            assert!(
                made.mesh.faults().is_sound()
                    && made.findings.iter().all(|one| one.code == "may-lift"),
                "{:?}",
                made.findings
            );
        }
    }
    let width =
        |edits: &[Edit]| worked(&edited(&base, edits), Tolerance::Draft).layout.blank.rect.width();
    let long = set("lettering-1", "lines.0.words", "FRIÐRIKA ÞORSTEINSDÓTTIR");
    let exact = width(std::slice::from_ref(&long));
    assert_eq!(width(&[set("lettering-1", "lines.0.words", "Å")]), 40.0);
    let stepped = width(&[long.clone(), set("blank", "grows.width.step", 5.0)]);
    assert!(
        (stepped - 40.0) % 5.0 == 0.0 && (0.0..5.0).contains(&(stepped - exact)),
        "{stepped} {exact}"
    );
    assert_eq!(width(&[long.clone(), set("blank", "grows.width.most", 70.0)]), 70.0);
    // At the most words give way, and it is said how much more it would take; taken, nothing is left to say.
    let most = edited(
        &base,
        &[
            long.clone(),
            set("blank", "grows.width.most", 70.0),
            set("lettering-1", "gives", "size"),
        ],
    );
    let made = worked(&most, Tolerance::Normal);
    assert!(made.layout.element("lettering-1").unwrap().drawn.letter_height < 8.0);
    let finding = made.findings.iter().find(|one| one.code == "plate-at-most").unwrap();
    let mended = edited(&most, &finding.remedies[0].edits);
    let made = worked(&mended, Tolerance::Normal);
    assert_eq!(made.layout.element("lettering-1").unwrap().drawn.letter_height, 8.0);
    assert!(made.findings.iter().all(|one| one.code == "may-lift"), "{:?}", made.findings);
    // Three hundred letters are more than any plate has.
    let endless = edited(&base, &[set("lettering-1", "lines.0.words", "Łß".repeat(150))]);
    let made = worked(&endless, Tolerance::Draft);
    assert_eq!(made.layout.blank.rect.width(), 200.0);
    assert!(made.findings.iter().any(|one| one.code == "plate-at-most" && one.remedies.is_empty()));
    let error = try_edits(&base, &[set("blank", "grows.width.most", 30.0)]).unwrap_err();
    assert!(
        error.message.contains("40 mm at the least and 30 mm at the most"),
        "{}",
        error.message
    );
}

/// Recesses, rims and joints go with a plate that grew; its volume is in closed form.
#[test]
fn what_follows_the_outline_grows_with_it() {
    let piece = edited(
        &blank_plate(20.0, 10.0, 4.0),
        &[
            set(
                "blank",
                "grows",
                json!({ "width": grows(200.0, 0.0), "height": grows(100.0, 0.0) }),
            ),
            add(ElementKind::Rim),
            set("rim-1", "width", 1.0),
            set("rim-1", "relief", json!({ "raised": { "by": 1.0 } })),
            add(ElementKind::Recess),
            set("recess-1", "shape", json!({ "inset": 1.0 })),
            set("recess-1", "depth", json!({ "by": 1.0 })),
        ],
    );
    let piece = edited(&piece, &square("emblem-1", 30.0, (0.0, 0.0), 2.0));
    for tolerance in ALL_TOLERANCES {
        let made = worked(&piece, tolerance);
        let side = 30.0 + 2.0 * 1.0 + 2.0 * 2.0;
        let rect = made.layout.blank.rect;
        assert!(
            (rect.width() - side).abs() < 0.011 && (rect.height() - side).abs() < 0.011,
            "{rect:?}"
        );
        let (w, h) = (rect.width(), rect.height());
        let rim = w * h - (w - 2.0) * (h - 2.0);
        let exact = w * h * 3.0 + rim * 2.0 + 900.0 * 2.0;
        close(made.measures.volume, exact, 1e-6);
    }
    // Round and six-cornered outlines hold what they should, and no more by a hair.
    for outline in
        [json!("ellipse"), json!({ "polygon": { "sides": 6, "turn": 0.0, "rounding": 2.0 } })]
    {
        let plain = edited(
            &piece,
            &[
                Edit::Remove { target: address("rim-1") },
                Edit::Remove { target: address("recess-1") },
                set("blank", "outline", outline),
            ],
        );
        let made = worked(&plain, Tolerance::Normal);
        let star = made.layout.element("emblem-1").unwrap();
        let room = made.layout.blank.base.offset(-2.0, Tolerance::Normal);
        assert!(star.region.difference(&room).area() < 0.05, "{:?}", made.layout.blank.rect);
        let tight = made.layout.blank.base.offset(-2.6, Tolerance::Normal);
        assert!(star.region.difference(&tight).area() > 1e-3, "{:?}", made.layout.blank.rect);
    }
}

/// A halo round a square, in closed form for its three corners: raised with the square standing on it, sunk, flush,
/// in one and in three steps, whatever the order of the list; at all tolerances.
#[test]
fn halos_have_their_volumes() {
    let (a, t) = (10.0, 3.0);
    let base = edited(&blank_plate(60.0, 40.0, t), &square("emblem-1", a, (0.0, 0.0), 1.5));
    let grown = |d: f64, corner: f64| a * a + 4.0 * a * d + 4.0 * corner * d * d;
    for (corners, corner, cap) in
        [("round", PI / 4.0, 3e-4), ("sharp", 1.0, 1e-6), ("bevelled", 0.5, 1e-6)]
    {
        let halo = |edits: &[Edit]| {
            let mut all = vec![
                add(ElementKind::Halo),
                set("halo-1", "corners", corners),
                set("halo-1", "distance", 2.0),
                set("halo-1", "crevices", 0.0),
                set("halo-1", "relief", json!({ "raised": { "by": 0.8 } })),
            ];
            all.extend_from_slice(edits);
            edited(&base, &all)
        };
        let plate = 60.0 * 40.0 * t;
        let above = 1.5 * a * a;
        let steps = [set("halo-1", "steps", 3), set("halo-1", "widen", 1.0)];
        let terraces: f64 = [2.0, 3.0, 4.0].iter().map(|d| grown(*d, corner)).sum();
        let sunk = set("halo-1", "relief", json!({ "recessed": { "by": 0.7 } }));
        let cases = [
            (halo(&[]), plate + 0.8 * grown(2.0, corner) + above),
            (halo(&steps), plate + 0.8 * terraces + above),
            (halo(std::slice::from_ref(&sunk)), plate - 0.7 * grown(2.0, corner) + above),
            (halo(&[&steps[..], &[sunk]].concat()), plate - 0.7 * terraces + above),
            (halo(&[set("halo-1", "relief", json!({ "flush": 0.6 }))]), plate + above),
        ];
        for (piece, exact) in cases {
            for tolerance in ALL_TOLERANCES {
                let made = worked(&piece, tolerance);
                close(made.measures.volume, exact, cap);
                assert!(made.mesh.faults().is_sound());
                // The halo first in the list comes to the same.
                let first = edited(&piece, &[Edit::Move { target: address("halo-1"), by: -5 }]);
                assert_eq!(first.first().elements[0].id, "halo-1");
                close(worked(&first, tolerance).measures.volume, made.measures.volume, 1e-6);
            }
        }
    }
}

/// Letters sunk into a halo are sunk from its top; a hole goes through all of it; in a recess it stands on the
/// floor. By its own volume, each.
#[test]
fn what_lies_on_below_and_across_a_halo() {
    let base = edited(&blank_plate(60.0, 40.0, 3.0), &square("emblem-1", 10.0, (0.0, 0.0), 1.0));
    let grown = 14.0 * 14.0;
    let halo = [
        add(ElementKind::Halo),
        set("halo-1", "corners", "sharp"),
        set("halo-1", "distance", 2.0),
        set("halo-1", "crevices", 0.0),
        set("halo-1", "relief", json!({ "raised": { "by": 0.8 } })),
    ];
    let plate = 60.0 * 40.0 * 3.0;
    let sunk = edited(&base, &halo);
    let sunk = edited(&sunk, &[set("emblem-1", "relief", json!({ "recessed": { "by": 1.3 } }))]);
    let drilled = edited(
        &sunk,
        &[
            add(ElementKind::Hole),
            set("hole-1", "shape", "square"),
            set("hole-1", "diameter", 2.0),
            set("hole-1", "place.across", json!({ "from": "centre", "distance": 6.0 })),
        ],
    );
    let in_field = edited(
        &edited(&base, &halo),
        &[
            add(ElementKind::Recess),
            set("recess-1", "shape", json!({ "inset": 5.0 })),
            set("recess-1", "depth", json!({ "by": 1.0 })),
        ],
    );
    for tolerance in ALL_TOLERANCES {
        let volume = |piece: &Piece| worked(piece, tolerance).measures.volume;
        let exact = plate + 0.8 * grown - 1.3 * 100.0;
        close(volume(&sunk), exact, 1e-6);
        // The hole is 2 × 2 from 5 to 7: within the halo, beside the square.
        close(volume(&drilled), exact - 4.0 * 3.8, 1e-6);
        close(volume(&in_field), plate - 50.0 * 30.0 + 0.8 * grown + 100.0, 1e-6);
    }
}

/// A contour goes round the halo, and a halo in its own colour is a body of its own.
#[test]
fn contours_and_colours_go_with_halos() {
    let piece = edited(
        &blank_plate(60.0, 40.0, 3.0),
        &[
            &square("emblem-1", 10.0, (0.0, 0.0), 1.5)[..],
            &[
                add(ElementKind::Halo),
                set("halo-1", "corners", "sharp"),
                set("halo-1", "distance", 2.0),
                set("halo-1", "crevices", 0.0),
                set("halo-1", "relief", json!({ "raised": { "by": 0.8 } })),
                set(
                    "blank",
                    "outline",
                    json!({ "contour": { "offset": 1.0, "crevices": 0.0, "gaps": 0.0 } }),
                ),
                Edit::Colour {
                    target: address("halo-1"),
                    field: "colour".to_owned(),
                    filament: Some(kalotype_core::filament::shipped_palette().remove(1)),
                },
            ],
        ]
        .concat(),
    );
    for tolerance in ALL_TOLERANCES {
        let made = worked(&piece, tolerance);
        let contour = 196.0 + 56.0 + PI;
        close(made.measures.volume, contour * 3.0 + 0.8 * 196.0 + 150.0, 1e-3);
        assert_eq!(made.bodies.len(), 2);
        close(made.bodies[1].volume, 0.8 * 196.0, 1e-5);
    }
}

/// Stripes, squares and hexagons of a rectangle, whole ones counted by hand; sunk, raised and through.
#[test]
fn patterns_have_their_volumes() {
    let base = edited(
        &blank_plate(64.0, 44.0, 3.0),
        &[
            add(ElementKind::Pattern),
            set("pattern-1", "inset", 2.0),
            set("pattern-1", "pitch", 4.0),
            set("pattern-1", "line", 1.0),
            set("pattern-1", "relief", json!({ "recessed": { "by": 1.0 } })),
        ],
    );
    let plate = 64.0 * 44.0 * 3.0;
    // The field is 60 × 40 about the middle.
    // Squares of 3 every 4 about the middle: ±28 across are 15 whole, and at ±32 nothing is within 30 but
    // nothing; up ±16 are 9 whole, and those at ±20 reach from 18.5 to 20: a half.
    let squares = 15.0 * 3.0 * (9.0 * 3.0 + 2.0 * 1.5);
    let whole = 15.0 * 9.0 * 9.0;
    // Stripes of 3 by the same count, 60 long.
    let stripes = 60.0 * (9.0 * 3.0 + 2.0 * 1.5);
    let cases = [
        (vec![set("pattern-1", "motif", "squares")], squares),
        (vec![set("pattern-1", "motif", "squares"), set("pattern-1", "whole", true)], whole),
        (vec![set("pattern-1", "motif", "stripes")], stripes),
    ];
    for (edits, area) in cases {
        for tolerance in ALL_TOLERANCES {
            let sunk = edited(&base, &edits);
            close(worked(&sunk, tolerance).measures.volume, plate - area, 1e-6);
            let raised = json!({ "raised": { "by": 0.5 } });
            let raised = edited(&sunk, &[set("pattern-1", "relief", raised)]);
            close(worked(&raised, tolerance).measures.volume, plate + 0.5 * area, 1e-6);
            let through = edited(&sunk, &[set("pattern-1", "relief", "through")]);
            let made = worked(&through, tolerance);
            close(made.measures.volume, plate - 3.0 * area, 1e-6);
            assert_eq!(made.parts, 1);
        }
    }
}

/// A pattern keeps clear of words, holes and rims by its distance, fills a recess or a halo, and is left out of
/// neither order of the list.
#[test]
fn patterns_keep_clear_and_fill_what_they_are_told() {
    let piece = edited(
        &Piece::new("Berth 7", Unit::Millimetre),
        &[
            add(ElementKind::Pattern),
            set("pattern-1", "pitch", 3.0),
            set("pattern-1", "apart", 1.5),
            add(ElementKind::Hole),
            add(ElementKind::Lettering),
            set("lettering-1", "size", json!({ "height": 7.0 })),
            add(ElementKind::Rim),
            set("rim-1", "width", 1.0),
        ],
    );
    for motif in ["hexagons", "dots", "squares", "stripes", "waves", "scales"] {
        let piece = edited(&piece, &[set("pattern-1", "motif", motif)]);
        let made = worked(&piece, Tolerance::Normal);
        let pattern = &made.layout.element("pattern-1").unwrap().region;
        assert!(pattern.area() > 100.0, "{motif}");
        for id in ["hole-1", "lettering-1", "rim-1"] {
            let other = &made.layout.element(id).unwrap().region;
            let near = other.without_openings();
            let near = if id == "rim-1" { other.clone() } else { near };
            let near = near.offset(1.5 - 0.1, Tolerance::Normal);
            assert!(near.intersection(pattern).area() < 1e-3, "{motif} {id}");
        }
        assert!(made.mesh.faults().is_sound(), "{motif}");
        let through = edited(&piece, &[set("pattern-1", "relief", "through")]);
        let made = worked(&through, Tolerance::Draft);
        assert_eq!(made.parts, 1, "{motif}");
    }
    let halo = edited(
        &piece,
        &[
            add(ElementKind::Halo),
            set("halo-1", "distance", 5.0),
            Edit::Turn {
                target: address("pattern-1"),
                field: "fills".into(),
                into: "halo-1".into(),
            },
            set("pattern-1", "inset", 0.5),
            set("pattern-1", "apart", 0.5),
        ],
    );
    let made = worked(&halo, Tolerance::Normal);
    let [pattern, round] =
        ["pattern-1", "halo-1"].map(|id| &made.layout.element(id).unwrap().region);
    assert!(pattern.area() > 20.0 && pattern.difference(round).area() < 1e-3);
    // Sunk into the halo, not into the plate: from its top.
    assert!(made.layout.element("pattern-1").unwrap().ground > 3.5);
}

#[test]
fn too_many_motifs_are_said_and_mended() {
    let piece = edited(
        &blank_plate(400.0, 400.0, 3.0),
        &[add(ElementKind::Pattern), set("pattern-1", "line", 0.1), set("pattern-1", "pitch", 0.5)],
    );
    let made = worked(&piece, Tolerance::Draft);
    let finding = made.findings.iter().find(|one| one.code == "too-many-motifs").unwrap();
    assert!(finding.weight == Weight::Must && finding.instead);
    assert!(made.layout.element("pattern-1").unwrap().region.is_empty());
    let mended = worked(&edited(&piece, &finding.remedies[0].edits), Tolerance::Draft);
    assert!(
        mended.findings.iter().all(|one| one.code != "too-many-motifs"),
        "{:?}",
        mended.findings
    );
    assert!(!mended.layout.element("pattern-1").unwrap().region.is_empty());
}

/// The volume of a code is its dark modules', counted by hand from what is drawn; what is wrong with it is said.
#[test]
fn codes_stand_as_they_are_read() {
    let base = edited(
        &blank_plate(60.0, 60.0, 3.0),
        &[
            add(ElementKind::Code),
            set("code-1", "words", "https://skerry.example/berth/7"),
            set("code-1", "module", 1.0),
        ],
    );
    let modules = kalotype_core::codes::modules(
        kalotype_core::piece::Symbol::Qr(kalotype_core::piece::Level::M),
        "https://skerry.example/berth/7",
    )
    .unwrap();
    let (columns, rows) = modules.count();
    let all = (0..rows as i64).flat_map(|y| (0..columns as i64).map(move |x| (x, y)));
    let dark = all.filter(|(x, y)| modules.is_dark(*x, *y)).count() as f64;
    for tolerance in ALL_TOLERANCES {
        let made = worked(&base, tolerance);
        let height = 0.8;
        // Joints at shared corners are a thousandth of it.
        let code = made.measures.volume - 60.0 * 60.0 * 3.0;
        assert!((code / (dark * height) - 1.0).abs() < 2e-3, "{code} {dark}");
        assert!(made.mesh.faults().is_sound());
        assert_eq!(made.partings, Default::default());
        let said: Vec<&str> = made.findings.iter().map(|one| one.code).collect();
        assert_eq!(said, ["code-in-one-colour"]);
    }
    let said = |edits: &[Edit]| {
        let made = worked(&edited(&base, edits), Tolerance::Draft);
        made.findings.iter().map(|one| one.code).collect::<Vec<_>>()
    };
    assert!(said(&[set("code-1", "module", 0.3)]).contains(&"code-too-fine"));
    assert!(said(&[set("code-1", "quiet", 1)]).contains(&"code-not-free"));
    let turned = said(&[set("code-1", "turn", 33.0), set("code-1", "module", 0.9)]);
    assert_eq!(turned, ["code-in-one-colour"]);
    let bars = set("code-1", "symbol", json!({ "bars": 12.0 }));
    let fine = [
        bars,
        set("code-1", "words", "20261127"),
        set("code-1", "quiet", 10),
        set("code-1", "module", 0.5),
    ];
    assert_eq!(said(&fine), ["code-too-fine", "code-in-one-colour"]);
    assert!(said(&[set("code-1", "words", " ")]).contains(&"no-code"));
    assert!(said(&[set("code-1", "module", 3.0)]).contains(&"over-edge"));
    let bars = set("code-1", "symbol", json!({ "bars": 12.0 }));
    assert!(said(&[bars, set("code-1", "words", "Ωmega")]).contains(&"no-code"));
    // Two texts of the piece in one code, and every remedy mends what it is offered for.
    let wrong = edited(
        &base,
        &[set("code-1", "symbol", json!({ "bars": 12.0 })), set("code-1", "words", "Å")],
    );
    let found = worked(&wrong, Tolerance::Draft).findings;
    let finding = found.iter().find(|one| one.code == "no-code").unwrap();
    let mended = worked(&edited(&wrong, &finding.remedies[0].edits), Tolerance::Draft).findings;
    assert!(mended.iter().all(|one| one.code != "no-code"));
}

/// Along a circle an outline gives what a circle gives; at all tolerances, inside and outside, and both ways round.
#[test]
fn words_along_a_round_outline_are_those_along_a_circle() {
    let disc = edited(&blank_plate(60.0, 60.0, 3.0), &[set("blank", "outline", "ellipse")]);
    let words = |course: Value| {
        edited(
            &disc,
            &[
                add(ElementKind::Lettering),
                set("lettering-1", "lines.0.words", "Søndre kai 7"),
                set("lettering-1", "size", json!({ "height": 6.0 })),
                set("lettering-1", "place.across", json!({ "from": "centre", "distance": 0.0 })),
                set("lettering-1", "place.up", json!({ "from": "centre", "distance": 0.0 })),
                set("lettering-1", "course", course),
            ],
        )
    };
    for (distance, reading, radius) in [
        (2.0, "clockwise", 22.0),
        (2.0, "upright", 28.0),
        (-1.0, "clockwise", 31.0),
        (-1.0, "upright", 37.0),
    ] {
        let middle = if reading == "clockwise" { 70.0 } else { -110.0 };
        let along = words(json!({ "outline": {
            "of": "face", "distance": distance, "reading": reading, "middle": middle, "spread": null,
        } }));
        let round = words(json!({ "circle": {
            "radius": radius, "reading": reading, "middle": middle, "spread": null,
            "side": if reading == "clockwise" { "outside" } else { "inside" },
        } }));
        for tolerance in ALL_TOLERANCES {
            let [along, round] =
                [&along, &round].map(|piece| region(piece, "lettering-1", tolerance));
            let apart = along.difference(&round).area() + round.difference(&along).area();
            // Both are followed by chords of their own, which lie by that much aside.
            let aside = [0.12, 0.05, 0.015][tolerance as usize];
            let is_alike = apart < aside * round.area();
            assert!(along.area() > 20.0 && is_alike, "{distance} {reading} {tolerance:?}: {apart}");
        }
    }
}

#[test]
fn words_along_an_outline_keep_to_it_and_say_where_there_is_none() {
    let piece = edited(
        &blank_plate(60.0, 40.0, 3.0),
        &[
            add(ElementKind::Lettering),
            set("lettering-1", "lines.0.words", "SKERRY POINT"),
            set("lettering-1", "size", json!({ "height": 5.0 })),
            Edit::Turn {
                target: address("lettering-1"),
                field: "course".into(),
                into: "outline".into(),
            },
        ],
    );
    let made = worked(&piece, Tolerance::Normal);
    assert!(made.findings.is_empty(), "{:?}", made.findings);
    let ink = &made.layout.element("lettering-1").unwrap().region;
    let within = made.layout.blank.base.offset(-1.9, Tolerance::Normal);
    // At its sharp corners a letter turns, and a corner of it comes a little nearer.
    let out = ink.difference(&within).area();
    assert!(ink.area() > 20.0 && out < 0.3, "{out} {:?} {:?}", ink.bounds(), within.bounds());
    // It follows when the plate grows, and cannot be moved.
    let wider = edited(&piece, &[set("blank", "width", 90.0)]);
    assert!(worked(&wider, Tolerance::Draft).findings.is_empty());
    let shift = Edit::Shift { target: address("lettering-1"), across: 1.0, up: 0.0 };
    assert!(try_edits(&piece, &[shift]).unwrap_err().message.contains("follows the outline"));
    let codes = |edits: &[Edit]| {
        let made = worked(&edited(&piece, edits), Tolerance::Draft);
        made.findings.iter().map(|one| one.code).collect::<Vec<_>>()
    };
    assert!(codes(&[set("lettering-1", "course.outline.distance", 25.0)]).contains(&"no-way"));
    assert!(
        codes(&[set("lettering-1", "lines.0.words", "SKERRY ".repeat(12))])
            .contains(&"circle-full")
    );
    let contour = json!({ "contour": { "offset": 1.0, "crevices": 0.0, "gaps": 0.0 } });
    let error = try_edits(&piece, &[set("blank", "outline", contour)]).unwrap_err();
    assert!(error.message.contains("A contour follows its words"), "{}", error.message);
    // Along a halo round an emblem, outside it; not along one that goes round the words themselves.
    let halo = edited(&piece, &square("emblem-1", 8.0, (0.0, 0.0), 1.0));
    let halo = edited(&halo, &[add(ElementKind::Halo)]);
    let along = set("lettering-1", "course.outline.of", json!({ "element": "halo-1" }));
    let error = try_edits(&halo, std::slice::from_ref(&along)).unwrap_err();
    assert!(error.message.contains("goes round these words"), "{}", error.message);
    let halo = edited(
        &halo,
        &[
            set("halo-1", "round", json!({ "these": ["emblem-1"] })),
            along,
            set("lettering-1", "course.outline.distance", -1.0),
        ],
    );
    let made = worked(&halo, Tolerance::Normal);
    let [words, round] =
        ["lettering-1", "halo-1"].map(|id| &made.layout.element(id).unwrap().region);
    assert!(words.intersection(&round.offset(0.7, Tolerance::Normal)).area() < 0.05);
    assert!(words.difference(&round.offset(8.0, Tolerance::Normal)).area() < 0.05);
}

/// What would take minutes is known before it is begun, is said, and what is offered mends it.
#[test]
fn work_is_bounded_before_it_is_done() {
    let line = "Sigrid Åse Ólafur Ğül Łucja ".repeat(7);
    let mut edits = Vec::new();
    for i in 1..=4 {
        let id = format!("lettering-{i}");
        edits.extend([
            add(ElementKind::Lettering),
            set(&id, "lines.0.words", line.clone()),
            set(&id, "size", json!({ "height": 3.0 })),
            set(&id, "gives", "nothing"),
            set(&id, "place.up", json!({ "from": "top", "distance": 20.0 * f64::from(i) })),
        ]);
    }
    edits.extend([
        add(ElementKind::Halo),
        set("halo-1", "steps", 8),
        set("halo-1", "distance", 20.0),
    ]);
    let piece = edited(&blank_plate(500.0, 200.0, 3.0), &edits);
    let made = worked(&piece, Tolerance::Normal);
    assert!(made.layout.element("halo-1").unwrap().region.is_empty());
    let finding = made.findings.iter().find(|one| one.code == "too-much-halo").unwrap();
    let near = edited(&piece, &[set("halo-1", "distance", 1.0)]);
    let mended = edited(&near, &finding.remedies[0].edits);
    let made = worked(&mended, Tolerance::Draft);
    assert!(made.findings.iter().all(|one| one.code != "too-much-halo"));
    assert!(!made.layout.element("halo-1").unwrap().region.is_empty());
    let codes = edited(&blank_plate(60.0, 60.0, 3.0), &[add(ElementKind::Code)]);
    let many = json!({ "row": { "count": 100, "across": 1.0, "up": 0.0 } });
    let said = set("code-1", "words", "ß".repeat(600));
    let error = try_edits(&codes, &[said, set("code-1", "repeat", many)]).unwrap_err();
    assert!(error.message.contains("60000 are the most"), "{}", error.message);
}

const NAMES: [&str; 12] = [
    "Å",
    "Zoë",
    "Łucja",
    "SOLVEIG",
    "ğül ß",
    "Ωδη μεγα",
    "FRIÐRIKA ÞORSTEINSDÓTTIR",
    "o.o",
    "WWWWWWWWWWWW",
    "jjjjj ggg",
    "XIV",
    "Skerry Point Ferry Cooperative, Østre kai",
];

proptest! {
    #![proptest_config(common::cases(300))]

    /// Whatever the name, on whatever plate that grows and gives: no word leaves its clear area as long as letters
    /// may become smaller, nothing that was placed by it loses its distance, and nothing is wrong with the piece.
    #[test]
    fn no_name_leaves_a_plate_that_grows(
        name in prop::sample::select(NAMES.to_vec()),
        copies in 1usize..4,
        least in 20i32..90,
        more in 0i32..120,
        step in prop::sample::select(vec![0.0, 2.5, 10.0]),
        height in 8i32..30,
        tall in prop::sample::select(vec![4.0, 7.0, 11.0]),
        outline in prop::sample::select(vec!["rectangle", "stadium", "ellipse"]),
        gives in prop::sample::select(vec!["size", "line"]),
        has_hole in any::<bool>(),
        side in prop::sample::select(vec!["left", "right", "above", "below"]),
        halo in prop::option::of(1i32..3),
        both in any::<bool>(),
    ) {
        let (least, height) = (f64::from(least), f64::from(height));
        let words = vec![name; copies].join(" ");
        let mut edits = vec![
            set("blank", "width", least),
            set("blank", "height", height),
            Edit::Turn { target: address("blank"), field: "outline".into(), into: outline.into() },
            set("blank", "grows.width", grows(least + f64::from(more), step)),
            add(ElementKind::Lettering),
            set("lettering-1", "lines.0.words", words),
            set("lettering-1", "typeface", "noto-serif"),
            set("lettering-1", "size", json!({ "height": tall })),
            set("lettering-1", "gives", gives),
            set("lettering-1", "place.across", json!({ "from": "clear", "distance": 0.0 })),
            set("lettering-1", "place.up", json!({ "from": "clear", "distance": 0.0 })),
            add(ElementKind::Emblem),
            set("emblem-1", "width", 3.0),
            set("emblem-1", "place.by", by("lettering-1", side, 1.0, "middle", 0.0)),
        ];
        if both {
            edits.push(set("blank", "grows.height", grows(height + 20.0, 0.0)));
        }
        if has_hole {
            edits.extend([add(ElementKind::Hole), set("hole-1", "diameter", 3.0)]);
        }
        if let Some(reach) = halo {
            edits.extend([add(ElementKind::Halo), set("halo-1", "distance", f64::from(reach) / 2.0)]);
        }
        let piece = edited(&Piece::new("Berth 7", Unit::Millimetre), &edits);
        let made = worked(&piece, Tolerance::Draft);
        let (width, most) = (made.layout.blank.rect.width(), least + f64::from(more));
        prop_assert!(width >= least - 1e-9 && width <= most + 1e-9);
        prop_assert!(step == 0.0 || ((width - least) / step).fract().min(1.0 - ((width - least) / step).fract()) < 1e-6);
        let placed = made.layout.element("lettering-1").unwrap();
        let star = made.layout.element("emblem-1").unwrap();
        let gap = match side {
            "left" => placed.frame.x0 - star.frame.x1,
            "right" => star.frame.x0 - placed.frame.x1,
            "above" => star.frame.y0 - placed.frame.y1,
            _ => placed.frame.y0 - star.frame.y1,
        };
        prop_assert!((gap - 1.0).abs() < 1e-3, "{gap}");
        let reach = halo.map_or(0.0, |reach| f64::from(reach) / 2.0);
        // What the star takes with its halo, the words beside it having next to no size.
        let (beside, across) = (3.0 + 1.0 + 2.0 * reach + 1.0, 3.0 + 2.0 * reach);
        let has_room = |clear: &Rect| match side {
            "above" | "below" => clear.height() > beside && clear.width() > across,
            _ => clear.width() > beside && clear.height() > across,
        };
        if let Some(clear) = made.layout.faces[0].clear.filter(has_room) {
            let ink = placed.region.bounds().unwrap();
            let out = [clear.x0 - ink.x0, ink.x1 - clear.x1, clear.y0 - ink.y0, ink.y1 - clear.y1];
            let out = out.into_iter().fold(f64::MIN, f64::max);
            // Of an outline that is no rectangle all that is clear counts, not the largest box in it alone.
            let margin = piece.first().margin.as_mm();
            let all = made.layout.blank.base.offset(-margin - 0.02, Tolerance::Draft);
            let has_room = outline != "rectangle" && all.holds_box(ink.grown(-0.04));
            let is_within = out < 0.02 || has_room;
            prop_assert!(is_within || placed.drawn.letter_height <= 0.5 + 1e-9, "{out}");
        }
        prop_assert!(made.mesh.faults().is_sound());
        // As long as everything has room, nothing is wrong with any name that was not before.
        let fits = made.layout.faces[0].clear.is_some_and(|clear| has_room(&clear));
        if fits && placed.drawn.letter_height > 0.5 + 1e-9 {
            let wrong: Vec<&str> = made
                .findings
                .iter()
                .filter(|one| one.weight < Weight::Should)
                // A hole too near to the edge of so small a plate the design had before.
                .filter(|one| one.target != address("hole-1") && one.target != address("piece"))
                // Letters of 4 mm have strokes and gaps finer than a line, whatever they say.
                .filter(|one| !["thin-stroke", "narrow-gap"].contains(&one.code))
                .map(|one| one.code)
                .collect();
            prop_assert!(wrong.is_empty(), "{wrong:?}");
        }
    }
}

/// Renaming by a machine, a hundred times: everything else of the piece is as it was, and the same name gives the
/// same bytes.
#[test]
fn the_same_name_gives_the_same_piece() {
    let base = edited(
        &fresh(&[ElementKind::Lettering, ElementKind::Emblem, ElementKind::Halo]),
        &[
            set("blank", "grows.width", grows(200.0, 0.0)),
            set("emblem-1", "place.by", by("lettering-1", "right", 2.0, "middle", 0.0)),
        ],
    );
    let named = |name: &str| edited(&base, &[set("lettering-1", "lines.0.words", name)]);
    let mesh = |piece: &Piece| worked(piece, Tolerance::Draft).mesh.vertices.clone();
    let first = mesh(&named("Łucja"));
    let mut piece = base.clone();
    for name in NAMES {
        piece = edited(&piece, &[set("lettering-1", "lines.0.words", name)]);
    }
    let back = edited(&piece, &[set("lettering-1", "lines.0.words", "Łucja")]);
    assert_eq!(back, named("Łucja"));
    assert_eq!(mesh(&back), first);
    let Kind::Emblem(star) = &back.first().element("emblem-1").unwrap().kind else { panic!() };
    assert_eq!(star.place.by.as_ref().unwrap().element, "lettering-1");
}
