//! A body that goes from one pose to another while cloth hangs on it, frame by frame.

use crate::contact;
use crate::form::{pose, pose_refusal};
use body::{Body, PosedBody, blend};
use cloth::{BodyShape, Motion};
use costume::{BodyChoice, Refusal};
use glam::{DAffine3, DQuat, DVec3};
use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

/// Steps of the simulation in a frame.
pub const STEPS_A_FRAME: usize = 2;
/// Farthest that a point of the skin goes in a frame, m; fewest and most frames.
const FARTHEST: f64 = 0.008;
const FRAMES: std::ops::RangeInclusive<usize> = 12..=400;

/// The way from one pose to another.
pub struct PoseMotion {
    figure: Arc<Body>,
    choice: BodyChoice,
    out: BTreeSet<String>,
    from: Vec<DQuat>,
    to: Vec<DQuat>,
    placed: Vec<DAffine3>,
    next: usize,
    frames: usize,
}

impl PoseMotion {
    /// From the pose of `before` to that of `choice`; both must be within the limits of the joints. `frames` are as many
    /// as the farthest way of the skin needs, or more when asked for.
    pub fn new(figure: Arc<Body>, before: &BodyChoice, choice: &BodyChoice, out: BTreeSet<String>, frames: usize) -> Result<Self, Refusal> {
        let from = rotations(&figure, before)?;
        Self::starting(figure, from, choice, out, frames)
    }

    /// From where the body is now to another pose.
    pub fn onwards(&self, choice: &BodyChoice, out: BTreeSet<String>) -> Result<Self, Refusal> {
        Self::starting(self.figure.clone(), self.present(), choice, out, 0)
    }

    fn starting(figure: Arc<Body>, from: Vec<DQuat>, choice: &BodyChoice, out: BTreeSet<String>, frames: usize) -> Result<Self, Refusal> {
        let to = rotations(&figure, choice)?;
        let halfway = figure.stand(&blend(&from, &to, 0.5));
        let (first, last) = (figure.stand(&from), figure.stand(&to));
        let way = farthest(&first, &halfway) + farthest(&halfway, &last);
        let needed = (1.6 * way / FARTHEST).ceil() as usize;
        let frames = needed.max(frames).clamp(*FRAMES.start(), *FRAMES.end());
        Ok(Self { placed: first.placed, figure, choice: choice.clone(), out, from, to, next: 0, frames })
    }

    /// On the way again from the pose `from`, with `done` of its `frames` behind it, and the body as it is there.
    pub fn resumed(
        figure: Arc<Body>,
        from: &BTreeMap<String, [f64; 3]>,
        choice: &BodyChoice,
        out: BTreeSet<String>,
        (frames, done): (usize, usize),
    ) -> Result<(Self, BodyShape), Refusal> {
        let skeleton = &figure.rig.skeleton;
        if let Some(bone) = from.keys().find(|bone| skeleton.index(bone).is_none()) {
            return Err(Refusal::elsewhere("pose", format!("has no bone `{bone}`"), "choose a pose made for this figure"));
        }
        let (from, to) = (skeleton.rotations(&body::Pose { bones: from.clone() }), rotations(&figure, choice)?);
        let frames = frames.clamp(*FRAMES.start(), *FRAMES.end());
        let placed = figure.stand(&from).placed;
        let mut motion = Self { figure, choice: choice.clone(), out, from, to, placed, next: done.min(frames), frames };
        let posed = motion.figure.stand(&motion.present());
        let skin = contact::skin(&motion.figure, &posed, choice, &motion.out, true);
        motion.placed = posed.placed;
        Ok((motion, skin.shape))
    }

    /// Cloth passes through these parts from now on.
    pub fn leave_out(&mut self, out: BTreeSet<String>) {
        self.out = out;
    }

    /// Frames that are behind it.
    pub fn done(&self) -> usize {
        self.next
    }

    fn present(&self) -> Vec<DQuat> {
        blend(&self.from, &self.to, self.share())
    }

    /// The pose it starts from, degrees by bone.
    pub fn start(&self) -> BTreeMap<String, [f64; 3]> {
        let bones = self.figure.rig.skeleton.bones.iter().zip(&self.from);
        bones.map(|(bone, q)| (bone.name.clone(), bone.angles(*q))).filter(|(_, a)| a.iter().any(|v| v.abs() > 1e-6)).collect()
    }

    /// Frames of the whole way.
    pub fn frames(&self) -> usize {
        self.frames
    }

    /// How much of the way is done, 0 to 1.
    pub fn share(&self) -> f64 {
        ease(self.next as f64 / self.frames as f64)
    }

    /// The body of the next frame, `seconds` after the last one; none when it has arrived.
    pub fn advance(&mut self, seconds: f64) -> Option<BodyShape> {
        if self.next >= self.frames {
            return None;
        }
        self.next += 1;
        let posed = self.figure.stand(&self.present());
        let skin = contact::skin(&self.figure, &posed, &self.choice, &self.out, true);
        let bones = self.figure.rig.skeleton.bones.iter();
        let moved: Vec<Motion> =
            bones.zip(self.placed.iter().zip(&posed.placed)).map(|(bone, (a, b))| velocity(a, b, bone.joint, seconds)).collect();
        let carried = contact::carriers(&self.figure, &self.choice).into_iter().map(|b| b.map_or(Motion::default(), |b| moved[b]));
        let motion: Vec<Motion> = std::iter::once(Motion::default()).chain(moved.iter().copied().take(254)).chain(carried).collect();
        self.placed = posed.placed;
        Some(skin.moving(motion))
    }
}

fn rotations(figure: &Body, choice: &BodyChoice) -> Result<Vec<DQuat>, Refusal> {
    let (pose, skeleton) = (pose(choice), &figure.rig.skeleton);
    pose.check(skeleton).map_err(pose_refusal)?;
    Ok(skeleton.rotations(&pose))
}

/// Slow at both ends.
fn ease(t: f64) -> f64 {
    t * t * (3.0 - 2.0 * t)
}

fn farthest(a: &PosedBody, b: &PosedBody) -> f64 {
    let way = |(p, q): (&[f32; 3], &[f32; 3])| (0..3).map(|k| f64::from(p[k] - q[k]).powi(2)).sum::<f64>();
    a.surface.positions.iter().zip(&b.surface.positions).map(way).fold(0.0, f64::max).sqrt()
}

/// The rigid velocity that takes a bone from one place to another.
pub(crate) fn velocity(before: &DAffine3, now: &DAffine3, joint: DVec3, seconds: f64) -> Motion {
    let turn = |m: &DAffine3| m.to_scale_rotation_translation().1;
    let mut way = turn(now) * turn(before).inverse();
    if way.w < 0.0 {
        way = -way;
    }
    let angular = way.to_scaled_axis() / seconds;
    let (from, to) = (before.transform_point3(joint), now.transform_point3(joint));
    let linear = (to - from) / seconds - angular.cross(to);
    Motion { linear: linear.as_vec3().to_array(), angular: angular.as_vec3().to_array() }
}
