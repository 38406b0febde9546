//! Cloth with thickness: an outer and an inner layer along the normals, closed by rims along what is open.

use std::collections::HashMap;

/// A closed surface made of a sheet.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Thick {
    /// The outer layer, vertex for vertex, then the inner one.
    pub positions: Vec<[f32; 3]>,
    /// Of each triangle of the sheet in turn: the outer one, the inner one, and two for each of its open edges.
    pub triangles: Vec<[u32; 3]>,
    /// The triangle of the sheet that each belongs to, and the corners of that triangle that its own corners lie at.
    pub of: Vec<(u32, [u8; 3])>,
}

/// A vertex in a sharp fold goes at most so many times the thickness, so that its faces come that far.
const FARTHEST: f32 = 2.0;

/// How far each vertex goes along its normal for its faces to go by 1: more in a fold than on a plain.
fn ways(positions: &[[f32; 3]], normals: &[[f32; 3]], triangles: &[[u32; 3]]) -> Vec<f32> {
    let mut sums = vec![(0.0f32, 0.0f32); positions.len()];
    for t in triangles {
        let [a, b, c] = t.map(|v| positions[v as usize]);
        let (u, v) = ([0, 1, 2].map(|k| b[k] - a[k]), [0, 1, 2].map(|k| c[k] - a[k]));
        let n = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
        let area = n.iter().map(|x| x * x).sum::<f32>().sqrt();
        for corner in t {
            let along: f32 = (0..3).map(|k| n[k] * normals[*corner as usize][k]).sum();
            let sum = &mut sums[*corner as usize];
            *sum = (sum.0 + area, sum.1 + along);
        }
    }
    sums.into_iter().map(|(area, along)| if along * FARTHEST > area { area / along } else { FARTHEST }).collect()
}

/// Thickens a sheet by so much outwards and inwards along its unit normals.
pub fn thicken(positions: &[[f32; 3]], normals: &[[f32; 3]], triangles: &[[u32; 3]], outwards: f32, inwards: f32) -> Thick {
    let count = positions.len() as u32;
    let ways = ways(positions, normals, triangles);
    let layer = |by: f32| positions.iter().zip(normals).zip(&ways).map(move |((p, n), way)| [0, 1, 2].map(|k| p[k] + by * way * n[k]));
    let mut walked: HashMap<[u32; 2], u32> = HashMap::new();
    for t in triangles {
        (0..3).for_each(|k| *walked.entry(edge(t[k], t[(k + 1) % 3])).or_default() += 1);
    }
    let mut thick = Thick { positions: layer(outwards).chain(layer(-inwards)).collect(), ..Thick::default() };
    for (t, [a, b, c]) in triangles.iter().enumerate() {
        let mut add = |corners: [u32; 3], at: [u8; 3]| {
            thick.triangles.push(corners);
            thick.of.push((t as u32, at));
        };
        add([*a, *b, *c], [0, 1, 2]);
        add([c + count, b + count, a + count], [2, 1, 0]);
        for k in 0..3u8 {
            let next = (k + 1) % 3;
            let (from, to) = (triangles[t][usize::from(k)], triangles[t][usize::from(next)]);
            if walked[&edge(from, to)] == 1 {
                add([to, from, from + count], [next, k, k]);
                add([to, from + count, to + count], [next, k, next]);
            }
        }
    }
    thick
}

fn edge(a: u32, b: u32) -> [u32; 2] {
    [a.min(b), a.max(b)]
}

#[cfg(test)]
mod tests {
    use super::*;
    use std::f64::consts::TAU;

    /// Six times the volume within a closed surface, and whether every edge is walked once each way.
    fn volume(thick: &Thick) -> (f64, bool) {
        let at = |v: u32| thick.positions[v as usize].map(f64::from);
        let mut sum = 0.0;
        let mut ways: HashMap<(u32, u32), i32> = HashMap::new();
        for t in &thick.triangles {
            let [a, b, c] = t.map(at);
            sum += a[0] * (b[1] * c[2] - b[2] * c[1]) + a[1] * (b[2] * c[0] - b[0] * c[2]) + a[2] * (b[0] * c[1] - b[1] * c[0]);
            (0..3).for_each(|k| *ways.entry((t[k], t[(k + 1) % 3])).or_default() += 1);
        }
        let closed = ways.iter().all(|((a, b), n)| *n == 1 && ways.get(&(*b, *a)) == Some(&1));
        (sum / 6.0, closed)
    }

    #[test]
    fn a_sheet_becomes_a_closed_slab_of_its_area_times_the_thickness() {
        let points: Vec<[f32; 3]> = (0..12).map(|k| [(k % 4) as f32 * 0.1, 0.0, -((k / 4) as f32) * 0.1]).collect();
        let cells = (0..2u32).flat_map(|r| (0..3u32).map(move |c| 4 * r + c));
        let triangles: Vec<[u32; 3]> = cells.flat_map(|v| [[v, v + 1, v + 5], [v, v + 5, v + 4]]).collect();
        for (out, inwards) in [(0.002, 0.0), (0.0, 0.002), (0.001, 0.001)] {
            let thick = thicken(&points, &[[0.0, 1.0, 0.0]; 12], &triangles, out, inwards);
            let (inside, closed) = volume(&thick);
            assert!(closed && (inside - 0.3 * 0.2 * 0.002).abs() < 1e-8, "{inside}");
            assert_eq!(thick.triangles.len(), 2 * triangles.len() + 2 * 10, "two for each of ten open edges");
        }
    }

    #[test]
    fn a_tube_has_the_volume_between_its_skins() {
        let n = 96u32;
        let place = |i: u32, y: f32| {
            let (s, c) = (TAU * f64::from(i) / f64::from(n)).sin_cos();
            [0.2 * s as f32, y, 0.2 * c as f32]
        };
        let positions: Vec<[f32; 3]> = (0..n).map(|i| place(i, 0.0)).chain((0..n).map(|i| place(i, 0.5))).collect();
        let normals: Vec<[f32; 3]> = positions.iter().map(|p| [p[0] / 0.2, 0.0, p[2] / 0.2]).collect();
        let triangles: Vec<[u32; 3]> = (0..n).flat_map(|i| [[i, (i + 1) % n, n + (i + 1) % n], [i, n + (i + 1) % n, n + i]]).collect();
        let (inside, closed) = volume(&thicken(&positions, &normals, &triangles, 0.002, 0.001));
        let wanted = 0.5 * std::f64::consts::PI * (0.202f64.powi(2) - 0.199f64.powi(2));
        assert!(closed && (inside / wanted - 1.0).abs() < 0.01, "{inside} for {wanted}");
    }
}
