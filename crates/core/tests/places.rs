//! Where findings are: each place in its own shape, from height to height, seen from its own face; what several
//! elements lose in print; and components that do not go together.

mod common;

use common::{add, cache, edited, fresh, placed, set, with_workshop};
use kalotype_core::evaluate::{Along, evaluate};
use kalotype_core::piece::{
    Address, BlankKind, Component, Edit, ElementKind, FaceName, Piece, read,
};
use kalotype_core::plane::{Region, Tolerance};
use kalotype_core::preflight::{self, Finding, Spot, Weight};
use kalotype_core::units::Unit;
use serde_json::{Value, json};

const ALL_TOLERANCES: [Tolerance; 3] = [Tolerance::Draft, Tolerance::Normal, Tolerance::Fine];

fn found(piece: &Piece, tolerance: Tolerance) -> Vec<Finding> {
    with_workshop(tolerance, |workshop| {
        let evaluation = evaluate(piece, workshop).unwrap();
        preflight::found(piece, &evaluation, workshop).unwrap()
    })
}

fn the(findings: &[Finding], code: &str) -> Finding {
    let own: Vec<_> = findings.iter().filter(|one| one.code == code).collect();
    let [one] = own[..] else { panic!("{code} in {findings:#?}") };
    one.clone()
}

fn at(element: &str, across: f64, up: f64) -> Vec<Edit> {
    let from = |mm: f64| json!({ "from": "centre", "distance": mm });
    vec![set(element, "place.across", from(across)), set(element, "place.up", from(up))]
}

fn hole(id: &str, across: f64, diameter: f64) -> Vec<Edit> {
    let mut edits = vec![add(ElementKind::Hole), set(id, "diameter", diameter)];
    edits.extend(at(id, across, 0.0));
    edits
}

/// A plate of 80 × 40 × 3 mm with square corners.
fn plate(edits: &[Vec<Edit>]) -> Piece {
    let mut all = vec![set("blank", "width", 80.0), set("blank", "height", 40.0)];
    for corner in ["top_left", "top_right", "bottom_left", "bottom_right"] {
        all.push(set("blank", &format!("outline.rectangle.{corner}"), "square"));
    }
    all.extend(edits.concat());
    edited(&fresh(&[]), &all)
}

fn centre(spot: &Spot) -> (f64, f64) {
    spot.shape.bounds().unwrap().centre()
}

/// Between two round holes what a line does not cover is bounded by their arcs and by the two discs that touch both:
/// the strip up to where the discs touch, less the segments of the discs that reach below that (elementary geometry).
#[test]
fn a_thin_wall_is_as_large_as_a_disc_leaves_it() {
    let (r, gap, limit): (f64, f64, f64) = (3.0, 0.5, 0.9);
    let half = r + gap / 2.0;
    let rho = limit / 2.0 + 0.002;
    let high = ((r + rho).powi(2) - half * half).sqrt();
    let touch = high * r / (r + rho);
    let steps = 4000;
    let strip: f64 = (0..steps)
        .map(|i| {
            let y = touch * (f64::from(i) + 0.5) / f64::from(steps);
            2.0 * (half - (r * r - y * y).sqrt()) * touch / f64::from(steps)
        })
        .sum();
    let below = high - touch;
    let segment = rho * rho * (below / rho).acos() - below * (rho * rho - below * below).sqrt();
    let exact = 2.0 * (strip - segment);
    let both = [hole("hole-1", -half, 2.0 * r), hole("hole-2", half, 2.0 * r)];
    // With something above and below it, in either order.
    let over = [add(ElementKind::Lettering), set("lettering-1", "lines.0.words", "A")];
    let over = [over.to_vec(), at("lettering-1", 0.0, 13.0)].concat();
    for edits in [[both.concat(), over.clone()], [over, both.concat()]] {
        for tolerance in ALL_TOLERANCES {
            let wall = the(&found(&plate(&edits), tolerance), "thin-wall");
            let [spot] = &wall.spots[..] else { panic!("{:?}", wall.spots) };
            let stray = 0.06 + 4.0 * tolerance.chord_mm();
            assert!((spot.shape.area() - exact).abs() < stray, "{} {exact}", spot.shape.area());
            let (x, y) = centre(spot);
            assert!(x.hypot(y) < 0.05 && spot.seen == Along::Sections);
            assert_eq!((spot.bottom, spot.top), (0.0, 3.0));
            let [(ax, ay), (bx, by)] = spot.ends.unwrap();
            assert!(((bx - ax).hypot(by - ay) - gap).abs() < 0.02);
            assert!((ax + bx).abs() < 0.02 && ay.abs() < 0.3, "{:?}", spot.ends);
        }
    }
}

/// A bar of raised letters that hang over the edge: what hangs over is shown, not the box of all of it.
#[test]
fn what_hangs_over_is_shown_in_its_height() {
    let bar = [
        add(ElementKind::Lettering),
        set("lettering-1", "lines.0.words", "I"),
        set("lettering-1", "size", json!({ "height": 10.0 })),
        set("lettering-1", "gives", "nothing"),
        set("lettering-1", "relief", json!({ "raised": { "by": 1.2 } })),
    ];
    let piece = plate(&[bar.to_vec(), at("lettering-1", 0.0, 18.0)]);
    for tolerance in ALL_TOLERANCES {
        let over = the(&found(&piece, tolerance), "over-edge");
        let [spot] = &over.spots[..] else { panic!() };
        let bounds = spot.shape.bounds().unwrap();
        assert!((bounds.y0 - 20.0).abs() < 1e-3 && bounds.height() < 3.2, "{bounds:?}");
        assert_eq!((spot.bottom, spot.top), (3.0, 4.2));
        assert_eq!(over.place, Some(bounds));
    }
}

/// Parts that fall out are shown each in its outline: those of the counters, of the volume that is loose.
#[test]
fn what_falls_out_is_shown_part_by_part() {
    let piece = plate(&[vec![
        add(ElementKind::Lettering),
        set("lettering-1", "lines.0.words", "BOD"),
        set("lettering-1", "size", json!({ "height": 10.0 })),
        set("lettering-1", "relief", "through"),
    ]]);
    for tolerance in ALL_TOLERANCES {
        let loose = the(&found(&piece, tolerance), "loose-parts");
        assert_eq!(loose.spots.len(), 4);
        assert!(loose.spots.iter().all(|spot| (spot.bottom, spot.top) == (0.0, 3.0)));
        let shown: f64 = loose.spots.iter().map(|spot| 3.0 * spot.shape.area()).sum();
        let all = common::evaluated(&piece, tolerance);
        let made = &all.components[0];
        // All of it but the plate with its letters taken out whole.
        let cut = made.layout.elements[0].region.without_openings();
        let rest = 3.0 * (80.0 * 40.0 - cut.area());
        common::close(shown, made.measures.volume - rest, 1e-4);
        let largest = loose.spots[0].shape.area();
        assert!(loose.spots.iter().all(|spot| spot.shape.area() <= largest));
    }
}

/// On the skirt of a cap a thin stroke is seen from around it, at the height of its relief.
#[test]
fn places_are_seen_from_their_own_faces() {
    let starter = include_bytes!("../../../starters/sounding-pipe-cap.kalotype.json");
    let piece = read(starter).unwrap();
    let words = Edit::Add {
        component: "component-1".to_owned(),
        kind: ElementKind::Lettering,
        face: FaceName::Around,
    };
    let before = piece.first().elements.len();
    let piece = edited(&piece, &[words]);
    let id = piece.first().elements[before].id.clone();
    let piece = edited(
        &piece,
        &[
            set(&id, "lines.0.words", "HAL"),
            set(&id, "size", json!({ "height": 6.0 })),
            set(&id, "style.heavier", -0.6),
        ],
    );
    let thin = found(&piece, Tolerance::Normal);
    let thin = thin.iter().find(|one| one.code == "thin-stroke").expect("strokes of 0.2 mm");
    assert!(!thin.spots.is_empty());
    assert!(thin.spots.iter().all(|spot| spot.seen == Along::Face(FaceName::Around)));
    let written = serde_json::to_value(thin).unwrap();
    assert_eq!(written["spots"][0]["seen"], "around");
    assert!(written["spots"][0]["path"].as_str().unwrap().starts_with('M'));
}

/// No finding tells more places than are shown, and none of them is empty.
#[test]
fn places_are_bounded() {
    let holes = (0..60).flat_map(|i| {
        let id = format!("hole-{}", i + 1);
        let mut edits = hole(&id, -36.0 + 3.8 * f64::from(i % 20), 3.5);
        edits.push(set(
            &id,
            "place.up",
            json!({ "from": "centre", "distance": f64::from(i / 20) * 10.0 - 10.0 }),
        ));
        edits
    });
    let piece = plate(&[holes.collect()]);
    let found = found(&piece, Tolerance::Draft);
    assert!(found.iter().filter(|one| one.code == "thin-wall").count() > 40);
    for one in &found {
        assert!(one.spots.len() <= 100 && one.spots.iter().all(|spot| !spot.shape.is_empty()));
    }
}

/// What comes of several elements.
fn printed(piece: &Piece, tolerance: Tolerance) -> Vec<preflight::Printed> {
    with_workshop(tolerance, |workshop| {
        let evaluation = evaluate(piece, workshop).unwrap();
        let all = preflight::printed(piece, &evaluation, workshop).unwrap();
        let is_of_several = |one: &preflight::Printed| matches!(one.target, Address::Component(_));
        all.into_iter().filter(is_of_several).collect()
    })
}

/// A wall of 0.3 mm between two square holes is lost in print: 0.3 mm times their length, but for its ends. It is
/// no element's own loss, and is seen on both sides of the plate.
#[test]
fn what_is_lost_between_elements_is_drawn() {
    let square = |id: &str, across: f64| {
        let mut edits = hole(id, across, 8.0);
        edits.push(set(id, "shape", "square"));
        edits
    };
    let piece = plate(&[square("hole-1", -4.15), square("hole-2", 4.15)]);
    for tolerance in ALL_TOLERANCES {
        let all = printed(&piece, tolerance);
        let faces: Vec<_> = all.iter().map(|one| (one.target.to_string(), one.face)).collect();
        let component = "component-1".to_owned();
        assert_eq!(faces, [(component.clone(), FaceName::Back), (component, FaceName::Front)]);
        for one in &all {
            assert!((one.lost.area() - 0.3 * 8.0).abs() < 0.1, "{}", one.lost.area());
            assert!(one.closed.is_empty());
        }
    }
}

/// Between raised letters and a raised rim a gap of 0.2 mm closes; it is seen from where they stand.
#[test]
fn what_closes_between_elements_is_drawn() {
    let bar = [
        add(ElementKind::Rim),
        set("rim-1", "inset", 2.0),
        set("rim-1", "width", 2.0),
        set("rim-1", "relief", json!({ "raised": { "by": 1.2 } })),
        add(ElementKind::Emblem),
        set("emblem-1", "shape", "square"),
        set("emblem-1", "width", 6.0),
        set("emblem-1", "relief", json!({ "raised": { "by": 1.2 } })),
    ];
    // The inside of the rim is at 16 mm.
    let piece = plate(&[bar.to_vec(), at("emblem-1", 0.0, 12.8)]);
    let all = printed(&piece, Tolerance::Normal);
    let [one] = &all[..] else { panic!("{all:?}") };
    assert_eq!(one.face, FaceName::Front);
    assert!((one.closed.area() - 6.0 * 0.2).abs() < 0.1, "{}", one.closed.area());
    assert!(one.lost.is_empty(), "{:?}", one.lost.bounds());
}

/// A nameplate whose foot is deep enough for two plates, which stand in two slots as far apart and lean to each other.
fn two_plates(apart: f64, lean: f64) -> Piece {
    let starter = include_bytes!("../../../starters/two-part-nameplate.kalotype.json");
    let mut document: Value = serde_json::from_slice(starter).unwrap();
    let components = document["components"].as_array_mut().unwrap();
    let mut other = components[0].clone();
    other["id"] = json!("component-3");
    other["name"] = json!("The other");
    components.push(other);
    let foot = &mut components[1]["blank"]["block"];
    foot["depth"] = json!(60.0);
    foot["lean"] = json!(0.0);
    let slot = |up: f64, lean: f64| {
        let from = |mm: f64| json!({ "from": "centre", "distance": mm });
        json!({ "face": "top", "depth": 12.0, "lean": lean, "open": false,
            "place": { "across": from(0.0), "up": from(up) } })
    };
    let joint = |id: &str, part: &str, slot: Value| json!({ "id": id, "into": "component-2", "part": part, "fit": "snug", "slot": slot });
    document["joints"] = json!([
        joint("joint-1", "component-1", slot(apart, -lean)),
        joint("joint-2", "component-3", slot(-apart, lean)),
    ]);
    read(&serde_json::to_vec(&document).unwrap()).unwrap()
}

/// Both lean over the middle between them where the upper inner corner of either passes it: its way up the plate
/// times the sine of the lean, and half of its thickness times the cosine (elementary geometry).
#[test]
fn plates_that_lean_into_each_other_are_told() {
    let piece = two_plates(10.0, 0.0);
    let upright = piece.components[0].plate().unwrap();
    let [height, thick] = [upright.height, upright.thickness].map(|one| one.as_mm());
    let reach = |lean: f64| {
        let (sine, cosine) = lean.to_radians().sin_cos();
        (height - 12.0) * sine + thick / 2.0 * cosine
    };
    let limit =
        (0..450).map(|i| f64::from(i) / 10.0).find(|lean: &f64| reach(*lean) > 10.0).unwrap();
    for (lean, meets) in [(0.0, false), (limit - 1.0, false), (limit + 2.0, true), (40.0, true)] {
        let found = found(&two_plates(10.0, lean), Tolerance::Draft);
        let told: Vec<_> = found.iter().filter(|one| one.code == "parts-collide").collect();
        assert_eq!(told.len(), usize::from(meets), "{lean} of {limit}: {found:#?}");
        for one in told {
            let [spot] = &one.spots[..] else { panic!() };
            assert_eq!(one.target.to_string(), "component-2");
            assert!(centre(spot).1.abs() < 0.5 && spot.bottom > 10.0, "{spot:?}");
        }
    }
}

/// A tag lies in its socket; letters that hang over its edge keep it out, and what it is made to press in does not.
#[test]
fn what_does_not_go_in_is_told() {
    let starter = include_bytes!("../../../starters/two-part-nameplate.kalotype.json");
    let with = |edits: &[(&str, Value)], fit: Value| {
        let mut document: Value = serde_json::from_slice(starter).unwrap();
        let base = document["components"][0]["blank"].clone();
        let sized = |width: f64, height: f64, thickness: f64| {
            let mut blank = base.clone();
            blank["plate"]["width"] = json!(width);
            blank["plate"]["height"] = json!(height);
            blank["plate"]["thickness"] = json!(thickness);
            blank
        };
        document["components"][0]["blank"] = sized(40.0, 24.0, 3.0);
        document["components"][0]["elements"] = json!([]);
        document["components"][1]["blank"] = sized(80.0, 60.0, 8.0);
        document["components"][1]["elements"] = json!([]);
        let from = json!({ "from": "centre", "distance": 0.0 });
        document["joints"] = json!([{
            "id": "joint-1", "into": "component-2", "part": "component-1", "fit": fit,
            "socket": { "face": "front", "depth": 3.0, "place": { "across": from, "up": from }, "turn": 0.0 },
        }]);
        let piece = read(&serde_json::to_vec(&document).unwrap()).unwrap();
        let mut all = vec![
            add(ElementKind::Lettering),
            set("lettering-1", "lines.0.words", "HIH"),
            set("lettering-1", "gives", "nothing"),
        ];
        all.extend(edits.iter().map(|(field, value)| set("lettering-1", field, value.clone())));
        edited(&piece, &all)
    };
    let told = |piece: &Piece| {
        let found = found(piece, Tolerance::Draft);
        found.into_iter().find(|one| one.code == "does-not-go-in")
    };
    let small = [("size", json!({ "height": 8.0 }))];
    assert_eq!(told(&with(&small, json!("snug"))), None);
    assert_eq!(told(&with(&small, json!("press"))), None);
    // Letters as high as the tag is wide, from its foot.
    let wide = [
        ("size", json!({ "height": 30.0 })),
        ("relief", json!({ "raised": { "from-foot": 4.0 } })),
    ];
    let finding = told(&with(&wide, json!("snug"))).expect("letters in the way");
    assert_eq!(finding.target.to_string(), "component-1/lettering-1");
    assert!(finding.message.contains("the lettering “HIH”"), "{}", finding.message);
    // It is seen in the tag's own plan: beyond its edge, which is at 12 mm, as far down as the socket goes.
    let [spot] = &finding.spots[..] else { panic!() };
    let bounds = spot.shape.bounds().unwrap();
    assert!(bounds.y0 < -14.0 && bounds.x1 > 22.0 && bounds.x1 < 40.0, "{bounds:?}");
    assert!(spot.bottom.abs() < 0.1 && spot.top < 4.1, "{spot:?}");
}

/// What is level with the face in another colour takes two filaments in those layers: told where the printer lays
/// one, good to know where that is not known, and nothing where it lays two. What is offered mends it.
#[test]
fn colours_beside_each_other_are_told_of_a_printer_that_lays_one() {
    let flush = [
        add(ElementKind::Lettering),
        set("lettering-1", "lines.0.words", "HI"),
        set("lettering-1", "relief", json!({ "flush": 0.6 })),
    ];
    let colour = Edit::Colour {
        target: common::address("lettering-1"),
        field: "colour".to_owned(),
        filament: Some(kalotype_core::filament::shipped_palette()[1].clone()),
    };
    let two = edited(&plate(&[flush.to_vec()]), &[colour]);
    let lays = |count: Value| {
        let edit = Edit::set(&Address::Piece, "printer.filaments", count);
        edited(&two, &[edit])
    };
    let codes = |piece: &Piece| -> Vec<&'static str> {
        found(piece, Tolerance::Draft).iter().map(|one| one.code).collect()
    };
    assert_eq!(codes(&lays(json!(2))), Vec::<&str>::new());
    let unknown = found(&lays(Value::Null), Tolerance::Draft);
    let told: Vec<_> = unknown.iter().map(|one| (one.code, one.weight)).collect();
    assert_eq!(told, [("colours-in-layer", Weight::Note)]);
    let one = lays(json!(1));
    let cache = cache();
    let workshop = kalotype_core::workshop::Workshop::new(
        &kalotype_core::library::Shipped,
        &cache,
        Tolerance::Normal,
    );
    let said = preflight::run(&one, &evaluate(&one, &workshop).unwrap(), &workshop).unwrap();
    let [finding] = &said[..] else { panic!("{said:#?}") };
    assert_eq!(finding.code, "colours-in-layer");
    assert!(
        finding.message.contains("In 3 layers, from 2.4 mm up, 2 colours"),
        "{}",
        finding.message
    );
    let labels: Vec<_> = finding.remedies.iter().map(|way| way.label.as_str()).collect();
    assert!(labels.contains(&"Lift it out of the face"), "{labels:?}");
    for way in &finding.remedies {
        assert_eq!(codes(&edited(&one, &way.edits)), Vec::<&str>::new(), "{}", way.label);
    }
}

/// Raised letters beside a raised rim of another colour cannot be lifted out of anything: they are offered its colour.
#[test]
fn colours_beside_each_other_above_the_face_are_told() {
    let raised = json!({ "raised": { "by": 1.0 } });
    let colour = Edit::Colour {
        target: common::address("lettering-1"),
        field: "colour".to_owned(),
        filament: Some(kalotype_core::filament::shipped_palette()[1].clone()),
    };
    let piece = plate(&[vec![
        add(ElementKind::Rim),
        set("rim-1", "width", 2.0),
        set("rim-1", "relief", raised.clone()),
        add(ElementKind::Lettering),
        set("lettering-1", "lines.0.words", "HI"),
        set("lettering-1", "relief", raised),
        colour,
        Edit::set(&Address::Piece, "printer.filaments", json!(1)),
    ]]);
    let said = with_workshop(Tolerance::Normal, |workshop| {
        preflight::run(&piece, &evaluate(&piece, workshop).unwrap(), workshop).unwrap()
    });
    let finding = the(&said, "colours-in-layer");
    let labels: Vec<_> = finding.remedies.iter().map(|way| way.label.as_str()).collect();
    assert_eq!(labels, ["Give it the colour of what is beside"]);
    let mended = edited(&piece, &finding.remedies[0].edits);
    assert_eq!(found(&mended, Tolerance::Normal), []);
}

/// Ties put by hand stand in the file, move what holds a part, and go with it when it grows.
#[test]
fn ties_by_hand_hold_and_follow() {
    let words = |height: f64| {
        vec![
            add(ElementKind::Lettering),
            set("lettering-1", "lines.0.words", "i"),
            set("lettering-1", "size", json!({ "height": height })),
            set("lettering-1", "gives", "nothing"),
            set("lettering-1", "typeface", "nunito"),
        ]
    };
    let contour = |hand: Value| {
        let ties =
            json!({ "offset": 0.3, "crevices": 0.0, "gaps": 0.0, "ties": 0.8, "by_hand": hand });
        vec![set("blank", "outline", json!({ "contour": ties }))]
    };
    let by_hand =
        json!([{ "line": 0, "letter": 0, "is": "", "across": 0.25, "up": 0.7, "turn": 90.0 }]);
    for height in [12.0, 24.0] {
        let piece = plate(&[words(height), contour(by_hand.clone())]);
        let piece = read(kalotype_core::piece::write(&piece).as_bytes()).unwrap();
        for tolerance in ALL_TOLERANCES {
            let all = common::evaluated(&piece, tolerance);
            let made = &all.components[0];
            assert_eq!(made.parts, 1, "{height} {tolerance:?}");
            let ties = made.layout.blank.ties.as_ref().unwrap();
            assert_eq!((ties.bridges.len(), ties.bridges[0].by_hand), (1, Some(0)));
            let ink = made.layout.elements[0].region.bounds().unwrap();
            let exact = ink.x0 + 0.25 * ink.width();
            assert!((ties.bridges[0].tie.ends[0].0 - exact).abs() < 1e-3);
        }
    }
    // Without ties, or beside everything, nothing is held by hand.
    let beside =
        json!([{ "line": 0, "letter": 0, "is": "", "across": 5.0, "up": 0.7, "turn": 90.0 }]);
    let piece = plate(&[words(12.0), contour(beside)]);
    assert_eq!(common::evaluated(&piece, Tolerance::Normal).components[0].parts, 1);
    let idle = the(&found(&piece, Tolerance::Normal), "idle-bridge");
    assert_eq!(idle.target.to_string(), "component-1/blank");
}

/// Of a disc that is too small for a line all is lost: its area.
#[test]
fn narrow_places_are_whole_where_all_is_narrow() {
    let dot = kalotype_core::plane::circle((0.0, 0.0), 0.2, Tolerance::Fine);
    let bounds = dot.bounds().unwrap();
    let narrow: Region =
        dot.narrow_in(bounds, 0.45, kalotype_core::plane::Side::Inside, Tolerance::Fine);
    assert_eq!(narrow.area(), dot.area());
}

/// What is cut into a face for another component takes its room there, on whichever face it is and seen from there: the
/// clear area is what is left beside it (closed form: a box beside a box), and words that lie in it are moved to where
/// there is room, which is not in it.
#[test]
fn what_is_cut_for_another_component_is_kept_off() {
    let part = |field: &str, value: Value| {
        Edit::set(&Address::Blank("component-2".to_owned()), field, value)
    };
    let square = json!({ "rectangle": { "top_left": "square", "top_right": "square",
        "bottom_right": "square", "bottom_left": "square" } });
    let into = |kind: BlankKind, edits: &[Edit], socket: bool, face: FaceName| {
        let mut piece = Piece::new("Berth 7", Unit::Millimetre);
        piece.components[0] = Component::customary(Component::FIRST, kind, Unit::Millimetre);
        let piece = edited(&piece, edits);
        let word = if socket { "socket" } else { "slot" };
        let place = |axis: &str, mm: f64| {
            let place = json!({ "from": "centre", "distance": mm });
            set("piece", &format!("joints.0.{word}.place.{axis}"), place)
        };
        let first = Component::FIRST.to_owned();
        edited(
            &piece,
            &[
                Edit::AddComponent { blank: BlankKind::Plate },
                part("width", json!(20.0)),
                part("height", json!(12.0)),
                part("thickness", json!(1.5)),
                part("outline", square.clone()),
                Edit::Join { into: first, part: "component-2".to_owned(), socket },
                set("piece", "joints.0.fit", json!({ "clearance": 0.3 })),
                set("piece", &format!("joints.0.{word}.face"), json!(face.word())),
                place("across", 20.0),
                place("up", 6.0),
            ],
        )
    };
    let sizes = [("width", 80.0), ("height", 40.0), ("depth", 40.0)];
    for (kind, socket, faces) in [
        (BlankKind::Plate, true, vec![FaceName::Front, FaceName::Back]),
        (BlankKind::Block, true, vec![FaceName::Top, FaceName::Front, FaceName::Back]),
        (BlankKind::Block, false, vec![FaceName::Top, FaceName::Front, FaceName::Back]),
    ] {
        let is_there = |field: &str| kind != BlankKind::Plate || field != "depth";
        let sizes = sizes.iter().filter(|(field, _)| is_there(field));
        let mut sizes: Vec<Edit> =
            sizes.map(|(field, mm)| set("blank", field, json!(mm))).collect();
        if kind == BlankKind::Plate {
            sizes.push(set("blank", "outline", square.clone()));
        }
        sizes.push(set("component", "margin", 2.0));
        for face in faces {
            let piece = into(kind, &sizes, socket, face);
            let layout = placed(&piece, Tolerance::Normal);
            let name = format!("{kind:?} {face:?} {socket}");
            // As the face is seen from where one looks at it.
            let clear = layout.face(face).unwrap().clear.unwrap();
            let opening = layout.openings()[0].region.bounds().unwrap();
            // A box steps beside the corners of another, and loses up to a fraction of a millimetre there.
            assert!((0.0..0.3).contains(&(20.0 - 10.15 - 2.0 - clear.x1)), "{name}: {clear:?}");
            for (edge, exact) in [(clear.x0, -38.0), (clear.y0, -18.0), (clear.y1, 18.0)] {
                assert!((edge - exact).abs() < 1e-6, "{name}: {clear:?}");
            }
            let high = if socket { 12.3 } else { 1.8 };
            assert!((opening.width() - 20.3).abs() < 1e-3, "{name}: {opening:?}");
            assert!((opening.height() - high).abs() < 1e-3, "{name}: {opening:?}");
            let codes = |piece: &Piece| -> Vec<&'static str> {
                found(piece, Tolerance::Draft).iter().map(|one| one.code).collect()
            };
            let goes_in = ["in-an-opening", "does-not-go-in"];
            assert!(codes(&piece).iter().all(|code| !goes_in.contains(code)), "{name}");
            let lettering = [
                Edit::Add {
                    component: Component::FIRST.to_owned(),
                    kind: ElementKind::Lettering,
                    face,
                },
                set("lettering-1", "lines.0.words", "HIH"),
                set("lettering-1", "size", json!({ "height": 6.0 })),
                set("lettering-1", "gives", "nothing"),
            ];
            let mut lies_in_it = edited(&piece, &lettering);
            lies_in_it = edited(&lies_in_it, &at("lettering-1", 20.0, 6.0));
            let told = the(&found(&lies_in_it, Tolerance::Draft), "in-an-opening");
            let moved = edited(&lies_in_it, &told.remedies[0].edits);
            let layout = placed(&moved, Tolerance::Normal);
            let (letters, openings) = (&layout.elements[0].region, layout.openings());
            assert!(letters.intersection(&openings[0].region).is_empty(), "{name}");
            let outline = &layout.face(face).unwrap().outline;
            assert!(letters.difference(outline).is_empty(), "{name}");
            assert!(codes(&moved).iter().all(|code| !goes_in.contains(code)), "{name}");
        }
    }
}
