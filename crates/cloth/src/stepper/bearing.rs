//! What bears cloth that hangs still: the forces of the body, of stays and of pins on every vertex, and the pressure on the skin.
//!
//! What the cloth itself pulls and weighs is known from where it hangs. At rest all forces on a vertex add up to nothing, so what
//! touches it gives the remainder, the friction that holds it included. Of cloth that moves the remainder is also what speeds it up.

use crate::contact;
use crate::elements::{fold, skin_holds, tapes_and_stays};
use crate::linear::link::Link;
use crate::scene::Settings;
use crate::stepper::drape::Drape;
use glam::{Vec3, Vec3A};

/// What is farther than this above its distance from the skin does not lie on it, m.
const LIES_ON: f32 = 2e-3;

/// Steps that bring cloth to balance, their length (s), and how much more exactly than as a rule they are solved.
const BALANCING: usize = 12;
const LONG: f32 = 0.05;
const EXACT: f64 = 0.01;

/// Forces on the cloth, by vertex, N; those of fused vertices stand at the one that the others follow.
#[derive(Clone, Debug)]
pub struct Bearing {
    /// Of the body and the things beside it, where cloth lies on them.
    pub body: Vec<[f32; 3]>,
    /// Of stays and of what is held to the skin.
    pub stays: Vec<[f32; 3]>,
    /// Of pins and pieces that stand still.
    pub pins: Vec<[f32; 3]>,
    /// On the skin, Pa.
    pub pressure: Vec<f32>,
    /// The part of the body's force along the skin: what friction bears.
    pub across: Vec<[f32; 3]>,
    /// Most that friction can bear where cloth lies on something, N: what is borne across the skin beyond it slips.
    pub friction: Vec<f32>,
    /// Of all cloth, N.
    pub weight: f32,
}

impl Drape {
    /// What bears the cloth where it hangs now. Cloth at rest still creeps a little, with forces that are as large as the weight of a
    /// vertex: a copy is brought to balance first, by a few long and exact steps without speed.
    pub fn bearing(&self) -> Bearing {
        let Ok(mut copy) = Self::resume(self.scene.clone(), &self.save()) else { return self.bearing_here() };
        copy.settings = Settings { time_step: LONG, ..self.settings };
        copy.constraints.frozen.clone_from(&self.constraints.frozen);
        copy.hold_fast();
        copy.equations.exactness = EXACT;
        for _ in 0..BALANCING {
            copy.state.v.fill(Vec3A::ZERO);
            copy.attempt(&mut |_| {});
            if copy.equations.move_by.iter().any(|m| !m.is_finite()) {
                return self.bearing_here();
            }
            copy.accept(&mut |_| {});
        }
        copy.bearing_here()
    }

    fn bearing_here(&self) -> Bearing {
        let count = self.state.x.len();
        let (mut own, mut stays) = (self.own_forces(), vec![Vec3A::ZERO; count]);
        for link in self.stay_and_hold_links() {
            link.push(1.0, &mut stays);
        }
        own.iter_mut().zip(&stays).for_each(|(own, stay)| *own += *stay);
        let mut bearing = Bearing {
            body: vec![[0.0; 3]; count],
            stays: stays.iter().map(Vec3A::to_array).collect(),
            pins: vec![[0.0; 3]; count],
            pressure: vec![0.0; count],
            across: vec![[0.0; 3]; count],
            friction: vec![0.0; count],
            weight: self.model.mass.iter().sum::<f32>() * self.gravity().length(),
        };
        let mut area = vec![0.0f32; count];
        for element in &self.model.elements {
            element.vertices.iter().for_each(|v| area[*v as usize] += element.area / 3.0);
        }
        for i in (0..count).filter(|i| self.constraints.held[*i] && self.model.mass[*i] > 0.0) {
            bearing.pins[i] = (-own[i]).to_array();
        }
        let Some(body) = &self.scene.body else { return bearing };
        for &(v, offset, _, friction) in self.model.samples.iter().take_while(|(v, ..)| v[0] == v[1]) {
            let i = v[0] as usize;
            let at = Vec3::from(self.state.x[i]);
            let near = body.near(at);
            if self.constraints.held[i] || near.distance > offset + LIES_ON {
                continue;
            }
            let (force, normal) = (-own[i], Vec3A::from(near.normal));
            let press = force.dot(normal).max(0.0);
            bearing.body[i] = force.to_array();
            bearing.pressure[i] = press / area[i].max(1e-9);
            bearing.across[i] = (force - normal * force.dot(normal)).to_array();
            bearing.friction[i] = friction * body.friction_of(&near, at) * press;
        }
        bearing
    }

    /// What gravity, the cloth itself, its tapes, its seams and its layers do to every vertex, N.
    fn own_forces(&self) -> Vec<Vec3A> {
        let (x, pattern) = (&self.state.x, &self.model.pattern);
        let gravity = self.gravity();
        let mut own: Vec<Vec3A> = self.model.mass.iter().map(|mass| gravity * *mass).collect();
        for element in &self.model.elements {
            let stretched = element.stretched(element.vertices.map(|v| x[v as usize]));
            (0..3).for_each(|k| own[element.vertices[k] as usize] -= element.gradient(&stretched, k));
        }
        for i in 0..x.len() {
            let near = pattern.blocks(i).map(|slot| (pattern.column[slot], pattern.bending[slot]));
            own[i] -= near.chain(pattern.ring(i).iter().copied()).map(|(j, b)| (x[j as usize] - x[i]) * b).sum::<Vec3A>();
        }
        let mut folds = Vec::new();
        fold::springs(&self.model.folds, x, 1.0, &mut folds);
        folds.iter().for_each(|spring| spring.push(&mut own));
        self.inner_links().iter().for_each(|link| link.push(1.0, &mut own));
        own
    }

    /// What joins cloth to cloth.
    fn inner_links(&self) -> Vec<Link> {
        let (x, h) = (&self.state.x, self.settings.time_step);
        let mut links = self.sewing_links();
        if self.settings.self_contact {
            let still = vec![Vec3A::ZERO; x.len()];
            let moving = contact::Moving { positions: x, velocities: &still, time_step: h, fall: Vec3A::ZERO };
            links.extend(contact::cloth_links(
                self.meeting.neighbourhood.found(),
                &moving,
                &self.meeting.collision_exempt,
                self.model.layer_gap,
                self.model.layer_stiffness,
                (self.model.layer_friction, &self.model.grip),
            ));
        }
        links
    }

    fn stay_and_hold_links(&self) -> Vec<Link> {
        let (x, root, h) = (&self.state.x, &self.state.root, self.settings.time_step);
        let (mut links, body) = (Vec::new(), self.scene.body.as_ref());
        let mut levels = self.constraints.levels.clone();
        tapes_and_stays::stay_links(&mut levels, body, x, root, self.model.layer_stiffness, h, &mut links);
        if let Some(body) = body {
            skin_holds::hold_links(&mut self.constraints.skin_held.clone(), body, x, root, h, &mut links);
        }
        links
    }
}
