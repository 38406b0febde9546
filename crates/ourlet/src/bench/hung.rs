//! A half-circle of every swatch over a stand: pictures to look at.

use super::write_rows;
use crate::drape::with_threads;
use crate::files::write;
use crate::options::BenchCommon;
use crate::output::say;
use costume::{Look, SWATCHES, Swatch};
use serde::Serialize;
use std::path::Path;
use std::process::ExitCode;
use std::time::Instant;
use workroom::cloth_fabric;
use workroom::half_circle::half_circle;

/// Side of a picture, pixels.
const SIDE: usize = 720;

/// A usual colour of such cloths, linear RGB.
fn colour(look: Look) -> [f32; 3] {
    match look {
        Look::Plain => [0.66, 0.60, 0.48],
        Look::Twill => [0.08, 0.12, 0.23],
        Look::Satin => [0.42, 0.14, 0.16],
        Look::Knit => [0.45, 0.36, 0.13],
        Look::Nap => [0.24, 0.29, 0.20],
        Look::Leather => [0.24, 0.11, 0.05],
        Look::Net => [0.52, 0.42, 0.47],
        Look::Sheer => [0.36, 0.50, 0.52],
    }
}

#[derive(Serialize)]
struct Row {
    swatch: &'static str,
    triangles: usize,
    at_rest: bool,
    crossings: usize,
    /// Height of the lowest point over the floor, mm.
    lowest_mm: f64,
    seconds: f64,
}

pub fn run(folder: &Path, edge: f64, only: &[String], common: &BenchCommon) -> Result<ExitCode, String> {
    if let Some(unknown) = only.iter().find(|key| costume::swatch(key).is_none()) {
        return Err(format!("the swatch book has no `{unknown}`"));
    }
    std::fs::create_dir_all(folder).map_err(|e| format!("{}: {e}", folder.display()))?;
    let chosen = SWATCHES.iter().filter(|s| only.is_empty() || only.iter().any(|key| key == s.key));
    let mut rows = Vec::new();
    say!("{:<16} {:>9} {:>7} {:>9} {:>9} {:>7}", "swatch", "triangles", "rests", "crossings", "lowest mm", "s");
    for swatch in chosen {
        let row = with_threads(common.threads, || hang(swatch, edge, folder))??;
        say!("{:<16} {:>9} {:>7} {:>9} {:>9.0} {:>7.1}", row.swatch, row.triangles, row.at_rest, row.crossings, row.lowest_mm, row.seconds);
        rows.push(row);
    }
    write_rows(common.json.as_deref(), &rows)?;
    Ok(if rows.iter().all(|r| r.crossings == 0) { ExitCode::SUCCESS } else { ExitCode::from(1) })
}

fn hang(swatch: &Swatch, edge: f64, folder: &Path) -> Result<Row, String> {
    let started = Instant::now();
    let hung = half_circle(&cloth_fabric(swatch), edge / 1000.0).ok_or_else(|| format!("{}: cannot be hung", swatch.key))?;
    let seconds = started.elapsed().as_secs_f64();
    write(&folder.join(format!("{}.png", swatch.key)), &hung.picture(colour(swatch.look), swatch.look, SIDE))?;
    let lowest = hung.positions.iter().map(|p| p[1]).fold(f32::MAX, f32::min);
    Ok(Row {
        swatch: swatch.key,
        triangles: hung.triangles.len(),
        at_rest: hung.at_rest,
        crossings: hung.crossings,
        lowest_mm: f64::from(lowest) * 1000.0,
        seconds,
    })
}
