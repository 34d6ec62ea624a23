//! Random pieces of plates: every kind of element, on either face, in any order, with every edge, relief and colour.

use super::common::element;
use kalotype_core::emblems::EMBLEMS;
use kalotype_core::filament::shipped_palette;
use kalotype_core::lettering::{Align, CircleSide, Reading, Style, TYPEFACES};
use kalotype_core::piece::{
    Across, AcrossClear, BothEdges, BridgeCount, BridgeRun, Bridges, CircleCourse, Code, Contour,
    Corner, Corners, Course, Depth, Edge, Element, Emblem, FaceName, FieldShape, Fills, Gives,
    Halo, HaloCorners, Height, Hole, HolePlace, HoleShape, Inlay, Input, Kind, LetterBox,
    LetterSize, Lettering, LetteringPlace, Level, Loop, LoopPlace, Motif, Offset, Outline,
    OwnShape, OwnThickness, Pattern, Piece, Polygon, PolygonSize, Recess, Relief, Repeat, Rim,
    Ring, RoundWhat, Row, Scallop, SitsBy, Star, Symbol, Tag, TextLine, Up, UpClear,
};
use kalotype_core::plane::Tolerance;
use kalotype_core::units::{Length, Unit};
use proptest::prelude::*;

fn offsets<D: Copy + std::fmt::Debug + 'static>(from: Vec<D>) -> impl Strategy<Value = Offset<D>> {
    // Coarse steps, so that things also touch exactly.
    (prop::sample::select(from), -20i32..60).prop_map(|(from, distance)| Offset {
        from,
        distance: Length::mm(f64::from(distance) / 2.0),
    })
}

pub fn halves(range: std::ops::Range<i32>) -> impl Strategy<Value = Length> {
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

pub fn any_piece() -> impl Strategy<Value = Piece> {
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
        let mut piece = Piece::new("Test", Unit::Millimetre);
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
pub fn any_tolerance() -> impl Strategy<Value = Tolerance> {
    prop_oneof![
        3 => Just(Tolerance::Draft),
        2 => Just(Tolerance::Normal),
        1 => Just(Tolerance::Fine),
    ]
}
