//! A closed triangle surface in metres.

use glam::DVec3;

/// Positions, outward unit normals and counter-clockwise triangles (seen from outside).
#[derive(Clone, Debug, PartialEq)]
pub struct Surface {
    /// m.
    pub positions: Vec<[f32; 3]>,
    /// Unit vectors, outwards.
    pub normals: Vec<[f32; 3]>,
    /// Counter-clockwise seen from outside.
    pub triangles: Vec<[u32; 3]>,
}

impl Surface {
    /// Corner positions of a triangle.
    pub fn corners(&self, t: usize) -> [DVec3; 3] {
        self.triangles[t].map(|v| DVec3::from(self.positions[v as usize].map(f64::from)))
    }

    /// Enclosed volume in m³ (divergence theorem).
    pub fn volume(&self) -> f64 {
        let p = |i: u32| self.positions[i as usize].map(f64::from);
        self.triangles
            .iter()
            .map(|t| {
                let [a, b, c] = t.map(p);
                (a[0] * (b[1] * c[2] - b[2] * c[1]) + a[1] * (b[2] * c[0] - b[0] * c[2]) + a[2] * (b[0] * c[1] - b[1] * c[0])) / 6.0
            })
            .sum()
    }
}

/// Area-weighted normals.
pub(crate) fn smooth_normals(positions: &[DVec3], triangles: &[[u32; 3]]) -> Vec<[f32; 3]> {
    let mut sum = vec![DVec3::ZERO; positions.len()];
    for t in triangles {
        let [a, b, c] = t.map(|v| positions[v as usize]);
        let normal = (b - a).cross(c - a);
        t.iter().for_each(|&v| sum[v as usize] += normal);
    }
    sum.into_iter().map(|n| n.normalize_or(DVec3::Y).as_vec3().to_array()).collect()
}
