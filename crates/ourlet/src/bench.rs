//! `ourlet bench`: how fast a costume drapes, as ratios and throughput.

use crate::drape::body_of;
use crate::drape::{read, to_rest, with_threads, write};
use crate::options::BenchOptions;
use cloth::Drape;
use costume::Fineness;
use serde::Serialize;
use std::process::ExitCode;
use std::time::Instant;
use workroom::assemble;

#[derive(Serialize)]
struct Row {
    edge_mm: f64,
    triangles: usize,
    simulated_seconds: f64,
    wall_seconds: f64,
    /// Simulated seconds per second.
    real_time_factor: f64,
    steps_per_second: f64,
}

pub fn run(options: &BenchOptions) -> Result<ExitCode, String> {
    let costume = read(&options.file)?;
    let started = Instant::now();
    let form = body_of(&costume)?;
    println!("body and distance grid: {:.2} s", started.elapsed().as_secs_f64());
    println!("{:>8} {:>10} {:>10} {:>8} {:>12} {:>10}", "edge mm", "triangles", "simulated", "wall s", "real time x", "steps/s");
    let mut rows = Vec::new();
    for fineness in [Fineness::Custom(28.0), Fineness::Toile, Fineness::Custom(14.0)] {
        let mut costume = costume.clone();
        costume.fineness = fineness;
        let assembly = assemble(&costume, &form).map_err(|e| e.to_string())?;
        let started = Instant::now();
        let scene = assembly.scene.clone();
        let step = f64::from(scene.settings.time_step);
        let simulated = with_threads(options.threads, || -> Result<f64, String> {
            let mut drape = Drape::new(scene).map_err(|e| e.to_string())?;
            to_rest(&mut drape, 30.0);
            Ok(drape.time())
        })??;
        let wall = started.elapsed().as_secs_f64();
        let row = Row {
            edge_mm: fineness.edge_mm(),
            triangles: assembly.scene.triangles.len(),
            simulated_seconds: simulated,
            wall_seconds: wall,
            real_time_factor: simulated / wall,
            steps_per_second: simulated / step / wall,
        };
        println!(
            "{:>8.1} {:>10} {:>10.2} {:>8.2} {:>12.2} {:>10.0}",
            row.edge_mm, row.triangles, simulated, wall, row.real_time_factor, row.steps_per_second
        );
        rows.push(row);
    }
    if let Some(path) = &options.json {
        write(path, serde_json::to_string_pretty(&rows).map_err(|e| e.to_string())?.as_bytes())?;
    }
    Ok(ExitCode::SUCCESS)
}
