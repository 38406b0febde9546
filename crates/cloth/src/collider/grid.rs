//! Signed distance on a regular grid, exact near a closed surface and constant far from it.

use glam::{IVec3, Vec3};
use rayon::prelude::*;

/// Negative inside. Values are clamped to `band` outside; inside they go on to the deepest point.
#[derive(Clone, Debug)]
pub struct DistanceGrid {
    low: Vec3,
    cell: f32,
    size: IVec3,
    values: Vec<f32>,
    band: f32,
    /// The region of the nearest surface by node; empty when there is only one.
    regions: Vec<u8>,
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
        Self::from_regions(positions, normals, triangles, &[], &[], cell, band)
    }

    /// The same for a surface whose triangles belong to regions: every node knows the region nearest to it, and the surface
    /// is moved out by the region's offset, m. `region` is per triangle.
    pub fn from_regions(
        positions: &[[f32; 3]],
        normals: &[[f32; 3]],
        triangles: &[[u32; 3]],
        region: &[u8],
        offsets: &[f32],
        cell: f32,
        band: f32,
    ) -> Self {
        let (mut low, mut high) = (Vec3::MAX, Vec3::MIN);
        for p in positions {
            (low, high) = (low.min(Vec3::from(*p)), high.max(Vec3::from(*p)));
        }
        let mut grid = Self::empty(low - band - cell, high + band + cell, cell, band);
        let (plane, size) = ((grid.size.y * grid.size.z) as usize, grid.size);
        let mut values = vec![f32::INFINITY; grid.values.len()];
        let mut regions = vec![0u8; grid.values.len()];
        values.par_chunks_mut(plane).zip(regions.par_chunks_mut(plane)).enumerate().for_each(|(x, (slab, owners))| {
            for (k, t) in triangles.iter().enumerate() {
                let p = t.map(|i| Vec3::from(positions[i as usize]));
                let n = t.map(|i| Vec3::from(normals[i as usize]));
                let at_x = grid.low.x + x as f32 * cell;
                let (a, b) = (p[0].min(p[1]).min(p[2]) - band, p[0].max(p[1]).max(p[2]) + band);
                if at_x < a.x || at_x > b.x {
                    continue;
                }
                let own = region.get(k).copied().unwrap_or(0);
                let from = ((a - grid.low) / cell).ceil().as_ivec3().max(IVec3::ZERO);
                let to = ((b - grid.low) / cell).floor().as_ivec3().min(size - 1);
                for y in from.y..=to.y {
                    for z in from.z..=to.z {
                        let q = grid.low + Vec3::new(x as f32, y as f32, z as f32) * cell;
                        let at = (y * size.z + z) as usize;
                        if nearest(q, p, n, &mut slab[at]) {
                            owners[at] = own;
                        }
                    }
                }
            }
        });
        let shift = |(v, r): (&mut f32, &u8)| *v -= offsets.get(*r as usize).copied().unwrap_or(0.0);
        values.par_iter_mut().zip(&regions).for_each(shift);
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
        grid.regions = if region.is_empty() { Vec::new() } else { regions };
        grid.deepen();
        grid
    }

    /// Continues the distance into the depth of the body, where the band left one value: what is deep inside has a nearest
    /// surface too. Fast sweeping of |grad d| = 1 (Zhao 2004) over the inner nodes only.
    fn deepen(&mut self) {
        let (size, cell) = (self.size, self.cell);
        let inner = IVec3::ONE;
        let deep: Vec<usize> = (0..self.values.len())
            .filter(|&i| self.values[i] <= -self.band)
            .filter(|&i| {
                let c = self.coordinates(i);
                c.cmpge(inner).all() && c.cmplt(size - 1).all()
            })
            .collect();
        if deep.is_empty() {
            return;
        }
        // deeper than any body, until a neighbour knows better
        const UNKNOWN: f32 = -10.0;
        deep.iter().for_each(|&i| self.values[i] = UNKNOWN);
        let steps = [(size.y * size.z) as usize, size.z as usize, 1];
        let known = |v: f32| -v;
        for round in 0..4 {
            let one = |i: usize, values: &mut Vec<f32>| {
                let mut near = steps.map(|s| known(values[i - s]).min(known(values[i + s])));
                near.sort_by(f32::total_cmp);
                let [a, b, c] = near;
                // from one, two or three axes, as many as lie nearer than the solution
                let mut d = a + cell;
                if d > b {
                    d = 0.5 * (a + b + (2.0 * cell * cell - (a - b) * (a - b)).max(0.0).sqrt());
                    if d > c {
                        let sum = a + b + c;
                        let root = (sum * sum - 3.0 * (a * a + b * b + c * c - cell * cell)).max(0.0);
                        d = (sum + root.sqrt()) / 3.0;
                    }
                }
                values[i] = values[i].max(-d);
            };
            if round % 2 == 0 {
                deep.iter().for_each(|&i| one(i, &mut self.values));
            } else {
                deep.iter().rev().for_each(|&i| one(i, &mut self.values));
            }
        }
        // what is cut off from all surfaces
        self.values.iter_mut().filter(|v| **v <= UNKNOWN).for_each(|v| *v = -self.band);
    }

    /// Joins other shapes to the body: of all the nearest counts. The grid grows to hold them, but not beyond `reach` (m) from
    /// the body; every shape is looked at only where it can matter.
    pub fn joined(self, shapes: &[SolidShape], reach: f32) -> Self {
        let margin = self.band + self.cell;
        let (own_low, own_high) = (self.low, self.node_at(self.size - 1));
        let (mut low, mut high) = (own_low, own_high);
        for s in shapes {
            low = low.min((Vec3::from(s.low) - margin).max(own_low - reach));
            high = high.max((Vec3::from(s.high) + margin).min(own_high + reach));
        }
        // the same nodes as before, so that the body does not change
        let before = ((own_low - low) / self.cell).ceil().as_ivec3().max(IVec3::ZERO);
        let after = ((high - own_high) / self.cell).ceil().as_ivec3().max(IVec3::ZERO);
        let size = self.size + before + after;
        let mut grid = Self { low: own_low - before.as_vec3() * self.cell, size, values: Vec::new(), regions: Vec::new(), ..self };
        let count = (size.x * size.y * size.z) as usize;
        (grid.values, grid.regions) = (vec![grid.band; count], vec![0; count]);
        let line = self.size.z as usize;
        for x in 0..self.size.x {
            for y in 0..self.size.y {
                let from = ((x * self.size.y + y) * self.size.z) as usize;
                let c = IVec3::new(x, y, 0) + before;
                let to = ((c.x * size.y + c.y) * size.z + c.z) as usize;
                grid.values[to..to + line].copy_from_slice(&self.values[from..from + line]);
                if !self.regions.is_empty() {
                    grid.regions[to..to + line].copy_from_slice(&self.regions[from..from + line]);
                }
            }
        }
        for s in shapes {
            let from = ((Vec3::from(s.low) - margin - grid.low) / grid.cell).floor().as_ivec3().max(IVec3::ZERO);
            let to = ((Vec3::from(s.high) + margin - grid.low) / grid.cell).ceil().as_ivec3().min(size - 1);
            if from.cmple(to).all() {
                grid.put(s, from, to);
            }
        }
        grid
    }

    /// Puts a shape into the nodes of a box; boxes that lie farther from it than the band, as seen from their middle, are
    /// passed over whole.
    fn put(&mut self, shape: &SolidShape, from: IVec3, to: IVec3) {
        const SMALL: i32 = 4;
        let span = to - from;
        let middle = (self.node_at(from) + self.node_at(to)) * 0.5;
        // a close estimate of a distance may be off by a share of it
        let radius = 0.5 * (span.as_vec3() * self.cell).length();
        let away = (shape.distance)(middle);
        if away * shape.exact > radius + self.band {
            return;
        }
        if span.max_element() > SMALL {
            let axis = (0..3).max_by_key(|k| span[*k]).unwrap_or(0);
            let half = from[axis] + span[axis] / 2;
            let (mut low_end, mut high_start) = (to, from);
            low_end[axis] = half;
            high_start[axis] = half + 1;
            self.put(shape, from, low_end);
            self.put(shape, high_start, to);
            return;
        }
        for x in from.x..=to.x {
            for y in from.y..=to.y {
                for z in from.z..=to.z {
                    let c = IVec3::new(x, y, z);
                    let d = (shape.distance)(self.node_at(c));
                    let at = ((x * self.size.y + y) * self.size.z + z) as usize;
                    if d < self.values[at] {
                        (self.values[at], self.regions[at]) = (d, shape.region);
                    }
                }
            }
        }
    }

    fn coordinates(&self, i: usize) -> IVec3 {
        let (i, size) = (i as i32, self.size);
        let (j, z) = (i / size.z, i % size.z);
        IVec3::new(j / size.y, j % size.y, z)
    }

    fn index_of(&self, c: IVec3) -> Option<usize> {
        let inside = c.min_element() >= 0 && c.x < self.size.x && c.y < self.size.y && c.z < self.size.z;
        inside.then(|| ((c.x * self.size.y + c.y) * self.size.z + c.z) as usize)
    }

    fn node_at(&self, c: IVec3) -> Vec3 {
        self.low + c.as_vec3() * self.cell
    }

    /// The region of the surface nearest to a point; 0 where there is only one.
    #[inline]
    pub fn region(&self, p: Vec3) -> u8 {
        if self.regions.is_empty() {
            return 0;
        }
        let c = ((p - self.low) / self.cell).round().as_ivec3();
        self.index_of(c).map_or(0, |k| self.regions[k])
    }

    fn empty(low: Vec3, high: Vec3, cell: f32, band: f32) -> Self {
        let size = ((high - low) / cell).ceil().as_ivec3() + 1;
        Self { low, cell, size, values: vec![band; (size.x * size.y * size.z) as usize], band, regions: Vec::new() }
    }

    fn node(&self, i: usize) -> Vec3 {
        self.node_at(self.coordinates(i))
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
        // where all corners are alike, as between two surfaces, the way to the highest of them is as good as any
        let flat = || {
            let best = (0..8).max_by(|i, j| c[*i].total_cmp(&c[*j])).unwrap_or(0);
            (Vec3::new((best >> 2) as f32, (best >> 1 & 1) as f32, (best & 1) as f32) - 0.5).normalize()
        };
        let gradient = Vec3::new(gx, gy, gz);
        let normal = if gradient.length_squared() > 1e-12 { gradient.normalize() } else { flat() };
        (a + (b - a) * w.x, normal)
    }

    /// The eight corner values around a point (z fastest) and the weights within the cell.
    #[inline]
    fn sample(&self, p: Vec3) -> Option<([f32; 8], Vec3)> {
        let q = (p - self.low) / self.cell;
        // truncation is the floor only of what is not negative, which is looked at next
        let c = q.as_ivec3();
        if q.min_element() < 0.0 || c.x >= self.size.x - 1 || c.y >= self.size.y - 1 || c.z >= self.size.z - 1 {
            return None;
        }
        let i = ((c.x * self.size.y + c.y) * self.size.z + c.z) as usize;
        let (dy, dx) = (self.size.z as usize, (self.size.y * self.size.z) as usize);
        let v = &self.values;
        let corners = [v[i], v[i + 1], v[i + dy], v[i + dy + 1], v[i + dx], v[i + dx + 1], v[i + dx + dy], v[i + dx + dy + 1]];
        Some((corners, q - c.as_vec3()))
    }
}

/// A shape that is joined to a body: its box (m), the region it counts as, and its signed distance. `exact` is the least
/// share of the true distance that this may tell: 1 for an exact one.
pub struct SolidShape<'a> {
    /// Corner of the box it covers, m.
    pub low: [f32; 3],
    /// The opposite corner, m.
    pub high: [f32; 3],
    /// Which region of the grid it is.
    pub region: u8,
    /// Distance within which it is exact, m.
    pub exact: f32,
    /// Signed distance to the shape, m.
    pub distance: &'a (dyn Fn(Vec3) -> f32 + Sync),
}

/// Keeps the signed distance of smallest size; says whether it is the new one.
fn nearest(q: Vec3, p: [Vec3; 3], n: [Vec3; 3], slot: &mut f32) -> bool {
    let w = closest_on_triangle(q, p);
    let offset = q - (p[0] * w[0] + p[1] * w[1] + p[2] * w[2]);
    let d = offset.length();
    let nearer = d < slot.abs();
    if nearer {
        let normal = n[0] * w[0] + n[1] * w[1] + n[2] * w[2];
        *slot = if offset.dot(normal) < 0.0 { -d } else { d };
    }
    nearer
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
