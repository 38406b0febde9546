//! `ourlet body`: a mannequin of a size or made to measure, in a pose, as a file with its measures.

use crate::files::{kind_of, read_pose, write, write_mesh};
use crate::measures::{Line, lines, show};
use crate::options::{BodyAction, BodyOptions};
use crate::output::{note, say};
use body::poses;
use costume::BodyChoice;
use serde::Serialize;
use std::collections::BTreeSet;
use std::process::ExitCode;
use std::time::Instant;
use workroom::ContactBody;

#[derive(Serialize)]
struct Unmet {
    name: &'static str,
    asked_mm: f64,
    made_mm: f64,
}

#[derive(Serialize)]
struct Report {
    preset: String,
    pose: String,
    measures: Vec<Line>,
    /// Measures that the body could not be made to.
    unmet: Vec<Unmet>,
    triangles: usize,
    seconds: f64,
}

pub fn run(options: &BodyOptions) -> Result<ExitCode, String> {
    if let Some(BodyAction::Measure(options)) = &options.action {
        return crate::figure::measure(options);
    }
    if options.list {
        list();
        return Ok(ExitCode::SUCCESS);
    }
    if let Some(path) = &options.out {
        kind_of(path)?;
    }
    let set = options.set.iter().map(|text| own_measure(text)).collect::<Result<_, String>>()?;
    let pose = read_pose(&options.pose)?;
    let choice = BodyChoice { overrides: set, pose: pose.bones.clone(), ..BodyChoice::size(&options.preset) };
    let started = Instant::now();
    let figure = workroom::figure(&choice).map_err(|e| e.to_string())?;
    let seconds = started.elapsed().as_secs_f64();
    let form = ContactBody::new(figure.into(), &choice, BTreeSet::new()).map_err(|e| e.to_string())?;
    let figure = &form.figure;
    if let Some(path) = &options.out {
        let mesh = match options.frames {
            None => workroom::body_mesh(&form),
            Some(frames) => {
                if path.extension().is_some_and(|e| e == "obj") {
                    return Err(format!("{}: OBJ carries no motion; write a .glb", path.display()));
                }
                workroom::body_clip(figure, &read_pose(&options.from)?, &pose, frames as usize).map_err(|e| e.to_string())?
            }
        };
        write_mesh(path, mesh)?;
    }
    if let Some(path) = &options.report {
        let left = |u: &body::Remaining| Unmet { name: u.measure.key(), asked_mm: 10.0 * u.asked, made_mm: 10.0 * u.measured };
        let unmet = figure.unmet.iter().map(left).collect();
        let (preset, pose, triangles) = (figure.key.clone(), options.pose.clone(), figure.surface.triangles.len());
        let report = Report { preset, pose, measures: lines(figure), unmet, triangles, seconds };
        write(path, serde_json::to_string_pretty(&report).map_err(|e| e.to_string())?.as_bytes())?;
    }
    show(figure);
    for u in &figure.unmet {
        note!("ourlet: the {} could be made {:.1} cm, not {:.1} cm", u.measure.name(), u.measured, u.asked);
    }
    Ok(ExitCode::SUCCESS)
}

fn list() {
    say!("sizes");
    for preset in body::presets() {
        let sheet: Vec<String> = preset.measures.iter().map(|(m, mm)| format!("{} {:.1}", m.key(), mm / 10.0)).collect();
        say!("  {:<10} {}", preset.key, sheet.join(", "));
    }
    say!("poses");
    for named in poses() {
        say!("  {:<14} {}", named.key, named.name);
    }
}

/// Reads `waist=74cm` or `waist=740mm`.
fn own_measure(text: &str) -> Result<(String, f64), String> {
    let wrong = || format!("`{text}` is no measure; write one such as waist=74cm");
    let (key, value) = text.split_once('=').ok_or_else(wrong)?;
    let (number, unit) = match (value.strip_suffix("mm"), value.strip_suffix("cm")) {
        (Some(number), _) => (number, 1.0),
        (_, Some(number)) => (number, 10.0),
        _ => return Err(wrong()),
    };
    number.trim().parse::<f64>().map(|n| (key.to_owned(), n * unit)).map_err(|_| wrong())
}
