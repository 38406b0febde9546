//! `ourlet lay`: the pieces of a costume, in one size or several, laid on cloth of a given width.

use crate::files::{read, write};
use crate::options::LayCommand;
use crate::output::say;
use crate::sizes::in_sizes;
use crate::wanted::length;
use std::process::ExitCode;
use workroom::{LayOptions, laying_plan, plan_svg};

pub fn run(options: &LayCommand) -> Result<ExitCode, String> {
    let costume = read(&options.file)?;
    let mut sizes = in_sizes(&costume, &options.bodies)?;
    if sizes.is_empty() {
        sizes.push((String::new(), costume));
    }
    let wanted =
        LayOptions { width: length(&options.width)?, gap: length(&options.gap)?, nap: options.nap, rounds: options.rounds as usize };
    let plans = laying_plan(&sizes, &wanted).map_err(|e| e.to_string())?;
    for plan in &plans {
        let (name, count) = (&plan.fabric, plan.pieces.len());
        say!(
            "{name:<24} {count:>3} pieces, {:>7.1} cm of cloth {:.0} cm wide, {:.1} % used, cut in {:.0} s",
            plan.length / 10.0,
            plan.width / 10.0,
            100.0 * plan.used,
            plan.way.seconds
        );
    }
    if let Some(out) = &options.out {
        write(out, plan_svg(&plans).as_bytes())?;
    }
    if let Some(report) = &options.report {
        write(report, serde_json::to_string_pretty(&plans).map_err(|e| e.to_string())?.as_bytes())?;
    }
    Ok(ExitCode::SUCCESS)
}
