//! What of a drawing is there once it is printed.
//!
//! A line of plastic has a width. What is narrower than it is not drawn: of a shape all is left that such a line,
//! laid anywhere within it, covers (opening by a disc; Serra 1982, as [`Region::necks`]). And what lies nearer together than a gap
//! stays open runs together (closing). Of something cut it is the other way round: its walls are what is drawn.

use crate::cache::Cache;
use crate::evaluate::{Evaluation, Placed};
use crate::halt::Halted;
use crate::piece::{Address, ElementKind, Piece};
use crate::plane::{Region, Tolerance};
use crate::solid::Act;
use crate::workshop::Workshop;

/// An element as it is printed, seen from its face.
#[derive(Debug, Clone)]
pub struct Printed {
    /// The element.
    pub target: Address,
    /// What of it is drawn and not printed.
    pub lost: Region,
    /// What of it is printed and not drawn.
    pub closed: Region,
}

/// Slivers are no loss, in mm².
const SLIVER_MM2: f64 = 0.002;

/// Larger elements are not looked at, in points.
const MOST_POINTS: usize = 40_000;

/// What every element loses or closes when it is printed; those that do neither are left out.
///
/// # Errors
/// [`Halted`] where the work was stopped.
pub fn printed(
    piece: &Piece,
    evaluation: &Evaluation,
    workshop: &Workshop<'_>,
) -> Result<Vec<Printed>, Halted> {
    let mut all = Vec::new();
    for (component, made) in piece.components.iter().zip(&evaluation.components) {
        for placed in &made.layout.elements {
            workshop.go_on()?;
            let is_drawn = !matches!(placed.kind, ElementKind::Loop | ElementKind::Recess);
            if !is_drawn || placed.region.vertex_count() > MOST_POINTS {
                continue;
            }
            let (lost, closed) = of_element(piece, placed, made.layout.tolerance, workshop.cache);
            if lost.is_empty() && closed.is_empty() {
                continue;
            }
            let target = component.element_address(&placed.id);
            all.push(Printed { target, lost, closed });
        }
    }
    Ok(all)
}

fn of_element(
    piece: &Piece,
    placed: &Placed,
    tolerance: Tolerance,
    cache: &Cache,
) -> (Region, Region) {
    let [line, gap] = [piece.printer.line, piece.printer.gap].map(|length| length.as_mm());
    let (narrowest, nearest) = if placed.act == Act::Cuts { (gap, line) } else { (line, gap) };
    let drawn = &placed.region;
    let opened = cache.offset(drawn, -narrowest / 2.0, tolerance);
    let opened = cache.offset(&opened, narrowest / 2.0, tolerance);
    let grown = cache.offset(&opened, nearest / 2.0, tolerance);
    let closed = cache.offset(&grown, -nearest / 2.0, tolerance);
    let worth = |region: Region| {
        let parts = region.clumps().into_iter().filter(|part| part.area() > SLIVER_MM2);
        Region::gather(parts.collect())
    };
    (worth(drawn.difference(&opened)), worth(closed.difference(&opened).difference(drawn)))
}
