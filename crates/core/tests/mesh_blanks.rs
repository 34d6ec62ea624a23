//! Pieces made of meshes of other programs: what the kernel adds and cuts comes to the closed forms,
//! every body is sound, and what cannot be worked on is said.

mod common;

use common::{Worked, add, address, cache, set, worked_with};
use kalotype_core::edit::{Unapplied, apply};
use kalotype_core::formats::{FoundBody, FoundMesh, read_mesh, stl};
use kalotype_core::library::Shelf;
use kalotype_core::piece::{
    Blank, Component, Edit, ElementKind, FaceName, MeshBlank, Piece, WorkedFace, read, write,
};
use kalotype_core::plane::Tolerance;
use kalotype_core::preflight::Weight;
use kalotype_core::solid::Mesh;
use kalotype_core::stock::{Stock, StockError, stock_id};
use kalotype_core::units::Unit;
use kalotype_core::workshop::Workshop;
use proptest::prelude::*;
use serde_json::{Value, json};

/// A ball with its cap cut off at a height above its middle, standing on its lowest facets.
fn capped_ball(radius: f64, cut: f64, rings: usize) -> Mesh {
    let around = 2 * rings;
    let bottom = -std::f64::consts::FRAC_PI_2;
    let top = (cut / radius).asin();
    let mut mesh = Mesh::default();
    for ring in 1..=rings {
        let up = bottom + (top - bottom) * ring as f64 / rings as f64;
        for step in 0..around {
            let along = std::f64::consts::TAU * step as f64 / around as f64;
            let flat = radius * up.cos();
            mesh.vertices.push([flat * along.cos(), flat * along.sin(), radius * up.sin()]);
        }
    }
    let (south, north) = (mesh.vertices.len() as u32, mesh.vertices.len() as u32 + 1);
    mesh.vertices.extend([[0.0, 0.0, -radius], [0.0, 0.0, cut]]);
    let at = |ring: usize, step: usize| ((ring - 1) * around + step % around) as u32;
    for step in 0..around {
        mesh.triangles.push([south, at(1, step + 1), at(1, step)]);
        mesh.triangles.push([north, at(rings, step), at(rings, step + 1)]);
        for ring in 1..rings {
            let (a, b) = (at(ring, step), at(ring, step + 1));
            let (c, d) = (at(ring + 1, step), at(ring + 1, step + 1));
            mesh.triangles.extend([[a, b, d], [a, d, c]]);
        }
    }
    mesh
}

/// A round plate whose faces are fans from their middles.
fn fanned_disc(radius: f64, thickness: f64, sides: usize) -> Mesh {
    let mut mesh = Mesh { vertices: vec![[0.0; 3], [0.0, 0.0, thickness]], triangles: Vec::new() };
    for side in 0..sides {
        let (sine, cosine) = (std::f64::consts::TAU * side as f64 / sides as f64).sin_cos();
        let rim = [0.0, thickness].map(|z| [radius * cosine, radius * sine, z]);
        mesh.vertices.extend(rim);
    }
    for side in 0..sides as u32 {
        let (low, next) = (2 + 2 * side, 2 + 2 * ((side + 1) % sides as u32));
        let (high, next_high) = (low + 1, next + 1);
        mesh.triangles.extend([[0, next, low], [1, high, next_high]]);
        mesh.triangles.extend([[low, next, next_high], [low, next_high, high]]);
    }
    mesh
}

/// A block from the origin, its top rising along x from one height to another.
fn ramp(width: f64, depth: f64, low: f64, high: f64) -> Mesh {
    let vertices = (0..8)
        .map(|i| {
            let (x, y) = (f64::from(i & 1), f64::from(i >> 1 & 1));
            let top = low + (high - low) * x;
            [x * width, y * depth, if i & 4 == 0 { 0.0 } else { top }]
        })
        .collect();
    let triangles = [
        [0, 2, 1],
        [1, 2, 3],
        [4, 5, 6],
        [5, 7, 6],
        [0, 1, 4],
        [1, 5, 4],
        [2, 6, 3],
        [3, 6, 7],
        [0, 4, 2],
        [2, 4, 6],
        [1, 3, 5],
        [3, 7, 5],
    ];
    Mesh { vertices, triangles: triangles.to_vec() }
}

fn block(width: f64, depth: f64, height: f64) -> Mesh {
    ramp(width, depth, height, height)
}

fn moved(mut mesh: Mesh, by: [f64; 3]) -> Mesh {
    mesh.vertices.iter_mut().for_each(|v| (0..3).for_each(|axis| v[axis] += by[axis]));
    mesh
}

fn turned(mut mesh: Mesh) -> Mesh {
    mesh.triangles.iter_mut().for_each(|t| t.swap(1, 2));
    mesh
}

fn both(mut a: Mesh, b: &Mesh) -> Mesh {
    a.append(b);
    a
}

/// The stock of a mesh that went through a file.
fn stock_of(mesh: &Mesh) -> Result<Stock, StockError> {
    let file = stl::write_binary(mesh, "blank");
    Stock::of(stock_id(&file), "blank.stl".into(), &read_mesh(&file).unwrap())
}

/// A piece of a mesh, with the mesh at hand.
struct OnMesh {
    piece: Piece,
    shelf: Shelf,
}

/// A piece of a mesh, on the flat face of this number, the largest being 0.
fn piece_of(mesh: &Mesh, face: usize) -> OnMesh {
    let stock = stock_of(mesh).unwrap();
    let mut piece = Piece::new("Mooring float", Unit::Millimetre);
    let chosen = &stock.faces[face];
    piece.components[0].blank = Blank::Mesh(MeshBlank {
        mesh: stock.id.clone(),
        file: stock.name.clone(),
        scale: stock.scale,
        face: WorkedFace { normal: chosen.normal, level: chosen.level },
        turn: 0.0,
        colour: piece.filaments[0].id.clone(),
    });
    let mut shelf = Shelf::default();
    shelf.put_mesh(stock);
    OnMesh { piece, shelf }
}

impl OnMesh {
    fn try_edits(&self, edits: &[Edit]) -> Result<Piece, Unapplied> {
        let cache = cache();
        let workshop = Workshop::new(&self.shelf, &cache, Tolerance::Draft);
        Ok(apply(&self.piece, edits, &workshop)?.piece)
    }

    fn edited(&self, edits: &[Edit]) -> Self {
        let shelf = self.shelf.clone();
        OnMesh { piece: self.try_edits(edits).unwrap(), shelf }
    }

    fn worked(&self, tolerance: Tolerance) -> Worked {
        worked_with(&self.shelf, &self.piece, tolerance)
    }
}

/// Works a piece out and makes sure that every body is sound and that together they are the whole.
fn made(piece: &OnMesh) -> Worked {
    let found = piece.worked(Tolerance::Normal);
    let stop = found.findings.iter().find(|finding| finding.weight == Weight::Stop);
    assert_eq!(stop, None);
    assert!(found.mesh.faults().is_sound(), "{:?}", found.mesh.faults());
    assert!(found.bodies.iter().all(|body| body.mesh.faults().is_sound() && body.volume > 0.0));
    let sum: f64 = found.bodies.iter().map(|body| body.volume).sum();
    close(sum, found.measures.volume, 1e-9);
    assert!(found.mesh.lowest().abs() < 1e-9, "it rests on the bed");
    found
}

#[track_caller]
fn close(found: f64, exact: f64, relative: f64) {
    assert!((found - exact).abs() <= relative * exact.abs(), "{found}, not {exact}");
}

fn area_of(found: &Worked, id: &str) -> f64 {
    found.layout.element(id).unwrap().region.area()
}

/// Letters add and take away their area times their height (Cavalieri), and a hole through a block
/// its area times the block's height.
#[test]
fn letters_and_holes_change_the_volume_by_their_prisms() {
    let words = |relief: Value| {
        [
            add(ElementKind::Lettering),
            set("lettering-1", "lines.0.words", json!("Łódź")),
            set("lettering-1", "size", json!({ "height": 5 })),
            set("lettering-1", "relief", relief),
        ]
    };
    for mesh in [block(40.0, 24.0, 16.0), capped_ball(20.0, 12.0, 24), ramp(40.0, 24.0, 9.0, 20.0)]
    {
        let plain = piece_of(&mesh, 0);
        let before = made(&plain);
        close(before.measures.volume, mesh.measures().volume, 1e-6);
        let raised = made(&plain.edited(&words(json!({ "raised": { "by": 1.5 } }))));
        let area = area_of(&raised, "lettering-1");
        assert!(area > 20.0);
        close(raised.measures.volume - before.measures.volume, 1.5 * area, 1e-6);
        let sunk = made(&plain.edited(&words(json!({ "recessed": { "by": 1 } }))));
        close(before.measures.volume - sunk.measures.volume, area, 1e-6);
    }
    let plain = piece_of(&block(40.0, 24.0, 16.0), 0);
    let pierced = made(&plain.edited(&[add(ElementKind::Hole)]));
    let area = area_of(&pierced, "hole-1");
    close(40.0 * 24.0 * 16.0 - pierced.measures.volume, 16.0 * area, 1e-9);
}

#[test]
fn a_worked_face_looks_up_whichever_it_is_and_reads_upright() {
    let mesh = ramp(40.0, 24.0, 9.0, 20.0);
    let stock = stock_of(&mesh).unwrap();
    let facing: Vec<_> = stock.faces.iter().map(|face| face.facing()).collect();
    // By area: 40 × 24, its slope of √(40² + 11²) × 24, the sides, the ends.
    assert_eq!(facing, ["slanted", "underside", "front", "back", "right", "left"]);
    for face in 0..6 {
        let found = made(&piece_of(&mesh, face));
        close(found.measures.volume, mesh.measures().volume, 1e-6);
        let stock = found.layout.stock.as_ref().unwrap();
        assert!((found.measures.high[2] - stock.top).abs() < 1e-9);
    }
    // On the right end, 24 wide and 20 high, up stays up: 20 is its height on the plan.
    let right = made(&piece_of(&mesh, 4));
    let rect = right.layout.blank.rect;
    assert!((rect.width() - 24.0).abs() < 1e-4 && (rect.height() - 20.0).abs() < 1e-4, "{rect:?}");
    assert!((right.layout.blank.thickness - 40.0).abs() < 1e-4);
    let quarter = piece_of(&mesh, 4).edited(&[set("blank", "turn", json!(90))]);
    let rect = made(&quarter).layout.blank.rect;
    assert!((rect.width() - 20.0).abs() < 1e-4, "{rect:?}");
}

/// Raised letters of their own colour have the volume of their prisms, an inlay takes its place out of
/// the mesh, and the back is what lies on the bed.
#[test]
fn colours_share_a_mesh_without_overlap() {
    let spool = kalotype_core::filament::shipped_palette();
    let colour = |target: &str, field: &str, which: usize| Edit::Colour {
        target: address(target),
        field: field.into(),
        filament: Some(spool[which].clone()),
    };
    let piece = piece_of(&block(40.0, 24.0, 16.0), 0).edited(&[
        add(ElementKind::Lettering),
        colour("lettering-1", "colour", 1),
        on(FaceName::Back, ElementKind::Emblem),
        set("emblem-1", "relief", json!({ "flush": 0.75 })),
        colour("emblem-1", "colour", 2),
    ]);
    let found = made(&piece);
    assert_eq!(found.bodies.len(), 3);
    let volume = |id: &str| {
        let filament = usize::from(found.layout.element(id).unwrap().colour);
        found.bodies.iter().find(|body| body.filament == filament).unwrap().volume
    };
    close(volume("lettering-1"), 1.5 * area_of(&found, "lettering-1"), 1e-6);
    close(volume("emblem-1"), 0.75 * area_of(&found, "emblem-1"), 1e-6);
}

#[test]
fn what_cannot_be_worked_on_is_refused_and_what_can_be_mended_is() {
    let mut open = block(20.0, 20.0, 20.0);
    open.triangles.pop();
    assert_eq!(stock_of(&open).unwrap_err(), StockError::Open(3));
    assert_eq!(stock_of(&capped_ball(20.0, 19.99, 60)).unwrap_err(), StockError::NoFlatFace);

    let sound = stock_of(&block(20.0, 20.0, 20.0)).unwrap();
    assert!(!sound.was_mended);
    let inside_out = stock_of(&turned(block(20.0, 20.0, 20.0))).unwrap();
    assert!(inside_out.was_mended);
    close(inside_out.mesh.measures().volume, 8000.0, 1e-9);
    // Two blocks that run into each other by half become one without an inside wall.
    let crossed = both(block(20.0, 20.0, 20.0), &moved(block(20.0, 20.0, 20.0), [10.0, 5.0, 3.0]));
    let crossed = stock_of(&crossed).unwrap();
    assert!(crossed.was_mended && crossed.mesh.faults().is_sound());
    close(crossed.mesh.measures().volume, 16_000.0 - 10.0 * 15.0 * 17.0, 1e-9);
    // Two bodies of one file that touch on a face become one.
    let body = |mesh: Mesh| FoundBody { name: String::new(), colour: None, mesh };
    let halves =
        vec![body(block(20.0, 20.0, 5.0)), body(moved(block(20.0, 20.0, 5.0), [0.0, 0.0, 5.0]))];
    let found = FoundMesh {
        format: "3MF".into(),
        unit: Some("millimeter".into()),
        bodies: halves,
        remarks: Vec::new(),
    };
    let joined = Stock::of("mesh-halves".into(), String::new(), &found).unwrap();
    assert_eq!(joined.mesh.faults().shells, 1);
    close(joined.mesh.measures().volume, 4000.0, 1e-9);
}

/// A block in a block counts once, a block in the hollow of a block is solid again, and two faces on each
/// other are nothing: beside a block they go, alone they are refused with the reason.
#[test]
fn what_lies_inside_or_encloses_nothing_does_not_count() {
    let (outer, inner) = (block(20.0, 20.0, 20.0), moved(block(8.0, 8.0, 8.0), [6.0, 6.0, 6.0]));
    let nested = stock_of(&both(outer.clone(), &inner)).unwrap();
    assert!(nested.was_mended);
    assert_eq!(nested.mesh.faults().shells, 1);
    close(nested.mesh.measures().volume, 8000.0, 1e-9);
    let hollow = turned(moved(block(12.0, 12.0, 12.0), [4.0, 4.0, 4.0]));
    let cored = stock_of(&both(both(outer.clone(), &hollow), &inner)).unwrap();
    assert!(!cored.was_mended);
    close(cored.mesh.measures().volume, 8000.0 - 1728.0 + 512.0, 1e-9);

    let leaf = Mesh {
        vertices: vec![[30.0, 0.0, 0.0], [39.0, 0.0, 0.0], [30.0, 9.0, 4.0]],
        triangles: vec![[0, 1, 2], [0, 2, 1]],
    };
    let beside = stock_of(&both(outer, &leaf)).unwrap();
    assert!(beside.was_mended && beside.mesh.faults().is_sound());
    assert_eq!((beside.mesh.faults().shells, beside.mesh.measures().high[0]), (1, 20.0));
    let alone = stock_of(&leaf).unwrap_err().to_string();
    assert!(alone.contains("1 shell without volume: faces lie on each other"), "{alone}");
}

/// Two blocks that touch along a mere edge are cut apart there: in the file no two of them share a
/// place, and the finding says how far apart they are.
#[test]
fn blocks_that_touch_along_an_edge_are_really_parted() {
    let touching = both(block(20.0, 20.0, 8.0), &moved(block(20.0, 20.0, 8.0), [20.0, 20.0, 0.0]));
    let words = [add(ElementKind::Lettering), add(ElementKind::Hole)];
    for piece in [piece_of(&touching, 0), piece_of(&touching, 0).edited(&words)] {
        let found = made(&piece);
        let file = stl::write_binary(&found.mesh, "parted");
        let faults = read_mesh(&file).unwrap().faults();
        assert!(faults.is_sound(), "{faults:?}");
        let finding = found.findings.iter().find(|one| one.code == "mere-edge").unwrap();
        assert!(finding.message.contains("written 2 µm apart"), "{}", finding.message);
        // One block lies left of the edge, above or below it as the face was turned.
        let left = found.mesh.vertices.iter().find(|v| v[0] < -1.0 && v[1].abs() > 1.0).unwrap();
        let (near, far): (Vec<[f64; 3]>, Vec<[f64; 3]>) = found
            .mesh
            .vertices
            .iter()
            .partition(|v| if v[0].abs() < 1e-4 { v[1] * left[1] > 0.0 } else { v[0] < 0.0 });
        let apart = |a: &[f64; 3]| {
            let distance = |b: &[f64; 3]| (0..3).map(|i| (a[i] - b[i]).powi(2)).sum::<f64>().sqrt();
            far.iter().map(distance).fold(f64::INFINITY, f64::min)
        };
        let least = near.iter().map(apart).fold(f64::INFINITY, f64::min);
        assert!((0.0019..0.0023).contains(&least), "{least}");
    }
    close(made(&piece_of(&touching, 0)).measures.volume, 2.0 * 3200.0, 1e-6);
}

/// The faces of a plate that comes as fans of slivers are triangulated afresh: between the same sides, so
/// that the solid is the same, and so that a place is within the reach of few of them. Of the slivers of a
/// fan a quarter reach over any place near its middle.
#[test]
fn fans_of_slivers_are_evened_out() {
    let disc = fanned_disc(30.0, 1.3, 1225);
    let stock = stock_of(&disc).unwrap();
    assert!(!stock.was_mended && stock.mesh.faults().is_sound());
    let (found, given) = (stock.mesh.measures(), disc.measures());
    close(found.volume, given.volume, 1e-6);
    close(found.area, given.area, 1e-6);
    assert_eq!((stock.mesh.vertices.len(), stock.faces.len()), (2 * 1225, 2));
    let reach = |mesh: &Mesh, (x, y): (f64, f64)| {
        let over = |triangle: &&[u32; 3]| {
            let corners = mesh.corners(**triangle);
            let spans = |axis: usize, at: f64| {
                corners.iter().any(|c| c[axis] <= at) && corners.iter().any(|c| c[axis] >= at)
            };
            spans(0, x) && spans(1, y)
        };
        mesh.triangles.iter().filter(over).count()
    };
    for place in [(1.0, 1.1), (-7.0, 3.0), (11.0, -14.0)] {
        let (before, after) = (reach(&disc, place), reach(&stock.mesh, place));
        assert!(before > 250 && after < 120, "{place:?}: {before}, {after}");
    }
    // And what is cut out of it has the volume of a prism (Cavalieri).
    let pierced = made(&piece_of(&disc, 0).edited(&[add(ElementKind::Hole)]));
    let area = area_of(&pierced, "hole-1");
    let whole = made(&piece_of(&disc, 0)).measures.volume;
    close(whole - pierced.measures.volume, pierced.measures.high[2] * area, 1e-6);
}

/// What reaches beyond 256 mm is rounded so that every coordinate is one that files can hold: the file
/// holds the very mesh.
#[test]
fn half_a_metre_comes_through_a_file_exactly() {
    for face in 0..3 {
        let piece = piece_of(&capped_ball(250.0, 200.0, 40), 0);
        let words = [
            add(ElementKind::Lettering),
            set(
                "lettering-1",
                "relief",
                json!({ "raised": { "by": 1.0 + 0.1 * f64::from(face) } }),
            ),
            set("lettering-1", "place.across", json!({ "from": "centre", "distance": 0.01 })),
        ];
        let found = made(&piece.edited(&words));
        assert!(found.measures.high[2] > 450.0);
        let exact = |mm: &f64| f64::from(*mm as f32) == *mm;
        assert!(found.mesh.vertices.iter().flatten().all(exact));
        let file = read_mesh(&stl::write_binary(&found.mesh, "large")).unwrap();
        assert!(file.faults().is_sound(), "{:?}", file.faults());
        close(file.bodies[0].mesh.measures().volume, found.measures.volume, 1e-12);
    }
}

/// Damage anywhere is refused, or comes out as one sound solid; nothing panics.
#[test]
fn damaged_meshes_are_refused_or_come_out_sound() {
    let mut seed = 20_261_125_u32;
    let mut random = |below: usize| {
        seed = seed.wrapping_mul(1_664_525).wrapping_add(1_013_904_223);
        (seed >> 8) as usize % below
    };
    let mut taken = 0;
    for case in 0..250 {
        let mut mesh = match case % 3 {
            0 => block(40.0, 24.0, 16.0),
            1 => capped_ball(20.0, 12.0, 6),
            _ => both(block(9.0, 9.0, 9.0), &moved(block(9.0, 9.0, 9.0), [4.0, 3.0, 9.0])),
        };
        for _ in 0..1 + random(4) {
            let (i, j) = (random(mesh.triangles.len()), random(mesh.vertices.len()));
            match random(7) {
                0 => mesh.triangles[i].swap(0, 1),
                1 => {
                    mesh.triangles.swap_remove(i);
                }
                2 => mesh.triangles.push(mesh.triangles[i]),
                3 => mesh.vertices[j][random(3)] += random(1000) as f64 / 50.0 - 10.0,
                4 => mesh.vertices[j] = mesh.vertices[random(mesh.vertices.len())],
                5 => mesh.vertices[j] = [1e30, -1e30, 0.0],
                _ => mesh.triangles[i][random(3)] = j as u32,
            }
        }
        if let Ok(stock) = stock_of(&mesh) {
            taken += 1;
            assert!(stock.mesh.faults().is_sound(), "{case}: {:?}", stock.mesh.faults());
        }
    }
    assert!(taken > 15, "{taken}");
}

/// A lid 2 mm thick over a hollow: its face is 30 mm above the bed, but only 2 mm can be sunk into.
#[test]
fn what_breaks_into_a_hollow_is_found() {
    let hollow =
        both(block(40.0, 40.0, 30.0), &turned(moved(block(36.0, 36.0, 26.0), [2.0, 2.0, 2.0])));
    let lid = |deep: f64| {
        let top = stock_of(&hollow).unwrap().faces.iter().position(|f| f.facing() == "top");
        let relief = json!({ "recessed": { "by": deep } });
        let edits = [add(ElementKind::Lettering), set("lettering-1", "relief", relief)];
        let found = made(&piece_of(&hollow, top.unwrap()).edited(&edits));
        found.findings.into_iter().map(|one| (one.code, one.message)).collect::<Vec<_>>()
    };
    assert_eq!(lid(1.0), []);
    let thin = lid(1.8);
    assert!(thin[0].0 == "thin-floor" && thin[0].1.contains("0.2 mm"), "{thin:?}");
    let through = lid(2.5);
    assert!(through[0].0 == "too-deep" && through[0].1.contains("2 mm"), "{through:?}");
}

#[test]
fn a_piece_says_when_its_mesh_is_missing_too_large_or_has_no_back() {
    let mesh = block(40.0, 24.0, 16.0);
    let piece = piece_of(&mesh, 0);
    assert_eq!(read(write(&piece.piece).as_bytes()), Ok(piece.piece.clone()));
    let lost = piece.edited(&[set("blank", "mesh", json!("mesh-0123"))]);
    let found = lost.worked(Tolerance::Draft);
    assert_eq!((found.findings[0].code, found.findings[0].weight), ("mesh-missing", Weight::Stop));
    assert!(found.findings[0].message.contains("blank.stl"), "{}", found.findings[0].message);
    let huge = piece.edited(&[set("blank", "scale", json!(25.4))]);
    let found = huge.worked(Tolerance::Draft);
    assert!(found.findings[0].message.contains("500 mm"), "{}", found.findings[0].message);
    let loops = piece.try_edits(&[add(ElementKind::Loop)]).unwrap_err();
    assert!(loops.to_string().contains("drill a hole"), "{loops}");

    let back = on(FaceName::Back, ElementKind::Emblem);
    let found = made(&piece_of(&capped_ball(20.0, 12.0, 24), 0).edited(&[back]));
    assert!(found.findings.iter().any(|one| one.code == "no-back"), "{:?}", found.findings);
}

/// A file without a unit whose figures are small was drawn in inches.
#[test]
fn a_mesh_in_inches_is_as_large_as_it_was_meant() {
    let inches = block(2.0, 1.0, 0.5);
    assert_eq!(stock_of(&inches).unwrap().scale, 25.4);
    let found = made(&piece_of(&inches, 0));
    close(found.measures.volume, 25.4 * 25.4 * 25.4, 1e-5);
}

/// A hole and a star cut through a block take what stands on either face too, however high (Cavalieri).
#[test]
fn through_goes_through_what_is_raised_on_either_face_of_a_mesh() {
    let pad = |id: &str, height: f64| {
        vec![
            set(id, "shape", json!("square")),
            set(id, "width", json!(14.0)),
            set(id, "relief", json!({ "raised": { "by": height } })),
            set(id, "place.across", json!({ "from": "centre", "distance": 0.0 })),
            set(id, "place.up", json!({ "from": "centre", "distance": 0.0 })),
        ]
    };
    let hole = vec![
        add(ElementKind::Hole),
        set("hole-1", "diameter", json!(6.0)),
        set("hole-1", "place.across", json!({ "from": "centre", "distance": 0.0 })),
    ];
    let star = vec![
        add(ElementKind::Emblem),
        set("emblem-1", "width", json!(8.0)),
        set("emblem-1", "relief", json!("through")),
        set("emblem-1", "place.across", json!({ "from": "centre", "distance": 0.0 })),
        set("emblem-1", "place.up", json!({ "from": "centre", "distance": 0.0 })),
    ];
    let plain = piece_of(&block(40.0, 24.0, 16.0), 0);
    for (id, cut, first) in [("hole-1", hole, "emblem-1"), ("emblem-1", star, "emblem-2")] {
        let second = if first == "emblem-1" { "emblem-2" } else { "emblem-3" };
        let edits = [
            cut,
            vec![add(ElementKind::Emblem)],
            pad(first, 3.0),
            vec![on(FaceName::Back, ElementKind::Emblem)],
            pad(second, 5.0),
        ];
        let found = made(&plain.edited(&edits.concat()));
        let area = area_of(&found, id);
        let exact = 40.0 * 24.0 * 16.0 + 14.0 * 14.0 * 8.0 - 24.0 * area;
        close(found.measures.volume, exact, 1e-6);
    }
}

/// The edit that adds an element to a face.
fn on(face: FaceName, kind: ElementKind) -> Edit {
    Edit::Add { component: Component::FIRST.into(), kind, face }
}

fn any_work() -> impl Strategy<Value = Vec<Edit>> {
    let relief = prop_oneof![
        (2..40u32).prop_map(|h| json!({ "raised": { "by": f64::from(h) / 10.0 } })),
        (2..60u32).prop_map(|h| json!({ "recessed": { "by": f64::from(h) / 10.0 } })),
        (2..30u32).prop_map(|h| json!({ "flush": f64::from(h) / 10.0 })),
        Just(json!("through")),
    ];
    let edge = prop_oneof![
        3 => Just(json!("square")),
        1 => Just(json!({ "chamfer": 0.3 })),
        1 => Just(json!({ "round": 0.4 })),
    ];
    let kind = prop_oneof![
        2 => Just(ElementKind::Lettering),
        2 => Just(ElementKind::Emblem),
        1 => Just(ElementKind::Hole),
        1 => Just(ElementKind::Recess),
        1 => Just(ElementKind::Rim),
    ];
    let one = (kind, relief, edge, any::<bool>(), 0..4usize, -12..12i32, -8..8i32);
    prop::collection::vec(one, 1..5).prop_map(|all| {
        let mut edits = Vec::new();
        let spool = kalotype_core::filament::shipped_palette();
        for (i, (kind, relief, edge, is_front, colour, across, up)) in all.into_iter().enumerate() {
            let word = kind.word();
            let nth = 1 + edits
                .iter()
                .filter(|edit| matches!(edit, Edit::Add { kind: other, .. } if *other == kind))
                .count();
            let id = format!("{word}-{nth}");
            let face = if is_front || i == 0 { FaceName::Front } else { FaceName::Back };
            edits.push(on(face, kind));
            if kind == ElementKind::Hole {
                edits.push(set(&id, "edges.top", edge));
            } else {
                edits.push(set(&id, "edge", edge));
            }
            if matches!(kind, ElementKind::Lettering | ElementKind::Emblem) {
                edits.push(set(&id, "relief", relief));
                edits.push(Edit::Colour {
                    target: address(&id),
                    field: "colour".into(),
                    filament: spool.get(colour).cloned(),
                });
            }
            if matches!(kind, ElementKind::Lettering | ElementKind::Emblem | ElementKind::Hole) {
                for (axis, distance) in [("across", across), ("up", up)] {
                    let place = json!({ "from": "centre", "distance": f64::from(distance) * 0.7 });
                    edits.push(set(&id, &format!("place.{axis}"), place));
                }
            }
        }
        edits
    })
}

proptest! {
    #![proptest_config(common::cases(48))]

    /// Whatever is put on whichever face, also over its edge: every body is closed and turned outwards,
    /// and together they are the whole.
    #[test]
    fn random_work_on_meshes_is_sound(work in any_work(), shape in 0..4usize, face in 0..3usize, turn in -180..180i32) {
        let mesh = match shape {
            0 => block(40.0, 24.0, 16.0),
            1 => capped_ball(20.0, 12.0, 18),
            2 => ramp(40.0, 24.0, 9.0, 20.0),
            _ => both(block(40.0, 40.0, 30.0), &turned(moved(block(36.0, 36.0, 26.0), [2.0, 2.0, 2.0]))),
        };
        let face = face.min(stock_of(&mesh).unwrap().faces.len() - 1);
        let plain = piece_of(&mesh, face).edited(&[set("blank", "turn", json!(turn))]);
        let found = plain.edited(&work).worked(Tolerance::Draft);
        let stop = found.findings.iter().find(|finding| finding.weight == Weight::Stop);
        if let Some(stop) = stop {
            prop_assert_eq!(stop.code, "nothing-left", "{}", stop.message);
            return Ok(());
        }
        prop_assert!(found.mesh.faults().is_sound(), "{:?}", found.mesh.faults());
        for body in &found.bodies {
            prop_assert!(body.mesh.faults().is_sound() && body.volume > 0.0, "{:?}", body.mesh.faults());
        }
        let sum: f64 = found.bodies.iter().map(|body| body.volume).sum();
        let whole = found.measures.volume;
        prop_assert!((sum - whole).abs() <= 1e-6 * whole, "{sum} of {whole}");
    }
}
