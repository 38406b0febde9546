//! How cloth is stretched: along its threads, across them, and most of all, with the pull that it takes.
//!
//! A triangle's map from the flat piece to space, F, takes the warp to w_u and the weft to w_v. Strain along a direction d of the
//! flat piece is |F d| - 1, in the larger and the smaller principal direction the roots of the eigenvalues of F^T F less 1. Pull is
//! what the fabric's threads carry at that strain, by the width of the cloth as cut.

use crate::vector::{Point, dot, sub};

/// How a run of triangles was cut, and from what.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Cloth {
    /// Triangles `first..first + count`.
    pub first: usize,
    /// How many.
    pub count: usize,
    /// Warp direction in the flat piece, radians counter-clockwise from its x axis.
    pub grain: f64,
    /// Force per width at strain 1 along warp and weft, N/m.
    pub stretch: [f64; 2],
    /// Strain beyond which threads are `locked` times as stiff.
    pub locking: f64,
    /// Times as stiff.
    pub locked: f64,
}

impl Cloth {
    /// What threads pull with at a strain, N/m: 0 where they are slack. `way` is 0 for warp and 1 for weft.
    pub fn pull(&self, way: usize, strain: f64) -> f64 {
        let beyond = (strain - self.locking).max(0.0);
        self.stretch[way] * (strain + (self.locked - 1.0) * beyond).max(0.0)
    }
}

/// Strains of one triangle; 0.02 is 2 % longer than cut.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Strain {
    /// Along warp and weft.
    pub threads: [f64; 2],
    /// Along the diagonal between them that is longer.
    pub bias: f64,
    /// The largest of all directions.
    pub most: f64,
    /// The smallest: where it is far below 0 the cloth is folded or slack across.
    pub least: f64,
    /// Unit vector in space along the largest.
    pub along: [f64; 3],
    /// What warp and weft carry, N/m.
    pub pull: [f64; 2],
}

impl Strain {
    /// Of a triangle cut from `cloth`; corners flat and now, m. None for a triangle without area.
    pub fn of(cloth: &Cloth, flat: [[f32; 2]; 3], now: [[f32; 3]; 3]) -> Option<Self> {
        let (sin, cos) = cloth.grain.sin_cos();
        // flat corners by warp and weft
        let at = |k: usize| {
            let (x, y) = (f64::from(flat[k][0]) - f64::from(flat[0][0]), f64::from(flat[k][1]) - f64::from(flat[0][1]));
            [x * cos + y * sin, y * cos - x * sin]
        };
        let space = |k: usize| sub(now[k].map(f64::from), now[0].map(f64::from));
        let ([e1, e2], [d1, d2]) = ([at(1), at(2)], [space(1), space(2)]);
        let twice = e1[0] * e2[1] - e1[1] * e2[0];
        if twice == 0.0 {
            return None;
        }
        let column = |a: f64, b: f64| -> Point { [0, 1, 2].map(|i| (d1[i] * a + d2[i] * b) / twice) };
        let (u, v) = (column(e2[1], -e1[1]), column(-e2[0], e1[0]));
        let (uu, vv, uv) = (dot(u, u), dot(v, v), dot(u, v));
        let (mean, half) = (0.5 * (uu + vv), (0.25 * (uu - vv).powi(2) + uv * uv).sqrt());
        let angle = 0.5 * (2.0 * uv).atan2(uu - vv);
        let way = [0, 1, 2].map(|i| u[i] * angle.cos() + v[i] * angle.sin());
        let length = dot(way, way).sqrt();
        let threads = [uu.sqrt() - 1.0, vv.sqrt() - 1.0];
        Some(Self {
            threads,
            bias: (mean + uv.abs()).sqrt() - 1.0,
            most: (mean + half).sqrt() - 1.0,
            least: (mean - half).max(0.0).sqrt() - 1.0,
            along: if length > 0.0 { way.map(|x| x / length) } else { [0.0; 3] },
            pull: [cloth.pull(0, threads[0]), cloth.pull(1, threads[1])],
        })
    }
}

/// Strains of all triangles, in their order; zero for those without area.
pub fn strains(cloths: &[Cloth], flat: &[[f32; 2]], positions: &[[f32; 3]], triangles: &[[u32; 3]]) -> Vec<Strain> {
    let of = |cloth: &Cloth, t: &[u32; 3]| Strain::of(cloth, t.map(|v| flat[v as usize]), t.map(|v| positions[v as usize]));
    let run = |cloth: &Cloth| -> Vec<Strain> {
        triangles[cloth.first..cloth.first + cloth.count].iter().map(|t| of(cloth, t).unwrap_or_default()).collect()
    };
    cloths.iter().flat_map(run).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    const FLAT: [[f32; 2]; 3] = [[0.1, 0.2], [0.4, 0.22], [0.2, 0.45]];

    fn cloth(grain: f64) -> Cloth {
        Cloth { first: 0, count: 1, grain, stretch: [900.0, 500.0], locking: 0.1, locked: 10.0 }
    }

    /// The triangle stretched by factors along and across a direction, and laid askew into space.
    fn stretched(direction: f64, along: f64, across: f64) -> [[f32; 3]; 3] {
        let (sin, cos) = direction.sin_cos();
        FLAT.map(|p| {
            let (x, y) = (f64::from(p[0]), f64::from(p[1]));
            let (a, b) = (along * (x * cos + y * sin), across * (y * cos - x * sin));
            [(a * 0.6) as f32, b as f32, (a * 0.8) as f32]
        })
    }

    #[test]
    fn a_strip_along_the_weft_pulls_with_the_weft_stiffness() {
        let grain = 1.3;
        let s = Strain::of(&cloth(grain), FLAT, stretched(grain + std::f64::consts::FRAC_PI_2, 1.05, 1.0)).expect("area");
        assert!((s.threads[1] - 0.05).abs() < 1e-5 && s.threads[0].abs() < 1e-5, "{s:?}");
        assert!((s.pull[1] - 25.0).abs() < 0.01 && s.pull[0] < 0.01, "500 N/m at 5 %");
        assert!((s.most - 0.05).abs() < 1e-5 && s.least.abs() < 1e-5);
        // it is longest along its length, which lies at (0.6, 0, 0.8)
        assert!((s.along[0].abs() - 0.6).abs() < 1e-4 && (s.along[2].abs() - 0.8).abs() < 1e-4);
    }

    #[test]
    fn threads_lock_and_slack_threads_do_not_push() {
        let cloth = cloth(0.0);
        assert!((cloth.pull(0, 0.12) - 900.0 * (0.12 + 9.0 * 0.02)).abs() < 1e-9);
        assert_eq!(cloth.pull(1, -0.05), 0.0);
    }

    #[test]
    fn cloth_pulled_along_the_bias_shears_and_keeps_its_threads() {
        // a square of threads of unit length, sheared: one diagonal grows, the other shrinks, threads stay as they are
        let (sin, cos) = 0.1f64.sin_cos();
        let flat = [[0.0, 0.0], [1.0, 0.0], [0.0, 1.0]];
        let now = [[0.0, 0.0, 0.0], [cos as f32, sin as f32, 0.0], [sin as f32, cos as f32, 0.0]];
        let s = Strain::of(&cloth(0.0), flat, now).expect("area");
        assert!(s.threads.iter().all(|t| t.abs() < 1e-6), "{s:?}");
        // the diagonal of a rhombus with sides 1 and an angle of 90 degrees less 0.2
        let diagonal = (2.0 + 2.0 * 0.2f64.sin()).sqrt() / 2.0f64.sqrt() - 1.0;
        assert!((s.bias - diagonal).abs() < 1e-6 && (s.most - diagonal).abs() < 1e-6);
    }

    proptest! {
        #[test]
        fn the_largest_strain_does_not_depend_on_the_grain(direction in 0.0f64..3.1, grain in 0.0f64..3.1, along in 1.0f64..1.3, across in 0.7f64..0.99) {
            let s = Strain::of(&cloth(grain), FLAT, stretched(direction, along, across)).expect("area");
            prop_assert!((s.most - (along - 1.0)).abs() < 2e-5 && (s.least - (across - 1.0)).abs() < 2e-5, "{s:?}");
            // no thread is longer than the longest direction nor shorter than the shortest
            prop_assert!(s.threads.iter().all(|t| *t <= s.most + 1e-9 && *t >= s.least - 1e-9) && s.bias <= s.most + 1e-9);
        }
    }
}
