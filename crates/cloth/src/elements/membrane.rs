//! In-plane elasticity per triangle (Baraff & Witkin 1998 in energy form), warp and weft along the grain.

use crate::fabric::LOCKED;
use crate::scene::{Panel, Scene};
use glam::{Mat3A, Vec2, Vec3A};

/// Constants of one triangle.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Element {
    /// Counter-clockwise in the flat frame.
    pub vertices: [u32; 3],
    /// Weights of the corners in dx/du and dx/dv, 1/m.
    pub du: [f32; 3],
    /// The same along the weft.
    pub dv: [f32; 3],
    /// Area times stiffness, N·m: warp, weft, shear.
    pub stiffness: [f32; 3],
    /// Of the cloth as cut, m²; what it weighs.
    pub area: f32,
    /// Strain at which warp and weft lock.
    pub locking: f32,
}

/// State of one triangle at the current positions, enough to build its forces and Hessian blocks.
#[derive(Clone, Copy, Debug, Default)]
pub(crate) struct Stretched {
    /// dx/du: the warp direction as it is stretched now.
    pub wu: Vec3A,
    /// dx/dv.
    pub wv: Vec3A,
    /// Gradient of the energy with respect to wu and wv.
    pub gu: Vec3A,
    /// The same for wv, N·m.
    pub gv: Vec3A,
    /// Second derivatives, positive semi-definite.
    pub huu: Mat3A,
    /// The same for wv.
    pub hvv: Mat3A,
}

/// All triangles at their rest shapes.
pub(crate) fn elements(scene: &Scene) -> Vec<Element> {
    let mut found = Vec::with_capacity(scene.triangles.len());
    for panel in &scene.panels {
        let triangles = &scene.triangles[panel.first..panel.first + panel.count];
        found.extend(triangles.iter().map(|&v| Element::new(panel, v, v.map(|v| Vec2::from(scene.flat[v as usize])))));
    }
    found
}

impl Element {
    /// A triangle of a panel with the given rest shape in the flat frame, m.
    pub fn new(panel: &Panel, vertices: [u32; 3], rest: [Vec2; 3]) -> Self {
        let warp = Vec2::from_angle(panel.grain);
        let weft = warp.perp();
        let [a, b, c] = rest.map(|p| Vec2::new(p.dot(warp), p.dot(weft)));
        let (e1, e2) = (b - a, c - a);
        let twice = e1.perp_dot(e2);
        // gradients of the barycentric weights
        let (gb, gc) = (Vec2::new(e2.y, -e2.x) / twice, Vec2::new(-e1.y, e1.x) / twice);
        let ga = -(gb + gc);
        let area = 0.5 * twice;
        let f = &panel.fabric;
        Self {
            vertices,
            du: [ga.x, gb.x, gc.x],
            dv: [ga.y, gb.y, gc.y],
            stiffness: [area * f.stretch[0], area * f.stretch[1], area * f.shear],
            area,
            locking: f.locking,
        }
    }

    /// dx/du and dx/dv at the given corner positions.
    pub fn directions(&self, p: [Vec3A; 3]) -> (Vec3A, Vec3A) {
        let along = |w: &[f32; 3]| p[0] * w[0] + p[1] * w[1] + p[2] * w[2];
        (along(&self.du), along(&self.dv))
    }

    /// At corner positions in m.
    pub fn stretched(&self, p: [Vec3A; 3]) -> Stretched {
        let (wu, wv) = self.directions(p);
        let [ku, kv, ks] = self.stiffness;
        let c = wu.dot(wv);
        let (fu, hu) = stretch(wu, ku, self.locking);
        let (fv, hv) = stretch(wv, kv, self.locking);
        Stretched { wu, wv, gu: fu + wv * (ks * c), gv: fv + wu * (ks * c), huu: hu, hvv: hv }
    }

    /// Energy gradient at corner i.
    pub fn gradient(&self, s: &Stretched, i: usize) -> Vec3A {
        s.gu * self.du[i] + s.gv * self.dv[i]
    }

    /// Hessian block (i, j); the shear part is Gauss-Newton.
    #[inline]
    pub fn block(&self, s: &Stretched, i: usize, j: usize) -> Mat3A {
        let (a, b) = (s.wv * self.du[i] + s.wu * self.dv[i], (s.wv * self.du[j] + s.wu * self.dv[j]) * self.stiffness[2]);
        s.huu * (self.du[i] * self.du[j]) + s.hvv * (self.dv[i] * self.dv[j]) + Mat3A::from_cols(a * b.x, a * b.y, a * b.z)
    }
}

/// Gradient and positive semi-definite Hessian of k/2 (|w| - 1)², and of the same with a steeper slope beyond `locking`.
fn stretch(w: Vec3A, k: f32, locking: f32) -> (Vec3A, Mat3A) {
    let length = w.length().max(1e-6);
    let n = w / length;
    let beyond = (length - 1.0 - locking).max(0.0);
    let force = k * (length - 1.0) + k * (LOCKED - 1.0) * beyond;
    let slope = if beyond > 0.0 { k * LOCKED } else { k };
    let lateral = (force / length).max(0.0);
    let outer = Mat3A::from_cols(n * n.x, n * n.y, n * n.z);
    (n * force, outer * (slope - lateral) + Mat3A::IDENTITY * lateral)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn element(flat: [[f32; 2]; 3], grain: f32) -> Element {
        let mut scene = Scene::plain(flat.to_vec(), vec![[0, 1, 2]]);
        let panel = &mut scene.panels[0];
        panel.grain = grain;
        panel.fabric.stretch = [900.0, 500.0];
        panel.fabric.shear = 60.0;
        elements(&scene)[0]
    }

    fn forces(e: &Element, p: [Vec3A; 3]) -> [Vec3A; 3] {
        let s = e.stretched(p);
        [0, 1, 2].map(|i| e.gradient(&s, i))
    }

    const FLAT: [[f32; 2]; 3] = [[0.0, 0.0], [0.021, 0.003], [0.006, 0.018]];

    proptest! {
        #[test]
        fn forces_balance_and_turn_with_the_triangle(v in prop::array::uniform9(-0.004f32..0.004), axis in prop::array::uniform3(-1.0f32..1.0), grain in 0.0f32..3.1) {
            let e = element(FLAT, grain);
            let p = [0, 1, 2].map(|k| Vec3A::new(FLAT[k][0] + v[3 * k], FLAT[k][1] + v[3 * k + 1], v[3 * k + 2]));
            let f = forces(&e, p);
            let scale = f.iter().map(|f| f.length()).fold(1e-3, f32::max);
            prop_assert!((f[0] + f[1] + f[2]).length() < 1e-4 * scale, "no net force");
            let torque = p[0].cross(f[0]) + p[1].cross(f[1]) + p[2].cross(f[2]);
            prop_assert!(torque.length() < 1e-4 * scale * 0.03, "no net torque");
            prop_assume!(Vec3A::from_array(axis).length() > 0.1);
            let turn = Mat3A::from_axis_angle(Vec3A::from_array(axis).normalize().into(), 1.1);
            let turned = forces(&e, p.map(|q| turn * q + Vec3A::new(0.3, -0.2, 0.1)));
            for k in 0..3 {
                prop_assert!((turned[k] - turn * f[k]).length() < 2e-3 * scale);
            }
        }

        #[test]
        fn blocks_are_the_derivative_of_the_forces_in_stretched_cloth(stretch in 1.02f32..1.15, other in 1.02f32..1.15) {
            // stretched and without shear, the blocks are the exact second derivative
            let e = element(FLAT, 0.0);
            let p = FLAT.map(|q| Vec3A::new(stretch * q[0], other * q[1], 0.2 * q[0]));
            let s = e.stretched(p);
            let step = 2e-5;
            for j in 0..3 {
                for axis in [Vec3A::X, Vec3A::Y, Vec3A::Z] {
                    let (mut ahead, mut behind) = (p, p);
                    ahead[j] += axis * step;
                    behind[j] -= axis * step;
                    let (a, b) = (forces(&e, ahead), forces(&e, behind));
                    for i in 0..3 {
                        let slope = (a[i] - b[i]) / (2.0 * step);
                        let block = e.block(&s, i, j) * axis;
                        prop_assert!((slope - block).length() < 0.03 * e.stiffness[0] * 3e3 + 0.03 * block.length(), "{slope:?} against {block:?}");
                    }
                }
            }
        }
    }

    #[test]
    fn cloth_is_ten_times_as_stiff_beyond_its_locking_strain() {
        let mut e = element([[0.0, 0.0], [1.0, 0.0], [0.0, 1.0]], 0.0);
        e.locking = 0.05;
        let pull = |strain: f32| forces(&e, [Vec3A::ZERO, Vec3A::new(1.0 + strain, 0.0, 0.0), Vec3A::Y])[1].x / (0.5 * 900.0);
        assert!((pull(0.04) - 0.04).abs() < 1e-4 && (pull(0.05) - 0.05).abs() < 1e-4);
        assert!((pull(0.06) - (0.05 + 10.0 * 0.01)).abs() < 1e-3, "{}", pull(0.06));
    }

    #[test]
    fn stretch_along_the_warp_pulls_with_the_warp_stiffness() {
        // a right triangle with unit legs stretched by 5 % along u: stress k 5 %, on the leg of length 1
        let e = element([[0.0, 0.0], [1.0, 0.0], [0.0, 1.0]], 0.0);
        let f = forces(&e, [Vec3A::ZERO, Vec3A::new(1.05, 0.0, 0.0), Vec3A::Y]);
        assert!((f[1].x - 0.5 * 900.0 * 0.05).abs() < 0.05 && f[1].y.abs() < 0.05, "{f:?}");
        let weft = forces(&e, [Vec3A::ZERO, Vec3A::X, Vec3A::new(0.0, 1.05, 0.0)]);
        assert!((weft[2].y - 0.5 * 500.0 * 0.05).abs() < 0.05, "{weft:?}");
    }
}
