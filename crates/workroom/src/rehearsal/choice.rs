//! Which motion is rehearsed: one that ships, poses in a row, or one that came with the figure.

use super::body_motion::{BodyMotion, MotionFile, MotionKey};
use super::library::motion_on;
use body::Body;
use costume::Refusal;
use serde::{Deserialize, Serialize};
use ts_rs::TS;

/// Frames a second of motions that came with a figure, which are read at this rate.
const CLIP_FPS: f64 = 30.0;

/// A motion as it is asked for.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, TS)]
#[serde(rename_all = "kebab-case")]
pub enum MotionChoice {
    /// One that ships, by its key.
    Named(String),
    /// Poses in a row, as in a motion file.
    Poses(#[ts(type = "unknown")] Box<MotionFile>),
    /// One of its bones that came with the figure, by its number.
    Clip(usize),
    /// The one that the figure's skin came with.
    Skin,
}

impl MotionChoice {
    /// The motion for a figure. Refused when there is none like it.
    pub fn on(self, figure: &Body) -> Result<BodyMotion, Refusal> {
        match self {
            Self::Named(key) => motion_on(&key, figure).ok_or_else(|| Refusal::elsewhere(key, "is no motion", "choose one of the list")),
            Self::Poses(file) => (*file).try_into(),
            Self::Clip(number) => clip(figure, number),
            Self::Skin => BodyMotion::of_skin(figure),
        }
    }
}

fn clip(figure: &Body, number: usize) -> Result<BodyMotion, Refusal> {
    let clip =
        figure.clips.get(number).ok_or_else(|| Refusal::elsewhere("motion", "did not come with this figure", "choose another one"))?;
    let key = |(k, rotations): (usize, &Vec<glam::DQuat>)| {
        let root = clip.root.get(k);
        MotionKey {
            time: k as f64 / CLIP_FPS,
            pose: figure.rig.skeleton.pose_of(rotations),
            way: root.map_or([0.0; 2], |at| [at.x, at.z]),
            heading: 0.0,
            height: root.map(|at| at.y),
        }
    };
    let name: String = clip.name.chars().filter(|c| !c.is_control()).take(costume::limits::NAME).collect();
    let name = if name.trim().is_empty() { format!("Motion {}", number + 1) } else { name };
    let mut motion = BodyMotion::new(name, clip.frames.iter().enumerate().map(key).collect())?;
    motion.authored = true;
    Ok(motion)
}
