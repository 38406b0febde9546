//! The nearest place of a surface: triangles in runs, each with its box, of which only the near ones are searched.

use crate::vector::{Point, cross, dot, sub};

/// Triangles of a run: those of a mesh that follow each other mostly lie together.
const RUN: usize = 32;

/// A surface to which distances are asked.
pub struct Nearest<'a> {
    positions: &'a [[f32; 3]],
    triangles: &'a [[u32; 3]],
    /// Lower and upper corners of the runs' boxes, m.
    boxes: Vec<[[f32; 3]; 2]>,
}

impl<'a> Nearest<'a> {
    /// Of triangles, m.
    pub fn new(positions: &'a [[f32; 3]], triangles: &'a [[u32; 3]]) -> Self {
        let around = |run: &[[u32; 3]]| {
            let fold = |pick: fn(f32, f32) -> f32, start: f32| {
                [0, 1, 2].map(|k| run.iter().flatten().map(|v| positions[*v as usize][k]).fold(start, pick))
            };
            [fold(f32::min, f32::MAX), fold(f32::max, f32::MIN)]
        };
        Self { positions, triangles, boxes: triangles.chunks(RUN).map(around).collect() }
    }

    /// Distance of a point from the surface, m; none where there are no triangles.
    pub fn distance(&self, at: [f32; 3]) -> Option<f64> {
        self.place(at).map(|(distance, _)| distance)
    }

    /// The same with the number of the nearest triangle.
    pub fn place(&self, at: [f32; 3]) -> Option<(f64, usize)> {
        let away =
            |[low, high]: &[[f32; 3]; 2]| (0..3).map(|k| f64::from((low[k] - at[k]).max(at[k] - high[k]).max(0.0)).powi(2)).sum::<f64>();
        // the nearest box first: it leaves few others to look at
        let first = (0..self.boxes.len()).min_by(|a, b| away(&self.boxes[*a]).total_cmp(&away(&self.boxes[*b])))?;
        let mut best = self.within(first, at);
        for run in (0..self.boxes.len()).filter(|run| *run != first) {
            if away(&self.boxes[run]) < best.0 {
                let other = self.within(run, at);
                if other.0 < best.0 {
                    best = other;
                }
            }
        }
        Some((best.0.sqrt(), best.1))
    }

    /// Squared distance from the triangles of a run, m², and the nearest of them.
    fn within(&self, run: usize, at: [f32; 3]) -> (f64, usize) {
        let at = at.map(f64::from);
        let to = |t: usize| squared_distance(at, self.triangles[t].map(|v| self.positions[v as usize].map(f64::from)));
        let run = run * RUN..((run + 1) * RUN).min(self.triangles.len());
        run.map(|t| (to(t), t)).fold((f64::MAX, 0), |best, other| if other.0 < best.0 { other } else { best })
    }
}

/// Of a point from a triangle (Ericson 2005, section 5.1.5), m².
fn squared_distance(p: Point, [a, b, c]: [Point; 3]) -> f64 {
    let (ab, ac, ap) = (sub(b, a), sub(c, a), sub(p, a));
    let (d1, d2) = (dot(ab, ap), dot(ac, ap));
    let along = |from: Point, way: Point, t: f64| {
        let q = [0, 1, 2].map(|k| from[k] + t.clamp(0.0, 1.0) * way[k]);
        let d = sub(p, q);
        dot(d, d)
    };
    if d1 <= 0.0 && d2 <= 0.0 {
        return along(a, ab, 0.0);
    }
    let bp = sub(p, b);
    let (d3, d4) = (dot(ab, bp), dot(ac, bp));
    if d3 >= 0.0 && d4 <= d3 {
        return along(b, ab, 0.0);
    }
    let vc = d1 * d4 - d3 * d2;
    if vc <= 0.0 && d1 >= 0.0 && d3 <= 0.0 {
        return along(a, ab, d1 / (d1 - d3));
    }
    let cp = sub(p, c);
    let (d5, d6) = (dot(ab, cp), dot(ac, cp));
    if d6 >= 0.0 && d5 <= d6 {
        return along(c, ac, 0.0);
    }
    let vb = d5 * d2 - d1 * d6;
    if vb <= 0.0 && d2 >= 0.0 && d6 <= 0.0 {
        return along(a, ac, d2 / (d2 - d6));
    }
    let va = d3 * d6 - d5 * d4;
    if va <= 0.0 && d4 - d3 >= 0.0 && d5 - d6 >= 0.0 {
        return along(b, sub(c, b), (d4 - d3) / ((d4 - d3) + (d5 - d6)));
    }
    let n = cross(ab, ac);
    let length = dot(n, n);
    if length > 0.0 { dot(ap, n).powi(2) / length } else { along(a, ab, 0.0) }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn distances_to_faces_edges_and_corners() {
        // an octahedron of radius 1
        let points = [[1.0, 0.0, 0.0], [-1.0, 0.0, 0.0], [0.0, 1.0, 0.0], [0.0, -1.0, 0.0], [0.0, 0.0, 1.0], [0.0, 0.0, -1.0]];
        let triangles = [[0, 2, 4], [2, 1, 4], [1, 3, 4], [3, 0, 4], [2, 0, 5], [1, 2, 5], [3, 1, 5], [0, 3, 5]];
        let third = 1.0 / 3.0f64.sqrt();
        let wanted = [([0.0, 0.0, 0.0], third), ([2.0, 0.0, 0.0], 1.0), ([1.0, 1.0, 0.0], 0.5f64.sqrt()), ([1.0, 1.0, 1.0], 2.0 * third)];
        for (at, wanted) in wanted {
            let found = Nearest::new(&points, &triangles).distance(at).expect("triangles");
            assert!((found - wanted).abs() < 1e-6, "{at:?}: {found}");
        }
    }

    #[test]
    fn runs_find_what_all_triangles_tell() {
        // a wavy strip of 400 triangles
        let points: Vec<[f32; 3]> =
            (0..402).map(|k| [(k / 2) as f32 * 0.01, (k % 2) as f32 * 0.1, (k as f32 * 0.05).sin() * 0.2]).collect();
        let triangles: Vec<[u32; 3]> = (0..400).map(|k| [k, k + 1, k + 2]).collect();
        let surface = Nearest::new(&points, &triangles);
        for k in 0..200 {
            let at = [(k * 37 % 200) as f32 * 0.01, (k * 11 % 30) as f32 * 0.02 - 0.2, (k * 7 % 50) as f32 * 0.02 - 0.5];
            let all = triangles.iter().map(|t| squared_distance(at.map(f64::from), t.map(|v| points[v as usize].map(f64::from))));
            assert_eq!(surface.distance(at), Some(all.fold(f64::MAX, f64::min).sqrt()));
        }
    }
}
