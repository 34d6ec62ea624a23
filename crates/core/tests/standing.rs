//! Blanks that stand on the bed, with things on all their faces and slots in them, against closed forms.

mod common;

use common::{Worked, address, close, edited, evaluated, set, try_edits, with_workshop, worked};
use kalotype_core::evaluate::{layout, put_together};
use kalotype_core::export::{Wanted, drawing_of, export};
use kalotype_core::filament::shipped_palette;
use kalotype_core::piece::{Address, BlankKind, Component, Edit, ElementKind, FaceName, Piece};
use kalotype_core::plane::Tolerance;
use kalotype_core::units::Unit;
use proptest::prelude::*;
use serde_json::{Value, json};
use std::f64::consts::PI;

const ALL: [Tolerance; 3] = [Tolerance::Draft, Tolerance::Normal, Tolerance::Fine];

/// A piece whose only component starts from such a blank, all its edges square.
fn standing(kind: BlankKind, sizes: &[(&str, Value)]) -> Piece {
    let mut piece = Piece::new("Test", Unit::Millimetre);
    piece.components[0] = Component::customary(Component::FIRST, kind, Unit::Millimetre);
    for edge in ["top", "bottom", "ends", "long", "fold"] {
        let square = set("blank", edge, json!("square"));
        piece = try_edits(&piece, &[square]).unwrap_or(piece);
    }
    let edits: Vec<Edit> =
        sizes.iter().map(|(field, value)| set("blank", field, value.clone())).collect();
    edited(&piece, &edits)
}

fn block(width: f64, depth: f64, height: f64, lean: f64) -> Piece {
    let sizes = [
        ("width", json!(width)),
        ("depth", json!(depth)),
        ("height", json!(height)),
        ("lean", json!(lean)),
    ];
    standing(BlankKind::Block, &sizes)
}

fn sound(piece: &Piece, tolerance: Tolerance) -> Worked {
    let found = worked(piece, tolerance);
    assert!(found.stop.is_none(), "{:?}", found.stop);
    assert!(found.mesh.faults().is_sound(), "{:?}", found.mesh.faults());
    let bodies: f64 = found.bodies.iter().map(|body| body.volume).sum();
    close(bodies, found.measures.volume, 1e-5);
    found
}

fn volume(piece: &Piece, tolerance: Tolerance) -> f64 {
    sound(piece, tolerance).measures.volume
}

fn on(kind: ElementKind, face: FaceName) -> Edit {
    Edit::Add { component: Component::FIRST.to_owned(), kind, face }
}

/// A sunk field of 10 × 6 mm in the middle of a face.
fn field(id: &str, face: FaceName, depth: f64) -> Vec<Edit> {
    let middle = json!({ "from": "centre", "distance": 0.0 });
    vec![
        on(ElementKind::Recess, face),
        set(
            id,
            "shape",
            json!({ "own": { "width": 10.0, "height": 6.0, "turn": 0.0,
            "outline": { "rectangle": { "top_left": "square", "top_right": "square",
                "bottom_right": "square", "bottom_left": "square" } } } }),
        ),
        set(id, "depth", json!({ "by": depth })),
        set(id, "place", json!({ "across": middle, "up": middle })),
    ]
}

#[test]
fn a_block_is_its_profile_times_its_width() {
    for lean in [0.0, 12.5, 40.0] {
        let exact = 80.0 * (30.0 * 18.0 - 18.0 * 18.0 * f64::to_radians(lean).tan() / 2.0);
        for tolerance in ALL {
            close(volume(&block(80.0, 30.0, 18.0, lean), tolerance), exact, 1e-6);
        }
    }
    // A round of 2 mm takes (1 − π/4) r² off each long edge, two at the top and two at the bed.
    let rounded = edited(
        &block(80.0, 30.0, 18.0, 0.0),
        &[
            set("blank", "top", json!({ "round": 2.0 })),
            set("blank", "bottom", json!({ "round": 2.0 })),
        ],
    );
    let exact = 80.0 * (540.0 - (4.0 - PI) * 4.0);
    close(volume(&rounded, Tolerance::Fine), exact, 1e-4);
    // A chamfer c round both ends takes 2 ∫ (a b − (a − 2 x)(b − 2 x)) dx from 0 to c.
    let chamfered =
        edited(&block(80.0, 30.0, 18.0, 0.0), &[set("blank", "ends", json!({ "chamfer": 1.0 }))]);
    let exact = 80.0 * 540.0 - 2.0 * (48.0 - 4.0 / 3.0);
    close(volume(&chamfered, Tolerance::Normal), exact, 1e-6);
}

/// The section of a bent bar is two legs and a sector between two arcs about one middle; drawn out it is
/// that area times the length (Pappus, Cavalieri).
#[test]
fn a_bent_bar_is_two_legs_and_an_arc() {
    for angle in [60.0, 90.0, 130.0] {
        let sizes = [
            ("length", json!(152.4)),
            ("thickness", json!(6.35)),
            ("base", json!(38.1)),
            ("upright", json!(50.8)),
            ("angle", json!(angle)),
            ("inside", json!(3.0)),
            ("outside", json!(9.35)),
        ];
        let bar = standing(BlankKind::BentBar, &sizes);
        let taken = 9.35 / f64::to_radians(angle / 2.0).tan();
        let turn = PI - f64::to_radians(angle);
        let section =
            (38.1 - taken + 50.8 - taken) * 6.35 + turn / 2.0 * (9.35f64.powi(2) - 3.0f64.powi(2));
        let found = sound(&bar, Tolerance::Fine);
        close(found.measures.volume, 152.4 * section, 2e-4);
        // It stands on the bed, its length from left to right.
        assert!(found.measures.low[2].abs() < 1e-9);
        close(found.measures.high[0] - found.measures.low[0], 152.4, 1e-6);
    }
}

#[test]
fn a_tent_is_a_triangle_with_or_without_its_inside() {
    let sizes = |thickness: Value| {
        vec![
            ("length", json!(100.0)),
            ("front", json!(50.0)),
            ("back", json!(50.0)),
            ("angle", json!(60.0)),
            ("thickness", thickness),
        ]
    };
    // An even triangle of 50 mm; a card of 3 mm leaves one inside it that is smaller by what 3 mm along
    // both legs take off its base.
    let triangle = |side: f64| side * side * 3f64.sqrt() / 4.0;
    let inner = 50.0 - 2.0 * 3.0 / f64::to_radians(60.0).sin();
    let solid = standing(BlankKind::Tent, &sizes(Value::Null));
    close(volume(&solid, Tolerance::Normal), 100.0 * triangle(50.0), 1e-6);
    let card = standing(BlankKind::Tent, &sizes(json!(3.0)));
    let exact = 100.0 * (triangle(50.0) - triangle(inner));
    close(volume(&card, Tolerance::Normal), exact, 1e-6);
}

#[test]
fn what_is_sunk_into_a_face_takes_its_area_times_its_depth_on_every_face() {
    let cases = [
        block(80.0, 30.0, 18.0, 15.0),
        standing(BlankKind::BentBar, &[]),
        standing(BlankKind::Tent, &[]),
    ];
    for piece in cases {
        let before = volume(&piece, Tolerance::Fine);
        let mut all = piece.clone();
        let faces = piece.first().blank.faces();
        for (i, face) in faces.iter().enumerate() {
            let edits = field("recess-1", *face, 1.5);
            for tolerance in ALL {
                let found = volume(&edited(&piece, &edits), tolerance);
                let before = volume(&piece, tolerance);
                assert!((before - found - 90.0).abs() < 2e-2, "{face:?} {}", before - found);
            }
            all = edited(&all, &field(&format!("recess-{}", i + 1), *face, 1.5));
        }
        // On all faces at once, in whichever order.
        let found = volume(&all, Tolerance::Fine);
        assert!((before - found - 90.0 * faces.len() as f64).abs() < 5e-2, "{}", before - found);
        all.components[0].elements.reverse();
        close(volume(&all, Tolerance::Fine), found, 1e-7);
    }
}

/// Square to a leaning face, so a plate of 6 mm is 6 mm thick under the hole.
#[test]
fn a_hole_goes_through_its_own_wall_only() {
    let bar = standing(BlankKind::BentBar, &[("angle", json!(60.0))]);
    let drill = |face: FaceName| {
        let middle = json!({ "from": "centre", "distance": 0.0 });
        [
            on(ElementKind::Hole, face),
            set("hole-1", "diameter", json!(5.0)),
            set("hole-1", "place", json!({ "across": middle, "up": middle })),
        ]
    };
    let exact = PI * 2.5 * 2.5 * 6.0;
    for face in [FaceName::Front, FaceName::Back, FaceName::Top] {
        let before = volume(&bar, Tolerance::Fine);
        let found = before - volume(&edited(&bar, &drill(face)), Tolerance::Fine);
        close(found, exact, 5e-3);
    }
}

#[test]
fn letters_stand_square_to_a_leaning_face_in_their_own_colour() {
    let bar = standing(BlankKind::BentBar, &[]);
    let other = shipped_palette().remove(3);
    let lettered = edited(
        &bar,
        &[
            on(ElementKind::Lettering, FaceName::Front),
            set("lettering-1", "lines.0.words", "SKERRY Ω"),
            set("lettering-1", "relief", json!({ "raised": { "by": 5.08 } })),
            Edit::Colour {
                target: address("lettering-1"),
                field: "colour".to_owned(),
                filament: Some(other),
            },
        ],
    );
    for tolerance in ALL {
        let found = sound(&lettered, tolerance);
        let placed = &found.layout.elements[0];
        let exact = volume(&bar, tolerance) + placed.region.area() * 5.08;
        close(found.measures.volume, exact, 1e-5);
        // Every point of the letters is at most so far from the face, and the highest just so far.
        let face = found.layout.face(FaceName::Front).unwrap();
        let height = |vertex: &[f64; 3]| -> f64 {
            (0..3).map(|i| (vertex[i] - face.frame.origin[i]) * face.frame.out[i]).sum()
        };
        let highest = found.mesh.vertices.iter().map(height).fold(0.0, f64::max);
        assert!((highest - face.thickness - 5.08).abs() < 1e-3, "{highest}");
        assert_eq!(found.bodies.len(), 2);
    }
}

/// A plate of 4 mm with a foot that has a slot for it.
fn nameplate(lean: f64) -> Piece {
    let piece = edited(
        &Piece::new("Desk", Unit::Millimetre),
        &[
            set("blank", "width", json!(90.0)),
            set("blank", "height", json!(30.0)),
            set("blank", "thickness", json!(4.0)),
            set(
                "blank",
                "outline",
                json!({ "rectangle": { "top_left": "square",
                "top_right": "square", "bottom_right": "square", "bottom_left": "square" } }),
            ),
            Edit::AddComponent { blank: BlankKind::Block },
            Edit::Join {
                into: "component-2".to_owned(),
                part: Component::FIRST.to_owned(),
                socket: false,
            },
            set("piece", "joints.0.slot.lean", json!(lean)),
            set("piece", "joints.0.slot.depth", json!(10.0)),
        ],
    );
    let foot = Address::Blank("component-2".to_owned());
    let square = |field: &str| Edit::set(&foot, field, json!("square"));
    edited(&piece, &[square("top"), square("ends")])
}

/// A plate of 4.0 mm gets a slot of 4.1 mm, snug (a check value of the trade; common practice, no
/// source). However it leans, the slot takes its length by its width by its depth.
#[test]
fn a_slot_takes_the_plate_and_the_clearance() {
    for lean in [0.0, 10.0, -20.0] {
        let piece = nameplate(lean);
        for tolerance in ALL {
            let found = evaluated(&piece, tolerance);
            let foot = &found.components[1];
            assert!(foot.mesh.faults().is_sound());
            let slot = &foot.layout.slots[0];
            assert!((slot.width - 4.1).abs() < 1e-12 && (slot.length - 90.1).abs() < 1e-12);
            close(foot.measures.volume, 100.0 * 30.0 * 18.0 - 90.1 * 4.1 * 10.0, 1e-6);
        }
    }
}

/// The slot of a foot follows the plate that goes in, and nothing else is worked out again.
#[test]
fn a_slot_follows_its_plate() {
    let thicker = edited(&nameplate(10.0), &[set("blank", "thickness", json!(6.0))]);
    let found = evaluated(&thicker, Tolerance::Normal);
    assert!((found.components[1].layout.slots[0].width - 6.1).abs() < 1e-12);
    let loose = edited(&thicker, &[set("piece", "joints.0.fit", json!({ "clearance": 0.3 }))]);
    let found = evaluated(&loose, Tolerance::Normal);
    assert!((found.components[1].layout.slots[0].width - 6.3).abs() < 1e-12);
}

/// Put together, the plate leans in its slot half the clearance from each wall: every corner of its
/// lower end is that far from the walls and the floor.
#[test]
fn put_together_half_the_clearance_lies_on_either_side() {
    for lean in [0.0, 10.0, -20.0] {
        let piece = nameplate(lean);
        let found = evaluated(&piece, Tolerance::Normal);
        let poses = put_together(&piece, &found);
        let slot = &found.components[1].layout.slots[0];
        let in_slot = |vertex: &[f64; 3]| {
            let at = poses[0].point(vertex[0], vertex[1], vertex[2]);
            let from = [0, 1, 2].map(|i| at[i] - slot.frame.origin[i]);
            let along = |axis: [f64; 3]| (0..3).map(|i| from[i] * axis[i]).sum::<f64>();
            [along(slot.frame.across), along(slot.frame.up), along(slot.frame.out)]
        };
        let corners: Vec<[f64; 3]> =
            found.components[0].mesh.vertices.iter().map(in_slot).collect();
        let low = |axis: usize| corners.iter().map(|c| c[axis]).fold(f64::INFINITY, f64::min);
        let high = |axis: usize| corners.iter().map(|c| c[axis]).fold(f64::NEG_INFINITY, f64::max);
        for (axis, half) in [(0, 45.05), (1, 2.05)] {
            assert!((low(axis) + half - 0.05).abs() < 1e-4, "{lean} {axis} {}", low(axis));
            assert!((half - high(axis) - 0.05).abs() < 1e-4, "{lean} {axis} {}", high(axis));
        }
        assert!((low(2) + 10.0 - 0.05).abs() < 1e-4, "{lean} {}", low(2));
        // The front of the plate looks to whoever stands before the foot, and it stands upright.
        assert!(poses[0].out[1] < -0.9 && poses[0].up[2] > 0.9);
    }
}

#[test]
fn what_cannot_be_is_said_at_its_field() {
    let said = |piece: &Piece, edit: Edit| {
        let error = try_edits(piece, &[edit]).unwrap_err();
        format!("{} {}: {}", error.target, error.field, error.message)
    };
    let foot = block(80.0, 30.0, 18.0, 0.0);
    let bar = standing(BlankKind::BentBar, &[]);
    let tent = standing(BlankKind::Tent, &[]);
    let desk = nameplate(10.0);
    let joint = |field: &str, value: Value| set("piece", field, value);
    insta::assert_snapshot!(
        [
            said(&foot, set("blank", "lean", json!(61))),
            said(
                &edited(&foot, &[set("blank", "depth", json!(10))]),
                set("blank", "lean", json!(45))
            ),
            said(&bar, set("blank", "inside", json!(30))),
            said(&bar, set("blank", "outside", json!(20))),
            said(&bar, set("blank", "outside", json!(60))),
            said(&tent, set("blank", "back", json!(10))),
            said(&tent, set("blank", "thickness", json!(30))),
            said(
                &edited(&foot, &[on(ElementKind::Hole, FaceName::Left)]),
                set("hole-1", "face", json!("under"))
            ),
            said(&bar, on(ElementKind::Hole, FaceName::Left)),
            said(&foot, on(ElementKind::Loop, FaceName::Top)),
            said(&desk, joint("joints.0.slot.depth", json!(0.1))),
            said(&desk, joint("joints.0.slot.lean", json!(50))),
            said(&desk, joint("joints.0.part", json!("component-2"))),
            said(&desk, joint("joints.0.part", json!("component-9"))),
            said(&desk, joint("joints.0.slot.face", json!("under"))),
            said(&desk, joint("joints.0.slot.face", json!("left"))),
            said(&desk, joint("joints.0.fit", json!({ "clearance": -0.2 }))),
            said(&desk, joint("joints.0.fit", json!("tight"))),
            said(
                &desk,
                Edit::Join {
                    into: "component-1".into(),
                    part: "component-2".into(),
                    socket: false
                }
            ),
            said(
                &desk,
                Edit::Join {
                    into: "component-2".into(),
                    part: "component-1".into(),
                    socket: false
                }
            ),
            said(&foot, Edit::Remove { target: address("component") }),
        ]
        .join("\n")
    );
}

/// Taking a plate away takes its slot away too.
#[test]
fn a_component_takes_its_joints_along() {
    let alone = edited(&nameplate(10.0), &[Edit::Remove { target: address("component") }]);
    assert_eq!((alone.components.len(), alone.joints.len()), (1, 0));
    close(volume(&alone, Tolerance::Normal), 100.0 * 30.0 * 18.0, 1e-6);
}

#[test]
fn slots_that_break_out_are_told_where_and_how() {
    let told = |edits: &[Edit]| {
        let piece = edited(&nameplate(10.0), edits);
        let found = worked(&piece, Tolerance::Draft);
        let codes = found.findings.iter().map(|f| format!("{} {}: {}", f.code, f.field, f.message));
        codes.collect::<Vec<_>>()
    };
    let foot = Address::Blank("component-2".to_owned());
    assert_eq!(told(&[]), Vec::<String>::new());
    insta::assert_snapshot!(
        [
            told(&[set("piece", "joints.0.slot.depth", json!(20))]),
            told(&[Edit::set(&foot, "height", json!(10.5))]),
            told(&[
                set("piece", "joints.0.slot.lean", json!(45)),
                set("piece", "joints.0.slot.depth", json!(23)),
            ]),
            told(&[Edit::set(&foot, "width", json!(85))]),
            told(&[Edit::set(&foot, "width", json!(91))]),
            told(&[Edit::set(&foot, "width", json!(85)), set("piece", "joints.0.slot.open", true)]),
            told(&[
                on(ElementKind::Lettering, FaceName::Front),
                set("lettering-1", "place.up", json!({ "from": "bottom", "distance": 2.0 })),
                set("lettering-1", "size", json!({ "height": 6.0 })),
            ]),
        ]
        .map(|lines| lines.join("\n"))
        .join("\n---\n")
    );
}

/// A box of 80 × 60 mm inside with walls of 3 mm, and a plate of 2 mm made its lid.
fn with_lid() -> Piece {
    let mut piece =
        standing(BlankKind::Box, &[("upper", json!("square")), ("lower", json!("square"))]);
    piece = edited(
        &piece,
        &[
            Edit::AddComponent { blank: BlankKind::Plate },
            Edit::set(&Address::Blank("component-2".to_owned()), "thickness", json!(2.0)),
            Edit::Join {
                into: Component::FIRST.to_owned(),
                part: "component-2".to_owned(),
                socket: true,
            },
        ],
    );
    piece
}

/// The lid reaches over half of the walls; its rebate is a sliding fit larger, and as deep as it is thick.
#[test]
fn a_lid_lies_in_the_rebate_of_its_box() {
    let piece = with_lid();
    let lid = piece.components[1].plate().unwrap();
    assert_eq!([lid.width.as_mm(), lid.height.as_mm()], [82.8, 62.8]);
    for tolerance in ALL {
        let found = evaluated(&piece, tolerance);
        let (inner, lid) = (&found.components[0], &found.components[1]);
        assert!(inner.mesh.faults().is_sound() && inner.partings.count == 0);
        // Rounded corners: inside 4 mm, of the rebate 5.5 and outside 7 mm.
        let area = |w: f64, h: f64, r: f64| w * h - (4.0 - PI) * r * r;
        let (outside, inside) = (area(86.0, 66.0, 7.0), area(80.0, 60.0, 4.0));
        let rebate = area(83.0, 63.0, 5.5);
        let exact = outside * 32.0 - inside * 28.0 - rebate * 2.0;
        // Chords of the corners, at most so far off.
        close(inner.measures.volume, exact, 2e-2 * tolerance.chord_mm());
        // Put together it is level with the rim.
        let pose = put_together(&piece, &found)[1];
        assert!((pose.origin[2] + lid.measures.high[2] - 32.0).abs() < 1e-6);
    }
    // A thicker lid takes its rebate along.
    let blank = |id: &str| Address::Blank(id.to_owned());
    let thick = edited(&piece, &[Edit::set(&blank("component-2"), "thickness", json!(3.0))]);
    let depth = evaluated(&thick, Tolerance::Normal).components[0].layout.sockets[0].depth;
    assert!((depth - 3.0).abs() < 1e-12);
    let said = |piece: &Piece| -> Vec<&'static str> {
        let findings = worked(piece, Tolerance::Normal).findings;
        let fits = |code: &&str| !["larger-than-bed", "may-lift"].contains(code);
        findings.iter().map(|one| one.code).filter(fits).collect()
    };
    assert_eq!(said(&piece), Vec::<&str>::new());
    // The lid of a box that grows, has rounder corners or another fit follows it.
    let lid = |piece: &Piece| {
        let plate = piece.components[1].plate().unwrap();
        [plate.width, plate.height].map(|side| side.as_mm())
    };
    let wider = edited(&piece, &[Edit::set(&blank("component-1"), "width", json!(90.0))]);
    assert_eq!((lid(&wider), said(&wider)), ([92.8, 62.8], vec![]));
    let thin = edited(&wider, &[Edit::set(&blank("component-1"), "wall", json!(2.0))]);
    assert_eq!((lid(&thin), said(&thin)), ([91.8, 61.8], vec![]));
    let loose = edited(&thin, &[Edit::set(&Address::Piece, "joints.0.fit", json!("loose"))]);
    assert_eq!((lid(&loose), said(&loose)), ([91.6, 61.6], vec![]));
    // A box whose lid could be no plate any more keeps the one it has, which reaches over 1.4 mm of its walls.
    let huge = edited(
        &piece,
        &[
            Edit::set(&blank("component-1"), "width", json!(480.0)),
            Edit::set(&blank("component-1"), "wall", json!(30.0)),
        ],
    );
    assert_eq!((lid(&huge)[0], said(&huge)), (482.8, vec![]));
    // One that was given a size of its own keeps it, also in the same breath, and says what it costs.
    let own = edited(&piece, &[Edit::set(&blank("component-2"), "width", json!(82.0))]);
    assert_eq!(lid(&own), [82.0, 62.8]);
    let grown = edited(&own, &[Edit::set(&blank("component-1"), "width", json!(90.0))]);
    assert_eq!((lid(&grown), said(&grown)), ([82.0, 62.8], vec!["lid-falls-in"]));
}

/// A tag in a recess of its own outline: as much larger as its fit says, whatever the outline, on a plate,
/// on a block and on a leaning face.
#[test]
fn a_socket_has_the_outline_of_its_plate() {
    let tag = |piece: &Piece| {
        edited(
            piece,
            &[
                Edit::AddComponent { blank: BlankKind::Plate },
                Edit::set(&Address::Blank("component-2".to_owned()), "width", json!(20.0)),
                Edit::set(&Address::Blank("component-2".to_owned()), "height", json!(12.0)),
                Edit::set(&Address::Blank("component-2".to_owned()), "thickness", json!(1.5)),
                Edit::set(&Address::Blank("component-2".to_owned()), "outline", json!("ellipse")),
                Edit::Join {
                    into: Component::FIRST.to_owned(),
                    part: "component-2".to_owned(),
                    socket: true,
                },
                set("piece", "joints.0.fit", json!({ "clearance": 0.3 })),
            ],
        )
    };
    for base in [
        Piece::new("Plate", Unit::Millimetre),
        block(60.0, 30.0, 18.0, 0.0),
        standing(BlankKind::BentBar, &[]),
    ] {
        for tolerance in ALL {
            let joined = tag(&base);
            let before = evaluated(&base, tolerance).components[0].measures.volume;
            let found = evaluated(&joined, tolerance);
            let receiver = &found.components[0];
            assert!(receiver.mesh.faults().is_sound());
            let socket = &receiver.layout.sockets[0];
            let bounds = socket.outline.bounds().unwrap();
            let off = [bounds.width() - 20.3, bounds.height() - 12.3];
            assert!(off.iter().all(|mm| mm.abs() <= tolerance.chord_mm()), "{off:?}");
            close(before - receiver.measures.volume, socket.outline.area() * 1.5, 1e-4);
        }
    }
}

/// A tag that is turned in its socket: put together its corners lie where the socket's do, and what is raised
/// on its back stands on the floor, which is said with what mends it.
#[test]
fn a_socket_can_be_turned() {
    let second = |field: &str, value: Value| {
        Edit::set(&Address::Blank("component-2".to_owned()), field, value)
    };
    let square = json!("square");
    let piece = edited(
        &block(60.0, 40.0, 18.0, 0.0),
        &[
            Edit::AddComponent { blank: BlankKind::Plate },
            second("width", json!(30.0)),
            second("height", json!(10.0)),
            second("thickness", json!(2.0)),
            second("edges", json!({ "top": square, "bottom": square })),
            second(
                "outline",
                json!({ "rectangle": { "top_left": square, "top_right": square,
                    "bottom_right": square, "bottom_left": square } }),
            ),
            Edit::Join {
                into: Component::FIRST.to_owned(),
                part: "component-2".to_owned(),
                socket: true,
            },
            set("piece", "joints.0.fit", json!({ "clearance": 0.4 })),
            set("piece", "joints.0.socket.turn", json!(30.0)),
        ],
    );
    for tolerance in ALL {
        let found = evaluated(&piece, tolerance);
        let (receiver, tag) = (&found.components[0], &found.components[1]);
        assert!(receiver.mesh.faults().is_sound());
        close(60.0 * 40.0 * 18.0 - receiver.measures.volume, 30.4 * 10.4 * 2.0, 2e-3);
        let pose = put_together(&piece, &found)[1];
        let corner = pose.point(15.0, 5.0, 0.0);
        let (sine, cosine) = 30.0f64.to_radians().sin_cos();
        let exact = [15.0 * cosine - 5.0 * sine, 15.0 * sine + 5.0 * cosine, 16.0];
        (0..3).for_each(|i| assert!((corner[i] - exact[i]).abs() < 1e-6, "{corner:?} {exact:?}"));
        assert_eq!(tag.lift, 0.0);
    }
    let raised = edited(
        &piece,
        &[
            Edit::Add {
                component: "component-2".to_owned(),
                kind: ElementKind::Lettering,
                face: FaceName::Back,
            },
            Edit::set(
                &Address::element("component-2", "lettering-1"),
                "relief",
                json!({ "raised": { "by": 0.6 } }),
            ),
        ],
    );
    let found = worked(&raised, Tolerance::Normal);
    let poses = put_together(&raised, &found.evaluation);
    // Its lowest point is on the floor, 2 mm under the top.
    assert!((poses[1].origin[2] - 16.0).abs() < 1e-6);
    let said = found.findings.iter().find(|one| one.code == "stands-in-socket").unwrap();
    let mended = edited(&raised, &said.remedies[0].edits);
    let after = worked(&mended, Tolerance::Normal);
    assert!(after.findings.iter().all(|one| one.code != "stands-in-socket"));
}

/// A component of another piece comes with what is on it and the filaments it names, under an id and a
/// name of its own, and is joined to nothing. What names a filament that is nowhere takes that of the piece.
#[test]
fn a_component_goes_into_another_piece() {
    let desk = nameplate(10.0);
    let other = shipped_palette().remove(3);
    let colour = Edit::Colour {
        target: Address::Blank("component-2".to_owned()),
        field: "colour".to_owned(),
        filament: Some(other.clone()),
    };
    let desk = edited(&desk, &[colour]);
    let foot = Box::new(desk.components[1].clone());
    let insert = |filaments: Vec<_>| Edit::InsertComponent { component: foot.clone(), filaments };
    let tag = Piece::new("Tag", Unit::Millimetre);
    let with = edited(&tag, &[insert(desk.filaments.clone()), insert(desk.filaments.clone())]);
    let called: Vec<&str> = with.components.iter().map(Component::called).collect();
    assert_eq!(called, ["Plate", "Block", "Block 2"]);
    assert_eq!(with.components[1].blank.colour(), other.id);
    assert!(with.joints.is_empty() && with.filaments.len() == 2);
    let made = evaluated(&with, Tolerance::Normal);
    close(made.components[1].measures.volume, 100.0 * 30.0 * 18.0, 1e-6);
    let without = edited(&tag, &[insert(Vec::new())]);
    assert_eq!(without.components[1].blank.colour(), tag.first().blank.colour());
    // No more than a piece can have.
    let nine = vec![insert(desk.filaments.clone()); 8];
    assert!(try_edits(&tag, &nine).unwrap_err().message.contains("1 to 8 components"));
}

/// What is copied from a face that is not there comes to the main one.
#[test]
fn what_comes_from_another_face_comes_to_the_main_one() {
    let foot = edited(&block(80.0, 30.0, 18.0, 0.0), &field("recess-1", FaceName::Left, 1.0));
    let element = Box::new(foot.first().elements[0].clone());
    let insert = Edit::Insert {
        component: Component::FIRST.to_owned(),
        element,
        filaments: foot.filaments.clone(),
    };
    let bar = edited(&standing(BlankKind::BentBar, &[]), &[insert]);
    assert_eq!(bar.first().elements[0].face, FaceName::Front);
}

/// A drawing shows the main face of what stands: what is on its other sides is not to be cut there.
#[test]
fn a_drawing_shows_the_main_face() {
    let mut foot = block(80.0, 30.0, 18.0, 0.0);
    for (i, face) in [FaceName::Left, FaceName::Front, FaceName::Top].into_iter().enumerate() {
        foot = edited(&foot, &field(&format!("recess-{}", i + 1), face, 1.0));
    }
    let drawing = drawing_of(&foot, &evaluated(&foot, Tolerance::Draft));
    let areas: Vec<(String, f64)> =
        drawing.layers.iter().map(|layer| (layer.name.clone(), layer.region.area())).collect();
    let [(cut, whole), (sunk, area)] = &areas[..] else { panic!("{areas:?}") };
    assert!(cut == "cut" && sunk.starts_with("recessed 1 mm"), "{areas:?}");
    assert!((whole - 80.0 * 30.0).abs() < 1e-6 && (area - 60.0).abs() < 1e-6, "{areas:?}");
}

/// Components of one name get files of different names.
#[test]
fn files_of_components_never_collide() {
    let mut desk = nameplate(10.0);
    desk.components.iter_mut().for_each(|component| component.name = "Part".to_owned());
    let found = evaluated(&desk, Tolerance::Draft);
    let wanted = Wanted { each: true, ..Wanted::default() };
    let names: Vec<String> =
        export(&desk, &found, wanted).into_iter().map(|file| file.name).collect();
    assert_eq!(names, ["desk-part.stl", "desk-part-2.stl"]);
}

/// Where a field lies on a face, and how deep: shares of the face and of the thickness.
type Sunk = (usize, f64, f64, f64);

fn any_standing() -> impl Strategy<Value = (Piece, Vec<Sunk>)> {
    let kind = prop_oneof![Just(BlankKind::Block), Just(BlankKind::BentBar), Just(BlankKind::Tent)];
    let sunk = (0usize..5, -0.3..0.3, -0.3..0.3, 0.1..0.6);
    (kind, 0.0..1.0, 0.0..1.0, prop::collection::vec(sunk, 0..4)).prop_map(
        |(kind, lean, size, sunk)| {
            let sizes = match kind {
                BlankKind::Block => vec![
                    ("width", json!(40.0 + 60.0 * size)),
                    ("height", json!(12.0 + 20.0 * size)),
                    ("depth", json!(40.0)),
                    ("lean", json!(35.0 * lean)),
                ],
                BlankKind::BentBar => vec![
                    ("length", json!(40.0 + 60.0 * size)),
                    ("angle", json!(60.0 + 70.0 * lean)),
                    ("upright", json!(35.0 + 20.0 * size)),
                ],
                _ => vec![
                    ("length", json!(40.0 + 60.0 * size)),
                    ("angle", json!(50.0 + 40.0 * lean)),
                    ("front", json!(40.0 + 20.0 * size)),
                ],
            };
            (standing(kind, &sizes), sunk)
        },
    )
}

proptest! {
    #![proptest_config(common::cases(24))]

    /// Fields of 8 × 5 mm, each on a face of its own, take what of their areas lies on it times their
    /// depths off a blank of any size and lean, and the outside of it stays where it was.
    #[test]
    fn fields_take_what_they_are_from_any_standing_blank(
        (piece, sunk) in any_standing(),
        fine in any::<bool>(),
    ) {
        let tolerance = if fine { Tolerance::Fine } else { Tolerance::Draft };
        let before = sound(&piece, tolerance);
        let (mut all, mut taken) = (piece.clone(), 0.0);
        let faces = piece.first().blank.faces();
        let mut used = Vec::new();
        for (i, x, y, depth) in sunk {
            let face = faces[i % faces.len()];
            if used.contains(&face) {
                continue;
            }
            used.push(face);
            let chart = before.layout.face(face).unwrap();
            // Far enough from the edges that fields on two faces do not meet inside a corner.
            let room = [chart.rect.width() - 14.0, chart.rect.height() - 11.0];
            let depth = (depth * chart.thickness).min(1.0);
            let clear = |share: f64, room: f64| (share * room.max(0.0) * 100.0).round() / 100.0;
            let id = format!("recess-{}", used.len());
            let mut edits = field(&id, face, depth);
            edits.push(set(&id, "shape.own.width", json!(8.0)));
            edits.push(set(&id, "shape.own.height", json!(5.0)));
            edits.push(set(&id, "place.across.distance", json!(clear(x, room[0]))));
            edits.push(set(&id, "place.up.distance", json!(clear(y, room[1]))));
            all = edited(&all, &edits);
            // The ends of a block that leans are no rectangles.
            let placed = with_workshop(Tolerance::Fine, |workshop| {
                layout(&all, all.first(), workshop).unwrap().element(&id).unwrap().clone()
            });
            taken += placed.region.intersection(&chart.outline).area() * depth;
        }
        let after = sound(&all, tolerance);
        let found = before.measures.volume - after.measures.volume;
        prop_assert!((found - taken).abs() < 2e-2 + 1e-6 * before.measures.volume, "{found} {taken}");
        for axis in 0..3 {
            prop_assert!((before.measures.low[axis] - after.measures.low[axis]).abs() < 1e-4);
            prop_assert!((before.measures.high[axis] - after.measures.high[axis]).abs() < 1e-4);
        }
    }

    /// A plate of any size stands in its slot at any lean and clearance without touching: what they share
    /// is nothing, and the slot is as much larger as its fit says.
    #[test]
    fn a_slot_is_as_much_larger_as_its_fit(
        lean in -30.0..30.0,
        thickness in 1.0..8.0,
        clearance in 0.0..0.6,
        depth in 2.0..9.0,
    ) {
        let piece = edited(&nameplate(0.0), &[
            set("blank", "thickness", json!(thickness)),
            Edit::set(&Address::Blank("component-2".to_owned()), "depth", json!(60.0)),
            set("piece", "joints.0.slot.lean", json!(lean)),
            set("piece", "joints.0.slot.depth", json!(depth)),
            set("piece", "joints.0.fit", json!({ "clearance": clearance })),
        ]);
        let found = evaluated(&piece, Tolerance::Normal);
        let foot = &found.components[1];
        prop_assert!(foot.stop.is_none() && foot.mesh.faults().is_sound());
        let exact = 100.0 * 60.0 * 18.0 - (90.0 + clearance) * (thickness + clearance) * depth;
        let missing: f64 = foot.measures.volume - exact;
        prop_assert!(missing.abs() < 0.05, "{} {exact}", foot.measures.volume);
    }
}

/// Every face of every blank grows with the fields it is said to be as wide and as high as, by as much, and not with
/// the other.
#[test]
fn faces_grow_with_the_fields_they_are_as_large_as() {
    let blank = address("blank");
    let mut sides_there_are = 0;
    for kind in BlankKind::ALL {
        let upright =
            if kind == BlankKind::Block { vec![("lean", json!(0.0))] } else { Vec::new() };
        let piece = standing(kind, &upright);
        let sizes = |piece: &Piece, face: FaceName| {
            let found = worked(piece, Tolerance::Fine);
            // A side of a plate that has nothing on it is as large as the plate.
            let rect = found.layout.face(face).map_or(found.layout.blank.rect, |face| face.rect);
            [rect.width(), rect.height()]
        };
        for face in piece.first().blank.faces() {
            let before = sizes(&piece, *face);
            let sides = piece.first().blank.sides_of(*face);
            for (i, field) in sides.iter().enumerate() {
                let Some(field) = field else { continue };
                sides_there_are += 1;
                let now = piece.value(&blank, field).unwrap().as_f64().unwrap();
                let larger = edited(&piece, &[set("blank", field, now + 2.0)]);
                let after = sizes(&larger, *face);
                for (k, other) in sides.iter().enumerate() {
                    let grows = if other == &Some(*field) { 2.0 } else { 0.0 };
                    if k == i || other.is_some() {
                        let by = after[k] - before[k];
                        assert!((by - grows).abs() < 0.01, "{kind:?} {face:?} {field}: {k} {by}");
                    }
                }
            }
        }
    }
    // Two of every face but those that run round, which have one, of seven blanks.
    assert_eq!(sides_there_are, 4 + 10 + 6 + 4 + 5 + 5 + 2 + 14);
}
