//! Springs between weighted points of up to four vertices: contacts, closing seams, the tugging hand.

use crate::linear::matrix::Pattern;
use glam::{Mat3A, Vec3A};

/// Pulls the weighted sum of vertex displacements towards `target`, with one stiffness along `normal` and another across.
#[derive(Clone, Copy, Debug)]
pub(crate) struct Link {
    /// What it joins; unused places repeat a vertex with weight 0.
    pub vertices: [u32; 4],
    /// Of the vertices; their sum is 0 unless it is tied to space.
    pub weights: [f32; 4],
    /// Unit direction of the stiffness `along`.
    pub normal: Vec3A,
    /// N/m along and across the normal.
    pub along: f32,
    /// N/m at right angles to the normal.
    pub across: f32,
    /// Wanted change of the weighted sum over the step, m: along the normal part and across part together.
    pub target: Vec3A,
}

impl Link {
    /// A spring that acts alike in all directions.
    pub fn round(vertices: [u32; 4], weights: [f32; 4], stiffness: f32, target: Vec3A) -> Self {
        Self { vertices, weights, normal: Vec3A::Y, along: stiffness, across: stiffness, target }
    }

    /// N, for a stretch in m.
    #[inline]
    pub fn force(&self, stretch: Vec3A) -> Vec3A {
        let n = self.normal * self.normal.dot(stretch);
        n * self.along + (stretch - n) * self.across
    }

    /// N/m in all directions.
    pub fn stiffness(&self) -> Mat3A {
        let n = self.normal;
        Mat3A::IDENTITY * self.across + Mat3A::from_cols(n * n.x, n * n.y, n * n.z) * (self.along - self.across)
    }

    /// Weighted sum of values at its vertices.
    #[inline]
    pub fn sum(&self, x: &[Vec3A]) -> Vec3A {
        (0..4).map(|k| x[self.vertices[k] as usize] * self.weights[k]).fold(Vec3A::ZERO, |a, b| a + b)
    }

    /// Adds `share` of the pull towards the target to the forces.
    pub fn push(&self, share: f32, forces: &mut [Vec3A]) {
        let f = self.force(self.target) * share;
        for k in 0..4 {
            forces[self.vertices[k] as usize] += f * self.weights[k];
        }
    }

    /// Adds `share` of this link's matrix to the stored blocks; only for a link of one vertex or of an edge.
    pub fn store(&self, share: f32, pattern: &Pattern, blocks: &mut [Mat3A]) {
        let k = self.stiffness() * share;
        let ends = if self.weights[1] == 0.0 { 1 } else { 2 };
        for a in 0..ends {
            for b in 0..ends {
                if let Some(slot) = pattern.slot(self.vertices[a], self.vertices[b]) {
                    blocks[slot] += k * (self.weights[a] * self.weights[b]);
                }
            }
        }
    }

    /// y += this link's matrix times x; returns its share of x · y.
    #[inline]
    pub fn multiply_into(&self, x: &[Vec3A], y: &mut [Vec3A]) -> f64 {
        let sum = self.sum(x);
        let f = self.force(sum);
        for k in 0..4 {
            y[self.vertices[k] as usize] += f * self.weights[k];
        }
        f64::from(sum.dot(f))
    }
}
