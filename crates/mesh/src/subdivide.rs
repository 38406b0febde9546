//! Smooth subdivision of triangles (Loop 1987): every triangle becomes four, edges that are open stay a curve of their own.

use std::collections::HashMap;

/// A finer mesh; each triangle in turn has become four.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Subdivided {
    /// The old vertices, moved, then one for each edge.
    pub positions: Vec<[f32; 3]>,
    pub triangles: Vec<[u32; 3]>,
}

/// The edges of triangles by the number of their new vertex, counted on from `count`.
struct Edges {
    number: HashMap<[u32; 2], u32>,
    /// Ends of each, and the corners opposite of it.
    ends: Vec<([u32; 2], Vec<u32>)>,
}

impl Edges {
    fn of(triangles: &[[u32; 3]]) -> Self {
        let mut edges = Self { number: HashMap::new(), ends: Vec::new() };
        for t in triangles {
            for k in 0..3 {
                let key = edge(t[k], t[(k + 1) % 3]);
                let next = edges.ends.len() as u32;
                let at = *edges.number.entry(key).or_insert(next);
                if at == next {
                    edges.ends.push((key, Vec::with_capacity(2)));
                }
                edges.ends[at as usize].1.push(t[(k + 2) % 3]);
            }
        }
        edges
    }

    fn four(&self, [a, b, c]: [u32; 3], count: u32) -> [[u32; 3]; 4] {
        let at = |a: u32, b: u32| count + self.number[&edge(a, b)];
        let (ab, bc, ca) = (at(a, b), at(b, c), at(c, a));
        [[a, ab, ca], [ab, b, bc], [ca, bc, c], [ab, bc, ca]]
    }
}

fn edge(a: u32, b: u32) -> [u32; 2] {
    [a.min(b), a.max(b)]
}

/// Makes it four times as fine and smooth.
pub fn subdivide(positions: &[[f32; 3]], triangles: &[[u32; 3]]) -> Subdivided {
    let edges = Edges::of(triangles);
    let at = |v: u32| positions[v as usize].map(f64::from);
    let mix = |parts: &[(f64, u32)]| {
        let sum = parts.iter().fold([0.0; 3], |s, (w, v)| [0, 1, 2].map(|k| s[k] + w * at(*v)[k]));
        sum.map(|v| v as f32)
    };
    let mut around: Vec<Vec<u32>> = vec![Vec::new(); positions.len()];
    // neighbours along open edges (or edges of more than two triangles), which stay a curve
    let mut along: Vec<Vec<u32>> = vec![Vec::new(); positions.len()];
    for ([a, b], opposite) in &edges.ends {
        for (v, other) in [(a, b), (b, a)] {
            around[*v as usize].push(*other);
            if opposite.len() != 2 {
                along[*v as usize].push(*other);
            }
        }
    }
    let moved = (0..positions.len() as u32).map(|v| match (&along[v as usize][..], &around[v as usize]) {
        ([], near) if near.len() > 2 => {
            let n = near.len() as f64;
            let share = (0.625 - (0.375 + 0.25 * (std::f64::consts::TAU / n).cos()).powi(2)) / n;
            let mut parts: Vec<(f64, u32)> = near.iter().map(|w| (share, *w)).collect();
            parts.push((1.0 - n * share, v));
            mix(&parts)
        }
        ([a, b], _) => mix(&[(0.75, v), (0.125, *a), (0.125, *b)]),
        // a corner stays
        _ => positions[v as usize],
    });
    let halves = edges.ends.iter().map(|([a, b], opposite)| match opposite[..] {
        [c, d] => mix(&[(0.375, *a), (0.375, *b), (0.125, c), (0.125, d)]),
        _ => mix(&[(0.5, *a), (0.5, *b)]),
    });
    let count = positions.len() as u32;
    Subdivided { positions: moved.chain(halves).collect(), triangles: triangles.iter().flat_map(|t| edges.four(*t, count)).collect() }
}

/// Flat coordinates for the same triangles: halves of the edges, and nothing moves.
pub fn subdivide_flat(flat: &[[f32; 2]], triangles: &[[u32; 3]]) -> (Vec<[f32; 2]>, Vec<[u32; 3]>) {
    let edges = Edges::of(triangles);
    let half = |[a, b]: [u32; 2]| [0, 1].map(|k| 0.5 * (flat[a as usize][k] + flat[b as usize][k]));
    let points = flat.iter().copied().chain(edges.ends.iter().map(|(ends, _)| half(*ends))).collect();
    (points, triangles.iter().flat_map(|t| edges.four(*t, flat.len() as u32)).collect())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn an_octahedron_comes_near_to_a_ball_and_keeps_its_balance() {
        let mut mesh = Subdivided {
            positions: vec![[1.0, 0.0, 0.0], [-1.0, 0.0, 0.0], [0.0, 1.0, 0.0], [0.0, -1.0, 0.0], [0.0, 0.0, 1.0], [0.0, 0.0, -1.0]],
            triangles: vec![[0, 2, 4], [2, 1, 4], [1, 3, 4], [3, 0, 4], [2, 0, 5], [1, 2, 5], [3, 1, 5], [0, 3, 5]],
        };
        for _ in 0..3 {
            mesh = subdivide(&mesh.positions, &mesh.triangles);
        }
        assert_eq!((mesh.triangles.len(), mesh.positions.len()), (8 * 64, 258));
        let radii: Vec<f32> = mesh.positions.iter().map(|p| p.iter().map(|v| v * v).sum::<f32>().sqrt()).collect();
        let (low, high) = radii.iter().fold((f32::MAX, 0.0f32), |(l, h), r| (l.min(*r), h.max(*r)));
        assert!(high / low < 1.12, "{low} to {high}");
        let middle = (0..3).map(|k| mesh.positions.iter().map(|p| p[k]).sum::<f32>().abs()).fold(0.0, f32::max);
        assert!(middle < 1e-3);
    }

    #[test]
    fn a_flat_square_stays_flat_keeps_its_corners_and_its_area() {
        let square = [[0.0, 0.0, 0.0], [1.0, 0.0, 0.0], [1.0, 1.0, 0.0], [0.0, 1.0, 0.0]];
        let triangles = [[0, 1, 2], [0, 2, 3]];
        let fine = subdivide(&square, &triangles);
        assert!(fine.positions.iter().all(|p| p[2] == 0.0 && (0.0..=1.0).contains(&p[0]) && (0.0..=1.0).contains(&p[1])));
        let (flat, same) = subdivide_flat(&square.map(|p| [p[0], p[1]]), &triangles);
        assert_eq!((same, flat.len()), (fine.triangles.clone(), fine.positions.len()), "the layout has the same triangles");
        // the border is a curve of its own: corners of two open edges are rounded by an eighth, its middle stays
        assert_eq!(fine.positions[fine.triangles[0][1] as usize], [0.5, 0.0, 0.0]);
        assert_eq!(fine.positions[0], [0.125, 0.125, 0.0]);
    }
}
