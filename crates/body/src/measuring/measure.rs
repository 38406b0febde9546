//! Girths as a tape reads them: the convex hull of a planar section.

use glam::DVec3;

/// Perimeter of the convex hull of the section through `origin` with the given `normal`, in the unit of the points.
/// `keep` selects the triangles that count (to leave the arms out of a chest girth).
pub fn section_girth(points: &[DVec3], triangles: &[[u32; 3]], origin: DVec3, normal: DVec3, keep: impl Fn([DVec3; 3]) -> bool) -> f64 {
    let normal = normal.normalize();
    let across = normal.any_orthonormal_vector();
    let up = normal.cross(across);
    let mut cut = Vec::new();
    for t in triangles {
        let p = t.map(|i| points[i as usize]);
        let height = p.map(|q| (q - origin).dot(normal));
        let below = height.map(|h| h < 0.0);
        if below == [true; 3] || below == [false; 3] || !keep(p) {
            continue;
        }
        for k in 0..3 {
            let (a, b) = (k, (k + 1) % 3);
            if (height[a] < 0.0) != (height[b] < 0.0) {
                let q = p[a].lerp(p[b], height[a] / (height[a] - height[b])) - origin;
                cut.push([q.dot(across), q.dot(up)]);
            }
        }
    }
    hull_perimeter(cut)
}

/// Length of a tape around points of a plane, which spans hollows.
pub(crate) fn hull_perimeter(mut points: Vec<[f64; 2]>) -> f64 {
    points.sort_by(|a, b| a[0].total_cmp(&b[0]).then(a[1].total_cmp(&b[1])));
    let chain = |points: &mut dyn Iterator<Item = [f64; 2]>| {
        let mut hull: Vec<[f64; 2]> = Vec::new();
        for p in points {
            while let [.., a, b] = hull[..] {
                if (b[0] - a[0]) * (p[1] - a[1]) - (b[1] - a[1]) * (p[0] - a[0]) > 0.0 {
                    break;
                }
                hull.pop();
            }
            hull.push(p);
        }
        hull
    };
    let length = |hull: &[[f64; 2]]| hull.windows(2).map(|w| (w[1][0] - w[0][0]).hypot(w[1][1] - w[0][1])).sum::<f64>();
    length(&chain(&mut points.iter().copied())) + length(&chain(&mut points.iter().rev().copied()))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_girth_of_a_square_prism_is_its_perimeter() {
        let p = |x: f64, y: f64, z: f64| DVec3::new(x, y, z);
        let points =
            [p(0., 0., 0.), p(2., 0., 0.), p(2., 0., 3.), p(0., 0., 3.), p(0., 5., 0.), p(2., 5., 0.), p(2., 5., 3.), p(0., 5., 3.)];
        let sides = [[0, 1, 5], [0, 5, 4], [1, 2, 6], [1, 6, 5], [2, 3, 7], [2, 7, 6], [3, 0, 4], [3, 4, 7]];
        let girth = section_girth(&points, &sides, p(0., 2., 0.), DVec3::Y, |_| true);
        assert!((girth - 10.0).abs() < 1e-12, "{girth}");
    }
}
