//! Columns: what is solid above every cell of an arrangement.

use super::slopes::{Heights, Slope, Slopes};
use super::{Act, Colour, Sections};
use crate::halt::heed_at;
use crate::plane::{Arrangement, ArrangementError, Line, Region};

/// A stretch of a column that is solid and of one colour: from a lower to an upper surface, given by
/// their heights at the cell's three corners, in grid steps.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(super) struct Span {
    pub colour: Colour,
    pub low: [i32; 3],
    pub high: [i32; 3],
}

/// The spans above every cell, lowest first. Cells that are alike share theirs.
#[derive(Debug, Clone, Default)]
pub(super) struct Spans {
    spans: Vec<Span>,
    of_cell: Vec<(u32, u32)>,
}

impl Spans {
    /// The spans above a cell.
    pub(super) fn of(&self, cell: usize) -> &[Span] {
        let (from, to) = self.of_cell[cell];
        &self.spans[from as usize..to as usize]
    }

    /// Whether two cells share their spans, which are level.
    pub(super) fn are_shared(&self, one: usize, other: usize) -> bool {
        self.of_cell[one] == self.of_cell[other]
    }

    /// The same with every column changed.
    fn each(&self, change: impl Fn(&[Span], &mut Vec<Span>)) -> Spans {
        let mut changed =
            Spans { spans: Vec::with_capacity(self.spans.len()), of_cell: Vec::new() };
        let mut known = rustc_hash::FxHashMap::default();
        for range in &self.of_cell {
            let new = known.entry(*range).or_insert_with(|| {
                let start = changed.spans.len() as u32;
                change(&self.spans[range.0 as usize..range.1 as usize], &mut changed.spans);
                (start, changed.spans.len() as u32)
            });
            changed.of_cell.push(*new);
        }
        changed
    }
}

/// What stands above every cell of an arrangement.
pub(super) struct Columns {
    pub(super) arrangement: Arrangement,
    /// All that is solid, whatever its colour.
    pub(super) whole: Spans,
    /// What of it is of each colour, where there are several.
    pub(super) by_colour: Vec<(Colour, Spans)>,
}

impl Columns {
    /// The columns of sections, whose heights are given in grid steps.
    pub(super) fn of(sections: &Sections, heights: &[i32]) -> Result<Self, ArrangementError> {
        let footprints: Vec<&Region> = sections.footprints.iter().collect();
        let mut arrangement = Arrangement::of(&footprints, &sections.ridges)?;
        let slopes = Slopes::of(sections, heights);
        let crossings = crossings(sections, &arrangement, &slopes);
        if !crossings.is_empty() {
            let lines = [&sections.ridges[..], &crossings].concat();
            arrangement = Arrangement::of(&footprints, &lines)?;
        }
        let spans = spans(sections, &arrangement, heights, &slopes);
        let colours = sections.colours();
        if colours.len() < 2 {
            return Ok(Columns { arrangement, whole: spans, by_colour: Vec::new() });
        }
        let whole = spans.each(|column, whole| {
            let start = whole.len();
            column.iter().for_each(|span| stack(whole, start, Span { colour: 0, ..*span }));
        });
        let of_colour = |colour: Colour| {
            let own = spans.each(|column, own| {
                own.extend(column.iter().filter(|span| span.colour == colour));
            });
            (colour, own)
        };
        let by_colour = colours.into_iter().map(of_colour).collect();
        Ok(Columns { arrangement, whole, by_colour })
    }
}

/// Puts a span on a column that starts at a place, joined to the one below where they meet.
fn stack(column: &mut Vec<Span>, start: usize, span: Span) {
    if span.low == span.high {
        return;
    }
    match column[start..].last_mut() {
        Some(below) if below.high == span.low && below.colour == span.colour => {
            below.high = span.high;
        }
        _ => column.push(span),
    }
}

/// The slopes that may lie over the cells of a cover: in each slab those of the layers that cover
/// either only at the foot or only at the head.
fn slopes_of(sections: &Sections, arrangement: &Arrangement, cover: u32) -> Vec<Slope> {
    let has = |footprint: usize| arrangement.covers.has(cover, footprint);
    let slabs = sections.slabs.iter().enumerate();
    slabs
        .flat_map(|(slab, slices)| {
            let layers = slices.layers.iter().enumerate();
            layers
                .filter(|(_, layer)| layer.foot != layer.head && has(layer.foot) != has(layer.head))
                .map(move |(layer, _)| Slope { slab, layer })
        })
        .collect()
}

/// The lines along which slopes cross.
fn crossings(sections: &Sections, arrangement: &Arrangement, slopes: &Slopes<'_>) -> Vec<Line> {
    let mut lines = Vec::new();
    if slopes.are_none() {
        return lines;
    }
    let of_cover: Vec<Vec<Slope>> = (0..arrangement.covers.count() as u32)
        .map(|cover| slopes_of(sections, arrangement, cover))
        .collect();
    let mut heights = slopes.over(arrangement);
    for (at, cell) in arrangement.cells.iter().enumerate() {
        heed_at(at);
        let here = &of_cover[cell.cover as usize];
        if here.len() > 1 {
            heights.crossings(at, here, &mut lines);
        }
    }
    lines
}

/// What is known of the cells of a cover.
#[derive(Clone)]
enum OfCover {
    /// They share a column.
    Level((u32, u32)),
    /// These slopes may lie over them.
    Sloped(Vec<Slope>),
}

/// The spans above every cell.
fn spans(
    sections: &Sections,
    arrangement: &Arrangement,
    heights: &[i32],
    slopes: &Slopes<'_>,
) -> Spans {
    let mut spans =
        Spans { spans: Vec::new(), of_cell: Vec::with_capacity(arrangement.cells.len()) };
    let mut over = slopes.over(arrangement);
    let mut known: Vec<Option<OfCover>> = vec![None; arrangement.covers.count()];
    for (at, cell) in arrangement.cells.iter().enumerate() {
        heed_at(at);
        let cover = known[cell.cover as usize].get_or_insert_with(|| {
            let here = slopes_of(sections, arrangement, cell.cover);
            if !here.is_empty() {
                return OfCover::Sloped(here);
            }
            let start = spans.spans.len();
            let column = Column { sections, arrangement, heights, cover: cell.cover };
            column.build(&mut spans.spans, |_| Vec::new());
            OfCover::Level((start as u32, spans.spans.len() as u32))
        });
        let range = match cover {
            OfCover::Level(shared) => *shared,
            OfCover::Sloped(here) => {
                let start = spans.spans.len();
                let column = Column { sections, arrangement, heights, cover: cell.cover };
                column.build(&mut spans.spans, |slab| of_slab(&mut over, at, here, slab));
                (start as u32, spans.spans.len() as u32)
            }
        };
        spans.of_cell.push(range);
    }
    spans
}

/// The slopes of one slab over a cell, lowest first.
fn of_slab(
    over: &mut Heights<'_>,
    cell: usize,
    slopes: &[Slope],
    slab: usize,
) -> Vec<(Slope, [i32; 3])> {
    let from = slopes.partition_point(|slope| slope.slab < slab);
    let to = slopes.partition_point(|slope| slope.slab <= slab);
    over.over_cell(cell, &slopes[from..to])
}

/// A column over a cell.
struct Column<'a> {
    sections: &'a Sections,
    arrangement: &'a Arrangement,
    heights: &'a [i32],
    cover: u32,
}

impl Column<'_> {
    /// Adds its spans, given the slopes of each slab with their heights, lowest first.
    fn build(
        &self,
        spans: &mut Vec<Span>,
        mut slopes: impl FnMut(usize) -> Vec<(Slope, [i32; 3])>,
    ) {
        let start = spans.len();
        for (slab, pair) in self.heights.windows(2).enumerate() {
            let slopes = slopes(slab);
            let mut low = [pair[0]; 3];
            // Between two neighbouring slopes nothing changes.
            for storey in 0..=slopes.len() {
                let high = slopes.get(storey).map_or([pair[1]; 3], |(_, heights)| *heights);
                if let Some(colour) = self.colour(slab, storey, &slopes) {
                    stack(spans, start, Span { colour, low, high });
                }
                low = high;
            }
        }
    }

    /// The colour of what lies above so many of the slopes of a slab; nothing where it is not solid.
    fn colour(&self, slab: usize, storey: usize, slopes: &[(Slope, [i32; 3])]) -> Option<Colour> {
        let has = |footprint: usize| self.arrangement.covers.has(self.cover, footprint);
        let mut colour = None;
        for (number, layer) in self.sections.slabs[slab].layers.iter().enumerate() {
            let is_foot = has(layer.foot);
            let is_here = if is_foot == has(layer.head) {
                is_foot
            } else {
                // A layer that covers at the foot lies below its slope, one that does at the head above.
                let place = slopes.iter().position(|(slope, _)| slope.layer == number);
                place.is_some_and(|place| (storey <= place) == is_foot)
            };
            if is_here {
                colour = match layer.act {
                    Act::Adds => Some(layer.colour),
                    Act::Cuts => None,
                    Act::Paints => colour.and(Some(layer.colour)),
                };
            }
        }
        colour
    }
}
