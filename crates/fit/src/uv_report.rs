//! What a texture layout is like: islands, triangles that lie on one another, that are mirrored or without area, that lie beyond
//! the tile, and how evenly and how straight it shows the surface.

use crate::crossings::{boxes, sweep_and_prune};
use crate::mesh_report::parts;
use crate::vector::{cross, dot, sub};
use std::collections::{BTreeSet, HashMap};

/// Triangles that reach into each other by less than this share of the layout only touch.
const TOUCH: f64 = 1e-6;

/// The findings on a layout.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct UvReport {
    /// Parts that hang together in the layout.
    pub islands: usize,
    /// Triangles that lie on another one, ascending.
    pub overlapping: Vec<u32>,
    /// Triangles that lie face down.
    pub mirrored: usize,
    /// Triangles without area in the layout though they have one in space.
    pub flat_triangles: usize,
    /// Triangles that reach beyond the tile from 0 to 1.
    pub beyond_tile: usize,
    /// Length in the layout by length in space: what one of a hundred is below, the middle, and what one of a hundred is above,
    /// 1/m.
    pub density: [f64; 3],
    /// How much longer a triangle is shown one way than the other, at the worst of a hundred; 1 is without distortion.
    pub distortion: f64,
}

/// Looks at a layout: a triangle of `flat` (corners in `uvs`) for every one of the surface (m), in the same order.
pub fn uv_report(positions: &[[f32; 3]], triangles: &[[u32; 3]], uvs: &[[f32; 2]], flat: &[[u32; 3]]) -> UvReport {
    let mut report = UvReport { islands: islands(positions, triangles, uvs, flat), ..UvReport::default() };
    let mut densities = Vec::with_capacity(flat.len());
    let mut distortions = Vec::with_capacity(flat.len());
    let mut solid = vec![false; flat.len()];
    for (k, (t, f)) in triangles.iter().zip(flat).enumerate() {
        let corners = f.map(|v| uvs[v as usize].map(f64::from));
        report.beyond_tile += usize::from(corners.iter().flatten().any(|v| !(-1e-6..=1.0 + 1e-6).contains(v)));
        let Some(stretch) = Stretch::of(t.map(|v| positions[v as usize].map(f64::from)), corners) else { continue };
        if stretch.least <= 1e-9 * stretch.most {
            report.flat_triangles += 1;
            continue;
        }
        solid[k] = true;
        report.mirrored += usize::from(stretch.mirrored);
        densities.push((stretch.least * stretch.most).sqrt());
        distortions.push(stretch.most / stretch.least);
    }
    densities.sort_by(f64::total_cmp);
    distortions.sort_by(f64::total_cmp);
    let at = |sorted: &[f64], share: f64| sorted.get((share * sorted.len().saturating_sub(1) as f64).round() as usize).copied();
    report.density = [0.01, 0.5, 0.99].map(|share| at(&densities, share).unwrap_or(0.0));
    report.distortion = at(&distortions, 0.99).unwrap_or(1.0);
    report.overlapping = overlapping(uvs, flat, &solid);
    report
}

/// Parts that hang together: corners are one where they are at one place both in space and in the layout.
fn islands(positions: &[[f32; 3]], triangles: &[[u32; 3]], uvs: &[[f32; 2]], flat: &[[u32; 3]]) -> usize {
    let mut corners: HashMap<[u32; 5], u32> = HashMap::new();
    let mut named = |v: u32, f: u32| {
        let (p, q) = (positions[v as usize], uvs[f as usize]);
        let next = corners.len() as u32;
        // 0 and -0 are one place
        *corners.entry([p[0], p[1], p[2], q[0], q[1]].map(|v| (v + 0.0).to_bits())).or_insert(next)
    };
    let ids: Vec<[u32; 3]> = triangles.iter().zip(flat).map(|(t, f)| [0, 1, 2].map(|k| named(t[k], f[k]))).collect();
    parts(corners.len(), &ids).len()
}

/// How a triangle in space is shown by its triangle in the layout.
struct Stretch {
    /// Singular values of the map from the surface to the layout.
    least: f64,
    most: f64,
    mirrored: bool,
}

impl Stretch {
    /// None for a triangle without area in space.
    fn of(space: [[f64; 3]; 3], flat: [[f64; 2]; 3]) -> Option<Self> {
        let (e, g) = (sub(space[1], space[0]), sub(space[2], space[0]));
        let normal = cross(e, g);
        let area = dot(normal, normal).sqrt();
        let length = dot(e, e).sqrt();
        if area <= 1e-9 * length * dot(g, g).sqrt() || length == 0.0 {
            return None;
        }
        // the triangle in its own plane: (length, 0) and (x, y)
        let (x, y) = (dot(e, g) / length, area / length);
        let (a, b) = ([flat[1][0] - flat[0][0], flat[1][1] - flat[0][1]], [flat[2][0] - flat[0][0], flat[2][1] - flat[0][1]]);
        // columns of the map
        let along = a.map(|v| v / length);
        let across = [0, 1].map(|k| (b[k] - along[k] * x) / y);
        let (sum, det) = (along.iter().chain(&across).map(|v| v * v).sum::<f64>(), along[0] * across[1] - along[1] * across[0]);
        let root = (sum * sum - 4.0 * det * det).max(0.0).sqrt();
        let most = (0.5 * (sum + root)).sqrt();
        Some(Self { least: if most > 0.0 { det.abs() / most } else { 0.0 }, most, mirrored: det < 0.0 })
    }
}

/// Triangles with area that lie on another one, ascending.
fn overlapping(uvs: &[[f32; 2]], flat: &[[u32; 3]], solid: &[bool]) -> Vec<u32> {
    let lying: Vec<[f32; 3]> = uvs.iter().map(|p| [p[0], p[1], 0.0]).collect();
    let extent = |k: usize| {
        let ends = uvs.iter().map(|p| p[k]).fold([f32::MAX, f32::MIN], |[l, h], v| [l.min(v), h.max(v)]);
        f64::from(ends[1]) - f64::from(ends[0])
    };
    let touch = TOUCH * extent(0).max(extent(1));
    let corners = |t: u32| counter_clockwise(flat[t as usize].map(|v| uvs[v as usize].map(f64::from)));
    let all = boxes(&lying, flat, true).filter(|b| solid[b.triangle as usize]).collect();
    let pairs = sweep_and_prune(all, |a, b| {
        let (s, t) = (corners(a.triangle), corners(b.triangle));
        (!apart(&s, &t, touch) && !apart(&t, &s, touch)).then_some([a.triangle, b.triangle])
    });
    pairs.into_iter().flatten().collect::<BTreeSet<u32>>().into_iter().collect()
}

fn counter_clockwise([a, b, c]: [[f64; 2]; 3]) -> [[f64; 2]; 3] {
    if (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]) < 0.0 { [a, c, b] } else { [a, b, c] }
}

/// Whether an edge of `s` has all of `t` on its outer side, or within `touch` of it.
fn apart(s: &[[f64; 2]; 3], t: &[[f64; 2]; 3], touch: f64) -> bool {
    (0..3).any(|k| {
        let (a, b) = (s[k], s[(k + 1) % 3]);
        let d = [b[0] - a[0], b[1] - a[1]];
        let reach = touch * d[0].hypot(d[1]);
        t.iter().all(|p| d[0] * (p[1] - a[1]) - d[1] * (p[0] - a[0]) <= reach)
    })
}

#[cfg(test)]
mod tests {
    use super::*;

    /// A lattice of squares of 1 m, two triangles each.
    fn lattice(n: u32) -> (Vec<[f32; 3]>, Vec<[u32; 3]>) {
        let points = (0..(n + 1) * (n + 1)).map(|k| [(k % (n + 1)) as f32, (k / (n + 1)) as f32, 0.0]).collect();
        let squares = (0..n * n).map(|k| k % n + k / n * (n + 1));
        (points, squares.flat_map(|a| [[a, a + 1, a + n + 2], [a, a + n + 2, a + n + 1]]).collect())
    }

    fn laid(points: &[[f32; 3]], by: impl Fn([f32; 2]) -> [f32; 2]) -> Vec<[f32; 2]> {
        points.iter().map(|p| by([p[0], p[1]])).collect()
    }

    #[test]
    fn a_layout_to_scale_is_even_and_has_nothing_on_anything() {
        let (points, triangles) = lattice(7);
        let turned = |[x, y]: [f32; 2]| [0.5 + 0.03 * (0.8 * x - 0.6 * y), 0.3 + 0.03 * (0.6 * x + 0.8 * y)];
        let report = uv_report(&points, &triangles, &laid(&points, turned), &triangles);
        assert_eq!((report.islands, report.mirrored, report.flat_triangles, report.beyond_tile), (1, 0, 0, 0));
        assert!(report.overlapping.is_empty(), "{:?}", report.overlapping);
        assert!(report.density.iter().all(|d| (d - 0.03).abs() < 1e-6), "{:?}", report.density);
        assert!((report.distortion - 1.0).abs() < 1e-4, "{}", report.distortion);
    }

    #[test]
    fn what_is_squeezed_turned_over_or_laid_twice_is_told() {
        let (points, triangles) = lattice(4);
        let narrow = uv_report(&points, &triangles, &laid(&points, |[x, y]| [-0.1 * x, 0.2 * y]), &triangles);
        assert_eq!((narrow.mirrored, narrow.beyond_tile), (32, 32));
        assert!((narrow.distortion - 2.0).abs() < 1e-5 && (narrow.density[1] - 0.02f64.sqrt()).abs() < 1e-6, "{narrow:?}");
        // the right half is folded back over the left one
        let folded = uv_report(&points, &triangles, &laid(&points, |[x, y]| [0.2 * (2.0 - (x - 2.0).abs()), 0.2 * y]), &triangles);
        assert_eq!((folded.overlapping.len(), folded.mirrored, folded.islands), (32, 16, 1));
        let line = uv_report(&points, &triangles, &laid(&points, |[x, _]| [0.1 * x, 0.5]), &triangles);
        assert_eq!((line.flat_triangles, line.overlapping.len()), (32, 0));
    }

    #[test]
    fn pieces_that_share_an_edge_in_space_are_islands_of_their_own() {
        let (points, triangles) = lattice(2);
        // the upper row has corners of its own, laid elsewhere, or upon the lower row
        for (shift, upon) in [(0.5, 0), (-0.1, 8)] {
            let mut uvs = laid(&points, |[x, y]| [0.1 * x, 0.1 * y]);
            let first = uvs.len() as u32;
            uvs.extend(laid(&points, |[x, y]| [0.1 * x, 0.1 * y + shift]));
            let flat: Vec<[u32; 3]> = triangles.iter().enumerate().map(|(k, t)| if k < 4 { *t } else { t.map(|v| v + first) }).collect();
            let report = uv_report(&points, &triangles, &uvs, &flat);
            assert_eq!((report.islands, report.overlapping.len()), (2, upon));
        }
    }
}
