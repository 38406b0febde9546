//! Ways along the mesh: vertices spread evenly over it, and what lies within a way of one (Dijkstra's search).

use std::cmp::Reverse;
use std::collections::BinaryHeap;

/// The mesh as a net of lengths.
pub(crate) struct Net {
    first: Vec<u32>,
    ends: Vec<(u32, f32)>,
}

impl Net {
    /// `edges` join vertices by their lengths.
    pub fn new(count: usize, edges: &[(u32, u32, f32)]) -> Self {
        let mut first = vec![0u32; count + 1];
        for &(a, b, _) in edges {
            first[a as usize + 1] += 1;
            first[b as usize + 1] += 1;
        }
        for i in 0..count {
            first[i + 1] += first[i];
        }
        let mut next = first.clone();
        let mut ends = vec![(0, 0.0); 2 * edges.len()];
        for &(a, b, length) in edges {
            for (from, to) in [(a, b), (b, a)] {
                ends[next[from as usize] as usize] = (to, length);
                next[from as usize] += 1;
            }
        }
        Self { first, ends }
    }

    /// Lowers `distance` around a vertex as far as the way from it is shorter than what stands there.
    fn relax(&self, from: u32, distance: &mut [f32], mut seen: impl FnMut(u32)) {
        // lengths are positive, so their bits sort like the numbers
        let mut queue = BinaryHeap::from([(Reverse(0u32), from)]);
        distance[from as usize] = 0.0;
        seen(from);
        while let Some((Reverse(bits), vertex)) = queue.pop() {
            let so_far = f32::from_bits(bits);
            if so_far > distance[vertex as usize] {
                continue;
            }
            for &(to, length) in &self.ends[self.first[vertex as usize] as usize..self.first[vertex as usize + 1] as usize] {
                let way = so_far + length;
                if way < distance[to as usize] {
                    distance[to as usize] = way;
                    seen(to);
                    queue.push((Reverse(way.to_bits()), to));
                }
            }
        }
    }

    /// Evenly spread vertices, each the farthest from those before it, and the largest distance that is left.
    pub fn spread(&self, group: &[u32], count: usize) -> (Vec<u32>, f32) {
        let own = |i: usize| group[i] as usize == i;
        let mut distance = vec![f32::MAX; group.len()];
        let farthest =
            |distance: &[f32]| (0..group.len()).filter(|&i| own(i)).max_by(|&a, &b| distance[a].total_cmp(&distance[b]).then(b.cmp(&a)));
        let mut centres = Vec::with_capacity(count);
        while let Some(next) = farthest(&distance) {
            if centres.len() >= count && distance[next] < f32::MAX {
                return (centres, distance[next]);
            }
            centres.push(next as u32);
            self.relax(next as u32, &mut distance, |_| {});
        }
        (centres, 0.0)
    }

    /// Tells `found` of the vertices within a way of each centre: the centre's number, the vertex, their distance.
    pub fn each_within(&self, centres: &[u32], radius: f32, mut found: impl FnMut(usize, u32, f32)) {
        let mut distance = vec![radius; self.first.len() - 1];
        let mut seen = Vec::new();
        for (number, &centre) in centres.iter().enumerate() {
            self.relax(centre, &mut distance, |v| seen.push(v));
            seen.sort_unstable();
            seen.dedup();
            for vertex in seen.drain(..) {
                found(number, vertex, distance[vertex as usize]);
                distance[vertex as usize] = radius;
            }
        }
    }
}
