//! Sets of footprints, each kept once.

use rustc_hash::FxHashMap;

/// Sets of footprints by number, as many footprints as there may be. Number 0 is the empty set.
#[derive(Debug, Clone, Default)]
pub struct Covers {
    /// Words of 64 bits a set takes.
    words: usize,
    /// The sets one after another.
    sets: Vec<u64>,
    numbers: FxHashMap<Vec<u64>, u32>,
    /// What is in one of two sets and not in the other, where it was asked for.
    apart: FxHashMap<(u32, u32), u32>,
}

impl Covers {
    /// No sets but the empty one, for so many footprints.
    pub(super) fn new(footprints: usize) -> Self {
        let words = footprints.div_ceil(64).max(1);
        let mut covers = Covers { words, ..Covers::default() };
        covers.number(vec![0; words]);
        covers
    }

    /// How many different sets there are.
    pub fn count(&self) -> usize {
        self.sets.len().checked_div(self.words).unwrap_or(0)
    }

    /// Whether a footprint is in a set.
    pub fn has(&self, set: u32, footprint: usize) -> bool {
        self.sets[set as usize * self.words + footprint / 64] & 1 << (footprint % 64) != 0
    }

    /// The footprints in a set, in their order.
    pub fn members(&self, set: u32) -> impl Iterator<Item = usize> + '_ {
        let words = &self.sets[set as usize * self.words..][..self.words];
        words.iter().enumerate().flat_map(|(word, bits)| {
            (0..64).filter(move |bit| bits & 1 << bit != 0).map(move |bit| 64 * word + bit)
        })
    }

    /// The set of these footprints.
    pub(super) fn of(&mut self, footprints: &[u32]) -> u32 {
        if footprints.is_empty() {
            return 0;
        }
        let mut set = vec![0; self.words];
        for footprint in footprints {
            set[*footprint as usize / 64] ^= 1 << (footprint % 64);
        }
        self.number(set)
    }

    /// What is in one of two sets and not in the other.
    pub(super) fn apart(&mut self, one: u32, other: u32) -> u32 {
        if other == 0 {
            return one;
        }
        if let Some(known) = self.apart.get(&(one, other)) {
            return *known;
        }
        let words = |set: u32| &self.sets[set as usize * self.words..][..self.words];
        let set = words(one).iter().zip(words(other)).map(|(a, b)| a ^ b).collect();
        let found = self.number(set);
        self.apart.insert((one, other), found);
        found
    }

    fn number(&mut self, set: Vec<u64>) -> u32 {
        let next = self.count() as u32;
        let (sets, numbers) = (&mut self.sets, &mut self.numbers);
        *numbers.entry(set).or_insert_with_key(|set| {
            sets.extend(set);
            next
        })
    }
}
