//! What reading one file may cost. Every reader draws on the same budget before it makes anything, so that a small file
//! cannot ask for more memory or time than a large honest one.

use super::ReadFault;

/// Explicit limits of what is read.
pub mod figure_limits {
    /// Largest file in bytes.
    pub const FILE_BYTES: usize = 96 << 20;
    /// Most vertices of a file, counted together over all its meshes.
    pub const VERTICES: usize = 2_000_000;
    /// Most triangles of a file, after its polygons were cut.
    pub const TRIANGLES: usize = 2_000_000;
    /// Most bones of a skin.
    pub const BONES: usize = 400;
    /// Most corners of one polygon.
    pub const CORNERS: usize = 10_000;
    /// Deepest nesting of brackets, groups or nodes.
    pub const DEPTH: usize = 64;
    /// Most named things (nodes, prims, attributes, groups) in a file.
    pub const ENTRIES: usize = 40_000;
    /// Most numbers that stand in a text file or that a binary one announces.
    pub const NUMBERS: usize = 32_000_000;
    /// Most motions, and most places of bones over all their frames (a motion of 3000 frames on 400 bones has 1.2 million).
    pub const MOTIONS: usize = 200;
    /// Bones times frames of all motions.
    pub const BONE_FRAMES: usize = 6_000_000;
}

/// What is left to spend on one file.
#[derive(Debug)]
pub(super) struct Budget {
    vertices: usize,
    triangles: usize,
    entries: usize,
    numbers: usize,
    bone_frames: usize,
}

impl Default for Budget {
    /// A fresh budget with all limits.
    fn default() -> Self {
        use figure_limits::{BONE_FRAMES, ENTRIES, NUMBERS, TRIANGLES, VERTICES};
        Self { vertices: VERTICES, triangles: TRIANGLES, entries: ENTRIES, numbers: NUMBERS, bone_frames: BONE_FRAMES }
    }
}

impl Budget {
    /// Takes so many out of the budget, or refuses the file.
    pub fn vertices(&mut self, count: usize) -> Result<(), ReadFault> {
        spend(&mut self.vertices, "vertices", count, figure_limits::VERTICES)
    }
    /// The same for triangles.
    pub fn triangles(&mut self, count: usize) -> Result<(), ReadFault> {
        spend(&mut self.triangles, "triangles", count, figure_limits::TRIANGLES)
    }
    /// The same for objects, nodes and other entries.
    pub fn entries(&mut self, count: usize) -> Result<(), ReadFault> {
        spend(&mut self.entries, "entries", count, figure_limits::ENTRIES)
    }
    /// The same for numbers that are kept.
    pub fn numbers(&mut self, count: usize) -> Result<(), ReadFault> {
        spend(&mut self.numbers, "numbers", count, figure_limits::NUMBERS)
    }
    /// The same for bones times frames.
    pub fn bone_frames(&mut self, count: usize) -> Result<(), ReadFault> {
        spend(&mut self.bone_frames, "bone positions in its motions", count, figure_limits::BONE_FRAMES)
    }
}

/// Takes a count out of what is left, or tells the limit that it exceeds.
fn spend(left: &mut usize, what: &'static str, count: usize, limit: usize) -> Result<(), ReadFault> {
    match left.checked_sub(count) {
        Some(rest) => {
            *left = rest;
            Ok(())
        }
        None => Err(ReadFault::TooMany { what, found: (limit - *left).saturating_add(count), limit }),
    }
}

/// Refuses more than `limit` of one thing.
pub(crate) fn at_most(what: &'static str, found: usize, limit: usize) -> Result<(), ReadFault> {
    if found > limit { Err(ReadFault::TooMany { what, found, limit }) } else { Ok(()) }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_asked_for_in_parts_is_counted_together() {
        let mut budget = Budget::default();
        assert!(budget.vertices(figure_limits::VERTICES - 1).is_ok());
        assert!(budget.vertices(1).is_ok());
        let fault = budget.vertices(2);
        assert_eq!(fault, Err(ReadFault::TooMany { what: "vertices", found: figure_limits::VERTICES + 2, limit: figure_limits::VERTICES }));
        assert!(budget.vertices(usize::MAX).is_err());
        assert!(budget.triangles(1).is_ok(), "the others are untouched");
    }
}
