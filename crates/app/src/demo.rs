//! The demo's pieces: Skerry Point, an invented island ferry cooperative and its maritime school.

use crate::service::{Service, Viewer};
use anyhow::Context;
use kalotype_core::halt::Halt;
use kalotype_core::piece;

/// The meshes they are made of, with the names of their files.
const MESHES: [(&str, &[u8]); 1] =
    [("ferry-hull.stl", include_bytes!("../../../demo/ferry-hull.stl"))];

/// The shapes in them, with their names: traced from `demo/skerry-light.png`, and drawn.
const SHAPES: [(&str, &[u8]); 5] = [
    ("Skerry Light, blue", include_bytes!("../../../demo/skerry-light-blue.shape.json")),
    ("Skerry Light, red", include_bytes!("../../../demo/skerry-light-red.shape.json")),
    ("Ornament, scrolls", include_bytes!("../../../demo/ornament-scrolls.shape.json")),
    ("Ornament, middle", include_bytes!("../../../demo/ornament-inner.shape.json")),
    ("Heart", include_bytes!("../../../demo/heart.shape.json")),
];

/// The piece files, the one made first coming first.
const PIECES: [(&str, &str); 24] = [
    ("cookie-stamp", include_str!("../../../demo/cookie-stamp.kalotype.json")),
    ("token", include_str!("../../../demo/cloakroom-token.kalotype.json")),
    ("coaster", include_str!("../../../demo/coaster-honeycomb.kalotype.json")),
    ("key-ring", include_str!("../../../demo/key-ring-lucja.kalotype.json")),
    ("boat-tag", include_str!("../../../demo/boat-tag-terna.kalotype.json")),
    ("berth-growing", include_str!("../../../demo/berth-growing.kalotype.json")),
    ("wall-tile", include_str!("../../../demo/wall-tile-light.kalotype.json")),
    ("ornament", include_str!("../../../demo/ornament.kalotype.json")),
    ("pendant", include_str!("../../../demo/heart-pendant-zoe.kalotype.json")),
    ("pipe-cap", include_str!("../../../demo/pipe-cap.kalotype.json")),
    ("sounding-cap", include_str!("../../../demo/sounding-cap-7.kalotype.json")),
    ("quay-tag", include_str!("../../../demo/quay-tag.kalotype.json")),
    ("tide-medal", include_str!("../../../demo/tide-medal.kalotype.json")),
    ("sounding-pipe", include_str!("../../../demo/sounding-pipe-tag.kalotype.json")),
    ("berth", include_str!("../../../demo/berth-7.kalotype.json")),
    ("desk-plate", include_str!("../../../demo/desk-tide-watch.kalotype.json")),
    ("desk-sign", include_str!("../../../demo/desk-harbour-office.kalotype.json")),
    ("stencil", include_str!("../../../demo/crate-stencil.kalotype.json")),
    ("tide-watch", include_str!("../../../demo/tide-watch-omega.kalotype.json")),
    ("ferry", include_str!("../../../demo/ferry-aegir.kalotype.json")),
    ("shop-class", include_str!("../../../demo/shop-class-gul.kalotype.json")),
    ("watch-medal", include_str!("../../../demo/watch-medal.kalotype.json")),
    ("name-lucja", include_str!("../../../demo/name-lucja.kalotype.json")),
    ("cabin-key", include_str!("../../../demo/cabin-key-solveig.kalotype.json")),
];

/// Puts the demo's pieces into a fresh store, with their pictures and sizes.
pub fn fill(service: &Service) -> anyhow::Result<()> {
    for (name, file) in MESHES {
        service
            .keep_mesh(name, file, &Halt::default())
            .with_context(|| format!("demo mesh {name}"))?;
    }
    for (name, document) in SHAPES {
        let kept = service.keep_shape_document(name, document);
        kept.with_context(|| format!("demo shape {name}"))?;
    }
    for (name, json) in PIECES {
        let piece = piece::read(json.as_bytes()).with_context(|| format!("demo piece {name}"))?;
        let id = service.create(&piece, &Viewer::default());
        let id = id.with_context(|| format!("demo piece {name}"))?;
        service.picture(&id, Halt::default())?;
    }
    Ok(())
}
