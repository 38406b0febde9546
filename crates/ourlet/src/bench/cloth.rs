//! Speed of the simulator: two sheets and the demo garment at growing numbers of triangles.

use super::shape::{Shape, edges};
use super::sheets::sheets;
use super::split::{Split, stage_name};
use super::write_rows;
use crate::drape::{body_of, with_threads};
use crate::files::read;
use crate::options::BenchCommon;
use crate::output::say;
use ::cloth::{Drape, Phase, Scene, Stage};
use costume::Fineness;
use serde::Serialize;
use std::collections::BTreeMap;
use std::path::Path;
use std::process::ExitCode;
use std::time::Instant;
use workroom::assemble;

/// Simulated seconds of a sheet, and a frame, s.
const SPAN: f64 = 2.0;
const FRAME: f64 = 1.0 / 60.0;
/// Steps of the reference in the time of one.
const REFERENCE: f32 = 10.0;

#[derive(Serialize)]
struct Row {
    scene: String,
    triangles: usize,
    simulated_seconds: f64,
    wall_seconds: f64,
    /// Simulated seconds per second.
    real_time_factor: f64,
    ms_a_step: f64,
    ms_a_frame: f64,
    solver_iterations: f64,
    /// Share of the time by stage, percent.
    split: BTreeMap<&'static str, f64>,
    #[serde(flatten)]
    shape: Shape,
    /// The same scene at a tenth of the time step.
    reference: Option<Shape>,
    at_rest: bool,
    /// Peak of the process so far, MB.
    peak_memory_mb: f64,
}

pub fn run(file: &Path, quick: bool, reference: bool, common: &BenchCommon) -> Result<ExitCode, String> {
    let costume = read(file)?;
    say!(
        "{:<14} {:>9} {:>9} {:>8} {:>8} {:>8} {:>8} {:>6} {:>8} {:>6} {:>6}",
        "scene",
        "triangles",
        "simulated",
        "wall s",
        "x real",
        "ms/step",
        "ms/frame",
        "CG",
        "strain %",
        "p99 %",
        "MB"
    );
    let mut rows = Vec::new();
    let sizes: &[f64] = if quick { &[4e3] } else { &[4e3, 12e3, 30e3, 60e3] };
    for &triangles in sizes {
        for (name, scene) in sheets(triangles).ok_or("a sheet cannot be meshed")? {
            rows.push(measure(name, scene, SPAN, reference, common)?);
        }
    }
    let form = body_of(&costume)?;
    for mm in if quick { &[28.0][..] } else { &[28.0, 20.0, 14.0, 10.0] } {
        let costume = costume::Costume { fineness: Fineness::Custom(*mm), ..costume.clone() };
        let assembly = assemble(&costume, &form).map_err(|e| e.to_string())?;
        rows.push(measure(&costume.name, assembly.scene, 30.0, false, common)?);
    }
    write_rows(common.json.as_deref(), &rows)?;
    Ok(ExitCode::SUCCESS)
}

fn measure(name: &str, scene: Scene, limit: f64, reference: bool, common: &BenchCommon) -> Result<Row, String> {
    let (triangles, edges) = (scene.triangles.len(), edges(&scene.triangles, &scene.flat));
    // nothing more is kept in memory than what is measured
    let slow = reference.then(|| {
        let mut slow = scene.clone();
        slow.settings.time_step /= REFERENCE;
        slow
    });
    let run = Run::of(scene, limit, common)?;
    let simulated = run.drape.time();
    let mut row = Row {
        scene: name.to_owned(),
        triangles,
        simulated_seconds: simulated,
        wall_seconds: run.wall,
        real_time_factor: simulated / run.wall,
        ms_a_step: 1000.0 * run.wall / run.steps as f64,
        ms_a_frame: 1000.0 * run.wall / simulated * FRAME,
        solver_iterations: run.iterations as f64 / run.steps as f64,
        split: run.split.percent(),
        shape: Shape::of(&run.drape.positions(), &edges),
        reference: None,
        at_rest: run.drape.phase() == Phase::AtRest,
        peak_memory_mb: peak_memory(),
    };
    row.print();
    if let Some(slow) = slow {
        let exact = Shape::of(&Run::of(slow, limit, common)?.drape.positions(), &edges);
        let [mean, p99] = [exact.edge_strain_mean_percent, exact.edge_strain_p99_percent];
        say!("{:<14} at a tenth of the step: strain {mean:.3} %, p99 {p99:.2} %, middle {:.1} mm away", "", row.shape.distance(&exact));
        row.reference = Some(exact);
    }
    Ok(row)
}

/// A drape that was timed.
struct Run {
    drape: Drape,
    /// s.
    wall: f64,
    steps: usize,
    iterations: usize,
    split: Split,
}

impl Run {
    /// To rest, or for `limit` simulated seconds.
    fn of(scene: Scene, limit: f64, common: &BenchCommon) -> Result<Self, String> {
        with_threads(common.threads, || {
            let mut drape = Drape::new(scene).map_err(|e| e.to_string())?;
            let started = Instant::now();
            let (mut steps, mut iterations, mut split) = (0, 0, Split::new());
            while drape.phase() != Phase::AtRest && drape.time() < limit {
                iterations += drape.step_watched(&mut |stage| split.begin(stage)).solver_iterations;
                steps += 1;
            }
            Ok(Self { drape, wall: started.elapsed().as_secs_f64(), steps: steps.max(1), iterations, split })
        })?
    }
}

impl Row {
    fn print(&self) {
        say!(
            "{:<14} {:>9} {:>9.2} {:>8.2} {:>8.3} {:>8.2} {:>8.1} {:>6.1} {:>8.3} {:>6.2} {:>6.0}",
            self.scene,
            self.triangles,
            self.simulated_seconds,
            self.wall_seconds,
            self.real_time_factor,
            self.ms_a_step,
            self.ms_a_frame,
            self.solver_iterations,
            self.shape.edge_strain_mean_percent,
            self.shape.edge_strain_p99_percent,
            self.peak_memory_mb
        );
        let shares: Vec<String> = Stage::ALL.iter().map(|s| format!("{} {:.0} %", stage_name(*s), self.split[stage_name(*s)])).collect();
        say!("{:<14} {}", "", shares.join(", "));
    }
}

fn peak_memory() -> f64 {
    let status = std::fs::read_to_string("/proc/self/status").unwrap_or_default();
    let line = status.lines().find_map(|l| l.strip_prefix("VmHWM:"));
    line.and_then(|l| l.split_whitespace().next()?.parse::<f64>().ok()).unwrap_or(0.0) / 1024.0
}
