//! Air: drag of every triangle against the wind, linear in the velocity at the end of the step, and gusts.

use crate::elements::membrane::Element;
use glam::{Mat3A, Vec3A};

/// Drag along the cloth over drag across it.
const ALONG: f32 = 0.03;

/// Wind and weight, which may change while the cloth hangs.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Conditions {
    /// Times the earth's gravity.
    pub gravity: f32,
    /// Mass-proportional damping that is added, 1/s.
    pub calm: f32,
    /// Where the air goes and how fast, m/s.
    pub wind: [f32; 3],
    /// Share by which the wind swells and drops; 0 is steady.
    pub gusts: f32,
    /// Gusts of one seed are the same every time.
    pub seed: u32,
}

impl Default for Conditions {
    fn default() -> Self {
        Self { gravity: 1.0, calm: 0.0, wind: [0.0; 3], gusts: 0.0, seed: 1 }
    }
}

impl Conditions {
    /// Limits that keep a drape stable.
    pub(crate) fn within_limits(self) -> Self {
        let finite = |v: f32, low: f32, high: f32| if v.is_finite() { v.clamp(low, high) } else { low.max(0.0) };
        Self {
            gravity: finite(self.gravity, 0.0, 5.0),
            calm: finite(self.calm, -0.9, 30.0),
            wind: Vec3A::from_array(self.wind.map(|v| finite(v, -60.0, 60.0))).clamp_length_max(60.0).to_array(),
            gusts: finite(self.gusts, 0.0, 1.0),
            seed: self.seed,
        }
    }

    /// Whether the air never comes to rest.
    pub(crate) fn is_unsteady(&self) -> bool {
        self.gusts > 0.0 && self.wind != [0.0; 3]
    }

    /// The wind at a time: slow swells with faster ones on top, and a little to the sides.
    pub(crate) fn wind_at(&self, time: f64) -> Vec3A {
        let wind = Vec3A::from_array(self.wind);
        if self.gusts <= 0.0 {
            return wind;
        }
        let phase = |k: u32| {
            let mixed = self.seed.wrapping_mul(2_654_435_761).wrapping_add(k.wrapping_mul(40_503)) % 10_000;
            f64::from(mixed) * 1e-4 * std::f64::consts::TAU
        };
        let wave = |k: u32, rate: f64| (std::f64::consts::TAU * rate * time + phase(k)).sin();
        let swell = (0.55 * wave(1, 0.21) + 0.3 * wave(2, 0.57) + 0.15 * wave(3, 1.63)) as f32;
        let aside = (0.6 * wave(4, 0.13) + 0.4 * wave(5, 0.71)) as f32;
        let (sin, cos) = (0.35 * self.gusts * aside).sin_cos();
        let turned = Vec3A::new(wind.x * cos + wind.z * sin, wind.y, wind.z * cos - wind.x * sin);
        turned * (1.0 + self.gusts * swell)
    }
}

/// Drag matrix of a triangle that each of its corners has, N s/m, for the present shape and speed: the force on a corner is this times
/// wind less velocity.
pub(crate) fn drag(e: &Element, x: &[Vec3A], v: &[Vec3A], wind: Vec3A, density: f32) -> Mat3A {
    if density <= 0.0 {
        return Mat3A::ZERO;
    }
    let [a, b, c] = e.vertices.map(|i| x[i as usize]);
    let n = (b - a).cross(c - a).normalize_or_zero();
    let relative = e.vertices.iter().map(|&i| v[i as usize]).sum::<Vec3A>() / 3.0 - wind;
    let across = relative.dot(n);
    let along = (relative - n * across).length();
    let share = 0.5 * density * e.area / 3.0;
    let (normal, tangential) = (share * across.abs(), share * ALONG * along);
    let outer = Mat3A::from_cols(n * n.x, n * n.y, n * n.z);
    outer * (normal - tangential) + Mat3A::IDENTITY * tangential
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn gusts_keep_the_mean_and_come_back_with_their_seed() {
        let c = Conditions { wind: [3.0, 0.0, 4.0], gusts: 0.5, seed: 9, ..Conditions::default() };
        let speeds: Vec<f32> = (0..6000).map(|k| c.wind_at(f64::from(k) * 0.05).length()).collect();
        let mean = speeds.iter().sum::<f32>() / speeds.len() as f32;
        assert!((mean - 5.0).abs() < 0.1, "{mean}");
        assert!(speeds.iter().all(|s| (2.4..7.6).contains(s)));
        assert_eq!(c.wind_at(1.7), Conditions { ..c }.wind_at(1.7));
        assert!(c.wind_at(1.7).distance(Conditions { seed: 10, ..c }.wind_at(1.7)) > 0.01);
        assert_eq!(Conditions { gusts: 0.0, ..c }.wind_at(3.3).to_array(), c.wind);
    }
}
