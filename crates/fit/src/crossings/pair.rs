//! How two triangles meet, decided with exact predicates (Shewchuk 1997, through the `robust` crate).
//!
//! An edge goes through a triangle when its ends lie strictly on both sides of the triangle's plane and the line through them
//! strictly within its border. What meets a border exactly is told apart, because only the triangle on the other side of that
//! border knows whether the surface is crossed there. Triangles of one plane cross when they overlap by an area.

use crate::vector::{Point, cross, dot, sub};
use robust::{Coord, Coord3D, orient2d, orient3d};

pub(crate) type Triangle = [Point; 3];

/// Which side of the plane a, b, c the point d lies on: 0 on it, exactly.
pub(crate) fn side(a: Point, b: Point, c: Point, d: Point) -> f64 {
    let p = |v: Point| Coord3D { x: v[0], y: v[1], z: v[2] };
    orient3d(p(a), p(b), p(c), p(d))
}

/// How an edge meets a triangle.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) enum Hit {
    /// Not at all, or it touches.
    Clear,
    /// Through its inside.
    Through,
    /// Exactly through the inside of its edge with this number, from one side of its plane to the other.
    Edge(usize),
}

/// How the segment p-q meets triangle t.
pub(crate) fn hit(p: Point, q: Point, t: &Triangle) -> Hit {
    let (sp, sq) = (side(t[0], t[1], t[2], p), side(t[0], t[1], t[2], q));
    if sp == 0.0 || sq == 0.0 || (sp > 0.0) == (sq > 0.0) {
        return Hit::Clear;
    }
    let around = [side(p, q, t[0], t[1]), side(p, q, t[1], t[2]), side(p, q, t[2], t[0])];
    let (over, under) = (around.iter().filter(|s| **s > 0.0).count(), around.iter().filter(|s| **s < 0.0).count());
    match (over, under) {
        (3, 0) | (0, 3) => Hit::Through,
        (2, 0) | (0, 2) => around.iter().position(|s| *s == 0.0).map_or(Hit::Clear, Hit::Edge),
        _ => Hit::Clear,
    }
}

/// Where the segment p-q meets the plane of t; they do meet.
pub(crate) fn meeting(p: Point, q: Point, t: &Triangle) -> Point {
    let (a, b) = (height(p, t), height(q, t));
    let s = if a == b { 0.5 } else { (a / (a - b)).clamp(0.0, 1.0) };
    [0, 1, 2].map(|k| p[k] + s * (q[k] - p[k]))
}

/// Distance of a point from the plane of t, m, with a sign; 0 for a triangle without area.
pub(crate) fn height(p: Point, t: &Triangle) -> f64 {
    let n = normal(t);
    let length = dot(n, n).sqrt();
    if length > 0.0 { dot(sub(p, t[0]), n) / length } else { 0.0 }
}

/// Whether two triangles lie in one plane, exactly, and overlap by an area.
pub(crate) fn overlap(s: &Triangle, t: &Triangle) -> bool {
    if t.iter().any(|p| side(s[0], s[1], s[2], *p) != 0.0) {
        return false;
    }
    // seen along the axis that the plane faces most
    let n = normal(s).map(f64::abs);
    let away = (0..3).max_by(|a, b| n[*a].total_cmp(&n[*b])).unwrap_or(2);
    let flat = |t: &Triangle| t.map(|p| Coord { x: p[(away + 1) % 3], y: p[(away + 2) % 3] });
    let (s, t) = (turned(flat(s)), turned(flat(t)));
    let (Some(s), Some(t)) = (s, t) else { return false };
    // apart when some edge of one has all of the other outside or on it
    let apart = |s: &[Coord<f64>; 3], t: &[Coord<f64>; 3]| (0..3).any(|k| t.iter().all(|p| orient2d(s[k], s[(k + 1) % 3], *p) <= 0.0));
    !apart(&s, &t) && !apart(&t, &s)
}

/// The corners counter-clockwise; none without area.
fn turned([a, b, c]: [Coord<f64>; 3]) -> Option<[Coord<f64>; 3]> {
    match orient2d(a, b, c) {
        o if o > 0.0 => Some([a, b, c]),
        o if o < 0.0 => Some([a, c, b]),
        _ => None,
    }
}

fn normal(t: &Triangle) -> Point {
    cross(sub(t[1], t[0]), sub(t[2], t[0]))
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    const FLAT: Triangle = [[0.0, 0.0, 0.0], [1.0, 0.0, 0.0], [0.0, 1.0, 0.0]];

    fn through(a: &Triangle, b: &Triangle) -> bool {
        (0..3).any(|k| hit(a[k], a[(k + 1) % 3], b) == Hit::Through || hit(b[k], b[(k + 1) % 3], a) == Hit::Through)
    }

    #[test]
    fn a_needle_through_the_face_crosses_and_one_beside_it_does_not() {
        let needle = |x: f64, y: f64| [[x, y, -1.0], [x, y, 1.0], [x + 0.01, y, 1.0]];
        assert!(through(&FLAT, &needle(0.2, 0.2)));
        assert!(!through(&FLAT, &needle(0.8, 0.8)));
        assert!(!through(&FLAT, &[[0.2, 0.2, 0.001], [0.4, 0.2, 0.001], [0.2, 0.4, 0.001]]));
    }

    #[test]
    fn what_touches_does_not_cross() {
        // a corner on the face, an edge on the face, a corner on the border, and a neighbour in the same plane
        for touching in [
            [[0.2, 0.2, 0.0], [0.2, 0.3, 1.0], [0.3, 0.2, 1.0]],
            [[0.2, 0.2, 0.0], [0.4, 0.2, 0.0], [0.3, 0.2, 1.0]],
            [[0.5, 0.0, 0.0], [0.5, -0.2, 1.0], [0.6, -0.2, 1.0]],
            [[1.0, 0.0, 0.0], [0.0, 1.0, 0.0], [1.0, 1.0, 0.0]],
        ] {
            assert!(!through(&FLAT, &touching) && !overlap(&FLAT, &touching), "{touching:?}");
        }
    }

    #[test]
    fn an_edge_through_an_edge_is_told_with_its_number() {
        assert_eq!(hit([0.5, 0.0, -1.0], [0.5, 0.0, 1.0], &FLAT), Hit::Edge(0));
        assert_eq!(hit([0.5, 0.5, -1.0], [0.5, 0.5, 1.0], &FLAT), Hit::Edge(1));
        assert_eq!(hit([0.0, 0.5, -1.0], [0.0, 0.5, 1.0], &FLAT), Hit::Edge(2));
        assert_eq!(hit([0.0, 0.0, -1.0], [0.0, 0.0, 1.0], &FLAT), Hit::Clear, "through a corner is left to what is around it");
    }

    #[test]
    fn triangles_of_one_plane_overlap_by_an_area_or_not() {
        let at = |x: f64, y: f64| FLAT.map(|p| [p[0] + x, p[1] + y, p[2]]);
        assert!(overlap(&FLAT, &FLAT) && overlap(&FLAT, &at(0.3, 0.3)));
        assert!(!overlap(&FLAT, &at(1.0, 0.0)) && !overlap(&FLAT, &at(0.5, 0.5)), "they touch in a corner, or along a line");
        assert!(!overlap(&FLAT, &FLAT.map(|p| [p[0], p[1], 1e-9])), "another plane");
        // turned over, and upright
        assert!(overlap(&FLAT, &[FLAT[0], FLAT[2], FLAT[1]]));
        let upright = |t: Triangle| t.map(|p| [0.0, p[0], p[1]]);
        assert!(overlap(&upright(FLAT), &upright(at(0.2, 0.2))));
    }

    proptest! {
        /// Against an independent method: dense sampling of signed distances along the edges.
        #[test]
        fn agrees_with_clipping_by_half_spaces(v in prop::array::uniform9(-1.0f64..1.0)) {
            let t = [[v[0], v[1], v[2]], [v[3], v[4], v[5]], [v[6], v[7], v[8]]];
            let cut = |p: Point, q: Point| {
                if (p[2] > 0.0) == (q[2] > 0.0) { return None; }
                let s = p[2] / (p[2] - q[2]);
                Some([p[0] + s * (q[0] - p[0]), p[1] + s * (q[1] - p[1])])
            };
            let cuts: Vec<_> = (0..3).filter_map(|k| cut(t[k], t[(k + 1) % 3])).collect();
            let expected = cuts.len() == 2 && (0..=4000).any(|k| {
                let s = k as f64 / 4000.0;
                let p = [cuts[0][0] + s * (cuts[1][0] - cuts[0][0]), cuts[0][1] + s * (cuts[1][1] - cuts[0][1])];
                p[0] > 1e-3 && p[1] > 1e-3 && p[0] + p[1] < 1.0 - 1e-3
            });
            let found = through(&FLAT, &t);
            // sampling may miss a graze; what it finds must be found
            prop_assert!(!expected || found);
            let clear = cuts.len() < 2 || (0..=4000).all(|k| {
                let s = k as f64 / 4000.0;
                let p = [cuts[0][0] + s * (cuts[1][0] - cuts[0][0]), cuts[0][1] + s * (cuts[1][1] - cuts[0][1])];
                p[0] < -1e-2 || p[1] < -1e-2 || p[0] + p[1] > 1.01
            });
            prop_assert!(!clear || !found);
        }
    }
}
