//! Who is connected with whom once fused vertices count as one: edges, hinges and the matrix pattern.

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

/// Every edge is told in the order in which the triangles come to it.
pub(crate) fn edges(triangles: &[[u32; 3]]) -> Edges {
    /// No further edge.
    const END: u32 = u32::MAX;
    let count = triangles.iter().flatten().map(|v| *v as usize + 1).max().unwrap_or(0);
    // the edges of every vertex to later ones, as a chain: its last, and of each its other end and the one before it
    let mut last = vec![END; count];
    let mut chain: Vec<(u32, u32)> = Vec::with_capacity(triangles.len() * 2);
    let mut hinges = Vec::with_capacity(triangles.len() * 2);
    let mut all: Vec<(u32, u8)> = Vec::with_capacity(triangles.len() * 2);
    for (t, triangle) in triangles.iter().enumerate() {
        for k in 0..3u8 {
            let (a, b) = (triangle[k as usize], triangle[(k as usize + 1) % 3]);
            let (low, high) = (a.min(b), a.max(b));
            let mut at = last[low as usize];
            while at != END && chain[at as usize].0 != high {
                at = chain[at as usize].1;
            }
            if at == END {
                chain.push((high, last[low as usize]));
                last[low as usize] = all.len() as u32;
                all.push((t as u32, k));
                continue;
            }
            let (other, j) = all[at as usize];
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
