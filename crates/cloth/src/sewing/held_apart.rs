//! Seams that are not edge to edge: laced at a width, or lapped over other cloth.

use crate::construction::{Construction, Lace, Lap};
use crate::linear::link::Link;
use crate::scene::SeamPair;
use glam::Vec3A;

/// Speed at which laces and laps are drawn, m/s.
const SPEED: f32 = 0.6;
/// Time that a step of a lace takes, s.
const STEP: f32 = 0.35;
/// A lace is drawn, and a lap lies, when they are within this of where they are to be, m.
const DRAWN: f32 = 5e-3;
/// Least stiffness of a lap, N/m, and of the laces of a pair.
const LAP: f32 = 2000.0;

/// A lace on its way.
#[derive(Clone, Debug)]
struct Drawing {
    lace: Lace,
    /// Width from which it is drawn, m, and for how long by now, s.
    from: f32,
    since: f32,
}

impl Drawing {
    fn width(&self) -> f32 {
        let step = ((self.since / STEP).floor() + 1.0).min(self.lace.steps as f32);
        let share = step / self.lace.steps as f32;
        self.from + (self.lace.width - self.from) * share
    }
    fn is_drawn(&self) -> bool {
        self.since >= STEP * (self.lace.steps - 1) as f32
    }
}

/// All of a scene.
#[derive(Clone, Debug, Default)]
pub(crate) struct HeldApart {
    laces: Vec<Drawing>,
    laps: Vec<Lap>,
}

impl HeldApart {
    /// Begins to draw what is laced, from the width it has now.
    pub fn new(construction: &Construction, pairs: &[SeamPair], x: &[Vec3A]) -> Self {
        let widest = |lace: &Lace| {
            let gaps = lace.pairs.iter().map(|&k| x[pairs[k as usize].a as usize].distance(x[pairs[k as usize].b as usize]));
            gaps.fold(0.0, f32::max)
        };
        let laces = construction.laces.iter().map(|lace| Drawing { from: widest(lace), lace: lace.clone(), since: 0.0 }).collect();
        Self { laces, laps: construction.laps.clone() }
    }

    /// Whether nothing is left to be drawn.
    pub fn is_drawn(&self, x: &[Vec3A], root: &[u32], gap: f32) -> bool {
        self.laces.iter().all(Drawing::is_drawn) && self.laps.iter().all(|lap| miss(lap, x, root, gap).length() < DRAWN)
    }

    /// Whether there is nothing of the kind.
    pub fn is_empty(&self) -> bool {
        self.laces.is_empty() && self.laps.is_empty()
    }

    /// A time step of this many seconds was taken.
    pub fn advance(&mut self, seconds: f32) {
        self.laces.iter_mut().for_each(|l| l.since += seconds);
    }

    /// The springs of this step. `gap` is the distance between layers, m; `stiffness` that of closing seams, N/m; none pulls
    /// harder than `most`, N.
    pub fn links(
        &self,
        pairs: &[SeamPair],
        x: &[Vec3A],
        root: &[u32],
        (gap, time_step): (f32, f32),
        (stiffness, most): (f32, f32),
    ) -> Vec<Link> {
        let step = SPEED * time_step;
        let mut links = Vec::new();
        for drawing in &self.laces {
            let width = drawing.width();
            for pair in drawing.lace.pairs.iter().map(|&k| pairs[k as usize]) {
                let [a, b] = [pair.a, pair.b].map(|v| root[v as usize]);
                let way = x[a as usize] - x[b as usize];
                let length = way.length();
                let missing = (width - length).clamp(-step, step);
                let normal = if length > 1e-6 { way / length } else { Vec3A::X };
                let along = stiffness.max(LAP).min(most / missing.abs().max(1e-6));
                links.push(Link {
                    vertices: [a, b, a, a],
                    weights: [1.0, -1.0, 0.0, 0.0],
                    normal,
                    along,
                    across: 0.0,
                    target: normal * missing,
                });
            }
        }
        for lap in &self.laps {
            let missing = miss(lap, x, root, gap);
            let target = -missing.clamp_length_max(step);
            let [v, a, b, c] = [lap.vertex, lap.onto[0], lap.onto[1], lap.onto[2]].map(|v| root[v as usize]);
            let [p, q, r] = lap.weights;
            links.push(Link::round([v, a, b, c], [1.0, -p, -q, -r], stiffness.max(LAP).min(most / target.length().max(1e-6)), target));
        }
        links
    }

    /// Adds how far each lap is from where it is to lie to the widest gap of its seam, m.
    pub fn widen(&self, gaps: &mut [f32], x: &[Vec3A], root: &[u32], gap: f32) {
        for lap in &self.laps {
            if let Some(slot) = gaps.get_mut(lap.seam as usize) {
                *slot = slot.max(miss(lap, x, root, gap).length());
            }
        }
    }
}

/// From where a lap is to lie to where it is: on its point, at the distance of layers, m.
fn miss(lap: &Lap, x: &[Vec3A], root: &[u32], gap: f32) -> Vec3A {
    let [a, b, c] = lap.onto.map(|v| x[root[v as usize] as usize]);
    let normal = (b - a).cross(c - a).normalize_or_zero() * if lap.on_front { 1.0 } else { -1.0 };
    let point = a * lap.weights[0] + b * lap.weights[1] + c * lap.weights[2];
    x[root[lap.vertex as usize] as usize] - point - normal * gap
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_lace_is_drawn_in_steps_and_pulls_no_harder_than_it_may() {
        let x = [Vec3A::ZERO, Vec3A::X * 0.3];
        let pairs = [SeamPair { a: 0, b: 1, seam: 0 }];
        let construction = Construction { laces: vec![Lace { pairs: vec![0], width: 0.06, steps: 4 }], ..Construction::default() };
        let mut held = HeldApart::new(&construction, &pairs, &x);
        let mut widths = Vec::new();
        for _ in 0..5 {
            widths.push(held.laces[0].width());
            let link = held.links(&pairs, &x, &[0, 1], (0.001, 0.01), (1e4, 3.0))[0];
            assert!(link.force(link.target).length() <= 3.0 + 1e-4);
            assert!(link.target.x > 0.0, "the left edge is drawn to the right");
            held.advance(STEP);
        }
        // four equal steps from 30 to 6 cm
        let expected = [0.24, 0.18, 0.12, 0.06, 0.06];
        assert!(widths.iter().zip(expected).all(|(w, e)| (w - e).abs() < 1e-5), "{widths:?}");
        assert!(held.is_drawn(&x, &[0, 1], 0.001));
    }

    #[test]
    fn a_lap_lies_over_its_point_on_the_side_that_is_asked() {
        let x = [Vec3A::ZERO, Vec3A::X, Vec3A::Y, Vec3A::new(0.25, 0.25, 0.002)];
        let lap = |on_front| Lap { vertex: 3, onto: [0, 1, 2], weights: [0.5, 0.25, 0.25], on_front, seam: 0 };
        let root = [0, 1, 2, 3];
        assert!(miss(&lap(true), &x, &root, 0.002).length() < 1e-6, "it lies where it is to lie");
        assert!((miss(&lap(false), &x, &root, 0.002) - Vec3A::Z * 0.004).length() < 1e-6, "it is to lie beneath");
        let construction = Construction { laps: vec![lap(false)], ..Construction::default() };
        let held = HeldApart::new(&construction, &[], &x);
        let link = held.links(&[], &x, &root, (0.002, 0.01), (1e4, 100.0))[0];
        assert!(link.sum(&x).distance(Vec3A::Z * 0.002) < 1e-6 && link.target.z < 0.0, "it is drawn down");
        let mut gaps = [0.0];
        held.widen(&mut gaps, &x, &root, 0.002);
        assert!((gaps[0] - 0.004).abs() < 1e-6);
    }
}
