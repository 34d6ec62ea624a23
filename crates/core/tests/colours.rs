//! Colours: bodies that make up the whole, files in parts, and changes of filament.

mod common;

use common::{Worked, add, address, edited, set, try_edits, worked};
use kalotype_core::colour::{Advice, Pause, advise, pause_lines, plan_swaps, swap_sheet};
use kalotype_core::export::{Division, Format, OutFile, Wanted, export, plan};
use kalotype_core::filament::{Filament, shipped_palette};
use kalotype_core::formats::stl;
use kalotype_core::piece::{Component, Edit, ElementKind, Piece};
use kalotype_core::plane::Tolerance;
use kalotype_core::units::Unit;
use serde_json::json;

fn spool(id: &str) -> Filament {
    shipped_palette().into_iter().find(|filament| filament.id == id).unwrap()
}

fn colour(target: &str, field: &str, id: &str) -> Edit {
    let filament = Some(spool(id));
    Edit::Colour { target: address(target), field: field.into(), filament }
}

fn made(edits: &[Edit]) -> (Piece, Worked) {
    let piece = edited(&Piece::new("Tide watch", Unit::Millimetre), edits);
    let found = worked(&piece, Tolerance::Normal);
    for body in &found.bodies {
        assert!(body.mesh.faults().is_sound() && body.volume > 0.0);
    }
    (piece, found)
}

/// A fob of three colours: 3 mm plate, white letters 1.5 mm proud, an orange rim 1 mm proud.
fn fob() -> Vec<Edit> {
    vec![
        add(ElementKind::Hole),
        add(ElementKind::Rim),
        add(ElementKind::Lettering),
        set("piece", "file_name", json!("{piece}")),
        colour("lettering-1", "colour", "sail"),
        colour("rim-1", "colour", "lifebuoy"),
    ]
}

fn volume_of(piece: &Piece, found: &Worked, id: &str) -> f64 {
    let at = piece.filaments.iter().position(|filament| filament.id == id).unwrap();
    found.bodies.iter().find(|body| body.filament == at).map_or(0.0, |body| body.volume)
}

#[test]
fn each_colour_has_the_volume_of_its_prisms_and_roots_change_only_the_split() {
    let (piece, found) = made(&fob());
    let area = |id: &str| found.layout.element(id).unwrap().region.area();
    assert_eq!(found.bodies.len(), 3);
    assert!((volume_of(&piece, &found, "sail") - 1.5 * area("lettering-1")).abs() < 1e-6);
    let sum: f64 = found.bodies.iter().map(|body| body.volume).sum();
    assert!((sum - found.measures.volume).abs() <= 1e-9 * sum);

    let mut rooted = fob();
    rooted.push(set("lettering-1", "root", json!(0.8)));
    let (piece, deeper) = made(&rooted);
    assert!((volume_of(&piece, &deeper, "sail") - 2.3 * area("lettering-1")).abs() < 2e-3);
    assert!((deeper.measures.volume - found.measures.volume).abs() < 1e-6);
}

#[test]
fn inlays_take_their_place_out_of_the_plate() {
    let edits = [
        add(ElementKind::Lettering),
        set("lettering-1", "relief", json!({ "flush": 0.6 })),
        colour("lettering-1", "colour", "sail"),
        colour("blank", "faces.bottom.colour", "tar"),
        add(ElementKind::Recess),
        set("recess-1", "shape", json!({ "inset": 9.0 })),
        set("recess-1", "depth", json!({ "by": 1.0 })),
        colour("recess-1", "floor.colour", "lantern"),
        set("recess-1", "floor.depth", json!(0.4)),
    ];
    let (piece, found) = made(&edits);
    let plate = found.layout.blank.outline.area();
    let recess = found.layout.element("recess-1").unwrap().region.clone();
    let letters = found.layout.element("lettering-1").unwrap().region.clone();
    // Fields come first, whatever the order of the file: the letters lie in the floor where they meet.
    let inlaid = 0.6 * letters.area();
    let floor = 0.4 * recess.difference(&letters).area();
    assert!((volume_of(&piece, &found, "sail") - inlaid).abs() < 0.01);
    assert!((volume_of(&piece, &found, "tar") - 0.6 * plate).abs() < 0.02);
    assert!((volume_of(&piece, &found, "lantern") - floor).abs() < 0.02);
    // None of it changes the shape. Heights lie on a grid of 2⁻¹⁶ mm.
    assert!((found.measures.volume - 3.0 * plate + recess.area()).abs() < 0.02);
    assert!(found.findings.iter().all(|finding| finding.code != "unseen"));
}

#[test]
fn a_colour_is_given_and_taken_back_and_filaments_follow() {
    let (piece, _) = made(&fob());
    let ids = |piece: &Piece| piece.filaments.iter().map(|f| f.id.clone()).collect::<Vec<_>>();
    assert_eq!(ids(&piece), ["harbour", "sail", "lifebuoy"]);
    let plain = Edit::Colour { target: address("rim-1"), field: "colour".into(), filament: None };
    let piece = edited(&piece, &[plain]);
    assert_eq!(ids(&piece), ["harbour", "sail"]);
    let found = worked(&piece, Tolerance::Draft);
    assert_eq!(found.bodies.len(), 2);

    // A pasted element brings its filament along, or takes the colour of the plate.
    let element = Box::new(piece.element(&address("lettering-1")).unwrap().clone());
    let other = Piece::new("Other", Unit::Millimetre);
    let paste = |filaments: Vec<Filament>| {
        let element = element.clone();
        edited(&other, &[Edit::Insert { component: Component::FIRST.into(), element, filaments }])
    };
    assert_eq!(ids(&paste(piece.filaments.clone())), ["harbour", "sail"]);
    assert_eq!(paste(Vec::new()).element(&address("lettering-1")).unwrap().colour(), None);

    let unknown = try_edits(&piece, &[set("rim-1", "colour", json!("mauve"))]).unwrap_err();
    assert_eq!((unknown.target.clone(), unknown.field.as_str()), (address("rim-1"), "colour"));
    assert!(unknown.message.contains("harbour, sail"), "{unknown}");
}

fn files(piece: &Piece, found: &Worked, format: Format, division: Division) -> Vec<OutFile> {
    export(
        piece,
        &found.evaluation,
        Wanted { format, division, date: Some("2026-11-25"), each: false },
    )
}

#[test]
fn mesh_files_hold_the_parts_they_say() {
    let (piece, found) = made(&fob());
    let names = |files: &[OutFile]| files.iter().map(|file| file.name.clone()).collect::<Vec<_>>();

    let whole = files(&piece, &found, Format::Stl, Division::Together);
    assert_eq!(names(&whole), ["tide-watch.stl"]);
    let split = files(&piece, &found, Format::Stl, Division::Split);
    assert_eq!(
        names(&split),
        [
            "tide-watch-harbour-blue.stl",
            "tide-watch-sail-white.stl",
            "tide-watch-lifebuoy-orange.stl"
        ]
    );
    let volume = |file: &OutFile| stl::read(&file.bytes).unwrap().measures().volume;
    let sum: f64 = split.iter().map(volume).sum();
    assert!((sum - volume(&whole[0])).abs() < 1e-3);
    for file in whole.iter().chain(&split) {
        assert!(!file.bytes.starts_with(b"solid"), "a binary STL that looks like text");
    }

    // tobj, another reader: three models with their materials and colours.
    let obj = files(&piece, &found, Format::Obj, Division::Split);
    assert_eq!(names(&obj), ["tide-watch.obj", "tide-watch.mtl"]);
    let (models, materials) =
        tobj::load_obj_buf(&mut &obj[0].bytes[..], &tobj::LoadOptions::default(), |path| {
            assert_eq!(path.to_str(), Some("tide-watch.mtl"));
            tobj::load_mtl_buf(&mut &obj[1].bytes[..])
        })
        .unwrap();
    let materials = materials.unwrap();
    assert_eq!(models.len(), 3);
    for (model, body) in models.iter().zip(&found.bodies) {
        let filament = &piece.filaments[body.filament];
        let material = &materials[model.mesh.material_id.unwrap()];
        assert_eq!(material.name, filament.id);
        let diffuse = material.diffuse.unwrap();
        for (found, exact) in diffuse.iter().zip(filament.colour.0) {
            assert!((f64::from(*found) * 255.0 - f64::from(exact)).abs() < 0.01);
        }
        assert_eq!(model.mesh.indices.len(), 3 * body.mesh.triangles.len());
    }
    let apart = files(&piece, &found, Format::Obj, Division::Apart);
    assert_eq!((apart.len(), &apart[2].name[..]), (6, "tide-watch-sail-white.obj"));
}

/// What a list of an export says without writing it is what is written, in every format, however colours are told apart:
/// names, triangles, and sizes where they are said (binary STL: 84 bytes and 50 for each triangle, its published layout).
#[test]
fn what_is_planned_is_what_is_written() {
    let (piece, found) = made(&fob());
    for (word, format) in Format::ALL {
        // Drawings, pictures and the piece itself know no division.
        let divisions = [Division::Together, Division::Split, Division::Apart];
        for division in divisions.into_iter().take(if format.is_mesh() { 3 } else { 1 }) {
            let wanted = Wanted { format, division, date: None, each: false };
            let mut planned = Vec::new();
            plan(&piece, &found.evaluation, wanted, &mut |file| {
                planned.push((file.name, file.triangles, file.bytes));
            });
            let written = files(&piece, &found, format, division);
            assert_eq!(planned.len(), written.len(), "{word}");
            for ((name, triangles, bytes), file) in planned.iter().zip(&written) {
                assert_eq!((name, triangles), (&file.name, &file.triangles), "{word}");
                assert!(bytes.is_none_or(|bytes| bytes == file.bytes.len()), "{word}");
                if format == Format::Stl {
                    assert_eq!(*bytes, triangles.map(|count| 84 + 50 * count));
                }
            }
        }
    }
}

/// Layers of 0.2 mm: 3 mm of plate are 15 layers, letters from 3 to 4.5 mm.
#[test]
fn swaps_come_at_the_layer_where_the_colour_begins() {
    let mut edits = vec![add(ElementKind::Lettering), colour("lettering-1", "colour", "sail")];
    let (piece, found) = made(&edits);
    let plan = plan_swaps(&found.evaluation, piece.layers);
    // The middle of a 23rd layer would be at the very top.
    assert_eq!((plan.layers, plan.swaps.len()), (22, 1));
    assert_eq!((plan.swaps[0].layer, plan.swaps[0].filament), (16, 1));
    assert!((plan.swaps[0].height - 3.0).abs() < 1e-9);
    assert!(plan.conflicts.is_empty());

    // One layer higher; and with another first layer the same face falls into another layer.
    edits.extend([
        set("piece", "layers.start", json!(1)),
        set("piece", "layers.first", json!(0.3)),
        set("piece", "layers.height", json!(0.1)),
    ]);
    let (piece, found) = made(&edits);
    let plan = plan_swaps(&found.evaluation, piece.layers);
    assert_eq!((plan.layers, plan.swaps[0].layer), (43, 30));
    assert!((plan.swaps[0].height - 3.1).abs() < 1e-9);
    insta::assert_snapshot!(
        [swap_sheet(&piece, &found.evaluation, &plan), pause_lines(&piece, &plan, Pause::M600)]
            .join("\n")
    );
}

#[test]
fn layers_of_two_colours_are_said_with_their_cure_and_as_few_swaps_as_can_be() {
    // The rim stands beside the letters from 3 to 4 mm, and the letters go on to 4.5 mm.
    let (piece, found) = made(&fob());
    let plan = plan_swaps(&found.evaluation, piece.layers);
    assert_eq!(plan.swaps.len(), 1, "letters all the way: one change, not two");
    assert_eq!(piece.filaments[plan.swaps[0].filament].id, "sail");
    assert_eq!(plan.conflicts.len(), 1);
    let conflict = &plan.conflicts[0];
    assert_eq!(conflict.layers, (16, 20));
    let advice = advise(&piece, &found.evaluation, conflict);
    assert_eq!(
        advice.text,
        "Layers 16 to 20 (3 mm to 4 mm) have Sail white and Lifebuoy orange; one nozzle prints them \
         in Sail white. The rim and the lettering both begin at 3 mm: give them one colour, or sink \
         one of them into the plate in the plate’s colour."
    );
    let cured = |piece: &Piece, advice: &Advice| {
        assert_eq!(advice.remedies.len(), 1, "{advice:?}");
        let after = edited(piece, &advice.remedies[0].edits);
        let found = worked(&after, Tolerance::Normal);
        assert!(plan_swaps(&found.evaluation, after.layers).conflicts.is_empty(), "{advice:?}");
    };
    cured(&piece, &advice);

    // Letters in a recess share their layers with the walls around them.
    let sunk = [
        add(ElementKind::Recess),
        add(ElementKind::Loop),
        add(ElementKind::Lettering),
        colour("lettering-1", "colour", "sail"),
        set("lettering-1", "relief", json!({ "raised": "level-with-face" })),
    ];
    let (piece, found) = made(&sunk);
    let plan = plan_swaps(&found.evaluation, piece.layers);
    let advice = advise(&piece, &found.evaluation, &plan.conflicts[0]);
    let said = &advice.text;
    let cure = "The lettering begins below the top of the plate, which is at 3 mm: let it begin there, on \
                the face.";
    assert!(said.ends_with(cure), "{said}");
    cured(&piece, &advice);

    // An inlay shares its layers with the plate around it.
    let mut inlaid = vec![add(ElementKind::Lettering), colour("lettering-1", "colour", "sail")];
    inlaid.push(set("lettering-1", "relief", json!({ "flush": 0.6 })));
    let (piece, found) = made(&inlaid);
    let plan = plan_swaps(&found.evaluation, piece.layers);
    assert_eq!((plan.swaps.len(), plan.conflicts.len()), (0, 1));
    let advice = advise(&piece, &found.evaluation, &plan.conflicts[0]);
    let said = &advice.text;
    assert!(said.ends_with("The lettering is level with its face: raise it instead."), "{said}");
    cured(&piece, &advice);
    inlaid.push(set("lettering-1", "relief", json!({ "raised": { "by": 0.6 } })));
    let (piece, found) = made(&inlaid);
    assert!(plan_swaps(&found.evaluation, piece.layers).conflicts.is_empty(), "the cure cures");
}
