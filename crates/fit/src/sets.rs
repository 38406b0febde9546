//! Disjoint sets of vertices.

/// Disjoint sets of vertices.
pub(crate) struct Sets(Vec<u32>);

impl Sets {
    /// Each vertex by itself.
    pub fn new(count: usize) -> Self {
        Self((0..count as u32).collect())
    }

    /// The vertex that stands for the set of this one.
    pub fn root(&mut self, mut at: u32) -> u32 {
        while self.0[at as usize] != at {
            // every other one on the way points farther up
            let over = self.0[self.0[at as usize] as usize];
            self.0[at as usize] = over;
            at = over;
        }
        at
    }

    /// Makes one set of both.
    pub fn join(&mut self, v: u32, with: u32) {
        let (a, b) = (self.root(v), self.root(with));
        self.0[a.max(b) as usize] = a.min(b);
    }
}
