//! Crossing pairs gathered into places over the sewn cloth: one to each connected curve, with its length and how deep it goes.

use super::broad::{Aabb, boxes, sweep_and_prune};
use super::inside::winding_number;
use super::pair::{Hit, Triangle, height, hit, meeting, overlap, side};
use super::wings::Wings;
use crate::nearest::Nearest;
use crate::sets::Sets;
use crate::vector::{Point, dot, sub};
use rayon::prelude::*;
use std::collections::{HashMap, HashSet};
use std::sync::OnceLock;

/// Most regions of cloth that are looked at for lying inside the skin, the largest first.
const MOST_REGIONS: usize = 512;

/// Winding number above which a point lies inside a skin, which may have holes.
const INSIDE: f64 = 0.6;

/// One connected place where triangles cross, or cloth that lies inside a closed skin without crossing it.
#[derive(Clone, Debug, PartialEq)]
pub struct Crossing {
    /// Middle of the place, m.
    pub at: [f32; 3],
    /// Cloth triangles concerned, ascending.
    pub triangles: Vec<u32>,
    /// Number of crossing triangle pairs; 0 for cloth that is swallowed whole.
    pub pairs: usize,
    /// Where surfaces cross, m: the pieces of the curve, without order.
    pub curve: Vec<[[f32; 3]; 2]>,
    /// Of the curve, m.
    pub length: f64,
    /// How deep it goes, m: of what lies inside a closed skin, the farthest from it; else how far an edge reaches through.
    pub depth: f64,
    /// Cloth vertices inside the skin.
    pub inside: usize,
}

/// A surface of triangles, m.
#[derive(Clone, Copy, Debug)]
pub struct Surface<'a> {
    pub positions: &'a [[f32; 3]],
    pub triangles: &'a [[u32; 3]],
    /// By vertex, the one that it is sewn to; empty when none are.
    pub welded: &'a [u32],
    /// It has an inside, into which cloth does not belong.
    pub closed: bool,
}

impl<'a> Surface<'a> {
    /// Cloth whose seams are closed where vertices name the same one in `welded`.
    pub fn sewn(positions: &'a [[f32; 3]], triangles: &'a [[u32; 3]], welded: &'a [u32]) -> Self {
        Self { positions, triangles, welded, closed: false }
    }

    /// A closed skin.
    pub fn closed(positions: &'a [[f32; 3]], triangles: &'a [[u32; 3]]) -> Self {
        Self { positions, triangles, welded: &[], closed: true }
    }

    /// A skin with borders, such as a part of one.
    pub fn open(positions: &'a [[f32; 3]], triangles: &'a [[u32; 3]]) -> Self {
        Self { closed: false, ..Self::closed(positions, triangles) }
    }

    fn root(&self, vertex: u32) -> u32 {
        self.welded.get(vertex as usize).copied().unwrap_or(vertex)
    }

    /// Corners of a triangle, those of closed seams as one vertex.
    pub fn corners(&self, triangle: u32) -> [u32; 3] {
        self.triangles[triangle as usize].map(|v| self.root(v))
    }

    pub(crate) fn at(&self, vertex: u32) -> Point {
        self.positions[vertex as usize].map(f64::from)
    }

    fn points(&self, triangle: u32) -> Triangle {
        self.triangles[triangle as usize].map(|v| self.at(v))
    }

    fn wings(&self) -> Wings {
        Wings::of((0..self.triangles.len() as u32).map(|t| self.corners(t)))
    }
}

/// A pair of triangles that cross, the first of cloth.
struct Pair {
    triangles: [u32; 2],
    /// The ends of what they share; none for an overlap in one plane.
    segment: Option<[Point; 2]>,
    /// m.
    depth: f64,
}

/// Places where cloth crosses a skin; where that is closed, also cloth that lies inside it.
pub fn cloth_body(cloth: &Surface, skin: &Surface) -> Vec<Crossing> {
    let all: Vec<Aabb> = boxes(cloth.positions, cloth.triangles, true).chain(boxes(skin.positions, skin.triangles, false)).collect();
    let finder = Finder::new(*cloth, *skin);
    let pairs = sweep_and_prune(all, |a, b| {
        let (of_cloth, of_skin) = if a.first { (a, b) } else { (b, a) };
        (a.first != b.first).then(|| finder.pair(of_cloth.triangle, of_skin.triangle, &[])).flatten()
    });
    let mut found = places(cloth, &pairs, false);
    if skin.closed {
        swallowed(cloth, skin, &pairs, &mut found);
    }
    found
}

/// Places where cloth crosses itself: also neighbours that go through each other, and triangles that lie on one another exactly.
pub fn cloth_cloth(cloth: &Surface) -> Vec<Crossing> {
    let finder = Finder::new(*cloth, *cloth);
    let pairs = sweep_and_prune(boxes(cloth.positions, cloth.triangles, true).collect(), |a, b| {
        let (s, t) = (a.triangle.min(b.triangle), a.triangle.max(b.triangle));
        let (of_s, of_t) = (cloth.corners(s), cloth.corners(t));
        let shared: Vec<u32> = of_s.into_iter().filter(|v| of_t.contains(v)).collect();
        finder.pair(s, t, &shared)
    });
    places(cloth, &pairs, true)
}

/// Looks at pairs of triangles of two surfaces, which may be one.
struct Finder<'a> {
    surfaces: [Surface<'a>; 2],
    wings: [OnceLock<Wings>; 2],
}

impl<'a> Finder<'a> {
    fn new(first: Surface<'a>, second: Surface<'a>) -> Self {
        Self { surfaces: [first, second], wings: [OnceLock::new(), OnceLock::new()] }
    }

    /// How triangles s of the first and t of the second surface cross, if they do; `shared` are the vertices of both.
    fn pair(&self, s: u32, t: u32, shared: &[u32]) -> Option<Pair> {
        let [first, second] = self.surfaces;
        let points = [first.points(s), second.points(t)];
        let one_sided = |plane: &Triangle, of: &Triangle| {
            let sides = of.map(|p| side(plane[0], plane[1], plane[2], p));
            sides.iter().all(|x| *x > 0.0) || sides.iter().all(|x| *x < 0.0)
        };
        if shared.len() > 2 || (shared.is_empty() && (one_sided(&points[0], &points[1]) || one_sided(&points[1], &points[0]))) {
            return None;
        }
        if overlap(&points[0], &points[1]) {
            return Some(Pair { triangles: [s, t], segment: None, depth: 0.0 });
        }
        // what shares an edge meets along it alone
        if shared.len() > 1 {
            return None;
        }
        let corners = [first.corners(s), second.corners(t)];
        let (mut met, mut depth) = (Vec::with_capacity(4), 0.0f64);
        for own in 0..2 {
            let other = 1 - own;
            for k in 0..3 {
                let next = (k + 1) % 3;
                // an edge at a shared corner meets the other triangle there
                if shared.contains(&corners[own][k]) || shared.contains(&corners[own][next]) {
                    continue;
                }
                let (p, q) = (points[own][k], points[own][next]);
                let goes = match hit(p, q, &points[other]) {
                    Hit::Clear => false,
                    Hit::Through => true,
                    Hit::Edge(e) => self.crossed(own, [s, t], k, e),
                };
                if goes {
                    met.push(meeting(p, q, &points[other]));
                    depth = depth.max(height(p, &points[other]).abs().min(height(q, &points[other]).abs()));
                }
            }
        }
        if met.is_empty() {
            return None;
        }
        let corner = shared.first().and_then(|v| corners[0].iter().position(|c| c == v)).map(|k| points[0][k]);
        met.extend(corner);
        Some(Pair { triangles: [s, t], segment: Some(farthest(&met)), depth })
    }

    /// Whether edge k of the triangle of surface `own` goes through edge e of the other's, where they meet exactly.
    fn crossed(&self, own: usize, triangles: [u32; 2], k: usize, e: usize) -> bool {
        let edge = |surface: usize, k: usize| {
            let t = self.surfaces[surface].corners(triangles[surface]);
            [t[k], t[(k + 1) % 3]]
        };
        let (mine, theirs, other) = (edge(own, k), edge(1 - own, e), 1 - own);
        let straddles = |surface: usize, edge: [u32; 2], across: Point| {
            let wings = self.wings[surface].get_or_init(|| self.surfaces[surface].wings());
            wings.straddle(edge, |v| self.surfaces[surface].at(v), across)
        };
        straddles(other, theirs, self.surfaces[own].at(mine[0])) || straddles(own, mine, self.surfaces[other].at(theirs[0]))
    }
}

/// The two points that are farthest apart.
fn farthest(points: &[Point]) -> [Point; 2] {
    let mut best = (-1.0, [points[0]; 2]);
    for (i, &a) in points.iter().enumerate() {
        for &b in &points[i..] {
            let d = sub(a, b);
            if dot(d, d) > best.0 {
                best = (dot(d, d), [a, b]);
            }
        }
    }
    best.1
}

/// Joins pairs whose cloth triangles share a sewn vertex into one place; with `both`, both triangles are of cloth.
fn places(cloth: &Surface, pairs: &[Pair], both: bool) -> Vec<Crossing> {
    let mut sets = Sets::new(cloth.positions.len());
    let concerned = |pair: &Pair| if both { pair.triangles.to_vec() } else { vec![pair.triangles[0]] };
    for pair in pairs {
        let anchor = cloth.corners(pair.triangles[0])[0];
        concerned(pair).into_iter().flat_map(|t| cloth.corners(t)).for_each(|v| sets.join(v, anchor));
    }
    let mut number: HashMap<u32, usize> = HashMap::new();
    let mut found: Vec<Crossing> = Vec::new();
    for pair in pairs {
        let key = sets.root(cloth.corners(pair.triangles[0])[0]);
        let place = *number.entry(key).or_insert_with(|| {
            let empty = Crossing { at: [0.0; 3], triangles: Vec::new(), pairs: 0, curve: Vec::new(), length: 0.0, depth: 0.0, inside: 0 };
            found.push(empty);
            found.len() - 1
        });
        let place = &mut found[place];
        place.pairs += 1;
        place.triangles.extend(concerned(pair));
        place.depth = place.depth.max(pair.depth);
        if let Some([a, b]) = pair.segment {
            let way = sub(a, b);
            place.length += dot(way, way).sqrt();
            place.curve.push([a, b].map(|p| p.map(|v| v as f32)));
        }
    }
    for place in &mut found {
        place.settle(cloth);
    }
    found
}

impl Crossing {
    /// Its triangles in order, each once, and its middle.
    fn settle(&mut self, cloth: &Surface) {
        self.triangles.sort_unstable();
        self.triangles.dedup();
        let corners = || self.triangles.iter().flat_map(|t| cloth.triangles[*t as usize]).map(|v| cloth.positions[v as usize]);
        let count = 3.0 * self.triangles.len().max(1) as f32;
        self.at = [0, 1, 2].map(|k| corners().map(|c| c[k]).sum::<f32>() / count);
    }
}

/// Regions of cloth between the crossings that lie inside a closed skin: they tell how deep places go; those without a crossing
/// become places of their own.
fn swallowed(cloth: &Surface, skin: &Surface, pairs: &[Pair], found: &mut Vec<Crossing>) {
    let mut crossing = vec![false; cloth.triangles.len()];
    pairs.iter().for_each(|p| crossing[p.triangles[0] as usize] = true);
    let mut sets = Sets::new(cloth.positions.len());
    for t in (0..cloth.triangles.len() as u32).filter(|t| !crossing[*t as usize]) {
        let [a, b, c] = cloth.corners(t);
        sets.join(b, a);
        sets.join(c, a);
    }
    let mut vertices: Vec<u32> = cloth.triangles.iter().flatten().map(|v| cloth.root(*v)).collect();
    vertices.sort_unstable();
    vertices.dedup();
    let mut regions: HashMap<u32, Vec<u32>> = HashMap::new();
    for v in vertices {
        regions.entry(sets.root(v)).or_default().push(v);
    }
    let mut regions: Vec<Vec<u32>> = regions.into_values().collect();
    regions.sort_by(|a, b| b.len().cmp(&a.len()).then(a[0].cmp(&b[0])));
    regions.truncate(MOST_REGIONS);
    // vertices on the skin itself are wound around half
    let winds = |v: &u32| winding_number(cloth.positions[*v as usize], skin.positions, skin.triangles) > INSIDE;
    let lies_inside = |region: &&Vec<u32>| [0, region.len() / 2, region.len() - 1].iter().all(|k| winds(&region[*k]));
    let inside: Vec<&Vec<u32>> = regions.par_iter().filter(lies_inside).collect();
    if inside.is_empty() {
        return;
    }
    let nearest = Nearest::new(skin.positions, skin.triangles);
    let touches: Vec<HashSet<u32>> = found.iter().map(|p| p.triangles.iter().flat_map(|t| cloth.corners(*t)).collect()).collect();
    for region in inside {
        let deep = |v: &u32| nearest.distance(cloth.positions[*v as usize]).unwrap_or(0.0);
        let depth = region.par_iter().map(deep).reduce(|| 0.0, f64::max);
        let mut crossed = false;
        for (place, corners) in found.iter_mut().zip(&touches) {
            if region.iter().any(|v| corners.contains(v)) {
                (place.depth, place.inside, crossed) = (place.depth.max(depth), place.inside + region.len(), true);
            }
        }
        if !crossed {
            found.push(whole(cloth, region, depth));
        }
    }
}

/// A place for cloth that is swallowed without crossing anything.
fn whole(cloth: &Surface, region: &[u32], depth: f64) -> Crossing {
    let within = |t: &u32| cloth.corners(*t).iter().all(|v| region.binary_search(v).is_ok());
    let triangles = (0..cloth.triangles.len() as u32).filter(within).collect();
    let mut place = Crossing { at: [0.0; 3], triangles, pairs: 0, curve: Vec::new(), length: 0.0, depth, inside: region.len() };
    place.settle(cloth);
    place
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
        let found = cloth_cloth(&Surface::sewn(&points, &triangles, &welded));
        assert_eq!(found.len(), 1);
        assert!(found[0].pairs >= 7 && (found[0].at[1] - 2.2).abs() < 0.5);
        // they share a line from 0.37 to 4
        assert!((found[0].length - 3.63).abs() < 1e-5, "{}", found[0].length);
        let (points, triangles) = strips(0.6);
        assert!(cloth_cloth(&Surface::sewn(&points, &triangles, &welded)).is_empty());
    }

    #[test]
    fn a_spike_through_the_skin_is_found_once() {
        let body = [[-1.0, -1.0, 0.0], [1.0, -1.0, 0.0], [0.0, 1.0, 0.0]];
        let cloth = [[0.0, 0.0, 0.5], [0.1, 0.0, 0.5], [0.0, 0.0, -0.5], [3.0, 0.0, 0.5], [3.1, 0.0, 0.5], [3.0, 0.0, -0.5]];
        let found = cloth_body(&Surface::sewn(&cloth, &[[0, 1, 2], [3, 4, 5]], &[]), &Surface::open(&body, &[[0, 1, 2]]));
        assert_eq!(found.len(), 1);
        assert_eq!(found[0].triangles, vec![0]);
    }
}
