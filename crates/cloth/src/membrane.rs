//! In-plane elasticity per triangle (Baraff & Witkin 1998 in energy form), warp and weft along the grain.

use crate::scene::Scene;
use glam::{Mat3A, Vec2, Vec3A};

/// Constants of one triangle.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Element {
    pub vertices: [u32; 3],
    /// Weights of the corners in dx/du and dx/dv, 1/m.
    pub du: [f32; 3],
    pub dv: [f32; 3],
    /// Area times stiffness, N·m: warp, weft, shear.
    pub stiffness: [f32; 3],
    pub area: f32,
}

/// State of one triangle at the current positions, enough to build its forces and Hessian blocks.
#[derive(Clone, Copy, Debug, Default)]
pub(crate) struct Stretched {
    pub wu: Vec3A,
    pub wv: Vec3A,
    /// Gradient of the energy with respect to wu and wv.
    pub gu: Vec3A,
    pub gv: Vec3A,
    /// Second derivatives, positive semi-definite.
    pub huu: Mat3A,
    pub hvv: Mat3A,
}

pub(crate) fn elements(scene: &Scene) -> Vec<Element> {
    let mut found = Vec::with_capacity(scene.triangles.len());
    for panel in &scene.panels {
        let warp = Vec2::from_angle(panel.grain);
        let weft = warp.perp();
        for &vertices in &scene.triangles[panel.first..panel.first + panel.count] {
            let [a, b, c] = vertices.map(|v| Vec2::from(scene.flat[v as usize])).map(|p| Vec2::new(p.dot(warp), p.dot(weft)));
            let (e1, e2) = (b - a, c - a);
            let twice = e1.perp_dot(e2);
            // gradients of the barycentric weights
            let (gb, gc) = (Vec2::new(e2.y, -e2.x) / twice, Vec2::new(-e1.y, e1.x) / twice);
            let ga = -(gb + gc);
            let area = 0.5 * twice;
            let f = &panel.fabric;
            found.push(Element {
                vertices,
                du: [ga.x, gb.x, gc.x],
                dv: [ga.y, gb.y, gc.y],
                stiffness: [area * f.stretch[0], area * f.stretch[1], area * f.shear],
                area,
            });
        }
    }
    found
}

impl Element {
    /// dx/du and dx/dv at the given corner positions.
    pub fn directions(&self, p: [Vec3A; 3]) -> (Vec3A, Vec3A) {
        let along = |w: &[f32; 3]| p[0] * w[0] + p[1] * w[1] + p[2] * w[2];
        (along(&self.du), along(&self.dv))
    }

    pub fn stretched(&self, p: [Vec3A; 3]) -> Stretched {
        let (wu, wv) = self.directions(p);
        let [ku, kv, ks] = self.stiffness;
        let c = wu.dot(wv);
        let (fu, hu) = stretch(wu, ku);
        let (fv, hv) = stretch(wv, kv);
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

/// Gradient and positive semi-definite Hessian of k/2 (|w| - 1)².
fn stretch(w: Vec3A, k: f32) -> (Vec3A, Mat3A) {
    let length = w.length().max(1e-6);
    let n = w / length;
    let lateral = (1.0 - 1.0 / length).max(0.0);
    let outer = Mat3A::from_cols(n * n.x, n * n.y, n * n.z);
    (n * (k * (length - 1.0)), (outer * (1.0 - lateral) + Mat3A::IDENTITY * lateral) * k)
}
