//! Fusing vertices that seams brought together into one.

/// The result of fusing: old vertex -> new vertex, and the first old vertex of every new one.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Weld {
    /// For every old vertex the number it has now.
    pub new_of_old: Vec<u32>,
    /// For every new vertex the first old one that became it.
    pub old_of_new: Vec<u32>,
}

/// Fuses the given pairs (transitively); new vertices keep the order of their first old vertex.
pub fn weld(count: usize, pairs: impl IntoIterator<Item = (u32, u32)>) -> Weld {
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
        let (low, high) = (a.min(b), a.max(b));
        parent[high as usize] = low;
    }
    let mut new_of_old = vec![0; count];
    let mut old_of_new = Vec::new();
    for i in 0..count as u32 {
        let r = root(&mut parent, i);
        if r == i {
            new_of_old[i as usize] = old_of_new.len() as u32;
            old_of_new.push(i);
        } else {
            new_of_old[i as usize] = new_of_old[r as usize];
        }
    }
    Weld { new_of_old, old_of_new }
}
