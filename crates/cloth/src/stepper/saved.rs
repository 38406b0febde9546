//! A drape in the middle of its way, as values from which it goes on.

use crate::scene::{Scene, SceneFault};
use crate::stepper::drape::Drape;
use crate::stepper::parts::Phase;
use glam::Vec3A;

/// What the next steps of a drape depend on besides its scene, its pace and what is set anew at every step (body, air). What
/// is only found again, such as near pairs, is not part of it: a drape that is saved and one that goes on without are
/// therefore alike, not equal bit for bit. Two that go on from the same values are.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct SavedDrape {
    /// m.
    pub positions: Vec<[f32; 3]>,
    /// m/s.
    pub velocities: Vec<[f32; 3]>,
    /// By seam pair.
    pub fused: Vec<bool>,
    /// Vertices held in space.
    pub pinned: Vec<u32>,
    /// Heights of stays, m.
    pub levels: Vec<f32>,
    /// Of what is held to the skin: its distance and its spot there, m.
    pub holds: Vec<(Option<f32>, Option<[f32; 3]>)>,
    /// N/m.
    pub seam_stiffness: f32,
    /// Whether gathers are drawn up.
    pub gathered: bool,
    /// 0 closing, 1 falling, 2 at rest.
    pub phase: u8,
    /// Steps since the start; at the beginning of closing; when no cloth was last seen to cross.
    pub steps: [u64; 3],
    /// Steps of free movement, and quiet ones.
    pub calm: [u32; 2],
}

impl Drape {
    /// The values from which [`Drape::resume`] goes on.
    pub fn save(&self) -> SavedDrape {
        let plain = |all: &[Vec3A]| all.iter().map(Vec3A::to_array).collect();
        SavedDrape {
            positions: plain(&self.state.x),
            velocities: plain(&self.state.v),
            fused: self.constraints.seams.fused.clone(),
            pinned: (0..self.state.x.len() as u32).filter(|&i| self.constraints.pinned[i as usize]).collect(),
            levels: self.constraints.levels.iter().map(|l| l.height).collect(),
            holds: self.constraints.skin_held.iter().map(|h| h.found()).collect(),
            seam_stiffness: self.constraints.seam_stiffness,
            gathered: self.constraints.gathers.are_drawn(),
            phase: match self.state.phase {
                Phase::Closing => 0,
                Phase::Falling => 1,
                Phase::AtRest => 2,
            },
            steps: [self.state.steps, self.state.closing_since, self.meeting.tangled_since],
            calm: [self.state.free_steps, self.rest.quiet_steps],
        }
    }

    /// Goes on from saved values of the same scene; refused when they are of another one.
    pub fn resume(scene: Scene, saved: &SavedDrape) -> Result<Self, SceneFault> {
        let n = scene.positions.len();
        let fits = saved.positions.len() == n && saved.velocities.len() == n && saved.fused.len() == scene.pairs.len();
        if !fits || saved.pinned.iter().any(|v| *v as usize >= n) {
            return Err(SceneFault::Index);
        }
        if let Some(i) = saved.velocities.iter().position(|v| !Vec3A::from_array(*v).is_finite()) {
            return Err(SceneFault::NotFinite(i));
        }
        let mut drape = Self::new(Scene { positions: saved.positions.clone(), ..scene })?;
        if saved.levels.len() != drape.constraints.levels.len() || saved.holds.len() != drape.constraints.skin_held.len() {
            return Err(SceneFault::Index);
        }
        drape.constraints.seams.fused.clone_from(&saved.fused);
        drape.state.root = drape.fused_roots();
        for (to, from) in [(&mut drape.state.x, &saved.positions), (&mut drape.state.v, &saved.velocities)] {
            *to = from.iter().map(|v| Vec3A::from_array(*v)).collect();
        }
        drape.constraints.pinned.fill(false);
        saved.pinned.iter().for_each(|v| drape.constraints.pinned[*v as usize] = true);
        drape.constraints.levels.iter_mut().zip(&saved.levels).for_each(|(level, height)| level.height = *height);
        drape.constraints.skin_held.iter_mut().zip(&saved.holds).for_each(|(held, found)| held.find(*found));
        drape.constraints.seam_stiffness = saved.seam_stiffness;
        if saved.gathered {
            drape.constraints.gathers.finish(&drape.scene, &mut drape.model.elements);
        }
        drape.state.phase = match saved.phase {
            0 => Phase::Closing,
            1 => Phase::Falling,
            _ => Phase::AtRest,
        };
        [drape.state.steps, drape.state.closing_since, drape.meeting.tangled_since] = saved.steps;
        [drape.state.free_steps, drape.rest.quiet_steps] = saved.calm;
        drape.rest.before.clone_from(&drape.state.x);
        drape.connect();
        Ok(drape)
    }
}
