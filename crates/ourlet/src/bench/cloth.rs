//! Speed of the simulator: two sheets and the demo garment at growing numbers of triangles.

use super::write_rows;
use crate::drape::{body_of, read, with_threads};
use crate::options::BenchCommon;
use ::cloth::{BodyShape, DistanceGrid, Drape, Fabric, Phase, Scene, Settings, Stage};
use costume::Fineness;
use serde::Serialize;
use std::collections::BTreeMap;
use std::path::Path;
use std::process::ExitCode;
use std::sync::Arc;
use std::time::Instant;
use workroom::assemble;
use workroom::laboratory::{rectangle, specimen};

/// Simulated seconds of a sheet, and a frame, s.
const SPAN: f64 = 2.0;
const FRAME: f64 = 1.0 / 60.0;
const WOVEN: Fabric =
    Fabric { areal_density: 0.15, stretch: [2000.0; 2], shear: 100.0, bending: [10e-6; 2], thickness: 3e-4, friction: 0.3, locking: 1.0 };

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
    strain_mean_percent: f64,
    strain_p99_percent: f64,
    at_rest: bool,
    /// Peak of the process so far, MB.
    peak_memory_mb: f64,
}

pub fn run(file: &Path, quick: bool, common: &BenchCommon) -> Result<ExitCode, String> {
    let costume = read(file)?;
    println!(
        "{:<14} {:>9} {:>9} {:>8} {:>8} {:>8} {:>8} {:>6} {:>8} {:>8} {:>6}",
        "scene", "triangles", "simulated", "wall s", "x real", "ms/step", "ms/frame", "CG", "strain %", "p99 %", "MB"
    );
    let mut rows = Vec::new();
    let sizes: &[f64] = if quick { &[4e3] } else { &[4e3, 12e3, 30e3, 60e3] };
    for &triangles in sizes {
        let edge = (1.0 / triangles * 2.31).sqrt();
        for (name, scene) in [("S1 corners", hung(edge)), ("S2 ball", over_ball(edge))] {
            let scene = scene.ok_or("a sheet cannot be meshed")?;
            rows.push(measure(name, scene, SPAN, common)?);
        }
    }
    let form = body_of(&costume)?;
    for mm in if quick { &[28.0][..] } else { &[28.0, 20.0, 14.0, 10.0] } {
        let costume = costume::Costume { fineness: Fineness::Custom(*mm), ..costume.clone() };
        let assembly = assemble(&costume, &form).map_err(|e| e.to_string())?;
        rows.push(measure(&costume.name, assembly.scene, 30.0, common)?);
    }
    write_rows(common.json.as_deref(), &rows)?;
    Ok(ExitCode::SUCCESS)
}

fn measure(name: &str, scene: Scene, limit: f64, common: &BenchCommon) -> Result<Row, String> {
    let triangles = scene.triangles.len();
    let (drape, wall, steps, iterations, split) = with_threads(common.threads, || {
        let mut drape = Drape::new(scene).map_err(|e| e.to_string())?;
        let started = Instant::now();
        let (mut steps, mut iterations, mut split) = (0usize, 0usize, Split::new());
        while drape.phase() != Phase::AtRest && drape.time() < limit {
            iterations += drape.step_watched(&mut |stage| split.begin(stage)).solver_iterations;
            steps += 1;
        }
        Ok::<_, String>((drape, started.elapsed().as_secs_f64(), steps.max(1), iterations, split))
    })??;
    let mut strain = drape.strain();
    strain.sort_by(f32::total_cmp);
    let simulated = drape.time();
    let row = Row {
        scene: name.to_owned(),
        triangles,
        simulated_seconds: simulated,
        wall_seconds: wall,
        real_time_factor: simulated / wall,
        ms_a_step: 1000.0 * wall / steps as f64,
        ms_a_frame: 1000.0 * wall / simulated * FRAME,
        solver_iterations: iterations as f64 / steps as f64,
        split: split.percent(),
        strain_mean_percent: 100.0 * strain.iter().map(|s| f64::from(s.max(0.0))).sum::<f64>() / strain.len() as f64,
        strain_p99_percent: 100.0 * f64::from(strain[strain.len() * 99 / 100]),
        at_rest: drape.phase() == Phase::AtRest,
        peak_memory_mb: peak_memory(),
    };
    println!(
        "{:<14} {:>9} {:>9.2} {:>8.2} {:>8.3} {:>8.2} {:>8.1} {:>6.1} {:>8.3} {:>8.2} {:>6.0}",
        row.scene,
        triangles,
        simulated,
        wall,
        row.real_time_factor,
        row.ms_a_step,
        row.ms_a_frame,
        row.solver_iterations,
        row.strain_mean_percent,
        row.strain_p99_percent,
        row.peak_memory_mb
    );
    let shares: Vec<String> = Stage::ALL.iter().map(|s| format!("{} {:.0} %", stage_name(*s), row.split[stage_name(*s)])).collect();
    println!("{:<14} {}", "", shares.join(", "));
    Ok(row)
}

/// Time by stage.
struct Split {
    spent: BTreeMap<Stage, f64>,
    present: Option<Stage>,
    since: Instant,
}

impl Split {
    fn new() -> Self {
        Self { spent: BTreeMap::new(), present: None, since: Instant::now() }
    }

    fn begin(&mut self, stage: Stage) {
        if let Some(present) = self.present.replace(stage) {
            *self.spent.entry(present).or_default() += self.since.elapsed().as_secs_f64();
        }
        self.since = Instant::now();
    }

    fn percent(&self) -> BTreeMap<&'static str, f64> {
        let all: f64 = self.spent.values().sum();
        Stage::ALL.into_iter().map(|s| (stage_name(s), 100.0 * self.spent.get(&s).copied().unwrap_or(0.0) / all.max(1e-9))).collect()
    }
}

fn stage_name(stage: Stage) -> &'static str {
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

/// A sheet of one square metre, with air and self-contact.
fn sheet(edge: f64, place: impl Fn([f32; 2]) -> [f32; 3]) -> Option<Scene> {
    let scene = specimen(&rectangle(1.0, 1.0, edge), edge, WOVEN, place)?;
    Some(Scene { settings: Settings::default(), ..scene })
}

fn hung(edge: f64) -> Option<Scene> {
    let mut scene = sheet(edge, |p| [p[0], 0.0, p[1]])?;
    let corner = |p: &[f32; 2]| p[1] < 1e-4 && (p[0] < 1e-4 || p[0] > 0.9999);
    scene.pins = (0..scene.flat.len() as u32).filter(|&i| corner(&scene.flat[i as usize])).collect();
    Some(scene)
}

fn over_ball(edge: f64) -> Option<Scene> {
    let mut scene = sheet(edge, |p| [p[0] - 0.5, 0.27, p[1] - 0.5])?;
    let ball = |p: [f32; 3]| (p[0] * p[0] + p[1] * p[1] + p[2] * p[2]).sqrt() - 0.25;
    let grid = DistanceGrid::from_fn([-0.32; 3], [0.32; 3], 0.008, 0.045, ball);
    scene.body = Some(BodyShape::still(Arc::new(grid), Arc::new([1.0])));
    Some(scene)
}

fn peak_memory() -> f64 {
    let status = std::fs::read_to_string("/proc/self/status").unwrap_or_default();
    let line = status.lines().find_map(|l| l.strip_prefix("VmHWM:"));
    line.and_then(|l| l.split_whitespace().next()?.parse::<f64>().ok()).unwrap_or(0.0) / 1024.0
}
