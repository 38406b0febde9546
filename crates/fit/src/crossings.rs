//! Crossings of cloth with the body and with itself, gathered into places.

use crate::intersect::triangles_cross;
use rayon::prelude::*;
use std::collections::HashMap;

/// One connected place where triangles cross.
#[derive(Clone, Debug, PartialEq)]
pub struct Crossing {
    /// Middle of the place, m.
    pub at: [f32; 3],
    /// Cloth triangles concerned.
    pub triangles: Vec<u32>,
    /// Number of crossing triangle pairs.
    pub pairs: usize,
}

#[derive(Clone, Copy)]
struct Aabb {
    low: [f32; 3],
    high: [f32; 3],
    triangle: u32,
    first_set: bool,
}

/// Places where cloth triangles cross body triangles.
pub fn cloth_body(positions: &[[f32; 3]], triangles: &[[u32; 3]], body: &[[f32; 3]], body_triangles: &[[u32; 3]]) -> Vec<Crossing> {
    let mut boxes = boxed(positions, triangles, true);
    boxes.extend(boxed(body, body_triangles, false));
    let pairs = sweep_and_prune(
        boxes,
        |a, b| a.first_set != b.first_set,
        |a, b| {
            let (cloth, skin) = if a.first_set { (a, b) } else { (b, a) };
            let t = triangles[cloth.triangle as usize].map(|v| positions[v as usize]);
            let s = body_triangles[skin.triangle as usize].map(|v| body[v as usize]);
            triangles_cross(t, s).then_some([cloth.triangle, cloth.triangle])
        },
    );
    components(positions, triangles, &pairs)
}

/// Places where cloth crosses itself. Triangles that share a vertex in `welded` numbering are neighbours and not compared.
pub fn cloth_cloth(positions: &[[f32; 3]], triangles: &[[u32; 3]], welded: &[u32]) -> Vec<Crossing> {
    let corners = |t: u32| triangles[t as usize].map(|v| welded[v as usize]);
    let pairs = sweep_and_prune(
        boxed(positions, triangles, true),
        |a, b| {
            let (s, t) = (corners(a.triangle), corners(b.triangle));
            !s.iter().any(|v| t.contains(v))
        },
        |a, b| {
            let p = |t: u32| triangles[t as usize].map(|v| positions[v as usize]);
            triangles_cross(p(a.triangle), p(b.triangle)).then_some([a.triangle, b.triangle])
        },
    );
    components(positions, triangles, &pairs)
}

fn boxed(positions: &[[f32; 3]], triangles: &[[u32; 3]], first_set: bool) -> Vec<Aabb> {
    let corner = |t: &[u32; 3], pick: fn(f32, f32) -> f32| {
        let p = t.map(|v| positions[v as usize]);
        [0, 1, 2].map(|k| pick(pick(p[0][k], p[1][k]), p[2][k]))
    };
    triangles
        .iter()
        .enumerate()
        .map(|(i, t)| Aabb { low: corner(t, f32::min), high: corner(t, f32::max), triangle: i as u32, first_set })
        .collect()
}

/// Sweep along y; pairs come out in a fixed order.
fn sweep_and_prune(
    mut boxes: Vec<Aabb>,
    wanted: impl Fn(&Aabb, &Aabb) -> bool + Sync,
    test: impl Fn(&Aabb, &Aabb) -> Option<[u32; 2]> + Sync,
) -> Vec<[u32; 2]> {
    boxes.sort_by(|a, b| a.low[1].total_cmp(&b.low[1]).then(b.first_set.cmp(&a.first_set)).then(a.triangle.cmp(&b.triangle)));
    let meets = |a: &Aabb, b: &Aabb| (0..3).all(|k| a.low[k] <= b.high[k] && b.low[k] <= a.high[k]);
    (0..boxes.len())
        .into_par_iter()
        .with_min_len(64)
        .flat_map_iter(|i| {
            let a = boxes[i];
            let (boxes, wanted, test) = (&boxes, &wanted, &test);
            boxes[i + 1..]
                .iter()
                .take_while(move |b| b.low[1] <= a.high[1])
                .filter(move |b| meets(&a, b) && wanted(&a, b))
                .filter_map(move |b| test(&a, b))
        })
        .collect()
}

/// Joins crossing pairs whose cloth triangles share a vertex into one place.
fn components(positions: &[[f32; 3]], triangles: &[[u32; 3]], pairs: &[[u32; 2]]) -> Vec<Crossing> {
    let mut parent: HashMap<u32, u32> = HashMap::new();
    fn root(parent: &mut HashMap<u32, u32>, v: u32) -> u32 {
        let p = *parent.entry(v).or_insert(v);
        if p == v {
            return v;
        }
        let r = root(parent, p);
        parent.insert(v, r);
        r
    }
    for pair in pairs {
        let anchor = root(&mut parent, triangles[pair[0] as usize][0]);
        for t in pair {
            for &v in &triangles[*t as usize] {
                let r = root(&mut parent, v);
                parent.insert(r, anchor);
            }
        }
    }
    let mut found: Vec<(u32, Crossing)> = Vec::new();
    for pair in pairs {
        let key = root(&mut parent, triangles[pair[0] as usize][0]);
        let place = match found.iter_mut().find(|(k, _)| *k == key) {
            Some((_, place)) => place,
            None => {
                found.push((key, Crossing { at: [0.0; 3], triangles: Vec::new(), pairs: 0 }));
                let last = found.len() - 1;
                &mut found[last].1
            }
        };
        place.pairs += 1;
        place.triangles.extend(pair);
    }
    for (_, place) in &mut found {
        place.triangles.sort_unstable();
        place.triangles.dedup();
        let corners: Vec<[f32; 3]> = place.triangles.iter().flat_map(|t| triangles[*t as usize]).map(|v| positions[v as usize]).collect();
        place.at = [0, 1, 2].map(|k| corners.iter().map(|c| c[k]).sum::<f32>() / corners.len() as f32);
    }
    found.into_iter().map(|(_, place)| place).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    /// Two parallel strips of squares in the planes z = 0 and x = shift, crossing along a line.
    fn strips(shift: f32) -> (Vec<[f32; 3]>, Vec<[u32; 3]>) {
        let mut points = Vec::new();
        let mut triangles = Vec::new();
        for strip in 0..2 {
            let base = points.len() as u32;
            for j in 0..5 {
                for i in 0..2 {
                    let (s, y) = (i as f32 - 0.5, j as f32);
                    points.push(if strip == 0 { [s, y, 0.0] } else { [shift, y + 0.37, s] });
                }
            }
            for j in 0..4 {
                let a = base + 2 * j;
                triangles.extend([[a, a + 1, a + 3], [a, a + 3, a + 2]]);
            }
        }
        (points, triangles)
    }

    #[test]
    fn crossing_strips_are_one_place_and_separate_strips_none() {
        let (points, triangles) = strips(0.11);
        let welded: Vec<u32> = (0..points.len() as u32).collect();
        let found = cloth_cloth(&points, &triangles, &welded);
        assert_eq!(found.len(), 1);
        assert!(found[0].pairs >= 7 && (found[0].at[1] - 2.2).abs() < 0.5);
        let (points, triangles) = strips(0.6);
        assert!(cloth_cloth(&points, &triangles, &welded).is_empty());
    }

    #[test]
    fn a_spike_through_the_skin_is_found_once() {
        let body = [[-1.0, -1.0, 0.0], [1.0, -1.0, 0.0], [0.0, 1.0, 0.0]];
        let cloth = [[0.0, 0.0, 0.5], [0.1, 0.0, 0.5], [0.0, 0.0, -0.5], [3.0, 0.0, 0.5], [3.1, 0.0, 0.5], [3.0, 0.0, -0.5]];
        let found = cloth_body(&cloth, &[[0, 1, 2], [3, 4, 5]], &body, &[[0, 1, 2]]);
        assert_eq!(found.len(), 1);
        assert_eq!(found[0].triangles, vec![0]);
    }
}
