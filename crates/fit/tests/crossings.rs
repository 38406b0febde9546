//! The finder of crossings against an independent method over all pairs of triangles, and against what was planted.

use fit::{Crossing, Surface, cloth_body, cloth_cloth};
use proptest::prelude::*;

type Mesh = (Vec<[f32; 3]>, Vec<[u32; 3]>);

/// A rectangle of squares cut in two, each vertex put where `at` tells.
fn patch(columns: u32, rows: u32, at: impl Fn(f32, f32) -> [f32; 3]) -> Mesh {
    let points = (0..=rows).flat_map(|j| (0..=columns).map(move |i| (i, j))).map(|(i, j)| at(i as f32, j as f32)).collect();
    let id = |i: u32, j: u32| j * (columns + 1) + i;
    let cells = (0..rows).flat_map(|j| (0..columns).map(move |i| (i, j)));
    let halves = |(i, j)| [[id(i, j), id(i + 1, j), id(i + 1, j + 1)], [id(i, j), id(i + 1, j + 1), id(i, j + 1)]];
    (points, cells.flat_map(halves).collect())
}

/// Whether an edge of one triangle goes through the other, by solving for the place in the plane (Möller and Trumbore 1997) with
/// plain numbers. Corners that both share are given by place.
fn naive(a: [[f64; 3]; 3], b: [[f64; 3]; 3]) -> bool {
    let sub = |a: [f64; 3], b: [f64; 3]| [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
    let cross = |a: [f64; 3], b: [f64; 3]| [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
    let dot = |a: [f64; 3], b: [f64; 3]| a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
    let pierces = |p: [f64; 3], q: [f64; 3], t: [[f64; 3]; 3]| {
        if t.contains(&p) || t.contains(&q) {
            return false;
        }
        let (way, e1, e2) = (sub(q, p), sub(t[1], t[0]), sub(t[2], t[0]));
        let h = cross(way, e2);
        let determinant = dot(e1, h);
        let s = sub(p, t[0]);
        let (u, v, l) = (dot(s, h), dot(way, cross(s, e1)), dot(e2, cross(s, e1)));
        let [u, v, l] = [u, v, l].map(|x| x / determinant);
        u > 0.0 && v > 0.0 && u + v < 1.0 && l > 0.0 && l < 1.0
    };
    (0..3).any(|k| pierces(a[k], a[(k + 1) % 3], b) || pierces(b[k], b[(k + 1) % 3], a))
}

fn corners(mesh: &Mesh, t: usize) -> [[f64; 3]; 3] {
    mesh.1[t].map(|v| mesh.0[v as usize].map(f64::from))
}

/// Triangles concerned and the number of pairs, as the finder tells them.
fn summary(found: &[Crossing]) -> (Vec<u32>, usize) {
    let mut triangles: Vec<u32> = found.iter().flat_map(|c| c.triangles.clone()).collect();
    triangles.sort_unstable();
    (triangles, found.iter().map(|c| c.pairs).sum())
}

/// The same by looking at all pairs.
fn all_pairs(pairs: impl Iterator<Item = (usize, usize)>, both: bool, crossed: impl Fn(usize, usize) -> bool) -> (Vec<u32>, usize) {
    let (mut triangles, mut count) = (Vec::new(), 0);
    for (s, t) in pairs.filter(|(s, t)| crossed(*s, *t)) {
        count += 1;
        triangles.push(s as u32);
        triangles.extend(both.then_some(t as u32));
    }
    triangles.sort_unstable();
    triangles.dedup();
    (triangles, count)
}

/// Heights and slopes of a rough patch.
fn rough() -> impl Strategy<Value = Vec<f32>> {
    prop::collection::vec(-0.4f32..0.4, 40)
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(1000))]

    #[test]
    fn two_rough_sheets_cross_where_all_pairs_say(heights in rough(), others in rough(), turn in 0.0f32..3.1, shift in -0.8f32..0.8) {
        let wobble = |of: &[f32], i: f32, j: f32| of[(i as usize * 7 + j as usize * 5) % 40];
        let cloth = patch(5, 4, |i, j| [i * 0.4 - 1.0, wobble(&heights, i, j), j * 0.4 - 0.8]);
        let skin = patch(4, 5, |i, j| {
            let (x, y, z) = (i * 0.45 - 0.9, wobble(&others, i, j) + shift, j * 0.35 - 0.9);
            [x * turn.cos() - y * turn.sin(), x * turn.sin() + y * turn.cos(), z + 0.0371]
        });
        let found = cloth_body(&Surface::sewn(&cloth.0, &cloth.1, &[]), &Surface::open(&skin.0, &skin.1));
        let pairs = (0..cloth.1.len()).flat_map(|s| (0..skin.1.len()).map(move |t| (s, t)));
        prop_assert_eq!(summary(&found), all_pairs(pairs, false, |s, t| naive(corners(&cloth, s), corners(&skin, t))));
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(200))]

    #[test]
    fn a_folded_sheet_crosses_itself_where_all_pairs_say(heights in rough(), fold in 1.0f32..7.0, angle in 2.2f32..3.6, slant in -0.3f32..0.3) {
        let sheet = patch(8, 8, |i, j| {
            let (x, z) = (i + slant * j, j);
            let lift = 0.3 * heights[(i as usize * 11 + j as usize * 3) % 40];
            // what lies beyond the fold is turned up and over
            let beyond = x - fold;
            // shifted a little, so that edges do not meet edges exactly
            if beyond > 0.0 { [fold + beyond * angle.cos(), beyond * angle.sin() + lift, z + 0.0371 * beyond] } else { [x, lift, z] }
        });
        let found = cloth_cloth(&Surface::open(&sheet.0, &sheet.1));
        let shared = |s: usize, t: usize| sheet.1[s].iter().filter(|v| sheet.1[t].contains(v)).count();
        let pairs = (0..sheet.1.len()).flat_map(|s| (s + 1..sheet.1.len()).map(move |t| (s, t)));
        let crossed = |s, t| shared(s, t) < 2 && naive(corners(&sheet, s), corners(&sheet, t));
        prop_assert_eq!(summary(&found), all_pairs(pairs, true, crossed));
    }
}

/// A box with outward faces.
fn cube(half: f32) -> Mesh {
    let points = (0..8).map(|k| [k & 1, (k >> 1) & 1, (k >> 2) & 1].map(|b| if b == 1 { half } else { -half })).collect();
    let faces = [[0, 2, 3, 1], [4, 5, 7, 6], [0, 1, 5, 4], [2, 6, 7, 3], [0, 4, 6, 2], [1, 3, 7, 5]];
    (points, faces.iter().flat_map(|[a, b, c, d]| [[*a, *b, *c], [*a, *c, *d]]).collect())
}

#[test]
fn cloth_through_a_box_is_one_place_with_the_length_and_depth_of_the_cut() {
    let skin = cube(0.1);
    let skin = Surface::closed(&skin.0, &skin.1);
    // a sheet wider than the box, level, 3 cm under its top
    let cloth = patch(29, 29, |i, j| [i * 0.0101 - 0.15, 0.07, j * 0.0101 - 0.15]);
    let found = cloth_body(&Surface::sewn(&cloth.0, &cloth.1, &[]), &skin);
    assert_eq!(found.len(), 1);
    assert!((found[0].length - 0.8).abs() < 1e-3, "four sides of 20 cm: {}", found[0].length);
    assert!((found[0].depth - 0.03).abs() < 1e-4 && found[0].inside > 300, "{found:?}");
    assert!((found[0].at[1] - 0.07).abs() < 1e-6);
}

#[test]
fn cloth_that_is_swallowed_whole_is_found_without_a_crossing() {
    let skin = cube(0.1);
    let skin = Surface::closed(&skin.0, &skin.1);
    let at = |y: f32| patch(4, 4, |i, j| [i * 0.01 - 0.02, y, j * 0.01 - 0.02]);
    let inside = at(0.06);
    let found = cloth_body(&Surface::sewn(&inside.0, &inside.1, &[]), &skin);
    assert_eq!((found.len(), found[0].pairs, found[0].inside, found[0].triangles.len()), (1, 0, 25, 32));
    assert!((found[0].depth - 0.04).abs() < 1e-6);
    let outside = at(0.11);
    assert!(cloth_body(&Surface::sewn(&outside.0, &outside.1, &[]), &skin).is_empty());
}

#[test]
fn what_touches_does_not_cross() {
    let skin = cube(0.1);
    let skin = Surface::closed(&skin.0, &skin.1);
    // a tent whose ridge lies on the top face, and one whose corner stands on it
    let ridge: Mesh = (vec![[-0.05, 0.1, 0.0], [0.05, 0.1, 0.0], [0.0, 0.2, 0.06], [0.0, 0.2, -0.06]], vec![[0, 1, 2], [1, 0, 3]]);
    assert!(cloth_body(&Surface::sewn(&ridge.0, &ridge.1, &[]), &skin).is_empty());
    let corner: Mesh = (vec![[0.0, 0.1, 0.0], [0.05, 0.2, 0.0], [0.0, 0.2, 0.06]], vec![[0, 1, 2]]);
    assert!(cloth_body(&Surface::sewn(&corner.0, &corner.1, &[]), &skin).is_empty());
    // two ridges across each other
    let (over, under) = (ridge.0.clone(), ridge.0.iter().map(|p| [p[2], 0.2 - p[1], p[0]]).collect::<Vec<_>>());
    let both: Mesh = (over.into_iter().chain(under).collect(), vec![[0, 1, 2], [1, 0, 3], [4, 6, 5], [5, 7, 4]]);
    assert!(cloth_cloth(&Surface::open(&both.0, &both.1)).is_empty());
    // pushed together by a tenth of a millimetre they do cross
    let mut pressed = both.clone();
    pressed.0[..4].iter_mut().for_each(|p| p[1] -= 1e-4);
    assert_eq!(cloth_cloth(&Surface::open(&pressed.0, &pressed.1)).len(), 1);
}

#[test]
fn a_sheet_exactly_through_the_edges_of_another_crosses_it() {
    let level = patch(4, 4, |i, j| [i - 2.0, 0.0, j - 2.0]);
    // upright, along a line of the other's edges, its own edges between the other's vertices
    let upright = patch(4, 1, |i, j| [0.0, j - 0.5, i * 0.9 - 1.8 + 0.05]);
    let found = cloth_body(&Surface::sewn(&upright.0, &upright.1, &[]), &Surface::open(&level.0, &level.1));
    assert_eq!(found.len(), 1);
    // along the border it only touches
    let border = patch(4, 1, |i, j| [2.0, j - 0.5, i * 0.9 - 1.8 + 0.05]);
    assert!(cloth_body(&Surface::sewn(&border.0, &border.1, &[]), &Surface::open(&level.0, &level.1)).is_empty());
}

#[test]
fn pieces_that_lie_on_one_another_exactly_are_found() {
    let sheet = patch(3, 3, |i, j| [i, 0.0, j]);
    let (count, shift) = (sheet.0.len() as u32, 0.5);
    let points: Vec<[f32; 3]> = sheet.0.iter().copied().chain(sheet.0.iter().map(|p| [p[0] + shift, p[1], p[2] + 0.25])).collect();
    let triangles: Vec<[u32; 3]> = sheet.1.iter().copied().chain(sheet.1.iter().map(|t| t.map(|v| v + count))).collect();
    let found = cloth_cloth(&Surface::open(&points, &triangles));
    assert!(found.len() == 1 && found[0].curve.is_empty(), "{found:?}");
    // beside each other in one plane, sharing a border, they do not
    let beside: Vec<[f32; 3]> = sheet.0.iter().copied().chain(sheet.0.iter().map(|p| [p[0] + 3.0, p[1], p[2]])).collect();
    assert!(cloth_cloth(&Surface::open(&beside, &triangles)).is_empty());
}

#[test]
fn one_curve_over_a_seam_is_one_place() {
    // two strips sewn along x = 0, through a box
    let left = patch(6, 6, |i, j| [i * 0.02 - 0.12, 0.07, j * 0.05 - 0.15]);
    let right = patch(6, 6, |i, j| [i * 0.02, 0.07, j * 0.05 - 0.15]);
    let count = left.0.len() as u32;
    let points: Vec<[f32; 3]> = left.0.iter().chain(&right.0).copied().collect();
    let triangles: Vec<[u32; 3]> = left.1.iter().copied().chain(right.1.iter().map(|t| t.map(|v| v + count))).collect();
    let welded: Vec<u32> =
        (0..points.len() as u32).map(|v| if v >= count && (v - count).is_multiple_of(7) { v - count + 6 } else { v }).collect();
    let (positions, closed) = cube(0.1);
    let skin = Surface::closed(&positions, &closed);
    assert_eq!(cloth_body(&Surface::sewn(&points, &triangles, &welded), &skin).len(), 1);
}
