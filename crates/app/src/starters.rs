//! The starters that ship with Kalotype: ready pieces with a few inputs up front.

use kalotype_core::piece::{self, Piece};
use std::sync::LazyLock;

/// A shipped starter.
pub struct Starter {
    /// Its id, as in addresses.
    pub id: &'static str,
    /// The piece it makes.
    pub piece: Piece,
}

macro_rules! starters {
    ($($id:literal),* $(,)?) => {
        [$(($id, include_str!(concat!("../../../starters/", $id, ".kalotype.json")))),*]
    };
}

/// All of them, in the order they are offered.
///
/// # Panics
/// Never: a test reads every file.
pub static STARTERS: LazyLock<Vec<Starter>> = LazyLock::new(|| {
    let files = starters![
        "key-fob",
        "name-contour",
        "cabin-key",
        "bag-tag",
        "berth-plate",
        "medallion",
        "coaster",
        "hexagon-tile",
        "crate-stencil",
        "ring-of-words",
        "heart-pendant",
        "desk-strip",
        "two-sided-tag",
        "ornament",
        "two-part-nameplate",
        "bent-plate",
        "name-tent",
        "sounding-pipe-cap",
        "bung-plug",
        "crate-plug",
        "finger-ring",
        "key-box",
        "growing-plate",
        "halo-key-ring",
        "honeycomb-coaster",
        "code-tag",
        "numbered-token",
        "cookie-stamp",
    ];
    let read = |(id, json): (&'static str, &str)| Starter {
        id,
        piece: piece::read(json.as_bytes()).expect("a shipped starter reads"),
    };
    files.into_iter().map(read).collect()
});

/// The shipped starter of this id.
pub fn starter(id: &str) -> Option<&'static Starter> {
    STARTERS.iter().find(|starter| starter.id == id)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::service::Bench;
    use kalotype_core::evaluate::evaluate;
    use kalotype_core::plane::Tolerance;
    use kalotype_core::preflight::{self, Weight};

    #[test]
    fn every_starter_prints_as_it_is_and_asks_for_something() {
        assert!(STARTERS.len() >= 12);
        for Starter { id, piece } in STARTERS.iter() {
            let bench = Bench::new();
            let workshop = bench.workshop(Tolerance::Normal);
            let evaluation = evaluate(piece, &workshop).unwrap();
            let findings = preflight::run(piece, &evaluation, &workshop).unwrap();
            let found = &evaluation.components[0];
            let said: Vec<_> = findings
                .iter()
                .filter(|finding| finding.weight < Weight::Should)
                .map(|finding| &finding.message)
                .collect();
            assert!(said.is_empty(), "{id}: {said:?}");
            assert!(found.mesh.faults().is_sound() && found.parts == 1, "{id}");
            assert_eq!(piece.form().len(), piece.fronted.len(), "{id}");
            assert!(!piece.fronted.is_empty() && piece.fronted.len() <= 6, "{id}");
        }
    }
}
