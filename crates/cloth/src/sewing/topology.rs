//! Who is connected with whom once fused vertices count as one: edges, hinges and the matrix pattern.

use std::collections::HashMap;

/// An interior edge: its two ends, the opposite vertices and the two triangles.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Hinge {
    /// Edge, then the tips of both triangles.
    pub vertices: [u32; 4],
    /// The triangle on either side of the edge.
    pub triangles: [u32; 2],
    /// Corner indices of the edge's ends (start, end) within each triangle.
    pub corners: [[u8; 2]; 2],
}

/// Hinges and edges of a triangle list (already mapped to fused vertices).
pub(crate) struct Edges {
    /// Inner edges with a triangle on either side.
    pub hinges: Vec<Hinge>,
    /// Every edge once, with the triangle that owns it and its corner there.
    pub all: Vec<(u32, u8)>,
}

pub(crate) fn edges(triangles: &[[u32; 3]]) -> Edges {
    let mut first: HashMap<(u32, u32), (u32, u8)> = HashMap::with_capacity(triangles.len() * 2);
    let (mut hinges, mut all) = (Vec::new(), Vec::new());
    for (t, triangle) in triangles.iter().enumerate() {
        for k in 0..3u8 {
            let (a, b) = (triangle[k as usize], triangle[(k as usize + 1) % 3]);
            let Some(&(other, j)) = first.get(&(a.min(b), a.max(b))) else {
                first.insert((a.min(b), a.max(b)), (t as u32, k));
                all.push((t as u32, k));
                continue;
            };
            let partner = triangles[other as usize];
            let (p, q) = (j as usize, (j as usize + 1) % 3);
            let start = partner[p];
            let own = if start == a { [k, (k + 1) % 3] } else { [(k + 1) % 3, k] };
            hinges.push(Hinge {
                vertices: [start, partner[q], partner[(p + 2) % 3], triangle[(k as usize + 2) % 3]],
                triangles: [other, t as u32],
                corners: [[p as u8, q as u8], own],
            });
        }
    }
    Edges { hinges, all }
}
