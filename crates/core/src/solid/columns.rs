//! Columns: what is solid above every cell of an arrangement.

use super::slopes::{Slope, Slopes};
use super::{Act, Colour, Layer, Sections, Slab};
use crate::halt::heed_at;
use crate::plane::{Arrangement, ArrangementError, Line, Linework, Region};

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

/// What columns stand on: the outlines and ridges of sections, and the lines along which their slopes cross, laid
/// over each other.
pub(super) struct Base {
    linework: Linework,
    arrangement: Arrangement,
    slopes: Slopes,
}

impl Base {
    /// The base of sections, whose heights are given in grid steps.
    pub(super) fn of(sections: &Sections, heights: &[i32]) -> Result<Self, ArrangementError> {
        let mut linework = Linework::default();
        let footprints: Vec<&Region> = sections.footprints.iter().collect();
        linework.add(&footprints, &sections.ridges)?;
        let mut arrangement = linework.arrangement()?;
        let slopes = Slopes::of(sections);
        let crossings = crossings(sections, &arrangement, heights, &slopes);
        if !crossings.is_empty() {
            linework.add(&[], &crossings)?;
            arrangement = linework.arrangement()?;
        }
        Ok(Base { linework, arrangement, slopes })
    }

    /// The same with footprints the sections got since, of which upright layers are made.
    pub(super) fn extend(&mut self, sections: &Sections) -> Result<(), ArrangementError> {
        let new: Vec<&Region> = sections.footprints[self.linework.footprints()..].iter().collect();
        self.linework.add(&new, &[])?;
        self.arrangement = self.linework.arrangement()?;
        Ok(())
    }
}

/// What stands above every cell of an arrangement.
pub(super) struct Columns<'a> {
    pub(super) arrangement: &'a Arrangement,
    /// All that is solid, whatever its colour.
    pub(super) whole: Spans,
    /// What of it is of each colour, where there are several.
    pub(super) by_colour: Vec<(Colour, Spans)>,
}

impl<'a> Columns<'a> {
    /// The columns of sections on their base.
    pub(super) fn of(base: &'a Base, sections: &Sections, heights: &[i32]) -> Self {
        let Base { arrangement, slopes, .. } = base;
        let spans = spans(sections, arrangement, heights, slopes);
        let colours = sections.colours();
        if colours.len() < 2 {
            return Columns { arrangement, whole: spans, by_colour: Vec::new() };
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
        Columns { arrangement, whole, by_colour }
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

/// A layer over the cells of a cover, in a slab.
struct LayerOver {
    /// Its number in the slab.
    number: usize,
    act: Act,
    colour: Colour,
    reach: Reach,
}

/// How far a layer reaches over a cell within a slab.
#[derive(Clone, Copy, PartialEq, Eq)]
enum Reach {
    /// From the foot to the head.
    Throughout,
    /// From the foot to its slope: it covers only there.
    BelowSlope,
    /// From its slope to the head.
    AboveSlope,
}

/// What lies over the cells of a cover in a slab.
struct SlabOver {
    layers: Vec<LayerOver>,
    /// The slopes there may be: those of the layers that cover either only at the foot or only at the head.
    slopes: Vec<Slope>,
    /// The colour of all of it where there are none.
    level: Option<Colour>,
}

impl SlabOver {
    /// Every slab over the cells of a cover, lowest first.
    fn all(sections: &Sections, arrangement: &Arrangement, cover: u32) -> Vec<Self> {
        let has = |footprint: usize| arrangement.covers.has(cover, footprint);
        let of_slab = |(slab, slices): (usize, &Slab)| {
            let mut over = SlabOver { layers: Vec::new(), slopes: Vec::new(), level: None };
            for (number, &Layer { act, colour, foot, head, .. }) in slices.layers.iter().enumerate()
            {
                let reach = match (has(foot), has(head)) {
                    (false, false) => continue,
                    (true, true) => Reach::Throughout,
                    (true, false) => Reach::BelowSlope,
                    (false, true) => Reach::AboveSlope,
                };
                if reach != Reach::Throughout {
                    over.slopes.push(Slope { slab, layer: number });
                }
                over.layers.push(LayerOver { number, act, colour, reach });
            }
            over.level = over.colour(0, &[]);
            over
        };
        sections.slabs.iter().enumerate().map(of_slab).collect()
    }

    /// The colour of what lies above so many of its slopes, lowest first; nothing where it is not solid.
    fn colour(&self, storey: usize, slopes: &[(Slope, [i32; 3])]) -> Option<Colour> {
        let mut below = None;
        for layer in &self.layers {
            if layer.reach != Reach::Throughout {
                let place = slopes.iter().position(|(slope, _)| slope.layer == layer.number);
                let Some(place) = place else { continue };
                if (storey <= place) != (layer.reach == Reach::BelowSlope) {
                    continue;
                }
            }
            below = match layer.act {
                Act::Adds => Some(layer.colour),
                Act::Cuts => None,
                Act::Paints => below.and(Some(layer.colour)),
            };
        }
        below
    }
}

/// The lines along which slopes cross.
fn crossings(
    sections: &Sections,
    arrangement: &Arrangement,
    heights: &[i32],
    slopes: &Slopes,
) -> Vec<Line> {
    let mut lines = Vec::new();
    if slopes.are_none() {
        return lines;
    }
    let of_cover: Vec<Vec<Slope>> = (0..arrangement.covers.count() as u32)
        .map(|cover| {
            let slabs = SlabOver::all(sections, arrangement, cover);
            slabs.into_iter().flat_map(|slab| slab.slopes).collect()
        })
        .collect();
    let mut heights = slopes.over(sections, heights, arrangement);
    for (at, cell) in arrangement.cells.iter().enumerate() {
        heed_at(at);
        let here = &of_cover[cell.cover as usize];
        if here.len() > 1 {
            heights.crossings(at, here, &mut lines);
        }
    }
    lines
}

/// The spans above every cell.
fn spans(
    sections: &Sections,
    arrangement: &Arrangement,
    heights: &[i32],
    slopes: &Slopes,
) -> Spans {
    let mut spans =
        Spans { spans: Vec::new(), of_cell: Vec::with_capacity(arrangement.cells.len()) };
    let mut over = slopes.over(sections, heights, arrangement);
    // What lies over the cells of a cover, and the spans they share where all of it is level.
    type Known = (Vec<SlabOver>, Option<(u32, u32)>);
    let mut known: Vec<Option<Known>> = (0..arrangement.covers.count()).map(|_| None).collect();
    for (at, cell) in arrangement.cells.iter().enumerate() {
        heed_at(at);
        let (slabs, shared) = known[cell.cover as usize]
            .get_or_insert_with(|| (SlabOver::all(sections, arrangement, cell.cover), None));
        let range = shared.unwrap_or_else(|| {
            let start = spans.spans.len();
            build(&mut spans.spans, slabs, heights, |slopes| over.over_cell(at, slopes));
            (start as u32, spans.spans.len() as u32)
        });
        if shared.is_none() && slabs.iter().all(|slab| slab.slopes.is_empty()) {
            *shared = Some(range);
        }
        spans.of_cell.push(range);
    }
    spans
}

/// Adds the spans of a column, given the slopes of a slab with their heights, lowest first.
fn build(
    spans: &mut Vec<Span>,
    slabs: &[SlabOver],
    heights: &[i32],
    mut over_cell: impl FnMut(&[Slope]) -> Vec<(Slope, [i32; 3])>,
) {
    let start = spans.len();
    for (slab, pair) in slabs.iter().zip(heights.windows(2)) {
        let [bottom, top] = [pair[0], pair[1]].map(|height| [height; 3]);
        if slab.slopes.is_empty() {
            if let Some(colour) = slab.level {
                stack(spans, start, Span { colour, low: bottom, high: top });
            }
            continue;
        }
        let slopes = over_cell(&slab.slopes);
        let mut low = bottom;
        // Between two neighbouring slopes nothing changes.
        for storey in 0..=slopes.len() {
            let high = slopes.get(storey).map_or(top, |(_, heights)| *heights);
            if let Some(colour) = slab.colour(storey, &slopes) {
                stack(spans, start, Span { colour, low, high });
            }
            low = high;
        }
    }
}
