//! What must hold for every piece, and what the sizes of plain pieces must come to.

mod common;

use common::{add, edited, element, placed, set, worked};
use kalotype_core::emblems::EMBLEMS;
use kalotype_core::evaluate::{Layout, Prism, Stop};
use kalotype_core::filament::shipped_palette;
use kalotype_core::formats::stl;
use kalotype_core::lettering::{Align, CircleSide, Reading, Style, TYPEFACES};
use kalotype_core::piece::{
    Across, AcrossClear, BothEdges, BridgeCount, BridgeRun, Bridges, CircleCourse, Code, Contour,
    Corner, Corners, Course, Depth, Edge, Element, ElementKind, Emblem, FaceName, FieldShape,
    Fills, Gives, Halo, HaloCorners, Height, Hole, HolePlace, HoleShape, Inlay, Input, Kind,
    LetterBox, LetterSize, Lettering, LetteringPlace, Level, Loop, LoopPlace, Motif, Offset,
    Outline, OwnShape, OwnThickness, Pattern, Piece, Polygon, PolygonSize, Recess, Relief, Repeat,
    Rim, Ring, RoundWhat, Row, Scallop, SitsBy, Star, Symbol, Tag, TextLine, Up, UpClear, read,
    write,
};
use kalotype_core::plane::{MAX_COORDINATE_MM, Region, Tolerance};
use kalotype_core::solid::Act;
use kalotype_core::units::{Length, Unit};
use proptest::prelude::*;
use serde_json::json;
use std::f64::consts::PI;

fn plate(width: f64, height: f64, thickness: f64, corner_radius: f64) -> Piece {
    let mut piece = Piece::new("Test", Unit::Millimetre);
    let kalotype_core::piece::Blank::Plate(plate) = &mut piece.components[0].blank else {
        unreachable!()
    };
    plate.width = Length::mm(width);
    plate.height = Length::mm(height);
    plate.thickness = Length::mm(thickness);
    plate.outline = Outline::Rectangle(Corners::all(Corner::Round(Length::mm(corner_radius))));
    piece
}

fn hole(id: usize, diameter: f64, across: Offset<Across>, up: Offset<Up>) -> Element {
    let place = HolePlace { across, up };
    let hole = Hole {
        diameter: Length::mm(diameter),
        shape: HoleShape::Round,
        turn: 0.0,
        depth: None,
        edges: BothEdges::default(),
        repeat: Repeat::Once,
        place,
    };
    element(&format!("e{id}"), hole)
}

fn centre_hole(diameter: f64) -> Element {
    let across = Offset { from: Across::Centre, distance: Length::ZERO };
    hole(0, diameter, across, Offset { from: Up::Centre, distance: Length::ZERO })
}

/// Closed forms: a rounded plate is w·h − (4 − π)r², times its thickness; a hole takes πd²/4 off.
/// Flattening at the fine tolerance loses at most the sagitta along every arc.
#[test]
fn plates_and_holes_have_their_closed_form_volumes() {
    for (w, h, t, r, d) in
        [(72.0, 24.0, 3.0, 3.0, 5.0), (50.0, 50.0, 5.0, 25.0, 8.0), (70.0, 25.0, 2.0, 0.0, 3.175)]
    {
        let mut piece = plate(w, h, t, r);
        piece.components[0].elements.push(centre_hole(d));
        let found = worked(&piece, Tolerance::Fine);
        let exact = t * (w * h - (4.0 - PI) * r * r - PI * d * d / 4.0);
        let sagitta = t * Tolerance::Fine.chord_mm() * (2.0 * PI * r + PI * d);
        assert!(
            (found.measures.volume - exact).abs() <= sagitta,
            "{} of {exact}",
            found.measures.volume
        );
        let (low, high) = (found.measures.low, found.measures.high);
        for (axis, size) in [w, h, t].into_iter().enumerate() {
            assert!((high[axis] - low[axis] - size).abs() < 1e-4);
        }
        for (axis, middle) in [0.0, 0.0, t / 2.0].into_iter().enumerate() {
            assert!((found.measures.centre_of_mass[axis] - middle).abs() < 1e-4);
        }
        assert!(found.mesh.faults().is_sound());
        assert_eq!(found.parts, 1);
    }
}

#[test]
fn relief_changes_the_volume_by_the_area_of_its_letters() {
    let name = |relief| {
        let place = LetteringPlace::in_the_middle();
        let mut piece = plate(72.0, 24.0, 4.0, 3.0);
        let lettering = Lettering::one_line("SOLVEIG", "nunito", Length::mm(9.0));
        let lettering = Lettering { relief, place, ..lettering };
        piece.components[0].elements.push(element("name", lettering));
        worked(&piece, Tolerance::Normal)
    };
    let plain = worked(&plate(72.0, 24.0, 4.0, 3.0), Tolerance::Normal).measures.volume;
    for (relief, height) in [
        (Relief::raised(1.5), 1.5),
        (Relief::recessed(1.25), -1.25),
        (Relief::Raised(Height::Fraction(0.25)), 1.0),
        (Relief::Recessed(Depth::Floor(Length::mm(1.5))), -2.5),
        (Relief::Flush(Length::mm(0.6)), 0.0),
        (Relief::Through, -4.0),
    ] {
        let found = name(relief);
        let area = found.layout.element("name").unwrap().region.area();
        let exact = plain + area * height;
        assert!((found.measures.volume - exact).abs() < 1e-9 * exact, "{relief:?}");
    }
}

/// A width that changes carries every relation along.
#[test]
fn elements_keep_their_relations_when_the_plate_grows() {
    let offset = |from| Offset { from, distance: Length::mm(6.0) };
    let up = Offset { from: Up::Centre, distance: Length::ZERO };
    let mut wide = plate(72.0, 24.0, 3.0, 3.0);
    wide.components[0].elements =
        vec![hole(0, 5.0, offset(Across::Left), up), hole(1, 5.0, offset(Across::Right), up)];
    let mut narrow = wide.clone();
    let kalotype_core::piece::Blank::Plate(smaller) = &mut narrow.components[0].blank else {
        unreachable!()
    };
    smaller.width = Length::mm(50.0);
    let centres = |piece: &Piece| {
        let placed = placed(piece, Tolerance::Draft);
        [0, 1].map(|i| placed.elements[i].frame.centre().0)
    };
    assert_eq!(centres(&wide), [-30.0, 30.0]);
    assert_eq!(centres(&narrow), [-19.0, 19.0]);
}

fn offsets<D: Copy + std::fmt::Debug + 'static>(from: Vec<D>) -> impl Strategy<Value = Offset<D>> {
    // Coarse steps, so that things also touch exactly.
    (prop::sample::select(from), -20i32..60).prop_map(|(from, distance)| Offset {
        from,
        distance: Length::mm(f64::from(distance) / 2.0),
    })
}

fn halves(range: std::ops::Range<i32>) -> impl Strategy<Value = Length> {
    range.prop_map(|v| Length::mm(f64::from(v) / 2.0))
}

/// Square more often than not, so that upright walls stay well tested.
fn any_edge() -> impl Strategy<Value = Edge> {
    prop_oneof![
        3 => Just(Edge::Square),
        1 => (1i32..12).prop_map(|v| Edge::Chamfer(Length::mm(f64::from(v) / 10.0))),
        1 => (1i32..12).prop_map(|v| Edge::Round(Length::mm(f64::from(v) / 10.0))),
    ]
}

fn both_edges() -> impl Strategy<Value = BothEdges> {
    (any_edge(), any_edge()).prop_map(|(top, bottom)| BothEdges { top, bottom })
}

fn any_repeat() -> impl Strategy<Value = Repeat> {
    prop_oneof![
        6 => Just(Repeat::Once),
        1 => (2u32..7, halves(-10..20), halves(-10..20))
            .prop_map(|(count, across, up)| Repeat::Row(Row { count, across, up })),
        1 => (2u32..9).prop_map(Repeat::Around),
        1 => Just(Repeat::MirroredAcross),
        1 => Just(Repeat::MirroredUp),
    ]
}

fn any_face() -> impl Strategy<Value = FaceName> {
    prop_oneof![2 => Just(FaceName::Front), 1 => Just(FaceName::Back)]
}

fn hole_place() -> impl Strategy<Value = HolePlace> {
    let across = offsets(vec![Across::Left, Across::Right, Across::Centre]);
    let up = offsets(vec![Up::Bottom, Up::Top, Up::Centre]);
    (across, up).prop_map(|(across, up)| HolePlace { across, up })
}

/// An element on a face, to be named later.
fn on(face: FaceName, kind: impl Into<Kind>) -> Element {
    Element { face, ..element("e", kind) }
}

fn any_hole() -> impl Strategy<Value = Element> {
    let shape = prop_oneof![
        Just(HoleShape::Round),
        halves(2..40).prop_map(HoleShape::Slot),
        Just(HoleShape::Hexagon),
        Just(HoleShape::Square),
        Just(HoleShape::KeyHole),
    ];
    let depth = prop::option::of(halves(1..12));
    let turned = (-4i32..8).prop_map(|turn| f64::from(turn) * 15.0);
    let seat = (any_face(), hole_place(), turned, any_repeat());
    (halves(1..40), shape, depth, both_edges(), seat).prop_map(
        |(diameter, shape, depth, edges, (face, place, turn, repeat))| {
            on(face, Hole { shape, diameter, turn, depth, edges, place, repeat })
        },
    )
}

fn any_place() -> impl Strategy<Value = LetteringPlace> {
    use {AcrossClear as A, UpClear as U};
    let across = offsets(vec![A::Left, A::Right, A::Centre, A::Clear]);
    let up = offsets(vec![U::Bottom, U::Top, U::Centre, U::Clear]);
    (across, up).prop_map(|(across, up)| LetteringPlace {
        across,
        up,
        ..LetteringPlace::in_clear_area()
    })
}

fn any_depth() -> impl Strategy<Value = Depth> {
    prop_oneof![
        2 => halves(1..8).prop_map(Depth::By),
        1 => (1u32..10).prop_map(|tenths| Depth::Fraction(f64::from(tenths) / 10.0 - 0.05)),
        1 => halves(1..8).prop_map(Depth::Floor),
    ]
}

fn any_relief() -> impl Strategy<Value = Relief> {
    prop_oneof![
        2 => halves(1..8).prop_map(|height| Relief::Raised(Height::By(height))),
        1 => (1u32..10).prop_map(|tenths| Relief::Raised(Height::Fraction(f64::from(tenths) / 10.0))),
        1 => halves(1..20).prop_map(|height| Relief::Raised(Height::FromFoot(height))),
        1 => Just(Relief::Raised(Height::LevelWithRim)),
        1 => Just(Relief::Raised(Height::LevelWithFace)),
        2 => any_depth().prop_map(Relief::Recessed),
        1 => halves(1..8).prop_map(Relief::Flush),
        1 => Just(Relief::Through),
    ]
}

fn any_line() -> impl Strategy<Value = TextLine> {
    let words = ["SOLVEIG", "Łucja", "ğül ß", "Ωδη", "é", "", "XIV", "o.o", "אבא", "{name}"];
    let faces = TYPEFACES.iter().map(|t| t.id.to_string()).collect::<Vec<_>>();
    let typeface = prop::option::weighted(0.2, prop::sample::select(faces));
    (prop::sample::select(words.to_vec()), typeface, 3u32..14).prop_map(
        |(words, typeface, tenths)| TextLine {
            words: words.to_owned(),
            typeface,
            scale: f64::from(tenths) / 10.0,
        },
    )
}

fn any_letter_size() -> impl Strategy<Value = LetterSize> {
    prop_oneof![
        3 => (2i32..24).prop_map(|mm| LetterSize::Height(Length::mm(f64::from(mm)))),
        1 => (halves(2..120), halves(1..40))
            .prop_map(|(width, height)| LetterSize::Box(LetterBox { width, height })),
        1 => Just(LetterSize::ClearArea),
    ]
}

fn any_style() -> impl Strategy<Value = Style> {
    let drawn = (-3i32..10, -3i32..6, any::<bool>(), -2i32..3, 5i32..20).prop_map(
        |(spacing, heavier, capitals, slant, stretch)| Style {
            spacing: f64::from(spacing) / 20.0,
            heavier: Length::mm(f64::from(heavier) / 10.0),
            capitals,
            slant: f64::from(slant) * 10.0,
            stretch: f64::from(stretch) / 10.0,
        },
    );
    prop_oneof![2 => Just(Style::default()), 1 => drawn]
}

fn any_course() -> impl Strategy<Value = Course> {
    let circle =
        (halves(1..60), any::<bool>(), any::<bool>(), -4i32..8, prop::option::of(1i32..13));
    let circle = circle.prop_map(|(radius, upright, inside, turn, spread)| {
        Course::Circle(CircleCourse {
            radius,
            reading: if upright { Reading::Upright } else { Reading::Clockwise },
            side: if inside { CircleSide::Inside } else { CircleSide::Outside },
            middle: f64::from(turn) * 30.0,
            spread: spread.map(|parts| f64::from(parts) * 30.0).map(|degrees| degrees.min(360.0)),
        })
    });
    prop_oneof![6 => Just(Course::Straight), 1 => Just(Course::Below), 2 => circle]
}

/// What gives where there is no room, and how words are turned and mirrored.
fn any_lie() -> impl Strategy<Value = (Gives, f64, bool)> {
    let gives = prop_oneof![
        3 => Just(Gives::Nothing),
        2 => Just(Gives::Size),
        1 => Just(Gives::Width(0.7)),
        1 => Just(Gives::Line),
    ];
    let turn =
        prop_oneof![3 => Just(0.0), 1 => (-12i32..12).prop_map(|part| f64::from(part) * 15.0)];
    (gives, turn, prop::bool::weighted(0.2))
}

/// Bridges as high as what is cut, so that an outline times a height is a volume still.
fn any_bridges() -> impl Strategy<Value = Option<Bridges>> {
    let run = prop_oneof![
        Just(BridgeRun::Upright),
        Just(BridgeRun::Across),
        (-6i32..6).prop_map(|part| BridgeRun::Angle(f64::from(part) * 15.0)),
    ];
    let each =
        prop::sample::select(vec![BridgeCount::AsNeeded, BridgeCount::One, BridgeCount::Two]);
    let some = (halves(1..6), run, any::<bool>(), each).prop_map(|(width, run, in_line, each)| {
        Bridges { width, run, in_line, each, ..Bridges::default() }
    });
    prop::option::weighted(0.4, some)
}

fn any_lettering() -> impl Strategy<Value = Element> {
    let faces = TYPEFACES.iter().map(|t| t.id.to_string()).collect::<Vec<_>>();
    let words = (
        prop::collection::vec(any_line(), 1..4),
        prop::sample::select(faces),
        any_letter_size(),
        any_style(),
        prop::sample::select(vec![Align::Left, Align::Centre, Align::Right]),
        prop::sample::select(vec![SitsBy::Capitals, SitsBy::Ink]),
        any_course(),
    );
    let seat = (any_face(), any_place(), any_repeat(), any_lie(), any_bridges());
    (words, any_relief(), any_edge(), seat).prop_map(
        |((lines, typeface, size, style, align, sits_by, course), relief, edge, seat)| {
            let (face, place, repeat, (gives, turn, mirrored), bridges) = seat;
            let lettering = Lettering {
                lines,
                typeface,
                size,
                gives,
                style,
                align,
                pitch: 1.5,
                sits_by,
                course,
                turn,
                mirrored,
                relief,
                colour: None,
                root: Length::ZERO,
                edge,
                bridges,
                place,
                repeat,
            };
            on(face, lettering)
        },
    )
}

fn any_emblem() -> impl Strategy<Value = Element> {
    let shape = prop::sample::select(EMBLEMS.iter().map(|e| e.id).collect::<Vec<_>>());
    let drawn = (shape, halves(2..60), -4i32..8, any::<bool>());
    let seat = (any_face(), any_place(), any_repeat(), any_bridges());
    (drawn, any_relief(), any_edge(), seat).prop_map(
        |((shape, width, turn, mirrored), relief, edge, (face, place, repeat, bridges))| {
            let emblem = Emblem {
                turn: f64::from(turn) * 15.0,
                mirrored,
                relief,
                edge,
                bridges,
                place,
                repeat,
                ..Emblem::plain(shape, width)
            };
            on(face, emblem)
        },
    )
}

fn any_rim() -> impl Strategy<Value = Element> {
    (any_face(), halves(0..6), halves(1..10), any_relief(), any_edge()).prop_map(
        |(face, inset, width, relief, edge)| {
            let (colour, root) = (None, Length::ZERO);
            on(face, Rim { inset, width, relief, colour, root, edge })
        },
    )
}

fn any_recess() -> impl Strategy<Value = Element> {
    let own = (halves(2..100), halves(2..60), any_outline(), -4i32..8);
    let shape = prop_oneof![
        1 => halves(0..10).prop_map(FieldShape::Inset),
        1 => own.prop_map(|(width, height, outline, turn)| {
            FieldShape::Own(OwnShape { width, height, outline, turn: f64::from(turn) * 15.0, fit: None })
        }),
    ];
    let seat = (any_face(), any_place(), any_repeat());
    (shape, any_depth(), any_edge(), seat).prop_map(
        |(shape, depth, edge, (face, place, repeat))| {
            on(face, Recess { shape, depth, floor: None, edge, place, repeat })
        },
    )
}

fn any_loop() -> impl Strategy<Value = Element> {
    let at = prop_oneof![
        1 => (-6i32..12).prop_map(|turn| LoopPlace::Angle(f64::from(turn) * 30.0)),
        1 => hole_place().prop_map(LoopPlace::Point),
    ];
    let own = prop::option::of((halves(1..16), both_edges()))
        .prop_map(|own| own.map(|(thickness, edges)| OwnThickness { thickness, edges }));
    let ribbon = prop::option::of(halves(1..60));
    (at, ribbon, halves(1..20), halves(1..8), halves(0..8), own).prop_map(
        |(at, ribbon, inside, wall, blend, own)| {
            let colour = None;
            on(FaceName::Front, Loop { at, inside, ribbon, wall, blend, own, colour })
        },
    )
}

fn any_element() -> impl Strategy<Value = Element> {
    prop_oneof![
        2 => any_hole(),
        2 => any_lettering(),
        2 => any_emblem(),
        1 => any_rim(),
        1 => any_recess(),
        1 => any_loop(),
        1 => any_halo(),
        1 => any_pattern(),
        1 => any_code(),
    ]
}

fn any_halo() -> impl Strategy<Value = Element> {
    let corners = [HaloCorners::Round, HaloCorners::Sharp, HaloCorners::Bevelled];
    let shape = (halves(0..8), prop::sample::select(corners.to_vec()), halves(0..4), 1u32..4);
    (shape, halves(1..4), any_relief(), any_edge(), any_face()).prop_map(
        |((distance, corners, crevices, steps), widen, relief, edge, face)| {
            let relief = if relief == Relief::Through { Relief::raised(1.0) } else { relief };
            let (colour, root, gaps) = (None, Length::ZERO, Length::ZERO);
            let round = RoundWhat::All;
            on(
                face,
                Halo {
                    round,
                    distance,
                    corners,
                    crevices,
                    gaps,
                    steps,
                    widen,
                    relief,
                    colour,
                    root,
                    edge,
                },
            )
        },
    )
}

fn any_pattern() -> impl Strategy<Value = Element> {
    let motifs = [
        Motif::Hexagons,
        Motif::Dots,
        Motif::Squares,
        Motif::Stripes,
        Motif::Waves,
        Motif::Scales,
        Motif::Shape("star".to_owned()),
    ];
    let sizes = (6i32..20, 1i32..5, -6i32..6, halves(0..6), halves(0..5));
    (prop::sample::select(motifs.to_vec()), sizes, any::<bool>(), any_relief(), any_face())
        .prop_map(|(motif, (pitch, line, turn, inset, apart), whole, relief, face)| {
            let pattern = Pattern {
                motif,
                pitch: Length::mm(f64::from(pitch)),
                line: Length::mm(f64::from(line)),
                turn: f64::from(turn) * 15.0,
                fills: Fills::Face,
                inset,
                apart,
                whole,
                relief,
                colour: None,
                root: Length::ZERO,
            };
            on(face, pattern)
        })
}

fn any_code() -> impl Strategy<Value = Element> {
    let symbols = [Symbol::Qr(Level::L), Symbol::Qr(Level::Q), Symbol::Bars(Length::mm(6.0))];
    let words = prop::sample::select(vec!["BERTH 7", "", "Zoë", "{name} 001", "1234567890"]);
    let drawn =
        (prop::sample::select(symbols.to_vec()), words, halves(1..4), 0u32..5, any::<bool>());
    (drawn, any_relief(), any_face(), any_place(), -4i32..8).prop_map(
        |((symbol, words, module, quiet, inverse), relief, face, place, turn)| {
            let code = Code {
                words: words.to_owned(),
                symbol,
                module,
                quiet,
                inverse,
                turn: f64::from(turn) * 15.0,
                relief,
                colour: None,
                root: Length::ZERO,
                place,
                repeat: Repeat::Once,
            };
            on(face, code)
        },
    )
}

fn any_outline() -> impl Strategy<Value = Outline> {
    let rounding = Length::mm(1.0);
    let corner = prop_oneof![
        Just(Corner::Square),
        halves(0..30).prop_map(Corner::Round),
        halves(1..30).prop_map(Corner::Chamfer),
        halves(1..30).prop_map(Corner::Scoop),
    ];
    let ends = prop_oneof![3 => Just(Length::ZERO), 1 => halves(0..5)];
    prop_oneof![
        4 => (prop::array::uniform4(corner), ends).prop_map(|(corners, rounding)| {
            let [top_left, top_right, bottom_right, bottom_left] = corners;
            Outline::Rectangle(Corners { top_left, top_right, bottom_right, bottom_left, rounding })
        }),
        1 => prop::sample::select(vec![
            Outline::Ellipse, Outline::Stadium, Outline::Heart, Outline::Shield, Outline::Arch,
        ]),
        1 => (3u32..9, any::<bool>()).prop_map(move |(sides, is_regular)| {
            let regular = is_regular.then_some(PolygonSize::Corners(Length::mm(30.0)));
            Outline::Polygon(Polygon { sides, turn: 0.0, rounding, regular })
        }),
        1 => (3u32..9).prop_map(move |points| Outline::Star(Star { points, inner: 0.5, turn: 10.0, rounding })),
        1 => halves(0..30).prop_map(move |point| Outline::Tag(Tag { point, rounding })),
        1 => (3u32..20).prop_map(|waves| Outline::Scallop(Scallop { waves, depth: Length::mm(1.5) })),
        1 => halves(1..30).prop_map(|inside| Outline::Ring(Ring { inside })),
    ]
}

/// A colour of five or that of the plate, a depth, and a root.
fn any_tint() -> impl Strategy<Value = (Option<String>, Length, Length)> {
    let ids: Vec<String> = shipped_palette().into_iter().take(5).map(|f| f.id).collect();
    let colour = prop::option::weighted(0.6, prop::sample::select(ids));
    (colour, halves(1..6), prop_oneof![Just(Length::ZERO), halves(1..6)])
}

fn any_piece() -> impl Strategy<Value = Piece> {
    let elements = prop::collection::vec((any_element(), any_tint()), 0..5);
    let is_coloured = any::<bool>();
    let faces = (any_tint(), any_tint());
    let sizes = (halves(4..160), halves(4..80), halves(1..16));
    let ties = prop::option::weighted(0.3, halves(1..6));
    let contour = (halves(1..10), halves(0..10), halves(0..20), ties).prop_map(
        |(offset, crevices, gaps, ties)| {
            Outline::Contour(Contour { offset, crevices, gaps, ties, by_hand: Vec::new() })
        },
    );
    let outline = prop_oneof![5 => any_outline(), 1 => contour];
    let drawn = (sizes, outline, both_edges());
    (drawn, elements, is_coloured, faces).prop_map(|(drawn, elements, is_coloured, faces)| {
        let (sizes, outline, edges) = drawn;
        let mut piece = plate(10.0, 10.0, 1.0, 0.0);
        let kalotype_core::piece::Blank::Plate(plate) = &mut piece.components[0].blank else {
            unreachable!()
        };
        (plate.width, plate.height, plate.thickness) = sizes;
        (plate.outline, plate.edges) = (outline, edges);
        piece.inputs = vec![Input::new("name", "Zoë")];
        let inlay = |(colour, depth, _): (Option<String>, Length, Length)| {
            colour.filter(|_| is_coloured).map(|colour| Inlay { colour, depth })
        };
        (plate.faces.top, plate.faces.bottom) = (inlay(faces.0), inlay(faces.1));
        piece.filaments = shipped_palette().into_iter().take(5).collect();
        for (i, (mut element, tint)) in elements.into_iter().enumerate() {
            element.id = format!("e{i}");
            let (colour, root) = (tint.0.clone().filter(|_| is_coloured), tint.2);
            match &mut element.kind {
                Kind::Hole(_) => {}
                Kind::Lettering(one) => (one.colour, one.root) = (colour, root),
                Kind::Emblem(one) => (one.colour, one.root) = (colour, root),
                Kind::Rim(one) => (one.colour, one.root) = (colour, root),
                Kind::Recess(one) => one.floor = inlay(tint),
                Kind::Loop(one) => one.colour = colour,
                Kind::Halo(one) => (one.colour, one.root) = (colour, root),
                Kind::Pattern(one) => (one.colour, one.root) = (colour, root),
                Kind::Code(one) => (one.colour, one.root) = (colour, root),
            }
            piece.components[0].elements.push(element);
        }
        piece
    })
}

/// Draft more often than the others, which take longer.
fn any_tolerance() -> impl Strategy<Value = Tolerance> {
    prop_oneof![
        3 => Just(Tolerance::Draft),
        2 => Just(Tolerance::Normal),
        1 => Just(Tolerance::Fine),
    ]
}

/// How far an edge draws the outline in, at a height over its face: a straight line, or a quarter
/// circle (circle equation).
fn inset_of(edge: Edge, height: f64) -> f64 {
    let size = edge.size();
    let left = (size - height).max(0.0);
    match edge {
        Edge::Square => 0.0,
        Edge::Chamfer(_) => left,
        Edge::Round(_) => size - (size * size - left * left).sqrt(),
    }
}

/// The volume of a layout by another road: slices by the integer overlay and its offsets (`i_overlay`),
/// added up by Gauss–Legendre quadrature (three points, exact to the fifth degree) between the heights
/// at which anything starts or ends. Also the area of the flanks of treated edges, roughly, over which
/// a curve followed to a tolerance may be off by that.
fn volume_by_slices(layout: &Layout) -> (f64, f64) {
    let prisms: Vec<&Prism> = layout.prisms().filter(|prism| prism.act != Act::Paints).collect();
    let insets = |prism: &Prism, z: f64| {
        let below = if prism.bottom.is_finite() { z - prism.bottom } else { f64::INFINITY };
        let above = if prism.top.is_finite() { prism.top - z } else { f64::INFINITY };
        inset_of(prism.bottom_edge, below).max(inset_of(prism.top_edge, above))
    };
    let area = |z: f64| {
        let here = prisms.iter().filter(|prism| prism.bottom < z && z < prism.top);
        let region = here.fold(Region::default(), |region, prism| {
            let inset = insets(prism, z);
            match prism.act {
                Act::Cuts => region.difference(&prism.outline.offset(inset, layout.tolerance)),
                _ => region.union(&prism.outline.offset(-inset, layout.tolerance)),
            }
        });
        region.area()
    };
    let mut breaks: Vec<f64> = prisms
        .iter()
        .flat_map(|prism| {
            let (low, high) = (prism.bottom_edge.size(), prism.top_edge.size());
            // A quarter circle is steep where it starts.
            let rounds = [low / 8.0, low / 2.0].map(|part| prism.bottom + part);
            let others = [high / 8.0, high / 2.0].map(|part| prism.top - part);
            [prism.bottom, prism.bottom + low, prism.top - high, prism.top]
                .into_iter()
                .chain(rounds)
                .chain(others)
        })
        .filter(|height| height.is_finite())
        .collect();
    breaks.sort_by(f64::total_cmp);
    breaks.dedup_by(|a, b| *a - *b < 1e-6);
    // Where a slope runs out of what is cut, the area has a kink at a height of its own.
    let is_sloped = prisms.iter().any(|one| one.bottom_edge.size() + one.top_edge.size() > 0.0);
    let panels = if is_sloped { 4 } else { 1 };
    let at = |pair: &[f64], i: usize| pair[0] + (pair[1] - pair[0]) * i as f64 / f64::from(panels);
    let within = |pair: &[f64]| {
        (0..panels as usize).map(|i| [at(pair, i), at(pair, i + 1)]).collect::<Vec<_>>()
    };
    let volume = breaks.windows(2).flat_map(within).map(|pair| {
        let (middle, half) = ((pair[0] + pair[1]) / 2.0, (pair[1] - pair[0]) / 2.0);
        let off = half * 0.6f64.sqrt();
        half * (5.0 * (area(middle - off) + area(middle + off)) + 8.0 * area(middle)) / 9.0
    });
    let flank = |prism: &&Prism| {
        let around: f64 =
            prism.outline.edges().map(|((ax, ay), (bx, by))| (bx - ax).hypot(by - ay)).sum();
        // The chords of a round lie inside it; a chamfer has curves only round corners that open.
        let strays = |edge: Edge| match edge {
            Edge::Round(_) => 1.2 * edge.size(),
            edge => 0.1 * edge.size(),
        };
        // A cut widens: round every contour by half its edge on average.
        let contours = prism.outline.contours().len() as f64;
        let wider = |edge: Edge| match prism.act {
            Act::Cuts => PI * edge.size() * contours,
            _ => 0.0,
        };
        let flank = |edge: Edge| (around + wider(edge)) * strays(edge);
        flank(prism.top_edge) + flank(prism.bottom_edge)
    };
    (volume.sum(), prisms.iter().map(flank).sum())
}

/// Letters so close that their chamfers would run into each other, two of them in two places at once:
/// the chamfers are drawn back, and the volume is that of the sections.
#[test]
fn chamfers_of_close_letters_stay_apart() {
    let edits = [
        set(
            "blank",
            "outline",
            json!({ "contour": { "offset": 0.5, "crevices": 0.0, "gaps": 0.0 } }),
        ),
        add(ElementKind::Lettering),
        set("lettering-1", "lines.0.words", json!("ğülß")),
        set("lettering-1", "typeface", json!("baloo-2")),
        set("lettering-1", "size", json!({ "height": 3.0 })),
        set("lettering-1", "relief", json!({ "recessed": { "by": 0.5 } })),
        set("lettering-1", "edge", json!({ "chamfer": 0.4 })),
    ];
    let piece = edited(&Piece::new("Test", Unit::Millimetre), &edits);
    for tolerance in [Tolerance::Draft, Tolerance::Normal, Tolerance::Fine] {
        let found = worked(&piece, tolerance);
        let cuts = found.layout.prisms().filter(|prism| prism.act == Act::Cuts);
        for prism in cuts {
            let grown = prism.outline.offset(prism.top_edge.size(), tolerance);
            let parts = |region: &Region| region.parts().len();
            assert_eq!(parts(&grown), parts(&prism.outline), "{tolerance:?}");
        }
        let (exact, _) = volume_by_slices(&found.layout);
        assert!((found.measures.volume - exact).abs() < 5e-3, "{} {exact}", found.measures.volume);
    }
}

proptest! {
    #[test]
    fn every_piece_is_closed_outward_and_as_large_as_its_sections(
        piece in any_piece(),
        tolerance in any_tolerance(),
    ) {
        prop_assert_eq!(piece.problems(), vec![]);
        let found = worked(&piece, tolerance);
        // A piece may come to nothing or reach too far; whatever else is asked can be built.
        match &found.stop {
            None => {}
            Some(Stop::OutOfReach { element }) => {
                let placed = found.layout.element(element).unwrap();
                let reach = placed.region.bounds().unwrap();
                let far = [reach.x0, reach.y0, reach.x1, reach.y1].map(f64::abs);
                prop_assert!(far.into_iter().fold(0.0, f64::max) > MAX_COORDINATE_MM);
                return Ok(());
            }
            Some(Stop::NothingLeft) => {
                let (volume, _) = volume_by_slices(&found.layout);
                prop_assert!(volume < 0.1, "{} mm³ should be left", volume);
                return Ok(());
            }
            Some(stop) => prop_assert!(false, "{:?} in\n{}", stop, write(&piece)),
        }
        let faults = found.mesh.faults();
        prop_assert!(faults.is_sound(), "{:?}", faults);
        prop_assert!(found.measures.volume > 0.0);
        // Parts that touch along an edge are written a little apart, which takes a little off; and where
        // contours nearly run along each other the overlay moves them by steps of the grid.
        let parted = if found.partings.count > 0 { 0.2 + 1e-3 * found.measures.area } else { 5e-3 };
        let (exact, flanks) = volume_by_slices(&found.layout);
        // Half a step of the grid at every height, and what curves may keep off their circles.
        let slack = parted + 1e-5 * exact + tolerance.chord_mm() * flanks;
        let volume = found.measures.volume;
        prop_assert!((volume - exact).abs() <= slack, "{} is not {}, by {}", volume, exact, slack);

        // The bodies are sound, and together they are the whole.
        let mut together = 0.0;
        for body in &found.bodies {
            let faults = body.mesh.faults();
            prop_assert!(faults.is_sound() && body.volume > 0.0, "{:?}", faults);
            prop_assert!(body.mesh.vertices.len() < 3 * body.mesh.triangles.len());
            together += body.volume;
        }
        prop_assert!((together - volume).abs() <= 1e-9 * volume, "{} {}", together, volume);

        // The file says the same to whoever welds its f32 corners.
        let welded = stl::read(&stl::write_binary(&found.mesh, "x")).unwrap();
        prop_assert!(welded.faults().is_sound());
        prop_assert!((welded.measures().volume - found.measures.volume).abs() <= 1e-6 * volume);
    }

    #[test]
    fn every_piece_survives_its_file(piece in any_piece()) {
        prop_assert_eq!(read(write(&piece).as_bytes()), Ok(piece));
    }
}
