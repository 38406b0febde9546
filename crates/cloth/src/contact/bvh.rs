//! A box tree over triangles with fixed shape, refitted to moving boxes.

use glam::{Vec3, Vec3A};

/// Triangles per leaf.
const LEAF: usize = 4;

#[derive(Clone, Copy, Debug)]
pub(crate) struct Aabb {
    /// m.
    pub low: Vec3A,
    /// m.
    pub high: Vec3A,
}

impl Aabb {
    /// Contains nothing; joined with any box it gives that box.
    pub const EMPTY: Self = Self { low: Vec3A::MAX, high: Vec3A::MIN };
    /// With a point taken in.
    pub fn grow(self, p: Vec3A) -> Self {
        Self { low: self.low.min(p), high: self.high.max(p) }
    }
    /// Around both.
    pub fn join(self, o: Self) -> Self {
        Self { low: self.low.min(o.low), high: self.high.max(o.high) }
    }
    /// Larger by so many metres on every side.
    pub fn inflated(self, by: f32) -> Self {
        Self { low: self.low - by, high: self.high + by }
    }
}

/// A box that moves straight from one place to another, its sides each at constant speed or bulging outwards.
#[derive(Clone, Copy, Debug)]
pub(crate) struct SweptAabb {
    /// At the beginning of the step.
    pub start: Aabb,
    /// At its end.
    pub end: Aabb,
}

impl SweptAabb {
    /// Contains nothing.
    pub const EMPTY: Self = Self { start: Aabb::EMPTY, end: Aabb::EMPTY };
    /// A box that stands still.
    pub fn still(at: Aabb) -> Self {
        Self { start: at, end: at }
    }
    /// Around both, at both times.
    pub fn join(self, o: Self) -> Self {
        Self { start: self.start.join(o.start), end: self.end.join(o.end) }
    }
    /// Whether the boxes may meet on their way. They do not when one stays on the same side of the other at both ends:
    /// the gap between them along an axis is smallest at an end.
    #[inline]
    pub fn meets(&self, o: &Self) -> bool {
        let below = self.start.high.cmplt(o.start.low) & self.end.high.cmplt(o.end.low);
        let above = o.start.high.cmplt(self.start.low) & o.end.high.cmplt(self.end.low);
        !(below | above).any()
    }
}

struct Node {
    /// Right child; the left one follows its parent. Leaves have 0.
    right: u32,
    /// Range in `order` below this node.
    first: u32,
    count: u32,
}

/// Nodes in depth-first order, so children come after their parent.
pub(crate) struct Bvh {
    nodes: Vec<Node>,
    boxes: Vec<SweptAabb>,
    order: Vec<u32>,
    leaf_nodes: Vec<u32>,
}

impl Bvh {
    /// Splits the items by their centres along the longest side.
    pub fn new(centres: &[Vec3]) -> Self {
        let mut bvh = Self { nodes: Vec::new(), boxes: Vec::new(), order: (0..centres.len() as u32).collect(), leaf_nodes: Vec::new() };
        let mut order = std::mem::take(&mut bvh.order);
        bvh.build(centres, &mut order, 0);
        bvh.order = order;
        bvh.boxes = vec![SweptAabb::EMPTY; bvh.nodes.len()];
        bvh
    }

    fn build(&mut self, centres: &[Vec3], items: &mut [u32], first: u32) {
        let at = self.nodes.len();
        self.nodes.push(Node { right: 0, first, count: items.len() as u32 });
        if items.len() <= LEAF {
            self.leaf_nodes.push(at as u32);
            return;
        }
        let all = items.iter().fold(Aabb::EMPTY, |b, &i| b.grow(centres[i as usize].into()));
        let size = all.high - all.low;
        let axis = if size.x >= size.y && size.x >= size.z {
            0
        } else if size.y >= size.z {
            1
        } else {
            2
        };
        let middle = items.len() / 2;
        items.select_nth_unstable_by(middle, |&a, &b| centres[a as usize][axis].total_cmp(&centres[b as usize][axis]).then(a.cmp(&b)));
        let (left, right) = items.split_at_mut(middle);
        left.sort_unstable();
        right.sort_unstable();
        self.build(centres, left, first);
        self.nodes[at].right = self.nodes.len() as u32;
        self.build(centres, right, first + middle as u32);
    }

    /// New boxes for the same items: the tree keeps its shape.
    pub fn refit(&mut self, item_boxes: &[SweptAabb]) {
        for i in (0..self.nodes.len()).rev() {
            let node = &self.nodes[i];
            self.boxes[i] = if node.right == 0 {
                self.leaf(node).iter().fold(SweptAabb::EMPTY, |b, &k| b.join(item_boxes[k as usize]))
            } else {
                self.boxes[i + 1].join(self.boxes[node.right as usize])
            };
        }
    }

    fn leaf(&self, node: &Node) -> &[u32] {
        &self.order[node.first as usize..(node.first + node.count) as usize]
    }

    /// Nodes; parents come before their children, which come in order.
    pub fn count(&self) -> usize {
        self.nodes.len()
    }

    /// The children of a node that is no leaf.
    pub fn children(&self, node: usize) -> Option<[usize; 2]> {
        let right = self.nodes[node].right as usize;
        (right != 0).then_some([node + 1, right])
    }

    /// The items below a node.
    pub fn items(&self, node: usize) -> &[u32] {
        self.leaf(&self.nodes[node])
    }

    /// Where the items below a node end in the order of all.
    #[inline]
    pub fn end(&self, node: usize) -> u32 {
        self.nodes[node].first + self.nodes[node].count
    }

    /// Leaves, by their number.
    pub fn leaves(&self) -> usize {
        self.leaf_nodes.len()
    }

    /// Calls `visit` for every two items, one of a leaf and the other of the same or a later one, whose boxes meet, unless
    /// `apart` knows of the leaf and a node, or of the leaf and itself, that nothing in them can meet.
    pub fn pairs_of_leaf(
        &self,
        leaf: usize,
        item_boxes: &[SweptAabb],
        apart: impl Fn(usize, usize) -> bool,
        mut visit: impl FnMut(u32, u32),
    ) {
        let own = self.leaf_nodes[leaf] as usize;
        let (query, items) = (&self.boxes[own], self.leaf(&self.nodes[own]));
        let inside = if apart(own, own) { &[] } else { items };
        for (k, &a) in inside.iter().enumerate() {
            for &b in inside[k + 1..].iter().filter(|b| item_boxes[a as usize].meets(&item_boxes[**b as usize])) {
                visit(a, b);
            }
        }
        let mut stack = [0u32; 64];
        let mut depth = 1;
        while depth > 0 {
            depth -= 1;
            let i = stack[depth] as usize;
            let node = &self.nodes[i];
            // what lies wholly before the leaf has looked at it already
            if node.first + node.count <= self.nodes[own].first + self.nodes[own].count || !self.boxes[i].meets(query) || apart(own, i) {
                continue;
            }
            if node.right == 0 {
                let others = self.leaf(node);
                for &a in items {
                    let query = &item_boxes[a as usize];
                    if query.meets(&self.boxes[i]) {
                        others.iter().filter(|b| query.meets(&item_boxes[**b as usize])).for_each(|&b| visit(a, b));
                    }
                }
            } else {
                stack[depth] = node.right;
                stack[depth + 1] = i as u32 + 1;
                depth += 2;
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn overlap(a: &Aabb, b: &Aabb) -> bool {
        a.low.cmple(b.high).all() && b.low.cmple(a.high).all()
    }

    /// Whether two boxes meet at some time, by looking often.
    fn meet_on_the_way(a: &SweptAabb, b: &SweptAabb) -> bool {
        let at = |s: &SweptAabb, t: f32| Aabb { low: s.start.low.lerp(s.end.low, t), high: s.start.high.lerp(s.end.high, t) };
        (0..=64).any(|k| overlap(&at(a, k as f32 / 64.0), &at(b, k as f32 / 64.0)))
    }

    proptest! {
        #[test]
        fn finds_all_pairs_that_meet_on_their_way(boxes in prop::collection::vec((prop::array::uniform3(-1.0f32..1.0), prop::array::uniform3(0.0f32..0.3), prop::array::uniform3(-0.5f32..0.5)), 1..70)) {
            let place = |low: Vec3A, size: &[f32; 3]| Aabb { low, high: low + Vec3A::from(*size) };
            let items: Vec<SweptAabb> = boxes.iter().map(|(low, size, way)| SweptAabb { start: place(Vec3A::from(*low), size), end: place(Vec3A::from(*low) + Vec3A::from(*way), size) }).collect();
            let centres: Vec<Vec3> = items.iter().map(|b| Vec3::from(0.5 * (b.start.low + b.start.high))).collect();
            let mut bvh = Bvh::new(&centres);
            bvh.refit(&items);
            let mut found = Vec::new();
            for leaf in 0..bvh.leaves() {
                bvh.pairs_of_leaf(leaf, &items, |_, _| false, |a, b| found.push([a.min(b) as usize, a.max(b) as usize]));
            }
            found.sort_unstable();
            let meeting = |at: &[usize; 2]| items[at[0]].meets(&items[at[1]]);
            let all: Vec<[usize; 2]> = (0..items.len()).flat_map(|i| (i + 1..items.len()).map(move |k| [i, k])).collect();
            prop_assert_eq!(&found, &all.iter().copied().filter(meeting).collect::<Vec<_>>(), "each once");
            for [i, k] in all.iter().filter(|[i, k]| meet_on_the_way(&items[*i], &items[*k])) {
                prop_assert!(found.contains(&[*i, *k]), "{} and {} meet", i, k);
            }
        }

        #[test]
        fn boxes_that_stand_still_meet_as_boxes_do(a in prop::array::uniform6(-1.0f32..1.0), b in prop::array::uniform6(-1.0f32..1.0)) {
            let of = |v: [f32; 6]| Aabb::EMPTY.grow(Vec3A::new(v[0], v[1], v[2])).grow(Vec3A::new(v[3], v[4], v[5]));
            prop_assert_eq!(SweptAabb::still(of(a)).meets(&SweptAabb::still(of(b))), overlap(&of(a), &of(b)));
        }
    }
}
