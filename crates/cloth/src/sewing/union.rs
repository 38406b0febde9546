//! Union-find over vertices: who is one once all given pairs are fused.

/// Smallest member of each vertex's class.
pub(crate) fn union(count: usize, pairs: impl IntoIterator<Item = (u32, u32)>) -> Vec<u32> {
    let mut parent: Vec<u32> = (0..count as u32).collect();
    fn root(parent: &mut [u32], mut i: u32) -> u32 {
        while parent[i as usize] != i {
            parent[i as usize] = parent[parent[i as usize] as usize];
            i = parent[i as usize];
        }
        i
    }
    for (a, b) in pairs {
        let (a, b) = (root(&mut parent, a), root(&mut parent, b));
        parent[a.max(b) as usize] = a.min(b);
    }
    (0..count as u32).map(|i| root(&mut parent, i)).collect()
}
