//! Plane sections of a surface as closed lines.

use crate::measuring::measure::hull_perimeter;
use crate::skinning::surface::Surface;
use glam::DVec3;
use std::collections::HashMap;

/// A plane with directions across it.
#[derive(Clone, Copy)]
pub(crate) struct Plane {
    /// A point of the plane, m.
    pub origin: DVec3,
    /// Unit vector.
    pub normal: DVec3,
}

impl Plane {
    /// A level plane at this height, m.
    pub fn level(y: f64) -> Self {
        Self { origin: DVec3::Y * y, normal: DVec3::Y }
    }
}

/// One line of a section.
#[derive(Clone, Debug)]
pub(crate) struct Loop {
    /// The closed loop in order, m.
    pub points: Vec<DVec3>,
    /// Corner of the box around it.
    pub low: DVec3,
    /// The opposite corner.
    pub high: DVec3,
}

impl Loop {
    /// Of the box around it.
    pub fn middle(&self) -> DVec3 {
        0.5 * (self.low + self.high)
    }
    /// As a tape reads it.
    pub fn girth(&self, plane: &Plane) -> f64 {
        girth(self.points.iter().copied(), plane)
    }
}

/// Perimeter of the convex hull of points in a plane.
pub(crate) fn girth(points: impl Iterator<Item = DVec3>, plane: &Plane) -> f64 {
    let across = plane.normal.any_orthonormal_vector();
    let up = plane.normal.cross(across);
    hull_perimeter(points.map(|p| [(p - plane.origin).dot(across), (p - plane.origin).dot(up)]).collect())
}

/// Most triangles that one plane may cut. A scan of two million has some thousands at a level; what has more is no
/// body but a fan or a heap, and hundreds of planes are laid through it.
const MOST_CUT: usize = 20_000;

/// The lines in which a plane cuts the triangles that `keep` lets through; none when it cuts too many.
pub(crate) fn loops(surface: &Surface, plane: &Plane, keep: impl Fn([u32; 3]) -> bool) -> Vec<Loop> {
    let at = |v: u32| DVec3::from(surface.positions[v as usize].map(f64::from));
    let height = |v: u32| (at(v) - plane.origin).dot(plane.normal);
    let key = |a: u32, b: u32| (a.min(b), a.max(b));
    // every crossed edge with its two neighbours along the line
    let mut links: HashMap<(u32, u32), Vec<(u32, u32)>> = HashMap::new();
    let mut order = Vec::new();
    for t in &surface.triangles {
        let h = t.map(height);
        if h.iter().all(|v| *v < 0.0) || h.iter().all(|v| *v >= 0.0) || !keep(*t) {
            continue;
        }
        let cut: Vec<(u32, u32)> = (0..3).filter(|&k| (h[k] < 0.0) != (h[(k + 1) % 3] < 0.0)).map(|k| key(t[k], t[(k + 1) % 3])).collect();
        if order.len() > MOST_CUT {
            return Vec::new();
        }
        if let [a, b] = cut[..] {
            for (from, to) in [(a, b), (b, a)] {
                links
                    .entry(from)
                    .or_insert_with(|| {
                        order.push(from);
                        Vec::new()
                    })
                    .push(to);
            }
        }
    }
    let mut found = Vec::new();
    for start in order {
        let mut line = Vec::new();
        let mut now = start;
        while let Some(next) = links.remove(&now) {
            let (ha, hb) = (height(now.0), height(now.1));
            line.push(at(now.0).lerp(at(now.1), ha / (ha - hb)));
            match next.into_iter().find(|n| links.contains_key(n)) {
                Some(n) => now = n,
                None => break,
            }
        }
        if line.len() >= 3 {
            let (low, high) = line.iter().fold((DVec3::MAX, DVec3::MIN), |(l, h), p| (l.min(*p), h.max(*p)));
            found.push(Loop { points: line, low, high });
        }
    }
    found
}
