//! Gathering threads: the cloth along an edge that is sewn to a shorter one lies in pleats finer than the mesh. Its triangles
//! rest narrower along that edge, with their other edges as long as cut, and are drawn up over half a second.

use crate::elements::membrane::Element;
use crate::scene::Scene;
use glam::{Vec2, Vec3A};
use std::collections::HashMap;

/// Time over which threads are drawn up, s: as fast as a gap of 30 cm closes.
const DRAWING: f32 = 0.5;

/// Least depth of a triangle that is drawn up, over its left edge.
const LEAST_DEPTH: f32 = 0.2;

/// An edge under a thread.
#[derive(Clone, Copy)]
struct Thread {
    /// Shares of the edge's own length that it takes up at first and when it is drawn up.
    from: f32,
    to: f32,
}

/// The gathered edges of a scene.
pub(crate) struct Gathers {
    /// By the two vertices of the edge, the smaller first.
    threads: HashMap<[u32; 2], Thread>,
    /// Triangles at these edges, with their panels.
    triangles: Vec<(u32, u32)>,
    /// 0 as cut, 1 drawn up.
    drawn: f32,
}

fn key(a: u32, b: u32) -> [u32; 2] {
    [a.min(b), a.max(b)]
}

impl Gathers {
    /// Cloth that already lies closer, as in a drape that goes on, begins as it lies.
    pub fn new(scene: &Scene, x: &[Vec3A]) -> Self {
        let mut threads = HashMap::new();
        for gather in &scene.construction.gathers {
            for (&[a, b], &to) in gather.edges.iter().zip(&gather.shares) {
                let [fa, fb] = [a, b].map(|v| Vec2::from(scene.flat[v as usize]));
                let from = (x[a as usize].distance(x[b as usize]) / fa.distance(fb).max(1e-9)).clamp(to, 1.0);
                threads.insert(key(a, b), Thread { from, to });
            }
        }
        let mut triangles = Vec::new();
        for (number, panel) in scene.panels.iter().enumerate() {
            let at_thread = |&t: &usize| {
                let [a, b, c] = scene.triangles[t];
                [(a, b), (b, c), (c, a)].iter().any(|&(a, b)| threads.contains_key(&key(a, b)))
            };
            triangles.extend((panel.first..panel.first + panel.count).filter(at_thread).map(|t| (t as u32, number as u32)));
        }
        Self { threads, triangles, drawn: 0.0 }
    }

    /// Whether all are drawn up.
    pub fn are_drawn(&self) -> bool {
        self.triangles.is_empty() || self.drawn >= 1.0
    }

    /// Draws up what is left at once.
    pub fn finish(&mut self, scene: &Scene, elements: &mut [Element]) {
        self.draw_up(scene, DRAWING, elements);
    }

    /// Draws the threads up for another time step and gives the triangles at them their new rest shape.
    pub fn draw_up(&mut self, scene: &Scene, time_step: f32, elements: &mut [Element]) {
        if self.triangles.is_empty() || self.drawn >= 1.0 {
            return;
        }
        self.drawn = (self.drawn + time_step / DRAWING).min(1.0);
        for &(t, panel) in &self.triangles {
            let vertices = scene.triangles[t as usize];
            let mass = elements[t as usize].area;
            let drawn = Element::new(&scene.panels[panel as usize], vertices, self.shape(scene, vertices, self.drawn));
            elements[t as usize] = Element { area: mass, ..drawn };
        }
    }

    /// A triangle as it rests when all threads are drawn up, in the flat frame, m.
    pub fn at_last(&self, scene: &Scene, triangle: u32) -> [Vec2; 3] {
        self.shape(scene, scene.triangles[triangle as usize], 1.0)
    }

    /// A triangle with each of its edges under a thread as short as it is by now and the others as long as cut, so that
    /// neighbours agree about the edge between them.
    fn shape(&self, scene: &Scene, vertices: [u32; 3], drawn: f32) -> [Vec2; 3] {
        let corners = vertices.map(|v| Vec2::from(scene.flat[v as usize]));
        if self.threads.is_empty() {
            return corners;
        }
        let thread = |k: usize| self.threads.get(&key(vertices[k], vertices[(k + 1) % 3]));
        let Some(first) = (0..3).find(|&k| thread(k).is_some()) else { return corners };
        let length = |k: usize| {
            let share = thread(k).map_or(1.0, |t| t.from + (t.to - t.from) * drawn);
            share * corners[k].distance(corners[(k + 1) % 3])
        };
        let (a, b, c) = (first, (first + 1) % 3, (first + 2) % 3);
        let (base, right, left) = (length(a), length(b), length(c));
        let along = (corners[b] - corners[a]).normalize_or_zero();
        // the foot of the third corner on the base; a corner that leans far out keeps some depth
        let foot = (base * base + left * left - right * right) / (2.0 * base.max(1e-9));
        let depth = (left * left - foot * foot).max(LEAST_DEPTH * LEAST_DEPTH * left * left).sqrt();
        let mut shape = corners;
        shape[b] = corners[a] + along * base;
        shape[c] = corners[a] + along * foot + along.perp() * depth;
        shape
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::Gather;

    /// Two triangles over an edge of 30 mm, one of them at a thread.
    fn drawn_to(share: f32, positions: Option<Vec<[f32; 3]>>) -> (Scene, Gathers, Vec<Element>) {
        let flat = vec![[0.0, 0.0], [0.03, 0.0], [0.01, 0.02], [0.04, 0.02]];
        let mut scene = Scene::plain(flat, vec![[0, 1, 2], [2, 1, 3]]);
        scene.construction.gathers = vec![Gather { edges: vec![[1, 0]], shares: vec![share] }];
        if let Some(positions) = positions {
            scene.positions = positions;
        }
        let x: Vec<Vec3A> = scene.positions.iter().map(|p| Vec3A::from_array(*p)).collect();
        let (gathers, elements) = (Gathers::new(&scene, &x), crate::elements::membrane::elements(&scene));
        (scene, gathers, elements)
    }

    fn pull(element: &Element, corners: [Vec2; 3]) -> f32 {
        let s = element.stretched(corners.map(|p| Vec3A::new(p.x, p.y, 0.0)));
        (0..3).map(|i| element.gradient(&s, i).length()).fold(0.0, f32::max)
    }

    #[test]
    fn a_gathered_triangle_is_narrower_along_its_edge_and_agrees_with_its_neighbour() {
        let (scene, mut gathers, mut elements) = drawn_to(1.0 / 3.0, None);
        let before = elements.clone();
        (0..200).for_each(|_| gathers.draw_up(&scene, 0.01, &mut elements));
        let shape = gathers.at_last(&scene, 0);
        let lengths = [0, 1, 2].map(|k| shape[k].distance(shape[(k + 1) % 3]));
        // 30 mm by a third; the others by Pythagoras as cut
        let cut = [0.01, 0.02f32.hypot(0.02), 0.01f32.hypot(0.02)];
        assert!(lengths.iter().zip(cut).all(|(l, c)| (l - c).abs() < 1e-6), "{lengths:?}");
        assert!(pull(&elements[0], shape) < 1e-5, "at its rest shape nothing pulls");
        assert_eq!(elements[0].area, before[0].area, "it weighs what was cut");
        assert_eq!((elements[1].du, elements[1].dv), (before[1].du, before[1].dv), "the neighbour rests as cut");
    }

    #[test]
    fn cloth_that_lies_gathered_stays_so_when_its_drape_goes_on() {
        let lies = [Vec2::ZERO, Vec2::new(0.015, 0.0), Vec2::new(-0.0025, (0.02f32.powi(2) + 0.01f32.powi(2) - 0.0025f32.powi(2)).sqrt())];
        let mut positions: Vec<[f32; 3]> = lies.iter().map(|p| [p.x, p.y, 0.0]).collect();
        positions.push([0.02, 0.03, 0.0]);
        let (scene, mut gathers, mut elements) = drawn_to(0.5, Some(positions));
        gathers.draw_up(&scene, 1e-3, &mut elements);
        let now = gathers.at_last(&scene, 0);
        let widest = (0..3).map(|k| (now[k].distance(now[(k + 1) % 3]) - lies[k].distance(lies[(k + 1) % 3])).abs()).fold(0.0, f32::max);
        assert!(pull(&elements[0], now) < 1e-5 && widest < 1e-6);
    }
}
