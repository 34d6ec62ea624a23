//! What must hold for every piece, and what the sizes of plain pieces must come to.

mod common;
#[path = "common/random.rs"]
mod random;

use common::{add, edited, element, placed, set, worked};
use kalotype_core::evaluate::{Layout, Prism, Stop};
use kalotype_core::formats::stl;
use kalotype_core::piece::{
    Across, BothEdges, Corner, Corners, Depth, Edge, Element, ElementKind, Height, Hole, HolePlace,
    HoleShape, Lettering, LetteringPlace, Offset, Outline, Piece, Relief, Repeat, Up, read, write,
};
use kalotype_core::plane::{MAX_COORDINATE_MM, Region, Tolerance};
use kalotype_core::solid::Act;
use kalotype_core::units::{Length, Unit};
use proptest::prelude::*;
use random::{any_piece, any_tolerance};
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
