//! The last seconds of a drape: moments to which it can be wound back.

use std::collections::VecDeque;

/// Time in the cloth from one moment to the next, s, and how many are kept: ten seconds.
const APART: f64 = 0.25;
const KEPT: usize = 40;

/// Moments of one mesh, the newest last.
#[derive(Default)]
pub struct Past {
    moments: VecDeque<Vec<[f32; 3]>>,
    /// Time in the cloth when the last was kept.
    kept_at: f64,
    /// The moment on the stand, counted from the oldest, after the drape was wound back.
    at: Option<usize>,
}

impl Past {
    /// Keeps a moment of a drape that goes on, if the last one is long enough ago. What lay after the moment that was wound back to is
    /// forgotten.
    pub fn keep(&mut self, time: f64, positions: impl FnOnce() -> Vec<[f32; 3]>) {
        if let Some(at) = self.at.take() {
            self.moments.truncate(at + 1);
            self.kept_at = time;
            return;
        }
        // a drape that was begun anew counts from 0 again
        if !self.moments.is_empty() && (time - self.kept_at).abs() < APART {
            return;
        }
        if self.moments.len() == KEPT {
            self.moments.pop_front();
        }
        self.moments.push_back(positions());
        self.kept_at = time;
    }

    /// Goes to a moment, counted back from the newest; none when there is no such one.
    pub fn back(&mut self, by: usize) -> Option<Vec<[f32; 3]>> {
        let at = self.moments.len().checked_sub(by + 1)?;
        self.at = Some(at);
        self.moments.get(at).cloned()
    }

    /// How many moments there are, and how many lie after the one on the stand.
    pub fn state(&self) -> (usize, usize) {
        (self.moments.len(), self.at.map_or(0, |at| self.moments.len() - 1 - at))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn ten_seconds_are_kept_and_going_on_from_a_moment_forgets_what_came_after() {
        let mut past = Past::default();
        for k in 0..1000 {
            past.keep(0.05 * f64::from(k), || vec![[k as f32, 0.0, 0.0]]);
        }
        assert_eq!(past.state(), (KEPT, 0));
        let newest = past.back(0).expect("the newest")[0][0];
        assert!((past.back(8).expect("two seconds ago")[0][0] - (newest - 40.0)).abs() < 1e-3, "0.05 s each");
        assert_eq!(past.state(), (KEPT, 8));
        assert!(past.back(KEPT).is_none());
        past.back(8);
        past.keep(0.0, || vec![[7.0; 3]]);
        assert_eq!(past.state(), (KEPT - 8, 0));
        past.keep(0.3, || vec![[8.0; 3]]);
        assert_eq!((past.state(), past.back(0)), ((KEPT - 7, 0), Some(vec![[8.0; 3]])));
    }
}
