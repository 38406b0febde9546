//! Cloth that crosses cloth: where, and which way out.
//!
//! Where one layer is worn over the other, the outer one goes to the front of the inner one. Otherwise the contour along
//! which they cross is made shorter until it is gone (Volino & Magnenat-Thalmann 2006, Resolving surface collisions
//! through intersection contour minimization).

use super::pairs::Searcher;
use crate::linear::link::Link;
use crate::sewing::union::union;
use glam::{DVec3, Vec3A};
use std::collections::{HashMap, HashSet};

/// An edge that passes through a triangle.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Tangle {
    /// The edge that passes through.
    pub edge: [u32; 2],
    /// The triangle that it passes through.
    pub triangle: [u32; 3],
    /// Triangles that the edge and the face belong to.
    pub owners: [u32; 2],
    /// Where: along the edge, and in the triangle.
    along: f32,
    within: [f32; 3],
}

/// Weight of the common way of two sheets against that of a single edge.
const AS_ONE: f32 = 2.0;
/// Longest way out in one step, m.
const STRIDE: f32 = 2e-3;

/// Where segment p-q passes through a triangle: fraction of the segment and barycentric weights.
fn passes(p: DVec3, q: DVec3, [a, b, c]: [DVec3; 3]) -> Option<(f64, [f64; 3])> {
    let n = (b - a).cross(c - a);
    let (sp, sq) = (n.dot(p - a), n.dot(q - a));
    if (sp > 0.0) == (sq > 0.0) || n.length_squared() < 1e-24 {
        return None;
    }
    let t = sp / (sp - sq);
    let x = p + (q - p) * t;
    let share = |u: DVec3, v: DVec3| (u - x).cross(v - x).dot(n) / n.length_squared();
    let w = [share(b, c), share(c, a), share(a, b)];
    w.iter().all(|w| *w >= 0.0).then_some((t, w))
}

/// All tangles at the given positions, in a fixed order.
pub(crate) fn tangles(searcher: &mut Searcher, x: &[Vec3A]) -> Vec<Tangle> {
    let at = |v: u32| x[v as usize].as_dvec3();
    let mut found = Vec::new();
    for (owner, edge, face, triangle) in searcher.edges_at_triangles(x) {
        if let Some((along, within)) = passes(at(edge[0]), at(edge[1]), triangle.map(at)) {
            found.push(Tangle { edge, triangle, owners: [owner, face], along: along as f32, within: within.map(|w| w as f32) });
        }
    }
    found
}

/// Links that pull tangled cloth apart. `wear` is the wear order by triangle, `stiffness` in N/m.
pub(crate) fn untangling_directions(
    found: &[Tangle],
    triangles: &[[u32; 3]],
    x: &[Vec3A],
    wear: impl Fn(u32) -> u8,
    stiffness: f32,
    links: &mut Vec<Link>,
) {
    let wanted: HashSet<(u32, u32)> = found.iter().map(|t| key(t.edge)).collect();
    let mut beside: HashMap<(u32, u32), Vec<u32>> = HashMap::new();
    for t in triangles {
        for k in 0..3 {
            let edge = key([t[k], t[(k + 1) % 3]]);
            if wanted.contains(&edge) {
                beside.entry(edge).or_default().push(t[(k + 2) % 3]);
            }
        }
    }
    let ways: Vec<Vec3A> = found
        .iter()
        .map(|t| {
            let p = |v: u32| x[v as usize];
            let [a, b, c] = t.triangle.map(p);
            let n = (b - a).cross(c - a).normalize_or_zero();
            let (own, other) = (wear(t.owners[0]), wear(t.owners[1]));
            // the edge's way out, against the triangle
            if own == other {
                shorter(t, p, n, beside.get(&key(t.edge)).map_or(&[][..], Vec::as_slice))
            } else {
                n * if own > other { 1.0 } else { -1.0 }
            }
        })
        .collect();
    for (t, way) in found.iter().zip(common_directions(found, &ways, x.len())) {
        let step = way * (0.5 * STRIDE);
        let [e, f] = t.edge;
        links.push(Link::round([e, f, e, e], [1.0 - t.along, t.along, 0.0, 0.0], stiffness, step));
        let [u, v, w] = t.triangle;
        links.push(Link::round([u, v, w, u], [t.within[0], t.within[1], t.within[2], 0.0], stiffness, -step));
    }
}

/// The ways turned towards that which all of the same two sheets go common_directions: a tip that pokes through a sheet is drawn
/// back as one, where single edges would pull this way and that.
fn common_directions(found: &[Tangle], ways: &[Vec3A], vertices: usize) -> Vec<Vec3A> {
    let ends = found.iter().flat_map(|t| {
        let ([a, b], [c, d, e]) = (t.edge, t.triangle);
        [(a, b), (c, d), (c, e)]
    });
    let sheet = union(vertices, ends);
    let sheets = |t: &Tangle| [sheet[t.edge[0] as usize], sheet[t.triangle[0] as usize]];
    let mut sums: HashMap<[u32; 2], Vec3A> = HashMap::new();
    for (t, way) in found.iter().zip(ways) {
        let [own, other] = sheets(t);
        *sums.entry([own, other]).or_default() += *way;
        *sums.entry([other, own]).or_default() -= *way;
    }
    let turned = |(t, way): (&Tangle, &Vec3A)| {
        let all = sums[&sheets(t)].normalize_or_zero();
        (*way + all * AS_ONE).normalize_or_zero()
    };
    found.iter().zip(ways).map(turned).collect()
}

fn key([a, b]: [u32; 2]) -> (u32, u32) {
    (a.min(b), a.max(b))
}

/// The direction in which moving the edge shortens the contour.
fn shorter(t: &Tangle, p: impl Fn(u32) -> Vec3A, n: Vec3A, opposite: &[u32]) -> Vec3A {
    let (a, b) = (p(t.edge[0]), p(t.edge[1]));
    let e = (b - a).normalize_or_zero();
    let en = e.dot(n);
    let mut sum = Vec3A::ZERO;
    for &o in opposite {
        let own = (b - a).cross(p(o) - a);
        let r = own.cross(n).normalize_or_zero();
        let inward = (p(o) - a) - e * e.dot(p(o) - a);
        let r = if r.dot(inward) < 0.0 { -r } else { r };
        sum += if en.abs() > 0.05 { r - n * (2.0 * e.dot(r) / en) } else { r };
    }
    sum.normalize_or_zero()
}
