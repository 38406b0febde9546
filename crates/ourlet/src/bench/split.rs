//! Time by stage of the simulator's step.

use cloth::Stage;
use std::collections::BTreeMap;
use std::time::Instant;

pub struct Split {
    spent: BTreeMap<Stage, f64>,
    present: Option<Stage>,
    since: Instant,
}

impl Split {
    pub fn new() -> Self {
        Self { spent: BTreeMap::new(), present: None, since: Instant::now() }
    }

    pub fn begin(&mut self, stage: Stage) {
        if let Some(present) = self.present.replace(stage) {
            *self.spent.entry(present).or_default() += self.since.elapsed().as_secs_f64();
        }
        self.since = Instant::now();
    }

    /// Share of the time by stage, in the order of a step.
    pub fn percent(&self) -> BTreeMap<&'static str, f64> {
        let all: f64 = self.spent.values().sum();
        Stage::ALL.into_iter().map(|s| (stage_name(s), 100.0 * self.spent.get(&s).copied().unwrap_or(0.0) / all.max(1e-9))).collect()
    }
}

pub fn stage_name(stage: Stage) -> &'static str {
    match stage {
        Stage::Assembly => "assembly",
        Stage::Search => "search",
        Stage::Contacts => "contacts",
        Stage::Coarse => "coarse",
        Stage::Solve => "solve",
        Stage::Guard => "guard",
        Stage::Rest => "rest",
    }
}
