//! `ourlet bench moving`: costumes through motions: faults, strain and speed by frame, the price of the moving skin, and the size of
//! what is stored.

use crate::drape::{to_rest, wearer, with_threads, worn};
use crate::options::{MovingBench, StanceOptions};
use crate::output::say;
use cloth::Drape;
use costume::Costume;
use formats::WHOLE_EVERY;
use serde::Serialize;
use std::process::ExitCode;
use std::sync::Arc;
use std::time::Instant;
use workroom::rehearsal::{FrameReport, MotionChoice, Plan, Rehearsal};
use workroom::{Assembly, ContactBody};

/// Draping ends after so many simulated seconds.
const LIMIT: f64 = 20.0;

#[derive(Serialize)]
struct Row {
    costume: String,
    motion: String,
    triangles: usize,
    frames: usize,
    seconds: f64,
    ms_a_frame: f64,
    slowest_ms: f64,
    /// Of skinning and refitting the skin, once a frame.
    skin_ms: f64,
    skin_triangles: usize,
    faults: usize,
    /// Frames that fail, by their causes.
    causes: std::collections::BTreeMap<&'static str, usize>,
    strain_p99: f64,
    fastest: f32,
    /// The fastest vertex at the end of the first frame of the motion.
    fastest_at_start: f32,
    stored_mb: f64,
}

pub fn run(options: &MovingBench) -> Result<ExitCode, String> {
    let mut rows = Vec::new();
    say!(
        "{:<26} {:<14} {:>9} {:>6} {:>7} {:>8} {:>8} {:>8} {:>6} {:>7} {:>8} {:>8} {:>7}",
        "costume",
        "motion",
        "triangles",
        "frames",
        "s",
        "ms/frame",
        "slowest",
        "skin ms",
        "faults",
        "p99 %",
        "max m/s",
        "at 0 m/s",
        "MB"
    );
    for file in &options.files {
        let costume = worn(file, options.preset.as_deref(), options.fineness.as_deref(), options.figure.is_some())?;
        let stance = StanceOptions { unit: None, up: None, front: None };
        let figure = wearer(&costume, options.figure.as_deref(), &stance)?;
        let made = with_threads(options.common.threads, || of_costume(&costume, &figure, options))??;
        rows.extend(made);
    }
    super::write_rows(options.common.json.as_deref(), &rows)?;
    let faults: usize = rows.iter().map(|r| r.faults).sum();
    say!("{faults} frames with faults in {} rehearsals", rows.len());
    Ok(if faults == 0 { ExitCode::SUCCESS } else { ExitCode::from(1) })
}

fn of_costume(costume: &Costume, figure: &Arc<body::Body>, options: &MovingBench) -> Result<Vec<Row>, String> {
    let refused = |e: costume::Refusal| e.to_string();
    let mut assembly = workroom::hang(costume, |reached| ContactBody::of(costume, figure.clone(), reached)).map_err(refused)?;
    let mut drape = Drape::new(assembly.scene.clone()).map_err(|e| e.to_string())?;
    to_rest(&mut assembly, &mut drape, LIMIT)?;
    let saved = drape.save();
    let each = |motion: &String| {
        let drape = Drape::resume(assembly.scene.clone(), &saved).map_err(|e| e.to_string())?;
        through(&assembly, drape, motion, options)
    };
    options.motions.iter().map(each).collect()
}

fn through(assembly: &Assembly, drape: Drape, motion: &str, options: &MovingBench) -> Result<Row, String> {
    let refused = |e: costume::Refusal| e.to_string();
    let plan = Plan { lead_in: options.lead_in, settle: options.settle, ..Plan::default() };
    let motion = MotionChoice::Named(motion.to_owned()).on(&assembly.form.figure).map_err(refused)?;
    let name = motion.name.clone();
    let mut run = Rehearsal::new(assembly.clone(), drape, motion, plan).map_err(refused)?;
    let (mut reports, mut slowest, mut stored, mut seconds) = (Vec::new(), 0.0f64, 0usize, 0.0f64);
    let mut before = formats::on_lattice(&run.positions());
    loop {
        let begun = Instant::now();
        let Some(report) = run.advance() else { break };
        let took = begun.elapsed().as_secs_f64();
        (seconds, slowest) = (seconds + took, slowest.max(took));
        let now = formats::on_lattice(&run.positions());
        stored += formats::packed(&now, (!reports.len().is_multiple_of(WHOLE_EVERY)).then_some(&before)).len();
        before = now;
        reports.push(report);
    }
    let begun = Instant::now();
    let looked: Vec<usize> = (run.frames() / 2..run.frames()).step_by(2).take(20).collect();
    looked.iter().for_each(|frame| drop(run.collider(*frame)));
    let skin_ms = 1000.0 * begun.elapsed().as_secs_f64() / looked.len().max(1) as f64;
    let row = Row {
        costume: assembly.costume.name.clone(),
        motion: name,
        triangles: assembly.scene.triangles.len(),
        frames: reports.len(),
        seconds,
        ms_a_frame: 1000.0 * seconds / reports.len().max(1) as f64,
        slowest_ms: 1000.0 * slowest,
        skin_ms,
        skin_triangles: run.skin().1.len(),
        causes: causes(&reports),
        faults: reports.iter().filter(|r| !r.is_good()).count(),
        strain_p99: reports.iter().map(|r| r.strain_p99).fold(0.0, f64::max),
        fastest: reports.iter().map(|r| r.fastest).fold(0.0, f32::max),
        fastest_at_start: reports.iter().find(|r| r.frame == 0).map_or(0.0, |r| r.fastest),
        stored_mb: stored as f64 / 1e6,
    };
    say!(
        "{:<26} {:<14} {:>9} {:>6} {:>7.1} {:>8.0} {:>8.0} {:>8.1} {:>6} {:>7.1} {:>8.1} {:>8.3} {:>7.2}",
        row.costume,
        row.motion,
        row.triangles,
        row.frames,
        row.seconds,
        row.ms_a_frame,
        row.slowest_ms,
        row.skin_ms,
        row.faults,
        100.0 * row.strain_p99,
        row.fastest,
        row.fastest_at_start,
        row.stored_mb
    );
    for (cause, count) in &row.causes {
        say!("    {count} frames: {cause}");
    }
    Ok(row)
}

fn causes(reports: &[FrameReport]) -> std::collections::BTreeMap<&'static str, usize> {
    let mut counts = std::collections::BTreeMap::new();
    for cause in reports.iter().filter_map(|r| r.cause) {
        *counts.entry(cause.in_words()).or_default() += 1;
    }
    counts
}
