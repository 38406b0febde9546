//! `ourlet lay`: the pieces of a costume, in one size or several, laid on cloth of a given width.

use crate::files::{read, write};
use crate::options::LayCommand;
use crate::output::say;
use crate::wanted::length;
use costume::BodyChoice;
use std::process::ExitCode;
use workroom::{LayOptions, laying_plan, on_body, plan_svg};

pub fn run(options: &LayCommand) -> Result<ExitCode, String> {
    let costume = read(&options.file)?;
    let mut sizes = Vec::new();
    for size in &options.bodies {
        let choice = BodyChoice::size(size);
        workroom::body_measures(&choice).ok_or_else(|| format!("there is no size `{size}`; `ourlet body --list` names them"))?;
        sizes.push((size.clone(), on_body(&costume, &choice).map_err(|e| e.to_string())?));
    }
    if sizes.is_empty() {
        sizes.push((String::new(), costume));
    }
    let wanted =
        LayOptions { width: length(&options.width)?, gap: length(&options.gap)?, nap: options.nap, rounds: options.rounds as usize };
    let plans = laying_plan(&sizes, &wanted).map_err(|e| e.to_string())?;
    for plan in &plans {
        let (name, count) = (&plan.fabric, plan.pieces.len());
        say!(
            "{name:<24} {count:>3} pieces, {:>7.1} cm of cloth {:.0} cm wide, {:.1} % used",
            plan.length / 10.0,
            plan.width / 10.0,
            100.0 * plan.used
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
