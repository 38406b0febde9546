//! Additive continuous collision detection (Li et al., Codimensional Incremental Potential Contact, 2021, section 3.4).

use glam::DVec3;

/// Share of the present distance that must remain.
const KEEP: f64 = 0.2;

/// Distance that is left in any case where it was there before, m: positions in metres are rounded to a tenth of it, and what is
/// pressed together step by step would come so near that rounding takes it through.
pub(crate) const FLOOR: f64 = 2e-6;
/// Share of a distance below the floor that must remain.
const KEEP_LEAST: f64 = 0.9999;

/// The largest share (0 to 1) of the displacements after which at least [`KEEP`] of the distance is left, and `floor` (m) where there
/// was so much.
/// `split` says how many of the four vertices belong to the first feature.
pub(crate) fn time_of_impact(
    mut x: [DVec3; 4],
    mut moves: [DVec3; 4],
    (split, floor): (usize, f64),
    distance: impl Fn([DVec3; 4]) -> f64,
) -> f64 {
    let mean = (moves[0] + moves[1] + moves[2] + moves[3]) * 0.25;
    for m in &mut moves {
        *m -= mean;
    }
    let longest = |m: &[DVec3]| m.iter().map(|m| m.length()).fold(0.0, f64::max);
    let approach = longest(&moves[..split]) + longest(&moves[split..]);
    let mut d = distance(x);
    let gap = (KEEP * d).max(floor.min(KEEP_LEAST * d));
    if approach <= d - gap || d <= 0.0 {
        return 1.0;
    }
    let mut share = 0.0;
    let mut step = (d - gap) / approach;
    for _ in 0..200 {
        for k in 0..4 {
            x[k] += moves[k] * step;
        }
        d = distance(x);
        if share > 0.0 && d < gap {
            break;
        }
        share += step;
        if share >= 1.0 {
            return 1.0;
        }
        step = 0.9 * d / approach;
        if step < 1e-6 {
            break;
        }
    }
    share
}

#[cfg(test)]
mod tests {
    use super::super::closest::{edge_edge, vertex_triangle};
    use super::*;
    use proptest::prelude::*;

    fn vectors(v: [f64; 12]) -> [DVec3; 4] {
        [0, 3, 6, 9].map(|k| DVec3::new(v[k], v[k + 1], v[k + 2]))
    }

    fn after(x: [DVec3; 4], moves: [DVec3; 4], share: f64) -> [DVec3; 4] {
        [0, 1, 2, 3].map(|k| x[k] + moves[k] * share)
    }

    proptest! {
        #[test]
        fn features_never_meet_on_the_safe_part_of_their_way(x in prop::array::uniform12(-1.0..1.0f64), m in prop::array::uniform12(-2.0..2.0f64), edges: bool) {
            let (x, m) = (vectors(x), vectors(m));
            let distance = |x: [DVec3; 4]| if edges { edge_edge(x).vector.length() } else { vertex_triangle(x).vector.length() };
            let start = distance(x);
            prop_assume!(start > 1e-3);
            let share = time_of_impact(x, m, (if edges { 2 } else { 1 }, 0.0), distance);
            prop_assert!((0.0..=1.0).contains(&share));
            for k in 0..=200 {
                let d = distance(after(x, m, share * f64::from(k) / 200.0));
                prop_assert!(d > 0.5 * KEEP * start, "{d} of {start} is left");
            }
        }

        #[test]
        fn moving_together_is_always_safe(x in prop::array::uniform12(-1.0..1.0f64), m in prop::array::uniform3(-50.0..50.0f64)) {
            let together = [DVec3::from_array(m); 4];
            prop_assert_eq!(time_of_impact(vectors(x), together, (1, FLOOR), |x| vertex_triangle(x).vector.length()), 1.0);
        }
    }

    #[test]
    fn what_is_pressed_again_and_again_stays_apart_by_more_than_rounding() {
        let x = |height: f64| vectors([0.2, 0.2, height, 0., 0., 0., 1., 0., 0., 0., 1., 0.]);
        let moves = [DVec3::new(0.0, 0.0, -1e-3), DVec3::ZERO, DVec3::ZERO, DVec3::ZERO];
        let distance = |x: [DVec3; 4]| vertex_triangle(x).vector.length();
        let mut height = 1e-2;
        for _ in 0..100 {
            height -= 1e-3 * time_of_impact(x(height), moves, (1, FLOOR), distance);
        }
        assert!(height > 0.5 * FLOOR, "{height}");
        // and it may leave from there at once
        let away = moves.map(|m| -m);
        assert_eq!(time_of_impact(x(height), away, (1, FLOOR), distance), 1.0);
    }

    #[test]
    fn a_vertex_stops_short_of_the_triangle_it_flies_at() {
        let x = vectors([0.2, 0.2, 1.0, 0., 0., 0., 1., 0., 0., 0., 1., 0.]);
        let moves = [DVec3::new(0.0, 0.0, -2.0), DVec3::ZERO, DVec3::ZERO, DVec3::ZERO];
        let share = time_of_impact(x, moves, (1, FLOOR), |x| vertex_triangle(x).vector.length());
        let left = 1.0 - 2.0 * share;
        assert!(left > 0.1 && left < 0.3, "{left} of the way is left, {KEEP} was to be kept");
    }
}
