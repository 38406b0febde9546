//! Which vertices are fused, and everything that depends on it.

use crate::contact::CONTACT_STIFFNESS;
use crate::elements::bending;
use crate::elements::fold;
use crate::elements::tapes_and_stays;
use crate::linear::coarse::Coarse;
use crate::linear::matrix::Pattern;
use crate::sewing::seams::{Seams, fuse_gap};
use crate::sewing::topology;
use crate::sewing::union::union;
use crate::stepper::drape::Drape;
use glam::{Mat3A, Vec2, Vec3A};

impl Drape {
    /// The coarse space over the cloth as it will be when all seams are closed.
    pub(crate) fn coarse(&self) -> Coarse {
        let mut edges = Vec::with_capacity(3 * self.scene.triangles.len());
        for t in &self.scene.triangles {
            for k in 0..3 {
                let (a, b) = (t[k] as usize, t[(k + 1) % 3] as usize);
                let length = Vec2::from(self.scene.flat[a]).distance(Vec2::from(self.scene.flat[b]));
                edges.push((self.model.group[a], self.model.group[b], length));
            }
        }
        Coarse::new(&self.model.group, &edges)
    }

    /// Rebuilds everything that depends on which vertices are fused.
    pub(crate) fn connect(&mut self) {
        let root = &self.state.root;
        let mapped: Vec<[u32; 3]> = self.scene.triangles.iter().map(|t| t.map(|v| root[v as usize])).collect();
        let (mut mass, mut area) = (vec![0.0f32; self.state.x.len()], vec![0.0f32; self.state.x.len()]);
        let mut friction = vec![0.0f32; self.state.x.len()];
        self.model.offset.fill(0.0);
        for panel in &self.scene.panels {
            for t in panel.first..panel.first + panel.count {
                self.model.elements[t].vertices = mapped[t];
                for v in mapped[t].map(|v| v as usize) {
                    mass[v] += self.model.elements[t].area * panel.fabric.areal_density / 3.0;
                    area[v] += self.model.elements[t].area / 3.0;
                    friction[v] = panel.fabric.friction;
                    self.model.offset[v] = self.model.offset[v].max(self.settings.clearance + 0.5 * panel.fabric.thickness);
                }
            }
        }
        self.state.swing.forget();
        self.model.grip = fused_grip(&self.scene.construction.grip, &self.state.root);
        friction.iter_mut().zip(&self.model.grip).for_each(|(f, grip)| *f *= grip);
        let edges = topology::edges(&mapped);
        self.model.samples.clear();
        for v in (0..self.state.x.len()).filter(|&v| mass[v] > 0.0) {
            self.model.samples.push(([v as u32; 2], self.model.offset[v], CONTACT_STIFFNESS * area[v], friction[v]));
        }
        for &(t, k) in &edges.all {
            let (a, b) = (mapped[t as usize][k as usize] as usize, mapped[t as usize][(k as usize + 1) % 3] as usize);
            let offset = 0.5 * (self.model.offset[a] + self.model.offset[b]);
            let stiffness = 0.25 * CONTACT_STIFFNESS * (area[a] + area[b]);
            self.model.samples.push(([a as u32, b as u32], offset, stiffness, 0.5 * (friction[a] + friction[b])));
        }
        self.model.mass = mass;
        self.hold_fast();
        let folds = fold::fold_of_hinges(&self.scene, &edges.hinges);
        self.model.folds = bending::folded(&self.scene, &edges.hinges, &folds, (&self.model.elements, &self.constraints.gathers));
        self.model.spans = tapes_and_stays::spans(&self.scene, &self.state.root);
        let terms = bending::terms(&self.scene, &edges.hinges, &folds, (&self.model.elements, &self.constraints.gathers));
        self.model.pattern = Pattern::new(self.state.x.len(), &mapped, &terms);
        self.equations.blocks.resize(self.model.pattern.column.len(), Mat3A::ZERO);
        self.meeting.neighbourhood.connect(&mapped, &edges, self.constraints.seams.open_pairs());
        self.equations.solver.coarse.age = u32::MAX;
    }

    /// Opens the fused pairs of some vertices and connects anew.
    pub(crate) fn part(&mut self, vertices: std::ops::Range<usize>) {
        let own = |v: u32| vertices.contains(&(v as usize));
        for (pair, fused) in self.constraints.seams.pairs.iter().zip(&mut self.constraints.seams.fused) {
            *fused &= !own(pair.a) && !own(pair.b);
        }
        self.state.root = self.fused_roots();
        self.connect();
    }

    /// The vertex that stands for each one, by the pairs that are fused.
    pub(crate) fn fused_roots(&self) -> Vec<u32> {
        let fused = self.constraints.seams.pairs.iter().zip(&self.constraints.seams.fused).filter(|(_, f)| **f);
        union(self.state.x.len(), fused.map(|(p, _)| (p.a, p.b)))
    }

    pub(crate) fn follow_roots(&mut self) {
        for i in 0..self.state.x.len() {
            let r = self.state.root[i] as usize;
            if r != i {
                self.state.x[i] = self.state.x[r];
                self.state.v[i] = self.state.v[r];
            }
        }
    }

    /// Fuses seam pairs that have come together, as far as the guard lets them meet.
    pub(crate) fn fuse(&mut self) {
        let near = fuse_gap(self.closing_for());
        let ready = |k: usize, seams: &Seams, x: &[Vec3A]| {
            let p = seams.pairs[k];
            !seams.fused[k] && !seams.apart[k] && x[p.a as usize].distance(x[p.b as usize]) < near
        };
        let close: Vec<usize> =
            (0..self.constraints.seams.pairs.len()).filter(|&k| ready(k, &self.constraints.seams, &self.state.x)).collect();
        if close.is_empty() {
            return;
        }
        let n = self.state.x.len();
        let cluster = union(
            n,
            (0..n as u32)
                .map(|i| (i, self.state.root[i as usize]))
                .chain(close.iter().map(|&k| (self.constraints.seams.pairs[k].a, self.constraints.seams.pairs[k].b))),
        );
        let (mut sum, mut weight) = (vec![Vec3A::ZERO; n], vec![0.0f32; n]);
        for i in (0..n).filter(|&i| self.model.mass[i] > 0.0) {
            let c = cluster[i] as usize;
            let m = if self.constraints.held[i] { 1e6 } else { self.model.mass[i] };
            sum[c] += self.state.x[i] * m;
            weight[c] += m;
        }
        let mut to = self.state.x.clone();
        for i in 0..n {
            let c = cluster[i] as usize;
            if weight[c] > 0.0 && (cluster[i] != i as u32 || self.state.root[i] == i as u32) {
                to[i] = sum[c] / weight[c];
            }
        }
        self.guard(&mut to, &mut |_| {});
        self.state.x = to;
        self.follow_roots();
        for k in close {
            let p = self.constraints.seams.pairs[k];
            self.constraints.seams.fused[k] = self.state.x[p.a as usize].distance(self.state.x[p.b as usize]) < 1e-5;
        }
        self.state.root = self.fused_roots();
        let (mut momentum, mut mass) = (vec![Vec3A::ZERO; n], vec![0.0f32; n]);
        for i in 0..n {
            let r = self.state.root[i] as usize;
            momentum[r] += self.state.v[i] * self.model.mass[i];
            mass[r] += self.model.mass[i];
            self.constraints.pinned[r] |= self.constraints.pinned[i];
        }
        for i in (0..n).filter(|&i| mass[i] > 0.0) {
            self.state.v[i] = momentum[i] / mass[i];
        }
        self.follow_roots();
        self.connect();
    }
}

/// The factors of the vertices that stand for others: that of the roughest of them.
fn fused_grip(grip: &[f32], root: &[u32]) -> Vec<f32> {
    let mut fused = vec![0.0f32; grip.len()];
    for (own, root) in grip.iter().zip(root) {
        let slot = &mut fused[*root as usize];
        *slot = slot.max(*own);
    }
    fused
}
