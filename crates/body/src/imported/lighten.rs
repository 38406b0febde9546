//! Fewer triangles for contact: edges collapse into one of their ends in the order of the quadric error they make.
//!
//! Garland and Heckbert, Surface Simplification Using Quadric Error Metrics, 1997. Vertices stay where they are, so the
//! skin weights of the full mesh serve the light one.

use crate::figure::ContactLod;
use crate::skinning::surface::Surface;
use glam::{DMat4, DVec3, DVec4};
use std::cmp::Ordering;
use std::collections::BinaryHeap;

/// Most faces around a vertex that takes part in a collapse; even meshes have six.
const CROWDED: usize = 500;

/// An edge that may be drawn together to a point, and what that costs.
struct Collapse {
    error: f64,
    from: u32,
    to: u32,
    /// Collapses of both ends when this one was reckoned.
    ages: (u32, u32),
}

impl PartialEq for Collapse {
    fn eq(&self, other: &Self) -> bool {
        self.cmp(other) == Ordering::Equal
    }
}
impl Eq for Collapse {}
impl PartialOrd for Collapse {
    fn partial_cmp(&self, other: &Self) -> Option<Ordering> {
        Some(self.cmp(other))
    }
}
impl Ord for Collapse {
    fn cmp(&self, other: &Self) -> Ordering {
        other.error.total_cmp(&self.error).then((other.from, other.to).cmp(&(self.from, self.to)))
    }
}

/// Who is next to whom while edges collapse.
struct Net {
    at: Vec<DVec3>,
    faces: Vec<Option<[u32; 3]>>,
    of_vertex: Vec<Vec<u32>>,
    quadrics: Vec<DMat4>,
    ages: Vec<u32>,
}

/// A skin with at most about `wanted` triangles.
pub(crate) fn lighten(surface: &Surface, wanted: usize) -> ContactLod {
    let mut net = Net::new(surface);
    let mut left = surface.triangles.len();
    let mut heap = BinaryHeap::new();
    for v in 0..net.at.len() as u32 {
        net.ring(v).into_iter().filter(|n| v < *n).for_each(|n| net.offer(v, n, &mut heap));
    }
    while left > wanted
        && let Some(best) = heap.pop()
    {
        let (from, to) = (best.from as usize, best.to as usize);
        if best.ages != (net.ages[from], net.ages[to]) || !net.may(best.from, best.to) {
            continue;
        }
        left -= net.collapse(best.from, best.to);
        for n in net.ring(best.to) {
            net.offer(best.to, n, &mut heap);
        }
    }
    let kept: Vec<[u32; 3]> = net.faces.into_iter().flatten().collect();
    let mut number = vec![u32::MAX; surface.positions.len()];
    let mut vertices = Vec::new();
    let triangles = kept
        .into_iter()
        .map(|t| {
            t.map(|v| {
                if number[v as usize] == u32::MAX {
                    number[v as usize] = vertices.len() as u32;
                    vertices.push(v);
                }
                number[v as usize]
            })
        })
        .collect();
    ContactLod { vertices, triangles }
}

impl Net {
    /// The net of a surface.
    fn new(surface: &Surface) -> Self {
        let at: Vec<DVec3> = surface.positions.iter().map(|p| DVec3::from(p.map(f64::from))).collect();
        let mut of_vertex = vec![Vec::new(); at.len()];
        let mut quadrics = vec![DMat4::ZERO; at.len()];
        for (f, t) in surface.triangles.iter().enumerate() {
            let [a, b, c] = t.map(|v| at[v as usize]);
            let cross = (b - a).cross(c - a);
            let normal = cross.normalize_or_zero();
            let plane = DVec4::from((normal, -normal.dot(a)));
            let quadric = DMat4::from_cols(plane * plane.x, plane * plane.y, plane * plane.z, plane * plane.w) * (0.5 * cross.length());
            for v in t {
                of_vertex[*v as usize].push(f as u32);
                quadrics[*v as usize] += quadric;
            }
        }
        let ages = vec![0; at.len()];
        Self { at, faces: surface.triangles.iter().copied().map(Some).collect(), of_vertex, quadrics, ages }
    }

    /// Triangles at a vertex.
    fn corners(&self, v: u32) -> impl Iterator<Item = [u32; 3]> + '_ {
        self.of_vertex[v as usize].iter().filter_map(|f| self.faces[*f as usize]).filter(move |t| t.contains(&v))
    }

    /// Vertices next to a vertex.
    fn ring(&self, v: u32) -> Vec<u32> {
        let mut ring: Vec<u32> = self.corners(v).flatten().filter(|n| *n != v).collect();
        ring.sort_unstable();
        ring.dedup();
        ring
    }

    /// Offers the cheaper of both directions of an edge.
    fn offer(&self, a: u32, b: u32, heap: &mut BinaryHeap<Collapse>) {
        let quadric = self.quadrics[a as usize] + self.quadrics[b as usize];
        let error = |v: u32| {
            let p = DVec4::from((self.at[v as usize], 1.0));
            p.dot(quadric * p)
        };
        let (from, to, error) = if error(a) < error(b) { (b, a, error(a)) } else { (a, b, error(b)) };
        // a little for the length keeps flat places even
        let error = error + 1e-7 * self.at[a as usize].distance_squared(self.at[b as usize]);
        heap.push(Collapse { error, from, to, ages: (self.ages[from as usize], self.ages[to as usize]) });
    }

    /// Whether the collapse keeps the surface a surface (link condition) and turns no face over.
    fn may(&self, from: u32, to: u32) -> bool {
        // the hub of a huge fan stays as it is: looking at all its faces for each of them takes for ever
        if [from, to].iter().any(|v| self.of_vertex[*v as usize].len() > CROWDED) {
            return false;
        }
        let (a, b) = (self.ring(from), self.ring(to));
        if a.iter().filter(|v| b.binary_search(v).is_ok()).count() != 2 {
            return false;
        }
        self.corners(from).filter(|t| !t.contains(&to)).all(|t| {
            let normal = |t: [u32; 3]| {
                let [a, b, c] = t.map(|v| self.at[v as usize]);
                (b - a).cross(c - a).normalize_or_zero()
            };
            let moved = t.map(|v| if v == from { to } else { v });
            normal(t).dot(normal(moved)) > 0.3
        })
    }

    /// Returns how many faces went.
    fn collapse(&mut self, from: u32, to: u32) -> usize {
        let faces = std::mem::take(&mut self.of_vertex[from as usize]);
        let mut gone = 0;
        for f in faces {
            let Some(t) = self.faces[f as usize].filter(|t| t.contains(&from)) else { continue };
            if t.contains(&to) {
                self.faces[f as usize] = None;
                gone += 1;
            } else {
                self.faces[f as usize] = Some(t.map(|v| if v == from { to } else { v }));
                self.of_vertex[to as usize].push(f);
            }
        }
        self.of_vertex[to as usize].retain(|f| self.faces[*f as usize].is_some());
        let quadric = self.quadrics[from as usize];
        self.quadrics[to as usize] += quadric;
        self.ages[from as usize] += 1;
        self.ages[to as usize] += 1;
        gone
    }
}
