//! Columns: what is solid above every cell of an arrangement, slab by slab.

use super::{Colour, Sections};
use crate::plane::{Arrangement, ArrangementError, Cover, Region};
use std::collections::HashMap;

/// What is solid above every cell of an arrangement: bit `i` stands for slab `i`.
#[derive(Default)]
pub(super) struct Solid {
    /// Solid at the foot of the slab.
    pub(super) feet: Vec<u128>,
    /// Solid at its head.
    pub(super) heads: Vec<u128>,
}

/// What stands above every cell of an arrangement.
pub(super) struct Columns {
    pub(super) arrangement: Arrangement,
    /// All that is solid.
    pub(super) whole: Solid,
    /// What of it is of each colour, where there are several.
    pub(super) by_colour: Vec<(Colour, Solid)>,
    /// The slabs in which foot and head of a cell differ: a slope runs through it.
    pub(super) sloped: Vec<u128>,
}

/// A column of one cell: the feet and heads of the whole, and of every colour.
type Column = Vec<(u128, u128)>;

impl Columns {
    pub(super) fn of(sections: &Sections) -> Result<Self, ArrangementError> {
        let footprints: Vec<&Region> = sections.footprints.iter().collect();
        let arrangement = Arrangement::of(&footprints)?;
        let colours = sections.colours();
        let several = if colours.len() > 1 { &colours[..] } else { &[] };
        let mut index = [0; Colour::MAX as usize + 1];
        several.iter().enumerate().for_each(|(i, colour)| index[*colour as usize] = i + 1);

        let column = |cover: Cover| {
            let mut column: Column = vec![(0, 0); several.len() + 1];
            for (i, slab) in sections.slabs.iter().enumerate() {
                let (foot, head) = slab.colours(cover);
                let bit = 1u128 << i;
                if let Some(colour) = foot {
                    column[0].0 |= bit;
                    column[index[colour as usize]].0 |= bit;
                }
                if let Some(colour) = head {
                    column[0].1 |= bit;
                    column[index[colour as usize]].1 |= bit;
                }
            }
            column
        };
        let mut known: HashMap<Cover, Column> = HashMap::new();
        let mut solids: Vec<Solid> = (0..=several.len()).map(|_| Solid::default()).collect();
        let mut sloped = Vec::with_capacity(arrangement.cells.len());
        for cell in &arrangement.cells {
            let column = known.entry(cell.cover).or_insert_with(|| column(cell.cover));
            for (solid, (feet, heads)) in solids.iter_mut().zip(column.iter()) {
                solid.feet.push(*feet);
                solid.heads.push(*heads);
            }
            sloped.push(column.iter().fold(0, |all, (feet, heads)| all | (feet ^ heads)));
        }
        let by_colour = several.iter().copied().zip(solids.split_off(1)).collect();
        let whole = solids.pop().unwrap_or_default();
        Ok(Columns { arrangement, whole, by_colour, sloped })
    }

    /// Cells whose slope lies level, all of it at one end of the slab, are the same all the way:
    /// nothing without thickness is left. `slope` is the height of a slope in a slab at a point.
    pub(super) fn settle(&mut self, heights: &[i32], slope: impl Fn(usize, u32) -> i32) {
        let solids = self.by_colour.iter_mut().map(|(_, solid)| solid);
        let mut solids: Vec<&mut Solid> = solids.chain([&mut self.whole]).collect();
        for (at, cell) in self.arrangement.cells.iter().enumerate() {
            for slab in ones(self.sloped[at]) {
                let level =
                    |height: i32| cell.corners.iter().all(|corner| slope(slab, *corner) == height);
                let is_low = level(heights[slab]);
                if !is_low && !level(heights[slab + 1]) {
                    continue;
                }
                let bit = 1u128 << slab;
                for solid in &mut solids {
                    let (feet, heads) = (&mut solid.feet[at], &mut solid.heads[at]);
                    // All of it is above a slope that lies low, and below one that lies high.
                    let (from, to) = if is_low { (heads, feet) } else { (feet, heads) };
                    *to = *to & !bit | *from & bit;
                }
            }
        }
    }
}

/// The places of the set bits, lowest first.
pub(super) fn ones(mut bits: u128) -> impl Iterator<Item = usize> {
    std::iter::from_fn(move || {
        let place = (bits != 0).then(|| bits.trailing_zeros() as usize)?;
        bits &= bits - 1;
        Some(place)
    })
}
