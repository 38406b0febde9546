//! Polygons to triangles: convex ones as a fan, others by cutting ears in the plane that fits them best (Newell's normal).

use super::budget::Budget;
use super::left_out::{LeftOut, LeftOuts};
use super::{ReadFault, damaged};
use earcut::Earcut;
use glam::{DVec2, DVec3};

/// Cuts the polygons of a mesh one after the other.
pub(super) struct Cutter {
    ears: Earcut<f64>,
    flat: Vec<[f64; 2]>,
    found: Vec<u32>,
}

impl Cutter {
    /// Keeps its memory from polygon to polygon.
    pub fn new() -> Self {
        Self { ears: Earcut::new(), flat: Vec::new(), found: Vec::new() }
    }

    /// Adds the triangles of a polygon of `positions`; every corner must name one of them.
    pub fn cut(
        &mut self,
        corners: &[u32],
        positions: &[[f32; 3]],
        budget: &mut Budget,
        (triangles, left_out): (&mut Vec<[u32; 3]>, &mut LeftOuts),
    ) -> Result<(), ReadFault> {
        super::budget::at_most("corners of one face", corners.len(), super::figure_limits::CORNERS)?;
        if let Some(v) = corners.iter().find(|v| **v as usize >= positions.len()) {
            return Err(damaged(format!("a face names vertex {v} of {}", positions.len())));
        }
        if corners.len() < 3 {
            left_out.insert(LeftOut::SmallFaces);
            return Ok(());
        }
        budget.triangles(corners.len() - 2)?;
        if corners.len() > 3 && !self.is_convex(corners, positions) {
            self.found.clear();
            self.ears.earcut(self.flat.iter().copied(), &[] as &[u32], &mut self.found);
            if self.found.len() == 3 * (corners.len() - 2) {
                triangles.extend(self.found.chunks_exact(3).map(|t| [t[0], t[1], t[2]].map(|k| corners[k as usize])));
                return Ok(());
            }
        }
        // also what has no area, or crosses itself and has no ears
        triangles.extend((2..corners.len()).map(|k| [corners[0], corners[k - 1], corners[k]]));
        Ok(())
    }

    /// Lays the polygon flat, counter-clockwise; whether it turns to the left all along.
    fn is_convex(&mut self, corners: &[u32], positions: &[[f32; 3]]) -> bool {
        let at = |k: usize| DVec3::from(positions[corners[k % corners.len()] as usize].map(f64::from));
        let normal: DVec3 = (0..corners.len()).map(|k| (at(k) - at(0)).cross(at(k + 1) - at(0))).sum();
        let Some(normal) = normal.try_normalize() else { return true };
        let (u, v) = normal.any_orthonormal_pair();
        self.flat.clear();
        self.flat.extend((0..corners.len()).map(|k| [(at(k) - at(0)).dot(u), (at(k) - at(0)).dot(v)]));
        let p = |k: usize| DVec2::from(self.flat[k % corners.len()]);
        (0..corners.len()).all(|k| (p(k + 1) - p(k)).perp_dot(p(k + 2) - p(k + 1)) >= 0.0)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn area(positions: &[[f32; 3]], triangles: &[[u32; 3]]) -> (f64, f64) {
        let p = |v: u32| DVec3::from(positions[v as usize].map(f64::from));
        let areas = triangles.iter().map(|t| 0.5 * (p(t[1]) - p(t[0])).cross(p(t[2]) - p(t[0])));
        let sum: DVec3 = areas.clone().sum();
        (sum.length(), areas.map(DVec3::length).sum())
    }

    fn cut(positions: &[[f32; 3]]) -> Vec<[u32; 3]> {
        let corners: Vec<u32> = (0..positions.len() as u32).collect();
        let mut triangles = Vec::new();
        let out = (&mut triangles, &mut LeftOuts::new());
        Cutter::new().cut(&corners, positions, &mut Budget::default(), out).expect("triangles");
        triangles
    }

    #[test]
    fn a_concave_polygon_in_any_plane_is_covered_once() {
        // an L of 3 square units: a fan from its first corner would cover more and cancel it out
        let outline = [[1.0, 1.0], [1.0, 2.0], [0.0, 2.0], [0.0, 0.0], [2.0, 0.0], [2.0, 1.0]];
        for turn in [glam::DQuat::IDENTITY, glam::DQuat::from_rotation_x(2.0), glam::DQuat::from_rotation_y(-0.7)] {
            let positions: Vec<[f32; 3]> = outline.iter().map(|p| (turn * DVec3::new(p[0], p[1], 0.3)).as_vec3().to_array()).collect();
            let triangles = cut(&positions);
            let (net, covered) = area(&positions, &triangles);
            assert_eq!(triangles.len(), 4);
            assert!((net - 3.0).abs() < 1e-6 && (covered - 3.0).abs() < 1e-6, "{net} {covered}");
        }
    }

    #[test]
    fn a_convex_polygon_keeps_its_first_corner_in_all_triangles() {
        let ring: Vec<[f32; 3]> = (0..9).map(|k| [(k as f32 * 0.698).cos(), 0.0, (k as f32 * 0.698).sin()]).collect();
        assert!(cut(&ring).iter().all(|t| t[0] == 0));
        assert_eq!(cut(&ring).len(), 7);
        // a needle without area is kept, so that no hole appears beside it
        assert_eq!(cut(&[[0.0; 3], [1.0, 0.0, 0.0], [2.0, 0.0, 0.0], [3.0, 0.0, 0.0]]).len(), 2);
    }
}
