//! Steps that keep swing: the backward differentiation formula of second order (BDF2; Hairer and Wanner, Solving Ordinary
//! Differential Equations II) for cloth that moves with a body, in place of implicit Euler, which takes away movement.
//!
//! With h the step, c the last displacement, v and w the speeds after the last step and the one before, a vertex moves by the d
//! of (9/4) M (d - a) / h² = f(x + d), where a = c/3 + (8 v - 2 w) h / 9, and then has the speed (3/2) (d - c/3) / h. A vertex
//! that touched something in the last step has no smooth past: it takes a step of implicit Euler.

use crate::linear::link::Link;
use glam::Vec3A;

/// Steps without a touch after which the past counts: what lies on something leaves it for a step now and then.
const SMOOTH: u8 = 3;

/// The past of all vertices, by vertex; empty while nothing swings.
#[derive(Clone, Debug, Default)]
pub(crate) struct Swing {
    /// Displacement in the last step, m.
    last: Vec<Vec3A>,
    /// Speed before it, m/s.
    before: Vec<Vec3A>,
    /// Steps without a touch, up to those after which the past counts.
    free: Vec<u8>,
    /// What contacts join in this step.
    touched: Vec<bool>,
}

/// Inertia of a vertex in one step: its mass counts so many times, and without forces it would move so far (m).
pub(crate) struct Inertia {
    pub factor: f32,
    pub ahead: Vec3A,
}

impl Swing {
    /// Begins, for so many vertices; goes on if it has begun, with steps of a new length in the ratio to the old one.
    pub fn begin(&mut self, vertices: usize, ratio: f32) {
        if self.last.len() != vertices {
            let zero = vec![Vec3A::ZERO; vertices];
            *self = Self { last: zero.clone(), before: zero, free: vec![0; vertices], touched: vec![false; vertices] };
        } else if ratio != 1.0 {
            self.last.iter_mut().for_each(|c| *c *= ratio);
        }
    }

    #[inline]
    fn is_smooth(&self, i: usize) -> bool {
        self.free[i] >= SMOOTH
    }

    pub fn is_on(&self) -> bool {
        !self.last.is_empty()
    }

    /// Forgets the past: positions were changed otherwise than by steps.
    pub fn forget(&mut self) {
        self.free.fill(0);
    }

    /// Of a vertex with a speed, in a step of h.
    #[inline]
    pub fn inertia(&self, i: usize, v: Vec3A, h: f32) -> Inertia {
        if !self.is_on() || !self.is_smooth(i) {
            return Inertia { factor: 1.0, ahead: v * h };
        }
        Inertia { factor: 2.25, ahead: self.last[i] / 3.0 + (8.0 * v - 2.0 * self.before[i]) * (h / 9.0) }
    }

    /// The speed of a vertex that moved by so much in a step of h, and now has that as its past; `decided` tells that something
    /// else than forces decided where it is.
    #[inline]
    pub fn moved(&mut self, i: usize, by: Vec3A, v: Vec3A, h: f32, decided: bool) -> Vec3A {
        if !self.is_on() {
            return by / h;
        }
        let touched = decided || self.touched[i];
        let speed = if self.is_smooth(i) && !touched { (by - self.last[i] / 3.0) * (1.5 / h) } else { by / h };
        let free = if touched { 0 } else { (self.free[i] + 1).min(SMOOTH) };
        (self.last[i], self.before[i], self.free[i]) = (by, v, free);
        speed
    }

    /// Takes note of the contacts of a step.
    pub fn touch<'a>(&mut self, contacts: impl Iterator<Item = &'a Link>) {
        if !self.is_on() {
            return;
        }
        self.touched.fill(false);
        for link in contacts {
            for (v, weight) in link.vertices.iter().zip(link.weights) {
                self.touched[*v as usize] |= weight != 0.0;
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// An oscillator of so many radians a second, in steps of h: amplitude that is left after some whole swings.
    fn left(omega: f32, h: f32, swings: usize, smooth: bool) -> f32 {
        let mut swing = Swing::default();
        if smooth {
            swing.begin(1, 1.0);
        }
        let (mut x, mut v, mut most) = (1.0f32, 0.0f32, 0.0f32);
        let steps = (swings as f32 * std::f32::consts::TAU / omega / h).round() as usize;
        for step in 0..steps {
            let inertia = swing.inertia(0, Vec3A::X * v, h);
            // (factor / h²)(d - a) = -omega² (x + d)
            let m = inertia.factor / (h * h);
            let d = (m * inertia.ahead.x - omega * omega * x) / (m + omega * omega);
            let after = swing.moved(0, Vec3A::X * d, Vec3A::X * v, h, false);
            (x, v) = (x + d, after.x);
            if step + (0.6 * std::f32::consts::TAU / omega / h) as usize >= steps {
                most = most.max(x.abs());
            }
        }
        most
    }

    #[test]
    fn slow_swings_stay_and_fast_ones_are_damped() {
        let h = 1.0 / 120.0;
        let slow = left(std::f32::consts::TAU, h, 10, true);
        assert!(slow > 0.99, "{slow} is left of ten swings of a second");
        let euler = left(std::f32::consts::TAU, h, 10, false);
        assert!(euler < 0.25, "implicit Euler leaves {euler}");
        // what the step cannot follow dies out within a tenth of a second
        let fast = left(60.0 / h, h, 120, true);
        assert!(fast < 1e-3, "{fast}");
    }
}
