//! `ourlet body`: a mannequin of a size or made to measure, as a file with its measures.

use crate::drape::{write, write_body};
use crate::options::BodyOptions;
use body::Taken;
use costume::BodyChoice;
use serde::Serialize;
use std::process::ExitCode;
use std::time::Instant;
use workroom::Form;

#[derive(Serialize)]
struct Line {
    name: &'static str,
    asked_mm: f64,
    measured_mm: f64,
    /// Where the tape lies: height of its middle and normal of its plane; none for lengths.
    height_mm: Option<f64>,
    normal: Option<[f64; 3]>,
}

#[derive(Serialize)]
struct Unmet {
    name: &'static str,
    asked_mm: f64,
    made_mm: f64,
}

#[derive(Serialize)]
struct Report {
    preset: String,
    measures: Vec<Line>,
    /// Measures that the body could not be made to.
    unmet: Vec<Unmet>,
    triangles: usize,
    seconds: f64,
}

pub fn run(options: &BodyOptions) -> Result<ExitCode, String> {
    if options.list {
        for preset in body::presets() {
            let sheet: Vec<String> = preset.measures.iter().map(|(m, mm)| format!("{} {:.1}", m.key(), mm / 10.0)).collect();
            println!("{:<10} {}", preset.key, sheet.join(", "));
        }
        return Ok(ExitCode::SUCCESS);
    }
    let set = options.set.iter().map(|text| own_measure(text)).collect::<Result<_, String>>()?;
    let started = Instant::now();
    let form = Form::new(&BodyChoice { preset: options.preset.clone(), set }).map_err(|e| e.to_string())?;
    let seconds = started.elapsed().as_secs_f64();
    let mannequin = &form.mannequin;
    if let Some(path) = &options.out {
        write_body(path, &form)?;
    }
    if let Some(path) = &options.report {
        let line = |t: &Taken| Line {
            name: t.measure.key(),
            asked_mm: t.asked,
            measured_mm: t.measured,
            height_mm: t.plane.map(|p| p.0),
            normal: t.plane.map(|p| p.1),
        };
        let measures = mannequin.taken.iter().map(line).collect();
        let left = |u: &body::Remaining| Unmet { name: u.measure.key(), asked_mm: 10.0 * u.asked, made_mm: 10.0 * u.measured };
        let unmet = mannequin.unmet.iter().map(left).collect();
        let report = Report { preset: mannequin.key.clone(), measures, unmet, triangles: mannequin.surface.triangles.len(), seconds };
        write(path, serde_json::to_string_pretty(&report).map_err(|e| e.to_string())?.as_bytes())?;
    }
    for t in &mannequin.taken {
        println!("{:<16} asked {:>6.1} cm  measured {:>6.1} cm", t.measure.key(), t.asked / 10.0, t.measured / 10.0);
    }
    for u in &mannequin.unmet {
        eprintln!("ourlet: the {} could be made {:.1} cm, not {:.1} cm", u.measure.name(), u.measured, u.asked);
    }
    Ok(ExitCode::SUCCESS)
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
