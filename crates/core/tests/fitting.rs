//! Words that fit their clear area, and new things that land where there is room.

mod common;

use common::{add, edited, fresh, set, worked};
use kalotype_core::piece::{Edit, ElementKind, Kind, LetterSize, Piece};
use kalotype_core::plane::Tolerance;
use kalotype_core::preflight::Weight;
use kalotype_core::units::Unit;
use proptest::prelude::*;
use serde_json::{Value, json};

const WORDS: &str = "lettering-1";

/// A plate with words on it.
fn plate(words: &str, height: f64, gives: Value, more: &[Edit]) -> Piece {
    let mut edits = vec![
        add(ElementKind::Lettering),
        set(WORDS, "lines.0.words", words),
        set(WORDS, "size", json!({ "height": height })),
        set(WORDS, "gives", gives),
    ];
    edits.extend_from_slice(more);
    edited(&Piece::new("Berth 7", Unit::Millimetre), &edits)
}

/// How tall letters come out, how far their ink reaches out of the clear area, and how wide they are.
fn fit(piece: &Piece) -> (f64, f64, f64) {
    let made = worked(piece, Tolerance::Normal);
    let placed = made.layout.element(WORDS).unwrap();
    let clear = made.layout.clear_of(placed.face).unwrap();
    let ink = placed.region.bounds().unwrap();
    let out = [clear.x0 - ink.x0, ink.x1 - clear.x1, clear.y0 - ink.y0, ink.y1 - clear.y1];
    (placed.drawn.letter_height, out.into_iter().fold(f64::MIN, f64::max), ink.width())
}

/// What has room keeps its height; what has not fills the
/// width exactly; narrower letters keep their height as long as that is enough.
#[test]
fn words_give_way_as_they_were_told_and_no_further() {
    let short = plate("ÅSE", 8.0, json!("size"), &[]);
    let layout = worked(&short, Tolerance::Normal);
    let room = layout.layout.clear_of(kalotype_core::piece::FaceName::Front).unwrap().width();
    assert_eq!(fit(&short).0, 8.0);
    let long = "FRIÐRIKA ÞORSTEINSDÓTTIR";
    let (tall, out, asked) = fit(&plate(long, 8.0, json!("nothing"), &[]));
    assert!(tall == 8.0 && out > 1.0 && asked > 70.0);
    let (tall, out, width) = fit(&plate(long, 8.0, json!("size"), &[]));
    // In proportion, but for nothing.
    assert!((tall / 8.0 - room / asked).abs() < 1e-3, "{tall} {asked}");
    assert!(out.abs() < 0.01 && (width - room).abs() < 0.02, "{out} {width}");
    // Narrower by no more than is needed: the height stays.
    let name = "SOLVEIG BERG";
    let (_, _, asked) = fit(&plate(name, 8.0, json!("nothing"), &[]));
    assert!((67.0..90.0).contains(&asked), "{asked}");
    let (tall, out, width) = fit(&plate(name, 8.0, json!({ "width": 0.5 }), &[]));
    assert!(tall == 8.0 && out.abs() < 0.01 && (width - room).abs() < 0.02, "{tall} {width}");
    // Not enough: as narrow as may be, and smaller as well.
    let (tall, out, _) = fit(&plate(long, 8.0, json!({ "width": 0.8 }), &[]));
    let (alone, ..) = fit(&plate(long, 8.0, json!("size"), &[]));
    assert!(
        tall < 8.0 && (tall / alone - 1.0 / 0.8).abs() < 1e-3 && out.abs() < 0.01,
        "{tall} {alone}"
    );
    // Two lines, where that is larger: broken at the space.
    let two = plate(long, 8.0, json!("line"), &[]);
    let (tall, out, _) = fit(&two);
    assert!(tall > alone * 1.2 && out < 0.01, "{tall} {alone}");
    // One word has no space to break at.
    let (tall, out, _) = fit(&plate("FRIÐRIKAÞORSTEINSDÓTTIR", 8.0, json!("line"), &[]));
    assert!(tall < 8.0 && out < 0.01);
    // 300 letters, and one.
    let (tall, out, _) = fit(&plate(&"Łß".repeat(150), 8.0, json!("line"), &[]));
    assert!(tall >= 0.5 && (out < 0.01 || tall == 0.5), "{tall} {out}");
}

/// Whatever stands in braces, what is filled in is what has to fit.
#[test]
fn every_name_of_a_roster_fits() {
    let piece = plate("{name}", 9.0, json!("size"), &[]);
    let named = edited(
        &piece,
        &[set("piece", "inputs", json!([{ "name": "name", "value": "Þórunn Ğülşah Łucja Ægir" }]))],
    );
    let (tall, out, _) = fit(&named);
    assert!(tall < 9.0 && out < 0.01, "{tall} {out}");
}

proptest! {
    #![proptest_config(common::cases(400))]

    /// No word leaves its clear area, wherever it is placed there and whatever gives; and letters are never
    /// larger than was asked for.
    #[test]
    fn no_word_leaves_its_clear_area(
        words in "[A-Za-zÅßğéΩŁÞ ]{1,60}",
        height in 2.0..30.0f64,
        (width, tall) in (30.0..160.0f64, 14.0..60.0f64),
        gives in prop_oneof![Just(json!("size")), Just(json!({ "width": 0.6 })), Just(json!("line"))],
        (from, up) in (0..4usize, 0..4usize),
        (across, along) in (-4.0..4.0f64, -2.0..2.0f64),
        heavier in -0.2..0.6f64,
        (has_hole, ink) in (any::<bool>(), any::<bool>()),
    ) {
        prop_assume!(!words.trim().is_empty());
        // Measured from an edge inwards, beyond the margin; from a middle either way.
        let distance = |from: usize, aside: f64| if from < 2 { 2.5 + aside.abs() } else { aside };
        let place = json!({
            "across": { "from": (["left", "right", "centre", "clear"][from]), "distance": distance(from, across) },
            "up": { "from": (["bottom", "top", "centre", "clear"][up]), "distance": distance(up, along) },
        });
        let mut more = vec![
            set("blank", "width", width), set("blank", "height", tall),
            set(WORDS, "place", place), set(WORDS, "style.heavier", heavier),
            set(WORDS, "sits_by", if ink { "ink" } else { "capitals" }),
        ];
        if has_hole {
            more.push(add(ElementKind::Hole));
        }
        let piece = plate(&words, height, gives, &more);
        let made = worked(&piece, Tolerance::Draft);
        let placed = made.layout.element(WORDS).unwrap();
        let Some(ink) = placed.region.bounds() else { return Ok(()) };
        let clear = made.layout.clear_of(placed.face).unwrap();
        let is_least = placed.drawn.letter_height < 0.51;
        // What is measured from an edge beyond the clear area stays there, and is said.
        let (frame, weight) = (placed.frame, f64::max(heavier, 0.0));
        let sides = [
            (clear.x0 - ink.x0, from == 0 && frame.x0 - weight < clear.x0),
            (ink.x1 - clear.x1, from == 1 && frame.x1 + weight > clear.x1),
            (clear.y0 - ink.y0, up == 0 && frame.y0 - weight < clear.y0),
            (ink.y1 - clear.y1, up == 1 && frame.y1 + weight > clear.y1),
        ];
        prop_assert!(placed.drawn.letter_height <= height + 1e-9);
        for (out, is_beyond) in sides {
            prop_assert!(is_beyond || is_least || out < 2e-3, "{ink:?} in {clear:?}, {frame:?}");
        }
    }
}

/// Words, words, an emblem, words: nothing lies on anything, as long as there is room.
#[test]
fn new_things_land_where_there_is_room() {
    let kinds = [
        ElementKind::Lettering,
        ElementKind::Lettering,
        ElementKind::Emblem,
        ElementKind::Hole,
        ElementKind::Lettering,
    ];
    let base = edited(
        &Piece::new("Tile", Unit::Millimetre),
        &[set("blank", "width", 90.0), set("blank", "height", 70.0)],
    );
    let mut piece = base;
    // What is there leaves room beside it.
    piece = edited(&piece, &[add(kinds[0]), set(WORDS, "size", json!({ "height": 8.0 }))]);
    for kind in &kinds[1..] {
        piece = edited(&piece, &[add(*kind)]);
    }
    let made = worked(&piece, Tolerance::Normal);
    let all = &made.layout.elements;
    for (i, one) in all.iter().enumerate() {
        for other in &all[..i] {
            let shared = one.region.intersection(&other.region).area();
            assert!(shared < 1e-6, "{} lies on {}", one.id, other.id);
        }
    }
    assert!(
        made.findings.iter().all(|finding| finding.weight != Weight::Must),
        "{:?}",
        made.findings
    );
    // On a full plate the next one lands in the clear area as the first does, and it is not lost.
    let full = edited(&fresh(&[ElementKind::Lettering]), &[add(ElementKind::Lettering)]);
    assert_eq!(full.first().elements.len(), 2);
    let Kind::Lettering(second) = &full.first().elements[1].kind else { panic!() };
    assert!(matches!(second.size, LetterSize::Height(_)));
}

/// Turned by a quarter, the box is as high as it was wide; mirrored, the outline is its own mirror image; and
/// letters below each other stand a pitch apart.
#[test]
fn words_are_turned_mirrored_and_set_downwards() {
    let region = |more: &[Edit]| {
        let piece = plate("GÜL Ł", 6.0, json!("nothing"), more);
        let made = worked(&piece, Tolerance::Fine);
        let placed = made.layout.element(WORDS).unwrap();
        assert!(made.mesh.faults().is_sound());
        (placed.region.clone(), placed.frame, made.measures.volume)
    };
    let (plain, frame, volume) = region(&[]);
    for turn in [90.0, 180.0, -90.0, 33.0] {
        let (turned, box_, other) = region(&[set(WORDS, "turn", turn)]);
        assert!((turned.area() - plain.area()).abs() < 1e-2, "{turn}");
        assert!((other - volume).abs() < 2e-2, "{turn}");
        let (sine, cosine) = f64::to_radians(turn).sin_cos();
        let wide = frame.width() * cosine.abs() + frame.height() * sine.abs();
        assert!((box_.width() - wide).abs() < 1e-6, "{turn}");
        let (middle, same) = (frame.centre(), box_.centre());
        assert!((middle.0 - same.0).abs() < 1e-6 && (middle.1 - same.1).abs() < 1e-6);
        // Turned back about the middle it is what it was.
        let back = turned.moved(-middle.0, -middle.1).turned(-turn).moved(middle.0, middle.1);
        assert!(back.difference(&plain).area() < 0.01, "{turn}");
    }
    let (mirrored, _, _) = region(&[set(WORDS, "mirrored", true)]);
    let middle = frame.centre().0;
    let back = mirrored.moved(-middle, 0.0).mirrored(true).moved(middle, 0.0);
    assert!(back.difference(&plain).area() < 1e-3 && plain.difference(&back).area() < 1e-3);
    // Three letters and a mark that belongs to one of them: three lines, 6 mm high and 1.6 times that apart.
    let tall = [
        set("blank", "height", 60.0),
        set(WORDS, "course", "below"),
        set(WORDS, "lines.0.words", "AU\u{308}B"),
    ];
    let (_, frame, _) = region(&tall);
    assert!((frame.height() - 6.0 * (1.0 + 2.0 * 1.6)).abs() < 1e-6, "{frame:?}");
}
