//! Where seams are still open: edges that are to be sewn together may pass each other there, or they would hook into
//! each other as they meet.

use crate::elements::bending::panel_of_vertex;
use crate::scene::{Scene, SeamPair};
use std::collections::HashMap;

/// How far apart along the seams two vertices may be that may pass each other, m.
const LOOSE: f32 = 0.08;
/// Of a vertex on no open seam.
const NONE: u32 = u32::MAX;

pub(crate) struct SeamExemption {
    panel: Vec<usize>,
    /// By vertex: the last of its open pairs, twice its number and one more on the second side.
    place: Vec<u32>,
    /// By pair: the pairs within reach along the seams, across corners where seams meet.
    near: Vec<Vec<u32>>,
    /// Pairs that a stretch reaches either way.
    reach: u32,
}

impl SeamExemption {
    /// `group` holds the vertex that will stand for each one; `edge` is the mean edge, m.
    pub fn new(scene: &Scene, group: &[u32], edge: f32) -> Self {
        let reach = (LOOSE / edge).ceil() as u32;
        Self { panel: panel_of_vertex(scene), place: vec![NONE; group.len()], near: near(&scene.pairs, group, reach), reach }
    }

    /// Takes up which pairs are open.
    pub fn connect(&mut self, open: impl Iterator<Item = (usize, SeamPair)>) {
        self.place.fill(NONE);
        for (k, pair) in open {
            self.place[pair.a as usize] = 2 * k as u32;
            self.place[pair.b as usize] = 2 * k as u32 + 1;
        }
    }

    /// Whether two vertices may pass each other.
    pub fn exempts(&self, a: u32, b: u32) -> bool {
        let (p, q) = (self.place[a as usize], self.place[b as usize]);
        if p == NONE || q == NONE {
            return false;
        }
        if self.panel[a as usize] == self.panel[b as usize] {
            // a piece sewn onto itself
            return (p ^ q) & 1 == 1 && (p / 2).abs_diff(q / 2) <= self.reach;
        }
        self.near[p as usize / 2].contains(&(q / 2))
    }
}

/// The pairs within so many steps of each pair; pairs that follow each other on a seam or meet at a corner are neighbours.
fn near(pairs: &[SeamPair], group: &[u32], reach: u32) -> Vec<Vec<u32>> {
    let mut of_group: HashMap<u32, Vec<u32>> = HashMap::new();
    for (k, pair) in pairs.iter().enumerate() {
        of_group.entry(group[pair.a as usize]).or_default().push(k as u32);
    }
    let same = |k: u32| &of_group[&group[pairs[k as usize].a as usize]];
    let beside = |k: u32| {
        let own = |n: Option<u32>| n.filter(|n| pairs.get(*n as usize).is_some_and(|p| p.seam == pairs[k as usize].seam));
        [own(k.checked_sub(1)), own(Some(k + 1))].into_iter().flatten()
    };
    let around = |start: u32| {
        let mut found = same(start).clone();
        let mut rim = found.clone();
        for _ in 0..reach {
            let next: Vec<u32> = rim.iter().flat_map(|&k| beside(k)).flat_map(|k| same(k).iter().copied()).collect();
            rim.clear();
            for k in next {
                if !found.contains(&k) {
                    found.push(k);
                    rim.push(k);
                }
            }
        }
        found
    };
    (0..pairs.len() as u32).map(around).collect()
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn stretches_reach_along_a_seam_and_around_a_corner_but_not_to_the_same_piece() {
        // three strips of four edges: the first is sewn to the second, and its end to the third
        let strip = |k: usize| (0..5).flat_map(move |i| [[i as f32, 10.0 * k as f32], [i as f32, 10.0 * k as f32 + 1.0]]);
        let triangles =
            (0..3u32).flat_map(|k| (0..4).flat_map(move |i| [[0, 2, 1], [1, 2, 3]].map(|t| t.map(|v: u32| 10 * k + 2 * i + v))));
        let mut scene = Scene::plain((0..3).flat_map(strip).collect(), triangles.collect());
        let panel = scene.panels[0].clone();
        scene.panels = (0..3).map(|k| crate::Panel { first: 8 * k, count: 8, ..panel.clone() }).collect();
        let pair = |a, b, seam| SeamPair { a, b, seam };
        scene.pairs = (0..5).map(|i| pair(1 + 2 * i, 10 + 2 * i, 0)).chain([pair(9, 20, 1), pair(8, 21, 1)]).collect();
        let group = crate::sewing::union::union(30, scene.pairs.iter().map(|p| (p.a, p.b)));
        let mut closing = SeamExemption::new(&scene, &group, 0.04);
        closing.connect(scene.pairs.iter().copied().enumerate());
        assert!(closing.exempts(1, 10) && closing.exempts(1, 14), "two pairs on");
        assert!(!closing.exempts(1, 16), "three pairs on");
        assert!(!closing.exempts(1, 3), "of one piece and one side");
        assert!(!closing.exempts(0, 10), "not on the seam");
        assert!(closing.exempts(14, 20), "around the corner");
    }
}
