//! Motions of a skin, sampled at a fixed rate: stepped, linear and cubic tracks as the standard defines them.
//!
//! Times are seconds. Tracks of the bones and of all nodes above them count; scale and morph tracks are told as left
//! out. A node without a track keeps its place. The rate is the same for all motions of a file; their length,
//! and bones times frames of all together, are limited.

use super::Buffers;
use super::accessor::{of_kind, rows};
use super::joints::Joints;
use super::nodes::Tree;
use crate::Clip;
use crate::reading::budget::{Budget, at_most};
use crate::reading::left_out::{LeftOut, LeftOuts};
use crate::reading::{ReadFault, damaged, figure_limits};
use glam::{DAffine3, DQuat, DVec3, DVec4};
use gltf::accessor::{DataType, Dimensions};
use gltf::animation::{Channel, Interpolation, Property};
use gltf::{Animation, Document};

/// Frames in a second that a motion is read with.
const RATE: f64 = 30.0;
/// Longest motion that is read whole, s.
const LONGEST: usize = 100;

/// All animations that move joints, sampled at a steady rate.
pub(super) fn clips(
    document: &Document,
    joints: &Joints,
    tree: &Tree,
    buffers: &Buffers,
    budget: &mut Budget,
    left_out: &mut LeftOuts,
) -> Result<Vec<Clip>, ReadFault> {
    at_most("motions", document.animations().count(), figure_limits::MOTIONS)?;
    let needed = needed(joints, tree);
    let mut clips = Vec::new();
    for animation in document.animations() {
        let mut tracks = Vec::new();
        for channel in animation.channels() {
            match channel.target().property() {
                Property::Scale => drop(left_out.insert(LeftOut::ScaledBones)),
                Property::MorphTargetWeights => drop(left_out.insert(LeftOut::Morphs)),
                _ => tracks.push(Track::new(&channel, buffers, budget)?),
            }
        }
        tracks.retain(|t| needed.contains(&t.node));
        if !tracks.is_empty() {
            clips.push(clip(&animation, &tracks, joints, (tree, &needed), budget, left_out)?);
        }
    }
    Ok(clips)
}

/// Bones and all nodes above them, parents first.
fn needed(joints: &Joints, tree: &Tree) -> Vec<usize> {
    let mut found: Vec<usize> = Vec::new();
    let mut has = vec![false; tree.parents.len()];
    for bone in &joints.nodes {
        let mut chain: Vec<usize> = std::iter::successors(Some(*bone), |k| tree.parents[*k]).take_while(|k| !has[*k]).collect();
        chain.iter().for_each(|k| has[*k] = true);
        chain.reverse();
        found.extend(chain);
    }
    found
}

/// One animation; none when it moves no joint of the skin.
fn clip(
    animation: &Animation,
    tracks: &[Track],
    joints: &Joints,
    (tree, needed): (&Tree, &[usize]),
    budget: &mut Budget,
    left_out: &mut LeftOuts,
) -> Result<Clip, ReadFault> {
    let end = tracks.iter().filter_map(|t| t.times.last()).fold(0.0f64, |a, b| a.max(*b));
    if end > LONGEST as f64 {
        left_out.insert(LeftOut::LongMotion(LONGEST));
    }
    let frames = (end.min(LONGEST as f64) * RATE).round() as usize + 1;
    budget.bone_frames(frames * needed.len())?;
    let name = animation.name().unwrap_or("motion").chars().filter(|c| !c.is_control()).take(60).collect();
    let mut clip = Clip { name, rotations: vec![Vec::new(); joints.nodes.len()], ..Clip::default() };
    let mut of_node: Vec<Vec<&Track>> = vec![Vec::new(); tree.parents.len()];
    tracks.iter().for_each(|t| of_node[t.node].push(t));
    let mut world = vec![DAffine3::IDENTITY; tree.parents.len()];
    for frame in 0..frames {
        let time = frame as f64 / RATE;
        for &k in needed {
            let local = of_node[k].iter().fold(tree.locals[k], |local, track| track.apply(&local, time));
            world[k] = tree.parents[k].map_or(local, |p| world[p] * local);
        }
        let now: Vec<DAffine3> = joints.nodes.iter().map(|k| world[*k]).collect();
        clip.seconds.push(time as f32);
        clip.rotations.iter_mut().zip(joints.turned(&now)).for_each(|(row, q)| row.push(q));
        clip.root.push(now.first().map_or([0.0; 3], |m| m.translation.as_vec3().to_array()));
    }
    if clip.root.iter().flatten().all(|v| v.is_finite()) { Ok(clip) } else { Err(damaged("a motion that leaves all bounds")) }
}

/// What a channel moves, by key.
enum Values {
    Places(Vec<DVec3>),
    Rotations(Vec<DVec4>),
}

/// One channel. Cubic tracks hold three values for every time: the tangent before, the value, the tangent after.
struct Track {
    node: usize,
    times: Vec<f64>,
    values: Values,
    way: Interpolation,
}

impl Track {
    /// Reads a channel with its times and its way of interpolation.
    fn new(channel: &Channel, buffers: &Buffers, budget: &mut Budget) -> Result<Self, ReadFault> {
        let sampler = channel.sampler();
        of_kind(&sampler.input(), "times of a motion", &[DataType::F32])?;
        let times: Vec<f64> = rows::<1>(&sampler.input(), Dimensions::Scalar, buffers, budget)?.into_iter().map(|[t]| t).collect();
        if times.is_empty() || times[0] < 0.0 || times.windows(2).any(|w| w[1] <= w[0]) {
            return Err(damaged("times of a motion that do not grow from 0 on"));
        }
        let output = sampler.output();
        let values = if channel.target().property() == Property::Translation {
            of_kind(&output, "places of a motion", &[DataType::F32])?;
            Values::Places(rows::<3>(&output, Dimensions::Vec3, buffers, budget)?.into_iter().map(DVec3::from).collect())
        } else {
            let kinds = [DataType::F32, DataType::I8, DataType::U8, DataType::I16, DataType::U16];
            of_kind(&output, "rotations of a motion", &kinds)?;
            Values::Rotations(rows::<4>(&output, Dimensions::Vec4, buffers, budget)?.into_iter().map(DVec4::from).collect())
        };
        let each = if sampler.interpolation() == Interpolation::CubicSpline { 3 } else { 1 };
        let count = match &values {
            Values::Places(v) => v.len(),
            Values::Rotations(v) => v.len(),
        };
        if count != each * times.len() {
            return Err(damaged(format!("a motion of {} times and {count} values", times.len())));
        }
        Ok(Self { node: channel.target().node().index(), times, values, way: sampler.interpolation() })
    }

    /// The local transform of its node with this channel's value of the time.
    fn apply(&self, local: &DAffine3, time: f64) -> DAffine3 {
        let (scale, rotation, at) = local.to_scale_rotation_translation();
        match &self.values {
            Values::Places(v) => DAffine3::from_scale_rotation_translation(scale, rotation, self.value(v, time, |a, b, s| a + (b - a) * s)),
            Values::Rotations(v) => {
                let slerp = |a: DVec4, b: DVec4, s: f64| DVec4::from(unit(a).slerp(unit(b), s));
                DAffine3::from_scale_rotation_translation(scale, unit(self.value(v, time, slerp)), at)
            }
        }
    }

    /// The value at a time in seconds: held, mixed or by cubic spline, as the file says.
    fn value<V>(&self, values: &[V], time: f64, between: impl Fn(V, V, f64) -> V) -> V
    where
        V: Copy + std::ops::Add<Output = V> + std::ops::Mul<f64, Output = V>,
    {
        let cubic = self.way == Interpolation::CubicSpline;
        let key = |k: usize| if cubic { values[3 * k + 1] } else { values[k] };
        let after = self.times.partition_point(|t| *t <= time);
        if after == 0 || after == self.times.len() {
            return key(after.saturating_sub(1));
        }
        let (k, step) = (after - 1, self.times[after] - self.times[after - 1]);
        let s = (time - self.times[k]) / step;
        match self.way {
            Interpolation::Step => key(k),
            Interpolation::Linear => between(key(k), key(after), s),
            Interpolation::CubicSpline => {
                let (s2, s3) = (s * s, s * s * s);
                key(k) * (2.0 * s3 - 3.0 * s2 + 1.0)
                    + values[3 * k + 2] * (step * (s3 - 2.0 * s2 + s))
                    + key(after) * (3.0 * s2 - 2.0 * s3)
                    + values[3 * after] * (step * (s3 - s2))
            }
        }
    }
}

/// A rotation from four numbers of any length.
fn unit(v: DVec4) -> DQuat {
    if v.length_squared() > 1e-12 { DQuat::from_vec4(v.normalize()) } else { DQuat::IDENTITY }
}
