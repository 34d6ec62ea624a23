//! Lettering as people rely on it: names that never leave their box, and pieces of the trade. Their
//! sizes are common practice, no source.

mod common;

use common::{Worked, add, edited, element, placed, set, try_edits, worked, worked_with};
use kalotype_core::lettering::TYPEFACES;
use kalotype_core::library::Shelf;
use kalotype_core::piece::{
    CircleCourse, Course, Edit, ElementKind, FaceName, LetterBox, LetterSize, Lettering, Piece,
};
use kalotype_core::plane::Tolerance;
use kalotype_core::preflight::{Finding, Weight};
use kalotype_core::units::{Length, Unit};
use proptest::prelude::*;
use serde_json::json;

fn made(edits: &[Edit]) -> Worked {
    let piece = edited(&Piece::new("Test", Unit::Millimetre), edits);
    let found = worked(&piece, Tolerance::Normal);
    assert!(found.mesh.faults().is_sound(), "{:?}", found.mesh.faults());
    let wrong = found.findings.iter().find(|finding| finding.weight < Weight::Should);
    assert!(wrong.is_none() && found.parts == 1, "{wrong:?}");
    found
}

fn plate(width: f64, height: f64, thickness: f64) -> Vec<Edit> {
    let sizes = [("width", width), ("height", height), ("thickness", thickness)];
    sizes.map(|(field, mm)| set("blank", field, json!(mm))).to_vec()
}

fn name() -> impl Strategy<Value = String> {
    let letters: Vec<char> =
        "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyzÅŁŞĞÉÑØÇŽåłşğéñøçžß -'.0189"
            .chars()
            .collect();
    prop::collection::vec(prop::sample::select(letters), 1..41)
        .prop_map(|letters| letters.into_iter().collect())
}

proptest! {
    #![proptest_config(common::cases(60))]

    /// Every name of 1 to 40 letters, accents and all, in every shipped face.
    #[test]
    fn fitted_names_never_leave_their_box(
        words in prop::collection::vec(name(), 1..4),
        width in 5.0..200.0f64,
        height in 3.0..60.0f64,
        heavier in prop::sample::select(vec![0.0, 0.0, 0.3, -0.1]),
        slant in prop::sample::select(vec![0.0, 0.0, 12.0]),
    ) {
        for face in TYPEFACES.iter() {
            let mut lettering = Lettering::one_line(&words[0], &face.id, Length::mm(5.0));
            lettering.lines = words.iter().map(|w| kalotype_core::piece::TextLine::new(w)).collect();
            let (width, height) = (Length::mm(width), Length::mm(height));
            lettering.size = LetterSize::Box(LetterBox { width, height });
            lettering.style.heavier = Length::mm(heavier);
            lettering.style.slant = slant;
            let mut piece = Piece::new("Box", Unit::Millimetre);
            piece.components[0].elements = vec![element("lettering-1", lettering)];
            let placed = &placed(&piece, Tolerance::Fine).elements[0];
            let Some(ink) = placed.region.bounds() else { continue };
            let (over, under) = (ink.width() - width.as_mm(), ink.height() - height.as_mm());
            prop_assert!(over <= 1e-4 && under <= 1e-4, "{} {:?}: {over} {under}", face.id, words);
            // It fills the box one way or the other, to what chords stray from curves at both ends, those of
            // the letters and those of the weight added, unless thin strokes wore off at the ends.
            let curves = if heavier > 0.0 { 4.0 } else { 2.0 };
            let hair = curves * Tolerance::Fine.chord_mm();
            prop_assert!(
                heavier < 0.0 || over > -hair || under > -hair,
                "{} {:?}: {over} {under}", face.id, words
            );
        }
    }
}

#[test]
fn a_fob_with_raised_capitals_in_its_clear_area() {
    let mut edits = plate(72.0, 24.0, 2.0);
    edits.extend([
        add(ElementKind::Hole),
        add(ElementKind::Lettering),
        set("lettering-1", "lines.0.words", json!("Solveig")),
        set("lettering-1", "style.capitals", json!(true)),
        set("lettering-1", "size", json!("clear-area")),
        set("lettering-1", "edge", json!({ "chamfer": 0.3 })),
    ]);
    let found = made(&edits);
    let (clear, letters) =
        (found.layout.clear_of(FaceName::Front).unwrap(), &found.layout.elements[1]);
    assert!(clear.contains(&letters.region.bounds().unwrap()));
    assert!(letters.drawn.letter_height > 6.0);
    assert_eq!(letters.reduced_edge, None);
    // A frustum-like solid: between what the narrowed and the full outline would give.
    let tolerance = Tolerance::Normal;
    let narrow = letters.region.offset(-0.3, tolerance).area();
    let added = found.measures.volume - made(&edits[..4]).measures.volume;
    let full = letters.region.area();
    assert!(added < 1.5 * full && added > 1.2 * full + 0.3 * narrow);
}

#[test]
fn a_medallion_with_words_above_and_below() {
    let around = |middle: f64, reading: &str| {
        json!({ "circle": { "radius": 15.0, "reading": reading, "side": "outside",
            "middle": middle, "spread": null } })
    };
    let mut edits = plate(50.0, 50.0, 5.0);
    edits.push(set("blank", "outline", json!("ellipse")));
    let centre = json!({ "across": { "from": "centre", "distance": 0.0 },
        "up": { "from": "centre", "distance": 0.0 } });
    // Under the circle heads stand nearer to each other than feet, and want more room.
    for (id, words, middle, reading, spacing) in [
        ("lettering-1", "TIDE WATCH", 90.0, "clockwise", 0.1),
        ("lettering-2", "BERTH 2", -90.0, "upright", 0.24),
    ] {
        edits.extend([
            add(ElementKind::Lettering),
            set(id, "lines.0.words", json!(words)),
            set(id, "size", json!({ "height": 6.0 })),
            set(id, "style.spacing", json!(spacing)),
            set(id, "style.stretch", json!(0.8)),
            set(id, "course", around(middle, reading)),
            set(id, "place", centre.clone()),
            set(id, "edge", json!({ "round": 0.3 })),
        ]);
    }
    let found = made(&edits);
    assert_eq!(found.measures.high[2], 6.5);
    let [above, below] = [0, 1].map(|i| &found.layout.elements[i]);
    assert!(above.region.intersection(&below.region).is_empty());
    assert!(above.drawn.span < 200.0 && below.drawn.span < 160.0);
    // Letters stand between the circle and 6 mm outside it, rounded feet aside.
    for (x, y) in above.region.edges().chain(below.region.edges()).map(|(point, _)| point) {
        let radius = f64::hypot(x, y);
        assert!((14.5..=21.8).contains(&radius), "{radius}");
    }
}

#[test]
fn words_that_run_into_themselves_are_found_and_mended() {
    let mut lettering =
        Lettering::one_line("SKERRY POINT FERRY COOPERATIVE", "nunito", Length::mm(6.0));
    let circle = CircleCourse {
        radius: Length::mm(10.0),
        reading: Default::default(),
        side: Default::default(),
        middle: 90.0,
        spread: None,
    };
    lettering.course = Course::Circle(circle);
    let mut piece = Piece::new("Ring", Unit::Millimetre);
    piece.components[0].elements = vec![element("lettering-1", lettering)];
    let found = worked(&piece, Tolerance::Draft);
    let full = found.findings.iter().find(|finding| finding.code == "circle-full").unwrap();
    // The circle cannot become larger on a plate of 24 mm; on one of 90 it can.
    let labels = |full: &Finding| {
        full.remedies.iter().map(|remedy| remedy.label.clone()).collect::<Vec<_>>()
    };
    assert_eq!(labels(full).len(), 1, "{:?}", labels(full));
    let high = [set("blank", "width", json!(90.0)), set("blank", "height", json!(90.0))];
    let large = edited(&piece, &high);
    let on_large = worked(&large, Tolerance::Draft);
    let both = on_large.findings.iter().find(|finding| finding.code == "circle-full").unwrap();
    assert_eq!(labels(both).len(), 2, "{:?}", labels(both));
    for (piece, remedy) in
        [(&piece, &full.remedies[0]), (&large, &both.remedies[0]), (&large, &both.remedies[1])]
    {
        let found = worked(&edited(piece, &remedy.edits), Tolerance::Draft);
        assert!(found.findings.iter().all(|finding| finding.code != "circle-full"));
        assert!(found.layout.elements[0].drawn.span < 354.0, "{}", remedy.label);
    }
}

/// Nine hundred letters on one spot, some hundred thousand crossings: one call that nothing could stop
/// took minutes.
#[test]
fn words_wound_onto_a_tiny_circle_are_no_more_work_than_others() {
    let around = |words: &str, spread: Option<f64>| {
        let mut lettering = Lettering::one_line(words, "montserrat", Length::mm(5.0));
        lettering.course = Course::Circle(CircleCourse {
            radius: Length::mm(0.5),
            reading: Default::default(),
            side: Default::default(),
            middle: 90.0,
            spread,
        });
        let mut piece = Piece::new("Coil", Unit::Millimetre);
        piece.components[0].elements = vec![element("lettering-1", lettering)];
        edited(&piece, &plate(40.0, 40.0, 3.0))
    };
    for tolerance in [Tolerance::Draft, Tolerance::Normal, Tolerance::Fine] {
        let found = worked(&around(&"W".repeat(900), None), tolerance);
        assert!(found.mesh.faults().is_sound(), "{:?}", found.mesh.faults());
        assert!(found.findings.iter().any(|finding| finding.code == "circle-full"));
        assert_eq!(found.layout.elements[0].drawn.glyphs, 900);

        // An I turned through every angle covers a ring, from the middle of its foot to the corners
        // of its head.
        let one = placed(&around("I", None), tolerance).elements[0].region.bounds().unwrap();
        let all = placed(&around(&"I".repeat(900), Some(360.0)), tolerance);
        let head = (0.5 + 5.0f64).powi(2) + (one.width() / 2.0).powi(2);
        let ring = std::f64::consts::PI * (head - 0.25);
        let area = all.elements[0].region.area();
        assert!((area / ring - 1.0).abs() < 1e-3, "{area} mm², {ring} mm² as a ring");
    }
}

#[test]
fn a_contour_tag_with_a_loop_holds_together_and_says_when_it_does_not() {
    // 18 mm letters 5 mm high over a 3 mm backing offset 2 mm, a loop of 8 mm inside, 2 mm wall.
    let mut edits = plate(80.0, 18.0, 3.0);
    edits.extend([
        set(
            "blank",
            "outline",
            json!({ "contour": { "offset": 2.0, "crevices": 2.5, "gaps": 6.0 } }),
        ),
        add(ElementKind::Lettering),
        set("lettering-1", "lines.0.words", json!("Łucja")),
        set("lettering-1", "typeface", json!("pacifico")),
        set("lettering-1", "size", json!({ "height": 18.0 })),
        set("lettering-1", "relief", json!({ "raised": { "by": 5.0 } })),
        add(ElementKind::Loop),
    ]);
    let found = made(&edits);
    let letters = &found.layout.elements[0].region;
    let ink = letters.bounds().unwrap();
    let base = found.layout.blank.base.bounds().unwrap();
    for (a, b) in [(ink.x0, base.x0), (base.x1, ink.x1), (ink.y0, base.y0), (base.y1, ink.y1)] {
        assert!((a - b - 2.0).abs() < 0.05, "{ink:?} {base:?}");
    }
    assert_eq!(found.measures.high[2], 8.0);
    // The backing under the letters, and the letters on it.
    let exact = 3.0 * found.layout.outline_seen().area() + 5.0 * letters.area();
    assert!((found.measures.volume - exact).abs() < 1e-3 * exact);

    // Words far apart are two pieces until the offset bridges the gap.
    edits.extend([
        set("lettering-1", "typeface", json!("nunito")),
        set("lettering-1", "lines.0.words", json!("Å   B")),
        set("lettering-1", "size", json!({ "height": 8.0 })),
    ]);
    let piece = edited(&Piece::new("Test", Unit::Millimetre), &edits);
    let findings = worked(&piece, Tolerance::Draft).findings;
    let apart = findings.iter().find(|finding| finding.code == "contour-apart").unwrap();
    assert!(apart.message.contains("2 pieces"), "{}", apart.message);
    let mended = edited(&piece, &apart.remedies[0].edits);
    assert_eq!(worked(&mended, Tolerance::Draft).parts, 1);
}

#[test]
fn a_coaster_with_two_recessed_lines() {
    let mut edits = plate(101.6, 101.6, 4.0);
    edits.extend([
        set("blank", "outline", json!("ellipse")),
        add(ElementKind::Rim),
        set("rim-1", "width", json!(4.0)),
        set("rim-1", "relief.raised.by", json!(2.0)),
        add(ElementKind::Lettering),
        set(
            "lettering-1",
            "lines",
            json!([
                { "words": "Skerry", "typeface": null, "scale": 1.0 },
                { "words": "Point", "typeface": "anton", "scale": 0.7 },
            ]),
        ),
        set("lettering-1", "size", json!({ "box": { "width": 64.0, "height": 50.0 } })),
        set("lettering-1", "relief", json!({ "recessed": { "by": 1.5 } })),
    ]);
    let found = made(&edits);
    let letters = &found.layout.elements[1];
    let ink = letters.region.bounds().unwrap();
    assert!(ink.width() <= 64.0 && ink.height() <= 50.0);
    let without = made(&edits[..7]).measures.volume;
    let exact = without - 1.5 * letters.region.area();
    assert!((found.measures.volume - exact).abs() < 1e-6 * exact);
}

#[test]
fn odd_text_is_set_or_said() {
    let mut edits = plate(72.0, 24.0, 3.0);
    edits.push(add(ElementKind::Lettering));
    for (words, code) in
        [("🚢⚓🚢", "letters-missing"), ("\t \t", "no-words"), ("{name}", "no-input"), ("A\tB", "")]
    {
        let mut edits = edits.clone();
        edits.push(set("lettering-1", "lines.0.words", json!(words)));
        let piece = edited(&Piece::new("Test", Unit::Millimetre), &edits);
        let findings = worked(&piece, Tolerance::Draft).findings;
        let codes: Vec<_> = findings.iter().map(|finding| finding.code).collect();
        assert!(
            code.is_empty() && codes.is_empty() || codes.contains(&code),
            "{words:?} {codes:?}"
        );
    }
    for (field, value) in [
        (
            "course",
            json!({ "circle": { "radius": 0.0, "reading": "clockwise", "side": "outside", "middle": 0.0, "spread": null } }),
        ),
        ("size", json!({ "box": { "width": 0.0, "height": 9.0 } })),
        ("lines", json!([])),
        ("typeface", json!("no such face")),
    ] {
        let mut edits = edits.clone();
        edits.push(set("lettering-1", field, value));
        let refused = try_edits(&Piece::new("Test", Unit::Millimetre), &edits).unwrap_err();
        assert!(refused.field.starts_with(field), "{refused:?}");
    }
}

/// Fonts whose outlines overlap, turn the wrong way, stay open or are simply broken give a closed
/// solid all the same.
#[test]
fn damaged_fonts_never_break_a_solid() {
    use kalotype_core::lettering::open_font;
    const FONT: &[u8] = include_bytes!("../typefaces/zilla-slab/ZillaSlab_700Bold.ttf");
    let glyphs = FONT.windows(4).position(|tag| tag == b"glyf").unwrap();
    let number = |at: usize| u32::from_be_bytes(FONT[at..at + 4].try_into().unwrap()) as usize;
    let (start, length) = (number(glyphs + 8), number(glyphs + 12));
    let mut seed = 7_u32;
    let mut random = |below: usize| {
        seed = seed.wrapping_mul(1_664_525).wrapping_add(1_013_904_223);
        (seed >> 8) as usize % below
    };
    let mut built = 0;
    for _ in 0..40 {
        let mut bytes = FONT.to_vec();
        for _ in 0..length / 40 {
            bytes[start + random(length)] = random(256) as u8;
        }
        let Ok(font) = open_font(&bytes) else { continue };
        let face = font.typeface("own-damaged".into(), "Damaged".into(), 0, None).unwrap();
        let mut shelf = Shelf::default();
        shelf.put_typeface(face);
        let lettering = Lettering::one_line("Solveig & Åse", "own-damaged", Length::mm(6.0));
        let mut piece = Piece::new("Damaged", Unit::Millimetre);
        piece.components[0].elements = vec![element("lettering-1", lettering)];
        let found = worked_with(&shelf, &piece, Tolerance::Draft);
        if found.findings.first().is_none_or(|finding| finding.weight != Weight::Stop) {
            assert!(found.mesh.faults().is_sound(), "{:?}", found.mesh.faults());
            built += 1;
        }
    }
    assert!(built > 5, "{built}");
}
