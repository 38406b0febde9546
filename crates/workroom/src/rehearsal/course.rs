//! Where body and props are at every frame of a rehearsal, whatever the cloth does.

use super::body_motion::{BodyMotion, MotionKey};
use super::plan::Plan;
use super::prop::{self, Distance, Prop};
use body::{Body, Pose, PosedBody, blend};
use costume::{BodyChoice, Refusal};
use glam::{DAffine3, DQuat, DVec3, Vec3};
use std::sync::Arc;

/// Share of the lead-in in which the body takes up its first pose; then it waits for the cloth.
const TAKING_UP: f64 = 0.6;

/// Most frames of a motion.
const MOST_FRAMES: usize = 20_000;

/// A figure, a motion and a plan.
#[derive(Clone)]
pub struct Course {
    /// Who moves.
    pub figure: Arc<Body>,
    /// What it does.
    pub motion: BodyMotion,
    /// In how many frames.
    pub plan: Plan,
    /// The pose it comes from.
    start: Vec<DQuat>,
    motion_frames: usize,
    /// Height of the floor, m.
    pub ground: f32,
    /// What is beside the body, that of the motion before that of the plan, with its distances.
    pub(super) props: Vec<CourseProp>,
}

/// A thing beside the body.
#[derive(Clone)]
pub(super) struct CourseProp {
    /// As it was asked for.
    pub prop: Prop,
    /// In its own frame.
    pub distance: Distance,
    /// The bone that it goes with.
    pub bone: Option<usize>,
}

/// The bone that a thing goes with. Refused when the figure has no such bone, or moves without any.
fn ridden(prop: &Prop, figure: &Body) -> Result<Option<usize>, Refusal> {
    let Some(name) = &prop.rides else { return Ok(None) };
    let none = || Refusal::elsewhere(&prop.name, format!("goes with {name}, which this figure has not"), "choose a bone of the figure");
    figure.rig.skeleton.index(name).map(Some).ok_or_else(none)
}

impl Course {
    /// Refused when the plan is out of bounds or the figure cannot take the poses.
    pub fn new(figure: Arc<Body>, choice: &BodyChoice, motion: BodyMotion, plan: Plan) -> Result<Self, Refusal> {
        plan.check()?;
        motion.check(&figure.rig.skeleton)?;
        let start = figure.rig.skeleton.rotations(&Pose { bones: choice.pose.clone() });
        let motion_frames = (motion.seconds() * plan.fps).round() as usize + 1;
        if motion_frames > MOST_FRAMES {
            let reason = format!("has {motion_frames} frames");
            return Err(Refusal::elsewhere(
                &motion.name,
                reason,
                format!("rehearse at most {MOST_FRAMES}: fewer a second, or a part of it"),
            ));
        }
        let props: Vec<Prop> = motion.props.iter().chain(&plan.props).cloned().collect();
        prop::check(&props)?;
        let props = props.into_iter().map(|p| Ok(CourseProp { bone: ridden(&p, &figure)?, distance: p.solid(), prop: p }));
        let props = props.collect::<Result<_, Refusal>>()?;
        let ground = figure.surface.positions.iter().map(|p| p[1]).fold(f32::MAX, f32::min);
        Ok(Self { figure, motion, plan, start, motion_frames, ground, props })
    }

    /// All frames, lead-in and settling included.
    pub fn frames(&self) -> usize {
        self.plan.lead_in + self.delivered()
    }

    /// Frames that are delivered: all but the lead-in.
    pub fn delivered(&self) -> usize {
        self.motion_frames + self.plan.settle
    }

    /// Time of a frame in the motion, s; before it during the lead-in.
    pub fn time(&self, frame: usize) -> f64 {
        (frame as f64 - self.plan.lead_in as f64) / self.plan.fps
    }

    /// The body in the pose that it comes from.
    pub fn at_start(&self) -> PosedBody {
        self.figure.stand(&self.start)
    }

    /// The body at a frame over the spot where it began, and its way over the floor, m.
    pub fn body_at(&self, frame: usize) -> (PosedBody, DVec3) {
        let lead = self.plan.lead_in;
        let skeleton = &self.figure.rig.skeleton;
        let time = (frame.max(lead) - lead) as f64 / self.plan.fps;
        // a skin that moves by itself stands in its first frame
        if let Some(moved) = self.motion.of_skin.then(|| self.figure.moved(time)).flatten() {
            return moved;
        }
        let key = self.motion.at(time);
        let rotations = skeleton.rotations(&key.pose);
        if frame >= lead {
            return (turned(self.figure.risen(&rotations, key.height), key.heading), way_of(&key));
        }
        let t = ((frame + 1) as f64 / (TAKING_UP * lead as f64)).min(1.0);
        let share = t * t * (3.0 - 2.0 * t);
        let height = key.height.map(|h| h * share);
        (turned(self.figure.risen(&blend(&self.start, &rotations, share), height), key.heading * share), way_of(&key) * share)
    }

    /// Pose, way and heading at a frame of the motion; those of its first during the lead-in.
    pub fn key_at(&self, frame: usize) -> MotionKey {
        self.motion.at(self.time(frame).max(0.0))
    }

    /// The sides of the props in their own frames, for showing: name, corners (m) and outward triangles.
    pub fn props(&self) -> Vec<(String, Vec<Vec3>, Vec<[u32; 3]>)> {
        let one = |p: &CourseProp| {
            let (corners, triangles) = p.prop.sides();
            (p.prop.name.clone(), corners, triangles)
        };
        self.props.iter().map(one).collect()
    }

    /// Where each prop is at a frame, m over the floor.
    pub fn props_at(&self, frame: usize) -> Vec<DAffine3> {
        let (posed, place) = self.body_at(frame);
        let rides = self.rides(&self.at_start().placed, &posed.placed);
        let whole = DAffine3::from_translation(place);
        let one = |(p, ride): (&CourseProp, Option<DAffine3>)| {
            let own = self.own_frame(p, self.time(frame));
            ride.map_or(own, |ride| whole * ride * own)
        };
        self.props.iter().zip(rides).map(one).collect()
    }

    /// Where a prop is by its keys alone, m.
    pub(super) fn own_frame(&self, prop: &CourseProp, time: f64) -> DAffine3 {
        DAffine3::from_translation(DVec3::Y * f64::from(self.ground)) * prop.prop.frame(time)
    }

    /// How the bones that props go with have moved from one stance to another; none for a prop that goes with none.
    pub(super) fn rides(&self, from: &[DAffine3], to: &[DAffine3]) -> Vec<Option<DAffine3>> {
        self.props.iter().map(|p| p.bone.map(|b| to[b] * from[b].inverse())).collect()
    }
}

fn way_of(key: &MotionKey) -> DVec3 {
    DVec3::new(key.way[0], 0.0, key.way[1])
}

/// A body turned where it stands, by degrees.
fn turned(mut posed: PosedBody, heading: f64) -> PosedBody {
    let turn = DQuat::from_rotation_y(heading.to_radians());
    for v in posed.surface.positions.iter_mut().chain(&mut posed.surface.normals) {
        *v = (turn * Vec3::from(*v).as_dvec3()).as_vec3().to_array();
    }
    for bone in &mut posed.placed {
        *bone = DAffine3::from_quat(turn) * *bone;
    }
    posed
}
