//! How many threads work on a drape. Two are faster on a free machine; where the browser draws with the same
//! processors, one is. The result is the same bit for bit, so the number may change from step to step.

use rayon::{ThreadPool, ThreadPoolBuilder};
use std::time::{Duration, Instant};

/// Steps between two trials of the other number, and steps of a trial.
const EVERY: u32 = 40;
const TRIAL: u32 = 4;
/// The other number must be this much faster to be taken.
const BETTER: f64 = 0.95;

/// One thread or all, whichever is faster at present.
pub(crate) struct Hands {
    pools: Vec<ThreadPool>,
    taken: usize,
    steps: u32,
    /// Time of the last steps of the taken number and of the one on trial.
    time: [Duration; 2],
}

impl Hands {
    pub fn new() -> Self {
        let all = std::thread::available_parallelism().map_or(1, usize::from);
        let counts = if all > 1 { vec![all.min(4), 1] } else { vec![1] };
        let pools = counts.into_iter().filter_map(|n| ThreadPoolBuilder::new().num_threads(n).build().ok()).collect();
        Self { pools, taken: 0, steps: 0, time: [Duration::ZERO; 2] }
    }

    /// Runs one step and returns how long it took.
    pub fn work(&mut self, step: impl FnOnce() + Send) -> Duration {
        let on_trial = self.steps >= EVERY;
        let pool = if on_trial { (self.taken + 1) % self.pools.len().max(1) } else { self.taken };
        let begun = Instant::now();
        match self.pools.get(pool) {
            Some(pool) => pool.install(step),
            None => step(),
        }
        let took = begun.elapsed();
        self.note(took);
        took
    }

    fn note(&mut self, took: Duration) {
        if self.steps >= EVERY - TRIAL {
            self.time[usize::from(self.steps >= EVERY)] += took;
        }
        self.steps += 1;
        if self.steps == EVERY + TRIAL {
            if self.time[1].as_secs_f64() < BETTER * self.time[0].as_secs_f64() {
                self.taken = (self.taken + 1) % self.pools.len().max(1);
            }
            self.steps = 0;
            self.time = [Duration::ZERO; 2];
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_faster_number_of_threads_is_taken_and_kept() {
        let mut hands = Hands::new();
        let slow = Duration::from_millis(20);
        let fast = Duration::from_millis(10);
        let round = |hands: &mut Hands, taken, other| (0..EVERY + TRIAL).for_each(|k| hands.note(if k < EVERY { taken } else { other }));
        round(&mut hands, slow, fast);
        let chosen = hands.taken;
        assert_eq!(chosen, 1 % hands.pools.len());
        round(&mut hands, fast, slow);
        assert_eq!(hands.taken, chosen, "a slower one is not taken");
        round(&mut hands, fast, fast);
        assert_eq!(hands.taken, chosen, "nor one that is as fast");
    }

    #[test]
    fn work_is_done_whichever_pool_does_it() {
        let mut hands = Hands::new();
        let mut sum = 0;
        for k in 0..100 {
            hands.work(|| sum += k);
        }
        assert_eq!(sum, 4950);
    }
}
