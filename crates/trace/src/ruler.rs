//! The ticks of a ruler in a picture, along a line that was laid over them.

use crate::Grey;
use crate::paper::ink_depth;

/// Steps along the line, px.
const STEP: f64 = 0.25;
/// Fewest ticks that make a ruler.
const FEWEST: usize = 6;

/// Evenly spaced strokes along a line.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Ticks {
    /// How many were found.
    pub count: usize,
    /// From tick to tick, px.
    pub spacing: f64,
    /// Farthest that a tick is from its even place, px.
    pub off: f64,
}

/// The ticks that a line from one place to another crosses, px; none when it crosses no even ones.
pub fn ticks(picture: &Grey, from: [f64; 2], to: [f64; 2]) -> Option<Ticks> {
    let length = (to[0] - from[0]).hypot(to[1] - from[1]);
    let inside = |p: [f64; 2]| p[0] >= 0.0 && p[1] >= 0.0 && p[0] <= picture.width() as f64 && p[1] <= picture.height() as f64;
    if !(length > 8.0 && inside(from) && inside(to)) {
        return None;
    }
    // the paper's grey is taken from wide blocks, so that close ticks leave some paper in each
    let depth = ink_depth(picture, 6.0);
    let at = |t: f64| [from[0] + t / length * (to[0] - from[0]), from[1] + t / length * (to[1] - from[1])];
    let profile: Vec<f64> = (0..(length / STEP) as usize).map(|k| depth.at(at(k as f64 * STEP))).collect();
    let deepest = profile.iter().copied().fold(0.0, f64::max);
    if deepest < 12.0 {
        return None;
    }
    even(&middles(&profile, 0.5 * deepest))
}

/// Middles of the dark runs of a profile, px along the line.
fn middles(profile: &[f64], least: f64) -> Vec<f64> {
    let mut found = Vec::new();
    let mut run: Option<(f64, f64)> = None;
    for (k, d) in profile.iter().enumerate() {
        if *d >= least {
            let (sum, weight) = run.unwrap_or_default();
            run = Some((sum + d * k as f64, weight + d));
        } else if let Some((sum, weight)) = run.take() {
            found.push(STEP * sum / weight);
        }
    }
    found
}

/// The even spacing of places, when they have one; ticks that were not seen are counted along.
fn even(places: &[f64]) -> Option<Ticks> {
    if places.len() < FEWEST {
        return None;
    }
    let mut gaps: Vec<f64> = places.windows(2).map(|w| w[1] - w[0]).collect();
    gaps.sort_by(f64::total_cmp);
    let mut spacing = gaps[gaps.len() / 2];
    let mut off = f64::MAX;
    for _ in 0..4 {
        // numbers of the ticks counted on from the one before, so that small errors do not add up
        let mut number = 0.0;
        let numbers: Vec<f64> = std::iter::once(0.0)
            .chain(places.windows(2).map(|w| {
                number += ((w[1] - w[0]) / spacing).round();
                number
            }))
            .collect();
        let n = places.len() as f64;
        let (mean_k, mean_p) = (numbers.iter().sum::<f64>() / n, places.iter().sum::<f64>() / n);
        let above: f64 = numbers.iter().zip(places).map(|(k, p)| (k - mean_k) * (p - mean_p)).sum();
        let below: f64 = numbers.iter().map(|k| (k - mean_k).powi(2)).sum();
        if below <= 0.0 {
            return None;
        }
        spacing = above / below;
        off = numbers.iter().zip(places).map(|(k, p)| (p - mean_p - spacing * (k - mean_k)).abs()).fold(0.0, f64::max);
    }
    (spacing > 1.5 && off < 0.25 * spacing).then_some(Ticks { count: places.len(), spacing, off })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn even_ticks_are_found_to_a_hundredth_of_their_spacing_and_uneven_ones_not() {
        let places: Vec<f64> =
            (0..40).filter(|k| k % 9 != 4).map(|k| 11.0 + 5.906 * f64::from(k) + 0.2 * (f64::from(k) * 1.7).sin()).collect();
        let found = even(&places).expect("found");
        assert!((found.spacing / 5.906 - 1.0).abs() < 0.01, "{found:?}");
        assert_eq!(found.count, places.len());
        let uneven: Vec<f64> = (0..30).map(|k| f64::from(k * k) * 0.7 + f64::from(k) * 3.0).collect();
        assert_eq!(even(&uneven), None);
        assert_eq!(even(&places[..4]), None);
    }
}
