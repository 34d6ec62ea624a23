//! Things grouped by what joins them (union-find with path halving).

pub(super) struct Groups(Vec<u32>);

impl Groups {
    /// So many things, each in a group of its own.
    pub fn of(things: usize) -> Self {
        Groups((0..things as u32).collect())
    }

    /// The thing that stands for the group of this one.
    pub fn root(&mut self, mut i: u32) -> u32 {
        while self.0[i as usize] != i {
            self.0[i as usize] = self.0[self.0[i as usize] as usize];
            i = self.0[i as usize];
        }
        i
    }

    /// Makes the groups of two things one.
    pub fn join(&mut self, a: u32, b: u32) {
        let (from, to) = (self.root(b), self.root(a));
        self.0[from as usize] = to;
    }
}
