//! Parts of a foreign figure (head, trunk, limbs), cut at its landmarks.

use crate::skinning::surface::Surface;
use glam::DVec3;
use std::collections::BTreeMap;

/// Keys of the parts, those of the own skeleton; the first takes what belongs to no other.
pub(crate) const PARTS: [&str; 15] = [
    "trunk",
    "neck",
    "head",
    "upper-arm-left",
    "upper-arm-right",
    "forearm-left",
    "forearm-right",
    "hand-left",
    "hand-right",
    "thigh-left",
    "thigh-right",
    "shin-left",
    "shin-right",
    "foot-left",
    "foot-right",
];

/// The part of every vertex, as an index into [`PARTS`].
pub(crate) struct Regions {
    pub part_of_vertex: Vec<u8>,
}

impl Regions {
    /// Splits a surface into parts by its landmarks.
    pub fn new(surface: &Surface, landmarks: &BTreeMap<String, DVec3>) -> Self {
        let mark = |key: &str| landmarks.get(key).copied().unwrap_or_default();
        let neighbours = neighbours(surface);
        let mut part = vec![0u8; surface.positions.len()];
        let at = |v: usize| DVec3::from(surface.positions[v].map(f64::from));
        let height = mark("crown").y.max(0.1);
        for (k, (side, x)) in [("left", 1.0), ("right", -1.0)].into_iter().enumerate() {
            let (shoulder, elbow, wrist) =
                (mark(&format!("shoulder-{side}")), mark(&format!("elbow-{side}")), mark(&format!("wrist-{side}")));
            let along = (wrist - shoulder).normalize_or(DVec3::X * x);
            let start = shoulder + along * 0.04 * height;
            // from the fingers inwards as far as the shoulder, so that the trunk is never caught
            let on_arm = |p: DVec3| {
                let reach = if (p - wrist).dot(along) > 0.0 { 0.1 } else { 0.055 };
                (p - start).dot(along) > 0.0 && from_limb(p, shoulder, elbow, wrist) < reach * height
            };
            let fingers = (0..part.len()).filter(|v| at(*v).y > 0.25 * height).max_by(|a, b| (at(*a).x * x).total_cmp(&(at(*b).x * x)));
            for v in flood(fingers, &neighbours, |v| on_arm(at(v))) {
                let share = |p: DVec3, q: DVec3| (at(v) - p).dot((q - p).normalize_or(along));
                part[v] = if share(wrist, wrist + along) > 0.0 {
                    7
                } else if share(elbow, wrist) > 0.0 {
                    5
                } else {
                    3
                } + k as u8;
            }
            let (knee, ankle, crotch) = (mark(&format!("knee-{side}")), mark(&format!("ankle-{side}")), mark("crotch"));
            for v in 0..part.len() {
                let p = at(v);
                if part[v] == 0 && p.x * x > 0.0 && p.y < crotch.y {
                    part[v] = if p.y < ankle.y {
                        13
                    } else if p.y < knee.y {
                        11
                    } else {
                        9
                    } + k as u8;
                }
            }
        }
        let neck = mark("neck").y;
        for v in 0..part.len() {
            if part[v] == 0 && at(v).x.abs() < 0.1 * height {
                let y = at(v).y;
                part[v] = if y > neck + 0.012 * height {
                    2
                } else if y > neck - 0.02 * height {
                    1
                } else {
                    0
                };
            }
        }
        Self { part_of_vertex: part }
    }

    /// Whether a vertex is on an arm or hand.
    pub fn on_arm(&self, v: u32) -> bool {
        (3..=8).contains(&self.part_of_vertex[v as usize])
    }
}

/// Distance from the line shoulder, elbow, wrist and on through the hand.
fn from_limb(p: DVec3, shoulder: DVec3, elbow: DVec3, wrist: DVec3) -> f64 {
    from_stretch(p, shoulder, elbow, 1.0).min(from_stretch(p, elbow, wrist, 2.0))
}

/// Distance of a point from a stretch of a line; `beyond` is where it ends, 1 at `b`.
pub(super) fn from_stretch(p: DVec3, a: DVec3, b: DVec3, beyond: f64) -> f64 {
    let t = ((p - a).dot(b - a) / (b - a).length_squared().max(1e-12)).clamp(0.0, beyond);
    p.distance(a.lerp(b, t))
}

/// Vertices next to each vertex.
fn neighbours(surface: &Surface) -> Vec<Vec<u32>> {
    let mut rings = vec![Vec::new(); surface.positions.len()];
    for t in &surface.triangles {
        for k in 0..3 {
            rings[t[k] as usize].push(t[(k + 1) % 3]);
            rings[t[(k + 1) % 3] as usize].push(t[k]);
        }
    }
    rings
}

/// Everything that hangs together with a vertex without leaving what `inside` lets through.
fn flood(from: Option<usize>, rings: &[Vec<u32>], inside: impl Fn(usize) -> bool) -> Vec<usize> {
    let mut seen = vec![false; rings.len()];
    let mut found: Vec<usize> = from.filter(|v| inside(*v)).into_iter().collect();
    found.iter().for_each(|v| seen[*v] = true);
    let mut at = 0;
    while at < found.len() {
        let v = found[at];
        at += 1;
        for &n in &rings[v] {
            if !seen[n as usize] && inside(n as usize) {
                seen[n as usize] = true;
                found.push(n as usize);
            }
        }
    }
    found
}
