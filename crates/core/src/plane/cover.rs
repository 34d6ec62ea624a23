use std::ops::{BitOrAssign, BitXor, BitXorAssign};

const WORDS: usize = 4;

/// A set of footprints, a bit for each.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, Hash)]
pub struct Cover([u64; WORDS]);

impl Cover {
    /// How many footprints can be told apart.
    pub const CAPACITY: usize = 64 * WORDS;

    /// The set of one footprint.
    pub fn only(footprint: usize) -> Self {
        let mut words = [0; WORDS];
        words[footprint / 64] = 1 << (footprint % 64);
        Cover(words)
    }

    /// Whether a footprint is in the set.
    pub fn has(&self, footprint: usize) -> bool {
        self.0[footprint / 64] & 1 << (footprint % 64) != 0
    }

    /// Whether no footprint is.
    pub fn is_empty(&self) -> bool {
        *self == Cover::default()
    }
}

impl BitXorAssign for Cover {
    fn bitxor_assign(&mut self, other: Self) {
        self.0.iter_mut().zip(other.0).for_each(|(word, other)| *word ^= other);
    }
}

impl BitXor for Cover {
    type Output = Cover;

    fn bitxor(mut self, other: Self) -> Cover {
        self ^= other;
        self
    }
}

impl BitOrAssign for Cover {
    fn bitor_assign(&mut self, other: Self) {
        self.0.iter_mut().zip(other.0).for_each(|(word, other)| *word |= other);
    }
}
