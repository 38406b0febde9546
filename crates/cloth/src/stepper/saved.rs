//! A drape in the middle of its way, as values from which it goes on.

use crate::scene::{Scene, SceneFault};
use crate::stepper::drape::{Drape, Phase};
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
            positions: plain(&self.x),
            velocities: plain(&self.v),
            fused: self.seams.fused.clone(),
            pinned: (0..self.x.len() as u32).filter(|&i| self.pinned[i as usize]).collect(),
            levels: self.levels.iter().map(|l| l.height).collect(),
            holds: self.skin_held.iter().map(|h| h.found()).collect(),
            seam_stiffness: self.seam_stiffness,
            gathered: self.gathers.are_drawn(),
            phase: match self.phase {
                Phase::Closing => 0,
                Phase::Falling => 1,
                Phase::AtRest => 2,
            },
            steps: [self.steps, self.closing_since, self.tangled_since],
            calm: [self.free_steps, self.quiet_steps],
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
        if saved.levels.len() != drape.levels.len() || saved.holds.len() != drape.skin_held.len() {
            return Err(SceneFault::Index);
        }
        drape.seams.fused.clone_from(&saved.fused);
        drape.root = drape.fused_roots();
        for (to, from) in [(&mut drape.x, &saved.positions), (&mut drape.v, &saved.velocities)] {
            *to = from.iter().map(|v| Vec3A::from_array(*v)).collect();
        }
        drape.pinned.fill(false);
        saved.pinned.iter().for_each(|v| drape.pinned[*v as usize] = true);
        drape.levels.iter_mut().zip(&saved.levels).for_each(|(level, height)| level.height = *height);
        drape.skin_held.iter_mut().zip(&saved.holds).for_each(|(held, found)| held.find(*found));
        drape.seam_stiffness = saved.seam_stiffness;
        if saved.gathered {
            drape.gathers.finish(&drape.scene, &mut drape.elements);
        }
        drape.phase = match saved.phase {
            0 => Phase::Closing,
            1 => Phase::Falling,
            _ => Phase::AtRest,
        };
        [drape.steps, drape.closing_since, drape.tangled_since] = saved.steps;
        [drape.free_steps, drape.quiet_steps] = saved.calm;
        drape.before.clone_from(&drape.x);
        drape.connect();
        Ok(drape)
    }
}
