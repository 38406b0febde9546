//! Distances of a body on a grid: in its depth, and with other shapes joined to it.

use cloth::{DistanceGrid, SolidShape};
use glam::Vec3;

const HALF: f32 = 0.2;

/// A cube around the origin as a closed surface, cut into small squares so that its vertex normals serve.
fn cube(band: f32) -> DistanceGrid {
    const N: usize = 8;
    let (mut positions, mut normals, mut triangles) = (Vec::new(), Vec::new(), Vec::new());
    for axis in 0..3 {
        for side in [-1.0f32, 1.0] {
            let base = positions.len() as u32;
            for i in 0..=N {
                for j in 0..=N {
                    let at = |k: usize| HALF * (2.0 * k as f32 / N as f32 - 1.0);
                    let mut p = [0.0f32; 3];
                    (p[axis], p[(axis + 1) % 3], p[(axis + 2) % 3]) = (side * HALF, at(i), at(j));
                    let mut n = [0.0f32; 3];
                    n[axis] = side;
                    positions.push(p);
                    normals.push(n);
                }
            }
            for i in 0..N as u32 {
                for j in 0..N as u32 {
                    let v = |a: u32, b: u32| base + a * (N as u32 + 1) + b;
                    triangles.extend([[v(i, j), v(i + 1, j), v(i + 1, j + 1)], [v(i, j), v(i + 1, j + 1), v(i, j + 1)]]);
                }
            }
        }
    }
    DistanceGrid::from_surface(&positions, &normals, &triangles, 0.01, band)
}

#[test]
fn what_is_deep_inside_knows_the_way_to_the_nearest_surface() {
    let grid = cube(0.03);
    for p in [[0.12f32, 0.02, -0.01], [0.02, -0.11, 0.03], [-0.03, 0.01, 0.13], [0.01, 0.05, 0.0]] {
        let axis = (0..3).max_by(|a, b| p[*a].abs().total_cmp(&p[*b].abs())).expect("an axis");
        let (d, n) = grid.distance_and_normal(Vec3::from(p));
        let expected = p[axis].abs() - HALF;
        assert!((d - expected).abs() < 0.1 * expected.abs() + 0.003, "{p:?}: {d} instead of {expected}");
        assert!(n[axis] * p[axis].signum() > 0.9, "{p:?}: the way out is {n}");
    }
    // as far from all sides as can be, any way out is as good; it must be one
    let (d, n) = grid.distance_and_normal(Vec3::ZERO);
    assert!(d < -0.17 && (n.length() - 1.0).abs() < 1e-3, "{d} {n}");
}

#[test]
fn of_the_body_and_what_is_joined_to_it_the_nearest_counts() {
    let ball = |centre: Vec3, radius: f32| move |p: Vec3| p.distance(centre) - radius;
    let (a, b) = (ball(Vec3::new(0.35, 0.0, 0.0), 0.12), ball(Vec3::new(0.0, 0.42, 0.1), 0.08));
    let shape = |centre: Vec3, radius: f32, region, distance| SolidShape {
        low: (centre - radius).to_array(),
        high: (centre + radius).to_array(),
        region,
        exact: 1.0,
        distance,
    };
    let shapes = [shape(Vec3::new(0.35, 0.0, 0.0), 0.12, 1, &a as _), shape(Vec3::new(0.0, 0.42, 0.1), 0.08, 2, &b as _)];
    let plain = cube(0.03);
    let joined = cube(0.03).joined(&shapes, 1.0);
    let mut near = 0;
    for k in 0..4000 {
        let f = |m: f32| (k as f32 * m).fract() - 0.5;
        let p = Vec3::new(0.1 + 0.9 * f(0.618), 0.15 + 0.9 * f(0.317), 0.8 * f(0.733));
        let expected = plain.distance(p).min(a(p)).min(b(p));
        if expected.abs() < 0.025 {
            near += 1;
            assert!((joined.distance(p) - expected).abs() < 0.004, "{p}: {} instead of {expected}", joined.distance(p));
        }
    }
    assert!(near > 200);
    assert_eq!((joined.region(Vec3::new(0.46, 0.0, 0.0)), joined.region(Vec3::new(0.0, 0.49, 0.1))), (1, 2));
    assert_eq!(joined.region(Vec3::new(-0.2, 0.0, 0.0)), 0);
    // a shape that lies too far away costs nothing
    let far = ball(Vec3::splat(900.0), 1.0);
    let bounded = cube(0.03).joined(&[shape(Vec3::splat(900.0), 1.0, 1, &far as _)], 0.5);
    assert_eq!(bounded.distance(Vec3::new(0.21, 0.0, 0.0)), plain.distance(Vec3::new(0.21, 0.0, 0.0)));
}
