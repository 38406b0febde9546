//! Signed distance on a regular grid, exact near a closed surface and constant far from it.

use glam::{IVec3, Vec3};
use rayon::prelude::*;

/// Negative inside. Values are clamped to ± `band`.
#[derive(Clone, Debug)]
pub struct DistanceGrid {
    low: Vec3,
    cell: f32,
    size: IVec3,
    values: Vec<f32>,
    band: f32,
}

impl DistanceGrid {
    /// Samples a distance function over a box (m).
    pub fn from_fn(low: [f32; 3], high: [f32; 3], cell: f32, band: f32, distance: impl Fn([f32; 3]) -> f32 + Sync) -> Self {
        let mut grid = Self::empty(Vec3::from(low), Vec3::from(high), cell, band);
        grid.values = (0..grid.values.len()).into_par_iter().map(|i| distance(grid.node(i).to_array()).clamp(-band, band)).collect();
        grid
    }

    /// Exact distances to a closed triangle surface within `band` of it, with the sign of the outward `normals`.
    pub fn from_surface(positions: &[[f32; 3]], normals: &[[f32; 3]], triangles: &[[u32; 3]], cell: f32, band: f32) -> Self {
        let (mut low, mut high) = (Vec3::MAX, Vec3::MIN);
        for p in positions {
            (low, high) = (low.min(Vec3::from(*p)), high.max(Vec3::from(*p)));
        }
        let mut grid = Self::empty(low - band - cell, high + band + cell, cell, band);
        let (plane, size) = ((grid.size.y * grid.size.z) as usize, grid.size);
        let mut values = vec![f32::INFINITY; grid.values.len()];
        values.par_chunks_mut(plane).enumerate().for_each(|(x, slab)| {
            for t in triangles {
                let p = t.map(|i| Vec3::from(positions[i as usize]));
                let n = t.map(|i| Vec3::from(normals[i as usize]));
                let at_x = grid.low.x + x as f32 * cell;
                let (a, b) = (p[0].min(p[1]).min(p[2]) - band, p[0].max(p[1]).max(p[2]) + band);
                if at_x < a.x || at_x > b.x {
                    continue;
                }
                let from = ((a - grid.low) / cell).ceil().as_ivec3().max(IVec3::ZERO);
                let to = ((b - grid.low) / cell).floor().as_ivec3().min(size - 1);
                for y in from.y..=to.y {
                    for z in from.z..=to.z {
                        let q = grid.low + Vec3::new(x as f32, y as f32, z as f32) * cell;
                        let slot = &mut slab[(y * size.z + z) as usize];
                        nearest(q, p, n, slot);
                    }
                }
            }
        });
        // far nodes take the sign of the last near node along z: a sign can only change across the surface
        values.par_chunks_mut(size.z as usize).for_each(|line| {
            let mut side = band;
            for v in line {
                if v.is_finite() && v.abs() <= band {
                    side = band.copysign(*v);
                } else {
                    *v = side;
                }
            }
        });
        grid.values = values;
        grid
    }

    fn empty(low: Vec3, high: Vec3, cell: f32, band: f32) -> Self {
        let size = ((high - low) / cell).ceil().as_ivec3() + 1;
        Self { low, cell, size, values: vec![band; (size.x * size.y * size.z) as usize], band }
    }

    fn node(&self, i: usize) -> Vec3 {
        let i = i as i32;
        let (j, z) = (i / self.size.z, i % self.size.z);
        self.low + IVec3::new(j / self.size.y, j % self.size.y, z).as_vec3() * self.cell
    }

    /// Distance beyond which values are not told apart.
    pub fn band(&self) -> f32 {
        self.band
    }

    /// Trilinear distance at a point; `band` outside the grid.
    #[inline]
    pub fn distance(&self, p: Vec3) -> f32 {
        self.sample(p).map_or(self.band, |(c, w)| {
            let line = |k: usize| c[k] + (c[k + 1] - c[k]) * w.z;
            let (a, b) = (line(0) + (line(2) - line(0)) * w.y, line(4) + (line(6) - line(4)) * w.y);
            a + (b - a) * w.x
        })
    }

    /// Distance and unit outward direction.
    #[inline]
    pub fn distance_and_normal(&self, p: Vec3) -> (f32, Vec3) {
        let Some((c, w)) = self.sample(p) else { return (self.band, Vec3::Y) };
        let line = |k: usize| c[k] + (c[k + 1] - c[k]) * w.z;
        let l = [line(0), line(2), line(4), line(6)];
        let (a, b) = (l[0] + (l[1] - l[0]) * w.y, l[2] + (l[3] - l[2]) * w.y);
        let gx = b - a;
        let gy = (l[1] - l[0]) + ((l[3] - l[2]) - (l[1] - l[0])) * w.x;
        let d = |k: usize| c[k + 1] - c[k];
        let (za, zb) = (d(0) + (d(2) - d(0)) * w.y, d(4) + (d(6) - d(4)) * w.y);
        let gz = za + (zb - za) * w.x;
        (a + (b - a) * w.x, Vec3::new(gx, gy, gz).try_normalize().unwrap_or(Vec3::Y))
    }

    /// The eight corner values around a point (z fastest) and the weights within the cell.
    #[inline]
    fn sample(&self, p: Vec3) -> Option<([f32; 8], Vec3)> {
        let q = (p - self.low) / self.cell;
        let c = q.floor().as_ivec3();
        if c.min_element() < 0 || c.x >= self.size.x - 1 || c.y >= self.size.y - 1 || c.z >= self.size.z - 1 {
            return None;
        }
        let i = ((c.x * self.size.y + c.y) * self.size.z + c.z) as usize;
        let (dy, dx) = (self.size.z as usize, (self.size.y * self.size.z) as usize);
        let v = &self.values;
        let corners = [v[i], v[i + 1], v[i + dy], v[i + dy + 1], v[i + dx], v[i + dx + 1], v[i + dx + dy], v[i + dx + dy + 1]];
        Some((corners, q - c.as_vec3()))
    }
}

/// Keeps the signed distance of smallest size.
fn nearest(q: Vec3, p: [Vec3; 3], n: [Vec3; 3], slot: &mut f32) {
    let w = closest_on_triangle(q, p);
    let offset = q - (p[0] * w[0] + p[1] * w[1] + p[2] * w[2]);
    let d = offset.length();
    if d < slot.abs() {
        let normal = n[0] * w[0] + n[1] * w[1] + n[2] * w[2];
        *slot = if offset.dot(normal) < 0.0 { -d } else { d };
    }
}

/// Barycentric weights of the point of a triangle closest to `q` (Ericson, Real-Time Collision Detection, 5.1.5).
pub(crate) fn closest_on_triangle(q: Vec3, [a, b, c]: [Vec3; 3]) -> [f32; 3] {
    let (ab, ac, aq) = (b - a, c - a, q - a);
    let (d1, d2) = (ab.dot(aq), ac.dot(aq));
    if d1 <= 0.0 && d2 <= 0.0 {
        return [1.0, 0.0, 0.0];
    }
    let bq = q - b;
    let (d3, d4) = (ab.dot(bq), ac.dot(bq));
    if d3 >= 0.0 && d4 <= d3 {
        return [0.0, 1.0, 0.0];
    }
    let vc = d1 * d4 - d3 * d2;
    if vc <= 0.0 && d1 >= 0.0 && d3 <= 0.0 {
        let v = d1 / (d1 - d3);
        return [1.0 - v, v, 0.0];
    }
    let cq = q - c;
    let (d5, d6) = (ab.dot(cq), ac.dot(cq));
    if d6 >= 0.0 && d5 <= d6 {
        return [0.0, 0.0, 1.0];
    }
    let vb = d5 * d2 - d1 * d6;
    if vb <= 0.0 && d2 >= 0.0 && d6 <= 0.0 {
        let w = d2 / (d2 - d6);
        return [1.0 - w, 0.0, w];
    }
    let va = d3 * d6 - d5 * d4;
    if va <= 0.0 && d4 - d3 >= 0.0 && d5 - d6 >= 0.0 {
        let w = (d4 - d3) / ((d4 - d3) + (d5 - d6));
        return [0.0, 1.0 - w, w];
    }
    let sum = va + vb + vc;
    [va / sum, vb / sum, vc / sum]
}
