//! Pairs of numbers in order, by counting.

use crate::halt::heed_at;

/// Pairs in the order of their first numbers, those of one in the order of their second.
///
/// The first numbers are counted and what belongs to one is put beside each other (distribution counting; Knuth, The Art
/// of Computer Programming 3, 5.2), so that only the few of one are sorted: it takes as long as there are pairs.
pub(super) struct Buckets {
    /// Where those of each first number begin, and where the last end.
    first: Vec<u32>,
    second: Vec<u32>,
}

impl Buckets {
    /// Pairs whose first numbers are less than a count.
    pub fn of(count: usize, pairs: impl Iterator<Item = (u32, u32)> + Clone) -> Self {
        let mut first = vec![0u32; count + 1];
        for (at, (one, _)) in pairs.clone().enumerate() {
            heed_at(at);
            first[one as usize + 1] += 1;
        }
        for i in 0..count {
            first[i + 1] += first[i];
        }
        let mut second = vec![0u32; first[count] as usize];
        let mut next = first.clone();
        for (number, (one, other)) in pairs.enumerate() {
            heed_at(number);
            let at = &mut next[one as usize];
            second[*at as usize] = other;
            *at += 1;
        }
        for i in 0..count {
            heed_at(i);
            second[first[i] as usize..first[i + 1] as usize].sort_unstable();
        }
        Buckets { first, second }
    }

    /// The same with each pair once.
    pub fn deduplicated(mut self) -> Self {
        let mut kept = 0;
        let mut from = 0;
        for i in 1..self.first.len() {
            heed_at(i);
            let (begin, end) = (from, self.first[i] as usize);
            let own = kept;
            for at in begin..end {
                if kept == own || self.second[kept - 1] != self.second[at] {
                    self.second[kept] = self.second[at];
                    kept += 1;
                }
            }
            from = end;
            self.first[i] = kept as u32;
        }
        self.second.truncate(kept);
        self
    }

    /// Where those of a first number begin among all.
    pub fn begin(&self, one: u32) -> usize {
        self.first[one as usize] as usize
    }

    /// The second numbers of a first one.
    pub fn of_one(&self, one: u32) -> &[u32] {
        &self.second[self.first[one as usize] as usize..self.first[one as usize + 1] as usize]
    }

    /// All second numbers.
    pub fn all(&self) -> &[u32] {
        &self.second
    }

    /// Every first number with its second ones, in order.
    pub fn iter(&self) -> impl Iterator<Item = (u32, &[u32])> {
        (0..self.first.len() as u32 - 1).map(|one| (one, self.of_one(one)))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn pairs_come_in_order_and_once() {
        let pairs = [(2, 9), (0, 5), (2, 1), (0, 5), (3, 7), (2, 9), (0, 4)];
        let all = Buckets::of(5, pairs.into_iter());
        assert_eq!(all.of_one(0), [4, 5, 5]);
        assert_eq!(all.of_one(1), [0; 0]);
        let once = all.deduplicated();
        let found: Vec<_> = once.iter().map(|(one, others)| (one, others.to_vec())).collect();
        let wanted = [(0, vec![4, 5]), (1, vec![]), (2, vec![1, 9]), (3, vec![7]), (4, vec![])];
        assert_eq!(found, wanted);
        assert_eq!((once.begin(2), once.all()), (2, &[4, 5, 1, 9, 7][..]));
        assert_eq!(Buckets::of(0, [].into_iter()).deduplicated().all(), [0; 0]);
    }
}
