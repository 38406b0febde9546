//! The wings of an edge: the corners of the triangles on both sides of it. Where two edges meet exactly, a surface is crossed when
//! the wings of one lie on both sides of the plane through both edges; a ridge that lies across a ridge only touches it.

use super::pair::side;
use crate::vector::Point;
use std::collections::HashMap;

/// Corners opposite every edge of a sewn mesh, as places.
pub(crate) struct Wings {
    opposite: HashMap<[u32; 2], Vec<u32>>,
}

impl Wings {
    /// Of triangles by sewn vertices.
    pub fn of(triangles: impl Iterator<Item = [u32; 3]>) -> Self {
        let mut opposite: HashMap<[u32; 2], Vec<u32>> = HashMap::new();
        for t in triangles {
            for k in 0..3 {
                opposite.entry(key(t[k], t[(k + 1) % 3])).or_default().push(t[(k + 2) % 3]);
            }
        }
        Self { opposite }
    }

    /// Whether the surface around the edge a-b lies on both sides of the plane through it and `across`.
    pub fn straddle(&self, [a, b]: [u32; 2], at: impl Fn(u32) -> Point, across: Point) -> bool {
        let sides = self.opposite.get(&key(a, b)).into_iter().flatten().map(|c| side(at(a), at(b), across, at(*c)));
        let (mut over, mut under) = (false, false);
        for s in sides {
            over |= s > 0.0;
            under |= s < 0.0;
        }
        over && under
    }
}

fn key(a: u32, b: u32) -> [u32; 2] {
    [a.min(b), a.max(b)]
}
