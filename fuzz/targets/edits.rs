//! Whatever edits are made, one after the other and several at once, with figures nobody would type: each
//! is made or refused, what is refused leaves the piece as it was, and what comes of it is built sound or
//! not at all.
#![no_main]

mod quiet;

use kalotype_core::cache::Cache;
use kalotype_core::edit::apply;
use kalotype_core::evaluate::evaluate;
use kalotype_core::library::Shipped;
use kalotype_core::piece::{Address, Component, Edit, ElementKind, FaceName, Piece};
use kalotype_core::plane::Tolerance;
use kalotype_core::preflight;
use kalotype_core::units::Unit;
use kalotype_core::workshop::Workshop;
use libfuzzer_sys::fuzz_target;
use serde_json::{Value, json};

const KINDS: [ElementKind; 6] = [
    ElementKind::Lettering,
    ElementKind::Emblem,
    ElementKind::Hole,
    ElementKind::Recess,
    ElementKind::Rim,
    ElementKind::Loop,
];

const FIELDS: [&str; 32] = [
    "width", "height", "thickness", "outline", "edges.top", "edges.bottom", "margin", "relief", "edge",
    "size", "diameter", "depth", "turn", "shape", "place.across", "place.up", "repeat", "lines.0.words",
    "lines.0.typeface", "path", "spacing", "inset", "root", "inside", "wall", "blend", "at", "stretch",
    "mirrored", "locked", "components", "inputs",
];

fn value(pick: u8, figure: u8) -> Value {
    let mm = f64::from(figure) / 10.0;
    let by = json!({ "by": mm });
    match pick % 24 {
        0 => json!(mm),
        1 => json!(-mm),
        2 => json!(1e308),
        3 => json!(u32::MAX),
        4 => json!("square"),
        5 => json!({ "chamfer": mm }),
        6 => json!({ "round": mm }),
        7 => json!({ "raised": by }),
        8 => json!({ "recessed": by }),
        9 => json!({ "flush": mm }),
        10 => json!("through"),
        11 => json!({ "height": mm }),
        12 => json!({ "from": "centre", "distance": mm }),
        13 => json!({ "from": "left", "distance": -mm }),
        14 => json!({ "row": { "count": figure, "across": mm, "up": 1.0 } }),
        15 => json!({ "around": figure }),
        16 => json!({ "polygon": { "sides": figure, "turn": mm } }),
        17 => json!("ellipse"),
        18 => json!({ "contour": { "distance": mm } }),
        19 => json!({ "slot": mm }),
        20 => json!("{name} Ω\n{number}"),
        21 => json!([]),
        22 => json!(null),
        _ => json!(figure % 2 == 0),
    }
}

/// The edit that four bytes stand for.
fn edit(piece: &Piece, bytes: &[u8]) -> Edit {
    let [act, field, pick, figure] = [0, 1, 2, 3].map(|i| bytes.get(i).copied().unwrap_or(0));
    let component = Component::FIRST.to_owned();
    let elements = &piece.first().elements;
    let target = match usize::from(act >> 4) {
        0 => Address::Piece,
        1 | 2 => Address::Blank(component.clone()),
        nth => match elements.get(nth % elements.len().max(1)) {
            Some(element) => Address::Element(component.clone(), element.id.clone()),
            None => Address::Component(component.clone()),
        },
    };
    let field = FIELDS[usize::from(field) % FIELDS.len()].to_owned();
    match act % 16 {
        0..=2 => {
            let kind = KINDS[usize::from(pick) % KINDS.len()];
            let face = if figure.is_multiple_of(3) { FaceName::Back } else { FaceName::Front };
            Edit::Add { component, kind, face }
        }
        3 => Edit::Duplicate { target },
        4 => Edit::Remove { target },
        5 => Edit::Move { target, by: i32::from(pick) - 128 },
        6 => Edit::Shift { target, across: f64::from(pick) - 128.0, up: f64::from(figure) - 128.0 },
        7 => {
            let into = ["raised", "recessed", "flush", "through", "row", "circle", "contour", "x"];
            Edit::Turn { target, field, into: into[usize::from(pick) % into.len()].to_owned() }
        }
        8 => {
            let texts = ["3/8 in", "25.4/2", "1/0", "99999999999999999999999", "6 mm + 1", "Ω"];
            Edit::Type { target, field, text: texts[usize::from(pick) % texts.len()].to_owned() }
        }
        _ => Edit::Set { target, field, value: value(pick, figure) },
    }
}

fuzz_target!(init: quiet::libraries(), |bytes: &[u8]| {
    let cache = Cache::new(4 << 20);
    let workshop = Workshop::new(&Shipped, &cache, Tolerance::Draft);
    let mut piece = Piece::new("Fob", Unit::Millimetre);
    for several in bytes.chunks(12).take(10) {
        let edits: Vec<Edit> = several.chunks(4).map(|one| edit(&piece, one)).collect();
        let Ok(applied) = apply(&piece, &edits, &workshop) else { continue };
        assert_eq!(applied.piece.problems(), vec![], "{edits:?}");
        piece = applied.piece;
    }
    let evaluation = evaluate(&piece, &workshop).expect("nobody stops it");
    for made in &evaluation.components {
        assert!(made.stop.is_some() || made.mesh.faults().is_sound(), "{:?}", made.mesh.faults());
    }
    let findings = preflight::run(&piece, &evaluation, &workshop).expect("nobody stops it");
    assert!(evaluation.is_built() || !findings.is_empty());
});
