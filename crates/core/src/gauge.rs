//! Gauges: pieces that are printed to learn what fits on a printer.
//!
//! A gauge is a plate with openings for one and the same part, each a little wider than the one before,
//! with its clearance beside it, and that part. What goes in by hand, what needs a mallet and what does
//! not go in at all is read off, and the fits of the printer follow from it ([`read_off`]).

use crate::lettering::Style;
use crate::piece::{
    Across, AcrossClear, BothEdges, Component, Corner, Corners, Depth, Edge, Element, FaceName,
    FieldShape, Fits, Hole, HolePlace, HoleShape, Kind, Lettering, LetteringPlace, Offset, Outline,
    OwnShape, Piece, Plate, Printer, Recess, Relief, Repeat, Up, UpClear,
};
use crate::units::{Length, Unit};
use serde::{Deserialize, Serialize};

/// What is tried.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum GaugeJoint {
    /// A plate in slots.
    Slot,
    /// A peg in bores.
    Bore,
    /// A stub as wide as a pipe in bores: for caps, plugs and rings.
    Cap,
}

impl GaugeJoint {
    /// All of them, in the order they are offered.
    pub const ALL: [GaugeJoint; 3] = [GaugeJoint::Slot, GaugeJoint::Bore, GaugeJoint::Cap];

    /// What it is called: "a plate in slots".
    pub fn title(self) -> &'static str {
        match self {
            GaugeJoint::Slot => "a plate in slots",
            GaugeJoint::Bore => "a peg in bores",
            GaugeJoint::Cap => "a pipe’s end in bores",
        }
    }

    /// Width and depth of the part across its opening, in mm.
    pub fn part(self) -> [f64; 2] {
        match self {
            GaugeJoint::Slot => [16.0, 3.0],
            GaugeJoint::Bore => [6.0, 6.0],
            GaugeJoint::Cap => [20.0, 20.0],
        }
    }
}

/// The clearances that are tried, in mm: from tighter than most printers manage to loose.
pub const CLEARANCES: [f64; 10] = [0.05, 0.1, 0.15, 0.2, 0.25, 0.3, 0.35, 0.4, 0.45, 0.5];

/// How far the part goes in.
const DEEP_MM: f64 = 6.0;
const FLOOR_MM: f64 = 1.2;
const COLUMNS: usize = 5;
const LETTERS_MM: f64 = 4.5;
/// Figures of one opening stand clear of those of the next.
const LEAST_PITCH_MM: f64 = 15.0;
/// Figures stand apart by this much of their size more than they would in words, so that what stays between
/// them prints.
const APART: f64 = 0.06;

/// The gauge of a joint for a printer.
pub fn gauge(joint: GaugeJoint, printer: &Printer) -> Piece {
    let [wide, deep] = joint.part();
    let (pitch, rise) = ((wide + 8.0).max(LEAST_PITCH_MM), deep + LETTERS_MM + 9.0);
    let rows = CLEARANCES.len() / COLUMNS;
    let mut piece = Piece::new(&format!("Gauge, {}", joint.title()), Unit::Millimetre);
    piece.give_printer(printer.clone());
    let more = 2.0 * printer.growth.as_mm();
    let plate = plate(
        [COLUMNS as f64 * pitch + 4.0, rows as f64 * rise + 3.0, DEEP_MM + FLOOR_MM],
        Corner::Round(Length::mm(2.0)),
    );
    let mut tried = Component::new(Component::FIRST, "Gauge", crate::piece::Blank::Plate(plate));
    for (i, clearance) in CLEARANCES.into_iter().enumerate() {
        let x = ((i % COLUMNS) as f64 - (COLUMNS as f64 - 1.0) / 2.0) * pitch;
        let row = (rows as f64 - 1.0) / 2.0 - (i / COLUMNS) as f64;
        let y = row * rise;
        let number = i + 1;
        let opening = opening(joint, clearance + more, (x, y + (LETTERS_MM + 2.0) / 2.0));
        let word = match joint {
            GaugeJoint::Slot => format!("recess-{number}"),
            _ => format!("hole-{number}"),
        };
        tried.elements.push(element(&word, opening));
        let label = label(&format!("{clearance:.2}"), (x, y - deep / 2.0 - 1.0));
        tried.elements.push(element(&format!("lettering-{number}"), label));
    }
    piece.components = vec![tried, part_of(joint)];
    piece
}

/// What is tried in the openings, lying on the bed as it prints best.
fn part_of(joint: GaugeJoint) -> Component {
    let [wide, deep] = joint.part();
    let blank = match joint {
        // Its lower edge goes in, so it is printed lying.
        GaugeJoint::Slot => plate([wide, 3.0 * DEEP_MM, deep], Corner::Square),
        GaugeJoint::Bore | GaugeJoint::Cap => {
            let round = plate([wide, deep, 2.0 * DEEP_MM], Corner::Square);
            Plate { outline: Outline::Ellipse, ..round }
        }
    };
    Component::new("component-2", "To try", crate::piece::Blank::Plate(blank))
}

fn plate([width, height, thickness]: [f64; 3], corner: Corner) -> Plate {
    Plate {
        width: Length::mm(width),
        height: Length::mm(height),
        thickness: Length::mm(thickness),
        outline: Outline::Rectangle(Corners::all(corner)),
        ..Plate::default()
    }
}

fn element(id: &str, kind: Kind) -> Element {
    Element { id: id.to_owned(), locked: true, face: FaceName::Front, kind }
}

fn opening(joint: GaugeJoint, clearance: f64, (x, y): (f64, f64)) -> Kind {
    let [wide, deep] = joint.part().map(|mm| Length::mm(mm + clearance));
    match joint {
        GaugeJoint::Slot => Kind::Recess(Recess {
            shape: FieldShape::Own(OwnShape {
                width: wide,
                height: deep,
                outline: Outline::Rectangle(Corners::all(Corner::Square)),
                turn: 0.0,
                fit: None,
            }),
            depth: Depth::By(Length::mm(DEEP_MM)),
            floor: None,
            edge: Edge::Square,
            place: lettering_place((x, y)),
            repeat: Repeat::Once,
        }),
        GaugeJoint::Bore | GaugeJoint::Cap => Kind::Hole(Hole {
            shape: HoleShape::Round,
            diameter: wide,
            turn: 0.0,
            depth: Some(Length::mm(DEEP_MM)),
            edges: BothEdges::default(),
            place: HolePlace {
                across: Offset { from: Across::Centre, distance: Length::mm(x) },
                up: Offset { from: Up::Centre, distance: Length::mm(y) },
            },
            repeat: Repeat::Once,
        }),
    }
}

fn lettering_place((x, y): (f64, f64)) -> LetteringPlace {
    LetteringPlace {
        across: Offset { from: AcrossClear::Centre, distance: Length::mm(x) },
        up: Offset { from: UpClear::Centre, distance: Length::mm(y) },
        ..LetteringPlace::in_clear_area()
    }
}

fn label(words: &str, place: (f64, f64)) -> Kind {
    Kind::Lettering(Lettering {
        relief: Relief::recessed(0.6),
        place: lettering_place(place),
        style: Style { spacing: APART, ..Style::default() },
        ..Lettering::one_line(words, "nunito", Length::mm(LETTERS_MM))
    })
}

/// How a part went into an opening.
#[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Went {
    /// Not at all.
    Not,
    /// With a mallet.
    Mallet,
    /// By hand.
    Hand,
    /// In and out by itself.
    Itself,
}

/// The fits that follow from what went in how, tightest first, one for each of [`CLEARANCES`].
///
/// Press is the tightest that went in with a mallet, snug the tightest that went in by hand, sliding the
/// tightest that went in by itself, loose twice as far beyond that as sliding lies beyond snug. What was
/// not found lies a step of the gauge beside its neighbour (common practice, no source).
///
/// # Errors
/// A reading of another length, one that contradicts itself, or one in which nothing went in by hand.
pub fn read_off(went: &[Went]) -> Result<Fits, String> {
    const STEP_MM: f64 = 0.05;
    if went.len() != CLEARANCES.len() {
        return Err(format!("A reading has {} answers, not {}.", CLEARANCES.len(), went.len()));
    }
    for (pair, clearances) in went.windows(2).zip(CLEARANCES.windows(2)) {
        if pair[0] > pair[1] {
            let [tight, wide] = [clearances[0], clearances[1]];
            return Err(format!(
                "{wide:.2} mm went in less easily than {tight:.2} mm, which is tighter. Try both again."
            ));
        }
    }
    let first = |how: Went| went.iter().position(|one| *one >= how).map(|at| CLEARANCES[at]);
    let Some(snug) = first(Went::Hand) else {
        return Err(
            "Nothing went in by hand: this printer draws outside its lines. Set its growth, or \
                    print the gauge again more slowly, before it is read off."
                .to_owned(),
        );
    };
    let mallet = went.iter().position(|one| *one == Went::Mallet).map(|at| CLEARANCES[at]);
    let press = mallet.unwrap_or(snug - STEP_MM).min(snug);
    let sliding = first(Went::Itself).unwrap_or(snug + 2.0 * STEP_MM).max(snug);
    let loose = sliding + 2.0 * (sliding - snug).max(STEP_MM);
    let [press, snug, sliding, loose] =
        [press, snug, sliding, loose].map(|mm| Length::mm((mm * 1000.0).round() / 1000.0));
    Ok(Fits { press, snug, sliding, loose })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::plane::Tolerance;
    use crate::testing::worked;
    use Went::{Hand, Itself, Mallet, Not};

    /// Every opening is as much larger than the part as stands beside it.
    #[test]
    fn openings_are_wider_than_the_part_by_what_stands_beside_them() {
        for joint in GaugeJoint::ALL {
            let piece = gauge(joint, &Printer::default());
            assert_eq!(piece.problems(), Vec::new());
            let found = worked(&piece, Tolerance::Normal);
            assert!(found.stop.is_none() && found.mesh.faults().is_sound());
            assert_eq!(found.findings, Vec::new(), "{joint:?}");
            let [wide, deep] = joint.part();
            let mut tried = 0;
            for (i, clearance) in CLEARANCES.into_iter().enumerate() {
                let word = if joint == GaugeJoint::Slot { "recess" } else { "hole" };
                let placed = found.layout.element(&format!("{word}-{}", i + 1)).unwrap();
                let bounds = placed.region.bounds().unwrap();
                assert!((bounds.width() - wide - clearance).abs() < 1e-4, "{joint:?} {clearance}");
                assert!((bounds.height() - deep - clearance).abs() < 1e-4, "{joint:?} {clearance}");
                let label = piece.first().element(&format!("lettering-{}", i + 1)).unwrap();
                assert_eq!(label.name(), format!("{clearance:.2}"));
                tried += 1;
            }
            assert_eq!(tried, CLEARANCES.len());
        }
    }

    /// What is known to grow is drawn wider everywhere: in the gauge and in what is made by its reading.
    #[test]
    fn growth_is_drawn_into_every_opening() {
        let grows = Printer { growth: Length::mm(0.06), ..Printer::default() };
        let found = worked(&gauge(GaugeJoint::Slot, &grows), Tolerance::Normal);
        let [wide, _] = GaugeJoint::Slot.part();
        let first = found.layout.element("recess-1").unwrap().region.bounds().unwrap();
        assert!((first.width() - wide - CLEARANCES[0] - 0.12).abs() < 1e-4);
        let fits = grows.drawn();
        assert!((fits.clearance(crate::piece::Fit::Snug) - 0.22).abs() < 1e-12);
        let typed = crate::piece::Fit::Clearance(Length::mm(0.3));
        assert!((fits.clearance(typed) - 0.3).abs() < 1e-12, "what is typed is drawn");
    }

    #[test]
    fn fits_follow_from_what_went_in() {
        let all = [Not, Mallet, Mallet, Hand, Hand, Itself, Itself, Itself, Itself, Itself];
        let mm = Length::mm;
        let wanted = Fits { press: mm(0.1), snug: mm(0.2), sliding: mm(0.3), loose: mm(0.5) };
        assert_eq!(read_off(&all), Ok(wanted));
        // A printer that draws exactly: everything goes in by itself.
        let wanted = Fits { press: mm(0.0), snug: mm(0.05), sliding: mm(0.05), loose: mm(0.15) };
        assert_eq!(read_off(&[Itself; 10]), Ok(wanted));
        // One that draws wide: only the widest goes in by hand.
        let mut wide = [Not; 10];
        wide[9] = Hand;
        let wanted = Fits { press: mm(0.45), snug: mm(0.5), sliding: mm(0.6), loose: mm(0.8) };
        assert_eq!(read_off(&wide), Ok(wanted));
        assert!(read_off(&[Not; 10]).unwrap_err().contains("Nothing went in by hand"));
        assert!(read_off(&[Mallet; 10]).is_err());
        let mut odd = all;
        odd[6] = Not;
        assert!(read_off(&odd).unwrap_err().contains("0.35 mm went in less easily than 0.30 mm"));
        assert!(read_off(&all[..9]).is_err());
    }
}
