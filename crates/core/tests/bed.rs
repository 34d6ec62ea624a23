//! How components lie on the bed: what touches it and what hangs over nothing in closed form, files and
//! changes of filament as they are turned, and the side that is best down.

mod common;

use common::{address, close, edited, evaluated, fresh, set, worked};
use kalotype_core::bed::{Lie, best, size_of_all};
use kalotype_core::colour::plan_swaps;
use kalotype_core::export::{Division, Format, Wanted, export, model_of};
use kalotype_core::filament::shipped_palette;
use kalotype_core::formats::stl;
use kalotype_core::piece::{
    Address, BlankKind, Component, Edit, ElementKind, FaceName, Lying, Piece,
};
use kalotype_core::plane::Tolerance;
use kalotype_core::solid::Mesh;
use kalotype_core::units::Unit;
use serde_json::{Value, json};
use std::f64::consts::PI;

fn of_blank(kind: BlankKind, sizes: &[(&str, Value)]) -> Piece {
    let mut piece = Piece::new("Bollard cap", Unit::Millimetre);
    piece.components[0] = Component::customary(Component::FIRST, kind, Unit::Millimetre);
    let edits: Vec<Edit> =
        sizes.iter().map(|(field, value)| set("blank", field, value.clone())).collect();
    edited(&piece, &edits)
}

/// A bore of 20.2 mm radius in a wall of 2.8 mm, a skirt of 16 mm under a top of 3 mm.
fn cap() -> Piece {
    of_blank(
        BlankKind::Cap,
        &[
            ("over", json!(40.0)),
            ("fit", json!("loose")),
            ("wall", json!(2.8)),
            ("skirt", json!(16.0)),
            ("top", json!(3.0)),
            ("upper", json!("square")),
            ("lower", json!("square")),
            ("lead_in", json!(0.0)),
            ("hold", json!("nothing")),
        ],
    )
}

/// The same by itself, under its own name.
fn cap_alone() -> Piece {
    lying(&cap(), Lying::OnTop)
}

fn lying(piece: &Piece, lying: Lying) -> Piece {
    edited(piece, &[set("component", "lies", lying.word())])
}

fn lie(piece: &Piece, side: Lying) -> Lie {
    let made = evaluated(piece, Tolerance::Fine);
    Lie::all(&made.components[0].mesh, 45.0).into_iter().find(|lie| lie.lying == side).unwrap()
}

#[test]
fn a_cap_bridges_its_bore_unless_it_lies_on_its_top() {
    let (outer, bore) = (PI * 23.0 * 23.0, PI * 20.2 * 20.2);
    let made = lie(&cap(), Lying::AsMade);
    close(made.touching, outer - bore, 2e-3);
    close(made.hanging, bore, 2e-3);
    let turned = lie(&cap(), Lying::OnTop);
    close(turned.touching, outer, 2e-3);
    assert_eq!((turned.hanging, turned.tall), (0.0, 19.0));
    // On its side a line touches, and of either cylinder the quarter that is steeper than 45° hangs: the
    // outside along all of it, the bore along the skirt, seen from below as wide as its chord; and the
    // inside of the top stands upright.
    let side = lie(&cap(), Lying::OnLeft);
    let chord = 2.0_f64.sqrt();
    close(side.hanging, chord * (23.0 * 19.0 + 20.2 * 16.0), 2e-2);
}

/// Facts of closed form: a block of 40 × 20 × 10 mm with a field of 10 × 6 mm sunk 2 mm into its top.
#[test]
fn every_side_of_a_block_touches_with_its_area() {
    let block = of_blank(
        BlankKind::Block,
        &[
            ("width", json!(40.0)),
            ("depth", json!(20.0)),
            ("height", json!(10.0)),
            ("lean", json!(0.0)),
            ("top", json!("square")),
            ("bottom", json!("square")),
            ("ends", json!("square")),
        ],
    );
    let sunk = edited(
        &block,
        &[
            Edit::Add {
                component: Component::FIRST.to_owned(),
                kind: ElementKind::Recess,
                face: FaceName::Top,
            },
            set(
                "recess-1",
                "shape",
                json!({ "own": { "width": 10.0, "height": 6.0, "turn": 0.0, "fit": null,
                "outline": { "rectangle": { "top_left": "square", "top_right": "square",
                    "bottom_right": "square", "bottom_left": "square" } } } }),
            ),
            set("recess-1", "depth", json!({ "by": 2.0 })),
        ],
    );
    for (side, touching, hanging, tall) in [
        (Lying::AsMade, 800.0, 0.0, 10.0),
        (Lying::OnTop, 740.0, 60.0, 10.0),
        (Lying::OnFront, 400.0, 20.0, 20.0),
        (Lying::OnBack, 400.0, 20.0, 20.0),
        (Lying::OnLeft, 200.0, 12.0, 40.0),
        (Lying::OnRight, 200.0, 12.0, 40.0),
    ] {
        let found = lie(&sunk, side);
        let near = |a: f64, b: f64| (a - b).abs() < 1e-3;
        assert!(
            near(found.touching, touching) && near(found.hanging, hanging) && found.tall == tall,
            "{found:?}"
        );
        // Turned by quarters: no figure is rounded, nothing is turned inside out.
        let turned = lying(&sunk, side);
        let made = evaluated(&turned, Tolerance::Normal);
        let model = model_of(&turned, &made, Division::Together);
        let (mesh, before) = (&model.parts[0].mesh, &made.components[0].measures);
        let measures = mesh.measures();
        assert!(mesh.faults().is_sound() && (measures.volume - before.volume).abs() < 1e-9);
        assert_eq!(measures.low[2], 0.0);
        assert_eq!(measures.high[2], tall);
    }
}

fn lowest_and_highest(mesh: &Mesh) -> [f64; 2] {
    let measures = mesh.measures();
    [measures.low[2], measures.high[2]]
}

/// Every file of a mesh has it as it lies, and components that lie differently stay beside each other.
#[test]
fn files_have_components_as_they_lie() {
    let mut piece = lying(&cap(), Lying::OnTop);
    piece = edited(&piece, &[Edit::AddComponent { blank: BlankKind::BentBar }]);
    let bar = Address::Component("component-2".to_owned());
    piece = edited(&piece, &[Edit::set(&bar, "lies", "on-left")]);
    let made = evaluated(&piece, Tolerance::Normal);
    let model = model_of(&piece, &made, Division::Split);
    let [cap, bar] = &model.parts[..] else { panic!("two") };
    assert_eq!(lowest_and_highest(&cap.mesh), [0.0, 19.0]);
    let length = made.components[1].measures.high[0] - made.components[1].measures.low[0];
    assert_eq!(lowest_and_highest(&bar.mesh), [0.0, length]);
    let gap = bar.mesh.measures().low[0] - cap.mesh.measures().high[0];
    assert!((5.0..6.0).contains(&gap), "{gap}");
    let size = size_of_all(&made);
    let whole = model_of(&piece, &made, Division::Together).parts[0].mesh.measures();
    (0..3).for_each(|i| assert!((size[i] - (whole.high[i] - whole.low[i])).abs() < 1e-9));
    // The opening looks up: high above the bed there is the skirt only.
    let stl =
        export(&piece, &made, Wanted { format: Format::Stl, each: true, ..Wanted::default() });
    assert_eq!(stl.len(), 2);
    let mesh = stl::read(&stl[0].bytes).unwrap();
    let corners = mesh.vertices.iter().filter(|corner| corner[2] > 3.5);
    let inmost = corners.map(|[x, y, _]| x.hypot(*y));
    assert!(inmost.fold(f64::INFINITY, f64::min) > 20.0, "only the skirt is as high");
    // Its picture is that of what it is, not of how it is printed.
    let pictured = |piece: &Piece| {
        let wanted = Wanted { format: Format::SolidPng, ..Wanted::default() };
        export(piece, &evaluated(piece, Tolerance::Draft), wanted).remove(0).bytes
    };
    let upright = edited(&cap_alone(), &[set("component", "lies", "as-made")]);
    assert_eq!(pictured(&cap_alone()), pictured(&upright));
}

/// A plate of 3 mm with letters of 1.5 mm in another colour: as it is made they come last, upside down
/// they come first, and the change is where the letters meet the plate.
#[test]
fn filament_is_changed_where_the_piece_lies() {
    let second = shipped_palette().remove(1);
    let piece = edited(
        &fresh(&[ElementKind::Lettering]),
        &[
            set("blank", "thickness", json!(3.0)),
            set("blank", "edges", json!({ "top": "square", "bottom": "square" })),
            set("lettering-1", "relief", json!({ "raised": { "by": 1.5 } })),
            Edit::Colour {
                target: address("lettering-1"),
                field: "colour".to_owned(),
                filament: Some(second),
            },
            Edit::set(
                &Address::Piece,
                "layers",
                json!({ "height": 0.3, "first": 0.3, "start": 0 }),
            ),
        ],
    );
    let plan = |piece: &Piece| {
        let plan = plan_swaps(&evaluated(piece, Tolerance::Normal), piece.layers);
        let swaps: Vec<_> = plan.swaps.iter().map(|one| (one.layer, one.filament)).collect();
        (plan.layers, plan.begins_with, swaps, plan.conflicts.len())
    };
    assert_eq!(plan(&piece), (15, 0, vec![(11, 1)], 0));
    assert_eq!(plan(&lying(&piece, Lying::OnTop)), (15, 1, vec![(6, 0)], 0));
    // On its side every layer with a letter has both.
    assert!(plan(&lying(&piece, Lying::OnLeft)).3 > 0);
}

/// What is said, and that the remedy leaves nothing more to say.
#[test]
fn the_side_that_leaves_less_hanging_is_offered() {
    let said = |piece: &Piece| -> Vec<Edit> {
        let worked = worked(piece, Tolerance::Normal);
        let found = worked.findings.into_iter().filter(|finding| finding.code == "hangs-over");
        found.flat_map(|finding| finding.remedies).flat_map(|remedy| remedy.edits).collect()
    };
    // A new cap lies on its top, and is best so.
    let cap = cap();
    assert_eq!(cap.components[0].lies, Lying::OnTop);
    assert_eq!(said(&cap), vec![]);
    let upright = lying(&cap, Lying::AsMade);
    let remedy = said(&upright);
    assert_eq!(edited(&upright, &remedy).components[0].lies, Lying::OnTop);
    // With words standing on its top it had better not.
    // Where words are put they begin sunk, so that nothing stands between it and the bed.
    let on_top = Edit::Add {
        component: Component::FIRST.to_owned(),
        kind: ElementKind::Lettering,
        face: FaceName::Top,
    };
    assert_eq!(said(&edited(&cap, &[on_top])), vec![]);
    let words = edited(
        &cap,
        &[
            Edit::Add {
                component: Component::FIRST.to_owned(),
                kind: ElementKind::Lettering,
                face: FaceName::Top,
            },
            set("lettering-1", "relief", json!({ "raised": { "by": 1.0 } })),
        ],
    );
    let remedy = said(&words);
    let mended = edited(&words, &remedy);
    assert_eq!((mended.components[0].lies, said(&mended)), (Lying::AsMade, vec![]));
    // The word for it does the same, and "best" of the sunk ones is the top.
    let into = |piece: &Piece, word: &str| {
        let turn = Edit::Turn {
            target: address("component"),
            field: "lies".to_owned(),
            into: word.to_owned(),
        };
        edited(piece, &[turn]).components[0].lies
    };
    assert_eq!(into(&words, "best"), Lying::AsMade);
    assert_eq!((into(&upright, "best"), into(&upright, "on-left")), (Lying::OnTop, Lying::OnLeft));
}

/// Customary blanks are best printed as they are offered.
#[test]
fn customary_blanks_lie_well() {
    for kind in BlankKind::ALL {
        let piece = of_blank(kind, &[]);
        let found = worked(&piece, Tolerance::Draft);
        let codes: Vec<_> = found.findings.iter().map(|finding| finding.code).collect();
        assert!(!codes.contains(&"hangs-over"), "{kind:?}");
        let best = best(&Lie::all(&found.mesh, 45.0)).unwrap();
        assert!(best.touching > 0.0, "{kind:?} {best:?}");
    }
}

/// A first layer that is pressed 0.1 mm wider on either side takes the 0.2 mm of a sliding fit, but not the
/// 0.4 mm of a loose one; a lead-in that is as wide takes it up.
#[test]
fn a_first_layer_that_takes_all_the_room_is_said() {
    let with = |piece: &Piece, fit: &str, spread: f64| {
        let mut piece = edited(piece, &[set("blank", "fit", json!(fit))]);
        piece.printer.spread = kalotype_core::units::Length::mm(spread);
        piece
    };
    let found = |piece: &Piece| -> Vec<Vec<Edit>> {
        let worked = worked(piece, Tolerance::Draft);
        let all = worked.findings.into_iter().filter(|finding| finding.code == "first-layer");
        all.map(|finding| finding.remedies[0].edits.clone()).collect()
    };
    let upright = lying(&cap(), Lying::AsMade);
    assert_eq!(found(&with(&upright, "loose", 0.1)).len(), 0);
    assert_eq!(found(&with(&upright, "loose", 0.2)).len(), 1);
    assert_eq!(found(&with(&upright, "sliding", 0.0)).len(), 0);
    // Its opening looks up where it lies on its top.
    assert_eq!(found(&with(&cap(), "sliding", 0.1)).len(), 0);
    let tight = with(&upright, "sliding", 0.1);
    let remedies = found(&tight);
    let mended = edited(&tight, &remedies[0]);
    assert_eq!((remedies.len(), found(&mended).len()), (1, 0));
    assert!(worked(&mended, Tolerance::Draft).stop.is_none());
    // A plug on its shank, a ring, and a tag in its socket.
    let plug = of_blank(BlankKind::Plug, &[("lead_in", json!("square"))]);
    assert_eq!(found(&with(&plug, "snug", 0.1)).len(), 0, "on its collar");
    let standing = with(&lying(&plug, Lying::AsMade), "snug", 0.1);
    assert_eq!(found(&edited(&standing, &found(&standing)[0])).len(), 0);
    let ring = with(&of_blank(BlankKind::Ring, &[("comfort", json!("square"))]), "snug", 0.1);
    assert_eq!(found(&edited(&ring, &found(&ring)[0])).len(), 0);
    let tag = edited(
        &of_blank(BlankKind::Plate, &[("thickness", json!(6.0))]),
        &[
            Edit::AddComponent { blank: BlankKind::Plate },
            Edit::set(&Address::Blank("component-2".to_owned()), "width", json!(30.0)),
            Edit::set(&Address::Blank("component-2".to_owned()), "height", json!(12.0)),
            Edit::set(
                &Address::Blank("component-2".to_owned()),
                "edges",
                json!({ "top": "square", "bottom": "square" }),
            ),
            Edit::Join {
                into: Component::FIRST.to_owned(),
                part: "component-2".to_owned(),
                socket: true,
            },
        ],
    );
    assert_eq!(found(&edited(&tag, &found(&tag)[0])).len(), 0);
}

/// A printer brings its layers; what was given to the piece itself stays where the printer is only measured
/// anew.
#[test]
fn layers_come_with_the_printer() {
    use kalotype_core::piece::Printer;
    use kalotype_core::units::Length;
    let fine = Printer {
        id: "quay-north".to_owned(),
        layer: Length::mm(0.08),
        first_layer: Length::mm(0.16),
        ..Printer::default()
    };
    let chosen = |piece: &Piece, printer: &Printer| {
        edited(piece, &[Edit::set(&Address::Piece, "printer", json!(printer))])
    };
    let layers = |piece: &Piece| [piece.layers.height.as_mm(), piece.layers.first.as_mm()];
    let piece = chosen(&cap(), &fine);
    assert_eq!(layers(&piece), [0.08, 0.16]);
    let own = edited(&piece, &[Edit::set(&Address::Piece, "layers.height", json!(0.12))]);
    let measured = Printer { layer: Length::mm(0.1), ..fine.clone() };
    assert_eq!(layers(&chosen(&own, &measured)), [0.12, 0.16]);
    assert_eq!(layers(&chosen(&piece, &measured)), [0.1, 0.16]);
    assert_eq!(layers(&chosen(&own, &Printer::default())), [0.2, 0.2]);
}
