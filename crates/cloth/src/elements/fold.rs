//! Hinges with a rest angle: the dihedral energy of discrete shells (Grinspun et al. 2003), gradients after Bridson et
//! al. 2003, and a Gauss-Newton Hessian. Scaled so that a small bend from flat costs what the quadratic bending costs.

use crate::scene::Scene;
use crate::sewing::topology::Hinge;
use glam::{Mat3A, Vec3A};
use std::collections::HashSet;

/// Most of the missing angle that one step closes, radians. Beyond it a hinge gets as much stiffer as it is turned away:
/// it turns with its whole moment, but no farther in a step than the angle is linear.
const TURN: f32 = 0.35;

/// A folded hinge of the sewn mesh.
#[derive(Clone, Copy, Debug)]
pub(crate) struct FoldedHinge {
    /// Start and end of the edge, and the opposite vertices.
    pub vertices: [u32; 4],
    /// Radians at which it rests.
    pub angle: f32,
    /// N m per radian.
    pub stiffness: f32,
}

/// One folded hinge as the solver sees it: a spring along a direction of its four vertices.
#[derive(Clone, Copy, Debug)]
pub(crate) struct FoldSpring {
    /// Edge, then the tips of both triangles.
    pub vertices: [u32; 4],
    /// Of the angle with respect to the four vertices, 1/m.
    pub gradient: [Vec3A; 4],
    /// N m, with damping.
    pub stiffness: f32,
    /// N m: moment that turns it towards its rest angle.
    pub moment: f32,
}

impl FoldSpring {
    /// y += this spring's matrix times x; returns its share of x · y.
    #[inline]
    pub fn multiply_into(&self, x: &[Vec3A], y: &mut [Vec3A]) -> f64 {
        let turn: f32 = (0..4).map(|k| self.gradient[k].dot(x[self.vertices[k] as usize])).sum();
        for k in 0..4 {
            y[self.vertices[k] as usize] += self.gradient[k] * (self.stiffness * turn);
        }
        f64::from(self.stiffness * turn * turn)
    }

    /// Adds its forces, N.
    pub fn push(&self, forces: &mut [Vec3A]) {
        for k in 0..4 {
            forces[self.vertices[k] as usize] += self.gradient[k] * self.moment;
        }
    }

    /// Diagonal block at one of its vertices.
    pub fn block(&self, k: usize) -> Mat3A {
        let g = self.gradient[k];
        Mat3A::from_cols(g * g.x, g * g.y, g * g.z) * self.stiffness
    }
}

/// Which fold every hinge belongs to, if any.
pub(crate) fn fold_of_hinges(scene: &Scene, hinges: &[Hinge]) -> Vec<Option<usize>> {
    let mut found = vec![None; hinges.len()];
    for (k, fold) in scene.construction.folds.iter().enumerate() {
        let on: HashSet<u32> = fold.vertices.iter().copied().collect();
        let lies = |h: &Hinge| {
            (0..2).any(|s| {
                let triangle = scene.triangles[h.triangles[s] as usize];
                h.corners[s].iter().all(|c| on.contains(&triangle[*c as usize]))
            })
        };
        for (slot, _) in found.iter_mut().zip(hinges).filter(|(_, h)| lies(h)) {
            *slot = Some(k);
        }
    }
    found
}

/// Angle from flat, positive when the fronts come together, and its gradient; `None` for collapsed triangles.
pub(crate) fn angle([s, e, p, q]: [Vec3A; 4]) -> Option<(f32, [Vec3A; 4])> {
    let edge = e - s;
    let (n, m) = ((p - s).cross(p - e), (q - e).cross(q - s));
    let (nn, mm, length) = (n.length_squared(), m.length_squared(), edge.length());
    if nn < 1e-16 || mm < 1e-16 || length < 1e-6 {
        return None;
    }
    let (u, w) = (n / nn, m / mm);
    let sin = -n.cross(m).dot(edge) / length;
    let along = |a: Vec3A, b: Vec3A| u * ((p - a).dot(edge) / length) + w * ((q - b).dot(edge) / length);
    Some((sin.atan2(n.dot(m)), [along(e, e), -along(s, s), u * length, w * length]))
}

/// The springs of this step.
pub(crate) fn springs(hinges: &[FoldedHinge], x: &[Vec3A], damping: f32, out: &mut Vec<FoldSpring>) {
    out.clear();
    for h in hinges {
        let Some((now, gradient)) = angle(h.vertices.map(|v| x[v as usize])) else { continue };
        let mut missing = h.angle - now;
        // the shorter way round
        if missing.abs() > std::f32::consts::PI {
            missing -= std::f32::consts::TAU.copysign(missing);
        }
        let overdrawn = (missing.abs() / TURN).max(1.0);
        let moment = h.stiffness * missing;
        out.push(FoldSpring { vertices: h.vertices, gradient, stiffness: h.stiffness * damping * overdrawn, moment });
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn hinge(turn: f32) -> [Vec3A; 4] {
        let lifted = Vec3A::new(0.4, -0.9 * turn.cos(), 0.9 * turn.sin());
        [Vec3A::ZERO, Vec3A::X, Vec3A::new(0.6, 0.8, 0.0), lifted]
    }

    #[test]
    fn the_angle_is_that_by_which_a_side_was_lifted() {
        for turn in [-2.5f32, -1.0, 0.0, 0.3, 1.5, 3.0] {
            assert!((angle(hinge(turn)).expect("a hinge").0 - turn).abs() < 1e-5, "{turn}");
        }
    }

    #[test]
    fn a_hinge_turns_with_its_whole_moment_and_no_farther_in_a_step_than_its_angle_is_linear() {
        for (now, rest) in [(0.1f32, 0.3f32), (0.0, 1.5), (-1.0, 1.4)] {
            let folded = FoldedHinge { vertices: [0, 1, 2, 3], angle: rest, stiffness: 2e-4 };
            let mut springs = Vec::new();
            super::springs(&[folded], &hinge(now), 1.0, &mut springs);
            let spring = springs[0];
            assert!((spring.moment / (2e-4 * (rest - now)) - 1.0).abs() < 1e-3, "{} N m from {now} to {rest}", spring.moment);
            // alone it would turn by its moment over its stiffness
            assert!(spring.moment / spring.stiffness <= TURN + 1e-4);
        }
    }

    proptest! {
        #[test]
        fn the_gradient_is_the_derivative_of_the_angle(v in prop::array::uniform12(-0.2f32..0.2), turn in -1.8f32..1.8) {
            let mut x = hinge(turn);
            for k in 0..4 {
                x[k] += Vec3A::new(v[3 * k], v[3 * k + 1], v[3 * k + 2]);
            }
            let (_, gradient) = angle(x).expect("a hinge");
            for k in 0..4 {
                for axis in [Vec3A::X, Vec3A::Y, Vec3A::Z] {
                    let moved = |by: f32| {
                        let mut y = x;
                        y[k] += axis * by;
                        angle(y).expect("a hinge").0
                    };
                    let slope = (moved(2e-3) - moved(-2e-3)) / 4e-3;
                    prop_assert!((slope - gradient[k].dot(axis)).abs() < 0.02 * (1.0 + slope.abs()), "{slope} {:?}", gradient[k]);
                }
            }
            // rigid motion does not change the angle
            prop_assert!(gradient.iter().copied().sum::<Vec3A>().length() < 1e-3);
        }
    }
}
