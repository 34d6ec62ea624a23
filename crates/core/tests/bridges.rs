//! Bridges and ties: whatever is cut through, or stands beside the rest, is one part afterwards, and takes up what
//! its strips do.

mod common;

use common::{Worked, add, close, edited, fresh, set, worked};
use kalotype_core::evaluate::{Bridge, lever_of};
use kalotype_core::piece::{BridgeAct, Bridges, Edit, ElementKind, FaceName, Piece};
use kalotype_core::plane::Tolerance;
use proptest::prelude::*;
use serde_json::{Value, json};

const ALL_TOLERANCES: [Tolerance; 3] = [Tolerance::Draft, Tolerance::Normal, Tolerance::Fine];

fn bridges(fields: Value) -> Value {
    let mut all = json!(Bridges::default());
    for (field, value) in fields.as_object().unwrap() {
        all[field] = value.clone();
    }
    all
}

/// A plate of 80 × 40 × 3 mm with words of a height cut through it.
fn stencil(words: &str, height: f64, held: Value) -> Piece {
    let from = json!({ "from": "centre", "distance": 0.0 });
    edited(
        &fresh(&[]),
        &[
            set("blank", "width", 80.0),
            set("blank", "height", 40.0),
            add(ElementKind::Lettering),
            set("lettering-1", "lines.0.words", words),
            set("lettering-1", "gives", "nothing"),
            set("lettering-1", "size", json!({ "height": height })),
            set("lettering-1", "place.across", from.clone()),
            set("lettering-1", "place.up", from),
            set("lettering-1", "relief", "through"),
            set("lettering-1", "bridges", held),
        ],
    )
}

fn volume(worked: &Worked) -> f64 {
    assert!(worked.stop.is_none() && worked.mesh.faults().is_sound());
    worked.measures.volume
}

/// In a pixel typeface what lies inside meets the rest at corners, which hold nothing: it is held by bridges as well.
#[test]
fn what_meets_at_a_corner_only_is_held_too() {
    let pixels = |held: Value| {
        let typeface = set("lettering-1", "typeface", "press-start-2p");
        edited(&stencil("8%B0", 14.0, held), &[typeface])
    };
    assert!(worked(&pixels(Value::Null), Tolerance::Normal).parts > 1);
    for each in ["as-needed", "one", "two"] {
        let held = worked(&pixels(bridges(json!({ "each": each }))), Tolerance::Normal);
        assert!(held.mesh.faults().is_sound());
        assert_eq!(held.parts, 1, "{each}");
        assert!(held.findings.iter().all(|finding| finding.code != "loose-parts"), "{each}");
    }
}

/// All islands of a word are held; the plate has more volume than without by what the strips take of the cut.
#[test]
fn what_falls_out_is_held_by_what_its_strips_take_of_the_cut() {
    for tolerance in ALL_TOLERANCES {
        let loose = worked(&stencil("BOARD 8%", 9.0, Value::Null), tolerance);
        // B 2, O, A, R, D one each, 8 two and % two.
        assert_eq!(loose.parts, 11, "{tolerance:?}");
        for each in ["as-needed", "one", "two"] {
            let full =
                worked(&stencil("BOARD 8%", 9.0, bridges(json!({ "each": each }))), tolerance);
            let bridging = full.layout.elements[0].bridging.clone().unwrap();
            let area = bridging.region.area();
            assert_eq!(full.parts, 1, "{tolerance:?} {each}");
            close(volume(&full) - volume(&loose), 3.0 * area, 1e-3);
            assert_eq!(full.findings, Vec::new(), "{tolerance:?} {each}");
            // As few as there can be: one for each island; or two, where a thin bar is not shared.
            let count = bridging.bridges.len();
            match each {
                "two" => assert!((15..=20).contains(&count), "{count}"),
                _ => assert_eq!(count, 10, "{each}"),
            }
            let lower = bridges(json!({ "each": each, "height": 1.2 }));
            let lower = worked(&stencil("BOARD 8%", 9.0, lower), tolerance);
            assert_eq!(lower.parts, 1, "{tolerance:?} {each}");
            let region = lower.layout.elements[0].bridging.clone().unwrap().region.area();
            close(volume(&lower) - volume(&loose), 1.2 * region, 1e-3);
        }
    }
}

/// Those of a line of words can lie in one line: one height for all letters, whatever they are.
#[test]
fn bridges_lie_in_one_line_through_a_word() {
    let asked = bridges(json!({ "run": "across", "in_line": true, "each": "two" }));
    let found = worked(&stencil("OQODO", 12.0, asked), Tolerance::Normal);
    let bridging = found.layout.elements[0].bridging.clone().unwrap();
    assert_eq!((found.parts, bridging.bridges.len()), (1, 10));
    let height = bridging.bridges[0].tie.middle().1;
    assert!(bridging.bridges.iter().all(|one| (one.tie.middle().1 - height).abs() < 1e-3));
}

/// On a circle upright is from foot to head of each letter, which is to and from the middle.
#[test]
fn bridges_stand_as_their_letters_do() {
    let circle = json!({ "circle": { "radius": 14.0, "reading": "clockwise", "side": "inside", "middle": 90.0, "spread": null } });
    let middle = json!({ "from": "centre", "distance": 0.0 });
    let piece = edited(
        &stencil("OOOOOOO", 5.0, bridges(json!({}))),
        &[
            set("lettering-1", "course", circle),
            set("lettering-1", "place.across", middle.clone()),
            set("lettering-1", "place.up", middle),
        ],
    );
    let found = worked(&piece, Tolerance::Normal);
    let bridging = found.layout.elements[0].bridging.clone().unwrap();
    assert_eq!((found.parts, bridging.bridges.len()), (1, 7));
    for bridge in &bridging.bridges {
        let [(ax, ay), (bx, by)] = bridge.tie.ends;
        // The cross product of the strip with the way from the middle: nothing where it runs along it.
        let (x, y) = bridge.tie.middle();
        let aside = ((bx - ax) * y - (by - ay) * x) / ((bx - ax).hypot(by - ay) * x.hypot(y));
        assert!(aside.abs() < 0.05, "{bridge:?}");
    }
}

fn by_hand(letter: u32, is: &str, across: f64, up: f64, turn: f64) -> Value {
    json!({ "line": 0, "letter": letter, "is": is, "across": across, "up": up, "turn": turn })
}

/// A bridge put by hand goes with its letter, holds what the others then need not, and says when it is idle.
#[test]
fn what_is_put_by_hand_goes_with_its_letter() {
    let asked = bridges(json!({ "by_hand": [by_hand(1, "O", 0.93, 0.5, 0.0)] }));
    let piece = stencil("NO", 12.0, asked);
    let found = worked(&piece, Tolerance::Normal);
    let of = |found: &Worked| found.layout.elements[0].bridging.clone().unwrap();
    let bridging = of(&found);
    assert_eq!((found.parts, bridging.bridges.len()), (1, 1));
    let [(_, ay), (_, by)] = bridging.bridges[0].tie.ends;
    assert!((ay - by).abs() < 1e-6, "across");
    // Another size and another typeface carry it along: it lies in the right stroke still.
    for edit in [
        set("lettering-1", "size", json!({ "height": 18.0 })),
        set("lettering-1", "typeface", "anton"),
        set("lettering-1", "turn", 30.0),
        set("lettering-1", "lines.0.words", "HO"),
    ] {
        let found = worked(&edited(&piece, std::slice::from_ref(&edit)), Tolerance::Normal);
        let bridging = of(&found);
        assert_eq!(
            (found.parts, bridging.bridges.len(), bridging.bridges[0].by_hand),
            (1, 1, Some(0)),
            "{edit:?}"
        );
    }
    // Where its letter is gone the rest is held by itself.
    let gone =
        worked(&edited(&piece, &[set("lettering-1", "lines.0.words", "DA")]), Tolerance::Normal);
    let bridging = of(&gone);
    assert_eq!((gone.parts, bridging.bridges.len(), &bridging.idle[..]), (1, 2, &[0][..]));
    assert!(gone.findings.iter().any(|one| one.code == "idle-bridge"));
}

/// Holes, other cuts, the edge and the other side: what they take away holds nothing.
#[test]
fn what_others_cut_away_holds_nothing() {
    let hole = |across: f64, up: f64, diameter: f64| {
        let from = |mm: f64| json!({ "from": "centre", "distance": mm });
        [
            add(ElementKind::Hole),
            set("hole-1", "diameter", diameter),
            set("hole-1", "place.across", from(across)),
            set("hole-1", "place.up", from(up)),
        ]
    };
    // A hole over the foot of an O, where its bridge would be.
    let one = bridges(json!({ "each": "one" }));
    let plain = worked(&stencil("O", 20.0, one.clone()), Tolerance::Normal);
    let foot = plain.layout.elements[0].bridging.clone().unwrap().bridges[0].tie.middle();
    for order in [0, -1] {
        let mut edits = hole(foot.0, foot.1, 5.0).to_vec();
        edits.push(Edit::Move { target: common::address("hole-1"), by: order });
        let holed = worked(&edited(&stencil("O", 20.0, one.clone()), &edits), Tolerance::Normal);
        assert_eq!(holed.parts, 1, "{order}");
    }
    // The same word twice, half over each other, both held; and a word on the other side.
    let second = |face: FaceName| {
        let from = |mm: f64| json!({ "from": "centre", "distance": mm });
        [
            Edit::Add { component: "component-1".to_owned(), kind: ElementKind::Lettering, face },
            set("lettering-2", "lines.0.words", "8OB"),
            set("lettering-2", "size", json!({ "height": 16.0 })),
            set("lettering-2", "place.across", from(4.0)),
            set("lettering-2", "place.up", from(3.0)),
            set("lettering-2", "relief", "through"),
            set("lettering-2", "bridges", bridges(json!({}))),
        ]
    };
    for face in [FaceName::Front, FaceName::Back] {
        let piece = edited(&stencil("OB8", 16.0, bridges(json!({}))), &second(face));
        assert_eq!(worked(&piece, Tolerance::Normal).parts, 1, "{face:?}");
    }
    // An O across the whole plate cuts it in three.
    let across = edited(&stencil("O", 60.0, bridges(json!({}))), &[]);
    assert_eq!(worked(&across, Tolerance::Normal).parts, 1);
}

/// What stands on the bed in the opening of a ring is tied to it; the dot of an i to its stem in a contour.
#[test]
fn what_stands_apart_is_tied() {
    let ring = json!({ "ring": { "inside": 40.0 } });
    let piece = edited(
        &fresh(&[]),
        &[
            set("blank", "width", 50.0),
            set("blank", "height", 50.0),
            set("blank", "outline", ring),
            add(ElementKind::Lettering),
            set("lettering-1", "lines.0.words", "iTi"),
            set("lettering-1", "size", json!({ "height": 10.0 })),
            set("lettering-1", "place.across", json!({ "from": "centre", "distance": 0.0 })),
            set("lettering-1", "place.up", json!({ "from": "centre", "distance": 0.0 })),
            set("lettering-1", "relief", json!({ "raised": { "from-foot": 3.0 } })),
        ],
    );
    let apart = worked(&piece, Tolerance::Normal);
    assert_eq!(apart.parts, 6);
    for height in [json!(null), json!(1.0)] {
        let asked = bridges(json!({ "height": height }));
        let tied =
            worked(&edited(&piece, &[set("lettering-1", "bridges", asked)]), Tolerance::Normal);
        assert_eq!(tied.parts, 1, "{height}");
        let area = tied.layout.elements[0].bridging.clone().unwrap().region.area();
        let high = height.as_f64().unwrap_or(3.0);
        // The strips lie a little within what they join.
        let more = volume(&tied) - volume(&apart);
        assert!(more < high * area && more > high * area * 0.9, "{more} of {}", high * area);
    }
    let contour =
        json!({ "contour": { "offset": 0.5, "crevices": 0.0, "gaps": 0.0, "ties": null } });
    let letter = edited(
        &fresh(&[ElementKind::Lettering]),
        &[
            set("lettering-1", "lines.0.words", "Jiří"),
            set("lettering-1", "size", json!({ "height": 15.0 })),
            set("blank", "outline", contour),
        ],
    );
    assert!(worked(&letter, Tolerance::Normal).parts > 3);
    let tied = edited(&letter, &[set("blank", "outline.contour.ties", 2.0)]);
    for tolerance in ALL_TOLERANCES {
        assert_eq!(worked(&tied, tolerance).parts, 1, "{tolerance:?}");
    }
}

/// σ = 6 F l / (b h²): at 5 N and 25 N/mm² a bridge of 1 × 3 mm stands a lever of 7.5 mm (by hand).
#[test]
fn a_bridge_stands_as_much_as_a_beam() {
    assert!((lever_of(1.0, 3.0) - 7.5).abs() < 1e-12);
    assert!(
        (lever_of(2.0, 3.0) - 15.0).abs() < 1e-12 && (lever_of(1.0, 1.5) - 1.875).abs() < 1e-12
    );
    // The counter of a large O on one bridge is too much for it, on two it is not.
    let codes = |each: &str| {
        let found =
            worked(&stencil("O", 34.0, bridges(json!({ "each": each }))), Tolerance::Normal);
        let mut codes: Vec<&str> = found.findings.iter().map(|one| one.code).collect();
        codes.retain(|code| code.ends_with("bridge"));
        codes
    };
    assert_eq!(codes("one"), ["weak-bridge"]);
    assert_eq!((codes("two"), codes("as-needed")), (vec![], vec![]));
}

proptest! {
    #![proptest_config(common::cases(60))]

    /// One part, always: any word in any typeface, size, weight and course, turned, mirrored and repeated, over the
    /// edge, beside holes, with treated edges, held in any way.
    #[test]
    fn bridging_leaves_one_part(
        words in "[ABDOPQR04689%&@aegijöä]{1,7}",
        typeface in prop::sample::select(vec!["nunito", "pacifico", "anton", "zilla-slab", "grenze-gotisch", "rubik"]),
        (height, width) in (4.0..30.0f64, 0.4..3.0f64),
        run in prop::sample::select(vec![json!("upright"), json!("across"), json!({ "angle": 45.0 }), json!({ "angle": -20.0 })]),
        each in prop::sample::select(vec!["as-needed", "one", "two"]),
        (in_line, lower) in (any::<bool>(), prop::option::of(0.5..3.5f64)),
        (across, up, turn) in (-20.0..20.0f64, -10.0..10.0f64, -180.0..180.0f64),
        repeat in prop::sample::select(vec![json!("once"), json!("mirrored-across"), json!({ "around": 3 })]),
        (hole, chamfer) in (any::<bool>(), any::<bool>()),
    ) {
        let held = bridges(json!({ "width": width, "run": run, "each": each, "in_line": in_line, "height": lower }));
        let from = |mm: f64| json!({ "from": "centre", "distance": mm });
        let mut edits = vec![
            set("lettering-1", "typeface", typeface),
            set("lettering-1", "turn", turn),
            set("lettering-1", "repeat", repeat),
            set("lettering-1", "place.across", from(across)),
            set("lettering-1", "place.up", from(up)),
        ];
        if hole {
            edits.push(add(ElementKind::Hole));
            edits.push(set("hole-1", "place.across", from(-across / 2.0)));
            edits.push(set("hole-1", "place.up", from(up / 2.0)));
        }
        if chamfer {
            edits.push(set("lettering-1", "edge", json!({ "chamfer": 0.1 })));
        }
        let piece = edited(&stencil(&words, height, held), &edits);
        let found = worked(&piece, Tolerance::Normal);
        // Where everything is cut away there is nothing to hold.
        prop_assume!(found.stop.is_none());
        prop_assert!(found.mesh.faults().is_sound());
        prop_assert_eq!(found.parts, 1);
    }
}

/// What is done to a bridge of the words.
fn act(act: BridgeAct) -> Edit {
    Edit::Bridge { target: common::address("lettering-1"), act }
}

/// Words of 12 mm cut through a plate from one of its faces, turned, and mirrored or not.
fn turned_stencil(words: &str, face: FaceName, turn: f64, mirrored: bool) -> Piece {
    let piece = stencil(words, 12.0, bridges(json!({})));
    let mut piece = edited(
        &piece,
        &[set("lettering-1", "turn", turn), set("lettering-1", "mirrored", mirrored)],
    );
    piece.components[0].elements[0].face = face;
    piece
}

/// Where the bridges of the words run, as it is seen from their face: a point in the middle and a direction in degrees
/// from 0 to 180.
fn ways(found: &Worked) -> Vec<((f64, f64), f64)> {
    let placed = &found.layout.elements[0];
    let side = if found.layout.is_seen_through(placed) { -1.0 } else { 1.0 };
    let way = |bridge: &Bridge| {
        let [(ax, ay), (bx, by)] = bridge.tie.ends;
        let (x, y) = bridge.tie.middle();
        ((side * x, y), (by - ay).atan2(side * (bx - ax)).to_degrees().rem_euclid(180.0))
    };
    placed.bridging.as_ref().unwrap().bridges.iter().map(way).collect()
}

/// Whether a way runs through a point in a direction, to what a share and a tenth of a degree are rounded to.
fn runs(((x, y), along): ((f64, f64), f64), at: (f64, f64), direction: f64) -> bool {
    let (sine, cosine) = direction.to_radians().sin_cos();
    let aside = (x - at.0) * sine - (y - at.1) * cosine;
    let off = (along - direction).rem_euclid(180.0);
    aside.abs() < 0.02 && off.min(180.0 - off) < 0.2
}

/// Whether two ways are the same, with their middles in the same place.
fn same(one: ((f64, f64), f64), other: ((f64, f64), f64)) -> bool {
    let ((ax, ay), (bx, by)) = (one.0, other.0);
    runs(one, other.0, other.1) && (ax - bx).hypot(ay - by) < 0.05
}

/// One that is laid or moved runs through the point that was pressed, in the direction that was asked for, however its
/// letter stands and from whichever face it is cut.
#[test]
fn a_bridge_runs_where_it_is_put() {
    for face in [FaceName::Front, FaceName::Back] {
        for (turn, mirrored) in [(0.0, false), (90.0, false), (-37.0, true), (180.0, true)] {
            let what = format!("{face:?} {turn} {mirrored}");
            let piece = turned_stencil("OAO", face, turn, mirrored);
            let found = worked(&piece, Tolerance::Normal);
            let before = ways(&found);
            assert_eq!(before.len(), 3, "{what}");
            let ((x, y), along) = before[2];
            let moved = edited(
                &piece,
                &[
                    act(BridgeAct::Keep { bridge: 2 }),
                    act(BridgeAct::Move {
                        by_hand: 0,
                        at: [x + 0.3, y + 0.2],
                        along: along + 10.0,
                    }),
                ],
            );
            let found = worked(&moved, Tolerance::Normal);
            assert_eq!(found.parts, 1, "{what}");
            let after = ways(&found);
            assert_eq!(after.len(), 3, "{what}");
            assert!(
                runs(after[0], (x + 0.3, y + 0.2), along + 10.0),
                "{what}: {:?} {:?}",
                before[2],
                after[0]
            );
            // One more is laid upright as its letter stands, beside it.
            let at = [before[0].0.0 + 0.4, before[0].0.1 - 0.3];
            let laid = edited(&moved, &[act(BridgeAct::Lay { at: Some(at) })]);
            let after = ways(&worked(&laid, Tolerance::Normal));
            assert!(runs(after[1], at.into(), 90.0 + turn), "{what}: {:?}", after[1]);
        }
    }
}

/// What is kept stays where it is, with all that hold the same and nothing else; what is taken away is gone, and what
/// held the same with it stays.
#[test]
fn what_is_kept_stays_and_what_is_taken_is_gone() {
    let piece = stencil("8A", 12.0, bridges(json!({ "each": "two" })));
    let found = worked(&piece, Tolerance::Normal);
    let before = ways(&found);
    let holds: Vec<_> = found.layout.elements[0]
        .bridging
        .as_ref()
        .unwrap()
        .bridges
        .iter()
        .map(|one| one.holds)
        .collect();
    let hands = |piece: &Piece| piece.components[0].elements[0].bridges().unwrap().by_hand.len();
    for which in 0..before.len() {
        let alike = holds.iter().filter(|one| **one == holds[which]).count();
        let kept = edited(&piece, &[act(BridgeAct::Keep { bridge: which })]);
        let found = worked(&kept, Tolerance::Normal);
        let after = ways(&found);
        assert_eq!((found.parts, after.len(), hands(&kept)), (1, before.len(), alike), "{which}");
        assert!(same(after[0], before[which]), "{which}");
        for way in &before {
            assert!(after.iter().any(|one| same(*one, *way)), "{which}: {way:?} in {after:?}");
        }
        // Once more it is that one of those by hand, and nothing is put by hand twice.
        assert_eq!(edited(&kept, &[act(BridgeAct::Keep { bridge: 0 })]), kept);
        let taken = edited(&piece, &[act(BridgeAct::Take { bridge: which })]);
        let found = worked(&taken, Tolerance::Normal);
        assert_eq!((found.parts, hands(&taken)), (1, alike - 1), "{which}");
        let by_hand = |found: &Worked| {
            let bridging = found.layout.elements[0].bridging.clone().unwrap();
            bridging.bridges.iter().filter(|one| one.by_hand.is_some()).count()
        };
        assert_eq!(by_hand(&found), alike - 1, "{which}");
        let left = &ways(&found)[..alike - 1];
        assert!(!left.iter().any(|way| same(*way, before[which])), "{which}: {left:?}");
        assert_eq!(edited(&kept, &[act(BridgeAct::Take { bridge: 0 })]), taken, "{which}");
    }
}

/// A tie of an outline is moved and taken away as a bridge is.
#[test]
fn ties_are_put_by_hand_too() {
    let outline =
        json!({ "contour": { "offset": 0.3, "crevices": 0.0, "gaps": 0.0, "ties": 0.8 } });
    let piece = edited(
        &fresh(&[ElementKind::Lettering]),
        &[
            set("lettering-1", "lines.0.words", "i"),
            set("lettering-1", "size", json!({ "height": 15.0 })),
            set("blank", "outline", outline),
        ],
    );
    let tie = |act: BridgeAct| Edit::Bridge { target: common::address("blank"), act };
    let ties = |piece: &Piece| {
        let found = worked(piece, Tolerance::Normal);
        assert_eq!(found.parts, 1);
        found.layout.blank.ties.clone().unwrap().bridges.clone()
    };
    let before = ties(&piece);
    assert_eq!(before.len(), 1);
    let (x, y) = before[0].tie.middle();
    let moved = edited(
        &piece,
        &[
            tie(BridgeAct::Keep { bridge: 0 }),
            tie(BridgeAct::Move { by_hand: 0, at: [x - 0.5, y], along: 80.0 }),
        ],
    );
    let after = ties(&moved);
    let [(ax, ay), (bx, by)] = after[0].tie.ends;
    let along = (by - ay).atan2(bx - ax).to_degrees().rem_euclid(180.0);
    assert_eq!((after.len(), after[0].by_hand), (1, Some(0)));
    assert!(runs((after[0].tie.middle(), along), (x - 0.5, y), 80.0), "{after:?}");
    assert_eq!(ties(&edited(&moved, &[tie(BridgeAct::Take { bridge: 0 })])), before);
}

/// What is not there is said to be gone, and as many as there can be are the most; figures beyond all letters end at
/// their limits.
#[test]
fn bridges_that_are_not_there_are_refused() {
    let piece = stencil("O", 12.0, bridges(json!({})));
    let refused = |piece: &Piece, done: BridgeAct| {
        let error = common::try_edits(piece, &[act(done)]).unwrap_err();
        assert_eq!(error.field, "bridges.by_hand");
        error.message
    };
    let at = [0.0, 0.0];
    for gone in [
        BridgeAct::Keep { bridge: 1 },
        BridgeAct::Take { bridge: usize::MAX },
        BridgeAct::Move { by_hand: 0, at, along: 0.0 },
    ] {
        let message = refused(&piece, gone);
        assert_eq!(message, "This bridge is not there any more. Look at the piece as it is now.");
    }
    let loose = edited(&piece, &[set("lettering-1", "bridges", Value::Null)]);
    let empty = edited(&piece, &[set("lettering-1", "lines.0.words", " ")]);
    for none in [&loose, &empty] {
        let message = refused(none, BridgeAct::Lay { at: None });
        assert!(message.starts_with("Nothing is held by bridges here"), "{message}");
    }
    let hole =
        Edit::Bridge { target: common::address("blank"), act: BridgeAct::Take { bridge: 0 } };
    assert_eq!(common::try_edits(&piece, &[hole]).unwrap_err().field, "outline.contour.by_hand");
    let many = vec![act(BridgeAct::Lay { at: None }); 201];
    let full = edited(&piece, &many[..200]);
    assert_eq!(worked(&full, Tolerance::Normal).parts, 1);
    let error = common::try_edits(&full, &many[200..]).unwrap_err();
    assert_eq!(error.message, "There are 201 bridges put by hand; there can be 200.");
    let far = edited(&piece, &[act(BridgeAct::Lay { at: Some([1e300, -1e300]) })]);
    let hand = &far.components[0].elements[0].bridges().unwrap().by_hand[0];
    assert_eq!((hand.across, hand.up), (6.0, -5.0));
    let found = worked(&far, Tolerance::Normal);
    assert_eq!(found.parts, 1);
    assert!(found.findings.iter().any(|one| one.code == "idle-bridge"));
}
