//! What is made is what was asked for, on either face, in every order: each against a closed form, or against itself
//! where it must come to the same.

mod common;

use common::{
    Worked, address, close, edited, evaluated, fresh, set, try_edits, with_workshop, worked,
};
use kalotype_core::bed::{overlapping, places};
use kalotype_core::edit::apply;
use kalotype_core::export::{drawing_of, picture_of};
use kalotype_core::filament::shipped_palette;
use kalotype_core::piece::{
    Address, Axis, BlankKind, Component, Edit, ElementKind, FaceName, Lying, Piece, Side,
};
use kalotype_core::plane::{Region, Tolerance};
use kalotype_core::preflight::{Finding, Weight, run};
use kalotype_core::units::Unit;
use proptest::prelude::*;
use serde_json::{Value, json};
use std::f64::consts::PI;

const ALL: [Tolerance; 3] = [Tolerance::Draft, Tolerance::Normal, Tolerance::Fine];

fn on(kind: ElementKind, face: FaceName) -> Edit {
    Edit::Add { component: Component::FIRST.to_owned(), kind, face }
}

fn second(field: &str, value: Value) -> Edit {
    Edit::set(&Address::Blank("component-2".to_owned()), field, value)
}

fn square_corners() -> Value {
    json!({ "rectangle": { "top_left": "square", "top_right": "square",
        "bottom_right": "square", "bottom_left": "square" } })
}

/// A plate with square corners and edges.
fn plate(width: f64, height: f64, thickness: f64) -> Piece {
    edited(
        &Piece::new("Plate", Unit::Millimetre),
        &[
            set("blank", "width", width),
            set("blank", "height", height),
            set("blank", "thickness", thickness),
            set("blank", "outline", square_corners()),
            set("blank", "edges", json!({ "top": "square", "bottom": "square" })),
        ],
    )
}

fn of_blank(kind: BlankKind, sizes: &[(&str, Value)]) -> Piece {
    let mut piece = Piece::new("Test", Unit::Millimetre);
    piece.components[0] = Component::customary(Component::FIRST, kind, Unit::Millimetre);
    let edits: Vec<Edit> =
        sizes.iter().map(|(field, value)| set("blank", field, value.clone())).collect();
    edited(&piece, &edits)
}

fn sound(piece: &Piece, tolerance: Tolerance) -> Worked {
    let found = worked(piece, tolerance);
    assert!(found.stop.is_none(), "{:?}", found.stop);
    assert!(found.mesh.faults().is_sound(), "{:?}", found.mesh.faults());
    found
}

fn told<'a>(found: &'a Worked, code: &str) -> Option<&'a Finding> {
    found.findings.iter().find(|finding| finding.code == code)
}

proptest! {
    #![proptest_config(common::cases(24))]

    /// Whatever lies on whichever side, in whichever order: nothing lies on anything else on the bed, each stands on
    /// it, and they are no more than a hair further apart than they are meant to be.
    #[test]
    fn what_lies_on_the_bed_never_overlaps(
        all in proptest::collection::vec((0..BlankKind::ALL.len(), 0..Lying::ALL.len()), 2..4),
    ) {
        let mut piece = of_blank(BlankKind::ALL[all[0].0], &[]);
        for (kind, _) in &all[1..] {
            piece = edited(&piece, &[Edit::AddComponent { blank: BlankKind::ALL[*kind] }]);
        }
        for (i, (_, lies)) in all.iter().enumerate() {
            let component = Address::Component(format!("component-{}", i + 1));
            let lies = Lying::ALL[*lies].word();
            piece = edited(&piece, &[Edit::set(&component, "lies", lies)]);
        }
        let made = evaluated(&piece, Tolerance::Draft);
        prop_assert!(overlapping(&made).is_empty());
        // By the vertices themselves, where the files have them.
        let mut right = f64::NEG_INFINITY;
        for (made, place) in made.components.iter().zip(places(&made)) {
            let points = made.mesh.vertices.iter().map(|[x, y, z]| place.point(*x, *y, *z));
            let (low, high, foot) = points.fold(
                (f64::INFINITY, f64::NEG_INFINITY, f64::INFINITY),
                |(low, high, foot), [x, _, z]| (low.min(x), high.max(x), foot.min(z)),
            );
            prop_assert!(foot.abs() < 1e-9, "{foot}");
            prop_assert!(right == f64::NEG_INFINITY || (4.9..6.1).contains(&(low - right)));
            right = high;
        }
    }
}

/// A block that lies on its side and a plate beside it: the block is 40 high, so it reaches from −20 to 20.
#[test]
fn a_first_part_that_is_turned_makes_room_for_the_second() {
    let block = of_blank(BlankKind::Block, &[("height", json!(40.0))]);
    let piece = edited(
        &block,
        &[set("component", "lies", "on-left"), Edit::AddComponent { blank: BlankKind::Plate }],
    );
    let made = evaluated(&piece, Tolerance::Draft);
    let [first, next] = places(&made)[..] else { panic!("two") };
    let low = made.components[1].measures.low[0] + next.origin[0];
    let ends = made.components[0].mesh.vertices.iter().map(|v| first.point(v[0], v[1], v[2])[0]);
    let high = ends.fold(f64::NEG_INFINITY, f64::max);
    assert!((high - 20.0).abs() < 1e-9 && low >= high + 5.0, "{high} {low}");
}

fn holes(face: FaceName, at: &[(f64, f64)]) -> Piece {
    let mut piece = plate(120.0, 60.0, 3.0);
    for (i, (across, up)) in at.iter().enumerate() {
        let id = format!("hole-{}", i + 1);
        let from = |axis: &str, mm: f64| {
            set(&id, &format!("place.{axis}"), json!({ "from": "centre", "distance": mm }))
        };
        let add = on(ElementKind::Hole, face);
        piece = edited(&piece, &[add, from("across", *across), from("up", *up)]);
    }
    piece
}

/// How far to the right and up holes lie on their own face, in mm.
fn where_they_are(piece: &Piece) -> Vec<[f64; 2]> {
    let of = |i: usize| {
        ["across", "up"].map(|axis| {
            let hole = address(&format!("hole-{}", i + 1));
            piece.value(&hole, &format!("place.{axis}.distance")).unwrap().as_f64().unwrap()
        })
    };
    (0..piece.first().elements.len()).map(of).collect()
}

/// On either face, left is what lies left as that face is seen: of 10 and 30, both go to 10; the middle of three goes
/// between the others.
#[test]
fn things_are_lined_up_as_their_face_is_seen() {
    let ids = |count: usize| (1..=count).map(|i| address(&format!("hole-{i}"))).collect();
    for face in [FaceName::Front, FaceName::Back] {
        let two = holes(face, &[(10.0, -4.0), (30.0, 8.0)]);
        let aligned = |axis: Axis, side: Side| {
            where_they_are(&edited(&two, &[Edit::Align { targets: ids(2), axis, side }]))
        };
        assert_eq!(aligned(Axis::Across, Side::Low), [[10.0, -4.0], [10.0, 8.0]], "{face:?}");
        assert_eq!(aligned(Axis::Across, Side::High), [[30.0, -4.0], [30.0, 8.0]], "{face:?}");
        assert_eq!(aligned(Axis::Across, Side::Middle), [[20.0, -4.0], [20.0, 8.0]], "{face:?}");
        assert_eq!(aligned(Axis::Up, Side::Low), [[10.0, -4.0], [30.0, -4.0]], "{face:?}");
        let three = holes(face, &[(-20.0, 0.0), (40.0, 0.0), (-8.0, 0.0)]);
        let spread = Edit::Distribute { targets: ids(3), axis: Axis::Across };
        let after = where_they_are(&edited(&three, &[spread]));
        assert_eq!(after.map_across(), [-20.0, 40.0, 10.0], "{face:?}");
    }
    // One on either face: what is chosen first says from where they are seen.
    let mixed = holes(FaceName::Front, &[(10.0, 0.0)]);
    let back = [
        on(ElementKind::Hole, FaceName::Back),
        set("hole-2", "place.across", json!({ "from": "centre", "distance": 30.0 })),
    ];
    let mixed = edited(&mixed, &back);
    for (first, expected) in [(1, [[10.0], [-10.0]]), (2, [[-30.0], [30.0]])] {
        let targets =
            vec![address(&format!("hole-{first}")), address(&format!("hole-{}", 3 - first))];
        let align = |side| Edit::Align { targets: targets.clone(), axis: Axis::Across, side };
        let after = where_they_are(&edited(&mixed, &[align(Side::High)]));
        assert_eq!(after.map_across(), expected.concat(), "{first}");
    }
}

trait Across {
    fn map_across(&self) -> Vec<f64>;
}

impl Across for Vec<[f64; 2]> {
    fn map_across(&self) -> Vec<f64> {
        self.iter().map(|[across, _]| *across).collect()
    }
}

/// A tag of 20 × 10 mm with room all round, let 1.5 mm deep into a plate of 60 × 70 × 3 mm: 12 600 mm³ less 20.3 × 10.3 ×
/// 1.5, on either face, alone or with something else there.
#[test]
fn a_socket_is_cut_into_either_face() {
    for face in [FaceName::Front, FaceName::Back] {
        for with_hole in [false, true] {
            let mut piece = plate(60.0, 70.0, 3.0);
            if with_hole {
                let hole = [
                    on(ElementKind::Recess, face),
                    set(
                        "recess-1",
                        "shape",
                        json!({ "own": { "width": 4.0, "height": 4.0, "turn": 0.0,
                        "outline": square_corners() } }),
                    ),
                    set("recess-1", "depth", json!({ "by": 1.0 })),
                    set("recess-1", "place.up", json!({ "from": "top", "distance": 2.0 })),
                ];
                piece = edited(&piece, &hole);
            }
            let before = sound(&piece, Tolerance::Normal).measures.volume;
            let joined = edited(
                &piece,
                &[
                    Edit::AddComponent { blank: BlankKind::Plate },
                    second("width", json!(20.0)),
                    second("height", json!(10.0)),
                    second("thickness", json!(1.5)),
                    second("outline", square_corners()),
                    Edit::Join {
                        into: Component::FIRST.to_owned(),
                        part: "component-2".to_owned(),
                        socket: true,
                    },
                    set("piece", "joints.0.fit", json!({ "clearance": 0.3 })),
                    set("piece", "joints.0.socket.face", face.word()),
                ],
            );
            for tolerance in ALL {
                let found = evaluated(&joined, tolerance);
                let made = &found.components[0];
                // Rounded corners of the room beside square ones take (1 − π/4) of four small squares.
                let exact = before - 20.3 * 10.3 * 1.5;
                close(made.measures.volume, exact, 1e-5);
                assert!(made.mesh.faults().is_sound());
                assert_eq!(made.layout.openings().len(), 1);
            }
            // Seen in drawings and pictures.
            let found = evaluated(&joined, Tolerance::Normal);
            let drawing = drawing_of(&joined, &found);
            let sunk = drawing.layers.iter().find(|layer| {
                let back = layer.name.starts_with("back, ");
                layer.name.contains("recessed 1.5 mm") && back == (face == FaceName::Back)
            });
            close(sunk.expect("the socket is drawn").region.area(), 20.3 * 10.3, 1e-3);
            let picture = picture_of(&joined, &found.components[0].layout);
            let paths = picture.matches("<path").count();
            let plain =
                picture_of(&piece, &evaluated(&piece, Tolerance::Normal).components[0].layout);
            let more = paths - plain.matches("<path").count();
            assert_eq!(more, usize::from(face == FaceName::Front));
        }
    }
}

/// The slot for a plate that follows its letters is as long as the outline that is made, and the plate stands in it:
/// its lowest point half the clearance over the floor.
#[test]
fn a_slot_goes_by_the_plate_that_is_made() {
    let contour = json!({ "contour": { "offset": 2.0, "crevices": 1.5, "gaps": 5.0, "ties": null, "by_hand": [] } });
    let piece = edited(
        &plate(60.0, 24.0, 3.0),
        &[
            on(ElementKind::Lettering, FaceName::Front),
            set("lettering-1", "lines.0.words", "ÅSA"),
            set("lettering-1", "size", json!({ "height": 8.0 })),
            set("lettering-1", "place.across", json!({ "from": "left", "distance": 1.0 })),
            set("blank", "outline", contour),
            Edit::AddComponent { blank: BlankKind::Block },
            Edit::Join {
                into: "component-2".to_owned(),
                part: Component::FIRST.to_owned(),
                socket: false,
            },
            set("piece", "joints.0.fit", json!({ "clearance": 0.2 })),
        ],
    );
    let found = evaluated(&piece, Tolerance::Normal);
    let outline = found.components[0].layout.blank.base.bounds().unwrap();
    let slot = &found.components[1].layout.slots[0];
    assert!(outline.width() < 40.0, "{outline:?}");
    assert!((slot.length - outline.width() - 0.2).abs() < 1e-9, "{} {outline:?}", slot.length);
    let pose = kalotype_core::evaluate::put_together(&piece, &found)[0];
    let along = |axis: [f64; 3], point: [f64; 3]| -> f64 {
        (0..3).map(|i| (point[i] - slot.frame.origin[i]) * axis[i]).sum()
    };
    let at = found.components[0].mesh.vertices.iter().map(|v| pose.point(v[0], v[1], v[2]));
    let (mut deepest, mut left, mut right) = (f64::INFINITY, f64::INFINITY, f64::NEG_INFINITY);
    for point in at {
        deepest = deepest.min(along(slot.frame.out, point));
        let across = along(slot.frame.across, point);
        (left, right) = (left.min(across), right.max(across));
    }
    assert!((deepest + slot.depth - 0.1).abs() < 1e-3, "{deepest}");
    assert!((left + right).abs() < 2e-3, "{left} {right}");
    // What the letters say changes it.
    let longer = edited(&piece, &[set("lettering-1", "lines.0.words", "ÅSA ÅSA")]);
    let longer = evaluated(&longer, Tolerance::Normal);
    assert!(longer.components[1].layout.slots[0].length > slot.length + 10.0);
}

/// A bore of 20.2 mm radius with a lead-in of 2 mm, and a bead above its middle that reaches down into it: at the
/// height z the lead-in is 20.2 + 2 − z wide, whatever keeps the pipe further up.
#[test]
fn a_bead_does_not_fill_the_lead_in() {
    let cap = |hold: Value| {
        of_blank(
            BlankKind::Cap,
            &[
                ("over", json!(40.0)),
                ("fit", json!("loose")),
                ("wall", json!(4.0)),
                ("skirt", json!(16.0)),
                ("lower", json!("square")),
                ("lead_in", json!(2.0)),
                ("hold", hold),
            ],
        )
    };
    for (proud, up) in [(1.0, 2.0), (0.6, 1.0), (1.0, 1.2)] {
        let bead = json!({ "bead": { "proud": proud, "up": up } });
        for tolerance in ALL {
            let found = sound(&cap(bead.clone()), tolerance);
            for z in [0.3, 1.0, 1.7] {
                let open = PI * 24.2 * 24.2 - found.mesh.level(z).area();
                let radius = (open / PI).sqrt();
                assert!(
                    (radius - (22.2 - z)).abs() < 2.0 * tolerance.chord_mm(),
                    "{up} {z} {radius}"
                );
            }
        }
    }
    // Clear of it the bead is what it was: at its middle it stands out by all of its height.
    let found = sound(&cap(json!({ "bead": { "proud": 0.8, "up": 6.0 } })), Tolerance::Fine);
    let open = PI * 24.2 * 24.2 - found.mesh.level(6.0).area();
    assert!(((open / PI).sqrt() - 19.4).abs() < 0.02, "{}", (open / PI).sqrt());
}

/// A field of 10 × 6 mm raised by 1.5 in another colour on faces of all kinds: its body is just its area times its
/// height, and nothing of what it stands on.
#[test]
fn a_second_colour_has_no_root_that_was_not_asked_for() {
    let raised = |base: &Piece, face: FaceName, root: f64| {
        edited(
            base,
            &[
                on(ElementKind::Emblem, face),
                set("emblem-1", "shape", "square"),
                set("emblem-1", "width", 6.0),
                set("emblem-1", "relief", json!({ "raised": { "by": 1.5 } })),
                set("emblem-1", "root", root),
                Edit::Colour {
                    target: address("emblem-1"),
                    field: "colour".to_owned(),
                    filament: Some(shipped_palette().remove(3)),
                },
            ],
        )
    };
    let block = of_blank(BlankKind::Block, &[("lean", json!(12.0)), ("height", json!(40.0))]);
    let bar = of_blank(BlankKind::BentBar, &[]);
    let boxed = of_blank(BlankKind::Box, &[]);
    for (base, face) in [
        (&block, FaceName::Front),
        (&block, FaceName::Top),
        (&block, FaceName::Left),
        (&bar, FaceName::Front),
        (&bar, FaceName::Top),
        (&boxed, FaceName::Front),
        (&boxed, FaceName::Inside),
        (&plate(60.0, 24.0, 3.0), FaceName::Front),
        (&plate(60.0, 24.0, 3.0), FaceName::Back),
    ] {
        let before = sound(base, Tolerance::Normal).measures.volume;
        for root in [0.0, 0.4] {
            let found = sound(&raised(base, face, root), Tolerance::Normal);
            let area = found.layout.elements[0].region.area();
            let [blank, own] = &found.bodies[..] else { panic!("two bodies: {face:?}") };
            close(own.volume, area * (1.5 + root), 1e-5);
            close(blank.volume, before - area * root, 1e-5);
            close(found.measures.volume, before + area * 1.5, 1e-5);
            assert!(found.bodies.iter().all(|body| body.mesh.faults().is_sound()), "{face:?}");
        }
    }
}

/// Words, emblems and codes that are sunk and have a colour: their floors have it, so deep as is said and 0.6 mm where it is
/// not, and the shape stays as it was.
#[test]
fn a_floor_has_the_colour_of_what_is_sunk() {
    let coloured = |base: &Piece, kind: ElementKind, id: &str, face: FaceName| {
        edited(
            base,
            &[
                on(kind, face),
                set(id, "relief", json!({ "recessed": { "by": 1.0 } })),
                Edit::Colour {
                    target: address(id),
                    field: "colour".to_owned(),
                    filament: Some(shipped_palette().remove(3)),
                },
            ],
        )
    };
    let flat = plate(60.0, 30.0, 4.0);
    let block = of_blank(BlankKind::Block, &[("height", json!(40.0))]);
    for (base, face) in
        [(&flat, FaceName::Front), (&flat, FaceName::Back), (&block, FaceName::Front)]
    {
        for (kind, id) in [
            (ElementKind::Lettering, "lettering-1"),
            (ElementKind::Emblem, "emblem-1"),
            (ElementKind::Code, "code-1"),
            (ElementKind::Pattern, "pattern-1"),
        ] {
            let piece = coloured(base, kind, id, face);
            let found = sound(&piece, Tolerance::Normal);
            let area = found.layout.elements[0].region.area();
            let [_, own] = &found.bodies[..] else { panic!("no colour: {kind:?} {face:?}") };
            close(own.volume, 0.6 * area, 1e-4);
            let deeper = sound(&edited(&piece, &[set(id, "root", 1.1)]), Tolerance::Normal);
            close(deeper.bodies[1].volume, 1.1 * area, 1e-4);
            let plain = edited(&piece, &[set(id, "colour", Value::Null)]);
            let plain = sound(&plain, Tolerance::Normal);
            close(found.measures.volume, plain.measures.volume, 1e-9);
            assert_eq!(plain.bodies.len(), 1);
        }
    }
}

/// An arrow whose shaft is 1.5 mm wide has edges of no more than half of that along it, and says so; where the stroke is
/// wide enough they are as asked.
#[test]
fn an_edge_is_no_wider_than_half_of_a_stroke_with_a_free_end() {
    let bar = |tall: f64, edge: f64| {
        edited(
            &plate(80.0, 40.0, 3.0),
            &[
                on(ElementKind::Emblem, FaceName::Front),
                set("emblem-1", "shape", "square"),
                on(ElementKind::Recess, FaceName::Front),
                set(
                    "recess-1",
                    "shape",
                    json!({ "own": { "width": 60.0, "height": tall, "turn": 0.0,
                    "outline": { "tag": { "point": 8.0, "rounding": 0.0 } } } }),
                ),
                set("recess-1", "depth", json!({ "by": 2.0 })),
                set("emblem-1", "relief", json!({ "raised": { "by": 2.0 } })),
                set("emblem-1", "edge", json!({ "chamfer": edge })),
            ],
        )
    };
    // The square alone: half of its side is the most.
    let found = sound(&bar(4.0, 0.5), Tolerance::Normal);
    assert_eq!(found.layout.element("emblem-1").unwrap().reduced_edge, None);

    let words = |word: &str, height: f64, edge: f64| {
        edited(
            &plate(120.0, 60.0, 3.0),
            &[
                on(ElementKind::Lettering, FaceName::Front),
                set("lettering-1", "lines.0.words", word),
                set("lettering-1", "size", json!({ "height": height })),
                set("lettering-1", "relief", json!({ "raised": { "by": 3.0 } })),
                set("lettering-1", "edge", json!({ "chamfer": edge })),
            ],
        )
    };
    for word in ["L", "T", "I", "Y", "F"] {
        for tolerance in ALL {
            let found = sound(&words(word, 20.0, 2.6), tolerance);
            let letter = &found.layout.elements[0];
            let stroke = letter.region.offset(-2.6, tolerance);
            // Where such an edge would eat an end, all of the letter is still as high as was asked somewhere in every end.
            let top = found.mesh.measures().high[2];
            assert!((top - 6.0).abs() < 1e-9, "{word} {top}");
            let level = found.mesh.level(5.999);
            let back = level.offset(2.6, tolerance);
            let lost = letter.region.difference(&back);
            let lost = lost.offset(-0.9, tolerance);
            assert!(lost.is_empty(), "{word} {tolerance:?} {} {}", lost.area(), stroke.area());
        }
    }
}

/// What a C leaves open is no place for a loop: it stands where there is an edge, and holds.
#[test]
fn a_loop_holds_to_a_contour_whatever_it_is_open_to() {
    for word in ["C", "G", "CU", "L", "J"] {
        for angle in [0.0, 20.0, 90.0, 135.0, 180.0, -90.0, -30.0] {
            let piece = edited(
                &plate(60.0, 40.0, 3.0),
                &[
                    on(ElementKind::Lettering, FaceName::Front),
                    set("lettering-1", "lines.0.words", word),
                    set("lettering-1", "size", json!({ "height": 36.0 })),
                    set(
                        "blank",
                        "outline",
                        json!({ "contour": { "offset": 1.0, "crevices": 0.5, "gaps": 1.0,
                        "ties": 3.0, "by_hand": [] } }),
                    ),
                    on(ElementKind::Loop, FaceName::Front),
                    set("loop-1", "at", json!({ "angle": angle })),
                    set("loop-1", "inside", 4.0),
                ],
            );
            let found = sound(&piece, Tolerance::Normal);
            assert_eq!(found.parts, 1, "{word} {angle}");
            let hole = PI * 4.0;
            let ring = &found.layout.element("loop-1").unwrap();
            let open = ring.prisms.last().unwrap().outline.difference(&found.layout.blank.base);
            close(open.area(), hole, 0.02);
        }
    }
}

/// Stripes upright round a skirt: what is left between any two of them, over the seam too, is the line that was asked for.
#[test]
fn a_pattern_closes_round_a_skirt() {
    let skirt = |motif: &str, turn: f64, pitch: f64, relief: Value| {
        let cap = of_blank(BlankKind::Cap, &[("skirt", json!(16.0)), ("wall", json!(2.8))]);
        edited(
            &cap,
            &[
                on(ElementKind::Pattern, FaceName::Around),
                set("pattern-1", "motif", motif),
                set("pattern-1", "pitch", pitch),
                set("pattern-1", "line", 1.0),
                set("pattern-1", "turn", turn),
                set("pattern-1", "relief", relief),
            ],
        )
    };
    let sunk = json!({ "recessed": { "by": 0.8 } });
    for (relief, pitch) in [(sunk.clone(), 5.0), (sunk.clone(), 3.3), (json!("through"), 5.0)] {
        let piece = skirt("stripes", 90.0, pitch, relief);
        let found = sound(&piece, Tolerance::Normal);
        let way = found.layout.face(FaceName::Around).unwrap().round.as_ref().unwrap().way_round();
        let placed = &found.layout.elements[0];
        // Once more round, so that what is cut at the seam is whole.
        let twice = placed.region.union(&placed.region.clone().moved(way, 0.0));
        let mut stripes: Vec<_> =
            twice.parts().iter().filter_map(Region::bounds).map(|b| [b.x0, b.x1]).collect();
        stripes.sort_by(|a, b| a[0].total_cmp(&b[0]));
        let inner = &stripes[1..stripes.len() - 1];
        for pair in inner.windows(2) {
            let land = pair[1][0] - pair[0][1];
            assert!((land - 1.0).abs() < 1e-3, "{land} of {pair:?}");
        }
        assert!(told(&found, "pitch-fitted").is_some());
    }
    // Any other motif: turned round by one pitch it is the same, over the seam too.
    for (motif, turn) in [
        ("hexagons", 0.0),
        ("dots", 0.0),
        ("squares", 0.0),
        ("hexagons", 90.0),
        ("scales", 0.0),
        ("waves", 0.0),
        ("squares", 30.0),
    ] {
        let found = sound(&skirt(motif, turn, 4.0, sunk.clone()), Tolerance::Normal);
        let way = found.layout.face(FaceName::Around).unwrap().round.as_ref().unwrap().way_round();
        let region = &found.layout.elements[0].region;
        let whole = region.union(&region.clone().moved(way, 0.0));
        // No motif is cut upright at the seam: there, as half round it, as much is sunk.
        let strip = |x: f64| {
            let rect = kalotype_core::plane::Rect::centred(1.6, 40.0).moved(x, 0.0);
            let strip = kalotype_core::plane::rounded_rectangle(rect, 0.0, Tolerance::Fine);
            whole.intersection(&strip)
        };
        let at_seam = strip(way / 2.0);
        let beyond = strip(way / 2.0 + 0.8).area() + strip(way / 2.0 - 0.8).area();
        assert!(at_seam.area() > 0.0 && beyond > 0.0, "{motif} {turn}");
        // What lies on the seam is in one with what lies before and after it.
        let seam_line = strip(way / 2.0).difference(&{
            let line = kalotype_core::plane::Rect::centred(0.002, 40.0).moved(way / 2.0, 0.0);
            kalotype_core::plane::rounded_rectangle(line, 0.0, Tolerance::Fine)
        });
        assert!((at_seam.area() - seam_line.area()) < 0.002 * 40.0, "{motif}");
    }
}

/// Letters that stand nearer than their typeface has them are told of, with a spacing that keeps them apart; those a script
/// joins are not.
#[test]
fn letters_that_run_into_each_other_are_told() {
    let words = |typeface: &str, edits: &[Edit]| {
        let own = [
            on(ElementKind::Lettering, FaceName::Front),
            set("lettering-1", "lines.0.words", "FERRY"),
            set("lettering-1", "typeface", typeface),
            set("lettering-1", "size", json!({ "height": 6.0 })),
        ];
        edited(&plate(100.0, 60.0, 3.0), &[&own, edits].concat())
    };
    let closer = [set("lettering-1", "style.spacing", -0.3)];
    let found = worked(&words("montserrat", &closer), Tolerance::Normal);
    let finding = told(&found, "letters-meet").expect("they touch");
    assert_eq!(finding.weight, Weight::Must);
    let mended = edited(&words("montserrat", &closer), &finding.remedies[0].edits);
    assert!(told(&worked(&mended, Tolerance::Normal), "letters-meet").is_none());
    for typeface in ["montserrat", "pacifico", "zilla-slab"] {
        assert!(told(&worked(&words(typeface, &[]), Tolerance::Normal), "letters-meet").is_none());
    }
    // Under a circle their heads come together.
    let disc = edited(
        &plate(50.0, 50.0, 3.0),
        &[
            set("blank", "outline", "ellipse"),
            on(ElementKind::Lettering, FaceName::Front),
            set("lettering-1", "lines.0.words", "SKERRY"),
            set("lettering-1", "size", json!({ "height": 6.0 })),
            set(
                "lettering-1",
                "course",
                json!({ "circle": { "radius": 15.0, "reading": "upright",
                "side": "inside", "middle": -90.0, "spread": null } }),
            ),
        ],
    );
    let found = worked(&disc, Tolerance::Normal);
    let letters = found.layout.elements[0].region.parts().len();
    assert_eq!(told(&found, "letters-meet").is_some(), letters < 6, "{letters}");
    // The same along the outline of a round plate, which is a circle; and mended by what is offered.
    let read = |distance: f64, reading: &str| {
        let course = json!({ "outline": { "of": "face", "distance": distance, "reading": reading,
            "middle": -90.0, "spread": null } });
        edited(&disc, &[set("lettering-1", "course", course)])
    };
    let along = |distance: f64| read(distance, "upright");
    let mut has_met = 0;
    for distance in [4.0, 8.0, 11.0, 13.0] {
        let found = worked(&along(distance), Tolerance::Normal);
        let letters = found.layout.elements[0].region.parts().len();
        let finding = told(&found, "letters-meet");
        assert_eq!(finding.is_some(), letters < 6, "{distance}: {letters}");
        let Some(finding) = finding else { continue };
        has_met += 1;
        for remedy in &finding.remedies {
            let mended = worked(&edited(&along(distance), &remedy.edits), Tolerance::Normal);
            assert_eq!(mended.layout.elements[0].region.parts().len(), 6, "{distance}");
        }
    }
    assert!(has_met > 0);
    let heads_out = worked(&read(4.0, "clockwise"), Tolerance::Normal);
    assert_eq!(heads_out.layout.elements[0].region.parts().len(), 6);
    assert!(told(&heads_out, "letters-meet").is_none());
    // New words on a circle begin with room between them.
    for into in ["clockwise", "upright"] {
        for word in ["SKERRY", "POINT"] {
            let turned = edited(
                &plate(50.0, 50.0, 3.0),
                &[
                    set("blank", "outline", "ellipse"),
                    on(ElementKind::Lettering, FaceName::Front),
                    set("lettering-1", "lines.0.words", word),
                    Edit::Turn {
                        target: address("lettering-1"),
                        field: "course".to_owned(),
                        into: into.to_owned(),
                    },
                ],
            );
            let found = worked(&turned, Tolerance::Normal);
            assert!(told(&found, "letters-meet").is_none(), "{into} {word}");
            assert_eq!(found.layout.elements[0].region.parts().len(), word.len(), "{into} {word}");
        }
    }
}

/// Weight that is taken away until strokes, or whole letters, are gone is told; no measure of what is left would.
#[test]
fn strokes_that_are_taken_away_are_told() {
    for course in ["straight", "clockwise", "outline"] {
        for relief in [json!({ "raised": { "by": 1.0 } }), json!({ "recessed": { "by": 1.0 } })] {
            let lighter = |heavier: f64| {
                let course = Edit::Turn {
                    target: address("lettering-1"),
                    field: "course".to_owned(),
                    into: course.to_owned(),
                };
                edited(
                    &plate(100.0, 60.0, 3.0),
                    &[
                        on(ElementKind::Lettering, FaceName::Front),
                        set("lettering-1", "lines.0.words", "Åse Öl"),
                        set("lettering-1", "size", json!({ "height": 9.0 })),
                        course,
                        set("lettering-1", "relief", relief.clone()),
                        set("lettering-1", "style.heavier", heavier),
                    ],
                )
            };
            for (heavier, is_told) in [(0.0, false), (-0.1, false), (-1.0, true), (-2.0, true)] {
                let made = lighter(heavier);
                let found = worked(&made, Tolerance::Normal);
                let finding = told(&found, "strokes-lost");
                assert_eq!(finding.is_some(), is_told, "{course} {relief} {heavier}");
                let Some(finding) = finding else { continue };
                assert!(!finding.remedies.is_empty(), "{course} {relief} {heavier}");
                let mended = worked(&edited(&made, &finding.remedies[0].edits), Tolerance::Normal);
                assert!(told(&mended, "strokes-lost").is_none());
                assert!(mended.layout.elements[0].region.parts().len() >= 7);
            }
        }
    }
}

/// What lies where a slot is cut, what of a plate stands in its slot, and what is under a tag in its socket is told.
#[test]
fn what_nobody_will_see_is_told() {
    let foot = edited(
        &plate(90.0, 30.0, 4.0),
        &[
            on(ElementKind::Lettering, FaceName::Front),
            set("lettering-1", "lines.0.words", "ΑΕΓΙΡ"),
            set("lettering-1", "typeface", "noto-serif"),
            set("lettering-1", "size", json!({ "height": 6.0 })),
            set("lettering-1", "relief", json!({ "recessed": { "by": 1.0 } })),
            set("lettering-1", "place.up", json!({ "from": "bottom", "distance": 2.0 })),
            Edit::AddComponent { blank: BlankKind::Block },
            Edit::Join {
                into: "component-2".to_owned(),
                part: Component::FIRST.to_owned(),
                socket: false,
            },
            set("piece", "joints.0.slot.depth", 10.0),
        ],
    );
    let hidden = worked(&foot, Tolerance::Normal);
    let finding = told(&hidden, "hidden").expect("it stands in the slot");
    assert_eq!(finding.target, address("lettering-1"));
    let mended = edited(&foot, &finding.remedies[0].edits);
    assert!(told(&worked(&mended, Tolerance::Normal), "hidden").is_none());

    let block_words = Edit::Add {
        component: "component-2".to_owned(),
        kind: ElementKind::Emblem,
        face: FaceName::Top,
    };
    let lettered = edited(&mended, &[block_words]);
    let emblem = Address::Element("component-2".to_owned(), "emblem-1".to_owned());
    let middle = json!({ "from": "centre", "distance": 0.0 });
    let lettered = edited(
        &lettered,
        &["across", "up"].map(|axis| Edit::set(&emblem, &format!("place.{axis}"), middle.clone())),
    );
    let found = worked(&lettered, Tolerance::Normal);
    let finding = told(&found, "in-an-opening").expect("the slot goes through it");
    assert_eq!(finding.target, emblem);
    assert_eq!(finding.weight, Weight::Must);
}

/// A hole with a countersink leaves at its face what the countersink leaves; one that bites a rim says so; and how much a
/// finding weighs follows from what is left.
#[test]
fn holes_are_measured_with_their_edges() {
    let hole = |from_edge: f64, edge: Value, more: &[Edit]| {
        let own = [
            on(ElementKind::Hole, FaceName::Front),
            set("hole-1", "diameter", 4.0),
            set("hole-1", "edges.top", edge),
            set("hole-1", "place.across", json!({ "from": "left", "distance": from_edge })),
        ];
        worked(&edited(&plate(60.0, 24.0, 3.0), &[&own, more].concat()), Tolerance::Normal)
    };
    // 2 mm of wall, 1.5 of them taken at the face.
    assert!(told(&hole(4.0, json!("square"), &[]), "hole-near-edge").is_none());
    let sunk = hole(4.0, json!({ "chamfer": 1.5 }), &[]);
    assert_eq!(told(&sunk, "hole-near-edge").map(|one| one.weight), Some(Weight::Should));
    let thin = hole(4.0, json!({ "chamfer": 1.7 }), &[]);
    assert_eq!(told(&thin, "hole-near-edge").map(|one| one.weight), Some(Weight::Must));
    let hair = hole(2.06, json!("square"), &[]);
    assert_eq!(told(&hair, "hole-near-edge").map(|one| one.weight), Some(Weight::Must));
    let rim = [
        on(ElementKind::Rim, FaceName::Front),
        set("rim-1", "inset", 0.0),
        set("rim-1", "width", 2.0),
    ];
    let bitten = hole(3.5, json!("square"), &rim);
    assert!(told(&bitten, "hole-in-rim").is_some());
    assert!(told(&hole(6.0, json!("square"), &rim), "hole-in-rim").is_none());
    // A floor of 0.29 mm is less than two layers.
    let floor = edited(
        &plate(60.0, 24.0, 3.0),
        &[on(ElementKind::Hole, FaceName::Front), set("hole-1", "depth", 2.71)],
    );
    let found = worked(&floor, Tolerance::Normal);
    assert_eq!(told(&found, "thin-floor").map(|one| one.weight), Some(Weight::Must));
    // As deep as the plate or deeper it goes through, which is said, and not refused.
    for depth in [3.0, 7.5] {
        let through = edited(&floor, &[set("hole-1", "depth", depth)]);
        let found = worked(&through, Tolerance::Normal);
        let said = told(&found, "drilled-through").expect("it is said");
        assert!(said.weight == Weight::Note && said.field == "depth");
        let labels: Vec<_> = said.remedies.iter().map(|one| one.label.as_str()).collect();
        assert_eq!(labels, ["Sink it half the thickness", "Drill it through"]);
        for way in &said.remedies {
            let after = worked(&edited(&through, &way.edits), Tolerance::Normal);
            assert!(told(&after, "drilled-through").is_none());
        }
    }
}

/// What one nozzle cannot lay is told, with what would cure it, also of a printer that has not said how many filaments it
/// lays.
#[test]
fn colours_that_one_nozzle_cannot_lay_are_told() {
    let piece = edited(
        &fresh(&[ElementKind::Lettering]),
        &[
            set("lettering-1", "relief", json!({ "flush": 0.6 })),
            Edit::Colour {
                target: address("lettering-1"),
                field: "colour".to_owned(),
                filament: Some(shipped_palette().remove(3)),
            },
        ],
    );
    let findings = with_workshop(Tolerance::Draft, |workshop| {
        let made = kalotype_core::evaluate::evaluate(&piece, workshop).unwrap();
        run(&piece, &made, workshop).unwrap()
    });
    let finding = findings.iter().find(|one| one.code == "colours-in-layer").expect("it is told");
    assert_eq!(finding.weight, Weight::Note);
    assert!(!finding.remedies.is_empty());
    let raised = with_workshop(Tolerance::Draft, |workshop| {
        let mended = apply(&piece, &finding.remedies[0].edits, workshop).unwrap().piece;
        worked(&mended, Tolerance::Draft)
    });
    assert!(told(&raised, "colours-in-layer").is_none());
    // A printer that lays two is content.
    let two = try_edits(&piece, &[set("piece", "printer.filaments", 2)]).unwrap();
    assert!(told(&worked(&two, Tolerance::Draft), "colours-in-layer").is_none());
}

/// A name of 14 mm on a disc of 101 mm: it is wider than the largest square in the disc and has room all the same. It stays
/// as it was typed, and one that is too long becomes as large as the disc has room for, not as a box in it.
#[test]
fn words_fit_the_disc_they_stand_on() {
    let disc = |words: &str, height: f64| {
        edited(
            &plate(101.0, 101.0, 3.0),
            &[
                set("blank", "outline", "ellipse"),
                set("component", "margin", 2.0),
                on(ElementKind::Lettering, FaceName::Front),
                set("lettering-1", "lines.0.words", words),
                set("lettering-1", "size", json!({ "height": height })),
                set("lettering-1", "gives", "size"),
                set("lettering-1", "place.across", json!({ "from": "clear", "distance": 0.0 })),
                set("lettering-1", "place.up", json!({ "from": "clear", "distance": 0.0 })),
            ],
        )
    };
    let furthest = |found: &Worked| {
        let letters = &found.layout.elements[0];
        letters.region.edges().map(|((x, y), _)| x.hypot(y)).fold(0.0, f64::max)
    };
    let found = sound(&disc("SOLVEIG", 14.0), Tolerance::Normal);
    let letters = &found.layout.elements[0];
    let wide = letters.frame.width();
    assert!(wide > 101.0 / 2.0_f64.sqrt() && furthest(&found) < 48.5, "{wide}");
    assert_eq!(letters.drawn.letter_height, 14.0);
    assert!(told(&found, "over-edge").is_none());
    for (words, height) in [("SOLVEIG ÅSGARD", 14.0), ("TIDE WATCH EAST", 30.0)] {
        let found = sound(&disc(words, height), Tolerance::Normal);
        let letters = &found.layout.elements[0];
        let corner = letters.region.bounds().unwrap();
        let reach =
            corner.x1.abs().max(corner.x0.abs()).hypot(corner.y1.abs().max(corner.y0.abs()));
        // The box of the words touches the disc less its margin.
        assert!(reach < 48.52 && reach > 47.5, "{words} {reach}");
    }
    // Where nothing gives, what is offered is a larger disc, not an ellipse.
    let stays = edited(&disc("TIDE WATCH EAST", 14.0), &[set("lettering-1", "gives", "nothing")]);
    let found = worked(&stays, Tolerance::Normal);
    let finding = told(&found, "over-edge").expect("it runs over");
    let larger = finding.remedies.iter().find(|way| way.label.starts_with("Make the plate"));
    let larger = edited(&stays, &larger.expect("a larger plate is offered").edits);
    let plate = larger.first().plate().unwrap();
    assert_eq!(plate.width, plate.height);
}

/// Where almost nothing is left of a wall or a floor, it is told, whatever took the rest, with how much is left; and where enough is
/// left, nothing is.
#[test]
fn what_is_thin_on_the_finished_solid_is_told() {
    let left = |piece: &Piece| {
        let found = sound(piece, Tolerance::Normal);
        let finding = found.findings.iter().find(|one| one.code == "thin-left");
        finding.map(|one| (one.figures.unwrap().measured, one.weight))
    };
    // The outside of a box of 2 mm walls and a floor of 2 mm, bevelled by e below: the inner corner is
    // (4 − e) / √2 from it.
    let boxed = |edge: Value| {
        of_blank(
            BlankKind::Box,
            &[("wall", json!(2.0)), ("floor", json!(2.0)), ("corner", json!(0.0)), ("lower", edge)],
        )
    };
    let (width, weight) = left(&boxed(json!({ "chamfer": 3.9 }))).expect("0.07 mm are left");
    assert!((width - 0.1 / 2.0_f64.sqrt()).abs() < 2e-3 && weight == Weight::Must, "{width}");
    assert_eq!(left(&boxed(json!({ "chamfer": 3.0 }))), None);
    assert_eq!(left(&boxed(json!("square"))), None);
    // A cap: the corner of its bore under a top of 3 and beside a wall of 2.4 mm.
    let cap = |edge: f64| of_blank(BlankKind::Cap, &[("upper", json!({ "chamfer": edge }))]);
    let (width, _) = left(&cap(5.2)).expect("0.14 mm are left");
    assert!((width - 0.2 / 2.0_f64.sqrt()).abs() < 0.02, "{width}");
    assert_eq!(left(&cap(1.0)), None);
    // Fields sunk into both sides of a bar of 6 mm, 5.95 together.
    let field = |id: &str, face: FaceName, depth: f64| {
        vec![
            on(ElementKind::Recess, face),
            set(
                id,
                "shape",
                json!({ "own": { "width": 20.0, "height": 10.0, "turn": 0.0,
                "outline": square_corners() } }),
            ),
            set(id, "depth", json!({ "by": depth })),
        ]
    };
    let bar = of_blank(BlankKind::BentBar, &[("thickness", json!(6.0))]);
    let both = [field("recess-1", FaceName::Front, 3.0), field("recess-2", FaceName::Back, 2.95)];
    let thin = edited(&bar, &both.concat());
    if left(&thin).is_none() {
        let found = sound(&thin, Tolerance::Normal);
        assert!(told(&found, "thin-wall").is_some() || told(&found, "back-to-back").is_some());
    }
    for kind in BlankKind::ALL {
        assert_eq!(left(&of_blank(kind, &[])), None, "{kind:?}");
    }
    // What is offered leaves enough.
    let thin = boxed(json!({ "chamfer": 3.9 }));
    let found = with_workshop(Tolerance::Normal, |workshop| {
        let made = kalotype_core::evaluate::evaluate(&thin, workshop).unwrap();
        run(&thin, &made, workshop).unwrap()
    });
    let finding = found.iter().find(|one| one.code == "thin-left").unwrap();
    assert!(!finding.remedies.is_empty());
    assert_eq!(left(&edited(&thin, &finding.remedies[0].edits)), None);
}

/// The largest box there is, and two parts that lie side by side far beyond what f32 holds of the grid: every file of it is
/// sound as it is read, and as large as what is made.
#[test]
fn files_hold_what_is_made_however_far_out_it_lies() {
    let round = json!({ "round": 3.0 });
    let largest = of_blank(
        BlankKind::Box,
        &[
            ("width", json!(480.0)),
            ("depth", json!(480.0)),
            ("height", json!(480.0)),
            ("wall", json!(50.0)),
            ("floor", json!(50.0)),
            ("corner", json!(33.3)),
            ("lower", round.clone()),
            ("upper", round),
        ],
    );
    let beside = edited(
        &plate(500.0, 60.0, 3.0),
        &[
            on(ElementKind::Lettering, FaceName::Front),
            set("lettering-1", "lines.0.words", "SKERRY POINT Åß"),
            set("lettering-1", "edge", json!({ "round": 0.3 })),
            Edit::AddComponent { blank: BlankKind::Cap },
        ],
    );
    for piece in [largest, beside] {
        let made = evaluated(&piece, Tolerance::Normal);
        let exact: f64 = made.components.iter().map(|one| one.measures.volume).sum();
        let wanted = kalotype_core::export::Wanted {
            format: kalotype_core::export::Format::Stl,
            ..Default::default()
        };
        let file = kalotype_core::export::export(&piece, &made, wanted).remove(0);
        let read = kalotype_core::formats::stl::read(&file.bytes).unwrap();
        assert!(read.faults().is_sound(), "{:?}", read.faults());
        close(read.volume(), exact, 1e-6);
        assert!(read.measures().high[0] > 256.0);
    }
}

/// How far an outline reaches in a direction, in mm.
fn reach(region: &Region, degrees: f64) -> f64 {
    let (sine, cosine) = f64::to_radians(degrees).sin_cos();
    region.edges().map(|((x, y), _)| x * cosine + y * sine).fold(f64::NEG_INFINITY, f64::max)
}

/// A hexagon of 130 mm across its flats: 130 in three directions and nothing else, whatever its corners are rounded by; its area
/// is (√3/2) f², less the corners (r²(√12 − π)). Given by its corners or by a side it is the same one, with any number of
/// corners.
#[test]
fn a_regular_polygon_is_as_large_as_its_one_figure() {
    let polygon = |sides: u32, regular: Value, rounding: f64, turn: f64| {
        let outline = json!({ "polygon": { "sides": sides, "turn": turn, "rounding": rounding, "regular": regular } });
        edited(&plate(200.0, 77.0, 2.0), &[set("blank", "outline", outline)])
    };
    for (rounding, turn) in [(0.0, 0.0), (5.0, 0.0), (5.0, 30.0), (20.0, 11.0)] {
        for regular in [
            json!({ "flats": 130.0 }),
            json!({ "corners": 130.0 / (PI / 6.0).cos() }),
            json!({ "side": 130.0 / 3.0_f64.sqrt() }),
        ] {
            for tolerance in ALL {
                let found = sound(&polygon(6, regular.clone(), rounding, turn), tolerance);
                let outline = &found.layout.blank.outline;
                // A flat looks in the direction between two corners.
                for flat in 0..6 {
                    let to = turn + 60.0 * f64::from(flat);
                    let across = reach(outline, to) + reach(outline, to + 180.0);
                    assert!((across - 130.0).abs() < 1e-3, "{rounding} {turn} {across}");
                }
                let corners = rounding * rounding * (12.0_f64.sqrt() - PI);
                let exact = 2.0 * (130.0 * 130.0 * 3.0_f64.sqrt() / 2.0 - corners);
                // Chords lie within the arcs, by two thirds of their rise on the whole.
                let chords = 2.0 * 2.0 * PI * rounding * tolerance.chord_mm() + 0.01;
                let off = (found.measures.volume - exact).abs();
                assert!(off <= chords, "{rounding} {turn} {off}");
                let bounds = outline.bounds().unwrap();
                let rect = found.layout.blank.rect;
                assert!((rect.width() - bounds.width()).abs() < 1e-6);
            }
        }
    }
    for sides in 3..=12 {
        let found = sound(&polygon(sides, json!({ "side": 20.0 }), 0.0, 0.0), Tolerance::Normal);
        let n = f64::from(sides);
        close(found.measures.volume, 2.0 * n * 400.0 / (4.0 * (PI / n).tan()), 1e-5);
        let flats = sound(&polygon(sides, json!({ "flats": 40.0 }), 3.0, 0.0), Tolerance::Normal);
        let outline = &flats.layout.blank.outline;
        // A corner points up, so with an even number of them a flat looks half a step aside.
        let to = if sides % 2 == 0 { 90.0 + 180.0 / n } else { -90.0 };
        let to_corner = if sides % 2 == 0 {
            0.0
        } else {
            // What rounding takes of the corner.
            3.0 * (1.0 / (PI / 2.0 - PI / n).sin() - 1.0)
        };
        let across = reach(outline, to) + reach(outline, to + 180.0) + to_corner;
        assert!((across - 40.0).abs() < 0.02, "{sides} {across}");
    }
    // It becomes another figure and stays as large; a new one is regular.
    let turn = |into: &str, field: &str| Edit::Turn {
        target: address("blank"),
        field: field.to_owned(),
        into: into.to_owned(),
    };
    let fresh = edited(&plate(60.0, 40.0, 3.0), &[turn("polygon", "outline")]);
    let before = sound(&fresh, Tolerance::Normal).measures.volume;
    for into in ["corners", "side", "flats"] {
        let other = edited(&fresh, &[turn(into, "outline.polygon.regular")]);
        close(sound(&other, Tolerance::Normal).measures.volume, before, 1e-5);
    }
    let stretched = edited(&fresh, &[turn("stretched", "outline.polygon.regular")]);
    let size = sound(&stretched, Tolerance::Normal).layout.blank.rect;
    assert!((size.width() - 60.0).abs() < 1e-6 && (size.height() - 40.0).abs() < 1e-6);
    // A recess for a measured hexagon is as much larger as its fit says.
    let recess = |fit: Value| {
        let own = json!({ "width": 30.0, "height": 30.0, "turn": 0.0, "fit": fit, "outline": { "polygon": {
            "sides": 6, "turn": 0.0, "rounding": 0.0, "regular": { "flats": 20.0 } } } });
        let piece = edited(
            &plate(60.0, 60.0, 4.0),
            &[
                on(ElementKind::Recess, FaceName::Front),
                set("recess-1", "shape", json!({ "own": own })),
            ],
        );
        let found = sound(&piece, Tolerance::Normal);
        let region = found.layout.elements[0].region.clone();
        reach(&region, 0.0) + reach(&region, 180.0)
    };
    assert!((recess(Value::Null) - 20.0).abs() < 1e-3);
    assert!((recess(json!({ "clearance": 0.3 })) - 20.3).abs() < 1e-3);
}

/// Words that run more than once round a skirt lie over themselves, and are all there: the longer they are, the more is raised.
#[test]
fn words_longer_than_the_way_round_do_not_vanish() {
    let cap = of_blank(BlankKind::Cap, &[("over", json!(20.0)), ("skirt", json!(16.0))]);
    let before = sound(&cap, Tolerance::Draft).measures.volume;
    let raised = |times: usize| {
        let piece = edited(
            &cap,
            &[
                on(ElementKind::Lettering, FaceName::Around),
                set("lettering-1", "lines.0.words", "TIDE WATCH ".repeat(times).trim()),
                set("lettering-1", "size", json!({ "height": 6.0 })),
                set("lettering-1", "gives", "nothing"),
                set("lettering-1", "relief", json!({ "raised": { "by": 1.0 } })),
            ],
        );
        let found = sound(&piece, Tolerance::Draft);
        let way = found.layout.face(FaceName::Around).unwrap().round.as_ref().unwrap().way_round();
        let turns = found.layout.elements[0].region.bounds().unwrap().width() / way;
        (turns, found.measures.volume - before)
    };
    let mut last = 0.0;
    for times in [1, 2, 4, 5, 7] {
        let (turns, volume) = raised(times);
        assert!(volume > 0.95 * last && volume > 20.0, "{turns:.1} turns: {volume} after {last}");
        last = volume;
    }
}

/// Legs measured as straight are longer by what the bend takes: by R/tan(α/2) where both arcs begin at the same
/// place. Measured otherwise, the same bar stays the same solid.
#[test]
fn legs_are_measured_from_their_corner_or_as_straight() {
    for (angle, inside, outside) in [(60.0, 3.0, 9.0), (90.0, 2.0, 8.0), (120.0, 4.0, 5.0f64)] {
        let sizes = |base: f64, upright: f64, legs: &str| {
            [
                ("length", json!(80.0)),
                ("thickness", json!(6.0)),
                ("angle", json!(angle)),
                ("inside", json!(inside)),
                ("outside", json!(outside)),
                ("legs", json!(legs)),
                ("base", json!(base)),
                ("upright", json!(upright)),
                ("long", json!("square")),
                ("ends", json!("square")),
            ]
        };
        let straight = of_blank(BlankKind::BentBar, &sizes(25.0, 40.0, "straight"));
        // Seen from the side: two legs as thick as the bar, and between them a kite of outer and inner corner, less
        // what the arcs leave of their corners (R²·(cot(α/2) − (π − α)/2) each).
        let half = f64::to_radians(angle) / 2.0;
        let bend = outside.max(inside + 6.0) / half.tan();
        let section = (25.0 + 40.0 + 2.0 * bend) * 6.0 - 36.0 / half.tan();
        let corner = |radius: f64| radius * radius * (1.0 / half.tan() - (PI / 2.0 - half));
        let exact = 80.0 * (section - corner(outside) + corner(inside));
        for tolerance in ALL {
            close(sound(&straight, tolerance).measures.volume, exact, 2e-3);
        }
        close(sound(&straight, Tolerance::Fine).measures.volume, exact, 3e-4);
        let turn = |into: &str| Edit::Turn {
            target: Address::Blank(Component::FIRST.to_owned()),
            field: "legs".to_owned(),
            into: into.to_owned(),
        };
        let corner = edited(&straight, &[turn("corner")]);
        let figure = |piece: &Piece, field: &str| {
            piece
                .value(&Address::Blank(Component::FIRST.to_owned()), field)
                .unwrap()
                .as_f64()
                .unwrap()
        };
        close(figure(&corner, "base"), 25.0 + bend, 1e-4);
        let volumes = [&straight, &corner, &edited(&corner, &[turn("straight")])]
            .map(|piece| sound(piece, Tolerance::Normal).measures.volume);
        close(volumes[1], volumes[0], 1e-5);
        close(volumes[2], volumes[0], 1e-5);
    }
    // As straight, a leg is never eaten up by its bend.
    let short = [("legs", json!("straight")), ("base", json!(1.0)), ("upright", json!(1.0))];
    sound(&of_blank(BlankKind::BentBar, &short), Tolerance::Normal);
}

/// A grip in a band, words round the plain part beside it; at the ends of the band what stands out slopes by 45°.
#[test]
fn a_grip_is_kept_to_a_band_and_words_stand_beside_it() {
    let cap = |grip: &Value, band: Value| {
        let sizes = [
            ("wall", json!(3.0)),
            ("skirt", json!(20.0)),
            ("top", json!(4.0)),
            ("upper", json!("square")),
            ("lower", json!("square")),
            ("lead_in", json!(0.0)),
            ("grip", grip.clone()),
            ("grip_band", band),
        ];
        of_blank(BlankKind::Cap, &sizes)
    };
    let facets = json!({ "facets": 12 });
    // Of a regular polygon about a circle, what lies outside the circle: of 12 sides, by the angle from the middle of
    // a side. Inset by t it touches a circle smaller by t.
    let radius = (42.4 + 0.2) / 2.0 + 3.0;
    let outside = |inset: f64| {
        let (flat, most) = (radius - inset, PI / 12.0);
        let first = if inset > 0.0 { (flat / radius).acos() } else { 0.0 };
        if first >= most {
            return 0.0;
        }
        let tangents = most.tan() - first.tan();
        24.0 * (flat * flat * tangents - radius * radius * (most - first)) / 2.0
    };
    let stands_out = radius / (PI / 12.0).cos() - radius;
    let sloped: f64 = (0..2000)
        .map(|i| outside(stands_out * (f64::from(i) + 0.5) / 2000.0) * stands_out / 2000.0)
        .sum();
    let plain = cap(&json!("plain"), Value::Null);
    for tolerance in ALL {
        let without = sound(&plain, tolerance).measures.volume;
        let more = |up: f64, height: f64| {
            let banded = cap(&facets, json!({ "up": up, "height": height }));
            sound(&banded, tolerance).measures.volume - without
        };
        // What a circle loses to its chords, the outside of a band gains.
        let rel = if tolerance == Tolerance::Fine { 0.02 } else { 0.12 };
        close(more(0.0, 10.0), outside(0.0) * (10.0 - stands_out) + sloped, rel);
        close(more(6.0, 10.0), outside(0.0) * (10.0 - 2.0 * stands_out) + 2.0 * sloped, rel);
        close(more(14.0, 10.0), outside(0.0) * (10.0 - stands_out) + sloped, rel);
    }
    // Words round the larger plain part, whatever the grip, wherever its band is.
    let grips = [
        json!({ "ribs": { "count": 24, "depth": 1.0 } }),
        facets,
        json!({ "knurl": { "count": 24, "depth": 0.8 } }),
    ];
    for grip in grips {
        for (up, height, plain) in
            [(0.0, 10.0, [10.0, 24.0]), (14.0, 10.0, [0.0, 14.0]), (9.0, 4.0, [13.0, 24.0])]
        {
            let banded = cap(&grip, json!({ "up": up, "height": height }));
            let lettered = edited(&banded, &[on(ElementKind::Lettering, FaceName::Around)]);
            let before = sound(&banded, Tolerance::Normal);
            let found = sound(&lettered, Tolerance::Normal);
            assert!(found.measures.volume > before.measures.volume + 1.0, "{grip} {up}");
            let chart = evaluated(&lettered, Tolerance::Normal);
            let made = chart.component(Component::FIRST).unwrap();
            let words = made.layout.element("lettering-1").unwrap();
            let high = words.region.bounds().unwrap();
            // The chart of a face that runs round has its middle where the plain part has its own.
            let middle = (plain[0] + plain[1]) / 2.0;
            assert!(middle + high.y0 >= plain[0] && middle + high.y1 <= plain[1], "{grip} {up}");
            assert!(
                found.findings.iter().all(|finding| finding.weight != Weight::Must),
                "{grip} {up}: {:?}",
                found.findings
            );
        }
    }
    let grip = json!({ "ribs": { "count": 24, "depth": 1.0 } });
    let whole = cap(&grip, Value::Null);
    assert!(try_edits(&whole, &[on(ElementKind::Lettering, FaceName::Around)]).is_err());
    for band in [json!({ "up": 20.0, "height": 10.0 }), json!({ "up": 0.0, "height": 23.8 })] {
        let error = try_edits(&whole, &[set("blank", "grip_band", band)]).unwrap_err();
        assert_eq!(error.field, "grip_band.height");
    }
    // Ribs on an outside that words go round already are kept to a band below them, all that is left.
    for into in ["ribs", "facets", "knurl"] {
        let turn = Edit::Turn {
            target: Address::Blank(Component::FIRST.to_owned()),
            field: "grip".to_owned(),
            into: into.to_owned(),
        };
        let words = edited(
            &cap(&json!("plain"), Value::Null),
            &[
                on(ElementKind::Lettering, FaceName::Around),
                set("lettering-1", "size", json!({ "height": 6.0 })),
            ],
        );
        let gripped = edited(&words, &[turn]);
        let found = sound(&gripped, Tolerance::Normal);
        assert!(found.measures.volume > sound(&words, Tolerance::Normal).measures.volume, "{into}");
        let band =
            gripped.value(&Address::Blank(Component::FIRST.to_owned()), "grip_band").unwrap();
        assert!((24.0 - 6.0 - 3.0 - band["height"].as_f64().unwrap()).abs() < 0.3, "{into} {band}");
        assert!(
            found.findings.iter().all(|one| one.weight != Weight::Must),
            "{:?}",
            found.findings
        );
    }
    // Taken away again, what stands round it is not lost in silence: it is refused.
    let banded = cap(&grip, json!({ "up": 0.0, "height": 10.0 }));
    let lettered = edited(&banded, &[on(ElementKind::Lettering, FaceName::Around)]);
    assert!(try_edits(&lettered, &[set("blank", "grip_band", Value::Null)]).is_err());
}

/// Whatever is typed of an outline and has no room is told at its field, on a plate and of a recess; mended by what is
/// offered the same outline is made, and what has room is told by nobody.
#[test]
fn no_figure_of_an_outline_is_given_up_in_silence() {
    let corners = |corner: Value, rounding: f64| {
        json!({ "rectangle": { "top_left": corner, "top_right": corner, "bottom_right": corner,
            "bottom_left": corner, "rounding": rounding } })
    };
    let star = |rounding: f64| json!({ "star": { "points": 5, "inner": 0.5, "turn": 0.0, "rounding": rounding } });
    let polygon = |rounding: f64| json!({ "polygon": { "sides": 6, "turn": 0.0, "rounding": rounding, "regular": { "flats": 30.0 } } });
    let stretched = |rounding: f64| json!({ "polygon": { "sides": 6, "turn": 0.0, "rounding": rounding, "regular": null } });
    let tag =
        |point: f64, rounding: f64| json!({ "tag": { "point": point, "rounding": rounding } });
    let scallop = |depth: f64| json!({ "scallop": { "waves": 12, "depth": depth } });
    let cases = [
        (
            corners(json!({ "round": 4.0 }), 0.0),
            corners(json!({ "round": 40.0 }), 0.0),
            "rectangle.top_left.round",
        ),
        (
            corners(json!({ "scoop": 4.0 }), 0.5),
            corners(json!({ "scoop": 40.0 }), 0.5),
            "rectangle.top_left.scoop",
        ),
        (
            corners(json!({ "chamfer": 4.0 }), 1.0),
            corners(json!({ "chamfer": 4.0 }), 90.0),
            "rectangle.rounding",
        ),
        (star(0.5), star(60.0), "star.rounding"),
        (polygon(4.0), polygon(60.0), "polygon.rounding"),
        (stretched(4.0), stretched(60.0), "polygon.rounding"),
        (tag(12.0, 1.0), tag(200.0, 1.0), "tag.point"),
        (tag(12.0, 1.0), tag(12.0, 90.0), "tag.rounding"),
        (scallop(2.0), scallop(40.0), "scallop.depth"),
    ];
    let told_of = |piece: &Piece, target: &Address| -> Vec<String> {
        let found = worked(piece, Tolerance::Normal);
        let fields =
            found.findings.iter().filter(|one| one.code == "corner-size" && one.target == *target);
        fields.map(|one| one.field.clone()).collect()
    };
    let on_plate = |outline: &Value| {
        edited(&plate(60.0, 30.0, 3.0), &[set("blank", "outline", outline.clone())])
    };
    let in_plate = |outline: &Value| {
        let own = json!({ "own": { "width": 60.0, "height": 30.0, "outline": outline, "turn": 0.0, "fit": null } });
        edited(
            &plate(100.0, 60.0, 3.0),
            &[on(ElementKind::Recess, FaceName::Front), set("recess-1", "shape", own)],
        )
    };
    for (has_room, has_none, field) in &cases {
        for (made, target, prefix) in [
            (&on_plate as &dyn Fn(&Value) -> Piece, address("blank"), "outline"),
            (&in_plate, address("recess-1"), "shape.own.outline"),
        ] {
            assert_eq!(told_of(&made(has_room), &target), Vec::<String>::new(), "{has_room}");
            let piece = made(has_none);
            assert_eq!(told_of(&piece, &target), [format!("{prefix}.{field}")], "{has_none}");
            let found = worked(&piece, Tolerance::Normal);
            let finding = found.findings.iter().find(|one| one.code == "corner-size").unwrap();
            assert!(finding.instead);
            for remedy in &finding.remedies {
                let mended = edited(&piece, &remedy.edits);
                assert_eq!(told_of(&mended, &target), Vec::<String>::new(), "{has_none}");
                let volume = |piece: &Piece| sound(piece, Tolerance::Normal).measures.volume;
                close(volume(&mended), volume(&piece), 0.03);
            }
        }
    }
}

/// An edge that came out smaller is told at a field there is.
#[test]
fn edges_that_are_made_smaller_are_told_where_they_stand() {
    let hole = edited(
        &plate(60.0, 30.0, 3.0),
        &[
            on(ElementKind::Hole, FaceName::Front),
            set(
                "hole-1",
                "edges",
                json!({ "top": { "chamfer": 5.0 }, "bottom": { "chamfer": 5.0 } }),
            ),
        ],
    );
    let rim = edited(
        &plate(60.0, 30.0, 3.0),
        &[on(ElementKind::Rim, FaceName::Front), set("rim-1", "edge", json!({ "chamfer": 4.0 }))],
    );
    let edges = json!({ "top": { "round": 20.0 }, "bottom": "square" });
    let edged = edited(&plate(60.0, 30.0, 3.0), &[set("blank", "edges", edges)]);
    for (piece, target, field) in
        [(&hole, "hole-1", "edges"), (&rim, "rim-1", "edge"), (&edged, "blank", "edges")]
    {
        let found = worked(piece, Tolerance::Normal);
        let finding = told(&found, "edge-reduced").unwrap();
        assert_eq!((finding.target.clone(), finding.field.as_str()), (address(target), field));
        assert!(piece.value(&finding.target, field).is_some());
    }
}
